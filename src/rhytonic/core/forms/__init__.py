"""Base forms, one file per form."""

"""The demo: the harbour museum's signal lantern, made through the public API."""

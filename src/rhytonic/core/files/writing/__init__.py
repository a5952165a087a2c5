"""Writers, one file a format."""

"""What leaves the house: the build as a model for files."""

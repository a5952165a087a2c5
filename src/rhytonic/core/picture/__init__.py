"""Reference pictures: read safely, straightened, and their outlines traced."""

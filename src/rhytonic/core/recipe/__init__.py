"""The recipe: step kinds, their registry, evaluation with its cache, and the file format."""

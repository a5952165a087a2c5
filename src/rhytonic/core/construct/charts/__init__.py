"""Surfaces cut open, laid flat and put beside each other on the texture square."""

"""Faces copied within a mesh, and brought in from others."""

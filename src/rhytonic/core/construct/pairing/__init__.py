"""Vertices that belong together, and vertices made one."""

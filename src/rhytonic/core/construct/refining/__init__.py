"""Connectivity refined level by level, and what its points, names and attributes come from."""

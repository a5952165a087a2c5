"""Findings: what is wrong with a mesh, one file per kind."""

"""Polygon edits, one file per step kind."""

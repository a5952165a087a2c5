"""Closed bodies set against each other: aligned, combined, turned into polygons again, looked at."""

"""Geometry and rules of the job. Knows nothing of databases, HTTP or screens."""

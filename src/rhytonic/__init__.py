"""Rhytonic: box-model props to match pictures and measurements."""

__version__ = "0.1.0"

"""Faces cut along chords, and by planes."""

"""Strokes over a surface, and the tools they are drawn with."""

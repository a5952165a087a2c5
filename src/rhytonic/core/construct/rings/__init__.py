"""Rings of edges across quads, for the edits that cut them."""

"""Opened edges and corners: where their points lie, how wide they may be, what fills them."""

"""Faces over rows of sections: what sweeps, lathes and extrusions of curves share."""

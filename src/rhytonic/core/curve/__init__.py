"""The curve: points with stable ids, joined by straight spans, arcs and cubics, in open or closed runs."""

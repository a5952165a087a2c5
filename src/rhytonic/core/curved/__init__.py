"""Step kinds that begin with a curve, work on one, or make faces of it."""

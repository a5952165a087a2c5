"""Step kinds that bend, pull and brush what is there, and lay weld beads on it."""

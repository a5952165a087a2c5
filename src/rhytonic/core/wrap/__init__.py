"""Step kinds that lay surfaces out on the texture square, and that raise what lies there."""

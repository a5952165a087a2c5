"""Pick rules: what a step acts on, told by stable ids or by a rule."""

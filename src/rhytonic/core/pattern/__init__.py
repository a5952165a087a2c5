"""Pictures made here: layers of shapes in lengths, drawn as heights."""

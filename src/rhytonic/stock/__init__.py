"""The basics that ship with the shelf, made as recipes: one file a piece."""

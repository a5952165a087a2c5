"""What elements gave way to which: the memory that lets a pick find them again."""

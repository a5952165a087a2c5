"""Maps of space that bend, twist and pull whatever lies in it: points in, points out, no mesh needed."""

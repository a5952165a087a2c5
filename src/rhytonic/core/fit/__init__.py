"""How closely a model matches its boards: outlines, areas and distances in the plane of a view."""

"""The six flat views and their planes."""

from __future__ import annotations

from typing import Literal, get_args

import numpy as np

from ..mesh.mesh import Floats

View = Literal["front", "back", "left", "right", "top", "bottom"]
VIEWS: tuple[View, ...] = get_args(View)

#: rows across and up of each view, third-angle projection (ISO 128): front looks along −z, right along −x, top along −y
PLANES: dict[View, Floats] = {
    "front": np.array([[1.0, 0, 0], [0, 1, 0]]), "back": np.array([[-1.0, 0, 0], [0, 1, 0]]),
    "right": np.array([[0.0, 0, -1], [0, 1, 0]]), "left": np.array([[0.0, 0, 1], [0, 1, 0]]),
    "top": np.array([[1.0, 0, 0], [0, 0, -1]]), "bottom": np.array([[1.0, 0, 0], [0, 0, 1]])}


def project(points: Floats, view: View) -> Floats:
    """(V, 2) across and up of points (V, 3) in a view."""
    plane = PLANES[view]
    axes = np.abs(plane).argmax(axis=1)
    out: Floats = points[:, axes] * plane[[0, 1], axes]
    return out

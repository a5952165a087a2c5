"""Meshes the figures are taken on."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def torus(around: int, tube: int) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Points (n, 3) and quads (n, 4) of a torus; n = around × tube of each."""
    i, j = (a.ravel() for a in np.meshgrid(np.arange(around), np.arange(tube), indexing="ij"))
    a, b = 2 * np.pi * i / around, 2 * np.pi * j / tube
    radius = 2 + np.cos(b)
    points = np.stack([radius * np.cos(a), np.sin(b), radius * np.sin(a)], axis=1)
    ahead, up = (i + 1) % around, (j + 1) % tube
    return points, np.stack([i * tube + j, i * tube + up, ahead * tube + up, ahead * tube + j], axis=1)


def triangles(quads: NDArray[np.int64]) -> NDArray[np.int64]:
    """Each quad as two triangles."""
    return np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])

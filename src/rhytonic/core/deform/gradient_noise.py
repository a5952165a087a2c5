"""Gradient noise: smooth, bounded, and the same for the same seed."""

from __future__ import annotations

import numpy as np

from ..mesh.geometry import Floats
from ..mesh.names import mix

#: towards the middles of a cube's edges, as in the noise of 2002, here of length 1
_TOWARDS = np.array([(x, y, 0) for x in (1, -1) for y in (1, -1)] + [(x, 0, z) for x in (1, -1) for z in (1, -1)] +
                    [(0, y, z) for y in (1, -1) for z in (1, -1)], float) / np.sqrt(2)
#: how far a cell's middle is from its corners: no sum of weighted gradients of length 1 is larger
_MOST = np.sqrt(3) / 2


def gradient_noise(points: Floats, seed: int) -> Floats:
    """(n,) values in −1…1 at points (n, 3), one cell of the noise for each unit of length.

    K. Perlin, An image synthesizer, SIGGRAPH 1985; with the fade and the gradients of Improving noise, SIGGRAPH 2002. The
    grid is moved by the seed, so that a part whose points lie on whole units is not left alone.
    """
    at = points + np.random.default_rng(seed).uniform(0.0, 1.0, 3)
    cell = np.floor(at)
    f = at - cell
    fade = f * f * f * (f * (f * 6 - 15) + 10)
    corner = cell.astype(np.int64)
    total = np.zeros(len(points))
    for dx in (0, 1):
        wx = fade[:, 0] if dx else 1 - fade[:, 0]
        for dy in (0, 1):
            wxy = wx * (fade[:, 1] if dy else 1 - fade[:, 1])
            for dz in (0, 1):
                weight = wxy * (fade[:, 2] if dz else 1 - fade[:, 2])
                gradient = _TOWARDS[_which(corner + np.array((dx, dy, dz)), seed)]
                total += weight * np.einsum("ij,ij->i", gradient, f - (dx, dy, dz))
    out: Floats = np.clip(total / _MOST, -1.0, 1.0)
    return out


def _which(corner: np.ndarray, seed: int) -> np.ndarray:
    x, y, z = (corner[:, k].astype(np.uint64) for k in range(3))
    return (mix(mix(x, y), mix(z, np.full_like(z, seed))) >> np.uint64(33)).astype(np.int64) % 12

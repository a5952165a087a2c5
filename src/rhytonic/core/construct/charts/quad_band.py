"""Bands and patches of quads laid out as rectangles."""

from __future__ import annotations

import numpy as np

from ...errors import StepError
from ...mesh.geometry import Floats, lengths
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools, Ints


def as_rectangles(mesh: Mesh, faces: Ints, cut: Bools) -> list[tuple[Ints, Floats]]:
    """Each connected patch of quads as a rectangle: (c,) its corners and (c, 2) their places in metres, from 0 on.

    Rows and columns are as wide as their edges are on average. ``cut`` (C,) half-edges part patches.

    Raises:
        StepError: a face has not four sides, or a patch does not make rows and columns.
    """
    t = mesh.topology
    if (t.sides[faces] != 4).any():
        odd = int((t.sides[faces] != 4).sum())
        raise StepError(f"{odd} of the faces have not four sides; pick bands of quads", "pick")
    inside = np.zeros(t.face_count, bool)
    inside[faces] = True
    place: dict[int, tuple[int, int, int]] = {}  # how far it is turned, its column, its row
    out = []
    for first in faces.tolist():
        if first in place:
            continue
        place[first] = (0, 0, 0)
        patch, queue = [first], [first]
        while queue:  # one visit for each picked face
            f = queue.pop()
            turn, i, j = place[f]
            for k in range(4):
                c = int(t.offsets[f]) + k
                there = int(t.twin[c])
                if there < 0 or cut[c] or not inside[t.corner_face[there]]:
                    continue
                g = int(t.corner_face[there])
                side = (k - turn) % 4  # 0 below, 1 right, 2 above, 3 left
                di, dj = ((0, -1), (1, 0), (0, 1), (-1, 0))[side]
                # the shared edge is on the other's opposite side
                other = (there - int(t.offsets[g]) - (side + 2)) % 4
                told = (other, i + di, j + dj)
                if g not in place:
                    place[g] = told
                    patch.append(g)
                    queue.append(g)
                elif place[g] != told:
                    raise StepError("these quads do not make one band or grid: they close in a ring or turn round a corner; "
                                    "mark a seam across, or pick a part of them", "pick")
        out.append(_rectangle(mesh, patch, place))
    return out


def _rectangle(mesh: Mesh, patch: list[int], place: dict[int, tuple[int, int, int]]) -> tuple[Ints, Floats]:
    t = mesh.topology
    told = np.array([place[f] for f in patch])
    turn, i, j = told[:, 0], told[:, 1] - told[:, 1].min(), told[:, 2] - told[:, 2].min()
    if np.unique(i * (j.max() + 1) + j).size != i.size:
        raise StepError("these quads run over each other as a grid; mark a seam across, or pick a part of them", "pick")
    corners = t.offsets[np.array(patch)][:, None] + (np.arange(4) + turn[:, None]) % 4  # lower left, lower right, …
    p = mesh.points[t.corners[corners]]
    across = (lengths(p[:, 1] - p[:, 0]) + lengths(p[:, 2] - p[:, 3])) / 2
    up = (lengths(p[:, 3] - p[:, 0]) + lengths(p[:, 2] - p[:, 1])) / 2
    width = np.bincount(i, across) / np.maximum(np.bincount(i), 1)
    height = np.bincount(j, up) / np.maximum(np.bincount(j), 1)
    x, y = np.concatenate([[0.0], np.cumsum(width)]), np.concatenate([[0.0], np.cumsum(height)])
    flat = np.stack([np.stack([x[i], x[i + 1], x[i + 1], x[i]], axis=1), np.stack([y[j], y[j], y[j + 1], y[j + 1]], axis=1)],
                    axis=2)
    return corners.ravel(), flat.reshape(-1, 2)

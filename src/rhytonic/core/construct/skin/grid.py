"""Faces over a grid of sections: rows along a path, columns along a profile."""

from __future__ import annotations

import numpy as np

from ...mesh.topology import Bools, Ints


def skin(vertex: Ints, rows: Bools, columns: Bools) -> tuple[Ints, Ints, Ints, Ints]:
    """Four-sided faces between neighbouring rows and columns, with fewer corners where vertices coincide, and none where
    fewer than three are left.

    Args:
        vertex: (R, M) number of the vertex at each row and column.
        rows: (R,) whether cells lead from a row to the next, the last's to the first.
        columns: (M,) the same of columns.

    Returns:
        (F,) corners of each face, their vertices in a row, (F, 2) row and column that each begins at, and (C, 2) those of
        each corner, one beyond the last where cells lead back to the first. Seen from outside when columns run
        counter-clockwise about the direction of the rows.
    """
    first, second = np.flatnonzero(rows), np.flatnonzero(columns)
    r, m = np.repeat(first, second.size), np.tile(second, first.size)
    on, beside = (r + 1) % len(rows), (m + 1) % len(columns)
    quads = np.stack([vertex[r, m], vertex[r, beside], vertex[on, beside], vertex[on, m]], axis=1)
    new = quads != quads[:, [3, 0, 1, 2]]
    places = np.empty((r.size, 4, 2), np.int64)
    places[:, :, 0], places[:, :, 1] = r[:, None] + [0, 0, 1, 1], m[:, None] + [0, 1, 1, 0]
    if new.all():  # as nearly always: nothing falls together
        return np.full(r.size, 4), quads.ravel(), np.stack([r, m], axis=1), places.reshape(-1, 2)
    sides = new.sum(axis=1)
    real = sides >= 3
    cells = np.stack([r, m], axis=1)[real]
    return sides[real], quads[real][new[real]], cells, places[real][new[real]]

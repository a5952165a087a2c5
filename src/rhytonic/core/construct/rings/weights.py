"""What attributes take from where when rings of edges are cut: new points blend the ends or the face they lie in."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_array

from ...mesh.geometry import Floats
from ...mesh.topology import Ints, Topology
from .rings import Rings


def _bilinear(u: Floats, w: Floats) -> Floats:
    """(…, 4) weights of a quad's corners at u along its first edge and w along its second."""
    return np.stack([(1 - u) * (1 - w), u * (1 - w), u * w, (1 - u) * w], axis=-1)


def _matrix(rows: list[Ints], columns: list[Ints], values: list[Floats], shape: tuple[int, int]) -> csr_array:
    entries = (np.concatenate(rows), np.concatenate(columns))
    return csr_array((np.concatenate(values), entries), shape=shape)


def vertex_weights(t: Topology, rings: Rings, grid: Ints, share: Floats) -> csr_array:
    """(V', V) old vertices on themselves, points of cut edges on their ends, inner points on the corners of their quad.

    ``grid`` is the first corner of each quad cut both ways, ``share`` (n, m) the fractions from the start of each edge.
    """
    n, m = share.shape
    v = t.vertex_count
    corner = t.corners[grid[:, None] + np.arange(4)]
    u, w = rings.across(t, grid, share)
    inner = _bilinear(u[:, :, None], w[:, None, :])
    rows = [np.arange(v), np.repeat(v + np.arange(n * m), 2), np.repeat(v + n * m + np.arange(grid.size * m * m), 4)]
    columns = [np.arange(v), np.stack([np.repeat(rings.start, m), np.repeat(rings.end, m)], axis=1).ravel(),
               np.repeat(corner, m * m, axis=0).ravel()]
    values = [np.ones(v), np.stack([1 - share, share], axis=2).ravel(), inner.ravel()]
    return _matrix(rows, columns, values, (v + n * m + grid.size * m * m, v))


def corner_weights(t: Topology, rings: Rings, kept: tuple[Ints, Ints], base: Ints, grid: Ints, share: Floats) -> csr_array:
    """(C', C) each face cut up by itself.

    ``kept`` tells corner and step of the faces that stay; ``base`` is the cut corner of each quad cut one way.
    """
    m = share.shape[1]
    corner, step = kept
    at = np.zeros(corner.size)
    on = step > 0
    at[on] = rings.along(t, corner[on], share)[np.arange(int(on.sum())), step[on] - 1]
    rows = [np.repeat(np.arange(corner.size), 2)]
    columns = [np.stack([corner, t.next_corner[corner]], axis=1).ravel()]
    values = [np.stack([1 - at, at], axis=1).ravel()]
    done = corner.size

    def add(first: Ints, u: Floats, w: Floats) -> None:
        """Pieces of quads: u and w (n, pieces, 4) of each piece's corners."""
        nonlocal done
        four = [first]
        for _ in range(3):
            four.append(t.next_corner[four[-1]])
        count = u.size
        rows.append(np.repeat(done + np.arange(count), 4))
        columns.append(np.repeat(np.stack(four, axis=1), u.shape[1] * 4, axis=0).ravel())
        values.append(_bilinear(u, w).ravel())
        done += count

    def ladder(fractions: Floats) -> Floats:
        zero = np.zeros((len(fractions), 1))
        return np.concatenate([zero, fractions, zero + 1.0], axis=1)

    opposite = t.next_corner[t.next_corner[base]]
    near, far = ladder(rings.along(t, base, share)), ladder(1.0 - rings.along(t, opposite, share)[:, ::-1])
    u = np.stack([near[:, :-1], near[:, 1:], far[:, 1:], far[:, :-1]], axis=2)
    add(base, u, np.broadcast_to([0.0, 0.0, 1.0, 1.0], u.shape))
    a, b = (ladder(f) for f in rings.across(t, grid, share))
    i, j = (k.ravel() for k in np.meshgrid(np.arange(m + 1), np.arange(m + 1), indexing="ij"))
    add(grid, np.stack([a[:, i], a[:, i + 1], a[:, i + 1], a[:, i]], axis=2),
        np.stack([b[:, j], b[:, j], b[:, j + 1], b[:, j + 1]], axis=2))
    return _matrix(rows, columns, values, (done, t.corner_count))

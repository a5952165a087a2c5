"""A disc of triangles laid flat, with angles kept or with lengths kept, never turned over and never over itself."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ...mesh.geometry import Floats, cross, lengths
from ...mesh.topology import Ints

Method = Literal["isometric", "conformal"]


def flattened(points: Floats, triangles: Ints, method: Method, rounds: int) -> Floats | None:
    """(n, 2) places in metres of a disc's vertices (n, 3), or None where none were found that turn nothing over.

    ``conformal`` is the map of least squares that keeps angles (B. Lévy, S. Petitjean, N. Ray, J. Maillot, Least Squares
    Conformal Maps, ACM TOG 21(3), 2002), with the surface's own area; ``isometric`` goes on from it by ``rounds`` of local
    and global steps that keep lengths (L. Liu, L. Zhang, Y. Xu, C. Gotsman, S. J. Gortler, A Local/Global Approach to Mesh
    Parameterization, SGP 2008). What turns over is laid out anew within a circle (W. T. Tutte, 1963) and relaxed without
    turning anything (M. Rabinovich, R. Poranne, D. Panozzo, O. Sorkine-Hornung, Scalable Locally Injective Mappings, ACM TOG
    36(2), 2017). All by libigl.
    """
    if len(triangles) == 1:
        return _one(points, triangles)
    import igl  # slow to load, and only what is unwrapped asks

    size = float(np.ptp(points, axis=0).max()) or 1.0
    p = np.ascontiguousarray((points - points.mean(axis=0)) / size)
    tri = np.ascontiguousarray(triangles, np.int64)
    border = np.asarray(igl.boundary_loop(tri), np.int64)
    if border.size < 3:
        return None
    start = _conformal(p, tri, border)
    out = start
    if out is not None and method == "isometric":
        out = _isometric(p, tri, out, rounds)
    if out is None or _turned(out, tri):
        start = start if start is not None and not _turned(start, tri) else _in_circle(p, tri, border)
        if start is None or _turned(start, tri):
            return None
        out = start if method == "conformal" else _injective(p, tri, start, rounds)
        if out is None or _turned(out, tri):
            out = start
    return out * size


def flattened_around(points: Floats, triangles: Ints, method: Method, rounds: int, held: Ints,
                     places: Floats) -> Floats | None:
    """The same with some of the vertices, ``held`` (k,), at their ``places`` (k, 2) in metres; None where something turns
    over then. Two at least, apart from each other, say how large and which way round all of it lies.
    """
    if held.size < 2 or np.ptp(places, axis=0).max() <= 0:
        return None
    import igl

    size = float(np.ptp(points, axis=0).max()) or 1.0
    p = np.ascontiguousarray((points - points.mean(axis=0)) / size)
    tri, target = np.ascontiguousarray(triangles, np.int64), np.ascontiguousarray(places / size)
    try:
        start = np.asarray(igl.lscm(p, tri, held.astype(np.int64), target)[0])
    except (RuntimeError, ValueError):
        return None
    out: Floats | None = start
    if method == "isometric" and held.size < len(points) and np.isfinite(start).all():
        out = _isometric(p, tri, start, rounds, held.astype(np.int32))
    if out is None or _turned(out, tri):
        return None
    out = out.copy()
    out[held] = target  # to the last bit
    return None if _turned(out, tri) else out * size


def _one(points: Floats, triangles: Ints) -> Floats | None:
    a, b, c = points[triangles[0]]
    long = float(np.linalg.norm(b - a))
    if long == 0:
        return None
    x = float((b - a) @ (c - a)) / long
    y = float(np.linalg.norm(np.cross(b - a, c - a))) / long
    if y <= 1e-12 * long:
        return None
    out = np.zeros((len(points), 2))
    out[triangles[0]] = [[0.0, 0.0], [long, 0.0], [x, y]]
    return out


def _area(p: Floats, tri: Ints) -> float:
    return float(lengths(cross(p[tri[:, 1]] - p[tri[:, 0]], p[tri[:, 2]] - p[tri[:, 0]])).sum() / 2)


def signed(flat: Floats, tri: Ints) -> Floats:
    """(t,) areas of triangles laid flat, negative where turned over."""
    a, b, c = flat[tri[:, 0]], flat[tri[:, 1]], flat[tri[:, 2]]
    out: Floats = ((b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])) / 2
    return out


def _turned(flat: Floats, tri: Ints) -> bool:
    if not np.isfinite(flat).all():
        return True
    area = signed(flat, tri)
    return bool((area <= 1e-12 * np.abs(area).sum()).any())


def _scaled(flat: Floats, p: Floats, tri: Ints) -> Floats | None:
    """The same, as large as the surface is."""
    area = signed(flat, tri).sum()
    if not np.isfinite(area) or area == 0:
        return None
    if area < 0:
        flat = flat * [1.0, -1.0]
    out: Floats = flat * np.sqrt(_area(p, tri) / abs(area))
    return out


def _conformal(p: Floats, tri: Ints, border: Ints) -> Floats | None:
    import igl

    ends = np.array([border[0], border[int(np.argmax(lengths(p[border] - p[border[0]])))]], np.int64)
    far = float(np.linalg.norm(p[ends[1]] - p[ends[0]]))
    if far == 0:
        return None
    try:
        flat, _ = igl.lscm(p, tri, ends, np.array([[0.0, 0.0], [far, 0.0]]))
    except (RuntimeError, ValueError):
        return None
    return _scaled(np.asarray(flat), p, tri) if np.isfinite(flat).all() else None


def _isometric(p: Floats, tri: Ints, start: Floats, rounds: int, held: Ints | None = None) -> Floats | None:
    import igl

    data = igl.ARAPData()
    data.max_iter = rounds
    try:
        if held is None:
            held = np.array([tri[0, 0]], np.int32)  # with nothing held the equations leave open where all lies
        igl.arap_precomputation(p, tri, 2, held, data)
        flat = np.asarray(igl.arap_solve(np.ascontiguousarray(start[held]), data, np.ascontiguousarray(start)))
    except (RuntimeError, ValueError):
        return None
    return flat if np.isfinite(flat).all() else None


def _in_circle(p: Floats, tri: Ints, border: Ints) -> Floats | None:
    import igl

    ring = np.asarray(igl.map_vertices_to_circle(np.asfortranarray(p), border.astype(np.int32)))
    # even weights turn nothing over, whatever the triangles' angles
    n = len(p)
    from scipy.sparse import coo_array, diags_array
    from scipy.sparse.linalg import spsolve

    a, b = tri.ravel(), np.roll(tri, -1, axis=1).ravel()
    link = coo_array((np.ones(2 * a.size), (np.concatenate([a, b]), np.concatenate([b, a]))), shape=(n, n)).tocsr()
    link.data[:] = 1.0
    inner = np.setdiff1d(np.arange(n), border)
    out = np.zeros((n, 2))
    out[border] = ring[:, :2]
    if inner.size:
        degree = np.asarray(link.sum(axis=1)).ravel()
        laplace = (diags_array(degree) - link).tocsr()
        out[inner] = spsolve(laplace[inner][:, inner].tocsc(), -(laplace[inner][:, border] @ out[border])).reshape(-1, 2)
    return _scaled(out, p, tri)


def _injective(p: Floats, tri: Ints, start: Floats, rounds: int) -> Floats | None:
    import igl

    try:
        data = igl.slim_precompute(np.asfortranarray(p), np.asfortranarray(tri.astype(np.int32)), np.asfortranarray(start),
                                   igl.SYMMETRIC_DIRICHLET, np.zeros(0, np.int32), np.zeros((0, 2), order="F"), 0.0)
        flat = np.asarray(igl.slim_solve(data, max(rounds, 10)))
    except (RuntimeError, ValueError):
        return None
    return flat[:, :2] if np.isfinite(flat).all() else None

"""Patches that fill the corner of a bevel: an outline of N sides becomes four-sided faces.

With s segments on every side and s even, N grids of s/2 × s/2 meet at a middle vertex; with s odd they stand round one
N-sided face. Other outlines get a fan of quads round a middle vertex.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import scipy
from scipy.sparse import csc_array, csr_array

from ... import tolerance
from ...compiled import COUNT, NEW_BOOLS, NUMBER, POINTS, STACK, TRIPLE, compiled
from ...mesh.geometry import Floats, cross, lengths, unit
from ...mesh.topology import Bools, Ints
from ...waiting import check

#: an outline further off its sphere than this share of the radius is like none
_FAR_FROM_ROUND = 0.02


@dataclass(frozen=True)
class CornerPatch:
    """Faces over an outline of ``outline`` points, numbered round it from 0, new points following.

    Attributes:
        corners, sides: the faces, ragged.
        inner: how many new points there are.
        harmonic: (inner, outline) each new point as the mean of its neighbours, solved.
        coons: (inner, outline) for four equal sides: the bilinearly blended patch (S. Coons, MIT Project MAC TR-41, 1967),
            which is exact on cylinders; None otherwise.
        apex: for a fan under a single arc, the outline points where the arc begins and ends, and the one across from it.
    """

    outline: int
    corners: Ints
    sides: Ints
    inner: int
    harmonic: Floats
    coons: Floats | None = None
    apex: tuple[int, int, int] | None = None


@lru_cache(maxsize=256)
def corner_patch(sides: tuple[int, ...]) -> CornerPatch:
    """The patch for an outline whose sides have so many segments each."""
    n = sum(sides)
    if n <= 4 or max(sides) == 1:
        return _finish(n, [list(range(n))], 0)
    if len(set(sides)) == 1 and len(sides) >= 3:
        return _even(len(sides), sides[0])
    if len(sides) == 3 and sorted(sides)[0] == 1 and len(set(sides)) == 2 and sorted(sides)[1] == sorted(sides)[2]:
        return _ladder_to_point(sides)
    if len(sides) == 4 and sides[0] == sides[2] and sides[1] == sides[3] == 1:
        return _ladder(sides[0], 1)
    if len(sides) == 4 and sides[1] == sides[3] and sides[0] == sides[2] == 1:
        return _ladder(sides[1], 0)
    arcs = [k for k, s in enumerate(sides) if s > 1]
    patch = _fan(n)
    if len(arcs) == 1 and len(sides) == 3:
        first = sum(sides[:arcs[0]])
        last = (first + sides[arcs[0]]) % n
        return replace(patch, apex=(first, last, (last + 1) % n))
    return patch


def _even(count: int, s: int) -> CornerPatch:
    """``count`` equal sides of s segments."""
    n = count * s
    h, odd = s // 2, s % 2
    # a kite (i, j) for each outline corner k: i along the side that follows it, j along the side before
    points: dict[tuple[int, int, int], int] = {}
    total = n

    def at(k: int, i: int, j: int) -> int:
        """Number of point (i, j) of kite k; kites share their far rims when s is even."""
        nonlocal total
        k %= count
        if j == 0:
            return (k * s + i) % n
        if i == 0:
            return (k * s - j) % n
        if not odd and i == h:
            if j == h:
                key = (-1, 0, 0)
            else:  # the rim towards the next corner is that corner's j = … rim
                key = ((k + 1) % count, j, h) if j < h else (-1, 0, 0)
        else:
            key = (k, i, j)
        if key not in points:
            points[key] = total
            total += 1
        return points[key]

    faces = []
    for k in range(count):
        for i in range(h):
            for j in range(h):
                faces.append([at(k, i, j), at(k, i + 1, j), at(k, i + 1, j + 1), at(k, i, j + 1)])
        if odd:  # the strip inward from the middle segment of side k
            for j in range(h):
                faces.append([at(k, h, j), at(k + 1, j, h), at(k + 1, j + 1, h), at(k, h, j + 1)])
    if odd:
        faces.append([at(k, h, h) for k in range(count)])
    patch = _finish(n, faces, total - n)
    return replace(patch, coons=_coons(patch, s)) if count == 4 else patch


def _coons(patch: CornerPatch, s: int) -> Floats:
    """(inner, 4s) weights of the blended patch; the grid places follow from the harmonic map of a square."""
    k = np.arange(s)
    square = np.concatenate([np.stack([k, 0 * k], 1), np.stack([0 * k + s, k], 1), np.stack([s - k, 0 * k + s], 1),
                             np.stack([0 * k, s - k], 1)])
    place = np.rint(patch.harmonic @ square).astype(np.int64)
    out = np.zeros((patch.inner, 4 * s))
    row = np.arange(patch.inner)
    i, j = place[:, 0], place[:, 1]
    u, v = i / s, j / s
    np.add.at(out, (row, i), 1 - v)
    np.add.at(out, (row, 3 * s - i), v)
    np.add.at(out, (row, (4 * s - j) % (4 * s)), 1 - u)
    np.add.at(out, (row, s + j), u)
    for corner, weight in ((0, (1 - u) * (1 - v)), (s, u * (1 - v)), (2 * s, u * v), (3 * s, (1 - u) * v)):
        np.add.at(out, (row, np.full(patch.inner, corner)), -weight)
    return out


def _ladder_to_point(sides: tuple[int, ...]) -> CornerPatch:
    """Two equal sides that meet, and one short one across: rungs between them."""
    short = sides.index(1)
    s = max(sides)
    n = 2 * s + 1
    begin = sum(sides[:short]) + 1  # first point after the short side
    up = [(begin + k) % n for k in range(s + 1)]  # from the short side to where the equal sides meet
    down = [(begin + 2 * s - k) % n for k in range(s + 1)]
    faces = [[down[k], up[k], up[k + 1], down[k + 1]] for k in range(s - 1)]
    faces.append([down[s - 1], up[s - 1], up[s]])
    return _finish(n, faces, 0)


def _ladder(s: int, first: int) -> CornerPatch:
    """Two equal sides of s segments joined by short ones; the first of them begins at point 0, or after a short side."""
    n = 2 * s + 2
    begin = 0 if first == 1 else 1
    up = [(begin + k) % n for k in range(s + 1)]
    down = [(begin + 2 * s + 1 - k) % n for k in range(s + 1)]
    return _finish(n, [[down[k], up[k], up[k + 1], down[k + 1]] for k in range(s)], 0)


def _fan(n: int) -> CornerPatch:
    """Quads of two outline segments and the middle, and one triangle where the count is odd."""
    faces = [[k, k + 1, (k + 2) % n, n] for k in range(0, n - 1, 2)]
    if n % 2:
        faces.append([n - 1, 0, n])
    return _finish(n, faces, 1)


def _finish(n: int, faces: list[list[int]], inner: int) -> CornerPatch:
    sides = np.array([len(f) for f in faces], np.int64)
    corners = np.array([v for f in faces for v in f], np.int64)
    harmonic = np.zeros((inner, n))
    if inner:
        starts = np.cumsum(sides) - sides
        onward = np.arange(1, corners.size + 1)
        onward[starts + sides - 1] = starts
        a, b = corners, corners[onward]
        pairs = np.unique(np.stack([np.minimum(a, b), np.maximum(a, b)], axis=1), axis=0)
        row, column = np.concatenate([pairs[:, 0], pairs[:, 1]]), np.concatenate([pairs[:, 1], pairs[:, 0]])
        links = csr_array((np.ones(row.size), (row, column)), shape=(n + inner, n + inner))[n:]
        count: Floats = np.asarray(links.sum(axis=1)).ravel()
        own = csc_array(csr_array((count, (np.arange(inner), np.arange(inner)))) - links[:, n:])
        harmonic = np.asarray(scipy.sparse.linalg.splu(own).solve(links[:, :n].toarray()))
    return CornerPatch(n, corners, sides, inner, harmonic)


def inner_points(patch: CornerPatch, outline: Floats, straight: Floats, roundness: float, swell: float = 1.0) -> Floats:
    """(m, inner, 3) new points of m patches whose outlines (m, n, 3) are given.

    Full roundness: the sphere that fits the outline best, corrected by how far the outline is off it; for four sides that
    lie on no sphere their blended patch. None: the mean of the neighbours over the ``straight`` outline. Linear between.
    ``swell`` is the share of the sphere where the outline is far from any, as where hollow and bulging edges meet; the rest
    is the mean of the neighbours.
    """
    check()
    weights = patch.harmonic if patch.coons is None else patch.coons
    flat: Floats = weights @ straight if roundness < 1.0 else np.zeros((len(outline), len(weights), 3))
    if roundness == 0.0:
        return flat if patch.apex is None else _seen_by_all(patch, straight, flat)
    round_: Floats = weights @ outline
    # most corners of a large pick lie in a plane, where there is no sphere
    bulging = np.flatnonzero(~_flat(outline, tolerance.NO_DIRECTION))
    if bulging.size < len(outline):
        out: Floats = roundness * round_ + (1 - roundness) * flat
        if bulging.size:
            out[bulging] = inner_points(patch, outline[bulging], straight[bulging], roundness, swell)
        return out if patch.apex is None else _seen_by_all(patch, outline * roundness + straight * (1 - roundness), out)
    middle = outline.mean(axis=1, keepdims=True)
    p = outline - middle
    # least squares of |x − c|² = r²: 2c·x + (r² − |c|²) = |x|² (I. Coope, Journal of Optimization Theory 76(2), 1993)
    rows = np.concatenate([2 * p, np.ones((*p.shape[:2], 1))], axis=2)
    right = np.einsum("mok,mok->mo", p, p)
    # the outline of a flat corner lies in a plane and has no sphere: the pseudo-inverse leaves its centre in the plane
    solution = np.einsum("mio,mo->mi", np.linalg.pinv(rows, rcond=1e-9), right)
    centre: Floats = solution[:, None, :3]
    radius = np.sqrt(np.maximum(solution[:, 3] + np.einsum("mk,mk->m", centre[:, 0], centre[:, 0]), 0.0))[:, None]
    spread = lengths(p).max(axis=1)
    singular = np.linalg.svd(p, compute_uv=False)[:, -1] <= 1e-9 * np.maximum(spread, 1e-300)
    residual = lengths(p - centre) - radius
    off = np.einsum("io,mo->mi", patch.harmonic, residual)
    away = round_ - middle - centre
    ball = middle + centre + unit(away) * (radius + off)[:, :, None]
    if patch.coons is not None:
        singular |= np.abs(residual).max(axis=1) > 1e-6 * radius[:, 0]
    usable = (~singular)[:, None, None] & (lengths(away) > 1e-9 * radius)[:, :, None]
    if swell < 1.0:
        far = np.abs(residual).max(axis=1) > _FAR_FROM_ROUND * radius[:, 0]
        ball = np.where(far[:, None, None], swell * ball + (1 - swell) * round_, ball)
    out = roundness * np.where(usable, ball, round_) + (1 - roundness) * flat
    return out if patch.apex is None else _seen_by_all(patch, outline * roundness + straight * (1 - roundness), out)


@compiled(TRIPLE, POINTS, COUNT, COUNT, COUNT)
def _square(p: Floats, a: int, b: int, c: int) -> tuple[float, float, float]:
    """Twice the area vector of the triangle of three points."""
    ux, uy, uz = p[b, 0] - p[a, 0], p[b, 1] - p[a, 1], p[b, 2] - p[a, 2]
    vx, vy, vz = p[c, 0] - p[a, 0], p[c, 1] - p[a, 1], p[c, 2] - p[a, 2]
    return uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx


@compiled(NEW_BOOLS, STACK, NUMBER)
def _flat(outline: Floats, least: float) -> Bools:
    """(m,) whether outlines (m, n, 3) lie in a plane each, to the last digits."""
    n = outline.shape[1]
    out = np.empty(len(outline), np.bool_)
    p = np.empty((n, 3))
    for m in range(len(outline)):
        for k in range(3):
            middle = 0.0
            for i in range(n):
                middle += outline[m, i, k] / n
            for i in range(n):
                p[i, k] = outline[m, i, k] - middle
        size = 0.0
        for i in range(n):
            size = max(size, p[i, 0] * p[i, 0] + p[i, 1] * p[i, 1] + p[i, 2] * p[i, 2])
        x, y, z = _square(p, 0, n // 3, 2 * n // 3)
        if np.sqrt(x * x + y * y + z * z) < 0.1 * size:  # those three tell no plane well
            x = y = z = 0.0
            for i in range(1, n - 1):
                u, v, w = _square(p, 0, i, i + 1)
                x, y, z = x + u, y + v, z + w
        length = np.sqrt(x * x + y * y + z * z)
        off = 0.0
        for i in range(n):
            off = max(off, abs(p[i, 0] * x + p[i, 1] * y + p[i, 2] * z))
        out[m] = length <= least or off <= 1e-12 * np.sqrt(size) * length
    return out


def _seen_by_all(patch: CornerPatch, outline: Floats, middle: Floats) -> Floats:
    """The middle (m, 1, 3) of a fan under one arc, moved towards the apex where a hollow arc hides part of it.

    From a place in the plane of the outline all of it is seen that lies on the same side of every segment as the apex; the
    lines of the first and the last segment of the arc bound that place.
    """
    assert patch.apex is not None
    first, last, apex = patch.apex
    n = patch.outline
    top = outline[:, apex]
    a, b = outline[:, first], outline[:, last]
    one, two = outline[:, (first + 1) % n] - a, outline[:, (last - 1) % n] - b
    normal = unit(cross(a - top, b - top))
    inside = np.ones(len(middle), bool)
    for k in range(n):
        p, q = outline[:, k], outline[:, (k + 1) % n]
        turn = np.einsum("mi,mi->m", cross(q - p, middle[:, 0] - p), normal)
        inside &= turn > 1e-6 * np.einsum("mi,mi->m", q - p, q - p)
    if inside.all():
        return middle
    # where the two lines meet: a + s·one = b + t·two, square to the normal; a straight or bulging arc hides nothing
    across = cross(normal, two)
    d = np.einsum("mi,mi->m", one, across)
    crosses = np.abs(d) > 1e-9 * lengths(one) * lengths(two)
    meet = a + (np.einsum("mi,mi->m", b - a, across) / np.where(crosses, d, 1.0))[:, None] * one
    hollow = crosses & (np.einsum("mi,mi->m", cross(b - a, meet - a), normal) > 1e-9 * lengths(b - a) ** 2)
    near = np.where(hollow[:, None], 2 * top + meet, top + a + b) / 3
    return np.where(inside[:, None, None], middle, near[:, None])

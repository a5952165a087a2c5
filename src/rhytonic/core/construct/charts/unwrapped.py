"""Faces laid flat between their cuts: every piece a disc that neither turns over nor lies over itself."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...mesh.geometry import Floats, unit
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools, Ints
from ...mesh.triangulate import triangles_by_corners
from ...waiting import check
from .chart import charts_between, euler
from .flattened import Method, flattened, flattened_around, signed
from .opening import openings

#: a piece lies over itself where more than this share of it does
_OVER = 1e-7


@dataclass(frozen=True)
class Unwrapped:
    """Faces laid flat.

    Attributes:
        flat: (C, 2) places in metres, each piece about its own corner; NaN for corners of other faces.
        piece: (F,) number of the piece of each face, −1 for other faces.
        stays: (F,) faces of pieces that were laid out round what is pinned: their places are where they are to lie.
        opened: edges cut because a surface could not be laid flat as it was; split: those cut because it lay over itself.
    """

    flat: Floats
    piece: Ints
    stays: Bools
    opened: int
    split: int


def unwrapped(mesh: Mesh, faces: Ints, seams: Bools, method: Method, rounds: int, pins: Floats | None = None) -> Unwrapped:
    """Lay ``faces`` (n,) flat between ``seams`` (E,). What is closed, or has no seam at all, is opened where that shows
    least; what would turn over or lie over itself is cut in two. ``pins`` (C, 2) are places in metres that corners keep, NaN
    for all others: a piece with two of them or more is laid out round them, where that turns nothing over."""
    cut = seams.copy()
    charts = charts_between(mesh, faces, cut)
    t = mesh.topology
    seamed = np.zeros(charts.count, bool)
    has = charts.chart[t.corner_face] >= 0
    seamed[charts.chart[t.corner_face[has & seams[t.corner_edge]]]] = True
    if pins is not None:  # how it lies is known, and kept
        pinned = np.isfinite(pins).all(axis=1) & has
        seamed |= np.bincount(charts.chart[t.corner_face[pinned]], minlength=charts.count) > 1
    wanting = (euler(mesh, charts) != 1) | ~seamed
    opened = np.zeros(t.edge_count, bool)
    if wanting.any():
        opened = openings(mesh, np.flatnonzero((charts.chart >= 0) & wanting[charts.chart]), cut)
    cut |= opened
    triangles, of = triangles_by_corners(mesh)
    flat = np.full((t.corner_count, 2), np.nan)
    piece, stays = np.full(t.face_count, -1), np.zeros(t.face_count, bool)
    count, split, waiting = 0, 0, [faces]
    while waiting:
        charts = charts_between(mesh, np.concatenate(waiting), cut)
        discs = euler(mesh, charts) == 1
        order = np.argsort(charts.chart[of], kind="stable")
        bounds = np.searchsorted(charts.chart[of][order], np.arange(charts.count + 1))
        waiting = []
        for number in range(charts.count):  # bounded by the number of pieces, each solved as a whole
            check()
            mine = triangles[order[bounds[number]:bounds[number + 1]]]
            members = np.flatnonzero(charts.chart == number)
            nodes, local = np.unique(charts.node[mine], return_inverse=True)
            local = local.reshape(-1, 3)
            points = np.zeros((nodes.size, 3))
            points[local.ravel()] = mesh.points[t.corners[mine.ravel()]]
            laid = None
            if pins is not None and discs[number]:
                laid = _round_pins(points, local, method, rounds, pins[mine.ravel()])
                stays[members] = laid is not None
            if laid is None and discs[number]:
                laid = flattened(points, local, method, rounds)
                if laid is not None and _over_itself(laid, local):
                    laid = None
            if laid is None and members.size > 1:
                across = _halved(mesh, members, charts.whole)
                cut[across] = True
                split += across.size
                waiting.append(members)
                continue
            corners = t.corners_of(members)
            if laid is None:
                flat[corners] = _on_its_plane(mesh, int(members[0]), mesh.points[t.corners[corners]])
            else:
                flat[corners] = laid[np.searchsorted(nodes, charts.node[corners])]
            piece[members] = count
            count += 1
    return Unwrapped(flat, _by_first_face(piece), stays, int(opened.sum()), split)


def _round_pins(points: Floats, local: Ints, method: Method, rounds: int, pins: Floats) -> Floats | None:
    """A piece laid out round pinned corners: ``pins`` (3t, 2), for the corners of its triangles; None where it cannot be."""
    has = np.isfinite(pins).all(axis=1)
    held, first = np.unique(local.ravel()[has], return_index=True)
    laid = flattened_around(points, local, method, rounds, held, pins[has][first])
    return None if laid is None or _over_itself(laid, local) else laid


def _by_first_face(piece: Ints) -> Ints:
    """The pieces numbered in the order of their first faces."""
    has = piece >= 0
    _, first, number = np.unique(piece[has], return_index=True, return_inverse=True)
    rank = np.empty(first.size, np.int64)
    rank[np.argsort(first)] = np.arange(first.size)
    out = piece.copy()
    out[has] = rank[number.ravel()]
    return out


def _over_itself(flat: Floats, triangles: Ints) -> bool:
    """Whether a disc without turned triangles lies over itself: its outline then encloses less, counted even and odd, than
    its triangles cover."""
    import igl
    import shapely

    border = np.asarray(igl.boundary_loop(np.ascontiguousarray(triangles, np.int64)))
    ring = shapely.Polygon(flat[border])
    if ring.is_valid:
        return False
    area = float(signed(flat, triangles).sum())
    enclosed = float(shapely.make_valid(ring).area)
    return abs(area - enclosed) > _OVER * area


def _halved(mesh: Mesh, faces: Ints, whole: Bools) -> Ints:
    """Edges between the two halves of a piece: faces nearer to one of its farthest two than to the other."""
    from scipy.sparse import coo_array
    from scipy.sparse.csgraph import dijkstra

    t = mesh.topology
    half = t.corners_of(faces)
    half = half[whole[half]]
    number = np.full(t.face_count, -1)
    number[faces] = np.arange(faces.size)
    a, b = number[t.corner_face[half]], number[t.corner_face[t.twin[half]]]
    away = np.linalg.norm(mesh.face_centres[faces[a]] - mesh.face_centres[faces[b]], axis=1) + 1e-12
    # faces that turn away from each other are far apart too: halves are to be as flat as can be
    n = mesh.normals[faces]
    size = float(np.ptp(mesh.points[t.corners[half]], axis=0).max()) or 1.0
    away += 0.5 * size * (1 - np.clip(np.einsum("ij,ij->i", n[a], n[b]), -1, 1))
    graph = coo_array((away, (a, b)), shape=(faces.size, faces.size)).tocsr()
    def distances(face: int) -> Floats:
        found: Floats = dijkstra(graph, indices=face)  # type: ignore[call-overload]  # its types leave sparse arrays out
        return found

    one = int(np.argmax(distances(0)))
    from_one = distances(one)
    two = int(np.argmax(np.where(np.isfinite(from_one), from_one, -1)))
    nearer = from_one <= distances(two)
    nearer[two] = False
    nearer[one] = True
    edges: Ints = np.unique(t.corner_edge[half[nearer[a] != nearer[b]]])
    return edges


def _on_its_plane(mesh: Mesh, face: int, points: Floats) -> Floats:
    """(n, 2) one face's corners as seen along its normal, for faces that no map keeps right side out."""
    normal = mesh.normals[face]
    wish = np.eye(3)[int(np.argmin(np.abs(normal)))]
    right = unit((wish - normal * (wish @ normal))[None])[0]
    p = points - points[0]
    out: Floats = np.stack([p @ right, p @ np.cross(normal, right)], axis=1)
    return out

"""Where to cut a surface so that it can be laid flat: a tree of faces is kept whole, flattest joints first, and of the cuts
left over those are closed again that the surface does not need."""

from __future__ import annotations

import numpy as np

from ...compiled import BOOLS, COUNT, FLOATS, INTS, NEW_BOOLS, compiled
from ...mesh.geometry import Floats, unit
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools, Ints
from ...waiting import check

#: so much curvature (radians of angle missing or over) is laid flat without a cut
BEARABLE = 0.6
#: across edges that turn by more (radians), only as much as this
SHARP, _FLAT = np.radians(30), 0.02


def openings(mesh: Mesh, faces: Ints, cut: Bools, bearable: float = BEARABLE) -> Bools:
    """(E,) further edges to be cut, beside ``cut`` (E,), so that every piece of ``faces`` is a disc that lies flat well.

    Cuts lie on sharp edges before flat ones, behind and below before in front and above. They form a graph that opens every
    handle and joins all borders, and that reaches each place where more curvature than ``bearable`` gathers; a branch that
    gathers less is closed again.
    """
    check()
    t = mesh.topology
    inside = np.zeros(t.face_count, bool)
    inside[faces] = True
    order, starts = t.edge_corners
    inner = np.flatnonzero((t.edge_face_count == 2) & ~cut)
    one, two = order[starts[inner]], order[starts[inner] + 1]
    good = (t.twin[one] == two) & inside[t.corner_face[one]] & inside[t.corner_face[two]]
    inner, one, two = inner[good], t.corner_face[one[good]], t.corner_face[two[good]]
    n = mesh.normals
    turning = np.arccos(np.clip(np.einsum("ij,ij->i", n[one], n[two]), -1, 1))
    hidden: Floats = unit(n[one] + n[two]) @ np.array([0.0, 0.55, 0.83])
    # flat joints are kept before sharp ones; of joints alike those in sight are kept
    cost = np.round(turning, 2) - 0.05 * hidden
    rank = np.lexsort((inner, cost))
    kept = _spanned(t.face_count, one[rank], two[rank])
    opened = np.zeros(t.edge_count, bool)
    opened[inner[rank[~kept]]] = True
    # a cut that ends at what is cut already, or at a border, hangs on something
    fixed = np.zeros(t.vertex_count, bool)
    firm = cut | (t.edge_face_count != 2)
    beside = np.zeros(t.edge_count, bool)
    beside[t.corner_edge[inside[t.corner_face]]] = True
    beside &= ~np.isin(np.arange(t.edge_count), inner)
    fixed[t.edges[firm | beside].ravel()] = True
    left = np.flatnonzero(opened)
    most = np.where(turning[np.searchsorted(inner, left)] > SHARP, min(_FLAT, bearable), bearable)
    gone = _closed_again(t.edges[left, 0].copy(), t.edges[left, 1].copy(), most, fixed, missing_angles(mesh, inside))
    opened[left[gone]] = False
    return opened


def missing_angles(mesh: Mesh, inside: Bools) -> Floats:
    """(V,) how much the angles of faces ``inside`` (F,) round each vertex fall short of a full turn."""
    t = mesh.topology
    p = mesh.points[t.corners]
    on, back = unit(p[t.next_corner] - p), unit(p[t.previous_corner] - p)
    angle: Floats = np.arccos(np.clip(np.einsum("ij,ij->i", on, back), -1, 1)) * inside[t.corner_face]
    return np.asarray(2 * np.pi - np.bincount(t.corners, angle, t.vertex_count), np.float64)


@compiled(NEW_BOOLS, COUNT, INTS, INTS)
def _spanned(count: int, one: Ints, two: Ints) -> Bools:
    """Links that are taken, in the order given, where they join what was apart (J. B. Kruskal, 1956)."""
    root = np.arange(count)
    out = np.zeros(len(one), np.bool_)
    for i in range(len(one)):
        x, y = one[i], two[i]
        while root[x] != x:
            root[x] = root[root[x]]
            x = root[x]
        while root[y] != y:
            root[y] = root[root[y]]
            y = root[y]
        if x != y:
            root[max(x, y)] = min(x, y)
            out[i] = True
    return out


@compiled(NEW_BOOLS, INTS, INTS, FLOATS, BOOLS, FLOATS)
def _closed_again(a: Ints, b: Ints, most: Floats, fixed: Bools, missing: Floats) -> Bools:
    """Cuts with a free end, taken back end by end while what gathers there is no more than ``most`` of the cut; the last
    one stays."""
    n = len(fixed)
    uses = np.zeros(n, np.int64)
    for i in range(len(a)):
        uses[a[i]] += 1
        uses[b[i]] += 1
    start = np.zeros(n + 1, np.int64)
    for v in range(n):
        start[v + 1] = start[v] + uses[v]
    at = start[:-1].copy()
    edge = np.empty(2 * len(a), np.int64)
    for i in range(len(a)):
        edge[at[a[i]]] = i
        at[a[i]] += 1
        edge[at[b[i]]] = i
        at[b[i]] += 1
    gathered = missing.copy()
    gone = np.zeros(len(a), np.bool_)
    left = len(a)
    queue = np.empty(n + len(a), np.int64)
    end = 0
    for v in range(n):
        if uses[v] == 1 and not fixed[v]:
            queue[end] = v
            end += 1
    here = 0
    while here < end:
        v = queue[here]
        here += 1
        if uses[v] != 1 or left <= 1:
            continue
        for k in range(start[v], start[v + 1]):
            i = edge[k]
            if not gone[i] and abs(gathered[v]) <= most[i]:
                other = b[i] if a[i] == v else a[i]
                gone[i] = True
                left -= 1
                uses[v] -= 1
                uses[other] -= 1
                gathered[other] += gathered[v]
                if uses[other] == 1 and not fixed[other]:
                    queue[end] = other
                    end += 1
    return gone

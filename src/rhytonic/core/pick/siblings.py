"""Elements a step made of one and the same place, told apart by the faces they lie at.

An inset of two faces side by side makes two copies of each vertex they share. Their names tell them apart by a rank, and
ranks turn round when steps above give faces other ids: then an id that is still there is the sibling's. Which faces lie at
an element, and where those come from in the form, says which of its siblings it is, whatever they are called by now.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import scipy

from ..lineage.history import History
from ..lineage.origins import Origins, origins
from ..mesh.geometry import Floats, lengths
from ..mesh.mesh import Mesh
from ..mesh.names import Ids, hex_of, mix
from ..mesh.topology import Bools, Ints, Topology, ranges
from . import rules
from .convert import Kind

#: places in the form are kept to five digits
_SAME = 2e-5
#: how much nearer siblings must be to what was meant than what the ids find, to be taken in its stead
_SURER = 0.75


def incident_faces(t: Topology, kind: Kind, elements: Ints) -> tuple[Ints, Ints]:
    """(n,) each: faces at each of the vertices or edges, and which of ``elements`` each of them lies at."""
    if kind == "edges":
        order, starts = t.edge_corners
        count = starts[elements + 1] - starts[elements]
        return t.corner_face[order[ranges(starts[elements], count)]], np.repeat(np.arange(elements.size), count)
    number = np.full(t.vertex_count, -1)  # corners are not sorted by vertex for so few
    number[elements] = np.arange(elements.size)
    owner = number[t.corners]
    at = np.flatnonzero(owner >= 0)
    return t.corner_face[at], owner[at]


def marks(mesh: Mesh, kind: Kind, elements: Ints) -> list[str]:
    """One id for all faces at each of the elements, in whatever order these stand."""
    faces, owner = incident_faces(mesh.topology, kind, elements)
    out: Ids = np.zeros(elements.size, np.uint64)
    np.add.at(out, owner, mix(mesh.names.face[faces], np.zeros(1, np.uint64)))
    return hex_of(out)


def around(mesh: Mesh, o: Origins, kind: Kind, elements: Ints) -> Floats:
    """(n, 3) mean of the middles of the faces at each of the elements, in the form; nan where there are none."""
    t = mesh.topology
    faces, owner = incident_faces(t, kind, elements)
    once, back = np.unique(faces, return_inverse=True)
    middle = np.zeros((once.size, 3))
    sides = t.sides[once]
    np.add.at(middle, np.repeat(np.arange(once.size), sides), o.rest[t.corners[t.corners_of(once)]])
    middle /= sides[:, None]
    out = np.zeros((elements.size, 3))
    np.add.at(out, owner, middle[back])
    count = np.bincount(owner, minlength=elements.size)[:, None]
    return np.divide(out, count, out=np.full_like(out, np.nan), where=count > 0)


def ends_of(t: Topology, kind: Kind) -> Ints:
    """(n, 1 or 2) vertices of every vertex, of every edge."""
    return t.edges if kind == "edges" else np.arange(t.vertex_count)[:, None]


def rows(mesh: Mesh, o: Origins, kind: Kind, elements: Ints, at: Floats) -> list[tuple[int, int] | None]:
    """Which of how many each of the elements is of those made of its place that lie at faces about the same ``at``, in the
    order they were made; None where it is the only one."""
    ends = ends_of(mesh.topology, kind)
    maker = o.vertex_maker[ends].max(axis=1)
    made = {number: np.flatnonzero(maker == number) for number in np.unique(maker[elements]).tolist()}
    out: list[tuple[int, int] | None] = []
    for element, here in zip(elements.tolist(), at, strict=True):  # bounded by the places kept
        alike = made[int(maker[element])]
        alike = alike[_from(o.rest[ends[alike]], o.rest[ends[element]])]
        if alike.size > 1:
            alike = alike[lengths(around(mesh, o, kind, alike) - here) < _SAME]
        out.append((int(np.searchsorted(alike, element)), alike.size) if alike.size > 1 else None)
    return out


def as_meant(mesh: Mesh, history: History, kind: Kind, found: Ints, places: Sequence[rules.Place]) -> Ints:
    """(n,) what each of the vertices or edges that ids found stands for: itself, or the sibling that was meant."""
    if not found.size or any(p.around is None or p.faces is None for p in places):
        return found
    if sorted(marks(mesh, kind, found)) == sorted(p.faces or "" for p in places):
        return found  # each lies at the faces it lay at
    o = origins(history)
    if o is None or len(o.rest) != len(mesh.points):
        return found
    out = found.copy()
    number = {r.step: i for i, r in enumerate(history.records)}
    groups: dict[tuple[object, ...], list[rules.Place]] = {}
    for place in places:
        groups.setdefault((place.by, *sorted(place.points)), []).append(place)
    ends = ends_of(mesh.topology, kind)
    maker = o.vertex_maker[ends].max(axis=1)
    for alike in groups.values():
        by = number.get(alike[0].by, -1)
        made = np.flatnonzero(maker == by)
        siblings = made[_from(o.rest[ends[made]], np.array(alike[0].points, float))]
        mine = np.flatnonzero(np.isin(found, siblings))
        if siblings.size > mine.size == len(alike):
            out[mine] = _chosen(around(mesh, o, kind, siblings), siblings, found[mine], alike)
    return out


def told_alike(mesh: Mesh, history: History, told: tuple[Ints, Ints], found: Ints, meant: Ints) -> tuple[Ints, Ints]:
    """(n,) each: edges and an end of each, with those edges that others stand for replaced by these, told from the end
    alike."""
    o = origins(history)
    edges, ends = told[0].copy(), told[1].copy()
    for old, new in zip(found.tolist(), meant.tolist(), strict=True):  # bounded by the places kept
        at = np.flatnonzero(told[0] == old)
        if old != new and at.size and o is not None:
            pair = mesh.topology.edges[new]
            like = lengths(o.rest[pair] - o.rest[ends[at[0]]]) + (o.vertex_maker[pair] != o.vertex_maker[ends[at[0]]])
            edges[at], ends[at] = new, pair[int(np.argmin(like))]
    return edges, ends


def _from(rest: Floats, points: Floats) -> Bools:
    """(n,) which elements, by the places (n, k, 3) of their ends, come from these points (k, 3), in either order."""
    if len(points) != rest.shape[1]:
        return np.zeros(len(rest), bool)
    apart = np.minimum(np.abs(rest - points).max(axis=(1, 2)), np.abs(rest - points[::-1]).max(axis=(1, 2)))
    out: Bools = apart < _SAME
    return out


def _chosen(at: Floats, siblings: Ints, mine: Ints, places: Sequence[rules.Place]) -> Ints:
    """(k,) for each of ``mine`` the one of the siblings, which lie at faces about ``at``, that was meant."""
    apart = np.linalg.norm(at[None] - np.array([p.around for p in places], float)[:, None], axis=2)
    if not np.isfinite(apart).all():
        return mine
    here = np.searchsorted(siblings, mine)
    place, now = scipy.optimize.linear_sum_assignment(apart[:, here])
    _, best = scipy.optimize.linear_sum_assignment(apart)
    if apart[np.arange(len(places)), best].sum() >= _SURER * apart[place, here[now]].sum() - _SAME:
        return mine
    out = mine.copy()
    for row, which, then in zip((places[i].row for i in place.tolist()), now.tolist(), best[place].tolist(), strict=True):
        # rows of copies, as an extrude of several segments makes them, lie at faces from one place: the same row again
        mates = np.flatnonzero(lengths(at - at[here[which]]) < _SAME)
        others = np.flatnonzero(lengths(at - at[then]) < _SAME)
        if others.size == 1:
            out[which] = siblings[others[0]]
        elif row is not None and row[0] < row[1] == others.size:
            out[which] = siblings[others[row[0]]]
        elif mates.size == others.size:
            out[which] = siblings[others[np.searchsorted(mates, here[which])]]
        else:
            return mine
    return out if np.unique(out).size == out.size else mine

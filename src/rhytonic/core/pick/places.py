"""Places of elements in their base form, and the elements that are at given places by now."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..compiled import INTS, NEW_FLOATS, NEW_POINTS, POINTS, compiled
from ..lineage.history import History, Record
from ..lineage.origins import Origins, as_fractions, origins, unrolled
from ..mesh.geometry import Floats, lengths, unit
from ..mesh.mesh import Mesh
from ..mesh.names import Ids
from ..mesh.topology import Bools, Ints
from . import rules, siblings
from .convert import Kind
from .depth import depth, within_reach

#: the share of its own width by which an element's middle must lie within a place
_MARGIN = 0.1
#: how much less it counts where an element is by now than where it comes from
_LATER = 0.02
#: by how much more of the box one must be elsewhere than what it lies upon, to be taken for its image
_AHEAD = 0.02
#: no more elements than this within one place are looked at for what lies upon each other
_MOST_ALIKE = 200
#: no more elements than this are kept by their places
MOST = 400


def places_of(mesh: Mesh, history: History, kind: Kind, elements: Ints) -> list[rules.Place] | None:
    """The place of each element; None where one has none, or there are too many."""
    found = origins(history)
    if found is None or not 0 < elements.size <= MOST or len(found.rest) != len(mesh.points):
        return None
    now = as_fractions(mesh.points)
    out = []
    for corners, maker, role in zip(*_told(mesh, history, found, kind, elements), strict=True):  # bounded by MOST
        rest = found.rest[corners]
        if not np.isfinite(rest).all():
            return None
        points = [_rounded(p) for p in rest[:1000]]
        out.append(rules.Place(by=maker, role=role, points=points, at=_rounded(now[corners].mean(axis=0))))
    if kind == "faces":
        return out
    about_them = siblings.around(mesh, found, kind, elements)
    if not np.isfinite(about_them).all():
        return out
    kept = zip(out, about_them, siblings.marks(mesh, kind, elements), siblings.rows(mesh, found, kind, elements, about_them),
               strict=True)
    return [place.model_copy(update={"around": _rounded(at), "faces": mark} | ({} if row is None else {"row": row}))
            for place, at, mark, row in kept]


def _rounded(place: Floats) -> rules.Place3:
    x, y, z = (round(float(v), 5) for v in place)
    return x, y, z


def _told(mesh: Mesh, history: History, o: Origins, kind: Kind, elements: Ints) -> tuple[list[Ints], list[str], list[str]]:
    """Vertices of each element, the step that made it, and in what role."""
    t = mesh.topology
    if kind == "faces":
        corners = [t.corners[t.offsets[f]:t.offsets[f + 1]] for f in elements.tolist()]
        number, ids = o.face_maker[elements], mesh.names.face[elements]
    elif kind == "edges":
        ends = t.edges[elements]
        low_last = mesh.names.vertex[ends[:, 0]] > mesh.names.vertex[ends[:, 1]]
        corners = list(np.where(low_last[:, None], ends[:, ::-1], ends))  # the end with the lower id first
        number, ids = o.vertex_maker[t.edges[elements]].max(axis=1), None
    else:
        corners = list(elements[:, None])
        number, ids = o.vertex_maker[elements], mesh.names.vertex[elements]
    records = history.records
    makers = [records[n].step for n in number.tolist()]
    roles = ["" if ids is None else _role(records[n], kind, ids[i]) for i, n in enumerate(number.tolist())]
    return corners, makers, roles


def _role(record: Record, kind: Kind, name: np.uint64) -> str:
    domain = "face" if kind == "faces" else "vertex"
    return next((role for (d, role), ids in record.made.items() if d == domain and role and name in ids), "")


@dataclass(frozen=True)
class _Elements:
    """All elements of a kind, by where they come from and where they are.

    Attributes:
        middle, present: (n, 3) place in the form, and in the box of what there is by now; nan where there is none.
        spread, narrow: (n,) size from the middle, and least width.
        maker, ids: (n,) number of the step that made each, and its id; edges have none.
    """

    kind: Kind
    mesh: Mesh
    origins: Origins
    middle: Floats
    present: Floats
    spread: Floats
    narrow: Floats
    maker: Ints
    ids: Ids | None


def _elements(mesh: Mesh, o: Origins, kind: Kind) -> _Elements:
    t, now = mesh.topology, as_fractions(mesh.points)
    if kind == "faces":
        middle = _face_means(o.rest, t.corners, t.offsets)
        spread = _face_spreads(o.rest, middle, t.corners, t.offsets)
        area = lengths(Mesh(np.nan_to_num(o.rest), t).area_vectors)
        narrow = area / np.maximum(2 * spread, 1e-12)
        return _Elements(kind, mesh, o, middle, _face_means(now, t.corners, t.offsets), spread, narrow, o.face_maker,
                         mesh.names.face)
    if kind == "edges":
        ends = o.rest[t.edges]
        half = lengths(ends[:, 1] - ends[:, 0]) / 2
        middle, present = (ends[:, 0] + ends[:, 1]) / 2, (now[t.edges[:, 0]] + now[t.edges[:, 1]]) / 2
        return _Elements(kind, mesh, o, middle, present, half, half,
                         o.vertex_maker[t.edges].max(axis=1), None)
    none = np.zeros(len(now))
    return _Elements(kind, mesh, o, o.rest, now, none, none, o.vertex_maker, mesh.names.vertex)


def at_places(mesh: Mesh, history: History, kind: Kind, places: Sequence[rules.Place],
              near: bool = True) -> tuple[Ints, int]:
    """(n,) the elements at some places: all that lie within one, and with ``near`` the nearest of the same make where none
    does; each once. And in how many places there is nothing."""
    o = origins(history)
    if o is None or len(o.rest) != len(mesh.points) or not len(mesh.points):
        return np.zeros(0, np.int64), len(places)
    e = _elements(mesh, o, kind)
    usable = np.isfinite(e.middle).all(axis=1)
    between = np.zeros(len(e.middle), np.int64)  # in how many places, or on the rim of how many
    chosen = np.zeros(len(e.middle), bool)
    empty = 0
    makes: dict[tuple[str, str], tuple[Ints, Ints]] = {}  # what was made alike, and the rest: most places share theirs
    margin = _MARGIN * e.narrow
    for place in places:  # bounded by MOST
        nearest, points = None, np.array(place.points, float)
        if (place.by, place.role) not in makes:
            same = _same_make(e, history, place)
            makes[place.by, place.role] = np.flatnonzero(usable & same), np.flatnonzero(usable & ~same)
        for candidates in makes[place.by, place.role]:
            if not candidates.size:
                continue
            near_it = candidates[within_reach(e.middle, margin, candidates, points)]
            if near_it.size:
                inside, _ = _lying(e, place, points, near_it)
                between[near_it[inside > -margin[near_it]]] += 1
                within = _foremost(e, place, near_it, inside > margin[near_it])
                if within.size:
                    chosen[within] = True
                    break
            if near and nearest is None:
                nearest = candidates[int(np.argmin(_lying(e, place, points, candidates)[1]))]
            if not near:
                empty += 1
                break
        else:
            empty += nearest is None
            if nearest is not None:
                chosen[nearest] = True
    chosen |= between >= 2
    return np.flatnonzero(chosen), empty


def _same_make(e: _Elements, history: History, place: rules.Place) -> Bools:
    """(n,) which elements were made by the place's step, in its role."""
    number = next((i for i, r in enumerate(history.records) if r.step == place.by), -1)
    same: Bools = e.maker == number
    if place.role and e.ids is not None and number >= 0:
        made = history.records[number].made.get(("face" if e.kind == "faces" else "vertex", place.role))
        if made is not None:
            same &= np.isin(e.ids, made)
    return same


def _lying(e: _Elements, place: rules.Place, points: Floats, candidates: Ints) -> tuple[Floats, Floats]:
    """(n,) how far inside a place with these points candidates lie, negative outside; and how far from its middle."""
    at = e.middle[candidates]
    aside = np.zeros(candidates.size)
    if e.kind == "edges":
        ends = e.origins.rest[e.mesh.topology.edges[candidates]]
        if e.origins.round:  # along the circle a side is on, not along its chord
            about = points.mean(axis=0)
            points, ends = unrolled(points, about), unrolled(ends, about)
            at = ends.mean(axis=1)
        along, way = unit(points[-1:] - points[:1]), unit(ends[:, 1] - ends[:, 0])
        aside = 1 - np.abs(way @ along[0])
    inside = np.where(aside < 0.1, depth(points, at), -np.inf)
    alike = np.abs(e.present[candidates] - place.at).max(axis=1)
    return inside, lengths(at - points.mean(axis=0)) + _LATER * alike + aside


def _foremost(e: _Elements, place: rules.Place, candidates: Ints, within: Bools) -> Ints:
    """Of the candidates within a place, where one lies behind or upon another, those that are where it was."""
    found = candidates[within]
    if found.size < 2:
        return found
    alike = np.abs(e.present[found] - place.at).max(axis=1)
    if e.kind != "vertices":
        upright = alike <= 2 * alike.min() + 4 * e.spread[found] + 0.25
        found, alike = found[upright], alike[upright]
    if found.size > _MOST_ALIKE:
        return found
    apart = lengths(e.middle[found][:, None] - e.middle[found])
    upon = apart <= 0.25 * np.minimum.outer(e.narrow[found], e.narrow[found]) + 1e-9
    behind = upon & (alike[:, None] > alike[None] + _AHEAD)
    out: Ints = found[~behind.any(axis=1)]
    return out


def first_ends(mesh: Mesh, history: History, edges: Ints, place: rules.Place) -> Ints:
    """(n,) the end of each edge that stands for the place's first."""
    o = origins(history)
    ends = mesh.topology.edges[edges]
    if o is None:
        return ends[:, 0]
    a, b = np.asarray(place.points[0], float), np.asarray(place.points[-1], float)
    along = (o.rest[ends] - a) @ (b - a)
    return np.where(along[:, 0] <= along[:, 1], ends[:, 0], ends[:, 1])


@compiled(NEW_POINTS, POINTS, INTS, INTS)
def _face_means(points: Floats, corners: Ints, offsets: Ints) -> Floats:
    """(F, 3) means of the faces' corners."""
    out = np.zeros((len(offsets) - 1, 3))
    for f in range(len(out)):
        for c in range(offsets[f], offsets[f + 1]):
            for k in range(3):
                out[f, k] += points[corners[c], k]
        for k in range(3):
            out[f, k] /= offsets[f + 1] - offsets[f]
    return out


@compiled(NEW_FLOATS, POINTS, POINTS, INTS, INTS)
def _face_spreads(points: Floats, middle: Floats, corners: Ints, offsets: Ints) -> Floats:
    """(F,) how far corners are from the middle, in the mean of squares."""
    out = np.zeros(len(middle))
    for f in range(len(middle)):
        for c in range(offsets[f], offsets[f + 1]):
            for k in range(3):
                out[f] += (points[corners[c], k] - middle[f, k]) ** 2
        out[f] = np.sqrt(out[f] / (offsets[f + 1] - offsets[f]))
    return out

"""Places of elements in their base form, and the elements that are at given places by now."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..lineage.history import History, Record
from ..lineage.origins import Origins, in_box, origins
from ..mesh.geometry import Floats, cross, lengths, unit
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from . import rules
from .convert import Kind

#: the share of its own width by which an element's middle must lie within a place
_MARGIN = 0.1
#: how much less it counts where an element is by now than where it comes from
_LATER = 0.02
#: no more elements than this are kept by their places
MOST = 400


def places_of(mesh: Mesh, history: History, kind: Kind, elements: Ints) -> list[rules.Place] | None:
    """The place of each element; None where one has none, or there are too many."""
    found = origins(history)
    if found is None or not 0 < elements.size <= MOST or len(found.rest) != len(mesh.points):
        return None
    now = in_box(mesh.points)
    out = []
    for corners, maker, role in zip(*_told(mesh, history, found, kind, elements), strict=True):  # bounded by MOST
        rest = found.rest[corners]
        if not np.isfinite(rest).all():
            return None
        points = [(round(float(x), 5), round(float(y), 5), round(float(z), 5)) for x, y, z in rest[:1000]]
        x, y, z = (round(float(v), 5) for v in now[corners].mean(axis=0))
        out.append(rules.Place(by=maker, role=role, points=points, at=(x, y, z)))
    return out


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


def at_places(mesh: Mesh, history: History, kind: Kind, places: Sequence[rules.Place]) -> Ints:
    """The elements at some places: all that lie within one, and where none does the nearest of the same make; each once."""
    o = origins(history)
    if o is None or len(o.rest) != len(mesh.points) or not len(mesh.points):
        return np.zeros(0, np.int64)
    t = mesh.topology
    now = in_box(mesh.points)
    step_number = {r.step: i for i, r in enumerate(history.records)}
    if kind == "faces":
        sides = t.sides
        middle = _means(o.rest[t.corners], t.offsets)
        present = _means(now[t.corners], t.offsets)
        off = o.rest[t.corners] - np.repeat(middle, sides, axis=0)
        spread = np.sqrt(np.maximum(_means((off ** 2).sum(axis=1)[:, None], t.offsets)[:, 0], 0.0))
        area = lengths(Mesh(np.nan_to_num(o.rest), t).area_vectors)
        narrow = area / np.maximum(2 * spread, 1e-12)
        maker, ids = o.face_maker, mesh.names.face
    elif kind == "edges":
        ends, today = o.rest[t.edges], now[t.edges]
        middle, present = ends.mean(axis=1), today.mean(axis=1)
        spread = narrow = lengths(ends[:, 1] - ends[:, 0]) / 2
        maker, ids = o.vertex_maker[t.edges].max(axis=1), None
    else:
        middle, present, maker, ids = o.rest, now, o.vertex_maker, mesh.names.vertex
        spread = narrow = np.zeros(len(now))
    usable = np.isfinite(middle).all(axis=1)
    near = np.zeros(len(middle), np.int64)  # in how many places, or on the rim of how many
    chosen = np.zeros(len(middle), bool)
    touched = np.zeros(len(places), bool)
    for number, place in enumerate(places):  # bounded by MOST
        same = usable & (maker == step_number.get(place.by, -1))
        if place.role and ids is not None and place.by in step_number:
            made = history.records[step_number[place.by]].made.get(("face" if kind == "faces" else "vertex", place.role))
            if made is not None:
                same &= np.isin(ids, made)
        candidates = np.flatnonzero(same)
        if not candidates.size:
            continue
        points = np.asarray(place.points, float)
        inside = _depth(points, middle[candidates])
        if kind == "edges":
            ends = o.rest[t.edges[candidates]]
            along, way = unit(points[-1:] - points[:1]), unit(ends[:, 1] - ends[:, 0])
            inside = np.where(np.abs(way @ along[0]) > 0.9, inside, -np.inf)
        margin = _MARGIN * narrow[candidates]
        alike = np.abs(present[candidates] - place.at).max(axis=1)
        within = inside > margin
        # of what lies one behind the other, what is where it was
        if within.any() and kind != "vertices":
            stacked = within & (alike > 2 * alike[within].min() + 4 * spread[candidates] + 0.25)
            within &= ~stacked
        chosen[candidates[within]] = True
        near[candidates[inside > -margin]] += 1
        touched[number] = bool(within.any())
        if not touched[number]:
            far = lengths(middle[candidates] - points.mean(axis=0)) + _LATER * alike
            if kind == "edges":
                far = far + (1 - np.abs(way @ along[0]))
            chosen[candidates[int(np.argmin(far))]] = True
    chosen |= near >= 2
    return np.flatnonzero(chosen)


def first_ends(mesh: Mesh, history: History, edges: Ints, place: rules.Place) -> Ints:
    """(n,) the end of each edge that stands for the place's first."""
    o = origins(history)
    ends = mesh.topology.edges[edges]
    if o is None:
        return ends[:, 0]
    a, b = np.asarray(place.points[0], float), np.asarray(place.points[-1], float)
    along = (o.rest[ends] - a) @ (b - a)
    return np.where(along[:, 0] <= along[:, 1], ends[:, 0], ends[:, 1])


def _means(values: Floats, offsets: Ints) -> Floats:
    out: Floats = np.add.reduceat(values, offsets[:-1]) / np.diff(offsets)[:, None]
    return out


def _depth(points: Floats, middle: Floats) -> Floats:
    """(n,) how far inside a polygon (k, 3), a segment or a point each of ``middle`` (n, 3) lies; negative outside."""
    centre = points.mean(axis=0)
    off = middle - centre
    size = float(lengths(points - centre).max(initial=0.0))
    if len(points) == 1 or size < 1e-9:
        near: Floats = 1e-6 - lengths(off)
        return near
    onward = np.roll(points, -1, axis=0)
    normal = cross(points - centre, onward - centre).sum(axis=0)
    area = float(lengths(normal[None])[0])
    if len(points) == 2 or area < 1e-7 * size * size:  # flattened to a line
        way = unit((points[np.argmax(lengths(points - points[0]))] - points[0])[None])[0]
        along = off @ way
        half = np.abs((points - centre) @ way).max()
        aside = lengths(off - along[:, None] * way)
        lying: Floats = np.where(aside < 0.1 * size + 1e-6, half - np.abs(along), -aside)
        return lying
    normal /= area
    above = np.abs(off @ normal)
    inward = cross(normal[None], onward - points)
    length = np.maximum(lengths(onward - points), 1e-12)
    depth = np.einsum("nkj,kj->nk", middle[:, None] - points[None], inward / length[:, None]).min(axis=1)
    out: Floats = np.where(above < 0.2 * size, depth, -above)
    return out

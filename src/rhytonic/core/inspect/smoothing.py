"""What makes a cage smooth badly, and the steps that mend it: caps of many sides, rims that nothing holds.

Subdivision pinches the middle of a face of many sides, and rounds off an edge unless others run close beside it (common
practice, no source).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..construct.rings.rings import find_rings
from ..construct.spread import is_lower
from ..errors import NotManifold
from ..mesh.geometry import lengths
from ..mesh.mesh import Mesh
from ..mesh.topology import Bools, Ints
from ..pick.by_shape import sharper_than
from ..pick.meaning import ids_of

#: degrees from which an edge is a rim
_RIM = 50.0
#: how far from a rim its support stands: a share of the shortest edge across, and of the whole
_NEAR, _OF_SIZE = 0.15, 0.03
#: how far the ring within a cap stands from its outline, as a share of its radius
_WITHIN = 0.12
#: no more rings than this get loops at once
_MOST_RINGS = 12
#: a cage of more faces than this is not one that wants loops, and is not looked through while hands wait
_MOST_FACES = 20_000


@dataclass(frozen=True)
class Advice:
    """Faces of many sides that can be made quads, and how many rims nothing holds; with the steps that would do it, without
    ids of their own."""

    ngons: int
    rims: int
    caps: list[dict[str, Any]]
    loops: list[dict[str, Any]]


def advice(mesh: Mesh, metres: float = 1.0) -> Advice:
    """What to do before a cage is smoothed; lengths in a unit of so many metres."""
    t = mesh.topology
    wide = np.flatnonzero((t.sides > 4) & (t.sides % 2 == 0))
    loops = _loops(mesh, metres)
    return Advice(int(wide.size), sum(len(step["distance"]) for step in loops), _caps(mesh, wide, metres), loops)


def _caps(mesh: Mesh, faces: Ints, metres: float) -> list[dict[str, Any]]:
    """A ring within each cap, then quads within that."""
    if not faces.size:
        return []
    radius = np.sqrt(lengths(mesh.area_vectors[faces]).min() / np.pi)
    if radius <= 0:
        return []
    ids = {"ids": ids_of(mesh, "faces", faces)}
    # the inset leaves its inner face and its rim for each; the rim is made of quads
    return [{"kind": "inset", "pick": {"faces": ids}, "as": "each", "width": _round(_WITHIN * radius / metres)},
            {"kind": "quad_cap", "pick": {"faces": {"all_of": [ids, {"sides": [5, None]}]}}}]


def _loops(mesh: Mesh, metres: float) -> list[dict[str, Any]]:
    """Loops beside rims: through rings of edges that run from rim to rim."""
    t = mesh.topology
    if t.face_count > _MOST_FACES:
        return []
    sharp = np.zeros(t.edge_count, bool)
    sharp[sharper_than(mesh, _RIM)] = True
    size = float(np.ptp(mesh.points, axis=0).max()) if len(mesh.points) else 0.0
    done = np.zeros(t.edge_count, bool)
    out: list[dict[str, Any]] = []
    for edge in np.flatnonzero(_meets_rim(mesh, sharp)).tolist():
        if done[edge] or len(out) == _MOST_RINGS:
            continue
        try:
            rings = find_rings(t, np.array([edge]), mesh.names.vertex)
        except NotManifold:  # a ring that comes back the other way round cannot be cut
            done[edge] = True
            continue
        done[rings.edges] = True
        across = lengths(mesh.points[rings.end] - mesh.points[rings.start])
        near = _round(min(_NEAR * float(across.min()), _OF_SIZE * size) / metres)
        if near <= 0 or float(across.min()) < 2.5 * _OF_SIZE * size:
            continue  # what runs so close beside it holds the rim already
        rails = (near, _rail(mesh, rings.edges, rings.start)), (-near, _rail(mesh, rings.edges, rings.end))
        ends = [end for end, rail in rails if rail.size and sharp[rail].all()]
        if not ends:
            continue
        here = int(np.searchsorted(rings.edges, edge))
        points = mesh.points[[rings.start[here], rings.end[here]]]
        if not is_lower(points[:1], points[1:])[0]:  # fractions run from the lower end
            ends = sorted(-e for e in ends)[::-1]
        out.append({"kind": "insert_loop", "through": {"ids": ids_of(mesh, "edges", np.array([edge]))}, "distance": ends})
    return out


def _meets_rim(mesh: Mesh, sharp: Bools) -> Bools:
    """(E,) edges of quads beside which, in the quad, an edge of a rim begins."""
    t = mesh.topology
    quad = t.sides[t.corner_face] == 4
    beside = (sharp[t.corner_edge[t.previous_corner]] | sharp[t.corner_edge[t.next_corner]]) & quad
    out = np.zeros(t.edge_count, bool)
    out[t.corner_edge[beside]] = True
    return out


def _rail(mesh: Mesh, ring: Ints, ends: Ints) -> Ints:
    """Edges that lead from one end of the ring's edges to the next, on the ends' side."""
    t = mesh.topology
    inside, on = np.zeros(t.edge_count, bool), np.zeros(t.vertex_count, bool)
    inside[ring], on[ends] = True, True
    # in a quad of the ring, the edge after one that arrives at such an end, and before one that leaves it
    corner = np.flatnonzero(inside[t.corner_edge] & (t.sides[t.corner_face] == 4))
    arrives = corner[on[t.corners[t.next_corner[corner]]]]
    leaves = corner[on[t.corners[corner]]]
    return np.unique(np.concatenate([t.corner_edge[t.next_corner[arrives]], t.corner_edge[t.previous_corner[leaves]]]))


def _round(value: float) -> float:
    """Two digits are enough for a first proposal."""
    return float(f"{value:.2g}")

"""Cut: a path of new edges over faces, from vertex or edge to vertex or edge."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.rebuild import with_new
from ..construct.split.faces import EdgePoints, Split, add_pieces, edge_sources, split
from ..construct.spread import is_lower
from ..errors import BadParameter, StepError
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology
from ..params import Share, Strict
from ..pick.resolve import Picked
from ..pick.rules import Pick, PickEdges, PickVertices, Rule
from ..step.draft import Draft
from ..step.kind import Context, Step, StepKind


class AtVertex(Strict):
    vertex: Rule


class AtEdge(Strict):
    edge: Rule
    at: Share = 0.5


class Cut(Step):
    kind: Literal["cut"]
    path: Annotated[list[AtVertex | AtEdge], Field(min_length=2, max_length=10_000)]


@dataclass(frozen=True)
class _Stop:
    """A point of the path: an old vertex, or a point on an edge at a share from its first vertex."""

    vertex: int
    edge: int = -1
    share: float = 0.0


class CutKind(StepKind[Cut]):
    """Points on edges run from the lower end; 0 and 1 are the edge's ends. Neighbours in the path share a face; where they
    share an edge already nothing is made. A path that comes back to its first point is closed."""

    word, title, model = "cut", "Cut", Cut
    watches_area = True
    reads_points = True

    def pick_of(self, p: Cut) -> Pick | None:
        return None

    def plan(self, p: Cut, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        t = mesh.topology
        stops = [self._stop(s, mesh, context, i) for i, s in enumerate(p.path)]
        where = sorted({(s.edge, s.share) for s in stops if s.edge >= 0})
        place = {key: t.vertex_count + i for i, key in enumerate(where)}
        points = EdgePoints.on(t, np.array([e for e, _ in where], np.int64))
        share = np.array([at for _, at in where])
        walk = [s.vertex if s.edge < 0 else place[s.edge, s.share] for s in stops]
        faces_of = [_faces(t, s) for s in stops]
        chords = []
        for i in range(len(stops) - 1):  # bounded by the path
            row = self._chord(t, walk[i], walk[i + 1], stops[i], stops[i + 1], faces_of[i], faces_of[i + 1], i)
            if row is not None:
                chords.append(row)
        rows = np.array(chords, np.int64).reshape(-1, 3)
        if not len(rows) and not points.count:
            raise StepError("the path runs along edges that are there already, so there is nothing to cut", "path")
        s = add_pieces(split(mesh, points, rows, "", np.array([_exact(at) for at in share], np.int64)))
        halves = s.halves(t)
        draft: Draft = s.build.draft(
            data=(s, share), edges=lambda _: {"": s.build.number[rows[:, 1:]]}, replaced_edges=halves,
            vertex_source=lambda: s.vertex_weights(t, share), corner_source=lambda: s.corner_weights(t, share),
            edge_source=lambda: edge_sources(t, draft.topology, s.build.number, halves))
        return draft

    def _stop(self, stop: AtVertex | AtEdge, mesh: Mesh, context: Context, number: int) -> _Stop:
        t = mesh.topology
        if isinstance(stop, AtVertex):
            found = context.find(PickVertices(vertices=stop.vertex)).elements
        else:
            found = context.find(PickEdges(edges=stop.edge)).elements
        if found.size != 1:
            what = "vertex" if isinstance(stop, AtVertex) else "edge"
            raise BadParameter(f"point {number + 1} of the path must find one {what}, not {found.size}", "path")
        element = int(found[0])
        if isinstance(stop, AtVertex):
            return _Stop(element)
        a, b = t.edges[element]
        low = bool(is_lower(mesh.points[[a]], mesh.points[[b]])[0])
        if stop.at in (0.0, 1.0):
            return _Stop(int(a if low == (stop.at == 0.0) else b))
        return _Stop(-1, element, stop.at if low else 1.0 - stop.at)

    def _chord(self, t: Topology, a: int, b: int, one: _Stop, two: _Stop, faces: Ints, others: Ints,
               number: int) -> tuple[int, int, int] | None:
        if a == b:
            raise BadParameter(f"points {number + 1} and {number + 2} of the path are the same", "path")
        if one.edge >= 0 and one.edge == two.edge:
            return None
        if one.edge < 0 and two.edge < 0 and t.find_edges(np.array([a]), np.array([b]))[0] >= 0:
            return None
        for at, on in ((one, two), (two, one)):
            if at.edge < 0 <= on.edge and at.vertex in t.edges[on.edge]:
                return None
        shared = np.intersect1d(faces, others)
        if not shared.size:
            raise BadParameter(f"points {number + 1} and {number + 2} of the path share no face; put a point on an edge "
                               "between them", "path")
        return int(shared[0]), a, b

    def positions(self, p: Cut, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        s: Split
        s, share = draft.data
        ends = mesh.points[mesh.topology.edges[s.points.edge]]
        return with_new(draft, mesh, ends[:, 0] + share[:, None] * (ends[:, 1] - ends[:, 0]))


def _faces(t: Topology, stop: _Stop) -> Ints:
    """Faces round a stop."""
    if stop.edge >= 0:
        order, starts = t.edge_corners
        return np.sort(t.corner_face[order[starts[stop.edge]:starts[stop.edge + 1]]])
    order, starts = t.vertex_corners
    return np.sort(t.corner_face[order[starts[stop.vertex]:starts[stop.vertex + 1]]])


def _exact(share: float) -> tuple[int, int]:
    """A fraction as two whole numbers that name it."""
    return share.as_integer_ratio() if share * 2**40 % 1 == 0 else (round(share * 2**40), 2**40)

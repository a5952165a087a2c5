"""Boolean: unite a part with others, cut them out of it, or keep what they share."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator
from scipy.sparse import csr_array

from ..construct.boolean.align import all_points, farthest, laid_into_planes, nearly_doubled, size_of
from ..construct.boolean.check import holds_what_it_should, not_closed
from ..construct.boolean.cut_names import CutPoints, name_cut
from ..construct.boolean.mean_value import in_corners
from ..construct.boolean.polygons import Keep, Pieces, pieces
from ..construct.boolean.solids import Operation, Solid, Solids, can_be_told, combine, solid
from ..construct.copies.foreign import mesh_with
from ..construct.rebuild import Rebuild, with_new
from ..construct.reverse_faces import turned_corners
from ..errors import StepError
from ..lineage.history import Renaming
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Ids
from ..mesh.topology import Ints, Topology, ranges
from ..mesh.triangulate import triangulate
from ..params import PartName
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer
from ..step.kind import Context, Picking, Remark, StepKind
from ..step.operand import Need, Operand
from ..waiting import check


class Boolean(Picking):
    kind: Literal["boolean"]
    part: PartName | None = None
    parts: Annotated[list[PartName], Field(min_length=1, max_length=100)] | None = None
    operation: Literal["unite", "subtract", "intersect"] = "unite"

    @model_validator(mode="after")
    def _one_way(self) -> Boolean:
        if (self.part is None) == (self.parts is None):
            raise ValueError("a boolean needs either part or parts")
        return self

    @property
    def named(self) -> list[str]:
        """The other parts, in their order."""
        return [self.part] if self.part is not None else list(self.parts or ())


_solids = Solids()


@dataclass(frozen=True)
class _Data:
    """Positions of the vertices on the cut, in the order they stand in the result; ``laid`` (V, 3) those of all others,
    where some were moved onto what they all but lay on, by no more than ``by``."""

    new: Floats
    laid: Floats | None = None
    by: float = 0.0


class BooleanKind(StepKind[Boolean]):
    """Both sides go through their placements. A face nothing touched keeps its id and corners; pieces of one face that stay
    connected in one plane are one face again; a face with a hole gets as few further edges as it needs."""

    word, title, model = "boolean", "Boolean", Boolean
    roles = ("kept", "cut", "cut_edge")
    reads_points = True
    proposal = (Offer("operation", "subtract"),)
    summary = ("operation", "part", "parts")

    def needs(self, p: Boolean) -> tuple[Need, ...]:
        return tuple(Need(name) for name in p.named)

    def ground(self, p: Boolean, mesh: Mesh, picked: Picked | None, context: Context) -> Mesh:
        return mesh_with(mesh, [context.operand(n).mesh for n in self.needs(p)], context.step)

    def estimate(self, p: Boolean, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return 2 * topology.face_count, "part"

    def plan(self, p: Boolean, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        others = [context.operand(n) for n in self.needs(p)]
        parameter = "parts" if p.parts else "part"
        solids = [_solids.of(_first(mesh, others), "this part")]
        for other in others:
            untouched = _solids.of(other.untouched, f"part '{other.name}'", parameter)
            solids.append(untouched.moved(other.mesh) if other.rigid else solid(other.mesh))
        check()
        return sound_result(mesh, solids, p.operation, context.step)

    def positions(self, p: Boolean, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: _Data = draft.data
        return with_new(draft, mesh if data.laid is None else mesh.with_points(data.laid), data.new)

    def remarks(self, p: Boolean, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        data: _Data = draft.data
        if not data.by:
            return ()
        return (Remark("what all but lay in faces of this part was laid into them, by no more than {length}", data.by),)


def sound_result(mesh: Mesh, solids: list[Solid], operation: Operation, step: str) -> Draft:
    """The first of a few ways whose result is closed, holds what it should, and passes nowhere through itself.

    Raises:
        StepError: nothing is left, or no way closes.
    """
    plain = combine(solids, operation)
    if not len(plain.triangles):
        raise StepError(f"nothing is left: {_why(operation)}", "operation")
    size = size_of(solids)
    laid: list[Solid] | None = None
    where: Floats | None = None
    tangled: Draft | None = None
    for way, keep in _WAYS:
        check()
        used, whole, result, by = solids, mesh, plain, 0.0
        if way == "laid":
            laid = laid_into_planes(solids)
            if laid is None:
                continue
            used, whole, by = laid, mesh.with_points(all_points(mesh, laid)), farthest(solids, laid)
            result = combine(used, operation)
            if not len(result.triangles):
                continue
        found = pieces(whole, used, result, keep)
        count = np.repeat(np.arange(len(used)), [s.mesh.topology.face_count for s in used])
        draft = _draft(whole, found, name_cut(whole, found, count), count, step)
        made = Mesh(with_new(draft, whole, draft.data.new), draft.topology)
        if by:
            draft = replace(draft, data=replace(draft.data, laid=whole.points, by=by))
        triangles, _ = triangulate(made)
        open_at = not_closed(made, triangles)
        if open_at is not None or not holds_what_it_should(made, triangles, result, plain, operation, by):
            where = where if open_at is None else open_at
            continue
        slivers = nearly_doubled(found.points, np.flatnonzero((found.vertex < 0) & found.used), size)
        if not slivers or can_be_told(made):
            return draft
        tangled = tangled or draft  # by less than anything is told apart by: what is closed is better than nothing
    if tangled is not None:
        return tangled
    at = " at {point}" if where is not None else ""
    raise StepError(f"the shapes meet in a way that leaves no closed body{at}; move or turn one of them by a hair",
                    point=where)


#: inputs as they are, or laid onto each other; and what of the pieces is kept
_WAYS: tuple[tuple[Literal["plain", "laid"], Keep], ...] = (
    ("plain", "corners"), ("laid", "corners"), ("plain", "points"), ("laid", "triangles"), ("plain", "triangles"))


def _why(operation: str) -> str:
    return "the parts have nothing in common; move one into the other" if operation == "intersect" else \
        "the other parts swallow this one; move them apart, or cut the other way round"


def _first(mesh: Mesh, others: list[Operand]) -> Mesh:
    """What of the whole was here before the others came in, as a mesh of its own."""
    t = mesh.topology
    v = t.vertex_count - sum(o.mesh.topology.vertex_count for o in others)
    f = t.face_count - sum(o.mesh.topology.face_count for o in others)
    corners = t.corners[:t.offsets[f]]
    return Mesh(mesh.points[:v], Topology.of(v, t.offsets[:f + 1], corners))


def _draft(mesh: Mesh, found: Pieces, cut: CutPoints, operand: Ints, step: str) -> Draft:
    t = mesh.topology
    build = Rebuild(mesh)
    number = found.vertex.copy()
    for g in cut.groups:
        number[g.point] = build.vertices(g.role, list(g.parents), g.index, g.source)
    source = _corners_in_result(t, found)
    at = np.full(t.corner_count, -1, np.int64)
    at[t.corners_of(found.whole)] = found.whole_corner
    build.keep(found.whole, number[at[source]], t.sides[found.whole], source)
    own = _own_corners(t, found)
    starts = np.cumsum(found.sides) - found.sides
    for role, pick in (("kept", np.flatnonzero(operand[found.face] == 0)), ("cut", np.flatnonzero(operand[found.face] > 0))):
        flat = ranges(starts[pick], found.sides[pick])
        face = found.face[pick]

        def index(other: Renaming, pick: Ints = pick, face: Ints = face) -> Ints:
            return _piece_index(found, cut.ids(mesh, step, number.size, other), pick, face)

        build.faces(role, number[found.loop[flat]], [("face", face)], index(lambda domain, ids: ids), face, own[flat],
                    sides=found.sides[pick], replaces=face, reindex=index)
    draft: Draft = build.draft(
        data=_Data(found.points[cut.order]), edges=lambda topology: _edges(topology, draft, operand),
        edge_source=lambda: old_edges(),
        vertex_source=lambda: cut.vertex_weights(t, point),
        corner_source=lambda: _corner_weights(mesh, draft, build.corner_sources, found, point),
        tagged={("face", "cut"): np.flatnonzero(operand[found.whole] > 0)})
    point = np.full(draft.topology.vertex_count, -1, np.int64)
    there = found.used
    point[build.number[number[there]]] = np.flatnonzero(there)

    def old_edges() -> Ints:
        return cut.old_edges(t, draft.topology, point)

    def halves() -> tuple[Ints, Ints]:
        old = old_edges()
        pairs = draft.kept_vertices[draft.topology.edges]
        which = np.flatnonzero((old >= 0) & (pairs < 0).any(axis=1))
        return t.edges[old[which]], draft.topology.edges[which]

    return replace(draft, replaced_edges=halves)


def _corners_in_result(t: Topology, found: Pieces) -> Ints:
    """Corners of whole faces in the order the result runs them: backwards where a face is turned."""
    if not found.whole.size:
        return np.zeros(0, np.int64)
    turned = np.repeat(found.turned, t.sides[found.whole])
    return np.where(turned, turned_corners(t, found.whole), t.corners_of(found.whole))


def _own_corners(t: Topology, found: Pieces) -> Ints:
    """Corner of its own face that each corner of the pieces is, −1 where it lies elsewhere in the face."""
    face = np.repeat(found.face, found.sides)
    vertex = found.vertex[found.loop]
    key = t.corner_face * (t.vertex_count + 1) + t.corners
    order = np.argsort(key, kind="stable")
    wanted = face * (t.vertex_count + 1) + vertex
    place = np.minimum(np.searchsorted(key[order], wanted), max(key.size - 1, 0))
    return np.where((vertex >= 0) & (key[order][place] == wanted), order[place], -1)


def _piece_index(found: Pieces, ids: Ids, pick: Ints, face: Ints) -> Ints:
    """(n, 2) lowest id among the new corners of pieces, and their rank among those of one face where that is the same."""
    if not pick.size:
        return np.zeros((0, 2), np.int64)
    starts = np.cumsum(found.sides) - found.sides
    lowest = np.minimum.reduceat(ids[found.loop], starts)[pick].view(np.int64)
    order = np.lexsort((lowest, face))
    new = np.ones(order.size, bool)
    new[1:] = (face[order][1:] != face[order][:-1]) | (lowest[order][1:] != lowest[order][:-1])
    rank = np.empty(order.size, np.int64)
    rank[order] = np.arange(order.size) - np.maximum.accumulate(np.where(new, np.arange(order.size), 0))
    return np.stack([lowest, rank], axis=1)


def _corner_weights(mesh: Mesh, draft: Draft, source: Ints, found: Pieces, point: Ints) -> csr_array:
    """(C', C) old corners themselves, and points elsewhere in a face as weights over its corners."""
    inside = np.flatnonzero(source < 0)
    face = draft.face_source[draft.topology.corner_face[inside]]
    weights = in_corners(mesh, face, found.points[point[draft.topology.corners[inside]]]).tocoo()
    same = np.flatnonzero(source >= 0)
    row = np.concatenate([same, inside[weights.coords[0]]])
    column = np.concatenate([source[same], weights.coords[1]])
    value = np.concatenate([np.ones(same.size), weights.data])
    return csr_array((value, (row, column)), shape=(source.size, mesh.topology.corner_count))


def _edges(topology: Topology, draft: Draft, operand: Ints) -> dict[str, Ints]:
    """Edges where faces of different parts meet, and all others with a new vertex."""
    order, starts = topology.edge_corners
    face = operand[draft.face_source[topology.corner_face[order]]]
    low, high = np.minimum.reduceat(face, starts[:-1]), np.maximum.reduceat(face, starts[:-1])
    meets = low != high
    new = (draft.kept_vertices < 0)[topology.edges].any(axis=1)
    return {"cut_edge": topology.edges[meets], "": topology.edges[new & ~meets]}

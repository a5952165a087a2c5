"""Shell: give a surface thickness."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import AfterValidator

from ..construct.rebuild import Rebuild, none, with_new
from ..construct.regions.raised import limited_to_edges
from ..construct.reverse_faces import turned_corners
from ..errors import BadParameter
from ..mesh.geometry import lengths, shortest_offsets, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Bools, Ints, Topology
from ..params import Flag, Length
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer
from ..step.kind import Context, Remark, Step, StepKind


def _not_zero(value: float) -> float:
    if value == 0:
        raise ValueError("a shell needs a thickness: positive outward, negative inward")
    return value


class Shell(Step):
    kind: Literal["shell"]
    thickness: Annotated[Length, AfterValidator(_not_zero)]
    rim: Flag = True


class ShellKind(StepKind[Shell]):
    """A second layer ``thickness`` away, outward where positive; the layer there was keeps its ids, and ``rim`` closes its
    borders. A closed surface becomes two shells."""

    word, title, model, live = "shell", "Shell", Shell, True
    roles = ("outer", "inner", "rim")
    numbers = frozenset({"thickness"})
    proposal = (Offer("thickness", of_size=-0.04),)

    def depends_on(self, p: Shell, context: Context) -> bool:
        return p.thickness > 0

    def estimate(self, p: Shell, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return 2 * topology.face_count + topology.corner_count, "thickness"

    def plan(self, p: Shell, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        t = mesh.topology
        outward = p.thickness > 0
        faces = np.arange(t.face_count)
        source = np.unique(t.corners)
        build = Rebuild(mesh)
        plain, turned = np.arange(t.corner_count), turned_corners(t, faces)
        old, new = (turned, plain) if outward else (plain, turned)
        build.keep(faces, t.corners[old], t.sides, old)
        roles = ("outer", "inner") if outward else ("inner", "outer")
        copy = np.full(t.vertex_count, -1, np.int64)
        copy[source] = build.vertices(roles[0], [("vertex", source)], none(source.size), source)
        build.faces(roles[0], copy[t.corners[new]], [("face", faces)], none(faces.size), faces, new, sides=t.sides)
        if p.rim:
            c = np.flatnonzero(t.border_edges[t.corner_edge])
            d = t.next_corner[c]
            a, b = t.corners[c], t.corners[d]
            near = np.stack([copy[b], copy[a], a, b], axis=1) if outward else np.stack([b, a, copy[a], copy[b]], axis=1)
            build.faces("rim", near, [("vertex", np.minimum(a, b)), ("vertex", np.maximum(a, b))], none(c.size),
                        t.corner_face[c], np.stack([d, c, c, d], axis=1))
        return build.draft(data=source, tagged={("face", roles[1]): faces})

    def positions(self, p: Shell, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        t, source = mesh.topology, draft.data
        group = np.searchsorted(source, t.corners)
        offset = shortest_offsets(group, mesh.normals[t.corner_face], source.size, p.thickness)
        limited_to_edges(offset, p.thickness, "thickness", mesh, group)
        if _turned_over(mesh, source, offset).all():
            raise BadParameter("the part is thinner than that, and the new layer would come out inside out on its other "
                               "side; a thickness of {most} works", "thickness", _widest(mesh, group, offset, p.thickness))
        return with_new(draft, mesh, mesh.points[source] + offset)

    def remarks(self, p: Shell, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        source = draft.data
        offset = made.points[-source.size:] - mesh.points[source]
        over = _turned_over(mesh, source, offset)
        if not over.any():
            return ()
        group = np.searchsorted(source, mesh.topology.corners)
        at = mesh.face_centres[int(np.flatnonzero(over)[0])]
        return (Remark(f"{int(over.sum())} faces of the new layer turn over, at {{point}} for one; with {{most}} none does",
                       _widest(mesh, group, offset, p.thickness), tuple(at.tolist())),)


def _turned_over(mesh: Mesh, source: Ints, offset: Floats) -> Bools:
    """(F,) faces that look the other way once their corners are moved, or all of whose edges run the other way."""
    t = mesh.topology
    moved = mesh.points.copy()
    moved[source] += offset
    ways = [p[t.corners[t.next_corner]] - p[t.corners] for p in (mesh.points, moved)]
    back = np.einsum("ij,ij->i", *ways) < 0
    out: Bools = np.einsum("ij,ij->i", mesh.with_points(moved).area_vectors, mesh.area_vectors) < 0
    return out | np.logical_and.reduceat(back, t.offsets[:-1])


def _widest(mesh: Mesh, group: Ints, offset: Floats, thickness: float) -> float:
    """The largest thickness at which no edge of the new layer is more than used up."""
    t = mesh.topology
    span = mesh.points[t.corners[t.next_corner]] - mesh.points[t.corners]
    shrink = -np.einsum("ij,ij->i", offset[group[t.next_corner]] - offset[group], unit(span))
    uses = shrink > 1e-12
    most = float((lengths(span)[uses] / shrink[uses]).min()) if uses.any() else 1.0
    return thickness * min(most, 1.0)

"""Mesh: what a model file holds."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np
import scipy

from ..construct.pair_triangles import pair_triangles
from ..errors import StepError
from ..files.model import Model, Standing
from ..files.reading.polygons import places_on, sound
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology, components
from ..mesh.uv import UV, uv_attribute, uvs
from ..params import FileName, Flag, Name, NonNegativeLength
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Step, StepKind
from ..units import METRES, Unit
from .common import form_draft


class MeshFile(Step):
    kind: Literal["mesh"]
    file: FileName
    unit: Unit = "m"
    up: Literal["y", "z"] = "y"
    weld: NonNegativeLength = 0.0
    quads: Flag = False
    object: Name | None = None


class MeshKind(StepKind[MeshFile]):
    """The faces of a model file, of its one ``object`` or of all. Its lengths are in ``unit``, and ``up`` is its axis that
    points up. Points nearer to each other than ``weld`` become one; ``quads`` pairs triangles whose common edge is flat
    within 1°. An object comes about its own origin; the whole file comes as it stands."""

    word, title, model, form = "mesh", "Mesh from file", MeshFile, True
    roles = ("face",)
    summary = ("object", "unit")

    def plan(self, p: MeshFile, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        read = in_metres(self._whole(p, context.file(p.file)), p.unit, p.up)
        return drafted(read, p.weld, p.quads)

    def positions(self, p: MeshFile, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        points: Floats = draft.data
        return points

    @staticmethod
    def _whole(p: MeshFile, model: Model) -> Mesh:
        if p.object is None:
            return meshes_as_one([m for _, m in model.placed()])
        found = object_of(model, p.object)
        if found is None:
            names = [s.node.name for s in model.walk() if s.node.shape is not None]
            told = ", ".join(f"'{n}'" for n in names[:20]) + (" …" if len(names) > 20 else "")
            raise StepError(f"the file has no object '{p.object}'; it has {told or 'none'}", "object")
        assert found.node.shape is not None
        return found.node.shape.mesh


def object_of(model: Model, name: str) -> Standing | None:
    """The node of a name that shows something."""
    return next((s for s in model.walk() if s.node.name == name and s.node.shape is not None), None)


def meshes_as_one(meshes: list[Mesh]) -> Mesh:
    """Several meshes as one, side by side.

    Raises:
        StepError: there is none.
    """
    if len(meshes) == 1:
        return meshes[0]
    if not meshes:
        raise StepError("the file holds no faces", "file")
    first = np.cumsum([0, *(m.topology.vertex_count for m in meshes)])
    start = np.cumsum([0, *(m.topology.corner_count for m in meshes)])
    offsets = np.concatenate([[0], *(m.topology.offsets[1:] + s for m, s in zip(meshes, start))])
    corners = np.concatenate([m.topology.corners + f for m, f in zip(meshes, first)])
    topology = Topology.of(int(first[-1]), offsets, corners)
    attributes = {}
    if any(uvs(m) is not None for m in meshes):
        told = (uvs(m) for m in meshes)
        attributes[UV] = uv_attribute(np.concatenate([
            np.full((m.topology.corner_count, 2), np.nan) if uv is None else uv for m, uv in zip(meshes, told)]))
    return Mesh(np.concatenate([m.points for m in meshes]), topology, attributes=attributes)


def in_metres(mesh: Mesh, unit: Unit, up: Literal["y", "z"]) -> Mesh:
    """The mesh in metres, Y up; a file's z becomes y, and its y goes away from the viewer of the front view."""
    points = mesh.points * METRES[unit] if unit != "m" else mesh.points
    if up == "z":
        points = np.stack([points[:, 0], points[:, 2], -points[:, 1] + 0.0], axis=1)
    return mesh if points is mesh.points else mesh.with_points(points)


def drafted(mesh: Mesh, weld: float, quads: bool) -> Draft:
    """The draft of a file's faces, points welded and triangles paired; its ``data`` are the points.

    A vertex is named by the first of the file's points it stands for, a face by the first of the file's faces.
    """
    t = mesh.topology
    points, topology = mesh.points, t
    label = np.arange(t.vertex_count)
    vertex, face = np.arange(t.vertex_count), np.arange(t.face_count)
    if weld > 0 and t.vertex_count > 1:
        points, topology, vertex, face, label = welded(mesh, weld)
    if quads:
        offsets, corners, kept = pair_triangles(Mesh(points, topology))
        topology, face = Topology.of(topology.vertex_count, offsets, corners), face[kept]
    draft = form_draft(topology, [("", vertex[:, None])], [("face", face[:, None])], points)
    gone = t.face_count - topology.face_count
    note = () if not gone or quads else (f"{gone} {'face' if gone == 1 else 'faces'} collapsed",)
    uv = uvs(mesh)
    if uv is None:
        return replace(draft, notes=note)
    now = topology.corners
    place = places_on(label[t.corners], label[t.corners[t.next_corner]], uv, now, now[topology.next_corner])
    return replace(draft, notes=note, attributes=dict(draft.attributes) | {UV: uv_attribute(place)})


def welded(mesh: Mesh, distance: float) -> tuple[Floats, Topology, Ints, Ints, Ints]:
    """Points strictly nearer than ``distance`` made one, at their mean; faces left with fewer than three corners, or that
    would visit a vertex twice, go.

    Returns:
        points (V', 3), faces, the old vertex and face each new one is named after, and (V,) the new vertex each old one
        became, −1 for none.
    """
    t = mesh.topology
    pairs = scipy.spatial.cKDTree(mesh.points).query_pairs(np.nextafter(distance, 0.0), output_type="ndarray")
    if not len(pairs):
        return mesh.points, t, np.arange(t.vertex_count), np.arange(t.face_count), np.arange(t.vertex_count)
    label = components(t.vertex_count, pairs[:, 0], pairs[:, 1])
    count = np.bincount(label)
    points = np.stack([np.bincount(label, mesh.points[:, k]) for k in range(3)], axis=1) / count[:, None]
    first = np.full(count.size, t.vertex_count, np.int64)
    np.minimum.at(first, label, np.arange(t.vertex_count))
    points[count == 1] = mesh.points[first[count == 1]]
    offsets, corners, faces = sound(t.offsets, label[t.corners])
    used = np.zeros(count.size, bool)
    used[corners] = True
    number = np.cumsum(used) - 1
    became = np.where(used, number, -1)[label]
    return points[used], Topology.of(int(used.sum()), offsets, number[corners]), first[used], faces, became

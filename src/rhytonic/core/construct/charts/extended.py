"""Projections of world size, kept up where steps after them make faces or change their shape."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ...mesh.attributes import Attribute
from ...mesh.geometry import Floats, lengths
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools, Ints
from ...mesh.uv import COPY, UV, WORLD, uv_attribute, uvs
from ...step.draft import Draft
from .projected import Projection, laid_by

#: face attribute: which patterns read right on an image, 0 for none
READABLE = "readable"
#: relative change of an edge's length from which a face counts as changed
_CHANGED = 1e-9


@dataclass(frozen=True)
class InWorldSize:
    """A projection, and the metres that one texture square is long."""

    projection: Projection
    size: float


def world_attribute(mesh: Mesh, faces: Ints, by: InWorldSize | None) -> Attribute:
    """The face attribute that says by which projection faces are laid out, with ``faces`` (n,) by another, or by none."""
    before = mesh.attributes.get(WORLD)
    values = np.zeros(mesh.topology.face_count, np.int64) if before is None else before.values.copy()
    about = () if before is None else before.about
    values[faces] = 0 if by is None else len(about) + 1
    return Attribute("face", values, about=about if by is None else (*about, by))


def extended(draft: Draft, above: Mesh, made: Mesh) -> Mesh:
    """``made`` with the faces laid out anew whose projection of world size is known and that are new, or whose shape the
    step has changed: a wall pulled longer shows more bricks."""
    world, uv = made.attributes.get(WORLD), uvs(made)
    if world is None or uv is None or not any(isinstance(a, InWorldSize) for a in world.about):
        return made
    again = (world.values > 0) & ((draft.kept_faces < 0) | _reshaped(draft, above, made))
    out = uv.copy()
    for number, by in enumerate(world.about, 1):
        faces = np.flatnonzero(again & (world.values == number))
        if isinstance(by, InWorldSize) and faces.size:
            flat, _ = laid_by(by.projection, made, faces)
            out[made.topology.corners_of(faces)] = flat / by.size
    return replace(made, attributes=dict(made.attributes) | {UV: uv_attribute(out)})


def sharing(draft: Draft, made: Mesh) -> Mesh:
    """``made`` with its new faces told to be copies, where faces are laid out."""
    if uvs(made) is None:
        return made
    before = made.attributes.get(COPY)
    copies = np.zeros(made.topology.face_count, np.int64) if before is None else before.values
    told = Attribute("face", np.where(draft.kept_faces < 0, 1, copies))
    return replace(made, attributes=dict(made.attributes) | {COPY: told})


def all_shared(mesh: Mesh) -> Mesh:
    """The image of a whole part: all its faces share the places of those they are images of."""
    if uvs(mesh) is None:
        return mesh
    told = Attribute("face", np.ones(mesh.topology.face_count, np.int64))
    return replace(mesh, attributes=dict(mesh.attributes) | {COPY: told})


def readable_images(mesh: Mesh, called: frozenset[str]) -> Bools:
    """(F,) images on which a pattern or picture, by whatever it is called, is turned over so that it reads right."""
    held = mesh.attributes.get(READABLE)
    out = np.zeros(mesh.topology.face_count, bool)
    if held is None:
        return out
    for number, names in enumerate(held.about, 1):
        if names is not None and called & set(names):
            out |= held.values == number
    return out


def with_readable(draft: Draft, made: Mesh, names: tuple[str, ...]) -> dict[str, Attribute]:
    """The attribute that says on which faces, those that a step has made, ``names`` are to read right."""
    before = made.attributes.get(READABLE)
    about = () if before is None else before.about
    values = np.zeros(made.topology.face_count, np.int64) if before is None else before.values.copy()
    values[draft.kept_faces < 0] = len(about) + 1
    return {READABLE: Attribute("face", values, about=(*about, names))}


def _sides(mesh: Mesh, corners: Ints) -> Floats:
    t = mesh.topology
    return lengths(mesh.points[t.corners[t.next_corner[corners]]] - mesh.points[t.corners[corners]])


def _reshaped(draft: Draft, above: Mesh, made: Mesh) -> Bools:
    """(F',) faces that stay themselves with sides of other lengths, or with more of them."""
    t, old = made.topology, above.topology
    kept = draft.kept_faces
    same = np.flatnonzero(kept >= 0)
    out = np.zeros(t.face_count, bool)
    differ = t.sides[same] != old.sides[kept[same]]
    out[same[differ]] = True
    same = same[~differ]
    now, was = t.corners_of(same), old.corners_of(kept[same])
    long, before = _sides(made, now), _sides(above, was)
    out[t.corner_face[now[np.abs(long - before) > _CHANGED * np.maximum(long, before)]]] = True
    return out

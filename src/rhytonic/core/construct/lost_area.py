"""Faces without area, told with the step that left them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..mesh.measure import faces_without_area
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from ..step.draft import Draft
from ..step.kind import Remark


def lost_area(draft: Draft, mesh: Mesh, made: Mesh, remembered: dict[Any, Any]) -> tuple[Remark, ...]:
    """What there is to say of faces of the result that have no area and had one, or were not there. What depends on the
    draft alone is ``remembered`` beside it, so that a scrub does not ask again."""
    if not made.topology.face_count:
        return ()
    known = remembered.get("touched")
    if known is None:
        known = remembered["touched"] = _Touched.of(draft, mesh, made)
    empty = faces_without_area(made, known.faces(mesh, made))
    if not empty.size:
        return ()
    was_empty = np.zeros(mesh.topology.face_count + 1, bool)  # the last stands for "none"
    was_empty[faces_without_area(mesh)] = True
    lost = empty[~was_empty[draft.kept_faces[empty]]]
    if not lost.size:
        return ()
    point = tuple(made.face_centres[lost[0]].tolist())
    many = f"{lost.size} faces are" if lost.size > 1 else "1 face is"
    return (Remark(f"{many} left without area, at {{point}}; pick, place or number something else", 0.0, point),)


@dataclass(frozen=True)
class _Touched:
    """Faces of a result that are not what they were: new ones and of other corners, to which come those whose corners moved.

    Attributes:
        always: (n,) the former.
        stays: the vertices that stay themselves, and what they were: slices where nothing came between them.
    """

    always: Ints
    stays: tuple[Any, Any]

    @classmethod
    def of(cls, draft: Draft, mesh: Mesh, made: Mesh) -> _Touched:
        t, old = made.topology, mesh.topology
        new = draft.kept_vertices < 0
        out = np.logical_or.reduceat(new[t.corners], t.offsets[:-1]) | (draft.kept_faces < 0)
        kept = np.flatnonzero(draft.kept_faces >= 0)
        out[kept] |= np.diff(t.offsets)[kept] != np.diff(old.offsets)[draft.kept_faces[kept]]
        stays = np.flatnonzero(~new)
        was = draft.kept_vertices[stays]
        first = slice(0, stays.size)
        plain = np.array_equal(stays, np.arange(stays.size)) and np.array_equal(was, stays)
        return cls(np.flatnonzero(out), (first, first) if plain else (stays, was))

    def faces(self, mesh: Mesh, made: Mesh) -> Ints:
        stays, was = self.stays
        moved = made.points[stays] != mesh.points[was]
        if not moved.any():
            return self.always
        t = made.topology
        which = np.zeros(t.vertex_count, bool)
        which[stays] = moved.any(axis=1)
        return np.union1d(self.always, np.flatnonzero(np.logical_or.reduceat(which[t.corners], t.offsets[:-1])))

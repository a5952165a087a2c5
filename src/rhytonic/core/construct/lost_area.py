"""Faces without area, told with the step that left them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..compiled import BOOLS, INTS, NEW_INTS, compiled
from ..mesh.measure import faces_without_area
from ..mesh.mesh import Mesh
from ..mesh.topology import Bools, Ints
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
        t = made.topology
        out = _other(t.offsets, t.corners, mesh.topology.offsets, draft.kept_vertices, draft.kept_faces)
        stays = np.flatnonzero(draft.kept_vertices >= 0)
        was = draft.kept_vertices[stays]
        first = slice(0, stays.size)
        plain = np.array_equal(stays, np.arange(stays.size)) and np.array_equal(was, stays)
        return cls(out, (first, first) if plain else (stays, was))

    def faces(self, mesh: Mesh, made: Mesh) -> Ints:
        stays, was = self.stays
        moved = made.points[stays] != mesh.points[was]
        if not moved.any():
            return self.always
        t = made.topology
        which = np.zeros(t.vertex_count, bool)
        which[stays] = moved.any(axis=1)
        return np.union1d(self.always, _at_any(t.offsets, t.corners, which))


@compiled(NEW_INTS, INTS, INTS, INTS, INTS, INTS)
def _other(offsets: Ints, corners: Ints, before: Ints, kept_vertices: Ints, kept_faces: Ints) -> Ints:
    """Faces that are new, have a new corner, or another number of corners than they had ``before``."""
    out = np.empty(len(kept_faces), np.int64)
    n = 0
    for f in range(len(kept_faces)):
        low, high, was = offsets[f], offsets[f + 1], kept_faces[f]
        other = was < 0 or high - low != before[was + 1] - before[was]
        for c in range(low, high):
            other = other or kept_vertices[corners[c]] < 0
        if other:
            out[n] = f
            n += 1
    return out[:n].copy()


@compiled(NEW_INTS, INTS, INTS, BOOLS)
def _at_any(offsets: Ints, corners: Ints, which: Bools) -> Ints:
    """Faces with a corner at one of these vertices."""
    out = np.empty(len(offsets) - 1, np.int64)
    n = 0
    for f in range(len(offsets) - 1):
        for c in range(offsets[f], offsets[f + 1]):
            if which[corners[c]]:
                out[n] = f
                n += 1
                break
    return out[:n].copy()

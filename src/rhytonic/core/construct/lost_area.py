"""Faces without area, told with the step that left them."""

from __future__ import annotations

import numpy as np

from ..mesh.measure import faces_without_area
from ..mesh.mesh import Mesh
from ..step.draft import Draft
from ..step.kind import Remark


def lost_area(draft: Draft, mesh: Mesh, made: Mesh) -> tuple[Remark, ...]:
    """What there is to say of faces of the result that have no area and had one, or were not there."""
    empty = faces_without_area(made)
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

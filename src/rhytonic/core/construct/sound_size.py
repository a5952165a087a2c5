"""The largest size at which the faces an edit makes do not pass through each other."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..errors import StepError
from ..mesh.crossing import crossing_faces
from ..mesh.geometry import Floats
from ..mesh.measure import faces_without_area
from ..mesh.mesh import Mesh
from ..mesh.patch import faces_at, patch_of
from ..mesh.topology import Bools, Ints, Topology
from ..waiting import check
from .bevel_layout import Layout

#: more faces than this are not looked through: the look would take longer than the edit
MOST_FACES = 6_000
_HALVINGS = 7
_REFINEMENTS = 5


def crossing(t: Topology, points: Floats, faces: Ints) -> Ints:
    """Those of the faces that pass through each other or have no area; none are looked for among too many."""
    if not faces.size or faces.size > MOST_FACES:
        return faces[:0]
    patch = patch_of(t, faces)
    mesh = Mesh(points[patch.vertices], patch.topology)
    lost = faces_without_area(mesh)
    out: Ints = faces[lost if lost.size else crossing_faces(mesh)]
    return out


def crosses(t: Topology, points: Floats, faces: Ints) -> bool:
    """Whether some of the faces pass through each other."""
    return bool(crossing(t, points, faces).size)


def refuse_crossing(t: Topology, points: Floats, faces: Ints, mesh: Mesh, otherwise: str = "") -> None:
    """Say where faces pass through each other whatever the size; unless some of the mesh above did so before.

    Raises:
        StepError: they do.
    """
    found = crossing(t, points, faces)
    if not found.size or crosses(mesh.topology, mesh.points, np.arange(mesh.topology.face_count)):
        return
    place = points[t.corners[t.corners_of(found[:1])]].mean(axis=0)
    raise StepError(f"faces would pass through each other at {{point}}, however small it is; leave out the edges "
                    f"there{otherwise}", "pick", point=place)


def doubtful(layout: Layout, mesh: Mesh) -> bool:
    """Whether a layout has corners where faces may come to pass through each other: hollow edges, lone ends, vertices."""
    crossing = layout.arc_leg[layout.arc_leg >= 0]
    if len(layout.ends) or crossing.size < layout.arc_leg.size:
        return True
    t = mesh.topology
    order, starts = t.edge_corners
    edge = crossing // 2
    one, two = order[starts[edge]], order[starts[edge] + 1]
    beyond = mesh.points[t.corners[t.previous_corner[two]]] - mesh.points[t.corners[two]]
    return bool((np.einsum("ij,ij->i", beyond, mesh.normals[t.corner_face[one]]) > 1e-9).any())


def watched(t: Topology, new_vertices: Bools, above: Mesh) -> Ints:
    """Faces of a result that may come to pass through each other: all of few where no two of the mesh above did, else those
    with a new vertex and those beside them."""
    if t.face_count <= MOST_FACES and not crosses(above.topology, above.points, np.arange(above.topology.face_count)):
        return np.arange(t.face_count)
    near = np.zeros(t.vertex_count, bool)
    near[t.corners[t.corners_of(faces_at(t, new_vertices))]] = True
    return faces_at(t, near)


def largest_sound(is_sound: Callable[[float], bool]) -> float:
    """The largest share of a size, found by halving, at which it is sound; 1 where it is sound as it is, 0 where at none."""
    if is_sound(1.0):
        return 1.0
    bad, share = 1.0, 0.5
    for _ in range(_HALVINGS):
        check()
        if is_sound(share):
            break
        bad, share = share, share / 2
    else:
        return 0.0
    for _ in range(_REFINEMENTS):
        check()
        middle = (share + bad) / 2
        if is_sound(middle):
            share = middle
        else:
            bad = middle
    return share

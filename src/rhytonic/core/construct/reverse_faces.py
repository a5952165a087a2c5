"""Faces run the other way."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.topology import Ints, Topology


def turned_corners(t: Topology, faces: Ints) -> Ints:
    """(C,) corners of faces, each face run backwards from its first corner."""
    corner = t.corners_of(faces)
    first, sides = np.repeat(t.offsets[faces], t.sides[faces]), np.repeat(t.sides[faces], t.sides[faces])
    out: Ints = first + (first - corner) % sides
    return out


def mirror_image(mesh: Mesh, axis: int) -> Mesh:
    """The mesh seen in the plane across an axis through its origin, its faces turned right side out; ids stay."""
    t = mesh.topology
    source = turned_corners(t, np.arange(t.face_count))
    points = mesh.points.copy()
    points[:, axis] = -points[:, axis]
    topology = Topology.of(t.vertex_count, t.offsets, t.corners[source])
    attributes = {key: replace(a, values=a.values[source]) if a.domain == "corner" else a
                  for key, a in mesh.attributes.items()}
    return Mesh(points, topology, mesh.names, attributes)

"""A part of a mesh's connectivity as a connectivity of its own, for work that concerns few of its faces."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .topology import Bools, Ints, Topology


@dataclass(frozen=True)
class TopologyPatch:
    """Some faces, numbered anew in their order; vertices and edges keep their order too.

    Attributes:
        topology: the faces alone.
        faces, corners, vertices: number in the whole of each of the patch's.
        whole: what it is a part of.
    """

    topology: Topology
    faces: Ints
    corners: Ints
    vertices: Ints
    whole: Topology

    @cached_property
    def edges(self) -> Ints:
        """(E',) number in the whole of each edge of the patch."""
        out = np.empty(self.topology.edge_count, np.int64)
        out[self.topology.corner_edge] = self.whole.corner_edge[self.corners]
        return out


def patch_of(t: Topology, faces: Ints) -> TopologyPatch:
    """The patch of the given faces, ascending."""
    corners = t.corners_of(faces)
    used = np.zeros(t.vertex_count, bool)
    used[t.corners[corners]] = True
    vertices = np.flatnonzero(used)
    number = np.cumsum(used) - 1
    offsets = np.concatenate([[0], np.cumsum(t.sides[faces])])
    return TopologyPatch(Topology(vertices.size, offsets, number[t.corners[corners]]), faces, corners, vertices, t)


def faces_at(t: Topology, vertices: Bools) -> Ints:
    """Faces with a corner at one of the given vertices (a mask), ascending."""
    hit = np.zeros(t.face_count, bool)
    hit[t.corner_face[vertices[t.corners]]] = True
    return np.flatnonzero(hit)

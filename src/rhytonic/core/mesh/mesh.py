"""The mesh: an immutable value of points, connectivity, ids and attributes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from . import geometry
from .attributes import Attribute
from .names import NONE, Names
from .topology import Topology

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Mesh:
    """Polygons of any size; a quad stays a quad.

    Attributes:
        points: (V, 3) float64, metres, Y up, right-handed.
        topology: the faces and what follows from them.
        names: stable ids of vertices and faces.
        attributes: named arrays on any domain.
    """

    points: Floats
    topology: Topology
    names: Names = NONE
    attributes: Mapping[str, Attribute] = field(default_factory=lambda: MappingProxyType({}))

    def __post_init__(self) -> None:
        self.points.flags.writeable = False

    def with_points(self, points: Floats) -> Mesh:
        """The same mesh with other positions; connectivity and ids are shared."""
        return replace(self, points=points)

    @cached_property
    def bounds(self) -> tuple[Floats, Floats]:
        """(3,) lowest and highest coordinates; zeros where there are no points."""
        if not len(self.points):
            return np.zeros(3), np.zeros(3)
        low: Floats = self.points.min(axis=0)
        high: Floats = self.points.max(axis=0)
        return low, high

    @cached_property
    def area_vectors(self) -> Floats:
        """(F, 3) normal of each face times its area."""
        return geometry.area_vectors(self.points, self.topology)

    @cached_property
    def normals(self) -> Floats:
        """(F, 3) unit normals; zero for a face without area."""
        return geometry.unit(self.area_vectors)

    @cached_property
    def face_centres(self) -> Floats:
        """(F, 3) mean of each face's corners."""
        return geometry.face_centres(self.points, self.topology)

    @cached_property
    def edge_centres(self) -> Floats:
        """(E, 3) middles of the edges."""
        ends = self.points[self.topology.edges]
        centres: Floats = (ends[:, 0] + ends[:, 1]) / 2
        return centres


#: a mesh of nothing
EMPTY = Mesh(np.zeros((0, 3)), Topology.of(0, np.zeros(1, np.int64), np.zeros(0, np.int64)))

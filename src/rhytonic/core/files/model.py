"""What a file holds: a tree of named nodes with their places, and the meshes they show."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from ..mesh.mesh import Floats, Mesh
from ..waiting import check


@dataclass(frozen=True, eq=False)
class Move:
    """A scale along the axes, then a turn, then a move: what every format that has nodes can say.

    Attributes:
        shift: (3,) metres.
        turn: (3, 3) rotation.
        scale: (3,) factors; an odd number of negative ones mirrors.
    """

    shift: Floats = field(default_factory=lambda: np.zeros(3))
    turn: Floats = field(default_factory=lambda: np.eye(3))
    scale: Floats = field(default_factory=lambda: np.ones(3))

    @property
    def linear(self) -> Floats:
        """(3, 3) the turn after the scale."""
        out: Floats = self.turn * self.scale
        return out

    @property
    def is_identity(self) -> bool:
        """Whether it moves nothing."""
        return not self.shift.any() and bool((self.turn == np.eye(3)).all() and (self.scale == 1.0).all())

    @property
    def quaternion(self) -> Floats:
        """(4,) the turn as x, y, z, w, w not negative (K. Shoemake, SIGGRAPH 1985)."""
        from scipy.spatial.transform import Rotation  # slow to load, and only files with nodes ask
        q: Floats = Rotation.from_matrix(self.turn).as_quat(canonical=True)
        return q

    def matrix(self) -> Floats:
        """(4, 4) for column vectors."""
        out = np.eye(4)
        out[:3, :3], out[:3, 3] = self.linear, self.shift
        return out


@dataclass(frozen=True, eq=False)
class Shape:
    """A mesh that one or several nodes show, in the nodes' own axes. Nodes that share a shape hold the same object."""

    name: str
    mesh: Mesh


@dataclass(frozen=True, eq=False)
class Node:
    """One thing of a model.

    Attributes:
        move: from its own axes to those of the node it is in.
        shape: what it shows.
        placed: the same mesh where it stands in the whole, faces right side out, to the last bit; None in files read.
        inner: whether it only holds the shape of the node it is in, and goes by that one's name.
        about: what else there is to tell of it, as plain JSON values.
    """

    name: str
    move: Move = field(default_factory=Move)
    shape: Shape | None = None
    placed: Mesh | None = None
    children: tuple[Node, ...] = ()
    inner: bool = False
    about: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class Standing:
    """A node and the way to it.

    Attributes:
        path: names of the nodes it is in, outermost first.
        matrix: (4, 4) from its own axes to the whole's.
    """

    node: Node
    path: tuple[str, ...]
    matrix: Floats

    def mesh(self) -> Mesh | None:
        """What the node shows where it stands in the whole, right side out even through a mirror."""
        if self.node.placed is not None or self.node.shape is None:
            return self.node.placed
        mesh = self.node.shape.mesh
        points = mesh.points @ self.matrix[:3, :3].T + self.matrix[:3, 3]
        if np.linalg.det(self.matrix[:3, :3]) < 0:
            t = mesh.topology
            back = t.offsets[t.corner_face] + t.offsets[t.corner_face + 1] - 1 - np.arange(t.corner_count)
            return replace(mesh, points=points, topology=type(t).of(t.vertex_count, t.offsets, t.corners[back]),
                           attributes={k: replace(a, values=a.values[back]) if a.domain == "corner" else a
                                       for k, a in mesh.attributes.items()})
        return mesh.with_points(points)


@dataclass(frozen=True, eq=False)
class Model:
    """Everything of one file, in metres, Y up."""

    nodes: tuple[Node, ...] = ()

    def walk(self) -> Iterator[Standing]:
        """Every node, those above before those in them. Raises Cancelled once nobody waits for them."""
        def below(nodes: tuple[Node, ...], path: tuple[str, ...], matrix: Floats) -> Iterator[Standing]:
            for node in nodes:
                check()
                own = matrix @ node.move.matrix()
                yield Standing(node, path, own)
                yield from below(node.children, (*path, node.name), own)

        yield from below(self.nodes, (), np.eye(4))

    def placed(self) -> list[tuple[tuple[str, ...], Mesh]]:
        """Every mesh where it stands, with the names that lead to it, its own last."""
        found = ((s.path if s.node.inner else (*s.path, s.node.name), s.mesh()) for s in self.walk())
        return [(path, mesh) for path, mesh in found if mesh is not None]

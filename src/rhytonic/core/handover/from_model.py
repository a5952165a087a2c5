"""A model file as parts and groups of a build: what its nodes are, where they stand, which share a shape."""

from __future__ import annotations

import warnings
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
import scipy

from ..construct.pair_triangles import pair_triangles
from ..files.limits import BadModel
from ..files.model import Model, Move, Node, Shape
from ..forms.mesh_file import meshes_as_one
from ..mesh.mesh import Floats
from ..units import METRES, Unit

Up = Literal["y", "z"]
#: points nearer than this share of the whole size count as doubled
DOUBLED = 1e-5


@dataclass(frozen=True)
class Guess:
    """What a file's lengths and axes most likely mean, for the person to correct.

    Attributes:
        low, high: (3,) bounds in the file's own numbers.
        doubled: points that stand where another stands already.
        pairs: quads that pairing flat triangles would give.
    """

    unit: Unit
    up: Up
    low: Floats
    high: Floats
    vertices: int
    faces: int
    doubled: int
    pairs: int


def guess(model: Model, format: str) -> Guess:
    """Unit and up axis by the format's own rules where it has some (glTF: metres, Y up), else by size and by which side
    lies flat on zero: common practice, no source. Raises BadModel where there is nothing to see."""
    meshes = [m for _, m in model.placed()]
    if not sum(m.topology.face_count for m in meshes):
        raise BadModel("the file holds no faces")
    whole = meshes_as_one(meshes)
    low, high = whole.points.min(axis=0), whole.points.max(axis=0)
    size = float((high - low).max())
    unit: Unit = "m"
    up: Up = "z" if format == "stl" else "y"
    if format not in ("glb", "gltf"):
        unit = "mm" if format == "stl" else "m" if size <= 10 else "cm" if size <= 400 else "mm"
        flat = np.abs(low) < 1e-6 * max(size, 1e-12)
        if flat[1] != flat[2] and format != "stl":
            up = "y" if flat[1] else "z"
    pairs = scipy.spatial.cKDTree(whole.points).query_pairs(DOUBLED * max(size, 1e-12), output_type="ndarray")
    return Guess(unit, up, low, high, whole.topology.vertex_count, whole.topology.face_count,
                 int(np.unique(pairs[:, 1]).size) if len(pairs) else 0,
                 whole.topology.face_count - len(pair_triangles(whole)[2]))


@dataclass
class Taken:
    """Groups and parts as documents hold them, their ids unlike each other."""

    groups: list[dict[str, Any]] = field(default_factory=list)
    parts: list[dict[str, Any]] = field(default_factory=list)


def taken(model: Model, file: str, name: str, given: dict[str, Any], to: Unit) -> Taken:
    """The parts and groups of a model file.

    A node with a shape is a part, with its own axes and placement; a node with others in it is a group. Nodes that share a
    shape are linked copies of the first. A file of one shape is one part; of several nodes at its top, one group.

    Args:
        file: what the ``mesh`` step names the file by.
        name: what the whole is called.
        given: ``unit``, ``up``, ``weld`` and ``quads`` of the steps.
        to: the build's unit.

    Raises:
        BadModel: a node that no placement can say.
    """
    taking = _Taking(file, name, given, given.get("up", "y"), METRES[given.get("unit", "m")] / METRES[to])
    shaped = [s.node for s in model.walk() if s.node.shape is not None]
    if len(shaped) == 1:
        matrix = np.eye(4)
        for above in _way_to(model, shaped[0]):
            matrix = matrix @ taking.move(above)
        taking.part(shaped[0], name, None, matrix)
        return taking.out
    top = taking.group(name, None) if len(model.nodes) > 1 else None
    for node in model.nodes:
        taking.node(node, top, np.eye(4))
    out = taking.out
    out.groups = [g for g in out.groups if _has_part(g["id"], out)]
    return out


@dataclass
class _Taking:
    """A model file under way; ``first`` tells which part has a shape, of those that could be said without mirroring."""

    file: str
    name: str
    given: dict[str, Any]
    up: Up
    scale: float
    out: Taken = field(default_factory=Taken)
    first: dict[Shape, str] = field(default_factory=dict)

    def move(self, node: Node) -> Floats:
        """(4, 4) of a node's move in the build's axes and unit."""
        return _turned(node.move, self.up, self.scale)

    def group(self, name: str, within: str | None, placement: dict[str, list[float]] | None = None) -> str:
        """The id of a new group."""
        entry: dict[str, Any] = {"id": f"group{len(self.out.groups) + 1}", "name": name}
        entry |= ({"group": within} if within else {}) | ({"placement": placement} if placement else {})
        self.out.groups.append(entry)
        return str(entry["id"])

    def node(self, node: Node, group: str | None, above: Floats) -> None:
        """A node and all below it; what stands above has moved it by ``above`` (4, 4) and is not said by a group."""
        whole = above @ self.move(node)
        if not node.children:
            if node.shape is not None:
                self.part(node, node.name, group, whole)
            return
        placement, mirrored = _placement(whole, node.name)
        if mirrored is not None:  # no group is mirrored: what is in it says so itself
            placement = {}
        else:
            whole = np.eye(4)
        inner = self.group(node.name, group, placement)
        if node.shape is not None:
            self.part(node, node.name, inner, whole)
        for child in node.children:
            self.node(child, inner, whole)

    def part(self, node: Node, name: str, group: str | None, matrix: Floats) -> None:
        """A node's shape as a part, or as a linked copy of the first that shows it."""
        shape = node.shape
        assert shape is not None
        placement, mirrored = _placement(matrix, node.name)
        entry: dict[str, Any] = {"id": f"part{len(self.out.parts) + 1}", "name": name}
        entry |= ({"group": group} if group else {}) | ({"placement": placement} if placement else {})
        if shape in self.first:
            entry |= {"of": self.first[shape]} | ({"mirrored": mirrored} if mirrored else {})
        else:
            if mirrored is None:
                self.first[shape] = entry["id"]
            entry["steps"] = [{"id": "mesh1", "kind": "mesh", "file": self.file, **self.given, "object": node.name},
                              *(_across(mirrored) if mirrored else ())]
        self.out.parts.append(entry)


def _across(axis: str) -> list[dict[str, Any]]:
    """Steps that mirror a part across an axis."""
    return [{"id": "across1", "kind": "transform", "pick": {"vertices": "all"}, "about": "origin",
             "scale": [-1.0 if k == axis else 1.0 for k in "xyz"]},
            {"id": "flip1", "kind": "flip", "pick": {"faces": "all"}}]


def _has_part(group: str, out: Taken) -> bool:
    return any(p.get("group") == group for p in out.parts) or \
        any(g.get("group") == group and _has_part(g["id"], out) for g in out.groups)


def _way_to(model: Model, wanted: Node) -> list[Node]:
    """The nodes from the top down to one, itself last."""
    def below(nodes: tuple[Node, ...]) -> list[Node] | None:
        for node in nodes:
            if node is wanted:
                return [node]
            way = below(node.children)
            if way is not None:
                return [node, *way]
        return None

    return below(model.nodes) or []


def _turned(move: Move, up: Up, scale: float) -> Floats:
    """(4, 4) of a node's move in the build's axes and unit."""
    out = move.matrix()
    if up == "z":
        turn = np.array([[1.0, 0, 0, 0], [0, 0, 1.0, 0], [0, -1.0, 0, 0], [0, 0, 0, 1.0]])
        out = turn @ out @ turn.T
    out[:3, 3] *= scale
    return out


def _placement(matrix: Floats, name: str) -> tuple[dict[str, list[float]], Literal["x"] | None]:
    """A placement that says a matrix, without what is nothing, and whether the shape has to be mirrored across x first."""
    linear = matrix[:3, :3]
    factors = np.linalg.norm(linear, axis=0)
    if (factors < 1e-9).any():
        raise BadModel(f"'{name}' is scaled to nothing in the file; leave it out where the file was made")
    mirrored = bool(np.linalg.det(linear) < 0)
    turn = linear / factors
    if mirrored:
        turn = turn * np.array([-1.0, 1.0, 1.0])
    if np.abs(turn.T @ turn - np.eye(3)).max() > 1e-5:
        raise BadModel(f"'{name}' is sheared by what it stands in, which no part can be; apply scales where it was made")
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # straight up or down, one of two angles is free
        angles = scipy.spatial.transform.Rotation.from_matrix(turn).as_euler("xyz", degrees=True)
    said = {"translate": matrix[:3, 3], "rotate": angles, "scale": factors}
    rest = {"translate": 0.0, "rotate": 0.0, "scale": 1.0}
    out = {k: [float(f"{x:.9g}") if abs(x) > 1e-9 else 0.0 for x in v] for k, v in said.items()}
    return {k: v for k, v in out.items() if any(abs(x - rest[k]) > 1e-9 for x in v)}, "x" if mirrored else None

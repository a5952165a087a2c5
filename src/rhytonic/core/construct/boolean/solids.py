"""Closed meshes set against each other by manifold3d, as triangles that tell which polygon they came from.

The library (E. Lalish, manifold; exact in topology, in double precision) keeps vertices that survive to the last bit and
tells for every triangle of the result which face of which input it lies in.
"""

from __future__ import annotations

import atexit
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from hashlib import blake2b
from threading import Lock
from typing import Literal

import manifold3d
import numpy as np

from ...errors import StepError
from ...mesh.crossing import crossing_faces
from ...mesh.geometry import cross, lengths
from ...mesh.mesh import Floats, Mesh
from ...mesh.topology import Bools, Ints, components
from ...mesh.triangulate import triangulate

Operation = Literal["unite", "subtract", "intersect"]
_OPERATIONS = {"unite": manifold3d.OpType.Add, "subtract": manifold3d.OpType.Subtract,
               "intersect": manifold3d.OpType.Intersect}


#: faces that pass through each other by no more than this share of their size do so by what is left of a near miss
SLIVER = 1e-6


@dataclass(frozen=True)
class Solid:
    """One closed mesh as triangles.

    Attributes:
        mesh: the polygons.
        triangles: (T, 3) of its vertices; ``face`` (T,) the polygon of each.
        plane: (T,) which flat piece of the mesh each lies in: its polygon, or, where that is warped, F + the triangle.
        overlapping: whether shells of it overlap: they are united before anything else is done to it.
        made: what :meth:`manifold` keeps.
    """

    mesh: Mesh
    triangles: Ints
    face: Ints
    plane: Ints
    overlapping: bool = False
    made: list[tuple[manifold3d.Manifold, list[int]]] = field(default_factory=list, compare=False)

    def manifold(self) -> tuple[manifold3d.Manifold, list[int]]:
        """The library's own form and the numbers its triangles carry, made once: that takes as long as some booleans.

        Raises:
            StepError: the library cannot tell inside from outside.
        """
        if not self.made:
            made, numbers = self._united() if self.overlapping else (lambda m: (m[0], [m[1]]))(self._form(slice(None)))
            self.made.append((made, numbers))
        return self.made[0]

    def _form(self, some: slice | Bools) -> tuple[manifold3d.Manifold, int]:
        """Some of the triangles as a body of the library's, and the number they carry."""
        number = int(manifold3d.Manifold.reserve_ids(1))
        triangles = self.triangles[some]
        used, corners = np.unique(triangles, return_inverse=True)
        made = manifold3d.Manifold(manifold3d.Mesh64(
            np.array(self.mesh.points[used]) + 0.0, np.array(corners.reshape(-1, 3), np.uint64),
            run_index=np.array([0, triangles.size], np.uint64), run_original_id=np.array([number], np.uint32),
            face_id=np.array(self.plane[some], np.uint64)))
        p = self.mesh.points[triangles] - self.mesh.points[triangles.ravel()[0]]
        double = cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
        own = float(np.einsum("ij,ij->", p[:, 0], double)) / 6
        reach = float(np.abs(p).max()) * float(lengths(double).sum())
        # the library takes out what has no thickness, and now and then more than that goes with it
        if made.status() != manifold3d.Error.NoError:
            raise StepError("the shapes cannot be told inside from outside; repair what inspection finds in them first")
        if abs(made.volume() - own) > 1e-9 * (abs(own) + 1e-3 * reach):
            raise StepError("the shapes have faces too thin to be told apart, as where parts all but lie in one plane; move "
                            "one of them by a hair, or merge doubled points first")
        return made, number

    def _united(self) -> tuple[manifold3d.Manifold, list[int]]:
        """Shells that overlap made one, the largest first; those that run the other way, as round a cavity, are taken out of
        what is there by then, so that what stands in a cavity stays."""
        shell = self.mesh.topology.shells[self.face]
        p = self.mesh.points[self.triangles]
        volume = np.bincount(shell, np.einsum("ij,ij->i", p[:, 0], cross(p[:, 1], p[:, 2])))
        out = manifold3d.Manifold()
        numbers = []
        for one in np.argsort(-np.abs(volume), kind="stable").tolist():
            outward = volume[one] > 0
            turned = self if outward else replace(self, triangles=self.triangles[:, ::-1])
            made, number = turned._form(shell == one)
            out = out + made if outward else out - made
            numbers.append(number)
        return out, numbers

    def moved(self, mesh: Mesh) -> Solid:
        """The same with its points elsewhere."""
        return replace(self, mesh=mesh, made=[])


def can_be_told(mesh: Mesh) -> bool:
    """Whether a result can be an input again: passes nowhere through itself, and has no faces too thin to be told apart."""
    try:
        solid(mesh).manifold()
    except StepError:
        return False
    return not crossing_faces(mesh, SLIVER).size


class Solids:
    """Solids looked at lately, and known to have an inside: looking for faces that cross takes longer than a boolean."""

    def __init__(self, most: int = 32) -> None:
        self._held: OrderedDict[bytes, Solid] = OrderedDict()
        self._most, self._lock = most, Lock()
        atexit.register(self._held.clear)  # the library complains of whatever outlives it

    def of(self, mesh: Mesh, name: str, parameter: str | None = None) -> Solid:
        """The solid a mesh is, refused as :func:`refuse_unsound` does."""
        key = blake2b(mesh.points.tobytes(), key=mesh.topology.digest, digest_size=16).digest()
        with self._lock:
            held = self._held.get(key)
            if held is not None:
                self._held.move_to_end(key)
                return replace(held, mesh=mesh)
        refuse_unsound(mesh, name, parameter)
        made = solid(mesh)
        with self._lock:
            self._held[key] = made
            while len(self._held) > self._most:
                self._held.popitem(last=False)
        return made


def solid(mesh: Mesh) -> Solid:
    """The triangles of a mesh, each in its flat piece."""
    triangles, face = triangulate(mesh)
    warped = warped_faces(mesh)
    plane = np.where(warped[face], mesh.topology.face_count + np.arange(face.size), face)
    made = Solid(mesh, triangles, face, plane)
    return replace(made, overlapping=True) if _overlaps(made) else made


def _overlaps(s: Solid) -> bool:
    """Whether shells of a body take up room together: faces that lie in one plane do not cross, and are told by this
    alone."""
    shell = s.mesh.topology.shells
    count = int(shell.max(initial=-1)) + 1
    if count < 2:
        return False
    t = s.mesh.topology
    corners = s.mesh.points[t.corners]
    order = np.argsort(shell[t.corner_face], kind="stable")
    starts = np.searchsorted(shell[t.corner_face][order], np.arange(count))
    low, high = np.minimum.reduceat(corners[order], starts), np.maximum.reduceat(corners[order], starts)
    for one in range(count - 1):  # most bodies have one shell, and most shells stand apart
        if ((low[one] < high[one + 1:]) & (low[one + 1:] < high[one])).all(axis=1).any():
            break
    else:
        return False
    p = s.mesh.points[s.triangles]
    own = float(np.einsum("ij,ij->", p[:, 0], cross(p[:, 1], p[:, 2]))) / 6
    return bool(abs(s._united()[0].volume() - own) > 1e-9 * abs(own))


def warped_faces(mesh: Mesh) -> Bools:
    """(F,) faces whose corners do not lie in one plane, within 1e-9 of their size."""
    t = mesh.topology
    if not t.face_count:
        return np.zeros(0, bool)
    face = t.corner_face
    away = mesh.points[t.corners] - mesh.face_centres[face]
    height = np.abs(np.einsum("ij,ij->i", away, mesh.normals[face]))
    size = np.maximum.reduceat(lengths(away), t.offsets[:-1])
    return np.asarray(np.maximum.reduceat(height, t.offsets[:-1]) > 1e-9 * size) & (t.sides > 3)


def refuse_unsound(mesh: Mesh, name: str, parameter: str | None) -> None:
    """Refuse what has no inside: told with the part and the place.

    Raises:
        StepError: the mesh is open, has edges of more than two faces, faces that run the wrong way, or crosses itself.
    """
    t = mesh.topology
    if not t.face_count:
        raise StepError(f"{name} has no faces", parameter)
    bad = np.flatnonzero(t.edge_face_count != 2)
    if bad.size:
        at = mesh.edge_centres[bad[0]]
        if t.edge_face_count[bad[0]] == 1:
            raise StepError(f"{name} is open at {{point}}; fill its borders, or give it thickness, first", parameter,
                            point=at)
        raise StepError(f"{name} has an edge of {t.edge_face_count[bad[0]]} faces at {{point}}; take the faces inside away "
                        "first", parameter, point=at)
    turned = np.flatnonzero(t.twin < 0)
    if turned.size:
        at = mesh.edge_centres[t.corner_edge[turned[0]]]
        raise StepError(f"faces of {name} that meet at {{point}} run different ways; flip those turned inside out first",
                        parameter, point=at)
    p = mesh.points[triangulate(mesh)[0]]
    if np.einsum("ij,ij->", p[:, 0], cross(p[:, 1], p[:, 2])) < 0:
        raise StepError(f"{name} is inside out; flip all its faces first", parameter)
    crossing = crossing_faces(mesh, SLIVER)
    if crossing.size:
        raise StepError(f"{name} passes through itself at {{point}}; move its faces apart there first", parameter,
                        point=mesh.face_centres[crossing[0]])


@dataclass(frozen=True)
class Combined:
    """The result as triangles.

    Attributes:
        points: (n, 3); triangles (T, 3) of them.
        solid: (T,) which of the solids each triangle comes from; plane (T,) the flat piece of it.
        turned: (s,) whether faces of each solid run the other way, as those of what was cut out do.
        volumes: of each solid.
    """

    points: Floats
    triangles: Ints
    solid: Ints
    plane: Ints
    turned: Bools
    volumes: tuple[float, ...]


def combine(solids: Sequence[Solid], operation: Operation) -> Combined:
    """The first solid united with, cut by or cut to each of the others.

    Raises:
        StepError: the library cannot tell inside from outside.
    """
    made: list[manifold3d.Manifold] = []
    numbers: list[int] = []
    owner: list[int] = []
    for i, s in enumerate(solids):
        manifold, own = s.manifold()
        if own[0] in numbers:  # one solid against itself: its triangles are told apart
            manifold, own = s.moved(s.mesh).manifold()
        made.append(manifold)
        numbers += own
        owner += [i] * len(own)
    out = manifold3d.Manifold.batch_boolean(made, _OPERATIONS[operation]).to_mesh64()
    triangles = np.asarray(out.tri_verts).astype(np.int64)
    ends = np.asarray(out.run_index, np.int64) // 3
    runs: Ints = ends[1:] - ends[:-1]
    order = np.argsort(numbers)
    found = np.searchsorted(np.array(numbers)[order], np.asarray(out.run_original_id).astype(np.int64))
    which = np.repeat(np.array(owner)[order[found]], runs)
    turned = (np.arange(len(solids)) > 0) & (operation == "subtract")
    plane = np.asarray(out.face_id).astype(np.int64)
    points = np.asarray(out.vert_properties, float)
    real = _with_thickness(points, triangles)
    return Combined(points, triangles[real], which[real], plane[real], turned, tuple(m.volume() for m in made))


#: a piece no thicker than this share of its size is none: two skins left of what all but fell together
_SKIN = 1e-7


def _with_thickness(points: Floats, triangles: Ints) -> Bools:
    """(T,) triangles of pieces that are bodies."""
    if not len(triangles):
        return np.zeros(0, bool)
    piece = components(len(points), triangles[:, [0, 1]].ravel(), triangles[:, [1, 2]].ravel())[triangles[:, 0]]
    p = points[triangles]
    middle = points.mean(axis=0)
    double = cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
    area = np.bincount(piece, lengths(double)) / 2
    volume = np.abs(np.bincount(piece, np.einsum("ij,ij->i", p[:, 0] - middle, double))) / 6
    real: Bools = (volume > _SKIN * area**1.5 / 2)[piece]
    return real

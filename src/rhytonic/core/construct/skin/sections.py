"""A surface over sheets of sections, closed by caps: what sweeps, lathes and extrusions of curves share."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ...mesh.attributes import Attribute
from ...mesh.geometry import cross, loop_area_vectors, unit
from ...mesh.mesh import Floats
from ...mesh.names import Domain, Ids
from ...mesh.topology import Bools, Ints, Topology
from ...mesh.uv import UV, WORLD, uv_attribute
from ...step.draft import Born, Draft
from .grid import skin

#: parents (n, k) and index (n, m) of what stands at rows and columns (n, 2)
Naming = Callable[[Ints], tuple[Ids, Ints]]


@dataclass(frozen=True, eq=False)
class Sheet:
    """Sections in a row.

    Attributes:
        vertex: (R, M) number of the vertex at each row and column; made: (R, M) where one stands that none before it is.
        rows: (R,) whether faces lead from a row to the next, the last's to the first; columns: (M,) the same of columns.
        turned: whether columns run clockwise about the direction of the rows.
        vertices, faces: how those are named.
    """

    vertex: Ints
    made: Bools
    rows: Bools
    columns: Bools
    turned: bool
    vertices: Naming
    faces: Naming


@dataclass(frozen=True, eq=False)
class Cap:
    """A face that closes something: ``corners`` turn as it is seen, ``parents`` (k,) and ``index`` (m,) name it."""

    corners: Ints
    parents: Ids
    index: Ints


@dataclass(frozen=True, eq=False)
class Skinned:
    """Where corners lie on the sheets: ``begin`` (S + 1,) the first of each sheet, then of the caps; ``row``, ``column`` of
    those on sheets; ``caps`` the first face that is one; ``grids`` rows and columns of each sheet, whose vertices stand row
    by row, none where some fall together."""

    begin: Ints
    row: Ints
    column: Ints
    caps: int
    grids: tuple[tuple[int, int], ...]


def skinned(sheets: Sequence[Sheet], caps: Sequence[Cap], added: tuple[Ids, Ints] | None = None, role: str = "cap") -> Draft:
    """The draft of sheets and caps.

    Args:
        role: of caps; added: parents and index of vertices that caps bring in, numbered after those of the sheets.
    """
    count = sum(int(s.made.sum()) for s in sheets)
    sides, corners, places = [], [], []
    made, named = [], []
    for sheet in sheets:
        face_sides, face_corners, cells, place = skin(sheet.vertex, sheet.rows, sheet.columns)
        if sheet.turned:
            back = _reversed_within(face_sides)
            face_corners, place = face_corners[back], place[back]
        sides.append(face_sides)
        corners.append(face_corners)
        places.append(place)
        named.append(sheet.faces(cells))
        made.append(sheet.vertices(np.argwhere(sheet.made)))
    side_count = sum(s.size for s in sides)
    for cap in caps:
        sides.append(np.array([cap.corners.size]))
        corners.append(cap.corners)
    extra = 0 if added is None else len(added[1])
    offsets = np.concatenate([[0], np.cumsum(np.concatenate(sides))]).astype(np.int64)
    topology = Topology.of(count + extra, offsets, np.concatenate(corners).astype(np.int64))
    born: list[Born] = []
    if made:
        parents, index = (np.concatenate(c) for c in zip(*made, strict=True))
        born.append(Born("vertex", "side", np.arange(count), parents, _vertices(parents), index))
        parents, index = (np.concatenate(c) for c in zip(*named, strict=True))
        born.append(Born("face", "side", np.arange(side_count), parents, _vertices(parents), index))
    if added is not None:
        born.append(Born("vertex", role, count + np.arange(extra), added[0], _vertices(added[0]), added[1]))
    for shape in sorted({(c.parents.size, c.index.size) for c in caps}):
        mine = [i for i, c in enumerate(caps) if (c.parents.size, c.index.size) == shape]
        parents = np.stack([caps[i].parents for i in mine])
        born.append(Born("face", role, side_count + np.array(mine), parents, _vertices(parents),
                         np.stack([caps[i].index for i in mine])))
    none_v, none_f = np.full(count + extra, -1), np.full(topology.face_count, -1)
    return Draft(topology, none_v, none_f, none_v, none_f, np.full(topology.corner_count, -1), tuple(born),
                 data=_places(places, side_count, sheets))


def _places(places: Sequence[Ints], caps: int, sheets: Sequence[Sheet]) -> Skinned:
    begin = np.concatenate([[0], np.cumsum([len(p) for p in places])]).astype(np.int64)
    every = np.concatenate([np.zeros((0, 2), np.int64), *places])
    plain = all(s.made.all() for s in sheets)
    return Skinned(begin, every[:, 0].copy(), every[:, 1].copy(), caps,
                   tuple((int(s.vertex.shape[0]), int(s.vertex.shape[1])) for s in sheets) if plain else ())


def runs_back(draft: Draft, points: Floats) -> bool:
    """Whether somewhere two neighbouring ways from a row to the next may run against each other."""
    data: Skinned = draft.data
    first = 0
    for rows, columns in data.grids:
        grid = points[first:first + rows * columns].reshape(rows, columns, 3)
        first += rows * columns
        ways = np.concatenate([grid[1:], grid[:1]]) - grid
        # what leads from the last row to the first, or from the last column, counts only where those are joined: at worst
        # it is looked at closely for nothing
        beside = np.einsum("rmk,rmk->rm", ways[:, :-1], ways[:, 1:])
        if (beside < 0).any() or (np.einsum("rk,rk->r", ways[:, -1], ways[:, 0]) < 0).any():
            return True
    return not data.grids


def lengths_on(draft: Draft, points: Floats, along: Sequence[Floats], around: Sequence[Floats]) -> dict[str, Attribute]:
    """Places on the surface laid flat, per corner in metres: across caps as they lie, on sheets along and around.

    Args:
        along: (R + 1,) of each sheet, from its first row on; around: (M + 1,) from its first column on.
    """
    data: Skinned = draft.data
    t = draft.topology
    flat = np.empty((t.corner_count, 2))
    for number, (u, v) in enumerate(zip(along, around, strict=True)):
        mine = slice(int(data.begin[number]), int(data.begin[number + 1]))
        flat[mine, 0], flat[mine, 1] = u[data.row[mine]], v[data.column[mine]]
        after = flat[t.next_corner[mine]]
        if (flat[mine, 0] * after[:, 1] - flat[mine, 1] * after[:, 0]).sum() < 0:  # seen from outside, not from within
            flat[mine, 1] = v[-1] - flat[mine, 1]
    cap = np.arange(data.caps, t.face_count)
    if cap.size:
        corner = slice(int(data.begin[-1]), t.corner_count)
        here = points[t.corners[corner]]
        normal = unit(loop_area_vectors(here, np.cumsum(t.sides[cap]) - t.sides[cap], t.sides[cap]))
        wish = np.where((np.abs(normal[:, 0]) > 0.9)[:, None], np.eye(3)[2], np.eye(3)[0])
        right = unit(wish - normal * np.einsum("ij,ij->i", wish, normal)[:, None])
        face = np.repeat(np.arange(cap.size), t.sides[cap])
        flat[corner, 0] = np.einsum("ij,ij->i", here, right[face])
        flat[corner, 1] = np.einsum("ij,ij->i", here, cross(normal, right)[face])
    return {UV: uv_attribute(flat), WORLD: Attribute("face", np.ones(t.face_count, np.int64), about=(None,))}


def _vertices(parents: Ids) -> tuple[Domain, ...]:
    return tuple("vertex" for _ in range(parents.shape[1]))


def _reversed_within(sides: Ints) -> Ints:
    """Places of ragged rows, each row read backwards."""
    ends = np.cumsum(sides)
    starts = ends - sides
    place = np.arange(int(sides.sum()))
    return np.repeat(starts + ends - 1, sides) - place

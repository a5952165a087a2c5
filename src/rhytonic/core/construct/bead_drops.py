"""Weld beads: drops along runs over a surface."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..mesh.geometry import cross, lengths, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Ids
from ..mesh.topology import Ints
from .chains import edge_chains
from .on_surface import places_on

#: of the spacing, how long a drop is: each lies a little over the next
_LONG = 1.6
#: of the height, how deep a drop goes into what it lies on
_DEEP = 0.5
#: how far irregular drops stray at most: of width and height, of the spacing, in degrees
_SIZE, _PLACE, _TURN = 0.3, 0.2, 14.0


@dataclass(frozen=True, eq=False)
class BeadRun:
    """One run that a bead is laid along.

    Attributes:
        points: (n, 3), those of a closed run with the first once more at the end.
        up: (n − 1, 3) away from the surface, for each straight edge; None to ask the surface.
        name: id that its drops are named after.
    """

    points: Floats
    up: Floats | None
    name: int

    @property
    def length(self) -> float:
        """Metres along it."""
        return float(lengths(np.diff(self.points, axis=0)).sum())

    def count(self, spacing: float) -> int:
        """How many drops it has room for: its length by the spacing, and one at least."""
        return max(round(self.length / spacing), 1)


def runs_of_edges(mesh: Mesh, edges: Ints) -> list[BeadRun]:
    """Runs along edges of a mesh; up is the mean of the adjoining faces' normals."""
    t = mesh.topology
    order, starts = t.edge_corners
    total = np.zeros((t.edge_count, 3))
    np.add.at(total, np.repeat(np.arange(t.edge_count), np.diff(starts)), mesh.normals[t.corner_face[order]])
    out = []
    for chain in edge_chains(t, edges, mesh.names.vertex):
        v = np.append(chain.vertices, chain.vertices[0]) if chain.closed else chain.vertices
        normals = unit(total[t.find_edges(v[:-1], v[1:])])
        out.append(BeadRun(mesh.points[v], normals, int(mesh.names.vertex[chain.vertices[0]])))
    return out


def drop_faces(sides: int) -> tuple[Ints, Ints]:
    """(f+1,) and (c,): offsets and corners of one closed drop: circles of ``sides`` points from the lowest up, then both
    poles."""
    circles = max(sides // 2 - 1, 1)
    k = np.arange(sides)
    low = (np.arange(circles - 1) * sides)[:, None]
    quads = np.stack([low + k, low + (k + 1) % sides, low + sides + (k + 1) % sides, low + sides + k], axis=2).reshape(-1, 4)
    south, north, top = circles * sides, circles * sides + 1, (circles - 1) * sides
    under = np.stack([(k + 1) % sides, k, np.full(sides, south)], axis=1)
    over = np.stack([top + k, top + (k + 1) % sides, np.full(sides, north)], axis=1)
    corners = np.concatenate([quads.ravel(), under.ravel(), over.ravel()])
    count = np.concatenate([np.full(len(quads), 4), np.full(2 * sides, 3)])
    return np.concatenate([[0], np.cumsum(count)]), corners


def drop_points(sides: int) -> Floats:
    """(n, 3) of one drop of radius 1 about its middle: x across the bead, y along it, z away from the surface."""
    circles = max(sides // 2 - 1, 1)
    rise = np.pi * (np.arange(1, circles + 1) / (circles + 1) - 0.5)
    turn = 2 * np.pi * np.arange(sides) / sides
    rings = np.stack([np.cos(rise)[:, None] * np.cos(turn), np.cos(rise)[:, None] * np.sin(turn),
                      np.broadcast_to(np.sin(rise)[:, None], (circles, sides))], axis=2).reshape(-1, 3)
    return np.concatenate([rings, [[0.0, 0.0, -1.0], [0.0, 0.0, 1.0]]])


def lay(runs: Sequence[BeadRun], mesh: Mesh, sides: int, sizes: tuple[float, float, float], irregularity: float,
        seed: int) -> Floats:
    """(k, n, 3) points of all drops, run after run.

    Args:
        sizes: width and height of the bead, and the spacing of its drops, metres.
        irregularity: 0 … 1, how much drops differ in size, place and turn; the same for the same seed.
    """
    width, height, spacing = sizes
    shape = drop_points(sides)
    out = []
    for number, run in enumerate(runs):  # one round for each run
        edges = np.diff(run.points, axis=0)
        size = lengths(edges)
        count, along = run.count(spacing), np.concatenate([[0.0], np.cumsum(size)])
        each = run.length / count
        random = np.random.default_rng([seed, number]).uniform(-1.0, 1.0, (count, 4)) * irregularity
        at = np.clip((np.arange(count) + 0.5 + _PLACE * random[:, 0]) * each, 0.0, run.length)
        edge = np.clip(np.searchsorted(along, at, side="right") - 1, 0, len(edges) - 1)
        tangent = unit(edges)[edge]
        middle = run.points[edge] + tangent * (at - along[edge])[:, None]
        up = run.up[edge] if run.up is not None else _up(mesh, middle)
        up = unit(up - tangent * (up * tangent).sum(axis=1)[:, None])
        bare = (up == 0).all(axis=1)
        up[bare] = unit(cross(tangent[bare], np.where(np.abs(tangent[bare][:, :1]) < 0.9, [[1.0, 0, 0]], [[0, 1.0, 0]])))
        turn = np.radians(_TURN * random[:, 1])[:, None]  # about up, each a little its own way
        across = cross(tangent, up)
        x, y = across * np.cos(turn) + tangent * np.sin(turn), tangent * np.cos(turn) - across * np.sin(turn)
        axes = np.stack([x, y, up], axis=2)
        scale = np.stack([width / 2 * (1 + _SIZE * random[:, 2]), np.full(count, _LONG / 2 * each),
                          height * (1 + _SIZE * random[:, 3])], axis=1)
        local = shape[None] * scale[:, None]
        local[:, :, 2] *= np.where(local[:, :, 2] < 0, _DEEP, 1.0)
        out.append(np.einsum("kij,knj->kni", axes, local) + middle[:, None])
    return np.concatenate(out)


def _up(mesh: Mesh, at: Floats) -> Floats:
    """(k, 3) normals of the faces nearest to places; straight up where there are none."""
    if not mesh.topology.face_count:
        return np.tile([0.0, 1.0, 0.0], (len(at), 1))
    return mesh.normals[places_on(mesh, at).face]


def named_after(runs: Sequence[BeadRun], spacing: float) -> tuple[Ids, Ints]:
    """(k,) id that each drop is named after, and which it is along its run."""
    counts = [run.count(spacing) for run in runs]
    ids = np.repeat(np.array([run.name for run in runs], np.uint64), counts)
    return ids, np.concatenate([np.arange(c) for c in counts])

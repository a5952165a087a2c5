"""Runs of edges in order: the outlines of picked regions, borders, and chains of picked edges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import StepError
from ..mesh.names import Ids
from ..mesh.topology import Ints, Topology, components


@dataclass(frozen=True)
class Chain:
    """Vertices in order.

    Attributes:
        vertices: (n,) each once.
        closed: whether the last is joined to the first.
        face: (links,) face beside each link, as a new face on the link's open side would take after it.
        corners: (links, 2) corners of that face at the link's two vertices.
    """

    vertices: Ints
    closed: bool
    face: Ints
    corners: Ints

    @property
    def links(self) -> int:
        """How many edges the chain has: one fewer than vertices unless it is closed."""
        return self.vertices.size if self.closed else self.vertices.size - 1


def walk(from_: Ints, to: Ints, ids: Ids, what: str) -> list[tuple[Ints, bool]]:
    """Directed links as runs: the order (k,) of the links of each, and whether it closes. Closed ones begin at their lowest
    id; runs come in the order of their lowest ids.

    Raises:
        StepError: a vertex has two links in or out.
    """
    n = from_.size
    if np.unique(from_).size < n or np.unique(to).size < n:
        raise StepError(f"{what} branch or touch at a vertex; pick one plain run of edges", "pick")
    bound = int(max(from_.max(initial=0), to.max(initial=0))) + 1
    out_of = np.full(bound, -1, np.int64)
    out_of[from_] = np.arange(n)
    following = out_of[to]
    has_before = np.zeros(n, bool)
    has_before[following[following >= 0]] = True
    label = components(n, np.flatnonzero(following >= 0), following[following >= 0])
    runs: list[tuple[int, Ints, bool]] = []
    for which in range(int(label.max(initial=-1)) + 1):  # one round for each run
        member = np.flatnonzero(label == which)
        open_start = member[~has_before[member]]
        start = int(open_start[0]) if open_start.size else int(member[np.argmin(ids[from_[member]])])
        order = [start]
        while (step := int(following[order[-1]])) >= 0 and step != start:
            order.append(step)
        lowest = int(min(ids[from_[member]].min(), ids[to[member]].min()))
        runs.append((lowest, np.array(order, np.int64), not open_start.size))
    return [(order, closed) for _, order, closed in sorted(runs, key=lambda r: r[0])]


def border_chains(t: Topology, edges: Ints, ids: Ids) -> list[Chain]:
    """Chains of border edges, running as a new face along them would.

    Raises:
        StepError: some of the edges have two faces, or borders touch at a vertex.
    """
    if not t.border_edges[edges].all():
        raise StepError("some of the picked edges have two faces; pick edges of open borders, or the faces to join", "pick")
    order, starts = t.edge_corners
    corner = order[starts[edges]]
    onward = t.next_corner[corner]
    from_, to = t.corners[onward], t.corners[corner]
    out = []
    for run, closed in walk(from_, to, ids, "the picked edges"):
        vertices = from_[run] if closed else np.append(from_[run], to[run[-1]])
        out.append(Chain(vertices, closed, t.corner_face[corner[run]], np.stack([onward[run], corner[run]], axis=1)))
    return out


def region_outlines(t: Topology, faces: Ints, ids: Ids) -> tuple[list[Chain], int]:
    """Outlines of regions of faces, running as those faces do, and the number of regions."""
    picked = np.zeros(t.face_count, bool)
    picked[faces] = True
    corner = t.corners_of(faces)
    twin = t.twin[corner]
    inner = (twin >= 0) & picked[t.corner_face[np.maximum(twin, 0)]]
    label = components(t.face_count, t.corner_face[corner[inner]], t.corner_face[twin[inner]])
    edge = corner[~inner]
    from_, to = t.corners[edge], t.corners[t.next_corner[edge]]
    out = []
    for run, closed in walk(from_, to, ids, "the outlines of the picked faces"):
        assert closed
        c = edge[run]
        out.append(Chain(from_[run], True, t.corner_face[c], np.stack([c, t.next_corner[c]], axis=1)))
    return out, np.unique(label[faces]).size


def edge_chains(t: Topology, edges: Ints, ids: Ids) -> list[Chain]:
    """Chains of any edges: each begins at the end with the lower id (closed ones at their lowest id, on towards the lower
    neighbour). Faces and corners are not told.

    Raises:
        StepError: more than two of the edges meet at a vertex.
    """
    ends = t.edges[edges]
    degree = np.bincount(ends.ravel(), minlength=t.vertex_count)
    if (degree > 2).any():
        raise StepError("more than two of the picked edges meet at a vertex; pick plain chains or loops", "pick")
    n = edges.size
    at: dict[int, list[int]] = {}
    for i, (a, b) in enumerate(ends.tolist()):  # bounded by the pick
        at.setdefault(a, []).append(i)
        at.setdefault(b, []).append(i)
    used = np.zeros(n, bool)
    chains: list[Chain] = []
    by_id = sorted(at, key=lambda v: int(ids[v]))
    for pass_closed in (False, True):
        for start in by_id:
            free = [i for i in at[start] if not used[i]]
            if not free or (not pass_closed and degree[start] != 1):
                continue
            vertices = [start]
            link = min(free, key=lambda i: int(ids[ends[i].sum() - start]))
            while True:
                used[link] = True
                vertices.append(int(ends[link].sum() - vertices[-1]))
                onward = [i for i in at[vertices[-1]] if not used[i]]
                if not onward:
                    break
                link = onward[0]
            closed = pass_closed
            order = np.array(vertices[:-1] if closed else vertices, np.int64)
            chains.append(Chain(order, closed, np.zeros(0, np.int64), np.zeros((0, 2), np.int64)))
    return sorted(chains, key=lambda c: int(ids[c.vertices].min()))

"""Picked faces as regions: which of their edges lie inside, which are outline, and how corners hang together.

Bounded by the pick, not by the mesh. Shared by the edits that open or move a region of faces.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...errors import NotManifold
from ...mesh.names import Ids
from ...mesh.topology import Bools, Ints, Topology, components
from ..held_plane import HeldPlane


@dataclass(frozen=True)
class Regions:
    """Corners of the picked faces, numbered locally in the order of the faces.

    A *sector* is a run of corners round one vertex joined by inner edges: the vertex as one region sees it.

    Attributes:
        faces: (k,) picked faces.
        corner: (n,) corner of the mesh.
        following: (n,) local number of the next corner of the face.
        face: (n,) which of ``faces`` the corner belongs to.
        vertex: (n,) vertex of the corner.
        outline: (n,) whether the half-edge from here to the next corner is outline.
        sector: (n,) sector of the corner.
        sector_vertex: (s,) vertex of each sector.
        sector_open: (s,) whether outline touches the sector.
        sector_alone: (s,) whether no other face touches the vertex.
        sector_rank: (s,) rank by lowest face id among the sectors of the vertex.
        region: (k,) region of each picked face.
        held: (s,) whether the sector's vertex lies on a plane that is held; ``axis`` the plane is square to.
    """

    faces: Ints
    corner: Ints
    following: Ints
    face: Ints
    vertex: Ints
    outline: Bools
    sector: Ints
    sector_vertex: Ints
    sector_open: Bools
    sector_alone: Bools
    sector_rank: Ints
    region: Ints
    held: Bools
    axis: int = 0

    @property
    def region_count(self) -> int:
        """How many regions the picked faces make."""
        return int(self.region.max()) + 1 if self.region.size else 0

    @property
    def sector_count(self) -> int:
        """s, how many sectors: a vertex once for each region and fan that touches it."""
        return self.sector_vertex.size

    @property
    def sector_region(self) -> Ints:
        """(s,) region of each sector."""
        out = np.zeros(self.sector_count, np.int64)
        out[self.sector] = self.region[self.face]
        return out


def find_regions(t: Topology, faces: Ints, face_ids: Ids, each: bool, held: HeldPlane | None = None) -> Regions:
    """Regions of the picked faces; with ``each`` every face is its own. Edges at which a half goes on as its image are no
    outline.

    Raises:
        NotManifold: a picked face has an edge that three or more faces share.
    """
    corner = t.corners_of(faces)
    sides = t.sides[faces]
    starts = np.cumsum(sides) - sides
    n = corner.size
    following = np.arange(1, n + 1)
    following[starts + sides - 1] = starts
    face = np.repeat(np.arange(faces.size), sides)
    vertex = t.corners[corner]
    edge = t.corner_edge[corner]
    if (t.edge_face_count[edge] > 2).any():
        raise NotManifold("a picked face has an edge that three or more faces share; separate those faces first", "pick")
    partner = np.full(n, -1, np.int64)
    if not each:
        order = np.argsort(edge, kind="stable")
        same = np.flatnonzero(edge[order][1:] == edge[order][:-1])
        one, two = order[same], order[same + 1]
        opposed = vertex[one] != vertex[two]
        one, two = one[opposed], two[opposed]
        partner[one], partner[two] = two, one
    inner = np.flatnonzero(partner >= 0)
    sector = components(n, inner, following[partner[inner]])
    count = int(sector.max()) + 1 if n else 0
    region = components(faces.size, face[inner], face[partner[inner]])
    sector_vertex = np.zeros(count, np.int64)
    sector_vertex[sector] = vertex
    outline = partner < 0
    if held is not None:
        outline &= ~held.edges(t)[edge]
    is_open = np.zeros(count, bool)
    is_open[sector[outline]] = True
    is_open[sector[following[outline]]] = True
    starts_at = t.vertex_corners[1]
    alone = np.bincount(sector, minlength=count) == (starts_at[sector_vertex + 1] - starts_at[sector_vertex])
    rank = sector_ranks(face_ids[faces][face], sector, sector_vertex)
    on = np.zeros(count, bool) if held is None else held.on[sector_vertex]
    return Regions(faces, corner, following, face, vertex, outline, sector, sector_vertex, is_open, alone, rank, region, on,
                   0 if held is None else held.axis)


def sector_ranks(face_ids: Ids, sector: Ints, sector_vertex: Ints) -> Ints:
    """(s,) rank of each sector among those of its vertex, by its lowest face id; ``face_ids`` (n,) one for each corner."""
    count = sector_vertex.size
    lowest = np.full(count, np.iinfo(np.uint64).max, np.uint64)
    np.minimum.at(lowest, sector, face_ids)
    by_vertex = np.lexsort((lowest, sector_vertex))
    first = np.ones(count, bool)
    first[1:] = sector_vertex[by_vertex][1:] != sector_vertex[by_vertex][:-1]
    start = np.maximum.accumulate(np.where(first, np.arange(count), 0))
    rank = np.zeros(count, np.int64)
    rank[by_vertex] = np.arange(count) - start
    return rank

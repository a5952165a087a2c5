"""Bridge: join two openings, or two regions of faces, by a band of faces."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.chains import Chain, border_chains, region_outlines
from ..construct.held_plane import HoldPlane
from ..construct.pairing.pair import match
from ..construct.rebuild import Parent, Rebuild, with_new
from ..errors import StepError
from ..mesh.geometry import Floats
from ..mesh.mesh import Mesh
from ..mesh.names import Ids, reduced
from ..mesh.topology import Bools, Ints, Topology
from ..params import Count, NonNegativeRatio, Quantity
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Knob
from ..step.kind import Context, Edit, StepKind


class Bridge(Edit):
    kind: Literal["bridge"]
    segments: Count = 1
    twist: Annotated[int, Field(strict=True, ge=-10_000, le=10_000), Quantity("count")] = 0
    taper: NonNegativeRatio = 1.0
    hold_plane: HoldPlane = "none"


@dataclass(frozen=True)
class _Band:
    """What positions need: the vertices of the longer chain and of those they go with, and how many rings lie between."""

    near: Ints
    far: Ints
    rings: int


class BridgeKind(StepKind[Bridge]):
    """Regions are taken away and their outlines joined; borders are joined as they are. Chains start where the band twists
    least, turned on by ``twist`` vertices. With unequal counts triangles stand where one side runs out. ``taper`` scales
    the middle of the band about its centre."""

    word, title, model = "bridge", "Bridge", Bridge
    extends_layout = True
    watches_area = True
    takes = ("faces", "edges")
    roles = ("side",)
    reads_points = True
    numbers = frozenset({"taper"})
    knob, typed = Knob("taper"), "segments"

    def estimate(self, p: Bridge, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + 2 * picked.elements.size * p.segments, "segments"

    def plan(self, p: Bridge, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t, ids = mesh.topology, mesh.names.vertex
        one, two = _two_chains(t, picked, ids)
        far_points = two.vertices[::-1]  # the band runs along the first as it runs, along the second against it
        rows = match(mesh.points[one.vertices], mesh.points[far_points], one.closed, p.twist, ids[far_points])
        build = Rebuild(mesh)
        gone = picked.elements if picked.kind == "faces" else np.zeros(0, np.int64)
        left = np.ones(t.face_count, bool)
        left[gone] = False
        stays = np.flatnonzero(left)
        build.keep(stays)
        if p.segments == 1:
            _refuse_joined(t, stays, one.vertices[rows[:, 0] % one.vertices.size], far_points[rows[:, 1] % far_points.size])
        band = _add_band(build, one, two, rows, p.segments)
        return build.draft(data=band)

    def positions(self, p: Bridge, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        band: _Band = draft.data
        a, b = mesh.points[band.near], mesh.points[band.far]
        rings = []
        for k in range(1, band.rings + 1):
            share = k / (band.rings + 1)
            ring = a + share * (b - a)
            centre = ring.mean(axis=0) if len(ring) else np.zeros(3)
            factor = 1 + (p.taper - 1) * (1 - abs(2 * share - 1))
            rings.append(centre + factor * (ring - centre))
        return with_new(draft, mesh, np.concatenate(rings) if rings else np.zeros((0, 3)))


def _two_chains(t: Topology, picked: Picked, ids: Ids) -> tuple[Chain, Chain]:
    if picked.kind == "faces":
        chains, regions = region_outlines(t, picked.elements, ids)
        if regions != 2 or len(chains) != 2:
            raise StepError("a bridge joins two regions of faces with one outline each; these make "
                            f"{regions} with {len(chains)} outlines in all", "pick")
    else:
        chains = border_chains(t, picked.elements, ids)
        if len(chains) != 2 or chains[0].closed != chains[1].closed:
            loops = sum(c.closed for c in chains)
            raise StepError("a bridge joins two border loops or two border chains, not "
                            f"{loops} loops and {len(chains) - loops} chains", "pick")
    if np.intersect1d(chains[0].vertices, chains[1].vertices).size:
        raise StepError("the two sides share a vertex, so the band would close on itself there; leave that vertex out",
                        "pick")
    return chains[0], chains[1]


def _refuse_joined(t: Topology, stays: Ints, a: Ints, b: Ints) -> None:
    """A mesh never has two edges on one pair of vertices."""
    edge = t.find_edges(a, b)
    if np.isin(edge[edge >= 0], t.corner_edge[t.corners_of(stays)]).any():
        raise StepError("an edge joins the two sides already where the band would make another; give it two segments or "
                        "more, or turn it by a twist", "segments")


def _add_band(build: Rebuild, one: Chain, two: Chain, rows: Ints, segments: int) -> _Band:
    n, m = one.vertices.size, two.vertices.size
    backward = two.vertices[::-1]
    leads = n >= m
    i, j = rows[:, 0] % n, rows[:, 1] % m
    steps = np.diff(rows, axis=0)
    # columns of the rings between: one for each vertex of the longer chain
    lead = rows[:, 0] if leads else rows[:, 1]
    first = np.ones(lead.size, bool)
    first[1:] = lead[1:] != lead[:-1]
    if one.closed:
        first[-1] = False
    column = np.cumsum(first) - 1
    if one.closed:
        column[-1] = 0
    near, far = one.vertices[i[first]], backward[j[first]]
    rings = segments - 1
    grid = np.zeros((rings, near.size), np.int64)
    for k in range(rings):
        share = np.broadcast_to(reduced(np.array([k + 1]), segments), (near.size, 2))
        grid[k] = build.vertices("side", [("vertex", near), ("vertex", far)], share, near if leads else far)
    links_one, links_two = _link_corners(one, i[:-1]), _link_corners(two, (m - 2 - j[:-1]) % m)
    for k in range(segments):  # band after band
        low = one.vertices[i] if k == 0 else grid[k - 1][column]
        high = backward[j] if k == segments - 1 else grid[k][column]
        moves_low = steps[:, 0] > 0 if k == 0 else np.diff(column, append=0)[:-1] != 0
        moves_high = steps[:, 1] > 0 if k == segments - 1 else np.diff(column, append=0)[:-1] != 0
        _add_row(build, one, low, high, moves_low, moves_high, links_one, links_two, k, one.vertices[i], backward[j])
    return _Band(near, far, rings)


def _link_corners(chain: Chain, link: Ints) -> tuple[Ints, Ints]:
    """Face and corners of links, wrapped where the chain closes."""
    at = np.clip(link, 0, chain.links - 1) if not chain.closed else link % chain.links
    return chain.face[at], chain.corners[at]


def _add_row(build: Rebuild, one: Chain, low: Ints, high: Ints, moves_low: Bools, moves_high: Bools,
             links_one: tuple[Ints, Ints], links_two: tuple[Ints, Ints], k: int, a: Ints, b: Ints) -> None:
    both = moves_low & moves_high
    face, corner = links_one
    other_face, other = links_two

    def parents(which: Bools) -> list[Parent]:
        return [("vertex", a[:-1][which]), ("vertex", a[1:][which]), ("vertex", b[:-1][which]), ("vertex", b[1:][which])]

    quads = np.stack([low[:-1], low[1:], high[1:], high[:-1]], axis=1)[both]
    source = np.stack([corner[:, 0], corner[:, 1], other[:, 0], other[:, 1]], axis=1)[both]
    index = np.full((int(both.sum()), 1), k)
    build.faces("side", quads, parents(both), index, face[both], source)
    only = moves_low & ~moves_high
    triangles = np.stack([low[:-1], low[1:], high[1:]], axis=1)[only]
    source = np.stack([corner[:, 0], corner[:, 1], other[:, 0]], axis=1)[only]
    build.faces("side", triangles, parents(only), np.full((int(only.sum()), 1), k), face[only], source)
    only = moves_high & ~moves_low
    triangles = np.stack([low[:-1], high[1:], high[:-1]], axis=1)[only]
    source = np.stack([corner[:, 1], other[:, 0], other[:, 1]], axis=1)[only]
    build.faces("side", triangles, parents(only), np.full((int(only.sum()), 1), k), other_face[only], source)

"""Regions of faces lifted off and walled round: what extrude and inset share.

Picked faces keep their corners but get vertices of their own along their outline; bands of quads fill the gap.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ... import tolerance
from ...errors import BadParameter
from ...lineage.history import Renaming
from ...mesh.geometry import cross, lengths, shortest_offsets, unit
from ...mesh.mesh import Floats, Mesh
from ...mesh.names import Names, reduced
from ...mesh.topology import Ints, Topology
from ...step.draft import Born, Draft
from ..held_plane import HeldPlane, with_images
from .regions import Regions, find_regions, sector_ranks


@dataclass(frozen=True)
class Raised:
    """What positions need of a plan.

    Attributes:
        regions: the picked faces.
        split: (s,) whether the sector leaves its vertex behind.
        copies: (s, rings) new vertex of each ring, −1 where not split.
        kept: old vertex of the first vertices of the result.
    """

    regions: Regions
    split: np.ndarray
    copies: Ints
    kept: Ints


def raise_regions(mesh: Mesh, picked: Ints, each: bool, rings: int, top_role: str, wall_role: str,
                  walls_replace: bool = False, held: HeldPlane | None = None) -> Draft:
    """The draft of lifting faces off, as regions or each on its own, with ``rings`` bands of walls.

    ``walls_replace`` says that the walls take the face's place too, as the rim of an inset does.
    """
    t, names = mesh.topology, mesh.names
    r = find_regions(t, picked, names.face, each, held)
    split = r.sector_open | ~r.sector_alone
    cut = np.flatnonzero(split)
    # vertices: those still used, then ring after ring of copies
    corners = t.corners.copy()
    copies = np.full((r.sector_count, rings), -1, np.int64)
    copies[cut] = t.vertex_count + np.arange(cut.size)[:, None] + np.arange(rings) * cut.size
    top = copies[:, -1]
    corners[r.corner] = np.where(split[r.sector], top[r.sector], r.vertex)
    a = np.flatnonzero(r.outline)
    b = r.following[a]
    bottom = np.column_stack([r.sector_vertex, copies[:, :-1]])[:, :rings]  # (s, rings) lower end of each band
    sa, sb = r.sector[a], r.sector[b]
    walls = np.stack([bottom[sa], bottom[sb], copies[sb], copies[sa]], axis=2)  # (o, rings, 4)
    all_corners = np.concatenate([corners, walls.ravel()])
    total = t.vertex_count + cut.size * rings
    kept, number = _still_used(t, r, cut, total, all_corners)
    offsets = np.concatenate([t.offsets, t.offsets[-1] + 4 * np.arange(1, a.size * rings + 1)])
    topology = Topology.of(kept.size + cut.size * rings, offsets,
                           all_corners if number is None else number[all_corners])
    if number is not None:
        copies = np.where(copies >= 0, number[np.maximum(copies, 0)], -1)
    # names
    new_faces = t.face_count + np.arange(a.size * rings)
    kept_faces = np.concatenate([np.arange(t.face_count), np.full(new_faces.size, -1)])
    kept_faces[r.faces] = -1
    born = _named(names, r, cut, copies, a, b, new_faces, (top_role, wall_role), walls_replace)
    none = np.full(cut.size * rings, -1, np.int64)
    wall_corners = np.stack([r.corner[a], r.corner[b], r.corner[b], r.corner[a]], axis=1)
    data = Raised(r, split, copies, kept)
    return Draft(
        topology, np.concatenate([kept, none]), kept_faces,
        vertex_source=np.concatenate([kept, np.tile(r.sector_vertex[cut], rings)]),
        face_source=np.concatenate([np.arange(t.face_count), np.repeat(r.faces[r.face[a]], rings)]),
        corner_source=np.concatenate([np.arange(t.corner_count), np.repeat(wall_corners, rings, axis=0).ravel()]),
        born=born, edges=lambda: _made_edges(topology, r, split, copies, number, (top_role, wall_role)),
        replaced_edges=lambda: _moved_edges(r, split, copies, number), data=data)


def _named(names: Names, r: Regions, cut: Ints, copies: Ints, a: Ints, b: Ints, new_faces: Ints, roles: tuple[str, str],
           walls_replace: bool) -> tuple[Born, ...]:
    """Names of what raised regions make: tops after their faces, walls after face and edge, copies of vertices after those,
    told apart by the rank of their sector, and below the top by their share of the way.

    Args:
        cut: sectors that are copied; ``copies`` (s, rings) their vertices. a, b: local corners of the outline's ends.
    """
    (top, wall), rings = roles, copies.shape[1]
    cap_v = copies[cut, -1]
    parent = names.vertex[r.sector_vertex[cut]][:, None]
    rank = r.sector_rank[cut][:, None]

    def ranks(other: Renaming) -> Ints:
        group = np.unique(other("vertex", names.vertex[r.sector_vertex]), return_inverse=True)[1]
        return sector_ranks(other("face", names.face[r.faces])[r.face], r.sector, group)[cut][:, None]

    def ranks_and(share: Ints) -> Callable[[Renaming], Ints]:
        return lambda other: np.column_stack([ranks(other), share])

    born = [
        Born("face", top, r.faces, names.face[r.faces][:, None], ("face",), np.zeros((r.faces.size, 0), np.int64),
             replaces=r.faces),
        Born("face", wall, new_faces,
             np.repeat(np.stack([names.face[r.faces[r.face[a]]], names.vertex[r.vertex[a]], names.vertex[r.vertex[b]]],
                                axis=1), rings, axis=0), ("face", "vertex", "vertex"),
             np.tile(np.arange(rings), a.size)[:, None],
             replaces=np.repeat(r.faces[r.face[a]], rings) if walls_replace else None),
        Born("vertex", top, cap_v, parent, ("vertex",), rank, continues=r.sector_vertex[cut], reindex=ranks)]
    for ring in range(rings - 1):  # a band's lower points, told by their share of the way
        share = np.broadcast_to(reduced(np.array([ring + 1]), rings), (cut.size, 2))
        born.append(Born("vertex", wall, copies[cut, ring], parent, ("vertex",), np.column_stack([rank, share]),
                         reindex=ranks_and(share)))
    return tuple(born)


def assemble(draft: Draft, mesh: Mesh, top: Floats) -> Floats:
    """(V', 3) points of the result, ``top`` (s, 3) being where each sector's vertex goes; bands lie evenly between."""
    data: Raised = draft.data
    r, points = data.regions, mesh.points
    out = np.empty((draft.topology.vertex_count, 3))
    out[:data.kept.size] = points[data.kept]
    base = points[r.sector_vertex]
    rings = data.copies.shape[1]
    for ring in range(rings):
        at = data.copies[data.split, ring]
        share = (ring + 1) / rings
        out[at] = top[data.split] if ring == rings - 1 else base[data.split] + share * (top[data.split] - base[data.split])
    moved = ~data.split
    if moved.any():
        out[np.searchsorted(data.kept, r.sector_vertex[moved])] = top[moved]
    return out


def _still_used(t: Topology, r: Regions, cut: Ints, total: int, corners: Ints) -> tuple[Ints, Ints | None]:
    """Old vertices that stay, and the new numbering when some do not (both ends of a split vertex left it)."""
    loose = np.bincount(t.corners, minlength=t.vertex_count)[r.sector_vertex[cut]] > 0
    candidates = r.sector_vertex[cut][loose & ~r.sector_open[cut]]
    if candidates.size == 0:
        return np.arange(t.vertex_count), None
    keep = np.ones(total, bool)
    keep[candidates] = False
    keep[corners] = True
    number = np.cumsum(keep) - 1
    return np.flatnonzero(keep[:t.vertex_count]), number


def _on_cap(r: Regions, corner: Ints, split: np.ndarray, copies: Ints, number: Ints | None) -> Ints:
    """New vertex of the cap at each of the given corners."""
    sector = r.sector[corner]
    plain = r.vertex[corner] if number is None else number[r.vertex[corner]]
    return np.where(split[sector], copies[sector, -1], plain)


def _made_edges(topology: Topology, r: Regions, split: np.ndarray, copies: Ints, number: Ints | None,
                roles: tuple[str, str]) -> dict[str, Ints]:
    """Edges the step made, that is those with a new end: round and inside the cap, and the walls' others."""
    corner = np.arange(r.corner.size)
    ends = np.stack([_on_cap(r, c, split, copies, number) for c in (corner, r.following)], axis=1)
    new = np.zeros(topology.vertex_count, bool)
    new[copies[split]] = True
    made = new[topology.edges].any(axis=1)
    capped = np.zeros(topology.edge_count, bool)
    capped[topology.find_edges(ends[:, 0], ends[:, 1])] = True
    return {roles[0]: topology.edges[made & capped], roles[1]: topology.edges[made & ~capped]}


def _moved_edges(r: Regions, split: np.ndarray, copies: Ints, number: Ints | None) -> tuple[Ints, Ints]:
    """Inner edges that went along with the cap, before and after."""
    inner = np.flatnonzero(~r.outline)
    a, b = inner, r.following[inner]

    def after(corner: Ints) -> Ints:
        return _on_cap(r, corner, split, copies, number)

    changed = split[r.sector[a]] | split[r.sector[b]]
    a, b = a[changed], b[changed]
    return np.stack([r.vertex[a], r.vertex[b]], axis=1), np.stack([after(a), after(b)], axis=1)


def limited(offsets: Floats, distance: float, parameter: str) -> Floats:
    """(s, 3) offsets, refused where a vertex would move more than ten times the distance asked for.

    Raises:
        BadParameter: one moves further; with the widest that works.
    """
    if _far(offsets, distance):
        raise BadParameter("a corner between nearly opposite faces would move more than ten times this distance whatever "
                           "its size; use along average, an axis or a vector", parameter)
    return offsets


def _far(offsets: Floats, distance: float) -> bool:
    return float(lengths(offsets).max(initial=0.0)) > tolerance.OFFSET_LIMIT * abs(distance) * (1 + 1e-9)


def limited_to_edges(offsets: Floats, distance: float, parameter: str, mesh: Mesh, group: Ints) -> Floats:
    """(s, 3) offsets of the vertices that corners belong to (``group``), refused where one moves more than ten times the
    distance and further than the edges there are long.

    Raises:
        BadParameter: names the largest distance that works.
    """
    if not _far(offsets, distance):
        return offsets
    t = mesh.topology
    span = mesh.points[t.corners[t.next_corner]] - mesh.points[t.corners]
    shrink = -np.einsum("ij,ij->i", offsets[group[t.next_corner]] - offsets[group], unit(span))
    uses = shrink > 1e-12
    widest = abs(distance) * float((lengths(span)[uses] / shrink[uses]).min()) if uses.any() else np.inf
    if widest < abs(distance):
        raise BadParameter(f"a corner between nearly opposite faces would move further than the edges there are long; the "
                           f"largest {parameter} that works is {{most}}", parameter, np.sign(distance) * widest)
    return offsets


def along_plane(r: Regions, summed: Floats) -> Floats:
    """(regions, 3) summed normals, those of regions that go on as their image without what the image takes back."""
    meets = np.zeros(r.region_count, bool)
    meets[r.sector_region[r.held]] = True
    if meets.any():
        summed = summed.copy()
        summed[meets, r.axis] = 0.0
    return summed


def margin_offsets(margin: float, r: Regions, mesh: Mesh, vectors: Floats, parameter: str = "margin") -> Floats:
    """(s, 3) shortest move of each outline vertex that is ``margin`` away, within its faces, from its outline edges.

    Raises:
        BadParameter: a corner is too sharp, or an edge of the cap would turn over; names the widest margin that works.
    """
    a = np.flatnonzero(r.outline)
    b = r.following[a]
    along = mesh.points[r.vertex[b]] - mesh.points[r.vertex[a]]
    inward = unit(cross(unit(vectors)[r.face[a]], along))
    d = shortest_offsets(*with_images(np.concatenate([r.sector[a], r.sector[b]]), np.concatenate([inward, inward]), r.held,
                                      r.axis), r.sector_count, margin)
    size = lengths(along)
    shrink = -np.einsum("ij,ij->i", d[r.sector[b]] - d[r.sector[a]], unit(along))
    over = shrink > size * (1 + 1e-9)
    widest = float((margin * size[over] / shrink[over]).min()) if over.any() else np.inf
    widest = min(widest, _first_hit(mesh.points, r, a, b, inward, d, margin))
    if widest < margin * (1 - 1e-9):
        raise BadParameter(f"the faces would turn over; the widest {parameter} that works is {{most}}", parameter, widest)
    return d


def _first_hit(points: Floats, r: Regions, a: Ints, b: Ints, inward: Floats, d: Floats, margin: float) -> float:
    """The margin at which a corner that points into the face first meets an edge it does not touch; infinite for none.

    ``a`` and ``b`` are the corners at the ends of outline edges, ``inward`` their unit normals, ``d`` (s, 3) the moves of
    sectors for ``margin``. Corners and edges move evenly, as in the straight skeleton of a polygon (O. Aichholzer,
    F. Aurenhammer, COCOON 1996).
    """
    if margin <= 0.0:
        return np.inf
    arriving = np.full(r.sector_count, -1, np.int64)
    arriving[r.sector[b]] = np.arange(b.size)
    edge_in = arriving[r.sector[a]]
    along = points[r.vertex[b]] - points[r.vertex[a]]
    # at the first corner of an edge the outline turns away from the inside where the edge before faces along it
    turn = np.einsum("ij,ij->i", inward[np.maximum(edge_in, 0)], along)
    reflex = np.flatnonzero((edge_in >= 0) & (turn < -1e-9 * lengths(along)))
    if not reflex.size:
        return np.inf
    region = r.region[r.face[a]]
    first = np.inf
    speed = d / margin
    for i in reflex:  # one round for each corner that points inward
        sector = r.sector[a[i]]
        others = np.flatnonzero((region == region[i]) & (r.sector[a] != sector) & (r.sector[b] != sector))
        here, move = points[r.vertex[a[i]]], speed[sector]
        ahead = np.einsum("ij,ij->i", here - points[r.vertex[a[others]]], inward[others])
        closing = 1.0 - inward[others] @ move
        meets = (ahead > 0) & (closing > 1e-12)
        time = np.where(meets, ahead / np.where(meets, closing, 1.0), np.inf)
        soon = time < first
        others, time = others[soon], time[soon]
        at = here + time[:, None] * move
        start = points[r.vertex[a[others]]] + time[:, None] * speed[r.sector[a[others]]]
        end = points[r.vertex[b[others]]] + time[:, None] * speed[r.sector[b[others]]]
        span = end - start
        share = np.einsum("ij,ij->i", at - start, span) / np.maximum(np.einsum("ij,ij->i", span, span), 1e-300)
        hit = (share >= 0) & (share <= 1)
        if hit.any():
            first = float(time[hit].min())
    return first

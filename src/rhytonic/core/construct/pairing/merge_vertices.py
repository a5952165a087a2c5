"""Several vertices made one: what weld and stitch share, of faces and of curves."""

from __future__ import annotations

import numpy as np
import scipy

from ...curve.curve import Curve
from ...curve.point_edits import label_merged
from ...mesh.mesh import Floats, Mesh
from ...mesh.topology import Ints, Topology, components
from ...step.curve_edit import CurveEdit
from ...step.draft import Draft, Merged
from .leave_out import without


def merge_vertices(mesh: Mesh, links: Ints, what: str, bodies: bool = False) -> tuple[Draft, Ints]:
    """The draft of merging vertices linked in pairs (n, 2), and the new number of every old vertex, which is its ``data``;
    −1 for those that go.

    The vertex made first stays and stands for the others; faces left with fewer than three corners go, and are noted. Where
    ``bodies`` come together, so do faces that cover each other face to face, and the vertices left without a face.

    Raises:
        StepError: a face would touch itself; ``what`` is how the message begins.
    """
    t = mesh.topology
    label = components(t.vertex_count, links[:, 0], links[:, 1])
    every = np.arange(t.vertex_count)
    first = np.empty(int(label.max(initial=-1)) + 1, np.int64)
    first[label[::-1]] = every[::-1]  # the lowest is written last
    survivor = first[label]
    vertices = np.flatnonzero(survivor == every)
    number = np.zeros(t.vertex_count, np.int64)
    number[vertices] = np.arange(vertices.size)
    onto_new = number[survivor]
    corners = onto_new[t.corners]
    keep = corners != corners[t.next_corner]
    covered = covering(corners, t) if bodies else np.zeros(0, np.int64)
    if covered.size:
        inside = np.zeros(t.face_count, bool)
        inside[covered] = True
        keep &= ~inside[t.corner_face]
        used = np.zeros(vertices.size, bool)
        used[corners[keep]] = True
        had = np.zeros(vertices.size, bool)
        had[corners] = True
        vertices = vertices[used | ~had]
        renumbered = np.full(used.size, -1, np.int64)
        renumbered[used | ~had] = np.arange(vertices.size)
        onto_new = renumbered[onto_new]
        corners = onto_new[t.corners]
    topology, faces, stay, collapsed = without(t, corners, keep, vertices.size, what)
    gone = np.flatnonzero((survivor != every) & (onto_new >= 0))
    collapsed -= covered.size
    notes = () if not collapsed else ("1 face collapsed",) if collapsed == 1 else (f"{collapsed} faces collapsed",)
    if covered.size:
        notes = (*notes, f"{covered.size} faces that covered each other face to face are gone")

    def edge_source() -> Ints:
        out = np.full(topology.edge_count, -1, np.int64)
        ends = onto_new[t.edges[::-1]]
        real = (ends >= 0).all(axis=1)
        at = np.where(real, topology.find_edges(np.maximum(ends[:, 0], 0), np.maximum(ends[:, 1], 0)), -1)
        there = at >= 0
        out[at[there]] = np.arange(t.edge_count)[::-1][there]
        return out

    return Draft(topology, vertices, faces, vertices, faces, stay, edge_source=edge_source,
                 merged=(Merged("vertex", gone, onto_new[gone]),), data=onto_new, notes=notes), onto_new


def covering(corners: Ints, t: Topology) -> Ints:
    """Faces that cover another face to face: the same vertices, run the other way. ``corners`` (C,) names them anew."""
    out = []
    for sides in np.unique(t.sides).tolist():
        faces = np.flatnonzero(t.sides == sides)
        if faces.size < 2 or sides < 3:
            continue
        loops = corners[t.corners_of(faces)].reshape(-1, sides)
        place = np.arange(faces.size)
        first = loops.argmin(axis=1)
        ahead = loops[place[:, None], (first[:, None] + np.arange(sides)) % sides]
        back = loops[place[:, None], (first[:, None] - np.arange(sides)) % sides]
        both = np.concatenate([ahead, back])
        _, number, count = np.unique(both, axis=0, return_inverse=True, return_counts=True)
        number = number.ravel()
        # one face run forward is another run backward; where more than two meet it is not for a weld to say which go
        met = (number[:faces.size] != number[faces.size:]) & (count[number[:faces.size]] == 2)
        partner = np.isin(number[:faces.size], number[faces.size:])
        out.append(faces[met & partner])
    return np.sort(np.concatenate(out)) if out else np.zeros(0, np.int64)


def merge_points(curve: Curve, links: Ints, onto: int = -1) -> CurveEdit:
    """The edit of merging points of a curve linked in pairs (n, 2): each cluster at its mean, or at its point ``onto``.

    Raises:
        StepError: more than two spans would meet at a point.
    """
    n = len(curve.points)
    label = components(n, links[:, 0], links[:, 1])
    size = np.bincount(label)
    place = np.stack([np.bincount(label, curve.points[:, k]) for k in range(3)], axis=1) / size[:, None]
    alone = size[label] == 1
    place[label[alone]] = curve.points[alone]
    if onto >= 0:
        place[label[onto]] = curve.points[onto]
    made, source, gone = label_merged(curve, label, place)
    return CurveEdit(made, source, gone=gone)


def mean_points(mesh: Mesh, draft: Draft, number: Ints) -> Floats:
    """(V', 3) each vertex at the mean of those it stands for."""
    count = draft.topology.vertex_count
    size = np.bincount(number[number >= 0], minlength=count)
    several = np.flatnonzero((number >= 0) & (size[number] > 1))
    into, points = number[several], mesh.points[several]
    mean = mesh.points[draft.kept_vertices]  # others untouched to the last bit
    merged = np.flatnonzero(size > 1)
    for k in range(3):
        mean[merged, k] = np.bincount(into, points[:, k], count)[merged] / size[merged]
    return mean


def pairs_within(points: Floats, vertices: Ints, distance: float) -> Ints:
    """(n, 2) pairs of the vertices strictly nearer to each other than ``distance``."""
    if distance == 0.0 or vertices.size < 2:
        return np.zeros((0, 2), np.int64)
    pairs = scipy.spatial.cKDTree(points[vertices]).query_pairs(distance, output_type="ndarray").astype(np.int64)
    pairs = vertices[pairs]
    apart = np.linalg.norm(points[pairs[:, 0]] - points[pairs[:, 1]], axis=1)
    out: Ints = pairs[apart < distance]
    return out

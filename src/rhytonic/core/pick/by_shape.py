"""Rules that look at how faces lie."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..mesh.geometry import Floats, cross, lengths, unit
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints, components
from ..params import AXES


def facing(mesh: Mesh, direction: str | Sequence[float], within: float) -> Ints:
    """(n,) faces whose normal is within ``within`` degrees of a direction; faces without area face nowhere."""
    wanted = unit(np.asarray(AXES[direction] if isinstance(direction, str) else direction, float))
    return np.flatnonzero(_within(mesh.normals, wanted, within))


def _within(normals: Floats, direction: Floats, degrees: float) -> np.ndarray:
    """Angle test by atan2 of sine and cosine: exact near 0° and 180°, where the cosine alone is blind."""
    cosine = normals @ direction
    across = normals - cosine[:, None] * direction
    sine = np.sqrt(np.einsum("ij,ij->i", across, across))
    real = np.einsum("ij,ij->i", normals, normals) > 0.5
    close: np.ndarray = real & (np.degrees(np.arctan2(sine, cosine)) <= degrees + 1e-9)
    return close


def sharper_than(mesh: Mesh, degrees: float) -> Ints:
    """(n,) edges of two faces whose normals turn by more than so many degrees."""
    t = mesh.topology
    order, starts = t.edge_corners
    edges = np.flatnonzero(t.edge_face_count == 2)
    a, b = mesh.normals[t.corner_face[order[starts[edges]]]], mesh.normals[t.corner_face[order[starts[edges] + 1]]]
    turn = np.degrees(np.arctan2(lengths(cross(a, b)), np.einsum("ij,ij->i", a, b)))
    sharp: Ints = edges[turn > degrees + 1e-9]
    return sharp


def flat_around(mesh: Mesh, seeds: Ints, within: float) -> Ints:
    """(n,) for each seed face, the edge-connected faces that face as it does, within degrees; all regions together."""
    t = mesh.topology
    order, starts = t.edge_corners
    inner = np.flatnonzero(t.edge_face_count >= 2)
    a, b = t.corner_face[order[starts[inner]]], t.corner_face[order[starts[inner] + 1]]
    found = np.zeros(t.face_count, bool)
    done = np.zeros(t.face_count, bool)
    for seed in seeds:  # seeds inside a region already found with the same normal add nothing
        if done[seed]:
            continue
        same = _within(mesh.normals, mesh.normals[seed], within)
        same[seed] = True
        link = same[a] & same[b]
        label = components(t.face_count, a[link], b[link])
        region = same & (label == label[seed])
        found |= region
        done |= region & (mesh.normals @ mesh.normals[seed] > 1 - 1e-12)
    return np.flatnonzero(found)

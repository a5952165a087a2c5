"""Places of corners on the texture square: islands, and how a surface is stretched there.

UVs are a corner attribute, u right and v up; a corner that has none holds NaN. An island is a set of faces joined across
edges whose corners share their UVs.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .attributes import Attribute
from .geometry import Floats, cross, lengths
from .mesh import Mesh
from .topology import Bools, Ints, components
from .triangulate import triangles_by_corners

UV = "uv"
#: face attribute: which projection of world size a face is laid out by, 0 for none
WORLD = "world_uv"
#: face attribute: copies, as images of a mirror, that share the places of what they are copies of
COPY = "uv_copy"
#: face attribute: pixels along the square that it was packed for
RESOLUTION = "uv_resolution"
#: corners nearer than this on the square share their place
SAME = 1e-7


def uv_attribute(values: Floats) -> Attribute:
    """The attribute of (C, 2) places, NaN where a corner has none."""
    return Attribute("corner", values, "interpolate", np.nan)


def uvs(mesh: Mesh) -> Floats | None:
    """(C, 2) places of all corners, NaN where one has none; None where no face is laid out at all."""
    found = mesh.attributes.get(UV)
    if found is None or len(found.values) != mesh.topology.corner_count or not np.isfinite(found.values).any():
        return None
    values: Floats = found.values
    return values


def laid_out(mesh: Mesh, uv: Floats) -> Bools:
    """(F,) faces all of whose corners have a place."""
    t = mesh.topology
    bad = np.zeros(t.face_count, bool)
    bad[t.corner_face[~np.isfinite(uv).all(axis=1)]] = True
    out: Bools = ~bad
    return out


def resolution(mesh: Mesh) -> int:
    """Pixels along the square that the part was packed for, else 2,048."""
    found = mesh.attributes.get(RESOLUTION)
    largest = 0 if found is None or not len(found.values) else int(found.values.max())
    return largest or 2048


def world_sized(mesh: Mesh) -> Bools:
    """(F,) faces laid out in world size, which repeat the square and may lie over each other on it."""
    found = mesh.attributes.get(WORLD)
    return np.zeros(mesh.topology.face_count, bool) if found is None else np.asarray(found.values > 0)


def by_lengths(mesh: Mesh) -> Bools:
    """(F,) faces that only keep the lengths a sweep, lathe or extruded curve left on them: nobody laid them out yet."""
    found = mesh.attributes.get(WORLD)
    if found is None:
        return np.zeros(mesh.topology.face_count, bool)
    left = np.array([False, *(by is None for by in found.about)])
    out: Bools = left[np.clip(found.values, 0, left.size - 1)]
    return out


def shared(mesh: Mesh) -> Bools:
    """(F,) copies that share the places of what they are copies of."""
    found = mesh.attributes.get(COPY)
    return np.zeros(mesh.topology.face_count, bool) if found is None else np.asarray(found.values > 0)


def joined(mesh: Mesh, uv: Floats) -> Bools:
    """(C,) half-edges whose two faces share both their ends' places."""
    t = mesh.topology
    twin = t.twin
    here = np.flatnonzero(twin >= 0)
    there = twin[here]
    out = np.zeros(t.corner_count, bool)
    with np.errstate(invalid="ignore"):
        same = (np.abs(uv[here] - uv[t.next_corner[there]]) <= SAME).all(axis=1) & \
               (np.abs(uv[t.next_corner[here]] - uv[there]) <= SAME).all(axis=1)
    out[here[same]] = True
    return out


def islands_of(mesh: Mesh, uv: Floats) -> Ints:
    """(F,) number of each face's island, from 0 in the order of their first faces; −1 for faces that have no places."""
    t = mesh.topology
    has = laid_out(mesh, uv)
    half = np.flatnonzero(joined(mesh, uv))
    half = half[half < t.twin[half]]
    label = components(t.face_count, t.corner_face[half], t.corner_face[t.twin[half]])
    out = np.full(t.face_count, -1)
    if has.any():
        _, first, number = np.unique(label[has], return_index=True, return_inverse=True)
        rank = np.empty(first.size, np.int64)
        rank[np.argsort(first)] = np.arange(first.size)
        out[has] = rank[number.ravel()]
    return out


@dataclass(frozen=True)
class Flat:
    """The triangles of a mesh on the square.

    Attributes:
        mesh, uv: the mesh, and (C, 2) places of its corners.
        corners: (T, 3) corners of the triangles of faces that are laid out; face: (T,) the face of each.
    """

    mesh: Mesh
    uv: Floats
    corners: Ints
    face: Ints

    @classmethod
    def of(cls, mesh: Mesh, uv: Floats) -> Flat:
        """The triangulation that measures, files and the screen share, where it has places."""
        corners, face = triangles_by_corners(mesh)
        good = laid_out(mesh, uv)[face]
        return cls(mesh, uv, corners[good], face[good])

    @cached_property
    def places(self) -> Floats:
        """(T, 3, 2) the triangles on the square."""
        out: Floats = self.uv[self.corners]
        return out

    @cached_property
    def signed(self) -> Floats:
        """(T,) areas on the square, negative where a triangle lies turned over."""
        a, b, c = (self.places[:, k] for k in range(3))
        out: Floats = ((b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])) / 2
        return out

    @cached_property
    def areas(self) -> Floats:
        """(T,) areas on the model, square metres."""
        p = self.mesh.points[self.mesh.topology.corners[self.corners]]
        out: Floats = lengths(cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])) / 2
        return out

    @cached_property
    def face_signed(self) -> Floats:
        """(F,) signed areas on the square, faces by faces."""
        return np.asarray(np.bincount(self.face, self.signed, self.mesh.topology.face_count), np.float64)

    @cached_property
    def face_areas(self) -> Floats:
        """(F,) areas on the model of the faces that are laid out."""
        return np.asarray(np.bincount(self.face, self.areas, self.mesh.topology.face_count), np.float64)

    @cached_property
    def singular(self) -> Floats:
        """(T, 2) the larger and the smaller stretch of the map from the surface to the square, per metre; zero for triangles
        without area on the model (P. V. Sander et al., Texture Mapping Progressive Meshes, SIGGRAPH 2001)."""
        p = self.mesh.points[self.mesh.topology.corners[self.corners]]
        e, f = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
        q = self.places
        g, h = q[:, 1] - q[:, 0], q[:, 2] - q[:, 0]
        long = lengths(e)
        x = np.einsum("ij,ij->i", e, f) / np.where(long > 0, long, 1)
        y = 2 * self.areas / np.where(long > 0, long, 1)
        good = (long > 0) & (y > 1e-12 * np.maximum(long, 1e-300))
        one, two = np.where(good, long, 1)[:, None], np.where(good, y, 1)[:, None]
        along = g / one
        across = (h - along * x[:, None]) / two
        a = np.einsum("ij,ij->i", along, along)
        c = np.einsum("ij,ij->i", across, across)
        b = np.einsum("ij,ij->i", along, across)
        mean, half = (a + c) / 2, np.hypot((a - c) / 2, b)
        most = np.sqrt(mean + half)
        det = np.abs(along[:, 0] * across[:, 1] - along[:, 1] * across[:, 0])
        out = np.stack([most, np.where(most > 0, det / np.where(most > 0, most, 1), 0)], axis=1)
        out[~good] = 0
        return out

    @cached_property
    def stretch(self) -> Floats:
        """(T,) σ1/σ2 of each triangle, 1 where shape is kept; infinite where it is flattened to a line, 1 where the model
        has no area."""
        one, two = self.singular.T
        flat = one > 0
        with np.errstate(divide="ignore"):
            ratio = np.where(two > 1e-12 * one, one / np.where(two > 0, two, 1), np.inf)
        return np.where(flat, ratio, np.where(self.areas > 0, np.inf, 1.0))

    @cached_property
    def face_stretch(self) -> Floats:
        """(F,) the worst stretch of each face's triangles, 1 for faces without places."""
        out = np.ones(self.mesh.topology.face_count)
        np.maximum.at(out, self.face, self.stretch)
        return out

    @cached_property
    def face_density(self) -> Floats:
        """(F,) squares a metre: √(area on the square / area on the model); 0 for faces without either."""
        area = self.face_areas
        return np.sqrt(np.abs(self.face_signed) / np.where(area > 0, area, 1)) * (area > 0)

    @cached_property
    def turned(self) -> Bools:
        """(F,) faces that lie turned over on the square: more of them runs the wrong way than can be rounding."""
        per = np.bincount(self.face, np.abs(self.signed), self.mesh.topology.face_count)
        out: Bools = self.face_signed < -1e-9 * np.maximum(per, 1e-300)
        return out

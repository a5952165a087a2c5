"""A small picture of meshes, drawn without a graphics card: triangles in flat shades, the nearest seen at each pixel
(the z-buffer of E. Catmull, A Subdivision Algorithm for Computer Display of Curved Surfaces, thesis, 1974)."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..mesh.triangulate import triangulate

#: towards the eye, from the front, the right and above; light comes from the upper left
_EYE = np.array([0.55, 0.5, 0.67])
_LIGHT = np.array([-0.25, 0.85, 0.45])
_PAPER, _DARK, _BRIGHT, _INK = (246, 243, 235), np.array([96, 104, 108]), np.array([226, 229, 224]), (24, 30, 40)
_SHARPER = 3
#: faces whose normals agree more than that lie in one
_TURNS = 0.985
#: pixels looked at in one go
_MOST = 4_000_000


def thumbnail(meshes: Sequence[Mesh], side: int = 160) -> bytes:
    """A PNG of meshes where they stand, (side, side) pixels, seen from the front, the right and above."""
    pixels = side * _SHARPER
    out = np.empty((pixels, pixels, 3), np.uint8)
    out[:] = _PAPER
    there = [m for m in meshes if m.topology.face_count]
    if there:
        _draw(out, there)
    packed = io.BytesIO()
    Image.fromarray(out).resize((side, side), Image.Resampling.LANCZOS).save(packed, "PNG", optimize=True)
    return packed.getvalue()


def _draw(out: NDArray[np.uint8], meshes: Sequence[Mesh]) -> None:
    pixels = len(out)
    eye = _EYE / np.linalg.norm(_EYE)
    right = np.cross([0.0, 1.0, 0.0], eye)
    right /= np.linalg.norm(right)
    up = np.cross(eye, right)
    axes = np.stack([right, -up, eye], axis=1)
    corners, colours = [], []
    light = _LIGHT / np.linalg.norm(_LIGHT)
    owner = []
    count = 0
    for mesh in meshes:
        triangles, face = triangulate(mesh)
        seen = (mesh.normals @ eye > 0)[face]
        corners.append((mesh.points @ axes)[triangles[seen]])
        owner.append(count + face[seen])
        count += mesh.topology.face_count
        shade = np.clip(0.45 + 0.55 * (mesh.normals @ light), 0, 1)[:, None]
        colours.append(_DARK * (1 - shade) + _BRIGHT * shade)
    at = np.concatenate(corners)
    if not len(at):
        return
    low, high = at[..., :2].min(axis=(0, 1)), at[..., :2].max(axis=(0, 1))
    scale = 0.86 * pixels / max(float((high - low).max()), 1e-12)
    at[..., :2] = (at[..., :2] - (low + high) / 2) * scale + pixels / 2
    face, depth = _nearest(at, np.concatenate(owner), pixels)
    shown = face >= 0
    out[shown] = np.concatenate(colours)[face[shown]]
    normals = np.concatenate([m.normals for m in meshes])
    depth = np.where(shown, depth, 0.0)
    rim = np.zeros_like(shown)
    for here, beside in ((np.s_[:, :-1], np.s_[:, 1:]), (np.s_[:-1], np.s_[1:])):
        rim[here] |= _apart(face[here], face[beside], depth[here] - depth[beside], normals, 0.01 * pixels / scale)
    out[rim] = _INK


def _apart(a: Ints, b: Ints, step: Floats, normals: Floats, deep: float) -> NDArray[np.bool_]:
    """Where an ink line stands: at the rim, where faces turn, and where one lies behind the other."""
    other = a != b
    out: NDArray[np.bool_] = other & ((a < 0) | (b < 0))
    both = np.nonzero(other & ~out)
    turned = np.einsum("ij,ij->i", normals[a[both]], normals[b[both]]) < _TURNS
    out[both] = turned | (np.abs(step[both]) > deep)
    return out


def _nearest(at: Floats, face: Ints, pixels: int) -> tuple[Ints, Floats]:
    """(pixels, pixels) the face seen at each pixel, −1 for none, and its depth; of triangles (n, 3, 3) in pixels
    across and down, and depth."""
    depth = np.full(pixels * pixels, -np.inf)
    out: Ints = np.full(pixels * pixels, -1, np.int64)
    low = np.clip(np.floor(at[..., :2].min(axis=1)).astype(np.int64), 0, pixels - 1)
    high = np.clip(np.ceil(at[..., :2].max(axis=1)).astype(np.int64), 0, pixels)
    span = np.maximum((high - low).max(axis=1), 1)
    size = 2 ** np.ceil(np.log2(span)).astype(np.int64)  # triangles of about one size are looked at together
    for s in np.unique(size):
        every = np.flatnonzero(size == s)
        for chunk in np.array_split(every, max(1, -(-len(every) * int(s) ** 2 // _MOST))):
            _cover(at[chunk], face[chunk], low[chunk], int(s), pixels, depth, out)
    return out.reshape(pixels, pixels), depth.reshape(pixels, pixels)


def _cover(at: Floats, face: Ints, low: Ints, size: int, pixels: int, depth: Floats, out: Ints) -> None:
    """Enter triangles into what is nearest so far, over squares of ``size`` pixels from their lowest."""
    step = np.arange(size)
    x, y = low[:, 0, None, None] + step[None, None, :], low[:, 1, None, None] + step[None, :, None]
    a, b, c = at[:, 0, :, None, None], at[:, 1, :, None, None], at[:, 2, :, None, None]
    area = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    area = np.where(np.abs(area) < 1e-12, np.inf, area)
    px, py = x + 0.5, y + 0.5
    v = ((px - a[:, 0]) * (c[:, 1] - a[:, 1]) - (py - a[:, 1]) * (c[:, 0] - a[:, 0])) / area
    w = ((b[:, 0] - a[:, 0]) * (py - a[:, 1]) - (b[:, 1] - a[:, 1]) * (px - a[:, 0])) / area
    covered = (v >= 0) & (w >= 0) & (v + w <= 1) & np.isfinite(area) & (x < pixels) & (y < pixels)
    near = a[:, 2] + v * (b[:, 2] - a[:, 2]) + w * (c[:, 2] - a[:, 2])
    which = np.nonzero(covered)
    pixel = (np.broadcast_to(y, covered.shape) * pixels + np.broadcast_to(x, covered.shape))[which]
    here = near[which]
    np.maximum.at(depth, pixel, here)
    wins = here >= depth[pixel]
    out[pixel[wins]] = face[which[0][wins]]


__all__ = ["thumbnail"]

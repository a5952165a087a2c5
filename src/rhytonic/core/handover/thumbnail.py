"""A small picture of meshes, drawn without a graphics card: faces in flat shades, the farthest first (M. Newell, R. Newell,
T. Sancha, ACM National Conference, 1972)."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
from PIL import Image, ImageDraw

from ..mesh.mesh import Floats, Mesh

#: towards the eye, from the front, the right and above; light comes from the upper left
_EYE = np.array([0.55, 0.5, 0.67])
_LIGHT = np.array([-0.25, 0.85, 0.45])
_PAPER, _DARK, _BRIGHT, _INK = (246, 243, 235), np.array([96, 104, 108]), np.array([226, 229, 224]), (24, 30, 40)
_SHARPER = 3


def thumbnail(meshes: Sequence[Mesh], side: int = 160) -> bytes:
    """A PNG of meshes where they stand, (side, side) pixels, seen from the front, the right and above."""
    eye = _EYE / np.linalg.norm(_EYE)
    right = np.cross([0.0, 1.0, 0.0], eye)
    right /= np.linalg.norm(right)
    up = np.cross(eye, right)
    image = Image.new("RGB", (side * _SHARPER, side * _SHARPER), _PAPER)
    there = [m for m in meshes if m.topology.face_count]
    if there:
        flat = [np.stack([m.points @ right, m.points @ up], axis=1) for m in there]
        _draw(ImageDraw.Draw(image), there, flat, eye, side * _SHARPER)
    out = io.BytesIO()
    image.resize((side, side), Image.Resampling.LANCZOS).save(out, "PNG", optimize=True)
    return out.getvalue()


def _draw(pen: ImageDraw.ImageDraw, meshes: Sequence[Mesh], flat: Sequence[Floats], eye: Floats, pixels: int) -> None:
    low = np.min([f.min(axis=0) for f in flat], axis=0)
    high = np.max([f.max(axis=0) for f in flat], axis=0)
    scale = 0.86 * pixels / max(float((high - low).max()), 1e-12)
    light = _LIGHT / np.linalg.norm(_LIGHT)
    faces: list[tuple[float, list[tuple[float, float]], tuple[int, int, int]]] = []
    for mesh, points in zip(meshes, flat, strict=True):
        at = (points - (low + high) / 2) * scale
        at = np.stack([pixels / 2 + at[:, 0], pixels / 2 - at[:, 1]], axis=1)
        shade = np.clip(0.45 + 0.55 * (mesh.normals @ light), 0, 1)[:, None]
        colours = (_DARK * (1 - shade) + _BRIGHT * shade).astype(int)
        towards, depth, t = mesh.normals @ eye, mesh.face_centres @ eye, mesh.topology
        for f in np.flatnonzero(towards > 0).tolist():
            corners = t.corners[t.offsets[f]:t.offsets[f + 1]]
            red, green, blue = colours[f].tolist()
            faces.append((float(depth[f]), [(x, y) for x, y in at[corners].tolist()], (red, green, blue)))
    for _, corners_at, colour in sorted(faces, key=lambda face: face[0]):
        pen.polygon(corners_at, fill=colour, outline=_INK, width=_SHARPER // 2)

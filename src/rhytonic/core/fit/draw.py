"""The deviation of a model from a board, drawn over the board's picture."""

from __future__ import annotations

import io

import numpy as np
import shapely
from PIL import Image, ImageDraw

from ..brief.board import Board
from ..brief.standing import from_plane
from ..mesh.mesh import Floats
from ..picture.decode import Picture
from .compare import Figures

_PAPER, _PICTURE, _OUTSIDE, _INSIDE, _MODEL = (245, 242, 234), (31, 42, 55), (179, 20, 107), (30, 111, 120), (31, 42, 55)
_LEAST, _MOST = 700, 2400
_DASH = 7


def overlay(picture: Picture, board: Board, figures: Figures, model: shapely.Geometry, metres: float) -> bytes:
    """A PNG: the picture faded; the model's outline, berry and whole where it lies outside the picture's, teal and dashed
    where inside; whiskers to the picture's outline; a ring round the worst place."""
    columns, rows = picture.size
    faded = np.asarray(_PAPER) * 0.55 + picture.colour * 255 * 0.45
    if picture.alpha is not None:
        faded = np.asarray(_PAPER) * (1 - picture.alpha[..., None]) + faded * picture.alpha[..., None]
    image = Image.fromarray(np.round(faded).astype(np.uint8), "RGB")
    scale = max(1.0, _LEAST / max(columns, rows)) if max(columns, rows) < _LEAST else min(1.0, _MOST / max(columns, rows))
    image = image.resize((max(round(columns * scale), 1), max(round(rows * scale), 1)))
    margin = round(0.08 * max(image.size))
    sheet = Image.new("RGB", (image.width + 2 * margin, image.height + 2 * margin), _PAPER)
    sheet.paste(image, (margin, margin))
    draw = ImageDraw.Draw(sheet)
    pixel = image.width / (board.width * metres)

    def at(plane: Floats) -> list[tuple[float, float]]:
        local = from_plane(board, plane, metres)
        return [(margin + image.width / 2 + x * pixel, margin + image.height - y * pixel) for x, y in local]

    walk = figures.model
    for a, b, off in zip(at(walk.points), at(walk.near), walk.off, strict=True):
        draw.line([a, b], fill=_OUTSIDE if off > 0 else _INSIDE, width=1)
    for ring in np.unique(figures.picture.ring):
        points = at(figures.picture.points[figures.picture.ring == ring])
        draw.line([*points, points[0]], fill=_PICTURE, width=1)
    for ring in np.unique(walk.ring):
        here = np.flatnonzero(walk.ring == ring)
        points = at(walk.points[here])
        for k, (a, b) in enumerate(zip(points, points[1:] + points[:1], strict=True)):
            outside = walk.off[here[k]] > 0
            if outside or (k // _DASH) % 2 == 0:
                draw.line([a, b], fill=_OUTSIDE if outside else _INSIDE, width=3)
    if figures.worst_at is not None:
        [(x, y)] = at(np.array([figures.worst_at]))
        draw.ellipse([x - 12, y - 12, x + 12, y + 12], outline=_MODEL, width=3)
    file = io.BytesIO()
    sheet.save(file, "PNG")
    return file.getvalue()

"""Boards in the plane of their view: where their outlines and trusted regions lie, and how a model fits them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from ..brief.board import Board
from ..brief.standing import to_plane
from ..brief.tracing import Trust
from ..brief.views import View
from ..mesh.mesh import Mesh
from ..picture.trace import EMPTY, from_rings, paint
from .compare import Figures, compare
from .outline import outline

#: how far beyond a picture its trusted region reaches, in picture widths: what sticks out of the picture is judged too
_BEYOND = 10.0


def view_of(board: Board) -> View | None:
    """The view whose plane a board stands in; None for one that stands free."""
    return None if board.view == "free" else board.view


def outline_of(board: Board, metres: float) -> shapely.Geometry:
    """A board's traced outline in its view, in metres; empty when it has none."""
    if board.outline is None or not board.outline.rings:
        return EMPTY
    scale = metres * board.width / board.outline.width
    return from_rings([to_plane(board, np.asarray(ring) * scale, metres) for ring in board.outline.rings])


def trusted_of(board: Board, height: float, metres: float) -> shapely.Geometry | None:
    """The region figures go by, in metres of the view; None for all of it.

    Args:
        height: of the picture, in its widths.
    """
    if board.trust.whole:
        return None
    region = trusted(board.trust, height)
    return shapely.transform(region, lambda p: to_plane(board, p * (board.width * metres), metres))


def trusted(trust: Trust, height: float) -> shapely.Geometry:
    """A trusted region in picture widths."""
    far = _BEYOND
    starts = {
        "all": (-far, -far, far, far), "left": (-far, -far, 0.0, far), "right": (0.0, -far, far, far),
        "lower": (-far, -far, far, height / 2), "upper": (-far, height / 2, far, far)}
    region = EMPTY
    if trust.start == "box" and trust.box is not None:
        left, lower, right, upper = trust.box
        region = shapely.box(left - 0.5, lower * height, right - 0.5, upper * height)
    elif trust.start in starts:
        region = shapely.box(*starts[trust.start])
    return paint(region, trust.strokes)


def fit(board: Board, meshes: Sequence[Mesh], height: float, metres: float) -> Figures | None:
    """How meshes, placed in the build, fit a board; None where there is nothing to compare.

    Args:
        height: of the board's picture, in its widths.
        metres: in one of the document's units; figures come in metres.
    """
    view = view_of(board)
    if view is None or board.outline is None:
        return None
    return compare(outline(meshes, view), outline_of(board, metres), trusted_of(board, height, metres))

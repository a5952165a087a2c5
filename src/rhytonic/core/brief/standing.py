"""Where what is drawn on a board stands."""

from __future__ import annotations

import numpy as np

from ..mesh.geometry import rotation
from ..mesh.mesh import Floats
from .board import Board
from .views import PLANES


def to_plane(board: Board, local: Floats, metres: float) -> Floats:
    """Places (n, 2) on a board, metres across from its middle and up from its lower edge, as across and up of its view."""
    x, y = local.T
    if board.mirrored:
        x = -x
    angle = np.radians(board.turn)
    c, s = np.cos(angle), np.sin(angle)
    return np.stack([c * x - s * y, s * x + c * y], axis=1) + np.asarray(board.at) * metres


def from_plane(board: Board, plane: Floats, metres: float) -> Floats:
    """(…, 2) the inverse of ``to_plane``."""
    x, y = (plane - np.asarray(board.at) * metres).T
    angle = np.radians(board.turn)
    c, s = np.cos(angle), np.sin(angle)
    x, y = c * x + s * y, -s * x + c * y
    return np.stack([-x if board.mirrored else x, y], axis=1)


def in_space(board: Board, local: Floats, metres: float) -> Floats:
    """Places (n, 2) on a board, metres across from its middle and up from its lower edge, in the build (n, 3): in the plane
    of its view through the origin, or where a free one stands."""
    flat = to_plane(board, local, metres)
    if board.view != "free":
        return np.asarray(flat @ PLANES[board.view])
    upright = np.concatenate([flat, np.zeros((len(flat), 1))], axis=1)
    return np.asarray(upright @ rotation(board.place.rotate).T + np.asarray(board.place.translate) * metres)


def rings_in_space(board: Board, metres: float) -> list[Floats]:
    """(n, 3) each, the rings of a board's traced outline in the build; none where it was not traced."""
    if board.outline is None:
        return []
    scale = metres * board.width / board.outline.width
    return [in_space(board, np.asarray(ring) * scale, metres) for ring in board.outline.rings]

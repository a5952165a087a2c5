"""The profile of a bevel: the arc tangent to both sides, its chord, and what lies between."""

from __future__ import annotations

import numpy as np

from ...compiled import NEW_STACK, POINTS, compiled
from ...mesh.geometry import Floats

#: sides that turn by less than this (radians) have their chord for an arc
_STRAIGHT = 1e-6


def arc_shares(angle: Floats, segments: int) -> tuple[Floats, Floats]:
    """(n, segments−1) shares α, β so that c + α(p − c) + β(q − c) lies on the arc from p to q tangent to the sides from c.

    ``angle`` (n,) is that between the sides. The arc of legs of length one has the radius tan(angle/2) and turns by
    π − angle; for unequal legs the shares give its affine image, which is tangent to the sides as well.
    """
    turn = np.pi - angle[:, None]
    step = np.arange(1, segments) / segments
    theta = turn * step
    straight = np.abs(turn) < _STRAIGHT
    safe = np.where(straight, np.pi / 2, angle[:, None])
    cosine = np.cos(safe)
    beta = (1 - np.cos(theta)) / (1 + cosine)  # tan(angle/2) / sin(angle) = 1 / (1 + cos(angle)), whole for folded sides too
    alpha = 1 - np.tan(safe / 2) * np.sin(theta) - cosine * beta
    flat = np.broadcast_to(step, theta.shape)
    return np.where(straight, 1 - flat, alpha), np.where(straight, flat, beta)


def arc_points(p: Floats, q: Floats, c: Floats, angle: Floats, segments: int) -> tuple[Floats, Floats]:
    """(n, segments−1, 3) points on the arcs from p to q (n, 3) with corner c, and the points of their chords."""
    alpha, beta = arc_shares(angle, segments)
    step = np.broadcast_to(np.arange(1, segments) / segments, alpha.shape)
    return _between(p, q, c, alpha, beta), _between(p, q, p, step, step)


@compiled(NEW_STACK, POINTS, POINTS, POINTS, POINTS, POINTS)
def _between(p: Floats, q: Floats, c: Floats, alpha: Floats, beta: Floats) -> Floats:
    """c + α(p − c) + β(q − c) for each row of shares."""
    out = np.empty((*alpha.shape, 3))
    for i in range(len(alpha)):
        for k in range(3):
            to_p, to_q = p[i, k] - c[i, k], q[i, k] - c[i, k]
            for j in range(alpha.shape[1]):
                out[i, j, k] = c[i, k] + alpha[i, j] * to_p + beta[i, j] * to_q
    return out

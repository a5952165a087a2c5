"""Where sections stand along a path: at every point, in the plane that halves the corner, or turning round it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from ..errors import StepError
from ..mesh.geometry import cross, lengths, unit
from ..mesh.mesh import Floats
from ..mesh.topology import Bools, Ints
from .curve import ARC, CUBIC, STEPS, Curve, Polyline
from .frames import Frames, frames_along

#: a corner whose spans meet at less than this angle, in radians, is smooth
_SMOOTH = np.radians(1.0)
#: cosine of the sharpest turn that still has a plane halving it
_TURNS_BACK = -1 + 1e-9


@dataclass(frozen=True, eq=False)
class Stations:
    """Rows of one run: each at a point of it, some of them several times, turned on from the edge before to the one after.

    Attributes:
        points: (n, 3) the run; frames: the axes of its edges.
        closed: whether it comes back.
        point: (R,) point of each row.
        turned: (R, 2) for rows about a round corner, which of them it is and of how many; 0 of 0 for all others.
        name: (R, 3) span's beginning as a point of the curve, and the share of the span, reduced.
        ends: normals of the planes in which an open run is cut off; None for a closed one.
    """

    points: Floats
    frames: Frames
    closed: bool
    point: Ints
    turned: Ints
    name: Ints
    ends: tuple[Floats, Floats] | None

    @cached_property
    def pattern(self) -> bytes:
        """What the faces depend on."""
        return self.point.tobytes() + self.turned.tobytes() + self.name.tobytes()

    @cached_property
    def edges(self) -> tuple[Ints, Ints]:
        """(R,) edge before and edge after each row; at the ends of an open run the same one twice."""
        m = len(self.frames.tangent)
        if self.closed:
            return (self.point - 1) % m, self.point
        return np.maximum(self.point - 1, 0), np.minimum(self.point, m - 1)

    def sections(self, flat: Floats, twist: float, scale: tuple[float, float]) -> Floats:
        """(R, M, 3) where the (M, 2) points of an outline come to stand. ``twist`` in radians over the whole length,
        ``scale`` at the start and at the end."""
        f = self.frames
        share = f.along[self.point] / f.length
        angle = share * (twist + f.left)
        size = scale[0] + (scale[1] - scale[0]) * share
        before, after = self.edges
        c, s = (np.cos(angle) * size)[:, None], (np.sin(angle) * size)[:, None]
        x = f.x[after] * c + f.y[after] * s
        y = f.y[after] * c - f.x[after] * s
        arms = flat[None, :, :1] * x[:, None] + flat[None, :, 1:] * y[:, None]
        ahead, behind = f.tangent[after], f.tangent[before]
        normal = ahead + behind
        if self.ends is not None:
            normal[0], normal[-1] = self.ends
        slide = np.einsum("rmi,ri->rm", arms, normal) / np.einsum("ri,ri->r", ahead, normal)[:, None]
        out: Floats = self.points[self.point][:, None] + arms - slide[:, :, None] * ahead[:, None]
        for row in np.flatnonzero(self.turned[:, 1]):  # as many as there are round corners
            outer = self.outer(arms[row:row + 1], np.array([row]))[0]
            axis = cross(behind[row], ahead[row])
            whole = float(np.arctan2(np.linalg.norm(axis), behind[row] @ ahead[row]))
            back = -whole * (1 - self.turned[row, 0] / self.turned[row, 1])
            out[row, outer] = self.points[self.point[row]] + _turned(arms[row, outer], unit(axis[None])[0], back)
        return out

    def outer(self, arms: Floats, rows: Ints) -> Bools:
        """(k, M) which arms of some rows reach to the outside of the corner there."""
        before, after = self.edges
        out = self.frames.tangent[before[rows]] - self.frames.tangent[after[rows]]
        reach = np.einsum("kmi,ki->km", arms, out)
        outside: Bools = reach > 1e-12 * np.maximum(lengths(arms), 1e-300) * lengths(out)[:, None]
        return outside


def _turned(arms: Floats, axis: Floats, angle: float) -> Floats:
    """Vectors turned about a unit axis by radians."""
    c, s = np.cos(angle), np.sin(angle)
    out: Floats = arms * c + cross(axis[None], arms) * s + np.outer(arms @ axis, axis) * (1 - c)
    return out


@lru_cache(64)
def stations_of(curve: Curve, run: int, corners: str, up: tuple[float, float, float] | None) -> Stations:
    """Rows along a run of a curve.

    Raises:
        StepError: it has no length, or turns straight back on itself.
    """
    line = curve.divided
    where = line.run(run)
    points, closed = line.points[where], bool(line.closed[run])
    if len(points) < 2:
        raise StepError("the path has a run of one point; draw it on, or take it out")
    frames = frames_along(points, closed, up)
    ahead = frames.tangent if closed else frames.tangent[1:]
    behind = np.roll(frames.tangent, 1, axis=0) if closed else frames.tangent[:-1]
    back = np.flatnonzero(np.einsum("ij,ij->i", ahead, behind) < _TURNS_BACK)
    if back.size:
        at = points[back[0] if closed else back[0] + 1]
        raise StepError("the path turns straight back on itself at {point}; move a point there", point=at)
    times = np.ones(len(points), np.int64)
    if corners == "round":
        bend = np.zeros(len(points))
        inner = slice(0, None) if closed else slice(1, -1)
        bend[inner] = np.arccos(np.clip(np.einsum("ij,ij->i", ahead, behind), -1, 1))
        sharp = _sharp(curve, line, where) & (bend > _SMOOTH)
        times[sharp] += np.maximum(1, np.ceil(STEPS * bend[sharp] / (np.pi / 2) - 1e-9)).astype(np.int64)
    point = np.repeat(np.arange(len(points)), times)
    which = np.arange(point.size) - np.repeat(np.cumsum(times) - times, times)
    turned = np.where((times > 1)[point][:, None], np.stack([which, times[point] - 1], axis=1), 0)
    divisor = np.gcd(line.step[where], line.steps[where])
    share = np.stack([line.step[where] // divisor, line.steps[where] // divisor], axis=1)
    return Stations(points, frames, closed, point, turned,
                    np.concatenate([line.span[where][point][:, None], share[point]], axis=1),
                    None if closed else curve.end_tangents(run))


def _sharp(curve: Curve, line: Polyline, where: slice) -> Bools:
    """(n,) points of a run at which the curve itself has a corner, not only the edges it is divided into."""
    w = curve.wires
    following = w.following
    preceding = w.preceding
    bent = np.isin(w.kind, (ARC, CUBIC))
    end = curve.points[np.maximum(following, 0)]
    leaving = np.where(bent[:, None], curve.controls[:, 0], end) - curve.points
    arriving = end - np.where(bent[:, None], curve.controls[:, 1], curve.points)
    into = arriving[np.maximum(preceding, 0)]
    bend = np.arccos(np.clip(np.einsum("ij,ij->i", unit(leaving), unit(into)), -1, 1))
    corner = (following >= 0) & (preceding >= 0) & (bend > _SMOOTH)
    sharp: Bools = corner[line.span[where]] & (line.step[where] == 0)
    return sharp

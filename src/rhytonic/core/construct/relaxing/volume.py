"""The volume round some vertices, and how it is brought back after they moved."""

from __future__ import annotations

import numpy as np
import scipy

from ...compiled import COUNT, INTS, NEW_POINTS, NUMBER, POINTS, ROWS, YES, compiled
from ...mesh.geometry import area_vectors, lengths
from ...mesh.mesh import Floats, Mesh
from ...mesh.patch import TopologyPatch
from ...mesh.topology import Ints
from ...mesh.triangulate import triangulate

#: Newton's steps before the root is bracketed, and the share of the volume that may be missing after them
_STEPS = 6
_EXACT = 1e-9
#: where the volume jumps, as warped faces split the other way, there is no root: looks after which one would be found
_BRACKETINGS = 16
#: the share at which nothing is done at all
_NEAR = 1e-7


class Enclosed:
    """The volume that the faces round the free vertices enclose, and how it is brought back.

    Only those faces count: the rest of the volume stays as it is, and an open mesh keeps what its surface encloses together
    with fixed lids over its borders.
    """

    def __init__(self, before: Floats, patch: TopologyPatch, free: Ints) -> None:
        self._patch, self._moved = patch, free
        old = before[patch.vertices]
        self._triangles = self._split(old)
        self._centre = (old.min(axis=0) + old.max(axis=0)) / 2
        self._free = np.searchsorted(patch.vertices, free)
        self.wanted = self._volume(old, self._triangles)
        #: beside what a volume is small
        self._large = max(_volume(old - self._centre, self._triangles, True), 1e-300)

    def _split(self, at: Floats) -> Ints:
        return triangulate(Mesh(at.copy(), self._patch.topology))[0]  # a mesh's points are frozen

    def _volume(self, at: Floats, triangles: Ints) -> float:
        return _volume(at - self._centre, triangles, False)

    def _gradient(self, at: Floats, triangles: Ints) -> Floats:
        """(f, 3) by how much the volume grows for each metre a free vertex moves."""
        return _gradient(at - self._centre, triangles)[self._free]

    def _outward(self, at: Floats) -> Floats:
        """(f, 3) the vertices' normals by area: like the gradient, and the same however warped faces are split."""
        t = self._patch.topology
        return _outward(area_vectors(at, t), t.corners, t.offsets, t.vertex_count)[self._free]

    def restore(self, points: Floats) -> bool:
        """Move the free vertices of ``points`` along the gradient of the volume until it is what it was; whether it is.

        The volume is a cubic of the step, so that a few of Newton's steps settle it. Where they would lead further than the
        faces are wide, which is where these would turn over, it is given up.
        """
        new = points[self._patch.vertices]
        begun = new[self._free]
        for _ in range(8):
            off = self.wanted - self._volume(new, self._triangles)
            along = self._gradient(new, self._triangles)
            size = float(np.einsum("ij,ij->", along, along))
            if size <= 0.0 or abs(off) <= 1e-12 * max(abs(self.wanted), size**0.75):
                break
            new[self._free] += (off / size) * along
            if not np.isfinite(new).all():
                return False
        if abs(self.wanted - self._volume(new, self._triangles)) > 1e-3 * self._large:
            return False
        apart = lengths(new[self._free] - begun).max(initial=0.0)
        if apart > self._reach(points[self._patch.vertices]) / 2:
            return False
        points[self._moved] = new[self._free]
        return True

    def _reach(self, at: Floats) -> float:
        ends = at[self._patch.topology.edges]
        return float(lengths(ends[:, 1] - ends[:, 0]).mean()) if len(ends) else 0.0

    def follow(self, points: Floats, slack: float = 0.0) -> bool:
        """One of Newton's steps outward, no longer than half a face is wide; none where the volume is missed by no more than
        ``slack`` of itself, and whether that is so."""
        new = points[self._patch.vertices]
        triangles = self._split(new)
        off = self.wanted - self._volume(new, triangles)
        if abs(off) <= slack * self._large:
            return True
        along = self._outward(new)
        slope = float(np.einsum("ij,ij->", along, self._gradient(new, triangles)))
        longest = float(lengths(along).max(initial=0.0))
        if slope <= 0.0 or longest <= 0.0:
            return False
        most = self._reach(new) / 2 / longest
        step = float(np.clip(off / slope, -most, most))
        points[self._moved] = new[self._free] + step * along
        return False

    def settle(self, points: Floats) -> None:
        """Bring the volume to what it was, outward or about the vertices' mean; where neither can, as near as it came.

        The root is bracketed, so that it cannot run away (R. Brent, Algorithms for Minimization without Derivatives, 1973).
        """
        slack = _NEAR
        for _ in range(_STEPS):
            if self.follow(points, slack):
                return
            slack = _EXACT
        new = points[self._patch.vertices]
        begun = new[self._free].copy()
        along = self._outward(new)
        longest = float(lengths(along).max(initial=0.0))
        middle = begun.mean(axis=0)
        ways = [begun - middle] if longest <= 0.0 else [along / longest * self._reach(new), begun - middle]
        best = abs(self._volume(new, self._split(new)) - self.wanted), begun
        for way in ways:
            def off(step: float, way: Floats = way) -> float:
                new[self._free] = begun + step * way
                return self._volume(new, self._split(new)) - self.wanted

            here, edge = off(0.0), (0.0, 0.0)
            for far in (1 / 256, 1 / 32, 1 / 8, 1 / 2):
                ends = [(near, step) for near, step in zip(edge, (far, -far), strict=True)
                        if np.sign(off(step)) != np.sign(here)]
                edge = far, -far
                if ends:
                    root = scipy.optimize.brentq(off, *ends[0], xtol=1e-13, rtol=1e-13, maxiter=_BRACKETINGS, disp=False)
                    left = abs(off(float(root)))
                    if left < best[0]:
                        best = left, new[self._free].copy()
                    break
            if best[0] <= _EXACT * self._large:
                break
        points[self._moved] = best[1]


@compiled(NUMBER, POINTS, ROWS, YES)
def _volume(points: Floats, triangles: Ints, each: bool) -> float:
    """What triangles enclose together with the origin; ``each`` counts as it is, whichever way it is turned."""
    total = 0.0
    for t in range(len(triangles)):
        a, b, c = points[triangles[t, 0]], points[triangles[t, 1]], points[triangles[t, 2]]
        part = (a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2])
                + a[2] * (b[0] * c[1] - b[1] * c[0]))
        total += abs(part) if each else part
    return total / 6.0


@compiled(NEW_POINTS, POINTS, ROWS)
def _gradient(points: Floats, triangles: Ints) -> Floats:
    out = np.zeros((len(points), 3))
    for t in range(len(triangles)):
        for k in range(3):
            a, b, c = triangles[t, k], points[triangles[t, k - 2]], points[triangles[t, k - 1]]
            out[a, 0] += (b[1] * c[2] - b[2] * c[1]) / 6.0
            out[a, 1] += (b[2] * c[0] - b[0] * c[2]) / 6.0
            out[a, 2] += (b[0] * c[1] - b[1] * c[0]) / 6.0
    return out


@compiled(NEW_POINTS, POINTS, INTS, INTS, COUNT)
def _outward(areas: Floats, corners: Ints, offsets: Ints, vertices: int) -> Floats:
    out = np.zeros((vertices, 3))
    for f in range(len(areas)):
        for c in range(offsets[f], offsets[f + 1]):
            for k in range(3):
                out[corners[c], k] += areas[f, k] / (offsets[f + 1] - offsets[f])
    return out

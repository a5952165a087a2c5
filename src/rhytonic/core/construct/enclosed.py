"""The volume round some vertices, and how it is brought back after they moved."""

from __future__ import annotations

import numpy as np
import scipy

from ..mesh.geometry import cross, lengths
from ..mesh.mesh import Floats, Mesh
from ..mesh.patch import TopologyPatch
from ..mesh.topology import Ints
from ..mesh.triangulate import triangulate


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
        self._large = max(abs(self.wanted), 1e-9 * float(lengths(old - self._centre).max(initial=0.0)) ** 3, 1e-300)

    def _split(self, at: Floats) -> Ints:
        return triangulate(Mesh(at.copy(), self._patch.topology))[0]  # a mesh's points are frozen

    def _volume(self, at: Floats, triangles: Ints) -> float:
        p = (at - self._centre)[triangles]
        return float(np.einsum("ij,ij->", p[:, 0], cross(p[:, 1], p[:, 2])) / 6)

    def _gradient(self, at: Floats, triangles: Ints) -> Floats:
        """(f, 3) by how much the volume grows for each metre a free vertex moves."""
        p = (at - self._centre)[triangles]
        out = np.zeros_like(at)
        for k in range(3):
            part = cross(p[:, (k + 1) % 3], p[:, (k + 2) % 3]) / 6
            for axis in range(3):
                out[:, axis] += np.bincount(triangles[:, k], part[:, axis], len(at))
        return out[self._free]

    def _outward(self, at: Floats) -> Floats:
        """(f, 3) the vertices' normals by area: like the gradient, and the same however warped faces are split."""
        t = self._patch.topology
        area = Mesh(at.copy(), t).area_vectors[t.corner_face] / t.sides[t.corner_face][:, None]
        return np.stack([np.bincount(t.corners, area[:, k], t.vertex_count) for k in range(3)], axis=1)[self._free]

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
        apart = lengths(new[self._free] - begun).max(initial=0.0)
        if apart > self._reach(points[self._patch.vertices]) or not self._kept(new):
            return False
        points[self._moved] = new[self._free]
        return True

    def _reach(self, at: Floats) -> float:
        ends = at[self._patch.topology.edges]
        return float(lengths(ends[:, 1] - ends[:, 0]).mean()) if len(ends) else 0.0

    def _kept(self, at: Floats) -> bool:
        return abs(self._volume(at, self._split(at)) - self.wanted) <= 1e-7 * self._large

    def follow(self, points: Floats) -> None:
        """One of Newton's steps outward, no longer than half a face is wide."""
        new = points[self._patch.vertices]
        triangles = self._split(new)
        along = self._outward(new)
        slope = float(np.einsum("ij,ij->", along, self._gradient(new, triangles)))
        longest = float(lengths(along).max(initial=0.0))
        if slope <= 0.0 or longest <= 0.0:
            return
        most = self._reach(new) / 2 / longest
        step = float(np.clip((self.wanted - self._volume(new, triangles)) / slope, -most, most))
        points[self._moved] = new[self._free] + step * along

    def settle(self, points: Floats) -> None:
        """Bring the volume to what it was, outward or about the vertices' mean; where neither can, as near as it came.

        The root is bracketed, so that it cannot run away (R. Brent, Algorithms for Minimization without Derivatives, 1973).
        """
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

            steps = np.linspace(-0.5, 0.5, 33)
            values = np.array([off(s) for s in steps])
            turns = np.flatnonzero(np.sign(values[:-1]) != np.sign(values[1:]))
            for turn in turns[np.argsort(np.abs(steps[turns]), kind="stable")][:2]:
                root = scipy.optimize.brentq(off, steps[turn], steps[turn + 1], xtol=1e-15, rtol=1e-15)
                left = abs(off(float(root)))
                if left < best[0]:
                    best = left, new[self._free].copy()
            if best[0] <= 1e-9 * self._large:
                break
        points[self._moved] = best[1]

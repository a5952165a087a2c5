"""Whether a body that moves and one that stands still are in each other's way: not merely touching, but passing into each
other, or one inside the other."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import manifold3d
import numpy as np
from scipy.spatial import cKDTree

from ...mesh.geometry import cross, lengths
from ...mesh.mesh import Floats, Mesh
from ...mesh.topology import Ints, components
from ...mesh.triangulate import triangulate
from ...recipe.place import Frame

#: what two bodies share is nothing where, spread over the smaller one's surface, it is no thicker than this share of it
_THICKNESS = 1e-12
#: how far normals, and distances as shares of the extent, of triangles in one plane differ, and of those that are alike
_IN_ONE_PLANE, _ALIKE = 1e-7, 1e-9


@dataclass(frozen=True, eq=False)
class Body:
    """A part for the look whether it is in the way: ``mesh`` with its points where the caller counts from."""

    mesh: Mesh

    @cached_property
    def triangles(self) -> Floats:
        """(n, 3, 3)."""
        return self.mesh.points[self.corners]

    @cached_property
    def corners(self) -> Ints:
        """(n, 3) vertices of the triangles."""
        return triangulate(self.mesh)[0]

    @cached_property
    def planes(self) -> Ints:
        """(n,) a number for the plane each triangle lies in, the same for all that lie in one."""
        p = self.triangles
        normal = cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
        size = lengths(normal)
        unit = normal / np.maximum(size, 1e-300)[:, None]
        away = np.einsum("ij,ij->i", unit, p[:, 0] - self.mesh.points.mean(axis=0))
        reach = max(float(np.ptp(self.mesh.points, axis=0).max(initial=0.0)), 1e-12)
        told = np.column_stack([unit, away / reach])
        # thousands lie in one plane: all that are told alike stand for one, or each pair of them would be looked at
        _, one, whose = np.unique(np.round(told / _ALIKE), axis=0, return_index=True, return_inverse=True)
        near = cKDTree(told[one]).query_pairs(_IN_ONE_PLANE, output_type="ndarray")
        plane: Ints = components(one.size, near[:, 0].astype(np.int64), near[:, 1].astype(np.int64))[whose.ravel()]
        return plane

    @cached_property
    def area(self) -> float:
        """Square metres."""
        p = self.triangles
        return float(lengths(cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])).sum()) / 2

    @cached_property
    def solid(self) -> manifold3d.Manifold | None:
        """The library's form of it; None where it is open or hangs together as no body does."""
        p = self.triangles
        if not len(p):
            return None
        turned = float(np.einsum("ij,ij->i", p[:, 0], cross(p[:, 1], p[:, 2])).sum()) < 0
        corners = self.corners[:, ::-1] if turned else self.corners
        made = manifold3d.Manifold(manifold3d.Mesh64(self.mesh.points + 0.0, np.array(corners, np.uint64)))
        return made if made.status() == manifold3d.Error.NoError and not made.is_empty() else None

    @cached_property
    def shell_points(self) -> Floats:
        """(s, 3) the middle of one triangle of each connected piece."""
        t = self.mesh.topology
        order, starts = t.edge_corners
        face = t.corner_face[order]
        first = np.repeat(face[starts[:-1]], np.diff(starts))
        shell = components(t.face_count, face, first)
        _, at = np.unique(shell, return_index=True)
        return self.mesh.face_centres[at]


def overlap(one: Body, frame: Frame, two: Body) -> bool | None:
    """Whether a moved body and another share more than a touch; None where that is not told by what is inside, as both are
    open."""
    if one.solid is not None and two.solid is not None:
        moved = one.solid.transform(np.column_stack([frame.linear, frame.shift]))
        if (np.array(moved.bounding_box()[:3]) > np.array(two.solid.bounding_box()[3:])).any() or \
                (np.array(two.solid.bounding_box()[:3]) > np.array(moved.bounding_box()[3:])).any():
            return False
        area = min(one.area, two.area)
        return bool((moved ^ two.solid).volume() > _THICKNESS * area**1.5)
    if one.solid is None and two.solid is None:
        return None
    if two.solid is not None:
        return bool((_winding(two.triangles, frame.apply(one.shell_points)) > 0.5).any()) or None
    back = np.linalg.inv(frame.linear)
    return bool((_winding(one.triangles, (two.shell_points - frame.shift) @ back.T) > 0.5).any()) or None


def _winding(triangles: Floats, points: Floats) -> Floats:
    """(n,) how often triangles wind round points, by solid angles (A. Van Oosterom, J. Strackee, IEEE Transactions on
    Biomedical Engineering 30(2), 1983)."""
    out = np.empty(len(points))
    for n, p in enumerate(points):  # one for each connected piece
        a, b, c = (triangles[:, k] - p for k in range(3))
        la, lb, lc = lengths(a), lengths(b), lengths(c)
        top = np.einsum("ij,ij->i", a, cross(b, c))
        ab, bc, ca = (np.einsum("ij,ij->i", u, v) for u, v in ((a, b), (b, c), (c, a)))
        below = la * lb * lc + ab * lc + bc * la + ca * lb
        out[n] = np.arctan2(top, below).sum() / (2 * np.pi)
    return np.abs(out)

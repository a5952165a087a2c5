"""The largest size at which the faces an edit makes do not pass through each other."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ...compiled import INTS, NEW_BOOLS, POINTS, compiled
from ...errors import StepError
from ...mesh.crossing import crossing_pairs, surely_apart
from ...mesh.geometry import Floats
from ...mesh.measure import faces_without_area
from ...mesh.mesh import Mesh
from ...mesh.patch import faces_at, patch_of
from ...mesh.topology import Bools, Ints, Topology
from ...step.draft import Draft
from ...waiting import check
from .layout import Layout

#: more faces than this are not looked through: the look would take longer than the edit
MOST_FACES = 10_000
#: more own faces than this are not told apart by their boxes
_MOST_BOXES = 200
#: the cosine between two faces below which a strip along their edge is one round a corner
_SHARP = 0.7
#: and below which an edge is a blade
_BLADE = -0.3
_HALVINGS = 7
_REFINEMENTS = 5


@dataclass(frozen=True)
class Watch:
    """Looks whether the faces an edit made or moved pass through others, or have no area.

    Attributes:
        topology: of the result.
        own: faces with a new vertex, and those beside them.
    """

    topology: Topology
    own: Ints

    @classmethod
    def over(cls, draft: Draft, doubtful: Bools | None = None) -> Watch:
        """The watch over a result some of whose vertices are new; over those alone that come of old vertices which are
        ``doubtful``, where they are told."""
        t = draft.topology
        near, new = np.zeros(t.vertex_count, bool), draft.kept_vertices < 0
        if doubtful is not None and isinstance(draft.vertex_source, np.ndarray):
            new = new & doubtful[np.maximum(draft.vertex_source, 0)]
        near[t.corners[t.corners_of(faces_at(t, new))]] = True
        return cls(t, faces_at(t, near))

    @property
    def _few(self) -> bool:
        """Whether the own faces are so few that each is compared with each of the others."""
        return self.own.size <= _MOST_BOXES

    def was_sound(self, draft: Draft, above: Mesh) -> bool:
        """Whether the faces above that these came from were."""
        source = np.unique(draft.face_source[self.own])
        return Watch(above.topology, source[source >= 0]).sound(above.points)

    def crossing(self, points: Floats) -> Ints:
        """(n,) faces that do; none are looked for among too many."""
        if not self.own.size or self.own.size > MOST_FACES:
            return self.own[:0]
        t = self.topology
        faces = self._near(points)
        patch = patch_of(t, faces)
        mesh = Mesh(points[patch.vertices], patch.topology)
        mine = np.zeros(t.face_count, bool)
        mine[self.own] = True
        lost = faces[faces_without_area(mesh)]
        lost = lost[mine[lost]]
        if lost.size:
            return lost
        if self._few and surely_apart(mesh, mine[faces]):
            return self.own[:0]
        pairs = faces[crossing_pairs(mesh)]
        out: Ints = np.unique(pairs[mine[pairs].any(axis=1)])
        return out

    def _near(self, points: Floats) -> Ints:
        """Own faces, and all others that they could reach: those whose boxes meet."""
        t = self.topology
        if not self._few:
            return self.own if t.face_count > MOST_FACES else np.arange(t.face_count)
        found: Ints = np.flatnonzero(_met(points, t.corners, t.offsets, self.own))
        return found if found.size <= MOST_FACES else self.own

    def sound(self, points: Floats) -> bool:
        """Whether no such face is there."""
        return not self.crossing(points).size

    def refusal(self, points: Floats, otherwise: str = "") -> StepError:
        """Says where faces pass through each other whatever the size."""
        t = self.topology
        place = points[t.corners[t.corners_of(self.crossing(points)[:1])]].mean(axis=0)
        return StepError(f"faces would pass through each other at {{point}}, however small it is; leave out the edges "
                         f"there{otherwise}", "pick", point=place)


@compiled(NEW_BOOLS, POINTS, INTS, INTS, INTS)
def _met(points: Floats, corners: Ints, offsets: Ints, own: Ints) -> Bools:
    """(F,) faces whose boxes meet that of one of ``own``."""
    faces = len(offsets) - 1
    low, high = np.full((faces, 3), np.inf), np.full((faces, 3), -np.inf)
    for f in range(faces):
        for c in range(offsets[f], offsets[f + 1]):
            for k in range(3):
                low[f, k] = min(low[f, k], points[corners[c], k])
                high[f, k] = max(high[f, k], points[corners[c], k])
    least, most = np.full(3, np.inf), np.full(3, -np.inf)
    for o in own:
        for k in range(3):
            least[k], most[k] = min(least[k], low[o, k]), max(most[k], high[o, k])
    out = np.zeros(faces, np.bool_)
    for f in range(faces):
        if (low[f, 0] > most[0] or least[0] > high[f, 0] or low[f, 1] > most[1] or least[1] > high[f, 1]
                or low[f, 2] > most[2] or least[2] > high[f, 2]):
            continue
        for o in own:
            if (low[f, 0] <= high[o, 0] and low[o, 0] <= high[f, 0] and low[f, 1] <= high[o, 1]
                    and low[o, 1] <= high[f, 1] and low[f, 2] <= high[o, 2] and low[o, 2] <= high[f, 2]):
                out[f] = True
                break
    return out


def doubtful(layout: Layout, mesh: Mesh, sharp: bool = False) -> Bools:
    """(V,) old vertices where faces may come to pass through each other: at hollow edges, lone ends, crowded corners,
    picked vertices; and at ``sharp`` edges too where that is said."""
    t = mesh.topology
    out = np.zeros(t.vertex_count, bool)
    crossing = layout.arc_leg[layout.arc_leg >= 0]
    out[t.corners[-1 - layout.arc_leg[layout.arc_leg < 0]]] = True
    own = layout.ends[:, 3]
    out[t.edges[own // 2][np.arange(own.size), own % 2]] = True
    order, starts = t.edge_corners
    edge = crossing // 2
    one, two = order[starts[edge]], order[starts[edge] + 1]
    beyond = mesh.points[t.corners[t.previous_corner[two]]] - mesh.points[t.corners[two]]
    turn = np.einsum("ij,ij->i", beyond, mesh.normals[t.corner_face[one]])
    out[t.edges[edge[turn > 1e-9]]] = True
    # where more than three strips meet and not all in one plane, their corner is no simple one
    met = np.bincount(t.edges[edge][np.arange(edge.size), crossing % 2], minlength=t.vertex_count) > 3
    bent = np.zeros(t.vertex_count, bool)
    bent[t.edges[edge[turn < -1e-9]]] = True
    out |= met & bent
    if sharp:
        two_sided = np.einsum("ij,ij->i", mesh.normals[t.corner_face[one]], mesh.normals[t.corner_face[two]])
        out[t.edges[edge[two_sided < _SHARP]]] = True
        # and where they end at an edge as thin as a blade, through which a groove comes out on the other side
        ends = np.zeros(t.vertex_count, bool)
        ends[t.edges[edge]] = True
        whole = np.flatnonzero((t.edge_face_count == 2) & (ends[t.edges[:, 0]] | ends[t.edges[:, 1]]))
        sides = mesh.normals[t.corner_face[order[starts[whole]]]], mesh.normals[t.corner_face[order[starts[whole] + 1]]]
        thin = np.zeros(t.vertex_count, bool)
        thin[t.edges[whole[np.einsum("ij,ij->i", *sides) < _BLADE]]] = True
        out |= thin & ends
    return out


def largest_sound(is_sound: Callable[[float], bool]) -> float:
    """The largest share of a size, found by halving, at which it is sound; 1 where it is sound as it is, 0 where at none."""
    if is_sound(1.0):
        return 1.0
    bad, share = 1.0, 0.5
    for _ in range(_HALVINGS):
        check()
        if is_sound(share):
            break
        bad, share = share, share / 2
    else:
        return 0.0
    for _ in range(_REFINEMENTS):
        check()
        middle = (share + bad) / 2
        if is_sound(middle):
            share = middle
        else:
            bad = middle
    return share

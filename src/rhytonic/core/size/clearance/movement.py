"""What a joint's movement meets: from where it stands, on the way to either end.

No point moves faster than a known speed, so distances known at two values bound those between from below (S. Piyavskii, USSR
Computational Mathematics 12(4), 1972): a stretch is clear where that bound is above nothing, else it is halved. What touches
where the movement begins, or goes on touching along the axis, is no contact until it has come free; until then only what
passes into something is.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np

from ...mesh.mesh import Floats
from ...mesh.topology import Ints
from ...recipe.place import Frame
from ...waiting import check
from .box_tree import BoxTree
from .nearest import NO_PAIRS, NearestPoints, groups_of, nearest_triangles, pierced, touching_groups
from .overlap import Body, overlap

#: nearer than this, in metres, is touching
TOUCHING = 1e-9
#: an edge that passes through a face by no more than this only touches it
_MARGIN = 1e-7
#: a step is halved so often where it cannot be told clear; less often after so many looks
_HALVINGS, _FEWER, _LOOKS = 12, 5, 20_000
#: to this share of the whole range is a first contact told
_EXACT = 1e-12
#: more meetings of what rests on each other than this within one step are not told apart
_MEETINGS = 200


@dataclass(eq=False)
class Movement:
    """Bodies that move together, by a frame for each value of a joint, among bodies that stand still.

    Attributes:
        speed: how far any point moves at most for one of the joint's units.
    """

    movers: Sequence[Body]
    still: Sequence[Body]
    frame: Callable[[float], Frame]
    speed: float
    looks: int = 0
    _begin: tuple[int, int] | None = None
    _known: dict[float, NearestPoints] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self._one, self._of_one = _tree(self.movers)
        self._two, self._of_two = _tree(self.still)

    def at(self, value: float) -> NearestPoints:
        """How near they come at a value, and where."""
        if value not in self._known:
            self._known[value] = self._nearest(value, np.inf, NO_PAIRS)
        return self._known[value]

    def in_the_way(self, value: float) -> bool:
        """Whether anything has passed into anything else."""
        return any(self._overlap(i, j, value) for i in range(len(self.movers)) for j in range(len(self.still)))

    def first_contact(self, now: float, end: float, step: float) -> float | None:
        """The first value on the way from ``now`` to an end at which something is met; None where nothing is.

        Args:
            step: looked at at least so often.
        """
        if self.in_the_way(now):
            return now
        passed = self._touching(now, NO_PAIRS)
        resting = self._parts(passed)
        count = max(int(np.ceil(abs(end - now) / step - 1e-9)), 1)
        values = [now + (end - now) * k / count for k in range(count + 1)]
        was = self._nearest(now, np.inf, passed).distance
        met: list[float] = []
        for v, w in itertools.pairwise(values) if end != now else ():
            check()
            contact = self._between(v, was, w, passed)
            while contact is not None:
                also = self._touching(contact, passed)
                if self._parts(also) - resting or len(met) > _MEETINGS:
                    return contact
                passed = np.union1d(passed, also)  # more of what rests: it may slide by, or be in the way
                met.append(contact)
                room = self._nearest(contact, np.inf, passed).distance
                contact = None if contact == w else self._between(contact, room, w, passed)
            if resting:
                if any(self._overlap(i, j, w) for i, j in resting):
                    return self._onset(v, w, resting, met)
                passed = np.intersect1d(passed, self._touching(w, NO_PAIRS))
                resting = self._parts(passed)
                met.clear()
            was = self._nearest(w, np.inf, passed).distance
        return None

    def narrowest(self, low: float, high: float, count: int) -> float:
        """The value at which they come nearest, none nearer by more than a millionth."""
        values: list[float] = np.linspace(low, high, count + 1).tolist()
        distance = {v: self.at(v).distance for v in values}
        best: float = min(values, key=lambda v: distance[v])
        spans = [(a, b) for a, b in itertools.pairwise(values) if b > a]
        looks = 0
        while spans and looks < _LOOKS:
            check()
            least = distance[best] * (1 - 1e-6) - TOUCHING
            open_ = [s for s in spans if (distance[s[0]] + distance[s[1]] - self.speed * (s[1] - s[0])) / 2 < least]
            spans = []
            for a, b in open_:
                if b - a < _EXACT * max(high - low, 1e-300) * 1e3:
                    continue
                middle = (a + b) / 2
                distance[middle] = self.at(middle).distance
                looks += 1
                if distance[middle] < distance[best]:
                    best = middle
                spans += [(a, middle), (middle, b)]
        return best

    def _nearest(self, value: float, within: float, passed: Ints) -> NearestPoints:
        self.looks += 1
        found = nearest_triangles(self._one, self.frame(value), self._two, within, self._begin, passed)
        self._begin = found.pair or self._begin
        return found

    def _touching(self, value: float, but: Ints) -> Ints:
        return touching_groups(self._one, self.frame(value), self._two, TOUCHING, but)

    def _parts(self, codes: Ints) -> set[tuple[int, int]]:
        """Which bodies pairs of planes belong to."""
        one, two = groups_of(codes, self._two)
        return set(zip(self._of_one[one].tolist(), self._of_two[two].tolist(), strict=True))

    def _overlap(self, i: int, j: int, value: float) -> bool:
        told = overlap(self.movers[i], self.frame(value), self.still[j])
        if told is not None:
            return told
        ours, theirs = np.flatnonzero(self._of_one == i), np.flatnonzero(self._of_two == j)
        codes = (ours[:, None] * self._of_two.size + theirs).ravel()
        return pierced(self._one, self.frame(value), self._two, _MARGIN, codes)

    def _between(self, v: float, at_v: float, w: float, passed: Ints) -> float | None:
        """The first contact between two values, the nearer end first; ``at_v`` is the distance there."""
        whole = abs(w - v)
        at_w = self._nearest(w, 2 * self.speed * whole + TOUCHING, passed).distance
        spans = [(v, at_v, w, at_w)]
        while spans:
            v, at_v, w, at_w = spans.pop()
            size = abs(w - v)
            if at_w > TOUCHING and at_v + at_w > self.speed * size * (1 + 1e-9):
                continue
            middle = (v + w) / 2
            if at_w <= TOUCHING and (size <= _EXACT * whole or middle in (v, w)):
                return w
            finest = whole / 2 ** (_HALVINGS if self.looks < _LOOKS else _FEWER)
            if at_w > TOUCHING and size < finest:
                continue
            at = self._nearest(middle, 2 * self.speed * size + TOUCHING, passed).distance
            if at > TOUCHING:
                spans.append((middle, at, w, at_w))
            spans.append((v, at_v, middle, at))
        return None

    def _onset(self, free: float, crossing: float, resting: set[tuple[int, int]], met: Sequence[float]) -> float:
        """Where what rests on each other passes into each other, or met just before it is seen to."""
        step = abs(crossing - free)
        while abs(crossing - free) > 1e-9 * step:
            middle = (free + crossing) / 2
            if middle in (free, crossing):
                break
            if any(self._overlap(i, j, middle) for i, j in resting):
                crossing = middle
            else:
                free = middle
        before = [m for m in met if abs(crossing - m) <= 0.05 * step]
        return before[-1] if before else crossing


def _tree(bodies: Sequence[Body]) -> tuple[BoxTree, Ints]:
    """All triangles, grouped by the planes they lie in, and which body each group belongs to."""
    planes, of = [], []
    first = 0
    for number, body in enumerate(bodies):
        planes.append(body.planes + first)
        count = int(body.planes.max(initial=-1)) + 1
        of.append(np.full(count, number))
        first += count
    return BoxTree(np.concatenate([b.triangles for b in bodies]), np.concatenate(planes)), np.concatenate(of)


def speed_of(kind: str, at: Floats, axis: Floats, points: Floats, metres: float) -> float:
    """How far any of (n, 3) points moves, in metres, for one degree or one length of a joint."""
    if kind == "slide":
        return metres
    way = axis / np.linalg.norm(axis)
    arm = points - at
    return float(np.radians(1.0) * np.linalg.norm(arm - np.outer(arm @ way, way), axis=1).max())

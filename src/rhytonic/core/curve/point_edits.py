"""Points of a curve taken out, copied, and made one."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..mesh.mesh import Floats
from ..mesh.names import Ids
from ..mesh.topology import Ints
from .curve import Curve
from .spans import Spans, as_one, assembled, without_length


def without_points(curve: Curve, gone: Ints) -> tuple[Curve, Ints]:
    """The curve without some points (n,) and the spans at them, so that closed runs open and open ones part; points left
    without a span go too. Also which of the old points each new one is."""
    stays = np.ones(len(curve.points), bool)
    stays[gone] = False
    spans = Spans.of(curve)
    alone = np.ones(len(curve.points), bool)
    alone[spans.begin] = alone[spans.end] = False
    return assembled(curve.points, curve.ids, spans.only(stays[spans.begin] & stays[spans.end]), alone & stays)


def with_copies(curve: Curve, chosen: Ints, maps: tuple[Floats, Floats], ids: Ids) -> tuple[Curve, Ints]:
    """The curve and copies of some of its points with the spans between them, each by an affine map.

    Args:
        maps: (k, 3, 3) and (k, 3); ids: (k·n,) names of the copied points, copy by copy.

    Returns:
        the curve, and the old point each of its points is or is a copy of.
    """
    n, linear, shift = len(curve.points), *maps
    number = np.full(n, -1)
    number[chosen] = np.arange(chosen.size)
    spans = Spans.of(curve)
    own = spans.only((number[spans.begin] >= 0) & (number[spans.end] >= 0))
    alone = np.zeros(n, bool)
    ends = np.concatenate([spans.begin, spans.end])
    alone[np.setdiff1d(np.arange(n), ends)] = True
    points, groups, single = [curve.points], [spans], [alone]
    for k in range(len(linear)):  # one round for each copy
        points.append(curve.points[chosen] @ linear[k].T + shift[k])
        first = n + k * chosen.size
        copy = own.mapped(linear[k], shift[k])
        groups.append(replace(copy, begin=first + number[copy.begin], end=first + number[copy.end]))
        copied = np.ones(chosen.size, bool)
        copied[number[own.begin]] = copied[number[own.end]] = False
        single.append(copied)
    made, order = assembled(np.concatenate(points), np.concatenate([curve.ids, ids]), as_one(*groups),
                            np.concatenate(single))
    source = np.concatenate([np.arange(n), np.tile(chosen, len(linear))])
    return made, source[order]


def label_merged(curve: Curve, label: Ints, place: Floats) -> tuple[Curve, Ints, Ints]:
    """The curve with points of one label made one: the first of them, which stays.

    Args:
        label: (P,) from 0; place: (labels, 3) where each comes to stand.

    Returns:
        the curve, which old point each of its own is, and (n, 2) old points that gave way and new ones in their stead.

    Raises:
        StepError: more than two spans would meet at a point.
    """
    n = len(curve.points)
    first = np.full(int(label.max(initial=-1)) + 1, n)
    np.minimum.at(first, label, np.arange(n))
    there = curve.moved(place[label])
    spans = Spans.of(there).numbered(lambda v: first[label[v]])
    spans = spans.only(~without_length(there.points, spans))
    alone = np.zeros(n, bool)
    alone[first] = True
    made, order = assembled(there.points, curve.ids, spans, alone)
    at = np.full(n, -1)
    at[order] = np.arange(order.size)
    gone = np.flatnonzero(first[label] != np.arange(n))
    return made, order, np.stack([gone, at[first[label[gone]]]], axis=1)

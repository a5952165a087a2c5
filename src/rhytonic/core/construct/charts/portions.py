"""The square divided among parts that share it."""

from __future__ import annotations

import numpy as np

from ...mesh.geometry import Floats

Rectangle = tuple[float, float, float, float]


def portions(sizes: Floats) -> list[Rectangle]:
    """Left, below, width and height of a rectangle for each of ``sizes`` (n,), as large as its share; together they fill
    the square. Cut in two across the longer side, about half to each, until one is left (after B. B. Bederson,
    B. Shneiderman, M. Wattenberg, Ordered and Quantum Treemaps, ACM Transactions on Graphics 21(4), 2002: the split by
    size)."""
    out: list[Rectangle] = [(0.0, 0.0, 1.0, 1.0)] * len(sizes)

    def cut(these: list[int], left: float, below: float, wide: float, high: float) -> None:
        if len(these) == 1:
            out[these[0]] = (left, below, wide, high)
            return
        whole = float(sum(sizes[i] for i in these))
        first, one = [these[0]], float(sizes[these[0]])
        for i in these[1:-1]:
            if one + sizes[i] / 2 > whole / 2:
                break
            first.append(i)
            one += float(sizes[i])
        share = one / whole if whole > 0 else len(first) / len(these)
        rest = these[len(first):]
        if wide >= high:
            cut(first, left, below, wide * share, high)
            cut(rest, left + wide * share, below, wide - wide * share, high)
        else:
            cut(first, left, below, wide, high * share)
            cut(rest, left, below + high * share, wide, high - high * share)

    if len(sizes):
        cut([int(i) for i in np.argsort(-sizes, kind="stable")], 0.0, 0.0, 1.0, 1.0)
    return out

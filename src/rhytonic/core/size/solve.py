"""One-dimensional root finding on something that may refuse some values: bracket outwards, then Brent's method (R. P. Brent,
Algorithms for Minimization without Derivatives, 1973, chapter 4; SciPy's brentq)."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import scipy

_DOUBLINGS = 24
_HALVINGS = 12
#: so many wider steps without coming nearer, and there is nothing to find that way
_PATIENCE = 6
MOST_TRIALS = 250


class NoRoot(Exception):
    """No value gives the result wanted; carries what was tried."""

    def __init__(self, tried: Tried) -> None:
        super().__init__("no value reaches it")
        self.tried = tried


@dataclass
class Tried:
    """Values tried and the results they gave: (value, result), None where the value was refused."""

    results: dict[float, float | None] = field(default_factory=dict)

    @property
    def good(self) -> list[tuple[float, float]]:
        """Values and results, ascending."""
        return sorted((v, r) for v, r in self.results.items() if r is not None)


def solve(off: Callable[[float], float | None], start: float, step: float, close: float) -> tuple[float, Tried]:
    """A value whose ``off`` is 0, searched outwards from ``start`` by growing steps.

    Args:
        off: how far a value's result is from what is wanted, None where it cannot be.
        close: results within this of 0 are as good as 0.

    Raises:
        NoRoot: none was found.
    """
    tried = Tried()

    def ask(value: float) -> float | None:
        if value not in tried.results:
            if len(tried.results) >= MOST_TRIALS:
                raise NoRoot(tried)
            tried.results[value] = off(value)
        return tried.results[value]

    first = ask(start)
    if first is not None and abs(first) <= close:
        return start, tried
    sides = [1.0, -1.0]
    if first is not None:
        ahead, behind = ask(start + step), ask(start - step)
        if behind is not None and (ahead is None or abs(behind) < abs(ahead)):
            sides.reverse()
    for side in sides:
        bracket = _bracket(ask, start, first, side * step, close)
        if bracket is not None:
            return _refined(ask, bracket, close), tried
    raise NoRoot(tried)


def _bracket(ask: Callable[[float], float | None], start: float, first: float | None, step: float,
             close: float) -> tuple[float, float] | None:
    """Two values whose results lie on either side of 0, or one twice where it is a root."""
    last, result = start, first
    nearest, idle = math.inf, 0
    for n in range(_DOUBLINGS):
        value = start + step * 2.0**n
        found = ask(value)
        if found is None and result is not None:  # come as near as can be to what is refused
            low, high = last, value
            for _ in range(_HALVINGS):
                middle = (low + high) / 2
                found = ask(middle)
                if found is None:
                    high = middle
                elif abs(found) <= close:
                    return middle, middle
                elif found * result < 0:
                    return last, middle
                else:
                    low = middle
            return None
        if found is None:
            continue
        if abs(found) <= close:
            return value, value
        if result is not None and found * result < 0:
            return last, value
        idle = idle + 1 if abs(found) >= nearest * (1 - 1e-6) else 0
        if idle >= _PATIENCE:
            return None
        nearest = min(nearest, abs(found))
        last, result = value, found
    return None


def _refined(ask: Callable[[float], float | None], bracket: tuple[float, float], close: float) -> float:
    low, high = bracket
    if low == high:
        return low
    lowest = ask(low)

    def sure(value: float) -> float:
        found = ask(value)
        return found if found is not None else (lowest or 0.0)  # refused in between: no further that way

    root = float(scipy.optimize.brentq(sure, low, high, xtol=1e-14, rtol=1e-14, maxiter=120))
    for digits in (4, 6, 9, 12):  # a number a person would type, where that is as good
        tidy = float(f"{root:.{digits}g}")
        found = ask(tidy)
        if found is not None and abs(found) <= close:
            return tidy
    return root

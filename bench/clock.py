"""Taking times fairly: what is compared runs turn by turn in one process."""

from __future__ import annotations

import gc
import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Row:
    """One line of the table: seconds of ours and of the other, and how many times the other takes as long.

    ``ratio`` is other / ours unless ``inverse`` says the figure wanted is ours / other. ``goal`` tells what it should be.
    """

    name: str
    ours: float
    other: float | None
    other_name: str
    ratio: float | None
    goal: str
    met: bool

    def plain(self) -> dict[str, object]:
        return {"name": self.name, "ours": self.ours, "other": self.other, "other_name": self.other_name,
                "ratio": self.ratio, "goal": self.goal, "met": self.met}


def turn_by_turn(*runs: Callable[[], object], times: int = 15, warm: int = 1) -> list[float]:
    """Median seconds of each, all of them run in every turn."""
    taken: list[list[float]] = [[] for _ in runs]
    for _ in range(warm):
        for run in runs:
            run()
    gc.collect()
    gc.disable()
    try:
        for _ in range(times):
            for i, run in enumerate(runs):
                start = time.perf_counter()
                run()
                taken[i].append(time.perf_counter() - start)
    finally:
        gc.enable()
    return [statistics.median(t) for t in taken]

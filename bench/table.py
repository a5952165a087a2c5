"""The speed table that ``./rhytonic bench`` prints."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator

from rhytonic.core.compiled import compile_all

from . import booleans, curves, deforming, edits, fit, refinement, roundtrip, shaping, together, whole, wrapping
from .clock import Row


def rows() -> Iterator[Row]:
    """All rows; the round trip starts a database and a server of its own."""
    compile_all()  # as a server does before it answers
    for module in (refinement, edits, shaping, booleans, whole, together, curves, deforming, wrapping, fit, roundtrip):
        yield from module.rows()


def main(as_json: bool = False) -> int:
    """Print the table, or its rows as JSON; the sentences about what is being started go to standard error."""
    done: list[Row] = []
    if not as_json:
        print(f"{'what':<72}{'ours':>11}{'other':>11}  {'beside':<26}{'ratio':>7}  goal")
    for row in rows():
        done.append(row)
        if not as_json:
            print(f"{row.name:<72}{_time(row.ours):>11}{_time(row.other):>11}  {row.other_name:<26}"
                  f"{'' if row.ratio is None else f'{row.ratio:.1f}':>7}  {row.goal}{'' if row.met else '  MISSED'}",
                  flush=True)
        else:
            print(row.name, file=sys.stderr, flush=True)
    if as_json:
        print(json.dumps([r.plain() for r in done], ensure_ascii=False, indent=1))
    return 0


def _time(seconds: float | None) -> str:
    if seconds is None:
        return ""
    for unit, size in (("s", 1.0), ("ms", 1e-3), ("µs", 1e-6)):
        if seconds >= size:
            return f"{seconds / size:.2f} {unit}"
    return f"{seconds / 1e-9:.0f} ns"

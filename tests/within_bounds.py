"""Run by itself with NUMBA_DISABLE_JIT=1: examples and random recipes, whose loops are then Python's own and tell an index that
is out of its array; compiled they read what is beside it. Compiling them anew with bounds would take five times as long."""

from __future__ import annotations

import os
import sys
from pathlib import Path

import numpy as np

from rhytonic.core.inspect.report import report
from rhytonic.core.mesh.geometry import area_vectors
from rhytonic.core.mesh.topology import Topology
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from tests.random_bevels import sweep
from tests.random_changes import case, judge

EXAMPLES = Path(__file__).parents[1] / "examples"


def main() -> int:
    try:
        area_vectors(np.zeros((3, 3)), Topology(3, np.array([0, 3]), np.array([0, 1, 9])))
    except IndexError:
        pass
    else:
        print("bounds are not looked at")
        return 1
    for name in ("lantern", "kneeling-pad"):
        document = load((EXAMPLES / f"{name}.rhy.json").read_text())
        report(document, build(document))
    sweep(range(20))
    for seed in range(8):
        changed = case(seed)
        if changed is not None:
            judge(changed)
    print("within bounds")
    return 0


if __name__ == "__main__":
    assert os.environ.get("NUMBA_DISABLE_JIT") == "1"
    sys.exit(main())

"""Runs the inspections over an evaluated part and tells which step each finding came with."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.names import Ids, hex_of
from ..mesh.topology import Ints
from ..recipe.evaluate import State, StepResult
from . import zero_area_face

#: inspections of faces, by kind of finding
OF_FACES: dict[str, Callable[[Mesh], Ints]] = {zero_area_face.KIND: zero_area_face.find}
MOST_IDS = 10_000


@dataclass(frozen=True)
class Finding:
    """What is wrong, with which faces, since which step."""

    kind: str
    ids: Ids
    step: str

    @property
    def count(self) -> int:
        return self.ids.size

    def plain(self) -> dict[str, object]:
        return {"kind": self.kind, "count": self.count, "ids": hex_of(self.ids[:MOST_IDS]), "step": self.step}


def inspect(results: list[StepResult]) -> list[Finding]:
    """Findings of the last result, each blamed on the step after which its faces first were so."""
    found: list[Finding] = []
    if not results:
        return found
    for kind, look in OF_FACES.items():
        bad = _ids(results[-1].state, look)
        for number in range(len(results) - 1, -1, -1):
            if not bad.size:
                break
            before = _ids(results[number - 1].state, look) if number else np.zeros(0, np.uint64)
            older = np.isin(bad, before) if before.size else np.zeros(bad.size, bool)
            step = results[number].step
            if (~older).any():
                found.append(Finding(kind, bad[~older], step.id or step.kind))
            bad = bad[older]
    return found[::-1]


def _ids(state: State, look: Callable[[Mesh], Ints]) -> Ids:
    faces = look(state.mesh)
    return state.mesh.names.face[faces] if faces.size else np.zeros(0, np.uint64)

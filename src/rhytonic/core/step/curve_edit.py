"""What a step makes of a curve that stays one, and its plan: one way for all kinds that work on curves."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from ..curve.curve import Curve
from ..lineage.history import Record, Succession
from ..mesh.mesh import Mesh
from ..mesh.names import Domain, Ids, Names
from ..mesh.topology import Bools, Ints
from .draft import Draft

_NONE: Ints = np.zeros(0, np.int64)


@dataclass(frozen=True, eq=False)
class CurveEdit:
    """A curve made of the one above.

    Attributes:
        curve: with all its points named.
        source: (P',) point of the curve above that each one is, or stands for; −1 for none.
        roles: points of it that count as made by the step under a role of their own.
        gone: (n, 2) further points of the curve above that gave way, and those of this one that stand for them.
        notes: sentences for the report.
    """

    curve: Curve
    source: Ints
    roles: Mapping[str, Bools] = field(default_factory=dict)
    gone: Ints | None = None
    notes: tuple[str, ...] = ()

    def draft(self, above: Curve) -> Draft:
        """The plan of the points: which stayed, which gave way to which, and what the step made."""
        ids = self.curve.ids
        have = np.maximum(self.source, 0)
        old = above.ids[have] if above.ids.size else np.zeros(have.size, np.uint64)
        kept = np.where((self.source >= 0) & (old == ids), self.source, -1)
        fresh = kept < 0
        heir = np.flatnonzero(fresh & (self.source >= 0))
        pairs = np.stack([self.source[heir], heir], axis=1)
        if self.gone is not None:
            pairs = np.concatenate([pairs, self.gone])
        # a point that is still there has no heirs
        pairs = pairs[~np.isin(pairs[:, 0], kept[kept >= 0])]

        def naming(_: Mesh, step: str) -> tuple[Names, Record]:
            made: dict[tuple[Domain, str], Ids] = {("vertex", ""): ids[fresh]}
            made.update({("vertex", role): ids[which] for role, which in self.roles.items()})
            replaced: dict[Domain, Succession] = {"vertex": Succession(above.ids[pairs[:, 0]], ids[pairs[:, 1]])}
            return Names(ids, np.zeros(0, np.uint64)), Record(step, lambda: made, dict, lambda: replaced)

        return Draft(self.curve.mesh.topology, kept, _NONE, self.source, _NONE, _NONE, naming=naming, notes=self.notes)


def after(first: CurveEdit, second: CurveEdit) -> CurveEdit:
    """Two edits as one."""
    source = np.where(second.source >= 0, first.source[np.maximum(second.source, 0)], -1)
    gone = second.gone
    if gone is not None:
        gone = np.stack([first.source[gone[:, 0]], gone[:, 1]], axis=1)
        gone = gone[gone[:, 0] >= 0]
    names = {role: np.isin(second.curve.ids, first.curve.ids[which]) for role, which in first.roles.items()}
    return CurveEdit(second.curve, source, names | dict(second.roles), gone, first.notes + second.notes)

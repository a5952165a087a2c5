"""What all kinds that begin with a curve, or make another of one, share."""

from __future__ import annotations

from typing import Any, Generic, Literal, TypeVar

import numpy as np

from ..curve.curve import Curve
from ..errors import StepError
from ..lineage.history import Record
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Ids, Names, name, no_parents
from ..mesh.topology import Ints
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Step, StepKind

Plane = Literal["xy", "xz", "yz"]
#: the two axes of each plane, seen from +z, from above and from +x with the first to the right or up, in columns
_AXES = {"xy": ((1, 0, 0), (0, 1, 0)), "xz": ((1, 0, 0), (0, 0, -1)), "yz": ((0, 1, 0), (0, 0, 1))}

S = TypeVar("S", bound=Step)


class CurveStart(StepKind[S], Generic[S]):
    """A first step that is a curve: subclasses write ``curve``, of which all else follows."""

    form = True
    curve_role = "begins"

    def curve(self, p: S, context: Context) -> Curve:
        """The curve, in metres."""
        raise NotImplementedError

    def plan(self, p: S, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        """A curve's points and no faces."""
        ids = self.curve(p, context).ids
        none: Ints = np.zeros(0, np.int64)

        def naming(above: Mesh, step: str) -> tuple[Names, Record]:
            names = Names(ids, np.zeros(0, np.uint64))
            return names, Record(step, lambda: {("vertex", ""): ids}, dict, dict)

        fresh = np.full(ids.size, -1)
        topology = self.curve(p, context).mesh.topology
        return Draft(topology, fresh, none, fresh, none, none, naming=naming)

    def positions(self, p: S, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        """(n, 3) the curve's points."""
        return self.curve(p, context).points.copy()


class CurveStep(StepKind[S], Generic[S]):
    """A step that makes another curve of the one above: subclasses write ``remade``."""

    curve_role = "makes"
    on_faces = False


def the_curve(context: Context) -> Curve:
    """The curve above.

    Raises:
        StepError: there is none.
    """
    if context.curve is None:
        raise StepError("needs a curve above it")
    return context.curve


def point_ids(step: str, *columns: Any) -> Ids:
    """(n,) ids of a curve's points, told apart by whole numbers."""
    index = np.stack([np.asarray(c, np.int64) for c in columns], axis=1)
    return name(step, "vertex", "point", len(index), no_parents(len(index)), index)


def in_plane(plane: Plane, flat: Floats) -> Floats:
    """(n, 3) points from their (n, 2) places in a plane of the axes."""
    out: Floats = flat @ np.array(_AXES[plane], float)
    return out

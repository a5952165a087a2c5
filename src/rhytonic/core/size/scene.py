"""A build as it is measured: its parts evaluated and placed, and what targets name in it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..brief.size import Target
from ..errors import StepError, UnknownName
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..params import to_metres
from ..pick.resolve import Picked, resolve
from ..recipe.document import Document
from ..recipe.part import Part
from ..recipe.place import placed
from ..recipe.state import Evaluation
from ..units import METRES

Run = Callable[[Part], Evaluation]


class NotMeasured(StepError):
    """A size that has no value as the build stands."""

    code = "not_measured"


@dataclass(frozen=True)
class Named:
    """What a target names, in the build's axes and metres.

    Attributes:
        mesh: the part's surface; its cage where elements of it are picked.
        picked: the elements, None for all of the part.
    """

    name: str
    mesh: Mesh
    picked: Picked | None

    @cached_property
    def points(self) -> Floats:
        """(n, 3) points of what is named."""
        return self.mesh.points if self.picked is None else self.mesh.points[self.picked.vertices(self.mesh)]

    @property
    def box(self) -> tuple[Floats, Floats]:
        """((3,), (3,)) corners of the box round what was found, in the build and metres."""
        if not len(self.points):
            raise NotMeasured(f"part '{self.name}' is empty")
        return self.points.min(axis=0), self.points.max(axis=0)

    @property
    def place(self) -> Floats:
        """(3,) mean of the picked vertices; the middle of its box for a whole part."""
        low, high = self.box
        out: Floats = (low + high) / 2 if self.picked is None else self.points.mean(axis=0)
        return out

    @property
    def body(self) -> Mesh:
        """What of the mesh is meant: its picked faces alone, or all of it."""
        if self.picked is None or self.picked.kind != "faces":
            return self.mesh
        t = self.mesh.topology
        faces = self.picked.elements
        corners = t.corners[t.corners_of(faces)]
        return Mesh(self.mesh.points, Topology(t.vertex_count, np.concatenate([[0], np.cumsum(t.sides[faces])]), corners))


@dataclass
class Scene:
    """A document and how its parts are run; evaluations are asked for when something needs them."""

    document: Document
    run: Run
    _surfaces: dict[str, Mesh] = field(default_factory=dict)

    @property
    def metres(self) -> float:
        """Metres in the document's unit."""
        return METRES[self.document.unit]

    def part(self, part_id: str) -> Part:
        """A part of the document by its id. Raises UnknownName."""
        found = next((p for p in self.document.parts if p.id == part_id), None)
        if found is None:
            raise UnknownName("a part it was measured on is no longer there; measure again")
        return found

    def surface(self, part: Part) -> Mesh:
        """A part's surface in the build."""
        key = part.id or part.name
        if key not in self._surfaces:
            self._surfaces[key] = placed(self.run(part).surface.mesh, self.document, part)
        return self._surfaces[key]

    def find(self, target: Target) -> Named:
        """What a target names. Raises UnknownName, StepError."""
        part = self.part(target.part)
        if target.pick is None:
            return Named(part.name, self.surface(part), None)
        cage = self.run(part).cage
        try:
            picked = resolve(cage.mesh, cage.history, to_metres(target.pick, self.metres))
        except StepError as error:
            raise NotMeasured(error.message) from None
        return Named(part.name, placed(cage.mesh, self.document, part), picked)

    def all_found(self, targets: list[Target]) -> list[Named]:
        """What targets name; every part that is seen where there are none."""
        if targets:
            return [self.find(t) for t in targets]
        seen = [p for p in self.document.parts if not p.hidden and self.run(p).surface.curve is None]
        if not seen:
            raise NotMeasured("there is no part to measure")
        return [Named(p.name, self.surface(p), None) for p in seen]

"""Faces that close flat outlines with holes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ...curve.curve import Polyline
from ...curve.nest import Nest
from ...errors import StepError
from ...mesh.mesh import Floats
from ...mesh.names import Ids, reduced
from ...mesh.topology import Ints
from ..skin.sections import Cap, Naming
from .patches import Patch, Style, patch
from .simple_polygons import simple_polygons

CapStyle = Literal["ngon", "quads", "none"]


@dataclass(frozen=True, eq=False)
class Closed:
    """Faces over one region of a divided curve.

    Attributes:
        faces: corners of each, counter-clockwise seen against the region's normal, as numbers of the line's points; those
            that a patch brings in are numbered after them.
        own: of each, the point that begins the piece of the outlines which names it, and its ordinal among those so named.
        loop: (m,) the outline; patch: what brings in points over it, None where nothing does.
        pattern: what the faces depend on.
    """

    faces: tuple[Ints, ...]
    own: tuple[tuple[int, int], ...]
    loop: Ints
    patch: Patch | None
    pattern: str

    @property
    def added(self) -> int:
        """How many points come in."""
        return 0 if self.patch is None else self.patch.added

    def points(self, line: Floats) -> Floats:
        """(added, 3) those points."""
        return np.zeros((0, 3)) if self.patch is None else self.patch.points(line[self.loop])


def closed_by(line: Polyline, nest: Nest, normal: Floats, style: Style) -> tuple[Closed, ...]:
    """Faces over the regions of the closed runs of a line.

    Args:
        nest: of its closed runs, in their order; normal: (3,) against which they turn.

    Raises:
        StepError: quads are asked for where an outline has holes or an odd number of corners.
    """
    runs = np.flatnonzero(line.closed)
    loops = []
    for run, turned in zip(runs.tolist(), nest.turned, strict=True):
        at = np.arange(int(line.offsets[run]), int(line.offsets[run + 1]))
        loops.append(at[::-1] if turned else at)
    return tuple(_over(line, [loops[i] for i in region], normal, style) for region in nest.regions)


def _over(line: Polyline, loops: Sequence[Ints], normal: Floats, style: Style) -> Closed:
    if len(loops) == 1:
        made = patch(line.points[loops[0]], style)
        number = np.concatenate([loops[0], len(line.points) + np.arange(made.added)])
        first = int(loops[0].min())
        return Closed(tuple(number[f] for f in made.faces), tuple((first, i) for i in range(len(made.faces))), loops[0],
                      made if made.added else None, f"{style}{made.start}{len(made.faces)}")
    if style != "ngon":
        raise StepError("an outline with holes is not closed by quads or fans; close it by n-gons and give those edges "
                        "afterwards", "cap")
    flat = simple_polygons(line.points, list(loops), normal)
    edges = {(int(a), int(b)): int(a) for a, b in line.edges}
    own = []
    for face in flat:
        pieces = [edges.get((a, b), edges.get((b, a))) for a, b in zip(face, face[1:] + face[:1], strict=True)]
        outer = [p for p in pieces if p is not None]
        own.append((min(outer), 0) if outer else (min(face), 1))
    return Closed(tuple(np.array(f, np.int64) for f in flat), tuple(own), loops[0], None, str(flat))


def caps_of(closed: Closed, vertex: Ints, first: int, back: bool, line: Polyline, end: int) -> list[Cap]:
    """The faces over a region as caps of a surface.

    Args:
        vertex: (n,) number of each of the line's points in the result; first: that of the first point a patch brings in.
        back: whether they are seen from behind; end: told in their names.
    """
    number = np.concatenate([vertex, first + np.arange(closed.added)])
    out = []
    for face, (at, ordinal) in zip(closed.faces, closed.own, strict=True):
        index = np.concatenate([_share(line, np.array([at]))[0], [ordinal, end]])
        out.append(Cap(number[face[::-1] if back else face], line.ids[[at]], index))
    return out


def added_names(closed: Sequence[tuple[Closed, int]], line: Polyline) -> tuple[Ids, Ints] | None:
    """(n, k) and (n, m): parents and index of the points that patches bring in, each told with its end; None where there are
    none."""
    rows = [(c.own[0][0], k, end) for c, end in closed for k in range(c.added)]
    if not rows:
        return None
    table = np.array(rows, np.int64)
    return line.ids[table[:, 0]][:, None], np.concatenate([_share(line, table[:, 0]), table[:, 1:]], axis=1)


def on_line(line: Polyline, point: Ints, beside: Ints) -> tuple[Ids, Ints]:
    """Parents and index that name what stands at points of a line: the point of the curve that begins the span, its share of
    it, and further whole numbers (n, k)."""
    return line.ids[point][:, None], np.concatenate([_share(line, point), beside], axis=1)


def rows_of(line: Polyline, start: int, rows: int) -> Naming:
    """Names on a sheet whose columns are a line's points from ``start`` on: those, and the share of the rows."""
    def naming(cells: Ints) -> tuple[Ids, Ints]:
        return on_line(line, start + cells[:, 1], reduced(cells[:, 0], rows))

    return naming


def _share(line: Polyline, point: Ints) -> Ints:
    divisor = np.maximum(np.gcd(line.step[point], line.steps[point]), 1)
    return np.stack([line.step[point] // divisor, line.steps[point] // divisor], axis=1)

"""Places that islands are held at: each told by one of its faces, so that what changes upstream does not move it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ...mesh.geometry import Floats
from ...mesh.mesh import Mesh
from ...mesh.names import from_hex, hex_of
from ...mesh.topology import Ints
from ...mesh.uv import Flat, islands_of, uvs
from .alike import at_one_density
from .arranged import boxes, turned_by

#: of a turn, in radians, and of a density: what was packed is off by rounding alone
_NEAR = 1e-4


@dataclass(frozen=True)
class Held:
    """Where one island stands: ``at`` is the lower left of its box once it is turned by ``quarter`` quarter turns,
    counter-clockwise; ``face`` is one of its faces, by id."""

    face: str
    at: tuple[float, float]
    quarter: int


def set_down(uv: Floats, metres: Floats, of_corner: Ints, scale: float, quarter: Ints, corner: Floats) -> None:
    """Write into ``uv`` (C, 2) the places of islands: ``metres`` (C, 2) times ``scale``, turned, the lower left of the box
    of island i of ``of_corner`` (C,) at ``corner`` (n, 2); −1 is left alone."""
    mine = of_corner >= 0
    of = of_corner[mine]
    out = metres[mine] * scale
    for k in range(1, 4):
        out[quarter[of] == k] = turned_by(out[quarter[of] == k], k * np.pi / 2)
    low = np.full((quarter.size, 2), np.inf)
    np.minimum.at(low, of, out)
    uv[mine] = out + (corner - low)[of]


def found_again(mesh: Mesh, number: Ints, held: Sequence[Held]) -> list[Held | None]:
    """For each island that ``number`` (F,) counts where it is held; None for those that are not. The first counts where
    several have become one."""
    out: list[Held | None] = [None] * (int(number.max(initial=-1)) + 1)
    wanted = from_hex([h.face for h in held])
    for one, face in zip(held, mesh.names.face_index.find(wanted)):
        if face >= 0 and number[face] >= 0 and out[number[face]] is None:
            out[number[face]] = one
    return out


def held_places(before: Mesh, after: Mesh) -> tuple[float, list[Held]]:
    """Squares a metre, and where islands of a mesh stand after it was packed; islands that were not packed are left out."""
    uv, packed = uvs(before), uvs(after)
    if uv is None or packed is None:
        return 0.0, []
    metres, number = at_one_density(before, uv, islands_of(before, uv), np.ones(before.topology.face_count, bool))
    of_corner = number[before.topology.corner_face]
    low, _ = boxes(packed, of_corner)
    area = Flat.of(before, uv).face_areas
    order = np.argsort(of_corner, kind="stable")
    starts = np.searchsorted(of_corner[order], np.arange(len(low) + 1))
    found: list[tuple[float, Held]] = []
    for i in range(len(low)):
        mine = order[starts[i]:starts[i + 1]]
        away = metres[mine] - metres[mine[0]]
        far = int(np.argmax(np.hypot(away[:, 0], away[:, 1])))
        here, there = away[far], packed[mine[far]] - packed[mine[0]]
        long = float(np.hypot(*here))
        if long <= 0:
            continue
        turn = (np.arctan2(there[1], there[0]) - np.arctan2(here[1], here[0])) / (np.pi / 2)
        if abs(turn - round(turn)) > _NEAR:
            continue
        faces = np.flatnonzero(number == i)
        face = faces[int(np.argmax(area[faces]))]
        [name] = hex_of(before.names.face[face:face + 1])
        at = (float(low[i, 0]), float(low[i, 1]))
        found.append((float(np.hypot(*there)) / long, Held(name, at, round(turn) % 4)))
    if not found:
        return 0.0, []
    scale = float(np.median([s for s, _ in found]))
    return scale, [h for s, h in found if abs(s - scale) <= _NEAR * scale]

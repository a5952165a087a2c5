"""Curves that leave as drawings, and drawings that come in as recipes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np

from ..curve.curve import Curve
from ..curve.nest import nested
from ..curve.plane import plane_of
from ..errors import StepError
from ..files.drawing import Drawing, Run
from ..files.write import CannotWrite
from ..files.writing.svg import write_svg
from ..recipe.built import BuiltPart
from ..recipe.document import Document
from ..units import METRES, Unit


def _write_dxf(curves: Sequence[tuple[str, Curve]], metres: float, unit: str) -> bytes:
    from ..files.writing.dxf import write_dxf  # slow to load, and only such files ask
    return write_dxf(curves, metres, unit)


DRAWINGS: dict[str, Callable[[Sequence[tuple[str, Curve]], float, str], bytes]] = {".svg": write_svg, ".dxf": _write_dxf}
MEDIA_TYPES = {".svg": "image/svg+xml", ".dxf": "image/vnd.dxf"}


def drawing_of(document: Document, parts: Sequence[BuiltPart], extension: str) -> bytes:
    """The parts that are curves, drawn flat in the plane they share.

    Raises:
        CannotWrite: none is a curve, one leaves its plane, or they lie in planes that are not parallel.
    """
    found = [(p.name, p.curve) for p in parts if p.curve is not None and not p.part.hidden]
    if not found:
        raise CannotWrite(f"no part is a curve, and {extension} holds curves alone; models go into other formats")
    planes = []
    for name, curve in found:
        try:
            planes.append(plane_of(curve, extension))
        except StepError:
            raise CannotWrite(f"part '{name}' leaves its plane; flatten it, or write the others by themselves") from None
    first = planes[0]
    out = []
    for (name, curve), plane in zip(found, planes, strict=True):
        if abs(abs(float(plane.normal @ first.normal)) - 1) > 1e-9:
            raise CannotWrite(f"parts '{found[0][0]}' and '{name}' lie in different planes; write them one by one")
        out.append((name, curve.mapped(np.stack([*first.axes, first.normal]), np.zeros(3))))
    return DRAWINGS[extension](out, METRES[document.unit], document.unit)


def recipe_of(drawing: Drawing, unit: Unit = "mm") -> dict[str, Any]:
    """A recipe file with a part for each run; what lies inside another run of one shape is taken off it."""
    scale = drawing.metres / METRES[unit]
    parts: list[dict[str, Any]] = []
    taken: set[str] = set()
    for title, runs in drawing.shapes:
        own = [{"id": f"part{len(parts) + k + 1}", **_part(_free(title, taken), run, scale)} for k, run in enumerate(runs)]
        for part, inside in zip(own, _inside(runs), strict=True):
            if inside:
                part["steps"].append({"kind": "combine", "operation": "subtract", "parts": [own[i]["id"] for i in inside]})
        parts += own
    return {"format": "rhytonic", "version": 1, "unit": unit, "parts": parts}


def _free(title: str, taken: set[str]) -> str:
    name, n = title, 1
    while name in taken:
        n += 1
        name = f"{title} {n}"
    taken.add(name)
    return name


def _part(name: str, run: Run, scale: float) -> dict[str, Any]:
    if run.arc is not None:
        (x, y), radius, since, until = run.arc
        step: dict[str, Any] = {"kind": "arc", "radius": radius * scale, "from": since, "to": until}
        placed = {"placement": {"translate": [x * scale, y * scale, 0.0]}} if (x, y) != (0.0, 0.0) else {}
        return {"name": name, **placed, "steps": [step]}
    points: list[Any] = []
    for at, out, into in zip(run.points, run.out, run.into, strict=True):
        place = [at[0] * scale, at[1] * scale, 0.0]
        handles = {key: [v[0] * scale, v[1] * scale, 0.0] for key, v in (("in", into), ("out", out)) if v is not None}
        smooth = len(handles) == 2 and _opposite(handles["in"], handles["out"])
        points.append({"at": place, **({"corner": "soft"} if smooth else {}), **handles} if handles else place)
    return {"name": name, "steps": [{"kind": "path", "points": points, **({"closed": True} if run.closed else {})}]}


def _opposite(a: list[float], b: list[float]) -> bool:
    size = np.hypot(a[0], a[1]) * np.hypot(b[0], b[1])
    return bool(size > 0 and a[0] * b[0] + a[1] * b[1] < -(1 - 1e-6) * size)


def _inside(runs: Sequence[Run]) -> list[list[int]]:
    """Of each run of a shape, which others are holes right inside it (even–odd); none for holes themselves."""
    out: list[list[int]] = [[] for _ in runs]
    closed = [i for i, r in enumerate(runs) if r.closed and r.arc is None and len(r.points) > 2]
    if len(closed) > 1:
        for outer, *holes in nested([np.array(runs[i].points) for i in closed]).regions:
            out[closed[outer]] = [closed[h] for h in holes]
    return out

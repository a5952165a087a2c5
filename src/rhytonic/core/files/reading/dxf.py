"""Outlines out of DXF files (Drawing Exchange Format): lines, polylines with bulges, arcs, circles, ellipses, splines."""

from __future__ import annotations

import io
from collections.abc import Iterator
from itertools import pairwise
from typing import Any

import numpy as np
from ezdxf import path as dxf_path
from ezdxf.disassemble import recursive_decompose
from ezdxf.enums import InsertUnits
from ezdxf.filemanagement import read
from ezdxf.units import conversion_factor

from ...units import METRES, Unit
from ..drawing import MOST_RUNS, Drawing, Run, healed, joined, refuse_larger, refuse_many
from ..limits import BadModel, name_from

_NAMES = {"mm": "millimetres", "cm": "centimetres", "m": "metres", "in": "inches", "ft": "feet"}
_DEEPEST = 50
_READ = {"LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"}


def read_dxf(data: bytes, told: Unit | None = None) -> Drawing:
    """What a DXF file draws in its model space, seen from above; ``told`` is its unit where it tells none itself.

    Raises:
        BadModel: it is too large, no DXF, or draws far more than is taken.
    """
    refuse_larger(data)
    if b"Binary DXF" in data[:32]:
        raise BadModel("the file is a binary DXF; save it as DXF in text")
    try:
        drawing = read(io.StringIO(data.decode("utf-8", errors="surrogateescape").replace("\r\n", "\n")))
        # the library fills a header that is not there with units of its own
        unit = int(drawing.header.get("$INSUNITS", 0)) if b"$INSUNITS" in data else 0
        unit = unit if unit in set(InsertUnits) else 0
        assumed = None if unit else told or "mm"
        metres = METRES[assumed] if assumed else float(conversion_factor(InsertUnits(unit), InsertUnits.Meters))
        _refuse_many_blocks(drawing)
        shapes, other = _shapes(drawing)
    except BadModel:
        raise
    except Exception:  # whatever a broken file makes of the library, it is a broken file
        raise BadModel("the file is no DXF that is read: it breaks off, or something in it is not as the format has it; "
                       "save it again as DXF in text") from None
    shapes, notes = healed(shapes)
    refuse_many(shapes)
    if assumed:
        notes = (f"the file tells no unit: {_NAMES[assumed]} were {'taken' if told else 'assumed'}", *notes)
    if other:
        notes = (*notes, f"left out: {', '.join(sorted(other))}")
    return Drawing(metres, shapes, notes, assumed)


def _refuse_many_blocks(drawing: Any) -> None:
    """Blocks within blocks, in rows and columns, are counted before any is made; empty ones too."""
    sizes: dict[str, int] = {}

    def size(name: str, above: tuple[str, ...]) -> int:
        if name in above or len(above) > _DEEPEST:
            raise BadModel("the file puts a block into itself, or nests blocks too deep")
        if name not in sizes:
            block = drawing.blocks.get(name)
            sizes[name] = total(block, (*above, name)) if block is not None else 0
        return sizes[name]

    def total(entities: Any, above: tuple[str, ...]) -> int:
        count = 0
        for entity in entities:
            count += 1
            if entity.dxftype() == "INSERT":
                times = max(int(entity.dxf.get("row_count", 1)), 1) * max(int(entity.dxf.get("column_count", 1)), 1)
                count += times * (1 + size(str(entity.dxf.name), above))
            if count > MOST_RUNS * 20:
                raise BadModel(f"the file draws more than {MOST_RUNS * 20} pieces, blocks counted")
        return count

    total(drawing.modelspace(), ())


def _shapes(drawing: Any) -> tuple[list[tuple[str, list[Run]]], set[str]]:
    layers: dict[str, list[Run]] = {}
    other: set[str] = set()
    for count, entity in enumerate(recursive_decompose(drawing.modelspace())):
        if count > MOST_RUNS * 20:
            raise BadModel(f"the file draws more than {MOST_RUNS * 20} pieces, blocks counted")
        word = entity.dxftype()
        if word not in _READ:
            other.add(word)
            continue
        run = _run(entity, word)
        if run is not None:
            layers.setdefault(entity.dxf.layer, []).append(run)
    out = []
    for layer, runs in layers.items():
        every = np.array([p for r in runs for p in r.points])
        near = 1e-6 * max(float(np.ptp(every, axis=0).max()), 1e-9)
        for run in joined(runs, near):
            out.append((name_from(layer, "Outline").capitalize() if layer != "0" else "Outline", [run]))
    return out, other


def _run(entity: Any, word: str) -> Run | None:
    run = Run()
    upright = word in ("ARC", "CIRCLE") and tuple(entity.dxf.extrusion) == (0.0, 0.0, 1.0)
    if upright:
        centre, radius = (float(entity.dxf.center.x), float(entity.dxf.center.y)), float(entity.dxf.radius)
        since, until = (0.0, 360.0) if word == "CIRCLE" else (float(entity.dxf.start_angle), float(entity.dxf.end_angle))
        until = until if until > since else until + 360.0
        run.arc = (centre, radius, since, until)
        run.closed = word == "CIRCLE"
        for angle in np.radians([since, until]):
            run.line_to(centre[0] + radius * float(np.cos(angle)), centre[1] + radius * float(np.sin(angle)))
        return run if radius > 0 else None
    if word == "LWPOLYLINE" and tuple(entity.dxf.extrusion) == (0.0, 0.0, 1.0):
        return _polyline(entity)
    made = dxf_path.make_path(entity, segments=8)
    run.line_to(made.start.x, made.start.y)
    command: Any
    for command in made.commands():
        end = (float(command.end.x), float(command.end.y))
        kind = command.type.name
        if kind == "LINE_TO":
            run.line_to(*end)
        elif kind == "CURVE4_TO":
            run.cubic_to((command.ctrl1.x, command.ctrl1.y), (command.ctrl2.x, command.ctrl2.y), end)
        elif kind == "CURVE3_TO":
            x, y = run.points[-1]
            c = command.ctrl
            run.cubic_to((x + (c.x - x) * 2 / 3, y + (c.y - y) * 2 / 3),
                         (end[0] + (c.x - end[0]) * 2 / 3, end[1] + (c.y - end[1]) * 2 / 3), end)
    if made.is_closed and len(run.points) > 2:
        run.close(1e-9 * max(abs(v) for p in run.points for v in p))
    return run if len(run.points) > 1 else None


def _polyline(entity: Any) -> Run | None:
    """A bulge is the tangent of a quarter of the turn to the next point (DXF reference, LWPOLYLINE, code 42)."""
    rows = [(float(x), float(y), float(b)) for x, y, b in entity.get_points("xyb")]
    if len(rows) < 2:
        return None
    run = Run()
    run.line_to(*rows[0][:2])
    for (x, y, bulge), (u, v, _) in _steps(rows, bool(entity.closed)):
        if abs(bulge) < 1e-12:
            run.line_to(u, v)
            continue
        turn = 4 * np.arctan(bulge)
        away = (1 - bulge**2) / (4 * bulge)  # from the chord's middle to the centre, in chords
        run.arc_to(((x + u) / 2 - away * (v - y), (y + v) / 2 + away * (u - x)), float(turn))
        run.points[-1] = (u, v)
    if entity.closed:
        run.close(1e-9 * max(1.0, *(abs(w) for r in rows for w in r[:2])))
    return run


def _steps(rows: list[tuple[float, float, float]], closed: bool) -> Iterator[tuple[tuple[float, float, float], ...]]:
    yield from pairwise(rows)
    if closed:
        yield rows[-1], rows[0]

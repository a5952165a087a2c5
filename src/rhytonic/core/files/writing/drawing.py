"""Curves as drawing files."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace
from ezdxf.math import Bezier4P, Vec3, bezier_to_bspline

from ...curve.curve import ARC, CUBIC, Curve
from ...curve.spans import Spans
from ...mesh.mesh import Floats

#: DXF reference, header variable $INSUNITS
_UNITS = {"in": 1, "ft": 2, "mm": 4, "cm": 5, "m": 6}


def write_svg(curves: Sequence[tuple[str, Curve]], metres: float, unit: str) -> bytes:
    """Flat curves (in x and y) as an SVG in millimetres, a path each; circular arcs as arcs."""
    places = np.concatenate([c.divided.points[:, :2] for _, c in curves]) * 1000
    low, high = places.min(axis=0), places.max(axis=0)
    margin = 0.02 * max(float((high - low).max()), 1e-6)
    width, height = high - low + 2 * margin
    box = f"{_n(low[0] - margin)} {_n(-high[1] - margin)} {_n(width)} {_n(height)}"
    out = ['<?xml version="1.0" encoding="UTF-8"?>', f'<svg xmlns="http://www.w3.org/2000/svg" width="{_n(width)}mm" '
           f'height="{_n(height)}mm" viewBox="{box}">']
    for name, curve in curves:
        safe = "".join(c if c.isalnum() else "_" for c in name)
        data = " ".join(_svg_run(curve, run) for run in range(curve.wires.closed.size))
        out.append(f'  <path id="{safe}" d="{data}" fill="none" stroke="black" stroke-width="{_n(margin / 10)}" '
                   'fill-rule="evenodd"/>')
    return "\n".join([*out, "</svg>", ""]).encode()


def _svg_run(curve: Curve, run: int) -> str:
    points = curve.points[:, :2] * [1000.0, -1000.0]
    controls = curve.controls[:, :, :2] * [1000.0, -1000.0]
    first = int(curve.wires.offsets[run])
    words = [f"M {_n(points[first][0])} {_n(points[first][1])}"]
    for s, end in _spans(curve, run):
        x, y = points[end]
        if curve.wires.kind[s] == CUBIC:
            (a, b), (c, d) = controls[s]
            words.append(f"C {_n(a)} {_n(b)} {_n(c)} {_n(d)} {_n(x)} {_n(y)}")
        elif curve.wires.kind[s] == ARC:
            radius, turn = _round(points[s], points[end], controls[s, 0], float(curve.wires.weight[s]))
            words.append(f"A {_n(radius)} {_n(radius)} 0 0 {int(turn > 0)} {_n(x)} {_n(y)}")
        else:
            words.append(f"L {_n(x)} {_n(y)}")
    return " ".join([*words, "Z"] if curve.wires.closed[run] else words)


def write_dxf(curves: Sequence[tuple[str, Curve]], metres: float, unit: str) -> bytes:
    """Flat curves (in x and y) as a DXF in the build's unit, a layer each: polylines with bulges, splines where spans are
    soft."""
    drawing = new("R2010", units=_UNITS[unit])
    space = drawing.modelspace()
    for name, curve in curves:
        layer = "".join(c if c.isalnum() or c in " -_" else "_" for c in name)[:200]
        if layer not in drawing.layers:
            drawing.layers.add(layer)
        for run in range(curve.wires.closed.size):
            _dxf_run(space, curve, run, metres, layer)
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue().encode()


def _dxf_run(space: Modelspace, curve: Curve, run: int, metres: float, layer: str) -> None:
    points, controls = curve.points[:, :2] / metres, curve.controls[:, :, :2] / metres
    w, spans = curve.wires, _spans(curve, run)
    own = range(int(w.offsets[run]), int(w.offsets[run + 1]))
    kinds = {int(w.kind[s]) for s, _ in spans}
    if CUBIC not in kinds:
        bulge = dict.fromkeys(own, 0.0)
        for s, end in spans:
            if w.kind[s] == ARC:
                _, turn = _round(points[s], points[end], controls[s, 0], float(w.weight[s]))
                bulge[s] = float(np.tan(turn / 4))
        rows = [(float(points[i, 0]), float(points[i, 1]), bulge[i]) for i in own]
        space.add_lwpolyline(rows, format="xyb", close=bool(w.closed[run]), dxfattribs={"layer": layer})
        return
    pieces = [Bezier4P([Vec3(*p) for p in _as_cubic(curve, s, end, points, controls)]) for s, end in spans]
    spline = bezier_to_bspline(pieces)
    space.add_spline(dxfattribs={"layer": layer}).apply_construction_tool(spline)


def _spans(curve: Curve, run: int) -> list[tuple[int, int]]:
    """Spans of a run, each told by the points it begins and ends at."""
    spans = Spans.of(curve)
    mine = np.flatnonzero(curve.wires.run[spans.begin] == run)
    return list(zip(spans.begin[mine].tolist(), spans.end[mine].tolist(), strict=True))


def _round(a: Floats, b: Floats, corner: Floats, weight: float) -> tuple[float, float]:
    """Radius and turn, counter-clockwise positive, of an arc whose tangents meet at a corner."""
    half = float(np.arccos(np.clip(weight, -1, 1)))
    way, to = b - a, corner - a
    side = float(to[0] * way[1] - to[1] * way[0])
    return float(np.hypot(*to)) / np.tan(half), 2 * half * (1 if side > 0 else -1)


def _as_cubic(curve: Curve, s: int, end: int, points: Floats, controls: Floats) -> list[Floats]:
    a, b = points[s], points[end]
    kind = curve.wires.kind[s]
    if kind == CUBIC:
        return [a, controls[s, 0], controls[s, 1], b]
    if kind == ARC:
        half = float(np.arccos(np.clip(curve.wires.weight[s], -1, 1)))
        share = 4 / 3 * np.tan(half / 2) / np.tan(half)
        return [a, a + share * (controls[s, 0] - a), b + share * (controls[s, 0] - b), b]
    return [a, a + (b - a) / 3, b - (b - a) / 3, b]


def _n(value: float) -> str:
    return f"{float(value):.9g}"

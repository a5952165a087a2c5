"""Curves as DXF (Drawing Exchange Format)."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace
from ezdxf.math import Bezier4P, Vec3, bezier_to_bspline

from ...curve.curve import ARC, CUBIC, Curve
from ...mesh.mesh import Floats
from .curves import round_of, spans_of

#: DXF reference, header variable $INSUNITS
_UNITS = {"in": 1, "ft": 2, "mm": 4, "cm": 5, "m": 6}


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
    w, spans = curve.wires, spans_of(curve, run)
    own = range(int(w.offsets[run]), int(w.offsets[run + 1]))
    kinds = {int(w.kind[s]) for s, _ in spans}
    if CUBIC not in kinds:
        bulge = dict.fromkeys(own, 0.0)
        for s, end in spans:
            if w.kind[s] == ARC:
                _, turn = round_of(points[s], points[end], controls[s, 0], float(w.weight[s]))
                bulge[s] = float(np.tan(turn / 4))
        rows = [(float(points[i, 0]), float(points[i, 1]), bulge[i]) for i in own]
        space.add_lwpolyline(rows, format="xyb", close=bool(w.closed[run]), dxfattribs={"layer": layer})
        return
    pieces = [Bezier4P([Vec3(*p) for p in _as_cubic(curve, s, end, points, controls)]) for s, end in spans]
    spline = bezier_to_bspline(pieces)
    space.add_spline(dxfattribs={"layer": layer}).apply_construction_tool(spline)


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

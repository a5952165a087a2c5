"""Curves as SVG (Scalable Vector Graphics)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...curve.curve import ARC, CUBIC, Curve
from .curves import round_of, spans_of


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
    for s, end in spans_of(curve, run):
        x, y = points[end]
        if curve.wires.kind[s] == CUBIC:
            (a, b), (c, d) = controls[s]
            words.append(f"C {_n(a)} {_n(b)} {_n(c)} {_n(d)} {_n(x)} {_n(y)}")
        elif curve.wires.kind[s] == ARC:
            radius, turn = round_of(points[s], points[end], controls[s, 0], float(curve.wires.weight[s]))
            words.append(f"A {_n(radius)} {_n(radius)} 0 0 {int(turn > 0)} {_n(x)} {_n(y)}")
        else:
            words.append(f"L {_n(x)} {_n(y)}")
    return " ".join([*words, "Z"] if curve.wires.closed[run] else words)


def _n(value: float) -> str:
    return f"{float(value):.9g}"

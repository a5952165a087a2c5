"""Outlines out of SVG files (Scalable Vector Graphics 1.1, W3C 2011): shapes and paths, their transforms, their units."""

from __future__ import annotations

import io
import re
from collections.abc import Callable, Iterator
from typing import Any
from xml.etree.ElementTree import Element, ParseError, tostring

import numpy as np
from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring
from svgelements import SVG, Arc, Close, CubicBezier, Line, Move, Path, QuadraticBezier, Shape

from ..drawing import MOST_RUNS, TURN, Outlines, Run, handle_of, refuse_larger, refuse_many
from ..limits import BadModel, name_from

#: CSS: 96 pixels are an inch
METRES = 0.0254 / 96
_PIXELS = {"mm": 96 / 25.4, "cm": 96 / 2.54, "Q": 96 / 101.6, "in": 96.0, "pt": 96 / 72, "pc": 16.0}
_LENGTH = re.compile(r"^\s*([+-]?[0-9.]+(?:[eE][+-]?[0-9]+)?)\s*(mm|cm|Q|in|pt|pc)\s*$")
_MOST_ELEMENTS = 100_000


def read_svg(data: bytes) -> Outlines:
    """What an SVG file draws, y up.

    Raises:
        BadModel: it is too large, no SVG, or asks for far more than it holds.
    """
    refuse_larger(data)
    try:
        tree = fromstring(data, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except (ParseError, DefusedXmlException, ValueError) as error:
        raise BadModel(f"the file is no SVG that is read: {error or type(error).__name__}") from None
    if _local(tree) != "svg":
        raise BadModel(f"the file is XML, but no SVG: it begins with '{_local(tree)}'")
    _refuse_many_uses(tree)
    for element in tree.iter():
        _in_pixels(element)
    try:
        drawing = SVG.parse(io.BytesIO(tostring(tree)), reify=True, ppi=96.0)
        shapes = list(_shapes(drawing))
    except (ValueError, TypeError, IndexError, AttributeError, KeyError, ZeroDivisionError, RecursionError) as error:
        raise BadModel(f"the file has something that is no SVG: {error}") from None
    refuse_many(shapes)
    return Outlines(METRES, shapes)


def _local(element: Element) -> str:
    return str(element.tag).rsplit("}", 1)[-1]


def _in_pixels(element: Element) -> None:
    """Lengths with a unit told as pixels, to the last bit."""
    for key, value in element.attrib.items():
        found = _LENGTH.match(value)
        if found:
            element.set(key, repr(float(found[1]) * _PIXELS[found[2]]))


def _refuse_many_uses(tree: Element) -> None:
    """Copies of copies are counted before any is made."""
    named = {e.get("id"): e for e in tree.iter() if e.get("id")}
    counts: dict[int, int] = {}

    def size(element: Element, above: tuple[int, ...]) -> int:
        if id(element) in above or len(above) > 200:
            raise BadModel("the file copies something into itself, or nests too deep")
        if id(element) not in counts:
            inside = (*above, id(element))
            total = 1 + sum(size(child, inside) for child in element)
            if _local(element) == "use":
                href = element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or ""
                target = named.get(href.lstrip("#"))
                total += size(target, inside) if target is not None else 0
            counts[id(element)] = total
            if total > _MOST_ELEMENTS:
                raise BadModel(f"the file draws more than {_MOST_ELEMENTS} shapes, copies counted")
        return counts[id(element)]

    size(tree, ())


def _shapes(drawing: Any) -> Iterator[tuple[str, list[Run]]]:
    count = 0
    for element in drawing.elements():
        if not isinstance(element, Shape) or element.values.get("visibility") == "hidden":
            continue
        runs = _runs(abs(Path(element)))
        count += len(runs)
        if count > MOST_RUNS:
            raise BadModel(f"the file draws more than {MOST_RUNS} runs")
        if runs:
            yield name_from(element.id or element.values.get("tag"), "Outline").capitalize(), runs


def _runs(path: Any) -> list[Run]:
    out: list[Run] = []
    run = Run()
    near = 1e-9

    def at(p: Any) -> tuple[float, float]:
        return float(p.x), -float(p.y)

    for segment in path:
        if isinstance(segment, Move):
            run = Run()
            run.line_to(*at(segment.end))
            out.append(run)
        elif isinstance(segment, Close):
            if not run.closed and len(run.points) > 1:
                run.close(near)
            run = Run()
            if segment.end is not None:
                run.line_to(*at(segment.end))
                out.append(run)
        elif isinstance(segment, Line):
            run.line_to(*at(segment.end))
        elif isinstance(segment, CubicBezier):
            run.cubic_to(at(segment.control1), at(segment.control2), at(segment.end))
        elif isinstance(segment, QuadraticBezier):
            a, b, c = (np.array(at(p)) for p in (segment.start, segment.control, segment.end))
            one, two = a + (b - a) * 2 / 3, c + (b - c) * 2 / 3
            run.cubic_to((float(one[0]), float(one[1])), (float(two[0]), float(two[1])), at(segment.end))
        elif isinstance(segment, Arc):
            _along(run, segment, at)
    return [r for r in out if len(r.points) > 1]


def _along(run: Run, arc: Any, at: Callable[[Any], tuple[float, float]]) -> None:
    """On along an arc of an ellipse, centre + a·cos t + b·sin t."""
    centre, one, other = (np.array(at(p)) for p in (arc.center, arc.prx, arc.pry))
    a, b, since = one - centre, other - centre, float(arc.get_start_t())
    pieces = max(1, int(np.ceil(abs(arc.sweep) / TURN - 1e-9)))
    each = float(arc.sweep) / pieces
    reach = handle_of(each)
    for k in range(pieces):
        s, t = since + k * each, since + (k + 1) * each
        begin, end = (centre + a * np.cos(u) + b * np.sin(u) for u in (s, t))
        leave, reached = (b * np.cos(u) - a * np.sin(u) for u in (s, t))
        run.cubic_to(tuple((begin + reach * leave).tolist()), tuple((end - reach * reached).tolist()), tuple(end.tolist()))

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

from ..drawing import MOST_RUNS, TURN, Drawing, Run, handle_of, healed, refuse_larger, refuse_many
from ..limits import BadModel, name_from

#: CSS: 96 pixels are an inch
METRES = 0.0254 / 96
_PIXELS = {"mm": 96 / 25.4, "cm": 96 / 2.54, "Q": 96 / 101.6, "in": 96.0, "pt": 96 / 72, "pc": 16.0}
_LENGTH = re.compile(r"^\s*([+-]?[0-9.]+(?:[eE][+-]?[0-9]+)?)\s*(mm|cm|Q|in|pt|pc)\s*$")
_MOST_ELEMENTS = 20_000
#: characters of all paths together, of a style sheet, and rules of one
_LONGEST_PATHS, _LONGEST_STYLE, _MOST_RULES = 1_500_000, 200_000, 1_000
_RULE = re.compile(r"([^{}]{1,300})\{([^{}]{0,3000})\}")


def read_svg(data: bytes) -> Drawing:
    """What an SVG file draws, y up.

    Raises:
        BadModel: it is too large, no SVG, or asks for far more than it holds.
    """
    refuse_larger(data)
    try:
        tree = fromstring(data, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except ParseError as error:
        line = getattr(error, "position", (0, 0))[0]
        raise BadModel(f"the file is no SVG that is read: its XML breaks off or does not hold together at line {line}"
                       ) from None
    except (DefusedXmlException, ValueError, LookupError):
        raise BadModel("the file is no SVG that is read: it defines entities, or is written in an unknown way") from None
    if _local(tree) != "svg":
        raise BadModel(f"the file is XML, but no SVG: it begins with '{_local(tree)}'")
    _refuse_many_uses(tree)
    _refuse_many_numbers(tree)
    rounded = 0
    for element in tree.iter():
        _in_pixels(element)
        if _local(element) == "style":
            element.text = _rules(element.text or "")
        elif _local(element) == "rect":
            rounded += _round_enough(element)
    try:
        drawing = SVG.parse(io.BytesIO(tostring(tree)), reify=True, ppi=96.0)
        shapes = list(_shapes(drawing))
    except BadModel:
        raise
    except (ValueError, TypeError, IndexError, AttributeError, KeyError, ArithmeticError, RecursionError):
        raise BadModel("the file has a shape or a number that is none as SVG has it; save it again as plain SVG") from None
    shapes, notes = healed(shapes)
    refuse_many(shapes)
    if rounded:
        notes = (*notes, f"{rounded} {'rectangle has' if rounded == 1 else 'rectangles have'} corners rounder than half a "
                         "side, taken as half of it")
    return Drawing(METRES, shapes, notes)


def _local(element: Element) -> str:
    return str(element.tag).rsplit("}", 1)[-1]


def _in_pixels(element: Element) -> None:
    """Lengths with a unit told as pixels, to the last bit."""
    for key, value in element.attrib.items():
        found = _LENGTH.match(value)
        if found:
            element.set(key, repr(float(found[1]) * _PIXELS[found[2]]))


def _rules(text: str) -> str:
    """What of a style sheet holds together: so many rules, each so long."""
    found = _RULE.findall(text[:_LONGEST_STYLE])
    return " ".join(f"{names}{{{values}}}" for names, values in found[:_MOST_RULES])


def _round_enough(rect: Element) -> bool:
    """Corners no rounder than half a side, as the standard has it (SVG 1.1, 9.2); whether they were."""
    over = False
    for radius, side in (("rx", "width"), ("ry", "height")):
        try:
            most = float(rect.get(side, "")) / 2
            told = float(rect.get(radius, rect.get("ry" if radius == "rx" else "rx", "")))
        except ValueError:
            continue
        if told > most >= 0:
            rect.set(radius, repr(most))
            over = over or told > most * (1 + 1e-9)
    return over


def _refuse_many_numbers(tree: Element) -> None:
    """Long paths are told by the length of what they are written in, before any is taken apart."""
    written = sum(len(e.get("d", "")) + len(e.get("points", "")) for e in tree.iter())
    if written > _LONGEST_PATHS:
        raise BadModel(f"the file's paths are written in {written / 2**20:.1f} MB; at most {_LONGEST_PATHS / 2**20:.1f} MB "
                       "are taken; simplify them where they were drawn")


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
                # whatever stands for the mark in front of a name, the library takes it for one
                names = {href.strip()[1:], href.strip().lstrip("#"), href.rpartition("#")[2]}
                total += sum(size(named[n], inside) for n in names if n in named)
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

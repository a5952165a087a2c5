"""Wavefront OBJ in (Advanced Visualizer manual, appendix B1): points, faces, objects and groups; everything else is passed
over, and no other file is ever opened."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator

import numpy as np

from ...mesh.mesh import Floats
from ...waiting import check
from ..limits import MOST_CORNERS, MOST_FACES, MOST_NODES, MOST_VERTICES, BadModel, name_from, refuse_more
from ..model import Model, Node, Shape
from .polygons import mesh_of
from .tree import Entry, tree_of

#: of an OBJ file: points, faces and what else is told of each
_MOST_LINES = 4 * MOST_VERTICES


def looks_like_obj(data: bytes) -> bool:
    """Whether a text has a line that begins a point or a face."""
    return any(line.lstrip()[:2] in (b"v ", b"v\t", b"f ", b"f\t") for line in data[:1_000_000].splitlines()[:20_000])


def read_obj(data: bytes) -> Model:
    """The model of an OBJ file: a node for each object, or for each group where the file names no objects.

    Raises:
        BadModel: it is not one, or too large; tells the line.
    """
    refuse_more(data.count(b"\n") + data.count(b"\r"), _MOST_LINES, "lines")
    refuse_more(len(re.findall(rb"^[ \t]*v[ \t]", data, re.MULTILINE)), MOST_VERTICES, "vertices")
    refuse_more(len(re.findall(rb"^[ \t]*f[ \t]", data, re.MULTILINE)), MOST_FACES, "faces")
    refuse_more(len(re.findall(rb"^[ \t]*vt[ \t]", data, re.MULTILINE)), MOST_CORNERS, "places on the texture square")
    points: list[bytes] = []
    places: list[bytes] = []
    placed: list[int] = []
    sides: list[int] = []
    lines: list[int] = []
    corners: list[int] = []
    begins: list[tuple[str | None, tuple[str, ...], int]] = [(None, (), 0)]  # object, groups, first face
    has_objects = b"\no " in data or data.startswith(b"o ")
    for number, line in enumerate(_lines(data), 1):
        words = line.split()
        if not words:
            continue
        if not number % 50_000:
            check()
        match words[0]:
            case b"v":
                if len(words) < 4:
                    raise BadModel(f"line {number}: a point has three coordinates")
                points.extend(words[1:4])
            case b"vt":
                places.extend((*words[1:3], b"0", b"0")[:2])
            case b"f":
                before = len(corners)
                _face(words[1:], len(points) // 3, number, corners)
                if places:
                    placed.extend([-1] * (before - len(placed)))
                    placed.extend(_place(word, len(places) // 2) for word in words[1:])
                sides.append(len(corners) - before)
                lines.append(number)
                if len(corners) > MOST_CORNERS:
                    refuse_more(len(corners), MOST_CORNERS, "corners")
            case b"o":
                begins.append((_text(words[1:]), (), len(sides)))
            case b"g":
                groups = tuple(name_from(w.decode("utf-8", "replace"), "group") for w in words[1:])
                begins.append((begins[-1][0], groups, len(sides)))
    if not points:
        raise BadModel("the file has no points; an OBJ file begins them with the letter v")
    if not any(n > 2 for n in sides):
        raise BadModel("the file has no face: nothing in it could be shown; an OBJ file begins them with the letter f")
    try:
        place = np.array(points, dtype=np.float64).reshape(-1, 3)
    except ValueError:
        raise BadModel(f"a coordinate of a point is no number: {_first_bad(points)}") from None
    offsets = np.concatenate([[0], np.cumsum(np.array(sides, np.int64))])
    uv = _places(places, placed, len(corners))
    refuse_more(len(begins), 20 * MOST_NODES, "objects and groups")
    ring = np.array(corners, np.int64)
    if (ring >= len(place)).any():
        face = int(np.searchsorted(offsets, int(np.argmax(ring >= len(place))), side="right")) - 1
        raise BadModel(f"line {lines[face]}: the face names a point that is not there; the file has {len(place)}")
    found: list[Entry] = []
    ends = [b[2] for b in begins[1:]] + [len(sides)]
    for (name, groups, first), end in zip(begins, ends):
        if end == first:
            continue
        told = name if has_objects else " ".join(groups) or None
        path = _above(groups, told) if has_objects else ()
        if found and found[-1].name == (told or "part") and found[-1].path == path:
            first = found.pop().first  # the same goes on
        at = offsets[first:end + 1]
        used, own = np.unique(ring[at[0]:at[-1]], return_inverse=True)
        mesh = mesh_of(place[used], at - at[0], own.ravel(), None if uv is None else uv[at[0]:at[-1]])
        found.append(Entry(told or "part", path, Node(told or "part", shape=Shape(told or "part", mesh)), first))
    return tree_of(found)


def _lines(data: bytes) -> Iterator[bytes]:
    """Lines without their remarks, those that go on put together; never all of them at once."""
    if b"\\\n" in data or b"\\\r\n" in data:
        data = data.replace(b"\\\r\n", b" ").replace(b"\\\n", b" ")
    for line in io.BytesIO(data.replace(b"\r\n", b"\n").replace(b"\r", b"\n")):
        yield line.split(b"#", 1)[0] if b"#" in line else line


def _face(words: list[bytes], count: int, line: int, corners: list[int]) -> None:
    try:
        for word in words:
            n = int(word.split(b"/", 1)[0])
            corners.append(n - 1 if n > 0 else count + n if n < 0 else -1)
    except ValueError:
        told = b" ".join(words)[:60].decode("ascii", "replace")
        raise BadModel(f"line {line}: a face's corner is no number: {told}") from None
    if words and min(corners[-len(words):]) < 0:
        raise BadModel(f"line {line}: the face names a point that is not there; {count} are told before it")


def _place(word: bytes, count: int) -> int:
    """Which of the places told so far a corner names, −1 for none or one that is not there: a face without places is better
    than none."""
    told = word.split(b"/", 2)
    try:
        n = int(told[1]) if len(told) > 1 and told[1] else 0
    except ValueError:
        return -1
    n = n - 1 if n > 0 else count + n if n < 0 else -1
    return n if 0 <= n < count else -1


def _places(places: list[bytes], placed: list[int], corners: int) -> Floats | None:
    """(c, 2) the place of each corner, NaN for none; None where the file tells no places that can be read."""
    if not places:
        return None
    try:
        told = np.array(places, dtype=np.float64).reshape(-1, 2)
    except ValueError:
        return None
    index = np.full(corners, -1)
    index[:len(placed)] = placed
    out: Floats = np.where((index >= 0)[:, None], told[np.maximum(index, 0)], np.nan)
    return out


def _text(words: list[bytes]) -> str:
    return name_from(b" ".join(words).decode("utf-8", "replace"), "part")


def _above(groups: tuple[str, ...], name: str | None) -> tuple[str, ...]:
    """Groups that an object stands in: those it names, without itself."""
    kept = groups[:-1] if groups and groups[-1] == name else groups
    return () if kept in ((), ("default",)) else kept


def _first_bad(words: list[bytes]) -> str:
    for word in words:
        try:
            float(word)
        except ValueError:
            return word[:40].decode("ascii", "replace")
    return ""

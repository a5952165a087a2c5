"""PLY in (G. Turk, The PLY Polygon File Format, 1994): text and both binary orders; points and faces, the rest passed
over."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...mesh.topology import Ints
from ..limits import MOST_CORNERS, MOST_FACES, MOST_VERTICES, BadModel, refuse_more
from ..model import Model, Node, Shape
from .polygons import mesh_of

_LONGEST_HEADER = 65_536
_MOST = {"vertex": (MOST_VERTICES, "vertices"), "face": (MOST_FACES, "faces")}
_TYPES = {"char": "i1", "int8": "i1", "uchar": "u1", "uint8": "u1", "short": "i2", "int16": "i2", "ushort": "u2",
          "uint16": "u2", "int": "i4", "int32": "i4", "uint": "u4", "uint32": "u4", "float": "f4", "float32": "f4",
          "double": "f8", "float64": "f8"}
_ORDERS = {"ascii": "", "binary_little_endian": "<", "binary_big_endian": ">"}
_FACES = ("vertex_indices", "vertex_index")


@dataclass(frozen=True)
class _Property:
    name: str
    type: str
    count: str | None = None  # of a list


@dataclass(frozen=True)
class _Element:
    name: str
    count: int
    properties: list[_Property]

    @property
    def is_plain(self) -> bool:
        return all(p.count is None for p in self.properties)


def read_ply(data: bytes) -> Model:
    """The model of a PLY file: one node.

    Raises:
        BadModel: it is not one, is cut short, or is too large.
    """
    order, elements, at = _header(data)
    reader = _Text(data[at:]) if order == "" else _Binary(data, at, order)
    points, offsets, corners = np.zeros((0, 3)), np.zeros(1, np.int64), np.zeros(0, np.int64)
    for element in elements:
        if element.name == "vertex":
            names = [p.name for p in element.properties]
            if not element.is_plain or not {"x", "y", "z"} <= set(names):
                raise BadModel("the file's vertices have no x, y and z")
            points = reader.rows(element)[:, [names.index(axis) for axis in "xyz"]]
        elif element.name == "face":
            which = next((i for i, p in enumerate(element.properties) if p.name in _FACES and p.count), None)
            if which is None:
                raise BadModel("the file's faces name no vertices; a face has a list called vertex_indices")
            offsets, corners = reader.lists(element, which)
        else:
            reader.skip(element)
    return Model((Node("part", shape=Shape("part", mesh_of(points, offsets, corners))),))


def _header(data: bytes) -> tuple[str, list[_Element], int]:
    end = data.find(b"end_header", 0, _LONGEST_HEADER)
    if end < 0:
        raise BadModel("the file's header does not end; a PLY header ends with the line end_header")
    at = data.find(b"\n", end, end + 16)
    if at < 0:
        raise BadModel("the file ends with its header")
    order: str | None = None
    elements: list[_Element] = []
    for line in data[:end].decode("ascii", "replace").splitlines()[1:]:
        words = line.split()
        try:
            match words:
                case ["format", kind, _]:
                    order = _ORDERS[kind]
                case ["element", name, count]:
                    elements.append(_Element(name, int(count), []))
                    if elements[-1].count < 0:
                        raise ValueError
                    if name in _MOST:
                        refuse_more(elements[-1].count, *_MOST[name])
                    if elements[-1].count > len(data):
                        raise BadModel(f"the file says it has {elements[-1].count} of '{name[:40]}', which is more than it "
                                       "has bytes; it is cut short, or broken")
                case ["property", "list", count, kind, name]:
                    elements[-1].properties.append(_Property(name, _TYPES[kind], _TYPES[count]))
                case ["property", kind, name]:
                    elements[-1].properties.append(_Property(name, _TYPES[kind]))
        except (KeyError, ValueError, IndexError):
            raise BadModel(f"the file's header has a line that cannot be read: {line[:80]}") from None
    if order is None:
        raise BadModel("the file's header does not tell its format")
    return order, elements, at + 1


class _Binary:
    """Numbers one after the other."""

    def __init__(self, data: bytes, at: int, order: str) -> None:
        self.data, self.at, self.order = data, at, order

    def _dtype(self, properties: list[_Property]) -> np.dtype:
        return np.dtype([(str(i), self.order + p.type) for i, p in enumerate(properties)])

    def _take(self, dtype: np.dtype, count: int) -> np.ndarray:
        if self.at + dtype.itemsize * count > len(self.data):
            raise BadModel("the file is cut short")
        out = np.frombuffer(self.data, dtype, count, self.at)
        self.at += dtype.itemsize * count
        return out

    def rows(self, element: _Element) -> np.ndarray:
        """(n, properties) as doubles."""
        block = self._take(self._dtype(element.properties), element.count)
        return np.stack([block[str(i)].astype(np.float64) for i in range(len(element.properties))], axis=1)

    def skip(self, element: _Element) -> None:
        if element.is_plain:
            self._take(self._dtype(element.properties), element.count)
        else:
            self.lists(element, next(i for i, p in enumerate(element.properties) if p.count))

    def lists(self, element: _Element, which: int) -> tuple[Ints, Ints]:
        """One list of every row, ragged. Runs of rows with lists of the same lengths are read at once."""
        sides, chunks, done = np.zeros(element.count, np.int64), [], 0
        total = 0
        while done < element.count:
            lengths = self._lengths(element)
            row = np.dtype([(f"n{i}", self.order + p.count) if p.count and part == 0 else
                            (f"v{i}", self.order + p.type, (lengths[i],)) if p.count else (f"v{i}", self.order + p.type)
                            for i, p in enumerate(element.properties) for part in ((0, 1) if p.count else (1,))])
            left = min(element.count - done, (len(self.data) - self.at) // row.itemsize)
            if left == 0:
                raise BadModel("the file is cut short")
            block = np.frombuffer(self.data, row, left, self.at)
            same = np.ones(left, bool)
            for i, p in enumerate(element.properties):
                if p.count:
                    same &= block[f"n{i}"] == lengths[i]
            run = left if same.all() else int(np.argmin(same))
            sides[done:done + run] = lengths[which]
            chunks.append(block[f"v{which}"][:run].astype(np.int64).ravel())
            total += run * lengths[which]
            refuse_more(total, MOST_CORNERS, "corners")
            self.at += row.itemsize * run
            done += run
        corners = np.concatenate(chunks) if chunks else np.zeros(0, np.int64)
        return np.concatenate([[0], np.cumsum(sides)]), corners

    def _lengths(self, element: _Element) -> dict[int, int]:
        """How long each list of the next row is."""
        out, at = {}, self.at
        for i, p in enumerate(element.properties):
            if p.count is None:
                at += np.dtype(p.type).itemsize
                continue
            kind = np.dtype(self.order + p.count)
            if at + kind.itemsize > len(self.data):
                raise BadModel("the file is cut short")
            out[i] = int(np.frombuffer(self.data, kind, 1, at)[0])
            if out[i] < 0:
                raise BadModel("a list of the file has less than no entries")
            at += kind.itemsize + out[i] * np.dtype(p.type).itemsize
            if at > len(self.data):
                raise BadModel("the file is cut short")
        return out


class _Text:
    """Numbers as words, one row a line."""

    def __init__(self, data: bytes) -> None:
        self.lines = [line for line in data.splitlines() if line.strip()]
        self.at = 0

    def _take(self, count: int) -> list[bytes]:
        if self.at + count > len(self.lines):
            raise BadModel("the file is cut short")
        out = self.lines[self.at:self.at + count]
        self.at += count
        return out

    def skip(self, element: _Element) -> None:
        self._take(element.count)

    def rows(self, element: _Element) -> np.ndarray:
        width = len(element.properties)
        try:
            words = [line.split()[:width] for line in self._take(element.count)]
            return np.array(words, dtype=np.float64).reshape(-1, width)
        except ValueError:
            raise BadModel("a vertex of the file has a word that is no number") from None

    def lists(self, element: _Element, which: int) -> tuple[Ints, Ints]:
        sides: list[int] = []
        corners: list[int] = []
        for line in self._take(element.count):
            words = line.split()
            try:
                at = 0
                for i, p in enumerate(element.properties):
                    size = int(words[at]) if p.count else 0
                    if i == which:
                        sides.append(size)
                        corners.extend(map(int, words[at + 1:at + 1 + size]))
                        if size < 0 or len(words) < at + 1 + size:
                            raise ValueError
                        break
                    at += 1 + max(size, 0)
            except (ValueError, IndexError):
                raise BadModel(f"a face of the file cannot be read: {line[:60].decode('ascii', 'replace')}") from None
            if len(corners) > MOST_CORNERS:
                refuse_more(len(corners), MOST_CORNERS, "corners")
        return np.concatenate([[0], np.cumsum(np.array(sides, np.int64))]).astype(np.int64), np.array(corners, np.int64)

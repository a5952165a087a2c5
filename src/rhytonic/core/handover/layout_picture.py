"""The texture square as a picture for a paint program: islands outlined or filled, with the names of parts and islands."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

import numpy as np

from ..errors import RhytonicError
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..mesh.uv import Flat, islands_of, joined, uvs

SMALLEST, LARGEST = 16, 8192
_PAPER, _LINE, _INNER, _FILL, _NAME = 255, 0, 205, 190, 90


class NoLayout(RhytonicError):
    """Nothing lies on the texture square, or the picture asked for cannot be made."""

    code = "no_layout"


@dataclass(frozen=True)
class Drawn:
    """A part on the square.

    Attributes:
        name: the part's. outline, inner: (n, 2, 2) edges of its islands and between their faces, v up.
        triangles: (t, 3, 2) the faces; island: (t,) the island of each. middle: (i, 2) where each island's name goes.
    """

    name: str
    outline: Floats
    inner: Floats
    triangles: Floats
    island: Ints
    middle: Floats


def drawn_parts(parts: Sequence[tuple[str, Mesh]]) -> list[Drawn]:
    """The parts that lie on the square, as they are drawn.

    Raises:
        NoLayout: none does.
    """
    out = []
    for name, mesh in parts:
        uv = uvs(mesh)
        if uv is None:
            continue
        t, flat, island = mesh.topology, Flat.of(mesh, uv), islands_of(mesh, uv)
        together = joined(mesh, uv)
        has = (island >= 0)[t.corner_face]
        rim = np.flatnonzero(has & ~together)
        inner = np.flatnonzero(has & together & (t.twin > np.arange(t.corner_count)))

        def edges(half: Ints, uv: Floats = uv, following: Ints = t.next_corner) -> Floats:
            return np.stack([uv[half], uv[following[half]]], axis=1)

        number = island[flat.face]
        count = int(island.max()) + 1
        weight = np.abs(flat.signed) + 1e-30
        whole = np.bincount(number, weight, count)
        middle = np.stack([np.bincount(number, flat.places[:, :, k].mean(axis=1) * weight, count) / whole for k in (0, 1)],
                          axis=1)
        # a ring's middle is not on it: the name stands on the triangle nearest to it
        centre = flat.places.mean(axis=1)
        away = np.linalg.norm(centre - middle[number], axis=1)
        order = np.lexsort((away, number))
        first = order[np.searchsorted(number[order], np.arange(count))]
        out.append(Drawn(name, edges(rim), edges(inner), flat.places, number, centre[first]))
    if not out:
        raise NoLayout("no part lies on the texture square yet; project or unwrap one first")
    return out


def layout_png(parts: Sequence[tuple[str, Mesh]], size: int = 4096, depth: int = 8, fill: bool = False,
               names: bool = True) -> bytes:
    """The square as a greyscale PNG, (size, size) pixels of 8 or 16 bits, v up.

    Raises:
        NoLayout: no part lies on the square, or the size is out of bounds.
    """
    from PIL import Image, ImageDraw, ImageFont

    _refuse(size)
    if depth not in (8, 16):
        raise NoLayout("a layout picture has 8 or 16 bits")
    image = Image.new("L", (size, size), _PAPER)
    pen = ImageDraw.Draw(image)
    wide = max(1, round(size / 1024))
    drawn = drawn_parts(parts)

    def at(places: Floats) -> list[tuple[float, float]]:
        # the middle of the first pixel is half a pixel in
        return [(x, y) for x, y in (np.asarray(places) * [size, -size] + [-0.5, size - 0.5]).tolist()]

    for part in drawn:
        if fill:
            for triangle in part.triangles:
                pen.polygon(at(triangle), fill=_FILL, outline=_FILL)
        for edge in part.inner:
            pen.line(at(edge), fill=_INNER if not fill else _FILL + 25, width=1)
    for part in drawn:
        for edge in part.outline:
            pen.line(at(edge), fill=_LINE, width=wide)
    if names:
        font = ImageFont.load_default(max(9.0, size / 80))
        for part in drawn:
            for number, place in enumerate(part.middle, 1):
                pen.text(at(place[None])[0], name_of(part, number), fill=_NAME, font=font, anchor="mm")
    out = io.BytesIO()
    if depth == 16:
        wider = np.asarray(image, np.uint16) * np.uint16(257)
        Image.fromarray(wider).save(out, "PNG")
    else:
        image.save(out, "PNG")
    return out.getvalue()


def layout_svg(parts: Sequence[tuple[str, Mesh]], size: int = 4096, fill: bool = False, names: bool = True) -> bytes:
    """The square as an SVG of (size, size) units, a group for each part and island.

    Raises:
        NoLayout: no part lies on the square, or the size is out of bounds.
    """
    _refuse(size)
    wide = size / 1024
    out = ['<?xml version="1.0" encoding="UTF-8"?>', f'<svg xmlns="http://www.w3.org/2000/svg" width="{size}" '
           f'height="{size}" viewBox="0 0 {size} {size}">', f'<rect width="{size}" height="{size}" fill="white"/>']

    def run(edges: Floats) -> str:
        there = edges * [size, -size] + [0, size]
        return " ".join(f"M{_n(x)} {_n(y)}L{_n(z)} {_n(w)}" for x, y, z, w in there.reshape(-1, 4).tolist())

    for part in drawn_parts(parts):
        out.append(f'<g data-part="{escape(part.name, quote=True)}">')
        if fill:
            for number in range(len(part.middle)):
                there = part.triangles[part.island == number] * [size, -size] + [0, size]
                data = "".join(f"M{_n(a)} {_n(b)}L{_n(c)} {_n(d)}L{_n(e)} {_n(f)}Z" for a, b, c, d, e, f in
                               there.reshape(-1, 6).tolist())
                out.append(f'<path data-island="{number + 1}" d="{data}" fill="#bebebe" stroke="#bebebe"/>')
        out.append(f'<path d="{run(part.inner)}" fill="none" stroke="#cdcdcd" stroke-width="{_n(wide / 2)}"/>')
        out.append(f'<path d="{run(part.outline)}" fill="none" stroke="black" stroke-width="{_n(wide)}"/>')
        if names:
            for number, (u, v) in enumerate(part.middle.tolist(), 1):
                out.append(f'<text x="{_n(u * size)}" y="{_n((1 - v) * size)}" font-family="sans-serif" '
                           f'font-size="{_n(max(9.0, size / 80))}" fill="#5a5a5a" text-anchor="middle" '
                           f'dominant-baseline="central">{escape(name_of(part, number))}</text>')
        out.append("</g>")
    return "\n".join([*out, "</svg>", ""]).encode()


def name_of(part: Drawn, number: int) -> str:
    """What is written on an island: the part's name, and its number where the part has several."""
    return part.name if len(part.middle) == 1 else f"{part.name} {number}"


def _refuse(size: int) -> None:
    if not SMALLEST <= size <= LARGEST:
        raise NoLayout(f"a layout picture has from {SMALLEST} to {LARGEST} pixels a side, not {size}")


def _n(value: float) -> str:
    return f"{float(value):.7g}"

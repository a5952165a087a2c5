"""Draws the lantern's three boards to true scale, as the museum's drawing office would have."""

from __future__ import annotations

import io

from PIL import Image, ImageDraw

from . import window

#: pixels per centimetre of the drawings, and how much finer they are drawn before they are averaged down to that
SCALE, FINER = 20, 3
PAPER, WASH, INK, FINE = "#f3ead8", "#ddceb0", "#5b4a2e", "#a08a63"

Point = tuple[float, float]


class Sheet:
    """A drawing in centimetres: x from the middle to the right, y up from the lower edge."""

    def __init__(self, width: float, height: float) -> None:
        self.width, self.height = width, height
        self.image = Image.new("RGB", (round(width * SCALE * FINER), round(height * SCALE * FINER)), PAPER)
        self.draw = ImageDraw.Draw(self.image)

    def _at(self, p: Point) -> Point:
        return (p[0] + self.width / 2) * SCALE * FINER, (self.height - p[1]) * SCALE * FINER

    def shape(self, points: list[Point], fill: str | None = WASH, width: int = 4, ink: str = INK) -> None:
        """A closed outline, filled."""
        at = [self._at(p) for p in points]
        if fill:
            self.draw.polygon(at, fill=fill)
        self.draw.line([*at, at[0]], fill=ink, width=width * FINER, joint="curve")

    def box(self, x0: float, y0: float, x1: float, y1: float, fill: str | None = WASH, width: int = 4) -> None:
        """A rectangle, filled."""
        self.shape([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], fill, width)

    def line(self, a: Point, b: Point, width: int = 2) -> None:
        """A line of some width."""
        self.draw.line([self._at(a), self._at(b)], fill=FINE, width=width * FINER)

    def png(self) -> bytes:
        """The sheet as a PNG."""
        out = io.BytesIO()
        self.image.reduce(FINER).save(out, "PNG", optimize=True)
        return out.getvalue()


def elevation() -> bytes:
    """Front and right view: foot, housing with its pane, roof, chimney and knob."""
    sheet = Sheet(30, 46)
    sheet.box(-10, 0, 10, 2)
    sheet.shape([(-9, 2), (9, 2), (9.6, 3.5), (9.6, 26.5), (9, 28), (-9, 28), (-9.6, 26.5), (-9.6, 3.5)])
    sheet.box(-6, 8, 6, 23, fill="#c9b98f", width=3)
    sheet.box(-5.2, 8.8, 5.2, 22.2, fill="#e8dfc4", width=2)
    sheet.shape([(-11.5, 28), (11.5, 28), (11.5, 29), (3, 38), (-3, 38), (-11.5, 29)])
    sheet.box(-3, 38, 3, 41)
    sheet.line((-11.5, 29), (11.5, 29))
    x, y = sheet._at((0, 43))
    radius = 1.5 * SCALE * FINER
    sheet.draw.ellipse([x - radius, y - radius, x + radius, y + radius], fill=WASH, outline=INK, width=4 * FINER)
    sheet.line((0, 0), (0, 45.5), 1)
    return sheet.png()


def moulding() -> bytes:
    """The section of the window's moulding, its back edge in the middle."""
    sheet = Sheet(16, 6)
    bend = [(3.5 - 2 * t + 0.7 * t * (1 - t), 1.5 + 2 * t - 0.9 * t * (1 - t)) for t in (k / 12 for k in range(13))]
    sheet.shape([(x, y + 1) for x, y in [*window.SECTION[:3], *bend, *window.SECTION[5:]]])
    sheet.line((-8, 1), (8, 1), 1)
    sheet.line((0, 0), (0, 6), 1)
    return sheet.png()


def plan() -> bytes:
    """Top view: roof with its hips, and the chimney."""
    sheet = Sheet(30, 30)

    def square(half: float, fill: str | None = WASH) -> None:
        sheet.shape([(-half, 15 - half), (half, 15 - half), (half, 15 + half), (-half, 15 + half)], fill)

    square(11.5)
    for sx in (-1, 1):
        for sy in (-1, 1):
            sheet.line((sx * 11.5, 15 + sy * 11.5), (sx * 3, 15 + sy * 3), 3)
    square(3, "#c9b98f")
    return sheet.png()

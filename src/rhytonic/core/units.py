"""Units of length, and typed values: lengths such as ``12 cm + 3 mm`` or ``1 1/2 in``, numbers such as ``3*8``."""

from __future__ import annotations

import ast
import functools
import math
import operator
import re
from collections.abc import Callable
from typing import TYPE_CHECKING, Literal, get_args

from .errors import RhytonicError

if TYPE_CHECKING:
    import pint

Unit = Literal["cm", "mm", "m", "in", "ft"]
UNITS: tuple[Unit, ...] = get_args(Unit)

#: metres in one unit; exact by definition (international inch, 1959)
METRES: dict[Unit, float] = {"cm": 0.01, "mm": 0.001, "m": 1.0, "in": 0.0254, "ft": 0.3048}

_LONGEST = 200
_A_LENGTH = "write a length such as 12.5, 12 cm + 3 mm or 1 1/2 in"
_A_NUMBER = "write a number such as 12.5, 3*8 or 1/2"
_NAMES = {"'": "ft", '"': "in", "″": "in", "′": "ft"}
_OPERATORS: dict[type[ast.operator], Callable[[pint.Quantity, pint.Quantity], pint.Quantity]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}


class BadExpression(RhytonicError):
    """A typed value that cannot be read."""

    code = "bad_expression"


@functools.cache
def _registry() -> pint.UnitRegistry:
    import pint

    registry: pint.UnitRegistry = pint.UnitRegistry(None)  # only what the job measures: no prefix surprises
    for line in ("metre = [length] = m = meter", "centimetre = 0.01 m = cm", "millimetre = 0.001 m = mm",
                 "inch = 0.0254 m = in", "foot = 0.3048 m = ft"):
        registry.define(line)
    return registry


_NUMBER = re.compile(r"(?P<whole>\d+)\s+(?P<num>\d+)\s*/\s*(?P<den>\d+)|(?P<plain>\d+\.?\d*(?:[eE][+-]?\d+)?|\.\d+)")
_UNIT = re.compile(r"\s*(cm|mm|m|in|ft|\"|'|″|′)(?![A-Za-z])")


def _to_python(text: str, would_work: str) -> str:
    """Rewrite a typed expression as arithmetic over ``Q(number, unit)`` calls."""
    out: list[str] = []
    at = 0
    beside: bool | None = None  # whether the number just before has a unit; None where a sign or bracket came between
    while at < len(text):
        if text[at].isspace() or text[at] in "+-*/()":
            out.append(text[at])
            beside = beside if text[at].isspace() else None
            at += 1
            continue
        found = _NUMBER.match(text, at)
        if not found:
            raise BadExpression(f"'{text}' cannot be read at '{text[at:at + 8]}'; {would_work}")
        at = found.end()
        if found["whole"]:
            number = f"({found['whole']}+{found['num']}/{found['den']})"
        else:
            number = found["plain"]
        simple = re.match(r"\s*/\s*(\d+)(?=\s*(?:cm|mm|m|in|ft|\"|'|″|′))", text[at:]) if found["plain"] else None
        if simple:  # 1/2 in
            number = f"({number}/{simple[1]})"
            at += simple.end()
        unit = _UNIT.match(text, at)
        if beside is not None:
            if not (beside and unit):  # 5 ft 3 in is a length, 16 45 is two numbers
                raise BadExpression(f"'{text}' has numbers side by side; write a sign between them, such as 16 + 45")
            out.append("+")
        beside = unit is not None
        if unit:
            at = unit.end()
            out.append(f"Q({number},'{_NAMES.get(unit[1], unit[1])}')")
        else:
            out.append(f"Q({number},'')")
    return "".join(out).strip()


def parse_length(text: str, unit: Unit) -> float:
    """Read a typed length and return it in ``unit``.

    Plain numbers are in ``unit``; a comma is a decimal point. ``+ - * /`` and brackets work.

    Raises:
        BadExpression: the text is empty, too long, not arithmetic over lengths, or not finite.
    """
    result = _read(text, unit, _A_LENGTH)
    metres = _plain(result) * METRES[unit] if result.dimensionless else result.to("m").magnitude
    return _finite(float(metres) / METRES[unit], text)


def parse_number(text: str) -> float:
    """Read a typed number that is no length: a count, a share, an angle in degrees. Arithmetic works as in lengths.

    Raises:
        BadExpression: the text is empty, too long, no arithmetic, has a unit, or is not finite.
    """
    result = _read(text, "m", _A_NUMBER)
    if not result.dimensionless:
        raise BadExpression(f"'{text}' is a length, and a plain number is asked for; {_A_NUMBER}")
    return _finite(_plain(result), text)


def _plain(result: pint.Quantity) -> float:
    return float(result.to("dimensionless").magnitude)  # 1 m / 20 cm is 5


def _finite(value: float, text: str) -> float:
    if not math.isfinite(value):
        raise BadExpression(f"'{text}' is too large")
    return round(value, 12)


def _read(text: str, unit: Unit, would_work: str) -> pint.Quantity:
    """What a text comes to, a length or a plain number; numbers beside lengths are in ``unit``."""
    text = text.strip().replace(",", ".").replace("−", "-").replace("×", "*")
    if not text or len(text) > _LONGEST:
        raise BadExpression(would_work)
    import pint  # a quarter of a second, needed once somebody types a sum

    registry = _registry()

    def value(node: ast.AST) -> pint.Quantity:
        if isinstance(node, ast.Expression):
            return value(node.body)
        if isinstance(node, ast.BinOp) and type(node.op) in _OPERATORS:
            left, right = value(node.left), value(node.right)
            if isinstance(node.op, ast.Add | ast.Sub) and left.dimensionless != right.dimensionless:
                left, right = (q * registry(unit) if q.dimensionless else q for q in (left, right))
            out: pint.Quantity = _OPERATORS[type(node.op)](left, right)
            return out
        if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.UAdd | ast.USub):
            signed: pint.Quantity = value(node.operand) * (-1.0 if isinstance(node.op, ast.USub) else 1.0)
            return signed
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Q":
            name = node.args[1]
            assert isinstance(name, ast.Constant)
            number = value(node.args[0]).magnitude
            return registry.Quantity(number, str(name.value) or "dimensionless")
        if isinstance(node, ast.Constant) and isinstance(node.value, int | float):
            return registry.Quantity(float(node.value), "dimensionless")
        raise BadExpression(f"'{text}' cannot be read; {would_work}")

    try:
        result = value(ast.parse(_to_python(text, would_work), mode="eval"))
        if not result.dimensionless:
            result.to("m")
    except ZeroDivisionError:
        raise BadExpression(f"'{text}' divides by zero") from None
    except (SyntaxError, RecursionError, MemoryError, pint.DimensionalityError, OverflowError):
        raise BadExpression(f"'{text}' cannot be read; {would_work}") from None
    return result

"""Every error the core raises, in one place.

Each carries a sentence that says what was wrong and what would work; the command line, the API and the
interface show that sentence unchanged.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import ROUND_DOWN, Decimal, localcontext


class RhytonicError(Exception):
    """Base of all errors a person can cause and read."""

    code = "error"

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


class InvalidFile(RhytonicError):
    """A file or document that does not follow the contract."""

    code = "invalid_file"


@dataclass(frozen=True)
class Problem:
    """One place in a document that breaks the contract.

    ``path`` is the JSON path (``("parts", 0, "steps", 1, "depth")``); ``part`` and ``step`` are names where known.
    """

    path: tuple[str | int, ...]
    message: str
    part: str | None = None
    step: str | None = None
    parameter: str | None = None

    def sentence(self) -> str:
        """What was wrong and where, as a person is told."""
        place = [f"part '{self.part}'" if self.part else "", f"step '{self.step}'" if self.step else ""]
        place = [p for p in place if p]
        if self.parameter:
            place.append(self.parameter)
        elif not place:
            place.append(".".join(str(p) for p in self.path) or "document")
        return f"{', '.join(place)}: {self.message}"


class InvalidDocument(InvalidFile):
    """A build document that fails its schema; carries every problem found, the message tells the first."""

    code = "invalid_document"

    def __init__(self, problems: Sequence[Problem]) -> None:
        more = f" (and {len(problems) - 1} more)" if len(problems) > 1 else ""
        super().__init__(problems[0].sentence() + more)
        self.problems = tuple(problems)


def no_more_than(value: float) -> float:
    """A value in six digits that is no further from nothing than it: what is told to fit fits as it is told."""
    near = float(f"{value:.6g}")
    if abs(near) <= abs(value) * (1 + 1e-10):
        return near
    with localcontext(prec=6, rounding=ROUND_DOWN):
        return float(+Decimal(value))


class StepError(RhytonicError):
    """A step that could not run.

    ``part`` and ``step`` are filled in by the evaluation. ``length`` and ``point`` are values in metres that the message
    tells as ``{length}`` and ``{point}``; the evaluation writes them in the unit of the file. As ``{most}`` a length is told
    so that it holds when it is typed as it is told: never rounded up.
    """

    code = "step_failed"

    def __init__(self, message: str, parameter: str | None = None, length: float | None = None,
                 point: Iterable[float] | None = None) -> None:
        super().__init__(message)
        self.parameter = parameter
        self.length = length
        self.point = None if point is None else tuple(float(v) for v in point)
        self.part: str | None = None
        self.step: str | None = None

    def at(self, part: str, step: str | None, unit: str = "m", metres: float = 1.0) -> StepError:
        """This error with its place told, its length and point in the unit of the file."""
        self.part, self.step = part, step
        if self.length is not None:
            self.message = self.message.replace("{length}", f"{self.length / metres:.6g} {unit}")
            self.message = self.message.replace("{most}", f"{no_more_than(self.length / metres):.6g} {unit}")
            self.length = None
        if self.point is not None:
            place = ", ".join(f"{v / metres + 0.0:.4g}" for v in self.point)
            self.message = self.message.replace("{point}", f"({place}) {unit}")
            self.point = None
        return self

    def __str__(self) -> str:
        return Problem((), self.message, self.part, self.step, self.parameter).sentence()


class Unforeseen(StepError):
    """A step that failed in a way nobody foresaw: a fault of ours, told with its step; what happened goes to the log."""

    code = "unforeseen"

    def __init__(self) -> None:
        super().__init__("something went wrong inside Rhytonic while this step was worked out; everything else is as it "
                         "was. Other numbers or another pick may work")


class PickFoundNothing(StepError):
    code = "pick_found_nothing"


class BadPick(StepError):
    """A pick rule that cannot be answered, such as one that names an unknown step."""

    code = "bad_pick"


class BadParameter(StepError):
    code = "bad_parameter"


class TooLarge(StepError):
    code = "too_large"


class TakesLong(StepError):
    """A step that can run but would keep everybody waiting: to be asked for once more."""

    code = "takes_long"


class NotManifold(StepError):
    code = "not_manifold"


class Ring(StepError):
    """Parts that need each other in a ring."""

    code = "ring"


class UnknownName(RhytonicError):
    """A part, step or stage asked for by a name that is not there."""

    code = "unknown_name"


class Cancelled(RhytonicError):
    code = "cancelled"

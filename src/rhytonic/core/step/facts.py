"""Facts of a step kind that hands and eyes need: data that a kind declares and any interface may read.

Nothing here is a word for a screen, and nothing of it changes what a step makes.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Number = float | int | str | bool


@dataclass(frozen=True)
class Offer:
    """A value that is proposed before anybody typed one.

    Attributes:
        parameter: name of the parameter.
        value: what is proposed as it stands; or
        of_size: so many times the greatest extent of what is picked, to be rounded as hands like it; a tuple for
            parameters of several numbers.
        key: where the parameter is a set of values, the one of them that is proposed.
    """

    parameter: str
    value: Number | None = None
    of_size: float | tuple[float, ...] | None = None
    key: str | None = None


@dataclass(frozen=True)
class Knob:
    """The one number that is pulled by hand.

    Attributes:
        parameter: name of the parameter.
        along: where pulling makes it grow: ``normal`` along the mean normal of what is picked, one metre for one metre;
            ``view`` to the right of whatever view it is pulled in.
    """

    parameter: str
    along: Literal["view", "normal"] = "view"


@dataclass(frozen=True)
class Span:
    """A number of a base form that says how far the form reaches along an axis.

    Attributes:
        parameter, index: the number: a parameter, or one of its numbers.
        times: the number for one unit of length from the form's middle to its end.
        beyond: a further parameter by which the form reaches past the number.
    """

    axis: Literal["x", "y", "z"]
    parameter: str
    index: int | None = None
    times: float = 1.0
    beyond: str | None = None

"""What a step asks of the patterns and pictures of its build."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..errors import StepError
from ..mesh.mesh import Mesh
from ..pick.resolve import Picked
from ..pick.rules import Pick

Greys = NDArray[np.float32]


@dataclass(frozen=True)
class Asked:
    """A picture's greys, as they lie on a mesh.

    Attributes:
        name: id or name of a pattern; or, for a ``picture``, its digest or its name beside the file.
        blur: metres by which it is blurred; square: metres that the texture square is long there.
        mesh, find: what lies on the square, for layers that follow its islands, and picks of it.
    """

    name: str
    picture: bool
    blur: float
    square: float
    mesh: Mesh
    find: Callable[[Pick], Picked]


def no_greys(asked: Asked) -> Greys:
    """For recipes that stand in no build."""
    what = "picture" if asked.picture else "pattern"
    raise StepError(f"needs the {what} '{asked.name}', and this recipe stands in no build", what)


def no_key(pattern: str | None, picture: str | None) -> str:
    """For recipes that stand in no build: there is nothing that may change."""
    return ""

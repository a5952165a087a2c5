"""Whatever a recipe file names that lies beside it."""

from __future__ import annotations

from pathlib import Path

from ..core.files.companions import Beside, Companions
from ..core.pattern.draw import Grey
from ..core.recipe.evaluate import Evaluator


def evaluator_beside(path: Path) -> Evaluator:
    """An evaluator that finds the files and pictures in the folder of a recipe file."""
    return Evaluator(files=Companions(path.parent), pictures=Beside(path.parent, _greys))


def _greys(data: bytes) -> Grey:
    from ..core.picture.grey import grey_of  # slow to load, and only a relief of a picture asks

    return grey_of(data)

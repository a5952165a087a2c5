"""Area and volume of parts, picked faces, or the whole build."""

from __future__ import annotations

import numpy as np

from ...mesh.measure import measure
from ..scene import Named, NotMeasured
from .measured import Measured


def area(found: list[Named]) -> Measured:
    """Area of the targets' faces in m².

    Raises:
        NotMeasured: what is meant has no faces.
    """
    total = 0.0
    for f in found:
        if f.picked is not None and f.picked.kind != "faces":
            raise NotMeasured("an area is that of faces or of parts")
        total += measure(f.body).area
    return Measured(total, "note", _middle(found))


def volume(found: list[Named]) -> Measured:
    """Volume a closed part encloses, in m³. Raises NotMeasured for an open one."""
    total = 0.0
    for f in found:
        if f.picked is not None:
            raise NotMeasured("a volume is that of whole parts")
        value = measure(f.mesh).volume
        if value is None:
            raise NotMeasured(f"part '{f.name}' is open, so it has no volume; close its borders")
        total += abs(value)
    return Measured(total, "note", _middle(found))


def _middle(found: list[Named]) -> np.ndarray:
    boxes = [f.box for f in found]
    return np.array([(np.min([b[0] for b in boxes], axis=0) + np.max([b[1] for b in boxes], axis=0)) / 2])

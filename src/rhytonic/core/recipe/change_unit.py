"""Recipes told in another unit."""

from __future__ import annotations

from typing import Any

from ..params import to_metres
from ..units import METRES, Unit
from .document import Document
from .part import Group, Joint, Part, Placement


def in_unit(document: Document, unit: Unit) -> Document:
    """The document with parts and groups told in another unit; sizes, boards and guides are left out.

    Raises:
        BadParameter: a length beyond the kernel's limit in the new unit.
    """
    by = METRES[document.unit] / METRES[unit]
    if by == 1.0:
        return document.model_copy(update={"boards": [], "guides": [], "sizes": []})
    return document.model_copy(update={
        "unit": unit, "boards": [], "guides": [], "sizes": [],
        "groups": [g.model_copy(update=_place(g, by)) for g in document.groups],
        "parts": [p.model_copy(update=_place(p, by) | {"steps": [to_metres(s, by) for s in p.steps],
                                                       "sets": [to_metres(s, by) for s in p.sets]})
                  for p in document.parts]})


def _place(member: Part | Group, by: float) -> dict[str, Any]:
    placement: Placement = to_metres(member.placement, by)
    joint: Joint | None = member.joint
    if joint is not None:
        joint = to_metres(joint, by)
        if joint.kind == "slide":  # its ends are lengths, where those of a turn are degrees
            joint = joint.model_copy(update={"from_": joint.from_ * by, "to": joint.to * by, "now": joint.now * by})
    x, y, z = (v * by for v in member.pivot)
    return {"placement": placement, "joint": joint, "pivot": (x, y, z)}

"""A part or group taken out of a build as a document of its own, to be kept and put into any build."""

from __future__ import annotations

from ..errors import RhytonicError
from ..recipe.assembly import listed, needed_by
from ..recipe.document import Document
from ..recipe.part import Group, Part, Placement


class CannotKeep(RhytonicError):
    """Something that cannot stand alone."""

    code = "cannot_keep"


def piece_of(document: Document, member: Part | Group, name: str) -> Document:
    """The part or group alone, standing at the origin as it is turned and scaled; boards, sizes and guides stay behind.

    Raises:
        CannotKeep: it needs parts that do not go along.
    """
    if isinstance(member, Part):
        parts, groups = [member], []
    else:
        parts = [p for p in document.parts if member in document.groups_of(p)]
        groups = [g for g in document.groups if g is member or member in document.groups_of(g)]
    if not parts:
        raise CannotKeep(f"'{member.name}' has no parts to be kept")
    ids = {p.id or p.name for p in parts}
    missing = {n for p in parts for n in needed_by(document, p)} - ids
    if missing:
        names = listed(p.name for p in document.parts if (p.id or p.name) in missing)
        raise CannotKeep(f"'{member.name}' needs {names}; put them into one group with it, and keep the group")
    rest = Placement(rotate=member.placement.rotate, scale=member.placement.scale)
    stands = {"placement": rest, "group": None}
    return document.model_copy(update={
        "name": name, "boards": [], "guides": [], "sizes": [],
        "parts": [p.model_copy(update=stands) if p is member else p for p in parts],
        "groups": [g.model_copy(update=stands) if g is member else g for g in groups]})

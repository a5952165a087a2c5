"""Where elements stood that are no longer there, told on the mesh as it is now."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import scipy
from pydantic import BaseModel

from ..lineage.history import History
from ..lineage.origins import rest_of
from ..mesh.geometry import Floats
from ..mesh.mesh import Mesh
from . import rules

#: a place between vertices of the form is told from so many of them
_NEIGHBOURS = 4
#: no more places than this are told
_MOST = 400


def old_places(mesh: Mesh, history: History, rule: Any) -> list[Floats]:
    """(k, 3) corners, metres, of each element that a rule's ids meant: where the vertices next to them in the form are now.

    Between vertices it is D. Shepard's inverse distance weighting (Proc. 23rd ACM National Conference, 1968), in the form.
    """
    places = [p.points for p in _places_in(rule)][:_MOST]
    rest = rest_of(history)
    if not places or rest is None or len(rest) != len(mesh.points):
        return []
    known = np.flatnonzero(np.isfinite(rest).all(axis=1))
    if not known.size:
        return []
    flat = np.concatenate([np.asarray(p, float) for p in places])
    far, near = scipy.spatial.cKDTree(rest[known]).query(flat, k=min(_NEIGHBOURS, known.size))
    far, near = np.reshape(far, (len(flat), -1)), known[np.reshape(near, (len(flat), -1))]
    weight = 1.0 / np.maximum(far, 1e-9) ** 2
    at = np.einsum("nk,nkc->nc", weight / weight.sum(axis=1, keepdims=True), mesh.points[near])
    ends = np.cumsum([len(p) for p in places])[:-1]
    return list(np.split(at, ends))


def _places_in(rule: Any) -> Iterator[rules.Place]:
    """Places in a rule, and in the rules within it."""
    if isinstance(rule, rules.Ids):
        if rule.meant is not None:
            yield from rule.meant.places or ()
            yield from _places_in(rule.meant.rule)
    elif isinstance(rule, BaseModel):
        for name in type(rule).model_fields:
            yield from _places_in(getattr(rule, name))
    elif isinstance(rule, (list, tuple)):
        for inner in rule:
            yield from _places_in(inner)

"""What a build looks like, for the list of builds."""

from __future__ import annotations

import base64
from typing import Any

import numpy as np

from ..core.handover.thumbnail import thumbnail
from ..core.recipe.place import placed
from ..store import builds, looks
from ..store.looks import Look
from . import brief_room
from .blueprint import blueprint
from .builds_api import room
from .schemas import BuildLook, BuildPath, Fault
from .stock_shelf import size_of
from .workroom import Standing

api = blueprint("looks", __name__, "/api/builds", {404: Fault, 422: Fault, 503: Fault})

#: pixels a side; and parts with more faces are drawn by their cage
_SIDE = 160
_MOST_FACES = 20_000


@api.get("/<build_id>/look", responses={200: BuildLook})
def look(path: BuildPath) -> Any:
    """A small picture of the model, its size, and how it fits its boards. Taken once for each revision."""
    with room().database.session() as session:
        revision = builds.get(session, path.build_id).revision
        kept = looks.get(session, path.build_id, revision)
    if kept is None:
        kept = _taken(room().at(path.build_id, revision), revision)
        with room().database.session() as session:
            builds.get(session, path.build_id)  # it may have been deleted meanwhile
            looks.keep(session, path.build_id, kept)
    return BuildLook(revision=kept.revision, size=kept.size, fit=kept.fit,
                     picture="data:image/png;base64," + base64.b64encode(kept.picture).decode()).model_dump()


def _taken(standing: Standing, revision: int) -> Look:
    document = standing.document
    with standing.bench.held():
        parts = [p for p in document.parts
                 if not p.hidden and not p.template and not any(g.hidden or g.template for g in document.groups_of(p))]
        meshes = []
        for part in parts:
            evaluation = standing.run(part)
            surface = evaluation.surface
            state = surface if surface.mesh.topology.face_count <= _MOST_FACES else evaluation.cage
            if surface.curve is None:
                meshes.append(placed(state.mesh, document, part))
        fitted = brief_room.fits(room(), standing, document)
    fit = float(np.mean([one.figures.iou for one in fitted])) if fitted else None
    return Look(revision, size_of(meshes), fit, thumbnail(meshes, _SIDE))


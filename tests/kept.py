"""What is kept of an evaluation, to be the same again."""

from __future__ import annotations

import hashlib
from typing import Any

from rhytonic.core.inspect.findings import inspect
from rhytonic.core.recipe.evaluate import Evaluator
from tests.helpers import document


def told(steps: list[dict[str, Any]]) -> dict[str, Any]:
    """Counts, size, faults and a digest of the ids of what a recipe makes."""
    evaluation = Evaluator().run(document(*steps).parts[0], "m", tolerant=True)
    mesh = evaluation.surface.mesh
    t, p = mesh.topology, mesh.points
    ids = hashlib.blake2b(mesh.names.vertex.tobytes() + mesh.names.face.tobytes(), digest_size=8).hexdigest()
    return {"counts": [t.vertex_count, t.edge_count, t.face_count], "ids": ids,
            "moments": [round(float(v), 7) for v in (*p.sum(axis=0), *(p * p).sum(axis=0))] if len(p) else [],
            "missing": [r.state.picked.missing if r.state.picked else 0 for r in evaluation.results],
            "faults": sorted({f.kind for f in inspect(evaluation.results)})}

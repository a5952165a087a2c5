"""An extrude or a loop put in above: what a later step was given by hand is what stands there still, to the last bit of it."""

import json

import numpy as np
import pytest

from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.meanings import with_meanings
from tests.helpers import document
from tests.random_changes import by_hand, corners_of

FORM = {"id": "form", "kind": "box", "size": [4, 3, 2], "segments": [2, 2, 2]}
MIDDLES = {"none": None, "inset": ("faces", {"width": 0.2}), "extrude": ("faces", {"depth": 0.4})}


def _mesh(*steps):
    return Evaluator().run(document(*steps).parts[0], "m").surface.mesh


def _stored(*steps):
    part = document(*steps).parts[0]
    meant = with_meanings(part, Evaluator().run(part, "m"))
    return [{"kind": s.kind, **json.loads(s.model_dump_json(by_alias=True, exclude_unset=True))} for s in meant.steps]


def _found(steps, early):
    """What the last step's pick finds once a step stands below the form."""
    neutral = {"id": steps[-1]["id"], "kind": "transform", "translate": [0, 0, 0], "pick": steps[-1]["pick"]}
    result = Evaluator().run(document(steps[0], early, *steps[1:-1], neutral).parts[0], "m").results[-1]
    assert result.error is None and result.missing == 0
    return result.state.mesh, result.state.picked.elements


def _area(mesh, faces):
    return sum(np.linalg.norm(np.cross(c - c.mean(0), np.roll(c, -1, 0) - c.mean(0)).sum(0)) / 2 for c in corners_of(mesh, "faces", faces))


@pytest.mark.parametrize("edge", range(0, 48, 3))
def test_a_dissolve_keeps_its_edge_under_an_extrude_put_in_above(edge):
    mesh = _mesh(FORM)
    steps = _stored(FORM, {"id": "s", "kind": "dissolve", "pick": by_hand(mesh, "edges", [int(edge)])})
    ends = mesh.points[mesh.topology.edges[edge]]
    beside = np.flatnonzero([edge in mesh.topology.corner_edge[mesh.topology.corners_of(np.array([f]))] for f in range(mesh.topology.face_count)])
    for face in (*beside.tolist(), (int(beside[0]) + 7) % 24):
        for values in ({"depth": 0.3}, {"depth": -0.3, "segments": 2}):
            later, found = _found(steps, {"id": "early", "kind": "extrude", **values, "pick": by_hand(mesh, "faces", [face])})
            assert found.size == 1
            there = later.points[later.topology.edges[found[0]]]
            assert min(abs(there - ends).max(), abs(there[::-1] - ends).max()) < 1e-12


@pytest.mark.parametrize("middle", MIDDLES)
def test_an_extrude_keeps_all_of_its_face_under_a_loop_put_in_above(middle):
    mesh, r = _mesh(FORM), np.random.default_rng(26)
    steps = [FORM]
    if MIDDLES[middle] is not None:
        on, values = MIDDLES[middle]
        steps.append({"id": "mid", "kind": middle, **values, "pick": by_hand(mesh, on, [5])})
    above = _mesh(*steps)
    for face in r.choice(above.topology.face_count, 12, replace=False):
        stored = _stored(*steps, {"id": "s", "kind": "extrude", "depth": 0.2, "pick": by_hand(above, "faces", [int(face)])})
        for edge in r.choice(mesh.topology.edge_count, 3, replace=False):
            for values in ({"at": [0.2]}, {"count": 2}):
                later, found = _found(stored, {"id": "early", "kind": "insert_loop", **values, "through": by_hand(mesh, "edges", [int(edge)])["edges"]})
                assert _area(later, found) == pytest.approx(_area(above, np.array([face])), rel=1e-9)


@pytest.mark.parametrize("kind", ["inset", "extrude"])
@pytest.mark.parametrize("facing", ["-z", "+y"])
def test_corners_of_insets_side_by_side_are_not_taken_for_each_other(kind, facing):
    """Several corners stand for one vertex of the form; which is which is told by the ids of faces, and a loop changes those."""
    form = {"id": "form", "kind": "box", "size": [4, 3, 2], "segments": [3, 2, 2]}
    inset = {"id": "i", "kind": kind, "as": "each", **({"width": 0.03} if kind == "inset" else {"depth": 0.2}), "pick": {"faces": {"facing": facing}}}
    mesh, above = _mesh(form), _mesh(form, inset)
    new = np.arange(mesh.topology.vertex_count, above.topology.vertex_count)
    edges = np.flatnonzero(np.isin(above.topology.edges, new).all(axis=1))
    wrong = []
    for on, elements in (("vertices", new), ("edges", edges)):
        stored = _stored(form, inset, *({"id": f"p{e}", "kind": "transform", "translate": [0, 0, 0], "pick": by_hand(above, on, [int(e)])}
                                        for e in elements))
        for through in range(0, mesh.topology.edge_count, 5):
            early = {"id": "early", "kind": "insert_loop", "at": [0.2], "through": by_hand(mesh, "edges", [through])["edges"]}
            results = Evaluator().run(document(stored[0], early, *stored[1:]).parts[0], "m").results
            for e, result in zip(elements, results[3:], strict=True):
                there, later = corners_of(above, on, np.array([e]))[0], result.state.mesh
                every = np.array([c.mean(0) for c in corners_of(later, on, np.arange(len(later.points) if on == "vertices" else later.topology.edge_count))])
                stands = np.flatnonzero(abs(every - there.mean(0)).max(axis=1) < 1e-9)
                if stands.size == 1 and result.missing == 0 and result.again is None and stands[0] not in result.state.picked.elements:
                    wrong.append((on, through, int(e)))
    assert wrong == []

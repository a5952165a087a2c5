"""An extrude or a loop put in above: what a later step was given by hand is what stands there still, to the last bit of it."""

import itertools
import json
from collections import Counter

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


def _put_in(mesh):
    """Steps to put in above, each once in several places."""
    for face in range(0, mesh.topology.face_count, 6):
        yield {"kind": "inset", "width": 0.2, "pick": by_hand(mesh, "faces", [face])}
        yield {"kind": "extrude", "depth": 0.3, "pick": by_hand(mesh, "faces", [(face + 3) % mesh.topology.face_count])}
    for edge in range(0, mesh.topology.edge_count, 8):
        yield {"kind": "insert_loop", "at": [0.2], "through": by_hand(mesh, "edges", [edge])["edges"]}
        yield {"kind": "connect", "pick": by_hand(mesh, "edges", [edge, (edge + 7) % mesh.topology.edge_count])}
        yield {"kind": "dissolve", "pick": by_hand(mesh, "edges", [edge])}
    for normal in ([1, 0, 0], [0, 1, 0], [0, 0, 1], [1, 0.2, 0.1]):
        yield {"kind": "slice", "point": [0.3, 0.7, 0.1], "normal": normal, "pick": {"faces": "all"}}


def _keys(mesh, on, elements):
    return [frozenset(map(tuple, np.round(c, 7) + 0.0)) for c in corners_of(mesh, on, elements)]


def _all(mesh, on):
    return np.arange(len(mesh.points) if on == "vertices" else mesh.topology.edge_count)


@pytest.mark.parametrize("kind", ["inset", "extrude"])
@pytest.mark.parametrize("facing", ["-z", "+y"])
def test_corners_of_insets_side_by_side_are_not_taken_for_each_other(kind, facing):
    """Several corners stand for one vertex of the form; which is which is told by the ids of faces, and those change."""
    form = {"id": "form", "kind": "box", "size": [4, 3, 2], "segments": [3, 2, 2]}
    inset = {"id": "i", "kind": kind, "as": "each", **({"width": 0.03} if kind == "inset" else {"depth": 0.2}), "pick": {"faces": {"facing": facing}}}
    mesh, above = _mesh(form), _mesh(form, inset)
    new = np.arange(mesh.topology.vertex_count, above.topology.vertex_count)
    edges = np.flatnonzero(np.isin(above.topology.edges, new).all(axis=1))
    caps = [np.sort(c) for c in (above.topology.corners[a:b] for a, b in itertools.pairwise(above.topology.offsets)) if np.isin(c, new).all()]
    wrong, right = [], 0
    for on, picks in (("vertices", [*new[:, None], *caps]), ("edges", edges[:, None])):
        once = Counter(_keys(above, on, _all(above, on)))
        picks = [e for e in picks if all(once[k] == 1 for k in _keys(above, on, e))]
        stored = _stored(form, inset, *({"id": f"p{i}", "kind": "transform", "translate": [0, 0, 0], "pick": by_hand(above, on, e.tolist())}
                                        for i, e in enumerate(picks)))
        for early in _put_in(mesh):
            results = Evaluator().run(document(stored[0], {"id": "early", **early}, *stored[1:]).parts[0], "m", tolerant=True).results
            later = results[2].state.mesh
            stands = Counter(_keys(later, on, _all(later, on)))
            for e, result in zip(picks, results[3:], strict=True):
                meant = set(_keys(above, on, e))
                if result.error is not None or result.missing or result.again is not None or any(stands[k] != 1 for k in meant):
                    continue  # told, or no longer there
                right += (same := set(_keys(later, on, result.state.picked.elements)) == meant)
                # the outline of a face goes along with it where that face itself was set in
                if not same and not (on == "edges" and early["kind"] == "inset"):
                    wrong.append((on, early["kind"], e.tolist()))
    assert wrong == []
    assert right > 500


def test_ends_of_edges_are_told_alike_where_a_sibling_was_meant():
    """What is laid along an edge from the end written first begins at that end under a step put in above."""
    form = {"id": "form", "kind": "box", "size": [4, 3, 2], "segments": [3, 2, 2]}
    inset = {"id": "i", "kind": "inset", "as": "each", "width": 0.03, "pick": {"faces": {"facing": "-z"}}}
    mesh, above = _mesh(form), _mesh(form, inset)
    new = np.arange(mesh.topology.vertex_count, above.topology.vertex_count)
    for edge in np.flatnonzero(np.isin(above.topology.edges, new).all(axis=1))[::3]:
        loop = {"id": "l", "kind": "insert_loop", "at": [0.25], "through": by_hand(above, "edges", [int(edge)])["edges"]}
        stored = _stored(form, inset, loop)
        ends = above.points[above.topology.edges[edge]]
        cuts = {tuple(np.round(p, 7)) for p in ends[[0]] * 0.75 + ends[[1]] * 0.25} | {tuple(np.round(p, 7)) for p in ends[[1]] * 0.75 + ends[[0]] * 0.25}
        before = {tuple(p) for p in np.round(_mesh(*stored).points, 7)} & cuts
        for early in _put_in(mesh):
            results = Evaluator().run(document(stored[0], {"id": "early", **early}, *stored[1:]).parts[0], "m", tolerant=True).results
            if results[-1].error is None and results[-1].again is None and not results[-1].missing:
                after = {tuple(p) for p in np.round(results[-1].state.mesh.points, 7)} & cuts
                assert after == before or not after, early["kind"]


@pytest.mark.parametrize("early", [["inset"], ["dissolve", "extrude"], ["inset", "inset", "extrude"]])
def test_what_was_picked_by_ids_alone_is_found_under_steps_put_in_above(early):
    """Files may name ids without a word of what they meant: one step that came in, neighbours, and several."""
    form = {"id": "form", "kind": "box", "size": [4, 3, 2], "segments": [3, 2, 2]}
    cap = {"id": "cap", "kind": "extrude", "depth": 0.4, "pick": {"faces": {"in_box": [[-0.7, 2.9, -1.1], [0.7, 3.1, 0.1]]}}}
    mesh, above = _mesh(form), _mesh(form, cap)
    caps = np.flatnonzero(np.array([c[:, 1].min() for c in corners_of(above, "faces", np.arange(above.topology.face_count))]) > 3.3)
    later = {"id": "later", "kind": "transform", "translate": [0, 0, 0], "pick": by_hand(above, "faces", caps.tolist())}
    elsewhere = np.flatnonzero([c[:, 1].max() < 2 and c[:, 2].min() > 0.9 for c in corners_of(mesh, "faces", np.arange(mesh.topology.face_count))])
    on_top = np.flatnonzero([c[:, 1].min() > 2.9 and abs(c[:, 0]).max() < 0.7 and c[:, 2].max() < 0.1
                             for c in corners_of(mesh, "faces", np.arange(mesh.topology.face_count))])
    new = []
    for i, kind in enumerate(early):  # the first on the very face that was extruded, the others elsewhere
        faces = on_top if i == 0 and kind == "inset" else elsewhere[i:i + 1]
        pick = by_hand(mesh, "edges", [0]) if kind == "dissolve" else by_hand(mesh, "faces", faces.tolist())
        new.append({"id": f"new{i}", "kind": kind, "pick": pick, **({"width": 0.1} if kind == "inset" else {"depth": 0.1} if kind == "extrude" else {})})
    result = Evaluator().run(document(form, *new, {**cap, "pick": by_hand(mesh, "faces", on_top.tolist())}, later).parts[0], "m").results[-1]
    assert result.error is None and result.missing == 0
    found = corners_of(result.state.mesh, "faces", result.state.picked.elements)
    assert all(c[:, 1] == pytest.approx(3.4) for c in found)
    assert _area(result.state.mesh, result.state.picked.elements) == pytest.approx(_area(above, caps))


@pytest.mark.parametrize("segments", [2, 4])
def test_rows_of_copies_keep_their_row(segments):
    """The rows of an extrude in several segments come from one place, and lie at faces that do: which row it is the ids know."""
    form = {"id": "form", "kind": "box", "size": [4, 3, 2], "segments": [3, 2, 2]}
    up = {"id": "i", "kind": "extrude", "as": "each", "depth": 0.4, "scale": 0.8, "segments": segments, "pick": {"faces": {"facing": "+y"}}}
    mesh, above = _mesh(form), _mesh(form, up)
    new = np.arange(mesh.topology.vertex_count, above.topology.vertex_count)
    once = Counter(_keys(above, "vertices", _all(above, "vertices")))
    new = np.array([v for v in new if once[_keys(above, "vertices", np.array([v]))[0]] == 1])
    picks = [*new[:, None], *new[:, None][::2].repeat(2, axis=1).reshape(-1, 2)]
    stored = _stored(form, up, *({"id": f"p{i}", "kind": "transform", "translate": [0, 0, 0], "pick": by_hand(above, "vertices", sorted(set(e.tolist())))}
                                 for i, e in enumerate(picks)))
    right = 0
    for early in _put_in(mesh):
        results = Evaluator().run(document(stored[0], {"id": "early", **early}, *stored[1:]).parts[0], "m", tolerant=True).results
        later = results[2].state.mesh
        stands = Counter(_keys(later, "vertices", _all(later, "vertices")))
        for e, result in zip(picks, results[3:], strict=True):
            meant = set(_keys(above, "vertices", e))
            if result.error is None and not result.missing and result.again is None and all(stands[k] == 1 for k in meant):
                assert set(_keys(later, "vertices", result.state.picked.elements)) == meant, (early["kind"], e)
                right += 1
    assert right > 200

"""Numbers changed later: what a person picked is what they still have, or they are told."""

import json
import os

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.pick.meaning import ids_of
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.meanings import after_change, with_meanings
from tests.helpers import box, document, evaluate, mesh_of

#: how many random recipes each sweep looks at; 500 of them pick more than two thousand things
EXAMPLES = int(os.environ.get("RHYTONIC_EXAMPLES", "32"))
DRUM = {"id": "drum", "kind": "cylinder", "radius": 1, "height": 3, "sides": 16}


def settled(*steps):
    """The steps with meanings beside their ids, as the server stores them."""
    d = document(*steps)
    part = with_meanings(d.parts[0], Evaluator().run(d.parts[0], "m", tolerant=True))
    return [{"kind": s.kind, **json.loads(s.model_dump_json(by_alias=True, exclude_unset=True))} for s in part.steps]


def by_hand(mesh, kind, elements):
    return {kind: {"ids": [list(i) if isinstance(i, tuple) else i for i in ids_of(mesh, kind, np.asarray(elements))]}}


def middles(mesh, faces):
    t = mesh.topology
    return np.array([mesh.points[t.corners[t.offsets[f]:t.offsets[f + 1]]].mean(axis=0) for f in faces]).reshape(-1, 3)


def found(steps):
    """What the last step acts on: the mesh above it, and its pick."""
    e = evaluate(*steps, tolerant=True)
    last = e.results[-1]
    return e.results[-2].state.mesh if len(e.results) > 1 else e.start.mesh, last


def test_pieces_stay_themselves_whatever_an_earlier_step_is_called():
    """A box, a loop put in near its foot, and the lower piece picked; then its upright or lower edges get a bevel above."""
    body = {"id": "body", "kind": "box", "size": [10, 6, 8]}
    pair = ["d52861ba6ee8a8ee", "7321bbc6d70fa2a8"]
    loop = {"id": "loop", "kind": "insert_loop", "through": {"ids": [pair]}, "distance": [1]}
    cut = mesh_of(body, loop)
    low = [f for f, m in enumerate(middles(cut, range(cut.topology.face_count))) if abs(m[1] - 0.5) < 1e-9]
    upright = {"edges": {"all_of": [{"not": {"of_faces": {"facing": "+y"}}}, {"not": {"of_faces": {"facing": "-y"}}}]}}
    for around in (upright, {"edges": {"of_faces": {"facing": "-y"}}}):
        for n in range(40):
            above = {"id": f"n{n}", "kind": "bevel", "pick": around, "width": 0.5}
            mesh, last = found([body, above, loop, {"id": "x", "kind": "extrude", "depth": 1, "pick": by_hand(cut, "faces", low[:1])}])
            assert last.missing == 0 and middles(mesh, last.state.picked.elements)[:, 1].max() <= 1.0


NEAR = {"nearest": [5, 3, 4]}


@pytest.mark.parametrize("through", [NEAR, {"ring_through": NEAR}, {"sharper_than": 30}], ids=["nearest", "ring", "sharper"])
@pytest.mark.parametrize("turn", [None, [0, 0, 180]], ids=["upright", "turned"])
def test_pieces_of_a_rule_stay_themselves_too(through, turn):
    """As above, with the loop through whatever a rule finds: made as the application stores it, then a bevel is put in."""
    body = {"id": "body", "kind": "box", "size": [10, 6, 8]}
    if through == {"sharper_than": 30}:  # two loops round, told by one rule that finds one ring
        through = {"all_of": [through, {"not": {"of_faces": {"facing": "+y"}}}, {"not": {"of_faces": {"facing": "-y"}}}]}
    stand = [body] + ([{"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "rotate": turn, "about": [0, 3, 0]}] if turn else [])
    loop = {"id": "loop", "kind": "insert_loop", "through": through, "at": [0.2]}
    old, new = document(*stand).parts[0], document(*stand, loop).parts[0]
    then, now = (Evaluator().run(p, "m", tolerant=True) for p in (old, new))
    kept = after_change(new, now, old, then).steps[-1]
    assert kept.begin == ("form_last" if turn else "form_first")
    loop = {"kind": "insert_loop", **json.loads(kept.model_dump_json(by_alias=True, exclude_unset=True))}
    cut = mesh_of(*stand, loop)
    assert np.allclose(cut.points, now.surface.mesh.points)  # stored as it was shown
    walls = np.flatnonzero(np.abs(cut.normals[:, 1]) < 0.5)
    heights = middles(cut, walls)[:, 1]
    low = walls[heights < heights.mean()][:1]
    upright = {"edges": {"all_of": [{"not": {"of_faces": {"facing": "+y"}}}, {"not": {"of_faces": {"facing": "-y"}}}]}}
    for n in range(40):
        above = {"id": f"n{n}", "kind": "bevel", "pick": upright, "width": 0.5}
        mesh, last = found([body, above, *stand[1:], loop,
                            {"id": "x", "kind": "extrude", "depth": 1, "pick": by_hand(cut, "faces", low)}])
        assert last.error is None and last.missing == 0
        assert middles(mesh, last.state.picked.elements)[:, 1].max() < heights.mean()


@pytest.mark.parametrize("degrees", [-5, 0, 5])
def test_loops_run_from_the_end_they_were_told_from(degrees):
    bar = box((1, 1, 4))
    mesh = mesh_of(bar)
    edge = next(e for e in mesh.topology.edges if np.ptp(mesh.points[e][:, 2]) > 3 and mesh.points[e][0, 1] > 0.5)
    pair = hex_of(mesh.names.vertex[edge[np.argsort(mesh.points[edge][:, 2])]])
    turned = {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "rotate": [degrees, 0, 0]}
    for ends, side in ((pair, -1), (pair[::-1], 1)):
        after = mesh_of(bar, turned, {"id": "l", "kind": "insert_loop", "through": {"ids": [ends]}, "at": [0.1], "begin": "first"})
        new = after.points[-4:]
        assert np.sign(new[:, 2].mean()) == side and abs(new[:, 2].mean()) > 1.5


@pytest.mark.parametrize("sides", [8, 15, 24, 32])
def test_a_loop_stays_a_loop_and_ribs_stand(sides):
    mesh = mesh_of(DRUM)
    upright = next(e for e in range(mesh.topology.edge_count) if np.ptp(mesh.points[mesh.topology.edges[e]][:, 1]) > 2)
    loops = {"id": "loops", "kind": "insert_loop", "through": by_hand(mesh, "edges", [upright])["edges"], "count": 2}
    cut = mesh_of(DRUM, loops)
    t = cut.topology
    level = [e for e in range(t.edge_count) if np.ptp(cut.points[t.edges[e]][:, 1]) < 1e-9 and 0.5 < cut.points[t.edges[e]][0, 1] < 2.5]
    ribs = {"id": "ribs", "kind": "ridge", "pick": by_hand(cut, "edges", level), "width": 0.2, "height": 0.1}
    steps = settled(DRUM, loops, ribs)
    steps[0]["sides"] = sides
    e = evaluate(*steps)
    assert e.results[2].state.picked.elements.size == 2 * sides and e.results[2].missing == 0
    steps[0]["sides"] = 16
    assert evaluate(*steps).results[2].again is None


@given(st.integers(3, 40), st.integers(3, 40), st.integers(0, 39), st.integers(1, 3), st.integers(1, 3))
@settings(max_examples=EXAMPLES, deadline=None)
def test_a_side_face_stays_the_one_at_its_angle(before, after, which, bands, more):
    """Each face found again has its middle within half a face of where the old one's was, at the old height."""
    drum = {**DRUM, "sides": before, "height_segments": bands}
    mesh = mesh_of(drum)
    walls = np.flatnonzero(np.abs(mesh.normals[:, 1]) < 0.1)
    face = walls[which % walls.size]
    steps = settled(drum, {"id": "x", "kind": "extrude", "depth": 0.1, "pick": by_hand(mesh, "faces", [face])})
    steps[0] |= {"sides": after, "height_segments": bands * more}
    now, last = found(steps)
    assert last.error is None and last.missing == 0
    old, new = middles(mesh, [face])[0], middles(now, last.state.picked.elements)
    turn = np.abs(np.angle(np.exp(1j * (np.arctan2(new[:, 2], new[:, 0]) - np.arctan2(old[2], old[0])))))
    assert (turn <= np.pi / min(before, after) * 1.01 + 1e-6).all()
    assert (np.abs(new[:, 1] - old[1]) <= 1.5 / bands + 1e-9).all()
    assert len(new) >= (more if after % before == 0 else 1)  # as high as it was


@given(st.lists(st.integers(1, 4), min_size=6, max_size=6), st.integers(0, 999))
@settings(max_examples=EXAMPLES, deadline=None)
def test_a_wall_of_a_box_is_the_faces_it_is_made_of_by_now(counts, which):
    """A face of a box covers the same part of its wall when the segments are a multiple of what they were."""
    old = counts[:3]
    mesh = mesh_of(box((4, 3, 2), old))
    face = which % mesh.topology.face_count
    steps = settled(box((4, 3, 2), old), {"id": "x", "kind": "extrude", "depth": 0.1, "pick": by_hand(mesh, "faces", [face])})
    steps[0]["segments"] = [a * b for a, b in zip(old, counts[3:], strict=True)]
    now, last = found(steps)
    assert last.error is None and last.missing == 0
    area = np.linalg.norm(now.area_vectors[last.state.picked.elements], axis=1).sum()
    assert area == pytest.approx(np.linalg.norm(mesh.area_vectors[face]))
    assert np.allclose(now.normals[last.state.picked.elements], mesh.normals[face])


@pytest.mark.parametrize("early", [{"kind": "insert_loop"}, {"kind": "slice", "point": [0, 1.1, 0], "normal": [0.1, 1, 0]}])
@pytest.mark.parametrize("edge", range(12))
def test_halves_of_a_picked_edge_are_what_was_picked(early, edge):
    """Six edges picked by id; a loop or a cut above splits some of them: the same length of edges is found, nothing missing."""
    mesh = mesh_of(box((2, 2, 2)))
    if early["kind"] == "insert_loop":
        early = {**early, "through": by_hand(mesh, "edges", [edge])["edges"]}
    six = np.sort((edge + np.array([0, 1, 3, 5, 8, 10])) % 12)
    now, last = found([box((2, 2, 2)), {"id": "n", **early},
                       {"id": "c", "kind": "crease", "sharpness": 2, "pick": by_hand(mesh, "edges", six)}])
    ends = now.points[now.topology.edges[last.state.picked.elements]]
    assert last.missing == 0 and np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum() == pytest.approx(6 * 2)


@pytest.mark.parametrize(("kind", "told"), [("edges", "as 4 edges where 2 were picked"),
                                            ("vertices", "as 2 vertices where 1 was picked")])
def test_what_several_side_by_side_took_the_place_of_is_told(kind, told):
    """An edge of the smooth body, or its middle, picked; a ridge put in along the cage's edge makes two of each, beside its
    crest."""
    cube = box((2, 2, 2))
    cage, smooth = mesh_of(cube), {"id": "smooth", "kind": "subdivision", "levels": 1}
    mesh = mesh_of(cube, smooth)
    t = mesh.topology
    middle = int(np.argmin(np.linalg.norm(mesh.points - [0.75, 1.75, 0], axis=1)))
    along = t.edges[(t.edges == middle).any(axis=1)]
    along = along[np.ptp(mesh.points[along][:, :, 2], axis=1) > 0.5]
    own = np.array([middle]) if kind == "vertices" else np.sort(t.find_edges(along[:, 0], along[:, 1]))
    picked = {"id": "m", "kind": "transform", "translate": [0, 0, 0], "pick": by_hand(mesh, kind, own)}
    steps = settled(cube, smooth, picked)
    assert found(steps)[1].again is None
    edge = next(e for e, (a, b) in enumerate(cage.topology.edges) if np.allclose(cage.points[[a, b]].mean(axis=0), [1, 2, 0]))
    pair = by_hand(cage, "edges", [edge])
    early = {"id": "early", "kind": "ridge", "width": 0.05, "height": 0.05, "pick": pair}
    last = found([steps[0], early, *steps[1:]])[1]
    assert last.missing == 0 and last.error is None and last.again == told


def test_a_loop_made_by_hand_keeps_its_lower_end():
    bar = box((1, 1, 4))
    mesh = mesh_of(bar)
    t = mesh.topology
    edge = next(e for e in range(t.edge_count) if np.ptp(mesh.points[t.edges[e]][:, 2]) > 3)
    steps = settled(bar, {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "rotate": [5, 0, 0]},
                    {"id": "l", "kind": "insert_loop", "through": by_hand(mesh, "edges", [edge])["edges"], "at": [0.1]})
    assert steps[2]["begin"] == "first"
    before = mesh_of(*steps).points[-4:, 2].mean()
    steps[1]["rotate"] = [-5, 0, 0]
    assert np.sign(mesh_of(*steps).points[-4:, 2].mean()) == np.sign(before)


FIRST = ("bevel", "insert_loop", "transform", "inset")


@given(st.integers(0, 9999), st.sampled_from(FIRST), st.sampled_from(["faces", "edges", "vertices"]))
@settings(max_examples=EXAMPLES, deadline=None)
def test_a_step_inserted_early_leaves_picks_where_they_were(seed, first, kind):
    """The middle of all that is found lies where what was picked did, or the loss is told."""
    r = np.random.default_rng(seed)
    form = box((4, 3, 2), r.integers(1, 4, 3).tolist())
    mesh = mesh_of(form)
    t = mesh.topology
    count = {"faces": t.face_count, "edges": t.edge_count, "vertices": t.vertex_count}[kind]
    chosen = r.choice(count, min(count, 3), replace=False)
    last = {"faces": {"kind": "extrude", "depth": 0.05}, "edges": {"kind": "crease", "sharpness": 2},
            "vertices": {"kind": "transform", "translate": [0, 0.01, 0]}}[kind]
    steps = settled(form, {"id": "last", **last, "pick": by_hand(mesh, kind, np.sort(chosen))})
    edges = by_hand(mesh, "edges", r.choice(t.edge_count, 1))
    inserted = {"bevel": {"pick": edges, "width": 0.05}, "insert_loop": {"through": edges["edges"]},
                "transform": {"pick": {"vertices": "all"}, "rotate": [0, 0, 7]},
                "inset": {"pick": by_hand(mesh, "faces", r.choice(t.face_count, 1)), "width": 0.05}}[first]
    try:
        now, result = found([steps[0], {"id": "early", "kind": first, **inserted}, steps[1]])
    except StepError:
        assume(False)
    if result.error is not None or result.missing:
        assert first == "bevel"  # told: what was bevelled away is no longer there
        return
    at = result.state.picked.vertices(now)
    was = mesh.points[np.unique({"faces": lambda: t.corners[t.corners_of(chosen)], "edges": lambda: t.edges[chosen].ravel(),
                                 "vertices": lambda: chosen}[kind]())]
    if first == "transform":
        turn = np.radians(7)
        middle = now.points.mean(axis=0)
        back = (now.points[at] - middle) @ np.array([[np.cos(turn), -np.sin(turn), 0], [np.sin(turn), np.cos(turn), 0], [0, 0, 1]])
        assert np.abs(back + mesh.points.mean(axis=0) - was).max() < 1e-6
    else:
        low, high = was.min(axis=0) - 0.051, was.max(axis=0) + 0.051
        assert ((now.points[at] >= low) & (now.points[at] <= high)).all()


def test_what_a_meaning_finds_follows_where_things_are():
    """A flat wall picked whole; with other segments it is found by its flatness, which a later tilt of half of it ends."""
    mesh = mesh_of(box((2, 2, 2), (2, 2, 2)))
    wall = np.flatnonzero(mesh.normals[:, 2] > 0.9)
    tilt = {"id": "t", "kind": "transform", "pick": {"vertices": {"in_box": [[0.5, None, 0.5], [None] * 3]}}, "translate": [0, 0, 0]}
    steps = settled(box((2, 2, 2), (2, 2, 2)), tilt, {"id": "x", "kind": "extrude", "depth": 0.1,
                                                              "pick": by_hand(mesh, "faces", wall)})
    steps[0]["segments"] = [4, 4, 4]
    evaluator = Evaluator()
    counts = []
    for move in (0, 0.5, 0):
        steps[1]["translate"] = [0, 0, move]
        fresh = evaluate(*steps, tolerant=True).results[2].state.picked.elements
        again = evaluate(*steps, tolerant=True, evaluator=evaluator).results[2].state.picked.elements
        assert np.array_equal(fresh, again)
        counts.append(fresh.size)
    assert counts[0] == counts[2] == 16

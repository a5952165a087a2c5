"""Joints in random places against a dense sampling of exact distances, and against geometry by hand (school geometry, no
source needed but where one is told)."""

import json
import math

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.cli.__main__ import main
from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.size.clearance.room_to_move import clearance_among
from tests.helpers import box

SAMPLES = 700


def job(*parts, unit="cm"):
    return load(json.dumps({"format": "rhytonic", "version": 1, "unit": unit, "parts": list(parts)}))


def swept(document, part="Lid", **more):
    return clearance_among(document, build(document, evaluator=Evaluator()), part, **more)


def part(name, size, **more):
    return {"name": name, "steps": [box(size)], **more}


@pytest.mark.parametrize(("end", "touches"), [(170, 95.749), (120, 95.749), (100, 95.749), (95, None), (-170, None)])
def test_a_door_meets_a_wall_beside_its_hinge(end, touches):
    """The far corner of a door 30 × 2, hung at the middle of one edge 4 from a wall: cos(θ + atan(1/30)) = −4/√901."""
    truth = math.degrees(math.acos(-4 / math.sqrt(901)) - math.atan(1 / 30))
    assert touches is None or truth == pytest.approx(touches, abs=1e-3)
    wall = part("Wall", (2, 40, 60), placement={"translate": [-20, 0, 10]})
    door = part("Lid", (30, 40, 2), placement={"translate": [0, 0, -25]},
                joint={"kind": "turn", "at": [-15, 0, 0], "axis": [0, -1, 0], "to": end})
    found = swept(job(wall, door))
    assert found.touches[1] == found.touches_at == (pytest.approx(truth, abs=1e-6) if touches else None)


@pytest.mark.parametrize("thick", [0.1, 0.5, 2, 7, 19])
@pytest.mark.parametrize("height", [8, 30])
def test_a_lid_that_rests_on_its_box_opens_half_a_turn(thick, height):
    """Hinged on the edge that both share, a lid of any thickness turns until its own back lies against the back: 180°."""
    lid = part("Lid", (30, thick, 20), placement={"translate": [0, height, 0]},
               joint={"kind": "turn", "at": [0, 0, -10], "axis": [-1, 0, 0], "from": 0, "to": 300})
    found = swept(job(part("Case", (30, height, 20)), lid))
    assert found.touches[1] == pytest.approx(180, abs=1e-4) and found.rests
    assert found.touches[0] is None  # it stands at that end


def test_a_lid_that_would_be_shut_further_is_in_the_way_at_once():
    lid = part("Lid", (30, 2, 20), placement={"translate": [0, 8, 0]},
               joint={"kind": "turn", "at": [0, 0, -10], "axis": [-1, 0, 0], "from": -40, "to": 180})
    found = swept(job(part("Case", (30, 8, 20)), lid))
    assert found.touches == (pytest.approx(0, abs=1e-4), None) and found.touches_at is None


def test_the_sweep_goes_both_ways_from_where_the_joint_stands():
    """A drawer of 10 between posts 3 to its left and 8 to its right."""
    drawer = part("Lid", (10, 10, 10), joint={"kind": "slide", "axis": [1, 0, 0], "from": -200, "to": 20, "now": 1})
    posts = [part(n, (2, 10, 2), placement={"translate": [x, 0, 0]}) for n, x in (("Left", -9), ("Right", 14))]
    found = swept(job(drawer, *posts))
    assert found.touches == (pytest.approx(-3, abs=1e-6), pytest.approx(8, abs=1e-6))
    assert found.touches_at == found.touches[0]  # the longer way


def test_a_drawer_slides_on_what_it_rests_on_until_it_meets_something():
    rails = [part(n, (2, 1, 60), placement={"translate": [x, -1, 20]}) for n, x in (("Left", -8), ("Right", 8))]
    stop = part("Stop", (20, 5, 1), placement={"translate": [0, 0, 30.5]})
    drawer = part("Lid", (20, 8, 30), joint={"kind": "slide", "axis": [0, 0, 1], "to": 40})
    drawer["steps"][0]["segments"] = [3, 2, 7]  # one face after the other comes to lie on the rails
    assert swept(job(drawer, *rails)).touches == (None, None)
    assert swept(job(drawer, *rails, stop)).touches == (None, pytest.approx(15, abs=1e-6))


def test_what_stands_inside_a_solid_is_in_its_way():
    inside = part("Lid", (2, 2, 2), placement={"translate": [0, 5, 0]}, joint={"kind": "slide", "axis": [0, 1, 0], "to": 3})
    found = swept(job(part("Case", (20, 20, 20)), inside))
    assert found.touches == (0, 0) and found.least == 0
    sheet = {"name": "Lid", "steps": [{"id": "s", "kind": "plane", "size": [2, 2]}], "placement": {"translate": [0, 5, 0]},
             "joint": {"kind": "turn", "axis": [0, 1, 0], "to": 90}}
    assert swept(job(part("Case", (20, 20, 20)), sheet)).touches[1] == 0


def test_open_sheets_meet_where_they_pass_through_each_other():
    sheet = {"name": "Lid", "steps": [{"id": "s", "kind": "plane", "size": [10, 10]}], "joint": {"kind": "slide", "axis": [0, -1, 0], "to": 9}}
    wall = {"name": "Case", "steps": [{"id": "s", "kind": "plane", "size": [4, 4]}, {"id": "t", "kind": "transform", "pick": {"faces": "all"}, "rotate": [90, 0, 0]}],
            "placement": {"translate": [0, -6, 1]}}
    assert swept(job(sheet, wall)).touches == (None, pytest.approx(4, abs=1e-6))


def test_curves_are_not_looked_at(tmp_path, capsys):
    wire = {"name": "Wire", "steps": [{"id": "p", "kind": "path", "points": [[0, 0, 0], [9, 9, 9]]}]}
    lid = part("Lid", (4, 4, 4), joint={"kind": "slide", "axis": [1, 0, 0], "to": 3})
    post = part("Post", (2, 10, 2), placement={"translate": [9, 0, 0]})
    assert swept(job(lid, wire, post)).least == pytest.approx(0.03)
    for parts, of, told in (((lid, wire), "Lid", "curves"), ((lid, {**wire, "joint": lid["joint"]}), "Wire", "has no faces")):
        file = tmp_path / "job.rhy.json"
        file.write_text(json.dumps({"format": "rhytonic", "version": 1, "parts": parts}))
        assert main(["clearance", str(file), "--part", of]) == 2
        assert told in capsys.readouterr().err


def test_a_pin_passed_between_two_looks_is_met():
    """A pin a hair thick, and a slide looked at but four times."""
    pin = part("Pin", (0.01, 10, 0.01), placement={"translate": [13.337, 0, 0]})
    needle = part("Lid", (0.01, 10, 0.01), joint={"kind": "slide", "axis": [1, 0, 0], "to": 100})
    assert swept(job(pin, needle), steps=4).touches[1] == pytest.approx(13.327, abs=1e-6)
    beside = {**needle, "placement": {"translate": [0, 0, 0.011]}}  # and goes by without touching
    found = swept(job(pin, beside), steps=4)
    assert found.touches == (None, None) and found.least == pytest.approx(1e-5, rel=1e-4)


def bodies():
    sizes = st.tuples(*[st.floats(0.4, 6).map(lambda v: round(v, 2))] * 3)
    return st.one_of(sizes.map(lambda s: box(s)), st.tuples(st.floats(0.3, 3), st.floats(0.3, 6), st.integers(3, 9)).map(
        lambda v: {"id": "c", "kind": "cylinder", "radius": round(v[0], 2), "height": round(v[1], 2), "sides": v[2]}))


places = st.tuples(*[st.floats(-9, 9).map(lambda v: round(v, 2))] * 3)
turns = st.tuples(*[st.sampled_from([0.0, 0.0, 90.0, 31.7, -118.2])] * 3)


@settings(max_examples=12, deadline=None)
@given(bodies(), st.lists(st.tuples(bodies(), places, turns), min_size=1, max_size=3), places, turns,
       st.sampled_from(["turn", "slide"]), places, st.tuples(*[st.integers(-2, 2)] * 3).filter(any),
       st.floats(-170, 0), st.floats(0, 170), st.floats(0, 1))
def test_random_joints_against_exact_distances_densely_sampled(mover, others, at, turn, kind, through, axis, low, high, share):
    """No sample on the way to a contact touches, and just behind it something is crossed; distances by trimesh's nearest
    points and its boolean (manifold3d) of volumes."""
    if kind == "slide":
        low, high = low / 10, high / 10
    now = round(low + share * (high - low), 3)
    joint = {"kind": kind, "at": through, "axis": axis, "from": round(low, 3) - 0.001, "to": round(high, 3) + 0.001, "now": now}
    lid = {"name": "Lid", "steps": [mover], "placement": {"translate": at, "rotate": turn}, "joint": joint}
    document = job(lid, *({"name": f"P{i}", "steps": [b], "placement": {"translate": p, "rotate": t}} for i, (b, p, t) in enumerate(others)))
    found = swept(document)
    for end, touch in zip((joint["from"], joint["to"]), found.touches, strict=True):
        values = np.linspace(now, end, SAMPLES)
        clear = [v for v in values if touch is None or abs(v - now) < abs(touch - now) - 1e-7 * max(abs(end - now), 1)]
        states = [crossed(document, v) for v in clear[:: max(len(clear) // 60, 1)]]
        assert not any(states), (end, touch)
        if touch is not None and abs(end - touch) > 1e-3:
            way = math.copysign(1, end - now)
            assert any(crossed(document, touch + way * d) for d in (1e-6, 1e-4, 1e-3, 0.01, 0.05, 0.2) if d <= abs(end - touch)) or \
                distance(document, touch) < 1e-8


def stood(document, value):
    parts = [document.parts[0].model_copy(update={"joint": document.parts[0].joint.model_copy(update={"now": value})}), *document.parts[1:]]
    made = build(document.model_copy(update={"parts": parts}), evaluator=Evaluator())
    return [trimesh.Trimesh(p.mesh.points, triangulate(p.mesh)[0], process=False) for p in made]


def crossed(document, value):
    """Whether volumes overlap, by the boolean of another library."""
    lid, *others = stood(document, value)
    return any((lid.bounds[0] < o.bounds[1]).all() and (o.bounds[0] < lid.bounds[1]).all() and
               trimesh.boolean.intersection([lid, o]).volume > 1e-13 for o in others)


def distance(document, value):
    lid, *others = stood(document, value)
    return min(float(trimesh.proximity.closest_point(a, points)[1].min()) for o in others for a, b in ((lid, o), (o, lid))
               for points in [np.concatenate([b.vertices, *(b.vertices[b.edges_unique[:, 0]] * (1 - t) + b.vertices[b.edges_unique[:, 1]] * t
                                                            for t in np.linspace(0, 1, 400))])])


@settings(max_examples=8, deadline=None)
@given(st.floats(0.2, 8), st.floats(3, 20), st.floats(0, 1), st.sampled_from([[0, -1, 0], [0, 1, 0]]))
def test_a_door_of_width_w_reaches_a_wall_at_distance_d(gap, width, share, axis):
    """At asin(d / w) for a door without thickness hung before a wall: here as thin as can be, by its own corner."""
    gap = min(gap, width * 0.95)
    door = part("Lid", (width, 10, 1e-4), placement={"translate": [width / 2, 0, 0]},
                joint={"kind": "turn", "at": [-width / 2, 0, 0], "axis": axis, "from": -89, "to": 89})
    wall = part("Wall", (100, 20, 2), placement={"translate": [0, -5, gap + 1]})
    touch = [t for t in swept(job(door, wall)).touches if t is not None]
    assert len(touch) == 1 and abs(touch[0]) == pytest.approx(math.degrees(math.asin(gap / width)), abs=0.01)

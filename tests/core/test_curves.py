"""Curves in recipes: what they report, what works on them, sweeps, and what is refused."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.inspect.report import report
from rhytonic.core.mesh.measure import measure
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.leaving import leaving
from tests.helpers import assert_sound, box, together

POINTS = [[0, 0, 0], [0, 20, 0], [20, 20, 5], [30, 0, 0]]


def path(points=POINTS, **more):
    return {"id": "way", "kind": "path", "points": points, **more}


def sweep(profile=None, **more):
    return {"id": "body", "kind": "sweep", "profile": profile or {"circle": 1, "sides": 8}, **more}


def part(*steps, name="Part", **more):
    return {"name": name, "id": name.lower(), "steps": list(steps), **more}


def solid(*steps, others=()):
    return build(together(part(*steps), *others))[0].mesh


def told(*parts):
    document = together(*parts)
    return report(document, build(document))["parts"]


def test_a_part_that_ends_as_a_curve_reports_it_and_no_faces():
    first, = told(part(path(closed=False)))
    assert first["faces"] == first["triangles"] == 0 and first["findings"] == []
    curve = first["curve"]
    assert curve["points"] == 4 and not curve["closed"] and not curve["planar"] and curve["area"] is None
    assert curve["length"] == pytest.approx(20 + np.sqrt(425) + np.sqrt(525))
    assert first["min"] == pytest.approx([0, 0, 0]) and first["max"] == pytest.approx([30, 20, 5])
    document = together(part(path(), sweep()))
    stage, = report(document, build(document, "way"))["parts"]
    assert stage["curve"]["points"] == 4
    assert "curve" not in told(part(path(), sweep()))[0]


def test_curves_are_placed_as_parts_are_and_never_leave_with_the_model():
    document = together(part(path(), name="Way", placement={"translate": [1, 0, 0], "scale": [2, 2, 2]}), part(box(), name="Box"))
    parts = build(document)
    way = report(document, parts)["parts"][0]
    assert way["max"] == pytest.approx([61, 40, 10])
    assert [p.name for p in leaving(document, parts)] == ["Box"]


@pytest.mark.parametrize("more", [{}, {"corners": "round"}, {"twist": 70}, {"scale": [1, 0.5]}, {"turn": 30, "mirrored": True},
                                  {"offset": [0.5, -0.5]}, {"profile": {"rectangle": [1, 2]}}, {"up": [1, 0, 0]}])
@pytest.mark.parametrize("corner", ["sharp", "fillet", "chamfer", "soft"])
def test_a_swept_path_is_a_closed_solid(corner, more):
    points = [{"at": at, "corner": corner, "size": 3} if 0 < i < 3 else at for i, at in enumerate(POINTS)]
    mesh = solid(path(points), {**sweep(), **more})
    assert_sound(mesh)
    m = measure(mesh)
    assert m.closed and m.manifold and m.genus == 0 and m.volume > 0
    assert m.quads == m.faces - m.ngons - m.tris and (m.tris == 0 or more.get("corners") == "round")


corners = st.sampled_from(["sharp", "fillet", "chamfer", "soft"])
ways = st.lists(st.tuples(st.integers(-20, 20), st.integers(-20, 20), st.integers(-20, 20), corners), min_size=3, max_size=7)


@settings(max_examples=30, deadline=None)
@given(ways, st.sampled_from(["mitre", "round"]), st.booleans())
def test_any_path_makes_a_closed_manifold_and_the_same_names_again(way, how, closed):
    at = np.array([w[:3] for w in way], float)
    edges = np.diff(np.vstack([at, at[:1]]) if closed else at, axis=0)
    size = np.linalg.norm(edges, axis=1)
    assume((size > 4).all())
    ahead = edges / size[:, None]
    behind = np.roll(ahead, 1, axis=0) if closed else ahead[:-1]
    assume((np.einsum("ij,ij->i", ahead if closed else ahead[1:], behind) > -0.8).all())
    points = [{"at": list(map(float, w[:3])), "corner": w[3], "size": 0.2} for w in way]
    evaluator = Evaluator()

    def run(radius):
        document = together(part(path(points, closed=closed), sweep({"circle": radius, "sides": 6}, corners=how)))
        return build(document, evaluator=evaluator)[0].mesh

    mesh = run(0.05)
    assert_sound(mesh)
    m = measure(mesh)
    assert m.closed and m.manifold and m.shells == 1 and m.genus == (1 if closed else 0)
    run(0.07)
    again = run(0.05)
    assert (again.names.vertex == mesh.names.vertex).all() and (again.names.face == mesh.names.face).all()


def test_names_stay_when_a_point_moves_and_when_the_profile_changes_its_size():
    one = solid(path(), sweep())
    two = solid(path([[0, 0, 0], [0, 25, 0], [20, 20, 5], [30, 0, 0]]), sweep({"circle": 2, "sides": 8}))
    assert (one.names.face == two.names.face).all() and not np.allclose(one.points, two.points)
    finer = solid(path(), sweep({"circle": 1, "sides": 16}))
    assert np.isin(one.names.vertex, finer.names.vertex).all()  # every second one


def test_a_profile_part_is_swept_wherever_it_runs_and_changes_what_it_makes():
    profile = part({"kind": "rectangle", "size": [2, 1], "id": "r"}, name="Profile")
    plain = solid(path([[0, 0, 0], [0, 0, 10]]), sweep("Profile"), others=[profile])
    assert measure(plain).volume == pytest.approx(20e-6)
    assert np.ptp(plain.points, axis=0) == pytest.approx([0.02, 0.01, 0.1])  # its x level, its y up
    reversed_ = part(path([[-1, -1, 0], [-1, 1, 0], [1, 1, 0], [1, -1, 0]], closed=True), name="Profile")
    assert measure(solid(path([[0, 0, 0], [0, 0, 10]]), sweep("Profile"), others=[reversed_])).volume == pytest.approx(40e-6)
    open_ = part(path([[-1, 0, 0], [1, 0, 0]]), name="Profile")
    strip = measure(solid(path([[0, 0, 0], [0, 0, 10]]), sweep("Profile"), others=[open_]))
    assert strip.faces == 1 and not strip.closed


def test_a_round_corner_keeps_the_section_of_both_runs_and_turns_about_the_corner():
    points = [[0, 0, 0], [10, 0, 0], [10, 10, 0]]
    mitred = measure(solid(path(points), sweep({"rectangle": [2, 2]})))
    rounded = measure(solid(path(points), sweep({"rectangle": [2, 2]}, corners="round")))
    fan = 6 * np.sin(np.radians(15)) / 2  # six triangles of a quarter turn of radius 1
    assert mitred.volume == pytest.approx(2 * 2 * 20 * 1e-6)
    assert rounded.volume == pytest.approx((2 * 2 * 20 - 2 * 1 + 2 * fan) * 1e-6)
    assert rounded.maximum[0] == pytest.approx(0.11)


def test_moving_and_flattening_points_of_a_curve_carries_its_arcs():
    rounded = path([[0, 0, 0], {"at": [10, 0, 0], "corner": "fillet", "size": 3}, [10, 10, 0]])
    turned, = told(part(rounded, {"kind": "transform", "pick": {"vertices": "all"}, "rotate": [0, 0, 90], "scale": [2, 2, 2]}))
    plain, = told(part(rounded))
    assert turned["curve"]["length"] == pytest.approx(2 * plain["curve"]["length"])
    flat, = told(part(path(POINTS), {"kind": "flatten", "pick": {"vertices": "all"}, "to": "z", "at": 0}))
    assert flat["curve"]["planar"]
    one, = told(part(path(POINTS), {"kind": "transform", "pick": {"vertices": {"made_by": "way"}}, "translate": [0, 1, 0]}))
    assert one["min"][1] == pytest.approx(1)


def test_a_narrow_corner_is_told_with_its_place():
    first, = told(part(path([[0, 0, 0], [10, 0, 0], [10, 1, 0], [0, 1, 0]]), sweep({"circle": 2, "sides": 6})))
    assert any("narrower than the profile" in n["text"] and "(10, " in n["text"] for n in first["notes"])


FAULTS = [
    ((path(), {"kind": "inset", "pick": {"faces": "all"}, "width": 1}), "works on faces, and here the recipe is still a curve"),
    ((box(), sweep() | {"id": "s"}), "makes faces of a curve, and there is none above it"),
    ((path([[0, 0, 0], [0, 0, 0], [1, 0, 0]]), sweep()), "points 1 and 2 are at one place"),
    ((path([[0, 0, 0], [5, 0, 0], [1, 0, 0]]), sweep()), r"turns straight back on itself at \(5, 0, 0\) cm"),
    ((path([[0, 0, 0], {"at": [5, 0, 0], "corner": "fillet", "size": 9}, [5, 5, 0]]),),
     "the fillet at point 2 is wider than its side; a radius of 5 cm fits"),
    ((path([[0, 0, 0]]), sweep()), "a run of one point"),
    ((path(closed=True), sweep(twist=90)), "whole turns of 360"),
    ((path(closed=True), sweep(scale=[1, 2])), "give scale the same number twice"),
    ((path(), sweep("Box")), "part 'Box' has faces; a profile is a part that ends as a curve"),
    ((path(), sweep("Level")), "no extent in x and y"),
    ((box(), {"kind": "array", "count": 3, "along": {"part": "Box"}}), "copies go along a part that ends as a curve"),
]


@pytest.mark.parametrize("steps,said", FAULTS)
def test_what_cannot_be_is_refused_with_what_would_work(steps, said):
    others = [part(box(), name="Box"), part({"kind": "path", "points": [[0, 0, 0], [0, 0, 1]]}, name="Level")]
    with pytest.raises(StepError, match=said):
        solid(*steps, others=others)


@pytest.mark.parametrize("step,said", [
    ({"kind": "path", "points": []}, "points"), ({"kind": "path", "points": [[0, 0, 0], [1, 0, 0]], "closed": True}, "3 points or more"),
    ({"kind": "arc", "radius": 1, "from": 0, "to": 0}, "turns by more than nothing"),
    ({"kind": "rectangle", "size": [1, 2], "radius": 0.6}, "at most 0.5 fits")])
def test_curves_that_cannot_be_say_why(step, said):
    with pytest.raises(InvalidDocument, match=said):
        together(part(step))


def test_parts_named_in_a_set_of_values_are_kept_by_their_ids():
    document = together(part(path(), name="Way"), part(box(), {"kind": "array", "count": 3, "along": {"part": "Way"}}, name="Post"))
    assert document.parts[1].steps[1].along.part == "way"
    ring = together(part(box(), {"kind": "array", "count": 3, "along": {"part": "Post"}}, name="Post"))
    with pytest.raises(StepError, match="in a ring"):
        build(ring)

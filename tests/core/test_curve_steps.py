"""Steps that make curves of curves and faces of curves: names, what follows what, and what is refused."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.recipe.built import build
from tests.helpers import assert_sound, box, facing, together

from .test_curves import part, path, solid, sweep, told

EVERY = {"vertices": "all"}
SQUARE = {"id": "square", "kind": "rectangle", "size": [40, 20]}
BAND = {"id": "band", "kind": "thicken", "width": 2}
BODY = {"id": "bar", "kind": "extrude_curve", "depth": 5}
U = [[0, 0, 0], [10, 0, 0], [10, 10, 0], [0, 10, 0]]


def curve(*steps, others=()):
    return build(together(part(*steps), *others))[0].curve


def in_box(x0, y0, x1, y1):
    return {"vertices": {"in_box": [[x0, y0, -1], [x1, y1, 1]]}}


def notes(*steps):
    return [n for r in build(together(part(*steps)))[0].evaluation.results for n in r.notes]


corner = st.sampled_from(["sharp", "fillet", "chamfer", "soft"])
flat_ways = st.lists(st.tuples(st.integers(-20, 20), st.integers(-20, 20), corner), min_size=3, max_size=7,
                     unique_by=lambda w: w[:2])
makers = st.sampled_from([
    [BODY], [{**BODY, "segments": 3}], [{"id": "o", "kind": "offset", "distance": -1}, BODY], [{"id": "o", "kind": "offset", "distance": 1.5, "corners": "round"}, BODY],
    [{"id": "r", "kind": "round_corner", "pick": EVERY, "radius": 0.5}, BODY], [{"id": "s", "kind": "smooth_curve"}, BODY],
    [{"id": "e", "kind": "respace", "spacing": 2}, BODY], [BAND, BODY],
    [{"id": "m", "kind": "mirror", "axis": "x"}, BODY], [{"id": "t", "kind": "transform", "pick": EVERY, "translate": [25, 0, 0]}, {"id": "l", "kind": "lathe", "sides": 9}],
    [{"id": "t", "kind": "transform", "pick": EVERY, "translate": [25, 0, 0]}, {"id": "l", "kind": "lathe", "sides": 5, "angle": -70}]])


@settings(max_examples=60, deadline=None)
@given(flat_ways, makers, st.floats(1.01, 1.3))
def test_any_outline_makes_closed_bodies_and_the_same_names_again(way, steps, grown):
    """Whenever the outline does not cross itself; with numbers changed and changed back names are what they were."""
    points = [{"at": [x, y, 0], "corner": c, "size": 0.5} for x, y, c in way]

    def made(scale):
        bigger = [{**p, "at": [v * scale for v in p["at"]]} for p in points]
        return solid({**path(bigger), "closed": True}, *steps)

    try:
        mesh = made(1.0)
    except StepError:
        return  # told, with what would work
    assert_sound(mesh)
    outline = curve({**path(points), "closed": True}, *steps[:-1])
    if crosses(outline):
        return
    m = measure(mesh)
    assert m.closed and m.manifold and m.volume > 0
    again = made(1.0)
    assert (again.names.vertex == mesh.names.vertex).all() and (again.points == mesh.points).all()
    try:
        other = made(grown)
    except StepError:
        return
    back = made(1.0)
    assert (back.names.vertex == mesh.names.vertex).all() and (back.names.face == mesh.names.face).all()
    if other.topology is mesh.topology and not notes({**path(points), "closed": True}, *steps):
        assert (other.names.vertex == mesh.names.vertex).mean() > 0.5


def crosses(outline):
    import shapely

    line = outline.divided
    rings = [line.points[line.run(i), :2] for i in range(line.closed.size)]
    return not shapely.is_simple(shapely.MultiLineString([np.concatenate([r, r[:1]]) for r in rings]))


def test_a_hole_in_line_with_its_outline_is_closed_without_a_slit():
    """Found at random: ears join a hole to the outline along a line on which points of both stand."""
    way = [[4, 0, 0], [0, -1, 0], [8, -10, 0], [-4, 15, 0], [0, 1, 0], [4, 5, 0]]
    m = measure(solid({**path(way), "closed": True}, {"id": "o", "kind": "offset", "distance": 1.5, "corners": "round"}, BODY))
    assert m.closed and m.manifold and m.genus == 1


def test_names_come_of_the_points_of_the_curve_and_stay_when_numbers_change():
    def ids(width, radius):
        mesh = solid(path(U), {"id": "r", "kind": "round_corner", "pick": in_box(9, 9, 11, 11), "radius": radius},
                     {**BAND, "width": width}, BODY)
        return set(hex_of(mesh.names.vertex)), set(hex_of(mesh.names.face))

    assert ids(2, 2) == ids(2.5, 2.4)
    more = solid(path(U), BAND, {**BODY, "segments": 2})
    plain = solid(path(U), BAND, BODY)
    assert np.isin(plain.names.vertex, more.names.vertex).all()  # rows of a half keep those of a whole
    longer = solid(path([[-5, 0, 0], *U[1:]]), BAND, BODY)
    assert (longer.names.vertex == plain.names.vertex).all()


def test_picks_find_points_of_a_curve_through_what_took_their_place():
    """A corner picked by its id, then rounded above: the pick finds both points that took its place."""
    at = hex_of(curve(SQUARE).ids)[2]
    moved = {"id": "t", "kind": "transform", "pick": {"vertices": {"ids": [at]}}, "translate": [5, 0, 0]}
    plain, rounded = curve(SQUARE, moved), curve(SQUARE, {"id": "r", "kind": "round_corner", "pick": in_box(19, 9, 21, 11), "radius": 4}, moved)
    assert (plain.points[:, 0] > 0.24).sum() == 1
    assert (rounded.points[:, 0] > 0.2).sum() == 2 and len(rounded.points) == 5
    offset = curve(SQUARE, {"id": "o", "kind": "offset", "distance": 1}, moved)
    assert (offset.points[:, 0] > 0.24).sum() == 1


@pytest.mark.parametrize("edit, points, closed, length", [
    ({"kind": "delete", "pick": in_box(19, 9, 21, 11)}, 3, False, 60),
    ({"kind": "duplicate", "pick": in_box(-21, 9, 21, 11), "translate": [0, 5, 0]}, 6, False, 160),
    ({"kind": "duplicate", "pick": EVERY, "rotate": [0, 0, 90]}, 8, True, 240),
    ({"kind": "array", "count": 3, "step": [50, 0, 0]}, 12, True, 360),
    ({"kind": "array", "count": 4, "around": {"axis": "z", "at": [40, 0, 0]}}, 16, True, 480),
    ({"kind": "slide", "pick": in_box(19, 9, 21, 11), "amount": -0.5}, 4, True, 40 + 10 + 40 * 0 + np.hypot(40, 10) + 20),
    ({"kind": "weld", "pick": in_box(19, -11, 21, 11), "distance": 30}, 3, True, 40 * 0 + 20 + 2 * np.hypot(40, 10)),
    ({"kind": "mirror", "axis": "x", "at": 10}, 6, True, 80),
    ({"kind": "mirror", "axis": "x", "at": 10, "clip": False}, 8, True, 240),
    ({"kind": "flatten", "pick": in_box(-21, 9, 21, 11), "to": "y", "at": 30}, 4, True, 160),
    ({"kind": "flatten", "pick": EVERY, "to": "y", "at": 0, "by": "shift"}, 4, True, 120),
])
def test_steps_that_work_on_faces_work_on_curves(edit, points, closed, length):
    one, = told(part(SQUARE, {"id": "edit", **edit}))
    assert one["curve"]["points"] == points and one["curve"]["closed"] == closed
    assert one["curve"]["length"] == pytest.approx(length, rel=1e-12)


def test_half_a_circle_by_deleting_points_and_a_whole_outline_by_mirroring_half():
    half = curve({"id": "c", "kind": "circle", "radius": 10, "sides": 24}, {"id": "d", "kind": "delete", "pick": in_box(-11, -11, 11, -0.01)})
    assert len(half.points) == 13 and not half.wires.closed.any()
    whole, = told(part(path([[0, 0, 0], [8, 0, 0], {"at": [8, 12, 0], "corner": "fillet", "size": 3}, [0, 12, 0]]),
                       {"id": "m", "kind": "mirror", "axis": "x"}))
    assert whole["curve"]["closed"] and whole["curve"]["points"] == 8 - 0 - 0 and whole["curve"]["planar"]
    once, = told(part(path([[0, 0, 0], [8, 0, 0], {"at": [8, 12, 0], "corner": "fillet", "size": 3}, [0, 12, 0], [0, 0, 0]][:4]), {"id": "f", "kind": "mirror", "axis": "x"},
                      {"id": "sheet", "kind": "fill"}))
    assert once["area"] == pytest.approx(whole["curve"]["area"])


def test_a_row_of_copies_is_joined_where_they_meet():
    one, = told(part(path([[0, 0, 0], [10, 0, 0], [10, 5, 0]]), {"id": "a", "kind": "array", "count": 4, "step": [10, 5, 0], "weld": 0.01}))
    assert one["curve"]["points"] == 9 and one["curve"]["length"] == pytest.approx(60)
    joined = curve(path([[0, 0, 0], [10, 0, 0], [10, 5, 0]]), {"id": "a", "kind": "array", "count": 4, "step": [10, 5, 0], "weld": 0.01})
    assert joined.wires.closed.size == 1


def test_a_mirrored_curve_carries_its_image_and_its_roles():
    steps = [path([[0, 0, 0], [8, 0, 0], [8, 12, 0]]), {"id": "m", "kind": "mirror", "axis": "x"},
             {"id": "t", "kind": "transform", "pick": {"vertices": {"made_by": "m", "role": "image"}}, "translate": [0, 0, 7]}]
    moved = curve(*steps)
    assert len(moved.points) == 5 and (moved.points[:, 2] > 0.06).sum() == 2 and (moved.points[moved.points[:, 2] > 0.06][:, 0] < 0).all()


CUSHION = part(box((40, 10, 40), (2, 1, 2)), name="Cushion")


def rim(**more):
    return {"id": "rim", "kind": "edge_curve", "part": "Cushion", "pick": {"edges": {"outline_of": {"facing": "+y"}}}, **more}


def test_a_curve_follows_the_edges_of_another_part():
    one = curve(rim(), others=[CUSHION])
    assert len(one.points) == 8 and one.wires.closed.all()
    wider = part(box((60, 10, 40), (2, 1, 2)), name="Cushion")
    other = curve(rim(), others=[wider])
    assert (other.ids == one.ids).all() and np.ptp(other.points[:, 0]) == pytest.approx(0.6)
    even = curve(rim(count=32), others=[CUSHION])
    gaps = np.linalg.norm(even.points - np.roll(even.points, 1, axis=0), axis=1)
    assert len(even.points) == 32 and gaps.max() == pytest.approx(gaps.min())
    rope = solid(rim(spacing=2), sweep({"circle": 1, "sides": 6}), others=[CUSHION])
    m = measure(rope)
    assert m.closed and m.manifold and m.genus == 1
    # placed apart, and in the state of an earlier step
    placed = {**CUSHION, "placement": {"translate": [0, 100, 0]}}
    assert curve(rim(), others=[placed]).points[:, 1].min() == pytest.approx(1.1)
    raised = part(*CUSHION["steps"], {"id": "up", "kind": "extrude", "pick": facing("+y"), "depth": 5}, name="Cushion")
    assert curve(rim(), others=[raised]).points[:, 1].max() == pytest.approx(0.15)
    assert curve(rim(step="body"), others=[raised]).points[:, 1].max() == pytest.approx(0.1)


def test_the_cage_is_followed_not_its_smooth_surface():
    smooth = part(*CUSHION["steps"], {"id": "sub", "kind": "subdivision", "levels": 2}, name="Cushion")
    assert len(curve(rim(), others=[smooth]).points) == 8


BOARD = {"id": "b1", "name": "Front", "picture": "0" * 64, "view": "front", "width": 50, "at": [10, 5],
         "outline": {"width": 50, "rings": [[[-10, 0], [0, 0.001], [10, 0], [10, 20], [-10, 20]], [[-5, 5], [5, 5], [5, 15], [-5, 15]]]}}


def test_a_traced_board_is_a_curve_where_it_stands():
    def outline(board, **more):
        return build(together(part({"id": "o", "kind": "board_curve", "board": "Front", **more}), boards=[{**BOARD, **board}]))[0].curve

    one = outline({})
    assert len(one.points) == 8 and one.wires.closed.all()
    np.testing.assert_allclose(one.points.min(axis=0), [0, 0.05, 0], atol=1e-12)
    assert len(outline({}, tolerance=0).points) == 9
    side = outline({"view": "right"})
    np.testing.assert_allclose(side.points.min(axis=0), [0, 0.05, -0.2], atol=1e-12)
    free = outline({"view": "free", "at": [0, 0], "place": {"translate": [0, 0, 30], "rotate": [90, 0, 0]}})
    np.testing.assert_allclose([free.points.min(axis=0), free.points.max(axis=0)], [[-0.1, 0, 0.3], [0.1, 0, 0.5]], atol=1e-12)
    body = build(together(part({"id": "o", "kind": "board_curve", "board": "b1"}, BODY), boards=[BOARD]))[0].mesh
    assert measure(body).volume == pytest.approx((20 * 20 - 100) * 5 * 1e-6) and measure(body).genus == 1


def test_quads_close_an_even_outline_and_what_crosses_is_told():
    mesh = solid({"id": "c", "kind": "circle", "radius": 10, "sides": 16}, {**BODY, "cap": "quads"})
    m = measure(mesh)
    assert m.closed and m.ngons == 0 and m.quads == m.faces
    assert notes(path([[0, 0, 0], [10, 0, 0], [10, 3, 0], [0, 3, 0]]), {**BAND, "width": 4}) == ["the outline would cross itself; what crosses is one piece now"]
    assert notes(SQUARE, {"id": "o", "kind": "offset", "distance": 3}) == []


def test_the_oar_racks_side_is_a_bent_band_with_its_feet_on_the_floor():
    steps = [path([[0, 3, 0], [0, 40, 0], [25, 55, 0], [50, 40, 0], [50, 3, 0]]),
             {"id": "bent", "kind": "round_corner", "pick": in_box(-1, 39, 51, 56), "radius": 9},
             {**BAND, "width": 3}, {**BODY, "depth": 4},
             {"id": "feet", "kind": "flatten", "pick": {"vertices": {"in_box": [[-10, 2, -1], [60, 4, 10]]}}, "to": "y", "at": 0}]
    mesh = solid(*steps)
    m = measure(mesh)
    assert m.closed and m.manifold and mesh.points[:, 1].min() == 0
    assert np.ptp(mesh.points[:, 2]) == pytest.approx(0.04) and np.ptp(mesh.points[:, 0]) == pytest.approx(0.53)


@pytest.mark.parametrize("steps, said", [
    ([SQUARE, {"kind": "offset", "distance": -11}], "nothing is left of the curve at a distance of 11 cm"),
    ([path(), {"kind": "offset", "distance": 1}], "an offset needs a flat curve"),
    ([path(), BAND], "a thickness needs a flat curve"),
    ([path([[0, 0, 0]]), BAND], "single point"),
    ([SQUARE, {"kind": "round_corner", "pick": EVERY, "radius": 14}], "a radius of 10 cm fits"),
    ([path(U[:2]), {"kind": "round_corner", "pick": EVERY, "radius": 1}], "none of these is a corner"),
    ([{"kind": "arc", "radius": 5, "from": 0, "to": 90}, {"kind": "round_corner", "pick": EVERY, "radius": 1}], "none of these is a corner"),
    ([{"kind": "rectangle", "size": [10, 10], "radius": 2}, {"kind": "transform", "pick": in_box(3, 4, 6, 6), "translate": [1, 1, 0]},
      {"kind": "round_corner", "pick": EVERY, "radius": 0.1}], "is curved; only corners between straight spans"),
    ([SQUARE, {"kind": "extrude_curve", "depth": 1, "along": "y"}], "within its own plane"),
    ([path(), {"kind": "extrude_curve", "depth": 1}], "an extrusion along the normal needs a flat curve"),
    ([{"kind": "circle", "radius": 5, "sides": 7}, {**BODY, "cap": "quads"}], "cannot become quads alone"),
    ([path([[0, 0, 0], [0, 5, 0]]), {"kind": "lathe"}], "lies on the axis"),
    ([path(U), {"kind": "fill"}], "the curve is open; close it"),
    ([box(), {"kind": "fill"}], "needs a pick of border edges"),
    ([SQUARE, {"kind": "delete", "pick": EVERY}], "nothing would be left of the curve"),
    ([SQUARE, {"kind": "duplicate", "pick": EVERY, "into": "Other"}], "a curve's copies stay in its part"),
    ([SQUARE, {"kind": "weld", "pick": EVERY, "pairs": [[{"nearest": [-20, -10, 0]}, {"nearest": [20, 10, 0]}]]}], "does not branch"),
    ([box(), {"kind": "offset", "distance": 1}], "Offset works on a curve, and there is none above it"),
    ([SQUARE, {"kind": "array", "count": 60000, "step": [1, 0, 0]}], "at most 200000"),
    ([SQUARE, {"kind": "respace", "count": 2}], "a closed curve needs 3 points or more"),
    ([SQUARE, {"kind": "combine", "parts": ["Nobody"]}], "there is no part 'Nobody'"),
    ([{"kind": "board_curve", "board": "Nowhere"}], "there is no board 'Nowhere'"),
    ([SQUARE, {"kind": "mirror", "axis": "x", "at": 100}], "nothing lies on the"),
])
def test_what_cannot_be_says_why(steps, said):
    with pytest.raises(StepError, match=said):
        solid(*steps)


def test_combining_says_what_is_wrong_with_the_others():
    def combined(other, **more):
        return curve(SQUARE, {"id": "c", "kind": "combine", "parts": ["Other"], **more}, others=[{**part(*other, name="Other"), "placement": more.pop("placement", {})}])

    with pytest.raises(StepError, match="is open"):
        combined([path(U)])
    with pytest.raises(StepError, match="has faces"):
        combined([box()])
    with pytest.raises(StepError, match="cover this curve"):
        combined([{"id": "r", "kind": "rectangle", "size": [90, 90]}], operation="subtract")
    lifted = [{"id": "r", "kind": "rectangle", "size": [9, 9]}, {"id": "t", "kind": "transform", "pick": EVERY, "translate": [0, 0, 3]}]
    with pytest.raises(StepError, match="off the plane of this one by up to 3 cm"):
        combined(lifted)
    with pytest.raises(StepError, match="no area in common"):
        far = [{"id": "r", "kind": "rectangle", "size": [9, 9]}, {"id": "t", "kind": "transform", "pick": EVERY, "translate": [99, 0, 0]}]
        combined(far, operation="intersect")


def test_a_drag_below_a_curve_keeps_its_plan():
    """Moving a point keeps the connectivity of what stands below, object for object."""
    from rhytonic.core.recipe.evaluate import Evaluator

    evaluator = Evaluator()

    def topology(x):
        doc = together(part(path([[x, 0, 0], *U[1:]]), {"id": "r", "kind": "round_corner", "pick": in_box(9, 9, 11, 11), "radius": 1}, BAND, BODY))
        return evaluator.run(doc.parts[0], doc.unit).surface.mesh.topology

    assert topology(0) is topology(-3)

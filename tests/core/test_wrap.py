"""Surfaces on the texture square: projections, unwrapping, packing, and what edits do to it."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.construct.charts.held import held_places
from rhytonic.core.construct.charts.portions import portions
from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.inspect.report import report
from rhytonic.core.inspect.wrapping import layout_figures
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.mesh.uv import Flat, islands_of, uvs
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import Document
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.one_square import share_square
from tests.helpers import ALL, assert_sound, box, document, evaluate, extrude, facing, mesh_of

BOX = box()
BALL = {"id": "body", "kind": "sphere", "radius": 1, "sides": 16, "rings": 8}
CYLINDER = {"id": "body", "kind": "cylinder", "radius": 0.5, "height": 2, "sides": 12}
TORUS = {"id": "body", "kind": "torus", "radius": 1, "tube_radius": 0.3, "sides": 12, "tube_sides": 8}
TUBE = {"id": "body", "kind": "tube", "radius": 1, "inner_radius": 0.6, "height": 1.5, "sides": 9}
SIDE = {"faces": {"not": {"any_of": [{"facing": "+y"}, {"facing": "-y"}]}}}
UNWRAP, PACK = {"id": "flat", "kind": "unwrap"}, {"id": "pack", "kind": "pack"}


def flat_of(mesh):
    uv = uvs(mesh)
    assert uv is not None
    return uv, Flat.of(mesh, uv)


def figures(*steps, **more):
    return layout_figures(mesh_of(*steps, **more))


def project(how, **more):
    return {"id": "p", "kind": "project", "how": how, **more}


# projections --------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(("axis", "pick", "u", "v"), [
    ("z", "+z", (1, 0, 0), (0, 1, 0)), ("-z", "-z", (-1, 0, 0), (0, 1, 0)), ("x", "+x", (0, 0, -1), (0, 1, 0)),
    ("-x", "-x", (0, 0, 1), (0, 1, 0)), ("y", "+y", (1, 0, 0), (0, 0, -1)), ("-y", "-y", (1, 0, 0), (0, 0, 1)),
    ([0, 0, 1], "+z", (1, 0, 0), (0, 1, 0))])
def test_a_plane_is_laid_as_its_view_shows_it(axis, pick, u, v):
    mesh = mesh_of(BOX, project("plane", axis=axis, size=0.25, pick=facing(pick)))
    uv, flat = flat_of(mesh)
    has = np.isfinite(uv).all(axis=1)
    at = mesh.points[mesh.topology.corners[has]]
    assert np.allclose(uv[has], np.stack([at @ u, at @ v], axis=1) / 0.25, atol=1e-12)
    assert has.sum() == 4 and not flat.turned.any()


def test_a_box_is_unfolded_with_six_equal_squares():
    mesh = mesh_of(BOX, project("box"))
    uv, flat = flat_of(mesh)
    assert islands_of(mesh, uv).max() + 1 == 6 and not flat.turned.any()
    assert np.allclose(flat.face_signed, flat.face_signed[0]) and np.allclose(flat.stretch, 1)
    assert layout_figures(mesh)["overlap"] == 0 and uv.min() >= 0 and np.isclose(uv.max(), 1)


def test_a_cylinder_unrolls_to_its_polygons_own_perimeter():
    mesh = mesh_of(CYLINDER, project("cylinder", size=1, pick=SIDE))
    uv, flat = flat_of(mesh)
    perimeter = 12 * 2 * 0.5 * np.sin(np.pi / 12)
    assert np.allclose(np.nanmax(uv, axis=0) - np.nanmin(uv, axis=0), [perimeter, 2], atol=1e-12)
    assert np.allclose(flat.stretch, 1, atol=1e-9) and islands_of(mesh, uv).max() == 0


def test_a_ball_is_laid_by_longitude_and_latitude():
    mesh = mesh_of(BALL, project("sphere", size=1))
    uv, flat = flat_of(mesh)
    assert np.allclose(np.ptp(uv, axis=0), [2 * np.pi, np.pi], rtol=0.02) and not flat.turned.any()


def test_a_wall_pulled_longer_shows_more_bricks():
    wall = [box((4, 2, 0.2)), project("box", size=0.5)]
    before, _ = flat_of(mesh_of(*wall))
    for longer in ({"id": "m", "kind": "transform", "pick": facing("+x"), "translate": [1, 0, 0]}, extrude(facing("+x"), 1.0)):
        mesh = mesh_of(*wall, longer)
        uv, flat = flat_of(mesh)
        assert np.isfinite(uv).all() and np.allclose(flat.stretch, 1, atol=1e-9) and np.allclose(flat.face_density, 2)
        front = np.flatnonzero(mesh.normals[mesh.topology.corner_face] @ [0, 0, 1] > 0.9)
        assert np.isclose(np.ptp(uv[front, 0]), 10) and np.isclose(uv[front, 0].min(), before[:, 0].min())


@pytest.mark.parametrize("edit", [
    {"id": "e", "kind": "inset", "pick": facing("+z"), "width": 0.2}, extrude(facing("+z"), 0.3, scale=0.5),
    {"id": "e", "kind": "bevel", "pick": {"edges": "all"}, "width": 0.1, "segments": 2},
    {"id": "e", "kind": "slice", "point": [0, 1, 0], "normal": [1, 1, 0]},
    {"id": "e", "kind": "insert_loop", "through": {"nearest": [2, 1, 0.1]}, "count": 2}])
def test_new_faces_go_on_in_world_size(edit):
    mesh = mesh_of(box((4, 2, 0.6)), project("box", size=0.5), edit)
    uv, flat = flat_of(mesh)
    assert np.isfinite(uv).all()
    level = np.abs(np.abs(mesh.normals).max(axis=1) - 1) < 1e-9
    assert np.allclose(flat.face_density[level], 2) and not flat.turned.any()


def test_a_bend_takes_the_bricks_along():
    mesh = mesh_of(box((4, 2, 0.2), (8, 1, 1)), project("box", size=0.5), {"id": "b", "kind": "bend", "along": "x", "toward": "+y", "angle": 60})
    straight = mesh_of(box((4, 2, 0.2), (8, 1, 1)), project("box", size=0.5))
    assert np.array_equal(uvs(mesh), uvs(straight))


# unwrapping ---------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("method", ["isometric", "conformal"])
@pytest.mark.parametrize("body", [BOX, CYLINDER, TUBE, {"id": "body", "kind": "plane", "size": [2, 1], "segments": [3, 2]}])
def test_what_can_be_laid_flat_is_not_stretched(body, method):
    mesh = mesh_of(body, {**UNWRAP, "method": method})
    uv, flat = flat_of(mesh)
    assert np.allclose(flat.stretch, 1, atol=1e-6) and not flat.turned.any()
    assert np.allclose(flat.face_density, flat.face_density[0], rtol=1e-6)
    assert layout_figures(mesh)["overlap"] == 0 and uv.min() > -1e-9 and uv.max() < 1 + 1e-9


def test_seams_are_where_it_is_cut():
    rim = {"edges": {"outline_of": {"any_of": [{"facing": "+y"}, {"facing": "-y"}]}}}
    up = {"edges": {"nearest": [0.5, 1, 0]}}
    steps = [CYLINDER, {"id": "s1", "kind": "seam", "pick": rim}, {"id": "s2", "kind": "seam", "pick": up}, UNWRAP]
    ev = evaluate(*steps)
    mesh = ev.surface.mesh
    uv, flat = flat_of(mesh)
    assert islands_of(mesh, uv).max() + 1 == 3 and ev.results[-1].notes == ()
    side = islands_of(mesh, uv) == islands_of(mesh, uv)[np.argmin(np.abs(mesh.normals[:, 1]))]
    ring = flat.face_density[0]
    corners = side[mesh.topology.corner_face]
    size = np.sort(np.ptp(uv[corners], axis=0)) / ring
    assert np.allclose(size, np.sort([12 * np.sin(np.pi / 12), 2]), atol=1e-6)
    told = evaluate(CYLINDER, UNWRAP).results[-1].notes
    assert len(told) == 1 and "no seams" in told[0]


def test_the_model_s_up_is_v():
    mesh = mesh_of(box((4, 1, 3)), {**UNWRAP, "pick": facing("+z")})
    uv, _ = flat_of(mesh)
    corners = np.flatnonzero(np.isfinite(uv).all(axis=1))
    height = mesh.points[mesh.topology.corners[corners], 1]
    assert np.allclose(uv[corners[height > 0.5], 1], 0.25) and np.allclose(uv[corners[height < 0.5], 1], 0)


@pytest.mark.parametrize("body", [BALL, TORUS, {"id": "body", "kind": "quad_sphere", "radius": 1, "segments": 4}])
@pytest.mark.parametrize("method", ["isometric", "conformal"])
def test_round_bodies_are_opened_and_never_turned_or_over_themselves(body, method):
    mesh = mesh_of(body, {**UNWRAP, "method": method})
    told = layout_figures(mesh)
    assert told["turned"] == 0 and told["overlap"] == 0 and told["stretch"]["mean"] < 1.6 and told["coverage"] > 0.1


def test_a_pick_is_laid_beside_what_lies_there_at_its_scale():
    mesh = mesh_of(BOX, {**UNWRAP, "pick": facing("+x")}, {"id": "two", "kind": "unwrap", "pick": facing("+z")})
    _uv, flat = flat_of(mesh)
    has = flat.face_density > 0
    assert has.sum() == 2 and np.allclose(flat.face_density[has], 1, atol=1e-9) and layout_figures(mesh)["overlap"] == 0


BODIES = st.sampled_from([BOX, CYLINDER, TUBE, BALL, TORUS, box((1, 2, 3), (2, 1, 2)), {"id": "body", "kind": "plane", "size": [2, 1], "segments": [2, 2]}])
SIDES = st.sampled_from(["+x", "-x", "+y", "-y", "+z", "-z"])
EDITS = st.one_of(
    st.builds(lambda f, d, s: extrude(facing(f, within=50), d, id="", scale=s), SIDES, st.floats(-0.2, 0.8), st.floats(0.4, 1.2)),
    st.builds(lambda f, w: {"kind": "inset", "pick": facing(f, within=50), "width": w}, SIDES, st.floats(0.01, 0.1)),
    st.builds(lambda w, n: {"kind": "bevel", "pick": {"edges": {"sharper_than": 40}}, "width": w, "segments": n}, st.floats(0.01, 0.05), st.integers(1, 2)),
    st.builds(lambda p, n: {"kind": "slice", "point": [p, 0.3, 0], "normal": n}, st.floats(-0.3, 0.3), st.sampled_from([[1, 0, 0], [1, 1, 0], [0, 1, 1]])),
    st.just({"kind": "subdivision", "levels": 1}), st.just({"kind": "delete", "pick": facing("+y", within=50)}),
    st.builds(lambda e: {"kind": "seam", "pick": {"edges": {"sharper_than": e}}}, st.floats(10, 80)))


@settings(max_examples=40, deadline=None)
@given(BODIES, st.lists(EDITS, max_size=3), st.sampled_from(["isometric", "conformal"]), st.booleans())
def test_whatever_is_unwrapped_lies_right_side_up_and_apart(body, edits, method, packed):
    steps = [{**e, "id": f"e{i}"} for i, e in enumerate(edits)]
    ev = evaluate(body, *steps, {**UNWRAP, "method": method}, *([PACK] if packed else []), tolerant=True)
    mesh = ev.surface.mesh
    if not mesh.topology.face_count:
        return
    assert ev.results[-1].error is None, ev.results[-1].error
    assert_sound(mesh)
    uv, flat = flat_of(mesh)
    assert np.isfinite(uv).all() and uv.min() > -1e-9 and uv.max() < 1 + 1e-9
    told = layout_figures(mesh)
    assert told["turned"] == 0
    # by what all triangles cover together, as shapely joins them
    import shapely
    each = np.abs(flat.signed).sum()
    assert each - shapely.area(shapely.union_all(shapely.polygons(flat.places))) < 1e-8 * each and told["overlap"] == 0


def test_faces_shrunk_to_nothing_have_a_place():
    nothing = [{"id": f"i{k}", "kind": "inset", "pick": facing("+x", within=50), "width": 0.0625} for k in range(2)]
    for more in ([], [{"id": "i3", "kind": "extrude", "pick": facing("+x", within=50), "depth": 0.1, "scale": 0}], [PACK]):
        mesh = mesh_of(BOX, *nothing, *([m for m in more if m["kind"] == "extrude"]), UNWRAP, *([m for m in more if m["kind"] == "pack"]))
        assert np.isfinite(uvs(mesh)).all()


def test_a_number_changed_and_changed_back_gives_the_same_places():
    keep = Evaluator()
    first = uvs(mesh_of(box((1, 2, 3)), extrude(facing("+x"), 0.4), UNWRAP, PACK, evaluator=keep))
    other = uvs(mesh_of(box((1, 2, 3)), extrude(facing("+x"), 0.7), UNWRAP, PACK, evaluator=keep))
    again = uvs(mesh_of(box((1, 2, 3)), extrude(facing("+x"), 0.4), UNWRAP, PACK, evaluator=keep))
    fresh = uvs(mesh_of(box((1, 2, 3)), extrude(facing("+x"), 0.4), UNWRAP, PACK))
    assert np.array_equal(first, again) and np.array_equal(first, fresh) and not np.allclose(first, other)


def test_what_lies_above_is_carried_on_after_its_numbers_changed():
    """A plan that is remembered must not bring places of an earlier size."""
    keep = Evaluator()
    steps = [{"id": "i", "kind": "inset", "pick": facing("+z"), "width": 0.2}, {"id": "d", "kind": "slice", "point": [0, 0.5, 0], "normal": [0, 1, 0]}]
    for size in (0.5, 0.25):
        warm = mesh_of(BOX, project("plane", axis="z", size=size), {"id": "t", "kind": "uv_transform", "move": [0.1, 0]}, *steps, evaluator=keep)
        cold = mesh_of(BOX, project("plane", axis="z", size=size), {"id": "t", "kind": "uv_transform", "move": [0.1, 0]}, *steps)
        assert np.array_equal(uvs(warm), uvs(cold))


# moving, straightening, packing -------------------------------------------------------------------------------------
def test_islands_are_moved_turned_scaled_and_turned_over():
    steps = [box((2, 1, 1)), {**UNWRAP, "pick": facing("+z")}]
    before, _ = flat_of(mesh_of(*steps))
    has = np.isfinite(before).all(axis=1)
    middle = np.array([0.5, 0.25])
    for step, expected in (({"move": [0.1, -0.2]}, before[has] + [0.1, -0.2]), ({"turn": 90}, (before[has] - middle) @ [[0, 1], [-1, 0]] + middle),
                           ({"scale": [0.5, 2]}, (before[has] - middle) * [0.5, 2] + middle), ({"flip": "u"}, (before[has] - middle) * [-1, 1] + middle),
                           ({"turn": 90, "about": [0, 0]}, before[has] @ [[0, 1], [-1, 0]])):
        after = uvs(mesh_of(*steps, {"id": "m", "kind": "uv_transform", "pick": facing("+z"), **step}))
        assert np.allclose(after[has], expected, atol=1e-12), step
    with pytest.raises(StepError, match="project or unwrap"):
        mesh_of(*steps, {"id": "m", "kind": "uv_transform", "turn": 90})


SIX = [box((2, 3, 1)), {"id": "s", "kind": "seam", "pick": {"edges": {"sharper_than": 45}}}, UNWRAP]


def spread(mesh):
    """The islands' boxes, (n, 2) and (n, 2)."""
    uv, t = uvs(mesh), mesh.topology
    of = islands_of(mesh, uv)[t.corner_face]
    return (np.array([uv[of == i].min(axis=0) for i in range(of.max() + 1)]), np.array([uv[of == i].max(axis=0) for i in range(of.max() + 1)]))


@pytest.mark.parametrize("align,axis,place", [("left", 0, 0), ("centre", 0, 0.5), ("right", 0, 1), ("bottom", 1, 0), ("middle", 1, 0.5), ("top", 1, 1)])
def test_islands_are_set_in_line(align, axis, place):
    low, high = spread(mesh_of(*SIX))
    now_low, now_high = spread(mesh_of(*SIX, {"id": "m", "kind": "uv_transform", "align": align, "move": [0.25, -0.5]}))
    here = now_low[:, axis] * (1 - place) + now_high[:, axis] * place
    whole = low[:, axis].min() * (1 - place) + high[:, axis].max() * place
    assert np.allclose(here, whole + [0.25, -0.5][axis], atol=1e-12)
    assert np.allclose(now_high - now_low, high - low) and np.allclose(now_low[:, 1 - axis], low[:, 1 - axis] + [0.25, -0.5][1 - axis])


def test_islands_are_given_one_density_about_their_own_middles():
    uneven = [*SIX, {"id": "e", "kind": "uv_transform", "scale": [0.5, 0.5], "pick": facing("+z")}]
    low, high = spread(mesh_of(*uneven))
    for more, pixels in (([], 2048), ([{"id": "p", "kind": "pack", "resolution": 512, "margin": 1}, uneven[-1]], 512)):
        made = mesh_of(*uneven, *[{**m, "id": m["id"] + "2"} for m in more], {"id": "m", "kind": "uv_transform", "density": 4.5})
        flat = Flat.of(made, uvs(made))
        assert np.allclose(flat.face_density * pixels / 100, 4.5)
        if not more:
            now_low, now_high = spread(made)
            assert np.allclose(now_low + now_high, low + high)
    with pytest.raises(InvalidDocument, match="density"):
        mesh_of(*SIX, {"id": "m", "kind": "uv_transform", "density": 0})


def test_a_band_becomes_a_rectangle_where_it_lay():
    cone = {"id": "body", "kind": "cylinder", "radius": 1, "radius_top": 0.6, "height": 1, "sides": 12}
    cut = {"id": "s", "kind": "seam", "pick": {"edges": {"of_vertices": {"in_box": [[0.5, None, -0.01], [None, None, 0.01]]}, "touching": "all"}}}
    bowed = mesh_of(cone, cut, {**UNWRAP, "pick": SIDE})
    mesh = mesh_of(cone, cut, {**UNWRAP, "pick": SIDE}, {"id": "b", "kind": "straighten_uv", "pick": SIDE})
    uv, flat = flat_of(mesh)
    has = np.isfinite(uv).all(axis=1)
    assert np.unique(uv[has, 1].round(9)).size == 2 or np.unique(uv[has, 0].round(9)).size == 2
    assert islands_of(mesh, uv).max() == 0 and not flat.turned.any()
    before = uvs(bowed)[has]
    assert np.allclose((uv[has].min(0) + uv[has].max(0)) / 2, (before.min(0) + before.max(0)) / 2)
    with pytest.raises(StepError, match="four sides"):
        mesh_of(cone, {"id": "b", "kind": "straighten_uv", "pick": ALL})
    with pytest.raises(StepError, match="ring"):
        mesh_of(cone, {"id": "b", "kind": "straighten_uv", "pick": SIDE})


@settings(max_examples=25, deadline=None)
@given(BODIES, st.lists(EDITS, max_size=2), st.sampled_from([0, 2, 8, 20]), st.sampled_from([256, 1024, 4096]), st.booleans())
def test_packed_islands_are_a_margin_apart(body, edits, margin, resolution, turn):
    steps = [{**e, "id": f"e{i}"} for i, e in enumerate(edits)]
    ev = evaluate(body, *steps, project("box"), {**PACK, "margin": margin, "resolution": resolution, "turn": turn}, tolerant=True)
    mesh = ev.surface.mesh
    if not mesh.topology.face_count:
        return
    assert ev.results[-1].error is None
    import shapely
    uv, flat = flat_of(mesh)
    island = islands_of(mesh, uv)
    shapes = [shapely.unary_union([shapely.Polygon(p) for p, f in zip(flat.places, flat.face) if island[f] == i]) for i in range(island.max() + 1)]
    shapes = [s for s in shapes if not s.is_empty]
    gap = margin / resolution
    for i, one in enumerate(shapes):
        assert one.bounds[0] >= gap - 1e-9 and one.bounds[1] >= gap - 1e-9 and max(one.bounds[2:]) <= 1 - gap + 1e-9
        for two in shapes[:i]:
            assert one.distance(two) >= gap - 1e-9
    model, square = (np.bincount(island, a) for a in (flat.face_areas, flat.face_signed))
    dense = np.sqrt(square / model)[model > 1e-6]
    assert np.allclose(dense, dense[0], rtol=1e-6)


def test_a_density_is_what_it_says_or_why_it_cannot_be():
    told = figures(box((10, 10, 10)), UNWRAP, {**PACK, "density": 60, "resolution": 4096}, unit="cm")
    assert np.allclose([told["density"]["min"], told["density"]["max"]], 60, rtol=1e-9) and told["resolution"] == 4096
    with pytest.raises(StepError, match="does, or a larger resolution") as error:
        mesh_of(box((10, 10, 10)), UNWRAP, {**PACK, "density": 1e6, "resolution": 4096}, unit="cm")
    most = float(str(error.value).split("do not fit; ")[1].split(" does")[0])
    assert figures(box((10, 10, 10)), UNWRAP, {**PACK, "density": most, "resolution": 4096}, unit="cm")["density"]["max"] == pytest.approx(most)


def test_held_islands_stay():
    steps = [BOX, project("box")]
    hold = facing("+z")
    before = uvs(mesh_of(*steps, {"id": "m", "kind": "uv_transform", "scale": [0.5, 0.5], "about": [0, 0]}))
    mesh = mesh_of(*steps, {"id": "m", "kind": "uv_transform", "scale": [0.5, 0.5], "about": [0, 0]}, {**PACK, "hold": hold})
    held = np.flatnonzero(mesh.normals[mesh.topology.corner_face] @ [0, 0, 1] > 0.9)
    assert np.array_equal(uvs(mesh)[held], before[held]) and layout_figures(mesh)["overlap"] == 0


# carried on ---------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("edit", [
    {"kind": "bevel", "pick": {"edges": "all"}, "width": 0.05}, {"kind": "subdivision", "levels": 2}, {"kind": "mirror", "axis": "x"},
    {"kind": "array", "count": 3, "step": [2, 0, 0]}, {"kind": "twist", "axis": "y", "angle": 30}, {"kind": "shell", "thickness": 0.05},
    {"kind": "noise", "pick": ALL, "amount": 0.05, "size": 0.3, "seed": 1}, {"kind": "slice", "point": [0, 0.4, 0], "normal": [0, 1, 0.2], "cap": True, "keep": "above"}])
def test_places_go_through_edits(edit):
    mesh = mesh_of(box(segments=(2, 2, 2)), {**UNWRAP}, {**edit, "id": "e"})
    uv, flat = flat_of(mesh)
    assert_sound(mesh)
    assert np.isfinite(uv).mean() > 0.7 and np.nanmin(uv) > -1e-9 and np.nanmax(uv) < 1 + 1e-9
    if edit["kind"] == "subdivision":
        before = mesh_of(box(segments=(2, 2, 2)), UNWRAP)
        assert np.isclose(flat.signed.sum(), Flat.of(before, uvs(before)).signed.sum())


def test_mirrored_halves_share_their_place_and_are_told_so():
    steps = [BOX, {"id": "cut", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}, UNWRAP]
    d = document(*steps, {"id": "m", "kind": "mirror", "axis": "x"})
    told = report(d, build(d))["parts"][0]
    assert told["uv"]["overlap"] == 0 and told["uv"]["turned"] > 0
    assert not [f for f in told["findings"] if f["kind"].endswith(("island", "islands"))]


def test_a_boolean_keeps_places_and_brings_those_of_the_cutter():
    from tests.helpers import together
    d = together({"name": "Work", "steps": [box((4, 4, 4)), UNWRAP, {"id": "cut", "kind": "boolean", "part": "Tool", "operation": "subtract"}]},
                 {"name": "Tool", "steps": [box((1, 9, 1)), {"id": "p", "kind": "project", "how": "box", "size": 2}]})
    mesh = next(p for p in build(d) if p.name == "Work").mesh
    uv, flat = flat_of(mesh)
    assert np.isfinite(uv).all()
    inside = (np.abs(mesh.face_centres[:, [0, 2]]).max(axis=1) < 0.0051) & (np.abs(mesh.normals[:, 1]) < 0.5)
    assert inside.any() and np.allclose(flat.face_density[inside], 1 / 0.02)


# findings -----------------------------------------------------------------------------------------------------------
def findings(*steps):
    d = document(*steps)
    return {f["kind"]: f for f in report(d, build(d))["parts"][0]["findings"]}


def test_findings_of_a_layout():
    assert not {"turned_island", "overlapping_islands", "stretched_face", "uneven_density", "no_uv"} & findings(BOX, UNWRAP, PACK).keys()
    assert findings(BOX, UNWRAP, {"id": "t", "kind": "uv_transform", "flip": "u"})["turned_island"]["step"] == "t"
    assert findings(BOX, project("box"), {"id": "t", "kind": "uv_transform", "pick": facing("+x"), "move": [-0.3, 0]})["overlapping_islands"]["count"] >= 2
    assert findings(BOX, project("box"), {"id": "t", "kind": "uv_transform", "pick": facing("+x"), "scale": [0.3, 0.3]})["uneven_density"]["count"] >= 1
    assert findings(BOX, UNWRAP, {"id": "t", "kind": "uv_transform", "scale": [0.2, 1]})["stretched_face"]["count"] == 6
    assert findings(BOX, {**UNWRAP, "pick": facing("+x")})["no_uv"]["count"] == 5
    assert not findings(BOX, project("box", size=0.1)).keys() & {"overlapping_islands"}


def test_no_layout_no_figures():
    assert figures(BOX) is None


@settings(max_examples=60, deadline=None)
@given(st.floats(-0.02, 0.02), st.floats(-0.02, 0.02), st.sampled_from([0.0, 3.0, 45.0]), st.sampled_from([1.0, 1e-2, 1e-3]))
def test_pieces_over_each_other_are_told_however_thinly(du, dv, turn, small):
    """Against areas of unions of all triangles by shapely."""
    import shapely
    mesh = mesh_of(BOX, project("box"), {"id": "t", "kind": "uv_transform", "pick": facing("-x"), "move": [0.0, 0.0], "turn": turn},
                   {"id": "m", "kind": "uv_transform", "pick": facing("+z"), "move": [-0.005 * small + du * small, dv * small]}, {"id": "n", "kind": "uv_transform", "pick": facing("+x"), "move": [-0.0049 + du * small * 0.1, 0]})
    _, flat = flat_of(mesh)
    each = np.abs(flat.signed).sum()
    over = each - shapely.area(shapely.union_all(shapely.polygons(flat.places)))
    told = layout_figures(mesh)["overlap"]
    assert (told > 0) == (over > 1e-8 * each), (told, over / each)
    if over > 1e-3 * each:
        assert told == pytest.approx(over / (each - over), rel=0.1, abs=3e-4)


def test_a_copy_whose_model_was_moved_is_looked_at_again():
    half = [BOX, {"id": "cut", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}, UNWRAP, {"id": "mi", "kind": "mirror", "axis": "x"}]
    right = {"faces": {"in_box": [[-1e-9, None, None], [None, None, None]]}}
    found = findings(*half, {"id": "m", "kind": "uv_transform", "pick": right, "move": [0.03, 0.03]})
    assert "overlapping_islands" in found and "turned_island" in found  # the image lies where it lay, by itself and turned over
    assert not {"overlapping_islands", "turned_island"} & findings(*half).keys()
    assert not {"overlapping_islands", "turned_island"} & findings(*half, {"id": "s", "kind": "subdivision", "levels": 2}).keys()
    assert not {"overlapping_islands", "turned_island"} & findings(*half, PACK).keys()


def test_a_cut_through_a_bent_wall_leaves_its_bricks_where_they_were():
    wall = [box((4, 2, 0.2), (8, 1, 1)), project("box", size=0.5), {"id": "b", "kind": "bend", "along": "x", "toward": "+z", "angle": 60}]
    from tests.helpers import together
    tool = {"name": "Tool", "steps": [box((0.3, 9, 9))]}
    cut = {"id": "c", "kind": "boolean", "part": "Tool", "operation": "subtract"}
    d = together({"name": "Wall", "steps": [*wall, cut]}, tool, unit="m")
    mesh = next(p for p in build(d) if p.name == "Wall").mesh
    whole = mesh_of(*wall)

    def front(m):
        return (m.normals @ [0, 0, 1] > 0.7) & (np.abs(m.face_centres[:, 0]) < 0.6)

    for m in (mesh, whole):
        assert Flat.of(m, uvs(m)).face_stretch[front(m)].max() < 1.1
    reach = [np.ptp(uvs(m)[front(m)[m.topology.corner_face], 0]) for m in (mesh, whole)]
    assert reach[0] == pytest.approx(reach[1], rel=1e-6)


def test_what_nobody_laid_out_is_not_missed():
    from tests.helpers import together
    d = together({"name": "Work", "steps": [{"id": "r", "kind": "circle", "radius": 2, "plane": "xz"}, {"id": "e", "kind": "extrude_curve", "depth": 5},
                                            {"id": "cut", "kind": "boolean", "part": "Tool", "operation": "subtract"}]},
                 {"name": "Tool", "steps": [box((1, 30, 1))]})
    part = next(p for p in report(d, build(d))["parts"] if p["name"] == "Work")
    assert "uv" in part and not {f["kind"] for f in part["findings"]} & {"no_uv", "turned_island", "overlapping_islands", "uneven_density"}


def test_lengths_kept_by_a_lathe_count_as_world_size():
    steps = [{"id": "p", "kind": "path", "points": [[1, 0, 0], [1, 2, 0]]}, {"id": "l", "kind": "lathe", "axis": "y", "sides": 8}]
    told = figures(*steps)
    assert told["stretch"]["worst"] == pytest.approx(1, abs=0.03) and told["overlap"] == 0


def test_what_is_not_there_cannot_be_packed():
    with pytest.raises(StepError, match="project or unwrap"):
        mesh_of(BOX, PACK)
    with pytest.raises(StepError, match="leaves no room"):
        mesh_of(BOX, UNWRAP, {**PACK, "resolution": 16, "margin": 10})
    assert figures(BOX, UNWRAP, PACK, {"id": "again", "kind": "unwrap", "pick": ALL})["islands"] == 1


# held -----------------------------------------------------------------------------------------------------------------
def held_after(steps, pack, **more):
    """The pack of a recipe, with its islands held where it set them down."""
    doc = document(*steps, pack, **more)
    part, run = doc.parts[0], Evaluator()
    before, after = (run.run(part, doc.unit, tolerant=True, within=doc, upto=n).cage.mesh for n in (len(steps), len(steps) + 1))
    scale, found = held_places(before, after)
    resolution = pack.get("resolution", 2048)
    return {**pack, "density": scale * resolution / 100, "places": [{"face": h.face, "at": list(h.at), "quarter": h.quarter} for h in found]}, after


@given(BODIES, st.lists(EDITS, max_size=2), st.booleans())
@settings(max_examples=4, deadline=None)
def test_held_islands_stand_where_they_were_packed(body, edits, turn):
    steps = [body, *[{**e, "id": f"e{i}"} for i, e in enumerate(edits)], UNWRAP]
    pack, after = held_after(steps, {**PACK, "turn": turn, "margin": 4})
    again = evaluate(*steps, pack, tolerant=True).cage.mesh
    assert np.allclose(uvs(again), uvs(after), atol=1e-7)
    assert len(pack["places"]) == islands_of(after, uvs(after)).max() + 1


def test_what_changes_upstream_moves_no_held_island():
    def steps(width, height=3, more=()):
        return [box((width, height, 1)), {"id": "s", "kind": "seam", "pick": {"edges": {"sharper_than": 45}}}, *more, UNWRAP]

    pack, after = held_after(steps(2), {**PACK, "density": 2.5})
    low, _ = spread(after)
    loose_low, _ = spread(mesh_of(*steps(2.6, 2.2), {**PACK, "density": 2.5}))
    held = mesh_of(*steps(2.6, 2.2), pack)
    held_low, _ = spread(held)
    assert np.allclose(held_low, low, atol=1e-9) and not np.allclose(loose_low, low, atol=1e-3)
    flat = Flat.of(held, uvs(held))
    assert np.allclose(flat.face_density, 2.5 * 100 / 2048)
    # what is new finds its place beside them
    grown = mesh_of(*steps(2, more=[{"id": "e", "kind": "extrude", "pick": facing("+y"), "depth": 0.4},
                                    {"id": "s2", "kind": "seam", "pick": {"edges": {"sharper_than": 45}}}]), pack)
    assert layout_figures(grown)["overlap"] == 0
    grown_low, _ = spread(grown)
    island = islands_of(grown, uvs(grown))
    there = [(place, f) for place in pack["places"] for f in np.flatnonzero(grown.names.face == int(place["face"], 16))]
    assert len(there) == 5  # the sixth was raised, and its cap is another
    for place, face in there:
        assert np.allclose(grown_low[island[face]], place["at"], atol=1e-9)
    assert mesh_of(*steps(2), {"id": "p0", "kind": "pack"}, {**PACK, "hold": {"faces": "all"}}).topology.face_count == 6  # all held, none to pack
    with pytest.raises(InvalidDocument, match="give density a number"):
        mesh_of(*steps(2), {**pack, "density": "fit"})


# several parts on one square ---------------------------------------------------------------------------------------------
@given(st.lists(st.floats(0.01, 100), min_size=1, max_size=12))
def test_portions_fill_the_square_by_size_and_apart(sizes):
    import shapely
    found = portions(np.array(sizes))
    boxes = [shapely.box(x, y, x + w, y + h) for x, y, w, h in found]
    assert np.allclose([b.area for b in boxes], np.array(sizes) / sum(sizes))
    assert np.isclose(shapely.union_all(boxes).area, 1) and shapely.union_all(boxes).bounds == pytest.approx((0, 0, 1, 1))


@given(BODIES, st.tuples(st.floats(0, 0.6), st.floats(0, 0.6), st.floats(0.2, 0.4), st.floats(0.2, 0.4)), st.booleans())
@settings(max_examples=10, deadline=None)
def test_islands_keep_to_their_area_of_the_square(body, area, turn):
    area = [round(a, 3) for a in area]
    made = mesh_of(body, UNWRAP, {**PACK, "area": area, "margin": 4, "turn": turn})
    uv = uvs(made)
    half = 2 / 2048
    assert (uv.min(axis=0) >= np.array(area[:2]) + half - 1e-9).all() and (uv.max(axis=0) <= np.array(area[:2]) + area[2:] - half + 1e-9).all()
    assert layout_figures(made)["overlap"] == 0
    for wrong in ([0.5, 0, 0.6, 1], [0, 0, 0, 1]):
        with pytest.raises(InvalidDocument, match="within the square"):
            mesh_of(body, UNWRAP, {**PACK, "area": wrong})


def test_parts_share_one_square_at_one_density():
    parts = [{"name": n, "id": n, "steps": [{**body, "id": "body"}, UNWRAP, *more]} for n, body, more in (
        ("one", box((1, 2, 1)), [{**PACK, "places": [], "density": 1}]), ("two", CYLINDER, []), ("three", TORUS, [{"id": "r", "kind": "subdivision", "levels": 1}]))]
    doc = Document.model_validate({"format": "rhytonic", "version": 1, "unit": "m", "parts": parts})
    found = share_square(doc, doc.parts, Evaluator(), 1024, 4)
    assert [p.step for p in found] == ["pack", None, None] and len({p.density for p in found}) == 1
    for p, part in zip(found, parts):
        pack = {"id": "pack", "kind": "pack", "area": list(p.area), "density": p.density, "resolution": 1024, "margin": 4}
        part["steps"] = [*part["steps"][:2], pack]
    import shapely
    doc = Document.model_validate({"format": "rhytonic", "version": 1, "unit": "m", "parts": parts})
    flats = [Flat.of(m, uvs(m)) for m in (Evaluator().run(p, "m", within=doc).surface.mesh for p in doc.parts)]
    shapes = [shapely.union_all(shapely.polygons(f.places)) for f in flats]
    for i, shape in enumerate(shapes):
        assert np.allclose(flats[i].face_density[flats[i].face_areas > 0].mean() * 10.24, found[0].density, rtol=0.02)
        for other in shapes[i + 1:]:
            assert shape.distance(other) > 3.9 / 1024
    bare = Document.model_validate({"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "Post", "steps": [box()]}]})
    with pytest.raises(StepError, match="Post is not laid out yet"):
        share_square(bare, bare.parts, Evaluator(), 1024, 4)


# pins -----------------------------------------------------------------------------------------------------------------
BUMPY = [{"id": "s", "kind": "plane", "size": [1, 1], "segments": [8, 8]}, {"id": "n", "kind": "noise", "pick": {"vertices": "all"}, "amount": 0.05, "size": 0.8, "seed": 2}]


@pytest.mark.parametrize("method", ["isometric", "conformal"])
def test_what_is_pinned_stays_and_the_rest_goes_round_it(method):
    before = [*BUMPY, {**UNWRAP, "id": "first"}, {"id": "m", "kind": "uv_transform", "turn": 30, "scale": [0.5, 0.5], "move": [0.2, 0.1]}]
    pins = {"vertices": {"in_box": [[0.35, None, 0.35], [None, None, None]]}}
    was, again = mesh_of(*before), evaluate(*before, {**UNWRAP, "method": method, "pins": pins})
    mesh = again.surface.mesh
    held = (mesh.points[:, 0] > 0.35) & (mesh.points[:, 2] > 0.35)
    mine = held[mesh.topology.corners]
    assert mine.sum() >= 4 and np.allclose(uvs(mesh)[mine], uvs(was)[mine], atol=1e-12)
    told = layout_figures(mesh)
    assert told["turned"] == 0 and told["overlap"] == 0 and told["islands"] == 1
    assert told["density"]["mean"] == pytest.approx(layout_figures(was)["density"]["mean"], rel=0.03)
    assert "pins" not in str(again.results[-1].state.remarks)


def test_pins_that_cannot_stay_are_told():
    flat = [*BUMPY, {**UNWRAP, "id": "first"}]
    one = evaluate(*flat, {"id": "m", "kind": "uv_transform", "move": [0.3, 0]}, {**UNWRAP, "pins": {"vertices": {"nearest": [0, 0, 0]}}})
    assert "1 of the pins could not stay" in one.results[-1].state.remarks[0].text
    over = [*flat, {"id": "m", "kind": "uv_transform", "flip": "u"}]  # round pins that lie turned over all would
    told = evaluate(*over, {**UNWRAP, "pins": {"vertices": {"in_box": [[0.2, None, None], [None, None, None]]}}})
    assert "pins could not stay" in told.results[-1].state.remarks[0].text and layout_figures(told.surface.mesh)["turned"] == 0
    with pytest.raises(StepError, match="no place on the square yet"):
        mesh_of(*BUMPY, {**UNWRAP, "pins": {"vertices": "all"}})


@given(BODIES, st.lists(EDITS, max_size=2), st.integers(0, 1000))
@settings(max_examples=6, deadline=None)
def test_round_any_pins_nothing_turns_over(body, edits, seed):
    steps = [body, *[{**e, "id": f"e{i}"} for i, e in enumerate(edits)], {**UNWRAP, "id": "first"}, {**PACK, "id": "p"}]
    mesh = evaluate(*steps, tolerant=True).surface.mesh
    chosen = np.random.default_rng(seed).choice(mesh.topology.vertex_count, min(6, mesh.topology.vertex_count), replace=False)
    run = evaluate(*steps, {**UNWRAP, "pins": {"vertices": {"ids": hex_of(mesh.names.vertex[chosen])}}}, tolerant=True)
    assert run.results[-1].error is None
    made = run.surface.mesh
    told = layout_figures(made)
    assert told["turned"] == 0
    away = np.abs(uvs(made) - uvs(mesh)).max(axis=1)[np.isin(made.topology.corners, chosen)]
    assert (away.max() < 1e-6) == ("pins could not stay" not in str(run.results[-1].state.remarks))

"""Patterns drawn, and surfaces raised by them."""

import hashlib
import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from rhytonic.core.errors import InvalidFile, StepError
from rhytonic.core.files.companions import Beside
from rhytonic.core.mesh.measure import measure
from rhytonic.core.pattern.draw import BadPattern, Sources, as_png, drawn
from rhytonic.core.pattern.pattern import Pattern
from rhytonic.core.picture.grey import grey_of
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.evaluate import Evaluator
from tests.helpers import assert_sound, box, facing, png, together

NOTHING = Sources(lambda digest: np.zeros((1, 1), np.float32), lambda layer: np.zeros((0, 2, 2)))


def pattern(*layers, size=(10, 10), resolution=20, **more):
    return {"id": "p1", "name": "Ridges", "size": list(size), "resolution": resolution, "layers": list(layers), **more}


def grey(*layers, sources=NOTHING, **more):
    return drawn(Pattern.model_validate(pattern(*layers, **more)), 0.01, sources)


# shapes ---------------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(("layer", "share"), [
    ({"shape": "rect", "at": [2, 3], "size": [4, 5]}, 0.2), ({"shape": "rect", "at": [2, 3], "size": [4, 5], "turn": 30}, 0.2),
    ({"shape": "circle", "at": [5, 5], "radius": 3}, np.pi * 9 / 100), ({"shape": "round_rect", "at": [1, 1], "size": [6, 4], "corner": 1}, (24 - (4 - np.pi)) / 100),
    ({"shape": "polygon", "points": [[1, 1], [9, 1], [5, 9]]}, 0.32), ({"shape": "stripes", "pitch": 2, "width": 0.6}, 0.3),
    ({"shape": "stripes", "pitch": 2, "width": 0.6, "turn": 90}, 0.3), ({"shape": "grid", "pitch": 2.5, "width": 0.5}, 1 - 0.8**2),
    ({"shape": "dots", "pitch": 2, "radius": 0.5}, np.pi * 0.25 / 4), ({"shape": "stripes", "pitch": 1, "width": 0.5, "at": [0, 0], "size": [5, 4]}, 0.1),
    ({"shape": "rect"}, 1.0), ({"shape": "rect", "at": [5, 6]}, 0.2), ({"shape": "circle", "at": [5, 5], "size": [6, 8]}, np.pi * 9 / 100),
    ({"shape": "rect", "at": [2, 3], "size": [4, 5], "soft": 0.8}, 0.2), ({"shape": "circle", "at": [5, 5], "radius": 3, "soft": 1}, np.pi * (9 + 1 / 12) / 100)])
def test_shapes_cover_what_they_should(layer, share):
    """Areas of plane figures, common mensuration, no source."""
    assert grey(layer).mean() == pytest.approx(share, abs=0.003)


def test_where_shapes_lie():
    g = grey({"shape": "rect", "at": [1, 2], "size": [3, 1]})
    rows, columns = np.nonzero(g > 0.5)
    assert (columns.min(), columns.max()) == (20, 79) and (rows.min(), rows.max()) == (140, 159)  # v = 2 … 3 of 10 from below


def test_knurl_and_tread_stand_in_rows():
    g = grey({"shape": "knurl", "pitch": 2 * np.sqrt(2)}, size=(8, 8), resolution=10)
    assert g.max() > 0.94 and g.min() < 0.05 and g.mean() == pytest.approx(1 / 3, abs=0.02)  # pyramids: a third of their box
    assert np.abs(g[:40, :40] - g[40:, 40:]).max() < 1e-6  # a pitch apart it repeats
    t = grey({"shape": "tread", "pitch": 2, "width": 0.4}, size=(8, 8), resolution=20)
    assert 0.05 < t.mean() < 0.3 and np.abs(t[:40, :40] - t[:40, 40:80]).max() > 0.5 and np.abs(t[:40, :40] - t[:40, 80:120]).max() < 1e-6


def test_text_fills_its_height_and_reads_from_the_left():
    g = grey({"shape": "text", "text": "7 Ebb", "at": [1, 4], "size": [8, 2]})
    rows, columns = np.nonzero(g > 0.5)
    assert columns.min() >= 19 and columns.max() <= 181 and rows.min() >= 79 and rows.max() <= 121
    assert rows.max() - rows.min() > 30
    assert g[:, 20:50].sum() > 50  # the 7 stands at the left


def test_layers_lie_over_each_other():
    base = {"shape": "rect", "at": [0, 0], "size": [10, 10], "height": 0.5}
    spot = {"shape": "rect", "at": [4, 4], "size": [2, 2]}
    middle = np.s_[95:105, 95:105]
    for blend, height, expected in (("max", 0.3, 0.5), ("max", 0.8, 0.8), ("min", 0.3, 0.3), ("min", 0.8, 0.5), ("add", 0.3, 0.8), ("add", 0.9, 1.0), ("set", 0.2, 0.2)):
        g = grey(base, {**spot, "height": height, "blend": blend})
        assert np.allclose(g[middle], expected, atol=1e-6), (blend, height) and np.allclose(g[5:20, 5:20], 0.5)
    clipped = grey({**spot, "height": 0}, {"shape": "stripes", "pitch": 1, "width": 0.5, "clip": 0})
    assert clipped[:70].max() == 0 and clipped.mean() == pytest.approx(0.02, abs=0.002)


def test_large_patterns_are_drawn_row_by_row_all_the_same(monkeypatch):
    from rhytonic.core.pattern import draw
    layers = [{"shape": "knurl", "pitch": 2}, {"shape": "text", "text": "Quay", "at": [1, 3], "size": [7, 3], "turn": 20, "blend": "set"},
              {"shape": "stripes", "pitch": 1, "width": 0.4, "clip": 1, "blend": "add"}]
    whole = grey(*layers)
    monkeypatch.setattr(draw, "_AT_ONCE", 1700)
    assert np.array_equal(grey(*layers), whole)


def test_a_pattern_that_cannot_be():
    for bad, said in (({"shape": "stripes", "pitch": 1}, "needs width"), ({"shape": "text"}, "needs text"), ({"shape": "circle"}, "needs radius"), ({"shape": "rect", "size": [1, 1], "clip": 0}, "does not lie below")):
        with pytest.raises(InvalidFile, match=said):
            together(patterns=[pattern(bad)])
    with pytest.raises(BadPattern, match=r"at most 8192 a side: up to 819\.2 pixels"):
        grey(resolution=1000)


def test_sixteen_bits_go_out_and_come_in():
    g = grey({"shape": "stripes", "pitch": 2, "width": 1, "height": 0.3}, {"shape": "rect", "size": [1, 1], "height": 1.0, "blend": "set"})
    data = as_png(g)
    read = np.asarray(Image.open(io.BytesIO(data)))
    assert read.dtype == np.uint16 and read[-5, 5] == 65535 and read[5, 5] == round(0.3 * 65535)
    assert np.abs(grey_of(data) - g).max() < 1 / 65535


# relief ---------------------------------------------------------------------------------------------------------------
SHEET = [{"id": "s", "kind": "plane", "size": [10, 10], "segments": [4, 4]}, {"id": "u", "kind": "project", "how": "plane", "axis": "y", "size": 10},
         {"id": "m", "kind": "uv_transform", "move": [0.5, 0.5], "about": [0, 0]}]
RIDGES = pattern({"shape": "stripes", "pitch": 2, "width": 0.8})


def built(*steps, patterns=(RIDGES,), evaluator=None, **more):
    d = together({"name": "Pad", "steps": list(steps)}, patterns=list(patterns), **more)
    return build(d, evaluator=evaluator)[0].mesh


def relief(**more):
    return {"id": "r", "kind": "relief", "pattern": "Ridges", "height": 0.5, "levels": 6, **more}


def volume_under(mesh):
    p = mesh.points[mesh.topology.corners.reshape(-1, 4)]
    flat = p[..., [0, 2]]
    area = np.abs(np.cross(flat[:, 1] - flat[:, 0], flat[:, 2] - flat[:, 0]))
    return float((area * p[..., 1].mean(axis=1)).sum())


def test_stripes_raise_area_times_height_times_duty():
    mesh = built(*SHEET, relief())
    assert_sound(mesh)
    assert volume_under(mesh) == pytest.approx(0.1 * 0.1 * 0.005 * 0.4, rel=0.01)
    assert mesh.points[:, 1].max() == pytest.approx(0.005) and mesh.points[:, 1].min() == 0


def test_the_middle_stays_and_blur_keeps_the_volume():
    whole = volume_under(built(*SHEET, relief()))
    sunk = built(*SHEET, relief(middle=0.25))
    assert sunk.points[:, 1].min() == pytest.approx(-0.25 * 0.005) and sunk.points[:, 1].max() == pytest.approx(0.75 * 0.005)
    soft = built(*SHEET, relief(blur=0.6))
    assert volume_under(soft) == pytest.approx(whole, rel=0.02) and soft.points[np.abs(soft.points[:, 0]) < 0.03, 1].max() < 0.0045


def test_a_pad_stays_closed_over_the_borders_of_its_islands():
    mesh = built(box((10, 3, 6), (4, 2, 3)), {"id": "u", "kind": "unwrap"}, relief(levels=3))
    m = measure(mesh)
    assert m.closed and m.manifold and m.volume > 0 and np.isfinite(mesh.points).all()
    assert_sound(mesh)


def test_only_picked_faces_are_raised_along_their_own_normal():
    mesh = built(box((10, 3, 6), (4, 2, 3)), {"id": "u", "kind": "unwrap"}, relief(levels=3, pick=facing("+y")))
    assert np.abs(mesh.points[:, [0, 2]]).max(axis=0) == pytest.approx([0.05, 0.03]) and mesh.points[:, 1].max() == pytest.approx(0.035)


def test_a_picture_does_as_a_pattern(tmp_path):
    data = as_png(drawn(Pattern.model_validate(RIDGES), 0.01, NOTHING))
    (tmp_path / "ridges.png").write_bytes(data)
    find = Beside(tmp_path, grey_of)
    by_pattern = built(*SHEET, relief())
    for name in ("ridges.png", hashlib.sha256(data).hexdigest()):
        step = {**relief(), "picture": name}
        del step["pattern"]
        mesh = built(*SHEET, step, evaluator=Evaluator(pictures=find))
        assert np.abs(mesh.points - by_pattern.points).max() < 1e-7
    with pytest.raises(StepError, match=r"no picture 'other\.png'"):
        built(*SHEET, {**step, "picture": "other.png"}, evaluator=Evaluator(pictures=find))


def test_a_picture_tells_when_the_pieces_it_was_painted_on_have_moved():
    from rhytonic.core.recipe.meanings import with_meanings
    grey_sheet = Evaluator(pictures=lambda name: np.zeros((4, 4), np.float32))
    steps = [box((10, 3, 6)), {"id": "u", "kind": "unwrap"}, {"id": "r", "kind": "relief", "picture": "ab" * 32, "height": 0.2}]

    def notes(part, evaluator=grey_sheet):
        d = together({"name": "Pad", "steps": part})
        return evaluator.run(d.parts[0], d.unit, within=d).results[-1].notes

    d = together({"name": "Pad", "steps": steps})
    stored = with_meanings(d.parts[0], grey_sheet.run(d.parts[0], d.unit, within=d)).steps[-1].model_dump(exclude_none=True)
    assert len(stored["painted"]) == 16 and notes([*steps[:2], stored]) == ()
    cut = {"id": "l", "kind": "insert_loop", "through": {"nearest": [5, 1.5, 3]}}
    assert notes([steps[0], steps[1], cut, stored]) == ()  # finer faces lie where they lay
    moved = notes([*steps[:2], {"id": "m", "kind": "uv_transform", "move": [0.1, 0]}, stored])
    assert len(moved) == 1 and "ababababab" in moved[0] and "painted" in moved[0]
    assert len(notes([box((10, 5, 6)), steps[1], stored])) == 1


def test_why_it_cannot_be():
    with pytest.raises(StepError, match="project or unwrap"):
        built(SHEET[0], relief())
    with pytest.raises(StepError, match="no pattern 'Knobs'; patterns are 'Ridges'"):
        built(*SHEET, relief(pattern="Knobs"))
    with pytest.raises(InvalidFile, match="a pattern or a picture"):
        built(*SHEET, {"id": "r", "kind": "relief", "height": 1})


def test_a_pattern_changed_is_seen_though_everything_is_remembered():
    keep = Evaluator()
    one = built(*SHEET, relief(levels=3), evaluator=keep)
    other = built(*SHEET, relief(levels=3), patterns=[{**RIDGES, "layers": [{"shape": "rect", "size": [5, 10]}]}], evaluator=keep)
    again = built(*SHEET, relief(levels=3), evaluator=keep)
    assert np.array_equal(one.points, again.points) and not np.array_equal(one.points, other.points)


def test_a_layer_follows_the_islands_of_its_own_part():
    rim = pattern({"shape": "island", "part": "Pad", "pick": facing("+y"), "inset": 0.5})
    mesh = built(box((10, 3, 6), (5, 1, 3)), {"id": "u", "kind": "project", "how": "box", "size": 10, "pick": facing("+y")},
                 {"id": "m", "kind": "uv_transform", "move": [0.5, 0.5], "about": [0, 0], "pick": facing("+y")}, relief(levels=4, pick=facing("+y")), patterns=[rim])
    high = mesh.points[mesh.points[:, 1] > 0.0349]
    assert np.abs(high[:, [0, 2]]).max(axis=0) == pytest.approx([0.045, 0.025], abs=0.0021)


LETTER = pattern({"shape": "text", "text": "F", "at": [3, 2], "size": [4, 6]}, resolution=10)


#: of the sheet's points at four levels
STEP = 0.1 / 64


def heights(mesh, mirrored=1.0):
    """Heights over a grid of places, as a person in front sees them."""
    return {(round(x * mirrored / STEP), round(z / STEP)): y for x, y, z in mesh.points.tolist()}


@pytest.mark.parametrize("readable", [[], ["p1"], ["Ridges"]])
def test_a_mirrored_twin_has_a_readable_mark(readable):
    d = together({"name": "Pad", "id": "pad", "steps": [*SHEET, relief(levels=4)]}, {"name": "Twin", "of": "pad", "mirrored": "x", "readable": readable}, patterns=[LETTER])
    pad, twin = (p.mesh for p in build(d))
    seen = heights(pad) if readable else heights(pad, -1.0)
    there = heights(twin)
    assert seen.keys() == there.keys() and max(abs(seen[k] - there[k]) for k in seen) < 1e-6
    if readable:
        assert max(abs(a - there[k]) for k, a in heights(pad, -1.0).items()) > 0.004


@pytest.mark.parametrize("readable", [[], ["Ridges"]])
def test_the_image_of_a_mirror_reads_right_where_asked(readable):
    steps = [*SHEET, {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "translate": [8, 0, 0]},
             {"id": "mi", "kind": "mirror", "axis": "x", "readable": readable}, relief(levels=4)]
    mesh = built(*steps, patterns=[LETTER])
    right, left = ({(round((abs(x) - 0.08) * s / STEP), round(z / STEP)): y for x, y, z in mesh.points.tolist() if x * side > 0} for side, s in ((1, 1), (-1, -1 if readable else 1)))
    assert right.keys() == left.keys() and max(abs(right[k] - left[k]) for k in right) < 1e-6
    assert max(right.values()) > 0.004


@settings(max_examples=20, deadline=None)
@given(st.sampled_from([box((3, 2, 4), (2, 1, 2)), {"id": "b", "kind": "cylinder", "radius": 2, "height": 3, "sides": 9}, {"id": "b", "kind": "sphere", "radius": 2, "sides": 8, "rings": 6}]),
       st.sampled_from(["dots", "knurl", "stripes", "tread"]), st.floats(-0.2, 0.2), st.floats(0, 1), st.integers(0, 2), st.booleans())
def test_a_relief_leaves_a_closed_body_closed(body, shape, height, middle, levels, smooth):
    layer = {"shape": shape, "pitch": 1.5, "width": 0.4, "radius": 0.4}
    steps = [body, {"id": "u", "kind": "unwrap"}, *([{"id": "sm", "kind": "subdivision", "levels": 1}] if smooth else []),
             relief(height=height, middle=middle, levels=levels)]
    mesh = built(*steps, patterns=[pattern(layer, resolution=10)])
    m = measure(mesh)
    assert m.closed and m.manifold and m.volume > 0 and np.isfinite(mesh.points).all()


def test_pictures_of_any_kind_become_greys():
    ramp = np.tile(np.arange(256, dtype=np.uint8), (4, 1))
    assert np.allclose(grey_of(png(Image.fromarray(ramp))), ramp / 255, atol=1e-6)
    assert np.allclose(grey_of(png(Image.fromarray(np.stack([ramp] * 3, axis=2)))), ramp / 255, atol=1e-5)
    deep = np.tile(np.arange(0, 65536, 257, dtype=np.uint16), (4, 1))
    assert np.allclose(grey_of(png(Image.fromarray(deep))), deep / 65535, atol=1e-6)

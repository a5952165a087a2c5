"""Clearance of moving parts against trigonometry and plain distances (by hand, no source needed but school geometry)."""

import json
import math

import pytest
from scipy.optimize import brentq

from rhytonic.cli.__main__ import main
from tests.helpers import box


def told(tmp_path, capsys, *parts, part="Lid", against=None, steps=90, unit="cm"):
    file = tmp_path / "job.rhy.json"
    file.write_text(json.dumps({"format": "rhytonic", "version": 1, "unit": unit, "parts": list(parts)}))
    more = ["--against", against] if against else []
    assert main(["clearance", str(file), "--part", part, "--steps", str(steps), *more]) == 0
    return json.loads(capsys.readouterr().out)


def part(name, size, **more):
    return {"name": name, "steps": [box(size)], **more}


def test_a_slide_between_two_boxes_leaves_the_distance_between_them(tmp_path, capsys):
    """A drawer of 10 goes 4 to the right; a post stands 7 beyond it: 3 is left, at the end."""
    found = told(tmp_path, capsys, part("Drawer", (10, 10, 10), joint={"kind": "slide", "axis": [1, 0, 0], "to": 4}),
                 part("Post", (2, 10, 2), placement={"translate": [13, 0, 0]}), part="Drawer")
    assert found["least"] == pytest.approx(3) and found["at"] == pytest.approx(4) and found["touches_at"] is None


def test_a_slide_touches_where_the_gap_is_used_up(tmp_path, capsys):
    found = told(tmp_path, capsys, part("Drawer", (10, 10, 10), joint={"kind": "slide", "axis": [1, 0, 0], "to": 40}),
                 part("Post", (2, 10, 2), placement={"translate": [13, 0, 0]}), part="Drawer", steps=7)
    assert found["least"] == 0 and found["touches_at"] == pytest.approx(7, abs=1e-6)


def test_a_door_swings_against_a_wall(tmp_path, capsys):
    """A door 40 wide and 2 thick, hung at the middle of its left edge; a wall's face is 30 away from the hinge.

    Its far corner on the front, at (40, 1) from the hinge, reaches 40·sin θ + cos θ towards the wall; it touches at 30.
    """
    angle = math.degrees(brentq(lambda t: 40 * math.sin(t) + math.cos(t) - 30, 0, 1.4))
    door = part("Door", (40, 80, 2), joint={"kind": "turn", "at": [-20, 0, 0], "axis": [0, -1, 0], "to": 90})
    wall = part("Wall", (120, 100, 10), placement={"translate": [0, -10, 35]})
    found = told(tmp_path, capsys, door, wall, part="Door", steps=11)
    assert found["least"] == 0 and found["touches_at"] == pytest.approx(angle, abs=1e-5)
    assert found["where"][2] == pytest.approx(30, abs=1e-4)


def test_a_lid_stops_before_it_touches(tmp_path, capsys):
    """The same door over 40° leaves 30 − 40·sin 40° − cos 40°."""
    door = part("Door", (40, 80, 2), joint={"kind": "turn", "at": [-20, 0, 0], "axis": [0, -1, 0], "to": 40})
    wall = part("Wall", (120, 100, 10), placement={"translate": [0, -10, 35]})
    found = told(tmp_path, capsys, door, wall, part="Door", steps=4)
    t = math.radians(40)
    assert found["least"] == pytest.approx(30 - 40 * math.sin(t) - math.cos(t), abs=1e-9)
    assert found["at"] == pytest.approx(40) and found["touches_at"] is None


def test_only_what_is_asked_for_is_looked_at(tmp_path, capsys):
    drawer = part("Drawer", (10, 10, 10), joint={"kind": "slide", "axis": [1, 0, 0], "to": 4})
    near, far = (part(n, (2, 10, 2), placement={"translate": [x, 0, 0]}) for n, x in (("Near", 11), ("Far", 16)))
    both = told(tmp_path, capsys, drawer, near, far, part="Drawer")
    one = told(tmp_path, capsys, drawer, near, far, part="Drawer", against="Far")
    assert (both["least"], one["least"]) == (pytest.approx(1), pytest.approx(6))

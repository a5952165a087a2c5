"""Parts that need each other, through the API: what follows a trial, what a linked copy tells, what cannot be."""

import pytest

from tests.api.conftest import BOX, part, points

CUT = {"id": "cut", "kind": "boolean", "part": "Peg", "operation": "subtract"}
PEG = {"id": "peg", "kind": "box", "size": [4, 40, 4]}


@pytest.fixture
def hood(api):
    return api.new(part(BOX, CUT, name="Hood"), part(PEG, name="Peg", placement={"translate": [0, -5, 0]}),
                    {"name": "Hood 2", "of": "Hood"}, part(BOX, name="Free"))


def test_parts_that_follow_a_trial_come_along(api, hood):
    """A cutter that is moved by hand: the part it cuts and that one's linked copy are sent as they would be, nothing else."""
    wide = {"kind": "transform", "scale": [2, 1, 1], "pick": {"faces": "all"}}
    told = api.packed(f"/api/builds/{hood['id']}/preview", {"revision": hood["revision"], "part": "part2", "step": wide})
    assert set(told["others"]) == {"part1", "part3"}
    inside = points(told["others"]["part1"]["cage"])
    inside = inside[abs(inside[:, 2]) < 0.021]  # the hole's corners; the hood is 30 deep
    assert inside[:, 0].max() == pytest.approx(0.04) and inside[:, 0].min() == pytest.approx(-0.04)
    assert api.packed(f"/api/builds/{hood['id']}/preview", {"revision": hood["revision"], "part": "part4", "step": wide})["others"] == {}


def test_a_linked_copy_tells_why_it_cannot_be_had(api):
    build = api.new(part(BOX, {**CUT, "part": "Nobody"}, name="Hood"), {"name": "Hood 2", "of": "Hood"}, {"name": "Lost", "of": "Gone"})
    hood, copy, lost = build["parts"]
    assert "there is no part 'Nobody'" in hood["steps"][1]["error"]
    assert "Hood" in copy["error"] and "Gone" in lost["error"]


def test_a_linked_copy_takes_no_steps(api, hood):
    told = api.change(hood, {"op": "add", "path": "/parts/2/steps", "value": [BOX]}, status=422)
    assert "linked copy has no steps" in told["message"]


def test_needs_are_stored_by_id(api, hood):
    document = api.get(f"/api/builds/{hood['id']}")["document"]
    assert document["parts"][0]["steps"][1]["part"] == "part2" and document["parts"][2]["of"] == "part1"


def test_parts_that_a_file_sends_faces_into_are_made(api):
    """As the command line does: the file names the lid only where it is split off."""
    lift = {"id": "lift", "kind": "split_off", "into": "Lid", "pick": {"faces": {"facing": "+y"}}}
    build = api.new(part(BOX, lift, name="Chest", placement={"translate": [0, 3, 0]}))
    chest, lid = build["document"]["parts"]
    assert (lid["name"], lid["placement"], lid["steps"][0]["step"]) == ("Lid", chest["placement"], "lift")
    assert [p["faces"] for p in build["parts"]] == [5, 1]


@pytest.mark.parametrize("first", [{"kind": "from_part", "part": ["Chest"], "step": {}}, {"kind": "from_part"}, ["from_part"], None])
def test_a_file_with_nonsense_where_a_part_begins_is_refused(api, first):
    lift = {"id": ["lift"], "kind": "split_off", "into": "Lid", "pick": {"faces": {"facing": "+y"}}}
    document = {"format": "rhytonic", "version": 1, "parts": [{"name": "Chest", "id": 7, "steps": [BOX, lift]}, {"name": "Cover", "steps": [first]}]}
    assert "part" in api.post("/api/builds", {"name": "Chest", "document": document}, 422)["message"]

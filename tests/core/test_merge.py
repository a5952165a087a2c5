"""Three-way merges of builds: what one window did, on what another has done meanwhile."""

import copy

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhytonic.core.recipe.three_way import Conflict, merge

BUILD = {"name": "Quay", "parts": [{"id": "a", "name": "Post", "steps": [{"id": "s1", "kind": "box", "size": [1, 2, 3]}, {"id": "s2", "kind": "flip"}]},
                                   {"id": "b", "name": "Rail", "steps": [{"id": "s1", "kind": "plane"}]}]}


def changed(*does):
    out = copy.deepcopy(BUILD)
    for do in does:
        do(out)
    return out


def size(value):
    return lambda d: d["parts"][0]["steps"][0].update(size=value)


def rename(value):
    return lambda d: d["parts"][1].update(name=value)


def insert(at, id):
    return lambda d: d["parts"][0]["steps"].insert(at, {"id": id, "kind": "flip"})


def remove(part):
    return lambda d: d["parts"].pop(part)


def ids(document):
    return [s["id"] for s in document["parts"][0]["steps"]]


def test_changes_of_different_things_are_both_there():
    assert merge(BUILD, changed(size([4, 2, 3])), changed(rename("Bar"))) == changed(size([4, 2, 3]), rename("Bar"))
    assert merge(BUILD, changed(insert(1, "mine")), changed(size([9, 9, 9]))) == changed(size([9, 9, 9]), insert(1, "mine"))


def test_two_steps_put_in_at_one_place_both_stay():
    out = merge(BUILD, changed(insert(2, "mine")), changed(insert(2, "theirs")))
    assert sorted(ids(out)) == ["mine", "s1", "s2", "theirs"] and ids(out)[:2] == ["s1", "s2"]


def test_an_index_that_moved_meanwhile_leads_to_the_same_step():
    first = changed(insert(1, "theirs"))
    assert ids(merge(changed(insert(2, "mine")), BUILD, changed(insert(2, "mine"), insert(1, "theirs")))) == ids(first)


def test_what_both_gave_another_value_is_told_with_its_place():
    with pytest.raises(Conflict) as told:
        merge(BUILD, changed(size([4, 2, 3])), changed(size([5, 2, 3])))
    assert told.value.path == ("parts", "a", "steps", "s1", "size")
    with pytest.raises(Conflict) as told:
        merge(BUILD, changed(remove(1)), changed(rename("Bar")))
    assert told.value.path == ("parts", "b")


def test_the_same_done_twice_is_done_once():
    assert merge(BUILD, changed(remove(1)), changed(remove(1))) == changed(remove(1))


values = st.integers(0, 2)
items = st.lists(st.fixed_dictionaries({"id": st.sampled_from("abcdef"), "v": values}), max_size=5, unique_by=lambda i: i["id"])
documents = st.fixed_dictionaries({"steps": items}, optional={"x": values, "y": values})


@given(documents, documents, documents)
def test_a_merge_takes_over_what_one_side_changed(base, mine, theirs):
    """Whatever only one side changed is as that side has it; and a change of one side alone is that side."""
    assert merge(base, mine, base) == mine and merge(base, base, theirs) == theirs
    try:
        out = merge(base, mine, theirs)
    except Conflict:
        return
    sides = [{i["id"]: i["v"] for i in d["steps"]} for d in (base, mine, theirs, out)]
    for id in "abcdef":
        b, m, t, o = (side.get(id) for side in sides)
        assert o == (t if m == b else m)
    assert len({i["id"] for i in out["steps"]}) == len(out["steps"])


def order(*wanted):
    def do(d):
        steps = {s["id"]: s for s in d["parts"][0]["steps"]}
        d["parts"][0]["steps"] = [steps[i] for i in wanted]
    return do


def test_two_orders_of_the_same_steps_are_a_conflict_and_one_is_taken():
    three = changed(insert(2, "s3"))
    mine, theirs = copy.deepcopy(three), copy.deepcopy(three)
    order("s2", "s1", "s3")(mine)
    order("s1", "s3", "s2")(theirs)
    with pytest.raises(Conflict):
        merge(three, mine, theirs)
    assert ids(merge(three, mine, three)) == ids(merge(three, three, mine)) == ids(merge(three, mine, mine)) == ["s2", "s1", "s3"]
    new = copy.deepcopy(three)
    insert(1, "s4")(new)
    assert ids(merge(three, mine, new)) == ids(merge(three, new, mine)) == ["s2", "s1", "s4", "s3"]

import json

import pytest

from rhytonic.core.errors import InvalidDocument, InvalidFile
from rhytonic.core.files import json_text
from rhytonic.core.recipe.document import dump, load, schema
from rhytonic.core.recipe.registry import KINDS

BOX = {"id": "body", "kind": "box", "size": [1, 1, 1]}


def text(*steps, part=None, **top):
    return json.dumps({"format": "rhytonic", "version": 1, "parts": [{"name": "Housing", "steps": list(steps), **(part or {})}],
                       **top})


def extrude(**more):
    return {"id": "sink", "kind": "extrude", "pick": {"faces": "all"}, "depth": 1, **more}


@pytest.mark.parametrize("given, place", [
    (text({**BOX, "sze": 1}), "part 'Housing', step 'body', sze: unknown key"),
    (text({**BOX, "size": [1, -2, 1]}), "step 'body', size.1: must be more than 0 (given -2)"),
    (text({**BOX, "size": [1, 2]}), "size.2: is required"),
    (text({**BOX, "size": [1, 2, True]}), "size.2: must be a number"),
    (text({**BOX, "segments": [1, 1, 0]}), "segments.2: must be at least 1"),
    (text({**BOX, "segments": [1, 1.5, 1]}), "segments.1: must be a whole number"),
    (text({"kind": "box"}), "step 'box1', size: is required"),
    (text({"kind": "bx"}), "unknown kind 'bx'; known are box,"),
    (text({"size": [1, 1, 1]}), "a step needs a kind"),
    (text(BOX, extrude(depth="deep")), "step 'sink', depth: must be a number (given 'deep')"),
    (text(BOX, extrude(along="up")), "along: must be 'average' or 'surface' (given 'up'), or must be '+x'"),
    (text(BOX, extrude(along=[0, 0, 0])), "a direction cannot be [0, 0, 0]"),
    (text(BOX, extrude(pick={"faces": {"facing": "y"}})), "pick.faces.facing: must be '+x'"),
    (text(BOX, extrude(pick={"sides": "all"})), 'a pick is {"faces": RULE}'),
    (text(BOX, extrude(pick={"faces": {"near": 1}})), "not a pick rule; known are all, ids"),
    (text(BOX, extrude(pick={"faces": {"facing": "+y", "in": 3}})), "pick.faces.facing.in: unknown key"),
    (text(BOX, BOX), "only the first step may be a base form"),
    (text(extrude()), "the first step is a extrude; it must be a base form: box, cylinder, plane"),
    (text(BOX, extrude(id="body")), "two steps have the id 'body'"),
    (text(BOX, part={"mark": "nowhere"}), "the mark stands below 'nowhere', which is no step"),
    (text(BOX, part={"placement": {"scale": [1, 0, 1]}}), "placement.scale.1: must be more than 0"),
    (text({**BOX, "v": 9}), "of version 9; this program knows up to 1"),
    (text(BOX, unit="km"), "unit: must be 'cm', 'mm', 'm', 'in' or 'ft' (given 'km')"),
    (text(BOX, version=2), "version: must be 1 (given 2)"),
    (text(BOX, colour="red"), "colour: unknown key"),
    (text({**BOX, "id": "a\nb"}), "id"),
    ("[]", "a build file is a JSON object"),
])
def test_what_breaks_the_contract_is_told_with_its_place(given, place):
    with pytest.raises(InvalidDocument) as caught:
        load(given)
    assert place in str(caught.value)


@pytest.mark.parametrize("word", ["NaN", "Infinity", "-Infinity", "1e999"])
def test_numbers_must_be_finite_wherever_they_stand(word):
    for step, field in ((f'{{"kind":"box","size":[1,{word},1]}}', "size.1"),
                        (f'{{"kind":"plane","size":[1,1]}},{{"id":"e","kind":"extrude","pick":{{"faces":"all"}},"depth":{word}}}',
                         "depth"),
                        (f'{{"kind":"plane","size":[1,1]}},{{"id":"e","kind":"extrude","pick":{{"faces":{{"facing":[0,{word},0]}}}},'
                         f'"depth":1}}', "facing.1")):
        with pytest.raises(InvalidDocument, match=rf"{field}: .*(finite|number|at least|at most)"):
            load(f'{{"format":"rhytonic","version":1,"parts":[{{"name":"P","steps":[{step}]}}]}}')


@pytest.mark.parametrize("given, told", [
    ("{", "not JSON: .* line 1, column 2"), ('{"format": "rhytonic", "format": "rhytonic"}', "stands twice"),
    ("[" * 100 + "]" * 100, "nested deeper"), ("[" * 100_000, "nested deeper|not JSON"), (b"\xff\xfe{", "not UTF-8|not JSON"),
    ("1" * 5000, "not JSON")])
def test_text_from_outside_is_bounded(given, told):
    with pytest.raises(InvalidFile, match=told):
        load(given)


def test_missing_ids_are_kind_and_number_and_are_written_on_save():
    d = load(text({"kind": "box", "size": [1, 1, 1]}, {**extrude(), "id": "extrude1"},
                  {"kind": "extrude", "pick": {"faces": "all"}, "depth": 1}))
    assert [s.id for s in d.parts[0].steps] == ["box1", "extrude1", "extrude2"]
    assert [s["id"] for s in dump(d)["parts"][0]["steps"]] == ["box1", "extrude1", "extrude2"]


def test_any_one_line_id_will_do():
    assert load(text({**BOX, "id": "gehäuse 1/2"})).parts[0].steps[0].id == "gehäuse 1/2"


def test_saving_keeps_what_was_given_and_no_more():
    d = load(text(BOX, extrude(**{"as": "each", "segments": 2, "label": "Pane"}), part={"mark": "body"}))
    out = dump(d)
    assert out["unit"] == "cm" and out["parts"][0]["mark"] == "body"
    assert out["parts"][0]["steps"][1] == {"id": "sink", "kind": "extrude", "pick": {"faces": "all"}, "depth": 1.0,
                                           "as": "each", "segments": 2, "label": "Pane"}
    assert load(json.dumps(out)) == d


def test_the_schema_speaks_of_every_kind():
    told = schema()
    assert told["$schema"].startswith("https://json-schema.org/")
    body = json.dumps(told)
    assert all(f'"{word}"' in body for word in KINDS)
    assert told["additionalProperties"] is False


def test_the_schema_judges_as_the_reader_does():
    import jsonschema
    check = jsonschema.Draft202012Validator(schema())
    check.check_schema(schema())
    assert check.is_valid(json.loads(text(BOX, extrude(along=[0, 1, 0]))))
    for bad in (text({**BOX, "sze": 1}), text({**BOX, "size": [1, -1, 1]}), text(BOX, extrude(along="up")),
                text(BOX, extrude(pick={"faces": {"facing": "y"}})), text({"kind": "bx"}), text(BOX, unit="km")):
        assert not check.is_valid(json.loads(bad)), bad


def test_a_file_larger_than_is_taken_is_refused_before_it_is_parsed(monkeypatch):
    monkeypatch.setattr(json_text, "LARGEST_FILE", 30)
    monkeypatch.setattr(json_text.json, "loads", lambda *_, **__: pytest.fail("parsed"))
    with pytest.raises(InvalidFile, match="larger than"):
        json_text.read_json(b" " * 31)

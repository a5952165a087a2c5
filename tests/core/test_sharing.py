"""A document read anew keeps the steps that say the same."""

import copy

from rhytonic.core.recipe.document import read_document
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.sharing import sharing
from tests.helpers import box

PLAIN = {"format": "rhytonic", "version": 1, "unit": "cm", "parts": [
    {"name": "One", "id": "one", "steps": [box((1, 2, 3)), {"id": "x", "kind": "extrude", "depth": 1, "pick": {"faces": {"facing": "+y"}}}]},
    {"name": "Two", "id": "two", "steps": [box((4, 4, 4))]}]}


def test_only_what_changed_is_new():
    before = read_document(PLAIN)
    changed = copy.deepcopy(PLAIN)
    changed["parts"][0]["steps"][1]["depth"] = 2
    after = sharing(read_document(changed), before)
    assert after.parts[0].steps[0] is before.parts[0].steps[0]
    assert after.parts[0].steps[1] is not before.parts[0].steps[1] and after.parts[0].steps[1].depth == 2
    assert after.parts[1].steps[0] is before.parts[1].steps[0]
    assert after == read_document(changed)


def test_what_is_said_and_what_is_left_unsaid_are_told_apart():
    """A default that is written down stays written down: it is in the file."""
    said = copy.deepcopy(PLAIN)
    said["parts"][0]["steps"][1]["segments"] = 1
    before, after = read_document(PLAIN), sharing(read_document(said), read_document(PLAIN))
    assert after.parts[0].steps[1].model_fields_set != before.parts[0].steps[1].model_fields_set


def test_nothing_to_share_is_left_as_it_is():
    document = read_document(PLAIN)
    assert sharing(document, None) is document and sharing(document, document) is document
    other = read_document({**PLAIN, "parts": [{"name": "New", "id": "new", "steps": [box((9, 9, 9))]}]})
    assert sharing(other, document) is other


def test_results_are_the_same_either_way():
    before = read_document(PLAIN)
    shared = sharing(read_document(PLAIN), before)
    evaluator = Evaluator()
    one, two = (evaluator.run(d.parts[0], d.unit, within=d).surface for d in (before, shared))
    assert one.key == two.key

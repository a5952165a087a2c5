"""Where stood what is no longer there."""

import numpy as np

from rhytonic.core.recipe.evaluate import Evaluator
from tests.core.test_numbers_later import by_hand, settled
from tests.helpers import box, document, mesh_of

BODY = box((4, 3, 2), [2, 1, 1])


def test_places_follow_the_form_that_lost_them():
    """A face at the end of a box is deleted above the step that moved it: it is told where the end is by now."""
    mesh = mesh_of(BODY)
    end = int(np.argmax(mesh.face_centres[:, 0]))
    steps = settled(BODY, {"id": "x", "kind": "extrude", "depth": 1, "pick": by_hand(mesh, "faces", [end])})
    gone = {"id": "d", "kind": "delete", "pick": by_hand(mesh, "faces", [end])}
    wide = {**steps[0], "size": [10, 3, 2]}
    part = document(wide, gone, steps[1]).parts[0]
    e = Evaluator().run(part, "m", tolerant=True)
    assert "the one face made by 'body' that was picked is no longer there" in e.results[2].error.message
    [corners] = e.lost_places("x")
    assert np.allclose(sorted(corners.tolist()), sorted([[5, y, z] for y in (0, 3) for z in (-1, 1)]), atol=1e-4)
    assert e.lost_places("d") == [] and e.lost_places("nothing") == []


def test_what_is_found_has_no_old_place():
    mesh = mesh_of(BODY)
    steps = settled(BODY, {"id": "x", "kind": "extrude", "depth": 1, "pick": by_hand(mesh, "faces", [0])})
    assert Evaluator().run(document(*steps).parts[0], "m").lost_places("x") == []

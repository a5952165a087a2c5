"""A recipe that ends in a reflection gives what a mirrored linked copy shows: the way copies with recipes of their own are mirrored."""

import numpy as np
import pytest

from rhytonic.core.recipe.built import build
from tests.helpers import together

ALL = {"not": {"ids": []}}
BOX = {"id": "f", "kind": "box", "size": [4, 3, 2], "segments": [2, 2, 2]}
LEAN = {"id": "l", "kind": "transform", "pick": {"faces": {"facing": "+y"}}, "translate": [1, 0.5, 0.2]}
CUT = {"id": "c", "kind": "delete", "pick": {"faces": {"facing": "+x"}}}
INSET = {"id": "i", "kind": "inset", "pick": {"faces": {"facing": "+z"}}, "width": 0.3}
SMOOTH = {"id": "s", "kind": "subdivision", "levels": 2}
THICK = {"id": "t", "kind": "shell", "thickness": 0.2}
SOFT = {"id": "f", "kind": "path", "points": [{"at": [0, 0, 0], "out": [1, 0.5, 0]}, {"at": [3, 2, 0], "corner": "soft", "in": [-1, -1, 0.5], "out": [1, 1, -0.5]},
                                              {"at": [6, 2, 1], "corner": "fillet", "size": 0.4}, [6, 5, 0]]}


@pytest.mark.parametrize("axis", "xyz")
@pytest.mark.parametrize(("cage", "live"), [([BOX, LEAN], [SMOOTH]), ([BOX, CUT], [THICK]), ([BOX, LEAN, INSET, CUT], [THICK, SMOOTH]), ([SOFT], [])])
def test_the_reflected_recipe_is_the_mirrored_linked_copy(axis, cage, live):
    curve = cage[0]["kind"] == "path"
    reflect = [{"id": "r", "kind": "transform", "pick": {"vertices" if curve else "faces": ALL}, "about": "origin",
                "scale": [-1 if a == axis else 1 for a in "xyz"]}]
    if not curve:
        reflect.append({"id": "o", "kind": "flip", "pick": {"faces": ALL}})
    d = together({"id": "a", "name": "A", "steps": [*cage, *live]}, {"name": "L", "of": "a", "mirrored": axis}, {"name": "O", "steps": [*cage, *reflect, *live]})
    _, linked, own = build(d)
    if curve:
        assert np.allclose(linked.curve.divided.points, own.curve.divided.points, atol=1e-12)
        return
    # smooth faces may be numbered from another corner
    assert np.allclose(*(p.mesh.points[np.lexsort(np.round(p.mesh.points, 9).T)] for p in (linked, own)), atol=1e-12)
    assert np.allclose(np.sort(linked.mesh.normals @ [1, 2, 3]), np.sort(own.mesh.normals @ [1, 2, 3]), atol=1e-9)

"""Round forms that start on from +x: the same form turned, by the same names."""

import numpy as np
import pytest

from rhytonic.core.lineage.origins import in_round
from tests.helpers import mesh_of

FORMS = [{"kind": "cylinder", "radius": 2, "height": 3, "sides": 8}, {"kind": "cylinder", "radius": 2, "height": 3, "sides": 8, "cap": "quads"},
         {"kind": "cylinder", "radius": 2, "height": 3, "sides": 7, "radius_top": 0}, {"kind": "sphere", "radius": 2, "sides": 6},
         {"kind": "torus", "radius": 2, "tube_radius": 0.5, "sides": 8}, {"kind": "tube", "radius": 2, "inner_radius": 1, "height": 1, "sides": 8}]


@pytest.mark.parametrize("form", FORMS, ids=lambda f: f["kind"])
def test_a_form_that_starts_on_is_the_form_turned(form):
    plain, turned = mesh_of({"id": "f", **form}), mesh_of({"id": "f", **form, "start_angle": 22.5})
    angle = np.radians(22.5)
    about_y = np.array([[np.cos(angle), 0, np.sin(angle)], [0, 1, 0], [-np.sin(angle), 0, np.cos(angle)]])
    assert np.allclose(turned.points, plain.points @ about_y.T, atol=1e-12)
    assert np.array_equal(plain.names.vertex, turned.names.vertex) and np.array_equal(plain.names.face, turned.names.face)
    # where picks come from is told without it
    assert np.allclose(in_round(turned.points, 22.5), in_round(plain.points), atol=1e-12)


def test_half_a_side_turns_a_flat_to_the_front():
    mesh = mesh_of({"id": "f", "kind": "cylinder", "radius": 2, "height": 3, "sides": 8, "start_angle": 22.5})
    assert (np.abs(mesh.normals - [0, 0, 1]).max(axis=1) < 1e-12).sum() == 1
    plain = mesh_of({"id": "f", "kind": "cylinder", "radius": 2, "height": 3, "sides": 8})
    assert not (np.abs(plain.normals - [0, 0, 1]).max(axis=1) < 1e-12).any()

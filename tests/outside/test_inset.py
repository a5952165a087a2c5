"""Inset of a convex polygon: A − P·w + w²·Σ cot(θᵢ/2).

Source: J. Steiner, Gesammelte Werke II, 'Über parallele Flächen', 1840 (inner parallel bodies of polygons)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.helpers import mesh_of


@pytest.mark.parametrize("n", [3, 5, 6, 16])
@pytest.mark.parametrize("width", [0.05, 0.3])
def test_regular_polygons(n, width):
    m = mesh_of({"id": "c", "kind": "cylinder", "radius": 1, "height": 1, "sides": n},
                {"id": "i", "kind": "inset", "pick": {"faces": {"facing": "+y"}}, "width": width})
    area, around = n / 2 * np.sin(2 * np.pi / n), n * 2 * np.sin(np.pi / n)
    angle = np.pi * (n - 2) / n
    expected = area - around * width + width**2 * n / np.tan(angle / 2)
    top = np.flatnonzero((m.normals[:, 1] > 0.9) & (m.topology.sides == n))
    inner = min(np.linalg.norm(m.area_vectors[top], axis=1))
    assert inner == pytest.approx(expected, rel=1e-9)


@given(st.floats(0.3, 3), st.floats(0.3, 3), st.floats(-0.4, 0.4), st.floats(0.01, 0.1))
def test_any_quad(a, b, slant, width):
    """A box sheared along x has a parallelogram on its side: P and the angles by hand."""
    lean = {"id": "t", "kind": "transform", "pick": {"vertices": {"in_box": [[None, b, None], [None, None, None]]}}, "translate": [slant, 0, 0]}
    m = mesh_of({"id": "b", "kind": "box", "size": [a, b, 1]}, lean,
                {"id": "i", "kind": "inset", "pick": {"faces": {"facing": "+z"}}, "width": width})
    side = np.hypot(slant, b)
    theta = np.arctan2(b, slant)
    expected = a * b - 2 * (a + side) * width + 2 * width**2 * (1 / np.tan(theta / 2) + np.tan(theta / 2))
    front = np.flatnonzero((m.normals[:, 2] > 0.9) & np.isclose(m.face_centres[:, 2], 0.5))
    centre = m.face_centres[front]
    middle = front[np.argmin(np.linalg.norm(centre - centre.mean(axis=0), axis=1))]
    assert np.linalg.norm(m.area_vectors[middle]) == pytest.approx(expected, rel=1e-7)

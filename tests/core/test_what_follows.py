"""What is laid round a part follows it as it grows; what runs along its edges runs where it says, whoever works where."""

import numpy as np
import pytest

from rhytonic.core.recipe.built import build
from tests.helpers import box, mesh_of, together

PULL = {"id": "l", "kind": "lattice", "divisions": [1, 1, 1], "offsets": {"1,1,1": [0.5, 0.5, 0.5]}}


def test_a_lattice_without_a_box_follows_a_part_that_grows():
    """The corner that is pulled is the part's own corner, whatever its size."""
    for size in ((2, 2, 2), (5, 3, 1)):
        rest, pulled = mesh_of(box(size)), mesh_of(box(size), PULL)
        corner = np.argmax(rest.points.sum(axis=1))
        assert np.allclose(pulled.points[corner] - rest.points[corner], 0.5)
    kept = {**PULL, "box": [[-1, 0, -1], [1, 2, 1]]}
    rest, pulled = mesh_of(box((5, 3, 1))), mesh_of(box((5, 3, 1)), kept)
    corner = np.argmax(rest.points.sum(axis=1))
    assert np.allclose(pulled.points[corner], rest.points[corner])  # it stays where it stood, and keeps what is beyond


def cushion(mark=None, **more):
    """A soft box, its top rim as a curve."""
    pad = {"name": "Pad", "steps": [{"id": "b", "kind": "box", "size": [4, 1, 4], "segments": [2, 1, 2]},
                                    {"id": "soft", "kind": "subdivision", "levels": 2}], **({"mark": mark} if mark else {})}
    rim = {"name": "Rim", "steps": [{"id": "e", "kind": "edge_curve", "part": "Pad", "pick": {"edges": {"outline_of": {"facing": "+y"}}}, **more}]}
    return together(pad, rim)


@pytest.mark.parametrize("mark", [None, "b", "soft"])
def test_piping_does_not_go_by_where_somebody_works(mark):
    curve = build(cushion(mark), only="Rim")[0].curve
    assert len(curve.points) == 8 and np.allclose(curve.points[:, 1], 0.01)
    assert np.allclose(np.abs(curve.points[:, [0, 2]]).max(axis=1), 0.02)


@pytest.mark.parametrize("mark", [None, "b", "soft"])
def test_on_the_surface_it_runs_as_those_edges_do_there(mark):
    document = cushion(mark, on="surface")
    curve = build(document, only="Rim")[0].curve
    surface = build(document, only="Pad")[0].mesh
    assert len(curve.points) == 8 * 4 and curve.wires.closed.all()
    far = np.abs(curve.points[:, None] - surface.points[None]).max(axis=2).min(axis=1)
    assert far.max() < 1e-12  # on vertices of the surface
    on = np.argmin(np.abs(curve.points[:, None] - surface.points[None]).max(axis=2), axis=1)
    assert (surface.topology.find_edges(on, np.roll(on, -1)) >= 0).all()  # along its edges
    assert np.abs(curve.points[:, 1]).max() < 0.01 and np.abs(curve.points[:, 0]).max() < 0.02  # inside the cage
    again = build(document, only="Rim")[0].curve
    assert (again.ids == curve.ids).all()


def test_after_a_step_or_on_the_surface_but_not_both():
    from rhytonic.core.errors import InvalidDocument

    with pytest.raises(InvalidDocument, match="after a step or on the surface"):
        cushion(None, on="surface", step="b")

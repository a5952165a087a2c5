"""Mirror, shell and to_ball."""

import numpy as np
import pytest

from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.mesh.measure import measure
from tests.helpers import ALL, assert_sound, box, evaluate, extrude, facing, made, mesh_of

CUBE = box((2, 2, 2))


def mirror(axis="x", **more):
    return {"id": "m", "kind": "mirror", "axis": axis, **more}


HALF = {"id": "cut", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}


@pytest.mark.parametrize("steps, volume", [
    ([CUBE, mirror()], 8), ([CUBE, mirror(at=-1)], 16), ([CUBE, mirror("y", at=0.5, keep="-")], 4),
    ([CUBE, mirror("z", keep="-")], 8), ([CUBE, HALF, extrude(facing("+y"), 1), mirror()], 12)])
def test_volume_is_twice_the_half(steps, volume):
    m = mesh_of(*steps)
    assert_sound(m)
    told = measure(m)
    assert told.closed and told.manifold and told.genus == 0 and told.volume == pytest.approx(volume)


def test_walls_on_the_plane_are_dropped():
    """Extruding a half leaves walls where it meets the plane."""
    e = evaluate(CUBE, HALF, extrude(facing("+y"), 1), mirror())
    cage, t = e.cage.mesh, e.surface.mesh.topology
    assert (np.abs(cage.face_centres[:, 0]) < 1e-12).sum() == 1 and t.face_count == 2 * (cage.topology.face_count - 1)


def test_points_that_drifted_off_snap_back():
    drift = {"id": "t", "kind": "transform", "pick": {"vertices": {"in_box": [[None, 1.9, None], [0.1, None, None]]}}, "translate": [4e-6, 0, 0]}
    m = mesh_of(CUBE, HALF, drift, mirror())
    assert measure(m).closed and (m.points[:, 0] == 0).sum() == 4
    over = mesh_of(CUBE, HALF, {**drift, "translate": [-4e-6, 0, 0]}, mirror())
    assert measure(over).closed and over.topology is m.topology
    open_ = mesh_of(CUBE, HALF, drift, mirror(weld=0.0))
    assert not measure(open_).closed


def test_a_surface_knows_what_it_came_from():
    e = evaluate(CUBE, HALF, mirror(), {"id": "s", "kind": "subdivision", "levels": 1})
    source, surface = e.cage_face_of_surface, e.surface.mesh
    cage = e.cage.mesh
    far = surface.face_centres[:, 0] < -0.9
    assert np.allclose(cage.face_centres[source[far]][:, 0], 1)  # the far left came from the right
    assert set(source.tolist()) == set(range(cage.topology.face_count))


def test_images_stand_for_what_they_are_images_of():
    e = evaluate(CUBE, HALF, mirror(), {"id": "s", "kind": "subdivision", "levels": 1})
    cage, surface = e.cage.mesh, e.surface.mesh
    of = e.cage_vertex_of_surface
    corner = np.flatnonzero((of >= 0) & (surface.points[:, 0] < -0.1))
    assert corner.size == 4 and np.allclose(cage.points[of[corner]][:, 0], 1)
    lines, edge = e.surface_lines
    left = (surface.points[lines][:, :, 0] < -0.1).all(axis=1)
    assert (edge[left] >= 0).all() and set(cage.edge_centres[edge[left]][:, 0].round(6)) == {0.5, 1.0}


def test_without_clip_both_sides_stay():
    m = mesh_of(CUBE, {"id": "t", "kind": "transform", "pick": ALL, "translate": [0.5, 0, 0]}, mirror(clip=False))
    assert measure(m).shells == 2 and m.points[:, 0].min() == -1.5


def test_mirror_errors_and_roles():
    with pytest.raises(StepError, match="nothing lies on the"):
        mesh_of(CUBE, mirror(at=5))
    e = evaluate(CUBE, mirror(), {"id": "d", "kind": "delete", "pick": made("m", "image")})
    assert e.results[2].state.picked.elements.size == 5
    assert {s.step.kind for s in evaluate(CUBE, mirror()).results} == {"box", "mirror"} and evaluate(CUBE, mirror()).part.cage_end() == 1


def test_names_and_cage_stay():
    e = evaluate(CUBE, mirror())
    mine = set(e.cage.mesh.names.face.tolist())
    assert len(mine & set(e.surface.mesh.names.face.tolist())) == 1  # the one face not cut stays itself
    assert set(e.cage.mesh.names.vertex[e.cage.mesh.points[:, 0] > 0].tolist()) <= set(e.surface.mesh.names.vertex.tolist())


@pytest.mark.parametrize("thickness, inner, outer", [(0.1, 8, 2.2**3), (-0.1, 1.8**3, 8)])
def test_shell_of_a_closed_surface(thickness, inner, outer):
    m = mesh_of(CUBE, {"id": "h", "kind": "shell", "thickness": thickness})
    told = measure(m)
    assert told.shells == 2 and told.closed and told.volume == pytest.approx(outer - inner)


def test_shell_of_an_open_one_and_its_roles():
    open_ = [CUBE, {"id": "d", "kind": "delete", "pick": facing("+y")}]
    for thickness, volume in ((-0.1, 8 - 1.8 * 1.8 * 1.9), (0.1, 2.2 * 2.2 * 2.1 - 8)):
        m = mesh_of(*open_, {"id": "h", "kind": "shell", "thickness": thickness})
        assert_sound(m)
        assert measure(m).closed and measure(m).volume == pytest.approx(volume)
        for role, count in (("outer", 5), ("inner", 5), ("rim", 4)):
            e = evaluate(*open_, {"id": "h", "kind": "shell", "thickness": thickness}, {"id": "x", "kind": "delete", "pick": made("h", role)})
            assert e.results[3].state.picked.elements.size == count
    bare = mesh_of(*open_, {"id": "h", "kind": "shell", "thickness": -0.1, "rim": False})
    assert measure(bare).shells == 2 and not measure(bare).closed
    with pytest.raises(InvalidDocument, match="needs a thickness"):
        mesh_of(CUBE, {"id": "h", "kind": "shell", "thickness": 0})


def test_to_ball():
    ball = mesh_of(box((2, 2, 2), (3, 3, 3)), {"id": "b", "kind": "to_ball"})
    away = np.linalg.norm(ball.points - ball.points.mean(axis=0), axis=1)
    assert np.ptp(away) < 1e-12
    half = mesh_of(box((2, 2, 2)), {"id": "b", "kind": "to_ball", "amount": 0})
    assert np.allclose(half.points, mesh_of(box((2, 2, 2))).points)
    part = mesh_of(box((2, 2, 2), (2, 2, 2)), {"id": "b", "kind": "to_ball", "axis": "y", "range": [1, 2]})
    assert (part.points[:, 1] == 0).sum() == 9
    with pytest.raises(StepError, match="no vertex lies in this range"):
        mesh_of(CUBE, {"id": "b", "kind": "to_ball", "range": [5, 6]})


def test_any_edit_with_a_rule_may_be_live():
    e = evaluate(CUBE, {"id": "b", "kind": "bevel", "pick": {"edges": {"sharper_than": 30}}, "width": 0.1, "live": True},
                 {"id": "s", "kind": "subdivision", "levels": 1})
    assert e.part.cage_end() == 1 and e.surface.mesh.topology.face_count == 26 * 4 - 8

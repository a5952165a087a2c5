"""Homographies, lens distortion and scale by two points against what their formulas say."""

import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from rhytonic.core.picture.decode import BadPicture, decode
from rhytonic.core.picture.straighten import distorted, homography, straighten, through, undistorted
from tests.helpers import png

SQUARE = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])


def test_a_homography_is_recovered_from_four_corners():
    """R. Hartley, A. Zisserman, Multiple View Geometry, 2nd ed. 2004, section 2.3: it has eight degrees of freedom, four
    points in general position fix them."""
    known = np.array([[1.2, 0.1, 3.0], [-0.2, 0.9, -1.0], [0.05, -0.08, 1.0]])
    assert homography(SQUARE, through(known, SQUARE)) == pytest.approx(known, abs=1e-12)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.floats(-0.2, 0.2), st.floats(-0.2, 0.2)), min_size=4, max_size=4))
def test_a_homography_takes_each_corner_to_its_own_and_lines_to_lines(moves):
    target = SQUARE + np.array(moves)
    h = homography(SQUARE, target)
    assert through(h, SQUARE) == pytest.approx(target, abs=1e-9)
    a, b, c = through(h, np.array([[0.1, 0.2], [0.4, 0.35], [0.7, 0.5]]))  # in line before
    u, v = b - a, c - a
    assert abs(u[0] * v[1] - u[1] * v[0]) < 1e-9


def test_corners_in_line_have_no_homography():
    with pytest.raises(BadPicture, match="in line"):
        homography(SQUARE, np.array([[0, 0], [1, 1], [2, 2], [0, 1.0]]))


@settings(max_examples=80, deadline=None)
@given(st.floats(-0.14, 0.5), st.lists(st.tuples(st.floats(-0.7, 0.7), st.floats(-0.7, 0.7)), min_size=1, max_size=20))
def test_distortion_and_its_inverse_cancel(k, points):
    """D. C. Brown, Photogrammetric Engineering 32(3), 1966: radial terms in even powers of the radius."""
    points = np.array(points)
    assert undistorted(distorted(points, k), k) == pytest.approx(points, abs=1e-10)
    assert distorted(undistorted(points, k), k) == pytest.approx(points, abs=1e-10)


def test_distortion_is_radial_and_grows_with_the_cube():
    p = np.array([[0.3, 0.4]])  # radius 0.5
    assert distorted(p, 0.2) == pytest.approx(p * (1 + 0.2 * 0.25))
    assert distorted(p, 0.0) == pytest.approx(p)


def test_a_picture_of_a_chequered_floor_is_straightened_to_squares():
    """A chequered square of 8 units, drawn as a camera would see it, is straightened by its own corners; its fields then
    are squares of one unit: compared with the board drawn straight."""
    n, cell = 8, 40
    straight = Image.new("RGB", (n * cell, n * cell), "white")
    draw = ImageDraw.Draw(straight)
    for i in range(n):
        for j in range(n):
            if (i + j) % 2:
                draw.rectangle([i * cell, j * cell, (i + 1) * cell - 1, (j + 1) * cell - 1], fill="black")
    # the four corners of the floor as seen: lower left, lower right, upper right, upper left, in pixels of a 640 × 480 picture
    seen = [(60, 430), (600, 400), (430, 120), (200, 100)]
    source = [(0, n * cell), (n * cell, n * cell), (n * cell, 0), (0, 0)]
    back = homography(np.array(seen, float), np.array(source, float))
    picture = straight.transform((640, 480), Image.Transform.PERSPECTIVE, tuple(back.ravel()[:8]), Image.Resampling.BICUBIC,
                                 fillcolor="grey")
    corners = np.array([[x / 640 - 0.5, (480 - y) / 640] for x, y in seen])
    made = straighten(decode(png(picture)), corners, (8.0, 8.0), 0.0)
    assert made.real is not None
    image = Image.open(io.BytesIO(made.data)).convert("RGB")
    unit = made.width / made.real[0]  # pixels in a unit
    values = np.asarray(image, float).mean(axis=2)
    dark = values < 128
    # find the floor: the straightened picture reaches further; its lower left field is dark or light as drawn
    ys, xs = np.nonzero((values < 40) | (values > 215))
    assert made.real[0] >= 8 and len(xs) > 0
    left, top = xs.min(), ys.min()
    agree = []
    for i in range(n):
        for j in range(n):
            x, y = int(left + (i + 0.5) * unit), int(top + (j + 0.5) * unit)
            if y < dark.shape[0] and x < dark.shape[1]:
                agree.append(dark[y, x] == bool((i + j) % 2))
    assert np.mean(agree) > 0.95


def test_the_straight_picture_has_the_scale_of_its_rectangle():
    picture = Image.new("RGB", (400, 300), "white")
    ImageDraw.Draw(picture).rectangle([100, 50, 299, 249], fill="black")  # 200 × 200 pixels
    corners = np.array([[-0.25, 0.125], [0.25, 0.125], [0.25, 0.625], [-0.25, 0.625]])
    made = straighten(decode(png(picture)), corners, (50.0, 50.0), 0.0)
    values = np.asarray(Image.open(io.BytesIO(made.data)).convert("L"))
    black = np.nonzero((values < 128).any(axis=0))[0]
    assert (black.max() - black.min() + 1) / made.width * made.real[0] == pytest.approx(50, rel=0.01)


def test_scale_by_two_points():
    """Two points 120 pixels apart that are 30 units apart in truth: a picture of 400 pixels is 100 units wide (by hand)."""
    width, a, b, real = 7.0, np.array([-1.0, 0.5]), np.array([1.1, 0.5]), 30.0
    by = real / np.linalg.norm(b - a)
    assert width * by == pytest.approx(100.0)


@pytest.mark.parametrize("corners", [
    [[-0.3, 0.1], [0.3, 0.7], [0.3, 0.1], [-0.3, 0.7]],  # crossed
    [[-0.3, 0.7], [0.3, 0.7], [0.3, 0.1], [-0.3, 0.1]]])  # the wrong way round
def test_corners_out_of_order_are_refused_with_the_order(corners):
    picture = decode(png(Image.new("RGB", (200, 200), "white")))
    with pytest.raises(BadPicture, match="lower left, lower right"):
        straighten(picture, np.array(corners), (1.0, 1.0), 0.0)

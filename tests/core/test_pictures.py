"""Pictures from outside: what is read, what is refused, and the outlines traced from them."""

import io

import numpy as np
import pytest
import shapely
from PIL import Image, ImageDraw

from rhytonic.core.brief.tracing import Stroke, Tracing
from rhytonic.core.picture.decode import BadPicture, decode, look_at
from rhytonic.core.picture.trace import EMPTY, paint, to_rings, trace
from tests.helpers import png


def drawn(draw, mode="RGB", size=(400, 400), ground="white"):
    """A picture drawn four times as fine and averaged, as a scan or a render is."""
    image = Image.new(mode, (4 * size[0], 4 * size[1]), ground)
    draw(ImageDraw.Draw(image))
    return decode(png(image.resize(size, Image.Resampling.BOX)))


def disc(d, centre=(200, 200), radius=150, fill="black"):
    x, y, r = (4 * v for v in (*centre, radius))
    d.ellipse([x - r, y - r, x + r - 1, y + r - 1], fill=fill)


def pixels(outline, width=400):
    """An outline in pixels from the lower left."""
    return shapely.transform(outline, lambda p: (p + np.array((0.5, 0))) * width)


# reading --------------------------------------------------------------------------------------------------------------

def test_damaged_pictures_are_refused_with_a_reason():
    whole = png(Image.effect_noise((64, 64), 80))
    with pytest.raises(BadPicture, match="damaged"):
        look_at(whole[:len(whole) // 2])
    with pytest.raises(BadPicture, match="not a picture"):
        look_at(b"these are notes")


def test_a_picture_of_too_many_pixels_is_refused_before_it_is_decoded():
    file = io.BytesIO()
    Image.new("1", (30_000, 30_000)).save(file, "PNG")  # 110 kB, 900 megapixels
    with pytest.raises(BadPicture, match="megapixels"):
        look_at(file.getvalue())


def test_an_animated_picture_is_refused_with_its_frames():
    file = io.BytesIO()
    frames = [Image.new("RGB", (20, 20), c) for c in ("red", "green", "blue")]
    frames[0].save(file, "WEBP", save_all=True, append_images=frames[1:])
    with pytest.raises(BadPicture, match="animated"):
        look_at(file.getvalue())


@pytest.mark.parametrize("orientation, expected", [(1, (60, 40)), (3, (60, 40)), (6, (40, 60)), (8, (40, 60))])
def test_a_picture_turned_by_exif_is_read_as_it_is_seen(orientation, expected):
    image = Image.new("RGB", (60, 40), "white")
    image.paste("black", (0, 0, 10, 10))  # upper left as stored
    exif = Image.Exif()
    exif[0x0112] = orientation
    file = io.BytesIO()
    image.save(file, "JPEG", exif=exif, quality=95)
    about = look_at(file.getvalue())
    assert (about.width, about.height) == expected
    picture = decode(file.getvalue())
    assert picture.size == expected
    corner = {1: (0, 0), 3: (-1, -1), 6: (0, -1), 8: (-1, 0)}[orientation]  # TIFF 6.0, tag 274
    assert picture.colour[corner].max() < 0.2


def test_sixteen_bits_keep_their_greys():
    ramp = np.linspace(0, 65535, 256).astype(np.uint16)[None].repeat(8, axis=0)
    file = io.BytesIO()
    Image.fromarray(ramp).save(file, "PNG")
    picture = decode(file.getvalue())
    assert picture.colour[0, :, 0] == pytest.approx(np.linspace(0, 1, 256), abs=1 / 255)


@pytest.mark.parametrize("mode", ["1", "L", "LA", "P", "RGB", "RGBA", "CMYK"])
def test_every_common_kind_of_picture_is_read(mode):
    image = Image.new("RGB", (30, 20), "white")
    image.paste("black", (10, 5, 20, 20))
    file = io.BytesIO()
    image.convert(mode).save(file, "JPEG" if mode == "CMYK" else "PNG")
    picture = decode(file.getvalue())
    assert picture.size == (30, 20)
    assert picture.colour[10, 15].max() < 0.1 and picture.colour[2, 2].min() > 0.9


def test_a_large_photograph_is_read_at_the_size_that_is_asked_for():
    image = Image.new("RGB", (3000, 2000), "white")
    image.paste("black", (0, 0, 1500, 2000))
    file = io.BytesIO()
    image.save(file, "JPEG", quality=90)
    picture = decode(file.getvalue(), 1000)
    assert max(picture.size) <= 1000 and picture.size[0] / picture.size[1] == pytest.approx(1.5, rel=0.01)
    left, right = picture.colour[:, :picture.size[0] // 2 - 4], picture.colour[:, picture.size[0] // 2 + 4:]
    assert left.max() < 0.1 and right.min() > 0.9


# tracing --------------------------------------------------------------------------------------------------------------

def test_a_disc_is_traced_to_a_tenth_of_a_pixel_on_average():
    o = pixels(trace(drawn(disc), Tracing()))
    r = np.hypot(*(shapely.get_coordinates(o) - 200).T)
    assert r.mean() == pytest.approx(150, abs=0.1) and np.abs(r - 150).max() < 0.3
    assert shapely.area(o) == pytest.approx(np.pi * 150**2, rel=1e-3)


def test_what_touches_the_edge_ends_at_the_edge():
    o = trace(drawn(lambda d: d.rectangle([400, 800, 1199, 1599], fill="black")), Tracing())
    assert shapely.bounds(o) == pytest.approx([-0.25, 0, 0.25, 0.5], abs=1e-3)


def test_transparency_tells_the_outline_where_there_is_some():
    clear = Image.new("RGBA", (100, 50), (255, 255, 255, 0))
    clear.paste((255, 255, 255, 255), (20, 10, 70, 50))  # white on clear white
    o = trace(decode(png(clear)), Tracing())
    assert shapely.bounds(o) == pytest.approx([-0.3, 0, 0.2, 0.4], abs=1e-9)


def test_a_hole_in_a_body_stays_and_one_in_a_line_drawing_is_filled():
    ring = drawn(lambda d: (disc(d), disc(d, radius=60, fill="white")))
    assert len(to_rings(trace(ring, Tracing()))) == 2
    assert len(to_rings(trace(ring, Tracing(holes="fill")))) == 1
    lines = drawn(lambda d: d.rectangle([400, 400, 1200, 1200], outline="black", width=12))
    assert len(to_rings(trace(lines, Tracing()))) == 1
    assert len(to_rings(trace(lines, Tracing(holes="keep")))) == 2


def test_islands_in_holes_are_kept():
    target = drawn(lambda d: (disc(d), disc(d, radius=100, fill="white"), disc(d, radius=50)))
    o = pixels(trace(target, Tracing()))
    assert shapely.area(o) == pytest.approx(np.pi * (150**2 - 100**2 + 50**2), rel=3e-3)


def test_centre_lines_and_specks_are_cleaned_away():
    def sheet(d):
        disc(d)
        d.line([800, 0, 800, 1599], fill="black", width=6)  # a centre line right through
        d.rectangle([40, 40, 60, 60], fill="black")
    cleaned = pixels(trace(drawn(sheet), Tracing()))
    assert shapely.bounds(cleaned) == pytest.approx([50, 50, 350, 350], abs=1)
    kept = pixels(trace(drawn(sheet), Tracing(clean=0)))
    assert shapely.bounds(kept)[3] > 395


def test_the_background_may_be_told():
    picture = drawn(lambda d: (d.rectangle([0, 0, 1599, 1599], fill="navy"), disc(d, fill="white")))
    o = pixels(trace(picture, Tracing(background="#000080")))
    assert shapely.area(o) == pytest.approx(np.pi * 150**2, rel=5e-3)
    inverse = pixels(trace(picture, Tracing(by="background", background="#ffffff")))
    assert shapely.area(inverse) == pytest.approx(400**2 - np.pi * 150**2, rel=5e-3)


def test_a_closely_cropped_house_is_told_from_its_sky():
    """Most of the rim is house: its sides touch both edges, it stands on the lower one."""
    picture = drawn(lambda d: d.polygon([(0, 1599), (0, 500), (800, 0), (1599, 500), (1599, 1599)], fill="black"))
    assert shapely.area(pixels(trace(picture, Tracing()))) == pytest.approx(400 * 275 + 400 * 125 / 2, rel=5e-3)


def test_a_crop_is_all_that_is_looked_at():
    two = drawn(lambda d: (disc(d, (100, 200), 60), disc(d, (300, 200), 60)))
    o = pixels(trace(two, Tracing(), crop=(0.5, 0, 1, 1)))
    assert shapely.bounds(o)[0] > 230


def test_strokes_paint_in_and_out_in_turn():
    base = trace(drawn(disc), Tracing())
    inn = Stroke(paint="in", radius=0.05, points=[(0.0, 0.5), (0.45, 0.5)])
    out = Stroke(paint="out", radius=0.02, points=[(0.45, 0.5)])
    more = trace(drawn(disc), Tracing(strokes=[inn]))
    assert shapely.bounds(more)[2] == pytest.approx(0.5, abs=1e-3)
    assert shapely.area(more) > shapely.area(base)
    less = trace(drawn(disc), Tracing(strokes=[inn, out]))
    # a brush is a polygon of 48 corners: n/2 r² sin(2π/n)
    assert shapely.area(more) - shapely.area(less) == pytest.approx(24 * 0.02**2 * np.sin(np.pi / 24), rel=1e-3)


def test_a_picture_with_nothing_on_it_says_what_would_work():
    with pytest.raises(BadPicture, match="background"):
        trace(decode(png(Image.new("RGB", (50, 50), "white"))), Tracing())


def test_strokes_of_points_that_hardly_differ_are_painted():
    """Found by requests at random: places 1e-300 apart broke the brush."""
    for points in ([(0.0, 0.0), (1e-300, 0.0), (0.0, 1e-300)], [(0.1, 0.1), (0.1, 0.1)]):
        painted = paint(EMPTY, [Stroke(radius=0.1, points=points)])
        assert 0.02 < painted.area < 0.04
    assert paint(EMPTY, [Stroke(radius=1e-300, points=[(0.0, 0.0), (0.0, 1.0)])]).is_empty


def test_a_pale_body_with_a_line_round_it_is_whole_and_a_window_in_it_stays():
    picture = Image.new("RGB", (400, 300), "white")
    draw = ImageDraw.Draw(picture)
    draw.rectangle([60, 40, 340, 260], fill=(245, 241, 232), outline=(40, 40, 40), width=3)
    draw.rectangle([150, 100, 250, 180], fill="white", outline=(40, 40, 40), width=3)
    draw.rectangle([60, 220, 340, 260], fill=(70, 60, 50))
    found = trace(decode(png_of(picture)), Tracing())
    body = 281 * 221 / 400**2
    window = 95 * 75 / 400**2
    assert shapely.area(found) == pytest.approx(body - window, rel=0.01)
    # the background's own colour shut in is a hole, as before, and stays one where it is told to be kept
    kept = trace(decode(png_of(picture)), Tracing(holes="keep"))
    assert shapely.area(kept) < 0.6 * body


def png_of(picture):
    out = io.BytesIO()
    picture.save(out, "PNG")
    return out.getvalue()

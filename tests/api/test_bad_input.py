"""Input from outside is bounded before it is parsed; the server lives."""

import io
import struct
import zlib

import pytest
from PIL import Image

from rhytonic.core.picture.decode import LARGEST_BYTES
from tests.api.conftest import BOX, part, png


def bomb(width, height):
    """A valid PNG header of a huge picture with hardly any data behind it."""
    def chunk(kind, data):
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
    return (b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0))
            + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b""))


@pytest.mark.parametrize("kind, media", [("PNG", "image/png"), ("JPEG", "image/jpeg"), ("WEBP", "image/webp")])
def test_pictures_come_back_as_they_went(api, kind, media):
    data = png(kind=kind)
    told = api.picture(data)
    assert (told["width"], told["height"], told["media_type"]) == (30, 20, media)
    answer = api.http.get(f"/api/pictures/{told['sha256']}")
    assert answer.data == data and answer.mimetype == media and "immutable" in answer.headers["Cache-Control"]
    assert api.picture(data) == told


def test_what_is_no_picture_is_refused(api):
    assert "not a picture" in api.picture(b"hello there", 422)["message"]
    assert "not a picture" in api.picture(b"", 422)["message"]
    gif = io.BytesIO()
    Image.new("RGB", (4, 4)).save(gif, "GIF")
    assert "PNG, JPEG or WebP" in api.picture(gif.getvalue(), 422)["message"]
    assert "damaged" in api.picture(png(400, 400)[:-200], 422)["message"]
    svg = b'<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'
    assert "not a picture" in api.picture(svg, 422)["message"]


def test_too_large_is_refused_before_it_is_decoded(api, monkeypatch):
    def never(*_):
        raise AssertionError("was decoded")
    monkeypatch.setattr(Image.Image, "load", never)
    assert "megapixels" in api.picture(bomb(8000, 5001), 422)["message"]
    assert "megapixels" in api.picture(bomb(60000, 60000), 422)["message"]
    assert "at most 20 MB" in api.picture(b"\x89PNG\r\n\x1a\n" + b"\0" * LARGEST_BYTES, 422)["message"]


def test_a_picture_that_is_not_there(api):
    assert api.get("/api/pictures/" + "0" * 64, 404)["code"] == "not_there"
    assert api.get("/api/pictures/nonsense", 422)["code"] == "bad_request"


@pytest.mark.parametrize("body, status", [
    (b"{", 422), (b'{"name": "x", "name": "y"}', 422), (b'{"name": 3}', 422), (b'{"name": ""}', 422), (b'{"name": "x", "size": 1}', 422),
    (b'{"name": "x", "document": [1]}', 422), (b'{"name": "x", "document": {"format": "rhytonic", "version": 1, "parts": NaN}}', 422),
    (b"[" * 5000, 422), (b"\xff\xfe", 422)])
def test_bodies_that_do_not_fit(api, body, status):
    answer = api.http.post("/api/builds", data=body, content_type="application/json")
    assert answer.status_code == status and answer.get_json()["message"]
    health = api.get("/api/health")
    assert health["ok"] and health["version"] == api.get("/api/openapi.json")["info"]["version"]


def test_a_body_beyond_all_measure(api):
    answer = api.http.post("/api/builds", data=b" " * (33 * 1024 * 1024), content_type="application/json")
    assert answer.status_code == 413 and answer.get_json()["code"]


@pytest.mark.parametrize("word", ["NaN", "1e999", "-Infinity"])
def test_numbers_that_are_not_finite_are_told_with_their_place(api, word):
    build = api.new(part(BOX))
    body = (f'{{"revision": {build["revision"]}, "label": "Size", "key": "{"k" * 20}", "patch": '
            f'[{{"op": "replace", "path": "/parts/0/steps/0/size/1", "value": {word}}}]}}')
    answer = api.http.post(f"/api/builds/{build['id']}/changes", data=body, content_type="application/json")
    told = answer.get_json()
    assert answer.status_code == 422 and (told["step"], told["parameter"]) == ("body", "size.1") and "finite" in told["message"]
    assert api.get(f"/api/builds/{build['id']}")["document"] == build["document"]


@pytest.mark.parametrize("path", ["/api/nothing", "/api/builds/zz/../x", "/api/builds/" + "f" * 16, "/api/builds/nonsense!"])
def test_addresses_that_are_not_there(api, path):
    answer = api.http.get(path)
    assert answer.status_code in (404, 422) and answer.get_json()["code"]


def test_typed_lengths(api):
    assert api.get("/api/length?text=12 cm %2B 3 mm&unit=cm") == {"value": 12.3}
    assert "cannot be read" in api.get("/api/length?text=abc&unit=cm", 422)["message"]
    assert api.get("/api/length?text=1&unit=km", 422)["code"] == "bad_request"
    assert api.get("/api/number?text=3*8") == {"value": 24}
    assert "a plain number is asked for" in api.get("/api/number?text=3 cm", 422)["message"]


def test_every_answer_is_fenced(api):
    headers = api.http.get("/api/builds").headers
    assert headers["X-Content-Type-Options"] == "nosniff" and "default-src 'self'" in headers["Content-Security-Policy"]

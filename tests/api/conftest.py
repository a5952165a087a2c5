import io
import uuid

import msgpack
import numpy as np
import pytest
from PIL import Image

from rhytonic.web.app import create_app

BOX = {"id": "body", "kind": "box", "size": [10, 20, 30]}
TOP = {"faces": {"facing": "+y"}}


class Api:
    """The API as a caller sees it."""

    def __init__(self, app):
        self.app, self.http = app, app.test_client()
        self.http.environ_base["HTTP_X_RHYTONIC"] = "test"

    def get(self, path, status=200):
        answer = self.http.get(path)
        assert answer.status_code == status, answer.get_data(as_text=True)[:500]
        return answer.get_json()

    def post(self, path, body=None, status=200):
        answer = self.http.post(path, json=body)
        assert answer.status_code == status, answer.get_data(as_text=True)[:500]
        return answer.get_json()

    def new(self, *parts, name="Bollard", **document):
        if not parts and not document:
            return self.post("/api/builds", {"name": name}, 201)
        whole = {"format": "rhytonic", "version": 1, "parts": list(parts), **document}
        return self.post("/api/builds", {"name": name, "document": whole}, 201)

    def change(self, build, *patch, status=200, label="Change", **more):
        body = {"revision": build["revision"], "label": label, "key": uuid.uuid4().hex, "patch": list(patch), **more}
        return self.post(f"/api/builds/{build['id']}/changes", body, status)

    def undo(self, build, which="undo", status=200):
        return self.post(f"/api/builds/{build['id']}/{which}", {"revision": build["revision"]}, status)

    def packed(self, path, body=None, status=200):
        answer = self.http.get(path) if body is None else self.http.post(path, json=body)
        assert answer.status_code == status, answer.get_data()[:500]
        return msgpack.unpackb(answer.data) if status == 200 else answer.get_json()

    def mesh(self, build, part=0, **query):
        part_id = build["document"]["parts"][part]["id"]
        return self.packed(f"/api/builds/{build['id']}/parts/{part_id}/mesh")

    def picture(self, data, status=201):
        answer = self.http.post("/api/pictures", data=data, content_type="image/png")
        assert answer.status_code == status, answer.get_data(as_text=True)[:500]
        return answer.get_json()


def part(*steps, name="Bollard", **more):
    return {"name": name, "steps": list(steps), **more}


def points(packet):
    return np.frombuffer(packet["positions"], "<f4").reshape(-1, 3)


def png(width=30, height=20, kind="PNG"):
    out = io.BytesIO()
    Image.new("RGB", (width, height), "#88aacc").save(out, kind)
    return out.getvalue()


@pytest.fixture(scope="session")
def app(database_url):
    return create_app(database_url)


@pytest.fixture
def api(app):
    return Api(app)

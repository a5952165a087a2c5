"""The shelf: basics that ship, things kept from a build, taken in any unit."""

import io

import numpy as np
import pytest
from PIL import Image

from rhytonic.core.files.read import read_model
from tests.helpers import box

SHIPPED = {"coil-spring", "bolt", "bracket", "caster", "disc-wheel", "eye-ring", "hinge", "knob", "lamp-glass", "nut", "ring-handle", "spoked-wheel"}
CHEST = [{"id": "body", "name": "Body", "group": "chest", "placement": {"translate": [10, 0, 0]}, "steps": [box((60, 30, 40))]},
         {"id": "lid", "name": "Lid", "group": "chest", "placement": {"translate": [10, 30, 0]}, "pivot": [0, 0, -20],
          "joint": {"kind": "slide", "axis": [1, 0, 0], "to": 5, "now": 2}, "steps": [box((60, 4, 40))]},
         {"id": "peg", "name": "Peg", "steps": [box((2, 50, 2))]},
         {"id": "hood", "name": "Hood", "steps": [box((9, 9, 9)), {"id": "c", "kind": "boolean", "part": "peg", "operation": "subtract"}]}]
GROUPS = [{"id": "chest", "name": "Chest", "placement": {"translate": [5, 5, 5], "rotate": [0, 90, 0]}}]


def keep(api, build, member, status=201, **more):
    return api.post("/api/stock", {"build": build["id"], "revision": build["revision"], "member": member, **more}, status)


def test_the_basics_ship_with_pictures_and_sizes(api):
    items = {i["id"]: i for i in api.get("/api/stock")["items"] if not i["own"]}
    assert set(items) == SHIPPED
    for item in items.values():
        picture = Image.open(io.BytesIO(api.http.get(f"/api/stock/{item['id']}/picture").get_data()))
        assert picture.size == (160, 160) and len(set(picture.get_flattened_data())) > 20
        assert all(0.002 < s < 1 for s in item["size"]) and item["tags"]


@pytest.mark.parametrize("item", sorted(SHIPPED))
def test_every_basic_is_closed_and_runs(api, item):
    piece = api.get(f"/api/stock/{item}/parts?to=cm")
    build = api.new(*piece["parts"], groups=piece["groups"])
    assert all(s["error"] is None for p in build["parts"] for s in p["steps"])
    from rhytonic.core.mesh.measure import measure
    for _, mesh in read_model(api.http.get(f"/api/builds/{build['id']}/export?format=ply").get_data()).placed():
        told = measure(mesh)
        assert told.closed and told.volume > 0


def test_a_group_is_kept_and_taken_in_another_unit(api):
    build = api.new(*CHEST, groups=GROUPS, unit="cm")
    item = keep(api, build, "g:chest", name="Sea chest", tags=["chest", " wood ", "chest", " "])
    assert item["tags"] == ["chest", "wood"] and item["own"]
    piece = api.get(f"/api/stock/{item['id']}/parts?to=mm")
    assert piece["groups"][0]["placement"] == {"rotate": [0, 90, 0]}
    lid = next(p for p in piece["parts"] if p["name"] == "Lid")
    assert lid["joint"]["to"] == 50 and lid["joint"]["now"] == 20 and lid["pivot"] == [0, 0, -200]
    again = api.new(*piece["parts"], groups=piece["groups"], unit="mm")
    sizes = []
    for b, of in ((build, "&of=chest"), (again, "")):
        meshes = read_model(api.http.get(f"/api/builds/{b['id']}/export?format=ply{of}").get_data()).placed()
        sizes.append(np.ptp(np.concatenate([m.points for _, m in meshes]), axis=0))
    assert np.allclose(*sizes) and np.allclose(sizes[0], item["size"])
    assert api.http.delete(f"/api/stock/{item['id']}").status_code == 204
    api.get(f"/api/stock/{item['id']}/parts", 404)


def test_what_needs_others_says_so(api):
    build = api.new(*CHEST, groups=GROUPS)
    assert "'Hood' needs 'Peg'; put them into one group" in keep(api, build, "p:hood", 422, name="Hood")["message"]
    assert api.http.delete("/api/stock/bolt").status_code == 404

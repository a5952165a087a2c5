from tests.api.conftest import BOX, TOP, part


def names(api):
    return [b["name"] for b in api.get("/api/builds")["builds"]]


def test_a_new_build_is_empty_and_listed_first(api):
    build = api.new(name="Fish handcart")
    assert build["document"]["parts"] == [] and build["document"]["unit"] == "cm" and build["revision"] == 1
    assert names(api)[0] == "Fish handcart"
    assert api.get(f"/api/builds/{build['id']}")["document"] == build["document"]
    assert build["undo"] is None and build["redo"] is None


def test_a_build_from_a_recipe_file_and_back(api):
    build = api.new(part(BOX), name="Sea chest", unit="in")
    assert build["document"]["parts"][0]["id"] == "part1"
    file = api.get(f"/api/builds/{build['id']}/file")
    assert file["name"] == "Sea chest" and file["unit"] == "in" and file["format"] == "rhytonic"
    assert api.new(**{k: v for k, v in file.items() if k not in ("format", "version", "name")}, name="Again")


def test_renaming_is_a_change_like_any_other(api):
    build = api.new(name="Dinghy")
    renamed = api.change(build, {"op": "add", "path": "/name", "value": "Rowing dinghy"}, label="Rename build")
    assert renamed["name"] == "Rowing dinghy" and "Rowing dinghy" in names(api)
    assert api.undo(renamed)["name"] == "Dinghy"


def test_duplicates_get_free_names_and_a_history_of_their_own(api):
    build = api.new(part(BOX), name="Bench")
    first, second = (api.post(f"/api/builds/{build['id']}/duplicate", status=201) for _ in range(2))
    assert (first["name"], second["name"]) == ("Bench copy", "Bench copy 2")
    assert first["document"]["parts"] == build["document"]["parts"] and first["undo"] is None
    api.change(first, {"op": "remove", "path": "/parts/0"})
    assert len(api.get(f"/api/builds/{build['id']}")["document"]["parts"]) == 1


def test_deleting_and_taking_it_back(api):
    build = api.new(name="To go")
    assert api.http.delete(f"/api/builds/{build['id']}").status_code == 204
    assert "To go" not in names(api)
    assert api.get(f"/api/builds/{build['id']}", 404)["code"] == "not_there"
    assert api.post(f"/api/builds/{build['id']}/restore")["name"] == "To go"
    assert "To go" in names(api)


def test_each_step_tells_its_effect(api):
    build = api.new(part(BOX, {"id": "up", "kind": "extrude", "depth": 2, "pick": TOP},
                         {"id": "soft", "kind": "subdivision", "levels": 2}))
    told = build["parts"][0]
    assert [(s["faces_before"], s["faces_after"]) for s in told["steps"]] == [(0, 6), (6, 10), (10, 160)]
    assert told["triangles"] == 320 and told["cage_faces"] == 10 and told["cage_end"] == 2


def test_export(api):
    build = api.new(part(BOX, {"id": "soft", "kind": "subdivision", "levels": 1}), name="Net mender's bench")
    answer = api.http.get(f"/api/builds/{build['id']}/export?format=obj&stage=cage")
    assert answer.status_code == 200 and "Net-mender-s-bench.obj" in answer.headers["Content-Disposition"]
    lines = answer.get_data(as_text=True).splitlines()
    assert sum(line.startswith("f ") for line in lines) == 6
    assert max(float(line.split()[2]) for line in lines if line.startswith("v ")) == 0.2
    assert api.http.get(f"/api/builds/{build['id']}/export?format=glb").data[:4] == b"glTF"
    assert api.get(f"/api/builds/{build['id']}/export?format=doc", 422)["code"] == "bad_request"

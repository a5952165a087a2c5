"""The second build of the demo: what stands on the museum's quay, put together from the examples and from stock."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from . import lantern

EXAMPLES = Path(__file__).resolve().parents[3] / "examples"
#: diameter of the cart's wheels, in centimetres
WHEEL = 56.0

Piece = dict[str, list[dict[str, Any]]]


def example(name: str) -> Piece:
    """Parts and groups of a recipe file beside the source."""
    held = json.loads((EXAMPLES / f"{name}.rhy.json").read_text())
    return {"parts": held["parts"], "groups": held.get("groups", [])}


def grouped(piece: Piece, key: str, name: str, place: tuple[float, float, float]) -> Piece:
    """A piece in a group of its own, standing somewhere; its ids and names unlike those of others. A group that holds all
    of a piece becomes that group."""
    tops = [g for g in piece["groups"] if "group" not in g]
    if len(tops) == 1 and all("group" in p for p in piece["parts"]):
        inside = [{k: v for k, v in m.items() if k != "group"} if m.get("group") == tops[0]["id"] else m
                  for m in (*piece["groups"], *piece["parts"])]
        own = len(piece["groups"])
        piece = {"groups": [g for g in inside[:own] if g["id"] != tops[0]["id"]], "parts": inside[own:]}
    parts = {p.get("id", p["name"]): f"{key}-{n}" for n, p in enumerate(piece["parts"])}
    parts |= {p["name"]: parts[p.get("id", p["name"])] for p in piece["parts"]}
    groups = {g["id"]: f"{key}-{g['id']}" for g in piece["groups"]}

    def named(value: Any) -> Any:
        return [named(v) for v in value] if isinstance(value, list) else parts.get(value, value)

    def step(held: dict[str, Any]) -> dict[str, Any]:
        return {**held, **{k: named(held[k]) for k in ("part", "parts") if k in held}}

    return {
        "groups": [{"id": key, "name": name, "placement": {"translate": list(place)}},
                   *({**g, "id": groups[g["id"]], "name": f"{name}: {g['name'].lower()}",
                      "group": groups.get(g.get("group", ""), key)} for g in piece["groups"])],
        "parts": [{**p, "id": parts[p.get("id", p["name"])], "name": f"{name}: {p['name'].lower()}",
                   "group": groups.get(p.get("group", ""), key), **({"of": named(p["of"])} if "of" in p else {}),
                   **({"steps": [step(s) for s in p["steps"]]} if "steps" in p else {})} for p in piece["parts"]]}


def chest() -> Piece:
    """The sea chest, its lid half open; the bulkhead stays behind."""
    held = example("sea-chest")
    parts = [p for p in held["parts"] if p["name"] != "Bulkhead"]
    return {"parts": [{**p, "joint": {**p["joint"], "now": 55}} if "joint" in p else p for p in parts], "groups": []}


def cart() -> Piece:
    """A handcart without its wheels."""
    def box(id: str, x: float, y: float, z: float) -> dict[str, Any]:
        return {"id": id, "kind": "box", "size": [x, y, z]}

    soft = {"id": "soft", "kind": "bevel", "pick": {"edges": {"sharper_than": 30}}, "width": 0.4}
    inner = {"made_by": "rim", "role": "inner"}
    return {"groups": [], "parts": [
        {"name": "Bed", "placement": {"translate": [0, 30.2, 0]}, "steps": [
            box("body", 110, 24, 60), {"id": "rim", "kind": "inset", "pick": {"faces": {"facing": "+y"}}, "width": 2.5},
            {"id": "hold", "kind": "extrude", "pick": {"faces": inner}, "depth": -21}, soft]},
        {"name": "Axle", "placement": {"translate": [8, WHEEL / 2, 0], "rotate": [90, 0, 0]}, "steps": [
            {"id": "axle", "kind": "cylinder", "radius": 2.2, "height": 82, "sides": 16, "anchor": "centre"}]},
        {"name": "Shafts", "placement": {"translate": [-88, 34, 0]}, "steps": [
            box("shaft", 84, 4, 4), soft, {"id": "two", "kind": "array", "count": 2, "span": [0, 0, 48]},
            {"id": "middle", "kind": "transform", "pick": {"vertices": "all"}, "translate": [0, 0, -24]}]},
        {"name": "Handle", "placement": {"translate": [-126, 36, 0], "rotate": [90, 0, 0]}, "steps": [
            {"id": "bar", "kind": "cylinder", "radius": 1.6, "height": 56, "sides": 12, "anchor": "centre"}]},
        {"id": "leg", "name": "Leg", "placement": {"translate": [-44, 0, 24]}, "steps": [box("leg", 4, 30.2, 4), soft]},
        {"name": "Leg 2", "of": "leg", "placement": {"translate": [-44, 0, -24]}}]}


def wheels(piece: Piece, cart_group: str) -> Piece:
    """The stock wheel twice on the cart's axle, the second linked to the first."""
    by = WHEEL / 50.0  # the wheel of the shelf has half a metre
    groups, parts = [], []
    for n, z in enumerate((37.0, -37.0)):
        own = f"wheel-{n}"
        groups.append({"id": own, "name": f"Handcart: wheel {n + 1}", "group": cart_group, "placement": {
            "translate": [8, WHEEL / 2, z], "rotate": [90, 0, 0], "scale": [by, by, by]}})
        for k, part in enumerate(piece["parts"]):
            name = f"Handcart: {part['name'].lower()} {n + 1}"
            same = {"id": f"{own}-{k}", "name": name, "group": own}
            same |= {"placement": part["placement"]} if "placement" in part else {}
            parts.append(same | ({"steps": part["steps"]} if n == 0 else {"of": f"wheel-0-{k}"}))
    return {"groups": groups, "parts": parts}


def pieces(wheel: Piece) -> list[tuple[str, Piece]]:
    """Everything on the quay, one after the other, each with what its change is called."""
    handcart = grouped(cart(), "handcart", "Handcart", (215, 0, 10))
    on_it = wheels(wheel, "handcart")
    return [
        ("Bench", grouped(example("mender-bench"), "bench", "Bench", (0, 0, 0))),
        ("Kneeling pad", grouped(example("kneeling-pad"), "pad", "Kneeling pad", (26, 45, 0))),
        ("Lantern", grouped({"parts": lantern.parts(), "groups": []}, "lantern", "Lantern", (-34, 50, 0))),
        ("Sea chest", grouped(chest(), "chest", "Chest", (-125, 0, 15))),
        ("Louvred hatch", grouped(example("louvred-hatch"), "hatch", "Hatch", (30, 0, 110))),
        ("Handcart", handcart), ("Wheels from stock", on_it)]

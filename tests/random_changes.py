"""Recipes whose numbers change above picks made by hand, and what a person expects of those picks: told as geometry."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.pick import by_shape, runs
from rhytonic.core.pick.meaning import ids_of
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.meanings import with_meanings
from rhytonic.core.recipe.state import Evaluation
from tests.helpers import document
from tests.random_recipes import ALL_KINDS, MOST_FACES, WHOLE, Steps, Wish, as_step

KINDS = ("faces", "edges", "vertices")
Floats = np.ndarray

#: kinds that leave the body about what it is, so that a place on it stays a place on it
VALUES: dict[str, list[tuple[str, dict[str, Any]]]] = {
    "extrude": [("faces", {"depth": 0.1}), ("faces", {"depth": 0.08, "as": "each"}), ("faces", {"depth": -0.1, "segments": 2})],
    "transform": [("faces", {"translate": [0.04, 0.02, 0.03]}), ("edges", {"translate": [0.02, 0, 0.03]}),
                  ("vertices", {"translate": [0, 0.03, 0]})],
    "delete": [("faces", {})], "weld": [("vertices", {"distance": 0.0})], "flip": [("faces", {})],
    "dissolve": [("edges", {}), ("vertices", {}), ("faces", {})], "quad_cap": [("faces", {})],
    "fill": [("edges", {"style": "ngon"}), ("edges", {"style": "fan"})],
    "duplicate": [("faces", {"translate": [4.0, 0, 0]})], "flatten": [("faces", {}), ("vertices", {})],
    "inset": [("faces", {"width": 0.03}), ("faces", {"width": 0.03, "as": "each"})],
    "insert_loop": [("edges", {}), ("edges", {"count": 2, "spread": 0.5}), ("edges", {"at": [0.2]})],
    "bevel": [("edges", {"width": 0.03}), ("edges", {"width": 0.03, "segments": 3}), ("vertices", {"width": 0.03})],
    "ridge": [("edges", {"width": 0.02, "height": 0.04})],
    "extrude_edges": [("edges", {"vector": [0.1, 0.1, 0.1]})],
    "connect": [("edges", {}), ("vertices", {})], "cut": [("edges", {"at": 0.4})],
    "slice": [("faces", {"point": [0.1, 0.1, 0.05], "normal": [0, 1, 0]}),
              ("faces", {"point": [0.1, 0.1, 0.05], "normal": [1, 2, 3], "keep": "above", "cap": True})],
    "bridge": [("faces", {})], "stitch": [("edges", {"at": "middle"})],
    "slide": [("edges", {"amount": 0.3}), ("vertices", {"amount": -0.3})], "even_out": [("edges", {})],
    "round_out": [("faces", {})], "relax": [("vertices", {"iterations": 1})], "crease": [("edges", {"sharpness": 2})],
    "hard": [("edges", {})], "seam": [("edges", {})], "shade": [("faces", {})],
    "mirror": [("faces", {"axis": "x", "at": 0.1, "keep": "+"}), ("faces", {"axis": "z", "at": 0, "keep": "-", "clip": True})],
    "shell": [("faces", {"thickness": 0.05})], "to_ball": [("faces", {"amount": 0.3})],
    "lattice": [("faces", {"offsets": {"2,2,2": [0.05, 0.04, 0.03]}})], "bend": [("faces", {"along": "x", "toward": "+y", "angle": 8})],
    "twist": [("faces", {"axis": "y", "angle": 5})], "taper": [("faces", {"axis": "y", "scale": 0.95})],
    "stretch": [("faces", {"axis": "x", "factor": 1.04})],
    "noise": [("vertices", {"amount": 0.02, "size": 0.5}), ("faces", {"amount": 0.02, "size": 0.4, "along": "free"})],
    "brush": [("faces", {"tool": "grab", "radius": 0.6, "strokes": [{"points": [[0.4, 0.4, 0.2, 1.0]], "move": [0.03, 0.02, 0.0]}]}),
              ("faces", {"tool": "smooth", "radius": 0.6, "strength": 0.1, "strokes": [{"points": [[0.4, 0.4, 0.2, 1.0]]}]})],
    "subdivision": [("faces", {"levels": 1})]}

assert set(VALUES) == set(ALL_KINDS)


@dataclass(frozen=True)
class Pick:
    """Elements picked by hand at the end of a recipe: corners (k, 3) of each."""

    kind: str
    how: str
    corners: list[Floats]

    @property
    def whole(self) -> bool:
        """Whether a run was picked: what runs through where it was is expected, however many that is by now."""
        return self.how in ("loop", "ring", "band", "flat")


@dataclass(frozen=True)
class Case:
    """A recipe as stored, with one neutral step for each pick at its end, and the recipe after the change."""

    before: Steps
    after: Steps
    picks: list[Pick]
    change: str
    turned: Rotation


#: kinds that go by the axes of the part: a part turned above them becomes another
BY_AXES = {"slice", "mirror", "duplicate", "extrude_edges", "transform"}
#: kinds that go by shares of an edge, which is shorter once it is several
BY_SHARES = {"slide", "cut"}
#: and kinds that carry elements far by how the faces beside them are cut
BY_NEIGHBOURS = BY_SHARES | {"round_out"}


def _form(r: np.random.Generator) -> dict[str, Any]:
    sides, up = int(r.integers(6, 13)), int(r.integers(1, 4))
    return {"id": "form", **[
        {"kind": "box", "size": [4, 3, 2], "segments": r.integers(1, 4, 3).tolist()},
        {"kind": "box", "size": [2, 2, 2], "segments": r.integers(1, 4, 3).tolist()},
        {"kind": "cylinder", "radius": 1, "height": 3, "sides": sides, "height_segments": up},
        {"kind": "cylinder", "radius": 1, "height": 2, "radius_top": 0.6, "sides": sides, "height_segments": up, "cap": "fan"},
        {"kind": "sphere", "radius": 1.2, "sides": max(sides, 5), "rings": up + 5},
        {"kind": "plane", "size": [4, 3], "segments": r.integers(1, 5, 2).tolist()}][int(r.integers(6))]}


def _recounted(form: dict[str, Any], r: np.random.Generator) -> dict[str, Any]:
    """The form with whole multiples of its counts, so that every old edge still lies on edges."""
    out = dict(form)
    for key in ("segments", "sides", "rings", "height_segments"):
        if key in form:
            out[key] = [int(v * r.integers(1, 4)) for v in form[key]] if key == "segments" else int(form[key] * r.integers(1, 4))
    return out


def _run(steps: Steps) -> Evaluation:
    return Evaluator().run(document(*steps).parts[0], "m", tolerant=True)


def _grown(steps: Steps, r: np.random.Generator, kind: str, id: str, mesh: Mesh) -> Steps:
    on, values = VALUES[kind][int(r.integers(len(VALUES[kind])))]
    wish = Wish(kind, r.integers(0, 999, int(r.integers(1, 4))).tolist(), on, values)
    if kind == "cut" or kind == "fill" or kind in WHOLE or kind == "insert_loop":
        step = as_step(wish, mesh, id)
    else:
        step = {"id": id, "kind": kind, **values, "pick": by_hand(mesh, on, chosen(mesh, on, r)[1])}
    longer = [*steps, step]
    try:
        after = _strict(longer)
    except StepError:
        return steps
    return longer if 0 < after.topology.face_count <= MOST_FACES else steps


def _strict(steps: Steps) -> Mesh:
    return Evaluator().run(document(*steps).parts[0], "m").surface.mesh


def by_hand(mesh: Mesh, kind: str, elements: Any) -> dict[str, Any]:
    return {kind: {"ids": [list(i) if isinstance(i, tuple) else i for i in ids_of(mesh, kind, np.asarray(elements))]}}  # type: ignore[arg-type]


def chosen(mesh: Mesh, kind: str, r: np.random.Generator) -> tuple[str, np.ndarray]:
    """What a hand picks: one, some, or what a double click takes."""
    t = mesh.topology
    count = {"faces": t.face_count, "edges": t.edge_count, "vertices": t.vertex_count}[kind]
    seed = r.integers(count, size=1)
    ways = {"one": lambda: seed, "some": lambda: np.unique(r.choice(count, min(3, count), replace=False))}
    if kind == "edges":
        ways |= {"loop": lambda: runs.loops_through(t, seed), "ring": lambda: runs.rings_through(t, seed)}
    elif kind == "faces":
        edge = t.corner_edge[t.offsets[seed[0]]]
        ways |= {"flat": lambda: by_shape.flat_around(mesh, seed, 1), "band": lambda: runs.bands_through(t, np.array([edge]))}
    name = list(ways)[int(r.integers(len(ways)))]
    found = ways[name]()
    return (name, found) if found.size else ("one", seed)


def corners_of(mesh: Mesh, kind: str, elements: np.ndarray) -> list[Floats]:
    t = mesh.topology
    if kind == "faces":
        return [mesh.points[t.corners[t.offsets[f]:t.offsets[f + 1]]] for f in elements.tolist()]
    if kind == "edges":
        return list(mesh.points[t.edges[elements]])
    return list(mesh.points[elements][:, None])


def case(seed: int, picks: int = 5) -> Case | None:
    """A recipe of up to three steps of any kind, and one change above picks at its end; None where it cannot be run."""
    r = np.random.default_rng(seed)
    steps: Steps = [_form(r)]
    change = ("counts", "turn", "insert")[int(r.integers(3))]
    kinds = sorted(set(VALUES) - {"turn": BY_AXES, "counts": BY_SHARES, "insert": BY_NEIGHBOURS}[change])
    for i in range(int(r.integers(0, 4))):
        mesh = _strict(steps)
        steps = _grown(steps, r, str(r.choice(kinds)), f"s{i}", mesh)
    mesh = _strict(steps)
    told = []
    for i in range(picks):
        kind = KINDS[int(r.integers(3))]
        how, elements = chosen(mesh, kind, r)
        told.append(Pick(kind, how, corners_of(mesh, kind, elements)))
        steps = [*steps, {"id": f"p{i}", "kind": "transform", "translate": [0, 0, 0], "pick": by_hand(mesh, kind, elements)}]
    d = document(*steps).parts[0]
    part = with_meanings(d, Evaluator().run(d, "m", tolerant=True))
    before = [{"kind": s.kind, **json.loads(s.model_dump_json(by_alias=True, exclude_unset=True))} for s in part.steps]
    turned = Rotation.identity()
    if change == "counts":
        return Case(before, [_recounted(before[0], r), *before[1:]], told, change, turned)
    if change == "turn":
        angles = r.uniform(-40, 40, 3).round(2).tolist()
        turned = Rotation.from_euler("xyz", angles, degrees=True)
        step = {"id": "early", "kind": "transform", "pick": {"vertices": "all"}, "rotate": angles, "about": "origin"}
        return Case(before, [before[0], step, *before[1:]], told, change, turned)
    first = str(r.choice(["bevel", "insert_loop", "inset", "connect", "slice", "extrude", "ridge"]))
    form = _strict(before[:1])
    try:
        longer = _grown(before[:1], r, first, "early", form)
    except StepError:
        return None
    return None if len(longer) == 1 else Case(before, [*longer, *before[1:]], told, f"insert {first}", turned)


def judge(case: Case) -> list[tuple[Pick, str, Any]]:
    """Each pick after the change: right, told (lost, and said so), wrong, or gone (nothing is there any more)."""
    e = _run(case.after)
    n = len(case.picks)
    out: list[tuple[Pick, str, Any]] = []
    surface = e.results[-1].state.mesh
    back = Mesh(surface.points @ case.turned.as_matrix(), surface.topology)
    for pick, result in zip(case.picks, e.results[-n:], strict=True):
        lost = result.error is not None or bool(result.missing) or result.state.picked is None
        every = np.arange({"faces": back.topology.face_count, "edges": back.topology.edge_count,
                           "vertices": back.topology.vertex_count}[pick.kind])
        near = at_place(back, pick, every)
        there = all(at_place(back, Pick(pick.kind, pick.how, [c]), every).any() and on_surface(back, c) for c in pick.corners)
        if pick.whole:
            near[run_through(back, pick, np.flatnonzero(near))] = True
        if lost:
            out.append((pick, "told" if there else "gone", result))
            continue
        found = result.state.picked.elements
        if found.size and near[found].all():
            whole = _extent(back, pick.kind, found) >= 0.5 * sum(map(_size, pick.corners))
            out.append((pick, "right" if whole else "part", result))
        else:
            out.append((pick, "wrong" if there else "gone", result))
    return out


def on_surface(mesh: Mesh, corners: Floats) -> bool:
    """Whether the middle of an element, and points half way to its corners, still lie on the surface."""
    middle = corners.mean(axis=0)
    points = np.concatenate([middle[None], (corners + middle) / 2])
    reach = np.linalg.norm(corners - middle, axis=1).max()
    t = mesh.topology
    low = np.minimum.reduceat(mesh.points[t.corners], t.offsets[:-1]) - 0.03 - 1.1 * reach
    high = np.maximum.reduceat(mesh.points[t.corners], t.offsets[:-1]) + 0.03 + 1.1 * reach
    near = np.flatnonzero(((low <= middle) & (middle <= high)).all(axis=1))
    distance = np.min([distance_to(c, points) for c in corners_of(mesh, "faces", near)], axis=0, initial=np.inf)
    return bool((distance <= 0.03 + 0.1 * reach).all())


def run_through(mesh: Mesh, pick: Pick, near: np.ndarray) -> np.ndarray:
    """Whole runs through elements that lie where a run was."""
    t = mesh.topology
    if not near.size:
        return near
    if pick.kind == "edges":
        return (runs.loops_through if pick.how == "loop" else runs.rings_through)(t, near)
    if pick.how == "flat":
        return by_shape.flat_around(mesh, near, 1)
    edges = np.unique(t.corner_edge[t.corners_of(near)])
    inside = np.bincount(t.corner_edge[t.corners_of(near)], minlength=t.edge_count) > 1  # crossed by the band
    return runs.bands_through(t, np.flatnonzero(inside) if inside.any() else edges)


def at_place(mesh: Mesh, pick: Pick, elements: np.ndarray) -> np.ndarray:
    """(n,) whether the middle of each element lies at one of the picked: within a fraction of its size."""
    middles = np.array([c.mean(axis=0) for c in corners_of(mesh, pick.kind, elements)])
    out = np.zeros(len(middles), bool)
    for corners in pick.corners:
        reach = np.linalg.norm(corners - corners.mean(axis=0), axis=1).max() if len(corners) > 1 else 0.0
        out |= distance_to(corners, middles) <= 0.06 + 0.2 * reach
    return out


def distance_to(corners: Floats, points: Floats) -> Floats:
    """(n,) distance of points to a polygon as a fan of triangles, to a line, or to a point."""
    if len(corners) == 1:
        return np.linalg.norm(points - corners[0], axis=1)
    if len(corners) == 2:
        return _to_line(points, corners[0], corners[1])
    middle = corners.mean(axis=0)
    best = np.full(len(points), np.inf)
    for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        normal = np.cross(a - middle, b - middle)
        length = np.linalg.norm(normal)
        best = np.minimum(best, _to_line(points, a, b))
        if length > 1e-12:
            normal /= length
            height = (points - middle) @ normal
            foot = points - height[:, None] * normal
            inside = np.ones(len(points), bool)
            for p, q in ((middle, a), (a, b), (b, middle)):
                inside &= np.cross(q - p, foot - p) @ normal >= -1e-9
            best = np.where(inside, np.minimum(best, np.abs(height)), best)
    return best


def _to_line(points: Floats, a: Floats, b: Floats) -> Floats:
    way = b - a
    along = np.clip((points - a) @ way / max(way @ way, 1e-30), 0, 1)
    return np.linalg.norm(points - a - along[:, None] * way, axis=1)


def _size(corners: Floats) -> float:
    if len(corners) == 1:
        return 1.0
    if len(corners) == 2:
        return float(np.linalg.norm(corners[1] - corners[0]))
    middle = corners.mean(axis=0)
    return float(np.linalg.norm(np.cross(corners - middle, np.roll(corners, -1, axis=0) - middle).sum(axis=0))) / 2


def _extent(mesh: Mesh, kind: str, elements: np.ndarray) -> float:
    return sum(map(_size, corners_of(mesh, kind, elements)))

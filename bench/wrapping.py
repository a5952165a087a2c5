"""The texture square: unwrapping, packing and relief, beside bare libigl and, where it is installed, xatlas."""

from __future__ import annotations

from collections.abc import Iterator

import igl
import numpy as np

from rhytonic.core.construct.charts.packed import Outlines, pack
from rhytonic.core.construct.charts.unwrapped import unwrapped
from rhytonic.core.mesh.uv import Flat, uvs
from rhytonic.core.recipe.document import Document
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.part import Part

from .clock import Row, turn_by_turn


def _sheet(columns: int, rows: int) -> list[dict[str, object]]:
    return [{"id": "s", "kind": "plane", "size": [columns / 100, rows / 100], "segments": [columns, rows]},
            {"id": "n", "kind": "noise", "pick": {"vertices": "all"}, "amount": 0.02, "size": 0.4,
             "seed": 3}]


def _mesh(*steps: dict[str, object]):
    document = Document.model_validate({"format": "rhytonic", "version": 1, "unit": "m",
                                        "parts": [{"name": "P", "steps": list(steps)}]})
    return Evaluator().run(document.parts[0], "m", within=document).surface.mesh


def _bare(points: np.ndarray, triangles: np.ndarray) -> None:
    border = igl.boundary_loop(triangles)
    ends = np.array([border[0], border[len(border) // 2]], np.int64)
    flat, _ = igl.lscm(points, triangles, ends, np.array([[0.0, 0.0], [1.0, 0.0]]))
    data = igl.ARAPData()
    data.max_iter = 10
    igl.arap_precomputation(points, triangles, 2, np.zeros(1, np.int32), data)
    igl.arap_solve(flat[:1].copy(), data, flat)


def _shards(count: int) -> Outlines:
    """Star-shaped islands of many sizes."""
    r = np.random.default_rng(7)
    segments, starts = [], [0]
    for _ in range(count):
        n = int(r.integers(5, 30))
        angle = np.sort(r.uniform(0, 2 * np.pi, n))
        away = r.uniform(0.5, 1.0, n) * r.uniform(0.3, 1.5)
        p = np.stack([away * np.cos(angle) * r.uniform(0.5, 2), away * np.sin(angle)], axis=1)
        segments.append(np.concatenate([p, np.roll(p, -1, axis=0)], axis=1))
        starts.append(starts[-1] + n)
    return Outlines(np.concatenate(segments), np.array(starts))


def rows() -> Iterator[Row]:
    """Unwrap of 20,000 faces beside the same done by libigl alone; pack of 200 islands; relief on 200,000 faces."""
    mesh = _mesh(*_sheet(200, 100))
    t = mesh.topology
    corners = t.corners.reshape(-1, 4)
    triangles = np.concatenate([corners[:, [0, 1, 2]], corners[:, [0, 2, 3]]])
    faces, seams = np.arange(t.face_count), np.zeros(t.edge_count, bool)
    ours, bare = turn_by_turn(lambda: unwrapped(mesh, faces, seams, "isometric", 10),
                              lambda: _bare(mesh.points, triangles), times=3)
    yield Row("unwrap of 20 000 faces, isometric", ours, bare, "bare libigl, one disc", bare / ours, "≤ 1 s", ours <= 1.0)
    shards = _shards(200)
    [ours] = turn_by_turn(lambda: pack(shards, 8 / 2048, True), times=3)
    yield Row("pack of 200 islands", ours, None, "", None, "≤ 1 s", ours <= 1.0)
    base = [{"id": "s", "kind": "plane", "size": [1, 1], "segments": [28, 28]}, {"id": "u", "kind": "unwrap"}]
    document = Document.model_validate({
        "format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "P", "steps": base}],
        "patterns": [{"id": "p", "name": "P", "size": [1, 1], "resolution": 10,
                      "layers": [{"shape": "knurl", "pitch": 0.05}]}]})
    evaluator = Evaluator()
    count = [0]

    def relief() -> None:
        count[0] += 1
        step = {"id": "r", "kind": "relief", "pattern": "p", "height": 0.01 + 1e-6 * count[0], "levels": 4}
        part = Part.model_validate({"name": "P", "steps": [*base, step]})
        evaluator.run(part, "m", within=document)

    relief()
    [ours] = turn_by_turn(relief, times=7)
    yield Row("relief on 200 000 faces, height scrubbed", ours, None, "", None, "≤ 100 ms", ours <= 0.1)


def quality() -> str:
    """Mean stretch of the bumpy sheet, and share of the square that 200 packed islands' outlines enclose."""
    mesh = _mesh(*_sheet(200, 100), {"id": "u", "kind": "unwrap"})
    flat = Flat.of(mesh, uvs(mesh))
    shards = _shards(200)
    found = pack(shards, 8 / 2048, True)
    s = shards.segments
    area = np.add.reduceat(s[:, 0] * s[:, 3] - s[:, 1] * s[:, 2], shards.starts[:-1]) / 2
    stretch = float((flat.stretch * flat.areas).sum() / flat.areas.sum())
    return f"mean stretch {stretch:.4f}, packed {abs(area).sum() * found.scale**2:.1%}"


if __name__ == "__main__":
    print(quality())

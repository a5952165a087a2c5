"""Whether another checkout of the project makes the same geometry: ``python -m bench.compare OTHER [--recipes N]``.

Examples, the demo and random recipes are evaluated by both: reports, ids, points and attributes have to agree to the last
bit.
To be run before and after moving code about.
"""

from __future__ import annotations

import argparse
import hashlib
import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

HERE = Path(__file__).resolve().parents[1]


def random_recipes(count: int) -> list[dict[str, Any]]:
    """Documents of one part each, always the same."""
    from hypothesis import HealthCheck, given, settings
    from tests.random_recipes import recipes

    found: list[dict[str, Any]] = []

    @settings(max_examples=count, derandomize=True, deadline=None, database=None, suppress_health_check=list(HealthCheck))
    @given(recipes(most=5))
    def collect(steps: list[dict[str, Any]]) -> None:
        found.append({"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "Part", "steps": steps}]})

    collect()
    return found


def digest(document: dict[str, Any]) -> list[Any]:
    """What a document evaluates to, step by step: (step, vertices, faces, hash), or the sentence of its refusal."""
    from rhytonic.core.recipe.document import load
    from rhytonic.core.recipe.evaluate import Evaluator

    out: list[Any] = []
    read = load(json.dumps(document))
    for part in read.parts:
        for result in Evaluator().run(part, read.unit, "handover", tolerant=True).results:
            mesh = result.state.mesh
            h = hashlib.sha256(mesh.points.tobytes())
            for array in (mesh.topology.offsets, mesh.topology.corners, mesh.names.vertex, mesh.names.face):
                h.update(array.tobytes())
            for key in sorted(mesh.attributes):
                h.update(key.encode() + mesh.attributes[key].values.tobytes())
            told = None if result.error is None else str(result.error)
            out.append([part.name, result.step.id, len(mesh.points), mesh.topology.face_count, h.hexdigest(), told,
                        list(result.notes), result.missing])
    return out


def reported(file: Path) -> Any:
    """The report of the command line, without its times."""
    done = subprocess.run([sys.executable, "-m", "rhytonic.cli", "build", str(file)], capture_output=True, text=True)
    if done.returncode:
        return done.stderr
    told = json.loads(done.stdout)
    for part in told["parts"]:
        part.pop("seconds")
    return told


def answers(folder: Path) -> dict[str, Any]:
    """Everything that is compared, for the files of a folder."""
    files = sorted(folder.glob("*.json"))
    return {f.name: {"steps": digest(json.loads(f.read_text())),
                     "report": None if f.name.startswith("random") else reported(f)}
            for f in files}


def of_checkout(root: Path, folder: Path) -> Any:
    """The answers of the code in another folder, by this environment's packages."""
    script = f"import json, sys; sys.path.insert(0, {str(HERE)!r}); from pathlib import Path; " \
             f"from bench.compare import answers; print(json.dumps(answers(Path({str(folder)!r}))))"
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True,
                          env={**os.environ, "PYTHONPATH": str(root / "src")}, cwd="/")
    if done.returncode:
        raise SystemExit(done.stderr)
    return json.loads(done.stdout)


def main() -> int:
    """Compare, and tell how much was alike."""
    parser = argparse.ArgumentParser(prog="bench.compare")
    parser.add_argument("other", type=Path)
    parser.add_argument("--recipes", type=int, default=400)
    args = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for example in (args.other / "examples").glob("*.rhy.json"):
            (folder / example.name).write_text(example.read_text())
        for number, document in enumerate(random_recipes(args.recipes)):
            (folder / f"random{number:04d}.json").write_text(json.dumps(document))
        ours, theirs = of_checkout(HERE, folder), of_checkout(args.other.resolve(), folder)
    steps = sum(len(v["steps"]) for v in ours.values())
    different = [name for name in ours if ours[name] != theirs[name]]
    names = ": " + ", ".join(different[:20]) if different else ""
    print(f"{len(ours)} documents, {steps} steps: {len(different)} differ{names}")
    return bool(different)


if __name__ == "__main__":
    sys.exit(main())

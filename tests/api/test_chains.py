"""Chains of steps stored as a hand stores them: one by one, by the ids of the last mesh, tried first, undone and redone.

Whatever is refused is refused with a sentence; nothing ever fails inside, and what a trial showed is what is stored.
"""

from __future__ import annotations

import os
import uuid
from collections import Counter
from typing import Any

import numpy as np
import pytest

from rhytonic.core.recipe.registry import KINDS
from tests.random_chains import BODIES, CURVES, PATTERNS, build_around, kinds, told_mesh, wanted

CHAINS = int(os.environ.get("RHYTONIC_EXAMPLES", "24"))
#: kinds that only begin a recipe from what others send, from a file or from a board
BEGUN_ELSEWHERE = {"from_part", "mesh", "edge_curve", "board_curve"}
MOST_FACES = 3_000


class Hand:
    """Somebody at work on the first part of a build."""

    def __init__(self, api: Any, parts: list[dict[str, Any]]) -> None:
        self.api, self.build = api, api.new(*parts, unit="m", patterns=PATTERNS)
        self.seen: Counter[str] = Counter()

    @property
    def steps(self) -> list[dict[str, Any]]:
        return self.build["document"]["parts"][0]["steps"]

    def mesh(self) -> dict[str, Any]:
        return self.api.mesh(self.build)

    def posted(self, path: str, body: dict[str, Any]) -> Any:
        answer = self.api.http.post(f"/api/builds/{self.build['id']}/{path}", json=body)
        assert answer.status_code in (200, 422), (self.steps, body, answer.get_data(as_text=True)[:400])
        if answer.status_code == 422:
            told = answer.get_json()
            assert told["code"] != "unforeseen" and told["said"], (self.steps, body)
        return answer

    def stored(self, step: dict[str, Any]) -> bool:
        """Try a step, store it, undo and redo it; False where it was refused."""
        part = self.build["document"]["parts"][0]
        live = KINDS[step["kind"]].live or bool(step.get("live"))
        status = self.build["parts"][0]
        at = len(part["steps"]) if live else status["cage_end"]
        trial = self.posted("preview", {"revision": self.build["revision"], "part": part["id"], "step": step})
        before = self.mesh()
        named = {**step, "id": f"{step['kind']}{len(part['steps'])}"}
        answer = self.posted("changes", {"revision": self.build["revision"], "label": "Step", "key": uuid.uuid4().hex, "patch": [
            {"op": "add", "path": f"/parts/0/steps/{at}", "value": named}]})
        assert answer.status_code == trial.status_code, (self.steps, step, answer.get_data(as_text=True)[:400])
        if answer.status_code != 200:
            self.seen["refused"] += 1
            assert self.same(self.mesh(), before)
            return False
        self.build = answer.get_json()
        after = self.mesh()
        shown = _unpacked(trial)
        for state in ("cage", "surface"):
            assert (shown[state] is None) == (after[state] is None)
            if after[state] is not None:
                assert _alike(shown[state], after[state]), (self.steps[:-1], named)
        self.build = self.api.undo(self.build)
        assert self.same(self.mesh(), before)
        self.build = self.api.undo(self.build, "redo")
        assert self.same(self.mesh(), after)
        self.seen[step["kind"]] += 1
        return True

    @staticmethod
    def same(one: dict[str, Any], two: dict[str, Any]) -> bool:
        return all(one[k] == two[k] for k in ("cage", "surface", "triangles"))


def _unpacked(answer: Any) -> Any:
    import msgpack

    return msgpack.unpackb(answer.data)


def _alike(one: dict[str, Any], two: dict[str, Any]) -> bool:
    """The same faces, each point where it was, on the model and on the texture square: samples of brushes are stored by
    shares of faces, to nine digits."""
    a, b = (np.frombuffer(p["positions"], "<f4") for p in (one, two))
    u, v = (np.frombuffer(p["uv"] or b"", "<f4") for p in (one, two))
    alike = a.size == b.size and bool((np.abs(a - b) <= 1e-7).all())
    return one["digest"] == two["digest"] and alike and u.size == v.size and np.allclose(u, v, atol=1e-4, equal_nan=True)


@pytest.mark.parametrize("batch", range(4))
def test_whatever_is_stored_is_what_was_tried_and_can_be_undone(api, batch):
    done: Counter[str] = Counter()
    for seed in range(batch, CHAINS, 4):
        r = np.random.default_rng(seed)
        forms = CURVES if r.random() < 0.3 else BODIES
        hand = Hand(api, build_around(r, forms[int(r.integers(len(forms)))]))
        for _ in range(int(r.integers(3, 9))):
            told = hand.mesh()
            is_curve = bool(told["surface"]) and told["surface"]["digest"].startswith("curve")
            mesh = told_mesh(told["cage"])
            assert np.isfinite(mesh.points).all()
            if mesh.topology.face_count > MOST_FACES or not len(mesh.points):
                break
            step = wanted(r, mesh, is_curve)
            if step is not None:
                hand.stored(step)
        done += hand.seen
    assert done.total() - done["refused"] >= CHAINS // 4 * 2  # most of what is tried comes to be


def test_every_kind_may_come_into_a_chain():
    assert set(KINDS) - kinds() - BEGUN_ELSEWHERE == set()

"""Counts of the form changed, steps put in early, parts turned: picks by hand of every kind, on recipes of every kind, are where
they were, or their loss is told."""

from collections import Counter

import pytest

from rhytonic.core.recipe.registry import KINDS
from tests.random_changes import VALUES, case, judge

from .test_numbers_later import EXAMPLES

#: kinds that make or join parts, bring files in or work on curves alone: they have picks and meanings of their own tests
ELSEWHERE = {"array", "boolean", "join", "separate", "split_off", "from_part", "file", "place_on", "follow", "bead",
             "project", "unwrap", "straighten_uv", "uv_transform", "pack"}  # these change no element: what was picked is where it was


@pytest.mark.parametrize("batch", range(4))
def test_picks_are_where_they_were_or_told(batch):
    """500 examples, told by RHYTONIC_EXAMPLES, look at more than two thousand picks."""
    counts, silent = Counter(), []
    for seed in range(300 + batch * EXAMPLES // 4, 300 + (batch + 1) * EXAMPLES // 4):
        changed = case(seed)
        for pick, verdict, result in judge(changed) if changed is not None else []:
            counts[verdict] += 1
            told = result.error is not None or result.again is not None or result.missing > 0
            if verdict == "wrong" and not told:
                silent.append((seed, changed.change, pick.kind, pick.how))
    assert silent == []
    assert counts["right"] > 24
    assert counts["told"] + counts["wrong"] <= max(0.03 * counts.total(), 3), counts  # a few are many of few


def test_every_kind_that_edits_is_among_the_recipes():
    known = {word for word, kind in KINDS.items() if not kind.form and not kind.live and kind.on_faces}
    assert known - set(VALUES) - ELSEWHERE == set()

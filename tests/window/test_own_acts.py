"""Every key, click, drag, button and command does what it did: see `own_acts`."""

from __future__ import annotations

import pytest
from own_acts import DEMOS, acts, differences, stored

from zarvik.formats import shipped


@pytest.mark.whole_answers
@pytest.mark.parametrize("demo", DEMOS)
def test_nothing_does_another_thing(open_window: object, demo: str) -> None:
    """Entries of the document, what is chosen, what a widget says of itself, jobs and files that are asked for."""
    before = stored()[demo]
    changed = differences(before, acts(open_window(shipped.demo(demo))))  # type: ignore[operator]
    if changed:  # what an act of the clock has done is not done again
        again = differences(before, acts(open_window(shipped.demo(demo))))  # type: ignore[operator]
        changed = [line for line in changed if line in again]
    assert not changed


def test_another_thing_is_seen() -> None:
    """The comparison itself can fail: an act that does more, less, or another thing."""
    before = {"run: Right": ["piece: bend"], "Delete": ["document intake.bend: gone"]}
    assert not differences(before, before)
    for now in ({}, {**before, "Delete": []}, {**before, "Left": ["piece: run"]}, {**before, "run: Right": ["piece: run"]}):
        assert len(differences(before, now)) >= 1

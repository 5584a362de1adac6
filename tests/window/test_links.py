"""Where links, checks and next steps lead: to a page that is there."""

from __future__ import annotations

import re

import pytest
from driving import rest

import zarvik.project.next_steps.next_steps as steps
from zarvik.core.checks.check_result import SUBJECTS
from zarvik.formats import shipped
from zarvik.project.next_steps.next_steps import next_steps
from zarvik.window.app import settle
from zarvik.window.benches import BENCHES, bench_of
from zarvik.window.frame.main_window import MainWindow

KEYS = {entry.key for entry in BENCHES}


def test_every_subject_has_its_bench() -> None:
    """What a check can be about is worked on somewhere, and nothing is that no check is about."""
    worked_on = {subject for entry in BENCHES for subject in entry.subjects}
    assert worked_on == set(SUBJECTS)


def test_every_bench_that_is_named_is_there() -> None:
    """Links by the key of a bench, as next steps have them."""
    with open(steps.__file__, encoding="utf-8") as file:
        named = re.findall(r"=bench:(\w+)", file.read())
    assert len(named) >= 4 and set(named) <= KEYS


@pytest.mark.parametrize("demo", ["tarn", "moth"])
def test_every_step_leads_on(open_window: object, demo: str) -> None:
    """Each link of the card, with nothing done yet, turns to its page or puts the cursor into its entry."""
    project = shipped.demo(demo).model_copy(update={"stock": (), "primaries": ()})
    window: MainWindow = open_window(project)  # type: ignore[operator]
    assert settle(window) and window.desk.answer is not None
    found = next_steps(window.desk.project, window.desk.answer)
    addresses = [address for step in found for _, address in step.leads]
    assert "=bench:cut_weld" in addresses
    for address in addresses:
        away = "compare"
        window.show_bench(away)
        window.desk.follow(address)
        rest(window)
        shown = next(key for key in KEYS if window.benches.made(key) and window.benches[key] is window.stack.currentWidget())
        assert shown != away, address
        if address.startswith("=bench:"):
            assert shown == address.removeprefix("=bench:")
        elif address.startswith("=subject:"):
            assert shown == bench_of(address.removeprefix("=subject:"))

"""A sample of the scan of every entry (tests/scan.py): nothing raises, lies or jumps, and the first cure cures."""

from __future__ import annotations

import random
import sys
from pathlib import Path

import pytest

from zarvik.formats import shipped
from zarvik.project.edits import edits
from zarvik.project.units.units import UNKNOWN

sys.path.insert(0, str(Path(__file__).parents[1]))
import scan

# Entries that did once what no answer may do, and a handful more
SEEN = [
    ("tarn", "cold_pipe.c-run.bore"),
    ("skerry", "goal.target_boost"),
    ("tarn", "fittings.full_load_share"),
    ("moth", "intercooler.front_thickness"),
]
PICKED = [
    (demo, place)
    for demo, seed in (("tarn", 3), ("moth", 5))
    for place in random.Random(seed).sample(
        [p for p in scan.numbers(shipped.demo(demo)) if edits.get(shipped.demo(demo), p).known != UNKNOWN], 2
    )
]


@pytest.mark.parametrize(("demo", "place"), [*SEEN, *PICKED])
def test_nothing_is_seen(demo: str, place: str) -> None:
    """Six values over the whole range of an entry and near what stands there."""
    seen = [str(s) for s in scan.scan(demo, shipped.demo(demo), place, count=3, cures=(demo, place) in SEEN)]
    assert not seen, "\n".join(seen)


def test_the_scan_sees_what_it_looks_for() -> None:
    """A check that fails with room, a power that jumps, a margin that is none: each is sighted."""
    found = scan.solved(shipped.demo("moth"))
    assert found is not None
    import dataclasses

    lying = dataclasses.replace(found.check_results[0], state="fails", margin=0.2)
    endless = dataclasses.replace(found.check_results[0], margin=float("nan"))
    kinds = [s.kind for s in scan._judged("moth", "x", 1.0, dataclasses.replace(found, check_results=(lying, endless)))]
    assert kinds == ["margin", "margin"]
    weak = dataclasses.replace(found, target=dataclasses.replace(found.target, power=0.5 * found.target.power))
    assert [s.kind for s in scan._stepped("moth", "x", (1.0, found), (1.01, weak))] == ["jump"]
    assert not list(scan._stepped("moth", "x", (1.0, found), (1.01, found)))

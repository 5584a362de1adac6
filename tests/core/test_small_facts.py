"""Small facts that no other test would miss: sizes of toothed pulleys, how a turbo of the catalogue is marked."""

from __future__ import annotations

import dataclasses
import math

import pytest

from zarvik.core.airpath.solution import prepare
from zarvik.core.candidates.catalogue_search import _mark
from zarvik.core.candidates.compare import Candidate, compare
from zarvik.core.checks.pulley import with_larger_pulleys, with_smaller_pulleys
from zarvik.core.engine.belt import RIBBED, TOOTHED, Belt
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble


@pytest.mark.parametrize("larger", [False, True])
def test_pulleys_of_toothed_belts_have_whole_teeth(larger: bool) -> None:
    """A pitch circle is as many times 8 mm round as the pulley has teeth (ISO 13050, 8M, from memory); the next one comes first."""
    blower = assemble(shipped.demo("moth")).blower
    assert blower is not None and blower.belt is not None
    teeth = 32
    belt = Belt(TOOTHED, crank=60 * 8e-3 / math.pi, blower=teeth * 8e-3 / math.pi, step_up=1.0, wide=0.03, wrap=3.0)
    blower = dataclasses.replace(blower, belt=belt, ratio=belt.ratio)
    found = list((with_larger_pulleys if larger else with_smaller_pulleys)(blower))
    counts = []
    for changed, words, change in found:
        assert changed.belt is not None and change.place == "blower.teeth"
        round_it = math.pi * changed.belt.blower / 8e-3
        assert round_it == pytest.approx(change.value) and round_it == pytest.approx(round(round_it))
        assert changed.ratio == pytest.approx(60 / round(round_it))
        filled = dict(words.figures)
        assert filled["teeth"] == str(round(round_it)) and filled["now"] == str(teeth)
        counts.append(round(round_it))
    assert counts == sorted(counts, reverse=not larger) and len(counts) >= 3
    assert all((count > teeth) == larger for count in counts)


def test_pulleys_of_ribbed_belts_are_those_that_are_sold() -> None:
    """Each is smaller than the one before, and its size is what the edit says."""
    blower = assemble(shipped.demo("moth")).blower
    assert blower is not None and blower.belt is not None and blower.belt.kind == RIBBED
    sizes = []
    for changed, _, change in with_smaller_pulleys(blower):
        assert changed.belt is not None and changed.belt.blower == pytest.approx(change.value) and change.place == "blower.pulley"
        sizes.append(changed.belt.blower)
    assert sizes == sorted(sizes, reverse=True) and max(sizes) < blower.belt.blower


def _candidate() -> Candidate:
    """One with room on every side."""
    build = assemble(shipped.demo("tarn"))
    (found,) = compare(prepare(build), (build.turbo,))
    return dataclasses.replace(found, power=1.02 * build.target.power, spool=0.9 * build.boost.wish, surge=0.4, choke=0.4, overspeed=0.3)


@pytest.mark.parametrize("name", ["power", "surge", "choke", "overspeed", "spool"])
def test_every_shortfall_of_a_turbo_counts(name: str) -> None:
    """The further one figure falls short, the worse the mark, without steps; two shortfalls are worse than one; no figure, no mark."""
    build, good = assemble(shipped.demo("tarn")), _candidate()
    best = _mark(build, good)
    falls = (0.9, 0.8, 0.7) if name == "power" else (1.3, 1.5, 1.8) if name == "spool" else (-0.05, -0.12, -0.25)
    of = {"power": build.target.power, "spool": build.boost.wish}.get(name, 1.0)
    marks = [_mark(build, dataclasses.replace(good, **{name: share * of})) for share in falls]
    assert best < marks[0] < marks[1] < marks[2]
    both = dataclasses.replace(good, **{name: falls[0] * of}, **({"choke": -0.05} if name != "choke" else {"surge": -0.05}))
    assert _mark(build, both) > marks[0]
    if name in ("power", "surge", "choke", "overspeed"):
        assert math.isinf(_mark(build, dataclasses.replace(good, **{name: math.nan})))

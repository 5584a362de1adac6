"""Ranking the catalogue, and the figures that designs are compared by."""

from __future__ import annotations

import dataclasses
import math

import pytest

from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import Answer
from zarvik.core.answer.summary import spread, summary
from zarvik.core.candidates.catalogue_search import HOUSINGS, search
from zarvik.core.common.progress import Stopped
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.turbos import core_turbo
from zarvik.project.document.document import Project

TURBOS = [core_turbo(shipped.turbo(name)) for name in shipped.turbo_names()]


def test_the_catalogue_is_searched_and_ranked(tarn: Project) -> None:
    """Every turbo with every housing once, the best first; a find is what solving it gives."""
    build = assemble(tarn)
    heard: list[float] = []
    found = search(build, TURBOS, heard.append)
    assert len(found) == len(TURBOS) * len(HOUSINGS) == len(heard)
    assert 0.97 < heard[-1] < 1.0 and heard == sorted(heard)
    marks = [f.mark for f in found]
    assert marks == sorted(marks)
    best = found[0]
    turbine = dataclasses.replace(best.turbo.turbine, housing=best.housing)
    turbo = dataclasses.replace(best.turbo, turbine=turbine)
    point = prepare(dataclasses.replace(build, turbo=turbo)).at(build.target.speed)
    assert best.figures.power == pytest.approx(point.power, rel=1e-6)
    assert best.figures.back_pressure == pytest.approx(point.turbo.back_pressure, rel=1e-6)


def test_housing_and_size_rank_as_the_trade_knows(tarn: Project) -> None:
    """Common practice, no source: with the same wheel a larger housing wakes later and has less
    back-pressure; a far too small turbo is ranked behind one that fits."""
    found = search(assemble(tarn), TURBOS)
    same = sorted((f for f in found if f.turbo.name.startswith("54")), key=lambda f: f.housing)
    assert [f.figures.spool for f in same] == sorted(f.figures.spool for f in same)
    assert [f.figures.back_pressure for f in same] == sorted((f.figures.back_pressure for f in same), reverse=True)
    place = {f.turbo.name: i for i, f in reversed(list(enumerate(found)))}
    smallest = min(place, key=lambda name: int(name.split()[0]))
    assert place[smallest] > 25
    assert found[0].turbo.name.split()[0] in ("51", "54", "58")


def test_a_search_stops_when_told(tarn: Project) -> None:
    """Whoever does not want it any more hears nothing further."""
    heard: list[float] = []

    def watch(done: float) -> None:
        heard.append(done)
        if done > 0.05:
            raise Stopped

    with pytest.raises(Stopped):
        search(assemble(tarn), TURBOS, watch)
    assert heard[-1] > 0.05 and len(heard) < 9


def test_summary_says_what_was_solved(tarn_answer: Answer) -> None:
    """The figures are those of the answer; equal designs differ by nothing."""
    entries = {e.key: e for e in summary(tarn_answer)}
    assert entries["power"].figure.value == tarn_answer.target.power
    assert entries["threshold"].figure.value == pytest.approx(2844.0, abs=150.0)
    fails = sum(v.state == "fails" for v in tarn_answer.check_results)
    assert entries["fails"].figure.value == fails
    assert all(math.isfinite(e.figure.value) for e in entries.values())
    assert spread([entries["power"], entries["power"]]) == 0.0
    more = dataclasses.replace(entries["power"], figure=dataclasses.replace(entries["power"].figure, value=tarn_answer.target.power + 14e3))
    assert spread([entries["power"], more]) == pytest.approx(2.0)

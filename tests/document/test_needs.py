"""What a design needs of oil and fuel, said before anything is entered."""

from __future__ import annotations

import dataclasses
from pathlib import Path

import pytest

from zarvik.cli import main
from zarvik.commands.output import whole_answer
from zarvik.core.checks import lines as judge
from zarvik.core.checks.case import Case
from zarvik.core.limits import HOLDS
from zarvik.core.needs import PUMP_SIZES, needs
from zarvik.core.register.lines import Lines
from zarvik.formats import project_file, shelf
from zarvik.project.document import Project
from zarvik.project.first_design import make
from zarvik.project.known import Known


def test_what_is_needed_holds_and_the_next_smaller_does_not() -> None:
    """Every size of the list is put in as if it were there: all is judged to hold; injectors and pump of the size below do not."""
    for name in ("tarn", "fell", "moth"):
        case = whole_answer(shelf.demo(name)).case
        wanted = {n.title: n.size for n in needs(case)}
        at_three = dataclasses.replace(
            case.system.lines, rated=wanted["Injectors"], pump=wanted["Fuel pump"], pump_at=3e5, line=wanted["Fuel line"],
            restrictor=wanted.get("Oil restrictor", 0.0), drain=wanted.get("Oil drain", 0.0),
        )  # fmt: skip

        def judged(lines: Lines, case: Case = case) -> dict[str, str]:
            solver = dataclasses.replace(case.solver, system=dataclasses.replace(case.system, lines=lines))
            return {v.id: v.state for v in judge.check(dataclasses.replace(case, solver=solver))}

        states = judged(at_three)
        assert {"injectors", "fuel_pump", "fuel_line"} <= set(states)
        assert set(states.values()) == {HOLDS}
        smaller = max((s for s in judge.SIZES if s < wanted["Injectors"] - 1e-12), default=0.5 * wanted["Injectors"])
        assert judged(dataclasses.replace(at_three, rated=smaller))["injectors"] != HOLDS
        below = max((s for s in PUMP_SIZES if s < wanted["Fuel pump"] - 1e-12), default=0.3 * PUMP_SIZES[0])
        assert judged(dataclasses.replace(at_three, pump=below))["fuel_pump"] != HOLDS or below < PUMP_SIZES[0]


def test_injectors_of_a_petrol_build_by_hand(tarn: Project) -> None:
    """330 hp of petrol at 0.53 lb/hp/h, 85 % of the time (common practice, no source): 51 lb/h each of four, about 540 cc/min
    of 10.5 cc/min a lb/h; 550 is sold. Pump: 330 hp burn some 110 L/h, at 4.1 bar and nine tenths of it 155 L/h is the least."""
    wanted = {n.title: n.size for n in needs(whole_answer(tarn).case)}
    assert wanted["Injectors"] * 60e6 == pytest.approx(330 * 0.53 / 4 / 0.85 * 10.5, rel=0.06)
    assert wanted["Fuel pump"] * 3.6e6 == pytest.approx(155.0)
    # A journal turbo's restrictor 1.5 to 2 mm at 4 bar, its drain 16 to 22 mm: common practice, no source
    assert 0.0014 < wanted["Oil restrictor"] < 0.0021 and 0.016 <= wanted["Oil drain"] <= 0.022


def test_a_new_build_says_what_it_needs(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """E85 needs about 1.4 times the fuel of petrol for the same power; a diesel no injectors of ours; a blower no oil."""
    turbos = {name: shelf.turbo(name) for name in shelf.turbo_names()}
    fuel, builds = {}, {}
    for key in ("petrol98", "e85"):
        builds[key] = make(Known("four", 4, 2.0e-3, 7000.0, 223_700.0, key, 111_900.0, 6000.0), turbos)
        point = judge.thirsty(whole_answer(builds[key]).case)
        fuel[key] = point.fuel / judge.density(key) / point.power
    assert 1.25 < fuel["e85"] / fuel["petrol98"] < 1.55
    titles = [n.title for n in needs(whole_answer(shelf.demo("skerry")).case)]
    assert titles == ["Oil restrictor", "Oil drain"]
    assert "Oil restrictor" not in [n.title for n in needs(whole_answer(shelf.demo("moth")).case)]
    path = tmp_path / "n.zarvik.json"
    project_file.write(builds["petrol98"], path)
    assert main(["solve", str(path)]) == 0
    out = capsys.readouterr().out
    assert "This design needs:" in out and "Injectors: 4 of" in out

"""What a design needs of oil and fuel, said before anything is entered."""

from __future__ import annotations

import dataclasses
import math
from pathlib import Path

import pytest

from zarvik.cli import main
from zarvik.core.answer.answer import Answer, first_answer
from zarvik.core.checks import fluid_lines as judge
from zarvik.core.checks.case import Case
from zarvik.core.connections import row
from zarvik.core.fluid_lines.lines import Lines, feed_speed
from zarvik.core.limits.limits import MARGINAL, OK
from zarvik.core.recommendations import Recommendation, needs
from zarvik.core.recommendations.fluid_lines import PUMP_SIZES, _pump
from zarvik.core.recommendations.joints import sold_hose
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.turbos import candidates
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import RUNS, get, with_value
from zarvik.project.first_design.first_design import make
from zarvik.project.uncertainty.known import BuilderInput
from zarvik.project.units.rendering import render
from zarvik.project.units.units import parse
from zarvik.workspace.solving import solve


def answered(project: Project) -> Answer:
    """The figures and checks of a document, without what is needed for none of it: tried cures and bands."""
    return first_answer(assemble(project, id=project.name), candidates(project))


def test_what_is_needed_holds_and_the_next_smaller_does_not() -> None:
    """Every size of the list is put in as if it were there: all is judged to hold; injectors and pump of the size below do not."""
    for name in ("tarn", "fell", "moth"):
        case = answered(shipped.demo(name)).case
        wanted = {n.title: n.size for n in needs(case)}
        at_three = dataclasses.replace(
            case.build.lines,
            injector_flow=wanted["Injectors"],
            pump_flow=wanted["Fuel pump"],
            pump_pressure=3e5,
            fuel_line_bore=wanted["Fuel line"],
            restrictor_bore=wanted.get("Oil restrictor", 0.0),
            drain_bore=wanted.get("Oil drain", 0.0),
        )

        def judged(lines: Lines, case: Case = case) -> dict[str, str]:
            changed = dataclasses.replace(case.build, lines=lines)
            return {v.id: v.state for v in judge.check(dataclasses.replace(case, build=changed))}

        states = judged(at_three)
        assert {"injectors", "fuel_pump", "fuel_line"} <= set(states)
        assert set(states.values()) == {OK}
        smaller = max((s for s in judge.SIZES if s < wanted["Injectors"] - 1e-12), default=0.5 * wanted["Injectors"])
        assert judged(dataclasses.replace(at_three, injector_flow=smaller))["injectors"] != OK
        if wanted["Fuel pump"] > PUMP_SIZES[0] + 1e-12:
            # Two pumps where one is too small: the next smaller pair does not do either
            single = [s for s in PUMP_SIZES if s < wanted["Fuel pump"] - 1e-12]
            below = max(single) if wanted["Fuel pump"] <= PUMP_SIZES[-1] else 0.75 * wanted["Fuel pump"]
            assert judged(dataclasses.replace(at_three, pump_flow=below))["fuel_pump"] != OK


def test_injectors_of_a_petrol_build_by_hand(tarn: Project) -> None:
    """330 hp of petrol at 0.53 lb/hp/h, 85 % of the time (common practice, no source): 51 lb/h each of four, about 540 cc/min
    of 10.5 cc/min a lb/h; 550 is sold. Pump: 330 hp burn some 110 L/h, at 4.1 bar and nine tenths of it 155 L/h is the least."""
    wanted = {n.title: n.size for n in needs(answered(tarn).case)}
    assert wanted["Injectors"] * 60e6 == pytest.approx(330 * 0.53 / 4 / 0.85 * 10.5, rel=0.06)
    assert wanted["Fuel pump"] * 3.6e6 == pytest.approx(155.0)
    # A journal turbo's restrictor 1.5 to 2 mm at 4 bar, its drain 16 to 22 mm: common practice, no source
    assert 0.0014 < wanted["Oil restrictor"] < 0.0021 and 0.016 <= wanted["Oil drain"] <= 0.022


def test_a_new_build_says_what_it_needs(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """E85 needs about 1.4 times the fuel of petrol for the same power; a diesel no injectors of ours; a blower no oil."""
    turbos = {name: shipped.turbo(name) for name in shipped.turbo_names()}
    fuel, builds = {}, {}
    for key in ("petrol98", "e85"):
        builds[key] = make(
            BuilderInput(
                kind="four",
                cylinders=4,
                litres=2.0e-3,
                redline=7000.0,
                power=223_700.0,
                fuel=key,
                stock_power=111_900.0,
                stock_speed=6000.0,
            ),
            turbos,
        )
        point = judge.highest_fuel_point(answered(builds[key]).case)
        fuel[key] = point.fuel / judge.density(key) / point.power
    assert 1.25 < fuel["e85"] / fuel["petrol98"] < 1.55
    titles = [n.title for n in needs(answered(shipped.demo("skerry")).case)]
    assert titles[:3] == ["Oil restrictor", "Oil drain", "Breather"] and "Injectors" not in titles and "Throttle" not in titles
    assert "Oil restrictor" not in [n.title for n in needs(answered(shipped.demo("moth")).case)]
    path = tmp_path / "n.zarvik.json"
    project_file.write(builds["petrol98"], path)
    assert main(["solve", str(path)]) == 0
    out = capsys.readouterr().out
    assert "This design needs:" in out and "Injectors: 4 of" in out


def told(project: Project, answer: Answer, title: str) -> Recommendation:
    """A need of a design by its title."""
    return next(n for n in needs(answer.case) if n.title == title)


@pytest.mark.parametrize("name", ["tarn", "fell", "moth", "skerry"])
def test_what_is_bought_by_the_list_is_judged_to_hold(name: str) -> None:
    """Throttle, breather, blow-off valve, spring and radiator of the list are typed into the document: each is judged as the list said."""
    project = shipped.demo(name)
    found = {n.title: n for n in needs(answered(project).case)}
    put_in = {"Breather": "breather.bore", "Blow-off valve": "wastegate.blow_off", "Wastegate spring": "wastegate.spring"}
    for title, place in put_in.items():
        if title in found:
            value = get(project, place)
            project = with_value(project, place, value.with_si(found[title].size))
    project = with_value(project, "breather.hoses", project.breather.hoses.with_si(float(found["Breather"].count)))
    if "Throttle" in found:
        piece = next(p for run in RUNS for p in get(project, run) if p.kind == "throttle")
        run = next(run for run in RUNS if piece in get(project, run))
        project = with_value(project, f"{run}.{piece.id}.bore", piece.bore.with_si(found["Throttle"].size))
    states = {v.id: v.state for v in answered(project).check_results}
    for key in ("throttle", "pedal", "crankcase", "blow_off"):
        assert states.get(key, OK) == OK, (name, key)
    assert states.get("spring", OK) in (OK, MARGINAL)


def test_sensor_hoses_and_clamps_by_hand(tarn: Project) -> None:
    """1.25 bar of the single big run over 93.9 kPa are 219 kPa, 238 with 8 % in hand: a sensor for 2.5 bar. A tube of 68.3 mm at 1.25 bar
    is
    pushed apart by p A = 458 N; above 0.7 bar builders take T-bolts, two a hose (common practice, no source)."""
    answer = answered(tarn)
    assert told(tarn, answer, "Pressure sensor").size == pytest.approx(2.5e5)
    joints = [x for x in answer.case.build.connections if x.kind == row.JOINT and x.made == row.HOSED and x.diameter > 0.0]
    clamps = render(told(tarn, answer, "Clamps").text, tarn.shown_units)
    worst = max(x.pressure * math.pi / 4.0 * x.diameter**2 for x in joints)
    assert "T-bolt" in clamps and f"{worst:.0f}\u00a0N" in clamps and clamps.startswith(str(2 * len(joints)))
    # A 330 hp four with a throttle of 55 to 70 mm: common practice, no source
    assert 0.055 <= told(tarn, answer, "Throttle").size <= 0.070


def test_needs_follow_the_engine_over_their_range(tarn: Project) -> None:
    """More power asks for no smaller throttle, breather, pump, meter or radiator; nothing jumps by more than one size a step of a tenth."""
    last: dict[str, float] = {}
    for boost in (0.5, 0.7, 0.9, 1.1, 1.3, 1.5):
        answer = answered(with_value(tarn, "goal.target_boost", get(tarn, "goal.target_boost").with_si(1e5 * boost)))
        sizes = {n.title: n.size for n in needs(answer.case)}
        for title in ("Breather", "Fuel pump", "Air meter", "Pressure sensor"):
            assert not sizes[title] < last.get(title, 0.0) - 1e-9, (title, boost)
        last = sizes


def test_a_design_without_a_solution_asks_for_nothing(tarn: Project) -> None:
    """No list of shopping for a target that is not solved."""
    impossible = with_value(tarn, "goal.target_boost", get(tarn, "goal.target_boost").with_si(4.9e5))
    found = solve(impossible)
    if found.answer is not None and not found.answer.target.closure.solved:
        assert needs(found.answer.case) == []


def test_a_spring_for_next_to_nothing_is_not_a_late_one(tarn: Project) -> None:
    """Without boost no spring is named, and why is said."""
    boost = get(tarn, "goal.target_boost")
    calm = with_value(with_value(tarn, "goal.target_boost", boost.with_si(0.0)), "goal.big_run_boost", boost.with_si(0.0))
    answer = solve(calm).answer
    assert answer is not None
    spring = [n for n in needs(answer.case) if n.title == "Wastegate spring"]
    assert all(n.size != n.size and "soft enough" in render(n.text, calm.shown_units) for n in spring)


def test_the_whole_pump_goes_through_the_line(tarn: Project) -> None:
    """With a return the line carries what the pump gives at rest, whatever is burnt: 340 L/h rated at 3 bar, nine tenths of them
    through 8 mm are 8.5e-5 m3/s over 5.03e-5 m2, 1.69 m/s; in the list the line is for the pump of the list."""

    def speed(pump: str) -> float:
        project = with_value(
            with_value(
                with_value(tarn, "fluid_lines.pump_flow", parse(pump, "fuel_flow")), "fluid_lines.fuel_line_bore", parse("8 mm", "length")
            ),
            "fluid_lines.pump_pressure",
            parse("3 bar", "pressure_gauge"),
        )
        lines = answered(with_value(project, "fluid_lines.fuel_pressure", parse("3 bar", "pressure_gauge"))).build.lines
        return feed_speed(lines, 2e-5)

    assert speed("340 L/h") == pytest.approx(0.9 * 340e-3 / 3600.0 / (math.pi / 4.0 * 0.008**2), rel=1e-6)
    assert speed("680 L/h") == pytest.approx(2.0 * speed("340 L/h"))
    assert speed("10 L/h") == pytest.approx(2e-5 / (math.pi / 4.0 * 0.008**2), rel=1e-6)
    found = {n.title: n for n in needs(answered(tarn).case)}
    assert 0.9 * found["Fuel pump"].size / (math.pi / 4.0 * found["Fuel line"].size ** 2) <= 3.0


@pytest.mark.parametrize(
    ("end", "hose"),
    [
        (50.8, 51.0),
        (51.5, 51.0),
        (57.15, 57.0),
        (63.5, 63.0),
        (60.3, 60.0),
        (76.1, 76.0),
        (88.9, 89.0),
        (101.6, 102.0),
        (79.3, 80.0),
        (93.0, 93.0),
        (140.0, 140.0),
    ],
)
def test_a_hose_has_the_size_it_is_sold_by(end: float, hose: float) -> None:
    """2, 2 1/4, 2 1/2, 3, 3 1/2, 4 in and what stands between them (labels as in any catalogue: common practice, no source); where none
    is sold the end is told as it is."""
    assert sold_hose(1e-3 * end) == pytest.approx(1e-3 * hose)


def test_an_end_that_no_hose_is_sold_for_is_told_with_what_is(tarn: Project) -> None:
    """43.5 mm lies between 41 and 45; a hose is drawn over an end up to 4 % wider: 78.3 mm takes one of 76."""
    solved = answered(tarn).case
    joint = next(x for x in solved.build.connections if x.kind == row.JOINT and x.made == row.HOSED and x.diameter > 0.0)
    words = {}
    for end in (43.5, 78.3, 150.0, 25.0):
        other = dataclasses.replace(solved.build, connections=(dataclasses.replace(joint, diameter=1e-3 * end, lost=False),))
        case = dataclasses.replace(solved, build=other)
        words[end] = next(render(n.text, {}) for n in needs(case) if n.title == "Hoses")
    assert "1 for 43.5 mm, a size that is not sold: bring the end to 41 mm or 45 mm" in words[43.5].replace("\u00a0", " ")
    assert "1 for 76 mm" in words[78.3].replace("\u00a0", " ") and "a size that is not sold" not in words[78.3]
    assert "to 127 mm" in words[150.0].replace("\u00a0", " ") and "to 32 mm" in words[25.0].replace("\u00a0", " ")


def test_what_is_needed_once_and_what_for_each_turbo(tarn: Project) -> None:
    """One hose for a breather where one that goes on a valve cover does; restrictor and drain for each of two turbos, and only then are
    they said to be."""
    assert told(tarn, answered(tarn), "Breather").count == 1
    for fitted in (1.0, 2.0):
        project = with_value(tarn, "turbos_fitted", tarn.turbos_fitted.with_si(fitted))
        found = {n.title: render(n.text, {}) for n in needs(solve(project).answer.case)}  # type: ignore[union-attr]
        for title in ("Oil restrictor", "Oil drain"):
            assert ("for each turbo" in found[title]) == (fitted > 1.0), title


def test_as_few_pumps_as_do(tarn: Project) -> None:
    """Of the largest that is sold one gives 525 L/h at 3 bar, nine tenths of it count: 400 L/h take one, 600 two, 1,200 three; what
    four do not give takes more than four."""
    lines = dataclasses.replace(answered(tarn).case.build.lines, pump_flow=0.0)
    for litres, count in ((60.0, 1), (400.0, 1), (600.0, 2), (1200.0, 3), (9000.0, 5)):
        size, several = _pump(lines, 3e5, litres * 1e-3 / 3600.0)
        assert several == count and size in PUMP_SIZES, litres
        if count < 5:
            assert 0.9 * several * size >= 0.99 * litres * 1e-3 / 3600.0


@pytest.mark.parametrize(("name", "vents"), [("tarn", True), ("fell", True), ("skerry", False), ("moth", False)])
def test_who_needs_a_blow_off_valve(name: str, vents: bool) -> None:
    """A throttle that shuts before a turbo: petrol. A diesel has none, and a blower has its bypass (common practice, no source)."""
    titles = [need.title for need in needs(answered(shipped.demo(name)).case)]
    assert ("Blow-off valve" in titles) == vents

"""What a spring holds: forces by hand, limits with closed forms, the gate of the whole path at work, hoses that are off."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from scipy.optimize import brentq

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.answer.answer import answer
from zarvik.core.boost_control.held_boost import (
    HOLDING,
    SHUT,
    WIDE,
    GatePoint,
    curve,
    duty_for,
    failures,
    gate_point_near,
    hoses,
    spring_for,
)
from zarvik.core.checks.check_result import CheckResult
from zarvik.core.wastegate.actuator import FOUR, FULL_SHARE, MOST_DUTY, NONE, PLENUM, SPRINGS, THREE, Actuator, bench_of, lift_for
from zarvik.core.wastegate.wastegate_flow import Wastegate
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.boost_control import actuator_of
from zarvik.project.boost_control.control import control as report
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document import document as doc
from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.edits import edits
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse

GATE = Wastegate(diameter=0.038, lift=0.010)
BIG = 100.0  # diaphragm over valve: the gas on the valve is nothing


@pytest.fixture(scope="module")
def solver() -> Solver:
    """The Tarn."""
    return prepare(assemble(shipped.demo("tarn")))


def deaf(spring: float, **more: object) -> Actuator:
    """An actuator that the gas on the valve does not move, with a spring of hardly any rate."""
    return Actuator(spring=spring, full=1.001 * spring, diaphragm=0.038 * BIG, valve=0.038, **more)  # type: ignore[arg-type]


def held(solver: Solver, actuator: Actuator, speed: float = 6400.0) -> GatePoint:
    found = gate_point_near(solver, actuator, speed)
    assert found is not None
    return found


def test_forces_by_hand() -> None:
    """A valve of 38 mm under a diaphragm of 60 mm: 1,134 and 2,827 mm2. At 0.5 bar in the hose and 1.2 bar across the valve
    the air lifts with 141.4 N and the gas with 136.1 N; a spring that opens at 0.7 bar holds 197.9 N, and 79.2 N more at full
    lift: 79.6 of 79.2 N, just open."""
    one = Actuator(spring=0.7e5, full=0.98e5, diaphragm=0.060, valve=0.038)
    air, gas = 0.5e5 * math.pi * 0.03**2, 1.2e5 * math.pi * 0.019**2
    spring, rate = 0.7e5 * math.pi * 0.03**2, 0.28e5 * math.pi * 0.03**2
    assert (air, gas, spring, rate) == pytest.approx((141.4, 136.1, 197.9, 79.2), abs=0.06)
    assert one.lift(0.5e5, 2.3e5, 1.1e5) == pytest.approx((air + gas - spring) / rate)
    assert one.lift(0.7e5, 1e5, 1e5) == pytest.approx(0.0) and one.lift(0.98e5, 1e5, 1e5) == pytest.approx(1.0)
    # Sold by the boost that it holds with 1.3 times that across the valve and three tenths of its lift
    bench = bench_of(0.5e5, one.share)
    sold = dataclasses.replace(one, spring=bench, full=FULL_SHARE * bench)
    assert sold.lift(0.5e5, 1.65e5, 1.0e5) == pytest.approx(0.3, abs=1e-12)


def test_what_solenoids_let_through() -> None:
    """By hand at 1 bar in the hose: three ports vent a share of it, four send it to the other side, both at the most nine
    tenths; a hose that is off brings nothing, a pinched vent keeps what is there."""
    bar = 1e5
    for control, duty, off, below, above in (
        (NONE, 0.5, "", 1.0, 0.0),
        (THREE, 0.0, "", 1.0, 0.0),
        (THREE, 0.4, "", 0.6, 0.0),
        (THREE, 1.0, "", 0.1, 0.0),
        (FOUR, 0.4, "", 0.6, 0.4),
        (FOUR, 1.0, "", 0.1, 0.9),
        (FOUR, 0.4, "upper", 0.6, 0.0),
        (FOUR, 0.4, "lower", 0.0, 0.4),
        (THREE, 0.4, "signal", 0.0, 0.0),
        (THREE, 0.4, "lower", 0.0, 0.0),
        (THREE, 0.4, "vent", 1.0, 0.0),
        (FOUR, 0.4, "vent", 1.0, 0.0),
    ):
        found = Actuator(spring=0.5e5, full=0.7e5, diaphragm=0.06, valve=0.038, control=control, duty=duty, off=off).pressures(bar)
        assert found == pytest.approx((below * bar, above * bar)), (control, duty, off)
    assert [
        [h.key for h in hoses(Actuator(spring=1.0, full=2.0, diaphragm=0.06, valve=0.038, control=c))] for c in (NONE, THREE, FOUR)
    ] == [["signal"], ["signal", "lower", "vent"], ["signal", "lower", "upper", "vent"]]


def test_area_over_lift() -> None:
    """There and back; half the curtain is more than half the area, since the port is in the way of the rest."""
    for share in np.linspace(0.01, 1.0, 40):
        assert GATE.opened(lift_for(GATE, float(share))) / GATE.area == pytest.approx(share)
    assert 0.5 < GATE.opened(0.5) / GATE.area < 0.65
    assert lift_for(GATE, 0.0) == 0.0 == lift_for(Wastegate(diameter=0.0, lift=0.0), 1.0)


def test_without_the_gas_a_spring_holds_what_it_says(solver: Solver) -> None:
    """Closed form: with nothing on the valve and hardly a rate the hose stands at the spring, whatever the engine speed; at
    the plenum that is the boost, at the compressor what is lost on the way is taken off. Three ports divide it by what they
    leave: twice the spring at half the time on (common practice, no source)."""
    for speed in (3500.0, 5000.0, 7000.0):
        assert held(solver, deaf(0.8e5, reference=PLENUM), speed).boost == pytest.approx(0.8e5, rel=2e-3)
        out = held(solver, deaf(0.8e5), speed)
        assert out.reference == pytest.approx(0.8e5, rel=2e-3) and 2e3 < out.reference - out.boost < 2.5e4
    half = held(solver, deaf(0.5e5, reference=PLENUM, control=THREE, duty=0.5))
    assert half.boost == pytest.approx(1.0e5, rel=2e-3)
    crossed = held(solver, deaf(0.5e5, reference=PLENUM, control=FOUR, duty=0.25))
    assert crossed.boost == pytest.approx(1.0e5, rel=2e-3)


@pytest.mark.parametrize("demo", ["tarn", "skerry", "fell"])
def test_it_stands_where_forces_and_flow_agree(demo: str) -> None:
    """Independent: the boost found by SciPy over the whole path as a black box, with the forces written out here."""
    solver = prepare(assemble(shipped.demo(demo)))
    gate, ambient = solver.path.gate, solver.path.site.pressure
    one = Actuator(spring=0.7e5, full=1.0e5, diaphragm=1.6 * gate.diameter, valve=gate.diameter)
    for speed in (0.6 * solver.path.engine.rev_limit, 0.95 * solver.path.engine.rev_limit):
        mine = held(solver, one, speed)

        def gap(boost: float, speed: float = speed) -> float:
            raw = solver.at_pressure(np.linspace(0.5 * speed, speed, 12), np.full(12, ambient + boost))
            s = raw.states[-1]
            force = (s[k.P2] - ambient) * math.pi / 4 * one.diaphragm**2 + (s[k.P4] - s[k.P5]) * math.pi / 4 * gate.diameter**2
            lift = (force / (math.pi / 4 * one.diaphragm**2) - one.spring) / (one.full - one.spring)
            curtain = math.pi * gate.diameter * gate.lift * min(max(lift, 1e-6), 1.0)
            port = math.pi / 4 * gate.diameter**2
            area = gate.count * gate.discharge / (curtain**-4 + port**-4) ** 0.25
            return float(area / gate.area - s[k.OPENING])

        assert mine.state == HOLDING
        assert mine.boost == pytest.approx(brentq(gap, 0.7 * mine.boost, 1.3 * mine.boost, xtol=5.0), abs=60.0)


def test_states_and_trends(solver: Solver) -> None:
    """A stronger spring holds more, its rate and the lost pressure too; the gas on the valve opens it earlier, and more so
    at high speed; a weak spring leaves the gate wide open, one that is never reached shut."""

    def boost(spring: float, valve: float = 0.038, full: float = 1.45) -> float:
        return held(solver, Actuator(spring=spring, full=full * spring, diaphragm=0.060, valve=valve)).boost

    values = [boost(s) for s in np.linspace(0.1e5, 2.4e5, 24)]
    steps = np.diff(values)
    assert (steps > 0.0).all() and steps.max() < 2.0 * np.median(steps)
    valves = [boost(1.0e5, v) for v in np.linspace(0.001, 0.055, 12)]
    assert (np.diff(valves) < 0.0).all()
    assert boost(1.0e5, full=1.7) > boost(1.0e5, full=1.3)
    whole = curve(solver, solver.full_load, Actuator(spring=1.0e5, full=1.45e5, diaphragm=0.060, valve=0.038), count=9)
    calculation = [p.boost for p in whole.calculation]
    assert len(calculation) >= 5 and calculation[-1] < calculation[1] and whole.first is not None and whole.most is not None
    assert [p.state for p in whole.points][:2] == [SHUT, SHUT]
    small = prepare(
        assemble(
            edits.with_value(
                edits.with_value(shipped.demo("tarn"), "wastegate.diameter", parse("20 mm", "length")),
                "wastegate.lift",
                parse("3 mm", "length"),
            )
        )
    )
    creeping = held(small, Actuator(spring=0.2e5, full=0.3e5, diaphragm=0.060, valve=0.020), 6400.0)
    assert creeping.state == WIDE and creeping.lift == pytest.approx(1.0) and creeping.boost > 0.4e5
    assert held(solver, deaf(3.9e5), 2000.0).state == SHUT
    bare = prepare(dataclasses.replace(solver.path, gate=Wastegate(diameter=0.0, lift=0.0)))
    assert curve(bare, bare.full_load, deaf(1e5)).points == ()


def test_what_is_asked_is_found_again(solver: Solver) -> None:
    """The spring and the duty that are said to hold a boost do hold it."""
    raw = solver.full_load
    start = raw.solutions[int(np.abs(raw.speed - 6400.0).argmin())]
    one = Actuator(spring=0.5e5, full=0.72e5, diaphragm=0.060, valve=0.038)
    for wanted in (0.5e5, 0.8e5, 1.1e5):
        spring = spring_for(solver, one, 6400.0, start, wanted)
        found = held(solver, dataclasses.replace(one, spring=spring, full=1.44 * spring))
        assert found.boost == pytest.approx(wanted, abs=200.0)
        for control in (THREE, FOUR):
            weak = dataclasses.replace(one, spring=0.45e5, full=0.65e5, control=control)
            duty = duty_for(solver, weak, 6400.0, wanted)
            if duty == duty:
                assert held(solver, dataclasses.replace(weak, duty=duty)).boost == pytest.approx(wanted, abs=200.0)
    assert math.isnan(duty_for(solver, one, 6400.0, 1.0e5)) and math.isnan(
        duty_for(solver, dataclasses.replace(one, control=THREE), 6400.0, 0.05e5)
    )
    low, high = (held(solver, dataclasses.replace(one, control=THREE, duty=duty)) for duty in (0.0, 1.0))
    assert high.boost > 2.0 * low.boost


def test_hoses_that_come_off(solver: Solver) -> None:
    """Nothing under the diaphragm: only the gas opens the valve, and the boost goes up; off above it or a pinched vent: it
    falls (common practice, no source: what is safe falls to the spring)."""
    raw = solver.full_load
    start = raw.solutions[int(np.abs(raw.speed - 6400.0).argmin())]
    four = Actuator(spring=0.6e5, full=0.87e5, diaphragm=0.060, valve=0.038, control=FOUR, duty=0.4)
    now = held(solver, four).boost
    alone = held(solver, dataclasses.replace(four, duty=0.0)).boost
    found = {f.hose.key: f.held for f in failures(solver, four, 6400.0, start)}
    assert all(h is not None for h in found.values())
    assert found["signal"].boost > now and found["lower"].boost > found["signal"].boost  # type: ignore[union-attr]
    assert alone < found["upper"].boost < now and found["vent"].boost == pytest.approx(alone, abs=100.0)  # type: ignore[union-attr]
    nothing = {f.hose.key: f.held for f in failures(solver, deaf(0.6e5), 6400.0, start)}
    shut = nothing["signal"]
    assert shut is None or shut.boost > 2.5e5


def check_results(project: Project) -> dict[str, CheckResult]:
    return {v.id: v for v in answer(assemble(project)).check_results}


@pytest.mark.parametrize("control", [NONE, THREE, FOUR])
@pytest.mark.parametrize("kind", ["outside", "inside"])
def test_the_check_and_its_cure(control: str, kind: str) -> None:
    """From nothing said: open, with a spring that is sold; put in, it holds what is asked, or reaches it with the solenoid. A
    spring that is too strong fails and is cured."""
    project = with_value(
        with_value(with_value(shipped.demo("tarn"), "wastegate.control", control), "wastegate.kind", kind),
        "wastegate.spring",
        parse("0 bar", "pressure_gauge"),
    )
    first = check_results(project)["spring"]
    assert first.state == "to_do" and first.changes
    said = with_changes(project, first.changes)
    assert said.wastegate.spring.si in [pytest.approx(s) for s in SPRINGS]
    after = check_results(said)["spring"]
    assert after.state in ("ok", "marginal") and (control == NONE or after.state == "ok")
    strong = with_value(project, "wastegate.spring", parse("2.4 bar", "pressure_gauge"))
    failed = check_results(strong)["spring"]
    assert failed.state == "fails" and check_results(with_changes(strong, failed.changes))["spring"].state in ("ok", "marginal")
    assert check_results(strong)["hoses"].state == "marginal"


def test_what_the_document_means() -> None:
    """Sums of stacked springs; what is not said follows from what is usual; sold by boost is more on the bench; no gate, or a
    blower: no actuator."""
    project = with_value(shipped.demo("tarn"), "wastegate.spring", parse("0.5 bar + 0.2 bar", "pressure_gauge"))
    one = actuator_of(project)
    assert one is not None and one.spring == pytest.approx(0.7e5) and one.full == pytest.approx(1.015e5)
    assert (
        one.diaphragm == pytest.approx(1.6 * 0.038)
        and one.said
        and not actuator_of(with_value(project, "wastegate.spring", parse("0 bar", "pressure_gauge"))).said
    )  # type: ignore[union-attr]
    inside = actuator_of(with_value(project, "wastegate.kind", "inside"))
    assert inside is not None and inside.diaphragm == pytest.approx(2.1 * 0.038)
    sold = actuator_of(with_value(project, "wastegate.spring_rating", "engine"))
    assert sold is not None and sold.spring == pytest.approx(bench_of(0.7e5, one.share)) and sold.by_boost and not one.by_boost
    less = actuator_of(with_value(project, "wastegate.fully_open", parse("0.3 bar", "pressure_gauge")))
    assert less is not None and less.full > less.spring
    assert actuator_of(shipped.demo("moth")) is None
    assert actuator_of(with_value(project, "wastegate.diameter", parse("0", "length", default_unit="mm"))) is None
    assert MOST_DUTY < 1.0


@pytest.mark.parametrize("name", ["tarn", "skerry", "fell"])
def test_springs_hold_what_they_are_sold_for(name: str) -> None:
    """Common practice, no source: a spring of 0.55, 0.8 or 1.0 bar, alone in the gate, holds that within a fifth at the target
    speed; springs are named so unless somebody says otherwise."""
    assert doc.Wastegate().spring_rating == "engine"
    base = with_value(with_value(shipped.demo(name), "wastegate.spring_rating", "engine"), "wastegate.control", NONE)
    for boost in (0.55, 0.8, 1.0):
        build = assemble(with_value(base, "wastegate.spring", parse(f"{boost} bar", "pressure_gauge")))
        held = gate_point_near(prepare(build), build.actuator, build.target.speed)  # type: ignore[arg-type]
        assert held is not None and held.state == "holding" and held.boost == pytest.approx(boost * 1e5, rel=0.2)


def test_holding_back_takes_a_solenoid() -> None:
    """Boost that is to come late, with nothing but a spring in the way: told with what stands before; the cure puts a solenoid in."""
    project = with_value(shipped.demo("tarn"), "wastegate.control", NONE)
    ideal = with_changes(
        project, check_results(with_value(project, "wastegate.spring", parse("0 bar", "pressure_gauge")))["spring"].changes
    )
    assert "delays the boost" not in "".join(check_results(ideal)["spring"].text.templates)
    late = with_value(ideal, "goal.hold_back_until", parse("4800 rpm", "rotation"))
    found = check_results(late)["spring"]
    assert found.state in ("marginal", "fails") and any("delays the boost" in t for t in found.text.templates)
    assert with_changes(late, found.changes).wastegate.control == THREE


def test_random_gates_never_raise() -> None:
    """Attack: every entry of the gate anywhere inside its limits, on every demo: judged and told without an exception, each boost a
    number or left out."""
    random = np.random.default_rng(5)
    for demo in ("tarn", "fell", "skerry"):
        for _ in range(2):
            project = shipped.demo(demo)
            for name in type(project.wastegate).model_fields:
                place = f"wastegate.{name}"
                found, old = edits.meta(project, place), edits.get(project, place)
                if isinstance(found, QuantitySpec):
                    low, high = found.limits
                    value = random.integers(1, 5) if found.kind == "count" else random.uniform(low, high)
                    project = with_value(project, place, old.with_si(float(value)))
                elif isinstance(found, Choice):
                    project = with_value(project, place, str(random.choice([key for key, _ in found.options()])))
            gate = project.wastegate
            if 0.0 < gate.diaphragm.si < gate.diameter.si:
                project = with_value(project, "wastegate.diaphragm", gate.diameter)  # a smaller one is refused
            for check_result in answer(assemble(project)).check_results:
                assert check_result.state in ("ok", "marginal", "fails", "to_do")
            if not assemble(project).gate.area > 0.0:
                continue
            told = report(project)
            assert all(math.isfinite(h.boost) and 0.0 <= h.lift <= 1.0 + 1e-9 for h in told.alone) and len(told.relief) in (0, 2, 3, 4)

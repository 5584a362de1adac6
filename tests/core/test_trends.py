"""Trends: for each input the sign of its effect on the main answers, over its range, with the reason.

Common practice and first principles; each row says why. "+" grows, "-" falls, "0" stays within a
thousandth, "." says nothing (it turns round, or hangs on something else). Neighbours may be equal.
"""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.threshold import threshold
from zarvik.core.answer.answer import answer
from zarvik.core.limits.limits import FAILS, OK
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.cures.cures import proved
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import get, with_value
from zarvik.project.units.units import Quantity, parse

TURBINE = "turbos.c54-71.turbine"
# place, values, then power at the target, threshold, gas before the turbine, inlet over plenum; why
ROWS = [
    (
        "goal.target_boost",
        ["0.5 bar", "0.7 bar", "0.9 bar", "1.1 bar", "1.3 bar"],
        "+++.",
        "more air makes more power, has to be driven by more gas and burns hotter by its retard",
    ),
    (
        "goal.design_day",
        ["-20 °C", "0 °C", "15 °C", "33 °C", "45 °C"],
        "-+..",
        "thin air: less of it, and a compressor that has to turn faster",
    ),
    ("goal.altitude", ["0 m", "640 m", "1500 m", "2500 m"], "-+..", "the same gauge boost is less air, and a higher pressure ratio"),
    ("goal.road_speed", ["20 km/h", "50 km/h", "85 km/h", "150 km/h"], "+...", "more wind through the cooler"),
    (
        "engine.compression",
        ["8", "8.8", "9.6", "10.4"],
        "..-.",
        "more of the heat becomes work, less goes to the exhaust, until knock takes it back",
    ),
    ("engine.full_load_lambda", ["0.72", "0.76", "0.80", "0.84", "0.88", "0.92"], "..+.", "rich gas is cooler"),
    ("engine.best_breathing", ["80 %", "88 %", "97 %", "105 %"], "+-..", "more air at each speed, earlier enough gas for the turbine"),
    (f"{TURBINE}.housing", ["10 mm", "13 mm", "17 mm", "21 mm", "26 mm"], "++.-", "a larger housing wakes later and breathes better"),
    (f"{TURBINE}.efficiency", ["60 %", "64 %", "68 %", "72 %"], "+-.-", "less gas does the same work"),
    (
        f"{TURBINE}.pulses",
        ["0 %", "50 %", "100 %", "150 %"],
        "+-.0",
        "as efficiency does early; at the target the room before the wheel is large against a beat",
    ),
    (f"{TURBINE}.scrolls", ["1", "2"], ".-..", "pulses kept apart wake it earlier; at the top the wall between them costs"),
    ("intercooler.rating_confidence", ["40 %", "60 %", "80 %", "100 %"], "+...", "a better cooler, denser charge"),
    ("intercooler.pressure_loss", ["2 kPa", "6 kPa", "12 kPa", "20 kPa"], "-+..", "the compressor has to make up for what is lost"),
    ("exhaust.e-tail.bore", ["45 mm", "52 mm", "60 mm", "73 mm", "90 mm"], "+-.-", "less pressure after the turbine"),
    (
        "exhaust.e-out.bore",
        ["45 mm", "56 mm", "58 mm", "65 mm", "90 mm"],
        "+-.-",
        "a mouth takes the head of its stream, the smaller the more, at every Mach number",
    ),
    (
        "manifold.primaries.bore",
        ["26 mm", "32 mm", "40.9 mm"],
        "+...",
        "less pressure at the ports; but more wall to lose heat through, so it does not wake earlier",
    ),
    ("cold_pipe.c-run.bore", ["36 mm", "44 mm", "60 mm"], "+-..", "less lost on the way"),
    ("intake.filter.drop", ["300 Pa", "900 Pa", "2500 Pa", "5000 Pa"], "-+..", "the compressor sucks from a lower pressure"),
    ("bay.air_speed", ["1 m/s", "6 m/s", "20 m/s"], ".+-.", "hot pipes lose heat before the turbine"),
    ("wastegate.diameter", ["36 mm", "40 mm", "50 mm"], "00..", "while it holds, a larger gate changes nothing"),
]


def answers(project: Project) -> tuple[float, float, float, float]:
    """Power, threshold, gas before the turbine, turbine inlet over plenum at the target."""
    solver = prepare(assemble(project))
    raw = solver.full_load
    found = threshold(solver, raw)
    at = solver.raw(np.linspace(2000.0, solver.path.target.speed, 12))
    assert at.solved[-1]
    s = at.states[-1]
    return (float(s[k.POWER]), found.speed if found else math.inf, float(s[k.T4]), float(s[k.P4] / s[k.P_PLENUM]))


@pytest.mark.parametrize(("place", "values", "signs", "why"), ROWS, ids=[r[0] for r in ROWS])
def test_trends(place: str, values: list[str], signs: str, why: str) -> None:
    """The sign at every step over the range."""
    tarn = shipped.demo("tarn")
    old = get(tarn, place)
    assert isinstance(old, Quantity)
    table = np.array([answers(with_value(tarn, place, parse(v, old.kind))) for v in values])
    for column, sign, name in zip(table.T, signs, ("power", "threshold", "T4", "back-pressure"), strict=True):
        steps = np.diff(column) / np.abs(column[:-1])
        if name == "threshold":
            # Found between two points of a curve that jumps: within a few rev/min
            steps = np.where(np.abs(steps) < 4e-3, 0.0, steps)
        if sign == "+":
            assert (steps > -3e-4).all() and column[-1] > column[0], (name, why, column)
        elif sign == "-":
            assert (steps < 3e-4).all() and column[-1] < column[0], (name, why, column)
        elif sign == "0":
            assert np.abs(steps).max() < 2e-3, (name, why, column)


def test_a_pulley_has_its_price() -> None:
    """Moth: a smaller pulley moves more than the engine takes; what goes round has been paid for, with
    belt power and with heat, and is never free."""
    moth = shipped.demo("moth")
    found = []
    for ratio in ("1.7", "1.9", "2.2", "2.6", "3.0"):
        point = prepare(assemble(with_value(moth, "blower.drive_ratio", parse(ratio, "number")))).at(5000.0)
        assert point.closure.solved
        found.append((point.turbo.opening, point.power, point.stations["compressor_outlet"].temperature))
    opening, power, heat = np.array(found).T
    holding = opening > 0.02
    assert holding.sum() >= 3 and (opening >= 0.0).all()
    assert (np.diff(opening[holding]) > 0.0).all()
    assert (np.diff(power[holding]) < 0.0).all()
    assert (np.diff(heat[holding]) > 0.0).all()
    assert power[holding][0] - power[-1] > 1000.0


def test_a_blower_that_is_short_of_its_boost_is_told() -> None:
    """Moth with a larger pulley: the check fails, its cure is a pulley of a series, and it cures."""
    moth = with_value(shipped.demo("moth"), "blower.drive_ratio", parse("1.4", "number"))
    found = answer(assemble(moth), ())
    check_result = next(v for v in found.check_results if v.id == "blower_boost")
    assert check_result.state == "fails" and (check_result.margin or 0.0) < -0.06
    assert len(check_result.changes) == 1
    ratio = float(check_result.changes[0].value)
    assert abs(ratio / 0.05 - round(ratio / 0.05)) < 1e-6
    after = answer(assemble(with_changes(moth, check_result.changes)), ())
    assert next(v for v in after.check_results if v.id == "blower_boost").state != "fails"
    whole = answer(assemble(shipped.demo("moth")), ())
    assert next(v for v in whole.check_results if v.id == "blower_boost").state == "ok"


def test_rich_and_lean_at_one_amount_of_air() -> None:
    """Common mistake: a leaner mixture is no way to power. At constant air, lambda 0.82 to 0.95
    changes the work by little (an equilibrium cycle says 1.3 %)."""
    tarn = with_value(shipped.demo("tarn"), "engine.ignition", "typed")
    low, high = (prepare(assemble(with_value(tarn, "engine.full_load_lambda", parse(v, "number")))).at(6400.0) for v in ("0.82", "0.95"))
    ratio = (high.indicated / high.air) / (low.indicated / low.air)
    assert 1.0 < ratio < 1.025


def test_ignition_follows_the_fuel() -> None:
    """More octane asks for less retard; less retard gives more power; not for a diesel."""
    tarn = shipped.demo("tarn")
    points = [prepare(assemble(with_value(tarn, "engine.fuel", fuel))).at(3500.0) for fuel in ("petrol95", "petrol98", "petrol102")]
    assert points[0].retard > points[1].retard > points[2].retard > 1.0
    assert points[0].power < points[1].power < points[2].power
    assert prepare(assemble(shipped.demo("skerry"))).at(3000.0).retard == 0.0


def test_lambda_over_speed() -> None:
    """A table of lambda is followed point by point: at its ends the point is that of one lambda."""
    tarn = shipped.demo("tarn")
    table = with_value(with_value(tarn, "engine.lambda_table", ((2500.0, 0.92), (6400.0, 0.78))), "engine.mixture", "table")
    solver = prepare(assemble(table))
    for speed, value in ((2400.0, "0.92"), (6400.0, "0.78")):
        one = prepare(assemble(with_value(tarn, "engine.full_load_lambda", parse(value, "number")))).at(speed)
        point = solver.at(speed)
        # The knock table stands on one lambda: up to 0.4 % of power where the mixture differs from it
        assert point.power == pytest.approx(one.power, rel=4e-3)
        assert point.closure.energy < 1e-6


@pytest.mark.parametrize(
    ("demo", "place", "bore"),
    [
        ("tarn", "cold_pipe.mouth.bore", "19.5 mm"),
        ("fell", "cold_pipe.cone.bore_in", "38.1 mm"),
        ("moth", "hot_pipe.h-run.bore", "13.5 mm"),
    ],
)
def test_a_neck_is_widened_at_once_as_far_as_it_must(demo: str, place: str, bore: str) -> None:
    """What a choked neck holds back comes once it is wide: one press is enough, and the words name the width that there was and the
    last one. Common practice, no source: nobody widens a pipe twice."""
    narrow = with_value(shipped.demo(demo), place, parse(bore, "length"))
    found = answer(assemble(narrow))
    slow = next(v for v in found.check_results if v.id == "charge_mach")
    assert slow.state != OK and slow.cure is not None
    rest = tuple(dataclasses.replace(v, changes=()) for v in found.check_results if v is not slow)
    offered = proved(narrow, dataclasses.replace(found, check_results=(slow, *rest))).check_results[0]
    assert offered.changes and offered.cure is not None
    after = next(v for v in answer(assemble(with_changes(narrow, offered.changes))).check_results if v.id == "charge_mach")
    assert after.state == OK
    words = dict(offered.cure.figures)
    assert words["now"] == dict(slow.cure.figures)["now"]
    assert words["bore"].value == max(c.value for c in offered.changes)  # type: ignore[union-attr,type-var]
    once = next(v for v in answer(assemble(with_changes(narrow, slow.changes))).check_results if v.id == "charge_mach")
    assert once.state != OK, "the first width was enough: another neck is needed here"


@pytest.mark.parametrize("aim", ["2500 rpm", "6000 rpm"])
def test_what_chokes_everywhere_is_widened_for_the_speed_it_chokes_at(aim: str) -> None:
    """A pipe of 8 mm: wherever the target stands, it is widened for the highest engine speed, and everything is solved."""
    tarn = with_value(
        with_value(shipped.demo("tarn"), "cold_pipe.c-run.bore", parse("8 mm", "length")), "goal.target_speed", parse(aim, "rotation")
    )
    lost = next(r for r in answer(assemble(tarn)).check_results if r.id == "closure")
    assert lost.state == FAILS and -1.0 <= (lost.margin or 0.0) < 0.0
    (change,) = lost.changes
    # By hand: 2.4 l at 7000 rev/min and 87 % are 0.122 m3/s; at 345 K, Mach 0.2 of 372 m/s needs 1640 mm2, 46 mm, and the next tube
    assert 0.046 <= float(change.value) < 0.053  # type: ignore[arg-type]
    after = next(r for r in answer(assemble(with_changes(tarn, lost.changes))).check_results if r.id == "closure")
    assert after.state == OK


def test_more_boost_is_never_nearer_to_the_target_past_the_map() -> None:
    """Where power cannot be made, asking for more boost is further off, whatever is in the way first: knock, the map, the gate."""
    fell = shipped.demo("fell")
    margins = []
    for bar in ("1.5 bar", "2 bar", "2.5 bar", "3 bar", "4 bar"):
        found = answer(assemble(with_value(fell, "goal.target_boost", parse(bar, "pressure_gauge"))))
        margins.append(next(v.margin for v in found.check_results if v.id == "target"))
    assert margins == sorted(margins, reverse=True) and margins[0] < 0.0  # type: ignore[type-var]

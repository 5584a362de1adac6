"""A foot that comes off: the orifice by hand, Greitzer's limit, limits of the transient, and sizes that are sold."""

from __future__ import annotations

import dataclasses
import itertools
import math

import numpy as np
import pytest

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.answer.answer import answer
from zarvik.core.blow_off.throttle_closing import (
    greitzer,
    needed_area,
    ratio_left_of_surge,
    room,
    simulate_lift_off,
    size_for,
    spring_window,
)
from zarvik.core.blow_off.valve import VALVES, BlowOff, diameter_of
from zarvik.core.checks import blow_off
from zarvik.core.stock.sizes import openings
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.boost_control import blow_off_of
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse


@pytest.fixture(scope="module")
def solver() -> Solver:
    """The Tarn."""
    return prepare(assemble(shipped.demo("tarn")))


def state_of(solver: Solver, speed: float) -> np.ndarray:
    raw = solver.full_load
    found: np.ndarray = raw.states[int(np.abs(raw.speed - speed).argmin())]
    return found


def test_the_orifice_by_hand(solver: Solver) -> None:
    """Choked air, 0.0404 kg/s for one m2, one Pa and one root K over the root of R of 287 (NACA 1135): the surge flow of the map at
    that ratio, set back to what flows there."""
    s = state_of(solver, 6400.0)
    chart = solver.path.turbo.chart
    corrected = float(np.interp(s[k.MAP_RATIO], [q.ratio[0] for q in chart.lines], [q.flow[0] for q in chart.lines]))
    flow = corrected * s[k.P1] / chart.reference_pressure * math.sqrt(chart.reference_temperature / s[k.T1])
    by_hand = flow * math.sqrt(s[k.T2]) / (0.0404 * s[k.P2])
    assert s[k.P2] > 1.9 * solver.path.site.pressure
    assert needed_area(solver, s) == pytest.approx(by_hand, rel=4e-3)
    assert diameter_of(0.65 * math.pi / 4 * 0.025**2) == pytest.approx(0.025) and BlowOff(0.025).area == pytest.approx(
        0.65 * math.pi / 4 * 0.025**2
    )


def test_the_cubic() -> None:
    """Moore & Greitzer 1986: level at the surge line and at no flow, half of the rise at no flow, up again when turned back."""
    assert (
        ratio_left_of_surge(2.0, 1.0) == 2.0
        and ratio_left_of_surge(2.0, 1.7) == 2.0
        and ratio_left_of_surge(2.0, 0.0) == pytest.approx(1.5)
    )

    def slope(x):
        return (ratio_left_of_surge(2.0, x + 1e-5) - ratio_left_of_surge(2.0, x - 1e-5)) / 2e-5

    assert abs(slope(0.0)) < 1e-4 and abs(slope(1.0)) < 1e-4 and slope(0.5) == pytest.approx(0.75, rel=1e-6) and slope(-0.5) < 0.0


def test_greitzers_limit(solver: Solver) -> None:
    """E. M. Greitzer 1976, linearised: left of the surge line the flow settles where the throttle damps more than the rising slope of the
    compressor feeds, dm/dp gamma R T / V against dp/dm A / L, which is B squared times both slopes against 1; in a larger volume the whole
    build surges. The limit in closed form at 0.74 of the surge flow; a wheel that does not slow down."""
    heavy = dataclasses.replace(solver.path, turbo=dataclasses.replace(solver.path.turbo, inertia=50.0), intake_volume=5e-3)
    s = state_of(solver, 6400.0)

    def with_volume(volume: float) -> Solver:
        runs = dict(heavy.runs)
        now = sum(e.volume for run in ("hot_pipe", "cold_pipe") for e in runs[run])
        for run in ("hot_pipe", "cold_pipe"):
            runs[run] = tuple(dataclasses.replace(e, volume=volume / now * e.volume) for e in runs[run])
        assert heavy.cooler is not None
        build = dataclasses.replace(heavy, cooler=dataclasses.replace(heavy.cooler, volume=0.0), runs=runs)
        return dataclasses.replace(solver, path=build)

    _, length, area = room(with_volume(1e-3))
    quiet = simulate_lift_off(with_volume(6e-5), s, BlowOff(0.0), longest=1.0, left=0.2)
    flow, edge, p = float(quiet.flow[-1]), float(quiet.edge[-1]), float(quiet.pressure[-1])
    x = flow / edge
    assert 0.6 < x < 0.9
    rise = (p - s[k.P1]) / (0.5 + 0.5 * x * x * (3.0 - 2.0 * x))
    feeds = rise * 0.5 * 6.0 * x * (1.0 - x) / edge * area / length
    damps = flow / p * 1.4 * 287.05287 * s[k.T2]
    limit = damps / feeds
    swings = []
    for share in (0.3, 0.6, 1.6, 4.0):
        found = simulate_lift_off(with_volume(share * limit), s, BlowOff(0.0), longest=2.5, left=0.2)
        late = found.flow[len(found.flow) * 3 // 4 :]
        swings.append(float(late.max() - late.min()) / flow)
    assert max(swings[:2]) < 0.05 and min(swings[2:]) > 0.5, (limit, swings)
    # By hand: half the tip speed over the speed of sound, the root of V over A L
    one_litre = with_volume(1e-3)
    wheel = s[k.MAP_SPEED] * heavy.turbo.chart.maximum_speed * math.sqrt(s[k.T1] / heavy.turbo.chart.reference_temperature)
    tip = math.pi * openings(heavy.turbo.chart.lines[-1].flow[-1])[0] / 0.75 * wheel / 60.0
    by_hand = 0.5 * tip / math.sqrt(1.4 * 287.05287 * s[k.T2]) * math.sqrt(1e-3 / (area * length))
    assert greitzer(one_litre, s) == pytest.approx(by_hand, rel=1e-3) and 300.0 < tip < 600.0
    one, four = (greitzer(with_volume(v), s) for v in (1e-3, 4e-3))
    assert four == pytest.approx(2.0 * one)


@pytest.mark.parametrize("demo", ["tarn", "fell"])
def test_two_ways_to_a_size(demo: str) -> None:
    """Independent of each other: the orifice that passes surge flow, and the transient of foot, valve, wheel and plenum, agree to the
    next size that is sold. Without a valve the flow turns back several times; a larger one is never worse."""
    solver = prepare(assemble(shipped.demo(demo)))
    target = solver.path.target.speed
    for speed in (0.7 * target, target):
        s = state_of(solver, speed)
        size = diameter_of(needed_area(solver, s))
        sold = size_for(solver, s, BlowOff(0.0))
        assert sold is not None and 0.85 * size <= sold <= 1.3 * size
        bare = simulate_lift_off(solver, s, BlowOff(0.0))
        assert bare.back >= 2 and bare.peak > s[k.P2]
        below = [simulate_lift_off(solver, s, BlowOff(d)).below for d in VALVES]
        assert all(b <= a + 0.02 for a, b in itertools.pairwise(below)) and below[-1] < 0.1 < bare.below
    fine = simulate_lift_off(solver, s, BlowOff(0.028), step=5e-5)
    coarse = simulate_lift_off(solver, s, BlowOff(0.028))
    assert fine.peak == pytest.approx(coarse.peak, rel=0.01) and fine.below == pytest.approx(coarse.below, abs=0.03)


def test_mass_of_the_pipe(solver: Solver) -> None:
    """With a valve that never opens and a throttle that stays open nothing happens: what flows goes on flowing."""
    s = state_of(solver, 6400.0)
    still = simulate_lift_off(solver, s, BlowOff(0.0), longest=0.05, left=1.0)
    assert still.below == 0.0 and still.back == 0
    assert still.flow[-1] == pytest.approx(s[k.AIR], rel=0.12) and still.pressure[-1] == pytest.approx(s[k.P2], rel=0.08)


def test_checks_and_their_cures(monkeypatch: pytest.MonkeyPatch) -> None:
    """None fitted, too small, vented behind a meter, a spring that stands open at idle or never opens: each is told, and its cure
    makes it hold; a diesel has no throttle, a blower its own bypass."""
    tarn = shipped.demo("tarn")

    def check_result(project: object) -> object:
        return next((v for v in answer(assemble(project)).check_results if v.id == "blow_off"), None)  # type: ignore[arg-type]

    for place, text, kind in (
        ("wastegate.blow_off", "0 mm", "length"),
        ("wastegate.blow_off", "19 mm", "length"),
        ("wastegate.blow_off_pressure", "0.2 bar", "pressure_difference"),
        ("wastegate.blow_off_pressure", "3 bar", "pressure_difference"),
    ):
        project = with_value(tarn, place, parse(text, kind))
        found = check_result(project)
        assert found.state in ("marginal", "fails") and found.changes  # type: ignore[attr-defined]
        assert check_result(with_changes(project, found.changes)).state == "ok"  # type: ignore[attr-defined]
    vented = with_value(with_value(tarn, "wastegate.air_metering", "yes"), "wastegate.blow_off_outlet", "air")
    told = check_result(vented)
    assert told.state == "fails" and check_result(with_changes(vented, told.changes)).state == "ok"  # type: ignore[attr-defined]
    assert check_result(tarn).state == "ok"  # type: ignore[attr-defined]
    assert check_result(shipped.demo("skerry")) is None and blow_off_of(shipped.demo("moth")) is None
    # A compressor that does not work has nothing to blow off
    monkeypatch.setattr(blow_off, "needed_area", lambda *_: 0.0)
    assert check_result(tarn) is None
    low, high = spring_window(1e5)
    assert 0.5e5 < low < 0.75e5 and high == pytest.approx(low + 1e5)

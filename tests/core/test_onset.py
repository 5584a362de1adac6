"""Where the full boost stands: followed by its pressure, against an engine that creeps up from below; curves that are found beside
others."""

from __future__ import annotations

import dataclasses
import math
import random
import threading
import time

import numpy as np
import pytest

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import BoostSchedule
from zarvik.core.airpath.piece_costs import COOLER, piece_costs, power_without
from zarvik.core.airpath.solution import Solver, prepare, sweep_speeds
from zarvik.core.airpath.threshold import NEARLY, branches, crossing, threshold
from zarvik.core.common.identity_cache import FirstEqual
from zarvik.core.common.progress import Stopped, beside, look, watched
from zarvik.core.whole_build.build import Build
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.uncertainty.uncertainty import levers_of, of_the_model

NAMES = ("tarn", "moth", "skerry", "fell")


@pytest.fixture(scope="module", params=NAMES)
def solver(request: pytest.FixtureRequest) -> Solver:
    """Each demo's solver."""
    return prepare(assemble(shipped.demo(request.param), id=request.param))


def crept(solver: Solver, about: float, step: float) -> float:
    """The first speed of so many steps from below at which nearly the full boost stands, each point begun from the one before."""
    low = about - 60.0
    speeds = np.arange(low, about + 60.0, step)
    raw = solver.raw(np.concatenate([np.linspace(0.6 * low, low, 9)[:-1], speeds]))
    high = raw.solved & (raw.states[:, k.P_PLENUM] - solver.path.site.pressure >= NEARLY * solver.path.boost.full)
    return float(raw.speed[int(np.argmax(high))])


@pytest.mark.parametrize("share", [0.55, 0.8, 1.0, 1.2])
def test_the_threshold_is_where_an_engine_that_creeps_up_has_it(solver: Solver, share: float) -> None:
    """In steps of 1 rev/min from below; where it jumps, and where it comes smoothly."""
    build = solver.path
    other = prepare(dataclasses.replace(build, boost=dataclasses.replace(build.boost, full=share * build.boost.full)))
    for every in (1, 3):
        speeds = sweep_speeds(build)
        found = threshold(other, other.raw(np.unique(np.append(speeds[::every], speeds[-1]))))
        if found is None or found.before == found.behind:
            continue
        assert found.behind[0] - found.before[0] <= 4.0
        assert found.before[1] < NEARLY * share * build.boost.full <= found.behind[1]
        assert crept(other, found.speed, 1.0) == pytest.approx(found.speed, abs=2.5)


def test_the_demo_with_two_states_has_its_fold_found() -> None:
    """Tarn jumps on boost: on the curve over pressure the speed falls again before the boost is full, and the look just below stands
    far from it."""
    solver = prepare(assemble(shipped.demo("tarn")))
    raw = solver.full_load
    found, both = threshold(solver, raw), branches(solver, raw)
    assert found is not None and both is not None and both.both.any()
    assert found.before[1] < 0.8 * solver.path.boost.full
    low = float(raw.speed[np.searchsorted(raw.speed, found.before[0]) - 1])
    there = np.geomspace(1.7e5, NEARLY * solver.path.boost.full + solver.path.site.pressure, 30)
    at = int(np.abs(raw.speed - low).argmin())
    speeds, solutions = solver.rise(low, low + 125.0, there, raw.solutions[at])
    assert len(speeds) == len(there)
    assert speeds.max() == pytest.approx(found.speed, abs=3.0) and speeds[-1] < speeds.max() - 5.0
    # The unknowns are the solver's own: at those speeds they close at once.
    for speed, start, pressure in zip(speeds[::6], solutions[::6], there[::6], strict=True):
        point = solver.raw(np.array([speed]), start=start)
        assert point.states[0, k.P_PLENUM] == pytest.approx(pressure, rel=2e-3) and point.states[0, k.ITERATIONS] <= 4.0


@pytest.mark.parametrize("share", [0.6, 1.0])
def test_two_looks_do(solver: Solver, share: float, monkeypatch: pytest.MonkeyPatch) -> None:
    """The rise says where it is; halving is for what it does not find."""
    build = solver.path
    other = prepare(dataclasses.replace(build, boost=dataclasses.replace(build.boost, full=share * build.boost.full)))
    raw = other.full_load
    looks: list[np.ndarray] = []
    real = Solver.at_pressure
    monkeypatch.setattr(Solver, "at_pressure", lambda self, speed, *a, **kw: looks.append(speed) or real(self, speed, *a, **kw))
    assert threshold(other, raw) is not None
    assert len(looks) <= 3


def test_full_boost_from_the_first_speed() -> None:
    """Nothing lies before it: the threshold is that speed; boost that is never reached has none; between two points it stands on the
    line."""
    speed = np.array([1000.0, 1500.0, 2000.0, 2500.0])
    first = crossing(speed, np.array([1.0e5, 1.0e5, 1.0e5, 1.0e5]), 1.0e5)
    assert first is not None and first.speed == 1000.0 and first.before == first.behind == (1000.0, 1.0e5)
    assert crossing(speed, np.full(4, 0.9e5), 1.0e5) is None
    later = crossing(speed, np.array([0.2e5, 0.5e5, 0.9e5, 1.0e5]), 1.0e5)
    assert later is not None and later.before == (2000.0, 0.9e5) and later.behind == (2500.0, 1.0e5)
    assert later.speed == pytest.approx(2000.0 + 500.0 * 0.7)


@pytest.mark.parametrize("share", [0.0, 0.1, 0.5, 0.97, 1.0])
def test_from_which_speed_the_control_asks(share: float) -> None:
    """The inverse of the schedule, over its whole range."""
    schedule = BoostSchedule(1.1e5, 3000.0, 0.55)
    speed = schedule.speed_at(share)
    assert 0.55 * 3000.0 <= speed <= 3000.0
    assert float(schedule.at(speed)) == pytest.approx(share * 1.1e5, abs=1.0)


def test_a_curve_beside_another_is_the_curve_itself(solver: Solver) -> None:
    """With every uncertain entry moved far: the same points as without the other curve, in fewer evaluations."""
    project = shipped.demo(solver.path.id)
    base = solver.full_load
    chance = random.Random(4)
    fewer = []
    for lever in (*levers_of(project), *of_the_model(solver.path)):
        try:
            moved = prepare(lever.move(solver.path, chance.choice([-1.0, 1.0]) * chance.uniform(0.2, 2.0)))
        except ValueError:
            continue
        alone, beside_it = moved.raw(base.speed), moved.raw(base.speed, near=base)
        assert (alone.solved == beside_it.solved).all(), lever.key
        good = alone.solved
        np.testing.assert_allclose(beside_it.solutions[good], alone.solutions[good], atol=3e-6, err_msg=lever.key)
        fewer.append(beside_it.states[good, k.ITERATIONS].sum() / alone.states[good, k.ITERATIONS].sum())
    assert np.mean(fewer) < 0.9


def test_a_curve_at_other_speeds_is_not_taken(solver: Solver) -> None:
    """What was solved at other speeds says nothing."""
    speeds = solver.full_load.speed[2::5]
    one, two = solver.raw(speeds), solver.raw(speeds, near=solver.full_load)
    assert (one.solutions == two.solutions).all()


def test_what_a_loss_costs_found_all_at_once(solver: Solver) -> None:
    """Every piece's cost against a solution of its own from the point with it."""
    build, raw = solver.path, solver.full_load
    near = raw.near(build.target.speed)
    assert near is not None
    costs = piece_costs(solver, build.target.speed, raw.solutions[near])
    base = solver.raw(np.array([build.target.speed]), start=raw.solutions[near])
    power = float(base.power[0])
    assert set(costs) == {e.id for e in build.elements} | ({COOLER} if build.cooler is not None else set())
    for key, cost in costs.items():
        assert cost == pytest.approx(power_without(solver, build.target.speed, key, base.solutions[0]) - power, abs=0.01), key
    assert max(costs.values()) > 100.0


@pytest.mark.parametrize("many", [30, 400])
def test_two_at_a_time_keeps_the_order_and_hears_what_watches(many: int) -> None:
    """In other threads too, `look` asks who watches; what is raised is raised here, and no thread is left."""
    assert beside(lambda n: n * n, range(20), many) == [n * n for n in range(20)]
    told = 0

    def progress(_: float) -> None:
        nonlocal told
        told += 1
        if told > 5:
            raise Stopped

    with watched(progress), pytest.raises(Stopped):
        beside(lambda _: (time.sleep(0.005), look()), range(200), many)
    assert told < 60
    assert not [t for t in threading.enumerate() if t.name.startswith("zarvik-beside")]


def test_equal_values_are_one() -> None:
    """The first of equal values stands for all of them; those that have not been asked for the longest are forgotten."""
    same: FirstEqual[tuple[float, ...]] = FirstEqual(2)
    one = (1.0, math.pi)
    assert same.of(one) is one and same.of((1.0, math.pi)) is one
    same.of((2.0,))
    same.of((3.0,))
    again = (1.0, math.pi)
    assert same.of(again) is again


def test_nothing_flows_and_the_rise_says_so() -> None:
    """From a start that is none, no point closes, and nothing is raised."""
    build: Build = assemble(shipped.demo("skerry"))
    solver = prepare(build)
    for start in (np.full(k.UNKNOWNS, np.nan), np.full(k.UNKNOWNS, 50.0), np.zeros(k.UNKNOWNS)):
        speeds, solutions = solver.rise(1500.0, 1600.0, np.array([1.5e5, 1.6e5]), start)
        assert len(speeds) == len(solutions) <= 2

"""From a closed throttle to boost: the rotor, the gas in the pipes, the car; and fuel by the pump's quantity.

Independent of the program's own integrator: energies summed by hand from the trace, Newton's second law with
SciPy, and the steady point that a long wait has to end in.
"""

from __future__ import annotations

import dataclasses
import math
from itertools import pairwise

import cantera
import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.optimize import fsolve

from zarvik.core.airpath import kernel, sweep
from zarvik.core.airpath import slots as k
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.ducts import march
from zarvik.core.spool.pull import pull
from zarvik.core.turbine.rotor import inertia
from zarvik.core.vehicle.car import Car
from zarvik.core.whole_build.build import Build
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble


@pytest.fixture(scope="module")
def tarn() -> Build:
    """The hill-climb petrol."""
    return assemble(shipped.demo("tarn"))


@pytest.fixture(scope="module")
def skerry() -> Build:
    """The diesel."""
    return assemble(shipped.demo("skerry"))


def with_rotor(build: Build, factor: float) -> Build:
    """The same with another inertia of its rotor."""
    turbo = dataclasses.replace(build.turbo, inertia=build.turbo.rotor * factor)
    return dataclasses.replace(build, turbo=turbo)


def test_a_long_wait_ends_in_the_steady_point(tarn: Build) -> None:
    """Where the turbine cannot give the boost, the trace settles at what the steady solver finds there."""
    solver = prepare(tarn)
    found = pull(solver, 2600.0, longest=60.0)
    raw = solver.at_pressure(np.linspace(1200.0, 2600.0, 8), np.full(8, tarn.site.pressure + tarn.boost.full))
    steady = raw.states[-1, k.P_PLENUM] - tarn.site.pressure
    assert math.isinf(found.seconds) and found.boost[-1] == pytest.approx(steady, rel=0.01)


def test_the_rotor_gains_what_it_is_given(tarn: Build) -> None:
    """One step of the kernel against J/2 (w1^2 - w0^2) / dt worked out here: F_SHAFT with and without it."""
    solver = prepare(tarn)
    point = solver.full_load
    i = int(np.nonzero(point.solved)[0][10])
    x = point.solutions[i].copy()
    # As the sweep hands it over, so that nothing is compiled anew
    packed = sweep.at_point(solver.packed, solver.mixtures(point.speed[i : i + 1], None), 0)
    site = packed[k.SITE]
    pieces = np.zeros((len(solver.rows), march.RESULTS))
    state, f = np.zeros(k.POINT_SIZE), np.zeros(k.UNKNOWNS)
    call = (packed, solver.bounds, float(point.breathing[i]), float(point.speed[i]), float(point.wanted[i]), x)
    kernel.residuals(*call, f, pieces, state)
    before, shaft, air = f[k.F_SHAFT], state[k.SHAFT], state[k.AIR]
    wheel = math.exp(x[k.X_WHEEL]) * site[k.MAP_MAXIMUM] * 2.0 * math.pi / 60.0
    # Nothing is stored in pipes of no volume; 7e-5 kg m2 from 90 % of its speed in 20 ms.
    site[k.PER_STEP], site[k.INERTIA], site[k.WHEEL_BEFORE] = 50.0, 7e-5, 0.9 * wheel
    kernel.residuals(*call, f, pieces, state)
    power = 0.5 * 7e-5 * (1.0 - 0.81) * wheel**2 / 0.02
    assert (before - f[k.F_SHAFT]) * (air * 1e4 + abs(shaft)) == pytest.approx(power, rel=1e-9)
    # The pipes: 5 L that had held 2 % less, and 2 L that had held nothing
    now = state[k.P_PLENUM] * 5e-3 / (solver.gas[0] * state[k.T_PLENUM])
    site[k.INERTIA], site[k.VOLUME], site[k.CHARGE_BEFORE] = 0.0, 5e-3, 0.98 * now
    kernel.residuals(*call, f, pieces, state)
    stored = 50.0 * 0.02 * now
    assert state[k.AIR] == pytest.approx(air - stored, rel=1e-9)
    site[k.VOLUME], site[k.CHARGE_BEFORE], site[k.HOT_VOLUME] = 0.0, 0.0, 2e-3
    kernel.residuals(*call, f, pieces, state)
    gas = 50.0 * state[k.P4] * 2e-3 / (packed[k.BURNT][0] * state[k.T4])
    assert f[k.F_EXHAUST] * (air + state[k.FUEL]) == pytest.approx(gas, rel=1e-4)


def free(solver: Solver, speed: float, wheel: float, start: np.ndarray) -> tuple[np.ndarray, float, float]:
    """The path at a wheel speed that is given (rad/s), by SciPy's root finder: unknowns, surplus of shaft power
    in W, boost in Pa gauge."""
    build = solver.path
    packed = sweep.at_point(solver.packed, solver.mixtures(np.array([speed]), None), 0)
    pieces = np.zeros((len(solver.rows), march.RESULTS))
    state, f = np.zeros(k.POINT_SIZE), np.zeros(k.UNKNOWNS)
    wanted = build.site.pressure + build.boost.full
    breath = float(build.engine.breathing.at(speed))
    place = math.log(wheel * 30.0 / math.pi / solver.packed[k.SITE][k.MAP_MAXIMUM])
    rest = [j for j in range(k.UNKNOWNS) if j != k.X_WHEEL]

    def left(some: np.ndarray) -> np.ndarray:
        x = start.copy()
        x[rest] = some
        x[k.X_WHEEL] = place
        kernel.residuals(packed, solver.bounds, breath, speed, wanted, x, f, pieces, state)
        return np.delete(f, k.F_SHAFT)

    some = fsolve(left, start[rest], xtol=1e-10)
    left(some)
    found = start.copy()
    found[rest] = some
    found[k.X_WHEEL] = place
    surplus = state[k.TURBINE_POWER] * 0.96 - state[k.SHAFT]
    return found, float(surplus), float(state[k.P_PLENUM] - build.site.pressure)


def test_against_another_integrator(tarn: Build) -> None:
    """J w dw/dt = surplus, by SciPy's Runge-Kutta over the path without volumes, solved by SciPy's root finder:
    the same seconds to half of the boost."""
    no_volume = dataclasses.replace(tarn, intake_volume=0.0, cooler=dataclasses.replace(tarn.cooler, volume=0.0))
    runs = {n: tuple(dataclasses.replace(e, volume=0.0) for e in r) for n, r in tarn.runs.items()}
    solver = prepare(dataclasses.replace(no_volume, runs=runs))
    speed = 4000.0
    mine = pull(solver, speed, step=0.0025)
    half = 0.5 * tarn.boost.full
    at = int(np.argmax(mine.boost >= half))
    begin = 12  # past the opening of the throttle
    J = solver.path.turbo.rotor
    wanted = np.full(1, tarn.site.pressure + tarn.boost.full)
    guess = solver.at_pressure(np.array([speed]), wanted, breath=0.6).solutions[0]
    keep = {"x": guess}

    def slope(_: float, w: np.ndarray) -> list[float]:
        keep["x"], surplus, _ = free(solver, speed, float(w[0]), keep["x"])
        return [surplus / (J * float(w[0]))]

    span = mine.time[at] - mine.time[begin]
    start = mine.wheel[begin] * math.pi / 30.0
    other = solve_ivp(slope, (0.0, span), [start], rtol=1e-5, max_step=0.05)
    assert other.y[0, -1] * 30.0 / math.pi == pytest.approx(mine.wheel[at], rel=0.01)


def test_seconds_follow_the_rotor_and_the_pipes(tarn: Build) -> None:
    """A heavier rotor, larger pipes, less engine speed: later, without a jump, over a wide range."""
    base = prepare(tarn)
    before = 0.0
    for factor in np.geomspace(0.25, 8.0, 11):
        found = pull(prepare(with_rotor(tarn, float(factor))), 4200.0).seconds
        assert found > before
        before = found
    ratio = pull(prepare(with_rotor(tarn, 4.0)), 4200.0).seconds / pull(prepare(with_rotor(tarn, 2.0)), 4200.0).seconds
    assert 1.7 < ratio < 2.05  # the rotor is most of it, the pipes the rest
    times = [pull(base, n).seconds for n in np.arange(3200.0, 6600.0, 200.0)]
    assert all(b < a for a, b in pairwise(times))
    bigger = dataclasses.replace(tarn, intake_volume=tarn.intake_volume + 20e-3)
    assert pull(prepare(bigger), 4200.0).seconds > 1.02 * pull(base, 4200.0).seconds
    # Half the step moves it by less than 2 %.
    fine = pull(base, 4200.0, step=0.005).seconds
    assert pull(base, 4200.0).seconds == pytest.approx(fine, rel=0.02)


def test_the_car_gains_what_the_engine_gives(tarn: Build) -> None:
    """Work at the wheels = kinetic energy + rolling + air, summed here from the trace with the numbers of a 980 kg
    car in a gear of 1.6 and a final drive of 3.9 on 600 mm tyres."""
    car = Car(mass=980.0, gear_ratio=1.6, final_drive=3.9, tyre_diameter=0.600, drag_area=0.70, drive=0.85)
    build = dataclasses.replace(tarn, car=car)
    found = pull(prepare(build), 3000.0, car=build.car)
    assert math.isfinite(found.seconds) and found.reached > 3300.0
    v = found.speed / 60.0 * math.pi * 0.600 / (1.6 * 3.9)
    dt = found.time[1] - found.time[0]
    work = float(np.sum(0.85 * found.power[:-1])) * dt
    turning = 980.0 * (1.04 + 0.0025 * (1.6 * 3.9) ** 2)
    air = float(np.sum(0.5 * 1.2 * 0.70 * v[:-1] ** 3)) * dt
    rolling = float(np.sum(0.013 * 980.0 * 9.80665 * v[:-1])) * dt
    assert work - air - rolling == pytest.approx(0.5 * turning * (v[-1] ** 2 - v[0] ** 2), rel=0.01)


def test_seconds_are_what_drivers_know(tarn: Build) -> None:
    """A petrol with a turbo of 62 mm: some seconds just above its threshold, 0.4 to 1 s at two thirds of its
    revs; a wheel of 50 mm half of that (common practice, no source)."""
    solver = prepare(tarn)
    assert 1.5 < pull(solver, 3200.0).seconds < 5.0
    assert 0.4 < pull(solver, 4700.0).seconds < 1.0


def test_a_rotor_weighs_what_rotors_weigh() -> None:
    """A rotor of 60 mm has some 5e-5 kg m2 (from memory: 4 to 7); one twice as large 32 times that (D^5)."""
    assert 4e-5 < inertia(0.060, 0.066) < 7e-5
    assert inertia(0.120, 0.132) == pytest.approx(32.0 * inertia(0.060, 0.066), rel=1e-12)
    # A turbine alone: 0.0056 of 8,190 kg/m3 and the fifth power of 0.05 m
    assert inertia(0.05, 0.0) == pytest.approx(0.0056 * 8190.0 * 3.125e-7, rel=1e-12)


def test_a_blower_has_no_rotor_to_wait_for() -> None:
    """It turns with the crank: no seconds are told."""
    assert math.isnan(pull(prepare(assemble(shipped.demo("moth"))), 4000.0).seconds)


def pumped(build: Build, *rows: tuple[float, float], leanest: float = 0.0) -> Build:
    """The diesel with its fuel by quantity."""
    engine = dataclasses.replace(build.engine, delivery=rows, leanest=leanest, mixture=())
    return dataclasses.replace(build, engine=engine)


def test_quantity_and_lambda_say_the_same(skerry: Build) -> None:
    """The fuel that a lambda gives, said as a quantity, brings the same point back: two ways through the kernel."""
    speeds = np.arange(1500.0, 4200.0, 300.0)
    by_lambda = prepare(skerry).sweep(speeds)
    rows = tuple((p.speed, p.fuel / 832.0 * 120.0 / p.speed / skerry.engine.cylinders) for p in by_lambda)
    solver = prepare(pumped(skerry, *rows))
    for one, two in zip(by_lambda, solver.sweep(speeds), strict=True):
        assert two.closure.solved and two.power == pytest.approx(one.power, rel=1e-4)
        assert solver.lambda_of(two) == pytest.approx(skerry.engine.lambda_, rel=1e-4)
        assert two.stations["turbine_inlet"].temperature == pytest.approx(one.stations["turbine_inlet"].temperature, rel=1e-4)


def test_lambda_by_hand(skerry: Build) -> None:
    """70 mm3 at 3,000 rpm: 832 kg/m3 * 70e-9 * 4 cylinders * 25 injections a second each; the air over 14.4 to
    14.6 of that (stoichiometric by Cantera from C1H1.85)."""
    build = pumped(skerry, (3000.0, 70e-9))
    point = prepare(build).at(3000.0)
    fuel = 832.0 * 70e-9 * build.engine.cylinders * 3000.0 / 120.0
    assert point.fuel == pytest.approx(fuel, rel=1e-6)
    gas = cantera.Solution("gri30.yaml")
    # Oxygen for C1H1.85: 1 + 1.85/4; air by mass from Cantera's own elements
    weights = {e: gas.atomic_weight(e) for e in ("C", "H", "O", "N", "Ar")}
    moles = 1.0 + 1.85 / 4.0
    air = moles * (2 * weights["O"] + 3.7274 * 2 * weights["N"] + 0.0444 * weights["Ar"])
    stoichiometric = air / (weights["C"] + 1.85 * weights["H"])
    dry = point.air * (1.0 - build.site.air.mass_fraction("H2O"))
    assert prepare(build).lambda_of(point) == pytest.approx(dry / (fuel * stoichiometric), rel=3e-3)


def test_more_fuel_more_of_everything(skerry: Build) -> None:
    """A pump turned up in small steps: more boost where the gate is shut, hotter gas, less lambda, more power;
    no jump."""
    last = None
    for volume in np.arange(30.0, 90.0, 5.0):
        solver = prepare(pumped(skerry, (3000.0, volume * 1e-9)))
        point = solver.at(2200.0)
        assert point.closure.solved
        now = (point.power, point.boost, point.stations["turbine_inlet"].temperature, -solver.lambda_of(point))
        if last is not None:
            assert all(b > a for a, b in zip(last, now, strict=True)), volume
            assert now[0] < 1.3 * last[0]
        last = now


def test_a_limiter_holds_the_smoke_back(skerry: Build) -> None:
    """Full fuel at 1,400 rpm smokes black; a limiter at 1.25 holds lambda there exactly, and leaves the top as it
    is."""
    free_pump = prepare(pumped(skerry, (3000.0, 75e-9)))
    held = prepare(pumped(skerry, (3000.0, 75e-9), leanest=1.25))
    low_free, low = free_pump.at(1400.0), held.at(1400.0)
    assert free_pump.lambda_of(low_free) < 1.0
    assert held.lambda_of(low) == pytest.approx(1.25, rel=1e-6) and low.power < low_free.power
    top_free, top = free_pump.at(3900.0), held.at(3900.0)
    assert top.power == pytest.approx(top_free.power, rel=1e-6) and held.lambda_of(top) > 1.25


def test_energy_closes_with_a_quantity(skerry: Build) -> None:
    """Every point of a sweep with a pump that gives far too much and far too little."""
    for volume in (8e-9, 40e-9, 120e-9):
        for point in prepare(pumped(skerry, (3000.0, volume))).sweep(np.arange(1200.0, 4200.0, 400.0)):
            if point.closure.solved:
                assert point.closure.energy < 1e-6 and point.closure.mass < 1e-6
    assert prepare(pumped(skerry, (3000.0, 40e-9))).full_load.solved.all()

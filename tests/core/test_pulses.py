"""What pulses add at a turbine: against the same balance written down and integrated otherwise, in the limits that have
closed forms, and in the trends that builders know."""

from __future__ import annotations

import dataclasses
import itertools
import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.interpolate import PchipInterpolator

from zarvik.core.airpath.exhaust_pulses import groups, pulsed_entries
from zarvik.core.airpath.solution import prepare
from zarvik.core.turbine.monotone import curve_of
from zarvik.core.turbine.pulses import Factors, PulsedEntry, factors, pulse_factors, table
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.edits import edits
from zarvik.project.units.units import parse

TURN = 2.0 * math.pi
SWEPT, PISTON = 0.45e-3, 0.25 * math.pi * 0.081**2
FOUR = PulsedEntry((0.0, 0.5 * TURN, TURN, 1.5 * TURN), SWEPT, PISTON, 9.5, 1.6e-3)
AREA = 5.5e-4


def nozzle(pressure: float, temperature: float, behind: float) -> float:
    """kg/s through one m2 (NACA Report 1135, eq. 43 and 99), nothing backwards; gamma 1.32, R 287 J/(kg K)."""
    g = 1.32
    if pressure <= behind:
        return 0.0
    mach = min(math.sqrt(2.0 / (g - 1.0) * ((pressure / behind) ** ((g - 1.0) / g) - 1.0)), 1.0)
    part = (1.0 + 0.5 * (g - 1.0) * mach**2) ** (-0.5 * (g + 1.0) / (g - 1.0))
    return pressure * math.sqrt(g / (287.0 * temperature)) * mach * part


def independent(beats: PulsedEntry, area: float, speed: float, ratio: float, behind: float = 1.05e5) -> tuple[float, float, float]:
    """Work and flow factor and mean pressure ratio: unknowns are mass and internal energy of every cylinder and of the
    volume, integrated by SciPy's stiff solver with errors of 1e-6; the crank with its own formula."""
    g, r = 1.32, 287.0
    cv, cp = r / (g - 1.0), g * r / (g - 1.0)
    count = len(beats.fires)
    omega = speed * TURN / 60.0
    charge = area * nozzle(ratio * behind, 1100.0, behind) * 120.0 / speed / count
    least = 1.15 * beats.cylinder
    gate = 0.0
    if charge < least:
        gate, charge = area * (least / charge - 1.0), least
    hot = (cp * 1100.0 - ratio * behind * beats.cylinder / charge) / cv
    opens, closes = math.radians(130.0), math.radians(370.0)

    def over(angle: float) -> float:
        # Piston by its pin: crank radius 1, rod 1 / 0.3
        rod = 1.0 / beats.rod
        down = 1.0 + rod - math.cos(angle) - math.sqrt(rod**2 - math.sin(angle) ** 2)
        return beats.cylinder * (1.0 / (beats.compression - 1.0) + 0.5 * down)

    def rates(t: float, y: np.ndarray) -> np.ndarray:
        out = np.zeros_like(y)
        held, energy = y[-4], y[-3]
        temperature = energy / (held * cv)
        p = held * r * temperature / beats.volume
        turbine, past = area * nozzle(p, temperature, behind), gate * nozzle(p, temperature, behind)
        out[-4] -= turbine + past
        out[-3] -= (turbine + past) * cp * temperature
        out[-2] = p
        out[-1] = turbine
        for c in range(count):
            angle = (omega * t - beats.fires[c]) % (2.0 * TURN)
            if not opens <= angle < closes:
                continue
            m, u = y[2 * c], y[2 * c + 1]
            tc = u / (m * cv)
            v = over(angle)
            pc = m * r * tc / v
            lift = math.sin(math.pi * (angle - opens) / (closes - opens)) ** 2
            valve = 0.11 * beats.piston * min(1.0, 1.6 * lift)
            if pc >= p:
                flow = valve * nozzle(pc, tc, p)
                carried = flow * cp * tc
            else:
                flow = -valve * nozzle(p, temperature, pc)
                carried = flow * cp * temperature
            slope = (over(angle + 1e-4) - over(angle - 1e-4)) / 2e-4 * omega
            out[2 * c], out[2 * c + 1] = -flow, -carried - pc * slope
            out[-4] += flow
            out[-3] += carried
        return out

    y = np.zeros(2 * count + 4)
    y[: 2 * count : 2], y[1 : 2 * count : 2] = charge, charge * cv * hot
    y[-4] = 1.3 * behind * beats.volume / (r * 950.0)
    y[-3] = y[-4] * cv * 950.0
    edges = sorted({(f + a) % (2.0 * TURN) for f in beats.fires for a in (opens, closes)} | {0.0})
    works = 0.0
    for cycle in range(8):
        last = cycle == 7
        y[-2] = y[-1] = 0.0
        dense_t, dense_y = [], []
        for begin, end in zip(edges, [*edges[1:], 2.0 * TURN], strict=True):
            for c in range(count):
                if abs(math.remainder(begin - beats.fires[c] - opens, 2.0 * TURN)) < 1e-9:
                    y[2 * c], y[2 * c + 1] = charge, charge * cv * hot
            found = solve_ivp(
                rates,
                ((begin + 1e-9) / omega, (end - 1e-9) / omega),
                y,
                method="LSODA",
                rtol=1e-6,
                atol=1e-10,
                max_step=math.radians(4.0) / omega,
                dense_output=last,
            )
            if last:
                t = np.linspace(found.t[0], found.t[-1], 400)
                dense_t.append(t)
                dense_y.append(found.sol(t))
            y = found.y[:, -1]
        if last:
            cycle_time = 2.0 * TURN / omega
            mean_p, mean_m = y[-2] / cycle_time, y[-1] / cycle_time
            mean_head = 1.0 - (mean_p / behind) ** (-(g - 1.0) / g)
            total_t = 0.0
            for t, state in zip(dense_t, dense_y, strict=True):
                temperature = state[-3] / (state[-4] * cv)
                p = state[-4] * r * temperature / beats.volume
                flow = np.array([area * nozzle(a, b, behind) for a, b in zip(p, temperature, strict=True)])
                drop = 1.0 - np.maximum(p / behind, 1.0) ** (-(g - 1.0) / g)
                nu = np.sqrt(mean_head / np.maximum(drop, 1e-12))
                share = nu * (2.0 - nu)
                share = np.where((share < 0.1) & (nu > 1.0), 0.1 * np.exp(np.minimum((share - 0.1) / 0.1, 0.0)), share)
                works += np.trapezoid(flow * cp * temperature * drop * share, t) / cycle_time
                total_t += np.trapezoid(flow * temperature, t) / cycle_time
            mean_t = total_t / mean_m
            steady = area * nozzle(mean_p, mean_t, behind)
            work = works / mean_m / (cp * mean_t * mean_head)
    return work, mean_m / steady, mean_p / behind


@pytest.mark.parametrize(
    ("beats", "area", "speed", "ratio"),
    [
        (FOUR, AREA, 2500.0, 1.35),
        (dataclasses.replace(FOUR, fires=(0.0, TURN), volume=0.8e-3), 0.5 * AREA, 3000.0, 1.6),
        (dataclasses.replace(FOUR, fires=(0.0, TURN * 2 / 3, TURN * 4 / 3), volume=0.7e-3), AREA, 5000.0, 2.2),
        (dataclasses.replace(FOUR, volume=0.5e-3), AREA, 5500.0, 1.35),
    ],
)
def test_against_a_stiff_solver(beats: PulsedEntry, area: float, speed: float, ratio: float) -> None:
    """Independent: other unknowns, other crank formula, other integration."""
    mine = factors(beats, area, speed=speed, ratio=ratio, steps=2880)
    work, flow, mean = independent(beats, area, speed, ratio)
    assert mine.work == pytest.approx(work, abs=0.006)
    assert mine.flow == pytest.approx(flow, abs=0.004)
    assert mine.ratio == pytest.approx(mean, abs=0.006)
    coarse = factors(beats, area, speed=speed, ratio=ratio)
    assert coarse.work == pytest.approx(mine.work, abs=0.02) and coarse.flow == pytest.approx(mine.flow, abs=0.01)


def test_a_large_room_is_constant_pressure() -> None:
    """Closed form: a room that is much larger than a cylinder holds its pressure, and all factors are 1 (Watson & Janota
    1982, ch. 7: constant pressure turbocharging)."""
    still = factors(dataclasses.replace(FOUR, volume=0.2), AREA, speed=3000.0, ratio=1.6)
    assert still.work == pytest.approx(1.0, abs=2e-3) and still.flow == pytest.approx(1.0, abs=2e-3)
    assert still.peak - still.trough < 0.02


def test_many_cylinders_are_nearly_steady() -> None:
    """Twelve that fire one after the other into a common room beat less than four, and those less than two."""

    def added(count: int) -> float:
        fires = tuple(2.0 * TURN * i / count for i in range(count))
        beats = dataclasses.replace(FOUR, fires=fires, cylinder=1.8e-3 / count, piston=4.0 * PISTON / count)
        return factors(beats, AREA, speed=2500.0, ratio=1.4).work - 1.0

    assert added(2) > 2.0 * added(4) > 8.0 * added(12) > 0.0


def test_what_a_divided_housing_brings() -> None:
    """Two scrolls, paired by firing order, keep more of the pulses at low speed than one: 10 to 25 % more work at an
    expansion ratio of 1.5 and 2,500 rev/min for a four (N. Watson, M. S. Janota 1982, ch. 7; values from memory, as a
    band), and little at the top (common practice, no source)."""
    half = dataclasses.replace(FOUR, fires=(0.0, TURN), volume=0.5 * FOUR.volume)
    one, two = table((FOUR,), AREA, 900.0, 7200.0), table((half, half), AREA, 900.0, 7200.0)

    def power(pulses: np.ndarray, speed: float, ratio: float) -> float:
        work, flow, _ = pulse_factors(pulses, speed, ratio)
        return work * flow

    low = power(two, 2500.0, 1.5) / power(one, 2500.0, 1.5)
    assert 1.0 < low < 1.25
    assert pulse_factors(two, 2500.0, 1.5)[0] / pulse_factors(one, 2500.0, 1.5)[0] > 1.10
    assert power(two, 6500.0, 2.2) / power(one, 6500.0, 2.2) == pytest.approx(1.0, abs=0.02)


@pytest.mark.parametrize("what", ["volume", "speed", "ratio"])
def test_trends(what: str) -> None:
    """More room, more speed, more pressure: the pulses count less, without a jump; never below steady gas."""
    found: list[Factors] = []
    for share in np.linspace(0.0, 1.0, 30):
        volume = 0.4e-3 * 15.0**share if what == "volume" else 1.2e-3
        speed = 1200.0 * 6.0**share if what == "speed" else 2500.0
        ratio = 1.08 * 2.6**share if what == "ratio" else 1.4
        found.append(factors(dataclasses.replace(FOUR, volume=volume), AREA, speed=speed, ratio=ratio))
    work = [f.work for f in found]
    assert all(b < a + 2e-3 for a, b in itertools.pairwise(work)) and min(work) > 0.998
    assert max(abs(a - b) for a, b in itertools.pairwise(work)) < 0.12 * (max(work) - 1.0)
    assert all(0.6 < f.flow <= 1.004 for f in found)


def test_the_table_is_what_was_worked_out() -> None:
    """What the kernel reads between its nodes: within three hundredths of the factors themselves, five
    at idle; smooth at the nodes."""
    packed = table((FOUR,), AREA, 900.0, 7200.0)
    for speed in (1000.0, 1500.0, 2600.0, 5000.0, 7200.0):
        for steady in (1.15, 1.5, 2.2):
            exact = factors(FOUR, AREA, speed=speed, ratio=steady)
            work, flow, overlap = pulse_factors(packed, speed, exact.ratio)
            assert overlap == pytest.approx(exact.overlap, abs=0.06)
            assert work == pytest.approx(exact.work, abs=0.03 if speed > 1200.0 else 0.05)
            assert flow == pytest.approx(exact.flow, abs=0.025)
    ratios = np.linspace(1.0, 4.5, 1500)
    values = np.array([pulse_factors(packed, 2200.0, r) for r in ratios])
    assert np.abs(np.diff(values, 2, axis=0)).max() < 2e-3
    assert pulse_factors(np.zeros(1), 2000.0, 1.5) == (1.0, 1.0, 1.0)
    half = table((FOUR,), AREA, 900.0, 7200.0, 0.5)
    assert pulse_factors(half, 2000.0, 1.4)[0] - 1.0 == pytest.approx(0.5 * (pulse_factors(packed, 2000.0, 1.4)[0] - 1.0))


def test_who_beats_on_what() -> None:
    """Two scrolls take every other cylinder of the firing order; two hot sides of a V take a bank each, half of a row
    each; the room is that of the pieces, the ports and the housing."""
    tarn = assemble(shipped.demo("tarn"))
    assert groups(tarn) == ((1, 3, 4, 2),)
    project = shipped.demo("tarn")
    twin = assemble(edits.with_value(project, f"turbos.{project.turbo}.turbine.scrolls", parse("2", "count")))
    assert groups(twin) == ((1, 4), (3, 2))
    fell = assemble(shipped.demo("fell"))
    assert groups(fell) == ((1, 5, 2, 3, 4),)
    entries, area = pulsed_entries(tarn)
    assert area == pytest.approx(tarn.turbo.turbine.area)
    by_hand = tarn.hot_volume + 0.16 * tarn.engine.displacement + tarn.turbo.turbine.volute
    assert entries[0].volume == pytest.approx(by_hand, abs=1e-6)
    assert len(entries[0].delays) == 4 and all(0.4 < d < 0.5 for d in entries[0].delays)
    both, whole = pulsed_entries(fell)
    assert both[0].volume < 0.5 * (fell.hot_volume + 2.0 * fell.turbo.turbine.volute + 0.16 * fell.engine.displacement) + 1e-6
    assert whole == pytest.approx(fell.turbo.turbine.area)


def test_more_of_them_wakes_earlier() -> None:
    """Boost before full boost grows with the share that is counted; power on the gate stays."""
    project = shipped.demo("tarn")
    boosts, powers = [], []
    for share in ("0 %", "50 %", "100 %", "150 %"):
        solver = prepare(assemble(edits.with_value(project, f"turbos.{project.turbo}.turbine.pulses", parse(share, "ratio"))))
        boosts.append(solver.at(2400.0).boost)
        powers.append(solver.at(6400.0).power)
    assert boosts == sorted(boosts) and boosts[2] > 1.5 * boosts[0]
    assert max(powers) == pytest.approx(min(powers), rel=2e-3)


def test_a_curve_that_keeps_its_shape() -> None:
    """As SciPy's PCHIP in value and slope, on 400 random rows: steps, flats, turns, two points, values far apart."""
    rng = np.random.default_rng(11)
    for n in range(400):
        count = int(rng.integers(2, 12))
        x = np.cumsum(rng.uniform(0.01, 2.0, count))
        y = np.cumsum(rng.normal(size=count)) if n % 3 else np.round(rng.normal(size=count))
        at = np.concatenate([rng.uniform(x[0], x[-1], 40), x])
        value, slope = curve_of(x, y, at)
        known = PchipInterpolator(x, y)
        scale = 1.0 + float(np.abs(y).max())
        assert np.allclose(value, known(at), atol=1e-12 * scale)
        assert np.allclose(slope, known(at, 1), atol=1e-9 * scale / float(np.diff(x).min()))

"""Probes, what stands near, what carries: against the library of heat transfer, closed forms and what the trade knows."""

from __future__ import annotations

import itertools
import math

import ht
import numpy as np
import pytest
from scipy.integrate import solve_bvp, solve_ivp
from scipy.optimize import brentq

from zarvik.core.heat import clearance
from zarvik.core.heat.probes import EMISSIVITY, SHEATH, cylinder_nusselt, probe_reading
from zarvik.core.manifold import turbo_weight
from zarvik.core.materials.metals import METALS

SIGMA = 5.670374419e-8


@pytest.mark.parametrize("reynolds", [12.0, 300.0, 4.2e3, 6e4, 4e5])
def test_a_cylinder_across(reynolds: float) -> None:
    """Independent: the library's Churchill-Bernstein, and within 25 % of Zukauskas and of Whitaker where those hold."""
    expected = ht.Nu_cylinder_Churchill_Bernstein(Re=reynolds, Pr=0.71)
    assert cylinder_nusselt(reynolds) == pytest.approx(expected, rel=1e-9)
    if 1e3 < reynolds < 1e5:
        assert cylinder_nusselt(reynolds) == pytest.approx(ht.Nu_cylinder_Zukauskas(Re=reynolds, Pr=0.71), rel=0.25)


USUAL = {"gas": 1150.0, "wall": 1020.0, "flux": 75.0, "viscosity": 4.4e-5, "conductivity": 0.078, "diameter": 0.003, "depth": 0.015}


def test_a_probe_against_the_fins_equation() -> None:
    """Independent: the stem as a boundary problem with T^4 radiation along all of its length, integrated; its tip without heat."""
    h = cylinder_nusselt(75.0 * 0.003 / 4.4e-5) * 0.078 / 0.003

    def stem(x: np.ndarray, y: np.ndarray) -> np.ndarray:
        given = h * (y[0] - 1150.0) + EMISSIVITY * SIGMA * (y[0] ** 4 - 1020.0**4)
        return np.vstack([y[1], 4.0 * given / (SHEATH * 0.003)])

    x = np.linspace(0.0, 0.015, 200)
    guess = np.vstack([np.full(200, 1100.0), np.zeros(200)])
    found = solve_bvp(stem, lambda a, b: np.array([a[0] - 1020.0, b[1]]), x, guess, tol=1e-6)
    shown = probe_reading(**USUAL)
    assert shown.shown == pytest.approx(float(found.sol(0.015)[0]), abs=0.5)
    assert shown.error == shown.shown - 1150.0 and 1020.0 < shown.shown < 1150.0
    assert shown.late == pytest.approx(8400.0 * 530.0 * 0.003 / (4.0 * h), rel=0.4)


def test_probes_over_their_range() -> None:
    """Common practice, no source: a thick one and a short one read less, one port's beats less than the stream behind the
    collector, a bare cold wall less; thin ones follow faster. Some 10 to 60 K low in a hot exhaust."""
    assert -60.0 < probe_reading(**USUAL).error < -5.0
    for name, values in (("diameter", (0.0015, 0.003, 0.0045, 0.006)), ("wall", (1140.0, 1050.0, 900.0, 700.0))):
        errors = [probe_reading(**{**USUAL, name: v}).error for v in values]
        assert errors == sorted(errors, reverse=True)
    deep = [probe_reading(**{**USUAL, "depth": d}).error for d in (0.004, 0.008, 0.015, 0.03)]
    assert deep == sorted(deep)
    beats = [probe_reading(**USUAL, blows=b).error for b in (1.0, 0.6, 0.33)]
    assert beats == sorted(beats, reverse=True)
    late = [probe_reading(**{**USUAL, "diameter": d}).late for d in (0.0015, 0.003, 0.006)]
    assert late == sorted(late) and 0.5 < late[0] < late[2] < 25.0
    # Deep, it is radiation alone: the library's Nusselt number at the flow of a beat, a third of the time
    inside = 0.33 * ht.Nu_cylinder_Churchill_Bernstein(Re=75.0 / 0.33 * 0.003 / 4.4e-5, Pr=0.71) * 0.078 / 0.003
    tip = brentq(lambda t: inside * (1150.0 - t) - EMISSIVITY * SIGMA * (t**4 - 1020.0**4), 1020.0, 1150.0)
    assert probe_reading(**{**USUAL, "depth": 0.5}, blows=0.33).shown == pytest.approx(tip, abs=1e-3)
    assert probe_reading(**{**USUAL, "wall": 1150.0}).error == pytest.approx(0.0, abs=1e-6)
    for wrong in ({"depth": 0.0}, {"flux": 0.0}):
        with pytest.raises(ValueError, match="probe"):
            probe_reading(**{**USUAL, **wrong})
    with pytest.raises(ValueError, match="probe"):
        probe_reading(**USUAL, blows=1.2)


@pytest.mark.parametrize(("radius", "away", "sight"), [(0.03, 0.06, 0.5), (0.03, 0.25, 0.5), (0.024, 0.1, 0.12), (0.03, 0.05, 50.0)])
def test_the_view_of_a_pipe(radius: float, away: float, sight: float) -> None:
    """Closed form by another way: cosine-weighted rays from a small face that looks at a pipe are counted. Without end it is R / s."""
    rng = np.random.default_rng(3)
    count = 400_000
    r = np.sqrt(rng.random(count))
    turn = 2.0 * math.pi * rng.random(count)
    ray = np.column_stack([r * np.cos(turn), r * np.sin(turn), np.sqrt(1.0 - r * r)])  # z towards the pipe, y along it
    s = radius + away
    a, b = ray[:, 0] ** 2 + ray[:, 2] ** 2, s * ray[:, 2]
    inside = b * b - a * (s * s - radius * radius)
    hit = inside > 0.0
    along = np.where(hit, (b - np.sqrt(np.maximum(inside, 0.0))) / a * ray[:, 1], 0.0)
    share = float((hit & (np.abs(along) <= 0.5 * sight)).mean())
    assert float(clearance.view(away, radius, sight)) == pytest.approx(share, rel=0.04)
    if sight > 10.0:
        assert share == pytest.approx(radius / s, abs=4e-3)


def test_a_part_near_a_pipe() -> None:
    """The balance once more with a pencil at the temperature that is found; a sheet between two, in a vacuum, is the text-book
    fourth root: T^4 = (a T1^4 + b T2^4) / (a + b) of two resistances in a row."""
    t = float(clearance.balance(np.array([950.0]), np.array([0.3]), emissivity=0.5, air=335.0, convection=20.0)[0])
    got = SIGMA * 0.3 / (1.0 / 0.9 + 1.0) * (950.0**4 - t**4)
    assert got == pytest.approx(2.0 * 20.0 * (t - 335.0) + SIGMA * 0.9 * 1.7 * (t**4 - 335.0**4), rel=1e-9)
    sheet = float(clearance.shield(np.array([950.0]), emissivity=0.5, air=335.0, convection=0.0)[0])
    a, b = 1.0 / (1.0 / 0.25 + 1.0 / 0.5 - 1.0), 0.25
    assert sheet == pytest.approx(((a * 950.0**4 + b * 335.0**4) / (a + b)) ** 0.25, rel=1e-9)


USUAL_BAY = {"radius": 0.032, "emissivity": 0.75, "heat": 6500.0, "air": 335.0, "convection": 35.0}


def distance(skin: float, key: str, **values: float) -> tuple[float, float]:
    at = next(i for i, thing in enumerate(clearance.THINGS) if thing.key == key)
    return clearance.clearances(skin, **{**USUAL_BAY, **values})[at]


def warmest(
    skin: float, gap: float, thing: clearance.Thing, emissivity: float = 0.75, *, heat: float = 6500.0, shielded: bool = False
) -> tuple[float, float]:
    """Running and soaked, in K: balances by bracketing and SciPy's integrator, from the physics as a text book gives it."""
    eps_p, eps_s = 0.9, 0.25

    def between(one: float, two: float) -> float:
        return SIGMA / (1.0 / one + 1.0 / two - 1.0)

    radius = 0.032 + (0.012 if shielded else 0.0)
    s, z = radius + gap, 0.25
    a = s - 0.25 * math.pi * radius
    seen = radius / s * 2.0 / math.pi * (z * a / (a * a + z * z) + math.atan2(z, a))

    def sheet(skin_: float, air: float, h: float) -> float:
        return float(
            brentq(
                lambda t: between(emissivity, eps_s) * (skin_**4 - t**4) - 2 * h * (t - air) - SIGMA * eps_s * (t**4 - air**4), air, skin_
            )
        )

    def gives(source: float, glow: float, t: float, air: float, h: float) -> float:
        return between(glow, eps_p) * seen * (source**4 - t**4) - 2 * h * (t - air) - SIGMA * eps_p * (2 - seen) * (t**4 - air**4)

    source, glow = (sheet(skin, 335.0, 35.0), eps_s) if shielded else (skin, emissivity)
    running = float(brentq(lambda t: gives(source, glow, t, 335.0, 35.0), 335.0, source))
    hot = 360.0

    def rates(_: float, y: np.ndarray) -> list[float]:
        if shielded:
            passed = between(emissivity, eps_s) * (y[0] ** 4 - y[1] ** 4)
            return [
                -(6.0 * (y[0] - hot) + passed) / heat,
                (passed - 12.0 * (y[1] - hot) - SIGMA * eps_s * (y[1] ** 4 - hot**4)) / 2000.0,
                gives(y[1], eps_s, y[2], hot, 6.0) / thing.heat,
            ]
        return [
            -(6.0 * (y[0] - hot) + SIGMA * emissivity * (y[0] ** 4 - hot**4)) / heat,
            0.0,
            gives(y[0], emissivity, y[2], hot, 6.0) / thing.heat,
        ]

    found = solve_ivp(rates, (0.0, 900.0), [skin, source, running], rtol=1e-8, max_step=5.0)
    return running, float(found.y[2].max())


@pytest.mark.parametrize("shielded", [False, True])
@pytest.mark.parametrize(("skin", "heat"), [(870.0, 6500.0), (1060.0, 28400.0)])
def test_at_the_clearance_a_part_is_at_its_limit(skin: float, heat: float, shielded: bool) -> None:
    """Independent: at the gap that is given the part is just at what it stands, running or soaked, unless a floor decides."""
    decided = 0
    for i, thing in enumerate(clearance.THINGS):
        gap = clearance.clearances(skin, **{**USUAL_BAY, "heat": heat})[i][shielded]
        running, soaked = warmest(skin, gap - (0.012 if shielded else 0.0), thing, heat=heat, shielded=shielded)
        least = clearance.floor_shielded(thing) if shielded else clearance.floor_bare(skin, thing)
        over = max(running - thing.stands, soaked - thing.peak)
        assert over < 1.0
        if gap > least + 1e-6:
            decided += 1
            assert over == pytest.approx(0.0, abs=1.0)
    assert decided or (shielded and skin < 900.0)


def test_clearance_is_what_the_trade_keeps() -> None:
    """Common practice, no source: a full hand (75 to 100 mm) from a bare exhaust of 435 to 600 °C to a rubber hose, or a shield with
    a finger (18 mm) to a hard line; never less than the engine moves, whatever the heat says; a glowing primary asks for more."""
    for celsius in (435.0, 560.0, 600.0):
        bare, shielded = distance(celsius + 273.15, "rubber")
        assert 0.075 <= bare <= 0.120 and 0.018 <= shielded <= 0.040
    assert 0.10 < distance(768.0 + 273.15, "rubber")[0] < 0.25
    assert distance(833.0, "line")[1] == pytest.approx(0.018, abs=0.001)
    for thing in clearance.THINGS:
        for skin in (280.0, 340.0, 420.0, 700.0, 1100.0):
            assert min(distance(skin, thing.key)) >= clearance.ENGINE_MOVEMENT + 0.006 - 1e-12


@pytest.mark.parametrize("thing", clearance.THINGS, ids=lambda t: t.key)
def test_clearance_over_its_range(thing: clearance.Thing) -> None:
    """Never less for a hotter, wider, blacker, heavier pipe, warmer air or less breeze; a shield never asks for more than none;
    no jumps; what stands more comes nearer."""
    skins = np.linspace(300.0, 1250.0, 49)
    both = np.array([distance(float(t), thing.key) for t in skins])
    assert (np.diff(both, axis=0) >= -1e-9).all() and (both[:, 1] <= both[:, 0] + 1e-12).all()
    assert float(np.max(np.diff(both[:, 0]))) < 0.03 and both[0, 0] < 0.03 < 0.1 < both[-1, 0]
    for name, values in (
        ("radius", (0.01, 0.02, 0.04, 0.08)),
        ("emissivity", (0.2, 0.4, 0.6, 0.9)),
        ("heat", (3e3, 1e4, 3e4, 6e4)),
        ("air", (293.0, 320.0, 340.0, 355.0)),
        ("convection", (80.0, 40.0, 20.0, 8.0)),
    ):
        found = np.array([distance(1000.0, thing.key, **{name: v}) for v in values])
        assert (np.diff(found, axis=0) >= -1e-6).all(), name
    assert distance(900.0, thing.key, air=thing.stands) == (math.inf, math.inf)
    order = [distance(1000.0, key)[0] for key in ("silicone", "rubber", "plastic")]
    assert order == sorted(order)


def test_creep_of_published_tables() -> None:
    """304: 1,000 h rupture some 75 MPa at 700 °C, 28 to 35 MPa at 800 °C, mild steel a tenth of it; ASM Metals Handbook vol. 1
    (memory, within 40 %). It falls all the way, also past the table."""
    assert turbo_weight.creep("stainless", 973.15) == pytest.approx(75e6, rel=0.4)
    assert turbo_weight.creep("mild_steel", 973.15) < 0.15 * turbo_weight.creep("stainless", 973.15)
    for key in turbo_weight.CREEP:
        values = [turbo_weight.creep(key, t) for t in np.linspace(700.0, 1400.0, 80)]
        assert all(b <= a for a, b in itertools.pairwise(values)) and values[-1] > 0.0
    with pytest.raises(KeyError):
        turbo_weight.creep("wood", 900.0)


def test_weight_by_hand() -> None:
    """7 kg that shake fourfold 235 mm out on four tubes of 48.3 x 3.7: W = π/32 (48.3⁴ − 40.9⁴) / 48.3 = 5.374 cm³; 3.00 MPa. Thin
    tubes of a heavy turbo at 850 °C are past what they stand: common practice, no source, is to brace them."""
    assert turbo_weight.modulus(0.0483, 0.0037) == pytest.approx(5.374e-6, rel=2e-3)
    stress = turbo_weight.bending(7.0, 0.235, diameter=0.0483, wall=0.0037, pipes=4)
    assert stress == pytest.approx(4.0 * 9.80665 * 7.0 * 0.235 / (4.0 * 5.374e-6), rel=2e-3)
    assert stress < 0.5 * turbo_weight.creep("stainless", 1070.0)
    thin = turbo_weight.bending(turbo_weight.turbo_mass(0.088), 0.30, diameter=0.0424, wall=0.00165, pipes=4)
    assert thin > turbo_weight.creep("stainless", 1123.0)
    assert turbo_weight.turbo_mass(0.05) == 5.0 and 9.0 < turbo_weight.turbo_mass(0.076) < 13.0


def test_a_pipe_between_hangers() -> None:
    """The beam's own equation: pinned at both ends the first shape is a half sine, cos(k L) cosh(k L) plays no part: sin(k L) = 0,
    from its root by SciPy. Hangers follow mass and length; nothing is hung by one alone."""
    root = brentq(math.sin, 2.0, 4.0)
    inertia, area = math.pi / 64.0 * (0.0635**4 - 0.0603**4), math.pi / 4.0 * (0.0635**2 - 0.0603**2)
    expected = (root / 1.1) ** 2 * math.sqrt(193e9 * inertia / (7900.0 * area)) / (2.0 * math.pi)
    assert turbo_weight.hanging_frequency(0.0635, 0.0016, 1.1, 193e9, 7900.0) == pytest.approx(expected, rel=1e-9)
    kind = {"grows": 0.01, "diameter": 0.0635, "wall": 0.0016, "stuff": METALS["stainless"], "hot": 700.0, "cylinders": 4, "limit": 7000.0}
    assert turbo_weight.hanger_plan(mass=4.0, length=0.6, **kind).hangers == 2
    heavy = turbo_weight.hanger_plan(mass=23.0, length=3.0, **kind)
    assert heavy.hangers == 5 and heavy.between == pytest.approx(0.6)
    long = turbo_weight.hanger_plan(mass=9.0, length=3.9, **kind)
    assert long.hangers == 4 and 0.0 < long.swings < 7000.0
    assert long.swings * 4 / 120.0 == pytest.approx(
        turbo_weight.hanging_frequency(0.0635, 0.0016, 0.975, 193e9 + (127e9 - 193e9) * (700.0 - 293.15) / 780.0, 7900.0)
    )

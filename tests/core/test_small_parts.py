"""Threads, leaks, joints, runners, oil and fuel: against printed sizes, closed forms and integrations that share no code."""

from __future__ import annotations

import math

import fluids
import pytest
from scipy.integrate import solve_ivp

from zarvik.core.fluid_lines import fuel, oil
from zarvik.core.intake import runner_tuning
from zarvik.core.joints import hose_joints
from zarvik.core.joints.threads import THREADS, boss_height, depth_needed, engaged, wall_needed
from zarvik.core.leak_test import leaks


@pytest.mark.parametrize(
    ("key", "drill"),
    [
        ("M5", 4.2),
        ("M6", 5.0),
        ("M8", 6.8),
        ("M10", 8.5),
        ("M12", 10.2),
        ("M16", 14.0),
        ("M10×1", 9.0),
        ("M12×1.5", 10.5),
        ("M14×1.5", 12.5),
        ("M18×1.5", 16.5),
        ("M22×1.5", 20.5),
    ],
)
def test_tap_drills_of_iso_2306(key: str, drill: float) -> None:
    """ISO 2306, printed tenths; M18 × 1.5 is the lambda probe's, M12 × 1.5 and M14 × 1.5 those of sensors."""
    assert 1e3 * THREADS[key].drill == pytest.approx(drill, abs=0.051)


@pytest.mark.parametrize(
    ("key", "turns", "outside", "hand", "drill"),
    [
        ("1/16 NPT", 27.0, 0.3125, 0.160, 0.246),
        ("1/8 NPT", 27.0, 0.405, 0.1615, 0.339),
        ("1/4 NPT", 18.0, 0.540, 0.2278, 0.4375),
        ("3/8 NPT", 18.0, 0.675, 0.240, 0.578),
        ("1/2 NPT", 14.0, 0.840, 0.320, 0.719),
    ],
)
def test_taper_threads_of_asme(key: str, turns: float, outside: float, hand: float, drill: float) -> None:
    """ASME B1.20.1, table 2 (turns, outside of the pipe, L1) and the drills of its appendix (memory): a quarter NPT is drilled 7/16 in,
    11.1 mm."""
    t = THREADS[key]
    assert (t.major / 0.0254, 0.0254 / t.pitch, t.hand / 0.0254, t.drill / 0.0254) == pytest.approx((outside, turns, hand, drill), rel=1e-6)
    # The drill stays under the small end of a thread of 1 in 16: outside less 0.8 of a pitch and the taper along L1
    small = t.major - 1.6 * t.pitch
    assert small - 0.6e-3 < t.drill < t.major


def test_pipe_threads_of_iso() -> None:
    """ISO 228-1 and ISO 7-1: G1/8 9.728 x 28, G1/4 13.157 x 19, G1/2 20.955 x 14; gauge length of R1/4 6.0 mm (memory)."""
    for key, major, turns in (("G1/8", 9.728, 28), ("G1/4", 13.157, 19), ("G1/2", 20.955, 14)):
        assert THREADS[key].major == pytest.approx(1e-3 * major) and 0.0254 / THREADS[key].pitch == pytest.approx(turns)
    assert THREADS["R1/4"].hand == pytest.approx(0.006) and not THREADS["G1/4"].taper and THREADS["R1/4"].taper
    assert all(t.drill < t.major and t.pitch > 0.0 for t in THREADS.values())


def test_walls_and_bosses() -> None:
    """M6 in steel 4 mm, in aluminium 6 mm; a tube of 1.65 mm takes none: it gets a boss. Taper: hand tight and two turns."""
    six = THREADS["M6"]
    assert wall_needed(six, "stainless") == pytest.approx(0.004) and wall_needed(six, "aluminium") == pytest.approx(0.006)
    assert boss_height(six, "stainless", 0.00165) == pytest.approx(0.00235) and boss_height(six, "stainless", 0.012) == 0.0
    quarter = THREADS["1/4 NPT"]
    assert wall_needed(quarter, "stainless") == pytest.approx(0.2278 * 0.0254 + 2.0 * 0.0254 / 18.0)
    assert depth_needed(six, "stainless") == pytest.approx(0.006 + 0.0025 / math.tan(math.radians(59.0)))
    assert engaged(six, 0.0037) == pytest.approx(3.7)


# ---- leaks --------------------------------------------------------------------------------------


def test_a_hole_by_hand() -> None:
    """1 mm, 2 bar absolute at 320 K: choked, 0.62 A p √(1.4 / (287.05287 · 320)) · 0.57870 (NACA 1135, table I: A/A* 1): 0.220 g/s."""
    area = 0.25 * math.pi * 1e-6
    expected = 0.62 * area * 2e5 * math.sqrt(1.4 / (287.05287 * 320.0)) * (2.0 / 2.4) ** 3
    assert leaks.hole_flow(1e-3, 2e5, 320.0, 1e5) == pytest.approx(expected, rel=1e-4)
    assert leaks.hole_flow(1e-3, 0.9e5, 320.0, 1e5) == 0.0


def test_a_leak_down_against_an_integration() -> None:
    """Independent: mass in the volume integrated by SciPy with its own orifice; and while it chokes the closed form, an exponential
    with tau = V / (C A √(γ R T) 0.57870)."""
    volume, t, diameter = 0.012, 293.0, 1.4e-3

    def flow(p: float) -> float:
        ratio = p / 1.013e5
        area = 0.62 * 0.25 * math.pi * diameter**2
        mach = min(math.sqrt(5.0 * (ratio ** (0.4 / 1.4) - 1.0)), 1.0) if ratio > 1.0 else 0.0
        return area * p * math.sqrt(1.4 / (287.05287 * t)) * mach * (1.0 + 0.2 * mach**2) ** -3.0

    seconds = leaks.fall_time(diameter, volume, 2.4e5, 1.5e5, t, 1.013e5)
    found = solve_ivp(lambda s, y: [-flow(y[0]) * 287.05287 * t / volume], (0.0, seconds), [2.4e5], rtol=1e-9, atol=1e-3).y[0, -1]
    assert found == pytest.approx(1.5e5, rel=1e-4)
    tau = volume / (0.62 * 0.25 * math.pi * diameter**2 * math.sqrt(1.4 * 287.05287 * t) * (2.0 / 2.4) ** 3)
    assert leaks.fall_time(diameter, volume, 2.4e5, 2.0e5, t, 1.013e5) == pytest.approx(tau * math.log(1.2), rel=1e-3)
    assert leaks.equivalent_hole(volume, 2.4e5, 1.5e5, seconds, t, 1.013e5) == pytest.approx(diameter, rel=1e-9)
    for wrong in ((2e5, 2.1e5), (2e5, 0.9e5)):
        with pytest.raises(ValueError, match="falls"):
            leaks.fall_time(1e-3, volume, *wrong, t, 1.013e5)


# ---- joints, runners ----------------------------------------------------------------------------


def test_end_force_by_hand() -> None:
    """1.5 bar on 63.5 mm: 475 N; a T-bolt clamp holds that on an oily tube, a worm drive not 2.5 bar on 100 mm."""
    assert hose_joints.end_force(1.5e5, 0.0635) == pytest.approx(475.0, abs=0.5)
    tbolt = hose_joints.CLAMPS["tbolt"]
    worm = hose_joints.margin(hose_joints.CLAMPS["worm"], pressure=2.5e5, diameter=0.1, oily=True, bead=False)
    assert worm < 0.0 < hose_joints.margin(tbolt, pressure=1.5e5, diameter=0.0635, oily=True, bead=False)
    assert hose_joints.margin(tbolt, pressure=0.0, diameter=0.06, oily=True, bead=True) == math.inf
    assert hose_joints.holding_force(hose_joints.CLAMPS["none"], oily=False, bead=True) == 0.0


def test_a_flask_and_a_pipe() -> None:
    """Closed forms: a 1 L flask with a neck of 20 mm, 50 mm long: f = c / 2π √(A / (V (L + 0.3 d))). A runner that is found rings where it
    was asked to."""
    assert runner_tuning.helmholtz(343.0, 0.02, 0.05, 1e-3) == pytest.approx(
        343.0 / (2 * math.pi) * math.sqrt(3.14159e-4 / (1e-3 * 0.056)), rel=1e-5
    )
    long = runner_tuning.runner_for(5200.0, 345.0, 0.042, 0.6e-3, 9.6)
    assert 0.15 < long < 0.6 and runner_tuning.ram_speed(345.0, 0.042, long, 0.6e-3, 9.6) == pytest.approx(5200.0)
    speeds = [runner_tuning.ram_speed(345.0, 0.042, x, 0.6e-3, 9.6) for x in (0.1, 0.2, 0.4, 0.8)]
    assert speeds == sorted(speeds, reverse=True)
    assert runner_tuning.warmed(5000.0, 300.0, 348.0) == pytest.approx(5385.2, abs=0.1)


# ---- oil, fuel ----------------------------------------------------------------------------------


def test_oil_in_a_restrictor() -> None:
    """Hagen and Poiseuille in a long thin bore, the root of the pressure in a short wide one: each limit by the library; a journal
    bearing's restrictor of 1 to 2 mm at 4 bar lets 2 to 5 L a minute through: common practice, no source."""
    nu = oil.viscosity("10w40", 373.15)
    assert 1e6 * nu == pytest.approx(14.6, rel=1e-3) and 1e6 * oil.viscosity("10w40", 313.15) == pytest.approx(98.0, rel=1e-3)
    assert 1e6 * oil.viscosity("10w40", 393.15) == pytest.approx(9.4, rel=0.06)  # leaflets: 9 to 10 at 120 °C
    long = oil.feed_flow(0.0008, 0.5, 2e5, nu)
    v = long / (0.25 * math.pi * 0.0008**2)
    re = v * 0.0008 / nu
    assert re < 300.0
    assert fluids.friction_laminar(re) * 0.5 / 0.0008 * 0.5 * 830.0 * v * v == pytest.approx(2e5, rel=0.05)
    short = oil.feed_flow(0.002, 1e-5, 4e5, nu)
    assert short == pytest.approx(0.75 * 0.25 * math.pi * 4e-6 * math.sqrt(2.0 * 4e5 / 830.0), rel=0.02)
    low, high = oil.WANTS["journal"]
    assert low < oil.feed_flow(0.0016, 0.004, 4e5, oil.viscosity("10w40", 368.0)) < high
    assert oil.restrictor_for(short, 1e-5, 4e5, nu) == pytest.approx(0.002, rel=1e-6)
    assert oil.feed_flow(0.001, 0.01, 0.0, nu) == 0.0
    with pytest.raises(KeyError):
        oil.viscosity("olive", 350.0)


def test_a_drain_of_sixteen_millimetres() -> None:
    """Common practice, no source: 16 mm, within 30 degrees of straight down, carries what a journal bearing gets through a restrictor, 2 to
    3 L/min, and not four times as much; 8 mm hardly off level does not; what does not fall does not drain. With a pencil: foam of 0.3
    rubs like oil and weighs 0.3 of it, 16 mm at 60 degrees half full with 18.5 cSt lets 6.65 L/min of foam through, 2.0 of oil."""
    nu = oil.viscosity("10w40", 373.15)
    least, most = oil.WANTS["journal"]
    assert least < oil.drain_flow(0.016, math.radians(60.0), nu) < 1.6 * least
    foam = 0.5 * math.pi * 0.016**4 * 0.3 * 9.80665 * math.sin(math.radians(60.0)) / (128.0 * 18.5e-6)
    assert foam * 6e4 == pytest.approx(6.65, abs=0.05) and oil.drain_flow(0.016, math.radians(60.0), 18.5e-6) == pytest.approx(0.3 * foam)
    assert oil.drain_flow(0.008, math.radians(5.0), nu) < most
    assert oil.drain_flow(0.016, 0.0, nu) == 0.0


def test_injectors_by_hand() -> None:
    """550 cc/min at 3 bar, four of them, 0.745 kg/L, the engine asks for 23 g/s: 6.829 g/s each held open, 84.2 % open; with a regulator
    that does not follow 1.1 bar of boost √(1.9 / 3) of it, 105.8 %. A boost over the base is refused."""
    kind = {"fuel": 0.023, "count": 4, "rated": 550e-6 / 60.0, "rated_at": 3e5, "base": 3e5, "boost": 1.1e5, "density": 745.0}
    follows, fixed = fuel.injection(**kind, follows=True), fuel.injection(**kind, follows=False)
    assert follows.duty == pytest.approx(0.842, abs=1e-3) and fixed.duty == pytest.approx(0.842 * math.sqrt(3.0 / 1.9), abs=2e-3)
    assert follows.rail == pytest.approx(4.1e5) and fixed.rail == 3e5 and follows.pumped == pytest.approx(0.023 / 745.0)
    need = {k: v for k, v in kind.items() if k != "rated"}
    assert fuel.injector_for(**need, follows=True) * 60e6 == pytest.approx(550.0 * 0.842 / 0.85, rel=2e-3)
    with pytest.raises(ValueError, match="nothing is injected"):
        fuel.injection(**{**kind, "boost": 3.2e5}, follows=False)
    assert fuel.line_speed(31e-6, 0.008) == pytest.approx(31e-6 / 5.0265e-5, rel=1e-3)

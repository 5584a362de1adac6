"""Engine: displacement, breathing, friction and power in the bands of textbook and trade."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from reference_tables import band
from zarvik.core.engine import engine as eng
from zarvik.core.engine.breathing import ARCHETYPES, Breathing, from_archetype
from zarvik.core.gas.combustion import FUELS
from zarvik.core.gas.mixture import mix
from zarvik.core.gas.species import DRY_AIR

AIR = mix(DRY_AIR).packed
POUND_PER_MINUTE = 0.45359237 / 60.0
HP = 745.6998715822702
TARN = eng.Engine(
    4, 0.088, 0.0985, 9.6, from_archetype("long_runner", peak_speed=4700, peak=0.97),
    FUELS["petrol98"], 0.82, 900.0, 7000.0, 1.3e5,
)  # fmt: skip


def test_displacement() -> None:
    """Closed form: the van engine of the demo has 2.396 litres."""
    assert TARN.displacement == pytest.approx(2.3964e-3, rel=1e-4)
    assert TARN.piston_speed(np.array([6000.0]))[0] == pytest.approx(19.7)


def test_air_demand_by_hand() -> None:
    """Closed form: VE rho V n / 2, at the temperature where VE is understood."""
    found = eng.air_demand(AIR, 2.0e-3, 0.9, 6000.0, 1.0e5, 298.15)
    density = 1.0e5 / (287.05 * 298.15)
    assert found == pytest.approx(0.9 * density * 2.0e-3 * 6000 / 120, rel=1e-4)


def test_one_bar_of_boost_doubles_the_air() -> None:
    """Common practice, no source: 1 bar gauge, sea level, cool charge: about twice the air."""
    plain = eng.air_demand(AIR, 2.4e-3, 0.9, 5000.0, 101325.0, 298.15)
    boosted = eng.air_demand(AIR, 2.4e-3, 0.9, 5000.0, 201325.0, 313.15)
    low, high = band("trade_bands", "air_ratio_at_one_bar")
    assert low <= boosted / plain <= high


def test_hot_charge_is_half_as_bad_as_its_density() -> None:
    """Heywood 1988, sec. 6.2.4: VE grows with the root of temperature, air falls with the root."""
    cool = eng.air_demand(AIR, 2.4e-3, 0.9, 5000.0, 2e5, 300.0)
    hot = eng.air_demand(AIR, 2.4e-3, 0.9, 5000.0, 2e5, 360.0)
    assert hot / cool == pytest.approx(math.sqrt(300.0 / 360.0), rel=1e-9)


@pytest.mark.parametrize(
    ("case", "speed", "indicated"),
    [("friction_bar_at_2000_rpm", 2000.0, 9e5), ("friction_bar_at_6000_rpm", 6000.0, 11e5)],
)
def test_friction_band(case: str, speed: float, indicated: float) -> None:
    """Published band: Heywood fig. 13-14, naturally aspirated petrol engines."""
    found = eng.friction_pressure(TARN, np.array([speed]), np.array([indicated]))[0] / 1e5
    low, high = band("heywood_bands", case)
    assert low <= found <= high


def test_indicated_efficiency_band() -> None:
    """Published band: gross indicated efficiency of petrol engines at full load."""
    low, high = band("heywood_bands", "indicated_efficiency_r_9_6")
    assert low <= eng.indicated_efficiency(TARN) <= high
    assert eng.ideal_efficiency(9.6) == pytest.approx(1 - 9.6**-0.28)


@pytest.mark.parametrize("speed", [3000.0, 4500.0, 6400.0])
@pytest.mark.parametrize("lambda_", [0.78, 0.82, 0.88])
def test_power_per_air(speed: float, lambda_: float) -> None:
    """Common practice, no source: 8.3 to 11 crank hp per lb/min; bsfc 260 to 360 g/kWh."""
    engine = dataclasses.replace(TARN, lambda_=lambda_)
    air = eng.air_demand(AIR, engine.displacement, 0.93, speed, 2.04e5, 335.0)
    made = eng.work(engine, np.array([speed]), np.array([air]), 0.99, np.array([0.0]))
    low, high = band("trade_bands", "petrol_hp_per_lb_min")
    assert low <= (made.power[0] / HP) / (air / POUND_PER_MINUTE) <= high
    low, high = band("trade_bands", "petrol_turbo_bsfc_g_kwh")
    assert low <= made.fuel[0] / made.power[0] * 3.6e9 <= high


def test_small_engine_of_the_trade() -> None:
    """Common practice, no source: 1.6 L, four valves, 8,000 rpm, 0.75 bar: 260 to 300 hp, before
    back-pressure takes its part (here up to 10 % more)."""
    engine = dataclasses.replace(
        TARN, bore=0.081, stroke=0.0776, compression=9.0,
        breathing=Breathing((8000.0,), (1.0,)), rev_limit=8500.0, lambda_=0.8,
    )  # fmt: skip
    air = eng.air_demand(AIR, engine.displacement, 1.0, 8000.0, 1.763e5, 318.0)
    made = eng.work(engine, np.array([8000.0]), np.array([air]), 0.99, np.array([0.0]))
    assert 240 <= made.power[0] / HP <= 330


def test_pumping_takes_work() -> None:
    """Closed form: 1 bar of pumping on 2.4 litres at 6000 rpm takes 12 kW."""
    air = np.array([0.25])
    speed = np.array([6000.0])
    none = eng.work(TARN, speed, air, 1.0, np.array([0.0])).power[0]
    some = eng.work(TARN, speed, air, 1.0, np.array([1e5])).power[0]
    assert none - some == pytest.approx(1e5 * TARN.displacement * 50.0, rel=1e-9)


def test_torque_is_power_over_speed() -> None:
    """Closed form."""
    made = eng.work(TARN, np.array([4000.0]), np.array([0.15]), 1.0, np.array([0.0]))
    assert made.torque[0] == pytest.approx(made.power[0] / (4000 * math.pi / 30), rel=1e-12)


@pytest.mark.parametrize("key", list(ARCHETYPES))
def test_archetypes_peak_where_they_say(key: str) -> None:
    """The peak stands at its speed, the curve is smooth and stays positive."""
    curve = from_archetype(key, peak_speed=5000.0, peak=0.95)
    speeds = np.linspace(500.0, 12000.0, 400)
    values = curve.at(speeds)
    assert values.max() == pytest.approx(0.95, rel=1e-3)
    assert speeds[int(values.argmax())] == pytest.approx(5000.0, abs=60.0)
    assert (values > 0.3).all()
    assert np.abs(np.diff(values)).max() < 0.02


def test_breathing_table_is_met_exactly() -> None:
    """A table is exact at its points and held flat outside of them."""
    curve = Breathing((1000.0, 3000.0, 6000.0), (0.8, 0.95, 0.85))
    assert curve.at(np.array([1000.0, 3000.0, 6000.0])) == pytest.approx([0.8, 0.95, 0.85])
    assert curve.at(np.array([200.0, 9000.0])) == pytest.approx([0.8, 0.85])

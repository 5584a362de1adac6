"""Engine: displacement, breathing, friction and power in the bands of textbook and trade."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from CoolProp.CoolProp import PropsSI

from reference_tables import band
from zarvik.core.engine import engine as eng
from zarvik.core.engine.breathing import ARCHETYPES, Breathing, from_archetype
from zarvik.core.gas.combustion import FUELS
from zarvik.core.gas.mixture import mix
from zarvik.core.gas.properties import enthalpy
from zarvik.core.gas.species import DRY_AIR

AIR = mix(DRY_AIR).packed
POUND_PER_MINUTE = 0.45359237 / 60.0
HP = 745.6998715822702
TARN = eng.Engine(
    4, 0.088, 0.0985, 9.6, from_archetype("long_runner", peak_speed=4700, peak=0.97),
    FUELS["petrol98"], 0.82, 900.0, 7000.0, 1.3e5,
)  # fmt: skip


def made(
    engine: eng.Engine, speed: float, air: float, pumping: float = 0.0, dry: float = 0.99
) -> tuple[float, float]:
    """Crank power in W and fuel in kg/s from the relations that the solver uses."""
    swept = engine.displacement * speed / 120.0
    burnt = engine.burnt
    indicated = eng.indicated_efficiency(engine) * burnt.heat_per_air * air * dry / swept
    piston = float(engine.piston_speed(np.array([speed]))[0])
    friction = eng.friction_mean_pressure(piston, indicated)
    return (indicated - friction - pumping) * swept, air * dry * burnt.fuel_per_air


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
    piston = float(TARN.piston_speed(np.array([speed]))[0])
    found = eng.friction_mean_pressure(piston, indicated) / 1e5
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
    power, fuel = made(engine, speed, air)
    low, high = band("trade_bands", "petrol_hp_per_lb_min")
    assert low <= (power / HP) / (air / POUND_PER_MINUTE) <= high
    low, high = band("trade_bands", "petrol_turbo_bsfc_g_kwh")
    assert low <= fuel / power * 3.6e9 <= high


def test_small_engine_of_the_trade() -> None:
    """Common practice, no source: 1.6 L, four valves, 8,000 rpm, 0.75 bar: 260 to 300 hp, before
    back-pressure takes its part (here up to 10 % more)."""
    engine = dataclasses.replace(
        TARN, bore=0.081, stroke=0.0776, compression=9.0,
        breathing=Breathing((8000.0,), (1.0,)), rev_limit=8500.0, lambda_=0.8,
    )  # fmt: skip
    air = eng.air_demand(AIR, engine.displacement, 1.0, 8000.0, 1.763e5, 318.0)
    assert 240 <= made(engine, 8000.0, air)[0] / HP <= 330


def test_pumping_takes_work() -> None:
    """Closed form: 1 bar of pumping on 2.4 litres at 6000 rpm takes 12 kW."""
    taken = made(TARN, 6000.0, 0.25)[0] - made(TARN, 6000.0, 0.25, 1e5)[0]
    assert taken == pytest.approx(1e5 * TARN.displacement * 50.0, rel=1e-9)


@pytest.mark.parametrize(
    ("ratio", "low", "high"),
    [(0.8, 1.01, 1.05), (1.1, 1.0, 1.0), (1.5, 0.94, 0.99), (3.0, 0.75, 0.90)],
)
def test_back_pressure_keeps_air_out(ratio: float, low: float, high: float) -> None:
    """Published: Heywood eq. 6.2 and fig. 6-4 (trend), divided out at the stock ratio of 1.1."""
    value = eng.back_pressure_factor(ratio, 9.6)
    assert low - 1e-9 <= value <= high + 1e-9


@pytest.mark.parametrize(
    ("fuel", "compression", "lambda_", "case"),
    [
        ("petrol98", 9.6, 0.82, "petrol"),
        ("e85", 10.0, 0.85, "petrol"),
        ("diesel", 17.5, 1.4, "diesel"),
    ],
)
def test_exhaust_temperature_bands(
    fuel: str, compression: float, lambda_: float, case: str
) -> None:
    """Published and common bands: gas before the turbine, petrol 800 to 980 °C, diesel 550 to
    750 °C (at the port up to 60 K more)."""
    engine = dataclasses.replace(TARN, fuel=FUELS[fuel], compression=compression, lambda_=lambda_)
    burnt = mix(engine.burnt.products).packed
    speed = 4500.0 if case == "petrol" else 3200.0
    air, dry = 0.2, 0.99
    swept = engine.displacement * speed / 120.0
    released = engine.burnt.heat_per_air * air * dry
    work = eng.indicated_efficiency(engine) * released - 0.1e5 * swept
    base = eng.SPARK_COOLANT if case == "petrol" else eng.DIESEL_COOLANT
    found = eng.exhaust_temperature(
        AIR, burnt, air, air * (1 + dry * engine.burnt.fuel_per_air), 330.0, released, work,
        eng.coolant_share(base, speed) * released, 1100.0,
    )  # fmt: skip
    low, high = {"petrol": (800.0, 1040.0), "diesel": (550.0, 810.0)}[case]
    assert low <= found - 273.15 <= high


def test_lambda_cools_both_ways() -> None:
    """Richer and much leaner than exact both cool the exhaust."""

    def port(lambda_: float) -> float:
        engine = dataclasses.replace(TARN, lambda_=lambda_)
        released = engine.burnt.heat_per_air * 0.2
        burnt = mix(engine.burnt.products).packed
        work = eng.indicated_efficiency(engine) * released
        return eng.exhaust_temperature(
            AIR, burnt, 0.2, 0.2 * (1 + engine.burnt.fuel_per_air), 320.0, released, work,
            0.19 * released, 1100.0,
        )  # fmt: skip

    assert port(0.75) < port(0.85) < port(1.0)
    assert port(1.6) < port(1.2) < port(1.0)


def test_retard_costs_and_heats() -> None:
    """Published: ten degrees after best torque take about 4.5 % (Heywood fig. 15-3)."""
    late = dataclasses.replace(TARN, retard=10.0)
    assert eng.indicated_efficiency(late) / eng.indicated_efficiency(TARN) == pytest.approx(0.955)
    diesel = dataclasses.replace(TARN, fuel=FUELS["diesel"], retard=10.0)
    plain = dataclasses.replace(TARN, fuel=FUELS["diesel"])
    assert eng.indicated_efficiency(diesel) == eng.indicated_efficiency(plain)


def test_breathing_from_stock_torque_gives_the_torque_back() -> None:
    """Round trip: VE worked back from a torque curve makes that torque at the same conditions."""
    speeds, torques = (2000.0, 4000.0, 6000.0), (180.0, 205.0, 175.0)
    engine = dataclasses.replace(TARN, lambda_=0.88)
    curve = eng.breathing_of_torque(engine, speeds, torques)
    for speed, torque, breathing in zip(speeds, torques, curve.efficiency, strict=True):
        plenum = 0.98 * 101_325.0
        air = breathing * plenum / (287.05 * 298.15) * engine.displacement * speed / 120.0
        power, _ = made(engine, speed, air, 0.1 * plenum, dry=1.0)
        assert power / (speed * math.pi / 30.0) == pytest.approx(torque, rel=1e-9)
        assert 0.6 < breathing < 1.1


METHANOL = dataclasses.replace(TARN, fuel=FUELS["methanol"], lambda_=0.82)
VAPOUR = np.array([*FUELS["methanol"].saturation, FUELS["methanol"].vapour_mass])  # type: ignore[misc]


def after_fuel(temperature: float, share: float, pressure: float = 2.2e5) -> float:
    """Charge temperature after a share of the methanol of a rich engine."""
    return eng.charge_after_fuel(
        AIR, temperature, pressure, METHANOL.burnt.fuel_per_air, share,
        METHANOL.fuel.vaporisation, VAPOUR,
    )  # fmt: skip


def test_alcohol_cools_the_charge() -> None:
    """Energy balance: 35 % of the methanol of a rich engine takes about 60 to 110 K."""
    after = after_fuel(400.0, 0.35)
    taken = 0.35 * METHANOL.burnt.fuel_per_air * METHANOL.fuel.vaporisation
    assert 400.0 - after == pytest.approx(taken / 1012.0, rel=0.01)
    assert 60.0 < 400.0 - after < 110.0


@pytest.mark.parametrize(
    ("key", "fluid", "low"), [("methanol", "Methanol", 260.0), ("e85", "Ethanol", 270.0)]
)
def test_saturation_of_alcohols(key: str, fluid: str, low: float) -> None:
    """Independent library: CoolProp, 3 % up to 370 K."""
    a, b, c = FUELS[key].saturation or (0.0, 0.0, 0.0)
    for temperature in np.linspace(low, 370.0, 12):
        expected = PropsSI("P", "T", temperature, "Q", 1, fluid)
        assert 10.0 ** (a - b / (temperature + c)) == pytest.approx(expected, rel=0.03)


def test_no_charge_holds_more_fuel_than_it_can() -> None:
    """Asked to take all of the methanol, a charge stops at saturation: the energy balance holds
    with the mole share that CoolProp gives there; and the way to the limit has no step."""
    after = after_fuel(330.0, 1.0)
    share = PropsSI("P", "T", after, "Q", 1, "Methanol") / 2.2e5
    fuel = share / (1.0 - share) * 32.042e-3 * AIR[0] / 8.31446
    taken = enthalpy(AIR, 330.0) - enthalpy(AIR, after)
    assert taken == pytest.approx(fuel * METHANOL.fuel.vaporisation, rel=0.03)
    assert fuel < 0.5 * METHANOL.burnt.fuel_per_air
    falling = np.array([after_fuel(330.0, s) for s in np.linspace(0.0, 1.0, 300)])
    assert (np.diff(falling) < 1e-6).all()
    assert np.abs(np.diff(falling)).max() < 1.0


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

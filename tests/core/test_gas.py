"""Air, humidity and combustion against the reference library and handbooks."""

from __future__ import annotations

import math
from itertools import pairwise

import cantera
import CoolProp.CoolProp as coolprop
import numpy as np
import pytest

from reference_tables import numbers, rows
from zarvik.core.gas import properties as gas
from zarvik.core.gas.ambient import Site, standard_pressure, standard_temperature
from zarvik.core.gas.combustion import FUELS, burn
from zarvik.core.gas.humidity import saturation_pressure
from zarvik.core.gas.mixture import mix, mixture_viscosity, moist_air
from zarvik.core.gas.species import DRY_AIR, SPECIES

AIR = mix(DRY_AIR)
TEMPERATURES = (250.0, 300.0, 350.0, 400.0, 500.0, 600.0, 800.0, 1000.0, 1100.0)


@pytest.mark.parametrize("temperature", TEMPERATURES)
def test_dry_air_against_coolprop(temperature: float) -> None:
    """Independent library: CoolProp's Air (Lemmon et al. 2000), at 1 kPa to be near ideal."""
    cp = coolprop.PropsSI("C", "T", temperature, "P", 1e3, "Air")
    cv = coolprop.PropsSI("O", "T", temperature, "P", 1e3, "Air")
    mu = coolprop.PropsSI("V", "T", temperature, "P", 1e3, "Air")
    assert gas.heat_capacity(AIR.packed, temperature) == pytest.approx(cp, rel=0.005)
    assert gas.heat_capacity_ratio(AIR.packed, temperature) == pytest.approx(cp / cv, rel=0.005)
    assert gas.viscosity(AIR.packed, temperature) == pytest.approx(mu, rel=0.01)


@pytest.mark.parametrize(("temperature", "humidity"), [(283.15, 0.9), (306.15, 0.4), (313.15, 0.8)])
def test_humid_air_against_coolprop(temperature: float, humidity: float) -> None:
    """Independent library: CoolProp's humid air (ASHRAE RP-1485)."""
    pressure = 93_870.0
    air = moist_air(temperature=temperature, pressure=pressure, relative_humidity=humidity)
    state = ("T", temperature, "P", pressure, "R", humidity)
    ratio = coolprop.HAPropsSI("W", *state)
    water = air.mass_fraction("H2O")
    assert water / (1.0 - water) == pytest.approx(ratio, rel=0.01)
    volume = coolprop.HAPropsSI("Vha", *state)
    assert air.gas_constant * temperature / pressure == pytest.approx(volume, rel=0.002)
    cp = coolprop.HAPropsSI("cp_ha", *state)
    assert gas.heat_capacity(air.packed, temperature) == pytest.approx(cp, rel=0.006)
    viscosity = coolprop.HAPropsSI("mu", *state)
    assert gas.viscosity(air.packed, temperature) == pytest.approx(viscosity, rel=0.015)


@pytest.mark.parametrize("row", rows("janaf"), ids=lambda r: f"{r['species']}-{r['temperature_K']}")
def test_each_gas_against_janaf(row: dict[str, float | str]) -> None:
    """Published: NIST-JANAF tables, heat capacity and enthalpy above 298.15 K of each gas by itself. Water: TM-4513 has
    later measurements, up to 1 % above at 2,000 K."""
    name, temperature = str(row["species"]), float(row["temperature_K"])
    near = 0.01 if name == "H2O" else 0.0033
    one, molar = mix({name: 1.0}).packed, SPECIES[name].molar_mass
    assert gas.heat_capacity(one, temperature) * molar == pytest.approx(float(row["heat_capacity"]), rel=near)
    rise = gas.enthalpy(one, temperature) - gas.enthalpy(one, 298.15)
    assert rise * molar / 1e3 == pytest.approx(float(row["enthalpy"]), rel=near)


@pytest.mark.parametrize(("temperature", "heat_capacity", "viscosity"), numbers("incropera_air"))
def test_dry_air_against_a_handbook(temperature: float, heat_capacity: float, viscosity: float) -> None:
    """Published: Incropera & DeWitt, table A.4. Above 900 K its viscosity is an older one: CoolProp's is 3 % higher at 1,200 K."""
    assert gas.heat_capacity(AIR.packed, temperature) == pytest.approx(1e3 * heat_capacity, rel=0.004)
    assert gas.viscosity(AIR.packed, temperature) == pytest.approx(1e-7 * viscosity, rel=0.02 if temperature < 960.0 else 0.033)


@pytest.mark.parametrize(("celsius", "ratio", "volume"), numbers("ashrae_moist_air"))
def test_saturated_air_against_a_handbook(celsius: float, ratio: float, volume: float) -> None:
    """Published: ASHRAE table 2. Its air is real, ours ideal: 0.7 % of the water, 0.2 % of the volume."""
    temperature = celsius + 273.15
    air = moist_air(temperature=temperature, pressure=101_325.0, relative_humidity=1.0)
    water = air.mass_fraction("H2O") / (1.0 - air.mass_fraction("H2O"))
    assert water == pytest.approx(ratio, rel=0.007)
    assert air.gas_constant * temperature / 101_325.0 * (1.0 + water) == pytest.approx(volume, rel=0.002)


@pytest.mark.parametrize(("celsius", "kilopascal"), numbers("ashrae_saturation"))
def test_saturation_pressure(celsius: float, kilopascal: float) -> None:
    """Published: ASHRAE table 3."""
    assert saturation_pressure(celsius + 273.15) / 1e3 == pytest.approx(kilopascal, rel=0.002)


@pytest.mark.parametrize("temperature", [280.0, 306.0, 350.0])
def test_saturation_pressure_against_coolprop(temperature: float) -> None:
    """Independent library: CoolProp's water (IAPWS-95)."""
    expected = coolprop.PropsSI("P", "T", temperature, "Q", 0, "Water")
    assert saturation_pressure(temperature) == pytest.approx(expected, rel=0.002)


@pytest.mark.parametrize(("altitude", "temperature", "pressure"), numbers("iso2533"))
def test_standard_atmosphere(altitude: float, temperature: float, pressure: float) -> None:
    """Published: ISO 2533 rows."""
    assert standard_temperature(altitude) == pytest.approx(temperature, abs=0.0015)
    assert standard_pressure(altitude) == pytest.approx(pressure, rel=3e-5)


def test_atmosphere_is_refused_outside() -> None:
    """The standard's troposphere ends at 11 km."""
    with pytest.raises(ValueError, match="altitude"):
        standard_pressure(12_000.0)


def test_site_air_follows_the_weather() -> None:
    """Humid air is lighter: its gas constant is larger."""
    dry = Site(1e5, 303.15, 0.0).air
    wet = Site(1e5, 303.15, 1.0).air
    assert wet.gas_constant > dry.gas_constant
    assert dry.gas_constant == pytest.approx(287.05, abs=0.05)  # ISO 2533: 287.05287


@pytest.mark.parametrize("temperature", [230.0, 420.0, 999.0, 1001.0, 1500.0])
def test_enthalpy_and_entropy_are_integrals_of_heat_capacity(temperature: float) -> None:
    """Closed form: dh/dT = cp, ds0/dT = cp/T."""
    step = 0.05
    if abs(temperature - 1000.0) < 2:
        step = 0.01
    high, low = temperature + step, temperature - step
    slope = (gas.enthalpy(AIR.packed, high) - gas.enthalpy(AIR.packed, low)) / (2 * step)
    cp = gas.heat_capacity(AIR.packed, temperature)
    assert slope == pytest.approx(cp, rel=1e-5)
    slope = (gas.entropy_function(AIR.packed, high) - gas.entropy_function(AIR.packed, low)) / (2 * step)
    assert slope == pytest.approx(cp / temperature, rel=1e-5)


def test_polynomials_meet_at_the_break() -> None:
    """The two ranges of TM-4513 meet at 1000 K."""
    below, above = 1000.0 - 1e-9, 1000.0 + 1e-9
    for name in SPECIES:
        one = mix({name: 1.0}).packed
        assert gas.heat_capacity(one, below) == pytest.approx(gas.heat_capacity(one, above), rel=2e-4)


@pytest.mark.parametrize("temperature", [260.0, 306.15, 420.0, 900.0])
def test_temperature_of_enthalpy_inverts(temperature: float) -> None:
    """Round trip."""
    h = gas.enthalpy(AIR.packed, temperature)
    assert gas.temperature_of_enthalpy(AIR.packed, h, 300.0) == pytest.approx(temperature, rel=1e-9)


def test_isentropic_temperature() -> None:
    """Against the constant-gamma closed form for a small ratio, and against CoolProp for 2.35."""
    small = gas.isentropic_temperature(AIR.packed, 300.0, 1.01)
    assert small == pytest.approx(300.0 * 1.01 ** (0.4 / 1.4), rel=1e-5)
    entropy = coolprop.PropsSI("S", "T", 306.15, "P", 1e4, "Air")
    expected = coolprop.PropsSI("T", "S", entropy, "P", 2.35e4, "Air")
    assert gas.isentropic_temperature(AIR.packed, 306.15, 2.35) == pytest.approx(expected, rel=3e-4)


@pytest.mark.parametrize("row", rows("heywood_fuels"), ids=lambda r: str(r["fuel"]))
def test_stoichiometric_ratio(row: dict[str, float | str]) -> None:
    """Published: Heywood table D.4."""
    fuel = FUELS[str(row["fuel"])]
    assert fuel.stoichiometric_ratio == pytest.approx(float(row["air_fuel_ratio"]), rel=float(row["relative_band"]))


@pytest.mark.parametrize("key", list(FUELS))
@pytest.mark.parametrize("lambda_", [0.6, 0.75, 0.88, 1.0, 1.3, 3.0])
def test_combustion_keeps_the_elements(key: str, lambda_: float) -> None:
    """Closed form: atoms in equal atoms out, for every fuel from rich to lean."""
    fuel = FUELS[key]
    products = burn(fuel, lambda_).products
    oxygen = fuel.oxygen_demand * lambda_
    assert products["CO2"] + products["CO"] == pytest.approx(1.0 + oxygen * DRY_AIR["CO2"] / DRY_AIR["O2"], rel=1e-9)
    assert 2 * products["H2O"] + 2 * products["H2"] == pytest.approx(fuel.hydrogen, rel=1e-9)
    carbon_dioxide_of_air = oxygen * DRY_AIR["CO2"] / DRY_AIR["O2"]
    out = 2 * (products["CO2"] - carbon_dioxide_of_air) + products["CO"] + products["H2O"] + 2 * products["O2"]
    assert out == pytest.approx(fuel.oxygen + 2 * oxygen, rel=1e-9)
    assert min(products.values()) >= -1e-12


@pytest.mark.parametrize("lambda_", [0.7, 0.8, 0.9])
def test_rich_products_stand_in_water_gas_equilibrium(lambda_: float) -> None:
    """Closed form: K = CO H2O / (CO2 H2) = 3.5 (Heywood sec. 4.9.2)."""
    products = burn(FUELS["petrol98"], lambda_).products
    oxygen = FUELS["petrol98"].oxygen_demand * lambda_
    carbon_dioxide = products["CO2"] - oxygen * DRY_AIR["CO2"] / DRY_AIR["O2"]
    constant = products["CO"] * products["H2O"] / (carbon_dioxide * products["H2"])
    assert constant == pytest.approx(3.5, rel=1e-9)


def test_rich_burning_is_limited_by_oxygen() -> None:
    """Heat per air hardly changes when rich; heat per fuel falls."""
    rich, exact = burn(FUELS["petrol98"], 0.8), burn(FUELS["petrol98"], 1.0)
    assert 0.88 < rich.heat_per_air / exact.heat_per_air < 1.0
    assert rich.heat_per_air / rich.fuel_per_air < exact.heat_per_air / exact.fuel_per_air
    # 2 % stay unburnt (Heywood 1988, sec. 4.9.4: 1 to 3 %).
    assert exact.heat_per_air == pytest.approx(0.98 * FUELS["petrol98"].heating_value / FUELS["petrol98"].stoichiometric_ratio, rel=1e-9)


@pytest.mark.parametrize("bad", [{}, {"N2": -1.0}, {"Xe": 1.0}, {"N2": math.nan}])
def test_bad_mixtures_are_refused(bad: dict[str, float]) -> None:
    """A mixture of nothing, of negative parts or of unknown gases."""
    with pytest.raises(ValueError, match=r"fractions|species"):
        mix(bad)


def test_lambda_is_refused_where_soot_forms() -> None:
    """Below 0.45 the products are not what the model says."""
    with pytest.raises(ValueError, match="lambda"):
        burn(FUELS["diesel"], 0.3)


def test_water_vapour_thins_the_gas() -> None:
    """Viscosity falls with water and is smooth in it."""
    values = [mixture_viscosity(x, 330.0) for x in np.linspace(0.0, 0.2, 9)]
    assert all(a > b for a, b in pairwise(values))


@pytest.mark.parametrize("key", ["petrol98", "methanol", "diesel", "e85"])
@pytest.mark.parametrize("lambda_", [0.75, 0.85, 1.0, 1.3, 1.6])
def test_burnt_gas_against_cantera(key: str, lambda_: float) -> None:
    """Independent library: Cantera with GRI-Mech 3.0, equilibrium at 1740 K frozen to 1200 K:
    molar mass, cp and gamma of the burnt gas within 1 %."""
    fuel = FUELS[key]
    products = burn(fuel, lambda_).products
    ours = mix(products)
    theirs = cantera.Solution("gri30.yaml")
    theirs.TPX = 1740.0, 2e5, {k.replace("Ar", "AR"): v for k, v in products.items()}
    theirs.equilibrate("TP")
    assert ours.molar_mass * 1e3 == pytest.approx(theirs.mean_molecular_weight, rel=0.002)
    theirs.TP = 1200.0, 2e5
    assert gas.heat_capacity(ours.packed, 1200.0) == pytest.approx(theirs.cp_mass, rel=0.005)
    gamma = gas.heat_capacity_ratio(ours.packed, 1200.0)
    assert gamma == pytest.approx(theirs.cp / theirs.cv, rel=0.002)


@pytest.mark.parametrize("key", ["petrol98", "methanol"])
def test_rich_shift_against_cantera_equilibrium(key: str) -> None:
    """Independent library: CO and H2 of rich products at 1740 K within 3 % of the equilibrium."""
    fuel = FUELS[key]
    products = burn(fuel, 0.8).products
    theirs = cantera.Solution("gri30.yaml")
    theirs.TPX = 1740.0, 2e5, {k.replace("Ar", "AR"): v for k, v in products.items()}
    theirs.equilibrate("TP")
    total = sum(products.values())
    for name in ("CO", "H2", "CO2", "H2O"):
        share = products[name] / total
        assert share == pytest.approx(theirs[name].X[0], rel=0.03)


def test_viscosity_of_burnt_gas_against_cantera() -> None:
    """Independent library: mixture-averaged transport; dry products count as air: within 6 %."""
    products = burn(FUELS["petrol98"], 0.9).products
    ours = mix(products)
    theirs = cantera.Solution("gri30.yaml", transport_model="mixture-averaged")
    for temperature in (600.0, 900.0, 1200.0):
        theirs.TPX = temperature, 2e5, {k.replace("Ar", "AR"): v for k, v in products.items()}
        assert gas.viscosity(ours.packed, temperature) == pytest.approx(theirs.viscosity, rel=0.06)

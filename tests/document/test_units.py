"""Units: what people type, factors against an independent library, refusals with a sentence."""

from __future__ import annotations

import math

import pint
import pytest
from CoolProp.CoolProp import PropsSI
from hypothesis import given
from hypothesis import strategies as st

from reference_tables import rows
from zarvik.project.units.rendering import in_groups, rough_figure
from zarvik.project.units.units import KINDS, EntryError, Quantity, parse, show, unit_of

PINT = pint.UnitRegistry()
PINT_NAMES = {
    "°": "degree",
    "°C": "kelvin",
    "°F": "delta_degF",
    "inHg": "inHg",
    "mmHg": "mmHg",
    "inH2O": "inH2O",
    "mmH2O": "mmH2O",
    "cm²": "cm**2",
    "m²": "m**2",
    "mm²": "mm**2",
    "in²": "in**2",
    "cm³": "cm**3",
    "m³": "m**3",
    "in³": "in**3",
    "m³/h": "m**3/h",
    "m³/s": "m**3/s",
    "cfm": "ft**3/min",
    "L/s": "L/s",
    "N·m": "N*m",
    "lb·ft": "lbf*ft",
    "BTU/min": "Btu/min",
    "years": "year",
    "rpm": "rpm",
    "krpm": "krpm",
    "PS": "metric_horsepower",
    "hp": "hp",
    "": "dimensionless",
    "%": "percent",
    "psi": "psi",
    "lb": "lb",
    "lb/min": "lb/min",
    "L": "L",
    "km/h": "km/h",
    "ppm": "ppm",
    "g/kWh": "g/(kW*hour)",
    "lb/hp·h": "lb/(hp*hour)",
    "cc/min": "cm**3/min",
    "L/h": "L/hour",
    "L/min": "L/min",
    "mm³": "mm**3",
    "cc/1000": "cm**3/1000",
    "g·cm²": "g*cm**2",
    "kg·m²": "kg*m**2",
    "kg·cm²": "kg*cm**2",
}
BASE = {
    "length": "m",
    "altitude": "m",
    "area": "m**2",
    "volume": "m**3",
    "angle": "radian",
    "temperature": "kelvin",
    "temperature_difference": "kelvin",
    "pressure_gauge": "Pa",
    "pressure_absolute": "Pa",
    "pressure_difference": "Pa",
    "mean_pressure": "Pa",
    "mass_flow": "kg/s",
    "volume_flow": "m**3/s",
    "rotation": "rpm",
    "velocity": "m/s",
    "power": "W",
    "torque": "N*m",
    "mass": "kg",
    "ratio": "dimensionless",
    "number": "dimensionless",
    "factor": "dimensionless",
    "closure": "dimensionless",
    "count": "dimensionless",
    "consumption": "kg/J",
    "injection": "m**3",
    "inertia": "kg*m**2",
    "time": "s",
    "weeks": "week",
    "days": "day",
    "work": "hour",
    "force": "N",
    "road_speed": "m/s",
    "liquid_flow": "m**3/s",
    "meter_flow": "kg/s",
    "gas_flow": "m**3/s",
    "heat_flow": "W",
    "small_heat": "W",
    "years": "year",
    "seconds": "s",
    "warming": "kelvin",
    "injector_flow": "m**3/s",
    "fuel_flow": "m**3/s",
}


@pytest.mark.parametrize(("kind", "symbol"), [(k, u.symbol) for k, units in KINDS.items() for u in units])
def test_factors_against_pint(kind: str, symbol: str) -> None:
    """Independent library: pint knows every factor."""
    if kind == "money":
        assert unit_of(kind, symbol).factor == 1.0  # no rate of exchange
        return
    if symbol == "cc/1000":
        assert unit_of(kind, symbol).factor == pytest.approx(PINT.Quantity(1.0, "cm**3").to("m**3").magnitude / 1000.0, rel=1e-12)
        return
    name = PINT_NAMES.get(symbol, symbol)
    factor = unit_of(kind, symbol).factor
    one = PINT.Quantity(1.0, name)
    if kind == "mass_flow" and symbol in ("cfm", "m³/h"):
        # A volume of air at 20 C and 101.325 kPa: 1.2041 kg/m3 (CoolProp)
        density = PropsSI("D", "T", 293.15, "P", 101_325.0, "Air")
        one = one.to("m**3/s") * PINT.Quantity(density, "kg/m**3")
    expected = one.to(BASE[kind]).magnitude
    assert factor == pytest.approx(expected, rel=1e-3 if kind == "mass_flow" else 2e-5)


@pytest.mark.parametrize("row", rows("nist_sp811"), ids=lambda r: f"{r['kind']}-{r['unit']}")
def test_factors_against_nist(row: dict[str, float | str]) -> None:
    """Published: NIST SP 811, appendix B.8, seven digits; a horsepower is 550 ft lbf/s, a metric one 75 kgf m/s."""
    assert unit_of(str(row["kind"]), str(row["unit"])).factor == pytest.approx(float(row["factor"]), rel=5e-7)


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("1,5 mm", "length", 0.0015),
        ("63.5", "length", 0.0635),
        ("2 1/2 in", "length", 0.0635),
        ('2 1/2"', "length", 0.0635),
        ("2.5in", "length", 0.0635),
        ("1/4 in", "length", 0.00635),
        ('0.063"', "length", 0.0016002),
        ("2.5 in + 3 mm", "length", 0.0665),
        ("100 mm - 1/2 in", "length", 0.0873),
        (".5 m", "length", 0.5),
        ("0,063 in", "length", 0.0016002),
        ("14,5 psi", "pressure_gauge", 99973.98),
        ("14.5 PSI", "pressure_gauge", 99973.98),
        ("1.1 bar", "pressure_gauge", 1.1e5),
        ("2.1 bar abs", "pressure_gauge", 1.1e5),
        ("2.1 bar (abs)", "pressure_gauge", 1.1e5),
        ("1.1 bar gauge", "pressure_gauge", 1.1e5),
        ("1.1 bar g", "pressure_absolute", 2.1e5),
        ("100 kPa", "pressure_absolute", 1e5),
        ("20 °C", "temperature", 293.15),
        ("20", "temperature", 293.15),
        ("-40 F", "temperature", 233.15),
        ("306.15 K", "temperature", 306.15),
        ("12 Nm", "torque", 12.0),
        ("300 lb ft", "torque", 406.7453794),
        ("45 lb/min", "mass_flow", 0.3401942775),
        ("330 hp", "power", 246080.96),
        ("330 PS", "power", 242714.59),
        ("80 %", "ratio", 0.8),
        ("6400 rpm", "rotation", 6400.0),
        ("6.4 krpm", "rotation", 6400.0),
        ("90 deg", "angle", math.pi / 2),
        ("900 m3/h", "volume_flow", 0.25),
        ("4", "count", 4.0),
        ("1e-1 m", "length", 0.1),
    ],
)
def test_what_people_type(text: str, kind: str, si: float) -> None:
    """Every way of writing that the trade uses."""
    default = {"temperature": "°C"}.get(kind)
    assert parse(text, kind, default_unit=default, ambient=1e5).si == pytest.approx(si, rel=1e-6)


@pytest.mark.parametrize(
    ("text", "kind", "words"),
    [
        ("", "length", "needed"),
        ("   ", "power", "needed"),
        ("abc", "length", "does not start with a number"),
        ("3 bar", "length", "belongs to"),
        ("3 zoll", "length", "is not a unit"),
        ("6,400 rpm", "rotation", "6.400 or 6400"),
        ("1,234,567 W", "power", "thousands"),
        ("3.4.5 mm", "length", "not one number"),
        ("1/0 in", "length", "fraction"),
        ("1e999 mm", "length", "too large"),
        ("4.5", "count", "whole number"),
        ("20 °C + 5 °C", "temperature", "sums"),
        ("1 mm" * 40, "length", "too long"),
        ("nan", "length", "does not start"),
        ("inf mm", "length", "does not start"),
        ("--3 mm", "length", "does not start"),
        ("3 mm mm", "length", "is not a unit"),
    ],
)
def test_refusals_are_sentences(text: str, kind: str, words: str) -> None:
    """Nothing is guessed; what is wrong is said."""
    with pytest.raises(EntryError, match=words):
        parse(text, kind)


@given(value=st.floats(-1e6, 1e6), kind=st.sampled_from(sorted(KINDS)), number=st.integers(0, 20))
def test_text_round_trips(value: float, kind: str, number: int) -> None:
    """What is written is read back, in every unit of every kind."""
    unit = KINDS[kind][number % len(KINDS[kind])]
    if kind == "count":
        value = round(value)
    quantity = Quantity(float(f"{value:.10g}"), unit.symbol, kind)
    again = parse(str(quantity), kind, default_unit=unit.symbol)
    assert again.unit == quantity.unit
    assert again.value == pytest.approx(quantity.value, rel=1e-11)
    assert unit.from_si(unit.to_si(value)) == pytest.approx(value, rel=1e-9, abs=1e-9)


def test_values_stay_as_typed() -> None:
    """`2.5 in` stays 2.5 in; into another unit and back is the same."""
    quantity = parse("2.5 in", "length")
    assert str(quantity) == "2.5 in"
    assert str(quantity.into("mm")) == "63.5 mm"
    assert quantity.into("mm").into("in") == quantity
    assert str(quantity.with_si(0.07)) == "2.756 in"


@pytest.mark.parametrize(
    ("si", "kind", "unit", "text"),
    [
        (1.1e5, "pressure_gauge", "bar", "1.10 bar"),
        (246080.96, "power", "hp", "330 hp"),
        (0.0635, "length", "mm", "63.5 mm"),
        (121337.0, "rotation", "rpm", "121 000 rpm"),
        (-0.0001, "pressure_difference", "kPa", "0.0 kPa"),
        (-2500.0, "pressure_difference", "kPa", "−2.5 kPa"),
        (math.pi / 2, "angle", "°", "90°"),
        (float("nan"), "power", "hp", "–"),
        (0.81, "number", "", "0.810"),
    ],
)
def test_show(si: float, kind: str, unit: str, text: str) -> None:
    """Numbers for the screen: sensible decimals, real minus, no negative zero."""
    assert show(si, kind, unit).replace("\u00a0", " ") == text


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("1 581 hp", "power", 1581.0 * 745.69987),
        ("1\u202f581\u00a0hp", "power", 1581.0 * 745.69987),
        ("1\u2009581 hp", "power", 1581.0 * 745.69987),
        ("\u221230 °C", "temperature", 243.15),
        ("12 000 rpm", "rotation", 12000.0),
        ("1 234 567 rpm", "rotation", 1234567.0),
        ("\u22120.5 bar", "pressure_gauge", -0.5e5),
        ("2 1/2 in", "length", 0.0635),
        ("12 1/2 in", "length", 0.3175),
        ("6 400", "rotation", 6400.0),
        ("1 000 mm + 2 in", "length", 1.0508),
        ("≈ 1 581 hp ± 1 000 W", "power", 1581.0 * 745.69987),
    ],
)
def test_what_is_printed_is_read(text: str, kind: str, si: float) -> None:
    """Thousands with any space and a true minus come back as they are printed; fractions stay fractions."""
    assert parse(text, kind).si == pytest.approx(si, rel=1e-6)


@given(
    st.sampled_from(
        [("power", "hp"), ("rotation", "rpm"), ("temperature", "°C"), ("pressure_gauge", "bar"), ("length", "mm"), ("mass", "kg")]
    ),
    st.floats(-9.9e5, 9.9e5, allow_nan=False),
)
def test_every_printed_number_is_read_back(kind: tuple[str, str], value: float) -> None:
    """What the program shows in a unit, typed back as it stands, is that number to the digits that were shown."""
    unit = unit_of(*kind)
    text = show(unit.to_si(value), *kind)
    again = parse(text, kind[0])
    assert show(again.si, *kind) == text


def test_a_size_in_a_text() -> None:
    """Digits in groups of three with the sign and the gap of a printed text, a degree at its number; of a power what nobody could measure
    is nothing, and two digits count of what is more."""
    assert in_groups(Quantity(1_000_000.0, "€", "money")) == "1\u00a0000\u00a0000\u00a0€"
    assert in_groups(Quantity(-400.0, "m", "altitude")) == "−400\u00a0m" and in_groups(Quantity(0.006, "", "number")) == "0.006"
    assert in_groups(Quantity(-90.0, "°", "angle")) == "−90°"
    assert [rough_figure(p, "power", {"power": "kW"}) for p in (-4.9, 5.1, 61.2)] == ["0\u00a0kW", "0.0051\u00a0kW", "0.061\u00a0kW"]
    assert rough_figure(0.0042, "length", {"length": "mm"}) == "4.2\u00a0mm"

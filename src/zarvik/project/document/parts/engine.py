"""The engine as a builder says it."""

from __future__ import annotations

from typing import Annotated

from pydantic import model_validator

from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.core.engine.breathing import ARCHETYPES
from zarvik.core.gas.combustion import FUELS
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.part import Part
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import Quantity

_CYLINDERS = QuantitySpec("count", "1", "16", "", "Cylinders")
_BORE = QuantitySpec("length", "30 mm", "250 mm", "mm", "Cylinder bore")
_STROKE = QuantitySpec("length", "25 mm", "300 mm", "mm", "Stroke")
_COMPRESSION = QuantitySpec(
    "number",
    "5",
    "24",
    "",
    "Compression ratio",
    doubt=InputUncertainty(
        0.1,
        0.4,
        0.7,
        absolute=True,
        measure="Fill the chamber with oil from a syringe at top dead centre: ratio = (swept + chamber) / chamber, gasket included",
    ),
    usual="9.6",
)
_IDLE = QuantitySpec("rotation", "300 rpm", "3000 rpm", "rpm", "Idle")
_LIMIT = QuantitySpec("rotation", "1500 rpm", "15000 rpm", "rpm", "Rev limit")
_PEAK = QuantitySpec(
    kind="ratio",
    low="30 %",
    high="140 %",
    unit="%",
    title="Best volumetric efficiency",
    help="Of the plenum's density, on the stock exhaust, at 25 °C",
    doubt=InputUncertainty(
        0.03,
        0.05,
        0.08,
        measure="A dyno run before the swap: torque at two or three speeds, or the flow of the engine's own air meter at full load",
    ),
    usual="92 %",
)
_PEAK_SPEED = QuantitySpec(
    "rotation",
    "800 rpm",
    "14000 rpm",
    "rpm",
    "at engine speed",
    doubt=InputUncertainty(0.03, 0.06, 0.12, measure="The engine speed of the best torque before the swap, from a dyno or a handbook"),
    usual="4600 rpm",
)
_STOCK = QuantitySpec(
    kind="power",
    low="2 hp",
    high="3000 hp",
    unit="hp",
    title="Stock power",
    help="Before the swap, at the crank; unknown, the breathing says it",
    doubt=InputUncertainty(0.04, 0.08, 0.12, measure="A dyno run before the swap, or the figure of the handbook"),
    usual="150 hp",
)
_STOCK_BOOST = QuantitySpec(
    kind="pressure_gauge",
    low="0 bar",
    high="3 bar",
    unit="bar",
    title="Stock boost",
    help="Boost with which the stock power was made; 0 for an engine that was not boosted",
)
_STOCK_SPEED = QuantitySpec(
    kind="rotation",
    low="1000 rpm",
    high="14000 rpm",
    unit="rpm",
    title="at engine speed",
    help="Of the best stock power",
    doubt=InputUncertainty(0.02, 0.05, 0.10, measure="The same dyno run or handbook"),
    usual="6000 rpm",
)
_LAMBDA = QuantitySpec(
    "number",
    "0.6",
    "4",
    "",
    "Lambda at full load",
    doubt=InputUncertainty(0.01, 0.03, 0.05, absolute=True, measure="A wide-band probe in the downpipe at full load, logged"),
    usual="0.82",
)
_RETARD = QuantitySpec(
    kind="number",
    low="0",
    high="40",
    unit="",
    title="Ignition after best torque, °",
    help="Counts when it is typed: 10° cost about 4.5 % and heat the exhaust",
    doubt=InputUncertainty(1.0, 3.0, absolute=True, measure="A timing light, against the ignition of best torque of a dyno"),
)
IGNITION = (("fuel", "As late as the fuel asks for"), ("typed", "As late as typed"))
_EVAPORATED = QuantitySpec(
    kind="ratio",
    low="0 %",
    high="80 %",
    unit="%",
    title="Fuel that cools the charge",
    help="Share that evaporates before the valve closes, in a charge of 40 °C; hot charge evaporates more. Alcohol 30–50 %, petrol little",
    doubt=InputUncertainty(
        0.05, 0.10, 0.12, absolute=True, measure="A thermometer in the plenum, with the fuel on: what the charge loses behind the injectors"
    ),
    usual="0 %",
)
_TRUSTED = QuantitySpec(
    kind="pressure_gauge",
    low="0 bar",
    high="6 bar",
    unit="bar",
    title="Bottom end trusted to",
    help="Boost that rods, pistons and gasket are trusted to stand",
)
# Tables of the engine: kind of their values, and what these may be in SI.
TABLES = {
    "breathing_table": ("ratio", 0.2, 1.5),
    "stock_torque": ("torque", 1.0, 5000.0),
    "lambda_table": ("number", 0.6, 4.0),
    "delivery_table": ("injection", 2e-9, 1e-6),
}


def check_table(name: str, rows: tuple[tuple[float, float], ...]) -> None:
    """Raises ValueError when rows of (rpm, value) cannot be a table of the engine."""
    _, low, high = TABLES[name]
    speeds = [row[0] for row in rows]
    if speeds != sorted(set(speeds)):
        raise ValueError(tr_format("{0}: engine speeds have to rise", name))
    for speed, value in rows:
        if not (100.0 <= speed <= 20000.0 and low <= value <= high):
            raise ValueError(
                tr_format("{0}: ({1:g}, {2:g}) lies outside of 100 to 20000 rpm and {3:g} to {4:g}", name, speed, value, low, high)
            )


_DELIVERY = QuantitySpec(
    kind="injection",
    low="2 mm³",
    high="1000 mm³",
    unit="mm³",
    title="Fuel an injection",
    help="What the pump gives one cylinder at full load, all over the rev range",
    doubt=InputUncertainty(0.03, 0.07, 0.12, measure="A pump bench; else: litres of a full-load run by its revolutions"),
    usual="55 mm³",
)
_PUMP = QuantitySpec(
    kind="ratio",
    low="40 %",
    high="400 %",
    unit="%",
    title="Pump turned to",
    help="Of the delivery above: the same pump turned up, or a larger one",
)
_ELEMENT_WAS = QuantitySpec(
    kind="length",
    low="0 mm",
    high="20 mm",
    unit="mm",
    title="Element, as it came",
    help="Diameter of the plunger of an in-line pump; 0: not known",
)
_ELEMENT = QuantitySpec(
    kind="length",
    low="0 mm",
    high="20 mm",
    unit="mm",
    title="Element now",
    help="At the same rack it gives as much more as its area is larger; 0: as it came",
)
_RACK_WAS = QuantitySpec(
    kind="length",
    low="0 mm",
    high="40 mm",
    unit="mm",
    title="Rack at full load, as it came",
    help="Travel of the rack of an in-line pump from its stop; 0: not known",
)
_RACK = QuantitySpec(
    kind="length",
    low="0 mm",
    high="40 mm",
    unit="mm",
    title="Rack at full load now",
    help="Fuel begins at about two fifths of its travel as it came, then grows with it, rough guide; 0: as it came",
)
_SCREW = QuantitySpec(
    kind="number",
    low="-4",
    high="10",
    unit="",
    title="Full-load screw turned in",
    help="Turns from where it came; about a tenth more fuel each, rough guide",
)
_LEANEST = QuantitySpec(
    kind="number",
    low="1",
    high="2",
    unit="",
    title="Limiter holds lambda at",
    help="What a boost-compensated pump leaves away until there is air for it",
)
_INTAKE_VOLUME = QuantitySpec(
    kind="volume",
    low="0.05 L",
    high="60 L",
    unit="L",
    title="Plenum and runners",
    help="Volume that the boost fills behind the throttle",
    doubt=InputUncertainty(0.05, 0.15, 0.40, measure="Fill it with water, a jug at a time"),
    usual="3 L",
)
FUELLING = (("lambda", "As lambda says"), ("stroke", "As the pump gives, one figure"), ("table", "As the pump gives, over engine speed"))
LIMITER = (("none", "None: full fuel at any boost"), ("boost", "Boost-compensated"))
MIXTURE = (("one", "One lambda"), ("table", "Lambda over engine speed"))
BREATHING_CHOICES = (
    *((a.key, a.title) for a in ARCHETYPES.values()),
    ("table", "Own table, in the file"),
    ("stock_torque", "From the stock torque curve"),
)


class Engine(Part):
    """The engine as it is.

    `breathing_table`: rows of (rpm, VE); `stock_torque`: rows of (rpm, N m) of the engine before it
    was boosted. They count when `breathing` says so; `lambda_table`: rows of (rpm, lambda), when
    `mixture` does; `delivery_table`: rows of (rpm, m3 an injection), when `fuelling` does.
    """

    name: Annotated[str, TextSpec("Engine")] = "Engine"
    cylinders: Annotated[Quantity, _CYLINDERS] = _CYLINDERS("4")
    bore: Annotated[Quantity, _BORE] = _BORE("88 mm")
    stroke: Annotated[Quantity, _STROKE] = _STROKE("98.5 mm")
    compression: Annotated[Quantity, _COMPRESSION] = _COMPRESSION("? 9.6")
    idle: Annotated[Quantity, _IDLE] = _IDLE("900 rpm")
    rev_limit: Annotated[Quantity, _LIMIT] = _LIMIT("7000 rpm")
    breathing: Annotated[str, Choice("Breathing", lambda: BREATHING_CHOICES)] = "long_runner"
    stock_power: Annotated[Quantity, _STOCK] = _STOCK("? 150 hp")
    stock_speed: Annotated[Quantity, _STOCK_SPEED] = _STOCK_SPEED("? 6000 rpm")
    stock_boost: Annotated[Quantity, _STOCK_BOOST] = _STOCK_BOOST("0 bar")
    best_breathing: Annotated[Quantity, _PEAK] = _PEAK("? 92 %")
    best_breathing_speed: Annotated[Quantity, _PEAK_SPEED] = _PEAK_SPEED("? 4600 rpm")
    fuel: Annotated[str, Choice("Fuel", lambda: tuple((f.key, f.title) for f in FUELS.values()))] = "petrol98"
    full_load_lambda: Annotated[Quantity, _LAMBDA] = _LAMBDA("? 0.82")
    mixture: Annotated[str, Choice("Mixture at full load", lambda: MIXTURE)] = "one"
    trusted_boost: Annotated[Quantity, _TRUSTED] = _TRUSTED("1.3 bar")
    ignition: Annotated[str, Choice("Ignition", lambda: IGNITION)] = "fuel"
    retard: Annotated[Quantity, _RETARD] = _RETARD("0")
    evaporated: Annotated[Quantity, _EVAPORATED] = _EVAPORATED("? 0 %")
    fuelling: Annotated[str, Choice("Diesel fuel", lambda: FUELLING, "By quantity, as a pump is set: lambda follows from the air")] = (
        "lambda"
    )
    delivery: Annotated[Quantity, _DELIVERY] = _DELIVERY("? 55 mm³")
    pump: Annotated[Quantity, _PUMP] = _PUMP("100 %")
    element_was: Annotated[Quantity, _ELEMENT_WAS] = _ELEMENT_WAS("0 mm")
    element: Annotated[Quantity, _ELEMENT] = _ELEMENT("0 mm")
    rack_was: Annotated[Quantity, _RACK_WAS] = _RACK_WAS("0 mm")
    rack: Annotated[Quantity, _RACK] = _RACK("0 mm")
    screw: Annotated[Quantity, _SCREW] = _SCREW("0")
    limiter: Annotated[str, Choice("Smoke limiter", lambda: LIMITER)] = "none"
    leanest: Annotated[Quantity, _LEANEST] = _LEANEST("1.25")
    intake_volume: Annotated[Quantity, _INTAKE_VOLUME] = _INTAKE_VOLUME("? 3 L")
    breathing_table: tuple[tuple[float, float], ...] = ()
    stock_torque: tuple[tuple[float, float], ...] = ()
    lambda_table: tuple[tuple[float, float], ...] = ()
    delivery_table: tuple[tuple[float, float], ...] = ()

    @model_validator(mode="after")
    def _tables(self) -> Engine:
        for name in TABLES:
            check_table(name, getattr(self, name))
        return self

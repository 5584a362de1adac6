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
    uncertainty=InputUncertainty(
        0.1,
        0.4,
        0.7,
        absolute=True,
        measure=("Fill the chamber with oil from a syringe at top dead centre: ratio = (swept + chamber) / chamber, with gasket"),
    ),
    usual="9.6",
)
_IDLE = QuantitySpec("rotation", "300 rpm", "3000 rpm", "rpm", "Idle speed")
_LIMIT = QuantitySpec("rotation", "1500 rpm", "15000 rpm", "rpm", "Rev limit")
_PEAK = QuantitySpec(
    kind="ratio",
    low="30 %",
    high="140 %",
    unit="%",
    title="Best volumetric efficiency",
    help="Relative to plenum density, on the stock exhaust, at 25 °C",
    uncertainty=InputUncertainty(
        0.03, 0.05, 0.08, measure="A dyno run before the swap: torque at two or three speeds; or air-meter flow at full load"
    ),
    usual="92 %",
)
_PEAK_SPEED = QuantitySpec(
    "rotation",
    "800 rpm",
    "14000 rpm",
    "rpm",
    "Peak torque engine speed",
    uncertainty=InputUncertainty(0.03, 0.06, 0.12, measure="Engine speed of the best torque before the swap, from a dyno or a handbook"),
    usual="4600 rpm",
)
_STOCK = QuantitySpec(
    kind="power",
    low="2 hp",
    high="3000 hp",
    unit="hp",
    title="Stock power",
    help="At the crank, before the swap. If unknown, from the volumetric efficiency",
    uncertainty=InputUncertainty(0.04, 0.08, 0.12, measure="A dyno run before the swap, or the handbook"),
    usual="150 hp",
)
_STOCK_BOOST = QuantitySpec(
    kind="pressure_gauge",
    low="0 bar",
    high="3 bar",
    unit="bar",
    title="Stock boost",
    help="Boost at which the stock power was made",
    blank="not boosted",
)
_STOCK_SPEED = QuantitySpec(
    kind="rotation",
    low="1000 rpm",
    high="14000 rpm",
    unit="rpm",
    title="Stock power engine speed",
    uncertainty=InputUncertainty(0.02, 0.05, 0.10, measure="The same dyno run or handbook"),
    usual="6000 rpm",
)
_LAMBDA = QuantitySpec(
    "number",
    "0.6",
    "4",
    "",
    "Lambda at full load",
    uncertainty=InputUncertainty(0.01, 0.03, 0.05, absolute=True, measure="A wide-band probe in the downpipe at full load, logged"),
    usual="0.82",
)
_RETARD = QuantitySpec(
    kind="number",
    low="0",
    high="40",
    unit="",
    title="Timing after best torque, °",
    help="Used when entered: 10° cost about 4.5 % of torque and heat the exhaust",
    uncertainty=InputUncertainty(1.0, 3.0, absolute=True, measure="A timing light, against best-torque timing from a dyno"),
)
IGNITION = (("fuel", "As late as this fuel needs"), ("typed", "As entered"))
_EVAPORATED = QuantitySpec(
    kind="ratio",
    low="0 %",
    high="80 %",
    unit="%",
    title="Fuel that cools the charge",
    help="Share evaporated before the valve closes at 40 °C charge; more when hot. Alcohol 30–50 %, petrol little",
    uncertainty=InputUncertainty(
        0.05, 0.10, 0.12, absolute=True, measure="A thermometer in the plenum, with fuel on: the temperature drop behind the injectors"
    ),
    usual="0 %",
    model=True,
)
_TRUSTED = QuantitySpec(
    kind="pressure_gauge",
    low="0 bar",
    high="6 bar",
    unit="bar",
    title="Max safe boost",
    help="Boost that rods, pistons and gasket can stand",
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
        raise ValueError(tr_format("{0}: engine speeds must increase", name))
    for speed, value in rows:
        if not (100.0 <= speed <= 20000.0 and low <= value <= high):
            raise ValueError(tr_format("{0}: ({1:g}, {2:g}) is outside 100 to 20000 rpm and {3:g} to {4:g}", name, speed, value, low, high))


_DELIVERY = QuantitySpec(
    kind="injection",
    low="2 mm³",
    high="1000 mm³",
    unit="mm³",
    title="Fuel per injection",
    help="What the pump gives one cylinder at full load, at all speeds",
    uncertainty=InputUncertainty(0.03, 0.07, 0.12, measure="A pump bench; or litres of a full-load run divided by engine turns"),
    usual="55 mm³",
)
_PUMP = QuantitySpec(
    kind="ratio",
    low="40 %",
    high="400 %",
    unit="%",
    title="Pump setting",
    help="Relative to the delivery above: the same pump turned up, or a larger one",
)
_ELEMENT_WAS = QuantitySpec(
    kind="length",
    low="0 mm",
    high="20 mm",
    unit="mm",
    title="Element diameter, original",
    help="Plunger of an in-line pump",
    blank="not known",
)
_ELEMENT = QuantitySpec(
    kind="length",
    low="0 mm",
    high="20 mm",
    unit="mm",
    title="Element diameter, now",
    help="At the same rack, delivery grows with the area",
    blank="original",
)
_RACK_WAS = QuantitySpec(
    kind="length",
    low="0 mm",
    high="40 mm",
    unit="mm",
    title="Rack travel at full load, original",
    help="Of an in-line pump, from its stop",
    blank="not known",
)
_RACK = QuantitySpec(
    kind="length",
    low="0 mm",
    high="40 mm",
    unit="mm",
    title="Rack travel at full load, now",
    help="Fuel starts at about 40 % of the original travel, then grows with it. Rough guide",
    blank="original",
)
_SCREW = QuantitySpec(
    kind="number",
    low="-4",
    high="10",
    unit="",
    title="Full-load screw, turns in",
    help="From the original position; about 10 % more fuel per turn. Rough guide",
)
_LEANEST = QuantitySpec(
    kind="number",
    low="1",
    high="2",
    unit="",
    title="Smoke limiter lambda",
    help="Fuel that a boost-compensated pump holds back until there is enough air",
)
_INTAKE_VOLUME = QuantitySpec(
    kind="volume",
    low="0.05 L",
    high="60 L",
    unit="L",
    title="Plenum and runner volume",
    help="Volume between throttle and valves that the boost fills",
    uncertainty=InputUncertainty(0.05, 0.15, 0.40, measure="Fill it with water and count the jugs"),
    usual="3 L",
)
FUELLING = (("lambda", "From lambda"), ("stroke", "From the pump, one figure"), ("table", "From the pump, by engine speed"))
LIMITER = (("none", "None: full fuel at any boost"), ("boost", "Boost-compensated"))
MIXTURE = (("one", "One lambda"), ("table", "Lambda by engine speed"))
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
    breathing: Annotated[str, Choice("Engine type", lambda: BREATHING_CHOICES)] = "long_runner"
    stock_power: Annotated[Quantity, _STOCK] = _STOCK("? 150 hp")
    stock_speed: Annotated[Quantity, _STOCK_SPEED] = _STOCK_SPEED("? 6000 rpm")
    stock_boost: Annotated[Quantity, _STOCK_BOOST] = _STOCK_BOOST("0 bar")
    best_breathing: Annotated[Quantity, _PEAK] = _PEAK("? 92 %")
    best_breathing_speed: Annotated[Quantity, _PEAK_SPEED] = _PEAK_SPEED("? 4600 rpm")
    fuel: Annotated[str, Choice("Fuel", lambda: tuple((f.key, f.title) for f in FUELS.values()))] = "petrol98"
    full_load_lambda: Annotated[Quantity, _LAMBDA] = _LAMBDA("? 0.82")
    mixture: Annotated[str, Choice("Full-load mixture", lambda: MIXTURE)] = "one"
    trusted_boost: Annotated[Quantity, _TRUSTED] = _TRUSTED("1.3 bar")
    ignition: Annotated[str, Choice("Ignition timing", lambda: IGNITION)] = "fuel"
    retard: Annotated[Quantity, _RETARD] = _RETARD("0")
    evaporated: Annotated[Quantity, _EVAPORATED] = _EVAPORATED("? 0 %")
    fuelling: Annotated[str, Choice("Diesel fuel", lambda: FUELLING, "By quantity, as the pump is set: lambda follows from the air")] = (
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

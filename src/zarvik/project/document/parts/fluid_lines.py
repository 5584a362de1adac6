"""Oil and fuel lines of the build."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

GRADES = (("0w20", "0W-20"), ("5w30", "5W-30"), ("5w40", "5W-40"), ("10w40", "10W-40"), ("15w40", "15W-40"), ("20w50", "20W-50"))
_OIL = QuantitySpec(
    kind="pressure_gauge",
    low="0.2 bar",
    high="15 bar",
    unit="bar",
    title="Hot oil pressure",
    help="At the engine speed where it is highest",
)
_HEAT = QuantitySpec(kind="temperature", low="20 °C", high="160 °C", unit="°C", title="Hot oil temperature", help="In the main gallery")
_RESTRICTOR = QuantitySpec(
    kind="length", low="0 mm", high="12 mm", unit="mm", title="Restrictor bore", help="Smallest bore of the feed", blank="not measured"
)
_LONG = QuantitySpec("length", "0.5 mm", "60 mm", "mm", "Restrictor length")
_DRAIN = QuantitySpec(kind="length", low="0 mm", high="60 mm", unit="mm", title="Drain bore", help="Inside", blank="not measured")
_FALL = QuantitySpec(
    kind="angle", low="-30 °", high="90 °", unit="°", title="Drain slope", help="Flattest part below horizontal: 90° hangs straight down"
)
_ENDS = Choice("Drain outlet", lambda: (("above", "Above the oil in the sump"), ("below", "Below the oil level")))
_INJECTORS = QuantitySpec(kind="count", low="0", high="32", unit="", title="Injectors", help="On the engine", blank="auto: 1 per cyl.")
_RATED = QuantitySpec(
    kind="injector_flow",
    low="0 cc/min",
    high="20000 cc/min",
    unit="cc/min",
    title="Injector flow",
    help="One injector, held open",
    blank="not chosen",
)
_RATED_AT = QuantitySpec(
    kind="pressure_difference", low="1 bar", high="20 bar", unit="bar", title="Injector rating pressure", help="Across the injector"
)
_BASE = QuantitySpec(
    kind="pressure_gauge", low="0.5 bar", high="20 bar", unit="bar", title="Fuel pressure", help="At the regulator, hose off"
)
_FOLLOWS = Choice("Regulator reference", lambda: (("plenum", "To the plenum"), ("open", "Open, or none")))
_PUMP = QuantitySpec(
    kind="fuel_flow", low="0 L/h", high="3000 L/h", unit="L/h", title="Pump flow", help="At its rated pressure", blank="not chosen"
)
_PUMP_AT = QuantitySpec("pressure_gauge", "0 bar", "20 bar", "bar", "Pump rating pressure")
_LINE = QuantitySpec("length", "2 mm", "40 mm", "mm", "Fuel line bore")


class FluidLines(Part):
    """Oil to the turbo and back; fuel to the engine."""

    oil_grade: Annotated[str, Choice("Oil", lambda: GRADES)] = "10w40"
    bearings: Annotated[str, Choice("Bearing type", lambda: (("journal", "Journal"), ("ball", "Ball")))] = "journal"
    oil_pressure: Annotated[Quantity, _OIL] = _OIL("4 bar")
    oil_temperature: Annotated[Quantity, _HEAT] = _HEAT("95 °C")
    restrictor_bore: Annotated[Quantity, _RESTRICTOR] = _RESTRICTOR("0 mm")
    restrictor_length: Annotated[Quantity, _LONG] = _LONG("4 mm")
    drain_bore: Annotated[Quantity, _DRAIN] = _DRAIN("0 mm")
    drain_slope: Annotated[Quantity, _FALL] = _FALL("60 °")
    drain_outlet: Annotated[str, _ENDS] = "above"
    injectors: Annotated[Quantity, _INJECTORS] = _INJECTORS("0")
    injector_flow: Annotated[Quantity, _RATED] = _RATED("0 cc/min")
    injector_pressure: Annotated[Quantity, _RATED_AT] = _RATED_AT("3 bar")
    fuel_pressure: Annotated[Quantity, _BASE] = _BASE("3 bar")
    regulator_reference: Annotated[str, _FOLLOWS] = "plenum"
    pump_flow: Annotated[Quantity, _PUMP] = _PUMP("0 L/h")
    pump_pressure: Annotated[Quantity, _PUMP_AT] = _PUMP_AT("3 bar")
    fuel_line_bore: Annotated[Quantity, _LINE] = _LINE("8 mm")

"""The intercooler by its rating."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.core.intercooler.core_size import BUILDS, STANDS
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_EFFECTIVENESS = QuantitySpec(
    kind="ratio",
    low="5 %",
    high="95 %",
    unit="%",
    title="Rated effectiveness",
    help="Share of the way from charge to ambient temperature",
    uncertainty=InputUncertainty(
        0.03,
        0.06,
        0.10,
        absolute=True,
        measure="Thermometers before and after the core on a long pull, with the air temperature in front of it",
    ),
    usual="70 %",
)
_DROP = QuantitySpec(
    "pressure_difference",
    "10 Pa",
    "100 kPa",
    "kPa",
    "Rated charge-side pressure loss",
    uncertainty=InputUncertainty(0.15, 0.30, 0.40, measure="A gauge between taps before and after the core, at full load"),
    usual="7 kPa",
)
_CHARGE = QuantitySpec("mass_flow", "0.005 kg/s", "5 kg/s", "kg/s", "Charge flow at that rating")
_COOLING = QuantitySpec("mass_flow", "0.01 kg/s", "50 kg/s", "kg/s", "Cooling-air flow at that rating")
_WIDTH = QuantitySpec("length", "50 mm", "2000 mm", "mm", "Core width")
_HEIGHT = QuantitySpec("length", "50 mm", "1000 mm", "mm", "Core height")
_THICKNESS = QuantitySpec(
    kind="length", low="15 mm", high="200 mm", unit="mm", title="Core thickness", help="Along the cooling air, without tanks"
)
_FINS = QuantitySpec(kind="number", low="6", high="25", unit="", title="Fins per inch", help="On the cooling-air side, counted on the face")
_ENTRY = QuantitySpec(kind="length", low="20 mm", high="150 mm", unit="mm", title="Port diameter", help="Inside, at the tanks")
_OPENING = QuantitySpec(kind="ratio", low="5 %", high="100 %", unit="%", title="Grille opening", help="Area, as a share of the front face")
_FAN = QuantitySpec(
    kind="volume_flow", low="0 m³/h", high="10000 m³/h", unit="m³/h", title="Fan flow", help="Free flow as printed on it", blank="no fan"
)
_FRONT_WIDTH = QuantitySpec(
    kind="length", low="50 mm", high="2000 mm", unit="mm", title="Front radiator width", help="Along its water flow"
)
_FRONT_HEIGHT = QuantitySpec("length", "50 mm", "1000 mm", "mm", "Front radiator height")
_FRONT_THICK = QuantitySpec("length", "10 mm", "150 mm", "mm", "Front radiator thickness")
_FRONT_FINS = QuantitySpec("number", "6", "25", "", "Front radiator fins per inch")
_CAPTURE = QuantitySpec(
    kind="ratio",
    low="1 %",
    high="400 %",
    unit="%",
    title="Air share through the core",
    help="Share of the free stream in front of the core; 25–45 % with a duct",
    uncertainty=InputUncertainty(0.05, 0.08, 0.10, absolute=True, measure="Wool tufts and an anemometer behind the core at road speed"),
    usual="35 %",
    model=True,
)
_WATER = QuantitySpec(
    kind="mass_flow",
    low="0.02 kg/s",
    high="5 kg/s",
    unit="kg/s",
    title="Water flow",
    help="Of the pump in its circuit",
    uncertainty=InputUncertainty(0.10, 0.20, 0.40, measure="A bucket and a watch, through the whole circuit"),
    usual="0.30 kg/s",
)
_FRONT = QuantitySpec(
    kind="ratio",
    low="5 %",
    high="95 %",
    unit="%",
    title="Front radiator effectiveness",
    help="Over the smaller of water and air flow, measured at 80 km/h",
    uncertainty=InputUncertainty(0.04, 0.08, 0.12, absolute=True, measure="Thermometers at both water hoses on a long pull"),
    usual="65 %",
    model=True,
)
_TRUST = QuantitySpec(
    kind="ratio",
    low="20 %",
    high="100 %",
    unit="%",
    title="Confidence in the rating",
    help="A seller's figure: 80 % is common practice; your own measurement: 100 %",
    uncertainty=InputUncertainty(0.05, 0.10, 0.12, absolute=True, measure="Calculate it from the core: see its effectiveness"),
    usual="80 %",
    model=True,
)


class Intercooler(Part):
    """The intercooler: by its dimensions, along whose width the charge flows, or by one rated point."""

    fitted: bool = True
    effectiveness: Annotated[Quantity, _EFFECTIVENESS] = _EFFECTIVENESS("? 70 %")
    pressure_loss: Annotated[Quantity, _DROP] = _DROP("? 7 kPa")
    charge_flow: Annotated[Quantity, _CHARGE] = _CHARGE("0.25 kg/s")
    cooling_flow: Annotated[Quantity, _COOLING] = _COOLING("1.2 kg/s")
    width: Annotated[Quantity, _WIDTH] = _WIDTH("550 mm")
    height: Annotated[Quantity, _HEIGHT] = _HEIGHT("230 mm")
    thickness: Annotated[Quantity, _THICKNESS] = _THICKNESS("65 mm")
    construction: Annotated[str, Choice("Core construction", lambda: tuple((key, build.title) for key, build in BUILDS.items()))] = (
        "bar_plate"
    )
    fins: Annotated[Quantity, _FINS] = _FINS("12")
    port_diameter: Annotated[Quantity, _ENTRY] = _ENTRY("63.5 mm")
    mounting: Annotated[str, Choice("Core mounting", lambda: tuple((key, title) for key, (_, title) in STANDS.items()))] = "open"
    air_share: Annotated[Quantity, _CAPTURE] = _CAPTURE("? 35 %")
    rating_confidence: Annotated[Quantity, _TRUST] = _TRUST("? 80 %")
    medium: Annotated[str, Choice("Cooled by", lambda: (("air", "Air to air"), ("water", "Air to water")))] = "air"
    water_flow: Annotated[Quantity, _WATER] = _WATER("? 0.3 kg/s")
    front_effectiveness: Annotated[Quantity, _FRONT] = _FRONT("? 65 %")
    grille_opening: Annotated[Quantity, _OPENING] = _OPENING("100 %")
    fan_flow: Annotated[Quantity, _FAN] = _FAN("0 m³/h")
    front_width: Annotated[Quantity, _FRONT_WIDTH] = _FRONT_WIDTH("600 mm")
    front_height: Annotated[Quantity, _FRONT_HEIGHT] = _FRONT_HEIGHT("300 mm")
    front_thickness: Annotated[Quantity, _FRONT_THICK] = _FRONT_THICK("40 mm")
    front_fins: Annotated[Quantity, _FRONT_FINS] = _FRONT_FINS("14")

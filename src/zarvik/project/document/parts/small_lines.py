"""Breather, water of the turbo, fuel rail."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.fluid_lines import crankcase_breather, turbo_coolant
from zarvik.core.joints.threads import THREADS
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

RINGS = (("fresh", "Fresh, run in"), ("used", "Used and sound"), ("worn", "Worn: smokes at the filler"))
_RINGS = Choice("Piston rings", lambda: RINGS, "What stands in for gas past the rings while nobody has measured it")
_MEASURED = QuantitySpec(
    kind="gas_flow",
    low="0 L/min",
    high="5000 L/min",
    unit="L/min",
    title="Gas past them, measured",
    help="At full load, by a gas meter or a bag and a watch; 0: not measured",
)
_HOSES = QuantitySpec(kind="count", low="1", high="8", unit="", title="Breather hoses", help="Side by side")
_BREATHER = QuantitySpec(
    kind="length", low="0 mm", high="80 mm", unit="mm", title="Breather hose, bore", help="Its smallest, in the fitting; 0: not said"
)
_LONG = QuantitySpec("length", "50 mm", "5 m", "mm", "Breather hose, long")
_END = Choice("Breathes", lambda: tuple(crankcase_breather.ENDS.items()), "Into the open is forbidden on roads in most places")

_WATER = Choice("Water of the turbo", lambda: tuple(turbo_coolant.WATERED.items()))
_WATER_BORE = QuantitySpec(
    kind="length", low="0 mm", high="40 mm", unit="mm", title="Water hoses, bore", help="Smallest, in the fitting; 0: not said"
)
_WATER_LONG = QuantitySpec("length", "100 mm", "10 m", "mm", "Water hoses, both long")
_RISE = QuantitySpec(
    kind="length", low="-1.5 m", high="1.5 m", unit="mm", title="Return joins above the turbo", help="Below it: less than 0"
)

_SEAT = QuantitySpec(
    kind="length", low="0 mm", high="30 mm", unit="mm", title="Injector seat", help="Bore that its seal sits in; 0: the rail stays as it is"
)
_DEEP = QuantitySpec("length", "2 mm", "60 mm", "mm", "Seat deep")
_RAIL = QuantitySpec("length", "4 mm", "40 mm", "mm", "Rail's bore")
_TUBE = QuantitySpec(kind="length", low="8 mm", high="80 mm", unit="mm", title="Rail's outside", help="Across flats, or round")
_THREAD = Choice("Rail's ends", lambda: (("", "None"), *((key, key) for key in THREADS)))


class Breather(Part):
    """How the crankcase breathes."""

    rings: Annotated[str, _RINGS] = "used"
    measured: Annotated[Quantity, _MEASURED] = _MEASURED("0 L/min")
    hoses: Annotated[Quantity, _HOSES] = _HOSES("1")
    bore: Annotated[Quantity, _BREATHER] = _BREATHER("0 mm")
    long: Annotated[Quantity, _LONG] = _LONG("600 mm")
    end: Annotated[str, _END] = "can"


class Coolant(Part):
    """Water through the centre section of the turbo."""

    water: Annotated[str, _WATER] = "flows"
    bore: Annotated[Quantity, _WATER_BORE] = _WATER_BORE("0 mm")
    long: Annotated[Quantity, _WATER_LONG] = _WATER_LONG("1.6 m")
    rise: Annotated[Quantity, _RISE] = _RISE("100 mm")


class Rail(Part):
    """A fuel rail and bosses that are made for the build."""

    seat: Annotated[Quantity, _SEAT] = _SEAT("0 mm")
    deep: Annotated[Quantity, _DEEP] = _DEEP("12 mm")
    bore: Annotated[Quantity, _RAIL] = _RAIL("13 mm")
    outside: Annotated[Quantity, _TUBE] = _TUBE("25 mm")
    thread: Annotated[str, _THREAD] = ""

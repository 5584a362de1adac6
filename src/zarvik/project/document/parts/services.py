"""Breather, water of the turbo, fuel rail."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.fluid_lines import crankcase_breather, turbo_coolant
from zarvik.core.joints.threads import THREADS
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

RINGS = (("fresh", "New, run in"), ("used", "Used, healthy"), ("worn", "Worn: smoke from the filler"))
_RINGS = Choice("Piston ring condition", lambda: RINGS, "Used for blow-by until it is measured")
_MEASURED = QuantitySpec(
    kind="gas_flow",
    low="0 L/min",
    high="5000 L/min",
    unit="L/min",
    title="Blow-by, measured",
    help="At full load, with a gas meter or a bag and a watch",
    blank="not measured",
)
_HOSES = QuantitySpec(kind="count", low="1", high="8", unit="", title="Number of breather hoses", help="In parallel")
_BREATHER = QuantitySpec(
    kind="length", low="0 mm", high="80 mm", unit="mm", title="Breather hose bore", help="Smallest, in the fitting", blank="not measured"
)
_LONG = QuantitySpec("length", "50 mm", "5 m", "mm", "Breather hose length")
_END = Choice("Breather outlet", lambda: tuple(crankcase_breather.ENDS.items()), "Venting to atmosphere is illegal on most roads")

_WATER = Choice("Turbo coolant", lambda: tuple(turbo_coolant.WATERED.items()))
_WATER_BORE = QuantitySpec(
    kind="length", low="0 mm", high="40 mm", unit="mm", title="Coolant hose bore", help="Smallest, in the fitting", blank="not measured"
)
_WATER_LONG = QuantitySpec("length", "100 mm", "10 m", "mm", "Total coolant hose length")
_RISE = QuantitySpec(
    kind="length", low="-1.5 m", high="1.5 m", unit="mm", title="Coolant return height above the turbo", help="Negative if below it"
)

_SEAT = QuantitySpec(
    kind="length", low="0 mm", high="30 mm", unit="mm", title="Injector seat bore", help="Bore its seal sits in", blank="rail unchanged"
)
_DEEP = QuantitySpec("length", "2 mm", "60 mm", "mm", "Seat depth")
_RAIL = QuantitySpec("length", "4 mm", "40 mm", "mm", "Rail bore")
_TUBE = QuantitySpec(kind="length", low="8 mm", high="80 mm", unit="mm", title="Rail outside size", help="Across flats, or diameter")
_THREAD = Choice("Rail ends", lambda: (("", "None"), *((key, key) for key in THREADS)))


class Breather(Part):
    """How the crankcase breathes."""

    ring_condition: Annotated[str, _RINGS] = "used"
    blow_by: Annotated[Quantity, _MEASURED] = _MEASURED("0 L/min")
    hoses: Annotated[Quantity, _HOSES] = _HOSES("1")
    bore: Annotated[Quantity, _BREATHER] = _BREATHER("0 mm")
    length: Annotated[Quantity, _LONG] = _LONG("600 mm")
    outlet: Annotated[str, _END] = "can"


class TurboCoolant(Part):
    """Water through the centre section of the turbo."""

    connection: Annotated[str, _WATER] = "flows"
    bore: Annotated[Quantity, _WATER_BORE] = _WATER_BORE("0 mm")
    length: Annotated[Quantity, _WATER_LONG] = _WATER_LONG("1.6 m")
    return_height: Annotated[Quantity, _RISE] = _RISE("100 mm")


class FuelRail(Part):
    """A fuel rail and bosses that are made for the build."""

    seat_bore: Annotated[Quantity, _SEAT] = _SEAT("0 mm")
    seat_depth: Annotated[Quantity, _DEEP] = _DEEP("12 mm")
    bore: Annotated[Quantity, _RAIL] = _RAIL("13 mm")
    outside_size: Annotated[Quantity, _TUBE] = _TUBE("25 mm")
    thread: Annotated[str, _THREAD] = ""

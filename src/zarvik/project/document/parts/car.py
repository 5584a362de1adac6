"""The car that a pull moves."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_MASS = QuantitySpec(
    "mass",
    "100 kg",
    "20000 kg",
    "kg",
    "Car mass with driver",
    uncertainty=InputUncertainty(0.02, 0.05, 0.12, measure="A public weighbridge, with fuel and driver"),
    usual="1300 kg",
)
_GEAR = QuantitySpec(
    kind="number", low="0.4", high="20", unit="", title="Gear ratio", help="Of the gear for the pull: third is about 1.3 to 1.5"
)
_FINAL = QuantitySpec("number", "0.8", "12", "", "Final drive ratio")
_TYRE = QuantitySpec(
    kind="length",
    low="250 mm",
    high="1500 mm",
    unit="mm",
    title="Driven tyre diameter",
    help="Outside diameter, or its size as printed: 205/55 R16",
    tyre=True,
)
_DRAG = QuantitySpec(
    kind="area",
    low="0.1 m²",
    high="6 m²",
    unit="m²",
    title="Drag area",
    help="Drag coefficient times frontal area",
    uncertainty=InputUncertainty(0.05, 0.15, 0.25, measure="Coast down on a level road, both ways"),
    usual="0.65 m²",
)
_PULL = QuantitySpec(
    kind="rotation", low="600 rpm", high="12000 rpm", unit="rpm", title="Pull start speed", help="Engine speed at the start of the pull"
)

_CLUTCH = QuantitySpec(
    kind="torque", low="0 N·m", high="5000 N·m", unit="N·m", title="Clutch torque limit", help="At the engine", blank="not known"
)
_GEARBOX = QuantitySpec(
    kind="torque", low="0 N·m", high="5000 N·m", unit="N·m", title="Gearbox torque limit", help="At the engine", blank="not known"
)
_LOW = QuantitySpec(
    kind="torque",
    low="0 N·m",
    high="5000 N·m",
    unit="N·m",
    title="Torque limit in low gears",
    help="At the engine, in first and second: gears, shafts or tyres",
    blank="no limit",
)


class Car(Part):
    """What the engine pulls, for the seconds of a pull in a gear."""

    mass: Annotated[Quantity, _MASS] = _MASS("? 1300 kg")
    gear_ratio: Annotated[Quantity, _GEAR] = _GEAR("1.35")
    final_drive: Annotated[Quantity, _FINAL] = _FINAL("4.1")
    tyre_diameter: Annotated[Quantity, _TYRE] = _TYRE("630 mm")
    drag_area: Annotated[Quantity, _DRAG] = _DRAG("? 0.65 m²")
    clutch: Annotated[Quantity, _CLUTCH] = _CLUTCH("0 N·m")
    gearbox: Annotated[Quantity, _GEARBOX] = _GEARBOX("0 N·m")
    low_gears: Annotated[Quantity, _LOW] = _LOW("0 N·m")
    pull_from: Annotated[Quantity, _PULL] = _PULL("2500 rpm")

"""The charge cooler by its rating."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.fields import Choice, Of
from zarvik.project.parts.part import Part
from zarvik.project.units import Quantity

_EFFECTIVENESS = Of("ratio", "5 %", "95 %", "%", "Rated effectiveness",
                    "Part of the way from charge to ambient temperature")  # fmt: skip
_DROP = Of("pressure_difference", "10 Pa", "100 kPa", "kPa", "Rated charge-side drop")
_CHARGE = Of("mass_flow", "0.005 kg/s", "5 kg/s", "kg/s", "at a charge flow of")
_COOLING = Of("mass_flow", "0.01 kg/s", "50 kg/s", "kg/s", "and a cooling-air flow of")
_WIDTH = Of("length", "50 mm", "2000 mm", "mm", "Core width")
_HEIGHT = Of("length", "50 mm", "1000 mm", "mm", "Core height")
_CAPTURE = Of("ratio", "1 %", "100 %", "%", "Air that goes through",
              "Part of the free stream in front of the core; 25–45 % with a duct")  # fmt: skip
_WATER = Of("mass_flow", "0.02 kg/s", "5 kg/s", "kg/s", "Water flow", "Of the pump in its loop")
_FRONT = Of(
    "ratio", "5 %", "95 %", "%", "Front exchanger", "Effectiveness of the exchanger in the wind"
)
_TRUST = Of("ratio", "20 %", "100 %", "%", "Trust in the rating",
            "A seller's figure: common practice is 80 %; your own measurement: 100 %")  # fmt: skip


class Cooler(Part):
    """The charge cooler, by one rated point."""

    fitted: bool = True
    effectiveness: Annotated[Quantity, _EFFECTIVENESS] = _EFFECTIVENESS("75 %")
    drop: Annotated[Quantity, _DROP] = _DROP("7 kPa")
    charge_flow: Annotated[Quantity, _CHARGE] = _CHARGE("0.25 kg/s")
    cooling_flow: Annotated[Quantity, _COOLING] = _COOLING("1.2 kg/s")
    width: Annotated[Quantity, _WIDTH] = _WIDTH("550 mm")
    height: Annotated[Quantity, _HEIGHT] = _HEIGHT("230 mm")
    capture: Annotated[Quantity, _CAPTURE] = _CAPTURE("35 %")
    trust: Annotated[Quantity, _TRUST] = _TRUST("80 %")
    medium: Annotated[
        str, Choice("Cooled by", lambda: (("air", "Air to air"), ("water", "Air to water")))
    ] = "air"
    water_flow: Annotated[Quantity, _WATER] = _WATER("0.35 kg/s")
    front: Annotated[Quantity, _FRONT] = _FRONT("70 %")

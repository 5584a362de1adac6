"""Wastegate and bay."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.doubt.record import Doubt
from zarvik.project.fields import Of
from zarvik.project.parts.part import Part
from zarvik.project.units import Quantity

_VALVE = Of("length", "0 mm", "120 mm", "mm", "Valve diameter", "0 for no gate at all")
_LIFT = Of("length", "0 mm", "60 mm", "mm", "Full lift")
_GATES = Of("count", "1", "4", "", "Gates")
_DISCHARGE = Of("ratio", "20 %", "95 %", "%", "Discharge coefficient",
                "With its branch: 70 % straight off the collector, 50 % at a right angle",
                doubt=Doubt(0.05, 0.10, 0.12, absolute=True, measure="The boost that stands with the gate "
                "wired open, at two engine speeds"), usual="65 %")  # fmt: skip


class Gate(Part):
    """The wastegate, in parallel with the turbine."""

    diameter: Annotated[Quantity, _VALVE] = _VALVE("38 mm")
    lift: Annotated[Quantity, _LIFT] = _LIFT("10 mm")
    count: Annotated[Quantity, _GATES] = _GATES("1")
    discharge: Annotated[Quantity, _DISCHARGE] = _DISCHARGE("? 65 %")


_BAY = Of(
    "temperature", "-20 °C", "160 °C", "°C", "Bay temperature", "Air round the pipes at full load",
    doubt=Doubt(10.0, 15.0, 20.0, absolute=True, measure="A thermometer on a wire in the bay, on a long pull"),
    usual="60 °C",
)  # fmt: skip
_BREEZE = Of(
    "velocity", "0 m/s", "60 m/s", "m/s", "Breeze in the bay", "Speed of the air past hot parts",
    doubt=Doubt(0.30, 0.50, 0.70, measure="Wool tufts on the parts and a camera, at road speed"),
    usual="5 m/s",
)  # fmt: skip


class Bay(Part):
    """The engine bay."""

    temperature: Annotated[Quantity, _BAY] = _BAY("? 60 °C")
    breeze: Annotated[Quantity, _BREEZE] = _BREEZE("? 5 m/s")

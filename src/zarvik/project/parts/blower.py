"""A blower on a belt."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.doubt.record import Doubt
from zarvik.project.fields import Of, Words
from zarvik.project.parts.part import Part
from zarvik.project.units import Quantity

_PER_TURN = Of("volume", "50 cm³", "10 L", "cm³", "Displacement a turn")
_BELT = Of("number", "0.3", "6", "", "Blower turns per crank turn")
_SLIP_FREE = Of("ratio", "50 %", "100 %", "%", "Volumetric efficiency", "At no pressure", doubt=Doubt(
    0.02, 0.03, 0.04, absolute=True, measure="Boost at one engine speed with a known pulley"),
    usual="93 %")  # fmt: skip
_ADIABATIC = Of("ratio", "30 %", "85 %", "%", "Adiabatic efficiency", "At low pressure ratio",
                doubt=Doubt(0.02, 0.04, 0.06, absolute=True, measure="Thermometers before and behind it "
                "at full load"), usual="62 %")  # fmt: skip
_ROTOR = Of("rotation", "2000 rpm", "60000 rpm", "rpm", "Rotor limit")


class Blower(Part):
    """A belt-driven blower; fitted, it stands in the place of compressor and turbine."""

    fitted: bool = False
    name: Annotated[str, Words("Blower", 80)] = "Belt-driven blower"
    displacement: Annotated[Quantity, _PER_TURN] = _PER_TURN("450 cm³")
    ratio: Annotated[Quantity, _BELT] = _BELT("2.2")
    volumetric: Annotated[Quantity, _SLIP_FREE] = _SLIP_FREE("? 93 %")
    adiabatic: Annotated[Quantity, _ADIABATIC] = _ADIABATIC("? 62 %")
    rotor_limit: Annotated[Quantity, _ROTOR] = _ROTOR("16000 rpm")

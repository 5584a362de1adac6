"""A blower on a belt."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.core.engine.belt import RIBBED, TOOTHED
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_PER_TURN = QuantitySpec(
    kind="volume",
    low="50 cm³",
    high="10 L",
    unit="cm³",
    title="Displacement a turn",
    help="Unknown, one that makes the boost asked for on this engine",
    doubt=InputUncertainty(0.01, 0.04, 0.15, measure="The plate on it says it; or fill it with oil and turn it once"),
    usual="450 cm³",
)
_BELT = QuantitySpec(
    kind="number",
    low="0.3",
    high="6",
    unit="",
    title="Blower turns per crank turn",
    help="Unknown, it follows from the pulleys",
    doubt=InputUncertainty(0.005, 0.03, 0.01, measure="Turn the crank ten times by hand and count the blower"),
    usual="2.2",
)
_CRANK = QuantitySpec(kind="length", low="60 mm", high="320 mm", unit="mm", title="Crank pulley", help="Diameter that the belt runs on")
_PULLEY = QuantitySpec(kind="length", low="40 mm", high="320 mm", unit="mm", title="Blower pulley", help="Diameter that the belt runs on")
_CRANK_TEETH = QuantitySpec("count", "15", "120", "", "Teeth on the crank")
_TEETH = QuantitySpec("count", "15", "120", "", "Teeth on the blower")
_STEP_UP = QuantitySpec(
    kind="number", low="0.3", high="4", unit="", title="Gears inside", help="Turns of the rotors for one of the pulley; 1 for none"
)
_RIBS = QuantitySpec("count", "3", "16", "", "Ribs of the belt")
_WIDE = QuantitySpec("length", "10 mm", "120 mm", "mm", "Width of the belt")
_WRAP = QuantitySpec(
    kind="angle",
    low="60 °",
    high="300 °",
    unit="°",
    title="Wrap",
    help="Of the belt round the smaller pulley; an idler on its back makes it more",
)
BELTS = ((RIBBED, "Ribbed belt"), (TOOTHED, "Toothed belt, 8 mm pitch"))
_SLIP_FREE = QuantitySpec(
    kind="ratio",
    low="50 %",
    high="100 %",
    unit="%",
    title="Volumetric efficiency",
    help="At no pressure",
    doubt=InputUncertainty(0.02, 0.03, 0.04, absolute=True, measure="Boost at one engine speed with a known pulley"),
    usual="93 %",
)
_ADIABATIC = QuantitySpec(
    kind="ratio",
    low="30 %",
    high="85 %",
    unit="%",
    title="Adiabatic efficiency",
    help="At low pressure ratio",
    doubt=InputUncertainty(0.02, 0.04, 0.06, absolute=True, measure="Thermometers before and behind it at full load"),
    usual="62 %",
)
_ROTOR = QuantitySpec("rotation", "2000 rpm", "60000 rpm", "rpm", "Rotor limit")


class Blower(Part):
    """A belt-driven blower; fitted, it stands in the place of compressor and turbine."""

    fitted: bool = False
    name: Annotated[str, TextSpec("Blower", 80)] = "Belt-driven blower"
    displacement: Annotated[Quantity, _PER_TURN] = _PER_TURN("? 450 cm³")
    ratio: Annotated[Quantity, _BELT] = _BELT("? 2.2")
    belt: Annotated[str, Choice("Belt", lambda: BELTS)] = RIBBED
    crank_pulley: Annotated[Quantity, _CRANK] = _CRANK("165 mm")
    pulley: Annotated[Quantity, _PULLEY] = _PULLEY("75 mm")
    crank_teeth: Annotated[Quantity, _CRANK_TEETH] = _CRANK_TEETH("60")
    teeth: Annotated[Quantity, _TEETH] = _TEETH("28")
    step_up: Annotated[Quantity, _STEP_UP] = _STEP_UP("1")
    ribs: Annotated[Quantity, _RIBS] = _RIBS("6")
    wide: Annotated[Quantity, _WIDE] = _WIDE("50 mm")
    wrap: Annotated[Quantity, _WRAP] = _WRAP("170 °")
    volumetric: Annotated[Quantity, _SLIP_FREE] = _SLIP_FREE("? 93 %")
    adiabatic: Annotated[Quantity, _ADIABATIC] = _ADIABATIC("? 62 %")
    bypass: Annotated[
        str,
        Choice(
            "Bypass outlet",
            lambda: (("back", "Back before the blower"), ("air", "Vented to atmosphere")),
            "Air that goes back has been heated once: much of it heats the charge. Vented air has passed the air meter",
        ),
    ] = "back"
    rotor_limit: Annotated[Quantity, _ROTOR] = _ROTOR("16000 rpm")

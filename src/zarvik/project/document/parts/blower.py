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
    title="Displacement per turn",
    help="If unknown: one that makes the target boost on this engine",
    uncertainty=InputUncertainty(0.01, 0.04, 0.15, measure="On the type plate; or fill it with oil and turn it once"),
    usual="450 cm³",
)
_BELT = QuantitySpec(
    kind="number",
    low="0.3",
    high="6",
    unit="",
    title="Drive ratio",
    help="If unknown: from the pulleys",
    uncertainty=InputUncertainty(0.005, 0.03, 0.01, measure="Turn the crank ten times by hand and count blower turns"),
    usual="2.2",
)
_CRANK = QuantitySpec(kind="length", low="60 mm", high="320 mm", unit="mm", title="Crank pulley diameter", help="Where the belt runs")
_PULLEY = QuantitySpec(kind="length", low="40 mm", high="320 mm", unit="mm", title="Blower pulley diameter", help="Where the belt runs")
_CRANK_TEETH = QuantitySpec("count", "15", "120", "", "Crank pulley teeth")
_TEETH = QuantitySpec("count", "15", "120", "", "Blower pulley teeth")
_STEP_UP = QuantitySpec(
    kind="number", low="0.3", high="4", unit="", title="Internal gear ratio", help="Rotor turns per pulley turn; 1 without gears"
)
_RIBS = QuantitySpec("count", "3", "16", "", "Belt ribs")
_WIDE = QuantitySpec("length", "10 mm", "120 mm", "mm", "Belt width")
_WRAP = QuantitySpec(
    kind="angle",
    low="60 °",
    high="300 °",
    unit="°",
    title="Belt wrap angle",
    help="Around the smaller pulley; an idler on the back of the belt increases it",
)
BELTS = ((RIBBED, "Ribbed belt"), (TOOTHED, "Toothed belt, 8 mm pitch"))
_SLIP_FREE = QuantitySpec(
    kind="ratio",
    low="50 %",
    high="100 %",
    unit="%",
    title="Volumetric efficiency",
    help="Volumetric efficiency at zero pressure",
    uncertainty=InputUncertainty(0.02, 0.03, 0.04, absolute=True, measure="Boost at one engine speed with a known pulley"),
    usual="93 %",
    model=True,
)
_ADIABATIC = QuantitySpec(
    kind="ratio",
    low="30 %",
    high="85 %",
    unit="%",
    title="Adiabatic efficiency",
    help="At low pressure ratio",
    uncertainty=InputUncertainty(0.02, 0.04, 0.06, absolute=True, measure="Thermometers before and after it at full load"),
    usual="62 %",
    model=True,
)
_ROTOR = QuantitySpec("rotation", "2000 rpm", "60000 rpm", "rpm", "Rotor speed limit")


class Blower(Part):
    """A belt-driven blower; fitted, it stands in the place of compressor and turbine."""

    fitted: bool = False
    name: Annotated[str, TextSpec("Blower", 80)] = "Belt-driven blower"
    displacement: Annotated[Quantity, _PER_TURN] = _PER_TURN("? 450 cm³")
    drive_ratio: Annotated[Quantity, _BELT] = _BELT("? 2.2")
    belt: Annotated[str, Choice("Belt type", lambda: BELTS)] = RIBBED
    crank_pulley: Annotated[Quantity, _CRANK] = _CRANK("165 mm")
    pulley: Annotated[Quantity, _PULLEY] = _PULLEY("75 mm")
    crank_teeth: Annotated[Quantity, _CRANK_TEETH] = _CRANK_TEETH("60")
    teeth: Annotated[Quantity, _TEETH] = _TEETH("28")
    step_up: Annotated[Quantity, _STEP_UP] = _STEP_UP("1")
    belt_ribs: Annotated[Quantity, _RIBS] = _RIBS("6")
    belt_width: Annotated[Quantity, _WIDE] = _WIDE("50 mm")
    belt_wrap: Annotated[Quantity, _WRAP] = _WRAP("170 °")
    volumetric_efficiency: Annotated[Quantity, _SLIP_FREE] = _SLIP_FREE("? 93 %")
    adiabatic_efficiency: Annotated[Quantity, _ADIABATIC] = _ADIABATIC("? 62 %")
    bypass_outlet: Annotated[
        str,
        Choice(
            "Bypass outlet",
            lambda: (("back", "Back into the intake"), ("air", "Vented to atmosphere")),
            "Recirculated air is already hot and heats the charge. Vented air has already been metered",
        ),
    ] = "back"
    rotor_limit: Annotated[Quantity, _ROTOR] = _ROTOR("16000 rpm")

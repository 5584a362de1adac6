"""What a builder said of a line of the connection list; the lines of the design make themselves, and only what differs is kept."""

from __future__ import annotations

from typing import Annotated

from pydantic import SerializerFunctionWrapHandler, field_validator, model_serializer

from zarvik.core.connections import row as r
from zarvik.core.connections.rules import SERVED
from zarvik.core.joints.gaskets import STUFFS
from zarvik.core.joints.hose_joints import CLAMPS
from zarvik.core.joints.threads import SEALS, THREADS
from zarvik.core.materials.table import NAMES
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity


def _choice(title: str, words: dict[str, str], help: str = "") -> Choice:
    return Choice(title, lambda: tuple(words.items()), help)


_BORE = QuantitySpec(kind="length", low="0 mm", high="400 mm", unit="mm", title="Bore", help="Inside", blank="not measured")
_WALL = QuantitySpec(
    kind="length", low="0 mm", high="60 mm", unit="mm", title="Wall", help="Of the metal a thread is cut in", blank="not known"
)
_AT = QuantitySpec(kind="length", low="0 mm", high="12 m", unit="mm", title="Distance from start", help="Along its piece")
_CLOCK = QuantitySpec(
    kind="angle", low="-180 °", high="180 °", unit="°", title="Clock position", help="Seen along the flow: 0° up, 90° right"
)
_TORQUE = QuantitySpec(kind="torque", low="0 N·m", high="500 N·m", unit="N·m", title="Torque", help="As specified", blank="not known")
_ENGAGED = QuantitySpec(
    kind="length", low="0 mm", high="300 mm", unit="mm", title="Hose overlap", help="Length pushed onto the tube", blank="not measured"
)
_BOLTS = QuantitySpec(
    kind="count", low="0", high="12", unit="", title="Number of bolts", help="Of the first part, along the flow", blank="not measured"
)
_ACROSS = QuantitySpec(
    kind="length",
    low="0 mm",
    high="500 mm",
    unit="mm",
    title="Bolt spacing, long side",
    help="Between hole centres; for three or more on a circle, its diameter",
)
_UP = QuantitySpec(
    kind="length",
    low="0 mm",
    high="500 mm",
    unit="mm",
    title="Bolt spacing, short side",
    help="Of four in a rectangle",
    blank="round pattern",
)
_OTHER = QuantitySpec(
    kind="count", low="0", high="12", unit="", title="Bolts, second part", help="Of the part behind", blank="not measured"
)
_OTHER_ACROSS = QuantitySpec(
    kind="length", low="0 mm", high="500 mm", unit="mm", title="Long side, second part", help="As for the first part"
)
_OTHER_UP = QuantitySpec(
    kind="length",
    low="0 mm",
    high="500 mm",
    unit="mm",
    title="Short side, second part",
    help="Of four in a rectangle",
    blank="round pattern",
)
_OTHER_BORE = QuantitySpec(
    kind="length", low="0 mm", high="400 mm", unit="mm", title="Bore, second part", help="Inside", blank="not measured"
)
_LAYER = QuantitySpec(kind="length", low="0 mm", high="60 mm", unit="mm", title="Thickness", help="Of this layer")
_FACE = QuantitySpec(
    kind="area", low="0 cm²", high="5000 cm²", unit="cm²", title="Contact area", help="Metal on metal, without the openings", blank="auto"
)
SCREWS = {"M5": 0.005, "M6": 0.006, "M8": 0.008, "M10": 0.010, "M12": 0.012}
_SCREW = {key: key for key in SCREWS}
_LAYERS = {"": "None"} | {key: stuff.title for key, stuff in STUFFS.items()}
_THREADS = {"": "None"} | {key: key for key in THREADS}
_MATERIALS = {"": "Not known"} | {key: name.title for key, name in NAMES.items()}
_YES = {"yes": "Yes", "no": "No"}


# Keys of lines before a blower could have them; understood for one more version
FORMER_LINES = {"turbo__inlet": "charger__inlet", "turbo__outlet": "charger__outlet"}


class ConnectionNote(Part):
    """A line of the connection list: one of the design that somebody said something of, or one that was written by hand. Of a line of the
    design an empty word stands for what the design says."""

    id: Annotated[str, TextSpec("Key", 120, key=True)]
    kind: Annotated[str, _choice("Kind", r.KINDS)] = r.PORT
    name: Annotated[str, TextSpec("Name", 80)] = ""
    piece: Annotated[str, TextSpec("Piece", 60)] = ""
    where: Annotated[str, TextSpec("Position", 80)] = ""
    side: Annotated[str, _choice("Medium", r.SIDES)] = r.BOOST
    served: Annotated[str, _choice("Original use", SERVED)] = ""
    bore: Annotated[Quantity, _BORE] = _BORE("0 mm")
    thread: Annotated[str, _choice("Thread", _THREADS)] = ""
    sealed: Annotated[str, _choice("Seal", {key: title for key, (title, _, _) in SEALS.items()})] = ""
    wall: Annotated[Quantity, _WALL] = _WALL("0 mm")
    at: Annotated[Quantity, _AT] = _AT("0 mm")
    clock: Annotated[Quantity, _CLOCK] = _CLOCK("0 °")
    decision: Annotated[str, _choice("Decision", r.DECISIONS)] = ""
    made: Annotated[str, _choice("Joint type", {"": "As designed"} | r.MADE)] = ""
    clamp: Annotated[str, _choice("Clamp type", {"": "Standard"} | {k: c.title for k, c in CLAMPS.items()})] = ""
    bead: Annotated[str, _choice("Bead", {"": "Standard"} | _YES)] = ""
    oily: Annotated[str, _choice("Oil exposure", {"": "Standard"} | _YES)] = ""
    material: Annotated[str, _choice("Material", _MATERIALS)] = ""
    torque: Annotated[Quantity, _TORQUE] = _TORQUE("0 N·m")
    state: Annotated[str, _choice("State", r.STATES)] = r.OPEN
    engaged: Annotated[Quantity, _ENGAGED] = _ENGAGED("0 mm")
    bolts: Annotated[Quantity, _BOLTS] = _BOLTS("0")
    across: Annotated[Quantity, _ACROSS] = _ACROSS("0 mm")
    up: Annotated[Quantity, _UP] = _UP("0 mm")
    screw: Annotated[str, _choice("Thread", _SCREW)] = "M8"
    other_bolts: Annotated[Quantity, _OTHER] = _OTHER("0")
    other_across: Annotated[Quantity, _OTHER_ACROSS] = _OTHER_ACROSS("0 mm")
    other_up: Annotated[Quantity, _OTHER_UP] = _OTHER_UP("0 mm")
    other_screw: Annotated[str, _choice("Thread, second part", _SCREW)] = "M8"
    other_bore: Annotated[Quantity, _OTHER_BORE] = _OTHER_BORE("0 mm")
    turns: Annotated[str, _choice("Rotatable", {"no": "No", "yes": "Yes"}, "Can the second part be turned on its flange?")] = "no"
    layer_1: Annotated[str, _choice("Gasket layer 1", _LAYERS)] = ""
    thick_1: Annotated[Quantity, _LAYER] = _LAYER("1 mm")
    layer_2: Annotated[str, _choice("Gasket layer 2", _LAYERS)] = ""
    thick_2: Annotated[Quantity, _LAYER] = _LAYER("6 mm")
    layer_3: Annotated[str, _choice("Gasket layer 3", _LAYERS)] = ""
    thick_3: Annotated[Quantity, _LAYER] = _LAYER("1 mm")
    face: Annotated[Quantity, _FACE] = _FACE("0 cm²")
    measured: Annotated[str, TextSpec("Measured", 120, help="What, and measured from where: 41.2 mm across, from the gasket")] = ""
    note: Annotated[str, TextSpec("Note", 400)] = ""

    @model_serializer(mode="wrap")
    def _said(self, whole: SerializerFunctionWrapHandler) -> dict[str, object]:
        # Thousands of lines, few of which say more than a state: what is as it is from the start is not written.
        return {
            name: value
            for name, value in whole(self).items()
            if name in ("id", "kind") or name not in _FROM_THE_START or value != _FROM_THE_START[name]
        }

    @field_validator("id", mode="before")
    @classmethod
    def _now(cls, key: object) -> object:
        """The key of today of a line that was called otherwise."""
        return FORMER_LINES.get(key, key) if isinstance(key, str) else key


_FROM_THE_START: dict[str, object] = {
    name: next((m.written(field.default) for m in field.metadata if isinstance(m, QuantitySpec)), str(field.default))
    for name, field in ConnectionNote.model_fields.items()
    if name != "id"
}

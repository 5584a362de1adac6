"""What a builder said of a line of the register; the lines of the design make themselves, and only what differs is kept."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.register import rows as r
from zarvik.core.register.joints import CLAMPS
from zarvik.core.register.rules import SERVED, STANDS
from zarvik.core.register.threads import THREADS
from zarvik.project.fields import Choice, Of, Words
from zarvik.project.parts.part import Part
from zarvik.project.units import Quantity


def _choice(title: str, words: dict[str, str], help: str = "") -> Choice:
    return Choice(title, lambda: tuple(words.items()), help)


_BORE = Of("length", "0 mm", "400 mm", "mm", "Bore", "0: nobody has measured it")
_WALL = Of("length", "0 mm", "60 mm", "mm", "Wall", "Of the metal that a thread stands in; 0 where it is not known")
_AT = Of("length", "0 mm", "12 m", "mm", "From the beginning", "Along its piece")
_CLOCK = Of("angle", "-180 °", "180 °", "°", "Clock", "Seen along the flow: 0° up, 90° right")
_TORQUE = Of("torque", "0 N·m", "500 N·m", "N·m", "Torque", "0 where nobody says it")
_THREADS = {"": "None"} | {key: key for key in THREADS}
_MATERIALS = {"": "Not said"} | {key: key for key in (*STANDS, "aluminium", "stainless", "mild_steel", "cast", "printed")}
_YES = {"yes": "Yes", "no": "No"}


class Noted(Part):
    """A line of the register: one of the design that somebody said something of, or one that was written by hand. Of a line of the
    design an empty word stands for what the design says."""

    id: Annotated[str, Words("Key", 120, key=True)]
    kind: Annotated[str, _choice("What it is", r.KINDS)] = r.PORT
    name: Annotated[str, Words("Name", 80)] = ""
    piece: Annotated[str, Words("On the piece", 60)] = ""
    where: Annotated[str, Words("Where", 80)] = ""
    side: Annotated[str, _choice("Sees", r.SIDES)] = r.BOOST
    served: Annotated[str, _choice("What it served", SERVED)] = ""
    bore: Annotated[Quantity, _BORE] = _BORE("0 mm")
    thread: Annotated[str, _choice("Thread", _THREADS)] = ""
    wall: Annotated[Quantity, _WALL] = _WALL("0 mm")
    at: Annotated[Quantity, _AT] = _AT("0 mm")
    clock: Annotated[Quantity, _CLOCK] = _CLOCK("0 °")
    decision: Annotated[str, _choice("Decision", r.DECISIONS)] = ""
    made: Annotated[str, _choice("Made by", {"": "As the design says"} | r.MADE)] = ""
    clamp: Annotated[str, _choice("Clamp", {"": "As usual"} | {k: c.title for k, c in CLAMPS.items()})] = ""
    bead: Annotated[str, _choice("Bead", {"": "As usual"} | _YES)] = ""
    oily: Annotated[str, _choice("Sees oil", {"": "As usual"} | _YES)] = ""
    material: Annotated[str, _choice("Of", _MATERIALS)] = ""
    torque: Annotated[Quantity, _TORQUE] = _TORQUE("0 N·m")
    state: Annotated[str, _choice("State", r.STATES)] = r.OPEN
    measured: Annotated[str, Words("Measured", 120, help="What, and from what: 41.2 mm across, from the gasket")] = ""
    note: Annotated[str, Words("Note", 400)] = ""

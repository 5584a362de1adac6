"""What stands in the engine bay, as a tape measures it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Any

from zarvik.core.bay.kinds import KINDS
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.part import Part
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.units import EntryError, Quantity

BOX, CYLINDER, TUBE = "box", "cylinder", "tube"
TAPE, EYE, NOT_MEASURED = "tape", "eye", "no"
SLACK = {TAPE: 0.005, EYE: 0.03, NOT_MEASURED: 0.06}  # m; common practice, no source
MOST_POINTS = 40
_SHAPES = ((BOX, "Box"), (CYLINDER, "Cylinder"), (TUBE, "Tube through points"))
_MEASURED = ((TAPE, "With a tape"), (EYE, "By eye"), (NOT_MEASURED, "Not measured"))
_ALONG = QuantitySpec(
    kind="length", low="-5 m", high="5 m", unit="mm", title="Along the crank", help="Its middle, from exhaust port 1 towards the last one"
)
_UP = QuantitySpec(kind="length", low="-3 m", high="3 m", unit="mm", title="Height", help="Its middle, from the port centres")
_OUT = QuantitySpec(kind="length", low="-5 m", high="5 m", unit="mm", title="Outwards", help="Its middle, from the head face")
_HEADING = QuantitySpec(
    kind="angle", low="-180 °", high="180 °", unit="°", title="Heading", help="Its length, seen from above: 0° out, 90° along the crank"
)
_PITCH = QuantitySpec(kind="angle", low="-90 °", high="90 °", unit="°", title="Pitch", help="Of its length: 90° straight up")
_LONG = QuantitySpec(kind="length", low="1 mm", high="5 m", unit="mm", title="Object length", help="Along its heading")
_WIDE = QuantitySpec(kind="length", low="1 mm", high="5 m", unit="mm", title="Object width", help="Level, across its heading")
_HIGH = QuantitySpec(kind="length", low="1 mm", high="5 m", unit="mm", title="Object height")
_ACROSS = QuantitySpec(kind="length", low="1 mm", high="3 m", unit="mm", title="Object diameter")


@dataclass(frozen=True)
class Points(TextSpec):
    """Points of a tube, mm along the crank, up and out: "120 -40 300; 180 -40 420"."""

    most: int = 2000

    def check(self, text: Any) -> str:
        """The points in one writing; raises EntryError."""
        plain = super().check(text).strip()
        if not plain:
            return ""
        rows = [part for part in re.split(r"[;\n]", plain) if part.strip()]
        found = []
        for row in rows:
            numbers = [n for n in re.split(r"[\s,/]+", row.strip()) if n]
            try:
                values = [float(n) for n in numbers]
            except ValueError:
                values = []
            if len(values) != 3 or not all(abs(v) <= 5000.0 for v in values):
                raise EntryError(tr_format("{0}: “{1}” is not a point. Write 120 -40 300; 180 -40 420", tr(self.title), row.strip()))
            found.append(" ".join(f"{v:g}" for v in values))
        if not 2 <= len(found) <= MOST_POINTS:
            raise EntryError(tr_format("{0}: from 2 to {1} points, not {2}", tr(self.title), MOST_POINTS, len(found)))
        return "; ".join(found)


_POINTS = Points("Tube points", help="In mm: along the crank, height, outwards; a semicolon between two points")


def _kinds() -> tuple[tuple[str, str], ...]:
    return tuple((key, kind.title) for key, kind in KINDS.items())


class BayObject(Part):
    """Something that stands in the bay."""

    id: Annotated[str, TextSpec("Key", 60, key=True)]
    name: Annotated[str, TextSpec("Object name", 60)] = ""
    kind: Annotated[str, Choice("Object kind", _kinds, "Says how much room it needs")] = "unknown"
    shape: Annotated[str, Choice("Object shape", lambda: _SHAPES)] = BOX
    measured: Annotated[str, Choice("Object position", lambda: _MEASURED, "How well its place is known: so much more room is kept")] = EYE
    along: Annotated[Quantity, _ALONG] = _ALONG("0 mm")
    up: Annotated[Quantity, _UP] = _UP("0 mm")
    out: Annotated[Quantity, _OUT] = _OUT("0 mm")
    heading: Annotated[Quantity, _HEADING] = _HEADING("0 °")
    pitch: Annotated[Quantity, _PITCH] = _PITCH("0 °")
    length: Annotated[Quantity, _LONG] = _LONG("100 mm")
    width: Annotated[Quantity, _WIDE] = _WIDE("100 mm")
    height: Annotated[Quantity, _HIGH] = _HIGH("100 mm")
    diameter: Annotated[Quantity, _ACROSS] = _ACROSS("50 mm")
    points: Annotated[str, _POINTS] = ""

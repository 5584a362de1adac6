"""What stands in the engine bay, as a tape measures it."""

from __future__ import annotations

import base64
import re
import zlib
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any

import numpy as np

from zarvik.core.bay.kinds import KINDS
from zarvik.core.solids.meshes import Mesh
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.part import Part
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.units import EntryError, Quantity, parse

BOX, CYLINDER, TUBE, PLATE, HULL, SCAN, BELT, MARK = "box", "cylinder", "tube", "plate", "hull", "scan", "belt", "mark"
TAPE, EYE, NOT_MEASURED = "tape", "eye", "no"
SLACK = {TAPE: 0.005, EYE: 0.03, NOT_MEASURED: 0.06}  # m; common practice, no source
MOST_POINTS = 40
BACK = "back"
_SHAPES = (
    (BOX, "Box"),
    (CYLINDER, "Cylinder"),
    (TUBE, "Tube through points"),
    (PLATE, "Plate between corners"),
    (HULL, "Hull round points"),
    (SCAN, "Scan"),
    (BELT, "Belt round pulleys"),
    (MARK, "Mark to measure from"),
)
_MEASURED = ((TAPE, "With a tape"), (EYE, "By eye"), (NOT_MEASURED, "Not measured"))
_TURNS = (
    ("", "Does not turn"),
    ("along", "About a line along the crank"),
    ("up", "About an upright line"),
    ("out", "About a line outwards"),
)
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
_THICK = QuantitySpec(kind="length", low="0.5 mm", high="0.5 m", unit="mm", title="Thickness")
_FROM_TURN = QuantitySpec(kind="angle", low="-180 °", high="180 °", unit="°", title="Turns from", help="0° is how it is described")
_TO_TURN = QuantitySpec(kind="angle", low="-180 °", high="180 °", unit="°", title="Turns to")


def _from(what: str) -> TextSpec:
    return TextSpec(what, 60, "Name of an object: the size is then from its face to the face of this one. Empty: from exhaust port 1")


@dataclass(frozen=True)
class Points(TextSpec):
    """Rows of numbers in mm, `fewest` to `rows` of them with so many `numbers` each; a `word` may stand behind them. Points are along the
    crank, up and out: "120 -40 300; 180 -40 420"."""

    most: int = 2000
    fewest: int = 2
    rows: int = MOST_POINTS
    numbers: int = 3
    word: str = ""
    largest: float = 5000.0
    like: str = "120 -40 300; 180 -40 420"

    def check(self, text: Any) -> str:
        """The rows in one writing; raises EntryError."""
        plain = super().check(text).strip()
        if not plain:
            return ""
        found = []
        for row in (part for part in re.split(r"[;\n]", plain) if part.strip()):
            parts = [n for n in re.split(r"[\s,/=>]+", row.strip().lower()) if n]
            words = [n for n in parts if n == self.word]
            try:
                values = [float(n) for n in parts if n not in words]
            except ValueError:
                values = []
            if len(values) != self.numbers or len(words) > 1 or not all(abs(v) <= self.largest for v in values):
                raise EntryError(tr_format("{0}: “{1}” is not a point. Write {2}", tr(self.title), row.strip(), self.like))
            found.append(" ".join([*(f"{v:g}" for v in values), *words]))
        if not self.fewest <= len(found) <= self.rows:
            raise EntryError(tr_format("{0}: from {1} to {2} points, not {3}", tr(self.title), self.fewest, self.rows, len(found)))
        return "; ".join(found)


_TAPE_LINE = re.compile(r"^(.*?\S)[\s:=]+(\d+(?:[.,]\d+)?(?:\s+\d+/\d+|/\d+)?\s*(?:mm|cm|m|in|ft|\"|')?)$")


@dataclass(frozen=True)
class Tapes(TextSpec):
    """Lengths of tapes from marks: "Firewall 820; Strut tower 455; port 3 16 in"."""

    most: int = 1000

    def check(self, text: Any) -> str:
        """The tapes in one writing, each with its unit; raises EntryError."""
        plain = super().check(text).strip()
        rows = [part.strip() for part in re.split(r"[;\n]", plain) if part.strip()]
        found = []
        for row in rows:
            match = _TAPE_LINE.fullmatch(row)
            if match is None:
                raise EntryError(tr_format("{0}: “{1}” is no tape. Write Firewall 820; Strut tower 455", tr(self.title), row))
            length = parse(match[2], "length", default_unit="mm")
            if not 0.005 <= length.si <= 10.0:
                raise EntryError(tr_format("{0}: a tape of {1} is not possible", tr(self.title), length))
            found.append(f"{match[1]} {length}")
        if len(found) > 12:
            raise EntryError(tr_format("{0}: no more than 12 tapes, not {1}", tr(self.title), len(found)))
        return "; ".join(found)


@dataclass(frozen=True)
class Skin(TextSpec):
    """The triangles of a scan, packed (`skin_text`)."""

    most: int = 4_000_000

    def check(self, text: Any) -> str:
        """The text itself where triangles come out of it; raises EntryError."""
        plain = super().check(text)
        if plain:
            skin_of(plain)
        return plain


def skin_text(mesh: Mesh, beside: float) -> str:
    """A `mesh` as text: corners in steps of a sixty-thousandth of its size, compressed; `beside` m, what the mesh is good to."""
    low = mesh.corners.min(axis=0)
    step = max(float(np.ptp(mesh.corners, axis=0).max()), 1e-6) / 60_000.0
    places = np.rint((mesh.corners - low) / step).astype("<u2")
    packed = zlib.compress(np.array([*low, step, beside], "<f8").tobytes() + places.tobytes() + mesh.triangles.astype("<u4").tobytes(), 6)
    return f"{len(places)} {len(mesh.triangles)} {base64.b64encode(packed).decode()}"


@lru_cache(8)
def skin_of(text: str) -> tuple[Mesh, float]:
    """The mesh of a `skin_text`, and what it is good to, m. Raises EntryError where it is none."""
    try:
        first, second, packed = text.split(" ")
        count, many = int(first), int(second)
        if not (3 <= count <= 200_000 and 1 <= many <= 200_000):
            raise ValueError
        size = 40 + 6 * count + 12 * many
        data = zlib.decompressobj().decompress(base64.b64decode(packed, validate=True), size + 1)
        numbers = np.frombuffer(data[:40], "<f8")
        places = np.frombuffer(data[40 : 40 + 6 * count], "<u2").reshape(count, 3)
        triangles = np.frombuffer(data[40 + 6 * count :], "<u4").reshape(many, 3).astype(np.int64)
        if triangles.max() >= count or not np.all(np.abs(numbers) < 20.0) or numbers[3] <= 0.0 or numbers[4] < 0.0:
            raise ValueError
    except (ValueError, zlib.error):
        raise EntryError(tr("The scan in this file is damaged: import it again")) from None
    corners = numbers[:3] + places * numbers[3]
    if np.ptp(corners, axis=0).max() > 20.0:
        raise EntryError(tr("The scan in this file is damaged: import it again"))
    return Mesh(corners, triangles), float(numbers[4])


_POINTS = Points("Object points", help="In mm: along the crank, height, outwards; a semicolon between two points")
_PIVOT = Points("Turns about", fewest=1, rows=1, like="0 -200 0", help="In mm from its middle: along the crank, height, outwards")
_SLIDE = Points("Slides by", fewest=1, rows=1, like="0 80 0", help="In mm, as far as it goes: along the crank, height, outwards")
_PULLEYS = Points(
    "Pulleys",
    rows=12,
    word=BACK,
    like="-290 -100 165; -180 110 60; -80 -10 70 back",
    help="In mm: height, outwards, diameter, in the order of the belt; “back” where the belt's back runs on it",
)
_ALIGNED = Points(
    "Points of the scan",
    fewest=3,
    rows=12,
    numbers=6,
    largest=20_000.0,
    like="12 40 860 = 0 0 0; …",
    help="Three or more, in mm: where it is in the scan = where it is in the bay (along the crank, height, outwards)",
)
_HOLES = Points(
    "Bracket holes",
    fewest=1,
    rows=12,
    like="-35 0 8.5; 35 0 10.5",
    help="In mm from the middle of a bracket: along its length, across, diameter",
)
_TAPES = Tapes(
    "Tapes to its middle", help="Three marks with their distance, or two and the height: Firewall 820; Strut tower 455; port 3 390"
)


_ALTERED = Choice(
    "Changed for the build",
    lambda: (("", "As it was"), ("notched", "Notched or cut"), ("moved", "Moved or remade")),
    "Structure, steering and brakes are for a licensed or certified trade",
)


def _kinds() -> tuple[tuple[str, str], ...]:
    return tuple((key, kind.title) for key, kind in KINDS.items())


class BayObject(Part):
    """Something that stands in the bay."""

    id: Annotated[str, TextSpec("Key", 60, key=True)]
    name: Annotated[str, TextSpec("Object name", 60)] = ""
    kind: Annotated[str, Choice("Object kind", _kinds, "Says how much room it needs")] = "unknown"
    shape: Annotated[str, Choice("Object shape", lambda: _SHAPES)] = BOX
    measured: Annotated[str, Choice("Object position", lambda: _MEASURED, "How well its place is known: so much more room is kept")] = EYE
    altered: Annotated[str, _ALTERED] = ""
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
    thickness: Annotated[Quantity, _THICK] = _THICK("3 mm")
    holes: Annotated[str, _HOLES] = ""
    pulleys: Annotated[str, _PULLEYS] = ""
    along_from: Annotated[str, _from("Along, measured from")] = ""
    up_from: Annotated[str, _from("Height, measured from")] = ""
    out_from: Annotated[str, _from("Outwards, measured from")] = ""
    tapes: Annotated[str, _TAPES] = ""
    turns: Annotated[str, Choice("Turning", lambda: _TURNS)] = ""
    pivot: Annotated[str, _PIVOT] = ""
    turn_from: Annotated[Quantity, _FROM_TURN] = _FROM_TURN("0 °")
    turn_to: Annotated[Quantity, _TO_TURN] = _TO_TURN("0 °")
    slide: Annotated[str, _SLIDE] = ""
    file: Annotated[str, TextSpec("Scan file", 200)] = ""
    aligned: Annotated[str, _ALIGNED] = ""
    skin: Annotated[str, Skin("Scanned skin")] = ""

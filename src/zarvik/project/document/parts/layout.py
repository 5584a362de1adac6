"""Where things stand, as a tape measures it in the car, and how a manifold is made of pieces."""

from __future__ import annotations

import functools
import operator
import re
from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Any

from pydantic import Field

from zarvik.core.materials.table import NAMES, of_family
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.bent_pipe import BentPipe
from zarvik.project.document.parts.part import Part
from zarvik.project.document.parts.piece import PIECE_MODELS, Piece
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.units import EntryError, Quantity

# Kinds of piece that a primary is made of.
PRIMARY_KINDS = ("straight", "bend", "mitre", "reducer", "joint", "crush")
FREE, MEASURED = "free", "measured"
_PLACED = Choice(
    "Position", lambda: ((FREE, "End point"), (MEASURED, "Measured in the car")), "A measured position must be met by the pipe"
)
_ALONG = QuantitySpec(
    kind="length", low="-5 m", high="5 m", unit="mm", title="Along the crank", help="From the centre of exhaust port 1 towards the last one"
)
_UP = QuantitySpec(kind="length", low="-3 m", high="3 m", unit="mm", title="Height", help="From the port centres")
_OUT = QuantitySpec(kind="length", low="-5 m", high="5 m", unit="mm", title="Outwards", help="From the head face where the flange sits")
_HEADING = QuantitySpec(
    kind="angle",
    low="-180 °",
    high="180 °",
    unit="°",
    title="Heading",
    help="Flow direction seen from above: 0° straight out, 90° towards the last cylinder, -90° towards the first",
)
_PITCH = QuantitySpec(
    kind="angle", low="-90 °", high="90 °", unit="°", title="Pitch", help="Flow direction: 90° straight up, -90° straight down"
)


class Placement(Part):
    """Where something stands, and the way of the flow there."""

    placed: Annotated[str, _PLACED] = FREE
    along: Annotated[Quantity, _ALONG] = _ALONG("0 mm")
    up: Annotated[Quantity, _UP] = _UP("0 mm")
    out: Annotated[Quantity, _OUT] = _OUT("0 mm")
    heading: Annotated[Quantity, _HEADING] = _HEADING("0 °")
    pitch: Annotated[Quantity, _PITCH] = _PITCH("0 °")


_FILTER_DIAMETER = QuantitySpec(
    kind="length",
    low="0 mm",
    high="600 mm",
    unit="mm",
    title="Filter outside diameter",
    help="At its widest; by its connection about 1.7 times that, a rough guide",
    blank="by its connection",
)
_FILTER_LENGTH = QuantitySpec(
    kind="length",
    low="0 mm",
    high="800 mm",
    unit="mm",
    title="Filter length",
    help="Behind its connection; by its connection about twice that, a rough guide",
    blank="by its connection",
)


class FilterPlacement(Placement):
    """Where the air filter is: the connection from which the intake begins, and how large it is."""

    diameter: Annotated[Quantity, _FILTER_DIAMETER] = _FILTER_DIAMETER("0 mm")
    length: Annotated[Quantity, _FILTER_LENGTH] = _FILTER_LENGTH("0 mm")


_SHAFT = QuantitySpec(
    kind="angle",
    low="-180 °",
    high="180 °",
    unit="°",
    title="Shaft angle",
    help="About the gas into the flange: 0° with the compressor up, clockwise seen along the gas",
)
_CLOCK = QuantitySpec(
    kind="angle",
    low="-180 °",
    high="180 °",
    unit="°",
    title="Compressor cover angle",
    help="Outlet direction: 0° back against the gas in the flange, clockwise seen into the compressor",
)
_DRAIN = QuantitySpec(
    kind="angle",
    low="-180 °",
    high="180 °",
    unit="°",
    title="Centre section angle",
    help="Oil outlet: 0° back against the gas in the flange, clockwise seen into the compressor",
)
_BY_WHEEL = "auto"
_TO_SHAFT = QuantitySpec(
    kind="length",
    low="0 mm",
    high="400 mm",
    unit="mm",
    title="Flange to shaft distance",
    help="From the turbine flange to the shaft axis",
    blank=_BY_WHEEL,
)
_BETWEEN = QuantitySpec(
    kind="length",
    low="0 mm",
    high="600 mm",
    unit="mm",
    title="Housing to housing distance",
    help="Between the centres of the scrolls",
    blank=_BY_WHEEL,
)
_OUTLET = QuantitySpec(
    kind="length",
    low="0 mm",
    high="400 mm",
    unit="mm",
    title="Outlet to shaft distance",
    help="From the end of the compressor outlet to the shaft axis",
    blank=_BY_WHEEL,
)
_HAND = Choice(
    "Scroll direction", lambda: (("right", "Right"), ("left", "Left")), "Seen into the compressor: the flange is right or left of the shaft"
)


class TurboPlacement(Placement):
    """Where the gas enters the turbine, and how the turbo is turned there."""

    along: Annotated[Quantity, _ALONG] = _ALONG("145 mm")
    up: Annotated[Quantity, _UP] = _UP("-120 mm")
    out: Annotated[Quantity, _OUT] = _OUT("240 mm")
    pitch: Annotated[Quantity, _PITCH] = _PITCH("-90 °")
    shaft: Annotated[Quantity, _SHAFT] = _SHAFT("-90 °")
    cover: Annotated[Quantity, _CLOCK] = _CLOCK("0 °")
    drain: Annotated[Quantity, _DRAIN] = _DRAIN("180 °")
    hand: Annotated[str, _HAND] = "right"
    to_shaft: Annotated[Quantity, _TO_SHAFT] = _TO_SHAFT("0 mm")
    between: Annotated[Quantity, _BETWEEN] = _BETWEEN("0 mm")
    outlet: Annotated[Quantity, _OUTLET] = _OUTLET("0 mm")


_PORT = Choice(
    "Exhaust port shape", lambda: (("round", "Round"), ("oval", "Oval"), ("rectangle", "Rectangle"), ("d", "D-shaped, flat below"))
)
_WIDE = QuantitySpec(
    kind="length", low="10 mm", high="120 mm", unit="mm", title="Port width", help="Along the crank; the diameter if round"
)
_HIGH = QuantitySpec(kind="length", low="10 mm", high="120 mm", unit="mm", title="Port height", help="Across the crank; not used if round")
_SPACING = QuantitySpec(
    kind="length", low="0 mm", high="400 mm", unit="mm", title="Port spacing", help="Between port centres", blank="auto: 1.1 × bore"
)
_FALL = QuantitySpec(kind="angle", low="-45 °", high="60 °", unit="°", title="Port down angle", help="Relative to the flange")
_FLANGE = QuantitySpec("length", "3 mm", "40 mm", "mm", "Flange thickness")
_BANKS = Choice("Banks", lambda: (("one", "Inline"), ("vee", "Two banks")))
_BETWEEN_BANKS = QuantitySpec(
    kind="length",
    low="100 mm",
    high="3 m",
    unit="mm",
    title="Distance between banks",
    help="From the ports of one bank to those of the other",
)
_STAGGER = QuantitySpec(
    kind="length", low="-200 mm", high="200 mm", unit="mm", title="Second bank offset", help="How far behind along the crank"
)
_NUMBERING = Choice("Cylinder numbering", lambda: (("half", "First half on bank 1"), ("odd", "Odd numbers on bank 1")))
_HOLES = Choice(
    "Bolt pattern", lambda: (("pair", "Above and below each port"), ("diagonal", "Diagonal at each port"), ("between", "Between the ports"))
)
_BOLT = QuantitySpec(
    kind="length",
    low="4 mm",
    high="25 mm",
    unit="mm",
    title="Bolt hole diameter",
    help="Clearance for M8: 8.5 to 9 mm, for M10: 10.5 to 11 mm",
)
_BOLT_UP = QuantitySpec(kind="length", low="0 mm", high="150 mm", unit="mm", title="Bolt offset, vertical", help="From the port centre")
_BOLT_ASIDE = QuantitySpec(
    kind="length", low="0 mm", high="150 mm", unit="mm", title="Bolt offset, along the crank", help="From the port centre"
)
_EDGE = QuantitySpec(kind="length", low="2 mm", high="60 mm", unit="mm", title="Edge width", help="From a hole to the edge of the flange")


@dataclass(frozen=True)
class Order(TextSpec):
    """A firing order, empty for the usual one; written as 1-3-4-2."""

    most: int = 80

    def check(self, text: Any) -> str:
        """The order as 1-3-4-2, or nothing; raises EntryError."""
        plain = super().check(text).strip()
        found = [n for n in re.split(r"[\s,;\-–]+", plain) if n]
        # Up to nine cylinders are said without anything between them.
        if len(found) == 1 and found[0].isdigit() and 2 <= len(found[0]) <= 9:
            found = list(found[0])
        if not all(n.isdigit() for n in found):
            raise EntryError(tr_format("{0}: “{1}” is not a firing order. Write 1-3-4-2", tr(self.title), text))
        numbers = [int(n) for n in found]
        if sorted(numbers) != list(range(1, len(numbers) + 1)):
            raise EntryError(tr_format("{0}: “{1}”: every cylinder must fire once", tr(self.title), text))
        return "-".join(str(n) for n in numbers)


_ORDER = Order("Firing order", help="For example 1-3-4-2")


_ROLLS = QuantitySpec(
    kind="angle",
    low="0 °",
    high="15 °",
    unit="°",
    title="Engine roll on its mounts",
    help="To either side under torque, about the crank: what stands in the bay then comes nearer to the pipes",
    blank="moves by 12 mm",
)
_CRANK_UP = QuantitySpec(kind="length", low="0 mm", high="1 m", unit="mm", title="Crank below port centres", blank="typical")
_CRANK_OUT = QuantitySpec(kind="length", low="0 mm", high="2 m", unit="mm", title="Crank behind head face", blank="typical")


class HeadPlacement(Part):
    """The exhaust side of the head."""

    port: Annotated[str, _PORT] = "round"
    port_width: Annotated[Quantity, _WIDE] = _WIDE("40 mm")
    port_height: Annotated[Quantity, _HIGH] = _HIGH("34 mm")
    spacing: Annotated[Quantity, _SPACING] = _SPACING("0 mm")
    port_down_angle: Annotated[Quantity, _FALL] = _FALL("0 °")
    flange: Annotated[Quantity, _FLANGE] = _FLANGE("10 mm")
    bolts: Annotated[str, _HOLES] = "pair"
    bolt_hole: Annotated[Quantity, _BOLT] = _BOLT("8.5 mm")
    bolt_up: Annotated[Quantity, _BOLT_UP] = _BOLT_UP("36 mm")
    bolt_aside: Annotated[Quantity, _BOLT_ASIDE] = _BOLT_ASIDE("0 mm")
    edge: Annotated[Quantity, _EDGE] = _EDGE("10 mm")
    order: Annotated[str, _ORDER] = ""
    banks: Annotated[str, _BANKS] = "one"
    bank_distance: Annotated[Quantity, _BETWEEN_BANKS] = _BETWEEN_BANKS("600 mm")
    stagger: Annotated[Quantity, _STAGGER] = _STAGGER("0 mm")
    numbered: Annotated[str, _NUMBERING] = "half"
    roll: Annotated[Quantity, _ROLLS] = _ROLLS("0 °")
    crank_below: Annotated[Quantity, _CRANK_UP] = _CRANK_UP("0 mm")
    crank_behind: Annotated[Quantity, _CRANK_OUT] = _CRANK_OUT("0 mm")


_YES_NO = (("yes", "May change"), ("no", "Keep as built"))
_LENGTH_STEP = QuantitySpec(
    kind="length", low="0 mm", high="50 mm", unit="mm", title="Length step", help="In which it can be made", blank="any"
)
_ANGLE_STEP = QuantitySpec(
    kind="angle", low="0 °", high="45 °", unit="°", title="Bend angle step", help="In which it can be made", blank="any"
)
_ROLL_STEP = QuantitySpec(
    kind="angle", low="0 °", high="45 °", unit="°", title="Rotation step", help="In which it can be made", blank="any"
)
_WANTED = QuantitySpec(
    kind="length", low="0 mm", high="3 m", unit="mm", title="Primary length", help="Along the centreline", blank="auto: shortest"
)
_SPREAD = QuantitySpec(kind="ratio", low="0.1 %", high="50 %", unit="%", title="Allowed length difference", help="Longest to shortest")
_TURN = QuantitySpec(
    kind="angle", low="-180 °", high="180 °", unit="°", title="Collector rotation", help="About its axis: 0° with inlet 1 up"
)
_WALL = QuantitySpec(
    kind="length",
    low="0.5 mm",
    high="8 mm",
    unit="mm",
    title="Primary wall thickness",
    help="3.7 mm is schedule 40 of 1½ inch, 1.65 mm is 16 gauge",
)
_LOG = QuantitySpec(
    kind="length",
    low="20 mm",
    high="400 mm",
    unit="mm",
    title="Log distance from flange",
    help="To the centre of a log that runs past the ports",
)
_TIGHTEST = QuantitySpec(
    kind="factor",
    low="0.6",
    high="6",
    unit="",
    title="Tightest bend available",
    help="Centreline radius over outside diameter: weld elbows are 1 (short) or 1.5 (long)",
)

_MOST_BENDS = QuantitySpec(
    kind="count", low="2", high="6", unit="", title="Most bends per primary", help="Two to four are usual; each costs a weld"
)
_WITHIN_OUT = QuantitySpec(
    kind="length", low="0 mm", high="2 m", unit="mm", title="Primaries within, outwards", help="From the head face", blank="no limit"
)
_WITHIN_DOWN = QuantitySpec(
    kind="length", low="0 mm", high="2 m", unit="mm", title="Primaries within, down", help="Below the port centres", blank="no limit"
)
_WITHIN_UP = QuantitySpec(
    kind="length", low="0 mm", high="2 m", unit="mm", title="Primaries within, up", help="Above the port centres", blank="no limit"
)


class FabricationLimits(Part):
    """How a manifold is made of pieces: steps, what may change, what will do."""

    blocks: Annotated[
        str,
        Choice(
            "Primary construction",
            lambda: (("free", "Tube cut to any length"), ("inch", "Modelling blocks")),
            "With blocks, only the last straight and bend are cut to fit; the kit stands under Stock",
        ),
    ] = "free"
    length_step: Annotated[Quantity, _LENGTH_STEP] = _LENGTH_STEP("1 mm")
    angle_step: Annotated[Quantity, _ANGLE_STEP] = _ANGLE_STEP("1 °")
    roll_step: Annotated[Quantity, _ROLL_STEP] = _ROLL_STEP("1 °")
    lengths: Annotated[str, Choice("Lengths", lambda: _YES_NO)] = "yes"
    angles: Annotated[str, Choice("Bend angles", lambda: _YES_NO)] = "yes"
    rolls: Annotated[str, Choice("Rotations", lambda: _YES_NO)] = "yes"
    primary_length: Annotated[Quantity, _WANTED] = _WANTED("0 mm")
    spread: Annotated[Quantity, _SPREAD] = _SPREAD("2 %")
    most_bends: Annotated[Quantity, _MOST_BENDS] = _MOST_BENDS("4")
    within_out: Annotated[Quantity, _WITHIN_OUT] = _WITHIN_OUT("0 mm")
    within_down: Annotated[Quantity, _WITHIN_DOWN] = _WITHIN_DOWN("0 mm")
    within_up: Annotated[Quantity, _WITHIN_UP] = _WITHIN_UP("0 mm")
    wall: Annotated[Quantity, _WALL] = _WALL("3.7 mm")
    tightest_bend: Annotated[Quantity, _TIGHTEST] = _TIGHTEST("1")
    turn: Annotated[Quantity, _TURN] = _TURN("45 °")
    joint: Annotated[
        str,
        Choice(
            "Collector joint",
            lambda: (("butt", "Butt welded"), ("slip", "Slip joint")),
            "A slip joint moves with heat and needs straight tube",
        ),
    ] = "butt"
    log: Annotated[Quantity, _LOG] = _LOG("90 mm")
    weld_roots: Annotated[
        str,
        Choice(
            "Weld roots",
            lambda: (("no", "Not back-purged"), ("yes", "Back-purged with argon")),
            "An unpurged stainless root is rough and oxidised: it cracks sooner",
        ),
    ] = "no"
    stress_relief: Annotated[
        str,
        Choice(
            "Stress relief",
            lambda: (("no", "As welded"), ("yes", "Stress-relieved")),
            "In a furnace after welding, with flanges bolted down",
        ),
    ] = "no"


class Layout(Part):
    """Where things stand."""

    head: HeadPlacement = HeadPlacement()
    turbo: TurboPlacement = TurboPlacement()
    cooler_in: Placement = Placement()
    cooler_out: Placement = Placement()
    throttle: Placement = Placement()
    tail: Placement = Placement()
    filter: FilterPlacement = FilterPlacement()
    fabrication: FabricationLimits = FabricationLimits()


if TYPE_CHECKING:
    AnyPrimaryPiece = Piece
else:
    AnyPrimaryPiece = Annotated[functools.reduce(operator.or_, [PIECE_MODELS[k] for k in PRIMARY_KINDS]), Field(discriminator="kind")]
_CYLINDER = QuantitySpec("count", "1", "16", "", "Cylinder")
_INLET = QuantitySpec(
    kind="count", low="1", high="16", unit="", title="Collector inlet", help="Numbered clockwise seen along the gas, from inlet 1"
)


class Primary(Part):
    """A primary made of pieces, from its port to an inlet of the collector."""

    id: Annotated[str, TextSpec("Key", 60, key=True)]
    cylinder: Annotated[Quantity, _CYLINDER] = _CYLINDER("1")
    inlet: Annotated[Quantity, _INLET] = _INLET("1")
    pieces: tuple[AnyPrimaryPiece, ...] = ()


PIPE = "pipe"  # of stock: bought or from a breaker's yard, to be cut and turned
_KINDS = (
    ("tube", "Straight tube"),
    ("bend", "Bend"),
    ("ring", "Ring or bend segment"),
    (PIPE, "Pipe with bends"),
    ("block", "Straight modelling block"),
    ("arc", "Curved modelling block"),
)
_STOCK_COUNT = QuantitySpec(
    kind="count", low="0", high="500", unit="", title="Quantity in stock", help="Pieces you have", blank="buy as needed"
)
_TUBE = QuantitySpec(kind="length", low="6 mm", high="400 mm", unit="mm", title="Tube outside diameter")
_LONG = QuantitySpec(kind="length", low="1 mm", high="12 m", unit="mm", title="Length", help="Of a straight tube")
_LEG = QuantitySpec(
    kind="length", low="0 mm", high="2 m", unit="mm", title="Leg length", help="Straight tube at both ends of a bend", blank="no legs"
)
_RADIUS = QuantitySpec(kind="length", low="0 mm", high="2 m", unit="mm", title="Centreline radius", help="Of a bend")
_ANGLE = QuantitySpec(kind="angle", low="0 °", high="180 °", unit="°", title="Bend angle", help="Of a bend; 180° is a U-bend")
METALS = (("", "Not known"), *((key, NAMES[key].title) for key in of_family("aluminium", "steel", "cast")))
_STOCK_WALL = QuantitySpec(
    kind="length",
    low="0 mm",
    high="12 mm",
    unit="mm",
    title="Wall thickness",
    help="Used for any wall until measured",
    blank="not measured",
)
_PRICE = QuantitySpec(kind="money", low="0 €", high="100000 €", unit="€", title="Unit price", help="To buy one more", blank="in stock")


_BENDS = BentPipe(
    "Straights and bends", help="Straight in mm, bend in degrees, its rotation against the bend before it: 300 90; 250 45 180; 400"
)


class Stock(Part):
    """Tube or bends that are in the shop, or can be bought."""

    id: Annotated[str, TextSpec("Key", 60, key=True)]
    kind: Annotated[str, Choice("Stock", lambda: _KINDS)] = "tube"
    tube: Annotated[Quantity, _TUBE] = _TUBE("63.5 mm")
    material: Annotated[str, Choice("Material", lambda: METALS, "A magnet tells mild steel from stainless; aluminium is light")] = ""
    wall: Annotated[Quantity, _STOCK_WALL] = _STOCK_WALL("0 mm")
    length: Annotated[Quantity, _LONG] = _LONG("1000 mm")
    leg_length: Annotated[Quantity, _LEG] = _LEG("0 mm")
    radius: Annotated[Quantity, _RADIUS] = _RADIUS("95 mm")
    angle: Annotated[Quantity, _ANGLE] = _ANGLE("90 °")
    bends: Annotated[str, _BENDS] = ""
    count: Annotated[Quantity, _STOCK_COUNT] = _STOCK_COUNT("1")
    price: Annotated[Quantity, _PRICE] = _PRICE("0 €")
    note: Annotated[str, TextSpec("Note", 80)] = ""

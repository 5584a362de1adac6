"""The project document: an immutable tree of what the builder said.

Every quantity keeps its number and unit as they were typed (`"2.5 in"`). Keys that this version
does not know are kept and written back.
"""

from __future__ import annotations

import functools
import operator
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import ConfigDict, Field, model_validator

from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.bay_object import BayObject
from zarvik.project.document.parts.blower import Blower
from zarvik.project.document.parts.car import Car
from zarvik.project.document.parts.connections import ConnectionNote
from zarvik.project.document.parts.decision import Decision
from zarvik.project.document.parts.design_search import DesignSearch
from zarvik.project.document.parts.engine import Engine
from zarvik.project.document.parts.fittings import Fittings
from zarvik.project.document.parts.fluid_lines import FluidLines
from zarvik.project.document.parts.goal import Goal
from zarvik.project.document.parts.intake_openings import AirMeter, Ports
from zarvik.project.document.parts.intercooler import Intercooler
from zarvik.project.document.parts.layout import Layout, Primary, Stock
from zarvik.project.document.parts.leak_test import LeakTest
from zarvik.project.document.parts.part import Part
from zarvik.project.document.parts.piece import PIECE_MODELS, Piece
from zarvik.project.document.parts.presets import UNIT_PRESETS
from zarvik.project.document.parts.radiator import Radiator
from zarvik.project.document.parts.runners import Runners
from zarvik.project.document.parts.services import Breather, FuelRail, TurboCoolant
from zarvik.project.document.parts.towing import Towing
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.document.parts.wastegate import Bay, Wastegate
from zarvik.project.document.parts.workshop import Workshop
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import Quantity

SCHEMA = "zarvik-project"
SCHEMA_VERSION = 9
MOST_PIECES = 200  # in a run
MOST_TURBOS = 60
MOST_VARIANTS = 40
MOST_PRIMARIES = 16
MOST_STOCK = 200
MOST_NOTED = 5000
MOST_CUT = 2000
MOST_BAY = 200  # objects in the engine bay
MOST = {
    "pieces_cut": MOST_CUT,
    "primaries": MOST_PRIMARIES,
    "stock": MOST_STOCK,
    "joints": MOST_NOTED,
    "turbos": MOST_TURBOS,
    "bay_objects": MOST_BAY,
} | dict.fromkeys(("intake", "hot_pipe", "cold_pipe", "manifold", "exhaust"), MOST_PIECES)
if TYPE_CHECKING:
    AnyPiece = Piece
else:
    # The union of all kinds, told apart by the file's key "kind".
    AnyPiece = Annotated[functools.reduce(operator.or_, PIECE_MODELS.values()), Field(discriminator="kind")]
_FITTED = QuantitySpec(kind="count", low="1", high="4", unit="", title="Number of turbos", help="They share air and exhaust evenly")


_OWN = QuantitySpec(
    kind="count",
    low="0",
    high="200",
    unit="",
    title="Exhaust pieces per turbo",
    help="Pieces behind each turbine before the exhausts join. All of them: separate exhausts to the end",
)
PATHS = (("shared", "Shared"), ("own", "One for each turbo"))


def check_whole(project: Project) -> None:
    """Raises ValueError when the parts of a document do not fit together: keys, chosen turbo, numbers
    of parts."""
    names = [variant.name for variant in project.variants]
    if len(set(names)) != len(names):
        raise ValueError(tr_format("Two variants have the same name"))
    if any(variant.design.variants for variant in project.variants):
        raise ValueError(tr_format("a variant cannot contain variants"))
    if len(project.adopted) > 1 or any(t.design.adopted or t.design.variants for t in project.adopted):
        raise ValueError(tr_format("a design that is in use cannot contain another one"))
    if len(project.turbos) > MOST_TURBOS or len(project.variants) > MOST_VARIANTS:
        raise ValueError(tr_format("A project can have at most {0} turbos and {1} variants", MOST_TURBOS, MOST_VARIANTS))
    seen: set[str] = set()
    for run in (
        project.intake,
        project.hot_pipe,
        project.cold_pipe,
        project.manifold,
        project.exhaust,
        *(primary.pieces for primary in project.primaries),
    ):
        if len(run) > MOST_PIECES:
            raise ValueError(tr_format("A run can have at most {0} pieces, not {1}", MOST_PIECES, len(run)))
        for piece in run:
            if piece.id in seen:
                raise ValueError(tr_format("two pieces have the key “{0}”", piece.id))
            seen.add(piece.id)
    for parts, most, what in (
        (project.primaries, MOST_PRIMARIES, tr_format("two primaries have the same key")),
        (project.stock, MOST_STOCK, tr_format("two stock lines have the same key")),
        (project.joints, MOST_NOTED, tr_format("two joint lines have the same key")),
        (project.bay_objects, MOST_BAY, tr_format("two objects in the engine bay have the same key")),
    ):
        if len(parts) > most:
            raise ValueError(tr_format("A project can have at most {0} of these, not {1}", most, len(parts)))
        if len({part.id for part in parts}) != len(parts):
            raise ValueError(what)
    keys = [turbo.id for turbo in project.turbos]
    if len(set(keys)) != len(keys):
        raise ValueError(tr_format("two turbos have the same key"))
    if project.turbos and project.turbo not in keys:
        raise ValueError(tr_format("The chosen turbo “{0}” is not among the candidates", project.turbo))


class Project(Part):
    """One project."""

    model_config = ConfigDict(frozen=True, extra="allow", arbitrary_types_allowed=True, serialize_by_alias=True, populate_by_name=True)

    document: Literal["zarvik-project"] = Field("zarvik-project", alias="schema")
    schema_version: int = Field(SCHEMA_VERSION, ge=1, le=SCHEMA_VERSION)
    name: Annotated[str, TextSpec("Project", 120)] = "New build"
    note: Annotated[str, TextSpec("Note", 4000)] = ""
    invented: bool = False
    units: Annotated[str, Choice("Units shown", lambda: (("mixed", "Mixed units"), ("metric", "Metric units"), ("inch", "Inch units")))] = (
        "mixed"
    )
    goal: Goal = Goal()
    engine: Engine = Engine()
    turbos: tuple[Turbo, ...] = ()
    turbo: str = ""
    turbos_fitted: Annotated[Quantity, _FITTED] = _FITTED("1")
    exhaust_paths: Annotated[
        str, Choice("Hot side of twin turbos", lambda: PATHS, "One each: enter manifold and downpipe once, for one turbo and its cylinders")
    ] = "shared"
    pieces_per_turbo: Annotated[Quantity, _OWN] = _OWN("2")
    wastegate: Wastegate = Wastegate()
    blower: Blower = Blower()
    bay: Bay = Bay()
    fittings: Fittings = Fittings()
    towing: Towing = Towing()
    leak_test: LeakTest = LeakTest()
    fluid_lines: FluidLines = FluidLines()
    runners: Runners = Runners()
    air_meter: AirMeter = AirMeter()
    ports: Ports = Ports()
    radiator: Radiator = Radiator()
    breather: Breather = Breather()
    turbo_coolant: TurboCoolant = TurboCoolant()
    fuel_rail: FuelRail = FuelRail()
    car: Car = Car()
    decision: Decision = Decision()
    search: DesignSearch = DesignSearch()
    workshop: Workshop = Workshop()
    intake: tuple[AnyPiece, ...] = ()
    hot_pipe: tuple[AnyPiece, ...] = ()
    intercooler: Intercooler = Intercooler()
    cold_pipe: tuple[AnyPiece, ...] = ()
    manifold: tuple[AnyPiece, ...] = ()
    exhaust: tuple[AnyPiece, ...] = ()
    layout: Layout = Layout()
    primaries: tuple[Primary, ...] = ()
    bay_objects: tuple[BayObject, ...] = ()
    stock: tuple[Stock, ...] = ()
    joints: tuple[ConnectionNote, ...] = ()
    variants: tuple[Variant, ...] = ()
    adopted: tuple[AdoptedDesign, ...] = ()
    # Pieces that are cut, each as its key and what it was cut to
    pieces_cut: tuple[Annotated[str, Field(max_length=80)], ...] = ()
    # Places of entries that nobody has said: the program made them up.
    assumed: tuple[str, ...] = ()

    @model_validator(mode="before")
    @classmethod
    def _counted(cls, tree: Any) -> Any:
        """Too many parts are refused before one of them is read."""
        if isinstance(tree, dict):
            for name, most in MOST.items():
                if isinstance(tree.get(name), list | tuple) and len(tree[name]) > most:
                    raise ValueError(tr_format("{0}: at most {1} parts, not {2}", name, most, len(tree[name])))
        return tree

    @model_validator(mode="after")
    def _whole(self) -> Project:
        check_whole(self)
        return self

    @property
    def chosen(self) -> Turbo | None:
        """The turbo that the build stands on, or None while there is none."""
        return next((t for t in self.turbos if t.id == self.turbo), None)

    @property
    def shown_units(self) -> dict[str, str]:
        """Unit by kind of quantity in which results are shown."""
        return UNIT_PRESETS[self.units]


class Variant(Part):
    """A design that is kept beside the present one, under a name."""

    name: Annotated[str, TextSpec("Variant", 60)]
    design: Project


_POWER = QuantitySpec("power", "0 hp", "10000 hp", "hp", "Power found")
_SPOOL = QuantitySpec("rotation", "0 rpm", "30000 rpm", "rpm", "Full-boost speed found")
_MONEY = QuantitySpec("money", "0 €", "10000000 €", "€", "Cost found")
_WEEKS = QuantitySpec("weeks", "0 weeks", "5000 weeks", "weeks", "Weeks found")


class AdoptedDesign(Part):
    """A design that a search found and that was taken over: its figures as they were found, and the design itself."""

    title: Annotated[str, TextSpec("Design in use", 200)] = ""
    power: Annotated[Quantity, _POWER] = _POWER("0 hp")
    threshold: Annotated[Quantity, _SPOOL] = _SPOOL("0 rpm")
    money: Annotated[Quantity, _MONEY] = _MONEY("0 €")
    weeks: Annotated[Quantity, _WEEKS] = _WEEKS("0 weeks")
    design: Project


Project.model_rebuild()

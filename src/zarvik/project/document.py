"""The project document: an immutable tree of what the builder said.

Every quantity keeps its number and unit as they were typed (`"2.5 in"`). Keys that this version
does not know are kept and written back.
"""

from __future__ import annotations

import functools
import math
import operator
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, create_model, model_validator

from zarvik.core.compressor.chart import CompressorMap, SpeedLine, faults
from zarvik.core.ducts.kinds import Parameter, PieceKind
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.engine.breathing import ARCHETYPES
from zarvik.core.gas.combustion import FUELS
from zarvik.project.fields import Choice, FieldMeta, Of, Words
from zarvik.project.units import KINDS as UNIT_KINDS
from zarvik.project.units import Quantity

SCHEMA = "zarvik-project"
SCHEMA_VERSION = 3
MOST_PIECES = 200  # in a run
MOST_TURBOS = 60
MOST_VARIANTS = 40


class Part(BaseModel):
    """A part of the document: frozen, unknown keys kept."""

    model_config = ConfigDict(frozen=True, extra="allow", arbitrary_types_allowed=True)


_BOOST = Of("pressure_gauge", "0 bar", "5 bar", "bar", "Target boost",
            "Plenum pressure above the ambient of the site")  # fmt: skip
_POWER = Of("power", "5 hp", "5000 hp", "hp", "Target power", "At the crank")
_TARGET_SPEED = Of("rotation", "500 rpm", "15000 rpm", "rpm", "at engine speed")
_FULL_FROM = Of("rotation", "800 rpm", "12000 rpm", "rpm", "Full boost wanted from",
                "The wish; from where the turbine gives it is solved")  # fmt: skip
_HOLD = Of("rotation", "500 rpm", "12000 rpm", "rpm", "Hold boost back until",
           "The control lets the full boost in from here up: keeps clear of surge")  # fmt: skip
_BIG_RUN = Of("pressure_gauge", "0 bar", "5 bar", "bar", "Single big run",
              "Highest boost that is ever asked for")  # fmt: skip
_ALTITUDE = Of("length", "-400 m", "4000 m", "m", "Altitude", "Of the worst site")
_DAY = Of("temperature", "-30 °C", "55 °C", "°C", "Design day", "Hottest air that it must work in")
_HUMIDITY = Of("ratio", "0 %", "100 %", "%", "Humidity", "Relative humidity on that day")
_ROAD = Of("velocity", "0 km/h", "500 km/h", "km/h", "Road speed at full load",
           "Drives the air through the cooler")  # fmt: skip


class Brief(Part):
    """What is wanted, and where."""

    target_power: Annotated[Quantity, _POWER] = _POWER("330 hp")
    target_speed: Annotated[Quantity, _TARGET_SPEED] = _TARGET_SPEED("6400 rpm")
    target_boost: Annotated[Quantity, _BOOST] = _BOOST("1.1 bar")
    full_boost_from: Annotated[Quantity, _FULL_FROM] = _FULL_FROM("3400 rpm")
    hold_back_until: Annotated[Quantity, _HOLD] = _HOLD("1000 rpm")
    big_run_boost: Annotated[Quantity, _BIG_RUN] = _BIG_RUN("1.25 bar")
    altitude: Annotated[Quantity, _ALTITUDE] = _ALTITUDE("0 m")
    design_day: Annotated[Quantity, _DAY] = _DAY("30 °C")
    humidity: Annotated[Quantity, _HUMIDITY] = _HUMIDITY("50 %")
    road_speed: Annotated[Quantity, _ROAD] = _ROAD("80 km/h")


_CYLINDERS = Of("count", "1", "16", "", "Cylinders")
_BORE = Of("length", "30 mm", "250 mm", "mm", "Cylinder bore")
_STROKE = Of("length", "25 mm", "300 mm", "mm", "Stroke")
_COMPRESSION = Of("number", "5", "24", "", "Compression ratio")
_IDLE = Of("rotation", "300 rpm", "3000 rpm", "rpm", "Idle")
_LIMIT = Of("rotation", "1500 rpm", "15000 rpm", "rpm", "Rev limit")
_PEAK = Of("ratio", "30 %", "140 %", "%", "Best volumetric efficiency",
           "Of the plenum's density, on the stock exhaust, at 25 °C")  # fmt: skip
_PEAK_SPEED = Of("rotation", "800 rpm", "14000 rpm", "rpm", "at engine speed")
_LAMBDA = Of("number", "0.6", "4", "", "Lambda at full load")
_RETARD = Of("number", "0", "40", "", "Ignition after best torque, °",
             "Counts when it is typed: 10° cost about 4.5 % and heat the exhaust")  # fmt: skip
IGNITION = (("fuel", "As late as the fuel asks for"), ("typed", "As late as typed"))
_EVAPORATED = Of("ratio", "0 %", "80 %", "%", "Fuel that cools the charge",
                 "Share that evaporates before the valve closes; alcohol 30–50 %, petrol little")  # fmt: skip
_TRUSTED = Of("pressure_gauge", "0 bar", "6 bar", "bar", "Bottom end trusted to",
              "Boost that rods, pistons and gasket are trusted to stand")  # fmt: skip


# Tables of the engine: kind of their values, and what these may be in SI.
TABLES = {
    "breathing_table": ("ratio", 0.2, 1.5), "stock_torque": ("torque", 1.0, 5000.0),
    "lambda_table": ("number", 0.6, 4.0),
}  # fmt: skip


def check_table(name: str, rows: tuple[tuple[float, float], ...]) -> None:
    """Raises ValueError when rows of (rpm, value) cannot be a table of the engine."""
    _, low, high = TABLES[name]
    speeds = [row[0] for row in rows]
    if speeds != sorted(set(speeds)):
        raise ValueError(f"{name}: engine speeds have to rise")
    for speed, value in rows:
        if not (100.0 <= speed <= 20000.0 and low <= value <= high):
            raise ValueError(
                f"{name}: ({speed:g}, {value:g}) lies outside of 100 to 20000 rpm and "
                f"{low:g} to {high:g}"
            )


MIXTURE = (("one", "One lambda"), ("table", "Lambda over engine speed"))
BREATHING_CHOICES = (
    *((a.key, a.title) for a in ARCHETYPES.values()),
    ("table", "Own table, in the file"),
    ("stock_torque", "From the stock torque curve"),
)


class Engine(Part):
    """The engine as it is.

    `breathing_table`: rows of (rpm, VE); `stock_torque`: rows of (rpm, N m) of the engine before it
    was boosted. They count when `breathing` says so; `lambda_table`: rows of (rpm, lambda), when
    `mixture` does.
    """

    name: Annotated[str, Words("Engine")] = "Engine"
    cylinders: Annotated[Quantity, _CYLINDERS] = _CYLINDERS("4")
    bore: Annotated[Quantity, _BORE] = _BORE("88 mm")
    stroke: Annotated[Quantity, _STROKE] = _STROKE("98.5 mm")
    compression: Annotated[Quantity, _COMPRESSION] = _COMPRESSION("9.6")
    idle: Annotated[Quantity, _IDLE] = _IDLE("900 rpm")
    rev_limit: Annotated[Quantity, _LIMIT] = _LIMIT("7000 rpm")
    breathing: Annotated[
        str,
        Choice("Breathing", lambda: BREATHING_CHOICES),
    ] = "long_runner"
    best_breathing: Annotated[Quantity, _PEAK] = _PEAK("95 %")
    best_breathing_speed: Annotated[Quantity, _PEAK_SPEED] = _PEAK_SPEED("4600 rpm")
    fuel: Annotated[
        str, Choice("Fuel", lambda: tuple((f.key, f.title) for f in FUELS.values()))
    ] = "petrol98"
    full_load_lambda: Annotated[Quantity, _LAMBDA] = _LAMBDA("0.82")
    mixture: Annotated[str, Choice("Mixture at full load", lambda: MIXTURE)] = "one"
    trusted_boost: Annotated[Quantity, _TRUSTED] = _TRUSTED("1.3 bar")
    ignition: Annotated[str, Choice("Ignition", lambda: IGNITION)] = "fuel"
    retard: Annotated[Quantity, _RETARD] = _RETARD("0")
    evaporated: Annotated[Quantity, _EVAPORATED] = _EVAPORATED("0 %")
    breathing_table: tuple[tuple[float, float], ...] = ()
    stock_torque: tuple[tuple[float, float], ...] = ()
    lambda_table: tuple[tuple[float, float], ...] = ()

    @model_validator(mode="after")
    def _tables(self) -> Engine:
        for name in TABLES:
            check_table(name, getattr(self, name))
        return self


class Line(Part):
    """A speed line of a map: rows of (corrected flow kg/s, pressure ratio, efficiency)."""

    speed_rpm: float
    points: tuple[tuple[float, float, float], ...]


_WHEEL = Of("length", "20 mm", "200 mm", "mm", "Turbine wheel", "Tip diameter at its inlet")
_EXDUCER = Of("length", "15 mm", "180 mm", "mm", "Turbine exducer", "Tip diameter at its outlet")
_HOUSING = Of("length", "3 mm", "80 mm", "mm", "Housing A/R",
              "Throat area over its radius; a bare number below 3 means inches, as .63 for 16 mm",
              inch_below=3.0)  # fmt: skip
_BEST = Of("ratio", "40 %", "85 %", "%", "Best turbine efficiency", "Total to static")
_VANES = Of(
    "ratio", "30 %", "150 %", "%", "Vane opening", "Variable vanes; 100 % for a fixed housing"
)
_SCROLLS = Of("count", "1", "2", "", "Scrolls")
_PULSE = Of("number", "0.9", "1.3", "", "Work of the pulses",
            "Over steady gas of the same mean pressure: 1 to 1.1; a log takes it away, short "
            "equal primaries keep it")  # fmt: skip


class Turbine(Part):
    """A turbine by its dimensions."""

    wheel: Annotated[Quantity, _WHEEL] = _WHEEL("62 mm")
    exducer: Annotated[Quantity, _EXDUCER] = _EXDUCER("53 mm")
    housing: Annotated[Quantity, _HOUSING] = _HOUSING("17 mm")
    efficiency: Annotated[Quantity, _BEST] = _BEST("68 %")
    vanes: Annotated[Quantity, _VANES] = _VANES("100 %")
    scrolls: Annotated[Quantity, _SCROLLS] = _SCROLLS("1")
    pulse: Annotated[Quantity, _PULSE] = _PULSE("1.04")


_VALVE = Of("length", "0 mm", "120 mm", "mm", "Valve diameter", "0 for no gate at all")
_LIFT = Of("length", "0 mm", "60 mm", "mm", "Full lift")
_GATES = Of("count", "1", "4", "", "Gates")
_DISCHARGE = Of("ratio", "20 %", "95 %", "%", "Discharge coefficient",
                "With its branch: 70 % straight off the collector, 50 % at a right angle")  # fmt: skip


class Gate(Part):
    """The wastegate, in parallel with the turbine."""

    diameter: Annotated[Quantity, _VALVE] = _VALVE("38 mm")
    lift: Annotated[Quantity, _LIFT] = _LIFT("10 mm")
    count: Annotated[Quantity, _GATES] = _GATES("1")
    discharge: Annotated[Quantity, _DISCHARGE] = _DISCHARGE("70 %")


_BAY = Of(
    "temperature", "-20 °C", "160 °C", "°C", "Bay temperature", "Air round the pipes at full load"
)
_BREEZE = Of(
    "velocity", "0 m/s", "60 m/s", "m/s", "Breeze in the bay", "Speed of the air past hot parts"
)


class Bay(Part):
    """The engine bay."""

    temperature: Annotated[Quantity, _BAY] = _BAY("60 °C")
    breeze: Annotated[Quantity, _BREEZE] = _BREEZE("5 m/s")


_PER_TURN = Of("volume", "50 cm³", "10 L", "cm³", "Displacement a turn")
_BELT = Of("number", "0.3", "6", "", "Blower turns per crank turn")
_SLIP_FREE = Of("ratio", "50 %", "100 %", "%", "Volumetric efficiency", "At no pressure")
_ADIABATIC = Of("ratio", "30 %", "85 %", "%", "Adiabatic efficiency", "At low pressure ratio")
_ROTOR = Of("rotation", "2000 rpm", "60000 rpm", "rpm", "Rotor limit")


class Blower(Part):
    """A belt-driven blower; fitted, it stands in the place of compressor and turbine."""

    fitted: bool = False
    name: Annotated[str, Words("Blower", 80)] = "Belt-driven blower"
    displacement: Annotated[Quantity, _PER_TURN] = _PER_TURN("450 cm³")
    ratio: Annotated[Quantity, _BELT] = _BELT("2.2")
    volumetric: Annotated[Quantity, _SLIP_FREE] = _SLIP_FREE("93 %")
    adiabatic: Annotated[Quantity, _ADIABATIC] = _ADIABATIC("66 %")
    rotor_limit: Annotated[Quantity, _ROTOR] = _ROTOR("16000 rpm")


class Turbo(Part):
    """A turbo that could be had, with its compressor map and its turbine."""

    id: Annotated[str, Words("Key", 60, key=True)]
    name: Annotated[str, Words("Name", 80)]
    note: Annotated[str, Words("Note", 400)] = ""
    reference_pressure_Pa: float = 1e5
    reference_temperature_K: float = 298.0
    maximum_speed_rpm: float
    turbine: Turbine = Turbine()
    lines: tuple[Line, ...]

    @model_validator(mode="after")
    def _sound(self) -> Turbo:
        found = faults(self.chart)
        if found:
            first = found[0]
            place = f"speed line {first.line}" if first.line else "the map"
            place += f", point {first.point}" if first.point else ""
            more = f" (and {len(found) - 1} more)" if len(found) > 1 else ""
            raise ValueError(f"turbo “{self.name}”, {place}: {first.text}{more}")
        return self

    @property
    def chart(self) -> CompressorMap:
        """The map as the core takes it."""
        return CompressorMap(
            self.name,
            self.reference_pressure_Pa,
            self.reference_temperature_K,
            self.maximum_speed_rpm,
            tuple(
                SpeedLine(line.speed_rpm, *(tuple(p[i] for p in line.points) for i in range(3)))
                for line in self.lines
            ),
        )

    @staticmethod
    def of(chart: CompressorMap, id: str, note: str = "", turbine: Turbine | None = None) -> Turbo:
        """A document turbo from a map; without a `turbine`, one of the size that suits the wheel."""
        return Turbo(
            id=id,
            turbine=turbine or suited_turbine(chart),
            name=chart.name,
            note=note,
            reference_pressure_Pa=chart.reference_pressure,
            reference_temperature_K=chart.reference_temperature,
            maximum_speed_rpm=chart.maximum_speed,
            lines=tuple(
                Line(
                    speed_rpm=line.speed,
                    points=tuple(zip(line.flow, line.ratio, line.efficiency, strict=True)),
                )
                for line in chart.lines
            ),
        )


def suited_turbine(chart: CompressorMap) -> Turbine:
    """A turbine in common proportion to a compressor that flows so much (common practice, no
    source): its wheel by the root of the flow, its housing by its wheel."""
    flow = chart.lines[-1].flow[-1]
    wheel = 62.0 * math.sqrt(flow / 0.362)
    return Turbine(
        wheel=_WHEEL(f"{wheel:.0f} mm"),
        exducer=_EXDUCER(f"{0.855 * wheel:.0f} mm"),
        housing=_HOUSING(f"{0.275 * wheel:.1f} mm"),
    )


_EFFECTIVENESS = Of("ratio", "5 %", "95 %", "%", "Rated effectiveness",
                    "Part of the way from charge to ambient temperature")  # fmt: skip
_DROP = Of("pressure_difference", "10 Pa", "100 kPa", "kPa", "Rated charge-side drop")
_CHARGE = Of("mass_flow", "0.005 kg/s", "5 kg/s", "kg/s", "at a charge flow of")
_COOLING = Of("mass_flow", "0.01 kg/s", "50 kg/s", "kg/s", "and a cooling-air flow of")
_WIDTH = Of("length", "50 mm", "2000 mm", "mm", "Core width")
_HEIGHT = Of("length", "50 mm", "1000 mm", "mm", "Core height")
_CAPTURE = Of("ratio", "1 %", "100 %", "%", "Air that goes through",
              "Part of the free stream in front of the core; 25–45 % with a duct")  # fmt: skip
_WATER = Of("mass_flow", "0.02 kg/s", "5 kg/s", "kg/s", "Water flow", "Of the pump in its loop")
_FRONT = Of(
    "ratio", "5 %", "95 %", "%", "Front exchanger", "Effectiveness of the exchanger in the wind"
)
_TRUST = Of("ratio", "20 %", "100 %", "%", "Trust in the rating",
            "A seller's figure: common practice is 80 %; your own measurement: 100 %")  # fmt: skip


class Cooler(Part):
    """The charge cooler, by one rated point."""

    fitted: bool = True
    effectiveness: Annotated[Quantity, _EFFECTIVENESS] = _EFFECTIVENESS("75 %")
    drop: Annotated[Quantity, _DROP] = _DROP("7 kPa")
    charge_flow: Annotated[Quantity, _CHARGE] = _CHARGE("0.25 kg/s")
    cooling_flow: Annotated[Quantity, _COOLING] = _COOLING("1.2 kg/s")
    width: Annotated[Quantity, _WIDTH] = _WIDTH("550 mm")
    height: Annotated[Quantity, _HEIGHT] = _HEIGHT("230 mm")
    capture: Annotated[Quantity, _CAPTURE] = _CAPTURE("35 %")
    trust: Annotated[Quantity, _TRUST] = _TRUST("80 %")
    medium: Annotated[
        str, Choice("Cooled by", lambda: (("air", "Air to air"), ("water", "Air to water")))
    ] = "air"
    water_flow: Annotated[Quantity, _WATER] = _WATER("0.35 kg/s")
    front: Annotated[Quantity, _FRONT] = _FRONT("70 %")


# What a bare number means, and what a new piece is written in, by kind of quantity.
_PIECE_UNITS = {
    "length": "mm",
    "angle": "°",
    "ratio": "%",
    "volume_flow": "m³/h",
    "pressure_difference": "Pa",
    "count": "",
}


def _meta(parameter: Parameter) -> FieldMeta:
    if parameter.quantity == "choice":
        return Choice(parameter.title, lambda: parameter.choices, parameter.help)
    unit = next(
        u for u in UNIT_KINDS[parameter.quantity] if u.symbol == _PIECE_UNITS[parameter.quantity]
    )
    low, high = (f"{unit.from_si(v):.10g} {unit.symbol}" for v in (parameter.low, parameter.high))
    return Of(parameter.quantity, low, high, unit.symbol, parameter.title, parameter.help)


class Piece(Part):
    """A piece of a run; each kind adds the fields that its record in the core names."""

    id: Annotated[str, Words("Key", 60, key=True)]
    kind: str
    name: Annotated[str, Words("Name", 80)] = ""


def _piece_model(kind: PieceKind) -> type[Piece]:
    fields: dict[str, Any] = {"kind": (Literal[kind.key], kind.key)}
    for parameter in kind.parameters:
        meta = _meta(parameter)
        default: Any = parameter.default
        if isinstance(meta, Of):
            shown = UNIT_KINDS[meta.kind]
            unit = next(u for u in shown if u.symbol == meta.unit)
            value = float(f"{unit.from_si(float(parameter.default)):.6g}")
            default = Quantity(value, meta.unit, meta.kind)
            fields[parameter.name] = (Annotated[Quantity, meta], default)
        else:
            fields[parameter.name] = (Annotated[str, meta], default)
    return create_model(f"{kind.key.title()}Piece", __base__=Piece, __doc__=kind.help, **fields)


PIECE_MODELS: dict[str, type[Piece]] = {key: _piece_model(kind) for key, kind in KINDS.items()}
if TYPE_CHECKING:
    AnyPiece = Piece
else:
    # The union of all kinds, told apart by the file's key "kind".
    AnyPiece = Annotated[
        functools.reduce(operator.or_, PIECE_MODELS.values()), Field(discriminator="kind")
    ]


UNIT_PRESETS: dict[str, dict[str, str]] = {
    "metric": {
        "length": "mm", "pressure_gauge": "bar", "pressure_absolute": "kPa", "mean_pressure": "bar",
        "pressure_difference": "kPa", "mass_flow": "kg/s", "power": "kW", "torque": "N·m",
        "temperature": "°C", "velocity": "m/s", "volume": "L",
    },
    "inch": {
        "length": "in", "pressure_gauge": "psi", "pressure_absolute": "psi", "mean_pressure": "psi",
        "pressure_difference": "psi", "mass_flow": "lb/min", "power": "hp", "torque": "lb·ft",
        "temperature": "°F", "velocity": "ft/s", "volume": "in³",
    },
    "mixed": {
        "length": "mm", "pressure_gauge": "bar", "pressure_absolute": "kPa", "mean_pressure": "bar",
        "pressure_difference": "kPa", "mass_flow": "lb/min", "power": "hp", "torque": "N·m",
        "temperature": "°C", "velocity": "m/s", "volume": "L",
    },
}  # fmt: skip


_FITTED = Of("count", "1", "4", "", "Turbos side by side", "They share the air and the gas evenly")


def check_whole(project: Project) -> None:
    """Raises ValueError when the parts of a document do not fit together: keys, chosen turbo, numbers
    of parts."""
    names = [variant.name for variant in project.variants]
    if len(set(names)) != len(names):
        raise ValueError("two variants carry the same name")
    if any(variant.design.variants for variant in project.variants):
        raise ValueError("a variant cannot hold variants of its own")
    if len(project.turbos) > MOST_TURBOS or len(project.variants) > MOST_VARIANTS:
        raise ValueError(
            f"a project holds {MOST_TURBOS} turbos and {MOST_VARIANTS} variants at the most"
        )
    seen: set[str] = set()
    for run in (project.intake, project.hot_pipe, project.cold_pipe, project.manifold, project.exhaust):
        if len(run) > MOST_PIECES:
            raise ValueError(f"a run has {MOST_PIECES} pieces at the most, not {len(run)}")
        for piece in run:
            if piece.id in seen:
                raise ValueError(f"two pieces carry the key “{piece.id}”")
            seen.add(piece.id)
    keys = [turbo.id for turbo in project.turbos]
    if len(set(keys)) != len(keys):
        raise ValueError("two turbos carry the same key")
    if project.turbos and project.turbo not in keys:
        raise ValueError(f"the chosen turbo “{project.turbo}” is not among the candidates")


class Project(Part):
    """One project."""

    model_config = ConfigDict(
        frozen=True, extra="allow", arbitrary_types_allowed=True, serialize_by_alias=True,
        populate_by_name=True,
    )  # fmt: skip

    document: Literal["zarvik-project"] = Field("zarvik-project", alias="schema")
    schema_version: int = Field(SCHEMA_VERSION, ge=1, le=SCHEMA_VERSION)
    name: Annotated[str, Words("Project", 120)] = "New build"
    note: Annotated[str, Words("Note", 4000)] = ""
    invented: bool = False
    units: Annotated[
        str,
        Choice(
            "Units shown",
            lambda: (("mixed", "Mixed shop"), ("metric", "Metric shop"), ("inch", "Inch shop")),
        ),
    ] = "mixed"
    brief: Brief = Brief()
    engine: Engine = Engine()
    turbos: tuple[Turbo, ...] = ()
    turbo: str = ""
    turbos_fitted: Annotated[Quantity, _FITTED] = _FITTED("1")
    gate: Gate = Gate()
    blower: Blower = Blower()
    bay: Bay = Bay()
    intake: tuple[AnyPiece, ...] = ()
    hot_pipe: tuple[AnyPiece, ...] = ()
    cooler: Cooler = Cooler()
    cold_pipe: tuple[AnyPiece, ...] = ()
    manifold: tuple[AnyPiece, ...] = ()
    exhaust: tuple[AnyPiece, ...] = ()
    variants: tuple[Variant, ...] = ()
    # Places of entries that nobody has said: the program made them up.
    assumed: tuple[str, ...] = ()

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

    name: Annotated[str, Words("Variant", 60)]
    design: Project


Project.model_rebuild()


def field_meta(model: type[BaseModel] | BaseModel, name: str) -> FieldMeta | None:
    """The metadata of a field of a model, None for a field that has none."""
    kind = model if isinstance(model, type) else type(model)
    for item in kind.model_fields[name].metadata:
        if isinstance(item, Of | Choice | Words):
            return item
    return None

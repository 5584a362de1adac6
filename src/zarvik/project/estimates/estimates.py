"""Which estimate stands in for which entry, and the document with its unknown entries filled."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Iterator

from pydantic import BaseModel, ValidationError

from zarvik.core.common.identity_cache import IdentityCacheEach
from zarvik.core.common.sentences import Sentence, message
from zarvik.core.estimates import typical_values as core
from zarvik.core.estimates.typical_values import Estimate
from zarvik.core.gas.combustion import FUELS
from zarvik.core.intercooler.core_size import Core
from zarvik.project.assembly.cores import core_of, flows_in_use, front_air, front_core, front_of, wind_of
from zarvik.project.assembly.engines import core_engine
from zarvik.project.assembly.turbos import belt_of
from zarvik.project.document.contradictions import tip_of
from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.turbo import Turbo, lines_of
from zarvik.project.document.places import RUNS, get, meta, with_value_at
from zarvik.project.language.language import tr_format
from zarvik.project.layout.layout import has_pieced_primaries, si, summed
from zarvik.project.units.units import SAID, UNKNOWN, EntryError, Quantity, unit_of

Estimator = Callable[[Project], Estimate | None]


def _spark(project: Project) -> bool:
    return FUELS[project.engine.fuel].spark


def _breathing(project: Project) -> Estimate:
    engine = project.engine
    if engine.stock_power.known == UNKNOWN or not _spark(project):
        return core.best_breathing(engine.breathing, not _spark(project))
    shape = engine.breathing if engine.breathing not in ("table", "stock_torque") else "long_runner"
    return core.breathing_of_power(
        core_engine(project), shape, engine.best_breathing_speed.si, engine.stock_power.si, engine.stock_speed.si, engine.stock_boost.si
    )


def _peak_speed(project: Project) -> Estimate:
    speed = project.engine.stock_speed
    return core.peak_speed(speed.si, speed.known != UNKNOWN)


def _by_size(project: Project, rule: Callable[[Core, float, float], Estimate], wet: Callable[[Core, float, float], Estimate]) -> Estimate:
    """What the dimensions of the core say, by air, or `wet`."""
    cooler = project.intercooler
    chosen = wet if cooler.medium == "water" else rule
    return chosen(core_of(project), *flows_in_use(project))


def _front(project: Project) -> Estimate | None:
    """The exchanger in the wind; nothing where no water is cooled."""
    cooler = project.intercooler
    if cooler.medium != "water":
        return None
    return core.front_effectiveness(front_of(project), cooler.water_flow.si, front_air(project))


def _delivery(project: Project) -> Estimate | None:
    engine = project.engine
    if _spark(project):
        return None
    said = engine.stock_power.known != UNKNOWN
    return core.delivery(engine.stock_power.si, engine.stock_speed.si, int(engine.cylinders.si), said)


def _discharge(project: Project) -> Estimate | None:
    """What the gate's branch says; nothing without a gate or a pipe that it could leave."""
    gate = project.wastegate
    if gate.diameter.si <= 0.0 or project.blower.fitted:
        return None
    mains = [si(p, "bore_out") or si(p, "bore") for p in project.manifold if p.kind not in ("primaries", "crossover")]
    main = max(mains, default=0.0)
    if gate.kind == "outside" and main <= 0.0:
        return None
    return core.gate_discharge(
        gate.diameter.si,
        max(gate.branch_bore.si, gate.diameter.si),
        main,
        gate.branch_angle.si,
        gate.kind == "inside",
        max(gate.lift.si, 1e-4),
    )


# In the order in which they build on each other.
ESTIMATORS: dict[str, Estimator] = {
    "engine.stock_speed": lambda p: core.stock_speed(p.engine.rev_limit.si),
    "engine.best_breathing_speed": _peak_speed,
    "engine.compression": lambda p: core.compression(p.engine.breathing, not _spark(p)),
    "engine.full_load_lambda": lambda p: core.full_load_lambda(p.engine.fuel),
    "engine.evaporated": lambda p: core.evaporated(p.engine.fuel),
    "engine.best_breathing": _breathing,
    "engine.stock_power": lambda p: core.power_of_breathing(core_engine(p), p.engine.stock_speed.si, p.engine.stock_boost.si),
    "engine.delivery": _delivery,
    "engine.intake_volume": lambda p: core.intake_volume(core_engine(p).displacement),
    "wastegate.discharge": _discharge,
    "blower.drive_ratio": lambda p: core.belt_ratio(belt_of(p)),
    "blower.displacement": lambda p: core.blower_size(core_engine(p), p.blower.drive_ratio.si, p.goal.target_boost.si),
    "intercooler.air_share": lambda p: core.capture_share(front_core(p), wind_of(p), p.goal.road_speed.si, p.intercooler.medium == "water"),
    "intercooler.effectiveness": lambda p: _by_size(p, core.cooler_effectiveness, core.water_effectiveness),
    "intercooler.pressure_loss": lambda p: _by_size(p, core.cooler_drop, core.water_drop),
    "intercooler.front_effectiveness": _front,
}


ONLY_FEEDS: dict[str, tuple[str, ...]] = {"engine.best_breathing": ("engine.stock_power",)}
"""Entries from which an estimate is made, and which count for nothing else."""


def _of_turbo(turbo: Turbo) -> dict[str, Callable[[Turbo], Estimate]]:
    """Estimates for a turbine, in their order."""
    return {
        "wheel": lambda t: core.turbine_wheel(t.lines[-1].points[-1][0]),
        "exducer": lambda t: core.turbine_exducer(t.turbine.wheel.si),
        "housing": lambda t: core.turbine_housing(t.turbine.wheel.si),
        "efficiency": lambda t: core.turbine_efficiency(t.turbine.wheel.si),
        "inertia": lambda t: core.rotor_inertia(t.turbine.wheel.si, tip_of(t)),
    }


def estimate_of(project: Project, place: str) -> Estimate | None:
    """The estimate for an entry from the others; None where there is none, only a usual value."""
    rule = ESTIMATORS.get(place)
    if rule is not None:
        return rule(project)
    room, _, rest = place.partition(".")
    key, _, name = rest.partition(".")
    if room == "turbos":
        turbo = get(project, f"turbos.{key}")
        made = _of_turbo(turbo).get(name.removeprefix("turbine."))
        return made(turbo) if made is not None else None
    if room in RUNS and name == "flow":
        piece = get(project, f"{room}.{key}")
        return core.rated_flow(piece.bore.si, piece.drop.si, room == "exhaust")
    return None


def _sound(project: Project, place: str) -> Estimate | None:
    """The estimate for an entry; None too where what it builds on cannot be: that is told at its place."""
    try:
        return estimate_of(project, place)
    except (ValueError, ArithmeticError, KeyError):
        return None


def unknown_places(project: Project) -> Iterator[str]:
    """Places of the entries that nobody knows, in the order in which their estimates build on each
    other."""
    found = [f"{place}.{name}" for place, part in _parts(project) for name in _UNKNOWN.of(part, _unknown)]
    yield from (place for place in ESTIMATORS if place in found)
    yield from (place for place in found if place not in ESTIMATORS)


_ROOMS = ("goal", "engine", "wastegate", "blower", "bay", "car", "intercooler")


def _parts(project: Project) -> Iterator[tuple[str, BaseModel]]:
    """Every part that has entries which are good to something, with its place."""
    yield from ((room, getattr(project, room)) for room in _ROOMS)
    for turbo in project.turbos:
        yield f"turbos.{turbo.id}.turbine", turbo.turbine
        if turbo.wheels is not None:
            yield f"turbos.{turbo.id}.wheels", turbo.wheels
    for run in RUNS:
        yield from ((f"{run}.{piece.id}", piece) for piece in getattr(project, run))


def uncertain_places(project: Project) -> Iterator[str]:
    """Places of all entries that are good to something: facts, not sizes that one chooses."""
    return (f"{place}.{name}" for place, part in _parts(project) for name in _uncertain(type(part)))


_UNKNOWN: IdentityCacheEach[BaseModel, tuple[str, ...]] = IdentityCacheEach()


def _unknown(part: BaseModel) -> tuple[str, ...]:
    """Names of the entries of a part that nobody knows."""
    return tuple(name for name in _uncertain(type(part)) if getattr(part, name).known == UNKNOWN)


_KNOWN_MODELS: dict[type, tuple[str, ...]] = {}


def _uncertain(model: type) -> tuple[str, ...]:
    """Names of the fields of a part that carry an uncertainty."""
    found = _KNOWN_MODELS.get(model)
    if found is None:
        found = tuple(
            name
            for name, field in model.model_fields.items()  # type: ignore[attr-defined]
            if any(isinstance(m, QuantitySpec) and m.uncertainty is not None for m in field.metadata)
        )
        _KNOWN_MODELS[model] = found
    return found


def _mapped(project: Project) -> Project:
    """The document with the maps that its measured wheels have now."""
    for turbo in project.turbos:
        if turbo.wheels is None:
            continue
        try:
            chart = turbo.wheels.chart(turbo.name)
        except ValueError:
            continue  # told where the build is assembled
        lines = lines_of(chart)
        if lines != turbo.lines:
            new = turbo.model_copy(update={"lines": lines, "maximum_speed_rpm": chart.maximum_speed})
            turbos = tuple(new if t.id == turbo.id else t for t in project.turbos)
            project = project.model_copy(update={"turbos": turbos})
    return project


def filled(project: Project) -> Project:
    """The document with what its estimates say now in the place of everything unknown."""
    project = summed(_mapped(project))
    for place in tuple(unknown_places(project)):
        found = _sound(project, place)
        old: Quantity = get(project, place)
        field = meta(project, place)
        if found is None or not isinstance(field, QuantitySpec) or not math.isfinite(found.value):
            continue
        low, high = field.limits
        unit = unit_of(old.kind, old.unit)
        value = float(f"{unit.from_si(min(max(found.value, low), high)):.3g}")
        if old.kind == "rotation":
            value = round(value / 10.0) * 10.0
        if value != old.value:
            project = with_value_at(project, place, dataclasses.replace(old, value=value))
    return project


def check_filled(project: Project) -> None:
    """Raises EntryError when what the document works out for itself may not stand in it: every part is
    allowed, and their sum is not. What an edit lets in can be saved and read again."""
    for piece in project.manifold if has_pieced_primaries(project) else ():
        if piece.kind != "primaries":
            continue
        for name in ("count", "length", "bore", "turns"):
            try:
                field = meta(project, f"manifold.{piece.id}.{name}")
                if isinstance(field, QuantitySpec):
                    field.check(getattr(piece, name))
            except EntryError as error:
                raise EntryError(tr_format("all primaries together: {0}", error)) from None
    for turbo in project.turbos:
        if turbo.wheels is not None:
            try:
                Turbo.model_validate(turbo.model_dump(by_alias=True))
            except ValidationError as error:
                said = error.errors()[0]["msg"].removeprefix("Value error, ")
                raise EntryError(tr_format("map estimated from the wheels of “{0}”: {1}", turbo.name, said)) from None


def spread_of(project: Project, place: str) -> float:
    """What the entry at `place` is good to, up and down (19 times out of 20), as a difference in SI."""
    field, quantity = meta(project, place), get(project, place)
    if not isinstance(field, QuantitySpec):
        return 0.0
    if quantity.known == UNKNOWN:
        found = _sound(project, place)
        if found is not None:
            return found.spread
    return field.spread(quantity)


def origin(project: Project, place: str) -> Sentence | None:
    """How the entry at `place` came to be known, in words; None for a plain size that one chooses."""
    field, quantity = meta(project, place), get(project, place)
    if not isinstance(field, QuantitySpec) or field.uncertainty is None:
        return None
    if quantity.known == UNKNOWN:
        found = _sound(project, place)
        if found is not None:
            return message("unknown: estimated {words}", words=found.words)
        return message("unknown: a typical value is used")
    if quantity.spread:
        return message("entered, with its uncertainty")
    return message("said") if quantity.known == SAID else message("entered as approximate")

"""What may be another one in a document: for each thing the sizes that can be had, as edits."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE
from zarvik.core.checks.check_result import Change
from zarvik.core.common.constants import INCH
from zarvik.core.designs.pareto import Place
from zarvik.core.engine.belt import TOOTHED
from zarvik.core.limits.limits import BOTTOM_END
from zarvik.core.stock.sizes import GATES, LIFT_SHARE, PULLEY_STEP, PULLEYS, TEETH, TUBES, WALL, next_housing, openings
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.design_search import FREE, KEPT, OTHER
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.document.places import meta, with_value_at
from zarvik.project.edits.edits import completed
from zarvik.project.edits.sizes import CORES, size, with_core
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.units import UNKNOWN, EntryError, Quantity

TURBO, COUNT, HOUSING, GATE, COOLER, THROTTLE, BOOST, HOLD, PULLEY = (
    "turbo",
    "count",
    "housing",
    "gate",
    "cooler",
    "throttle",
    "boost",
    "hold",
    "pulley",
)
RUNS = {HOT_PIPE: "Hot charge pipe", COLD_PIPE: "Cold charge pipe", EXHAUST: "Exhaust"}
ALL_FREE = (TURBO, COUNT, HOUSING, GATE, HOT_PIPE, COLD_PIPE, EXHAUST, COOLER, THROTTLE, BOOST, HOLD, PULLEY)
# Of a build with a blower; the others belong to a turbo
OF_A_BLOWER = (PULLEY, HOT_PIPE, COLD_PIPE, EXHAUST, COOLER, THROTTLE)
HOUSING_STEPS = (-2, -1, 0, 1, 2)  # sizes that are sold, from the one that a turbo comes with
BOOST_STEP = 0.05e5  # Pa
BEYOND = 2  # steps of boost above what the bottom end is trusted with: for what they would buy
THROTTLES = tuple(mm / 1000.0 for mm in (45.0, 50.0, 55.0, 60.0, 65.0, 70.0, 75.0, 80.0, 85.0, 90.0))
NO_HOLD, HOLD_STEP = 1000.0, 250.0  # rev/min
NEAR = 4  # stocked sizes to both sides of the present one
Edit = Callable[[Project], Project]


@dataclass(frozen=True)
class Axis:
    """One thing that may be another one: its `key`, `title`, and an edit for each of its sizes with its name; `own`:
    number of the present one."""

    key: str
    title: str
    names: tuple[str, ...]
    edits: tuple[Edit, ...]
    own: int


def free_of(project: Project) -> tuple[str, ...]:
    """Keys of what the document says may be another one."""
    keys = OF_A_BLOWER if project.blower.fitted else tuple(key for key in ALL_FREE if key != PULLEY)
    return tuple(key for key in keys if getattr(project.search, key) == FREE)


def with_free(project: Project, free: Iterable[str]) -> Project:
    """The document with just the things of `free` (keys) left free; raises EntryError for what cannot be."""
    wanted = set(free)
    strange = sorted(wanted - set(ALL_FREE))
    if strange:
        raise EntryError(tr_format("“{0}” cannot be left free; {1} can", strange[0], ", ".join(ALL_FREE)))
    update = {}
    for key in ALL_FREE:
        now = getattr(project.search, key)
        update[key] = FREE if key in wanted else KEPT if now == FREE else now
    return project.model_copy(update={"search": project.search.model_copy(update=update)})


def axes_of(project: Project, catalogue: Mapping[str, Turbo]) -> tuple[Axis, ...]:
    """The axes of what a document leaves free; the present size is among those of each. `catalogue`: turbos by key."""
    free = set(free_of(project))
    made = (
        _turbos(project, catalogue) if TURBO in free else None,
        _counts(project) if COUNT in free else None,
        _housings() if HOUSING in free else None,
        _gates(project) if GATE in free else None,
        *(_bores(project, run) for run in RUNS if run in free),
        _cores(project) if COOLER in free else None,
        _throttles(project) if THROTTLE in free else None,
        _boosts(project) if BOOST in free else None,
        _holds(project) if HOLD in free else None,
        _pulleys(project) if PULLEY in free else None,
    )
    return tuple(axis for axis in made if axis is not None)


def built(project: Project, axes: Sequence[Axis], place: Place) -> Project:
    """The document with the size of each axis that a `place` names. Raises EntryError where they do not go
    together."""
    for axis, number in zip(axes, place, strict=True):
        project = axis.edits[number](project)
    return completed(project)


def sizes_of(project: Project, axes: Sequence[Axis], place: Place) -> dict[str, str]:
    """The sizes at a `place` in words, by axis: of a housing the one that it came to."""
    found = {axis.key: axis.names[n] for axis, n in zip(axes, place, strict=True)}
    if HOUSING in found and project.chosen is not None:
        found[HOUSING] = f"A/R {project.chosen.turbine.housing.si / INCH:.2f}"
    return found


def _mm(si: float) -> str:
    return f"{1e3 * si:.1f}".removesuffix(".0") + " mm"


def _as_it_is(project: Project) -> Project:
    return project


def _bind(function: Callable[[Any, Project], Project], value: Any) -> Edit:
    return partial(function, value)


def _near(sizes: Sequence[float], own: float, reach: int = NEAR) -> list[float]:
    """The sizes about the present one, which is among them as it is."""
    around = sorted({*sizes, own})
    at = around.index(own)
    # One that is nearly the same is the same.
    return [s for s in around[max(at - reach, 0) : at + reach + 1] if s == own or abs(s / own - 1.0) > 0.01]


def _turbos(project: Project, catalogue: Mapping[str, Turbo]) -> Axis:
    own = {t.id: t for t in project.turbos}
    turbos = own | {key: t for key, t in catalogue.items() if key not in own}
    order = sorted(turbos.values(), key=lambda t: t.lines[-1].points[-1][0])
    return Axis(
        TURBO,
        tr("Turbo"),
        tuple(t.name for t in order),
        tuple(_as_it_is if t.id == project.turbo else _bind(_with_turbo, t) for t in order),
        next((i for i, t in enumerate(order) if t.id == project.turbo), 0),
    )


def _with_turbo(turbo: Turbo, project: Project) -> Project:
    """The document with another turbo chosen, and the cone before it as wide as its own opening."""
    turbos = project.turbos if any(t.id == turbo.id for t in project.turbos) else (*project.turbos, turbo)
    project = project.model_copy(update={"turbos": turbos, "turbo": turbo.id})
    inlet = round(openings(float(turbo.lines[-1].points[-1][0]))[0], 4)
    intake = list(project.intake)
    if intake and hasattr(intake[-1], "bore_out"):
        intake[-1] = intake[-1].model_copy(update={"bore_out": size(inlet, "mm", "length")})
    return project.model_copy(update={"intake": tuple(intake)})


def _counts(project: Project) -> Axis:
    return Axis(COUNT, tr("Turbos"), ("1", "2"), tuple(_bind(_with_count, n) for n in (1, 2)), min(int(project.turbos_fitted.si), 2) - 1)


def _with_count(count: int, project: Project) -> Project:
    if count == int(project.turbos_fitted.si):
        return project
    project = with_value_at(project, "turbos_fitted", Quantity(float(count), "", "count"))
    return with_value_at(project, "wastegate.count", Quantity(float(count), "", "count"))


def _housings() -> Axis:
    names = {
        -2: tr("two sizes smaller"),
        -1: tr("one size smaller"),
        0: tr("as supplied"),
        1: tr("one size larger"),
        2: tr("two sizes larger"),
    }
    return Axis(
        HOUSING,
        tr("Housing"),
        tuple(names[s] for s in HOUSING_STEPS),
        tuple(_as_it_is if s == 0 else _bind(_with_housing, s) for s in HOUSING_STEPS),
        HOUSING_STEPS.index(0),
    )


def _with_housing(step: int, project: Project) -> Project:
    """The chosen turbo in the next housing that is sold, some steps up or down."""
    chosen = project.chosen
    if chosen is None:
        return project
    other = next_housing(chosen.turbine.housing.si, step)
    if other is None:
        raise EntryError(tr_format("no such housing is sold"))
    project = with_value_at(project, f"turbos.{chosen.id}.turbine.housing", size(other, "mm", "length"))
    return with_value_at(project, "search.housing", OTHER)


def _gates(project: Project) -> Axis:
    """Single gates and pairs, by their area."""
    now = (round(project.wastegate.diameter.si, 5), int(project.wastegate.count.si))
    turbos = int(project.turbos_fitted.si)
    each = [(s, n * turbos) for s in GATES for n in (1, 2)]
    order = sorted({*each, now}, key=lambda g: (g[1] * g[0] ** 2, g[1]))
    names = tuple(_mm(s) if n == 1 else f"{n} × {_mm(s)}" for s, n in order)
    return Axis(GATE, tr("Wastegate"), names, tuple(_as_it_is if g == now else _bind(_with_gate, g) for g in order), order.index(now))


def _with_gate(gate: tuple[float, int], project: Project) -> Project:
    bore, count = gate
    project = with_value_at(project, "wastegate.diameter", size(bore, "mm", "length"))
    project = with_value_at(project, "wastegate.lift", size(round(LIFT_SHARE * bore, 4), "mm", "length"))
    return with_value_at(project, "wastegate.count", Quantity(float(count), "", "count"))


def main_bore(project: Project, run: str) -> float:
    """Bore in m of most of a run's pieces; 0 for a run of no pipe."""
    counts: dict[float, int] = {}
    for piece in getattr(project, run):
        bore = getattr(piece, "bore", None)
        if isinstance(bore, Quantity) and piece.kind in ("straight", "bend", "mitre", "crush"):
            counts[bore.si] = counts.get(bore.si, 0) + 1
    return max(counts, key=lambda b: counts[b], default=0.0)


def _bores(project: Project, run: str) -> Axis | None:
    old = main_bore(project, run)
    if old <= 0.0:
        return None
    sizes = _near([t - 2.0 * WALL for t in TUBES], old)
    return Axis(
        run,
        tr(RUNS[run]),
        tuple(_mm(s) for s in sizes),
        tuple(_as_it_is if s == old else _bind(_with_bore, (run, old, s)) for s in sizes),
        sizes.index(old),
    )


def _with_bore(what: tuple[str, float, float], project: Project) -> Project:
    """The document with a run of another bore: everything of it that is as wide as its pipe; bends keep their
    radius over the bore."""
    run, old, new = what
    pieces = []
    for piece in getattr(project, run):
        update = {}
        for name in ("bore", "bore_in", "bore_out"):
            value = getattr(piece, name, None)
            if isinstance(value, Quantity) and abs(value.si / old - 1.0) < 0.02 and piece.kind != "throttle":
                update[name] = size(new, "mm", "length")
        radius = getattr(piece, "radius", None)
        if "bore" in update and isinstance(radius, Quantity):
            update["radius"] = size(radius.si * new / old, "mm", "length")
        pieces.append(piece.model_copy(update=update) if update else piece)
    return project.model_copy(update={run: tuple(pieces)})


def _cores(project: Project) -> Axis | None:
    if not project.intercooler.fitted or project.intercooler.medium != "air":
        return None
    names = (tr("present"), *("{:.0f} × {:.0f} × {:.0f} mm".format(*(1e3 * s for s in core)) for core in CORES))
    return Axis(COOLER, tr("Intercooler"), names, (_as_it_is, *(_bind(with_core, c) for c in CORES)), 0)


def _throttles(project: Project) -> Axis | None:
    found = next(((run, p) for run in (COLD_PIPE, "intake") for p in getattr(project, run) if p.kind == "throttle"), None)
    if found is None:
        return None
    run, piece = found
    own = piece.bore.si
    sizes = _near(THROTTLES, own)
    edits = tuple(_as_it_is if s == own else _bind(_with_throttle, (run, piece.id, s)) for s in sizes)
    return Axis(THROTTLE, tr("Throttle"), tuple(_mm(s) for s in sizes), edits, sizes.index(own))


def _with_throttle(what: tuple[str, str, float], project: Project) -> Project:
    run, piece, bore = what
    project = with_value_at(project, f"{run}.{piece}.bore", size(bore, "mm", "length"))
    return with_value_at(project, "search.throttle", OTHER)


def _boosts(project: Project) -> Axis:
    most = project.engine.trusted_boost.si * (1.0 - BOTTOM_END.good)
    count = max(int(most / BOOST_STEP + 1e-9), 1) + BEYOND
    now = project.goal.target_boost.si
    # Less than half of the present one is another build.
    first = min(max(int(0.5 * now / BOOST_STEP), 2), count)
    boosts = [BOOST_STEP * n for n in range(first, count + 1)]
    if not any(abs(b - now) < 100.0 for b in boosts):
        boosts = sorted([*boosts, now])
    own = min(range(len(boosts)), key=lambda i: abs(boosts[i] - now))
    return Axis(
        BOOST,
        tr("Boost"),
        tuple(f"{b / 1e5:.2f} bar" for b in boosts),
        tuple(_as_it_is if i == own else _bind(_with_boost, b) for i, b in enumerate(boosts)),
        own,
    )


def _with_boost(boost: float, project: Project) -> Project:
    return with_value_at(project, "goal.target_boost", size(boost, "bar", "pressure_gauge"))


def _holds(project: Project) -> Axis:
    """From which engine speed on the control lets the full boost in: at once, or so late that it is still wanted."""
    now, wish = project.goal.hold_back_until.si, project.goal.full_boost_from.si
    least = meta(project, "goal.hold_back_until")
    assert isinstance(least, QuantitySpec)
    at_once = max(NO_HOLD, least.limits[0])
    speeds = sorted({at_once, now, *(s for n in range(4) if (s := HOLD_STEP * round(wish / HOLD_STEP - n)) > at_once)})
    names = tuple(tr("full boost at once") if s <= at_once else tr_format("full boost delayed to {0:.0f} rpm", s) for s in speeds)
    edits = tuple(_as_it_is if s == now else _bind(_with_hold, s) for s in speeds)
    return Axis(HOLD, tr("Boost control"), names, edits, speeds.index(now))


def _with_hold(speed: float, project: Project) -> Project:
    return with_value_at(project, "goal.hold_back_until", Quantity(round(speed), "rpm", "rotation"))


def _pulleys(project: Project) -> Axis | None:
    """Other pulleys on the blower: by diameter, by teeth, or by what they make of a turn of the crank."""
    b = project.blower
    if not b.fitted:
        return None
    if b.drive_ratio.known != UNKNOWN:
        own, name = b.drive_ratio.si, "blower.drive_ratio"
        sizes = _near([round(PULLEY_STEP * n, 4) for n in range(14, 80)], own, 8)
        words = [f"{s:.2f} : 1" for s in sizes]
    elif b.belt == TOOTHED:
        own, name = b.teeth.si, "blower.teeth"
        sizes = _near([float(t) for t in TEETH], own, 8)
        words = [tr_format("{0:.0f} teeth", s) for s in sizes]
    else:
        own, name = b.pulley.si, "blower.pulley"
        sizes = _near(PULLEYS, own, 8)
        words = [_mm(s) for s in sizes]
    edits = tuple(_as_it_is if s == own else _bind(_with_pulley, (name, s)) for s in sizes)
    return Axis(PULLEY, tr("Pulley"), tuple(words), edits, sizes.index(own))


def _with_pulley(what: tuple[str, float], project: Project) -> Project:
    name, si = what
    return with_changes(project, (Change(name, si),)) if math.isfinite(si) else project

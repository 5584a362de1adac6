"""A first whole design from what a builder knows: an engine by its kind and size, its stock power, a
fuel, the power that is wanted, and where.

Sizes follow from rules of the trade, each with its band beside it (common practice, no source where
none is named), and are then tried with the solver: the turbo, its housing, the boost and the gate are
those that come out right together. Whatever was not said stands in the document as assumed.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.point import TurboPoint
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.checks.bands import full_speed
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.compressor.surge import judged_margin
from zarvik.core.doubt.estimates import family as family_of
from zarvik.core.engine.breathing import from_archetype
from zarvik.core.gas.combustion import FUELS
from zarvik.core.limits import BACK_PRESSURE, CHOKE, FAILS, GATE, POWER, SURGE, WHEEL_SPEED
from zarvik.core.sizes import GATES, LIFT_SHARE
from zarvik.project.assemble import assemble
from zarvik.project.document import Project
from zarvik.project.edits import put
from zarvik.project.estimates import unknown_places
from zarvik.project.first_document import (
    SHAPE,
    TRUSTED,
    breath_of,
    document_of,
    quantity_of,
)
from zarvik.project.known import Known, NoDesign
from zarvik.project.language import told
from zarvik.project.parts.turbo import Turbo
from zarvik.project.units import Quantity

CHOKE_USED = {"spool": 0.85, "even": 0.78, "top": 0.70}  # of the compressor's flow at the target
MILD, MILD_SHARE = 0.5e5, 0.6  # Pa of the lowest spring, and of the full boost: the less
PEDAL, PULL = 1.15, 0.8  # of the speed from which full boost is wanted: where seconds are counted
HOUSINGS = (0.55, 0.65, 0.75, 0.85, 1.0, 1.15, 1.3)  # over the common one of a wheel


def _wheel(charts: dict[str, CompressorMap], flow: float, ratio: float, used: float) -> list[str]:
    """Turbos whose compressor has the corrected `flow` (kg/s) at `ratio` with room, best first."""
    fits = []
    for key, chart in charts.items():
        limit = chart.flow_limit(ratio)
        if flow <= 0.92 * limit and ratio <= chart.lines[-1].ratio[0] * 0.97:
            fits.append((abs(flow / limit - used), key))
    return [key for _, key in sorted(fits)]


def make(known: Known, shelf: dict[str, Turbo]) -> Project:
    """A whole design for what is `known`, from the turbos of a `shelf`. Raises NoDesign with a sentence
    when nothing on the shelf comes near."""
    fuel = FUELS[known.fuel]
    kind = known.kind if fuel.spark else "diesel"
    best, peak = breath_of(known, kind)
    target_speed = min(known.stock_speed or 0.9 * known.redline, 0.97 * known.redline)
    family = family_of(known.fuel)
    # Air for the power: 9.5 hp for each lb/min (8.3 to 11); diesel and alcohol by their own lambda
    per_air = {"petrol": 9.5, "e85": 10.0, "methanol": 10.5, "diesel": 8.0}[family]
    air = known.power / 745.7 / per_air * 0.45359237 / 60.0
    ambient = 101_325.0 * (1.0 - 2.25577e-5 * known.altitude) ** 5.2559
    density = air / (
        float(from_archetype(SHAPE[kind], peak_speed=peak, peak=best).at(target_speed))
        * known.litres * target_speed / 120.0
    )  # fmt: skip
    boost = max(density * 287.0 * 335.0 - ambient, 0.05e5)
    if boost > 3.2e5:
        raise NoDesign(
            told("that would take about {0:.1f} bar of boost: more engine, more engine speed, or less power", boost / 100000.0)
        )
    ratio = (ambient + 1.08 * boost) / (0.98 * ambient)
    if ratio > 3.9:
        raise NoDesign(
            told("at this height that takes a pressure ratio of {0:.1f}, more than one compressor gives: more engine, or less power", ratio)
        )
    charts = {key: turbo.chart for key, turbo in shelf.items()}
    corrected = air * math.sqrt(known.day / 298.0) / (0.98 * ambient / 1e5)
    order: list[str] = []
    for count in (1, 2, 3, 4):
        order = _wheel(charts, corrected / count, ratio, CHOKE_USED[known.matters])
        if order:
            break
    if not order:
        raise NoDesign(told("no turbo of the shelf moves that much air, not even four of them"))
    best_design: tuple[float, Project] | None = None
    for key in order[:3]:
        project = document_of(
            known, kind, family, best, peak, boost, air, shelf[key], count, target_speed
        )
        project = _housing(known, project, key)
        project = _boost(known, project)
        project = _clear_of_surge(_gate(project))
        score = _score(known, project)
        if best_design is None or score < best_design[0]:
            best_design = (score, project)
    assert best_design is not None
    project = best_design[1]
    project = _honest(known, project)
    made = assemble(project).boost.full
    trusted = max(math.ceil(made / 0.93 / 5e3) * 5e3, TRUSTED["spark" if fuel.spark else "diesel"])
    project = put(project, "engine.trusted_boost", quantity_of(trusted, "bar", "pressure_gauge"))
    project = put(project, "brief.big_run_boost", quantity_of(made, "bar", "pressure_gauge"))
    mild = min(MILD, MILD_SHARE * made)
    project = put(project, "brief.mild_boost", quantity_of(round(mild, -3), "bar", "pressure_gauge"))
    wish = project.brief.full_boost_from.si
    for place, share in (("brief.pedal_at", PEDAL), ("car.pull_from", PULL)):
        speed = min(max(round(share * wish / 50.0) * 50.0, 800.0), known.redline - 500.0)
        project = put(project, place, Quantity(speed, "rpm", "rotation"))
    return project.model_copy(update={"assumed": tuple(sorted(_assumed(known, project)))})


def _honest(known: Known, project: Project) -> Project:
    """The design with a wish that it can fulfil: nobody has said from where the boost is wanted. Raises
    NoDesign when the power is not there."""
    at = _solver(project).at(assemble(project).target.speed)
    made = at.power if at.closure.solved else 0.0
    if made < 0.97 * known.power:
        raise NoDesign(
            told("no turbo of the shelf wakes on this engine as it would have to: {0} of {1} at the most; "
                 "more engine speed, more engine, or less power",
                 quantity_of(made, "hp", "power", 3), quantity_of(known.power, "hp", "power", 3))
        )  # fmt: skip
    solver = _solver(project)
    raw = solver.full_load
    fastest = min(
        (solver.point(raw, int(i)).turbo for i in np.nonzero(raw.solved)[0]),
        key=lambda turbo: turbo.overspeed,
    )
    if WHEEL_SPEED.state(fastest.overspeed) == FAILS:
        raise NoDesign(
            told("that takes a pressure ratio of {0:.1f}, which turns a compressor beyond its highest speed: "
                 "more engine, a lower place, or less power", fastest.ratio)
        )  # fmt: skip
    full, _ = _threshold(project)
    if full == full and full > project.brief.full_boost_from.si:
        wish = min(math.ceil(1.02 * full / 100.0) * 100.0, assemble(project).target.speed)
        project = put(project, "brief.full_boost_from", Quantity(wish, "rpm", "rotation"))
    return project


def _solver(project: Project) -> Solver:
    return prepare(assemble(project))


def _threshold(project: Project) -> tuple[float, float]:
    """Where the full boost stands (rev/min, nan for never) and back-pressure at the target."""
    solver = _solver(project)
    raw = solver.full_load
    gauge = raw.states[:, k.P_PLENUM] - solver.system.site.pressure
    good = raw.solved
    at = solver.at(solver.system.target.speed)
    full = full_speed(raw.speed[good], gauge[good], solver.system.boost.full)
    return full, at.turbo.back_pressure if at.closure.solved else math.nan


def _housing(known: Known, project: Project, key: str) -> Project:
    """The housing whose threshold lies nearest to the wish among those that breathe above it."""
    place = f"turbos.{key}.turbine.housing"
    common = project.turbos[0].turbine.housing.si
    wish = project.brief.full_boost_from.si
    found: list[tuple[float, Project]] = []
    for share in HOUSINGS:
        other = put(project, place, quantity_of(round(common * share, 4), "mm", "length"))
        full, back = _threshold(other)
        late = max(full / wish - 1.0, 0.0) if full == full else 2.0
        tight = max(back / BACK_PRESSURE.good - 1.0, 0.0) if back == back else 2.0
        # Late costs as much as tight; early enough is enough
        found.append((late + tight + 0.02 * abs(share - 1.0), other))
    return min(found, key=lambda f: f[0])[1]


def _boost(known: Known, project: Project) -> Project:
    """The boost at which the solver finds the wanted power, in steps that a gauge shows."""
    low, high = 0.02e5, 3.4e5
    solver = _solver(project)
    for _ in range(14):
        middle = 0.5 * (low + high)
        wanted = np.array([solver.system.site.pressure + middle])
        raw = solver.at_pressure(np.array([solver.system.target.speed]), wanted)
        power = float(raw.power[0]) if raw.solved[0] else 0.0
        if power >= (1.002 + POWER.good) * known.power:
            high = middle
        else:
            low = middle
    return put(
        project, "brief.target_boost", quantity_of(math.ceil(high / 1e3) * 1e3, "bar", "pressure_gauge", 3)
    )


def _gate(project: Project) -> Project:
    """The smallest valve that is sold and holds the boost with room."""
    for size in GATES:
        other = put(project, "gate.diameter", quantity_of(size, "mm", "length"))
        other = put(other, "gate.lift", quantity_of(round(LIFT_SHARE * size, 3), "mm", "length"))
        raw = _solver(other).full_load
        good = raw.solved
        if good.any() and float(raw.states[good, k.OPENING].max()) <= 1.0 - GATE.good:
            return other
    return other


def _clear_of_surge(project: Project) -> Project:
    """Boost held back at low speed until the compressor stands clear of its surge line: with its
    whole room where that costs no late boost, else with half of it."""
    wish, limit = project.brief.full_boost_from.si, project.engine.rev_limit.si
    held: dict[int, tuple[Project, float, float]] = {}
    for start in range(1000, int(0.7 * limit), 250):
        other = put(project, "brief.hold_back_until", Quantity(float(start), "rpm", "rotation"))
        solver = _solver(other)
        raw = solver.full_load
        boosted = solver.system.boost.counts(
            raw.states[:, k.P_PLENUM] - solver.system.site.pressure
        )
        rooms = [
            float(judged_margin(t.surge, t.ratio))
            for t in (solver.point(raw, int(i)).turbo for i in np.nonzero(raw.solved & boosted)[0])
        ]
        gauge = raw.states[raw.solved, k.P_PLENUM] - solver.system.site.pressure
        late = full_speed(raw.speed[raw.solved], gauge, solver.system.boost.full)
        held[start] = other, min(rooms, default=1.0), late
        if held[start][1] >= SURGE.good:
            break
    for share in (1.0, 0.5):
        found = next((h for h in held.values() if h[1] >= share * SURGE.good), None)
        if found is not None and (found[2] <= wish or share < 1.0):
            return found[0]
    return project


def _room(turbo: TurboPoint, name: str) -> float:
    return float(judged_margin(turbo.surge, turbo.ratio)) if name == "surge" else float(getattr(turbo, name))


def _score(known: Known, project: Project) -> float:
    """How far a design is from what is wanted: power, threshold, surge, choke, speed."""
    solver = _solver(project)
    raw = solver.full_load
    at = solver.at(solver.system.target.speed)
    if not at.closure.solved or not raw.solved.any():
        return 99.0
    full, back = _threshold(project)
    score = 5.0 * max(1.0 - at.power / known.power, 0.0)
    score += max(full / project.brief.full_boost_from.si - 1.0, 0.0) if full == full else 1.0
    score += max(back / BACK_PRESSURE.good - 1.0, 0.0)
    points = [solver.point(raw, int(i)) for i in np.nonzero(raw.solved)[0][::2]]
    boosted = [p.turbo for p in points if p.boost > 0.3 * solver.system.boost.full]
    # Half of the room counts as enough; what is missing of it weighs more than a late boost.
    for limit, name in ((SURGE, "surge"), (CHOKE, "choke"), (WHEEL_SPEED, "overspeed")):
        least = min((_room(turbo, name) for turbo in boosted), default=0.0)
        score += 4.0 * max(0.5 * limit.good - least, 0.0)
    return score


GIVEN = ("brief.target_power", "engine.cylinders", "engine.rev_limit", "engine.fuel", "brief.altitude",
         "brief.design_day", "name")  # fmt: skip


def _assumed(known: Known, project: Project) -> set[str]:
    """Places of all entries that the program chose where the builder did not say anything."""
    said = set(GIVEN)
    said |= {"engine.stock_power"} if known.stock_power is not None else set()
    said |= {"engine.stock_speed"} if known.stock_speed is not None else set()
    if known.compression is not None:
        said.add("engine.compression")
    found = set()
    for room in ("brief", "engine", "gate", "bay", "car", "cooler"):
        found |= {f"{room}.{n}" for n in type(getattr(project, room)).model_fields}
    found |= {
        f"turbos.{project.turbo}.turbine.{n}" for n in type(project.turbos[0].turbine).model_fields
    }
    for run in ("intake", "hot_pipe", "cold_pipe", "manifold", "exhaust"):
        for piece in getattr(project, run):
            found |= {
                f"{run}.{piece.id}.{n}" for n in type(piece).model_fields
                if isinstance(getattr(piece, n), Quantity)
            }  # fmt: skip
    # What nobody knows says so itself.
    return found - said - set(unknown_places(project))

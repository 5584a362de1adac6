"""A first whole design from what a builder knows: an engine by its kind and size, its stock power, a
fuel, the power that is wanted, and where.

Sizes follow from rules of the trade, each with its band beside it (common practice, no source where
none is named), and are then tried with the solver: the turbo, its housing, the boost and the gate are
those that come out right together. Whatever was not said stands in the document as assumed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.point import TurboPoint
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.airpath.stations import COMPRESSOR_OUTLET
from zarvik.core.airpath.threshold import full_speed
from zarvik.core.checks.belt import stronger
from zarvik.core.checks.check_result import Change
from zarvik.core.checks.knock import knocks
from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT, HORSEPOWER, POUND
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.compressor.surge import judged_margin
from zarvik.core.engine.belt import capacity
from zarvik.core.engine.breathing import from_archetype
from zarvik.core.engine.engine import most_stock_pressure
from zarvik.core.estimates.typical_values import family as family_of
from zarvik.core.gas.ambient import standard_pressure
from zarvik.core.gas.combustion import FUELS
from zarvik.core.limits.limits import BACK_PRESSURE, BELT_POWER, CHOKE, GATE, MATERIALS, POWER, SURGE, WHEEL_SPEED
from zarvik.core.stock.sizes import LIFT_SHARE, PULLEYS
from zarvik.project.assembly.assemble import assemble
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.belonging import belongs
from zarvik.project.document.document import Project
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.edits.edits import with_value
from zarvik.project.estimates.estimates import filled, unknown_places
from zarvik.project.first_design.first_document import GATES_FITTED, SHAPE, TRUSTED, breath_of, document_of, quantity_of
from zarvik.project.first_design.first_layout import with_first_layout
from zarvik.project.language.language import tr_format
from zarvik.project.language.plain import opening
from zarvik.project.uncertainty.known import BuilderInput, NoDesignFound, faults
from zarvik.project.units.units import Quantity

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


@dataclass(frozen=True)
class FirstDesign:
    """The document of a first design, and what stood in the way of all that was wanted, a sentence each."""

    project: Project
    obstacles: tuple[str, ...] = ()

    @property
    def noted(self) -> Project:
        """The document with what stood in the way in its note."""
        if not self.obstacles:
            return self.project
        return self.project.model_copy(update={"note": " ".join(f"{opening(text)}." for text in self.obstacles)[:2000]})


def make(known: BuilderInput, catalogue: dict[str, Turbo]) -> Project:
    """`design` alone, with what stood in the way in its note."""
    return design(known, catalogue).noted


MOST_BOOST = 3.0e5  # Pa gauge that a first design asks for at the most; common practice, no source
MOST_RATIO = 3.8  # pressure ratio that one compressor gives; common practice, no source
# Power from which a V or flat engine gets a turbo for each bank; common practice, no source
TWO_FROM = 400.0 * HORSEPOWER


def design(known: BuilderInput, catalogue: dict[str, Turbo], progress: Progress = unwatched) -> FirstDesign:
    """A whole design for what is `known`, from the turbos of a `catalogue`: always one, the nearest that can be where not all of it can.
    Raises NoDesign where what is said contradicts itself."""
    fuel = FUELS[known.fuel]
    kind = known.kind if fuel.spark else "diesel"
    wrong = faults(known)
    if wrong:
        raise NoDesignFound("; ".join(wrong))
    _contradictions(known, kind)
    best, peak = breath_of(known, kind)
    target_speed = min(known.stock_speed or 0.9 * known.redline, 0.97 * known.redline)
    family = family_of(known.fuel)
    ambient = standard_pressure(known.altitude)
    swallows = float(from_archetype(SHAPE[kind], peak_speed=peak, peak=best).at(target_speed)) * known.litres * target_speed / 120.0
    obstacles: list[str] = []
    most = max(min(MOST_BOOST, MOST_RATIO * 0.98 * ambient / 1.08 - ambient), 0.2e5)
    if known.power is not None and known.boost is None:
        # Air for the power: 9.5 hp for each lb/min (8.3 to 11); diesel and alcohol by their own lambda
        per_air = {"petrol": 9.5, "e85": 10.0, "methanol": 10.5, "diesel": 8.0}[family]
        air = known.power / HORSEPOWER / per_air * POUND / 60.0
        boost = max(air / swallows * DRY_AIR_GAS_CONSTANT * 335.0 - ambient, 0.05e5)
        if boost > most:
            obstacles.append(
                tr_format(
                    "{0} from this engine needs about {1:.1f} bar of boost. About {2:.1f} bar is possible here",
                    quantity_of(known.power, "hp", "power", 3),
                    boost / 1e5,
                    most / 1e5,
                )
            )
    else:
        boost = known.boost or 0.5e5
    boost = min(boost, most)
    air = swallows * (ambient + boost) / (DRY_AIR_GAS_CONSTANT * 335.0)
    if known.charger == "blower":
        project = _with_blower(
            known, document_of(known, kind, family, best, peak, boost, air, _smallest(catalogue), 1, target_speed), boost, air, obstacles
        )
    else:
        project = _with_turbo(known, catalogue, kind, family, best, peak, boost, air, target_speed, obstacles, progress)
    progress(0.9)
    project = with_first_layout(project)
    project = _wanted(known, project, obstacles)
    made = assemble(project).boost.full
    trusted = max(math.ceil(made / 0.93 / 5e3) * 5e3, TRUSTED["spark" if fuel.spark else "diesel"])
    project = with_value(project, "engine.trusted_boost", quantity_of(trusted, "bar", "pressure_gauge"))
    project = _big_run(known, project, made, trusted, obstacles)
    mild = min(MILD, MILD_SHARE * made)
    project = with_value(project, "goal.mild_boost", quantity_of(round(mild, -3), "bar", "pressure_gauge"))
    wish = project.goal.full_boost_from.si
    for place, share in (("goal.pedal_at", PEDAL), ("car.pull_from", PULL)):
        speed = min(max(round(share * wish / 50.0) * 50.0, 800.0), known.redline - 500.0)
        project = with_value(project, place, Quantity(speed, "rpm", "rotation"))
    return FirstDesign(project.model_copy(update={"assumed": tuple(sorted(_assumed(known, project)))}), tuple(obstacles))


def _contradictions(known: BuilderInput, kind: str) -> None:
    """Raises NoDesign for a stock power that no such engine makes."""
    if known.stock_power is None:
        return
    speed = known.stock_speed or 0.88 * known.redline
    mean = known.stock_power * 120.0 / (known.litres * speed)
    most = most_stock_pressure(known.stock_boost)
    if mean > most:
        raise NoDesignFound(
            tr_format(
                (
                    "{0} at {1:.0f} rpm from {2:.1f} L is a mean pressure of {3:.0f} bar. The most is about {4:.0f} bar. "
                    "Check displacement and stock power, or enter the stock boost"
                ),
                quantity_of(known.stock_power, "hp", "power", 3),
                speed,
                1e3 * known.litres,
                mean / 1e5,
                most / 1e5,
            )
        )


def _smallest(catalogue: dict[str, Turbo]) -> Turbo:
    return min(catalogue.values(), key=lambda t: t.chart.lines[-1].flow[-1])


def _with_turbo(
    known: BuilderInput,
    catalogue: dict[str, Turbo],
    kind: str,
    family: str,
    best: float,
    peak: float,
    boost: float,
    air: float,
    target_speed: float,
    obstacles: list[str],
    progress: Progress,
) -> Project:
    """The document with the turbo, or turbos, that come out best together with housing, boost and gate."""
    ambient = standard_pressure(known.altitude)
    ratio = (ambient + 1.08 * boost) / (0.98 * ambient)
    charts = {key: turbo.chart for key, turbo in catalogue.items()}
    corrected = air * math.sqrt(known.day / 298.0) / (0.98 * ambient / 1e5)
    paired = known.layout != "inline" and known.cylinders % 2 == 0 and (known.power or 0.0) >= TWO_FROM
    counts = (known.count,) if known.count else (2, 1, 4) if paired else (1, 2, 3, 4)
    order: list[str] = []
    count = counts[0]
    if known.turbo is not None and known.turbo in charts:
        order, count = [known.turbo], known.count or 1
    for each in () if order else counts:
        order, count = _wheel(charts, corrected / each, ratio, CHOKE_USED[known.matters]), each
        if order:
            break
    if not order:
        largest = max(charts, key=lambda key: charts[key].lines[-1].flow[-1])
        order, count = [largest], counts[-1] if known.count else 2
        obstacles.append(
            tr_format("No turbo in the catalogue moves that much air. The largest is “{0}”: enter your own", catalogue[largest].name)
        )
    best_design: tuple[float, Project] | None = None
    for number, key in enumerate(order[:3]):
        progress(0.1 + 0.25 * number)
        project = document_of(known, kind, family, best, peak, boost, air, catalogue[key], count, target_speed)
        project = _housing(known, project, key)
        # Once more with a wastegate that holds it: less may do
        project = _boost(known, _gate(_boost(known, project)))
        project = _clear_of_surge(_gate(project))
        score = _score(known, project)
        if best_design is None or score < best_design[0]:
            best_design = (score, project)
    assert best_design is not None
    return best_design[1]


# Blowers as they are sold, by what they move a turn (m3), with the rotor speed that each stands; common practice, no source
BLOWERS = (
    (0.00032, 17000.0),
    (0.00046, 16000.0),
    (0.00062, 15000.0),
    (0.0009, 14500.0),
    (0.0012, 14000.0),
    (0.0016, 13000.0),
    (0.0023, 12500.0),
    (0.0032, 11500.0),
    (0.0042, 10500.0),
    (0.0055, 9500.0),
)
CRANKS = (0.090, 0.100, 0.110, 0.120, 0.132, 0.145, 0.158, 0.170, 0.185, 0.200)  # m, pulleys on the crank; common practice, no source
LEAST_RIBS = 6  # of a blower's belt, the narrowest that is common; common practice, no source
BELT = 43.0  # m/s that the belt runs at the redline at the most; common practice, no source: 45
ROTORS_USED = 0.90  # of the rotor limit at the redline; common practice, no source


def _with_blower(known: BuilderInput, project: Project, boost: float, air: float, obstacles: list[str]) -> Project:
    """The document with the smallest blower and the pulleys that bring the power, or come nearest."""
    ambient = standard_pressure(known.altitude)
    inlet = air / (0.98 * ambient / (DRY_AIR_GAS_CONSTANT * known.day)) / 0.86  # m3/s that the rotors sweep, slip taken off
    speed = project.goal.target_speed.si
    first = next((i for i, (d, n) in enumerate(BLOWERS) if inlet / d * 60.0 / speed * known.redline <= ROTORS_USED * n), len(BLOWERS) - 1)
    project = with_value(project, "intake", tuple(p for p in project.intake if p.id != "inlet"))
    project = project.model_copy(update={"blower": project.blower.model_copy(update={"fitted": True})})
    best: tuple[bool, float, Project] | None = None
    for size, limit in BLOWERS[first : first + 3]:
        project = with_value(project, "blower.displacement", quantity_of(size, "cm³", "volume", 3))
        project = with_value(project, "blower.rotor_limit", Quantity(limit, "rpm", "rotation"))
        project = with_value(project, "blower.name", tr_format("Belt-driven blower, {0:.0f} cm³", 1e6 * size))
        found = _pulleys(known, project, limit)
        if found is not None and (best is None or (found[0], found[1]) > (best[0], best[1])):
            best = found
        if best is not None and best[0]:
            break
    if best is None:
        raise NoDesignFound(tr_format("No pulley suits a blower on this engine"))
    if not best[0]:
        obstacles.append(tr_format("No blower and pulley on sale makes more without knock or too high a belt speed"))
    project = _hot_pipe_of_steel(_belted(best[2]))
    driven = _driven(project)
    return _full_from(_boosted(known, project, driven[1]) if driven is not None else project)


def _boosted(known: BuilderInput, project: Project, gauge: float) -> Project:
    """The document with the boost that its builder wants, else what the rotors bring, `gauge` in Pa."""
    boost = known.boost if known.boost is not None else max(math.floor(gauge / 1e3) * 1e3, 2e3)
    return with_value(project, "goal.target_boost", quantity_of(boost, "bar", "pressure_gauge", 3))


def _belted(project: Project) -> Project:
    """The document with the narrowest belt on sale that carries the blower, with teeth where ribs do not; the widest where none does."""
    build = assemble(with_value(project, "blower.belt_ribs", Quantity(float(LEAST_RIBS), "", "count")))
    solver = prepare(build)
    assert build.blower is not None and build.blower.belt is not None
    points = [solver.at(speed) for speed in (build.target.speed, build.engine.rev_limit)]
    found: tuple[Change, ...] = (Change("blower.belt_ribs", float(LEAST_RIBS)),)
    for belt, changes in ((build.blower.belt, found), *((other, changes) for other, _, changes in stronger(build.blower.belt))):
        found = changes
        if all(capacity(belt, p.speed) * build.blower.drive >= (1.0 + BELT_POWER.good) * p.turbo.power for p in points):
            break
    return with_changes(project, found)


def _hot_pipe_of_steel(project: Project) -> Project:
    """The document with a hot pipe of steel where the charger's air is too hot for aluminium."""
    build = assemble(project)
    solver = prepare(build)
    hottest = max(solver.at(speed).stations[COMPRESSOR_OUTLET].temperature for speed in (build.target.speed, build.engine.rev_limit))
    if hottest < MATERIALS["aluminium"].good:
        return project
    for piece in project.hot_pipe:
        project = with_value(project, f"hot_pipe.{piece.id}.material", "stainless")
    return project


def _pulleys(known: BuilderInput, project: Project, limit: float) -> tuple[bool, float, Project] | None:
    """The slowest pulleys with which a blower (rotor `limit` rev/min) brings what is wanted: whether it does, power W, the document; the
    most powerful ones where none does."""
    best: tuple[bool, float, Project] | None = None
    for crank in CRANKS:
        if crank * math.pi * known.redline / 60.0 > BELT and crank > CRANKS[0]:
            break
        for pulley in reversed(PULLEYS):
            if crank / pulley * known.redline > ROTORS_USED * limit:
                break
            other = with_value(
                with_value(project, "blower.crank_pulley", quantity_of(crank, "mm", "length")),
                "blower.pulley",
                quantity_of(pulley, "mm", "length"),
            )
            other = filled(other)
            found = _driven(other)
            if found is None:
                continue
            power, gauge = found
            enough = (
                power >= (1.002 + POWER.good) * known.power
                if known.power is not None and known.boost is None
                else gauge >= (known.boost or 0.5e5)
            )
            if best is None or enough or power > best[1]:
                best = enough, power, _boosted(known, other, gauge)
            if enough:
                return best
    return best


FLAT_FROM = 0.6  # of the target speed from which a blower is held to its boost; common practice, no source


def _full_from(project: Project) -> Project:
    """The document with the boost asked for from the middle of the range on."""
    speed = round(FLAT_FROM * project.goal.target_speed.si / 50.0) * 50.0
    project = with_value(project, "goal.full_boost_from", Quantity(speed, "rpm", "rotation"))
    return with_value(project, "goal.hold_back_until", Quantity(speed, "rpm", "rotation"))


def _driven(project: Project) -> tuple[float, float] | None:
    """Power in W at the target speed and the boost in Pa gauge that the rotors bring from the middle of the range on (at low speed more
    slips past them; the bypass takes off what is more above); None where that is not solved or would knock."""
    solver = _solver(project)
    ambient, target = solver.path.site.pressure, solver.path.target.speed
    speeds = np.array([FLAT_FROM, 0.8, 1.0]) * target
    raw = solver.at_pressure(speeds, np.full(3, ambient + 3.0e5))
    if not raw.solved.all():
        return None
    gauge = 0.98 * float(raw.states[:, k.P_PLENUM].min() - ambient)
    if gauge < 2e3:
        return None
    held = solver.at_pressure(speeds, np.full(3, ambient + gauge))
    if not held.solved.all() or any(knocks(solver, solver.point(held, i)) for i in range(3)):
        return None
    return float(held.power[-1]), gauge


def _wanted(known: BuilderInput, project: Project, obstacles: list[str]) -> Project:
    """The document with a target that it can be held to: its own power where a boost was the question, and full boost from where it can
    stand, as nobody has said from where it is wanted. What is missing is added to the obstacles."""
    point = _solver(project).at(assemble(project).target.speed)
    power = point.power if point.closure.solved else 0.0
    if known.power is None:
        project = with_value(project, "goal.target_power", quantity_of(max(power, 2.0 * HORSEPOWER) / 1.01, "hp", "power", 3))
    reached = known.power is None or power >= 0.985 * known.power
    if known.power is not None and not reached:
        obstacles.append(
            tr_format(
                "Nearest design: {0} of {1} at {2} boost",
                quantity_of(power, "hp", "power", 3),
                quantity_of(known.power, "hp", "power", 3),
                project.goal.target_boost,
            )
        )
    if not project.blower.fitted:
        full, _ = _threshold(project)
        if full == full and full > project.goal.full_boost_from.si:
            wish = min(math.ceil(1.02 * full / 100.0) * 100.0, assemble(project).target.speed)
            project = with_value(project, "goal.full_boost_from", Quantity(wish, "rpm", "rotation"))
    return project


def _big_run(known: BuilderInput, project: Project, made: float, trusted: float, obstacles: list[str]) -> Project:
    """The document with its one-off run: the boost of a power that is wanted once, else that of every day."""
    if known.big_power is None:
        return with_value(project, "goal.big_run_boost", quantity_of(made, "bar", "pressure_gauge"))
    project = with_value(project, "goal.big_run_power", quantity_of(known.big_power, "hp", "power"))
    if project.blower.fitted:
        return with_value(project, "goal.big_run_boost", quantity_of(made, "bar", "pressure_gauge"))
    solver = _solver(project)
    boost, power, why = _boost_for(solver, known.big_power)
    if power < known.big_power:
        obstacles.append(
            tr_format(
                "One-off: {0} at most instead of {1}: {2}",
                quantity_of(power, "hp", "power", 3),
                quantity_of(known.big_power, "hp", "power", 3),
                why,
            )
        )
    boost = max(boost, made)
    project = with_value(project, "goal.big_run_boost", quantity_of(boost, "bar", "pressure_gauge", 3))
    return with_value(
        project, "engine.trusted_boost", quantity_of(max(trusted, math.ceil(boost / 0.93 / 5e3) * 5e3), "bar", "pressure_gauge")
    )


def _solver(project: Project) -> Solver:
    return prepare(assemble(project))


def _threshold(project: Project) -> tuple[float, float]:
    """Where the full boost stands (rev/min, nan for never) and back-pressure at the target."""
    solver = _solver(project)
    raw = solver.full_load
    gauge = raw.states[:, k.P_PLENUM] - solver.path.site.pressure
    good = raw.solved
    at = solver.at(solver.path.target.speed)
    full = full_speed(raw.speed[good], gauge[good], solver.path.boost.full)
    return full, at.turbo.back_pressure if at.closure.solved else math.nan


def _housing(known: BuilderInput, project: Project, key: str) -> Project:
    """The housing whose threshold lies nearest to the wish among those that breathe above it."""
    place = f"turbos.{key}.turbine.housing"
    common = project.turbos[0].turbine.housing.si
    wish = project.goal.full_boost_from.si
    found: list[tuple[float, Project]] = []
    for share in HOUSINGS:
        other = with_value(project, place, quantity_of(round(common * share, 4), "mm", "length"))
        full, back = _threshold(other)
        late = max(full / wish - 1.0, 0.0) if full == full else 2.0
        tight = max(back / BACK_PRESSURE.good - 1.0, 0.0) if back == back else 2.0
        # Late costs as much as tight; early enough is enough
        found.append((late + tight + 0.02 * abs(share - 1.0), other))
    return min(found, key=lambda f: f[0])[1]


CREEPS = 1.03  # times the boost that is asked for: more is none that is held


def _boost_for(solver: Solver, wanted: float) -> tuple[float, float, str]:
    """The least boost in Pa gauge, in steps that a gauge shows, that brings a power (`wanted`, W), with that power; where none does the
    one that brings the most without leaving the map or knocking, and why there is no more."""
    ambient, speed = solver.path.site.pressure, solver.path.target.speed
    asked = np.arange(0.05e5, 3.2e5, 0.05e5)
    raw = solver.at_pressure(np.full(len(asked), speed), ambient + asked)
    best, why = (0.05e5, 0.0), tr_format("no solution found")
    low = 0.0
    for i, boost in enumerate(asked):
        if not raw.solved[i]:
            continue
        point = solver.point(raw, i)
        gauge = float(raw.states[i, k.P_PLENUM]) - ambient
        if gauge > CREEPS * boost:
            continue  # its wastegate does not hold so little: a larger one is chosen later
        reason = ""
        if point.turbo.choke < 0.0 <= point.turbo.overspeed:
            # A small wheel that hardly turns chokes too: with more boost its map is wider
            why = tr_format("the compressor is at its limit")
            continue
        if point.turbo.overspeed < 0.0:
            reason = tr_format("the compressor is at its limit")
        elif knocks(solver, point):
            reason = tr_format("this fuel knocks above {0:.2f} bar", low / 1e5)
        elif gauge < 0.97 * boost:
            reason = tr_format("the turbine cannot drive more boost")
        if reason:
            why = reason
            break
        low = float(boost)
        if point.power > best[1]:
            best = float(boost), point.power
        if point.power >= wanted:
            break
    if best[1] < wanted:
        return best[0], best[1], why
    high, low = best[0], max(best[0] - 0.05e5, 0.01e5)
    for _ in range(6):
        middle = 0.5 * (low + high)
        one = solver.at_pressure(np.array([speed]), np.array([ambient + middle]))
        held = float(one.states[0, k.P_PLENUM]) - ambient <= CREEPS * middle
        low, high = (low, middle) if one.solved[0] and held and float(one.power[0]) >= wanted else (middle, high)
    boost = math.ceil(high / 1e3) * 1e3
    return boost, wanted, ""


def _boost(known: BuilderInput, project: Project) -> Project:
    """The boost that was asked for, or that at which the solver finds the wanted power, or comes nearest."""
    if known.boost is not None:
        boost = known.boost
    else:
        boost, _, _ = _boost_for(_solver(project), (1.002 + POWER.good) * (known.power or 0.0))
    return with_value(project, "goal.target_boost", quantity_of(boost, "bar", "pressure_gauge", 3))


def _gate(project: Project) -> Project:
    """The smallest valve that is sold and holds the boost with room."""
    for size in GATES_FITTED:
        other = with_value(project, "wastegate.diameter", quantity_of(size, "mm", "length"))
        other = with_value(other, "wastegate.lift", quantity_of(round(LIFT_SHARE * size, 3), "mm", "length"))
        raw = _solver(other).full_load
        good = raw.solved
        if good.any() and float(raw.states[good, k.OPENING].max()) <= 1.0 - GATE.good:
            return other
    return other


def _clear_of_surge(project: Project) -> Project:
    """Boost held back at low speed as little as keeps the compressor off its surge line."""
    limit = project.engine.rev_limit.si
    held: dict[int, tuple[Project, float]] = {}
    for start in range(1000, int(0.7 * limit), 250):
        other = with_value(project, "goal.hold_back_until", Quantity(float(start), "rpm", "rotation"))
        solver = _solver(other)
        raw = solver.full_load
        boosted = solver.path.boost.counts(raw.states[:, k.P_PLENUM] - solver.path.site.pressure)
        rooms = [
            float(judged_margin(t.surge, t.ratio)) for t in (solver.point(raw, int(i)).turbo for i in np.nonzero(raw.solved & boosted)[0])
        ]
        held[start] = other, min(rooms, default=1.0)
        if held[start][1] >= NEAR_SURGE:
            break
    # Late boost every day is a higher price than a compressor that runs near its line for a moment
    found = next((h for h in held.values() if h[1] >= NEAR_SURGE), None)
    return found[0] if found is not None else project


NEAR_SURGE = 0.025  # margin to surge that a first design leaves where the boost comes; common practice, no source


def _room(turbo: TurboPoint, name: str) -> float:
    return float(judged_margin(turbo.surge, turbo.ratio)) if name == "surge" else float(getattr(turbo, name))


def _score(known: BuilderInput, project: Project) -> float:
    """How far a design is from what is wanted: power, threshold, surge, choke, speed."""
    solver = _solver(project)
    raw = solver.full_load
    at = solver.at(solver.path.target.speed)
    if not at.closure.solved or not raw.solved.any():
        return 99.0
    full, back = _threshold(project)
    score = 5.0 * max(1.0 - at.power / known.power, 0.0) if known.power is not None else 0.0
    score += max(full / project.goal.full_boost_from.si - 1.0, 0.0) if full == full else 1.0
    score += max(back / BACK_PRESSURE.good - 1.0, 0.0)
    points = [solver.point(raw, int(i)) for i in np.nonzero(raw.solved)[0][::2]]
    boosted = [p.turbo for p in points if p.boost > 0.3 * solver.path.boost.full]
    # Half of the room counts as enough; what is missing of it weighs more than a late boost.
    for limit, name in ((SURGE, "surge"), (CHOKE, "choke"), (WHEEL_SPEED, "overspeed")):
        least = min((_room(turbo, name) for turbo in boosted), default=0.0)
        score += 4.0 * max(0.5 * limit.good - least, 0.0)
    return score


GIVEN = ("goal.target_power", "engine.cylinders", "engine.rev_limit", "engine.fuel", "goal.altitude", "goal.design_day", "name")


def _assumed(known: BuilderInput, project: Project) -> set[str]:
    """Places of all entries that the program chose where the builder did not say anything."""
    said = set(GIVEN)
    said |= {"engine.stock_power"} if known.stock_power is not None else set()
    said |= {"engine.stock_speed"} if known.stock_speed is not None else set()
    if known.compression is not None:
        said.add("engine.compression")
    found = set()
    for room in ("goal", "engine", "wastegate", "bay", "car", "intercooler"):
        found |= {f"{room}.{n}" for n in type(getattr(project, room)).model_fields}
    if project.blower.fitted:
        found |= {f"blower.{n}" for n in type(project.blower).model_fields if isinstance(getattr(project.blower, n), Quantity)}
    found |= {f"turbos.{project.turbo}.turbine.{n}" for n in type(project.turbos[0].turbine).model_fields}
    for run in ("intake", "hot_pipe", "cold_pipe", "manifold", "exhaust"):
        for piece in getattr(project, run):
            found |= {f"{run}.{piece.id}.{n}" for n in type(piece).model_fields if isinstance(getattr(piece, n), Quantity)}
    # What nobody knows says so itself.
    return {place for place in found - said - set(unknown_places(project)) if belongs(project, place)}

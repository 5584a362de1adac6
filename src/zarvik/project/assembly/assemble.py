"""From the document to the build: units turned, pieces built, contradictions found."""

from __future__ import annotations

import csv
import dataclasses
import math
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from importlib import resources

from zarvik.core.airpath.air_path import Bay, BoostSchedule, Target, Turbo
from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.blow_off.valve import BlowOff
from zarvik.core.budget.resources import WEEK, WORKS, Rate, Resources
from zarvik.core.candidates.evaluation import Stage
from zarvik.core.common.identity_cache import FirstEqual, IdentityCache, IdentityCacheEach
from zarvik.core.compressor.measured import check_wheel
from zarvik.core.ducts.cover import heat_tinted
from zarvik.core.ducts.element import Element
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.ducts.pieces.primaries import of_pieces
from zarvik.core.engine.belt import RIBBED, TOOTH_PITCH, TOOTHED, Belt
from zarvik.core.engine.blower import Blower
from zarvik.core.engine.breathing import Breathing, from_archetype
from zarvik.core.engine.engine import MOST_BREATHING, Engine, breathing_of_torque, most_stock_pressure
from zarvik.core.gas.ambient import Site, standard_pressure
from zarvik.core.gas.combustion import FUELS
from zarvik.core.intercooler.cooler import RATED_CP, WATER_CP, Cooler, most_front
from zarvik.core.intercooler.core_size import charge_volume, rate_front
from zarvik.core.turbine.turbine import Turbine
from zarvik.core.vehicle.car import Car
from zarvik.core.wastegate.actuator import FOUR, FULL_SHARE, INSIDE, OUTSIDE, Actuator, bench_of
from zarvik.core.wastegate.solenoid import numbers, role_of
from zarvik.core.wastegate.wastegate_flow import Wastegate
from zarvik.core.whole_build.build import Build
from zarvik.project.assembly.cores import core_of, fan_wind, front_air, front_of, in_the_wind, rated_by_size, rated_flows
from zarvik.project.assembly.small_parts import (
    breather_of,
    coolant_of,
    fittings_of,
    leak_test_of,
    lines_of,
    meter_of,
    ports_of,
    radiator_of,
    train_of,
)
from zarvik.project.connections.register import register
from zarvik.project.document import document as doc
from zarvik.project.document.fields import Of
from zarvik.project.document.naming import called
from zarvik.project.document.parts.ask import OTHER, THERE, THINGS
from zarvik.project.document.parts.shop import OUT, OWN
from zarvik.project.document.places import meta
from zarvik.project.document.slips import geometry
from zarvik.project.language.language import reason, tr, tr_format
from zarvik.project.layout.layout import CROSSOVER, crossed, head_of, pieced, shares, space_of
from zarvik.project.units.units import ESTIMATED, UNKNOWN, Quantity


@dataclass(frozen=True)
class Problem:
    """What keeps a document from being solved: where it stands, and what to do."""

    place: str
    text: str


class ProjectProblems(ValueError):
    """All problems of a document at once."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__("; ".join(p.text for p in problems))
        self.problems = tuple(problems)


def ambient_pressure(project: doc.Project) -> float:
    """Absolute ambient pressure in Pa of the site of the brief."""
    return standard_pressure(project.brief.altitude.si)


_ELEMENTS: IdentityCacheEach[doc.Piece, dict[str, Element]] = IdentityCacheEach(4000)


def piece_element(piece: doc.Piece, name: str = "") -> Element:
    """The element of one piece, called `name` where it has none; raises ValueError when its numbers contradict each other."""
    made, title = _ELEMENTS.of(piece, lambda _: {}), piece.name or name or tr(KINDS[piece.kind].title)
    if title not in made:
        made[title] = _element(piece, title)
    return made[title]


def _element(piece: doc.Piece, title: str) -> Element:
    kind = KINDS[piece.kind]
    values = {p.name: v.si if isinstance(v := getattr(piece, p.name), Quantity) else v for p in kind.felt}
    return kind.build(id=piece.id, name=title, **values)


def _runs(project: doc.Project, found: list[Problem]) -> dict[str, tuple[Element, ...]]:
    runs = {}
    for key in (INTAKE, HOT_PIPE, COLD_PIPE, MANIFOLD, EXHAUST):
        elements = []
        for piece in getattr(project, key):
            try:
                if piece.kind == "primaries" and pieced(project):
                    elements.append(_primaries(project, piece, found))
                else:
                    elements.append(piece_element(piece, called(project, piece)))
            except ValueError as error:
                name = called(project, piece)
                found.append(Problem(f"{key}.{piece.id}", tr_format("“{0}”: {1}", name, reason(error))))
        runs[key] = tuple(map(heat_tinted, elements)) if key in (MANIFOLD, EXHAUST) else tuple(elements)
    count = int(project.turbos_fitted.si)
    if crossed(project):
        # Entered once, for one bank
        at = next((i for i, e in enumerate(runs[MANIFOLD]) if e.kind == CROSSOVER), 0)
        _check_crossover(project, found)
        runs[MANIFOLD] = (*(side_by_side(e, 2) for e in runs[MANIFOLD][:at]), *runs[MANIFOLD][at:])
    elif project.hot_sides == "own" and count > 1 and not project.blower.fitted:
        own = int(project.own_pieces.si)
        runs[MANIFOLD] = tuple(side_by_side(e, count) for e in runs[MANIFOLD])
        exhaust = runs[EXHAUST]
        runs[EXHAUST] = (*(side_by_side(e, count) for e in exhaust[:own]), *exhaust[own:])
    return runs


def _check_crossover(project: doc.Project, found: list[Problem]) -> None:
    """A crossover brings one bank to one turbo: it needs two banks, one crossover, and an exhaust that is shared."""
    pieces = [p for p in project.manifold if p.kind == CROSSOVER]
    place = f"manifold.{pieces[-1].id}"
    if len(pieces) > 1:
        found.append(Problem(place, tr_format("one crossover joins two banks: a second one has nothing to bring")))
    if head_of(project).banks < 2:
        found.append(Problem(place, tr_format("a crossover joins two banks, and this engine has its cylinders in line")))
    elif project.hot_sides == "own" and int(project.turbos_fitted.si) > 1:
        found.append(Problem(place, tr_format("a crossover brings both banks to one turbo, and each turbo has an exhaust of its own here")))


_PRIMARIES: IdentityCache[tuple[Element | Exception, tuple[Problem, ...]]] = IdentityCache()


def _primaries(project: doc.Project, piece: doc.Piece, found: list[Problem]) -> Element:
    """The element of primaries that are made of pieces; raises ValueError where none has a length. Of several turbos with
    hot sides of their own the pipes of all are counted, and shared out."""
    parts = (project.primaries, piece, project.turbos_fitted, project.hot_sides, project.blower, crossed(project))

    def make() -> tuple[Element | Exception, tuple[Problem, ...]]:
        own: list[Problem] = []
        try:
            return _of_pieces(project, piece, own), tuple(own)
        except ValueError as error:
            return error, tuple(own)

    made, problems = _PRIMARIES.of(parts, make)
    found += problems
    if isinstance(made, Exception):
        raise made
    return made


def _of_pieces(project: doc.Project, piece: doc.Piece, found: list[Problem]) -> Element:
    pipes = []
    for primary in project.primaries:
        pipe = []
        for part in primary.pieces:
            try:
                pipe.append(piece_element(part, called(project, part)))
            except ValueError as error:
                place = f"primaries.{primary.id}.pieces.{part.id}"
                found.append(Problem(place, tr_format("“{0}”: {1}", called(project, part), reason(error))))
        pipes.append(pipe)
    made = of_pieces(piece.id, called(project, piece), pipes)
    count = shares(project)
    if count > 1:
        share = max(made.parallel // count, 1)
        part_of = share / made.parallel
        made = dataclasses.replace(made, parallel=share, volume=made.volume * part_of, surface=made.surface * part_of)
    return made


def side_by_side(element: Element, count: int) -> Element:
    """So many of an element beside each other, that share the flow evenly."""
    return dataclasses.replace(element, parallel=element.parallel * count, volume=element.volume * count, surface=element.surface * count)


def core_engine(project: doc.Project) -> Engine:
    """The engine alone, whatever else may be wrong with the document."""
    return _engine(project, [])


def _engine(project: doc.Project, found: list[Problem]) -> Engine:
    e, brief = project.engine, project.brief
    if e.idle.si >= 0.8 * e.rev_limit.si:
        found.append(Problem("engine.idle", tr_format("the idle speed lies too near the rev limit")))
    if not e.idle.si <= brief.target_speed.si <= e.rev_limit.si:
        found.append(
            Problem(
                "brief.target_speed",
                tr_format(
                    "the target speed {0} must lie between idle ({1}) and the rev limit ({2})", brief.target_speed, e.idle, e.rev_limit
                ),
            )
        )
    fuel = FUELS[e.fuel]
    lam = e.full_load_lambda.si
    if not fuel.spark and lam < 1.0 and e.fuelling == "lambda":
        found.append(Problem("engine.full_load_lambda", tr_format("a diesel at full load runs lean: lambda 1.1 to 1.6, not below 1")))
    engine = Engine(
        cylinders=int(e.cylinders.si),
        bore=e.bore.si,
        stroke=e.stroke.si,
        compression=e.compression.si,
        breathing=Breathing((1000.0,), (0.85,)),
        fuel=fuel,
        lambda_=lam,
        idle=e.idle.si,
        rev_limit=e.rev_limit.si,
        trusted_boost=e.trusted_boost.si,
        retard=e.retard.si if e.ignition == "typed" else None,
        evaporated=e.evaporated.si,
        mixture=_mixture(e, fuel.spark, found) if e.fuelling == "lambda" else (),
        delivery=_delivery(e, fuel.spark, found),
        leanest=e.leanest.si if e.limiter == "boost" else 0.0,
    )
    found += _slips(e, engine)
    return dataclasses.replace(engine, breathing=_breathing(e, engine, found))


def _slips(e: doc.Engine, engine: Engine) -> list[Problem]:
    """Figures of the stock engine that no engine makes, with the slip that is likely."""
    found = []
    most, boost = most_stock_pressure(e.stock_boost.si), e.stock_boost.si
    size = 1e3 * engine.displacement
    cause = (
        tr_format("check bore ({0}) and stroke ({1}), or enter the boost that it came with", e.bore, e.stroke)
        if boost <= 0.0
        else tr_format("check bore ({0}), stroke ({1}) and stock boost ({2})", e.bore, e.stroke, e.stock_boost)
    )

    def pressure(torque: float) -> float:
        return 4.0 * math.pi * torque / engine.displacement

    if e.stock_power.known != UNKNOWN and e.breathing not in ("table", "stock_torque"):
        mean = pressure(e.stock_power.si / (e.stock_speed.si * math.pi / 30.0))
        if mean > most:
            found.append(
                Problem(
                    "engine.stock_power",
                    tr_format(
                        "{0} at {1} from {2:.2f} L is a mean pressure of {3:.0f} bar; about {4:.0f} bar is the most: {5}",
                        e.stock_power,
                        e.stock_speed,
                        size,
                        mean / 1e5,
                        most / 1e5,
                        cause,
                    ),
                )
            )
    if e.breathing == "stock_torque" and e.stock_torque:
        speed, torque = max(e.stock_torque, key=lambda row: row[1])
        if pressure(torque) > most:
            found.append(
                Problem(
                    "engine.stock_torque",
                    tr_format(
                        "{0:.0f} N m at {1:.0f} rpm from {2:.2f} L is a mean pressure of {3:.0f} bar; about {4:.0f} bar is the most: {5}",
                        torque,
                        speed,
                        size,
                        pressure(torque) / 1e5,
                        most / 1e5,
                        cause,
                    ),
                )
            )
    if e.breathing not in ("table", "stock_torque") and e.best_breathing.known != UNKNOWN and e.best_breathing.si > MOST_BREATHING:
        found.append(
            Problem(
                "engine.best_breathing",
                tr_format("{0} of volumetric efficiency is a slip: it counts on the plenum's own density, 80 to 110 %", e.best_breathing),
            )
        )
    if e.breathing == "table" and any(value > MOST_BREATHING + 0.05 for _, value in e.breathing_table):
        found.append(
            Problem(
                "engine.breathing_table",
                tr_format(
                    "volumetric efficiency over {0:.0f} % is a slip: it counts on the plenum's own density, 80 to 110 %",
                    100.0 * (MOST_BREATHING + 0.05),
                ),
            )
        )
    return found


TABLE_WORDS = {
    "breathing_table": "volumetric efficiency",
    "stock_torque": "torque before the swap",
    "lambda_table": "lambda over engine speed",
    "delivery_table": "fuel over engine speed",
}


def _mixture(e: doc.Engine, spark: bool, found: list[Problem]) -> tuple[tuple[float, float], ...]:
    if e.mixture != "table":
        return ()
    if not e.lambda_table:
        found.append(Problem("engine.lambda_table", tr_format("the table of lambda over engine speed is empty")))
    if not spark and any(row[1] < 1.0 for row in e.lambda_table):
        found.append(Problem("engine.lambda_table", tr_format("a diesel at full load runs lean: lambda 1.1 to 1.6, not below 1")))
    return e.lambda_table


def _delivery(e: doc.Engine, spark: bool, found: list[Problem]) -> tuple[tuple[float, float], ...]:
    """What the pump gives an injection (rev/min, m3); nothing where lambda says how much."""
    if e.fuelling == "lambda":
        return ()
    if spark:
        found.append(Problem("engine.fuelling", tr_format("fuel by the pump is for a diesel: with spark ignition lambda says how much")))
        return ()
    if e.fuelling == "stroke":
        return ((e.rev_limit.si, e.delivery.si * pump_gives(e)),)
    if len(e.delivery_table) < 2:
        found.append(
            Problem(
                "engine.delivery_table", tr_format("the table of the engine ({0}) needs at least two rows", TABLE_WORDS["delivery_table"])
            )
        )
        return ()
    return tuple((n, v * pump_gives(e)) for n, v in e.delivery_table)


SCREW_GIVES = 0.10  # of the fuel more for each turn of a full-load screw; common practice, no source: 0.06 to 0.15, less towards its end


RACK_EMPTY = 0.4  # of the travel of full load as it came at which an in-line pump begins to give; common practice, no source: 0.3 to 0.5


def pump_gives(e: doc.Engine) -> float:
    """Fuel an injection over that of the pump as it came: what it is said to be turned to, its plunger's area, its rack, and its screw. A
    plunger displaces its area times its effective stroke, which grows with the rack from where it begins to give."""
    rack = 1.0
    if e.rack.si > 0.0 and e.rack_was.si > 0.0:
        rack = max((e.rack.si / e.rack_was.si - RACK_EMPTY) / (1.0 - RACK_EMPTY), 0.05)
    area = (e.element.si / e.element_was.si) ** 2 if e.element.si > 0.0 and e.element_was.si > 0.0 else 1.0
    return e.pump.si * area * rack * max(1.0 + SCREW_GIVES * e.screw.si, 0.2)


def _breathing(e: doc.Engine, engine: Engine, found: list[Problem]) -> Breathing:
    if e.breathing in ("table", "stock_torque"):
        name = "breathing_table" if e.breathing == "table" else "stock_torque"
        rows = getattr(e, name)
        if len(rows) < 2:
            found.append(Problem(f"engine.{name}", tr_format("the table of the engine ({0}) needs at least two rows", TABLE_WORDS[name])))
            return engine.breathing
        speeds, values = tuple(r[0] for r in rows), tuple(r[1] for r in rows)
        if e.breathing == "table":
            return Breathing(speeds, values)
        return breathing_of_torque(engine, speeds, values, e.stock_boost.si)
    return from_archetype(e.breathing, peak_speed=e.best_breathing_speed.si, peak=e.best_breathing.si)


def _cooler(project: doc.Project, found: list[Problem]) -> Cooler | None:
    c = project.cooler
    if not c.fitted:
        return None
    charge, cooling, drop_charge = rated_flows(project)
    cooler = Cooler(
        effectiveness=c.effectiveness.si,
        drop=c.drop.si,
        rated_charge=charge,
        rated_cooling=cooling,
        drop_charge=drop_charge,
        face_area=in_the_wind(project).width * in_the_wind(project).height,
        capture=c.capture.si,
        # What is worked out from its dimensions is no seller's figure.
        trust=1.0 if c.effectiveness.known in ESTIMATED else c.trust.si,
        water_flow=c.water_flow.si if c.medium == "water" else 0.0,
        front=c.front.si,
        volume=charge_volume(core_of(project)),
        least_wind=fan_wind(project),
        front_wind=front_air(project) if c.medium == "water" else 0.0,
    )
    if c.effectiveness.known in ESTIMATED or c.drop.known in ESTIMATED:
        try:
            rated = rated_by_size(project)
            if c.effectiveness.known in ESTIMATED:
                # Its conductance goes with the doubt that stands in its effectiveness.
                field = meta(project, "cooler.effectiveness")
                low, high = field.limits if isinstance(field, Of) else (0.0, 1.0)
                said = dataclasses.replace(cooler, effectiveness=min(max(rated.effectiveness, low), high))
                cooler = dataclasses.replace(cooler, transfer=rated.conductance * cooler.conductance() / said.conductance())
        except ValueError as error:
            found.append(Problem("cooler.thickness", tr_format("cooler: {0}", reason(error))))
    if c.medium == "water" and c.front.known in ESTIMATED:
        try:
            rate_front(front_of(project), water=c.water_flow.si, air=1.0)
        except ValueError as error:
            found.append(Problem("cooler.front_fins", tr_format("cooler: {0}", reason(error))))
    if c.medium == "water" and c.front.known not in ESTIMATED:
        water, air = cooler.water_flow * WATER_CP, cooler.front_wind * RATED_CP
        most = most_front(min(water, air) / max(water, air)) if min(water, air) > 0.0 else 1.0
        if c.front.si > most:
            found.append(
                Problem(
                    "cooler.front",
                    tr_format(
                        "{0} is more than an exchanger reaches with {1} of water: {2:.0f} % is the most that any size gives",
                        c.front,
                        c.water_flow,
                        100.0 * most,
                    ),
                )
            )
    try:
        cooler.conductance()
    except ValueError as error:
        found.append(Problem("cooler.effectiveness", tr_format("cooler: {0}", reason(error))))
    return cooler


def turbo_titles(project: doc.Project) -> dict[str, str]:
    """Names of the turbos by key, so that two housings of one wheel do not look the same."""
    names = [t.name for t in project.turbos]
    found: dict[str, str] = {}
    for turbo in project.turbos:
        title = turbo.name
        if names.count(title) > 1:
            title = f"{title}, A/R {turbo.turbine.housing}"
        if title in found.values():
            title = f"{title} ({turbo.id})"
        if turbo.wheels is not None or turbo.estimated:
            title = tr_format("Estimated: {0}", title)
        found[turbo.id] = title
    return found


def core_turbo(turbo: doc.Turbo, count: int = 1, title: str = "") -> Turbo:
    """A candidate as the core takes it, `count` of them side by side, under a `title` of its own."""
    t = turbo.turbine
    turbine = Turbine(
        name=f"Turbine {t.wheel}, A/R {t.housing}",
        wheel=t.wheel.si,
        exducer=t.exducer.si,
        housing=t.housing.si,
        best=t.efficiency.si,
        vanes=t.vanes.si,
        scrolls=int(t.scrolls.si),
        pulses=t.pulses.si,
    )
    return Turbo(id=turbo.id, name=title or turbo.name, chart=turbo.chart, turbine=turbine, count=count, inertia=t.inertia.si)


def candidates(project: doc.Project) -> tuple[Turbo, ...]:
    """The turbos that are not the chosen one; none where a blower is fitted."""
    if project.blower.fitted:
        return ()
    count = int(project.turbos_fitted.si)
    titles = turbo_titles(project)
    return tuple(core_turbo(t, count, titles[t.id]) for t in project.turbos if t.id != project.turbo)


def belt_of(project: doc.Project) -> Belt:
    """The belt of the blower with its pulleys."""
    b = project.blower
    if b.belt == RIBBED:
        return Belt(kind=RIBBED, crank=b.crank_pulley.si, blower=b.pulley.si, step_up=b.step_up.si, wide=b.ribs.si, wrap=b.wrap.si)
    pitch = TOOTH_PITCH / math.pi
    return Belt(
        kind=TOOTHED, crank=b.crank_teeth.si * pitch, blower=b.teeth.si * pitch, step_up=b.step_up.si, wide=b.wide.si, wrap=b.wrap.si
    )


@dataclass(frozen=True)
class Asked:
    """What candidates are weighed by: the `stages`, engine speeds in rev/min at which the pedal goes down, `held`
    and in a gear (`geared`), the `budget` (0 for none) and the day `ready_by` (empty for none)."""

    stages: tuple[Stage, ...]
    held: float
    geared: float
    budget: float
    ready_by: str


def asked_of(project: doc.Project) -> Asked:
    """What the candidates of a document are weighed by."""
    brief = project.brief
    return Asked(stages_of(project), brief.pedal_at.si, project.car.pull_from.si, brief.budget.si, brief.ready_by)


def stages_of(project: doc.Project) -> tuple[Stage, ...]:
    """The stages of the build, the mildest first; a stage without boost is none."""
    brief = project.brief
    found = (
        Stage("mild", tr("Mild"), brief.mild_boost.si, brief.mild_power.si),
        Stage("full", tr("Full"), brief.target_boost.si, brief.target_power.si),
        Stage("big_run", tr("Big run"), brief.big_run_boost.si, brief.big_run_power.si),
    )
    return tuple(s for s in found if s.boost > 0.0 or s.key == "full")


def _blower(project: doc.Project) -> Blower | None:
    b = project.blower
    if not b.fitted:
        return None
    return Blower(
        name=b.name,
        displacement=b.displacement.si,
        ratio=b.ratio.si,
        volumetric=b.volumetric.si,
        adiabatic=b.adiabatic.si,
        maximum_speed=b.rotor_limit.si,
        belt=belt_of(project),
        by_pulley=b.ratio.known == UNKNOWN,
        vents=b.bypass == "air",
    )


@dataclass(frozen=True)
class Line:
    """A line of the catalogue: `title`, what it is said `per`, and its `rate`."""

    title: str
    per: str
    rate: Rate


@lru_cache(1)
def catalogue() -> dict[str, Line]:
    """The invented catalogue that ships with the program, by key."""
    text = (resources.files("zarvik.data") / "catalogue.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return {
        row["key"]: Line(row["title"], row["per"], Rate(float(row["price"]), float(row["hours"]), float(row["days"]), row["work"]))
        for row in rows
    }


def rates_of(project: doc.Project) -> dict[str, Rate]:
    """The catalogue with what the owner says instead."""
    found = {key: line.rate for key, line in catalogue().items()}
    for price in project.shop.prices:
        if price.id in found:
            found[price.id] = dataclasses.replace(found[price.id], price=price.price.si, hours=price.hours.si, days=price.days.si)
    return found


def weeks_of(project: doc.Project) -> float:
    """Weeks that there are: said, or between the days on which it begins and is wanted; 0 where neither is said."""
    ask = project.ask
    if ask.weeks.si > 0.0 or not (ask.begins and project.brief.ready_by):
        return ask.weeks.si
    between = date.fromisoformat(project.brief.ready_by) - date.fromisoformat(ask.begins)
    # A day that has gone by leaves next to nothing.
    return max(between.days, 1) / WEEK


def _days(begins: str, here: str) -> float:
    """Days from one date to the other, none before it; nan where one is not said."""
    if not (begins and here):
        return math.nan
    return float(max((date.fromisoformat(here) - date.fromisoformat(begins)).days, 0))


_MEANS: FirstEqual[Resources] = FirstEqual()


def resources_of(project: doc.Project) -> Resources:
    """Money, time and workshop of a document."""
    ask, shop, fit = project.ask, project.shop, project.chosen.fit if project.chosen is not None else None
    core = project.cooler
    volume = core.width.si * core.height.si * core.thickness.si if core.fitted and core.medium == "air" else 0.0
    other = set()
    if ask.housing == OTHER:
        other.add("housing")
    if ask.throttle == OTHER:
        other.add("throttle")
    return _MEANS.of(
        Resources(
            rates=rates_of(project),
            turbo_price=fit.price.si if fit is not None else 0.0,
            turbo_days=_days(ask.begins, fit.here_by) if fit is not None else math.nan,
            other=frozenset(other),
            core_volume=volume,
            there=frozenset(key for key in THINGS if getattr(ask, key) == THERE),
            given_out=frozenset(key for key in WORKS if getattr(shop, key, OWN) == OUT),
            shop_rate=shop.rate.si,
            shop_days=shop.away.si,
            hours_a_week=shop.hours.si,
            budget=ask.money.si,
            weeks=weeks_of(project),
            turbo_budget=project.brief.budget.si,
        )
    )


def _bay(project: doc.Project) -> Bay:
    # Free convection of about 6 W/(m2 K) and forced flow across a pipe of 60 mm, h = 12 sqrt(v):
    # orders of magnitude from common tables. Hot parts make their own draught.
    breeze = 12.0 * project.bay.breeze.si**0.5
    return Bay(project.bay.temperature.si, 6.0 + breeze, 10.0 + breeze)


def actuator_of(project: doc.Project) -> Actuator | None:
    """What moves the gate of a document: what is not said stands for what is usual, a spring that nobody says for half a bar.
    None without a gate or with a blower."""
    g = project.gate
    if g.diameter.si <= 0.0 or project.blower.fitted:
        return None
    inside = g.kind == "inside"
    diaphragm = g.diaphragm.si or (INSIDE if inside else OUTSIDE) * g.diameter.si
    share = (g.diameter.si / diaphragm) ** 2
    said = g.spring.si > 0.0
    spring = g.spring.si if said else UNSAID
    full = g.full.si if g.full.si > spring else FULL_SHARE * spring
    if g.sold == "engine":
        spring, full = bench_of(spring, share), bench_of(full, share)
    ports = numbers(g.control, g.ports_four if g.control == FOUR else g.ports)
    plumbed = tuple((role_of(one, ports), role_of(two, ports)) for one, two in g.plumbed)
    own = project.chosen.fit.gate if project.chosen is not None else ""
    flap = {("outside", "inside"): "idle", ("inside", "outside"): "missing"}.get((g.kind, own), "")
    return Actuator(
        spring=spring,
        full=full,
        diaphragm=diaphragm,
        valve=g.diameter.si,
        reference=g.reference,
        control=g.control,
        duty=g.duty.si,
        said=said,
        hose=g.hose.si,
        long=g.hose_long.si,
        plumbed=plumbed,
        ports=ports,
        by_boost=g.sold == "engine",
        flap=flap,
    )


def blow_off_of(project: doc.Project) -> BlowOff | None:
    """The blow-off valve of a document; None with a blower."""
    if project.blower.fitted:
        return None
    g = project.gate
    return BlowOff(g.blow_off.si, g.blow_spring.si, g.blow_to, g.metered == "yes" or project.meter.kind != "none")


UNSAID = 0.5e5  # Pa gauge of a spring that nobody said, as springs are named in the document; common practice, no source


def assemble(project: doc.Project, *, id: str = "", registered: bool = True) -> Build:
    """The build of a document, with the lines of its register where they are wanted (`registered`: thousands of them take longer than all
    else, and change no number); raises ProjectProblems with all that is wrong."""
    found: list[Problem] = []
    brief = project.brief
    runs = _runs(project, found)
    engine = _engine(project, found)
    cooler = _cooler(project, found)
    chosen = project.chosen
    if chosen is None:
        found.append(Problem("turbo", tr_format("no turbo is chosen yet: take one from the shelf or read in a map")))
    if chosen is not None and chosen.wheels is not None:
        try:
            check_wheel(chosen.wheels.inducer.si, chosen.wheels.exducer.si)
        except ValueError as error:
            found.append(Problem(f"turbos.{chosen.id}.wheels.exducer", reason(error)))
    found += [Problem(place, text) for place, text in geometry(project, belt_of(project))]
    if found or chosen is None:
        raise ProjectProblems(found)
    return Build(
        id=id,
        name=project.name,
        site=Site(ambient_pressure(project), brief.design_day.si, brief.humidity.si),
        engine=engine,
        target=Target(brief.target_power.si, brief.target_speed.si, brief.big_run_boost.si),
        boost=BoostSchedule(brief.target_boost.si, brief.hold_back_until.si, wish=brief.full_boost_from.si),
        turbo=core_turbo(chosen, int(project.turbos_fitted.si), turbo_titles(project)[chosen.id]),
        cooler=cooler,
        runs=runs,
        road_speed=brief.road_speed.si,
        gate=Wastegate(
            diameter=project.gate.diameter.si,
            lift=project.gate.lift.si,
            count=int(project.gate.count.si),
            discharge=project.gate.discharge.si,
            to_air=project.gate.dump == "air",
            rejoins=int(project.gate.rejoin.si),
            tube=(project.gate.tube.si if project.gate.kind == "outside" else 0.0) or project.gate.diameter.si,
            joins=project.gate.joins.si,
            branch=project.gate.branch.si if project.gate.kind == "outside" else 0.0,
        ),
        bay=_bay(project),
        blower=_blower(project),
        car=Car(
            mass=project.car.mass.si,
            gear=project.car.gear.si,
            final=project.car.final.si,
            tyre=project.car.tyre.si,
            drag=project.car.drag.si,
            clutch=project.car.clutch.si,
            gearbox=project.car.gearbox.si,
            low_gears=project.car.low_gears.si,
        ),
        intake_volume=project.engine.intake_volume.si,
        means=resources_of(project),
        mouth_speed=project.ask.mouth_speed.si,
        space=space_of(project),
        actuator=actuator_of(project),
        blow_off=blow_off_of(project),
        fittings=fittings_of(project),
        train=train_of(project),
        register=register(project) if registered else (),
        leak_test=leak_test_of(project),
        lines=lines_of(project),
        meter=meter_of(project),
        ports=ports_of(project),
        radiator=radiator_of(project),
        breather=breather_of(project),
        coolant=coolant_of(project),
    )

"""The hot side as it hangs in the car: what each piece costs and how near something may stand, what a probe shows where, how
the exhaust is hung."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath.piece_costs import piece_costs
from zarvik.core.airpath.point import Point, Stretch
from zarvik.core.airpath.solution import Solver
from zarvik.core.airpath.stations import EXHAUST, MANIFOLD, TURBINE_INLET, TURBINE_OUTLET
from zarvik.core.ducts import march
from zarvik.core.ducts.cover import COVERS
from zarvik.core.ducts.element import Element
from zarvik.core.ducts.wall_heat import skin_temperature
from zarvik.core.gas.properties import heat_capacity, viscosity
from zarvik.core.heat import clearance
from zarvik.core.heat.probes import PRANDTL, probe_reading
from zarvik.core.manifold.load import Fittings
from zarvik.core.manifold.turbo_weight import HangerPlan, hanger_plan
from zarvik.core.materials import metals

RATED = 4.0  # kg of a silencer that is known by its flow alone; common practice, no source
IRON = 0.85  # emissivity of rusty iron; Incropera, table A.11 (memory)
WRAP = 0.003  # m on the radius; common practice, no source
BLOWS = 240.0 / 720.0  # share of a cycle in which a cylinder blows; common practice, no source
TURBINE = "turbine"  # key of the housing among the pieces
AT_PORT, COLLECTOR, BEHIND = "port", "collector", "behind"
LAMBDA_MOST = 1203.15  # K, gas that a wide-band probe stands for long, 930 °C; common practice, no source
LAMBDA_BORES = 5.0  # bores of straight pipe behind turbine and gate, so that the stream is mixed; common practice, no source
LAMBDA_END = 0.4  # m to the open end at the least, against air that comes back; common practice, no source


@dataclass(frozen=True, kw_only=True)
class HotPiece:
    """A piece of the hot side: `drop` Pa, what its loss costs at the crank (`cost` W, nan for none), `gas`, `skin`, `metal` K, and
    for each of `near.THINGS` the gap in m that it must keep from the skin as it is and behind a bright shield, at the hottest that
    full load makes it at any engine speed."""

    id: str
    title: str
    run: str
    drop: float
    cost: float
    gas: float
    skin: float
    metal: float
    gaps: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Probe:
    """A thermocouple at a `place` ("port", "collector", "behind"): `gas` K there, what it has `shown` K, how `late` s, and what is
    to be added (K) to come to the gas before the turbine."""

    place: str
    gas: float
    shown: float
    late: float
    add: float


@dataclass(frozen=True)
class ProbeBoss:
    """Where a lambda probe goes: the piece (`id`, empty where none will do), m from its beginning (`at`), `gas` K there."""

    id: str
    title: str
    at: float
    gas: float


@dataclass(frozen=True)
class HotParts:
    """The hot side at an engine `speed` in rev/min. `whole`: W that the exhaust behind the turbine costs in all."""

    speed: float
    pieces: tuple[HotPiece, ...]
    probes: tuple[Probe, ...]
    boss: ProbeBoss
    hung: HangerPlan | None
    hangers: tuple[tuple[str, float], ...]
    whole: float


Gaps = tuple[tuple[float, float], ...]


def hot_gaps(solver: Solver, fittings: Fittings, points: Sequence[Point]) -> dict[str, tuple[str, Gaps]]:
    """By the key of each piece of the hot side that has a wall its run, and for each of `clearance.THINGS` the gap in m that it must keep
    from the piece as it is and behind a bright shield, at the hottest of some solved `points`."""
    path, bay = solver.path, solver.path.bay
    elements = {e.id: e for run in (MANIFOLD, EXHAUST) for e in path.runs[run]}
    skins: dict[str, float] = {}
    for one in points:
        for s in one.stretches:
            skins[s.id] = max(skins.get(s.id, 0.0), s.skin)
    found: dict[str, tuple[str, Gaps]] = {}
    for s in points[0].stretches:
        element = elements.get(s.id)
        if element is None or element.surface <= 0.0:
            continue
        wall = fittings.primary_wall if element.kind == "primaries" else fittings.exhaust_wall
        wrapped = element.resistance >= COVERS["wrap"].resistance
        gaps = clearance.clearances(
            skins[s.id],
            radius=0.5 * element.diameter + wall + (WRAP if wrapped else 0.0),
            emissivity=element.emissivity,
            heat=wall * clearance.METAL_HEAT,
            air=bay.temperature,
            convection=bay.convection,
        )
        found[s.id] = (s.section, gaps)
    if path.blower is None:
        wide = path.turbo.turbine.wheel
        gaps = clearance.clearances(
            max(_housing_skin(solver, p) for p in points),
            radius=wide,
            emissivity=IRON,
            heat=clearance.HOUSING_HEAT,
            air=bay.temperature,
            convection=bay.convection,
            sight=2.5 * wide,
        )
        found[TURBINE] = (TURBINE, gaps)
    return found


def hot_parts(solver: Solver, fittings: Fittings, point: Point) -> HotParts:
    """The hot side of a `solver` with its `fittings` at one of its solved points."""
    path = solver.path
    start = solver.full_load
    nearest = start.near(point.speed)
    costs = piece_costs(solver, point.speed, start.solutions[nearest]) if nearest is not None else {}
    elements = {e.id: e for run in (MANIFOLD, EXHAUST) for e in path.runs[run]}
    hottest = [point, *(p for n in (path.target.speed, path.engine.rev_limit) if (p := solver.at(n)).closure.solved)]
    gaps = hot_gaps(solver, fittings, hottest)
    pieces = [
        _piece(point, s, elements[s.id], costs.get(s.id, math.nan), gaps[s.id][1] if s.id in gaps else ())
        for s in point.stretches
        if s.id in elements
    ]
    if path.blower is None:
        at = next((i for i, p in enumerate(pieces) if p.run == EXHAUST), len(pieces))
        pieces.insert(at, _turbine(solver, point, gaps[TURBINE][1]))
    hang, where = _hung(solver, fittings, point)
    return HotParts(
        speed=point.speed,
        pieces=tuple(pieces),
        probes=_probes(solver, fittings, point),
        boss=_boss(solver, point),
        hung=hang,
        hangers=where,
        whole=_whole(solver, point),
    )


def _piece(point: Point, s: Stretch, element: Element, cost: float, gaps: Gaps) -> HotPiece:
    walled, nothing = element.surface > 0.0, math.nan
    return HotPiece(
        id=s.id,
        title=s.name,
        run=s.section,
        drop=s.drop,
        cost=cost,
        gas=point.stations[s.end].temperature - s.warming,
        skin=s.skin if walled else nothing,
        metal=s.metal if walled else nothing,
        gaps=gaps,
    )


def _housing_skin(solver: Solver, point: Point) -> float:
    gas = point.stations[TURBINE_INLET].temperature
    turbo, bay = solver.path.turbo, solver.path.bay
    wide = turbo.turbine.wheel
    flow = (point.air + point.fuel) / turbo.count
    reynolds = flow * wide / (0.25 * math.pi * wide**2 * viscosity(solver.burnt, gas))
    inside = march.inside_coefficient(solver.burnt, gas, max(reynolds, 1e3), wide, True)
    return float(skin_temperature(gas, bay.temperature, inside, 0.0, bay.hot_convection, IRON))


def _turbine(solver: Solver, point: Point, gaps: Gaps) -> HotPiece:
    """The housing of the turbine: bare iron round the gas that comes in, about twice as wide as its wheel."""
    gas, skin = point.stations[TURBINE_INLET].temperature, _housing_skin(solver, point)
    drop = point.stations[TURBINE_INLET].pressure - point.stations[TURBINE_OUTLET].pressure
    return HotPiece(id=TURBINE, title="", run=TURBINE, drop=drop, cost=math.nan, gas=gas, skin=skin, metal=skin, gaps=gaps)


def _whole(solver: Solver, point: Point) -> float:
    rows, losses = solver.rows.copy(), solver.losses.copy()
    for e in solver.path.runs[EXHAUST]:
        i = solver.index(e.id)
        rows[i, march.LINEAR] = rows[i, march.QUADRATIC] = losses[i] = 0.0
    raw = solver.full_load
    nearest = raw.near(point.speed)
    if nearest is None:
        return math.nan
    found = solver.raw(np.array([point.speed]), rows=rows, losses=losses, start=raw.solutions[nearest])
    return float(found.power[0]) - point.power if found.solved[0] else math.nan


def _shown(solver: Solver, fittings: Fittings, *, gas: float, wall: float, flux: float, blows: float) -> tuple[float, float]:
    mu = viscosity(solver.burnt, gas)
    found = probe_reading(
        gas=gas,
        wall=wall,
        flux=flux,
        viscosity=mu,
        conductivity=mu * heat_capacity(solver.burnt, gas) / PRANDTL,
        diameter=fittings.probe_diameter,
        depth=fittings.probe_depth,
        blows=blows,
    )
    return found.shown, found.late


def _probes(solver: Solver, fittings: Fittings, point: Point) -> tuple[Probe, ...]:
    path = solver.path
    gone = point.air + point.fuel
    before = point.stations[TURBINE_INLET].temperature
    found = []

    def put(place: str, gas: float, wall: float, flux: float, blows: float) -> None:
        shown, late = _shown(solver, fittings, gas=gas, wall=wall, flux=flux, blows=blows)
        found.append(Probe(place, gas, shown, late, before - shown))

    run = path.runs[MANIFOLD]
    stretches = {s.id: s for s in point.stretches}
    first = run[0] if run else None
    if first is not None and first.surface > 0.0:
        put(AT_PORT, point.stations["exhaust_port"].temperature, stretches[first.id].metal, gone / first.area, BLOWS)
    last = next((e for e in reversed(run) if e.kind != "primaries" and e.surface > 0.0), None)
    if last is not None:
        turbos = path.turbo.count if last.parallel > 1 else 1
        share = min(1.0, BLOWS * path.engine.cylinders / max(turbos, 1))
        put(COLLECTOR, before, stretches[last.id].metal, gone / last.area, share)
    tail = next((e for e in path.runs[EXHAUST] if e.surface > 0.0), None)
    if tail is not None:
        s = stretches[tail.id]
        flow = point.stations[s.end].flow
        put(BEHIND, point.stations[s.end].temperature - s.warming, s.metal, flow / tail.area, 1.0)
    return tuple(found)


def _boss(solver: Solver, point: Point) -> ProbeBoss:
    """The first place behind turbine and gate that is straight, mixed, cool enough, and far from the end and before a catalyst."""
    run = solver.path.runs[EXHAUST]
    stretches = {s.id: s for s in point.stretches}
    so_far, left = 0.0, sum(e.length for e in run)
    for number, e in enumerate(run):
        left -= e.length
        if e.kind == "catalyst":
            break
        asked = max(LAMBDA_BORES * e.diameter - so_far, 2.0 * e.diameter if number else 0.0)
        mixed = number >= solver.path.alone
        if mixed and e.kind == "straight" and e.length > asked + e.diameter and left + e.length - asked > LAMBDA_END:
            s = stretches[e.id]
            share = asked / e.length
            gas = point.stations[s.end].temperature - s.warming * (1.0 - share)
            if gas <= LAMBDA_MOST:
                return ProbeBoss(e.id, s.name, asked, gas)
        so_far += e.length if mixed else 0.0
    return ProbeBoss("", "", math.nan, point.stations[TURBINE_OUTLET].temperature)


def _hung(solver: Solver, fittings: Fittings, point: Point) -> tuple[HangerPlan | None, tuple[tuple[str, float], ...]]:
    """How what stands behind the turbine is hung, and the pieces with the m from their beginning where hangers go."""
    path = solver.path
    wall = fittings.exhaust_wall
    stretches = {s.id: s for s in point.stretches}
    mass = RATED * sum(e.kind == "resistance" for e in path.runs[EXHAUST])
    length, grows, hot = 0.0, 0.0, 293.15
    run = [e for e in path.runs[EXHAUST] if e.length > 0.0]
    for e in run:
        stuff = metals.METALS.get(e.material, metals.METALS["stainless"])
        body = e.surface / (math.pi * e.length * e.parallel) if e.surface > 0.0 else e.diameter
        heavy = 2.0 if e.kind in ("silencer", "catalyst") else 1.0
        mass += heavy * metals.pipe_mass(stuff, body, wall, e.length)
        length += e.length
        there = stretches[e.id].metal or stretches[e.id].skin
        grows += e.length * stuff.expansion * max(there - metals.COLD, 0.0)
        hot = max(hot, there)
    if length <= 0.0:
        return None, ()
    widest = max(run, key=lambda e: e.length)
    stuff = metals.METALS.get(widest.material, metals.METALS["stainless"])
    found = hanger_plan(
        mass=mass,
        length=length,
        grows=grows,
        diameter=widest.diameter + 2.0 * wall,
        wall=wall,
        stuff=stuff,
        hot=stretches[widest.id].metal or hot,
        cylinders=path.engine.cylinders,
        limit=path.engine.rev_limit,
    )
    where = []
    for number in range(found.hangers):
        at, begun = (number + 0.5) * found.between, 0.0
        for e in run:
            if at <= begun + e.length + 1e-9:
                where.append((e.id, at - begun))
                break
            begun += e.length
    return found, tuple(where)

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

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.checks.bands import full_speed
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.engine.breathing import from_archetype
from zarvik.core.engine.engine import Engine, breathing_of_torque
from zarvik.core.gas.combustion import FUELS
from zarvik.core.sizes import GATES, LIFT_SHARE, tube_bore
from zarvik.project.assemble import assemble
from zarvik.project.document import Project, Turbo
from zarvik.project.edits import put
from zarvik.project.units import Quantity

KINDS = (
    ("four", "Petrol, four valves"), ("two", "Petrol, two valves"), ("diesel", "Diesel"),
)  # fmt: skip
MATTERS = (("spool", "Early boost"), ("even", "A bit of both"), ("top", "Top end"))

# ---- rules, each with its band ------------------------------------------------------------------
STROKE_OVER_BORE = {"four": 1.0, "two": 1.0, "diesel": 1.06}  # 0.85 to 1.2
COMPRESSION = {"four": 9.8, "two": 9.0, "diesel": 17.0}  # 8.5 to 11; 16 to 19
SHAPE = {"four": "long_runner", "two": "two_valve", "diesel": "two_valve"}
BEST_BREATHING = {"four": 0.94, "two": 0.86, "diesel": 0.88}  # 0.80 to 1.05
LAMBDA = {"petrol": 0.82, "e85": 0.82, "methanol": 0.80, "diesel": 1.30}  # 0.75-0.88; smoke 1.2-1.3
EVAPORATED = {"petrol": "0 %", "e85": "20 %", "methanol": "35 %", "diesel": "0 %"}
TRUSTED = {"spark": 0.8e5, "diesel": 1.6e5}  # of a stock bottom end, 0.5 to 1.3 bar; diesel to 2
PEAK_OF_POWER_SPEED = 0.72  # best torque over best power of an unboosted engine, 0.65 to 0.8
# Mach numbers that pipes are sized for (at most 0.3 to 0.4 in charge pipes, 0.4 in an exhaust)
MACH = {"intake": 0.15, "hot": 0.20, "cold": 0.14, "throttle": 0.13, "exhaust": 0.27, "collector": 0.25}
CHOKE_USED = {"spool": 0.85, "even": 0.78, "top": 0.70}  # of the compressor's flow at the target
WAKES = {"spool": 0.40, "even": 0.47, "top": 0.55}  # of the redline at which full boost should stand
HOUSINGS = (0.55, 0.65, 0.75, 0.85, 1.0, 1.15, 1.3)  # over the common one of a wheel
BACK_PRESSURE = 1.35  # turbine inlet over plenum, at the most
FACE_FOR_AIR = 0.58  # m2 of core face for kg/s of air, 0.4 to 0.8
SURGE_ROOM = 0.06  # of flow at the same ratio, 0.05 to 0.15
GATE_ROOM = 0.75  # of the opening that the gate uses at the most


@dataclass(frozen=True)
class Known:
    """What the builder says; None where he does not know. Powers in W, speeds in rev/min, `litres` in
    m3, `altitude` m, `day` K. `kind` and `matters`: keys of `KINDS` and `MATTERS`."""

    kind: str
    cylinders: int
    litres: float
    redline: float
    power: float
    fuel: str
    stock_power: float | None = None
    stock_speed: float | None = None
    compression: float | None = None
    altitude: float = 0.0
    day: float = 303.15
    matters: str = "even"
    name: str = "New build"


class NoDesign(ValueError):
    """No design of the shelf comes near what is wanted; the message says what stands in the way."""


def _q(si: float, unit: str, kind: str, digits: int = 4) -> Quantity:
    found = Quantity(si, _BASE[kind], kind).into(unit)
    return Quantity(float(f"{found.value:.{digits}g}"), found.unit, kind)


_BASE = {
    "length": "m", "pressure_gauge": "Pa", "power": "W", "rotation": "rpm", "mass_flow": "kg/s",
    "temperature": "K",
}  # fmt: skip


def _bores(known: Known, boost: float, air: float) -> dict[str, float]:
    """Inside diameters in m by place, from the Mach numbers above."""
    ambient = 101_325.0 * (1.0 - 2.25577e-5 * known.altitude) ** 5.2559
    states = {
        "intake": (ambient * 0.98, known.day, air), "hot": (ambient + boost * 1.08, 420.0, air),
        "cold": (ambient + boost * 1.02, 335.0, air), "throttle": (ambient + boost, 335.0, air),
        "exhaust": (ambient * 1.12, 1000.0, air * 1.08),
        "collector": ((ambient + boost) * 1.2, 1150.0, air * 1.08),
    }  # fmt: skip
    found = {}
    for place, (pressure, temperature, flow) in states.items():
        sound = math.sqrt(1.37 * 287.0 * temperature)
        area = flow / (pressure / (287.0 * temperature) * MACH[place] * sound)
        found[place] = math.sqrt(4.0 * area / math.pi)
    return found


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
    best, peak = _breath(known, kind)
    target_speed = min(known.stock_speed or 0.9 * known.redline, 0.97 * known.redline)
    family = known.fuel if known.fuel in LAMBDA else "petrol"
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
            f"that would take about {boost / 1e5:.1f} bar of boost: more engine, more engine speed, or "
            "less power"
        )
    ratio = (ambient + 1.08 * boost) / (0.98 * ambient)
    if ratio > 3.9:
        raise NoDesign(
            f"at this height that takes a pressure ratio of {ratio:.1f}, more than one compressor "
            "gives: more engine, or less power"
        )
    charts = {key: turbo.chart for key, turbo in shelf.items()}
    corrected = air * math.sqrt(known.day / 298.0) / (0.98 * ambient / 1e5)
    order: list[str] = []
    for count in (1, 2, 3, 4):
        order = _wheel(charts, corrected / count, ratio, CHOKE_USED[known.matters])
        if order:
            break
    if not order:
        raise NoDesign("no turbo of the shelf moves that much air, not even four of them")
    best_design: tuple[float, Project] | None = None
    for key in order[:3]:
        project = _document(known, kind, family, best, peak, boost, air, shelf[key], count, target_speed)
        project = _housing(known, project, key)
        project = _boost(known, project)
        project = _clear_of_surge(_gate(project))
        score = _score(known, project)
        if best_design is None or score < best_design[0]:
            best_design = (score, project)
    assert best_design is not None
    project = best_design[1]
    made = assemble(project).boost.full
    trusted = max(math.ceil(made / 0.93 / 5e3) * 5e3, TRUSTED["spark" if fuel.spark else "diesel"])
    project = put(project, "engine.trusted_boost", _q(trusted, "bar", "pressure_gauge"))
    project = put(project, "brief.big_run_boost", _q(made, "bar", "pressure_gauge"))
    return project.model_copy(update={"assumed": tuple(sorted(_assumed(known, project)))})


def _breath(known: Known, kind: str) -> tuple[float, float]:
    """Best VE and its engine speed, from the stock power where it is known."""
    share = STROKE_OVER_BORE[kind]
    bore = (4.0 * known.litres / (known.cylinders * math.pi * share)) ** (1.0 / 3.0)
    peak = PEAK_OF_POWER_SPEED * (known.stock_speed or 0.88 * known.redline)
    engine = Engine(
        cylinders=known.cylinders, bore=bore, stroke=share * bore,
        compression=known.compression or COMPRESSION[kind],
        breathing=from_archetype(SHAPE[kind], peak_speed=peak, peak=BEST_BREATHING[kind]),
        fuel=FUELS["petrol95"] if kind != "diesel" else FUELS["diesel"], lambda_=0.88,
        idle=800.0, rev_limit=known.redline, trusted_boost=0.8e5,
    )  # fmt: skip
    best = BEST_BREATHING[kind]
    if known.stock_power is not None and known.stock_speed is not None and kind != "diesel":
        torque = known.stock_power / (known.stock_speed * math.pi / 30.0)
        found = breathing_of_torque(engine, (known.stock_speed,), (torque,)).efficiency[0]
        shape = float(from_archetype(SHAPE[kind], peak_speed=peak, peak=1.0).at(known.stock_speed))
        best = min(max(found / shape, 0.6), 1.2)
    return best, peak


def _document(
    known: Known, kind: str, family: str, best: float, peak: float, boost: float, air: float,
    turbo: Turbo, count: int, target_speed: float,
) -> Project:  # fmt: skip
    size = _bores(known, boost, air)
    share = STROKE_OVER_BORE[kind]
    bore = (4.0 * known.litres / (known.cylinders * math.pi * share)) ** (1.0 / 3.0)
    mm = {place: f"{1000.0 * tube_bore(v):.1f} mm" for place, v in size.items()}
    throttle = f"{math.ceil(1000.0 * size['throttle'] / 5.0) * 5:.0f} mm"
    # One primary for each cylinder, of a quarter to a third of the intake's share of bore
    primary = f"{1000.0 * tube_bore(0.40 * bore):.1f} mm"
    inducer = f"{1000.0 * math.sqrt(turbo.chart.lines[-1].flow[-1] / 124.5):.1f} mm"
    wide = 1000.0 * math.sqrt(2.4 * FACE_FOR_AIR * air)
    cooled = family != "methanol"
    steel, alloy = {"material": "stainless"}, {"material": "aluminium"}
    filter_flow = f"{3600.0 * air / 1.2 * 1.25:.0f} m³/h"
    fork: list[dict[str, object]] = []
    if count == 1:
        fork = [
            {"id": "inlet", "kind": "reducer", "name": "Turbo inlet", "bore_in": mm["intake"],
             "bore_out": inducer, "length": "60 mm", "material": "silicone"},
        ]  # fmt: skip
    tree: dict[str, object] = {
        "schema": "zarvik-project",
        "name": known.name,
        "brief": {
            "target_power": str(_q(known.power, "hp", "power")),
            "target_speed": f"{round(target_speed / 50.0) * 50:.0f} rpm",
            "target_boost": str(_q(boost, "bar", "pressure_gauge", 3)),
            "full_boost_from": f"{round(WAKES[known.matters] * known.redline / 50.0) * 50:.0f} rpm",
            "hold_back_until": "1000 rpm",
            "altitude": f"{known.altitude:.0f} m",
            "design_day": str(_q(known.day, "°C", "temperature", 3)),
        },
        "engine": {
            "name": f"{known.litres * 1e3:.1f} L, {known.cylinders} cylinders",
            "cylinders": str(known.cylinders), "bore": f"{1000.0 * bore:.1f} mm",
            "stroke": f"{1000.0 * share * bore:.1f} mm",
            "compression": f"{known.compression or COMPRESSION[kind]:g}",
            "idle": f"{900 if kind != 'diesel' else 750} rpm", "rev_limit": f"{known.redline:.0f} rpm",
            "breathing": SHAPE[kind], "best_breathing": f"{100.0 * best:.0f} %",
            "best_breathing_speed": f"{round(peak / 50.0) * 50:.0f} rpm", "fuel": known.fuel,
            "full_load_lambda": f"{LAMBDA[family]:g}", "evaporated": EVAPORATED[family],
        },
        "turbos": [turbo.model_dump()], "turbo": turbo.id, "turbos_fitted": str(count),
        "gate": {"diameter": "38 mm", "lift": "10 mm", "count": str(count)},
        "intake": [
            {"id": "filter", "kind": "resistance", "name": "Filter", "bore": mm["intake"],
             "flow": filter_flow, "drop": "600 Pa", "linear_share": "40 %"},
            {"id": "tract", "kind": "straight", "name": "Intake pipe", "bore": mm["intake"],
             "length": "400 mm", **alloy},
            {"id": "elbow", "kind": "bend", "name": "Elbow", "bore": mm["intake"],
             "radius": f"{1500.0 * tube_bore(size['intake']):.0f} mm", "angle": "90 °", **alloy},
            *fork,
        ],
        "hot_pipe": [
            {"id": "h-bend", "kind": "bend", "name": "Bend off the compressor", "bore": mm["hot"],
             "radius": f"{1500.0 * tube_bore(size['hot']):.0f} mm", "angle": "90 °", **alloy},
            {"id": "h-run", "kind": "straight", "name": "Run to the cooler", "bore": mm["hot"],
             "length": "500 mm", **alloy},
        ],
        "cooler": {
            "fitted": cooled, "effectiveness": "74 %", "drop": "7 kPa",
            "charge_flow": f"{air:.3f} kg/s", "cooling_flow": f"{5.0 * air:.2f} kg/s",
            "width": f"{round(wide / 10.0) * 10:.0f} mm",
            "height": f"{round(wide / 2.4 / 10.0) * 10:.0f} mm", "capture": "35 %",
        },
        "cold_pipe": [
            {"id": "c-bend", "kind": "bend", "name": "Bend up", "bore": mm["cold"],
             "radius": f"{1500.0 * tube_bore(size['cold']):.0f} mm", "angle": "90 °", **alloy},
            {"id": "c-run", "kind": "straight", "name": "Run to the throttle", "bore": mm["cold"],
             "length": "600 mm", **alloy},
            {"id": "c-cone", "kind": "reducer", "name": "Hose to the throttle", "bore_in": mm["cold"],
             "bore_out": throttle, "length": "60 mm", "material": "silicone"},
            {"id": "throttle", "kind": "throttle", "name": "Throttle", "bore": throttle,
             "shaft": "9 mm"},
            {"id": "mouth", "kind": "mouth", "name": "Into the plenum", "bore": throttle},
        ],
        "manifold": [
            {"id": "primaries", "kind": "primaries", "name": "Primaries",
             "count": str(known.cylinders), "bore": primary, "length": "300 mm", **steel},
            {"id": "collector", "kind": "collector", "name": "Collector",
             "bore_out": mm["collector"], **steel},
        ],
        "exhaust": [
            {"id": "e-bend", "kind": "bend", "name": "Elbow off the turbine", "bore": mm["exhaust"],
             "radius": f"{1500.0 * tube_bore(size['exhaust']):.0f} mm", "angle": "90 °", **steel},
            {"id": "e-down", "kind": "straight", "name": "Downpipe", "bore": mm["exhaust"],
             "length": "900 mm", **steel},
            {"id": "e-muffler", "kind": "resistance", "name": "Muffler", "bore": mm["exhaust"],
             "flow": f"{3600.0 * air / 1.2 * 1.35:.0f} m³/h", "drop": "3000 Pa",
             "linear_share": "10 %"},
            {"id": "e-tail", "kind": "straight", "name": "Tail pipe", "bore": mm["exhaust"],
             "length": "1800 mm", **steel},
            {"id": "e-out", "kind": "mouth", "name": "Into the open", "bore": mm["exhaust"]},
        ],
    }  # fmt: skip
    return Project.model_validate(tree)


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
        other = put(project, place, _q(round(common * share, 4), "mm", "length"))
        full, back = _threshold(other)
        late = max(full / wish - 1.0, 0.0) if full == full else 2.0
        tight = max(back / BACK_PRESSURE - 1.0, 0.0) if back == back else 2.0
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
        if power >= 1.02 * known.power:
            high = middle
        else:
            low = middle
    return put(project, "brief.target_boost", _q(math.ceil(high / 1e3) * 1e3, "bar", "pressure_gauge", 3))


def _gate(project: Project) -> Project:
    """The smallest valve that is sold and holds the boost with room."""
    for size in GATES:
        other = put(project, "gate.diameter", _q(size, "mm", "length"))
        other = put(other, "gate.lift", _q(round(LIFT_SHARE * size, 3), "mm", "length"))
        raw = _solver(other).full_load
        good = raw.solved
        if good.any() and float(raw.states[good, k.OPENING].max()) <= GATE_ROOM:
            return other
    return other


def _clear_of_surge(project: Project) -> Project:
    """Boost held back at low speed until the compressor stands clear of its surge line."""
    for start in range(1000, int(0.7 * project.engine.rev_limit.si), 250):
        other = put(project, "brief.hold_back_until", Quantity(float(start), "rpm", "rotation"))
        solver = _solver(other)
        raw = solver.full_load
        boosted = raw.states[:, k.P_PLENUM] - solver.system.site.pressure > 0.2 * solver.system.boost.full
        rooms = [
            solver.point(raw, int(i)).turbo.surge for i in np.nonzero(raw.solved & boosted)[0]
        ]
        if min(rooms, default=1.0) >= SURGE_ROOM:
            return other
    return project


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
    score += max(back / BACK_PRESSURE - 1.0, 0.0)
    for i in np.nonzero(raw.solved)[0][::4]:
        turbo = solver.point(raw, int(i)).turbo
        if solver.point(raw, int(i)).boost > 0.3 * solver.system.boost.full:
            score += 0.5 * max(0.05 - turbo.surge, 0.0) + 0.5 * max(0.05 - turbo.choke, 0.0)
            score += 0.5 * max(0.03 - turbo.overspeed, 0.0)
    return score


GIVEN = ("brief.target_power", "engine.cylinders", "engine.rev_limit", "engine.fuel", "brief.altitude",
         "brief.design_day", "name")  # fmt: skip


def _assumed(known: Known, project: Project) -> set[str]:
    """Places of all entries that the builder did not say."""
    said = set(GIVEN)
    if known.compression is not None:
        said.add("engine.compression")
    found = set()
    for room in ("brief", "engine", "gate", "bay", "cooler"):
        found |= {f"{room}.{n}" for n in type(getattr(project, room)).model_fields}
    found |= {f"turbos.{project.turbo}.turbine.{n}" for n in type(project.turbos[0].turbine).model_fields}
    for run in ("intake", "hot_pipe", "cold_pipe", "manifold", "exhaust"):
        for piece in getattr(project, run):
            found |= {
                f"{run}.{piece.id}.{n}" for n in type(piece).model_fields
                if isinstance(getattr(piece, n), Quantity)
            }  # fmt: skip
    return found - said



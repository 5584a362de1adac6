"""The first document of a build: what is known, the rest by sizing rules with named bands."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT, HORSEPOWER, INCH
from zarvik.core.engine.breathing import from_archetype
from zarvik.core.engine.engine import Engine
from zarvik.core.estimates import typical_values as guess
from zarvik.core.gas.ambient import standard_pressure
from zarvik.core.gas.combustion import FUELS
from zarvik.core.stock.sizes import WALL, openings, tube_bore
from zarvik.project.document.document import Project
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.estimates.estimates import filled
from zarvik.project.uncertainty.known import BuilderInput
from zarvik.project.units.units import Quantity

# ---- rules, each with its band ------------------------------------------------------------------
STROKE_OVER_BORE = {"four": 1.0, "two": 1.0, "diesel": 1.06}  # 0.85 to 1.2
SHAPE = {"four": "long_runner", "two": "two_valve", "diesel": "two_valve"}
TRUSTED = {"spark": 0.8e5, "diesel": 1.6e5}  # of a stock bottom end, 0.5 to 1.3 bar; diesel to 2
# Mach numbers that pipes are sized for, and the outside diameters (inches) that experienced builders order: 2 and 2.5 in for 250 to 300 hp,
# 2.5 and 3 in for 500, 2.5 in of exhaust to some 320 hp, 3 in to 450, 3.5 in to 600; common practice, no source
MACH = {"intake": 0.15, "hot": 0.13, "cold": 0.095, "throttle": 0.10, "exhaust": 0.33, "collector": 0.25}
CHARGE_TUBES = (1.5, 1.75, 2.0, 2.25, 2.5, 3.0, 3.5, 4.0, 5.0, 6.0)
EXHAUST_TUBES = (1.75, 2.0, 2.25, 2.5, 3.0, 3.5, 4.0, 5.0, 6.0)
INTAKE_TUBES = (2.0, 2.25, 2.5, 2.75, 3.0, 3.5, 4.0, 5.0, 6.0, 7.0, 8.0)
THROTTLES = tuple(range(45, 125, 5))  # mm
GATES_FITTED = tuple(mm / 1000.0 for mm in (38.0, 40.0, 44.0, 45.0, 50.0, 60.0))  # m, of the kind on the manifold
THICK_FROM = 0.33  # kg/s of air from which cores of 100 mm are bought, 400 to 450 hp; common practice, no source
FACE_FOR_AIR = 0.58  # m2 of core face for kg/s of air, 0.4 to 0.8
WAKES = {"spool": 0.40, "even": 0.47, "top": 0.55}  # of the redline at which full boost should stand


def quantity_of(si: float, unit: str, kind: str, digits: int = 4) -> Quantity:
    """`si` in `unit`, with so many digits that count."""
    found = Quantity(si, _BASE[kind], kind).into(unit)
    return Quantity(float(f"{found.value:.{digits}g}"), found.unit, kind)


_BASE = {"length": "m", "pressure_gauge": "Pa", "power": "W", "rotation": "rpm", "mass_flow": "kg/s", "temperature": "K", "volume": "m³"}


def ordered(bore: float, tubes: tuple[float, ...]) -> float:
    """Inside diameter in m of the tube of a series (outside, in) that is nearest to a `bore` in m."""
    return min((INCH * inch - 2.0 * WALL for inch in tubes), key=lambda inside: abs(math.log(inside / bore)))


def bores_of(known: BuilderInput, boost: float, air: float) -> dict[str, float]:
    """Inside diameters in m by place, from the Mach numbers above."""
    ambient = standard_pressure(known.altitude)
    states = {
        "intake": (ambient * 0.98, known.day, air),
        "hot": (ambient + boost * 1.08, 420.0, air),
        "cold": (ambient + boost * 1.02, 335.0, air),
        "throttle": (ambient + boost, 335.0, air),
        "exhaust": (ambient * 1.12, 1000.0, air * 1.08),
        "collector": (ambient * 1.15 if known.charger == "blower" else (ambient + boost) * 1.2, 1150.0, air * 1.08),
    }
    found = {}
    for place, (pressure, temperature, flow) in states.items():
        sound = math.sqrt(1.37 * DRY_AIR_GAS_CONSTANT * temperature)
        area = flow / (pressure / (DRY_AIR_GAS_CONSTANT * temperature) * MACH[place] * sound)
        found[place] = math.sqrt(4.0 * area / math.pi)
    return found


def breath_of(known: BuilderInput, kind: str) -> tuple[float, float]:
    """Best VE and its engine speed, from the stock power where it is known."""
    share = STROKE_OVER_BORE[kind]
    bore = (4.0 * known.litres / (known.cylinders * math.pi * share)) ** (1.0 / 3.0)
    diesel = kind == "diesel"
    power_speed = known.stock_speed or guess.stock_speed(known.redline).value
    peak = guess.peak_speed(power_speed, known.stock_speed is not None).value
    best = guess.best_breathing(SHAPE[kind], diesel).value
    engine = Engine(
        cylinders=known.cylinders,
        bore=bore,
        stroke=share * bore,
        compression=known.compression or guess.compression(SHAPE[kind], diesel).value,
        breathing=from_archetype(SHAPE[kind], peak_speed=peak, peak=best),
        fuel=FUELS["petrol95"] if kind != "diesel" else FUELS["diesel"],
        lambda_=0.88,
        idle=800.0,
        rev_limit=known.redline,
        trusted_boost=0.8e5,
    )
    if known.stock_power is not None and not diesel:
        best = guess.breathing_of_power(engine, SHAPE[kind], peak, known.stock_power, power_speed, known.stock_boost).value
    return best, peak


def own_sides(known: BuilderInput, count: int) -> bool:
    """Has each of so many turbos (`count`) a hot side of its own: a bank of a V or a flat engine each?"""
    return count == 2 and known.layout != "inline" and known.cylinders % 2 == 0


Piece = dict[str, object]
STEEL: Piece = {"material": "stainless"}
ALLOY: Piece = {"material": "aluminium"}


@dataclass(frozen=True, kw_only=True)
class Sizes:
    """Bores in m that are sold: `bore` of the cylinder, of the pipes by `intake`, `hot`, `cold`, `exhaust`, `collector`; `inlet` of
    the turbo, a `primary`; the `throttle` in mm."""

    bore: float
    intake: float
    hot: float
    cold: float
    exhaust: float
    collector: float
    inlet: float
    primary: float
    throttle: int


def sizes_for(known: BuilderInput, kind: str, *, boost: float, air: float, turbo: Turbo, count: int) -> Sizes:
    """The sizes of a build with a `boost` in Pa gauge and `air` in kg/s through a `count` of a `turbo`; `kind` of engine."""
    size = bores_of(known, boost, air)
    inlet, outlet = openings(turbo.chart.lines[-1].flow[-1])
    beside = math.sqrt(count) if own_sides(known, count) else 1.0
    # No pipe narrower than the opening it stands at
    hot = ordered(max(size["hot"], outlet * math.sqrt(count)), CHARGE_TUBES)
    bore = (4.0 * known.litres / (known.cylinders * math.pi * STROKE_OVER_BORE[kind])) ** (1.0 / 3.0)
    return Sizes(
        bore=bore,
        intake=ordered(max(size["intake"], inlet * math.sqrt(count)), INTAKE_TUBES),
        hot=hot,
        cold=max(ordered(size["cold"], CHARGE_TUBES), hot),
        exhaust=ordered(size["exhaust"] / beside, EXHAUST_TUBES),
        collector=tube_bore(size["collector"] / beside),
        inlet=inlet,
        # One primary for each cylinder, of a quarter to a third of the intake's share of bore
        primary=tube_bore((0.46 if known.charger == "blower" else 0.40) * bore),
        throttle=next((t for t in THROTTLES if t >= 1000.0 * size["throttle"] - 2.0), THROTTLES[-1]),
    )


def _mm(metres: float) -> str:
    return f"{1000.0 * metres:.1f} mm"


def _bend(key: str, name: str, bore: float, material: Piece) -> Piece:
    radius = f"{1500.0 * tube_bore(bore):.0f} mm"
    return {"id": key, "kind": "bend", "name": name, "bore": _mm(bore), "radius": radius, "angle": "90 °", **material}


def _pipe(key: str, name: str, bore: float, length: int, material: Piece) -> Piece:
    return {"id": key, "kind": "straight", "name": name, "bore": _mm(bore), "length": f"{length} mm", **material}


def _cone(key: str, name: str, one: str, two: str) -> Piece:
    return {"id": key, "kind": "reducer", "name": name, "bore_in": one, "bore_out": two, "length": "60 mm", "material": "silicone"}


def _rated(key: str, name: str, bore: float, flow: float, drop: str, linear: str) -> Piece:
    """A part that passes `flow` m3/s at a `drop`."""
    passes = f"about {3600.0 * flow:.0f} m³/h"
    return {"id": key, "kind": "resistance", "name": name, "bore": _mm(bore), "flow": passes, "drop": drop, "linear_share": linear}


def _intake(size: Sizes, air: float, count: int) -> list[Piece]:
    pieces = [
        _rated("filter", "Filter", size.intake, air / 1.2 * 1.25, "600 Pa", "40 %"),
        _pipe("tract", "Intake pipe", size.intake, 400, ALLOY),
        _bend("elbow", "Elbow", size.intake, ALLOY),
    ]
    return [*pieces, _cone("inlet", "Turbo inlet", _mm(size.intake), _mm(size.inlet))] if count == 1 else pieces


def _hot_pipe(size: Sizes, blown: bool) -> list[Piece]:
    off = "Blower outlet bend" if blown else "Compressor outlet bend"
    return [_bend("h-bend", off, size.hot, ALLOY), _pipe("h-run", "Pipe to the intercooler", size.hot, 500, ALLOY)]


def _cold_pipe(size: Sizes, diesel: bool) -> list[Piece]:
    cold, throttle = _mm(size.cold), f"{size.throttle} mm"
    pieces = [
        _bend("c-bend", "Bend up", size.cold, ALLOY),
        _pipe("c-run", "Pipe to the plenum" if diesel else "Pipe to the throttle", size.cold, 600, ALLOY),
    ]
    if not diesel:
        # A diesel is governed by its fuel: nothing stands between intercooler and plenum
        pieces.append(_cone("c-cone", "Throttle coupler", cold, throttle))
        pieces.append({"id": "throttle", "kind": "throttle", "name": "Throttle", "bore": throttle, "shaft": "9 mm"})
    return [*pieces, {"id": "mouth", "kind": "mouth", "name": "Plenum inlet", "bore": cold if diesel else throttle}]


def _cooler(known: BuilderInput, family: str, size: Sizes, air: float) -> Piece:
    water = known.cooling == "water"
    wide = 1000.0 * math.sqrt(2.4 * FACE_FOR_AIR * air)
    return {
        "fitted": known.cooling in ("air", "water") or (known.cooling == "auto" and family != "methanol"),
        "effectiveness": "?",
        "pressure_loss": "?",
        "mounting": "ducted",
        "thickness": "100 mm" if water or air > THICK_FROM else "76 mm",
        "port_diameter": _mm(size.cold),
        **({"medium": "water", "water_flow": "0.5 kg/s", "front_effectiveness": "?"} if water else {}),
        "charge_flow": f"{air:.3f} kg/s",
        "cooling_flow": f"{(2.5 if water else 5.0) * air:.2f} kg/s",
        "width": f"{round((0.55 * wide if water else wide) / 10.0) * 10:.0f} mm",
        "height": f"{round((0.3 * wide if water else wide / 2.4) / 10.0) * 10:.0f} mm",
        "air_share": "?",
    }


def _manifold(size: Sizes, cylinders: int) -> list[Piece]:
    primaries = {"id": "primaries", "kind": "primaries", "name": "Primaries", "count": str(cylinders), "bore": _mm(size.primary)}
    return [
        {**primaries, "length": "300 mm", **STEEL},
        {"id": "collector", "kind": "collector", "name": "Collector", "bore_out": _mm(size.collector), **STEEL},
    ]


def _exhaust(size: Sizes, air: float, blown: bool) -> list[Piece]:
    """Of one exhaust path, with so much `air` kg/s."""
    bore = size.exhaust
    return [
        _bend("e-bend", "Manifold elbow" if blown else "Turbine outlet elbow", bore, STEEL),
        _pipe("e-down", "Downpipe", bore, 200, STEEL),
        _bend("e-floor", "Bend under the floor", bore, STEEL),
        _pipe("e-mid", "Pipe under the floor", bore, 700, STEEL),
        _rated("e-silencer", "Silencer", bore, air / 1.2 * 1.35, "3000 Pa", "10 %"),
        _pipe("e-tail", "Tail pipe", bore, 1800, STEEL),
        {"id": "e-out", "kind": "mouth", "name": "Tailpipe exit", "bore": _mm(bore)},
    ]


def _engine(known: BuilderInput, kind: str, size: Sizes, best: float, peak: float) -> Piece:
    stock: Piece = {}
    if known.stock_power is not None:
        stock["stock_power"] = str(quantity_of(known.stock_power, "hp", "power"))
        if known.stock_boost > 0.0:
            stock["stock_boost"] = str(quantity_of(known.stock_boost, "bar", "pressure_gauge", 3))
        if known.stock_speed is not None:
            stock["stock_speed"] = f"{known.stock_speed:.0f} rpm"
    return {
        "name": f"{known.litres * 1e3:.1f} L, {known.cylinders} cylinders",
        "cylinders": str(known.cylinders),
        "bore": _mm(size.bore),
        "stroke": _mm(STROKE_OVER_BORE[kind] * size.bore),
        "compression": f"{known.compression:g}" if known.compression else "?",
        **stock,
        "idle": f"{900 if kind != 'diesel' else 750} rpm",
        "rev_limit": f"{known.redline:.0f} rpm",
        "breathing": SHAPE[kind],
        "best_breathing": f"? {100.0 * best:.0f} %",
        "best_breathing_speed": f"? {round(peak / 50.0) * 50:.0f} rpm",
        "fuel": known.fuel,
        "full_load_lambda": "?",
        "evaporated": "?",
    }


def _brief(known: BuilderInput, boost: float, target_speed: float) -> Piece:
    return {
        "target_power": str(quantity_of(known.power or 100.0 * HORSEPOWER, "hp", "power")),
        "target_speed": f"{round(target_speed / 50.0) * 50:.0f} rpm",
        "target_boost": str(quantity_of(boost, "bar", "pressure_gauge", 3)),
        "full_boost_from": f"{round(WAKES[known.matters] * known.redline / 50.0) * 50:.0f} rpm",
        "hold_back_until": "1000 rpm",
        "altitude": f"{known.altitude:.0f} m",
        "design_day": str(quantity_of(known.day, "°C", "temperature", 3)),
    }


def document_of(
    known: BuilderInput,
    kind: str,
    family: str,
    best: float,
    peak: float,
    boost: float,
    air: float,
    turbo: Turbo,
    count: int,
    target_speed: float,
) -> Project:
    """A whole document: `best` VE at `peak` rev/min, `boost` Pa gauge, `air` kg/s at `target_speed` rev/min, `count` of a
    `turbo`; `kind` of engine and fuel `family` choose the rules."""
    size = sizes_for(known, kind, boost=boost, air=air, turbo=turbo, count=count)
    paired, blown, diesel = own_sides(known, count), known.charger == "blower", family == "diesel"
    tree: Piece = {
        "schema": "zarvik-project",
        "name": known.name,
        "goal": _brief(known, boost, target_speed),
        "engine": _engine(known, kind, size, best, peak),
        "turbos": [turbo.model_dump()],
        "turbo": turbo.id,
        "turbos_fitted": str(count),
        "exhaust_paths": "own" if paired else "shared",
        "pieces_per_turbo": "7",
        "layout": {"head": {"banks": "vee" if known.layout != "inline" else "one"}},
        "wastegate": {"diameter": "38 mm", "lift": "10 mm", "count": str(count)},
        "intake": _intake(size, air, count),
        "hot_pipe": _hot_pipe(size, blown),
        "intercooler": _cooler(known, family, size, air),
        "cold_pipe": _cold_pipe(size, diesel),
        "manifold": _manifold(size, known.cylinders // count if paired else known.cylinders),
        "exhaust": _exhaust(size, air / count if paired else air, blown),
    }
    return filled(Project.model_validate(tree))

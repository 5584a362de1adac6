"""Working sheets of a train on its hill and of an exhaust brake."""

from __future__ import annotations

import math

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import BuildMaker, Line, Sheet
from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT, STANDARD_GRAVITY
from zarvik.core.common.sentences import Figure
from zarvik.core.ducts.element import circle
from zarvik.core.vehicle import towing
from zarvik.core.whole_build.build import Build

_ROAD = "Forces on a grade; rolling 1.3 % of the weight: T. D. Gillespie 1992, ch. 4 (memory)"


def _power(build: Build, solver: Solver, point: Point) -> Sheet:
    train, car = build.train, build.car
    if train.mass <= 0.0:
        raise KeyError("nothing is towed")
    return Sheet(
        key="tow_power",
        title="Power needed for the climb",
        result=Figure(towing.tractive_power(car, train), "power"),
        relation="P = (m · g · (s + f) / √(1 + s²) + ρ / 2 · A · v²) · v / η",
        lines=(
            Line("m", "train", Figure(train.mass, "mass")),
            Line("g", "gravity, m/s²", Figure(STANDARD_GRAVITY, "number")),
            Line("s", "rise over way", Figure(train.gradient, "ratio")),
            Line("f", "rolling", Figure(towing.ROLLING, "ratio")),
            Line("ρ", "air, kg/m³", Figure(towing.AIR, "number")),
            Line("A", "drag area", Figure(car.drag_area, "area")),
            Line("v", "on the road", Figure(train.speed, "road_speed")),
            Line("η", "drivetrain efficiency", Figure(car.drive, "ratio")),
        ),
        source=_ROAD,
    )


def _speed(build: Build, solver: Solver, point: Point) -> Sheet:
    train, car = build.train, build.car
    return Sheet(
        key="tow_speed",
        title="Engine speed on the hill",
        result=Figure(towing.engine_speed(car, train), "rotation"),
        relation="n = v / (π · D) · i · i_f",
        lines=(
            Line("v", "on the road", Figure(train.speed, "road_speed")),
            Line("D", "tyre", Figure(car.tyre_diameter, "length")),
            Line("i", "gear", Figure(train.gear_ratio or car.gear_ratio, "number")),
            Line("i_f", "final drive", Figure(car.final_drive, "number")),
        ),
        source="Geometry",
    )


def _gas(build: Build, solver: Solver, point: Point) -> Sheet:
    train = build.train
    power, gear = towing.tractive_power(build.car, train), towing.engine_speed(build.car, train)
    found = towing.at_power(solver, gear, power, train.speed) if train.mass > 0.0 else None
    if found is None:
        raise KeyError("the hill is not climbed in this gear")
    p = found.point
    return Sheet(
        key="tow_gas",
        title="Turbine inlet temperature on the hill",
        result=Figure(p.stations["turbine_inlet"].temperature, "temperature"),
        relation="T4 = T(P, n, λ, p)",
        lines=(
            Line("P", "power needed", Figure(power, "power"), "tow_power"),
            Line("n", "engine speed", Figure(gear, "rotation"), "tow_speed"),
            Line("x", "share of the load: fuel of a diesel, boost and throttle of a spark engine", Figure(found.share, "ratio")),
            Line("λ", "mixture there", Figure(p.mixture, "number")),
            Line("p", "boost there", Figure(p.boost, "pressure_gauge")),
            Line("T_p", "charge in the plenum, cooled by the wind of the road", Figure(p.stations["plenum"].temperature, "temperature")),
        ),
        source="The whole path solved at part load, with the heat balance of full load",
    )


def _brake(build: Build, solver: Solver) -> tuple[towing.Braking, float, float]:
    train = build.train
    if not train.brake:
        raise KeyError("no exhaust brake")
    most = towing.most_back(train)
    limit = build.engine.rev_limit
    hole = train.brake_orifice or towing.hole_for(build, limit, most)
    return towing.exhaust_braking(build, limit, hole), hole, most


def _pressure(build: Build, solver: Solver, point: Point) -> Sheet:
    found, hole, _ = _brake(build, solver)
    engine = solver.path.engine
    left, nozzle = towing.pumped_and_passed(solver.path, found.pressure + solver.path.site.pressure)
    return Sheet(
        key="brake_pressure",
        title="Pressure before the shut butterfly",
        result=Figure(found.pressure, "pressure_gauge"),
        relation="p: VE · k(p / p_a) · ρ_a · V · n / 2 = C · A · p / √(R · T) · Φ(p / p_a)",
        lines=(
            Line("VE", "volumetric efficiency", Figure(float(engine.breathing.at(found.speed)), "ratio")),
            Line("k(p / p_a)", "factor of the port pressure", Figure(left, "number")),
            Line("ρ_a", "ambient air, kg/m³", Figure(towing.air_density(solver.path), "number")),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(found.speed, "rotation")),
            Line("d", "hole, A = π / 4 · d²", Figure(hole, "length")),
            Line("A", "of the hole", Figure(circle(hole), "area")),
            Line("C", "discharge of the hole", Figure(towing.DISCHARGE, "number")),
            Line("p", "before the butterfly, absolute", Figure(found.pressure + solver.path.site.pressure, "pressure_absolute")),
            Line("T", "of the pumped air", Figure(towing.MOTORED, "temperature")),
            Line("R", "gas constant, J/(kg K)", Figure(DRY_AIR_GAS_CONSTANT, "number")),
            Line("Φ(p / p_a)", "nozzle function", Figure(nozzle, "number")),
        ),
        source="Pumped flow equals orifice flow; Heywood 1988, eq. 6.2 for k; NACA Report 1135 for Φ",
    )


def _held(build: Build, solver: Solver, point: Point) -> Sheet:
    found, _, _ = _brake(build, solver)
    engine = solver.path.engine
    return Sheet(
        key="brake_power",
        title="Exhaust brake power",
        result=Figure(found.power, "power"),
        relation="P = Δp · V · n / 2 + P_f",
        lines=(
            Line("Δp", "before the butterfly, gauge", Figure(found.pressure, "pressure_gauge"), "brake_pressure"),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(found.speed, "rotation")),
            Line("P_f", "friction of the engine", Figure(found.friction, "power")),
        ),
        source="Work of pushing the charge out against the pressure",
    )


def _most(build: Build, solver: Solver, point: Point) -> Sheet:
    _, _, most = _brake(build, solver)
    train = build.train
    if train.valve_diameter <= 0.0 or train.valve_spring_force <= 0.0:
        return Sheet(
            key="brake_most",
            title="Valve spring pressure limit",
            result=Figure(most, "pressure_gauge"),
            relation="p = p_u",
            lines=(Line("p_u", "typical, springs unknown", Figure(most, "pressure_gauge")),),
            source="Common practice, no source",
        )
    return Sheet(
        key="brake_most",
        title="Valve spring pressure limit",
        result=Figure(most, "pressure_gauge"),
        relation="p = x · F / (π / 4 · d²)",
        lines=(
            Line("x", "share used", Figure(towing.SPRING_LEFT, "ratio")),
            Line("F", "of one spring on its seat, N", Figure(train.valve_spring_force, "number")),
            Line("d", "head of the valve", Figure(2.0 * math.sqrt(circle(train.valve_diameter) / math.pi), "length")),
        ),
        source="Balance of forces on a shut valve",
    )


SHEETS: dict[str, BuildMaker] = {
    "tow_power": _power,
    "tow_speed": _speed,
    "tow_gas": _gas,
    "brake_pressure": _pressure,
    "brake_power": _held,
    "brake_most": _most,
}
OF_TRAIN, OF_BRAKE = {"tow_power", "tow_speed", "tow_gas"}, {"brake_pressure", "brake_power", "brake_most"}

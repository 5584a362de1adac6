"""Working sheets of meter, throttle, ports and valves."""

from __future__ import annotations

import math

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import BuildMaker, Line, Sheet
from zarvik.core.common.constants import AIR_GAMMA, DRY_AIR_GAS_CONSTANT
from zarvik.core.common.sentences import Figure
from zarvik.core.ducts.element import circle
from zarvik.core.ducts.pieces.throttle import throttle_loss
from zarvik.core.intake import butterfly, meter, ports
from zarvik.core.intake.intake_flow import Throttle, breath, full_flow_travel, ports_at, throttle_at, throttle_of, valve_index
from zarvik.core.whole_build.build import Build


def _reach(build: Build, solver: Solver, point: Point) -> Sheet:
    m = build.meter
    own = m.new_bore if m.new_bore > 0.0 else m.bore
    return Sheet(
        key="meter_reach",
        title="Air meter limit",
        result=Figure(meter.meter_range(m), "meter_flow"),
        relation="m = m_0 · (d / d_0)²",
        lines=(
            Line("m_0", "end of its table, in its own housing", Figure(m.max_reading, "meter_flow")),
            Line("d", "bore of the present housing", Figure(own, "length")),
            Line("d_0", "bore its table is made for", Figure(m.bore, "length")),
        ),
        source="A meter knows the speed in its own bore: geometry",
    )


def _says(build: Build, solver: Solver, point: Point) -> Sheet:
    m = build.meter
    return Sheet(
        key="meter_says",
        title="Meter reading share",
        result=Figure(meter.says(m), "ratio"),
        relation="s = (d_0 / d)²",
        lines=(
            Line("d", "bore of the present housing", Figure(m.new_bore or m.bore, "length")),
            Line("d_0", "bore its table is made for", Figure(m.bore, "length")),
        ),
        source="A meter knows the speed in its own bore: geometry",
    )


def _throttle(build: Build, solver: Solver) -> Throttle:
    found = throttle_of(solver.path)
    if found is None:
        raise KeyError("no throttle")
    return found


def _drop(build: Build, solver: Solver, point: Point) -> Sheet:
    throttle = _throttle(build, solver)
    stretch = next(s for s in point.stretches if s.id == throttle.id)
    before = point.stations[stretch.start]
    density = before.pressure / (DRY_AIR_GAS_CONSTANT * before.temperature)
    return Sheet(
        key="throttle_drop",
        title="Open throttle loss",
        result=Figure(throttle_at(throttle, point)[0], "pressure_difference"),
        relation="Δp = K · (m / A)² / (2 · ρ)",
        lines=(
            Line(
                "K",
                "loss coefficient round the shaft, on the head in the bore",
                Figure(throttle_loss(throttle.bore, throttle.shaft), "number"),
            ),
            Line("m", "flow through it", Figure(before.flow, "mass_flow")),
            Line("A", "area of its bore", Figure(circle(throttle.bore), "area")),
            Line("ρ", "of the air before it, kg/m³", Figure(density, "number")),
        ),
        source="Idelchik, diagram 4-9; Borda-Carnot",
    )


def _share(build: Build, solver: Solver, point: Point) -> Sheet:
    throttle = _throttle(build, solver)
    loss, share = throttle_at(throttle, point)
    return Sheet(
        key="throttle_share",
        title="Open throttle loss over the pressure before it",
        result=Figure(share, "ratio"),
        relation="s = Δp / p",
        lines=(
            Line("Δp", "loss", Figure(loss, "pressure_difference"), "throttle_drop"),
            Line("p", "pressure before it", Figure(loss / share, "pressure_absolute")),
        ),
        source="Definition",
    )


def _pedal(build: Build, solver: Solver, point: Point) -> Sheet:
    throttle, engine = _throttle(build, solver), breath(solver.path)
    travel = full_flow_travel(solver.path, throttle)
    area = butterfly.area_for(engine, butterfly.TOWN)
    return Sheet(
        key="pedal",
        title="Pedal travel used in town",
        result=Figure(travel, "ratio"),
        relation="s = (ψ − ψ_0) / (90° − ψ_0)",
        lines=(
            Line(
                "ψ",
                "blade angle at that opening, from across the bore",
                Figure(butterfly.SHUT + travel * (butterfly.WIDE - butterfly.SHUT), "angle"),
            ),
            Line("ψ_0", "blade at its stop", Figure(butterfly.SHUT, "angle")),
            Line("A", "opening with 90 % of ambient pressure behind it", Figure(area, "area")),
            Line("V", "displacement", Figure(engine.swept, "volume"), "displacement"),
            Line("η", "breathing at 2,000 rev/min", Figure(engine.breathing, "ratio")),
            Line("d", "bore", Figure(throttle.bore, "length")),
        ),
        source="Harrington & Bolt, SAE 700082, in Heywood 1988, eq. 7.18 (memory); isentropic nozzle, NACA 1135; discharge 0.85 (memory)",
    )


def _loss(build: Build, solver: Solver, point: Point) -> Sheet:
    found = ports_at(build, build.ports, point)
    lines = [
        Line(
            f"Δp_{n}",
            f"{ports.TITLES[e.before]} to {ports.TITLES[e.behind][0].lower()}{ports.TITLES[e.behind][1:]}",
            Figure(e.loss, "pressure_difference"),
        )
        for n, e in enumerate(found.edges, 1)
    ]
    return Sheet(
        key="port_loss",
        title="Pressure loss at port edges",
        result=Figure(found.loss, "pressure_difference"),
        relation="Δp = " + (" + ".join(line.symbol for line in lines) or "0"),
        lines=tuple(lines),
        source="Narrowing: Idelchik, diagram 4-9; widening: Borda-Carnot; a half sine of flow in a quarter of two turns",
    )


def _lip(build: Build, solver: Solver, point: Point) -> Sheet:
    found = max(ports_at(build, build.ports, point).edges, key=lambda e: e.lip)
    given = build.ports
    before, behind = getattr(given, found.before), getattr(given, found.behind)
    return Sheet(
        key="port_lip",
        title="Edge height facing the flow",
        result=Figure(found.lip, "length"),
        relation="e = max((w_1 − w_2) / 2 + |x|, (h_1 − h_2) / 2 + |y|, 0)",
        lines=(
            Line("w_1", "width before", Figure(before.wide, "length")),
            Line("w_2", "width after", Figure(behind.wide, "length")),
            Line("h_1", "height before", Figure(before.tall, "length")),
            Line("h_2", "height after", Figure(behind.tall, "length")),
            Line("x", "aside", Figure(given.offset_sideways if found.before == "runner" else 0.0, "length")),
            Line("y", "high", Figure(given.offset_up if found.before == "runner" else 0.0, "length")),
        ),
        source="Geometry",
    )


def _gain(build: Build, solver: Solver, point: Point) -> Sheet:
    found = ports_at(build, build.ports, point)
    plenum = point.stations["plenum"].pressure
    return Sheet(
        key="port_gain",
        title="Power loss at port edges, about",
        result=Figure(point.power * found.loss / plenum, "power"),
        relation="ΔP = P · Δp / p",
        lines=(
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
            Line("Δp", "loss of the edges", Figure(found.loss, "pressure_difference"), "port_loss"),
            Line("p", "pressure in the plenum", Figure(plenum, "pressure_absolute")),
        ),
        source="Airflow follows the pressure at the valve; the entered volumetric efficiency includes these edges",
    )


def _index(build: Build, solver: Solver, point: Point) -> Sheet:
    index = valve_index(build, build.ports, point)
    if index != index:
        raise KeyError("no valves")
    given, engine = build.ports, build.engine
    return Sheet(
        key="valve_index",
        title="Inlet valve Mach index",
        result=Figure(index, "number"),
        relation="Z = A_p · c_m / (z · A_v · C · a)",
        lines=(
            Line("A_p", "area of a piston", Figure(circle(engine.bore), "area")),
            Line("c_m", "mean piston speed", Figure(2.0 * engine.stroke * point.speed / 60.0, "velocity")),
            Line("z", "inlet valves of a cylinder", Figure(float(given.valves), "count")),
            Line("A_v", "area of a valve's head", Figure(circle(given.valve_diameter), "area")),
            Line(
                "C",
                "mean flow coefficient, 1.45 of lift over diameter up to a quarter",
                Figure(ports.flow_coefficient(given.valve_diameter, given.valve_lift), "number"),
            ),
            Line("a", "speed of sound in the charge", Figure(math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * point.charge), "velocity")),
        ),
        source="C. F. Taylor, The Internal-Combustion Engine, vol. 1, 1985, ch. 6 (memory)",
    )


_METER: dict[str, BuildMaker] = {"meter_reach": _reach, "meter_says": _says}
_THROTTLE: dict[str, BuildMaker] = {"throttle_drop": _drop, "throttle_share": _share, "pedal": _pedal}
_PORTS: dict[str, BuildMaker] = {"port_loss": _loss, "port_lip": _lip, "port_gain": _gain}
SHEETS: dict[str, BuildMaker] = {**_METER, **_THROTTLE, **_PORTS, "valve_index": _index}


def missing(build: Build) -> set[str]:
    """Keys of the sheets that a `build` does not have."""
    left: set[str] = set()
    if build.meter.kind == "none" or build.meter.max_reading <= 0.0:
        left |= set(_METER)
    if not build.engine.fuel.spark or throttle_of(build) is None:
        left |= set(_THROTTLE)
    given = build.ports
    if sum(opening.said for opening in (given.runner, given.gasket, given.port)) < 2:
        left |= set(_PORTS)
    if given.valve_diameter <= 0.0 or given.valve_lift <= 0.0:
        left.add("valve_index")
    return left

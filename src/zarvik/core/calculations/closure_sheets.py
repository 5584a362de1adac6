"""Working sheets of the sums that have to close: flow, pressure, shaft power and the energy balance
from the air that comes in to the gas that goes out."""

from __future__ import annotations

import math

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.airpath.stations import COMPRESSOR_OUTLET, EXHAUST_PORT, MANIFOLD, PLENUM, TAILPIPE, TURBINE_INLET, TURBINE_OUTLET
from zarvik.core.calculations.air_sheets import drawn_air
from zarvik.core.calculations.combustion_sheets import coolant_heat
from zarvik.core.calculations.sheet import Line, Maker, Sheet
from zarvik.core.calculations.turbine_sheets import rotors_move
from zarvik.core.common.sentences import Figure
from zarvik.core.engine import engine as eng
from zarvik.core.gas.properties import enthalpy

_SOLVED = "Residual of the solver, relative; required: "


def _walls(solver: Solver, point: Point) -> float:
    """Heat through every wall of the path in W, counted outward."""
    elements = {e.id for e in solver.path.elements}
    alone = {e.id for e in solver.path.runs["exhaust"][: solver.path.alone]}
    found = 0.0
    for s in point.stretches:
        if s.id in elements and s.warming != 0.0:
            hot = s.section in ("manifold", "exhaust")
            gas, flow = (solver.burnt, point.air + point.fuel) if hot else (solver.gas, point.air)
            if s.section == "intake":
                flow += bypass_flow(solver, point)
            if s.section == "exhaust":
                flow -= point.turbo.gate_flow if s.id in alone else point.turbo.dumped
            after = point.stations[s.end].temperature
            found += flow * (enthalpy(gas, after - s.warming) - enthalpy(gas, after))
    return found


def bypass_flow(solver: Solver, point: Point) -> float:
    """Air in kg/s that a blower's bypass blows into the open."""
    blower = solver.path.blower
    return point.air * point.turbo.opening if blower is not None and blower.vents else 0.0


def _energy(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    base = eng.REFERENCE_TEMPERATURE
    released = float(point.air * solver.site_numbers[k.DRY_SHARE]) * engine.burnt.heat_per_air
    swept = engine.swept_flow(point.speed)
    coolant = coolant_heat(solver, point)
    outside = solver.path.site.temperature
    air = point.air * (enthalpy(solver.gas, outside) - enthalpy(solver.gas, base))
    air -= bypass_flow(solver, point) * (
        enthalpy(solver.gas, point.stations[COMPRESSOR_OUTLET].temperature) - enthalpy(solver.gas, outside)
    )
    tail = point.stations[TAILPIPE].temperature
    dumped = point.turbo.dumped
    gas = (point.air + point.fuel - dumped) * (enthalpy(solver.burnt, tail) - enthalpy(solver.burnt, base))
    if dumped > 0.0:
        # What the gate blows into the open leaves as hot as it comes.
        gas += dumped * (enthalpy(solver.burnt, point.stations[TURBINE_INLET].temperature) - enthalpy(solver.burnt, base))
    blower = solver.path.blower
    taken = point.turbo.turbine_power if blower is None else point.turbo.power / blower.drive
    walls, friction = _walls(solver, point), point.friction * swept
    left = air + released - gas - point.power - coolant - friction - point.cooler_heat - walls - (taken - point.turbo.power)
    cooler = "cooler_heat" if solver.path.cooler is not None else ""
    return Sheet(
        key="closure_energy",
        title="Energy residual",
        result=Figure(abs(left) / released, "closure"),
        relation="e = (Q + H − P − Q_c − P_f − Q_k − Q_w − P_s − G) / Q",
        lines=(
            Line("Q", "heat released", Figure(released, "power"), "released_heat"),
            Line("H", "heat of the intake air", Figure(air, "power")),
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
            Line("Q_c", "heat to coolant and oil", Figure(coolant, "power"), "coolant_heat"),
            Line("P_f", "friction", Figure(friction, "power")),
            Line("Q_k", "heat removed in the intercooler", Figure(point.cooler_heat, "power"), cooler),
            Line("Q_w", "heat through the walls of all pieces", Figure(walls, "power")),
            Line("P_s", "lost between turbine, or belt, and air", Figure(taken - point.turbo.power, "power")),
            Line("G", "heat of the gas at the tailpipe", Figure(gas, "power")),
        ),
        source=_SOLVED + "1e-4. First law round the whole path; gas: NASA TM-4513, from 25 °C",
    )


def _shaft(solver: Solver, point: Point) -> Sheet:
    mechanical = solver.path.turbo.turbine.mechanical
    turbo = point.turbo
    left = abs(turbo.turbine_power * mechanical - turbo.power) / (abs(turbo.turbine_power) + 1e-9)
    return Sheet(
        key="closure_shaft",
        title="Shaft power residual",
        result=Figure(left, "closure"),
        relation="e = |P_t · η_m − P_air| / P_t",
        lines=(
            Line("P_t", "power out of the gas", Figure(turbo.turbine_power, "power"), "turbine_power"),
            Line("η_m", "bearings and shaft", Figure(mechanical, "ratio")),
            Line("P_air", "power into the air", Figure(turbo.power, "power"), "air_power"),
        ),
        source=_SOLVED + "1e-4",
    )


def _mass(solver: Solver, point: Point) -> Sheet:
    drawn, exhaust, turbo = drawn_air(solver, point)[0], point.air + point.fuel, point.turbo
    cold = abs(math.log(drawn / point.air))
    lines = (
        Line("m_v", "airflow of the engine at this plenum pressure", Figure(drawn, "mass_flow")),
        Line("m", "air through the intake", Figure(point.air, "mass_flow"), "air"),
    )
    blower = solver.path.blower
    if blower is not None:
        moved = rotors_move(solver, point, blower)
        through = point.air * (1.0 + turbo.opening)
        return Sheet(
            key="closure_mass",
            title="Flow residual",
            result=Figure(max(cold, abs(math.log(moved / through))), "closure"),
            relation="e = max(|ln(m_v / m)|, |ln(m_b / (m · (1 + x)))|)",
            lines=(
                *lines,
                Line("m_b", "air moved by the rotors", Figure(moved, "mass_flow")),
                Line("x", "opening of the bypass", Figure(turbo.opening, "ratio"), "opening"),
            ),
            source=_SOLVED + "1e-6",
        )
    hot = abs((turbo.turbine_flow + turbo.gate_flow) / exhaust - 1.0)
    return Sheet(
        key="closure_mass",
        title="Flow residual",
        result=Figure(max(cold, hot), "closure"),
        relation="e = max(|ln(m_v / m)|, |(m_t + m_g) / m_e − 1|)",
        lines=(
            *lines,
            Line("m_t", "gas through the turbine", Figure(turbo.turbine_flow, "mass_flow"), "turbine_flow"),
            Line("m_g", "gas past it", Figure(turbo.gate_flow, "mass_flow"), "gate_flow"),
            Line("m_e", "exhaust gas", Figure(exhaust, "mass_flow"), "exhaust_flow"),
        ),
        source=_SOLVED + "1e-6",
    )


def _pressure(solver: Solver, point: Point) -> Sheet:
    """Pairs of pressures that have to be one."""
    at = point.stations
    run = [s for s in point.stretches if s.section == MANIFOLD]
    before = run[0].pressure_in if run else at[TURBINE_INLET].pressure
    pairs = [
        ("p_m", "pressure needed before the manifold", before, ""),
        ("p_3", "exhaust port", at[EXHAUST_PORT].pressure, "pressure:exhaust_port"),
    ]
    if point.turbo.regime == "holding":
        wanted = solver.path.site.pressure + point.wanted_boost
        pairs += [("p_p", "plenum", at[PLENUM].pressure, "pressure:plenum"), ("p_w", "wastegate demand", wanted, "")]
    if solver.path.blower is not None:
        pairs += [
            ("p_4", "end of the manifold", at[TURBINE_INLET].pressure, ""),
            ("p_5", "beginning of the exhaust", at[TURBINE_OUTLET].pressure, "pressure:turbine_outlet"),
        ]
    both = list(zip(pairs[::2], pairs[1::2], strict=True))
    terms = ", ".join(f"|ln({one[0]} / {two[0]})|" for one, two in both)
    return Sheet(
        key="closure_pressure",
        title="Pressure residual",
        result=Figure(max(abs(math.log(one[2] / two[2])) for one, two in both), "closure"),
        relation=f"e = max({terms})",
        lines=tuple(Line(symbol, words + ", absolute", Figure(value, "pressure_absolute"), sheet) for symbol, words, value, sheet in pairs),
        source=_SOLVED + "1e-6",
    )


SHEETS: dict[str, Maker] = {"closure_energy": _energy, "closure_shaft": _shaft, "closure_mass": _mass, "closure_pressure": _pressure}
OF_TURBO = {"closure_shaft"}

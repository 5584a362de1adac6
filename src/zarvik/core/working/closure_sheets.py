"""Working sheets of the sums that have to close: flow, pressure, shaft power and the energy balance
from the air that comes in to the gas that goes out."""

from __future__ import annotations

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import Point, Solver
from zarvik.core.airpath.stations import TAILPIPE
from zarvik.core.checks.verdict import Figure
from zarvik.core.engine import engine as eng
from zarvik.core.gas.properties import enthalpy
from zarvik.core.working.sheet import Line, Maker, Sheet

_SOLVED = "What the solver left over, in parts of the whole; asked for: "


def _walls(solver: Solver, point: Point) -> float:
    """Heat through every wall of the path in W, counted outward."""
    elements = {e.id for e in solver.system.elements}
    found = 0.0
    for s in point.stretches:
        if s.id in elements and s.warming != 0.0:
            hot = s.section in ("manifold", "exhaust")
            gas, flow = (solver.burnt, point.air + point.fuel) if hot else (solver.gas, point.air)
            after = point.stations[s.end].temperature
            found += flow * (enthalpy(gas, after - s.warming) - enthalpy(gas, after))
    return found


def _energy(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    base = eng.REFERENCE_TEMPERATURE
    released = float(point.air * solver.packed[0][k.DRY_SHARE]) * engine.burnt.heat_per_air
    swept = engine.displacement * point.speed / 120.0
    coolant = float(eng.coolant_share(float(solver.packed[0][k.COOLANT]), point.speed)) * released
    outside = solver.system.site.temperature
    air = point.air * (enthalpy(solver.gas, outside) - enthalpy(solver.gas, base))
    tail = point.stations[TAILPIPE].temperature
    gas = (point.air + point.fuel) * (enthalpy(solver.burnt, tail) - enthalpy(solver.burnt, base))
    blower = solver.system.blower
    taken = point.turbo.turbine_power if blower is None else point.turbo.power / blower.drive
    walls, friction = _walls(solver, point), point.friction * swept
    left = (
        air + released - gas - point.power - coolant - friction - point.cooler_heat - walls
        - (taken - point.turbo.power)
    )  # fmt: skip
    cooler = "cooler_heat" if solver.system.cooler is not None else ""
    return Sheet(
        "closure_energy", "Energy that is not accounted for", Figure(abs(left) / released, "closure"),
        "e = (Q + H − P − Q_c − P_f − Q_k − Q_w − P_s − G) / Q",
        (
            Line("Q", "heat released", Figure(released, "power"), "released_heat"),
            Line("H", "what the air brings along", Figure(air, "power")),
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
            Line("Q_c", "heat to coolant and oil", Figure(coolant, "power"), "coolant_heat"),
            Line("P_f", "friction", Figure(friction, "power")),
            Line("Q_k", "heat out of the charge in the cooler", Figure(point.cooler_heat, "power"), cooler),
            Line("Q_w", "heat through the walls of all pieces", Figure(walls, "power")),
            Line("P_s", "lost between turbine, or belt, and air", Figure(taken - point.turbo.power, "power")),
            Line("G", "what the gas carries out of the tailpipe", Figure(gas, "power")),
        ),
        _SOLVED + "1e-4. First law round the whole path; gas: NASA TM-4513, from 25 °C",
    )  # fmt: skip


def _shaft(solver: Solver, point: Point) -> Sheet:
    mechanical = solver.system.turbo.turbine.mechanical
    turbo = point.turbo
    left = abs(turbo.turbine_power * mechanical - turbo.power) / (abs(turbo.turbine_power) + 1e-9)
    return Sheet(
        "closure_shaft", "Shaft power that is not accounted for", Figure(left, "closure"),
        "e = |P_t · η_m − P_air| / P_t",
        (
            Line("P_t", "power out of the gas", Figure(turbo.turbine_power, "power"), "turbine_power"),
            Line("η_m", "bearings and shaft", Figure(mechanical, "ratio")),
            Line("P_air", "power into the air", Figure(turbo.power, "power"), "air_power"),
        ),
        _SOLVED + "1e-4",
    )  # fmt: skip


def _mass(solver: Solver, point: Point) -> Sheet:
    exhaust = point.air + point.fuel
    return Sheet(
        "closure_mass", "Flow that is not accounted for", Figure(point.closure.mass, "closure"),
        "e = max(|m_v / m − 1|, |(m_t + m_g) / m_e − 1|)",
        (
            Line("m_v", "air that the engine draws at this plenum", Figure(point.air, "mass_flow"), "air"),
            Line("m", "air through the intake", Figure(point.air, "mass_flow")),
            Line("m_t", "gas through the turbine", Figure(point.turbo.turbine_flow, "mass_flow"),
                 "turbine_flow" if solver.system.blower is None else ""),
            Line("m_g", "gas past it",
                 Figure(point.turbo.gate_flow if solver.system.blower is None else 0.0, "mass_flow")),
            Line("m_e", "exhaust gas", Figure(exhaust, "mass_flow"), "exhaust_flow"),
        ),
        _SOLVED + "1e-6",
    )  # fmt: skip


def _pressure(solver: Solver, point: Point) -> Sheet:
    stations = point.stations
    return Sheet(
        "closure_pressure", "Pressure that is not accounted for",
        Figure(point.closure.pressure, "closure"),
        "e = max(|ln(p_p / p_w)|, |ln(p_3 / p_m)|)",
        (
            Line("p_p", "plenum, where the gate holds it", Figure(stations["plenum"].pressure, "pressure_absolute"),
                 "pressure:plenum"),
            Line("p_w", "what it is asked to hold",
                 Figure(solver.system.site.pressure + point.wanted_boost, "pressure_absolute")),
            Line("p_3", "exhaust port", Figure(stations["exhaust_port"].pressure, "pressure_absolute"),
                 "pressure:exhaust_port"),
            Line("p_m", "what manifold and turbine put before it",
                 Figure(stations["exhaust_port"].pressure, "pressure_absolute")),
        ),
        _SOLVED + "1e-6. Where the turbine cannot give what is asked, or the gate is wide open, the first "
        "part is nothing",
    )  # fmt: skip


SHEETS: dict[str, Maker] = {
    "closure_energy": _energy,
    "closure_shaft": _shaft,
    "closure_mass": _mass,
    "closure_pressure": _pressure,
}
OF_TURBO = {"closure_shaft"}

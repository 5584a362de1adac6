"""Working sheets of compressor, turbine, shaft, gate and blower."""

from __future__ import annotations

import math

from zarvik.core.airpath.solution import Point, Solver
from zarvik.core.checks.verdict import Figure
from zarvik.core.compressor import lookup
from zarvik.core.gas.properties import (
    enthalpy,
    heat_capacity,
    heat_capacity_ratio,
    isentropic_temperature,
)
from zarvik.core.turbine import turbine as turbines
from zarvik.core.valves.wastegate import bypassed
from zarvik.core.working.sheet import Line, Maker, Sheet


def _outlet(solver: Solver, point: Point) -> Sheet:
    inlet = point.stations["compressor_inlet"].temperature
    ideal = isentropic_temperature(solver.gas, inlet, point.turbo.ratio)
    cp = heat_capacity(solver.gas, 0.5 * (inlet + ideal))
    rise = cp * (ideal - inlet) / point.turbo.efficiency
    after = heat_capacity(solver.gas, inlet + 0.5 * rise / cp)
    return Sheet(
        "compressor_outlet", "Air behind the compressor", Figure(inlet + rise / after, "temperature"),
        "T2 = T1 + (T2s − T1) / η",
        (
            Line("T1", "inlet temperature", Figure(inlet, "temperature")),
            Line("T2s", "after an ideal compression by the ratio", Figure(ideal, "temperature")),
            Line("η", "compressor efficiency, from the map", Figure(point.turbo.efficiency, "ratio"), "efficiency"),
        ),
        "Definition of isentropic efficiency, SAE J1826; gas: NASA TM-4513",
    )  # fmt: skip


def _corrected_flow(solver: Solver, point: Point) -> Sheet:
    chart = solver.system.turbo.chart
    inlet = point.stations["compressor_inlet"]
    flow = (
        point.air / solver.system.turbo.count
        * math.sqrt(inlet.temperature / chart.reference_temperature)
        / (inlet.pressure / chart.reference_pressure)
    )  # fmt: skip
    return Sheet(
        "corrected_flow", "Corrected flow of one compressor", Figure(flow, "mass_flow"),
        "m_c = m / z · √(T1 / T_ref) / (p1 / p_ref)",
        (
            Line("m", "air", Figure(point.air, "mass_flow"), "air"),
            Line("z", "compressors side by side", Figure(float(solver.system.turbo.count), "count")),
            Line("T1", "inlet temperature", Figure(inlet.temperature, "temperature")),
            Line("p1", "inlet pressure, absolute", Figure(inlet.pressure, "pressure_absolute")),
            Line("T_ref", "of the map", Figure(chart.reference_temperature, "temperature")),
            Line("p_ref", "of the map", Figure(chart.reference_pressure, "pressure_absolute")),
        ),
        "SAE J1826",
    )  # fmt: skip


def _shaft(solver: Solver, point: Point) -> Sheet:
    turbine = solver.system.turbo.turbine
    return Sheet(
        "shaft", "Power into the air", Figure(point.turbo.turbine_power * turbine.mechanical, "power"),
        "P_c = η_m · P_t",
        (
            Line("P_t", "turbine power from the gas", Figure(point.turbo.turbine_power, "power"), "turbine_power"),
            Line("η_m", "bearings and shaft", Figure(turbine.mechanical, "ratio")),
        ),
        "Steady shaft; Watson & Janota 1982, ch. 5",
    )  # fmt: skip




def _tip(solver: Solver, point: Point) -> float:
    return math.pi * solver.system.turbo.turbine.wheel * point.turbo.real_speed / 60.0


def _ratio(solver: Solver, point: Point) -> Sheet:
    inlet = point.stations["compressor_inlet"].pressure
    outlet = point.stations["compressor_outlet"].pressure
    return Sheet(
        "pressure_ratio", "Pressure ratio of the compressor", Figure(outlet / inlet, "number"),
        "Π = p2 / p1",
        (
            Line("p2", "behind the compressor, absolute", Figure(outlet, "pressure_absolute")),
            Line("p1", "before it, absolute", Figure(inlet, "pressure_absolute")),
        ),
        "SAE J1826; total to total",
    )  # fmt: skip


def _efficiency(solver: Solver, point: Point) -> Sheet:
    turbo = point.turbo
    chart = solver.system.turbo.chart
    lines, points = lookup.pack(chart)
    speed = turbo.speed / chart.maximum_speed
    found, place = lookup.efficiency_at(lines, points, speed, turbo.flow)
    return Sheet(
        "efficiency", "Compressor efficiency", Figure(float(found), "ratio"),
        "η = map(n_c, m_c)",
        (
            Line("n_c", "corrected speed", Figure(turbo.speed, "rotation")),
            Line("m_c", "corrected flow", Figure(turbo.flow, "mass_flow"), "corrected_flow"),
            Line("s", "place on the speed line: 0 surge, 1 choke", Figure(float(place), "number")),
        ),
        "The map itself; monotone cubics between its points (Fritsch & Carlson 1980)",
    )  # fmt: skip


def _surge(solver: Solver, point: Point) -> Sheet:
    turbo = point.turbo
    return Sheet(
        "surge", "Margin to surge", Figure(turbo.flow / turbo.surge_flow - 1.0, "ratio"),
        "a = m_c / m_s − 1",
        (
            Line("m_c", "corrected flow", Figure(turbo.flow, "mass_flow"), "corrected_flow"),
            Line("m_s", "surge flow at the same pressure ratio", Figure(turbo.surge_flow, "mass_flow")),
        ),
        "The map's surge line; 10 % in hand: common practice, no source",
    )  # fmt: skip


def _choke(solver: Solver, point: Point) -> Sheet:
    turbo = point.turbo
    return Sheet(
        "choke", "Margin to choke", Figure(1.0 - turbo.flow / turbo.flow_limit, "ratio"),
        "b = 1 − m_c / m_k",
        (
            Line("m_c", "corrected flow", Figure(turbo.flow, "mass_flow"), "corrected_flow"),
            Line("m_k", "right edge of the map at the same ratio", Figure(turbo.flow_limit, "mass_flow")),
        ),
        "The map's right edge; 10 % in hand: common practice, no source",
    )  # fmt: skip


def _speed(solver: Solver, point: Point) -> Sheet:
    turbo = point.turbo
    if solver.system.blower is not None:
        blower = solver.system.blower
        return Sheet(
            "wheel_speed", "Speed of the rotors", Figure(blower.ratio * point.speed, "rotation"),
            "n_b = i · n",
            (
                Line("i", "blower turns for one of the crank", Figure(blower.ratio, "number")),
                Line("n", "engine speed", Figure(point.speed, "rotation")),
            ),
            "Definition",
        )  # fmt: skip
    inlet = point.stations["compressor_inlet"].temperature
    reference = solver.system.turbo.chart.reference_temperature
    return Sheet(
        "wheel_speed", "Speed of the wheel",
        Figure(turbo.speed * math.sqrt(inlet / reference), "rotation"),
        "n_w = n_c · √(T1 / T_ref)",
        (
            Line("n_c", "corrected speed, from the map at ratio and flow", Figure(turbo.speed, "rotation")),
            Line("T1", "inlet temperature", Figure(inlet, "temperature")),
            Line("T_ref", "of the map", Figure(reference, "temperature")),
        ),
        "SAE J1826",
    )  # fmt: skip


def _expansion(solver: Solver, point: Point) -> Sheet:
    before = point.stations["turbine_inlet"].pressure
    behind = point.stations["turbine_outlet"].pressure
    return Sheet(
        "expansion", "Expansion ratio of the turbine", Figure(before / behind, "number"),
        "E = p4 / p5",
        (
            Line("p4", "before the turbine, absolute", Figure(before, "pressure_absolute")),
            Line("p5", "behind it, absolute", Figure(behind, "pressure_absolute")),
        ),
        "Inlet total; the head at the exducer is lost, so p5 counts as total from there on",
    )  # fmt: skip


def _blade_ratio(solver: Solver, point: Point) -> Sheet:
    hot = point.stations["turbine_inlet"]
    gas = solver.burnt
    cold = isentropic_temperature(gas, hot.temperature, 1.0 / point.turbo.expansion)
    spouting = math.sqrt(2.0 * max(enthalpy(gas, hot.temperature) - enthalpy(gas, cold), 1e-9))
    tip = _tip(solver, point)
    return Sheet(
        "blade_ratio", "Blade-speed ratio of the turbine", Figure(tip / spouting, "number"),
        "ν = u / c0",
        (
            Line("u", "tip speed of the wheel", Figure(tip, "velocity"), "wheel_speed"),
            Line("c0", "speed of an ideal expansion from T4 by E", Figure(spouting, "velocity")),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "port_temperature"),
            Line("E", "expansion ratio", Figure(point.turbo.expansion, "number"), "expansion"),
        ),
        "Watson & Janota 1982, ch. 4",
    )  # fmt: skip


def _turbine_efficiency(solver: Solver, point: Point) -> Sheet:
    packed = solver.packed[8]
    nu = point.turbo.blade_ratio
    return Sheet(
        "turbine_efficiency", "Turbine efficiency, total to static",
        Figure(float(turbines.efficiency_at(packed, nu)), "ratio"),
        "η_t = η_b · (ν / ν_b) · (2 − ν / ν_b)",
        (
            Line("η_b", "best efficiency of this turbine", Figure(float(packed[turbines.BEST]), "ratio")),
            Line("ν", "blade-speed ratio", Figure(nu, "number"), "blade_ratio"),
            Line("ν_b", "blade-speed ratio where it is best", Figure(float(packed[turbines.BEST_RATIO]), "number")),
        ),
        "Parabola over the blade-speed ratio: Watson & Janota 1982, fig. 4.16, in form",
    )  # fmt: skip


def _turbine_power(solver: Solver, point: Point) -> Sheet:
    hot = point.stations["turbine_inlet"]
    gas = solver.burnt
    cold = isentropic_temperature(gas, hot.temperature, 1.0 / point.turbo.expansion)
    head = enthalpy(gas, hot.temperature) - enthalpy(gas, cold)
    power = point.turbo.turbine_flow * point.turbo.turbine_efficiency * head
    mean = head / max(hot.temperature - cold, 1e-9)
    return Sheet(
        "turbine_power", "Power out of the gas", Figure(power, "power"),
        "P_t = m_t · η_t · c_p · (T4 − T5s)",
        (
            Line("m_t", "gas through the turbine", Figure(point.turbo.turbine_flow, "mass_flow"), "turbine_flow"),
            Line("η_t", "turbine efficiency", Figure(point.turbo.turbine_efficiency, "ratio"), "turbine_efficiency"),
            Line("c_p", "of the gas between the two, J/(g K)", Figure(mean / 1000.0, "number")),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "port_temperature"),
            Line("T5s", "after an ideal expansion", Figure(cold, "temperature")),
        ),
        "Definition of total-to-static efficiency; gas: NASA TM-4513",
    )  # fmt: skip


def _turbine_flow(solver: Solver, point: Point) -> Sheet:
    hot, behind = point.stations["turbine_inlet"], point.stations["turbine_outlet"].pressure
    packed = solver.packed[8]
    flow = turbines.swallowed(
        packed, solver.burnt, hot.pressure, hot.temperature, behind, _tip(solver, point)
    )
    gamma = heat_capacity_ratio(solver.burnt, hot.temperature)
    share = turbines.nozzle_function(math.sqrt(max(point.turbo.expansion, 1.0)), gamma)
    return Sheet(
        "turbine_flow", "Gas that the turbine swallows", Figure(float(flow), "mass_flow"),
        "m_t = z · A · p4 / √(R · T4) · Φ · (1 − 0.10 · (u / a)²)",
        (
            Line("z", "turbines side by side", Figure(float(packed[turbines.COUNT]), "count")),
            Line("A", "throat and exducer as two nozzles in series", Figure(float(packed[turbines.AREA]), "area")),
            Line("p4", "before the turbine, absolute", Figure(hot.pressure, "pressure_absolute")),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "port_temperature"),
            Line("Φ", "nozzle function at the root of the expansion ratio", Figure(float(share), "number")),
            Line("u", "tip speed of the wheel", Figure(_tip(solver, point), "velocity"), "wheel_speed"),
        ),
        "NACA 1135; two nozzles in series: Watson & Janota 1982, ch. 4, in form",
    )  # fmt: skip


def _gate_flow(solver: Solver, point: Point) -> Sheet:
    hot, behind = point.stations["turbine_inlet"], point.stations["turbine_outlet"].pressure
    area = solver.system.gate.area
    flow = bypassed(
        point.turbo.opening * area, solver.burnt, hot.pressure, hot.temperature, behind
    )
    gamma = heat_capacity_ratio(solver.burnt, hot.temperature)
    share = turbines.nozzle_function(point.turbo.expansion, gamma)
    return Sheet(
        "gate_flow", "Gas past the turbine", Figure(float(flow), "mass_flow"),
        "m_g = x · A_g · p4 / √(R · T4) · Φ",
        (
            Line("x", "opening that holds the boost", Figure(point.turbo.opening, "ratio")),
            Line("A_g", "effective area of the gates at full lift", Figure(area, "area")),
            Line("p4", "before the turbine, absolute", Figure(hot.pressure, "pressure_absolute")),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "port_temperature"),
            Line("Φ", "nozzle function at the expansion ratio", Figure(float(share), "number")),
        ),
        "Isentropic orifice, NACA 1135",
    )  # fmt: skip


SHEETS: dict[str, Maker] = {
    "pressure_ratio": _ratio,
    "efficiency": _efficiency,
    "corrected_flow": _corrected_flow,
    "wheel_speed": _speed,
    "surge": _surge,
    "choke": _choke,
    "compressor_outlet": _outlet,
    "shaft": _shaft,
    "expansion": _expansion,
    "blade_ratio": _blade_ratio,
    "turbine_efficiency": _turbine_efficiency,
    "turbine_power": _turbine_power,
    "turbine_flow": _turbine_flow,
    "gate_flow": _gate_flow,
}
WITHOUT_TURBO = {"pressure_ratio", "wheel_speed", "compressor_outlet"}

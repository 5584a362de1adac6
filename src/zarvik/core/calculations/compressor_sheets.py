"""Working sheets of compressor, shaft and blower."""

from __future__ import annotations

import math

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.belt_sheets import belt_slip
from zarvik.core.calculations.sheet import Line, Maker, Sheet, mean_capacity
from zarvik.core.common.sentences import Figure
from zarvik.core.compressor import lookup
from zarvik.core.engine.blower import blower_efficiency
from zarvik.core.gas.properties import enthalpy, isentropic_temperature, temperature_of_enthalpy
from zarvik.core.relations.engine import BLOWER_HEAT
from zarvik.core.relations.turbo import MAP


def _ratio(solver: Solver, point: Point) -> Sheet:
    inlet = point.stations["compressor_inlet"].pressure
    outlet = point.stations["compressor_outlet"].pressure
    return Sheet(
        key="pressure_ratio",
        title="Compressor pressure ratio",
        result=Figure(outlet / inlet, "number"),
        relation="Π = p2 / p1",
        lines=(
            Line("p2", "compressor outlet, absolute", Figure(outlet, "pressure_absolute")),
            Line("p1", "before it, absolute", Figure(inlet, "pressure_absolute"), "pressure:compressor_inlet"),
        ),
        source="SAE J1826; total to total",
    )


def _outlet(solver: Solver, point: Point) -> Sheet:
    inlet = point.taken
    warmed = inlet > point.stations["compressor_inlet"].temperature + 1e-6
    found = point.stations["compressor_outlet"].temperature
    gas = solver.gas
    ideal = isentropic_temperature(gas, inlet, point.turbo.ratio)
    head = enthalpy(gas, ideal) - enthalpy(gas, inlet)
    driven = point.turbo.ratio < 1.0
    work = head * point.turbo.efficiency if driven else head / point.turbo.efficiency
    out = temperature_of_enthalpy(gas, enthalpy(gas, inlet) + work, found)
    cp = mean_capacity(gas, inlet, out)
    return Sheet(
        key="compressor_outlet",
        title="Compressor outlet temperature",
        result=Figure(float(out), "temperature"),
        relation="T2 = T1 + Δh · η / c_p" if driven else "T2 = T1 + Δh / (η · c_p)",
        lines=(
            Line(
                "T1",
                "air taken in, with bypass air" if warmed else "inlet temperature",
                Figure(inlet, "temperature"),
                "" if warmed else "temperature:compressor_inlet",
            ),
            Line("Δh", "enthalpy of an ideal compression by the ratio, kJ/kg", Figure(head / 1000.0, "number")),
            Line("η", "compressor efficiency", Figure(point.turbo.efficiency, "ratio"), "efficiency"),
            Line("c_p", "of the air between the two, J/(g K)", Figure(cp / 1000.0, "number")),
            Line("Π", "pressure ratio of Δh", Figure(point.turbo.ratio, "number"), "pressure_ratio"),
        ),
        source="Definition of isentropic efficiency, SAE J1826; gas: NASA TM-4513",
    )


def _efficiency(solver: Solver, point: Point) -> Sheet:
    turbo = point.turbo
    blower = solver.path.blower
    if blower is not None:
        return Sheet(
            key="efficiency",
            title="Blower adiabatic efficiency",
            result=Figure(float(blower_efficiency(blower.adiabatic, blower.fall, turbo.ratio)), "ratio"),
            relation="η = η_0 − f · (Π − 1)",
            lines=(
                Line("η_0", "at pressure ratio 1", Figure(blower.adiabatic, "ratio")),
                Line("f", "its fall for a unit of pressure ratio", Figure(blower.fall, "ratio")),
                Line("Π", "pressure ratio", Figure(turbo.ratio, "number"), "pressure_ratio"),
            ),
            source=BLOWER_HEAT.source,
        )
    chart = solver.path.turbo.chart
    lines, points = lookup.pack(chart)
    speed = turbo.speed / chart.maximum_speed
    found, place = lookup.efficiency_at(lines, points, speed, turbo.flow)
    return Sheet(
        key="efficiency",
        title="Compressor efficiency",
        result=Figure(float(found), "ratio"),
        relation="η = map(n_c, m_c)",
        lines=(
            Line("n_c", "corrected speed", Figure(turbo.speed, "rotation"), "corrected_speed"),
            Line("m_c", "corrected flow", Figure(turbo.flow, "mass_flow"), "corrected_flow"),
            Line("s", "position on the speed line: 0 surge, 1 choke", Figure(float(place), "number")),
        ),
        source=MAP.source,
    )


def _corrected_flow(solver: Solver, point: Point) -> Sheet:
    chart = solver.path.turbo.chart
    inlet = point.stations["compressor_inlet"]
    flow = (
        point.air
        / solver.path.turbo.count
        * math.sqrt(inlet.temperature / chart.reference_temperature)
        / (inlet.pressure / chart.reference_pressure)
    )
    return Sheet(
        key="corrected_flow",
        title="Corrected flow, each compressor",
        result=Figure(flow, "mass_flow"),
        relation="m_c = m / z · √(T1 / T_ref) / (p1 / p_ref)",
        lines=(
            Line("m", "air", Figure(point.air, "mass_flow"), "air"),
            Line("z", "compressors side by side", Figure(float(solver.path.turbo.count), "count")),
            Line("T1", "inlet temperature", Figure(inlet.temperature, "temperature"), "temperature:compressor_inlet"),
            Line("p1", "inlet pressure, absolute", Figure(inlet.pressure, "pressure_absolute"), "pressure:compressor_inlet"),
            Line("T_ref", "of the map", Figure(chart.reference_temperature, "temperature")),
            Line("p_ref", "of the map", Figure(chart.reference_pressure, "pressure_absolute")),
        ),
        source="SAE J1826",
    )


def _corrected_speed(solver: Solver, point: Point) -> Sheet:
    turbo, chart = point.turbo, solver.path.turbo.chart
    lines, points = lookup.pack(chart)
    speed, _, _ = lookup.inverse(lines, points, turbo.flow, turbo.ratio, 0.0)
    return Sheet(
        key="corrected_speed",
        title="Corrected wheel speed",
        result=Figure(float(speed) * chart.maximum_speed, "rotation"),
        relation="n_c = map(Π, m_c)",
        lines=(
            Line("Π", "pressure ratio", Figure(turbo.ratio, "number"), "pressure_ratio"),
            Line("m_c", "corrected flow", Figure(turbo.flow, "mass_flow"), "corrected_flow"),
        ),
        source="The map itself: the speed whose line passes there",
    )


def _speed(solver: Solver, point: Point) -> Sheet:
    turbo = point.turbo
    if solver.path.blower is not None:
        blower = solver.path.blower
        behind = belt_slip(solver, point)
        return Sheet(
            key="wheel_speed",
            title="Rotor speed",
            result=Figure(blower.ratio * point.speed * (1.0 - behind), "rotation"),
            relation="n_b = i · n · (1 − s)",
            lines=(
                Line("i", "blower turns for one of the crank", Figure(blower.ratio, "number")),
                Line("n", "engine speed", Figure(point.speed, "rotation")),
                Line("s", "slip from belt stretch", Figure(behind, "ratio"), "belt_slip"),
            ),
            source="Definition",
        )
    inlet = point.stations["compressor_inlet"].temperature
    reference = solver.path.turbo.chart.reference_temperature
    return Sheet(
        key="wheel_speed",
        title="Wheel speed",
        result=Figure(turbo.speed * math.sqrt(inlet / reference), "rotation"),
        relation="n_w = n_c · √(T1 / T_ref)",
        lines=(
            Line("n_c", "corrected speed, from the map at ratio and flow", Figure(turbo.speed, "rotation"), "corrected_speed"),
            Line("T1", "inlet temperature", Figure(inlet, "temperature"), "temperature:compressor_inlet"),
            Line("T_ref", "of the map", Figure(reference, "temperature")),
        ),
        source="SAE J1826",
    )


def _overspeed(solver: Solver, point: Point) -> Sheet:
    turbo, blower = point.turbo, solver.path.blower
    most = blower.maximum_speed if blower else solver.path.turbo.chart.maximum_speed
    return Sheet(
        key="overspeed",
        title="Speed margin",
        result=Figure(1.0 - turbo.speed / most, "ratio"),
        relation="o = 1 − n_c / n_max",
        lines=(
            Line(
                "n_c",
                "speed of the rotors" if blower else "corrected speed of the wheel",
                Figure(turbo.speed, "rotation"),
                "wheel_speed" if blower else "corrected_speed",
            ),
            Line("n_max", "the most it may turn", Figure(most, "rotation")),
        ),
        source="5 % reserve: common practice, no source. Overspeed can burst a wheel",
    )


def _surge(solver: Solver, point: Point) -> Sheet:
    turbo = point.turbo
    return Sheet(
        key="surge",
        title="Surge margin",
        result=Figure(turbo.flow / turbo.surge_flow - 1.0, "ratio"),
        relation="a = m_c / m_s − 1",
        lines=(
            Line("m_c", "corrected flow", Figure(turbo.flow, "mass_flow"), "corrected_flow"),
            Line("m_s", "surge flow at the same pressure ratio", Figure(turbo.surge_flow, "mass_flow"), "surge_flow"),
        ),
        source="The map's surge line; 10 % reserve: common practice, no source",
    )


def _edge(key: str, title: str, symbol: str, words: str) -> Maker:
    def maker(solver: Solver, point: Point) -> Sheet:
        chart, ratio = solver.path.turbo.chart, point.turbo.ratio
        found = chart.surge_flow(ratio) if key == "surge_flow" else chart.flow_limit(ratio)
        return Sheet(
            key=key,
            title=title,
            result=Figure(float(found), "mass_flow"),
            relation=f"{symbol} = map(Π)",
            lines=(Line("Π", "pressure ratio", Figure(ratio, "number"), "pressure_ratio"),),
            source=f"The map itself: {words} at this ratio",
        )

    return maker


def _choke(solver: Solver, point: Point) -> Sheet:
    turbo = point.turbo
    return Sheet(
        key="choke",
        title="Choke margin",
        result=Figure(1.0 - turbo.flow / turbo.flow_limit, "ratio"),
        relation="b = 1 − m_c / m_k",
        lines=(
            Line("m_c", "corrected flow", Figure(turbo.flow, "mass_flow"), "corrected_flow"),
            Line("m_k", "right edge of the map at the same ratio", Figure(turbo.flow_limit, "mass_flow"), "flow_limit"),
        ),
        source="The map's right edge; 10 % reserve: common practice, no source",
    )


def _shaft(solver: Solver, point: Point) -> Sheet:
    blower = solver.path.blower
    if blower is not None:
        return Sheet(
            key="shaft",
            title="Belt power",
            result=Figure(point.turbo.power / blower.drive, "power"),
            relation="P_belt = P_air / η_d",
            lines=(
                Line("P_air", "power into the air", Figure(point.turbo.power, "power"), "air_power"),
                Line("η_d", "belt and gears", Figure(blower.drive, "ratio")),
            ),
            source="Definition",
        )
    turbine = solver.path.turbo.turbine
    return Sheet(
        key="shaft",
        title="Power into the air",
        result=Figure(point.turbo.turbine_power * turbine.mechanical, "power"),
        relation="P_c = η_m · P_t",
        lines=(
            Line("P_t", "turbine power from the gas", Figure(point.turbo.turbine_power, "power"), "turbine_power"),
            Line("η_m", "bearings and shaft", Figure(turbine.mechanical, "ratio")),
        ),
        source="Steady shaft; Watson & Janota 1982, ch. 5",
    )


def _air_power(solver: Solver, point: Point) -> Sheet:
    inlet = point.stations["compressor_inlet"].temperature
    outlet = point.stations["compressor_outlet"].temperature
    cp = mean_capacity(solver.gas, inlet, outlet)
    return Sheet(
        key="air_power",
        title="Power into the air",
        result=Figure(point.air * cp * (outlet - inlet), "power"),
        relation="P_air = m · c_p · (T2 − T1)",
        lines=(
            Line("m", "air", Figure(point.air, "mass_flow"), "air"),
            Line("c_p", "of the air between the two, J/(g K)", Figure(cp / 1000.0, "number")),
            Line("T2", "compressor outlet", Figure(outlet, "temperature"), "compressor_outlet"),
            Line("T1", "before it", Figure(inlet, "temperature"), "temperature:compressor_inlet"),
        ),
        source="Energy balance; gas: NASA TM-4513",
    )


SHEETS: dict[str, Maker] = {
    "pressure_ratio": _ratio,
    "efficiency": _efficiency,
    "corrected_flow": _corrected_flow,
    "corrected_speed": _corrected_speed,
    "wheel_speed": _speed,
    "overspeed": _overspeed,
    "surge": _surge,
    "surge_flow": _edge("surge_flow", "Flow at the surge line", "m_s", "the surge line"),
    "choke": _choke,
    "flow_limit": _edge("flow_limit", "Flow at choke", "m_k", "the right edge"),
    "compressor_outlet": _outlet,
    "air_power": _air_power,
    "shaft": _shaft,
}
OF_MAP = {"corrected_flow", "corrected_speed", "surge", "surge_flow", "choke", "flow_limit"}

"""Working sheets of turbine and gate, and of a blower's bypass."""

from __future__ import annotations

import math

from zarvik.core.airpath.exhaust_pulses import pulsed_entries
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.belt_sheets import belt_slip
from zarvik.core.calculations.sheet import Line, Maker, Sheet
from zarvik.core.common.sentences import Figure
from zarvik.core.engine.blower import Blower, delivered_flow
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, heat_capacity_ratio, isentropic_temperature
from zarvik.core.relations.engine import BLOWER
from zarvik.core.relations.turbo import GATE, PULSES, TURBINE_EFFICIENCY, TURBINE_FLOW
from zarvik.core.turbine import pulses
from zarvik.core.turbine import turbine as turbines
from zarvik.core.turbine.turbine import VOLUTE
from zarvik.core.wastegate.wastegate_flow import bypassed


def _tip(solver: Solver, point: Point) -> float:
    return math.pi * solver.path.turbo.turbine.wheel * point.turbo.real_speed / 60.0


def _tip_speed(solver: Solver, point: Point) -> Sheet:
    wheel = solver.path.turbo.turbine.wheel
    return Sheet(
        key="tip_speed",
        title="Turbine wheel tip speed",
        result=Figure(_tip(solver, point), "velocity"),
        relation="u = π · D · n_w",
        lines=(
            Line("D", "tip of the turbine wheel", Figure(wheel, "length")),
            Line("n_w", "speed of the wheel", Figure(point.turbo.real_speed, "rotation"), "wheel_speed"),
        ),
        source="Geometry",
    )


def _expansion(solver: Solver, point: Point) -> Sheet:
    before = point.stations["turbine_inlet"].pressure
    behind = point.stations["turbine_outlet"].pressure
    return Sheet(
        key="expansion",
        title="Turbine expansion ratio",
        result=Figure(before / behind, "number"),
        relation="E = p4 / p5",
        lines=(
            Line("p4", "before the turbine, absolute", Figure(before, "pressure_absolute"), "pressure:turbine_inlet"),
            Line("p5", "after it, absolute", Figure(behind, "pressure_absolute"), "pressure:turbine_outlet"),
        ),
        source="Inlet total; the head at the exducer is lost, so p5 counts as total from there on",
    )


def _blade_ratio(solver: Solver, point: Point) -> Sheet:
    hot = point.stations["turbine_inlet"]
    gas = solver.burnt
    cold = isentropic_temperature(gas, hot.temperature, 1.0 / point.turbo.expansion)
    spouting = math.sqrt(2.0 * max(enthalpy(gas, hot.temperature) - enthalpy(gas, cold), 1e-9))
    tip = _tip(solver, point)
    return Sheet(
        key="blade_ratio",
        title="Turbine blade-speed ratio",
        result=Figure(tip / spouting, "number"),
        relation="ν = u / c0",
        lines=(
            Line("u", "tip speed of the wheel", Figure(tip, "velocity"), "tip_speed"),
            Line("c0", "speed of an ideal expansion from T4 by E", Figure(spouting, "velocity")),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "temperature:turbine_inlet"),
            Line("E", "expansion ratio", Figure(point.turbo.expansion, "number"), "expansion"),
        ),
        source="Watson & Janota 1982, ch. 4",
    )


def _turbine_efficiency(solver: Solver, point: Point) -> Sheet:
    packed = solver.turbine_numbers
    nu = point.turbo.blade_ratio
    return Sheet(
        key="turbine_efficiency",
        title="Turbine efficiency, total to static",
        result=Figure(float(turbines.efficiency_at(packed, nu)), "ratio"),
        relation="η_t = η_b · (ν / ν_b) · (2 − ν / ν_b)",
        lines=(
            Line("η_b", "best efficiency of this turbine", Figure(float(packed[turbines.BEST]), "ratio")),
            Line("ν", "blade-speed ratio", Figure(nu, "number"), "blade_ratio"),
            Line("ν_b", "blade-speed ratio where it is best", Figure(float(packed[turbines.BEST_RATIO]), "number")),
        ),
        source=TURBINE_EFFICIENCY.source,
    )


def _turbine_power(solver: Solver, point: Point) -> Sheet:
    hot = point.stations["turbine_inlet"]
    gas = solver.burnt
    cold = isentropic_temperature(gas, hot.temperature, 1.0 / point.turbo.expansion)
    head = enthalpy(gas, hot.temperature) - enthalpy(gas, cold)
    pulse = _factors(solver, point)[0]
    power = point.turbo.turbine_flow * point.turbo.turbine_efficiency * head * pulse
    mean = head / max(hot.temperature - cold, 1e-9)
    return Sheet(
        key="turbine_power",
        title="Turbine power",
        result=Figure(power, "power"),
        relation="P_t = m_t · η_t · c_p · (T4 − T5s) · e",
        lines=(
            Line("m_t", "gas through the turbine", Figure(point.turbo.turbine_flow, "mass_flow"), "turbine_flow"),
            Line("η_t", "turbine efficiency", Figure(point.turbo.turbine_efficiency, "ratio"), "turbine_efficiency"),
            Line("c_p", "of the gas between the two, J/(g K)", Figure(mean / 1000.0, "number")),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "temperature:turbine_inlet"),
            Line("T5s", "after an ideal expansion", Figure(cold, "temperature")),
            Line("e", "work of the pulses over steady gas", Figure(pulse, "number"), "pulse_work"),
        ),
        source="Definition of total-to-static efficiency; gas: NASA TM-4513",
    )


def _turbine_flow(solver: Solver, point: Point) -> Sheet:
    hot, behind = point.stations["turbine_inlet"], point.stations["turbine_outlet"].pressure
    packed = solver.turbine_numbers
    less = _factors(solver, point)[1]
    flow = less * turbines.swallowed(packed, solver.burnt, hot.pressure, hot.temperature, behind, _tip(solver, point))
    gamma = heat_capacity_ratio(solver.burnt, hot.temperature)
    share = turbines.nozzle_function(math.sqrt(max(point.turbo.expansion, 1.0)), gamma)
    sound = math.sqrt(gamma * solver.burnt[GAS_CONSTANT] * hot.temperature)
    return Sheet(
        key="turbine_flow",
        title="Turbine flow",
        result=Figure(float(flow), "mass_flow"),
        relation=TURBINE_FLOW.written,
        lines=(
            Line("z", "turbines side by side", Figure(float(packed[turbines.COUNT]), "count")),
            Line("A", "throat and exducer as two nozzles in series", Figure(float(packed[turbines.AREA]), "area"), "turbine_area"),
            Line("p4", "before the turbine, absolute", Figure(hot.pressure, "pressure_absolute"), "pressure:turbine_inlet"),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "temperature:turbine_inlet"),
            Line("R", "gas constant, J/(kg K)", Figure(float(solver.burnt[GAS_CONSTANT]), "number")),
            Line("Φ", "nozzle function at the root of the expansion ratio", Figure(float(share), "number")),
            Line("u", "tip speed of the wheel", Figure(_tip(solver, point), "velocity"), "tip_speed"),
            Line("a", "speed of sound of the gas, √(γ · R · T4)", Figure(sound, "velocity")),
            Line("q", "flow in pulses over steady gas", Figure(less, "number"), "pulse_flow"),
        ),
        source=TURBINE_FLOW.source,
    )


def _factors(solver: Solver, point: Point) -> tuple[float, float]:
    """Factors of the pulses on work and flow at a point."""
    packed = solver.turbine_numbers
    work, flow, _ = pulses.pulse_factors(packed[turbines.PULSES :], point.speed, point.turbo.expansion)
    return float(work), float(flow)


def _beat(solver: Solver, point: Point, key: str, title: str, symbol: str, counted: float) -> Sheet:
    """The sheet of a factor of the pulses that is `counted`, with what it hangs on."""
    entries, area = pulsed_entries(solver.path)
    one = entries[0]
    share = solver.path.turbo.turbine.pulses
    whole = 1.0 + (counted - 1.0) / share if share > 0.0 else 1.0
    return Sheet(
        key=key,
        title=title,
        result=Figure(counted, "number"),
        relation=f"{symbol} = 1 + s · (w − 1)",
        lines=(
            Line("w", "summed over a cycle in which cylinders fill and turbine empties the room", Figure(whole, "number")),
            Line("V", "room between valves and wheel of one entry, ports and housing with it", Figure(one.volume, "volume")),
            Line("k", "cylinders feeding it", Figure(float(len(one.fires)), "count")),
            Line("z", "entries sharing the turbines", Figure(float(len(entries)), "count")),
            Line("A", "flow area of those turbines", Figure(area, "area")),
            Line("E", "expansion ratio, mean over a cycle", Figure(point.turbo.expansion, "number"), "expansion"),
            Line("s", "how much of it is counted", Figure(share, "ratio")),
        ),
        source=PULSES.source,
    )


def _pulse_work(solver: Solver, point: Point) -> Sheet:
    return _beat(solver, point, "pulse_work", "Pulse work gain", "e", _factors(solver, point)[0])


def _pulse_flow(solver: Solver, point: Point) -> Sheet:
    return _beat(solver, point, "pulse_flow", "Pulse flow ratio", "q", _factors(solver, point)[1])


def _overlap(solver: Solver, point: Point) -> Sheet:
    return _beat(solver, point, "pulse_overlap", "Overlap pressure over mean port pressure", "o", point.turbo.overlap)


def _behind_gate(solver: Solver, point: Point) -> float:
    """Pa behind the gate: the open, or behind the turbine."""
    return point.turbo.behind_gate


def _gate_flow(solver: Solver, point: Point) -> Sheet:
    hot, behind = point.stations["turbine_inlet"], _behind_gate(solver, point)
    area = solver.path.gate.area
    flow = bypassed(point.turbo.opening * area, solver.burnt, hot.pressure, hot.temperature, behind)
    gamma = heat_capacity_ratio(solver.burnt, hot.temperature)
    share = turbines.nozzle_function(hot.pressure / behind, gamma)
    return Sheet(
        key="gate_flow",
        title="Wastegate flow",
        result=Figure(float(flow), "mass_flow"),
        relation="m_g = x · A_g · p4 / √(R · T4) · Φ",
        lines=(
            Line("x", "opening that holds the boost", Figure(point.turbo.opening, "ratio"), "opening"),
            Line("A_g", "effective wastegate area at full lift", Figure(area, "area"), "gate_area"),
            Line("p4", "before the turbine, absolute", Figure(hot.pressure, "pressure_absolute"), "pressure:turbine_inlet"),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "temperature:turbine_inlet"),
            Line("R", "gas constant, J/(kg K)", Figure(float(solver.burnt[GAS_CONSTANT]), "number")),
            Line("Φ", "nozzle function at the expansion ratio", Figure(float(share), "number")),
        ),
        source=GATE.source,
    )


def _opening(solver: Solver, point: Point) -> Sheet:
    turbo, blower = point.turbo, solver.path.blower
    if blower is not None:
        return _bypass(solver, point, blower)
    hot, behind = point.stations["turbine_inlet"], _behind_gate(solver, point)
    area = solver.path.gate.area
    one = bypassed(area, solver.burnt, hot.pressure, hot.temperature, behind)
    gamma = heat_capacity_ratio(solver.burnt, hot.temperature)
    share = turbines.nozzle_function(hot.pressure / behind, gamma)
    exhaust = point.air + point.fuel
    past = exhaust - turbo.turbine_flow
    return Sheet(
        key="opening",
        title="Wastegate opening",
        result=Figure(float(past / one) if one > 0.0 else 0.0, "ratio"),
        relation="x = (m_e − m_t) / (A_g · p4 / √(R · T4) · Φ)" if one > 0.0 else "x = 0",
        lines=(
            Line("m_e", "all exhaust gas", Figure(exhaust, "mass_flow"), "exhaust_flow"),
            Line("m_t", "turbine flow", Figure(turbo.turbine_flow, "mass_flow"), "turbine_flow"),
            Line("A_g", "effective wastegate area at full lift", Figure(area, "area"), "gate_area"),
            Line("p4", "before the turbine, absolute", Figure(hot.pressure, "pressure_absolute"), "pressure:turbine_inlet"),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "temperature:turbine_inlet"),
            Line("R", "gas constant, J/(kg K)", Figure(float(solver.burnt[GAS_CONSTANT]), "number")),
            Line("Φ", "nozzle function at the expansion ratio", Figure(float(share), "number")),
        )
        if one > 0.0
        else (),
        source="Isentropic orifice, NACA 1135; the opening that holds the boost, solved with the whole path",
    )


def rotors_move(solver: Solver, point: Point, blower: Blower) -> float:
    """Air in kg/s that the rotors of a blower move at the speed and ratio of a point."""
    inlet = point.stations["compressor_inlet"]
    density = inlet.pressure / (solver.gas[GAS_CONSTANT] * point.taken)
    return float(
        delivered_flow(
            blower.displacement,
            blower.volumetric,
            blower.leak,
            blower.ratio * point.speed * (1.0 - belt_slip(solver, point)),
            point.turbo.ratio,
            density,
        )
    )


def _bypass(solver: Solver, point: Point, blower: Blower) -> Sheet:
    moved = rotors_move(solver, point, blower)
    return Sheet(
        key="opening",
        title="Bypass opening",
        result=Figure(moved / point.air - 1.0, "ratio"),
        relation="x = m_b / m − 1",
        lines=(
            Line("m_b", "air moved by the rotors", Figure(moved, "mass_flow")),
            Line("m", "airflow of the engine", Figure(point.air, "mass_flow"), "air"),
        ),
        source=BLOWER.source,
    )


def _gate_share(solver: Solver, point: Point) -> Sheet:
    exhaust = point.air + point.fuel
    return Sheet(
        key="gate_share",
        title="Wastegate share of the exhaust gas",
        result=Figure(point.turbo.gate_flow / exhaust, "ratio"),
        relation="s = m_g / m_e",
        lines=(
            Line("m_g", "gas past the turbine", Figure(point.turbo.gate_flow, "mass_flow"), "gate_flow"),
            Line("m_e", "all exhaust gas", Figure(exhaust, "mass_flow"), "exhaust_flow"),
        ),
        source="Mass balance",
    )


def _gate_area(solver: Solver, point: Point) -> Sheet:
    gate = solver.path.gate
    curtain = math.pi * gate.diameter * gate.lift
    port = 0.25 * math.pi * gate.diameter**2
    return Sheet(
        key="gate_area",
        title="Effective wastegate area",
        result=Figure(gate.area, "area"),
        relation="A_g = z / √(√(A_c^-4 + A_p^-4) / c² + r)",
        lines=(
            Line("z", "gates", Figure(float(gate.count), "count")),
            Line("c", "discharge coefficient", Figure(gate.discharge, "number")),
            Line("A_c", "curtain, π · d · L", Figure(curtain, "area")),
            Line("A_p", "port, π · d² / 4", Figure(port, "area")),
            Line("r", "of a branch or return pipe narrower than the valve, 1/cm⁴", Figure(1e-8 * gate.pipes, "number")),
        ),
        source="The smaller of curtain and port as two nozzles in series; heads of narrow pipes in series",
    )


def _turbine_area(solver: Solver, point: Point) -> Sheet:
    turbine = solver.path.turbo.turbine
    return Sheet(
        key="turbine_area",
        title="Turbine flow area, each",
        result=Figure(turbine.area, "area"),
        relation=f"A = √2 / √(1 / ({VOLUTE:g} · A_h)² + 1 / A_x²)",
        lines=(
            Line("A_h", "throat of the housing: A/R times its radius and the vanes", Figure(turbine.throat, "area")),
            Line("A_x", "exducer, hub and blade angle taken off", Figure(turbine.outlet, "area")),
        ),
        source="Two nozzles in series: Watson & Janota 1982, ch. 4, in form; the shares are common practice, no source",
    )


SHEETS: dict[str, Maker] = {
    "expansion": _expansion,
    "blade_ratio": _blade_ratio,
    "tip_speed": _tip_speed,
    "turbine_efficiency": _turbine_efficiency,
    "turbine_power": _turbine_power,
    "turbine_flow": _turbine_flow,
    "turbine_area": _turbine_area,
    "pulse_work": _pulse_work,
    "pulse_flow": _pulse_flow,
    "pulse_overlap": _overlap,
    "gate_flow": _gate_flow,
    "gate_share": _gate_share,
    "gate_area": _gate_area,
    "opening": _opening,
}
WITH_BLOWER = {"opening"}

"""Working sheets of the path: pressure and temperature of every station, boost, back-pressure,
pumping, and what a run adds up to."""

from __future__ import annotations

import math
from collections.abc import Callable

from zarvik.core.airpath import stations as st
from zarvik.core.airpath.point import Point, Stretch
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import Family, Line, Maker, Sheet, mean_capacity, total
from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.ducts.element import Element
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, heat_capacity_ratio, temperature_of_enthalpy
from zarvik.core.relations.turbo import TURBINE_FLOW
from zarvik.core.turbine import turbine as turbines
from zarvik.core.turbine.pulses import pulse_factors

_SUM = "Sum along the path; total pressures"
# What is less than this beside a sum of losses is the rounding of the march, Pa.
_JUMP = 1.0


def _name(s: Stretch | Element) -> Sentence:
    return message("“{name}”", name=s.name or s.id)


def _run(point: Point, section: str) -> list[Stretch]:
    return [s for s in point.stretches if s.section == section]


def _boost(solver: Solver, point: Point) -> Sheet:
    outlet = point.stations["compressor_outlet"].pressure
    cooler = sum(s.drop for s in point.stretches if s.kind == "cooler")
    hot, cold = point.drop("hot_pipe"), point.drop("cold_pipe")
    ambient = solver.path.site.pressure
    return Sheet(
        key="boost",
        title="Plenum boost, gauge",
        result=Figure(outlet - hot - cooler - cold - ambient, "pressure_gauge"),
        relation="p_b = p2 − Δp_h − Δp_k − Δp_c − p_a",
        lines=(
            Line("p2", "compressor outlet, absolute", Figure(outlet, "pressure_absolute"), "pressure:compressor_outlet"),
            Line("Δp_h", "lost in the hot pipe", Figure(hot, "pressure_difference"), "run_loss:hot_pipe"),
            Line("Δp_k", "intercooler loss", Figure(cooler, "pressure_difference"), "cooler_loss" if solver.path.cooler else ""),
            Line("Δp_c", "lost in the cold pipe", Figure(cold, "pressure_difference"), "run_loss:cold_pipe"),
            Line("p_a", "ambient of the site, absolute", Figure(ambient, "pressure_absolute")),
        ),
        source=_SUM,
    )


def _back(solver: Solver, point: Point) -> Sheet:
    before = point.stations["turbine_inlet"].pressure
    plenum = point.stations["plenum"].pressure
    return Sheet(
        key="back_pressure",
        title="Back-pressure ratio",
        result=Figure(before / plenum, "number"),
        relation="κ = p4 / p_p",
        lines=(
            Line("p4", "before the turbine, absolute", Figure(before, "pressure_absolute"), "pressure:turbine_inlet"),
            Line("p_p", "plenum, absolute", Figure(plenum, "pressure_absolute"), "pressure:plenum"),
        ),
        source="1.35 good, 2.2 the most: common practice, no source",
    )


def _pumping(solver: Solver, point: Point) -> Sheet:
    port = point.stations["exhaust_port"].pressure
    plenum = point.stations["plenum"].pressure
    return Sheet(
        key="pumping",
        title="Pumping mean pressure",
        result=Figure(port - plenum, "mean_pressure"),
        relation="pmep = p3 − p_p",
        lines=(
            Line("p3", "exhaust port, absolute", Figure(port, "pressure_absolute"), "pressure:exhaust_port"),
            Line("p_p", "plenum, absolute", Figure(plenum, "pressure_absolute"), "pressure:plenum"),
        ),
        source="Heywood 1988, sec. 5.4; the valves' own losses are in the indicated share",
    )


def _pumping_power(solver: Solver, point: Point) -> Sheet:
    displacement = solver.path.engine.displacement
    return Sheet(
        key="pumping_power",
        title="Pumping power",
        result=Figure(point.pumping * displacement * point.speed / 120.0, "power"),
        relation="P_p = pmep · V · n / 2",
        lines=(
            Line("pmep", "pumping: port over plenum", Figure(point.pumping, "mean_pressure"), "pumping"),
            Line("V", "displacement", Figure(displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        source="Definition of mean effective pressure; Heywood 1988, sec. 2.7",
    )


def _behind_turbine(solver: Solver, point: Point) -> Sheet:
    behind = point.stations["turbine_outlet"].pressure
    ambient = solver.path.site.pressure
    return Sheet(
        key="exhaust_pressure",
        title="Pressure after the turbine, gauge" if solver.path.blower is None else "Pressure after the manifold, gauge",
        result=Figure(behind - ambient, "pressure_gauge"),
        relation="p_x = p5 − p_a",
        lines=(
            Line("p5", "the same, absolute", Figure(behind, "pressure_absolute"), "pressure:turbine_outlet"),
            Line("p_a", "ambient of the site, absolute", Figure(ambient, "pressure_absolute")),
        ),
        source=_SUM,
    )


def _charge_loss(solver: Solver, point: Point) -> Sheet:
    parts = [
        (title, sum(s.drop for s in _run(point, section)), sheet)
        for section, title, sheet in (
            ("hot_pipe", "hot pipe", "run_loss:hot_pipe"),
            ("cooler", "cooler", "cooler_loss"),
            ("cold_pipe", "cold pipe", "run_loss:cold_pipe"),
        )
        if section != "cooler" or solver.path.cooler is not None
    ]
    return total("charge_loss", "Charge-side pressure loss", "Δp", "pressure_difference", parts, _SUM)


def _charge_share(solver: Solver, point: Point) -> Sheet:
    start = point.stations["compressor_outlet"].pressure
    loss = start - point.stations["plenum"].pressure
    return Sheet(
        key="charge_share",
        title="Charge-side loss share",
        result=Figure(loss / start, "ratio"),
        relation="s = Δp / p2",
        lines=(
            Line("Δp", "lost between compressor and plenum", Figure(loss, "pressure_difference"), "charge_loss"),
            Line("p2", "compressor outlet, absolute", Figure(start, "pressure_absolute"), "pressure:compressor_outlet"),
        ),
        source="6 % good, 12 % the most: common practice, no source",
    )


def _exhaust_flow(solver: Solver, point: Point) -> Sheet:
    return Sheet(
        key="exhaust_flow",
        title="Exhaust gas flow",
        result=Figure(point.air + point.fuel, "mass_flow"),
        relation="m_e = m + m_f",
        lines=(Line("m", "air", Figure(point.air, "mass_flow"), "air"), Line("m_f", "fuel", Figure(point.fuel, "mass_flow"), "fuel")),
        source="Mass balance of the engine",
    )


# ---- stations -----------------------------------------------------------------------------------


def _pressure(solver: Solver, point: Point, station: str) -> Sheet:
    makers: dict[str, Callable[[], Sheet]] = {
        st.COMPRESSOR_INLET: lambda: _fallen(solver, point, st.INTAKE, "p1", "p_a", "ambient", ""),
        st.COMPRESSOR_OUTLET: lambda: _raised(point),
        st.COOLER_INLET: lambda: _fallen(solver, point, st.HOT_PIPE, "p_v", "p2", "compressor outlet", "pressure:compressor_outlet"),
        st.COOLER_OUTLET: lambda: _cooled(point),
        st.PLENUM: lambda: _fallen(solver, point, st.COLD_PIPE, "p_p", "p_k", "after the intercooler", "pressure:cooler_outlet"),
        st.EXHAUST_PORT: lambda: _backed(solver, point, st.MANIFOLD, "p3", "p4", "before the turbine", "pressure:turbine_inlet"),
        st.TURBINE_INLET: lambda: _swallowing(solver, point),
        st.TURBINE_OUTLET: lambda: _backed(solver, point, st.EXHAUST, "p5", "p_a", "ambient", ""),
    }
    return makers[station]()


def _title(point: Point, station: str, what: str) -> str:
    titles = st.BELT_TITLES if point.belt else st.TITLES
    return f"{titles[station]}: {what}"


def _absolute(point: Point, station: str, value: float) -> tuple[str, str, Figure]:
    return f"pressure:{station}", _title(point, station, "pressure"), Figure(value, "pressure_absolute")


def _losses(point: Point, section: str) -> tuple[Line, ...]:
    return tuple(
        Line(f"Δp_{n}", _name(s), Figure(s.drop, "pressure_difference"), f"piece:{s.id}") for n, s in enumerate(_run(point, section), 1)
    )


def _fallen(solver: Solver, point: Point, section: str, symbol: str, start: str, words: str, sheet: str) -> Sheet:
    """Pressure at the end of a cold run: what it began with less the losses."""
    first, station = st.SECTIONS[section]
    before = point.stations[first].pressure
    lines = _losses(point, section)
    right = "".join(f" − {line.symbol}" for line in lines)
    return Sheet(
        *_absolute(point, station, before - sum(line.figure.value for line in lines)),
        f"{symbol} = {start}{right}",
        (Line(start, words + ", absolute", Figure(before, "pressure_absolute"), sheet), *lines),
        _SUM,
    )


def _backed(solver: Solver, point: Point, section: str, symbol: str, start: str, words: str, sheet: str) -> Sheet:
    """Pressure before a hot run: what stands behind it and the losses."""
    station, last = st.SECTIONS[section]
    behind = point.stations[last].pressure
    lines = list(_losses(point, section))
    found = point.stations[station].pressure
    if section == st.EXHAUST and solver.path.alone:
        at = solver.path.alone
        own, other = _run(point, section)[at - 1 : at + 1]
        # Where the gate's gas joins the stream, which may drive it
        meeting = own.pressure_in - own.drop - other.pressure_in
        lines.insert(at, Line("Δp_j", "where the wastegate flow joins", Figure(meeting, "pressure_difference")))
    jump = found - behind - sum(line.figure.value for line in lines)
    if jump > _JUMP:
        lines.append(Line("Δp_x", "lost in shocks after the choked place", Figure(jump, "pressure_difference")))
    right = "".join(f" + {line.symbol}" for line in lines)
    return Sheet(
        *_absolute(point, station, behind + sum(line.figure.value for line in lines)),
        f"{symbol} = {start}{right}",
        (Line(start, words + ", absolute", Figure(behind, "pressure_absolute"), sheet), *lines),
        _SUM,
    )


def _raised(point: Point) -> Sheet:
    inlet = point.stations[st.COMPRESSOR_INLET].pressure
    return Sheet(
        *_absolute(point, st.COMPRESSOR_OUTLET, inlet * point.turbo.ratio),
        "p2 = Π · p1",
        (
            Line("Π", "pressure ratio of the compressor", Figure(point.turbo.ratio, "number"), "pressure_ratio"),
            Line("p1", "before it, absolute", Figure(inlet, "pressure_absolute"), "pressure:compressor_inlet"),
        ),
        "SAE J1826; total to total",
    )


def _cooled(point: Point) -> Sheet:
    before = point.stations[st.COOLER_INLET].pressure
    loss = before - point.stations[st.COOLER_OUTLET].pressure
    return Sheet(
        *_absolute(point, st.COOLER_OUTLET, before - loss),
        "p_k = p_v − Δp_k",
        (
            Line("p_v", "before the intercooler, absolute", Figure(before, "pressure_absolute"), "pressure:cooler_inlet"),
            Line("Δp_k", "intercooler loss", Figure(loss, "pressure_difference"), "cooler_loss" if abs(loss) > 0.0 else ""),
        ),
        _SUM,
    )


def _swallowing(solver: Solver, point: Point) -> Sheet:
    """Pressure before the turbine: what it takes to press the gas through it."""
    behind = point.stations[st.TURBINE_OUTLET].pressure
    if solver.path.blower is not None:
        return Sheet(
            *_absolute(point, st.TURBINE_INLET, behind),
            "p4 = p5",
            (Line("p5", "no turbine between", Figure(behind, "pressure_absolute"), "pressure:turbine_outlet"),),
            _SUM,
        )
    packed, hot = solver.turbine_numbers, point.stations[st.TURBINE_INLET]
    tip = math.pi * solver.path.turbo.turbine.wheel * point.turbo.real_speed / 60.0
    less = float(pulse_factors(packed[turbines.PULSES :], point.speed, point.turbo.expansion)[1])
    one = less * turbines.swallowed(packed, solver.burnt, hot.pressure, hot.temperature, behind, tip) / hot.pressure
    gamma = heat_capacity_ratio(solver.burnt, hot.temperature)
    share = turbines.nozzle_function(math.sqrt(max(point.turbo.expansion, 1.0)), gamma)
    area = float(packed[turbines.COUNT] * packed[turbines.AREA])
    root = math.sqrt(solver.burnt[GAS_CONSTANT] * hot.temperature)
    held = one * root / (area * share * less)
    return Sheet(
        *_absolute(point, st.TURBINE_INLET, point.turbo.turbine_flow / one),
        "p4 = m_t · √(R · T4) / (z · A · Φ · k · q)",
        (
            Line("m_t", "gas flow through it", Figure(point.turbo.turbine_flow, "mass_flow"), "turbine_flow"),
            Line("T4", "gas before the turbine", Figure(hot.temperature, "temperature"), "temperature:turbine_inlet"),
            Line("z", "turbines side by side", Figure(float(packed[turbines.COUNT]), "count")),
            Line("A", "throat and exducer as two nozzles in series", Figure(float(packed[turbines.AREA]), "area"), "turbine_area"),
            Line("Φ", "nozzle function at the root of the expansion ratio", Figure(float(share), "number")),
            Line("k", "effect of wheel rotation: 1 − 0.10 · (u / a)²", Figure(float(held), "number")),
            Line("q", "flow in pulses over steady gas", Figure(less, "number"), "pulse_flow"),
        ),
        TURBINE_FLOW.source,
    )


def _temperature(solver: Solver, point: Point, station: str) -> Sheet:
    starts = {
        st.COMPRESSOR_INLET: (st.INTAKE, "T1", "T_a", "ambient", ""),
        st.COOLER_INLET: (st.HOT_PIPE, "T_v", "T2", "compressor outlet", "compressor_outlet"),
        st.PLENUM: (
            st.COLD_PIPE,
            "T_p",
            "T_k",
            "after the intercooler",
            "cooler_outlet" if solver.path.cooler else "temperature:cooler_inlet",
        ),
        st.TURBINE_INLET: (st.MANIFOLD, "T4", "T3", "at the exhaust ports", "port_temperature"),
        st.TAILPIPE: (st.EXHAUST, "T_x", "T5", "after the turbine", "temperature:turbine_outlet"),
    }
    if station == st.TURBINE_OUTLET:
        return _mixed(solver, point)
    section, symbol, start, words, sheet = starts[station]
    before = point.stations[st.SECTIONS[section][0]].temperature
    run = _run(point, section)
    if station == st.TAILPIPE and solver.path.alone:
        run, before = run[solver.path.alone :], point.turbo.joined
        start, words, sheet = "T_j", "where the wastegate flow rejoins", "joined"
    lines = tuple(
        Line(f"ΔT_{n}", _name(s), Figure(s.warming, "temperature_difference"), f"warming:{s.id}")
        for n, s in enumerate(run, 1)
        if s.warming != 0.0
    )
    right = "".join(f" + {line.symbol}" for line in lines)
    return Sheet(
        key=f"temperature:{station}",
        title=_title(point, station, "temperature"),
        result=Figure(before + sum(line.figure.value for line in lines), "temperature"),
        relation=f"{symbol} = {start}{right}",
        lines=(Line(start, words, Figure(before, "temperature"), sheet), *lines),
        source="Heat through every wall, piece by piece",
    )


def _tail_flow(solver: Solver, point: Point) -> Sheet:
    if not point.turbo.dumped > 0.0:
        raise KeyError("tail_flow")
    return Sheet(
        key="tail_flow",
        title="Gas flow through the exhaust",
        result=Figure(point.air + point.fuel - point.turbo.dumped, "mass_flow"),
        relation="m_x = m_e − m_g",
        lines=(
            Line("m_e", "all exhaust gas", Figure(point.air + point.fuel, "mass_flow"), "exhaust_flow"),
            Line("m_g", "wastegate flow vented to atmosphere", Figure(point.turbo.dumped, "mass_flow"), "gate_flow"),
        ),
        source="Conservation of mass",
    )


def _joined(solver: Solver, point: Point) -> Sheet:
    """Temperature where the gate's gas joins what the turbine sends."""
    at = solver.path.alone
    if not at:
        raise KeyError("joined")
    burnt = solver.burnt
    end = point.stations[_run(point, st.EXHAUST)[at - 1].end].temperature
    hot = point.stations[st.TURBINE_INLET].temperature
    turbo = point.turbo
    both = turbo.turbine_flow + turbo.gate_flow
    carried = (turbo.turbine_flow * enthalpy(burnt, end) + turbo.gate_flow * enthalpy(burnt, hot)) / both
    return Sheet(
        key="joined",
        title="Temperature where the wastegate flow rejoins",
        result=Figure(float(temperature_of_enthalpy(burnt, carried, end)), "temperature"),
        relation="T_j = T(h), h = (m_t · h(T_e) + m_g · h(T4)) / (m_t + m_g)",
        lines=(
            Line("m_t", "gas through the turbine", Figure(turbo.turbine_flow, "mass_flow"), "turbine_flow"),
            Line("T_e", "end of the pieces of one turbo", Figure(end, "temperature")),
            Line("m_g", "gas past it", Figure(turbo.gate_flow, "mass_flow"), "gate_flow"),
            Line("T4", "gas before the turbine", Figure(hot, "temperature"), "temperature:turbine_inlet"),
            Line("h", "its heat, kJ/kg", Figure(carried / 1e3, "number")),
        ),
        source="Energy balance; gas: NASA TM-4513",
    )


def _mixed(solver: Solver, point: Point) -> Sheet:
    before = point.stations[st.TURBINE_INLET].temperature
    behind = point.stations[st.TURBINE_OUTLET].temperature
    exhaust, power = point.air + point.fuel - point.turbo.dumped, point.turbo.turbine_power
    sheet = "tail_flow" if point.turbo.dumped > 0.0 else "exhaust_flow"
    words = message("all exhaust gas, with the wastegate flow mixed in")
    if solver.path.alone:
        exhaust, sheet, words = point.turbo.turbine_flow, "turbine_flow", message("gas through the turbine")
    cp = mean_capacity(solver.burnt, before, behind)
    return Sheet(
        key="temperature:turbine_outlet",
        title=_title(point, st.TURBINE_OUTLET, "temperature"),
        result=Figure(before - power / (exhaust * cp), "temperature"),
        relation="T5 = T4 − P_t / (m_e · c_p)",
        lines=(
            Line("T4", "gas before the turbine", Figure(before, "temperature"), "temperature:turbine_inlet"),
            Line("P_t", "power out of the gas", Figure(power, "power"), "turbine_power" if solver.path.blower is None else ""),
            Line("m_e", words, Figure(exhaust, "mass_flow"), sheet),
            Line("c_p", "of the gas between the two, J/(g K)", Figure(float(cp) / 1000.0, "number")),
        ),
        source="Energy balance; gas: NASA TM-4513",
    )


# ---- runs ---------------------------------------------------------------------------------------


def _loss_of_run(solver: Solver, point: Point, run: str) -> Sheet:
    solver.path.runs[run]  # a strange run is a KeyError
    parts = [(_name(s), s.drop, f"piece:{s.id}") for s in _run(point, run)]
    return total(f"run_loss:{run}", "Pressure loss of the pipe", "Δp", "pressure_difference", parts, _SUM)


def _of_run(name: str, title: str, symbol: str, kind: str) -> Family:
    def maker(solver: Solver, point: Point, run: str) -> Sheet:
        parts = [(_name(e), getattr(e, name), "") for e in solver.path.runs[run]]
        return total(f"run_{name}:{run}", title, symbol, kind, parts, "Geometry of the pieces")

    return maker


def _between(key: str, title: str, one: tuple[str, str, str], two: tuple[str, str, str]) -> Maker:
    """Difference of the total pressures of two stations, each (station, symbol, words)."""

    def maker(solver: Solver, point: Point) -> Sheet:
        lines = tuple(
            Line(symbol, words + ", absolute", Figure(point.stations[station].pressure, "pressure_absolute"), f"pressure:{station}")
            for station, symbol, words in (one, two)
        )
        high, low = (line.figure.value for line in lines)
        return Sheet(
            key=key,
            title=title,
            result=Figure(high - low, "pressure_difference"),
            relation=f"Δp = {one[1]} − {two[1]}",
            lines=lines,
            source=_SUM,
        )

    return maker


SHEETS: dict[str, Maker] = {
    "boost": _boost,
    "back_pressure": _back,
    "pumping": _pumping,
    "rise": _between(
        "rise", "Compressor pressure rise", (st.COMPRESSOR_OUTLET, "p2", "compressor outlet"), (st.COMPRESSOR_INLET, "p1", "before it")
    ),
    "turbine_drop": _between(
        "turbine_drop", "Turbine pressure drop", (st.TURBINE_INLET, "p4", "before the turbine"), (st.TURBINE_OUTLET, "p5", "after it")
    ),
    "port_rise": _between(
        "port_rise", "Port pressure over plenum pressure", (st.EXHAUST_PORT, "p3", "exhaust port"), (st.PLENUM, "p_p", "plenum")
    ),
    "pumping_power": _pumping_power,
    "exhaust_pressure": _behind_turbine,
    "charge_loss": _charge_loss,
    "charge_share": _charge_share,
    "exhaust_flow": _exhaust_flow,
    "tail_flow": _tail_flow,
    "joined": _joined,
}
FAMILIES: dict[str, Family] = {
    "pressure": _pressure,
    "temperature": _temperature,
    "run_loss": _loss_of_run,
    "run_length": _of_run("length", "Pipe length", "L", "length"),
    "run_volume": _of_run("volume", "Pipe volume", "V", "volume"),
    "run_turn": _of_run("turn", "Total bend angle", "θ", "angle"),
}

"""Working sheets of the engine: power, torque, air, mean pressures, fuel, exhaust temperature."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import Point, Solver, approach
from zarvik.core.checks.verdict import Figure
from zarvik.core.engine import engine as eng
from zarvik.core.engine.knock import heat_of_charge, knock_integral
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy
from zarvik.core.site import SEA_LEVEL
from zarvik.core.working.sheet import Line, Maker, Sheet


def _power(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    per_second = engine.displacement * point.speed / 120.0
    belt = 0.0
    blower = solver.system.blower
    if blower is not None:
        belt = point.turbo.power / blower.drive
    brake = point.indicated - point.pumping - point.friction
    return Sheet(
        "power", "Power at the crank", Figure(brake * per_second - belt, "power"),
        "P = (imep − pmep − fmep) · V · n / 2" + (" − P_belt" if blower else ""),
        (
            Line("imep", "gross indicated mean pressure", Figure(point.indicated, "mean_pressure"), "indicated"),
            Line("pmep", "pumping: port over plenum", Figure(point.pumping, "mean_pressure"), "pumping"),
            Line("fmep", "friction", Figure(point.friction, "mean_pressure"), "friction"),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            *([Line("P_belt", "taken by the blower's belt", Figure(belt, "power"), "shaft")] if blower else []),
        ),
        "Definition of mean effective pressure; Heywood 1988, sec. 2.7",
    )  # fmt: skip


def _air(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    plenum = point.stations["plenum"]
    ratio = point.stations["exhaust_port"].pressure / plenum.pressure
    factor = eng.back_pressure_factor(ratio, engine.compression)
    demand = eng.air_demand(
        solver.gas,
        engine.displacement,
        point.efficiency,
        point.speed,
        plenum.pressure,
        point.charge,
    )
    return Sheet(
        "air", "Air that the engine draws", Figure(demand * factor, "mass_flow"),
        "m = VE · √(T / 298 K) · p / (R T) · V · n / 2 · k",
        (
            Line("VE", "volumetric efficiency", Figure(point.efficiency, "ratio"), "breathing"),
            Line("p", "plenum pressure, absolute", Figure(plenum.pressure, "pressure_absolute"), "pressure:plenum"),
            Line("T", "charge temperature after the fuel", Figure(point.charge, "temperature"), "charge"),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("k", "back-pressure factor at this port pressure", Figure(factor, "number")),
        ),
        "Heywood 1988, sec. 6.2, eq. 6.2 for k, divided out at the stock ratio of 1.1",
    )  # fmt: skip


def _indicated(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    share = eng.indicated_efficiency(engine)
    dry = point.air * solver.packed[0][k.DRY_SHARE]
    per_second = engine.displacement * point.speed / 120.0
    return Sheet(
        "indicated", "Gross indicated mean pressure",
        Figure(share * engine.burnt.heat_per_air * dry / per_second, "mean_pressure"),
        "imep = η · q · m / (V · n / 2)",
        (
            Line("η", "share of the heat that becomes work", Figure(share, "ratio")),
            Line("q", "heat of a kilogram of air, MJ", Figure(engine.burnt.heat_per_air / 1e6, "number")),
            Line("m", "dry air", Figure(dry, "mass_flow"), "dry_air"),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        "0.82 of the constant-volume cycle (Heywood 1988, sec. 5.8, as a band); heat from lambda, "
        "sec. 4.9",
    )  # fmt: skip


def _friction(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    piston = 2.0 * engine.stroke * point.speed / 60.0
    return Sheet(
        "friction", "Friction mean pressure",
        Figure(eng.friction_mean_pressure(piston, point.indicated), "mean_pressure"),
        "fmep = 0.35 bar + 0.005 · 4.4 imep + 0.06 · s + 0.0009 · s²  (bar, m/s)",
        (
            Line("s", "mean piston speed", Figure(piston, "velocity")),
            Line("imep", "gross indicated mean pressure", Figure(point.indicated, "mean_pressure"), "indicated"),
        ),
        "Chen & Flynn, SAE 650733 (1965); published sets differ by 4 % of power",
    )  # fmt: skip


def _corrected_power(solver: Solver, point: Point) -> Sheet:
    return Sheet(
        "corrected_power", "What a dyno would print",
        Figure(point.power * solver.day_factor, "power"),
        "P_std = P · (1.18 · 99 kPa / p_dry · √(T / 298 K) − 0.18)",
        (
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
            Line("T", "air of the day", Figure(solver.system.site.temperature, "temperature")),
            Line("factor", "of this day", Figure(solver.day_factor, "number")),
        ),
        "SAE J1349; with boost control it flatters a turbocharged engine",
    )  # fmt: skip


def _torque(solver: Solver, point: Point) -> Sheet:
    return Sheet(
        "torque", "Torque at the crank",
        Figure(point.power / (point.speed * math.pi / 30.0), "torque"),
        "M = P / (2 π · n)",
        (
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        "Definition",
    )  # fmt: skip


def _fuel(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    dry = point.air * solver.packed[0][k.DRY_SHARE]
    stoichiometric = engine.fuel.stoichiometric_ratio
    return Sheet(
        "fuel", "Fuel that is burnt",
        Figure(dry / (engine.lambda_ * stoichiometric), "mass_flow"),
        "m_f = m / (λ · L)",
        (
            Line("m", "dry air", Figure(dry, "mass_flow"), "dry_air"),
            Line("λ", "lambda at full load", Figure(engine.lambda_, "number")),
            Line("L", "air for a kilogram of fuel at lambda 1", Figure(stoichiometric, "number")),
        ),
        "Formula of the fuel (Heywood 1988, table D.4)",
    )  # fmt: skip


def _charge(solver: Solver, point: Point) -> Sheet:
    plenum = point.stations["plenum"]
    engine = solver.system.engine
    site = solver.packed[0]
    per_air = engine.burnt.fuel_per_air * site[k.DRY_SHARE]
    after = plenum.temperature
    if engine.evaporated > 0.0:
        after = eng.charge_after_fuel(
            solver.gas, plenum.temperature, plenum.pressure, per_air, engine.evaporated,
            engine.fuel.vaporisation, site[k.VAPOUR : k.VAPOUR + 4],
        )  # fmt: skip
    return Sheet(
        "charge", "Charge temperature after the fuel", Figure(float(after), "temperature"),
        "T = T_p − x · f · r / c_p",
        (
            Line("T_p", "in the plenum", Figure(plenum.temperature, "temperature"), "temperature:plenum"),
            Line("x", "share that is asked to evaporate; saturation may stop it", Figure(engine.evaporated, "ratio")),
            Line("f", "fuel for a kilogram of air", Figure(per_air, "number")),
            Line("r", "heat of vaporisation, MJ/kg", Figure(engine.fuel.vaporisation / 1e6, "number")),
        ),
        "Energy balance; saturation of alcohol by Antoine's rule",
    )  # fmt: skip


def _port_temperature(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    swept = engine.displacement * point.speed / 120.0
    dry = point.air * solver.packed[0][k.DRY_SHARE]
    released = dry * engine.burnt.heat_per_air
    work = (point.indicated - point.pumping) * swept
    coolant = eng.coolant_share(float(solver.packed[0][k.COOLANT]), point.speed) * released
    plenum = point.stations["plenum"].temperature
    exhaust = point.air + point.fuel
    found = eng.exhaust_temperature(
        solver.gas, solver.burnt, point.air, exhaust, plenum, released, work, coolant, 1100.0
    )
    base = eng.REFERENCE_TEMPERATURE
    burnt = solver.burnt
    mean = (enthalpy(burnt, found) - enthalpy(burnt, base)) / (found - base)
    return Sheet(
        "port_temperature", "Gas at the exhaust ports", Figure(float(found), "temperature"),
        "T3 = 25 °C + (Q + H − W − Q_c) / (m_e · c_p)",
        (
            Line("Q", "heat released", Figure(released, "power"), "released_heat"),
            Line("H", "heat that the charge brings along",
                 Figure(point.air * (enthalpy(solver.gas, plenum) - enthalpy(solver.gas, base)), "power")),
            Line("W", "indicated work less pumping", Figure(work, "power"), "net_work"),
            Line("Q_c", "heat to coolant and oil", Figure(coolant, "power"), "coolant_heat"),
            Line("m_e", "exhaust gas", Figure(exhaust, "mass_flow"), "exhaust_flow"),
            Line("c_p", "of the gas on the way, J/(g K)", Figure(mean / 1000.0, "number")),
        ),
        "Energy balance; coolant share: Heywood 1988, table 12.1, as a band",
    )  # fmt: skip


def _knock(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    octane = engine.fuel.octane or 100.0
    plenum = point.stations["plenum"].pressure
    heat = heat_of_charge(engine.burnt)
    index = knock_integral(
        octane, point.speed, plenum, point.charge, engine.compression, heat,
        float(solver.gas[GAS_CONSTANT]), engine.retard,
    )  # fmt: skip
    return Sheet(
        "knock", "Knock index (screening)", Figure(float(index), "number"),
        "I = Σ Δt / (17.68 ms · (ON / 100)^3.4 · p^-1.7 · exp(3800 K / T_u))",
        (
            Line("ON", "octane number", Figure(octane, "number")),
            Line("p_p", "plenum, where the compression of the end gas begins",
                 Figure(plenum, "pressure_absolute"), "pressure:plenum"),
            Line("T", "charge after the fuel; walls and residual gas add 28 K",
                 Figure(point.charge, "temperature"), "charge"),
            Line("ε", "compression ratio", Figure(engine.compression, "number")),
            Line("q", "heat of a kilogram of trapped gas, MJ", Figure(heat / 1e6, "number")),
            Line("z", "degrees of retard after best torque", Figure(engine.retard, "number")),
            Line("n", "engine speed: how long it takes", Figure(point.speed, "rotation")),
        ),
        "Douaud & Eyzat, SAE 780080 (1978), with the Livengood-Wu integral (1955) along a Wiebe burn, "
        "to 90 % burnt; ranks and warns, promises nothing",
    )  # fmt: skip


def _dry_air(solver: Solver, point: Point) -> Sheet:
    share = float(solver.packed[0][k.DRY_SHARE])
    return Sheet(
        "dry_air", "Dry air", Figure(point.air * share, "mass_flow"), "m = m_a · (1 − w)",
        (
            Line("m_a", "moist air that the engine draws", Figure(point.air, "mass_flow"), "air"),
            Line("w", "water in it, by mass", Figure(1.0 - share, "ratio")),
        ),
        "Humidity of the day; saturation: Hyland & Wexler 1983",
    )  # fmt: skip


def _released(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    dry = point.air * solver.packed[0][k.DRY_SHARE]
    return Sheet(
        "released_heat", "Heat that is released",
        Figure(float(dry * engine.burnt.heat_per_air), "power"), "Q = m · q",
        (
            Line("m", "dry air", Figure(float(dry), "mass_flow"), "dry_air"),
            Line("q", "heat of a kilogram of air, MJ", Figure(engine.burnt.heat_per_air / 1e6, "number")),
        ),
        "Oxygen limits it on the rich side, fuel on the lean side (Heywood 1988, sec. 4.9)",
    )  # fmt: skip


def _net_work(solver: Solver, point: Point) -> Sheet:
    volume = solver.system.engine.displacement
    work = (point.indicated - point.pumping) * volume * point.speed / 120.0
    return Sheet(
        "net_work", "Indicated work less pumping", Figure(work, "power"),
        "W = (imep − pmep) · V · n / 2",
        (
            Line("imep", "gross indicated mean pressure", Figure(point.indicated, "mean_pressure"), "indicated"),
            Line("pmep", "pumping: port over plenum", Figure(point.pumping, "mean_pressure"), "pumping"),
            Line("V", "displacement", Figure(volume, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        "Definition of mean effective pressure; Heywood 1988, sec. 2.7",
    )  # fmt: skip


def _coolant(solver: Solver, point: Point) -> Sheet:
    base = float(solver.packed[0][k.COOLANT])
    share = float(eng.coolant_share(base, point.speed))
    released = (
        float(point.air * solver.packed[0][k.DRY_SHARE]) * solver.system.engine.burnt.heat_per_air
    )
    return Sheet(
        "coolant_heat", "Heat to coolant and oil", Figure(share * released, "power"),
        "Q_c = c · (n / 3000 rpm)^-0.15 · Q",
        (
            Line("c", "share at 3000 rpm", Figure(base, "ratio")),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("Q", "heat released", Figure(released, "power"), "released_heat"),
        ),
        "Heywood 1988, table 12.1, as a band",
    )  # fmt: skip


def _displacement(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    return Sheet(
        "displacement", "Displacement", Figure(engine.displacement, "volume"),
        "V = z · π / 4 · B² · S",
        (
            Line("z", "cylinders", Figure(float(engine.cylinders), "count")),
            Line("B", "bore", Figure(engine.bore, "length")),
            Line("S", "stroke", Figure(engine.stroke, "length")),
        ),
        "Geometry",
    )  # fmt: skip


def _breathing(solver: Solver, point: Point) -> Sheet:
    breathing = solver.system.engine.breathing
    x = list(breathing.speed)
    inside = min(max(point.speed, x[0]), x[-1])
    i = max(min(sum(v <= inside for v in x), len(x) - 1), 1)
    lower = max(i - 1, 0)
    return Sheet(
        "breathing", "Volumetric efficiency", Figure(float(breathing.at(point.speed)), "ratio"),
        "VE = curve(n; n1, VE1; n2, VE2)",
        (
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("n1", "point of the curve below", Figure(x[lower], "rotation")),
            Line("VE1", "there", Figure(breathing.efficiency[lower], "ratio")),
            Line("n2", "point of the curve above", Figure(x[min(i, len(x) - 1)], "rotation")),
            Line("VE2", "there", Figure(breathing.efficiency[min(i, len(x) - 1)], "ratio")),
        ),
        "The engine's own curve, or the shape of its kind (trend: Heywood 1988, fig. 6-9, from memory); "
        "monotone cubics between its points (Fritsch & Carlson 1980)",
    )  # fmt: skip


def _consumption(solver: Solver, point: Point) -> Sheet:
    if point.power <= 0.0:
        raise KeyError("consumption")
    return Sheet(
        "consumption", "Fuel for its power", Figure(point.fuel / point.power, "consumption"),
        "b = m_f / P",
        (
            Line("m_f", "fuel", Figure(point.fuel, "mass_flow"), "fuel"),
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
        ),
        "Definition",
    )  # fmt: skip


def _gain_heat(solver: Solver, point: Point) -> Sheet:
    ambient = solver.system.site.temperature
    gain = point.power * (math.sqrt(point.charge / ambient) - 1.0)
    return Sheet(
        "gain_heat", "What a charge at ambient temperature would add", Figure(gain, "power"),
        "ΔP = P · (√(T / T_a) − 1)",
        (
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
            Line("T", "charge temperature after the fuel", Figure(point.charge, "temperature"), "charge"),
            Line("T_a", "ambient", Figure(ambient, "temperature")),
        ),
        "Air goes with the root of the charge temperature (Heywood 1988, sec. 6.2.4); the rest as it is",
    )  # fmt: skip


def _gain_height(solver: Solver, point: Point) -> Sheet:
    wanted = SEA_LEVEL + solver.system.boost.full
    raw = solver.raw(approach(solver.system, point.speed))
    higher = solver.at_pressure(
        np.array([point.speed]), np.array([wanted]), start=raw.solutions[-1]
    )
    there = float(higher.power[0]) if higher.solved[0] else math.nan
    return Sheet(
        "gain_height", "What the same gauge boost would add at sea level",
        Figure(there - point.power, "power"), "ΔP = P_h − P",
        (
            Line("P_h", "with the plenum pressure of sea level, everything solved again", Figure(there, "power")),
            Line("p_h", "that plenum pressure", Figure(wanted, "pressure_absolute")),
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
        ),
        "The whole path solved twice; sea level: ISO 2533:1975",
    )  # fmt: skip


def _missing(solver: Solver, point: Point) -> Sheet:
    wanted = solver.system.target.power
    return Sheet(
        "missing", "Power that is missing", Figure(max(wanted - point.power, 0.0), "power"),
        "ΔP = P_w − P",
        (
            Line("P_w", "power that is wanted", Figure(wanted, "power")),
            Line("P", "power at the crank", Figure(point.power, "power"), "power"),
        ),
        "0 where nothing is missing",
    )  # fmt: skip


def _power_with(key: str, title: str) -> Maker:
    def maker(solver: Solver, point: Point) -> Sheet:
        system = solver.system
        boost = system.boost.full
        if key == "big_run_power":
            boost = max(system.target.big_run, boost)
        raw = solver.raw(approach(system, point.speed))
        held = solver.at_pressure(
            np.array([point.speed]), np.array([system.site.pressure + boost]),
            start=raw.solutions[-1],
        )  # fmt: skip
        if not held.solved[0]:
            raise KeyError(key)
        turned = solver.point(held, 0)
        work = turned.indicated - turned.pumping - turned.friction
        volume = system.engine.displacement
        belt = turned.turbo.power / system.blower.drive if system.blower else 0.0
        return Sheet(
            key, title, Figure(work * volume * point.speed / 120.0 - belt, "power"),
            "P = (imep − pmep − fmep) · V · n / 2" + (" − P_belt" if system.blower else ""),
            (
                Line("p_w", "boost that the gate is asked to hold", Figure(boost, "pressure_gauge")),
                Line("p_b", "boost that there is then", Figure(turned.boost, "pressure_gauge")),
                Line("imep", "gross indicated, then", Figure(turned.indicated, "mean_pressure")),
                Line("pmep", "pumping, then", Figure(turned.pumping, "mean_pressure")),
                Line("fmep", "friction, then", Figure(turned.friction, "mean_pressure")),
                Line("V", "displacement", Figure(volume, "volume"), "displacement"),
                Line("n", "engine speed", Figure(point.speed, "rotation")),
                *([Line("P_belt", "taken by the belt, then", Figure(belt, "power"))] if belt else []),
            ),
            "The whole path solved again with that boost asked for",
        )  # fmt: skip

    return maker


SHEETS: dict[str, Maker] = {
    "power": _power,
    "torque": _torque,
    "corrected_power": _corrected_power,
    "air": _air,
    "dry_air": _dry_air,
    "released_heat": _released,
    "net_work": _net_work,
    "coolant_heat": _coolant,
    "fuel": _fuel,
    "indicated": _indicated,
    "friction": _friction,
    "charge": _charge,
    "port_temperature": _port_temperature,
    "knock": _knock,
    "breathing": _breathing,
    "displacement": _displacement,
    "consumption": _consumption,
    "missing": _missing,
    "bottom_end_power": _power_with("bottom_end_power", "Power on the weekly boost"),
    "big_run_power": _power_with("big_run_power", "Power of the single big run"),
    "gain_heat": _gain_heat,
    "gain_height": _gain_height,
}

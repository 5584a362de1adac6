"""Working sheets of the engine: power, torque, air, mean pressures, fuel, exhaust temperature."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import Point, Solver, approach
from zarvik.core.checks.verdict import Figure, say
from zarvik.core.engine import engine as eng
from zarvik.core.engine.cycle import fuel_air_work
from zarvik.core.engine.knock import (
    HEATING,
    MOST_RETARD,
    evaporation_cooling,
    heat_of_charge,
    retard_of,
    screen,
)
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, heat_capacity, viscosity
from zarvik.core.heat.wall import PRANDTL
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


def drawn_air(solver: Solver, point: Point) -> tuple[float, float, float]:
    """Air in kg/s that the engine draws at the plenum and the port that it has, with its factors of
    back-pressure and of the fuel's vapour."""
    engine, site = solver.system.engine, solver.packed[0]
    plenum = point.stations["plenum"]
    ratio = point.stations["exhaust_port"].pressure / plenum.pressure
    factor = float(eng.back_pressure_factor(ratio, engine.compression))
    demand = eng.air_demand(
        solver.gas, engine.displacement, point.efficiency, point.speed, plenum.pressure,
        point.charge,
    )  # fmt: skip
    vapour = float(
        eng.displaced(
            solver.gas, point.charge, plenum.pressure, site[k.FUEL_PER_AIR] * site[k.DRY_SHARE],
            site[k.EVAPORATED], site[k.VAPOUR : k.VAPOUR + 4],
        )
    )  # fmt: skip
    return float(demand * factor * vapour), factor, vapour


def _air(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    plenum = point.stations["plenum"]
    drawn, factor, vapour = drawn_air(solver, point)
    return Sheet(
        "air", "Air that the engine draws", Figure(drawn, "mass_flow"),
        "m = VE · √(T / 298 K) · p / (R T) · V · n / 2 · k · y",
        (
            Line("VE", "volumetric efficiency", Figure(point.efficiency, "ratio"), "breathing"),
            Line("p", "plenum pressure, absolute", Figure(plenum.pressure, "pressure_absolute"), "pressure:plenum"),
            Line("T", "charge temperature after the fuel", Figure(point.charge, "temperature"), "charge"),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("k", "back-pressure factor at this port pressure", Figure(factor, "number")),
            Line("y", "what the vapour of the fuel leaves of the room", Figure(vapour, "number")),
        ),
        "Heywood 1988, sec. 6.2, eq. 6.2 for k, divided out at the stock ratio of 1.1",
    )  # fmt: skip


def _indicated(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    dry = point.air * solver.packed[0][k.DRY_SHARE]
    per_second = engine.displacement * point.speed / 120.0
    share = eng.SPARK_SHARE if engine.fuel.spark else eng.DIESEL_SHARE
    cycle = fuel_air_work(engine.fuel.key, engine.compression, engine.lambda_)
    late = float(eng.late_factor(point.retard))
    return Sheet(
        "indicated", "Gross indicated mean pressure",
        Figure(share * cycle * late * dry / per_second, "mean_pressure"),
        "imep = s · w · z · m / (V · n / 2)",
        (
            Line("s", "share of the fuel-air cycle that a real engine reaches", Figure(share, "ratio")),
            Line("w", say("work of the fuel-air cycle per kilogram of air at compression {r} and lambda {l}, MJ",
                          r=f"{engine.compression:g}", l=f"{engine.lambda_:.2f}"),
                 Figure(cycle / 1e6, "number")),
            Line("z", "what late ignition leaves", Figure(late, "number"), "late_factor"),
            Line("m", "dry air", Figure(dry, "mass_flow"), "dry_air"),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        "Fuel-air cycle in equilibrium (Heywood 1988, ch. 5; table made with Cantera); share 0.80 to "
        "0.85 of it: sec. 5.8. Rich mixture loses little work: it dissociates less",
    )  # fmt: skip


def _late(solver: Solver, point: Point) -> Sheet:
    return Sheet(
        "late_factor", "What late ignition leaves of the work",
        Figure(float(eng.late_factor(point.retard)), "number"), "z = 1 / (1 + 0.00045 · r²)",
        (Line("r", "degrees after best torque", Figure(math.radians(point.retard), "angle"), "retard"),),
        "Heywood 1988, fig. 15-3: 10° take 4 to 5 %, 20° 15 %",
    )  # fmt: skip


def _retard(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    found = float(
        retard_of(solver.packed[9], point.speed, point.stations["plenum"].pressure, point.charge)
    )
    by_fuel = engine.retard is None and engine.fuel.spark
    return Sheet(
        "retard", "Ignition after best torque", Figure(math.radians(found), "angle"),
        "r: I(r) = 1" if by_fuel else "r = r_0",
        (
            Line("r_0", "the most that is taken" if by_fuel else "as typed",
                 Figure(math.radians(MOST_RETARD if by_fuel else found), "angle")),
            Line("I", "knock index that is left", Figure(_index(solver, point), "number"), "knock"),
            Line("p_p", "plenum", Figure(point.stations["plenum"].pressure, "pressure_absolute"), "pressure:plenum"),
            Line("T", "charge after the fuel", Figure(point.charge, "temperature"), "charge"),
        ) if engine.fuel.octane is not None else (Line("r_0", "a diesel is not asked", Figure(0.0, "angle")),),
        "As late as brings the index of Douaud & Eyzat to 1, 20° at most (common practice, no source)"
        if by_fuel else "Entry",
    )  # fmt: skip


def _asked(solver: Solver, point: Point) -> Sheet:
    boost = solver.system.boost
    start = boost.onset * boost.full_from
    share = min(max((point.speed - start) / (boost.full_from - start), 0.0), 1.0)
    return Sheet(
        "asked_boost", "Boost that is asked for", Figure(float(boost.at(point.speed)), "pressure_gauge"),
        "p_w = p · s² · (3 − 2 s)",
        (
            Line("p", "full boost", Figure(boost.full, "pressure_gauge")),
            Line("s", "share of the way to the speed from which the full boost is let in", Figure(share, "number")),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
            Line("n_f", "speed from which the full boost is let in", Figure(boost.full_from, "rotation")),
        ),
        "Entry; a smooth step below it",
    )  # fmt: skip


def _index(solver: Solver, point: Point) -> float:
    engine = solver.system.engine
    return float(
        screen(
            engine, speed=np.array([point.speed]),
            plenum=np.array([point.stations["plenum"].pressure]), charge=np.array([point.charge]),
            gas_constant=float(solver.gas[GAS_CONSTANT]), retard=np.array([point.retard]),
        )[0]
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
    coolant = coolant_heat(solver, point)
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
        "Energy balance; heat to the walls: the form of Taylor & Toong (Heywood 1988, sec. 12.4.3)",
    )  # fmt: skip


def _knock(solver: Solver, point: Point) -> Sheet:
    engine = solver.system.engine
    octane = engine.fuel.octane or 100.0
    plenum = point.stations["plenum"].pressure
    heat = heat_of_charge(engine.burnt)
    index = _index(solver, point)
    return Sheet(
        "knock", "Knock index (screening)", Figure(float(index), "number"),
        "I = Σ Δt / (17.68 ms · (ON / 100)^3.4 · p^-1.7 · exp(3800 K / T_u))",
        (
            Line("ON", "octane number", Figure(octane, "number")),
            Line("p_p", "plenum, where the compression of the end gas begins",
                 Figure(plenum, "pressure_absolute"), "pressure:plenum"),
            Line("T", say("charge after the fuel; walls and residual gas add {more} K, fuel that evaporates in the cylinder takes {less} K",
                          more=f"{HEATING:.0f}", less=f"{evaporation_cooling(engine):.0f}"),
                 Figure(point.charge, "temperature"), "charge"),
            Line("ε", "compression ratio", Figure(engine.compression, "number")),
            Line("q", "heat of a kilogram of trapped gas, MJ", Figure(heat / 1e6, "number")),
            Line("z", "degrees of retard after best torque", Figure(math.radians(point.retard), "angle"), "retard"),
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


def coolant_heat(solver: Solver, point: Point) -> float:
    """Heat in W from the gas to the walls of chambers and ports."""
    site = solver.packed[0]
    released = point.air * site[k.DRY_SHARE] * solver.system.engine.burnt.heat_per_air
    exhaust = point.air + point.fuel
    return float(
        site[k.TRUST_HEAT]
        * eng.wall_heat(
            solver.burnt, site[k.NUSSELT], exhaust, site[k.BORE], site[k.PISTONS], point.charge,
            released / exhaust,
        )
    )


def _coolant(solver: Solver, point: Point) -> Sheet:
    site, burnt = solver.packed[0], solver.burnt
    engine = solver.system.engine
    exhaust = point.air + point.fuel
    heat = point.air * site[k.DRY_SHARE] * engine.burnt.heat_per_air / exhaust
    gas = float(eng.mean_gas_temperature(point.charge, heat))
    mu = float(viscosity(burnt, gas))
    reynolds = exhaust / engine.pistons * engine.bore / mu
    conductivity = mu * float(heat_capacity(burnt, gas)) / PRANDTL
    factor = float(site[k.NUSSELT] * site[k.TRUST_HEAT])
    h = factor * reynolds**0.75 * conductivity / engine.bore
    return Sheet(
        "coolant_heat", "Heat from the gas to the walls",
        Figure(float(h * engine.pistons * (gas - eng.COOLANT)), "power"),
        "Q_c = c · Re^0.75 · k / B · A · (T_g − T_w)",
        (
            Line("c", "factor of the gas alone", Figure(factor, "number")),
            Line("Re", "of the charge on piston area and bore", Figure(float(reynolds), "count")),
            Line("k", "conductivity of the gas, W/(m K)", Figure(conductivity, "number")),
            Line("B", "bore", Figure(engine.bore, "length")),
            Line("A", "area of all pistons", Figure(engine.pistons, "area")),
            Line("T_g", "gas temperature that stands for the cycle", Figure(gas, "temperature")),
            Line("T_w", "coolant", Figure(eng.COOLANT, "temperature")),
        ),
        "C. F. Taylor, T. Y. Toong, in Heywood 1988, sec. 12.4.3, in form; the factor is set by exhaust "
        "temperatures (from memory, bands): ±20 %",
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


def _turned_up(key: str, solver: Solver, point: Point) -> tuple[float, Point]:
    """Boost that is asked for in Pa gauge, weekly or for the big run, and the point with it."""
    system = solver.system
    boost = system.boost.full
    if key.startswith("big_run"):
        boost = max(system.target.big_run, boost)
    raw = solver.raw(approach(system, point.speed))
    held = solver.at_pressure(
        np.array([point.speed]), np.array([system.site.pressure + boost]),
        start=raw.solutions[-1],
    )  # fmt: skip
    if not held.solved[0]:
        raise KeyError(key)
    return boost, solver.point(held, 0)


def _boost_with(key: str, title: str) -> Maker:
    def maker(solver: Solver, point: Point) -> Sheet:
        boost, turned = _turned_up(key, solver, point)
        plenum = turned.stations["plenum"].pressure
        ambient = solver.system.site.pressure
        return Sheet(
            key, title, Figure(plenum - ambient, "pressure_gauge"), "p_b = p_p − p_a",
            (
                Line("p_p", "plenum, then", Figure(plenum, "pressure_absolute")),
                Line("p_a", "ambient", Figure(ambient, "pressure_absolute")),
                Line("p_w", "boost that the gate is asked to hold", Figure(boost, "pressure_gauge")),
            ),
            "The whole path solved again with that boost asked for",
        )  # fmt: skip

    return maker


def _power_with(key: str, title: str) -> Maker:
    def maker(solver: Solver, point: Point) -> Sheet:
        system = solver.system
        boost, turned = _turned_up(key, solver, point)
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
    "retard": _retard,
    "asked_boost": _asked,
    "late_factor": _late,
    "breathing": _breathing,
    "displacement": _displacement,
    "consumption": _consumption,
    "missing": _missing,
    "bottom_end_power": _power_with("bottom_end_power", "Power on the weekly boost"),
    "bottom_end_boost": _boost_with("bottom_end_boost", "Weekly boost that is made"),
    "big_run_boost": _boost_with("big_run_boost", "Boost that the single big run makes"),
    "big_run_power": _power_with("big_run_power", "Power of the single big run"),
    "gain_heat": _gain_heat,
    "gain_height": _gain_height,
}

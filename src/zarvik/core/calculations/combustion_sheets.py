"""Working of what burns, what it does on the pistons, and what it heats."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import Line, Maker, Sheet
from zarvik.core.common.sentences import Figure, message
from zarvik.core.ducts.wall_heat import PRANDTL
from zarvik.core.engine import engine as eng
from zarvik.core.engine.cycle import fuel_air_work
from zarvik.core.engine.knock import HEATING, MOST_RETARD, evaporation_cooling, heat_of_charge, retard_of, screen, screening_charge
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import enthalpy, heat_capacity, viscosity
from zarvik.core.radiator.water_heat import coolant_heat
from zarvik.core.relations.engine import CYCLE, FRICTION, KNOCK, LATE, WALLS
from zarvik.core.relations.gas import COMBUSTION


def _indicated(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    dry = point.air * solver.site_numbers[k.DRY_SHARE]
    per_second = engine.swept_flow(point.speed)
    share = eng.SPARK_SHARE if engine.fuel.spark else eng.DIESEL_SHARE
    cycle = fuel_air_work(engine.fuel.key, engine.compression, engine.lambda_)
    late = float(eng.late_factor(point.retard))
    return Sheet(
        key="indicated",
        title="Gross indicated mean pressure",
        result=Figure(share * cycle * late * dry / per_second, "mean_pressure"),
        relation="imep = s · w · z · m / (V · n / 2)",
        lines=(
            Line("s", "share of the fuel-air cycle reached by a real engine", Figure(share, "ratio")),
            Line(
                "w",
                message(
                    "work of the fuel-air cycle per kilogram of air at compression {r} and lambda {l}, MJ",
                    r=f"{engine.compression:g}",
                    l=f"{engine.lambda_:.2f}",
                ),
                Figure(cycle / 1e6, "number"),
            ),
            Line("z", "factor of late ignition", Figure(late, "number"), "late_factor"),
            Line("m", "dry air", Figure(dry, "mass_flow"), "dry_air"),
            Line("V", "displacement", Figure(engine.displacement, "volume"), "displacement"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        source=CYCLE.source,
    )


def _late(solver: Solver, point: Point) -> Sheet:
    return Sheet(
        key="late_factor",
        title="Share of work left by late ignition",
        result=Figure(float(eng.late_factor(point.retard)), "number"),
        relation=LATE.written,
        lines=(Line("r", "degrees after best torque", Figure(math.radians(point.retard), "angle"), "retard"),),
        source=LATE.source,
    )


def _retard(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    found = float(
        retard_of(
            solver.ignition_numbers,
            point.speed,
            point.stations["plenum"].pressure,
            screening_charge(engine, point.charge, point.evaporated),
        )
    )
    by_fuel = engine.retard is None and engine.fuel.spark
    return Sheet(
        key="retard",
        title="Ignition retard from best torque",
        result=Figure(math.radians(found), "angle"),
        relation="r: I(r) = 1" if by_fuel else "r = r_0",
        lines=(
            Line("r_0", "the limit used" if by_fuel else "as typed", Figure(math.radians(MOST_RETARD if by_fuel else found), "angle")),
            Line("I", "remaining knock index", Figure(_index(solver, point), "number"), "knock"),
            Line("p_p", "plenum", Figure(point.stations["plenum"].pressure, "pressure_absolute"), "pressure:plenum"),
            Line("T", "charge after the fuel", Figure(point.charge, "temperature"), "charge"),
        )
        if engine.fuel.octane is not None
        else (Line("r_0", "not for a diesel", Figure(0.0, "angle")),),
        source="As late as brings the index of Douaud & Eyzat to 1, 20° at most (common practice, no source)" if by_fuel else "Entry",
    )


def _index(solver: Solver, point: Point) -> float:
    engine = solver.path.engine
    return float(
        screen(
            engine,
            speed=np.array([point.speed]),
            plenum=np.array([point.stations["plenum"].pressure]),
            charge=np.array([screening_charge(engine, point.charge, point.evaporated)]),
            gas_constant=float(solver.gas[GAS_CONSTANT]),
            retard=np.array([point.retard]),
        )[0]
    )


def _friction(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    piston = 2.0 * engine.stroke * point.speed / 60.0
    return Sheet(
        key="friction",
        title="Friction mean pressure",
        result=Figure(eng.friction_mean_pressure(piston, point.indicated), "mean_pressure"),
        relation=FRICTION.written,
        lines=(
            Line("s", "mean piston speed", Figure(piston, "velocity")),
            Line("imep", "gross indicated mean pressure", Figure(point.indicated, "mean_pressure"), "indicated"),
        ),
        source=FRICTION.source,
    )


def _fuel(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    dry = point.air * solver.site_numbers[k.DRY_SHARE]
    stoichiometric = engine.fuel.stoichiometric_ratio
    return Sheet(
        key="fuel",
        title="Fuel flow",
        result=Figure(dry / (engine.lambda_ * stoichiometric), "mass_flow"),
        relation="m_f = m / (λ · L)",
        lines=(
            Line("m", "dry air", Figure(dry, "mass_flow"), "dry_air"),
            Line("λ", "lambda at full load", Figure(engine.lambda_, "number")),
            Line("L", "air for a kilogram of fuel at lambda 1", Figure(stoichiometric, "number")),
        ),
        source="Formula of the fuel (Heywood 1988, table D.4)",
    )


def _lambda(solver: Solver, point: Point) -> Sheet:
    dry = point.air * solver.site_numbers[k.DRY_SHARE]
    stoichiometric = solver.path.engine.fuel.stoichiometric_ratio
    return Sheet(
        key="lambda",
        title="Lambda",
        result=Figure(dry / (point.fuel * stoichiometric), "number"),
        relation="λ = m / (m_f · L)",
        lines=(
            Line("m", "dry air", Figure(dry, "mass_flow"), "dry_air"),
            Line("m_f", "fuel flow", Figure(point.fuel, "mass_flow")),
            Line("L", "air for a kilogram of fuel at lambda 1", Figure(stoichiometric, "number")),
        ),
        source="Formula of the fuel (Heywood 1988, table D.4)",
    )


def _port_temperature(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    swept = engine.swept_flow(point.speed)
    dry = point.air * solver.site_numbers[k.DRY_SHARE]
    released = dry * engine.burnt.heat_per_air
    work = (point.indicated - point.pumping) * swept
    coolant = coolant_heat(solver, point)
    plenum = point.stations["plenum"].temperature
    exhaust = point.air + point.fuel
    found = eng.exhaust_temperature(solver.gas, solver.burnt, point.air, exhaust, plenum, released, work, coolant, 1100.0)
    base = eng.REFERENCE_TEMPERATURE
    burnt = solver.burnt
    mean = (enthalpy(burnt, found) - enthalpy(burnt, base)) / (found - base)
    return Sheet(
        key="port_temperature",
        title="Exhaust port temperature",
        result=Figure(float(found), "temperature"),
        relation="T3 = 25 °C + (Q + H − W − Q_c) / (m_e · c_p)",
        lines=(
            Line("Q", "heat released", Figure(released, "power"), "released_heat"),
            Line("H", "heat of the charge", Figure(point.air * (enthalpy(solver.gas, plenum) - enthalpy(solver.gas, base)), "power")),
            Line("W", "indicated work less pumping", Figure(work, "power"), "net_work"),
            Line("Q_c", "heat to coolant and oil", Figure(coolant, "power"), "coolant_heat"),
            Line("m_e", "exhaust gas", Figure(exhaust, "mass_flow"), "exhaust_flow"),
            Line("c_p", "of the gas on the way, J/(g K)", Figure(mean / 1000.0, "number")),
        ),
        source="Energy balance; heat to the walls: the form of Taylor & Toong (Heywood 1988, sec. 12.4.3)",
    )


def _knock(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    octane = engine.fuel.octane or 100.0
    plenum = point.stations["plenum"].pressure
    heat = heat_of_charge(engine.burnt)
    index = _index(solver, point)
    return Sheet(
        key="knock",
        title="Knock index (screening)",
        result=Figure(float(index), "number"),
        relation=KNOCK.written,
        lines=(
            Line("ON", "octane number", Figure(octane, "number")),
            Line("p_p", "plenum, where the compression of the end gas begins", Figure(plenum, "pressure_absolute"), "pressure:plenum"),
            Line(
                "T",
                message(
                    ("charge after the fuel; walls and residual gas add {more} K, fuel evaporating in the cylinder takes {less} K"),
                    more=f"{HEATING:.0f}",
                    less=f"{evaporation_cooling(engine) - screening_charge(engine, 0.0, point.evaporated):.0f}",
                ),
                Figure(point.charge, "temperature"),
                "charge",
            ),
            Line("ε", "compression ratio", Figure(engine.compression, "number")),
            Line("q", "heat of a kilogram of trapped gas, MJ", Figure(heat / 1e6, "number")),
            Line("z", "degrees of retard after best torque", Figure(math.radians(point.retard), "angle"), "retard"),
            Line("n", "engine speed, which sets the time", Figure(point.speed, "rotation")),
        ),
        source=KNOCK.source,
    )


def _released(solver: Solver, point: Point) -> Sheet:
    engine = solver.path.engine
    dry = point.air * solver.site_numbers[k.DRY_SHARE]
    return Sheet(
        key="released_heat",
        title="Heat released",
        result=Figure(float(dry * engine.burnt.heat_per_air), "power"),
        relation="Q = m · q",
        lines=(
            Line("m", "dry air", Figure(float(dry), "mass_flow"), "dry_air"),
            Line("q", "heat of a kilogram of air, MJ", Figure(engine.burnt.heat_per_air / 1e6, "number")),
        ),
        source=COMBUSTION.source,
    )


def _coolant(solver: Solver, point: Point) -> Sheet:
    site, burnt = solver.site_numbers, solver.burnt
    engine = solver.path.engine
    exhaust = point.air + point.fuel
    heat = point.air * site[k.DRY_SHARE] * engine.burnt.heat_per_air / exhaust
    gas = float(eng.mean_gas_temperature(point.charge, heat))
    mu = float(viscosity(burnt, gas))
    reynolds = exhaust / engine.pistons * engine.bore / mu
    conductivity = mu * float(heat_capacity(burnt, gas)) / PRANDTL
    factor = float(site[k.NUSSELT] * site[k.TRUST_HEAT])
    h = factor * reynolds**0.75 * conductivity / engine.bore
    return Sheet(
        key="coolant_heat",
        title="Cylinder wall heat",
        result=Figure(float(h * engine.pistons * (gas - eng.COOLANT)), "power"),
        relation="Q_c = c · Re^0.75 · k / B · A · (T_g − T_w)",
        lines=(
            Line("c", "factor of the gas alone", Figure(factor, "number")),
            Line("Re", "of the charge on piston area and bore", Figure(float(reynolds), "count")),
            Line("k", "conductivity of the gas, W/(m K)", Figure(conductivity, "number")),
            Line("B", "bore", Figure(engine.bore, "length")),
            Line("A", "area of all pistons", Figure(engine.pistons, "area")),
            Line("T_g", "mean gas temperature of the cycle", Figure(gas, "temperature")),
            Line("T_w", "coolant", Figure(eng.COOLANT, "temperature")),
        ),
        source=WALLS.source,
    )


SHEETS: dict[str, Maker] = {
    "released_heat": _released,
    "coolant_heat": _coolant,
    "fuel": _fuel,
    "lambda": _lambda,
    "indicated": _indicated,
    "friction": _friction,
    "port_temperature": _port_temperature,
    "knock": _knock,
    "retard": _retard,
    "late_factor": _late,
}

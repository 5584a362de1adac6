"""Every relation that the numbers rest on as a record: where it holds, where it comes from, how good it
is. Working sheets name their source from here; docs/methods.md is made from here; a point outside of a
relation's range is told by a verdict.
"""

from __future__ import annotations

from zarvik.core.airpath import kernel
from zarvik.core.common.method import Method, Named
from zarvik.core.compressor import lookup
from zarvik.core.ducts import flow, friction, junctions, wall_heat
from zarvik.core.ducts.pieces import (
    bend,
    catalyst,
    collector,
    crossover,
    crush,
    entry,
    joint,
    mitre,
    plenum_entry,
    primaries,
    reducer,
    resistance,
    silencer,
    step,
    tee,
    throttle,
)
from zarvik.core.engine import belt, blower, correction, cycle, engine, knock
from zarvik.core.estimates import typical_values
from zarvik.core.fluid_lines import crankcase_breather, oil, pressure_hoses, turbo_coolant
from zarvik.core.fluid_lines import fuel as injectors
from zarvik.core.gas import ambient, combustion, humidity, mixture, properties
from zarvik.core.heat import clearance, probes
from zarvik.core.intake import butterfly, ports, runner_tuning
from zarvik.core.intercooler import cooler, core_size, effectiveness, surfaces
from zarvik.core.joints import flanges, gaskets, hose_joints
from zarvik.core.leak_test import leaks
from zarvik.core.manifold import life, turbo_weight
from zarvik.core.materials import corrosion
from zarvik.core.radiator import radiator
from zarvik.core.spool import transient
from zarvik.core.turbine import pulses, rotor, turbine
from zarvik.core.vehicle import towing
from zarvik.core.wastegate import branch, wastegate_flow

_PRACTICE = "common practice, no source"

GAS = Method(
    "gas",
    "Enthalpy and heat capacity",
    properties.enthalpy,
    {"temperature": (200.0, 6000.0)},
    "NASA TM-4513 (1993), seven coefficients a species",
    "0.1 % of heat capacity",
)
VISCOSITY = Method(
    "viscosity",
    "Viscosity of air and burnt gas",
    mixture.mixture_viscosity,
    {"temperature": (200.0, 2000.0)},
    "Sutherland; Wilke",
    "2 %, burnt gas 4 %",
)
HUMIDITY = Method(
    "humidity",
    "Saturation of water vapour",
    humidity.saturation_pressure,
    {"temperature": (173.15, 473.15)},
    "Hyland & Wexler 1983",
    "0.1 %",
)
ATMOSPHERE = Method(
    "atmosphere",
    "Standard atmosphere",
    ambient.standard_pressure,
    {"altitude": (-2000.0, 11000.0)},
    "ISO 2533:1975",
    "a day differs by up to 3 %",
)
COMBUSTION = Method(
    "combustion",
    "Heat that is released",
    combustion.burn,
    {"lambda_": (0.45, 20.0)},
    "Oxygen limits it on the rich side, fuel on the lean side (Heywood 1988, sec. 4.9)",
    "1 %; 2 % of the fuel stays unburnt (from memory)",
)
FRICTION_FACTOR = Method(
    "friction_factor",
    "Wall friction",
    friction.friction_factor,
    {"reynolds": (4e3, 1e8), "relative_roughness": (0.0, 0.05)},
    "Clamond 2009 (Colebrook 1939); Moody 1944 for the roughness",
    "5 %, the roughness more",
)
FANNO = Method(
    "fanno",
    "A loss at any Mach number up to choke",
    flow.friction_rise,
    {"loss": (0.0, 60.0)},
    "Fanno flow of f L/D = K (NACA Report 1135); Saad 1993, ch. 6",
    "exact for a constant K",
)
WIDENING = Method(
    "widening",
    "Sudden widening at any Mach number",
    flow.widened,
    {"ratio": (0.0, 1.0)},
    "Borda-Carnot with momentum, energy and mass exact",
    "2 %",
)
STEPS = Method("step", "Sudden widening or narrowing", step.step_loss, {}, "Borda-Carnot; Idelchik, diagram 4-9", "10 %")
CONES = Method("cone", "Cones", reducer.cone_loss, {}, reducer.SOURCE, "20 %; above 15° in all the flow leaves the wall")
MITRES = Method(
    "mitre", "Pie cuts and mitres", mitre.mitre_loss, {"angle": (0.0, 2.1)}, "D. S. Miller, Internal Flow Systems, 1990, ch. 9", "30 %"
)
CRUSHED = Method(
    "crush", "Crushed bend", crush.build, {"kept": (0.5, 1.0)}, "Rennels & Hudson 2012, ch. 15; Idelchik 4-9; Borda-Carnot", "20 %"
)
ENTRIES = Method("entry", "Entry", entry.build, {}, "Idelchik, diagram 3-4; Crane TP-410, A-30", "10 %")
MOUTHS = Method("mouth", "Exit into the open or a plenum", plenum_entry.build, {}, "The whole head of the stream is lost", "exact")
JOINTS = Method(
    "joint", "Hose over a gap", joint.joint_loss, {}, "Borda-Carnot; Rennels & Hudson 2012, ch. 10; reattachment length from memory", "30 %"
)
COLLECTORS = Method(
    "collector",
    "Collector or log",
    collector.collector_loss,
    {"angle": (0.0, 1.05)},
    "Idelchik, ch. 7, in form; values from memory, as bands",
    "30 %",
)
TEES = Method("tee", "Tee", tee.build, {}, "Crane TP-410, A-29", "20 %")
THROTTLES = Method("throttle", "Open throttle", throttle.throttle_loss, {}, "Idelchik, diagram 4-9; Borda-Carnot", "25 %")
RATED = Method(
    "resistance",
    "Filter or rated part",
    resistance.build,
    {"linear_share": (0.0, 1.0)},
    "Darcy-Forchheimer: drop = a V + b rho V²/2",
    "as good as its rating",
)
PULSED = Method(
    "primaries",
    "Primaries",
    primaries.primary_loss,
    {},
    f"Clamond 2009; Rennels & Hudson 2012, ch. 15; pulse factor 3: {_PRACTICE}",
    "40 %",
)
SKIN = Method(
    "skin",
    "Skin of a pipe and heat through it",
    wall_heat.skin_temperature,
    {},
    "Dittus & Boelter in the form of McAdams 1942; pulsating exhaust: Depcik & Assanis, SAE "
    "2002-01-0372 (from memory); Stefan-Boltzmann outside",
    "25 %; the bay's air more",
)
AIR = Method(
    "air",
    "Air that the engine draws",
    engine.air_demand,
    {"efficiency": (0.2, 1.5)},
    "Heywood 1988, sec. 6.2, eq. 6.2 for k, divided out at the stock ratio of 1.1",
    "2 %, as good as the breathing",
)
BACK_PRESSURE = Method(
    "back_pressure",
    "Back-pressure and breathing",
    engine.back_pressure_factor,
    {"ratio": (0.3, 3.5)},
    "Heywood 1988, eq. 6.2 (ideal cycle)",
    "3 % of air at a ratio of 2",
)
FRICTION = Method(
    "friction",
    "Friction of the engine",
    engine.friction_mean_pressure,
    {"piston_speed": (2.0, 28.0)},
    "Chen & Flynn, SAE 650733 (1965); published sets differ by 4 % of power",
    "15 % of itself",
    "fmep = {a} bar + {b} · {peak} imep + {c} · s + {d} · s²  (bar, m/s)",
    {
        "a": Named(engine, "FRICTION", 0, 1e-5),
        "b": Named(engine, "FRICTION", 1),
        "peak": Named(engine, "PEAK_OVER_IMEP"),
        "c": Named(engine, "FRICTION", 2, 1e-5),
        "d": Named(engine, "FRICTION", 3, 1e-5),
    },
)
CYCLE = Method(
    "cycle",
    "Work of the fuel-air cycle",
    cycle.fuel_air_work,
    {"compression": (6.0, 26.0), "lambda_": (0.6, 4.0)},
    "Fuel-air cycle in equilibrium (Heywood 1988, ch. 5; table made with Cantera); share 0.80 to 0.85 "
    "of it: sec. 5.8. Rich mixture loses little work: it dissociates less",
    "3 %",
)
LATE = Method(
    "late",
    "Late ignition",
    engine.late_factor,
    {"retard": (0.0, 40.0)},
    "Heywood 1988, fig. 15-3: 10° take 4 to 5 %, 20° 15 %",
    "2 % of power at 20°",
    "z = 1 / (1 + {loss} · r²)",
    {"loss": Named(engine, "RETARD_LOSS")},
)
WALLS = Method(
    "walls",
    "Heat to the cylinder walls",
    engine.wall_heat,
    {},
    "C. F. Taylor, T. Y. Toong, in Heywood 1988, sec. 12.4.3, in form; the factor is set by exhaust "
    "temperatures (from memory, bands): ±20 %",
    "15 %",
)
KNOCK = Method(
    "knock",
    "Knock",
    knock.knock_integral,
    {"octane": (80.0, 100.0), "charge": (270.0, 420.0)},
    "Douaud & Eyzat, SAE 780080 (1978), with the Livengood-Wu integral (1955) along a Wiebe burn, to 90 % "
    "burnt; ranks and warns, promises nothing",
    "a third between engines",
    "I = Σ Δt / ({delay} ms · (ON / 100)^{octane} · p^-{pressure} · exp({activation} K / T_u))",
    {
        "delay": Named(knock, "DELAY", scale=1e3),
        "octane": Named(knock, "OCTANE_POWER"),
        "pressure": Named(knock, "PRESSURE_POWER"),
        "activation": Named(knock, "ACTIVATION"),
    },
)
EVAPORATION = Method(
    "evaporation",
    "Fuel that evaporates in the charge",
    engine.charge_after_fuel,
    {},
    "Energy balance; saturation of alcohol by Antoine's rule",
    "the share that evaporates is a guess",
)
DAY = Method(
    "day",
    "What a dyno prints",
    correction.standard_day_factor,
    {},
    "SAE J1349; with boost control it flatters a turbocharged engine",
    "by definition",
    "P_std = P · ({slope} · {dry} kPa / p_dry · √(T / {day} K) − {offset})",
    {
        "slope": Named(correction, "SLOPE"),
        "dry": Named(correction, "DRY_PRESSURE", scale=1e-3),
        "day": Named(correction, "TEMPERATURE"),
        "offset": Named(correction, "OFFSET"),
    },
)
EXCHANGER = Method(
    "exchanger",
    "Effectiveness of the cooler",
    effectiveness.crossflow_effectiveness,
    {"transfer_units": (0.0, 8.0), "capacity_ratio": (0.0, 1.0)},
    "Effectiveness-NTU, cross-flow, both unmixed (Incropera eq. 11.32), from the rated point; within 4 % "
    "of the exact series for 0.3 to 4 transfer units",
    "4 %, as good as the rating",
)
CORE = Method(
    "core",
    "Cooler off its rated point",
    cooler.cool,
    {},
    f"Inside Nu over Re^0.8 (Dittus-Boelter), fins j over Re^-0.45 (Kays & London 1984); half of the resistance on each side: {_PRACTICE}",
    "10 %",
)
MAP = Method(
    "map",
    "Compressor map between its points",
    lookup.efficiency_at,
    {},
    "The map itself; monotone cubics between its points (Fritsch & Carlson 1980)",
    "as good as the map",
)
TURBINE_FLOW = Method(
    "turbine_flow",
    "Gas that the turbine swallows",
    turbine.swallowed,
    {},
    "NACA 1135; two nozzles in series: Watson & Janota 1982, ch. 4, in form",
    "5 % of area",
    "m_t = z · A · p4 / √(R · T4) · Φ · (1 − {fall} · (u / a)²) · q",
    {"fall": Named(turbine, "FALL")},
)
TURBINE_EFFICIENCY = Method(
    "turbine_efficiency",
    "Efficiency of the turbine",
    turbine.efficiency_at,
    {"blade_speed_ratio": (0.1, 1.4)},
    "Parabola over the blade-speed ratio: Watson & Janota 1982, fig. 4.16, in form",
    "3 points",
)
PULSES = Method(
    "pulses",
    "What pulses add at the turbine",
    pulses.factors,
    {"speed": (500.0, 12000.0), "ratio": (1.05, 4.0)},
    "Filling and emptying, no waves: Watson & Janota 1982, ch. 15; against constant pressure ch. 7",
    "a turbine makes 5 to 10 % less work of pulses than the sum of its moments (memory)",
)
GATE = Method("gate", "Gas past the gate", wastegate_flow.bypassed, {}, "Isentropic orifice, NACA 1135", "10 %")
JUNCTIONS = Method(
    "junctions",
    "Streams that meet and part",
    junctions.joining_through,
    {"share": (0.0, 1.0)},
    "Momentum with one pressure across the junction: Idelchik, eq. 7-1 to 7-4",
    "a square tee asks for a third less than this (Idelchik, diagram 7-4, memory)",
)
BRANCH = Method(
    "branch",
    "Branch that leads to a gate",
    branch.branched_discharge,
    {"angle": (0.0, 2.62)},
    "Idelchik, eq. 7-3, in series with a poppet valve of 0.72 (Heywood 1988, sec. 6.3, memory)",
    "0.1 of the coefficient",
)
OVERLAP = Method(
    "overlap",
    "Neighbour's pulse at open valves",
    pulses.overlap_pressure,
    {},
    "Pressure of the filling and emptying at 340 to 380 degrees, late by each pipe, in Heywood's eq. 6.2",
    "no waves: half of it",
)
BANKS = Method(
    "banks",
    "Crossover of two banks",
    crossover.far_loss,
    {},
    "Half of the gas through friction and bends (Clamond 2009; Rennels & Hudson 2012), two streams that merge",
    "30 %",
)
BRICKS = Method(
    "bricks",
    "Honeycomb of a catalyst",
    catalyst.honeycomb_loss,
    {"cells": (50.0, 1200.0)},
    "Laminar flow in square channels: Shah & London 1978; cones: Borda-Carnot, Idelchik ch. 5",
    "15 %",
)
SILENCERS = Method(
    "silencers",
    "Silencer by its inside",
    silencer.silencer_loss,
    {},
    "Borda-Carnot, Idelchik diagram 4-9; friction of holes and turns from memory",
    "40 to 60 %",
)
PROBES = Method(
    "probes",
    "What a thermocouple shows",
    probes.reading,
    {"blows": (0.05, 1.0)},
    "Churchill & Bernstein 1977; fin with radiation to the wall",
    "a third of its error",
)
NEAR = Method(
    "near",
    "Clearance to hot parts",
    clearance.clearances,
    {},
    "View factor of a thin cylinder (Sparrow & Cess 1978); heat balance at full load, and in the soak after a stop; floors: common "
    "practice, no source",
    "rough guide: 30 % of the gap",
)
LIFE = Method(
    "manifold_life",
    "Hot cycles until a manifold cracks",
    life.life,
    {"temperature": (500.0, 1250.0)},
    "Universal slopes (Manson 1965), notch of a weld (Markl 1952), guided beam that slides at its flange; the rest common practice, no "
    "source",
    "rough guide: a factor of 3",
)
CREEP = Method(
    "creep",
    "What hot pipes carry",
    turbo_weight.creep,
    {"temperature": (673.0, 1373.0)},
    "1,000 h rupture: ASM Metals Handbook vol. 1, SAE J2582 (memory)",
    "40 %",
)
HILL = Method(
    "hill",
    "Train on a hill",
    towing.at_power,
    {},
    "Forces on a grade (Gillespie 1992, ch. 4, memory); the whole path at part load; two lumps of metal",
    "30 K; the minutes by a third",
)
BUTTERFLY = Method(
    "butterfly",
    "Exhaust brake",
    towing.braking,
    {},
    "Air that is pumped (Heywood eq. 6.2) through a hole (NACA 1135, 0.8); gas of 200 °C: common practice, no source",
    "20 %",
)
HOLES = Method(
    "holes",
    "Air through a hole, and a gauge that falls",
    leaks.fall_time,
    {},
    "Isentropic orifice, NACA 1135; discharge 0.62 of a ragged hole (memory)",
    "15 % of area",
)
CLAMPS = Method(
    "clamps",
    "What a clamp holds",
    hose_joints.held,
    {},
    f"Euler-Eytelwein round the band, a bead as the ramp of a screw; friction, creep, torques: {_PRACTICE}",
    "rough guide: a third",
)
OILED = Method("oil", "Oil through a restrictor", oil.feed_flow, {}, "Entry and Hagen-Poiseuille in a row; ASTM D341 for viscosity", "20 %")
DRAINED = Method("drain", "Oil that a drain carries", oil.drain_flow, {}, f"Hagen-Poiseuille; foam: {_PRACTICE}", "a factor of two")
INJECTED = Method("injectors", "Injectors", injectors.injection, {}, "Bernoulli", "5 %")
BUTTERFLIES = Method(
    "butterflies",
    "Opening of a throttle over its angle",
    butterfly.open_area,
    {"angle": (0.105, 1.571)},
    "Harrington & Bolt, SAE 700082 (1970), in Heywood 1988, eq. 7.18 (memory); plane geometry",
    "exact; discharge 0.85 within a tenth",
)
PORTED = Method(
    "ports",
    "Openings on the way to the valve",
    ports.edge_loss,
    {},
    "Narrowing: Idelchik, diagram 4-9; widening: Borda-Carnot; half a sine of flow in a quarter of two turns",
    "30 %",
)
VALVED = Method(
    "valves",
    "Mach index of the inlet valves",
    ports.mach_index,
    {},
    "C. F. Taylor, The Internal-Combustion Engine, vol. 1, 1985, ch. 6 (memory)",
    "10 % of the flow coefficient",
)
RADIATED = Method(
    "radiator",
    "Water behind a radiator",
    radiator.cooled,
    {"road_speed": (0.0, 70.0)},
    f"Effectiveness-NTU; louvres: Chang & Wang 1997, Davenport 1983; share of the wind, pump, what a block holds: {_PRACTICE}",
    "20 K; the seconds of a pull by a third",
)
BREATHED = Method(
    "crankcase",
    "Pressure under the pistons",
    crankcase_breather.hose_drop,
    {},
    f"Isothermal flow of a long pipe; 64 / Re or Blasius; gas past the rings: {_PRACTICE}",
    "a factor of two",
)
CENTRED = Method(
    "centre",
    "Water through a turbo",
    turbo_coolant.siphoned,
    {"heat": (10.0, 5000.0)},
    f"Weight of warm against cold water and what hoses rub; heat: {_PRACTICE}",
    "a factor of two",
)
PLATED = Method(
    "plates",
    "Plate between two flanges",
    flanges.plate,
    {},
    f"Rennels & Hudson 2012, ch. 10 and 11; ISO 273, ISO 4762; thread lengths: {_PRACTICE}",
    "20 % of the loss",
)
LAYERED = Method(
    "layers",
    "Heat through layers and bolts",
    gaskets.conducted,
    {},
    "Slabs in a row and bolts beside them; contacts: Incropera, table 3.1 (memory)",
    "a third",
)
SIGNALLED = Method(
    "signals",
    "How late a signal comes",
    pressure_hoses.late,
    {},
    f"Isentropic nozzle, NACA 1135, discharge by what the hose rubs; rooms: {_PRACTICE}",
    "a third",
)
RUSTED = Method("rust", "Years of a wall", corrosion.years, {}, "ISO 9223:2012, table 2, upper ends (memory)", "a factor of two")
RINGING = Method(
    "ringing",
    "Runners that ring",
    runner_tuning.ram_speed,
    {},
    "Helmholtz; H. W. Engelman, ASME 73-WA/DGP-2 (memory)",
    "8 % of engine speed",
)
BLOWER = Method(
    "blower",
    "Air that a blower moves",
    blower.blown,
    {"ratio": (1.0, 2.6)},
    "Displacement times volumetric efficiency less slip; the rest goes back to the inlet",
    "5 %",
)
BLOWER_HEAT = Method(
    "blower_efficiency",
    "Efficiency of a blower",
    blower.blower_efficiency,
    {"ratio": (1.0, 2.6)},
    "A straight line through two points of the blower; not below 25 %",
    "4 points",
)

SPOOL = Method(
    "spool_up",
    "Seconds from a closed throttle to boost",
    transient.follow,
    {},
    "Energy of the rotors and mass of the gas in the pipes, step by step, on the steady solution; "
    "Watson & Janota 1982, ch. 13 (quasi-steady method)",
    "30 %, most of it the rotor's inertia",
)
LOUVRES = Method(
    "louvres",
    "Louvred fins",
    surfaces.louvre_factors,
    {"reynolds": (100.0, 3000.0)},
    "Chang & Wang 1997 (heat), Davenport 1983 (friction, constants from memory)",
    "15 %, friction 25 %",
)
BY_QUANTITY = Method(
    "by_quantity",
    "Lambda from the fuel of a pump",
    kernel.mix_by_fuel,
    {},
    "Mass balance; heat, work and burnt gas between rows over fuel per air",
    "0.1 % of the work",
)

RELATIONS: tuple[Method, ...] = (
    GAS,
    VISCOSITY,
    HUMIDITY,
    ATMOSPHERE,
    COMBUSTION,
    FRICTION_FACTOR,
    FANNO,
    WIDENING,
    *bend.METHODS,
    MITRES,
    CRUSHED,
    CONES,
    STEPS,
    ENTRIES,
    MOUTHS,
    JOINTS,
    COLLECTORS,
    TEES,
    THROTTLES,
    RATED,
    PULSED,
    SKIN,
    AIR,
    BACK_PRESSURE,
    FRICTION,
    CYCLE,
    LATE,
    WALLS,
    KNOCK,
    EVAPORATION,
    DAY,
    EXCHANGER,
    CORE,
    MAP,
    TURBINE_FLOW,
    TURBINE_EFFICIENCY,
    PULSES,
    OVERLAP,
    GATE,
    BRANCH,
    JUNCTIONS,
    BANKS,
    BRICKS,
    SILENCERS,
    PROBES,
    NEAR,
    LIFE,
    CREEP,
    HILL,
    BUTTERFLY,
    HOLES,
    CLAMPS,
    OILED,
    DRAINED,
    INJECTED,
    RINGING,
    BUTTERFLIES,
    PORTED,
    VALVED,
    RADIATED,
    BREATHED,
    CENTRED,
    PLATED,
    LAYERED,
    SIGNALLED,
    RUSTED,
    BLOWER,
    BLOWER_HEAT,
    core_size.RATING,
    *typical_values.METHODS,
    SPOOL,
    LOUVRES,
    BY_QUANTITY,
    *rotor.METHODS,
    *belt.METHODS,
)


def table() -> str:
    """All relations as a table in Markdown, for the documentation."""
    rows = ["| relation | formula | source | holds for (SI) | how good |", "|---|---|---|---|---|"]
    for method in RELATIONS:
        held = "; ".join(f"{name.strip('_').replace('_', ' ')} {low:.4g} to {high:.4g}" for name, (low, high) in method.limits.items())
        source = method.source.replace("|", "/")
        rows.append(f"| {method.title} | {method.written.replace('|', '/') or '–'} | {source} | {held or '–'} | {method.accuracy} |")
    return "\n".join(rows) + "\n"

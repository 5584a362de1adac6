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
    key="gas",
    title="Enthalpy and heat capacity",
    function=properties.enthalpy,
    limits={"temperature": (200.0, 6000.0)},
    source="NASA TM-4513 (1993), seven coefficients a species",
    accuracy="0.1 % of heat capacity",
)
VISCOSITY = Method(
    key="viscosity",
    title="Viscosity of air and burnt gas",
    function=mixture.mixture_viscosity,
    limits={"temperature": (200.0, 2000.0)},
    source="Sutherland; Wilke",
    accuracy="2 %, burnt gas 4 %",
)
HUMIDITY = Method(
    key="humidity",
    title="Saturation of water vapour",
    function=humidity.saturation_pressure,
    limits={"temperature": (173.15, 473.15)},
    source="Hyland & Wexler 1983",
    accuracy="0.1 %",
)
ATMOSPHERE = Method(
    key="atmosphere",
    title="Standard atmosphere",
    function=ambient.standard_pressure,
    limits={"altitude": (-2000.0, 11000.0)},
    source="ISO 2533:1975",
    accuracy="a day differs by up to 3 %",
)
COMBUSTION = Method(
    key="combustion",
    title="Heat that is released",
    function=combustion.burn,
    limits={"lambda_": (0.45, 20.0)},
    source="Oxygen limits it on the rich side, fuel on the lean side (Heywood 1988, sec. 4.9)",
    accuracy="1 %; 2 % of the fuel stays unburnt (from memory)",
)
FRICTION_FACTOR = Method(
    key="friction_factor",
    title="Wall friction",
    function=friction.friction_factor,
    limits={"reynolds": (4e3, 1e8), "relative_roughness": (0.0, 0.05)},
    source="Clamond 2009 (Colebrook 1939); Moody 1944 for the roughness",
    accuracy="5 %, the roughness more",
)
FANNO = Method(
    key="fanno",
    title="A loss at any Mach number up to choke",
    function=flow.friction_rise,
    limits={"loss": (0.0, 60.0)},
    source="Fanno flow of f L/D = K (NACA Report 1135); Saad 1993, ch. 6",
    accuracy="exact for a constant K",
)
WIDENING = Method(
    key="widening",
    title="Sudden widening at any Mach number",
    function=flow.widened,
    limits={"ratio": (0.0, 1.0)},
    source="Borda-Carnot with momentum, energy and mass exact",
    accuracy="2 %",
)
STEPS = Method(
    key="step",
    title="Sudden widening or narrowing",
    function=step.step_loss,
    limits={},
    source="Borda-Carnot; Idelchik, diagram 4-9",
    accuracy="10 %",
)
CONES = Method(
    key="cone",
    title="Cones",
    function=reducer.cone_loss,
    limits={},
    source=reducer.SOURCE,
    accuracy="20 %; above 15° in all the flow leaves the wall",
)
MITRES = Method(
    key="mitre",
    title="Pie cuts and mitres",
    function=mitre.mitre_loss,
    limits={"angle": (0.0, 2.1)},
    source="D. S. Miller, Internal Flow Systems, 1990, ch. 9",
    accuracy="30 %",
)
CRUSHED = Method(
    key="crush",
    title="Crushed bend",
    function=crush.build,
    limits={"kept": (0.5, 1.0)},
    source="Rennels & Hudson 2012, ch. 15; Idelchik 4-9; Borda-Carnot",
    accuracy="20 %",
)
ENTRIES = Method(
    key="entry", title="Entry", function=entry.build, limits={}, source="Idelchik, diagram 3-4; Crane TP-410, A-30", accuracy="10 %"
)
MOUTHS = Method(
    key="mouth",
    title="Exit into the open or a plenum",
    function=plenum_entry.build,
    limits={},
    source="The whole head of the stream is lost",
    accuracy="exact",
)
JOINTS = Method(
    key="joint",
    title="Hose over a gap",
    function=joint.joint_loss,
    limits={},
    source="Borda-Carnot; Rennels & Hudson 2012, ch. 10; reattachment length from memory",
    accuracy="30 %",
)
COLLECTORS = Method(
    key="collector",
    title="Collector or log",
    function=collector.collector_loss,
    limits={"angle": (0.0, 1.05)},
    source="Idelchik, ch. 7, in form; values from memory, as bands",
    accuracy="30 %",
)
TEES = Method(key="tee", title="Tee", function=tee.build, limits={}, source="Crane TP-410, A-29", accuracy="20 %")
THROTTLES = Method(
    key="throttle",
    title="Open throttle",
    function=throttle.throttle_loss,
    limits={},
    source="Idelchik, diagram 4-9; Borda-Carnot",
    accuracy="25 %",
)
RATED = Method(
    key="resistance",
    title="Filter or rated part",
    function=resistance.build,
    limits={"linear_share": (0.0, 1.0)},
    source="Darcy-Forchheimer: drop = a V + b rho V²/2",
    accuracy="as good as its rating",
)
PULSED = Method(
    key="primaries",
    title="Primaries",
    function=primaries.primary_loss,
    limits={},
    source=f"Clamond 2009; Rennels & Hudson 2012, ch. 15; pulse factor 3: {_PRACTICE}",
    accuracy="40 %",
)
SKIN = Method(
    key="skin",
    title="Skin of a pipe and heat through it",
    function=wall_heat.skin_temperature,
    limits={},
    source="Dittus & Boelter in the form of McAdams 1942; pulsating exhaust: Depcik & Assanis, SAE "
    "2002-01-0372 (from memory); Stefan-Boltzmann outside",
    accuracy="25 %; the bay's air more",
)
AIR = Method(
    key="air",
    title="Air that the engine draws",
    function=engine.air_demand,
    limits={"efficiency": (0.2, 1.5)},
    source="Heywood 1988, sec. 6.2, eq. 6.2 for k, divided out at the stock ratio of 1.1",
    accuracy="2 %, as good as the breathing",
)
BACK_PRESSURE = Method(
    key="back_pressure",
    title="Back-pressure and breathing",
    function=engine.back_pressure_factor,
    limits={"ratio": (0.3, 3.5)},
    source="Heywood 1988, eq. 6.2 (ideal cycle)",
    accuracy="3 % of air at a ratio of 2",
)
FRICTION = Method(
    key="friction",
    title="Friction of the engine",
    function=engine.friction_mean_pressure,
    limits={"piston_speed": (2.0, 28.0)},
    source="Chen & Flynn, SAE 650733 (1965); published sets differ by 4 % of power",
    accuracy="15 % of itself",
    formula="fmep = {a} bar + {b} · {peak} imep + {c} · s + {d} · s²  (bar, m/s)",
    constants={
        "a": Named(engine, "FRICTION", 0, 1e-5),
        "b": Named(engine, "FRICTION", 1),
        "peak": Named(engine, "PEAK_OVER_IMEP"),
        "c": Named(engine, "FRICTION", 2, 1e-5),
        "d": Named(engine, "FRICTION", 3, 1e-5),
    },
)
CYCLE = Method(
    key="cycle",
    title="Work of the fuel-air cycle",
    function=cycle.fuel_air_work,
    limits={"compression": (6.0, 26.0), "lambda_": (0.6, 4.0)},
    source="Fuel-air cycle in equilibrium (Heywood 1988, ch. 5; table made with Cantera); share 0.80 to 0.85 "
    "of it: sec. 5.8. Rich mixture loses little work: it dissociates less",
    accuracy="3 %",
)
LATE = Method(
    key="late",
    title="Late ignition",
    function=engine.late_factor,
    limits={"retard": (0.0, 40.0)},
    source="Heywood 1988, fig. 15-3: 10° take 4 to 5 %, 20° 15 %",
    accuracy="2 % of power at 20°",
    formula="z = 1 / (1 + {loss} · r²)",
    constants={"loss": Named(engine, "RETARD_LOSS")},
)
WALLS = Method(
    key="walls",
    title="Heat to the cylinder walls",
    function=engine.wall_heat,
    limits={},
    source="C. F. Taylor, T. Y. Toong, in Heywood 1988, sec. 12.4.3, in form; the factor is set by exhaust "
    "temperatures (from memory, bands): ±20 %",
    accuracy="15 %",
)
KNOCK = Method(
    key="knock",
    title="Knock",
    function=knock.knock_integral,
    limits={"octane": (80.0, 100.0), "charge": (270.0, 420.0)},
    source="Douaud & Eyzat, SAE 780080 (1978), with the Livengood-Wu integral (1955) along a Wiebe burn, to 90 % "
    "burnt; ranks and warns, promises nothing",
    accuracy="a third between engines",
    formula="I = Σ Δt / ({delay} ms · (ON / 100)^{octane} · p^-{pressure} · exp({activation} K / T_u))",
    constants={
        "delay": Named(knock, "DELAY", scale=1e3),
        "octane": Named(knock, "OCTANE_POWER"),
        "pressure": Named(knock, "PRESSURE_POWER"),
        "activation": Named(knock, "ACTIVATION"),
    },
)
EVAPORATION = Method(
    key="evaporation",
    title="Fuel that evaporates in the charge",
    function=engine.charge_after_fuel,
    limits={},
    source="Energy balance; saturation of alcohol by Antoine's rule",
    accuracy="the share that evaporates is a guess",
)
DAY = Method(
    key="day",
    title="What a dyno prints",
    function=correction.standard_day_factor,
    limits={},
    source="SAE J1349; with boost control it flatters a turbocharged engine",
    accuracy="by definition",
    formula="P_std = P · ({slope} · {dry} kPa / p_dry · √(T / {day} K) − {offset})",
    constants={
        "slope": Named(correction, "SLOPE"),
        "dry": Named(correction, "DRY_PRESSURE", scale=1e-3),
        "day": Named(correction, "TEMPERATURE"),
        "offset": Named(correction, "OFFSET"),
    },
)
EXCHANGER = Method(
    key="exchanger",
    title="Effectiveness of the cooler",
    function=effectiveness.crossflow_effectiveness,
    limits={"transfer_units": (0.0, 8.0), "capacity_ratio": (0.0, 1.0)},
    source="Effectiveness-NTU, cross-flow, both unmixed (Incropera eq. 11.32), from the rated point; within 4 % "
    "of the exact series for 0.3 to 4 transfer units",
    accuracy="4 %, as good as the rating",
)
CORE = Method(
    key="core",
    title="Cooler off its rated point",
    function=cooler.cool,
    limits={},
    source=f"Inside Nu over Re^0.8 (Dittus-Boelter), fins j over Re^-0.45 (Kays & London 1984); half of the resistance on each side: "
    f"{_PRACTICE}",
    accuracy="10 %",
)
MAP = Method(
    key="map",
    title="Compressor map between its points",
    function=lookup.efficiency_at,
    limits={},
    source="The map itself; monotone cubics between its points (Fritsch & Carlson 1980)",
    accuracy="as good as the map",
)
TURBINE_FLOW = Method(
    key="turbine_flow",
    title="Gas that the turbine swallows",
    function=turbine.swallowed,
    limits={},
    source="NACA 1135; two nozzles in series: Watson & Janota 1982, ch. 4, in form",
    accuracy="5 % of area",
    formula="m_t = z · A · p4 / √(R · T4) · Φ · (1 − {fall} · (u / a)²) · q",
    constants={"fall": Named(turbine, "FALL")},
)
TURBINE_EFFICIENCY = Method(
    key="turbine_efficiency",
    title="Efficiency of the turbine",
    function=turbine.efficiency_at,
    limits={"blade_speed_ratio": (0.1, 1.4)},
    source="Parabola over the blade-speed ratio: Watson & Janota 1982, fig. 4.16, in form",
    accuracy="3 points",
)
PULSES = Method(
    key="pulses",
    title="What pulses add at the turbine",
    function=pulses.factors,
    limits={"speed": (500.0, 12000.0), "ratio": (1.05, 4.0)},
    source="Filling and emptying, no waves: Watson & Janota 1982, ch. 15; against constant pressure ch. 7",
    accuracy="a turbine makes 5 to 10 % less work of pulses than the sum of its moments (memory)",
)
GATE = Method(
    key="gate",
    title="Gas past the gate",
    function=wastegate_flow.bypassed,
    limits={},
    source="Isentropic orifice, NACA 1135",
    accuracy="10 %",
)
JUNCTIONS = Method(
    key="junctions",
    title="Streams that meet and part",
    function=junctions.joining_through,
    limits={"share": (0.0, 1.0)},
    source="Momentum with one pressure across the junction: Idelchik, eq. 7-1 to 7-4",
    accuracy="a square tee asks for a third less than this (Idelchik, diagram 7-4, memory)",
)
BRANCH = Method(
    key="branch",
    title="Branch that leads to a gate",
    function=branch.branched_discharge,
    limits={"angle": (0.0, 2.62)},
    source="Idelchik, eq. 7-3, in series with a poppet valve of 0.72 (Heywood 1988, sec. 6.3, memory)",
    accuracy="0.1 of the coefficient",
)
OVERLAP = Method(
    key="overlap",
    title="Neighbour's pulse at open valves",
    function=pulses.overlap_pressure,
    limits={},
    source="Pressure of the filling and emptying at 340 to 380 degrees, late by each pipe, in Heywood's eq. 6.2",
    accuracy="no waves: half of it",
)
BANKS = Method(
    key="banks",
    title="Crossover of two banks",
    function=crossover.far_loss,
    limits={},
    source="Half of the gas through friction and bends (Clamond 2009; Rennels & Hudson 2012), two streams that merge",
    accuracy="30 %",
)
BRICKS = Method(
    key="bricks",
    title="Honeycomb of a catalyst",
    function=catalyst.honeycomb_loss,
    limits={"cells": (50.0, 1200.0)},
    source="Laminar flow in square channels: Shah & London 1978; cones: Borda-Carnot, Idelchik ch. 5",
    accuracy="15 %",
)
SILENCERS = Method(
    key="silencers",
    title="Silencer by its inside",
    function=silencer.silencer_loss,
    limits={},
    source="Borda-Carnot, Idelchik diagram 4-9; friction of holes and turns from memory",
    accuracy="40 to 60 %",
)
PROBES = Method(
    key="probes",
    title="What a thermocouple shows",
    function=probes.reading,
    limits={"blows": (0.05, 1.0)},
    source="Churchill & Bernstein 1977; fin with radiation to the wall",
    accuracy="a third of its error",
)
NEAR = Method(
    key="near",
    title="Clearance to hot parts",
    function=clearance.clearances,
    limits={},
    source="View factor of a thin cylinder (Sparrow & Cess 1978); heat balance at full load, and in the soak after a stop; floors: common "
    "practice, no source",
    accuracy="rough guide: 30 % of the gap",
)
LIFE = Method(
    key="manifold_life",
    title="Hot cycles until a manifold cracks",
    function=life.life,
    limits={"temperature": (500.0, 1250.0)},
    source="Universal slopes (Manson 1965), notch of a weld (Markl 1952), guided beam that slides at its flange; the rest common "
    "practice, no "
    "source",
    accuracy="rough guide: a factor of 3",
)
CREEP = Method(
    key="creep",
    title="What hot pipes carry",
    function=turbo_weight.creep,
    limits={"temperature": (673.0, 1373.0)},
    source="1,000 h rupture: ASM Metals Handbook vol. 1, SAE J2582 (memory)",
    accuracy="40 %",
)
HILL = Method(
    key="hill",
    title="Train on a hill",
    function=towing.at_power,
    limits={},
    source="Forces on a grade (Gillespie 1992, ch. 4, memory); the whole path at part load; two lumps of metal",
    accuracy="30 K; the minutes by a third",
)
BUTTERFLY = Method(
    key="butterfly",
    title="Exhaust brake",
    function=towing.braking,
    limits={},
    source="Air that is pumped (Heywood eq. 6.2) through a hole (NACA 1135, 0.8); gas of 200 °C: common practice, no source",
    accuracy="20 %",
)
HOLES = Method(
    key="holes",
    title="Air through a hole, and a gauge that falls",
    function=leaks.fall_time,
    limits={},
    source="Isentropic orifice, NACA 1135; discharge 0.62 of a ragged hole (memory)",
    accuracy="15 % of area",
)
CLAMPS = Method(
    key="clamps",
    title="What a clamp holds",
    function=hose_joints.held,
    limits={},
    source=f"Euler-Eytelwein round the band, a bead as the ramp of a screw; friction, creep, torques: {_PRACTICE}",
    accuracy="rough guide: a third",
)
OILED = Method(
    key="oil",
    title="Oil through a restrictor",
    function=oil.feed_flow,
    limits={},
    source="Entry and Hagen-Poiseuille in a row; ASTM D341 for viscosity",
    accuracy="20 %",
)
DRAINED = Method(
    key="drain",
    title="Oil that a drain carries",
    function=oil.drain_flow,
    limits={},
    source=f"Hagen-Poiseuille; foam: {_PRACTICE}",
    accuracy="a factor of two",
)
INJECTED = Method(key="injectors", title="Injectors", function=injectors.injection, limits={}, source="Bernoulli", accuracy="5 %")
BUTTERFLIES = Method(
    key="butterflies",
    title="Opening of a throttle over its angle",
    function=butterfly.open_area,
    limits={"angle": (0.105, 1.571)},
    source="Harrington & Bolt, SAE 700082 (1970), in Heywood 1988, eq. 7.18 (memory); plane geometry",
    accuracy="exact; discharge 0.85 within a tenth",
)
PORTED = Method(
    key="ports",
    title="Openings on the way to the valve",
    function=ports.edge_loss,
    limits={},
    source="Narrowing: Idelchik, diagram 4-9; widening: Borda-Carnot; half a sine of flow in a quarter of two turns",
    accuracy="30 %",
)
VALVED = Method(
    key="valves",
    title="Mach index of the inlet valves",
    function=ports.mach_index,
    limits={},
    source="C. F. Taylor, The Internal-Combustion Engine, vol. 1, 1985, ch. 6 (memory)",
    accuracy="10 % of the flow coefficient",
)
RADIATED = Method(
    key="radiator",
    title="Water behind a radiator",
    function=radiator.cooled,
    limits={"road_speed": (0.0, 70.0)},
    source=f"Effectiveness-NTU; louvres: Chang & Wang 1997, Davenport 1983; share of the wind, pump, what a block holds: {_PRACTICE}",
    accuracy="20 K; the seconds of a pull by a third",
)
BREATHED = Method(
    key="crankcase",
    title="Pressure under the pistons",
    function=crankcase_breather.hose_drop,
    limits={},
    source=f"Isothermal flow of a long pipe; 64 / Re or Blasius; gas past the rings: {_PRACTICE}",
    accuracy="a factor of two",
)
CENTRED = Method(
    key="centre",
    title="Water through a turbo",
    function=turbo_coolant.siphoned,
    limits={"heat": (10.0, 5000.0)},
    source=f"Weight of warm against cold water and what hoses rub; heat: {_PRACTICE}",
    accuracy="a factor of two",
)
PLATED = Method(
    key="plates",
    title="Plate between two flanges",
    function=flanges.plate,
    limits={},
    source=f"Rennels & Hudson 2012, ch. 10 and 11; ISO 273, ISO 4762; thread lengths: {_PRACTICE}",
    accuracy="20 % of the loss",
)
LAYERED = Method(
    key="layers",
    title="Heat through layers and bolts",
    function=gaskets.conducted,
    limits={},
    source="Slabs in a row and bolts beside them; contacts: Incropera, table 3.1 (memory)",
    accuracy="a third",
)
SIGNALLED = Method(
    key="signals",
    title="How late a signal comes",
    function=pressure_hoses.late,
    limits={},
    source=f"Isentropic nozzle, NACA 1135, discharge by what the hose rubs; rooms: {_PRACTICE}",
    accuracy="a third",
)
RUSTED = Method(
    key="rust",
    title="Years of a wall",
    function=corrosion.years,
    limits={},
    source="ISO 9223:2012, table 2, upper ends (memory)",
    accuracy="a factor of two",
)
RINGING = Method(
    key="ringing",
    title="Runners that ring",
    function=runner_tuning.ram_speed,
    limits={},
    source="Helmholtz; H. W. Engelman, ASME 73-WA/DGP-2 (memory)",
    accuracy="8 % of engine speed",
)
BLOWER = Method(
    key="blower",
    title="Air that a blower moves",
    function=blower.blown,
    limits={"ratio": (1.0, 2.6)},
    source="Displacement times volumetric efficiency less slip; the rest goes back to the inlet",
    accuracy="5 %",
)
BLOWER_HEAT = Method(
    key="blower_efficiency",
    title="Efficiency of a blower",
    function=blower.blower_efficiency,
    limits={"ratio": (1.0, 2.6)},
    source="A straight line through two points of the blower; not below 25 %",
    accuracy="4 points",
)

SPOOL = Method(
    key="spool_up",
    title="Seconds from a closed throttle to boost",
    function=transient.follow,
    limits={},
    source="Energy of the rotors and mass of the gas in the pipes, step by step, on the steady solution; "
    "Watson & Janota 1982, ch. 13 (quasi-steady method)",
    accuracy="30 %, most of it the rotor's inertia",
)
LOUVRES = Method(
    key="louvres",
    title="Louvred fins",
    function=surfaces.louvre_factors,
    limits={"reynolds": (100.0, 3000.0)},
    source="Chang & Wang 1997 (heat), Davenport 1983 (friction, constants from memory)",
    accuracy="15 %, friction 25 %",
)
BY_QUANTITY = Method(
    key="by_quantity",
    title="Lambda from the fuel of a pump",
    function=kernel.mix_by_fuel,
    limits={},
    source="Mass balance; heat, work and burnt gas between rows over fuel per air",
    accuracy="0.1 % of the work",
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

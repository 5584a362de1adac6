"""Relations of the engine."""

from __future__ import annotations

from zarvik.core.airpath import kernel
from zarvik.core.common.method import Method, Named
from zarvik.core.engine import belt, blower, correction, cycle, engine, knock
from zarvik.core.intake import butterfly, ports, runner_tuning
from zarvik.core.turbine import pulses

AIR = Method(
    key="air",
    title="Engine airflow",
    function=engine.air_demand,
    limits={"efficiency": (0.2, 1.5)},
    source="Heywood 1988, sec. 6.2, eq. 6.2 for k, divided out at the stock ratio of 1.1",
    accuracy="2 %, as good as the breathing",
    formula="m = VE · √(T / {reference} K) · p / (R · T) · V · n / 2 · k · y",
    constants={"reference": Named(engine, "VE_REFERENCE_TEMPERATURE")},
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
    title="Engine friction",
    function=engine.friction_mean_pressure,
    limits={"piston_speed": (2.0, 28.0)},
    source="Chen & Flynn, SAE 650733 (1965); published sets differ by 4 % of power",
    accuracy="15 % of itself",
    formula="fmep = {a} bar + {b} · {peak} · imep + {c} bar · s + {d} bar · s²",
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
    formula="z = 1 / (1 + {loss} · (r / 1°)²)",
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
    source=("Douaud & Eyzat, SAE 780080 (1978), with the Livengood-Wu integral (1955) along a Wiebe burn, to 90 % burnt; a rough guide"),
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
    title="Fuel evaporation in the charge",
    function=engine.charge_after_fuel,
    limits={},
    source="Energy balance; saturation of alcohol by Antoine's rule",
    accuracy="the evaporated share is a guess",
)


DAY = Method(
    key="day",
    title="Corrected power of a dyno",
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


OVERLAP = Method(
    key="overlap",
    title="Overlap pressure from a neighbouring cylinder",
    function=pulses.overlap_pressure,
    limits={},
    source="Pressure of the filling and emptying at 340 to 380 degrees, late by each pipe, in Heywood's eq. 6.2",
    accuracy="no waves: half of it",
)


BUTTERFLIES = Method(
    key="butterflies",
    title="Throttle opening over its angle",
    function=butterfly.open_area,
    limits={"angle": (0.105, 1.571)},
    source="Harrington & Bolt, SAE 700082 (1970), in Heywood 1988, eq. 7.18 (memory); plane geometry",
    accuracy="exact; discharge 0.85 within a tenth",
)


PORTED = Method(
    key="ports",
    title="Port match",
    function=ports.edge_loss,
    limits={},
    source="Narrowing: Idelchik, diagram 4-9; widening: Borda-Carnot; half a sine of flow in a quarter of two turns",
    accuracy="30 %",
)


VALVED = Method(
    key="valves",
    title="Inlet valve Mach index",
    function=ports.mach_index,
    limits={},
    source="C. F. Taylor, The Internal-Combustion Engine, vol. 1, 1985, ch. 6 (memory)",
    accuracy="10 % of the flow coefficient",
)


RINGING = Method(
    key="ringing",
    title="Runner tuning",
    function=runner_tuning.ram_speed,
    limits={},
    source="Helmholtz; H. W. Engelman, ASME 73-WA/DGP-2 (memory)",
    accuracy="8 % of engine speed",
)


BLOWER = Method(
    key="blower",
    title="Blower delivery",
    function=blower.delivered_flow,
    limits={"ratio": (1.0, 2.6)},
    source="Displacement times volumetric efficiency less slip; the rest goes back to the inlet",
    accuracy="5 %",
)


BLOWER_HEAT = Method(
    key="blower_efficiency",
    title="Blower efficiency",
    function=blower.blower_efficiency,
    limits={"ratio": (1.0, 2.6)},
    source="A straight line through two points of the blower; not below 25 %",
    accuracy="4 points",
)


BY_QUANTITY = Method(
    key="by_quantity",
    title="Lambda from pump fuel",
    function=kernel.mix_by_fuel,
    limits={},
    source="Mass balance; heat, work and burnt gas between rows over fuel per air",
    accuracy="0.1 % of the work",
)

RELATIONS = (
    AIR,
    BACK_PRESSURE,
    FRICTION,
    CYCLE,
    LATE,
    WALLS,
    KNOCK,
    EVAPORATION,
    DAY,
    OVERLAP,
    RINGING,
    BUTTERFLIES,
    PORTED,
    VALVED,
    BLOWER,
    BLOWER_HEAT,
    BY_QUANTITY,
    *belt.METHODS,
)

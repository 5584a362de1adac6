"""Relations of compressor, turbine and wastegate."""

from __future__ import annotations

from zarvik.core.common.method import Method, Named
from zarvik.core.compressor import lookup
from zarvik.core.fluid_lines import pressure_hoses
from zarvik.core.relations.sources import PRACTICE
from zarvik.core.spool import transient
from zarvik.core.turbine import pulses, rotor, turbine
from zarvik.core.wastegate import branch, wastegate_flow

MAP = Method(
    key="map",
    title="Compressor map interpolation",
    function=lookup.efficiency_at,
    limits={},
    source="The map itself; monotone cubics between its points (Fritsch & Carlson 1980)",
    accuracy="as good as the map",
)


TURBINE_FLOW = Method(
    key="turbine_flow",
    title="Turbine flow",
    function=turbine.swallowed,
    limits={},
    source="NACA 1135; two nozzles in series: Watson & Janota 1982, ch. 4, in form",
    accuracy="5 % of area",
    formula="m_t = z · A · p4 / √(R · T4) · Φ · (1 − {fall} · (u / a)²) · q",
    constants={"fall": Named(turbine, "FALL")},
)


TURBINE_EFFICIENCY = Method(
    key="turbine_efficiency",
    title="Turbine efficiency",
    function=turbine.efficiency_at,
    limits={"blade_speed_ratio": (0.1, 1.4)},
    source="Parabola over the blade-speed ratio: Watson & Janota 1982, fig. 4.16, in form",
    accuracy="3 points",
)


PULSES = Method(
    key="pulses",
    title="Pulse gain at the turbine",
    function=pulses.factors,
    limits={"speed": (500.0, 12000.0), "ratio": (1.05, 4.0)},
    source="Filling and emptying, no waves: Watson & Janota 1982, ch. 15; against constant pressure ch. 7",
    accuracy="a turbine makes 5 to 10 % less work from pulses than from their mean (memory)",
)


GATE = Method(
    key="gate", title="Wastegate flow", function=wastegate_flow.bypassed, limits={}, source="Isentropic orifice, NACA 1135", accuracy="10 %"
)


BRANCH = Method(
    key="branch",
    title="Wastegate branch",
    function=branch.branched_discharge,
    limits={"angle": (0.0, 2.62)},
    source="Idelchik, eq. 7-3, in series with a poppet valve of 0.72 (Heywood 1988, sec. 6.3, memory)",
    accuracy="0.1 of the coefficient",
)


SIGNALLED = Method(
    key="signals",
    title="Signal delay in a hose",
    function=pressure_hoses.late,
    limits={},
    source=f"Isentropic nozzle, NACA 1135, discharge from the hose friction; volumes: {PRACTICE}",
    accuracy="a third",
)


SPOOL = Method(
    key="spool_up",
    title="Spool time from a closed throttle",
    function=transient.simulate_spool,
    limits={},
    source="Energy of the rotors and mass of the gas in the pipes, step by step, on the steady solution; "
    "Watson & Janota 1982, ch. 13 (quasi-steady method)",
    accuracy="30 %, most of it the rotor's inertia",
)

RELATIONS = (MAP, TURBINE_FLOW, TURBINE_EFFICIENCY, PULSES, GATE, BRANCH, SIGNALLED, SPOOL, *rotor.METHODS)

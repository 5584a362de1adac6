"""Relations of holes, hoses, oil, water and fuel."""

from __future__ import annotations

from zarvik.core.common.method import Method
from zarvik.core.fluid_lines import crankcase_breather, oil, turbo_coolant
from zarvik.core.fluid_lines import fuel as injectors
from zarvik.core.joints import hose_joints
from zarvik.core.leak_test import leaks
from zarvik.core.relations.sources import PRACTICE

HOLES = Method(
    key="holes",
    title="Leak flow and pressure decay",
    function=leaks.fall_time,
    limits={},
    source="Isentropic orifice, NACA 1135; discharge 0.62 for a ragged hole (memory)",
    accuracy="15 % of area",
)


CLAMPS = Method(
    key="clamps",
    title="Clamp holding force",
    function=hose_joints.holding_force,
    limits={},
    source=f"Euler-Eytelwein round the band, a bead as the ramp of a screw; friction, creep, torques: {PRACTICE}",
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
    title="Oil drain capacity",
    function=oil.drain_flow,
    limits={},
    source=f"Hagen-Poiseuille; foam: {PRACTICE}",
    accuracy="a factor of two",
)


INJECTED = Method(key="injectors", title="Injectors", function=injectors.injection, limits={}, source="Bernoulli", accuracy="5 %")


BREATHED = Method(
    key="crankcase",
    title="Crankcase pressure",
    function=crankcase_breather.hose_drop,
    limits={},
    source=f"Isothermal flow of a long pipe; 64 / Re or Blasius; gas past the rings: {PRACTICE}",
    accuracy="a factor of two",
)


CENTRED = Method(
    key="centre",
    title="Turbo coolant flow",
    function=turbo_coolant.thermosiphon_flow,
    limits={"heat": (10.0, 5000.0)},
    source=f"Buoyancy of warm coolant against hose friction; heat: {PRACTICE}",
    accuracy="a factor of two",
)

RELATIONS = (HOLES, CLAMPS, OILED, DRAINED, INJECTED, BREATHED, CENTRED)

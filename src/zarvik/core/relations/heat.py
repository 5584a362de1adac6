"""Relations of what becomes hot, cracks, rusts, and of the train on a hill."""

from __future__ import annotations

from zarvik.core.common.method import Method
from zarvik.core.heat import clearance, probes
from zarvik.core.joints import flanges, gaskets
from zarvik.core.manifold import life, turbo_weight
from zarvik.core.materials import corrosion
from zarvik.core.relations.sources import PRACTICE
from zarvik.core.vehicle import towing

PROBES = Method(
    key="probes",
    title="Thermocouple reading",
    function=probes.probe_reading,
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
    title="Heat cycles until a manifold cracks",
    function=life.life,
    limits={"temperature": (500.0, 1250.0)},
    source=(
        "Universal slopes (Manson 1965), weld notch (Markl 1952), guided beam sliding at its flange; the rest common practice, no source"
    ),
    accuracy="rough guide: a factor of 3",
)


CREEP = Method(
    key="creep",
    title="Strength of hot pipes",
    function=turbo_weight.creep,
    limits={"temperature": (673.0, 1373.0)},
    source="1,000 h rupture: ASM Metals Handbook vol. 1, SAE J2582 (memory)",
    accuracy="40 %",
)


HILL = Method(
    key="hill",
    title="Climb under load",
    function=towing.at_power,
    limits={},
    source="Forces on a grade (Gillespie 1992, ch. 4, memory); the whole path at part load; two lumps of metal",
    accuracy="30 K; the minutes by a third",
)


BUTTERFLY = Method(
    key="butterfly",
    title="Exhaust brake",
    function=towing.exhaust_braking,
    limits={},
    source=("Pumped air (Heywood eq. 6.2) through an orifice (NACA 1135, 0.8); gas at 200 °C: common practice, no source"),
    accuracy="20 %",
)


PLATED = Method(
    key="plates",
    title="Plate between two flanges",
    function=flanges.plate,
    limits={},
    source=f"Rennels & Hudson 2012, ch. 10 and 11; ISO 273, ISO 4762; thread lengths: {PRACTICE}",
    accuracy="20 % of the loss",
)


LAYERED = Method(
    key="layers",
    title="Heat through layers and bolts",
    function=gaskets.joint_conductance,
    limits={},
    source="Layers in series, bolts in parallel; contacts: Incropera, table 3.1 (memory)",
    accuracy="a third",
)


RUSTED = Method(
    key="rust",
    title="Corrosion life of a wall",
    function=corrosion.years,
    limits={},
    source="ISO 9223:2012, table 2, upper ends (memory)",
    accuracy="a factor of two",
)

RELATIONS = (PROBES, NEAR, LIFE, CREEP, HILL, BUTTERFLY, PLATED, LAYERED, RUSTED)

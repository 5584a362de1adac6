"""Relations of coolers."""

from __future__ import annotations

from zarvik.core.common.method import Method
from zarvik.core.intercooler import core_size, effectiveness, intercooler, surfaces
from zarvik.core.radiator import radiator
from zarvik.core.relations.sources import PRACTICE

EXCHANGER = Method(
    key="exchanger",
    title="Intercooler effectiveness",
    function=effectiveness.crossflow_effectiveness,
    limits={"transfer_units": (0.0, 8.0), "capacity_ratio": (0.0, 1.0)},
    source="Effectiveness-NTU, cross-flow, both unmixed (Incropera eq. 11.32), from the rated point; within 4 % "
    "of the exact series for 0.3 to 4 transfer units",
    accuracy="4 %, as good as the rating",
)


CORE = Method(
    key="core",
    title="Intercooler away from its rated point",
    function=intercooler.cool,
    limits={},
    source=f"Inside Nu over Re^0.8 (Dittus-Boelter), fins j over Re^-0.45 (Kays & London 1984); half of the resistance on each side: "
    f"{PRACTICE}",
    accuracy="10 %",
)


RADIATED = Method(
    key="radiator",
    title="Coolant temperature with a radiator",
    function=radiator.radiator_state,
    limits={"road_speed": (0.0, 70.0)},
    source=f"Effectiveness-NTU; louvres: Chang & Wang 1997, Davenport 1983; share of the wind, pump, what a block holds: {PRACTICE}",
    accuracy="20 K; the seconds of a pull by a third",
)


LOUVRES = Method(
    key="louvres",
    title="Louvred fins",
    function=surfaces.louvre_factors,
    limits={"reynolds": (100.0, 3000.0)},
    source="Chang & Wang 1997 (heat), Davenport 1983 (friction, constants from memory)",
    accuracy="15 %, friction 25 %",
)

RELATIONS = (EXCHANGER, CORE, RADIATED, LOUVRES, core_size.RATING)

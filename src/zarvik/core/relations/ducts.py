"""Relations of pipes and what stands in them."""

from __future__ import annotations

from zarvik.core.common.method import Method
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
from zarvik.core.relations.sources import PRACTICE

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
    function=flow.mach_after_widening,
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
    accuracy="20 %; above 15° total angle the flow separates",
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
    title="Exit to atmosphere or a plenum",
    function=plenum_entry.build,
    limits={},
    source="The whole velocity head is lost",
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
    title="Throttle loss, fully open",
    function=throttle.throttle_loss,
    limits={},
    source="Idelchik, diagram 4-9; Borda-Carnot",
    accuracy="25 %",
)


RATED = Method(
    key="resistance",
    title="Filter or flow-rated part",
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
    source=f"Clamond 2009; Rennels & Hudson 2012, ch. 15; pulse factor 3: {PRACTICE}",
    accuracy="40 %",
)


SKIN = Method(
    key="skin",
    title="Wall temperature and heat loss of a pipe",
    function=wall_heat.skin_temperature,
    limits={},
    source="Dittus & Boelter in the form of McAdams 1942; pulsating exhaust: Depcik & Assanis, SAE "
    "2002-01-0372 (from memory); Stefan-Boltzmann outside",
    accuracy="25 %; the bay's air more",
)


JUNCTIONS = Method(
    key="junctions",
    title="Joining and parting streams",
    function=junctions.straight_loss_joining,
    limits={"share": (0.0, 1.0)},
    source="Momentum with one pressure across the junction: Idelchik, eq. 7-1 to 7-4",
    accuracy="a square tee has a third less than this (Idelchik, diagram 7-4, memory)",
)


BANKS = Method(
    key="banks",
    title="Bank crossover",
    function=crossover.far_loss,
    limits={},
    source="Half of the gas through friction and bends (Clamond 2009; Rennels & Hudson 2012), two streams that merge",
    accuracy="30 %",
)


BRICKS = Method(
    key="bricks",
    title="Catalyst honeycomb",
    function=catalyst.honeycomb_loss,
    limits={"cells": (50.0, 1200.0)},
    source="Laminar flow in square channels: Shah & London 1978; cones: Borda-Carnot, Idelchik ch. 5",
    accuracy="15 %",
)


SILENCERS = Method(
    key="silencers",
    title="Silencer by its construction",
    function=silencer.silencer_loss,
    limits={},
    source="Borda-Carnot, Idelchik diagram 4-9; friction of holes and turns from memory",
    accuracy="40 to 60 %",
)

RELATIONS = (
    FRICTION_FACTOR,
    FANNO,
    WIDENING,
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
    JUNCTIONS,
    BANKS,
    BRICKS,
    SILENCERS,
    *bend.METHODS,
)

"""A whole air path put together from plain records and solved: a 2.0 L engine with an invented turbo and an air-to-air intercooler.

What the window does with a document, in the core alone: `AirPath` says what there is, `prepare` packs it, `sweep` solves it.
"""

import math

import numpy as np

from zarvik.core.airpath.air_path import AirPath, Bay, BoostSchedule, Target, Turbo
from zarvik.core.airpath.solution import prepare
from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.compressor.meanline import Wheel, generate
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.engine.breathing import from_archetype
from zarvik.core.engine.engine import Engine
from zarvik.core.gas.ambient import Site, standard_pressure
from zarvik.core.gas.combustion import FUELS
from zarvik.core.intercooler.intercooler import Intercooler
from zarvik.core.turbine.turbine import Turbine
from zarvik.core.wastegate.wastegate_flow import Wastegate


def piece(kind: str, id: str, **sizes: object):
    """A piece by its kind and sizes, SI."""
    return KINDS[kind].build(id=id, name=id, **sizes)


def straight(id: str, bore: float, length: float, material: str):
    """A straight pipe; m."""
    return piece("straight", id, bore=bore, length=length, material=material)


path = AirPath(
    id="example",
    name="2.0 L",
    site=Site(standard_pressure(300.0), 298.15, 0.5),
    engine=Engine(
        cylinders=4,
        bore=0.0855,
        stroke=0.0870,
        compression=8.8,
        breathing=from_archetype("short_runner", peak_speed=5200.0, peak=0.97),
        fuel=FUELS["petrol98"],
        lambda_=0.80,
        idle=900.0,
        rev_limit=7000.0,
        trusted_boost=1.3e5,
        evaporated=0.4,
    ),
    target=Target(power=230e3, speed=6400.0, big_run=1.2e5),
    boost=BoostSchedule(full=1.0e5, full_from=3600.0),
    turbo=Turbo(
        "t", "52 × 71 mm", generate(Wheel(0.052, 0.071), "52 × 71 mm"), Turbine(name="t", wheel=0.061, exducer=0.053, housing=0.0178)
    ),
    cooler=Intercooler(effectiveness=0.72, drop=8e3, rated_charge=0.25, rated_cooling=1.1, face_area=0.16, capture=0.35),
    runs={
        INTAKE: (
            piece("resistance", "filter", bore=0.075, flow=0.20, drop=900.0, linear_share=0.3),
            straight("in", 0.0729, 0.4, "aluminium"),
        ),
        HOT_PIPE: (straight("hot", 0.0475, 0.7, "aluminium"),),
        COLD_PIPE: (straight("cold", 0.0602, 0.8, "aluminium"), piece("mouth", "plenum", bore=0.0602, recovered=0.0)),
        MANIFOLD: (
            piece("primaries", "primaries", count=4.0, bore=0.0354, length=0.38, turns=2.5, material="stainless"),
            piece("collector", "collector", form="merge", bore_out=0.0475, angle=math.radians(18.0), length=0.1, material="stainless"),
        ),
        EXHAUST: (straight("out", 0.0729, 3.0, "stainless"), piece("mouth", "tail", bore=0.0729, recovered=0.0)),
    },
    road_speed=30.0,
    gate=Wastegate(diameter=0.038, lift=0.009),
    bay=Bay(temperature=340.0, convection=25.0, hot_convection=30.0),
    intake_volume=4e-3,
)

solver = prepare(path)
points = solver.sweep(np.arange(2000.0, 6501.0, 500.0))

if __name__ == "__main__":
    for point in points:
        print(
            f"{point.speed:5.0f} rev/min  {point.boost / 1e5:5.2f} bar  {point.power / 745.7:4.0f} hp  {point.air:.3f} kg/s  "
            f"charge {point.charge - 273.15:3.0f} °C  gate {100.0 * point.turbo.opening:3.0f} %"
        )

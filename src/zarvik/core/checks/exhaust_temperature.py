"""How hot is the gas before the turbine?"""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import DIESEL_EXHAUST, SPARK_EXHAUST

CHECK = Check("exhaust_temperature", "Exhaust gas temperature", about="turbine", breaks=True)


def check(case: Case) -> list[CheckResult]:
    """The hottest solved point of the sweep."""
    spark = case.build.engine.fuel.spark
    limit = SPARK_EXHAUST if spark else DIESEL_EXHAUST
    closed = np.nonzero(case.raw.solved)[0]
    point = case.target
    if len(closed):
        point = case.sweep[int(closed[int(case.raw.states[closed, k.T4].argmax())])]
    temperature = point.stations["turbine_inlet"].temperature
    metal = max((s for s in point.stretches if s.section == "manifold"), key=lambda s: s.skin, default=None)
    cooler = message("A richer mixture or less ignition retard cools it" if spark else "Less fuel or more air cools it")
    place = "{gas} at the end of the manifold at {speed}" if point.belt else "{gas} before the turbine at {speed}"
    return [
        CHECK.check_result(
            message(
                place,
                (", manifold skin {skin}" if metal else ""),
                gas=Figure(temperature, "temperature", "temperature:turbine_inlet", point.speed),
                speed=revs(point.speed),
                skin=Figure(metal.skin, "temperature", f"skin:{metal.id}", point.speed) if metal else "",
            ),
            value=temperature,
            cure=cooler,
            limit=limit,
        )
    ]

"""How warm is the charge at full load?"""

from __future__ import annotations

import dataclasses

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.intercooler import intercooler as cooling
from zarvik.core.limits.limits import ALCOHOL_STANDS, CHARGE_TEMPERATURE, OK

CHECK = Check("charge_temperature", "Charge temperature", about="charge")


def _larger_core(case: Case, good: float) -> tuple[Sentence, tuple[Change, ...]]:
    """How much more of the same core, in steps of 10 mm of its width, brings the charge to `good` K."""
    cooler = case.build.cooler
    assert cooler is not None
    for share in (1.1, 1.2, 1.35, 1.5, 1.75, 2.0):
        more = dataclasses.replace(
            cooler,
            rated_charge=cooler.rated_charge * share,
            rated_cooling=cooler.rated_cooling * share,
            face_area=cooler.face_area * share,
            drop_charge=cooler.drop_charge * share,
            transfer=cooler.transfer * share,
        )
        density = case.build.site.pressure / (case.solver.gas[0] * case.build.site.temperature)
        packed = cooling.pack(more, road_speed=case.build.road_speed, air_density=density)
        raw = case.solver.with_cooler(packed).raw(np.array([case.build.target.speed]), start=case.start)
        if raw.solved[0] and raw.states[0, k.T_CHARGE] <= good:
            return (
                message("Same type of core, {share}× frontal area: gives {good}", share=f"{share:g}", good=Figure(good, "temperature")),
                (Change("intercooler.scale", share),),
            )
    return (
        message(
            (
                "A larger core alone is not enough for {good} on this day. More cooling air (duct, fan), less "
                "pressure ratio, a more efficient compressor, or water cooling"
            ),
            good=Figure(good, "temperature"),
        ),
        (),
    )


def check(case: Case) -> list[CheckResult]:
    """Charge in the plenum at the target speed, behind the fuel that evaporates."""
    point = case.target
    plenum = point.stations["plenum"].temperature
    # What the fuel takes out as it evaporates counts: it is the intercooler of those who have none.
    temperature = point.charge
    wet = plenum - temperature > 1.0
    ambient = case.build.site.temperature
    room = ALCOHOL_STANDS if case.build.engine.fuel.saturation is not None else 0.0
    limit = dataclasses.replace(CHARGE_TEMPERATURE.moved(room), zero=ambient)
    good, _margin, state = limit.good, limit.margin(temperature), limit.state(temperature)
    spark = case.build.engine.fuel.spark
    before = point.stations["cooler_inlet"].temperature
    cure: Sentence | None = None
    changes: tuple[Change, ...] = ()
    if state != OK and case.build.cooler is None:
        cure = message("Fit an intercooler: {good} is comfortable", good=Figure(good, "temperature"))
        changes = (Change("intercooler.fitted", 1.0),)
    elif state != OK:
        cure, changes = case.cure("charge_temperature", state, lambda: _larger_core(case, good))
    return [
        CHECK.check_result(
            message(
                ("{charge} after fuel evaporation, {plenum} in the plenum at {speed}" if wet else "{charge} in the plenum at {speed}"),
                (", {before} before the intercooler" if case.build.cooler else ""),
                ("; knock risk grows above {good}" if spark and state != OK else ""),
                charge=Figure(temperature, "temperature", "charge", point.speed),
                plenum=Figure(plenum, "temperature", "temperature:plenum", point.speed),
                before=Figure(before, "temperature", "temperature:cooler_inlet", point.speed),
                speed=revs(point.speed),
                good=Figure(good, "temperature"),
            ),
            value=temperature,
            cure=cure,
            changes=changes,
            limit=limit,
        )
    ]

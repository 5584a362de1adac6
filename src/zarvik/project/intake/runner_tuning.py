"""What the runners of a document do, in sentences."""

from __future__ import annotations

import math

from zarvik.core.airpath.point import Point
from zarvik.core.common.constants import AIR_GAMMA, DRY_AIR_GAS_CONSTANT
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.intake import runner_tuning
from zarvik.project.document.document import Project

COLD = 298.15  # K of charge without boost that runners are laid out for


def runner_report(project: Project, target: Point | None) -> tuple[Sentence, ...]:
    """At which engine speeds the runners help, without boost and with the charge of the `target` point; how plenum and engine stand to
    each other. Nothing while no runner is said."""
    runners, engine = project.runners, project.engine
    cylinder = 0.25 * math.pi * engine.bore.si**2 * engine.stroke.si
    found: list[Sentence] = []
    tuned: list[float] = []
    for long, name in ((runners.length.si, message("The runners")), (runners.short_length.si, message("With the short runners they"))):
        if long <= 0.0:
            continue
        sound = math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * COLD)
        speed = runner_tuning.ram_speed(sound, runners.bore.si, long, cylinder, engine.compression.si)
        warm = runner_tuning.warmed(speed, COLD, target.charge) if target is not None else speed
        tuned.append(warm)
        if target is not None:
            found.append(
                message(
                    "{name} are tuned to {cold} without boost, and at {charge} charge to {warm}",
                    name=name,
                    cold=revs(speed),
                    charge=Figure(target.charge, "temperature"),
                    warm=revs(warm),
                )
            )
        else:
            found.append(message("{name} are tuned to {cold} without boost", name=name, cold=revs(speed)))
    if len(tuned) == 2:
        # Where both are as far off their ring, by ratio
        found.append(message("Switch at about {speed}, where both tune equally", speed=revs(math.sqrt(tuned[0] * tuned[1]))))
    if found:
        found.append(
            message(
                "Under boost about the same share remains, and slightly less boost does the job. Long runners spool "
                "earlier, short ones breathe better at the top; keep a valve that switches them"
            )
        )
        swept = cylinder * engine.cylinders.si
        plenum = engine.intake_volume.si
        found.append(
            message(
                "Plenum and runners hold {share} of the displacement: 50–150 % is usual, larger responds later",
                share=Figure(plenum / swept, "ratio"),
            )
        )
        wish = project.goal.full_boost_from.si
        best = runner_tuning.runner_for(
            max(wish, 1500.0), math.sqrt(AIR_GAMMA * DRY_AIR_GAS_CONSTANT * COLD), runners.bore.si, cylinder, engine.compression.si
        )
        if best > 0.0:
            found.append(
                message(
                    "To tune to {speed}, where you want full boost, they would need {long}", speed=revs(wish), long=Figure(best, "length")
                )
            )
    return tuple(found)

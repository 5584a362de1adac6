"""Does the belt of a blower carry what it takes?"""

from __future__ import annotations

import dataclasses

from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Change, Check, Verdict
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.engine.belt import FASTEST_BELT, RIBBED, Belt, capacity
from zarvik.core.limits.limits import BELT_POWER, BELT_SPEED

BELT_CHECK = Check("belt", "Blower belt load", about="blower", limit=BELT_POWER)
BELT_SPEED_CHECK = Check("belt_speed", "Belt speed", about="blower", limit=BELT_SPEED, breaks=True)

RIBS = (4, 5, 6, 7, 8, 10, 12, 14, 16)
WIDTHS = (0.020, 0.030, 0.040, 0.050, 0.065, 0.076, 0.085, 0.100, 0.120)


def check(case: Case) -> list[Verdict]:
    """Power that the belt carries over what the blower takes, where that is least; and its speed. Nothing
    without a blower on a belt."""
    blower = case.build.blower
    if blower is None or blower.belt is None:
        return []
    belt = blower.belt
    points = case.solved or (case.target,)
    drive = blower.drive
    worst = min(points, key=lambda p: capacity(belt, p.speed) / max(p.turbo.power / drive, 1.0))
    needed = worst.turbo.power / drive
    margin = capacity(belt, worst.speed) / max(needed, 1.0) - 1.0
    state = BELT_POWER.state(margin)

    def wider() -> tuple[Sentence | None, tuple[Change, ...]]:
        for other, words, change in _wider(belt):
            if capacity(other, worst.speed) / max(needed, 1.0) - 1.0 >= BELT_POWER.good:
                return words, (change,)
        return message("More wrap with an idler on its back, a toothed belt, or less boost"), ()

    cure, changes = case.cure("belt", state, wider)
    found = [
        BELT_CHECK.verdict(
            message(
                "The belt carries {carries}; the blower takes {needed} at {speed}",
                carries=Figure(capacity(belt, worst.speed), "power", "belt_carries", worst.speed),
                needed=Figure(needed, "power", "belt_power", worst.speed),
                speed=revs(worst.speed),
            ),
            state=state,
            margin=min(margin, 9.0),
            cure=cure,
            changes=changes,
        )
    ]
    fastest = max(points, key=lambda p: p.speed)
    top = belt.speed(fastest.speed)
    room = 1.0 - top / FASTEST_BELT
    state = BELT_SPEED.state(room)
    if belt.kind == RIBBED:
        found.append(
            BELT_SPEED_CHECK.verdict(
                message(
                    "{top} at {speed}; ribbed belts allow {most}",
                    speed=revs(fastest.speed),
                    top=Figure(top, "velocity", "belt_speed", fastest.speed),
                    most=Figure(FASTEST_BELT, "velocity"),
                ),
                state=state,
                margin=room,
                cure=None if room >= BELT_SPEED.good else message("A smaller crank pulley, and a blower pulley in proportion"),
            )
        )
    return found


def _wider(belt: Belt) -> list[tuple[Belt, Sentence, Change]]:
    found = []
    if belt.kind == RIBBED:
        for ribs in RIBS:
            if ribs > belt.wide:
                words = message("{ribs} ribs instead of {now}", ribs=str(ribs), now=f"{belt.wide:.0f}")
                found.append((dataclasses.replace(belt, wide=float(ribs)), words, Change("blower.ribs", float(ribs))))
        return found
    for width in WIDTHS:
        if width > belt.wide:
            words = message("A belt {width} wide", width=Figure(width, "length"))
            found.append((dataclasses.replace(belt, wide=width), words, Change("blower.wide", width)))
    return found

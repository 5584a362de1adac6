"""Does the belt of a blower carry what it takes?"""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.engine.belt import FASTEST_BELT, RIBBED, TOOTH_PITCH, TOOTHED, Belt, capacity
from zarvik.core.limits.limits import BELT_POWER, BELT_SPEED
from zarvik.core.stock.sizes import TEETH

BELT_CHECK = Check("belt", "Blower belt load", about="blower", limit=BELT_POWER)
BELT_SPEED_CHECK = Check("belt_speed", "Belt speed", about="blower", limit=BELT_SPEED, breaks=True)

RIBS = (4, 5, 6, 7, 8, 10, 12)  # that are sold; common practice, no source
NEAR_RATIO = 0.025  # by which teeth may turn the blower faster or slower than the pulleys that they replace
WIDTHS = (0.020, 0.030, 0.040, 0.050, 0.065, 0.076, 0.085, 0.100, 0.120)


def check(case: Case) -> list[CheckResult]:
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
        for other, words, changes in stronger(belt):
            if capacity(other, worst.speed) / max(needed, 1.0) - 1.0 >= BELT_POWER.good:
                return words, changes
        return message("More wrap with an idler on its back, or less boost"), ()

    cure, changes = case.cure("belt", state, wider)
    found = [
        BELT_CHECK.check_result(
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
            BELT_SPEED_CHECK.check_result(
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


def stronger(belt: Belt) -> Iterator[tuple[Belt, Sentence, tuple[Change, ...]]]:
    """Belts that carry more than this one, the next one first: more ribs, then teeth in their place, wider ones with teeth; each in words
    and as edits."""
    if belt.kind == RIBBED:
        for ribs in RIBS:
            if ribs > belt.wide:
                words = message("{ribs} ribs instead of {now}", ribs=str(ribs), now=f"{belt.wide:.0f}")
                yield dataclasses.replace(belt, wide=float(ribs)), words, (Change("blower.belt_ribs", float(ribs)),)
        yield from _with_teeth(belt)
        return
    for width in WIDTHS:
        if width > belt.wide:
            words = message("A belt {width} wide", width=Figure(width, "length"))
            yield dataclasses.replace(belt, wide=width), words, (Change("blower.belt_width", width),)


def _with_teeth(belt: Belt) -> Iterator[tuple[Belt, Sentence, tuple[Change, ...]]]:
    """Toothed belts in the place of a ribbed one: the pair of pulleys that turns the blower as fast or a little faster, else the nearest;
    of those that are no larger than the ribbed ones by more than a tenth and not much smaller."""
    ratio, pitch = belt.crank / belt.blower, TOOTH_PITCH / math.pi
    pairs = [(a, b) for a in TEETH for b in TEETH if 0.8 < a * pitch / belt.crank < 1.1]
    if not pairs:
        return

    def missed(pair: tuple[int, int]) -> float:
        turns = pair[0] / pair[1] / ratio
        return abs(math.log(turns)) + (NEAR_RATIO if turns < 1.0 else 0.0)

    crank, blower = min(pairs, key=missed)
    if abs(crank / blower / ratio - 1.0) > NEAR_RATIO:
        return
    for width in WIDTHS:
        other = dataclasses.replace(belt, kind=TOOTHED, crank=crank * pitch, blower=blower * pitch, wide=width)
        words = message(
            "A toothed belt {width} wide, {crank} teeth on the crank and {blower} on the blower",
            width=Figure(width, "length"),
            crank=str(crank),
            blower=str(blower),
        )
        changes = (
            Change("blower.belt", TOOTHED),
            Change("blower.crank_teeth", float(crank)),
            Change("blower.teeth", float(blower)),
            Change("blower.belt_width", width),
        )
        yield other, words, changes

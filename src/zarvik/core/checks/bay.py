"""Is there room between pipes and what stands in the bay, and does that stand their heat?"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from functools import partial

from zarvik.core.bay.belts import BeltRun
from zarvik.core.bay.clearance import COMPRESSOR, COOLER, FILTER, TURBINE, Near, near_of
from zarvik.core.bay.kinds import KINDS
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.checks.layout import run_title
from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.heat.clearance import THINGS
from zarvik.core.heat.hot_parts import Gaps, hot_gaps
from zarvik.core.layout.placement import EXHAUST, PRIMARY, Layout, Space, lay_out
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, TO_DO

ROOM_CHECK = Check("bay_room", "Clearance in the engine bay", about="layout", breaks=True)
HEAT_CHECK = Check("bay_heat", "Heat clearance in the engine bay", about="layout", breaks=True)
BELT_CHECK = Check("bay_belt", "Accessory belt wrap", about="layout")
LEAST_WRAP = 0.5 * math.pi  # rad round any pulley that drives or is driven; common practice, no source
UNSURE_CHECK = Check("bay_unsure", "Engine bay measurements", about="layout")
STRUCTURE_CHECK = Check("bay_structure", "Changes to the car's structure", about="layout", breaks=True)
ALTERED = {"notched": "“{name}” is notched or cut", "moved": "“{name}” is moved or remade"}
PARTS = {TURBINE: "Turbine housing", COMPRESSOR: "Compressor housing", COOLER: "Intercooler", FILTER: "Air filter"}
HotGaps = Mapping[str, tuple[str, Gaps]]  # by the key of a piece its run and what it asks for
PLACE = "Common practice, no source; the room that each kind needs stands in the table of the engine bay"


def check(case: Case) -> list[CheckResult]:
    """Room, heat, and what was not measured; nothing where nobody says what stands in the bay."""
    build = case.build
    if not build.obstacles or build.space is None:
        return []
    layout = lay_out(build.space)
    found = near_of(build.space, layout, build.obstacles)
    name = partial(part_name, build.space, layout)
    results = [_room(name, found)]
    if any(one.line.startswith((PRIMARY, EXHAUST, TURBINE, "manifold")) for one in found):
        results.append(_heat(name, found, _hot(case)))
    results += [
        UNSURE_CHECK.check_result(
            message("“{name}”: {fault}", name=one.name, fault=fault),
            state=TO_DO,
            cure=message(
                "Correct it on the page of the engine bay; until then {slack} more are kept clear of it", slack=Figure(one.slack, "length")
            ),
        )
        for one in build.obstacles
        for fault in one.faults
    ]
    results += [result for one in build.obstacles if one.belt is not None for result in _belt(one.name, one.belt)]
    results += [
        STRUCTURE_CHECK.check_result(
            message(ALTERED[one.altered], ": its strength is not calculated here", name=one.name),
            state=TO_DO,
            cure=message(
                "Have it designed, welded and inspected by a licensed or certified trade; ask what has to be approved where the car is used"
            ),
        )
        for one in build.obstacles
        if one.altered
    ]
    unsure = [one for one in build.obstacles if not one.sure and not one.faults]
    if unsure:
        results.append(
            UNSURE_CHECK.check_result(
                message(
                    "“{name}” is not measured: {slack} more are kept clear of it, {count} in all",
                    name=unsure[0].name,
                    slack=Figure(unsure[0].slack, "length"),
                    count=str(len(unsure)),
                ),
                state=TO_DO,
                cure=message("Measure where it is, from exhaust port 1"),
            )
        )
    return results


def _belt(name: str, belt: BeltRun) -> Iterator[CheckResult]:
    """How long a belt is, and whether it goes far enough round each pulley that drives or is driven."""
    worst = min(range(len(belt.wraps)), key=lambda k: (belt.backs[k], belt.wraps[k]))
    yield BELT_CHECK.check_result(
        message(
            "“{name}” is {length} long; it goes {wrap} round pulley {number}, the least of them",
            name=name,
            length=Figure(belt.length, "length"),
            wrap=Figure(belt.wraps[worst], "angle"),
            number=str(worst + 1),
        ),
        state=OK if belt.wraps[worst] >= LEAST_WRAP else MARGINAL,
        margin=belt.wraps[worst] / LEAST_WRAP - 1.0,
        cure=message("An idler on the back of the belt beside it"),
        basis="Closed form of the tangents of circles; a quarter turn as a minimum: common practice, no source, a rough guide",
    )


def part_name(space: Space, layout: Layout, key: str) -> Sentence:
    """A part (a key of `Near.line`) in words."""
    if key in PARTS:
        return message(PARTS[key])
    line = layout.line(key)
    if key.startswith(PRIMARY) or line is None:
        number = next((p.cylinder for p in space.primaries if PRIMARY + p.id == key), 0)
        return message("Primary of cylinder {number}", number=str(number))
    return run_title(line)


def _room(name, found: Sequence[Near]) -> CheckResult:  # type: ignore[no-untyped-def]
    """The part that has least of the room that it needs."""
    if not found:
        return ROOM_CHECK.check_result(message("Nothing comes near anything in the engine bay"), state=OK)
    worst = min(found, key=lambda one: one.gap - one.obstacle.room)
    short = sum(one.gap < one.obstacle.room for one in found)
    state = OK if not short else (FAILS if worst.gap - worst.obstacle.slack < 0.0 or KINDS[worst.obstacle.kind].moves else MARGINAL)
    text = "“{part}” comes within {gap} of “{thing}”{moved}; {room} are needed{others}"
    if worst.gap < 0.0:
        text = "“{part}” runs {gap} into “{thing}”{moved}"
    return ROOM_CHECK.check_result(
        message(
            text,
            part=name(worst.line),
            thing=worst.obstacle.name,
            gap=Figure(abs(worst.gap), "length"),
            moved=message(" when it has moved") if worst.moving else message(" when it is hot") if worst.hot else "",
            **({} if worst.gap < 0.0 else {
                "room": Figure(worst.obstacle.room, "length"),
                "others": message(", and {count} more are too near", count=str(short - 1)) if short > 1 else "",
            }),
        ),
        state=state,
        margin=worst.gap / worst.obstacle.room - 1.0,
        cure=message("Route the pipe round it, move the object, or measure it with a tape"),
        about=f"layout:{worst.line}",
        basis=PLACE,
    )  # fmt: skip


def _hot(case: Case) -> HotGaps:
    """The gaps that hot pieces ask for, at the hottest that full load makes them: at most air, at the target and at the highest speed."""
    points = [case.hardest, *(p for p in (case.target, *case.sweep[-1:]) if p.closure.solved)]
    return hot_gaps(case.solver, case.build.fittings, points)


def gaps_kept(one: Near, pieces: HotGaps) -> tuple[float, float] | None:
    """The gaps in m that an obstacle must keep from the hot part beside it, bare and behind a shield; None where neither minds. `pieces`:
    what those of the hot side ask for; a primary of pieces is as hot as what stands for all of them."""
    minds = KINDS[one.obstacle.kind].minds
    index = next((i for i, thing in enumerate(THINGS) if thing.key == minds), None)
    if index is None:
        return None
    run = "manifold" if one.line.startswith((PRIMARY, "manifold")) else EXHAUST if one.line.startswith(EXHAUST) else ""
    if one.line == TURBINE:
        candidates = [gaps for section, gaps in pieces.values() if section not in ("manifold", EXHAUST)]
        candidates = candidates or [gaps for _, gaps in pieces.values()]
    elif one.piece in pieces:
        candidates = [pieces[one.piece][1]]
    else:
        candidates = [gaps for section, gaps in pieces.values() if section == run]
    if not candidates or (not run and one.line != TURBINE):
        return None
    return max(gaps[index] for gaps in candidates)


def hottest_of(found: Sequence[Near], pieces: HotGaps) -> tuple[Near, float, float] | None:
    """Of places where parts come near what stands in the bay that at which heat does most harm, with the gaps m that are needed there, bare
    and behind a shield; None where nothing minds. `pieces`: what hot pieces ask for."""
    asked = [(one, *gaps) for one in found if (gaps := gaps_kept(one, pieces)) is not None]
    return min(asked, key=lambda one: (one[0].gap - one[0].obstacle.slack) / one[1], default=None)


def heat_state(one: Near, bare: float, behind: float) -> str:
    """OK where a place keeps its gap `bare`, MARGINAL where it does `behind` a shield, else FAILS; gaps in m."""
    left = one.gap - one.obstacle.slack
    return OK if left >= bare else MARGINAL if left >= behind else FAILS


def _heat(name, found: Sequence[Near], pieces: HotGaps) -> CheckResult:  # type: ignore[no-untyped-def]
    """The part that is nearest to what its heat spoils."""
    hottest = hottest_of(found, pieces)
    if hottest is None:
        return HEAT_CHECK.check_result(message("Nothing that minds heat is near the hot side"), state=OK)
    worst, bare, behind = hottest
    left = worst.gap - worst.obstacle.slack
    state = heat_state(*hottest)
    return HEAT_CHECK.check_result(
        message(
            "“{thing}” is {gap} from “{part}”: it needs {bare}, or {behind} behind a shield",
            thing=worst.obstacle.name,
            part=name(worst.line),
            gap=Figure(max(worst.gap, 0.0), "length"),
            bare=Figure(bare + worst.obstacle.slack, "length"),
            behind=Figure(behind + worst.obstacle.slack, "length"),
        ),
        state=state,
        margin=left / bare - 1.0,
        cure=message("A heat shield between them" if state == MARGINAL else "Move one of them, then put a heat shield between them"),
        about=f"layout:{worst.line}",
        basis="Radiation and convection at full load and in the soak after it; floors: common practice, no source",
    )

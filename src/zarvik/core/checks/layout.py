"""Do the pieces meet what they must, miss each other, bend as they can be bent, and let a torch in?"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Filling, Sentence, message
from zarvik.core.layout.bodies import drain_tilt
from zarvik.core.layout.clash import SPACING, Trace, boxes_apart, hidden, nearest, self_clearance, trace
from zarvik.core.layout.frame import Misalignment
from zarvik.core.layout.placement import CAST, PRIMARY, Layout, Line, Space, firing_interval, lay_out
from zarvik.core.layout.run import Placed
from zarvik.core.limits.limits import APART, DRAIN, FAILS, FIT, JOINT_STRAIGHT, MARGINAL, OK, TIGHT_BEND, TORCH_SHARE

GRIP_CHECK = Check("grip", "Straight tube at joints", limit=JOINT_STRAIGHT, breaks=True)
FIT_CHECK = Check("fit", "Pipe end gaps", limit=FIT)
SPREAD_CHECK = Check("spread", "Primary length difference", about="layout")
APART_CHECK = Check("apart", "Tube clearance", limit=APART, breaks=True)
BEND_RADIUS_CHECK = Check("bend_radius", "Bend radius", limit=TIGHT_BEND)
TORCH_CHECK = Check("torch", "Weld access", limit=TORCH_SHARE)
DRAIN_CHECK = Check("drain", "Oil drain direction", about="layout:turbo", limit=DRAIN)
SCROLLS_CHECK = Check("scrolls", "Twin-scroll pairing", about="layout")
CYLINDERS_CHECK = Check("cylinders", "Primaries, cylinders and inlets", about="layout")

# What a welded end, and one in a hose, takes up: along, beside (m), between the ways (rad)
WELD = Misalignment(0.0005, 0.0005, math.radians(0.5))
HOSE = Misalignment(0.005, 0.003, math.radians(3.0))
GRIP = 0.03  # m of straight tube under a hose clamp with its bead; common practice, no source
SLIP = 0.025  # m of straight in a slip joint: an inch; common practice, no source
MEETING = 0.06  # m before a collector in which primaries come together as they should
SHAFT_LEVEL = math.radians(15.0)
# Named before the check of any run: who meets whom
GOALS = {
    "collector": "the collector",
    "turbine": "the turbine",
    "cooler": "the intercooler",
    "compressor": "the compressor",
    "blower": "the blower",
    "throttle": "the throttle",
    "tail": "its end point",
}


def end_miss(line: Line) -> float:
    """How far a run misses what it must meet, over what its joint takes up; 0 where there is nothing to meet."""
    missed = line.missed
    if missed is None:
        return 0.0
    takes = HOSE if line.placed and line.placed[-1].segment.kind in ("gap", "hose") else WELD
    return max(abs(missed.gap) / takes.gap, missed.offset / takes.offset, missed.angle / takes.angle)


def run_title(line: Line) -> Sentence:
    """A run in words."""
    names = {
        "manifold": "Pipe before the turbine",
        "intake": "Intake",
        "hot_pipe": "Hot charge pipe",
        "cold_pipe": "Cold charge pipe",
        "exhaust": "Exhaust",
    }
    return message(names[line.key.partition(":")[0]])


@dataclass(frozen=True, eq=False)
class _Found:
    layout: Layout
    space: Space

    def name(self, line: Line) -> Sentence:
        """A run in words."""
        if line.key.startswith(PRIMARY):
            key = line.key.removeprefix(PRIMARY)
            cylinder = next(p.cylinder for p in self.space.primaries if p.id == key)
            return message("Primary of cylinder {number}", number=str(cylinder))
        return run_title(line)


def check(case: Case) -> list[CheckResult]:
    """Every check on pieces in space; none while nobody has said where anything stands."""
    space = case.build.space
    if space is None:
        return []
    return list(_judged(space))


@lru_cache(32)
def _judged(space: Space) -> tuple[CheckResult, ...]:
    found = _Found(lay_out(space), space)
    check_results = [*_radii(found)]
    if space.said:
        check_results += [*_fit(found), *_spread(found), *_cylinders(found), *_apart(found), *_torch(found), *_pairs(found)]
        check_results += [*_straights(found)]
        if space.turbo.measured:
            check_results += _drain(found)
    return tuple(check_results)


def _fit(found: _Found) -> Iterator[CheckResult]:
    """The end that misses the most."""
    lines = [one for one in found.layout.lines if one.judged and one.goal is not None and one.placed]
    if not lines:
        return
    worst = max(lines, key=end_miss)
    missed = worst.missed
    assert missed is not None
    state = FIT.state(end_miss(worst))
    cure: Sentence | None = None
    changes: tuple[Change, ...] = ()
    if state != OK:
        cure = message("Close the gap of “{run}”: lengths, rotations and bends that may change", run=found.name(worst))
        changes = (Change(f"fit-run:{worst.key}", 0.0),)
    count = sum(FIT.state(end_miss(one)) != OK for one in lines)
    others = message(", and {count} more miss theirs", count=str(count - 1)) if count > 1 else ""
    yield FIT_CHECK.check_result(
        message(
            "“{run}” misses {what} by {gap} along, {offset} sideways and {angle}{others}",
            run=found.name(worst),
            what=message(GOALS[worst.meets]),
            gap=Figure(missed.gap, "length", f"end_gap:{worst.key}"),
            offset=Figure(missed.offset, "length", f"end_offset:{worst.key}"),
            angle=Figure(missed.angle, "angle", f"end_angle:{worst.key}"),
            others=others,
        ),
        value=end_miss(worst),
        cure=cure,
        changes=changes,
        about=f"layout:{worst.key}",
    )


def spread(lines: tuple[Line, ...]) -> float:
    """Longest over shortest, less one."""
    lengths = [one.length for one in lines if one.length > 0.0]
    return max(lengths) / min(lengths) - 1.0 if len(lengths) > 1 else 0.0


def _spread(found: _Found) -> Iterator[CheckResult]:
    space = found.space
    lines = found.layout.primaries
    if len(lines) < 2 or (space.collector is not None and space.collector.form in ("log", CAST)):
        return
    value = spread(lines)
    state = OK if value <= space.spread else MARGINAL
    lengths = [one.length for one in lines]
    shortest, longest = min(lines, key=lambda one: one.length), max(lines, key=lambda one: one.length)
    yield SPREAD_CHECK.check_result(
        message(
            "{shortest} to {longest}: difference {spread}",
            shortest=Figure(min(lengths), "length", f"shape:{shortest.key}"),
            longest=Figure(max(lengths), "length", f"shape:{longest.key}"),
            spread=Figure(value, "ratio", "spread"),
        ),
        state=state,
        margin=1.0 - value / space.spread,
        cure=message("Equalise lengths") if state != OK else None,
        changes=(Change("equalise", 0.0),) if state != OK else (),
        basis="The allowed difference is your choice",
    )


def _cylinders(found: _Found) -> Iterator[CheckResult]:
    """One primary a cylinder, one inlet a primary."""
    space = found.space
    if not space.primaries:
        return
    faults: list[Sentence] = []
    cylinders = [p.cylinder for p in space.primaries]
    missing = sorted(set(range(1, space.head.cylinders + 1)) - set(cylinders))
    if missing:
        faults.append(message("cylinder {number} has no primary", number=", ".join(str(m) for m in missing)))
    twice = sorted({c for c in cylinders if cylinders.count(c) > 1})
    if twice:
        faults.append(message("cylinder {number} has more than one", number=", ".join(str(c) for c in twice)))
    strange = sorted(c for c in set(cylinders) if c > space.head.cylinders)
    if strange:
        faults.append(message("there is no cylinder {number}", number=", ".join(str(c) for c in strange)))
    if len(space.order) != space.head.cylinders:
        faults.append(
            message("the firing order has {count} of {all} cylinders", count=str(len(space.order)), all=str(space.head.cylinders))
        )
    seen: set[tuple[int, int]] = set()
    for p in space.primaries:
        bank = space.head.bank_of(p.cylinder) if len(found.layout.inlets) > 1 else 0
        if p.inlet > len(found.layout.inlets[bank]):
            faults.append(message("the collector has no inlet {number}", number=str(p.inlet)))
        elif (bank, p.inlet) in seen:
            faults.append(message("two primaries end in inlet {number}", number=str(p.inlet)))
        seen.add((bank, p.inlet))
    if faults:
        yield CYLINDERS_CHECK.check_result(
            message("{fault}", fault=faults[0]) if len(faults) == 1 else message("{fault}, {next}", fault=faults[0], next=faults[1]),
            state=FAILS,
            cure=message("Give every cylinder one primary, and every primary its own inlet"),
        )


def clearance(space: Space, layout: Layout, one: Line, two: Line) -> float:
    """How far the skins of two runs of a `layout` of a `space` are apart in m (the same run twice: from itself where it
    comes back); inf for runs of which nobody knows where they stand to each other. Negative: they run into each other."""
    primary = [line.key.startswith(PRIMARY) for line in (one, two)]
    if one is two:
        return self_clearance(_traced(one)).gap
    if not all(primary) and (not space.turbo.measured or one.bank != two.bank):
        return math.inf
    first, second = _traced(one), _traced(two)
    if all(primary):
        # Where they meet the collector they touch, and should: there only what runs into the other counts.
        touch = nearest(first, second).gap
        return touch if touch < APART.most else nearest(first, second, spare=MEETING).gap
    # Both may begin or end at the same turbo or intercooler: what lies apart from that is looked at.
    return nearest(first, second, spare=MEETING).gap


@lru_cache(128)
def _traced(line: Line) -> Trace:
    spacing = SPACING if line.key.startswith(PRIMARY) else 2.0 * SPACING
    return trace(line.placed, spacing)


def _apart(found: _Found) -> Iterator[CheckResult]:
    """The two skins that come nearest, and runs that run into themselves."""
    lines = [one for one in found.layout.lines if one.placed]
    worst: tuple[float, Line, Line] | None = None
    for one, two in itertools.combinations_with_replacement(lines, 2):
        least = min(worst[0] if worst is not None else math.inf, 2.0 * APART.good)
        if one is not two and boxes_apart(_traced(one), _traced(two)) > least:
            continue
        gap = clearance(found.space, found.layout, one, two)
        if math.isfinite(gap) and (worst is None or gap < worst[0]):
            worst = (gap, one, two)
    if worst is None:
        return
    gap, one, two = worst
    state = APART.state(gap)
    figure = Figure(abs(gap), "length", f"clear:{one.key}~{two.key}")
    names: dict[str, Filling] = {"one": found.name(one), "two": found.name(two), "gap": figure}
    if one is two:
        text = message("“{one}” runs {gap} into itself" if gap < 0.0 else "“{one}” comes within {gap} of itself", **names)
    else:
        text = message("“{one}” runs {gap} into “{two}”" if gap < 0.0 else "“{one}” and “{two}” come within {gap}", **names)
    cure: Sentence | None = None
    changes: tuple[Change, ...] = ()
    if state != OK:
        cure = message("Rotate one of them out of the way, then close its gap again")
        if one.key.startswith(PRIMARY) and two.key.startswith(PRIMARY):
            cure = message("Generate all primaries again, clear of each other")
            changes = (Change("build-primaries", 0.0),)
    yield APART_CHECK.check_result(text, value=gap, cure=cure, changes=changes, about=f"layout:{one.key}")


def _radii(found: _Found) -> Iterator[CheckResult]:
    """The bend that is tightest for its tube; one that cannot be at all is told even where nothing stands anywhere."""
    bends = [
        (p.segment.radius / p.segment.outside, p.segment, one)
        for one in found.layout.lines
        for p in one.placed
        if p.segment.bends and p.segment.kind == "tube" and p.segment.radius > 1e-5 and not one.bank
    ]
    if not bends:
        return
    ratio, s, line = min(bends, key=lambda b: b[0])
    least = found.space.radius
    state = FAILS if ratio < 0.5 else TIGHT_BEND.state(ratio / least - 1.0 + 1e-9)
    if state == OK and not found.space.said:
        return
    primary = line.key.startswith(PRIMARY)
    about = f"layout:{line.key}" if primary else f"piece:{s.id}"
    asked = math.ceil(least * s.outside * 1000.0) / 1000.0
    text = message(
        "“{run}” bends at {radius}, {ratio} of its outside diameter; {least} is available",
        run=found.name(line),
        radius=Figure(s.radius, "length", f"={place_of(line)}.{s.id}.radius"),
        ratio=Figure(ratio, "factor", f"tightness:{s.id}"),
        least=Figure(least, "factor", "=layout.fabrication.tightest_bend"),
    )
    yield BEND_RADIUS_CHECK.check_result(
        text,
        state=state,
        margin=ratio / least - 1.0,
        cure=message("A radius of {radius}", radius=Figure(asked, "length")) if state != OK else None,
        changes=(Change(f"piece:{s.id}:radius", asked),) if state != OK else (),
        about=about,
    )


def weld_positions(line: Line) -> Iterator[tuple[Placed, float]]:
    """Pieces of a run that begin at a weld, with how far along it."""
    way = 0.0
    for number, part in enumerate(line.placed):
        one = line.placed[number - 1].segment if number else None
        if one is not None and "gap" not in (one.kind, part.segment.kind) and "hose" not in (one.kind, part.segment.kind):
            yield part, way
        way += part.segment.length


def torch_blocked_share(lines: Sequence[Line], line: Line, part: Placed, way: float) -> float:
    """Share (0–1) of the seam before a `part` of a `line`, `way` m along it, that a torch cannot reach for the other
    `lines` of its bank."""
    others = [_traced(o) for o in lines if o is not line and o.bank == line.bank]
    return hidden(part.first, 0.5 * part.segment.outside, others, _traced(line), way)


def _torch(found: _Found) -> Iterator[CheckResult]:
    """The seam of the primaries that is hidden the most once they are all tacked."""
    lines = found.layout.primaries
    if not lines:
        return
    worst: tuple[float, Line, Placed] | None = None
    shut = 0
    for one in lines:
        for part, way in weld_positions(one):
            share = torch_blocked_share(lines, one, part, way)
            shut += TORCH_SHARE.state(share) != OK
            if worst is None or share > worst[0]:
                worst = (share, one, part)
    if worst is None:
        return
    share, one, part = worst
    state = TORCH_SHARE.state(share)
    yield TORCH_CHECK.check_result(
        message(
            ("{share} of a seam of “{run}” is out of reach once all are tacked; {count} seams are more than a quarter hidden"),
            share=Figure(share, "ratio", f"seam:{part.segment.id}"),
            run=found.name(one),
            count=str(shut),
        ),
        state=state,
        cure=message("Tack all, take them off the fixture one by one and weld those first, in the order of the cut list")
        if state != OK
        else None,
        about=f"layout:{one.key}",
    )


def _straights(found: _Found) -> Iterator[CheckResult]:
    """Straight tube under every clamp, and in a slip joint."""
    for line in found.layout.lines:
        if line.bank:
            continue
        parts = [p.segment for p in line.placed]
        if line.key.startswith(PRIMARY) and found.space.slip and parts:
            last = parts[-1]
            if last.bends or last.length < SLIP - 1e-9:
                yield _short(found, line, last.id, SLIP, 0.0 if last.bends else last.length, "slip")
                return
        for number, s in enumerate(parts):
            if s.kind != "gap":
                continue
            for other, side in ((number - 1, "before"), (number + 1, "behind")):
                if not 0 <= other < len(parts):
                    continue
                beside = parts[other]
                if beside.kind != "tube" or beside.bore_in != beside.bore_out:
                    continue
                if beside.bends or beside.length < GRIP - 1e-9:
                    yield _short(found, line, beside.id, GRIP, 0.0 if beside.bends else beside.length, side)
                    return


def place_of(line: Line) -> str:
    """Place of a run's pieces in a document."""
    if line.key.startswith(PRIMARY):
        return f"primaries.{line.key.removeprefix(PRIMARY)}.pieces"
    return line.key.partition(":")[0]


def _short(found: _Found, line: Line, piece: str, wanted: float, there: float, side: str) -> CheckResult:
    primary = line.key.startswith(PRIMARY)
    what = message("the slip joint") if side == "slip" else message("the clamp")
    figures: dict[str, Filling] = {"run": found.name(line), "wanted": Figure(wanted, "length"), "what": what}
    change = Change(f"straight-{'before' if side == 'behind' else 'behind'}:{piece}", wanted)
    text = message("“{run}” has no straight tube at {what}; {wanted} needed", **figures)
    if there > 0.0:
        change = Change(f"piece:{piece}:length", wanted)
        figures["there"] = Figure(there, "length", f"={place_of(line)}.{piece}.length")
        text = message("“{run}” has {there} of straight tube at {what}; {wanted} needed", **figures)
    return GRIP_CHECK.check_result(
        text,
        value=there / wanted - 1.0,
        cure=message("A straight of {wanted} there: use a bend with a leg", wanted=figures["wanted"]),
        changes=(change,),
        about=f"layout:{line.key}" if primary else f"piece:{piece}",
    )


def _drain(found: _Found) -> Iterator[CheckResult]:
    off_down, level = max((drain_tilt(body) for body in found.layout.turbos), key=lambda d: max(d[0], d[1]))
    state = DRAIN.state(off_down)
    if level > SHAFT_LEVEL and state == OK:
        state = MARGINAL
    yield DRAIN_CHECK.check_result(
        message(
            "The drain is {angle} from straight down, the shaft {level} from level",
            angle=Figure(off_down, "angle", "=layout.turbo.drain"),
            level=Figure(level, "angle", "=layout.turbo.shaft"),
        ),
        state=state,
        value=off_down,
        cure=message("Rotate the centre section in its housings until the drain points down, within 35°") if state != OK else None,
    )


def _pairs(found: _Found) -> Iterator[CheckResult]:
    """A twin scroll gets cylinders that fire far apart in one scroll."""
    space = found.space
    if space.scrolls != 2 or not space.primaries or len(found.layout.inlets) != 1:
        return
    half = len(found.layout.inlets[0]) // 2
    groups = [[p.cylinder for p in space.primaries if (p.inlet <= half) == (n == 0)] for n in (0, 1)]
    ways = [firing_interval(space.order, a, b) for g in groups for a, b in itertools.combinations(g, 2)]
    if not ways or not all(math.isfinite(w) for w in ways):
        return
    best = 720.0 / max(half, 1)
    state = OK if min(ways) >= best - 1e-6 else MARGINAL
    names = [" + ".join(str(c) for c in sorted(g)) for g in groups]
    yield SCROLLS_CHECK.check_result(
        message(
            "{one} in one scroll, {two} in the other: the closest firings are {way} of crank apart",
            one=names[0],
            two=names[1],
            way=Figure(math.radians(min(ways)), "angle", "=layout.head.order"),
        ),
        state=state,
        cure=message("Pair cylinders that fire {way} apart", way=Figure(math.radians(best), "angle")) if state != OK else None,
        basis="N. Watson, M. S. Janota, Turbocharging the Internal Combustion Engine, 1982, ch. 7: pulses are kept apart",
    )

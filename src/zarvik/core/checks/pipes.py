"""Do the pipes pass the air: velocity, loss, and ends that meet?"""

from __future__ import annotations

import math
from itertools import pairwise

from zarvik.core.airpath.solution import Stretch
from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import (
    FAILS,
    HOLDS,
    TIGHT,
    Change,
    Figure,
    Sentence,
    Verdict,
    graded,
    revs,
    say,
)
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.sizes import tube_bore

# Common practice, no source.
MACH_GOOD = 0.30
MACH_WORST = 0.40
EXHAUST_GOOD = 0.40
EXHAUST_WORST = 0.60
INTAKE_MACH_GOOD = 0.38  # at the eye of a wheel; a pipe before it is wider
INTAKE_MACH_WORST = 0.50
MANIFOLD_GOOD = 0.35  # of the mean flow: the pulses are three times as fast
MANIFOLD_WORST = 0.50
CHARGE_LOSS_GOOD = 0.06  # of the compressor's outlet pressure, pipes and cooler together
CHARGE_LOSS_WORST = 0.12
INTAKE_GOOD = 3.0e3  # Pa
INTAKE_WORST = 7.0e3
MISMATCH = 2.0e-3  # m of bore that a joint may step


def velocity_state(section: str, mach: float) -> str:
    """How a Mach number stands in a run: comfortable, fast, too fast."""
    good, most = {
        INTAKE: (INTAKE_MACH_GOOD, INTAKE_MACH_WORST), MANIFOLD: (MANIFOLD_GOOD, MANIFOLD_WORST),
        EXHAUST: (EXHAUST_GOOD, EXHAUST_WORST),
    }.get(section, (MACH_GOOD, MACH_WORST))  # fmt: skip
    return FAILS if mach > most else TIGHT if mach > good else HOLDS


def check(case: Case) -> list[Verdict]:
    """Mach number, loss of the charge side, depression before the compressor, matching ends."""
    return [*_mach(case), _charge(case), _intake(case), *shapes(case)]


def shapes(case: Case) -> list[Verdict]:
    """What can be said of the pieces without a solution: ends that meet, shapes."""
    return [*_ends(case), *_notes(case)]


def _mach(case: Case) -> list[Verdict]:
    return [
        *_fastest(case, "intake_mach", "Intake velocity", (INTAKE,), INTAKE_MACH_GOOD,
                  INTAKE_MACH_WORST),
        *_fastest(case, "charge_mach", "Charge pipe velocity", (HOT_PIPE, COLD_PIPE), MACH_GOOD,
                  MACH_WORST),
        *_fastest(case, "manifold_mach", "Manifold velocity", (MANIFOLD,), MANIFOLD_GOOD,
                  MANIFOLD_WORST),
        *_fastest(case, "exhaust_mach", "Exhaust velocity", (EXHAUST,), EXHAUST_GOOD, EXHAUST_WORST),
    ]  # fmt: skip


def _fastest(
    case: Case, key: str, title: str, sections: tuple[str, ...], good: float, most: float
) -> list[Verdict]:
    point = case.hardest
    pieces = [s for s in point.stretches if s.section in sections and s.mach > 0]
    if not pieces:
        return []
    # Of pieces within a whisker of the fastest, the one that costs most is the one to talk about.
    fastest = max(s.mach for s in pieces)
    piece = max((s for s in pieces if s.mach > fastest - 0.004), key=lambda s: s.drop)
    margin = (most - fastest) / most
    state = FAILS if fastest > most else TIGHT if fastest > good else HOLDS
    cure: Sentence | None = None
    changes: tuple[Change, ...] = ()
    if state != HOLDS:
        cure, changes = _wider(case, pieces, piece, good)
    chokes = fastest > 0.98
    hot = sections[0] in (MANIFOLD, EXHAUST)
    return [
        Verdict(
            key, title, state, margin,
            say(("“{name}” chokes at {speed}: the pressure before it rises until it passes the gas"
                 if hot else
                 "“{name}” chokes at {speed}: it passes no more, the pressure behind it breaks down")
                if chokes else
                "Mach {mach} in “{name}” ({velocity}) at {speed}; up to {good} is comfortable",
                mach=Figure(piece.mach, "factor", f"mach:{piece.id}", point.speed),
                name=piece.name or piece.id,
                velocity=Figure(piece.velocity, "velocity", f"velocity:{piece.id}", point.speed),
                speed=revs(point.speed),
                good=f"{good:.2g}"),
            cure, changes, f"charge_pipes:{piece.id}",
            f"Mach {good:.2g} to {most:.2g}: common practice, no source",
        )
    ]  # fmt: skip


def _wider(
    case: Case, pieces: list[Stretch], worst: Stretch, good: float
) -> tuple[Sentence, tuple[Change, ...]]:
    """Bores at which every piece that is too fast would be comfortable; ends of reducers that met an
    old bore go along."""
    elements = {e.id: e for e in case.system.elements}
    fast = {s.id: s.mach for s in pieces if s.mach > good}
    wider: dict[float, float] = {}
    for key, mach in fast.items():
        old = elements[key].diameter
        bore = tube_bore(old * math.sqrt(mach / (good * 0.95)))
        wider[old] = max(wider.get(old, 0.0), bore)
    changes = []
    for key in (s.id for s in pieces):
        element = elements[key]
        names = {p.name for p in KINDS[element.kind].parameters} if element.kind in KINDS else set()
        ends = {
            "bore": element.diameter,
            "bore_in": element.diameter_in,
            "bore_out": element.diameter_out,
        }
        changes += [
            Change(f"piece:{key}:{name}", wider[size])
            for name, size in ends.items()
            if name in names and size in wider
        ]
    now = elements[worst.id].diameter
    rest = " and the rest of its bore" if len(changes) > 1 else ""
    return (
        say("Widen “{name}”" + rest + " from {now} to {bore}", name=worst.name or worst.id,
            now=Figure(now, "length"), bore=Figure(wider[now], "length")),
        tuple(changes),
    )  # fmt: skip


def _largest(pieces: list[Stretch]) -> Stretch:
    return max(pieces, key=lambda s: s.drop)


def _loss_of(piece: Stretch | None, speed: float) -> Figure:
    if piece is None:
        return Figure(0.0, "pressure_difference")
    sheet = "cooler_loss" if piece.id == "cooler" else f"piece:{piece.id}"
    return Figure(piece.drop, "pressure_difference", sheet, speed)


def _charge(case: Case) -> Verdict:
    point = case.hardest
    start = point.stations["compressor_outlet"].pressure
    loss = start - point.stations["plenum"].pressure
    share = loss / start
    pieces = [s for s in point.stretches if s.section in (HOT_PIPE, COLD_PIPE, "cooler")]
    margin = (CHARGE_LOSS_WORST - share) / CHARGE_LOSS_WORST
    state = graded(margin, 1.0 - CHARGE_LOSS_GOOD / CHARGE_LOSS_WORST)
    top = _largest(pieces) if pieces else None
    return Verdict(
        "charge_loss", "Charge-side loss", state, margin,
        say("{loss} ({share}) between compressor and plenum at {speed}"
            + ("; most of it in “{name}”, {most}" if top else ""),
            loss=Figure(loss, "pressure_difference", "charge_loss", point.speed),
            share=Figure(share, "ratio", "charge_share", point.speed),
            speed=revs(point.speed), name=(top.name or top.id) if top else "–",
            most=_loss_of(top, point.speed)),
        None if state == HOLDS or top is None else say(
            "A cooler with more face and wider tanks gives most back" if top.id == "cooler" else
            "A wider or shorter “{name}” gives most back", name=top.name or top.id),
        (), f"charge_pipes:{top.id}" if top else "charge_pipes",
        "6 % good, 12 % the most: common practice, no source",
    )  # fmt: skip


def _intake(case: Case) -> Verdict:
    point = case.hardest
    loss = case.system.site.pressure - point.stations["compressor_inlet"].pressure
    pieces = [s for s in point.stretches if s.section == INTAKE]
    margin = (INTAKE_WORST - loss) / INTAKE_WORST
    state = graded(margin, 1.0 - INTAKE_GOOD / INTAKE_WORST)
    top = _largest(pieces) if pieces else None
    return Verdict(
        "intake_loss", "Intake before the compressor", state, margin,
        say("{loss} below ambient at {speed}" + ("; most of it in “{name}”, {most}" if top else ""),
            loss=Figure(loss, "pressure_difference", "run_loss:intake", point.speed),
            speed=revs(point.speed), name=(top.name or top.id) if top else "–",
            most=_loss_of(top, point.speed)),
        say("A larger “{name}” gives most back", name=top.name or top.id)
        if top and state != HOLDS else None,
        (), f"charge_pipes:{top.id}" if top else "charge_pipes",
        "3 kPa good, 7 kPa the most: common practice, no source",
    )  # fmt: skip


def _ends(case: Case) -> list[Verdict]:
    found = []
    for section, run in case.system.runs.items():
        for one, two in pairwise(run):
            step = two.diameter_in - one.diameter_out
            if abs(step) <= MISMATCH or "primaries" in (one.kind, two.kind):
                continue
            found.append((abs(step), section, one, two))
    if not found:
        return [
            Verdict("ends", "Ends that meet", HOLDS, None,
                    say("All bores meet within {step}", step=Figure(MISMATCH, "length")),
                    about="charge_pipes", basis="2 mm: common practice, no source")
        ]  # fmt: skip
    _, section, one, two = max(found, key=lambda f: f[0])
    names = {"one": one.name or one.id, "two": two.name or two.id}
    return [
        Verdict(
            "ends", "Ends that meet", TIGHT, None,
            say("{count} joint(s) step: “{one}” ends at {a}, “{two}” begins at {b}; that step's loss "
                "is not in the sum", count=str(len(found)),
                a=Figure(one.diameter_out, "length", f"=piece:{one.id}"),
                b=Figure(two.diameter_in, "length", f"=piece:{two.id}"), **names),
            say("Put a reducer between “{one}” and “{two}”, or make their bores equal", **names),
            (Change(f"insert-reducer:{two.id}", 0.0),),
            f"charge_pipes:{two.id}", "2 mm: common practice, no source",
        )
    ]  # fmt: skip


def _notes(case: Case) -> list[Verdict]:
    noted = [(e, note) for e in case.system.elements for note in e.notes]
    return [
        Verdict(f"note-{element.id}", "Shape of a piece", TIGHT, None,
                say("“{name}” " + note, name=element.name or element.id),
                say("Make it longer"), (), f"charge_pipes:{element.id}", element.source)
        for element, note in noted
    ]  # fmt: skip

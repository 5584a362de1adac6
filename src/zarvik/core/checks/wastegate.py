"""Does the wastegate hold the boost, and what does a build without one do?"""

from __future__ import annotations

import dataclasses

from zarvik.core.airpath import slots as k
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.limits.limits import CREEP, FAILS, GATE, MARGINAL, OK, RUNAWAY, TO_DO
from zarvik.core.stock.sizes import LIFT_SHARE, gate_diameters

GATE_CHECK = Check("gate", "Wastegate", about="gate", limit=CREEP, breaks=True)
BRANCH_CHECK = Check("branch", "Wastegate pipes", about="gate", breaks=True)
A_GATE_FOR_EACH_MANIFOLD_CHECK = Check("each_gate", "Wastegate for each manifold", about="gate", breaks=True)
A_GATE_FOR_EACH_SCROLL_CHECK = Check("each_gate", "Wastegate for each scroll", about="gate", breaks=True)

UNSEEN = 1.5e3  # Pa over what is asked that no gauge shows; common practice, no source


def check(case: Case) -> list[CheckResult]:
    """Whether the gate holds the boost, with what it could hold at the least; nothing with a
    blower."""
    if case.build.blower is not None:
        return []
    valve = case.build.gate
    if valve.area <= 0.0:
        return [_no_gate(case)]
    return [*_branch(case), *_each(case), *_held(case)]


def _each(case: Case) -> list[CheckResult]:
    """A manifold without a gate, or a scroll without one."""
    space, valve = case.build.space, case.build.gate
    turbos = space.turbos if space is not None else 1
    if valve.count < turbos:
        return [
            A_GATE_FOR_EACH_MANIFOLD_CHECK.check_result(
                message(
                    "{turbos} separate manifolds but {count} wastegate: the one without it runs away",
                    turbos=str(turbos),
                    count=str(valve.count),
                ),
                state=FAILS,
                cure=message("{turbos} wastegates", turbos=str(turbos)),
                changes=(Change("wastegate.count", float(turbos)),),
            )
        ]
    if case.build.turbo.turbine.scrolls > 1 and valve.count < 2 * turbos:
        return [
            A_GATE_FOR_EACH_SCROLL_CHECK.check_result(
                message("Two scrolls, one wastegate: its branch must join both and keep them apart up to the valve"),
                state=TO_DO,
                cure=message("A divided branch, or a wastegate for each scroll"),
            )
        ]
    return []


NARROW = 0.8  # of the valve, below which a pipe to or from it is a fault; common practice, no source


def _branch(case: Case) -> list[CheckResult]:
    """A valve that is larger than what leads the gas to it, or away."""
    valve = case.build.gate
    pipes = [("branch_bore", "branch", valve.branch_bore), ("return_bore", "return pipe", 0.0 if valve.to_air else valve.return_bore)]
    narrow = [(key, name, bore) for key, name, bore in pipes if 0.0 < bore < valve.diameter - 1e-6]
    if not narrow:
        return []
    key, name, bore = min(narrow, key=lambda pipe: pipe[2])
    size = Figure(valve.diameter, "length", "=wastegate.diameter")
    room = bore / valve.diameter - NARROW
    return [
        BRANCH_CHECK.check_result(
            message(
                "The valve is {size} but its {name} {bore}: the pipe limits the flow",
                size=size,
                name=message(name),
                bore=Figure(bore, "length", f"=wastegate.{key}"),
            ),
            state=MARGINAL if room >= 0.0 else FAILS,
            margin=room,
            cure=message("Pipes of {size}", size=Figure(valve.diameter, "length")),
            changes=tuple(Change(f"wastegate.{k}", valve.diameter) for k, _, _ in narrow),
            basis="Losses in series: Miller 1990; common practice, no source",
        )
    ]


def _held(case: Case) -> list[CheckResult]:
    valve = case.build.gate
    points = [p for p in case.boosted if p.turbo.regime != "shut"]
    if not points:
        return [GATE_CHECK.check_result(message("It never has to open"), state=TO_DO)]
    least = case.least
    hardest = max(points, key=lambda p: p.turbo.opening)
    creeping = [p for p in points if p.turbo.regime == "fully open"]
    over = max(creeping, key=lambda p: p.boost - p.wanted_boost, default=None)
    # What a gauge does not show is no creep: the gate is then just used up.
    if over is not None and over.boost > 1.01 * over.wanted_boost + UNSEEN:
        margin = -(over.boost / max(over.wanted_boost, 1e3) - 1.0)
        state = FAILS if CREEP.state(margin) == FAILS else MARGINAL
        cure, changes = case.cure("gate", state, lambda: _larger(case))
        return [
            GATE_CHECK.check_result(
                message(
                    "Fully open at {speed}, boost still creeps to {boost}; the lowest it can hold is {least}",
                    speed=revs(over.speed),
                    boost=Figure(over.boost, "pressure_gauge", "boost", over.speed),
                    least=Figure(least, "pressure_gauge", "least_boost"),
                ),
                state=state,
                margin=margin,
                cure=cure,
                changes=changes,
            )
        ]
    margin = 1.0 - hardest.turbo.opening
    state = GATE.state(margin)
    cure, changes = case.cure("gate", state, lambda: _larger(case))
    return [
        GATE_CHECK.check_result(
            message(
                "{opening} open at most, at {speed}, passing {part} of the gas; it could hold as little as {least}",
                (" (two wastegates)" if valve.count > 1 else ""),
                (". It vents to atmosphere: loud, hot, and often not road legal" if valve.to_air else ""),
                opening=Figure(hardest.turbo.opening, "ratio", "opening", hardest.speed),
                speed=revs(hardest.speed),
                part=Figure(hardest.turbo.gate_flow / (hardest.air + hardest.fuel), "ratio", "gate_share", hardest.speed),
                least=Figure(least, "pressure_gauge", "least_boost"),
            ),
            state=state,
            margin=margin,
            cure=cure,
            changes=changes,
            limit=GATE,
        )
    ]


def _no_gate(case: Case) -> CheckResult:
    """Without a gate the turbine makes what it makes."""
    worst = max(case.solved, key=lambda p: p.boost - p.wanted_boost, default=case.target)
    margin = -(worst.boost / max(worst.wanted_boost, 2e4) - 1.0)
    state = FAILS if RUNAWAY.state(margin) == FAILS or len(case.solved) < len(case.sweep) else OK
    cure, changes = case.cure("gate", state, lambda: _larger(case))
    lost = len(case.solved) < len(case.sweep) and RUNAWAY.state(margin) != FAILS
    return GATE_CHECK.check_result(
        message(
            "No wastegate, and no speed at which boost stops rising"
            if lost
            else "No wastegate: boost runs away to {boost} at {speed}, target {asked}"
            if state == FAILS
            else "No wastegate, and none needed: {boost} at {speed} is the highest",
            boost=Figure(worst.boost, "pressure_gauge", "boost", worst.speed),
            speed=revs(worst.speed),
            asked=Figure(worst.wanted_boost, "pressure_gauge", "asked_boost", worst.speed),
        ),
        state=state,
        margin=min(margin, RUNAWAY.most) if state == FAILS else None,
        cure=cure,
        changes=changes,
        limit=RUNAWAY,
    )


def _larger(case: Case) -> tuple[Sentence, tuple[Change, ...]]:
    """The smallest valve that is sold which holds with room."""
    gate = case.build.gate
    old = max(gate.area, 1e-9)
    if gate.pipes > 0.0:
        site = case.solver.site_numbers.copy()
        site[k.GATE_AREA] = dataclasses.replace(gate, branch_bore=gate.diameter, return_bore=gate.diameter).area
        raw = case.solver.raw(case.raw.speed[::3], site=site)
        if (raw.states[raw.solved, k.OPENING] < 1.0 - GATE.good).all():
            narrow = [
                key for key, bore in (("branch_bore", gate.branch_bore), ("return_bore", gate.return_bore)) if 0.0 < bore < gate.diameter
            ]
            return (
                message("Pipes to and from it as wide as the valve, {size}", size=Figure(gate.diameter, "length")),
                tuple(Change(f"wastegate.{key}", gate.diameter) for key in narrow),
            )
    for diameter in gate_diameters(gate.diameter + 5e-4):
        lift = round(LIFT_SHARE * diameter, 3)
        # Pipes grow with the valve
        other = dataclasses.replace(
            gate,
            diameter=diameter,
            lift=max(lift, 0.004),
            branch_bore=max(gate.branch_bore, diameter) if gate.branch_bore > 0.0 else 0.0,
            return_bore=max(gate.return_bore, diameter),
        )
        wider = [
            Change(f"wastegate.{key}", diameter)
            for key, bore in (("branch_bore", gate.branch_bore), ("return_bore", gate.return_bore))
            if 0.0 < bore < diameter and abs(bore - gate.diameter) > 1e-9
        ]
        site = case.solver.site_numbers.copy()
        site[k.GATE_AREA] = other.area
        raw = case.solver.raw(case.raw.speed[::3], site=site)
        if other.area > old and (raw.states[raw.solved, k.OPENING] < 1.0 - GATE.good).all():
            return (
                message("A {diameter} valve with {lift} lift", diameter=Figure(diameter, "length"), lift=Figure(other.lift, "length")),
                (Change("wastegate.diameter", diameter), Change("wastegate.lift", other.lift), *wider),
            )
    return message("No single wastegate on sale is enough: use a second one, or a larger turbine"), ()

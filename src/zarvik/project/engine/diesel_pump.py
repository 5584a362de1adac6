"""A diesel's pump turned up setting by setting: what each setting makes, and what is in the way of it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from zarvik.core.airpath.stations import TURBINE_INLET
from zarvik.core.checks import CheckResult, judge
from zarvik.core.checks.case import plain_case
from zarvik.core.checks.smoke import injection
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault, Figure, Sentence, message
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, TO_DO
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import EntryError, Quantity

ENTRIES = ("pump", "element", "rack", "screw")  # entries of the engine that say how far a pump is turned up
# Checks that more fuel moves
SEES = ("smoke", "exhaust_temperature", "overspeed", "choke", "back_pressure", "bottom_end", "drive", "low_gears", "material")
RANK = {OK: 0, TO_DO: 0, MARGINAL: 1, FAILS: 2}
TURN, TURNS = 0.5, 4.0  # of a full-load screw: a step, and the last
RACK_STEP, RACK_ENDS = (
    0.5e-3,
    1.4,
)  # m of rack travel; the most over that of full load as it came (common practice, no source: 15 to 21 mm of 9 to 13)
PAST = 2  # failing settings that are still shown


@dataclass(frozen=True, kw_only=True)
class PumpSetting:
    """A pump at a setting: its `title`, the `entries` of the engine that make it (name and value), whether it is set so `now`. `gives` m3
    an injection at the target speed, `power` W there, the most `torque` N m at `torque_speed` rev/min, the `least` lambda of full load, the
    hottest `gas` K before the turbine. `state`: the worst of what more fuel moves, and the `reasons` for it;
    `limited` by boost."""

    title: Sentence
    entries: tuple[tuple[str, Quantity], ...]
    now: bool
    gives: float
    power: float
    torque: float
    torque_speed: float
    least: float
    gas: float
    state: str
    reasons: tuple[CheckResult, ...]
    limited: bool = False


def with_setting(project: Project, setting: PumpSetting) -> Project:
    """The document with its pump at a setting. Raises EntryError."""
    for name, value in setting.entries:
        project = with_value(project, f"engine.{name}", value)
    return project


def _wanted(project: Project) -> Iterator[tuple[Sentence, dict[str, Quantity]]]:
    """Every setting from as it came: first other elements, where some are said, then the rack where it is known, else the screw."""
    e = project.engine
    plain = {
        "pump": Quantity(100.0, "%", "ratio"),
        "element": e.element.with_si(0.0),
        "rack": e.rack.with_si(0.0),
        "screw": e.screw.with_si(0.0),
    }
    yield message("Original"), plain
    if e.element.si > 0.0 and abs(e.element.si - e.element_was.si) > 1e-6:
        plain = {**plain, "element": e.element}
        yield message("Elements of {size}", size=Figure(e.element.si, "length")), plain
    if e.rack_was.si > 0.0:
        steps = math.floor((RACK_ENDS - 1.0) * e.rack_was.si / RACK_STEP + 1e-9)
        for n in range(1, steps + 1):
            travel = Quantity(round(1e3 * (e.rack_was.si + n * RACK_STEP), 3), "mm", "length")  # as it is written and read back
            yield message("Rack to {travel}", travel=Figure(travel.si, "length")), {**plain, "rack": travel}
        return
    for n in range(1, round(TURNS / TURN) + 1):
        yield message("Screw in by {turns}", turns=f"{n * TURN:g}"), {**plain, "screw": e.screw.with_si(n * TURN)}


def settings(project: Project, progress: Progress = unwatched) -> tuple[PumpSetting, ...]:
    """A pump that says what it gives, setting by setting, until two settings fail. Raises Fault for an engine without such a
    pump; ProjectProblems for a document that cannot be assembled."""
    e = project.engine
    if e.fuel != "diesel" or e.fuelling == "lambda":
        raise Fault("Pump settings need a diesel with a known delivery")
    wanted = list(_wanted(project))
    set_now = {name: getattr(e, name).si for name in ENTRIES}

    def is_now(entries: dict[str, Quantity]) -> bool:
        return all(abs(value.si - set_now[name]) <= 1e-9 for name, value in entries.items())

    if not any(is_now(entries) for _, entries in wanted):
        wanted.append((message("Current setting"), {name: getattr(e, name) for name in ENTRIES}))
    found: list[PumpSetting] = []
    failed = 0
    for number, (title, entries) in enumerate(wanted):
        progress(number / len(wanted))
        now = is_now(entries)
        if failed >= PAST and not now:
            continue
        try:
            setting = _made(project, title, entries, now)
        except EntryError:
            continue  # past what an entry allows
        failed += setting.state == FAILS
        found.append(setting)
    return tuple(sorted(found, key=lambda s: s.gives))


def _made(project: Project, title: Sentence, entries: dict[str, Quantity], now: bool) -> PumpSetting:
    for name, value in entries.items():
        project = with_value(project, f"engine.{name}", value)
    case = plain_case(assemble(project))
    seen = [v for v in judge(case) if v.id in SEES]
    # What has no state at the target is no setting to drive with.
    state = max((v.state for v in seen), key=RANK.__getitem__, default=TO_DO) if case.target.closure.solved else FAILS
    usable = [p for p in case.solved if p.speed >= 1.5 * case.build.engine.idle] or [case.target]
    strongest = max(usable, key=lambda p: p.power / p.speed)
    return PumpSetting(
        title=title,
        entries=tuple(entries.items()),
        now=now,
        gives=injection(case.solver, case.target),
        power=case.target.power,
        torque=strongest.power / (2.0 * math.pi * strongest.speed / 60.0),
        torque_speed=strongest.speed,
        least=min(case.solver.lambda_of(p) for p in usable),
        gas=max(p.stations[TURBINE_INLET].temperature for p in usable),
        state=state,
        reasons=tuple(v for v in seen if v.state == state and state in (MARGINAL, FAILS)),
        limited=project.engine.limiter == "boost",
    )


def sentences(found: tuple[PumpSetting, ...], wanted: float) -> tuple[Sentence, ...]:
    """How far it may be turned, what is in the way of more, and what is still missing of the `wanted` W."""
    limited = any(s.limited for s in found)
    good = [s for s in found if s.state != FAILS]
    bad = next((s for s in found if s.state == FAILS), None)
    lines: list[Sentence] = []
    if bad is None:
        lines.append(message("None of these settings is too much for this build"))
    elif not good:
        lines.append(message("Even “{setting}” is too much: {why}", setting=bad.title, why=_why(bad)))
    else:
        last = max(good, key=lambda s: s.gives)
        lines.append(
            message(
                "Up to “{setting}”: {power} and {torque}. Beyond it: {why}",
                setting=last.title,
                power=Figure(last.power, "power"),
                torque=Figure(last.torque, "torque"),
                why=_why(bad),
            )
        )
    reached = max((s.power for s in good), default=0.0)
    if good and reached < wanted:
        lines.append(
            message(
                "{reached} of {wanted}: larger elements or a larger pump, and enough air for them",
                reached=Figure(reached, "power"),
                wanted=Figure(wanted, "power", "=goal.target_power"),
            )
        )
    if bad is not None and not limited and all(v.id == "smoke" for v in bad.reasons):
        lines.append(message("A boost-compensated limiter holds fuel back until there is enough air: with one the pump may go further"))
    lines.append(
        message(
            "Small steps: read a probe before the turbine and look behind the car after each. Gain per turn or millimetre is a rough guide"
        )
    )
    return tuple(lines)


def _why(setting: PumpSetting) -> Sentence:
    first, *rest = setting.reasons or (None,)
    if first is None:
        return message("not solved")
    words = message("{title} fails. {text}", title=message(first.title), text=first.text)
    return message("{words}; and {others}", words=words, others=", ".join(v.title.lower() for v in rest)) if rest else words

"""Do the primaries follow the cylinders?"""

from __future__ import annotations

from zarvik.core.airpath.stations import MANIFOLD
from zarvik.core.bay.envelope import reach_of
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.checks.velocity import CHOKES
from zarvik.core.common.sentences import Figure, message
from zarvik.core.layout.placement import PRIMARY, lay_out
from zarvik.core.limits.limits import FAILS, MANIFOLD_MACH, MARGINAL, OK

NARROW_PRIMARY_CHECK = Check("narrow_primary", "Primary bore", limit=MANIFOLD_MACH, breaks=True)
ENVELOPE_CHECK = Check("envelope", "Envelope of the primaries", about="layout")
ORDER_CHECK = Check("order", "Firing order", about="layout")
PRIMARIES_CHECK = Check("primaries", "Primaries and cylinders")


def check(case: Case) -> list[CheckResult]:
    """One pipe a cylinder, or one for two."""
    cylinders = case.build.engine.cylinders
    for element in case.build.runs[MANIFOLD]:
        pipes = element.parallel
        if element.kind == "primaries" and pipes not in (cylinders, cylinders // 2):
            return [
                PRIMARIES_CHECK.check_result(
                    message(
                        "“{name}” has {pipes} pipes for {cylinders} cylinders",
                        name=element.name or element.id,
                        pipes=str(pipes),
                        cylinders=str(cylinders),
                    ),
                    state=FAILS,
                    cure=message("One pipe per cylinder, or one for two that share a port"),
                    about=f"piece:{element.id}",
                )
            ]
    return [*_order(case), *_narrowest(case), *_envelope(case)]


BEYOND = 0.001  # m that nobody measures in an engine bay
SIDES = ("out from the head face", "below the ports", "above the ports")


def _envelope(case: Case) -> list[CheckResult]:
    """The primaries leave the room that was entered for them: by the most on one of its sides."""
    space = case.build.space
    if space is None or not space.primaries or not any(space.envelope):
        return []
    over = [
        (reach - limit, reach, limit, side)
        for reach, limit, side in zip(reach_of(space, lay_out(space)), space.envelope, SIDES, strict=True)
        if limit > 0.0
    ]
    most, reach, limit, side = max(over)
    return [
        ENVELOPE_CHECK.check_result(
            message(
                "They reach {reach} {side}, {limit} at most",
                reach=Figure(reach, "length"),
                side=message(side),
                limit=Figure(limit, "length"),
            ),
            state=FAILS if most > BEYOND else OK,
            margin=-most / limit,
            cure=message("Generate the primaries anew, or allow more room") if most > BEYOND else None,
            changes=(Change("build-primaries", 0.0),) if most > BEYOND else (),
        )
    ]


def _narrowest(case: Case) -> list[CheckResult]:
    """The narrowest piece of any primary: the gas of its cylinder goes through it alone."""
    space = case.build.space
    point = case.hardest
    whole = next((s for s in point.stretches if s.section == MANIFOLD and s.id in _stand_ins(case)), None)
    if space is None or not space.primaries or whole is None or whole.mach <= 0.0:
        return []
    bore = next(e.diameter_in for e in case.build.runs[MANIFOLD] if e.id == whole.id)
    bores = [(min(s.bore_in, s.bore_out), p) for p in space.primaries for s in p.segments if s.kind != "gap"]
    if not bores:
        return []
    narrow, primary = min(bores, key=lambda found: found[0])
    # Same flow of mass and pressure: the velocity goes with the area, until it chokes.
    mach = whole.mach * (bore / narrow) ** 2
    if narrow >= SAME * bore or mach <= MANIFOLD_MACH.good:
        return []
    state = FAILS if mach >= CHOKES else MANIFOLD_MACH.state(mach)
    text = message("The primary of cylinder {cylinder} narrows to {bore}: ", cylinder=str(primary.cylinder), bore=Figure(narrow, "length"))
    addition = (
        message("it chokes there, and the cylinder runs hot and weak")
        if mach >= CHOKES
        else message("Mach {mach} there; up to {good} is comfortable", mach=Figure(mach, "factor"), good=f"{MANIFOLD_MACH.good:.2g}")
    )
    return [
        NARROW_PRIMARY_CHECK.check_result(
            message("{text}{addition}", text=text, addition=addition),
            state=state,
            value=min(mach, 1.0),
            cure=message("Make this piece as wide as its neighbours"),
            about=f"layout:{PRIMARY}{primary.id}",
        )
    ]


SAME = 0.97  # of the bore of the others: what a tube is made to


def _stand_ins(case: Case) -> set[str]:
    return {e.id for e in case.build.runs[MANIFOLD] if e.kind == "primaries"}


def _order(case: Case) -> list[CheckResult]:
    """A firing order that names other cylinders than there are: the pulses are those of the usual one."""
    space, cylinders = case.build.space, case.build.engine.cylinders
    if space is None or space.primaries or len(space.order) == cylinders:
        return []
    return [
        ORDER_CHECK.check_result(
            message(
                "It names {named} of {cylinders} cylinders: the standard order is used",
                named=str(len(space.order)),
                cylinders=str(cylinders),
            ),
            state=MARGINAL,
            cure=message("Enter the order cast on the engine or printed in its handbook"),
        )
    ]

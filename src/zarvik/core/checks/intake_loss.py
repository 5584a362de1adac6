"""What is lost before the compressor?"""

from __future__ import annotations

from zarvik.core.airpath.stations import INTAKE
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.checks.costliest_piece import largest, loss_of, named, subject_of
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import INTAKE_LOSS, OK

CHECK = Check("intake_loss", "Intake loss before the compressor", limit=INTAKE_LOSS)


def check(case: Case) -> list[CheckResult]:
    """Depression before the compressor, where the most air goes through."""
    point = case.hardest
    loss = case.build.site.pressure - point.stations["compressor_inlet"].pressure
    pieces = [s for s in point.stretches if s.section == INTAKE]
    _margin, state = INTAKE_LOSS.margin(loss), INTAKE_LOSS.state(loss)
    top = largest(pieces) if pieces else None
    return [
        CHECK.check_result(
            message(
                "{loss} below ambient at {speed}",
                ("; most in “{name}”, {most}" if top else ""),
                loss=Figure(loss, "pressure_difference", "run_loss:intake", point.speed),
                speed=revs(point.speed),
                name=named(top) if top else "–",
                most=loss_of(top, point.speed),
            ),
            value=loss,
            cure=message("A larger “{name}” helps most", name=named(top)) if top and state != OK else None,
            about=subject_of(top) if top else "pipes",
        )
    ]

"""What is lost between the compressor and the plenum?"""

from __future__ import annotations

from zarvik.core.airpath.stations import COLD_PIPE, HOT_PIPE
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.checks.costliest_piece import largest, loss_of, named, subject_of
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import CHARGE_LOSS, OK

CHECK = Check("charge_loss", "Charge pressure loss", limit=CHARGE_LOSS)


def check(case: Case) -> list[CheckResult]:
    """Pipes and intercooler together, where the most air goes through."""
    point = case.hardest
    start = point.stations["compressor_outlet"].pressure
    loss = start - point.stations["plenum"].pressure
    share = loss / start
    pieces = [s for s in point.stretches if s.section in (HOT_PIPE, COLD_PIPE, "cooler")]
    _margin, state = CHARGE_LOSS.margin(share), CHARGE_LOSS.state(share)
    top = largest(pieces) if pieces else None
    return [
        CHECK.check_result(
            message(
                "{loss} ({share}) between compressor and plenum at {speed}",
                ("; most in “{name}”, {most}" if top else ""),
                loss=Figure(loss, "pressure_difference", "charge_loss", point.speed),
                share=Figure(share, "ratio", "charge_share", point.speed),
                speed=revs(point.speed),
                name=named(top) if top else "–",
                most=loss_of(top, point.speed),
            ),
            value=share,
            cure=None
            if state == OK or top is None
            else message(
                "An intercooler with more frontal area and wider tanks helps most"
                if top.id == "cooler"
                else "A wider or shorter “{name}” helps most",
                name=named(top),
            ),
            about=subject_of(top) if top else "pipes",
        )
    ]

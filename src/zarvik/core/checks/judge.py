"""All checks in one pass. A new check is a file here and a line in `CHECKS`."""

from __future__ import annotations

from zarvik.core.checks import (
    back_pressure,
    banks,
    bay,
    bay_work,
    belt,
    blow_off,
    blower_boost,
    boost_control,
    bottom_end,
    charge_loss,
    charge_temperature,
    choke,
    closure,
    connections,
    cooling,
    drivetrain,
    exhaust_temperature,
    flanges,
    fluid_lines,
    intake_loss,
    intake_side,
    knock,
    layout,
    leak_test,
    materials,
    mixture,
    open_end,
    openings,
    piece_shape,
    primaries,
    ranges,
    resources,
    rotor_speed,
    smoke,
    spool,
    step_between_pieces,
    surge,
    target,
    towing,
    turbo_weight,
    velocity,
    wastegate,
    wastegate_hoses,
    welds,
    wheel_speed,
)
from zarvik.core.checks.case import Case, Check
from zarvik.core.checks.check_result import CheckResult, worst
from zarvik.core.common.progress import Progress, unwatched

CHECKS: tuple[Check, ...] = (
    closure.check,
    target.check,
    rotor_speed.check,
    blower_boost.check,
    belt.check,
    surge.check,
    choke.check,
    wheel_speed.check,
    exhaust_temperature.check,
    towing.check,
    back_pressure.check,
    banks.check,
    spool.check,
    wastegate.check,
    boost_control.check,
    wastegate_hoses.check,
    blow_off.check,
    bottom_end.check,
    drivetrain.check,
    charge_temperature.check,
    knock.check,
    mixture.check,
    velocity.check,
    charge_loss.check,
    intake_loss.check,
    step_between_pieces.check,
    piece_shape.check,
    materials.check,
    welds.check,
    turbo_weight.check,
    openings.check,
    open_end.check,
    primaries.check,
    smoke.check,
    ranges.check,
    resources.check,
    layout.check,
    bay.check,
    bay_work.check,
    connections.check,
    leak_test.check,
    fluid_lines.check,
    intake_side.check,
    cooling.check,
    flanges.check,
)
# What looks at the connection list: all that has to be judged anew when a line of it is ticked off
OF_CONNECTIONS: tuple[Check, ...] = (connections.check, leak_test.check, flanges.check, bay_work.check)
# What can be said when the target itself is not solved: what does not pass the air there is not judged
# by how it does below it.
UNSOLVED: tuple[Check, ...] = (closure.check, target.check, step_between_pieces.check, piece_shape.check, layout.check)


def judge(case: Case, progress: Progress = unwatched) -> list[CheckResult]:
    """Every check on a solved case, worst first."""
    solved = case.target.closure.solved
    checks = CHECKS if solved else UNSOLVED
    if not solved and case.boosted:
        # What runs away is first of all a question of the gate.
        checks = (*UNSOLVED, wastegate.check)
    found: list[CheckResult] = []
    for number, check in enumerate(checks):
        progress(number / len(checks))
        found += check(case)
    return worst(found)

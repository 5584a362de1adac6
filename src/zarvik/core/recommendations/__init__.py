"""What a solved design needs, in sizes that are sold: said before anybody enters what there is.

Each size is chosen by the rules that judge what is entered, so that whoever buys it is told that it holds.
"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.recommendations.fluid_lines import SUPPLY, of_supply
from zarvik.core.recommendations.intake import INTAKE, of_air
from zarvik.core.recommendations.joints import JOINTS, of_joints
from zarvik.core.recommendations.radiator import COOLING, of_water
from zarvik.core.recommendations.recommendation import Recommendation
from zarvik.core.recommendations.wastegate import GATE, of_gate


def needs(case: Case) -> list[Recommendation]:
    """Everything that the design of a judged `case` needs; rough guide: the blow-off valve is found by
    shutting the throttle with each that is sold. Empty where the target has no solution."""
    if not case.target.closure.solved:
        return []
    return [*of_supply(case), *of_air(case), *of_gate(case), *of_joints(case), *of_water(case)]


__all__ = ["COOLING", "GATE", "INTAKE", "JOINTS", "SUPPLY", "Recommendation", "needs"]

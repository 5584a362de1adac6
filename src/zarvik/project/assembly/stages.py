"""What candidates of a document are evaluated by."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.candidates.evaluation import Stage
from zarvik.project.document import document as doc
from zarvik.project.language.language import tr


@dataclass(frozen=True)
class ComparisonBasis:
    """What candidates are evaluated by: the `stages`, engine speeds in rev/min at which the pedal goes down, `held`
    and in a gear (`geared`), the `budget` (0 for none) and the day `ready_by` (empty for none)."""

    stages: tuple[Stage, ...]
    held: float
    geared: float
    budget: float
    ready_by: str


def asked_of(project: doc.Project) -> ComparisonBasis:
    """What the candidates of a document are evaluated by."""
    brief = project.goal
    return ComparisonBasis(stages_of(project), brief.pedal_at.si, project.car.pull_from.si, brief.budget.si, brief.ready_by)


def stages_of(project: doc.Project) -> tuple[Stage, ...]:
    """The stages of the build, the mildest first; a stage without boost is none."""
    brief = project.goal
    found = (
        Stage("mild", tr("Everyday"), brief.mild_boost.si, brief.mild_power.si),
        Stage("full", tr("Target"), brief.target_boost.si, brief.target_power.si),
        Stage("big_run", tr("One-off"), brief.big_run_boost.si, brief.big_run_power.si),
    )
    return tuple(s for s in found if s.boost > 0.0 or s.key == "full")

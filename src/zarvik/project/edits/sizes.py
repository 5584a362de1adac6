"""Sizes that are sold, as edits of a document."""

from __future__ import annotations

from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.places import with_value_at
from zarvik.project.edits.edits import meta
from zarvik.project.units.units import Quantity

# Cores that are sold: width, height, thickness in m; common practice, no source
CORES = (
    (0.40, 0.15, 0.057),
    (0.45, 0.18, 0.065),
    (0.50, 0.20, 0.065),
    (0.55, 0.23, 0.065),
    (0.60, 0.20, 0.076),
    (0.60, 0.30, 0.076),
    (0.60, 0.30, 0.100),
    (0.70, 0.30, 0.100),
)


def size(si: float, unit: str, kind: str) -> Quantity:
    """A size in a `unit` with the digits that a shop uses; `si` in m or Pa."""
    found = Quantity(si, {"length": "m", "pressure_gauge": "Pa"}[kind], kind).into(unit)
    return Quantity(float(f"{found.value:.5g}"), unit, kind)


def with_core(core: tuple[float, float, float], project: Project) -> Project:
    """The document with a core by its dimensions: what was said of its rating was said of another one."""
    for name, si in zip(("width", "height", "thickness"), core, strict=True):
        project = with_value_at(project, f"intercooler.{name}", size(si, "mm", "length"))
    for name in ("effectiveness", "pressure_loss", "air_share"):
        field = meta(project, f"intercooler.{name}")
        if isinstance(field, QuantitySpec) and field.unknown is not None:
            project = with_value_at(project, f"intercooler.{name}", field.unknown)
    return project

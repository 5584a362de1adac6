"""Where a document stands: the air around, the air in the bay."""

from __future__ import annotations

from zarvik.core.airpath.air_path import Bay
from zarvik.core.gas.ambient import standard_pressure
from zarvik.project.document import document as doc


def ambient_pressure(project: doc.Project) -> float:
    """Absolute ambient pressure in Pa of the site of the brief."""
    return standard_pressure(project.goal.altitude.si)


def bay_of(project: doc.Project) -> Bay:
    """The air of the engine bay and how well it takes heat away, W/(m2 K)."""
    # Free convection of about 6 W/(m2 K) and forced flow across a pipe of 60 mm, h = 12 sqrt(v):
    # orders of magnitude from common tables. Hot parts make their own draught.
    breeze = 12.0 * project.bay.air_speed.si**0.5
    return Bay(project.bay.temperature.si, 6.0 + breeze, 10.0 + breeze)

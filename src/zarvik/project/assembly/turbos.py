"""Turbos and blower of a document."""

from __future__ import annotations

import math
from functools import lru_cache

from zarvik.core.airpath.air_path import Turbo
from zarvik.core.engine.belt import RIBBED, TOOTH_PITCH, TOOTHED, Belt
from zarvik.core.engine.blower import Blower
from zarvik.core.turbine.turbine import Turbine
from zarvik.project.document import document as doc
from zarvik.project.document.parts.turbo import Wheels
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import UNKNOWN


def turbo_titles(project: doc.Project) -> dict[str, str]:
    """Names of the turbos by key, so that two housings of one wheel do not look the same."""
    names = [t.name for t in project.turbos]
    found: dict[str, str] = {}
    for turbo in project.turbos:
        title = turbo.name
        if names.count(title) > 1:
            title = f"{title}, A/R {turbo.turbine.housing}"
        if title in found.values():
            title = f"{title} ({turbo.id})"
        if turbo.wheels is not None or turbo.estimated:
            title = tr_format("Estimated: {0}", title)
        found[turbo.id] = title
    return found


def core_turbo(turbo: doc.Turbo, count: int = 1, title: str = "") -> Turbo:
    """A candidate as the core takes it, `count` of them side by side, under a `title` of its own."""
    t = turbo.turbine
    turbine = Turbine(
        name=f"Turbine {t.wheel}, A/R {t.housing}",
        wheel=t.wheel.si,
        exducer=t.exducer.si,
        housing=t.housing.si,
        best=t.efficiency.si,
        vanes=t.vanes.si,
        scrolls=int(t.scrolls.si),
        pulses=t.pulses.si,
    )
    return Turbo(id=turbo.id, name=title or turbo.name, chart=turbo.chart, turbine=turbine, count=count, inertia=t.inertia.si)


@lru_cache(1)
def _no_turbo() -> doc.Turbo:
    """The solver's record of the turbo in a build with a blower that has none: nothing is read from it."""
    return doc.Turbo.of_wheels(Wheels(), "none", "")


def turbo_of(project: doc.Project) -> doc.Turbo | None:
    """The chosen turbo; with a blower any will do. None where one is missing."""
    return project.chosen or (_no_turbo() if project.blower.fitted else None)


def candidates(project: doc.Project) -> tuple[Turbo, ...]:
    """The turbos that are not the chosen one; none where a blower is fitted."""
    if project.blower.fitted:
        return ()
    count = int(project.turbos_fitted.si)
    titles = turbo_titles(project)
    return tuple(core_turbo(t, count, titles[t.id]) for t in project.turbos if t.id != project.turbo)


def belt_of(project: doc.Project) -> Belt:
    """The belt of the blower with its pulleys."""
    b = project.blower
    if b.belt == RIBBED:
        return Belt(
            kind=RIBBED, crank=b.crank_pulley.si, blower=b.pulley.si, step_up=b.step_up.si, wide=b.belt_ribs.si, wrap=b.belt_wrap.si
        )
    pitch = TOOTH_PITCH / math.pi
    return Belt(
        kind=TOOTHED,
        crank=b.crank_teeth.si * pitch,
        blower=b.teeth.si * pitch,
        step_up=b.step_up.si,
        wide=b.belt_width.si,
        wrap=b.belt_wrap.si,
    )


def blower_of(project: doc.Project) -> Blower | None:
    """The blower, None where none is fitted."""
    b = project.blower
    if not b.fitted:
        return None
    return Blower(
        name=b.name,
        displacement=b.displacement.si,
        ratio=b.drive_ratio.si,
        volumetric=b.volumetric_efficiency.si,
        adiabatic=b.adiabatic_efficiency.si,
        maximum_speed=b.rotor_limit.si,
        belt=belt_of(project),
        by_pulley=b.drive_ratio.known == UNKNOWN,
        vents=b.bypass_outlet == "air",
    )

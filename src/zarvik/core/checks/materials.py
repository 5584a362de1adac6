"""Does each wall stand the heat that it sees?"""

from __future__ import annotations

from zarvik.core.airpath.point import Stretch
from zarvik.core.airpath.stations import EXHAUST, SECTIONS
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import PRACTICE, Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.ducts.element import Element
from zarvik.core.limits.limits import MATERIALS

# Pipes of metal, each of which stands more than the one before it
INSTEAD = ("aluminium", "mild_steel", "stainless")
CHECK = Check("material", "Material temperature", breaks=True)


def check(case: Case) -> list[CheckResult]:
    """The wall that is nearest to what its material stands, at the hardest point and the target."""
    elements = {e.id: e for e in case.build.elements}
    worst: tuple[float, Stretch, Element, float, float, str] | None = None
    hot: dict[str, dict[str, float]] = {}  # by material: pieces that are too hot for it, K
    points = [case.hardest, case.target]
    for point in points:
        for s in point.stretches:
            element = elements.get(s.id)
            if element is None or element.material not in MATERIALS:
                continue
            limit = MATERIALS[element.material]
            inside = point.stations[s.start].temperature
            soft = element.material in ("silicone", "printed") or element.surface <= 0.0
            wall = inside if soft else max(s.metal, 250.0)
            margin = limit.margin(wall)
            if wall > limit.good:
                found = hot.setdefault(element.material, {})
                found[element.id] = max(found.get(element.id, 0.0), wall)
            if worst is None or margin < worst[0]:
                sheet = gas_before(case, s) if soft else f"metal:{s.id}"
                worst = (margin, s, element, wall, point.speed, sheet)
    if worst is None:
        return []
    _, s, element, wall, at, sheet = worst
    limit = MATERIALS[element.material]
    cure, changes = _other(element, hot.get(element.material, {}))
    return [
        CHECK.check_result(
            message(
                "“{name}” reaches {wall} at {speed}; {material} stands {good} for long, {most} at most",
                name=element.name or element.id,
                wall=Figure(wall, "temperature", sheet, at),
                speed=revs(at),
                material=message(limit.title),
                good=Figure(limit.good, "temperature"),
                most=Figure(limit.most, "temperature"),
            ),
            value=wall,
            limit=limit,
            basis=PRACTICE,
            cure=cure,
            changes=changes,
            about=f"piece:{element.id}",
        )
    ]


def _other(element: Element, hot: dict[str, float]) -> tuple[Sentence, tuple[Change, ...]]:
    """Another material for an `element` and for all of its material that are too `hot` (K by key): the first one that stands them."""
    name, hottest = element.name or element.id, max(hot.values(), default=0.0)
    later = INSTEAD[INSTEAD.index(element.material) + 1 :] if element.material in INSTEAD else ()
    other = next((key for key in later if MATERIALS[key].good > hottest), None)
    if other is None or not hot:
        return message("Another material for “{name}”", name=name), ()
    changes = tuple(Change(f"piece:{key}:material", other) for key in hot)
    steel, more = message(MATERIALS[other].title), str(len(hot) - 1)
    words = message("{material} for “{name}”", material=steel, name=name)
    if len(hot) > 1:
        words = message("{material} for “{name}” and {more} more", material=steel, name=name, more=more)
    return words, changes


def gas_before(case: Case, stretch: Stretch) -> str:
    """Key of the sheet that shows the gas that enters a piece: of the last wall before it, or of the
    station that its run begins at."""
    run = case.build.runs[stretch.section]
    place = next(i for i, e in enumerate(run) if e.id == stretch.id)
    alone = case.build.alone if stretch.section == EXHAUST else 0
    if alone and place >= alone and not any(e.surface > 0.0 for e in run[alone:place]):
        return "joined"
    for element in reversed(run[:place]):
        if element.surface > 0.0:
            return f"behind:{element.id}"
    return f"temperature:{SECTIONS[stretch.section][0]}"

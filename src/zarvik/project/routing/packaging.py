"""Where turbo, intercooler and air filter can go: free places, each with the pipes that follow laid, solved and tried."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from zarvik.core.common.progress import Progress, part, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.project.document.document import Project
from zarvik.project.routing.alternatives import COOLER, FILTER, TURBO, Alternative, Show, named, tried, unseen
from zarvik.project.routing.cold_places import cooler_laid, cooler_places, filter_laid, filter_places
from zarvik.project.routing.laying import Laid
from zarvik.project.routing.turbo_places import turbo_laid, turbo_places

CHOSEN = 4  # layouts to choose from


@dataclass(frozen=True)
class Study:
    """Finds `places` for something, the likeliest first, each with a name and its document, and has the pipes of one `laid` (None: there
    is no way)."""

    places: Callable[[Project, Progress], tuple[tuple[str, Project], ...]]
    laid: Callable[[Project, Mapping[str, float]], Laid | None]


STUDIES = {TURBO: Study(turbo_places, turbo_laid), COOLER: Study(cooler_places, cooler_laid), FILTER: Study(filter_places, filter_laid)}


def packagings(
    project: Project, what: str, heat: Mapping[str, float] | None = None, *, progress: Progress = unwatched, show: Show = unseen
) -> tuple[Alternative, ...]:
    """Really different places of something (`what`: a key of `STUDIES`) with the pipes that lead to it and from it, each solved; `show` is
    told of more as they are found. Raises Fault where it cannot be placed, and where no place is free."""
    study = STUDIES[what]
    free = study.places(project, part(progress, 0.0, 0.2))
    found: list[Alternative] = []
    for number, (name, changed) in enumerate(free):
        progress(0.2 + 0.8 * number / len(free))
        if any(one.title == name for one in found):
            continue
        laid = study.laid(changed, heat or {})
        if laid is not None:
            found.append(dataclasses.replace(tried(laid.project, what, (sum(laid.lengths),), laid.bends), title=name))
            show(tuple(named(found)))
        if len(found) == CHOSEN:
            break
    if not found:
        raise Fault("No free place has a way for its pipes")
    return tuple(sorted(named(found), key=lambda one: one.loss if one.loss == one.loss else math.inf))

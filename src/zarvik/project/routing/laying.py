"""Runs laid anew while something that they come to stands elsewhere."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from zarvik.core.layout.run import straight
from zarvik.project.document.document import Project
from zarvik.project.document.places import get, with_value_at
from zarvik.project.edits.edits import completed, with_value
from zarvik.project.layout.layout import si
from zarvik.project.manifold.primaries import piece_of
from zarvik.project.routing.routes import TUBES, Route, routes, with_route
from zarvik.project.units.units import Quantity

STUB = 0.03  # m
COVERS = (0.0, 45.0, -45.0, 90.0, -90.0)  # ° beside where it blows straight to its end
AS_IT_IS = (0.0,)
PATIENCE = 1


@dataclass(frozen=True, eq=False)
class Laid:
    """A `project` with pipes laid to something and from it, of these `lengths` m and so many `bends`."""

    project: Project
    lengths: tuple[float, ...]
    bends: int


def stubbed(project: Project, run: str) -> Project:
    """The document with a short stub in the place of the tubes of a run: what is laid anew is in nobody's way."""
    pieces = list(get(project, run))
    tubes = [n for n, piece in enumerate(pieces) if piece.kind in TUBES]
    if not tubes:
        return project
    bore = pieces[tubes[0]]
    stub = piece_of(straight("stub", STUB, si(bore, "bore")), bore.id, si(bore, "bore"), getattr(bore, "material", "stainless"))
    kept = [piece for n, piece in enumerate(pieces) if n not in tubes[1:]]
    kept[tubes[0]] = stub.model_copy(update={"bore": bore.bore})
    changed: Project = with_value_at(project, run, tuple(kept))
    return completed(changed)


def unit(way: np.ndarray) -> np.ndarray:
    """A `way` (3) as long as 1; of none, none."""
    return way / max(float(np.linalg.norm(way)), 1e-9)


def _way(project: Project, run: str, heat: Mapping[str, float], covers: tuple[float, ...]) -> tuple[Route | None, Project]:
    """The first way of a run that keeps the gaps m that `heat` asks for, with the compressor cover turned by the first of `covers`, °, for
    which there is one. Raises Fault where it has no end."""
    now = project.layout.turbo.cover
    for turn in covers:
        angle = math.degrees(math.remainder(now.si + math.radians(turn), 2.0 * math.pi))
        turned = with_value(project, "layout.turbo.cover", Quantity(round(angle), "°", "angle"))
        way = next(routes(turned, run, heat, patience=PATIENCE), None)
        if way is not None:
            return way, turned
    return None, project


def with_way(laid: Laid, run: str, heat: Mapping[str, float], covers: tuple[float, ...] = AS_IT_IS) -> Laid | None:
    """Pipes that are laid with those of one more run, and the compressor cover turned by one of `covers`, °; None
    where it has no way. Raises Fault where it has no end."""
    way, project = _way(laid.project, run, heat, covers)
    if way is None:
        return None
    return Laid(with_route(project, run, way), (*laid.lengths, way.length), laid.bends + way.bends)

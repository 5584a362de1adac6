"""Cures of the core carried out as edits."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from zarvik.core.airpath.stations import MANIFOLD
from zarvik.core.checks import Change
from zarvik.core.checks.check_result import JOINT_MADE
from zarvik.core.common.progress import Progress, unwatched
from zarvik.project.document.document import Project
from zarvik.project.document.naming import piece_title
from zarvik.project.edits.connection_edits import with_connection_note
from zarvik.project.edits.edits import get, with_value
from zarvik.project.edits.piece_edits import insert_piece, run_of
from zarvik.project.language.language import tr_format
from zarvik.project.manifold.primaries import equal, fitted_run
from zarvik.project.routing.heat import heat_gaps
from zarvik.project.routing.primaries import laid_primaries
from zarvik.project.units.units import EntryError, Quantity, unit_of

_PLACES = {"boost.full": "goal.target_boost", "boost.full_from": "goal.hold_back_until", "boost.big_run": "goal.big_run_boost"}


LAID = ("equalise", "build-primaries", "fit-run:")  # changes that lay pieces in space


def is_long(changes: Iterable[Change]) -> bool:
    """Do the changes take long: seconds, where the others take a thousandth?"""
    return any(change.place.startswith(LAID) for change in changes)


def with_changes(project: Project, changes: Iterable[Change], progress: Progress = unwatched) -> Project:
    """The document with the changes of a cure; each value keeps the unit of its field. Raises EntryError, Fault (where
    nothing can be laid) or KeyError for a change that does not fit the document, Stopped by `progress`."""
    for change in changes:
        if change.place.startswith(JOINT_MADE):
            project = with_connection_note(project, change.place.removeprefix(JOINT_MADE), "made", change.value)
        elif isinstance(change.value, str) and not change.place.startswith("piece:"):
            project = with_value(project, change.place, change.value)
        elif change.place == "intercooler.fitted":
            project = with_value(project, "intercooler.fitted", bool(change.value))
        elif change.place == "engine.pump_by":
            turned = round(100.0 * project.engine.pump.si * float(change.value))
            project = with_value(project, "engine.pump", Quantity(float(turned), "%", "ratio"))
        elif change.place.startswith("piece:"):
            _, piece, name = change.place.split(":")
            place = f"{run_of(project, piece)}.{piece}.{name}"
            project = with_value(project, place, change.value if isinstance(change.value, str) else _valued(project, place, change.value))
        elif change.place == "intercooler.scale":
            for name in ("width", "charge_flow", "cooling_flow"):
                now = get(project, f"intercooler.{name}")
                value = float(f"{now.si * float(change.value):.4g}")
                project = with_value(project, f"intercooler.{name}", now.with_si(value))
        elif change.place == "equalise":
            project, _ = equal(project, progress)
        elif change.place == "build-primaries":
            project = laid_primaries(project, heat_gaps(project, MANIFOLD), progress=progress).project
        elif change.place.startswith("fit-run:"):
            project = fitted_run(project, change.place.partition(":")[2])[0]
        elif change.place.startswith(("straight-before:", "straight-behind:")):
            where, _, piece = change.place.partition(":")
            project = _straight_beside(project, piece, where.endswith("behind"), float(change.value))
        elif change.place.startswith("insert-reducer:"):
            project = _reducer_before(project, change.place.split(":")[1])
        else:
            # Most are places of the document as they stand.
            place = _PLACES.get(change.place, change.place)
            project = with_value(project, place, _valued(project, place, float(change.value)))
    return project


def _valued(project: Project, place: str, si: float) -> Quantity:
    """Another number in the unit of what stands at `place`, with as many places as a size needs."""
    old: Quantity = get(project, place)
    found = old.with_si(si)
    if abs(found.si - si) > 2e-3 * abs(si):
        unit = unit_of(old.kind, old.unit)
        found = Quantity(float(f"{unit.from_si(si):.5g}"), old.unit, old.kind)
    return found


def _bore_at(project: Project, piece: Any, names: tuple[str, ...]) -> Quantity:
    """The first of these bores that a piece has; raises EntryError for one without any."""
    for name in names:
        found = getattr(piece, name, None)
        if isinstance(found, Quantity):
            return found
    raise EntryError(tr_format("“{0}” has no bore to match", piece_title(project, piece)))


def _straight_beside(project: Project, piece: str, behind: bool, length: float) -> Project:
    """The document with a straight before or behind a piece."""
    run = run_of(project, piece)
    index = next(i for i, p in enumerate(get(project, run)) if p.id == piece)
    size = Quantity(float(f"{length * 1000.0:.6g}"), "mm", "length")
    return insert_piece(project, run, index + int(behind), "straight", length=size)[0]


def _reducer_before(project: Project, piece: str) -> Project:
    run = run_of(project, piece)
    pieces = get(project, run)
    index = next(i for i, p in enumerate(pieces) if p.id == piece)
    first = pieces[index - 1]
    bore_in = _bore_at(project, first, ("bore_out", "bore", "bore_in"))
    bore_out = _bore_at(project, pieces[index], ("bore_in", "bore", "bore_out"))
    # A cone of 12 degrees in all keeps the flow on the wall when it widens.
    span = max(0.03, abs(bore_out.si - bore_in.si) / 0.21)
    return insert_piece(
        project, run, index, "reducer", bore_in=bore_in, bore_out=bore_out, length=Quantity(round(span * 1000.0), "mm", "length")
    )[0]

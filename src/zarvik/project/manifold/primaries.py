"""Manifolds made of pieces: made equal, brought onto their collector, closed."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.layout import placement as core
from zarvik.core.layout.closing import GapClosing, close
from zarvik.core.layout.equalise import Equalised, FittedRun, FittingTask, equalise, fit, paths_between
from zarvik.core.layout.run import Row, Segment, of_table
from zarvik.core.stock.sizes import WALL
from zarvik.project.document.document import Project
from zarvik.project.document.parts.layout import Primary
from zarvik.project.document.parts.piece import PIECE_MODELS, Piece
from zarvik.project.document.places import PRIMARIES, get, runs_of, with_value_at
from zarvik.project.edits.edits import completed
from zarvik.project.language.language import tr_format
from zarvik.project.layout.layout import layout, place_of, primary_bore, space_of
from zarvik.project.manifold.making import allowed_of, fabrication_steps, radii_for
from zarvik.project.units.rendering import figure
from zarvik.project.units.units import Quantity


def equal(project: Project, progress: Progress = unwatched) -> tuple[Project, Equalised]:
    """The document with its primaries made as long as each other, each on its inlet of the collector. Raises Fault
    where there is none to equalise."""
    found = layout(project)
    lines = {one.key: one for one in found.primaries}
    tasks, which = [], []
    space = space_of(project)
    for primary in space.primaries:
        one = lines.get(core.PRIMARY + primary.id)
        if one is not None and one.goal is not None and primary.segments:
            tasks.append(FittingTask(primary.segments, one.start, one.goal))
            which.append(primary.id)
    if not tasks:
        raise Fault("No primary ends at a collector")
    made = equalise(
        tasks,
        wanted=project.layout.fabrication.primary_length.si,
        allowed=allowed_of(project),
        steps=fabrication_steps(project),
        progress=progress,
    )
    for key, fitted in zip(which, made.fitted, strict=True):
        project = fitted_into(project, f"{PRIMARIES}.{key}.pieces", fitted.segments)
    return completed(project), made


def fitted_run(project: Project, key: str) -> tuple[Project, FittedRun]:
    """The document with the run of a layout's line (its key) made to end in what it must meet, by what may change in it: of a
    pipe the bends that are there, of a primary whatever is cut for it. Raises Fault for one that meets nothing, or that is the
    other bank's."""
    line = layout(project).line(key)
    if line is None or line.goal is None or not line.placed:
        raise Fault("This run has no target to meet")
    if ":" in key and not key.startswith(core.PRIMARY):
        raise Fault("The second bank mirrors the first")
    task = FittingTask(tuple(p.segment for p in line.placed), line.start, line.goal)
    made = fit(task, allowed=allowed_of(project), steps=fabrication_steps(project), tries=12, as_it_is=not key.startswith(core.PRIMARY))
    return completed(fitted_into(project, place_of(key), made.segments)), made


WANTED_BAND = 0.02  # of a wanted length that nobody measures on a manifold
LEG = 0.02  # m of straight beside a new bend


def gap_closings(project: Project, key: str) -> tuple[GapClosing, ...]:
    """Ways to close the run of a layout's line (its key) onto what it must meet, with new pieces behind it: the fewest
    welds and the shortest first. Empty where none is found. Raises Fault for a run that meets nothing."""
    line = layout(project).line(key)
    if line is None or line.goal is None:
        raise Fault("This run has no target to meet")
    primary = key.startswith(core.PRIMARY)
    last = line.placed[-1].segment if line.placed else None
    bore = last.bore_out if last is not None else primary_bore(project)
    radii = radii_for(project) if primary else tuple(sorted({*_radii_of(project, place_of(key)), round(1.5 * bore, 3)}))
    exact = close(line.end, line.goal, bore=bore, radii=radii, leg=LEG)
    # In steps that can be marked as well: places measured with a tape are never such that a bend of a quarter meets them
    # to a hair.
    found = paths_between(
        line.end, line.goal, bore=bore, wall=last.wall if last is not None else WALL, radii=radii, steps=fabrication_steps(project)
    )
    ways = [*exact]
    for fitted in found:
        bends = sum(s.bends for s in fitted.segments)
        if not any(c.bends == bends and abs(c.length - fitted.length) < 0.004 for c in exact):
            ways.append(GapClosing(fitted.segments, fitted.length, bends, len(fitted.segments) + 1))
    ways.sort(key=lambda c: (c.bends, c.welds, c.length))
    return tuple(ways[:6])


def _radii_of(project: Project, run: str) -> set[float]:
    return {round(p.radius.si, 4) for p in get(project, run) if p.kind == "bend"}


def closed_with(project: Project, key: str, closing: GapClosing) -> Project:
    """The document with the pieces of a `closing` behind the run of a layout's line (its key), before a throttle and
    what is behind that."""
    run = place_of(key)
    pieces = list(get(project, run))
    at = next((i for i, p in enumerate(pieces) if p.kind in ("throttle", "mouth")), len(pieces))
    near = next((p for p in reversed(pieces[:at]) if hasattr(p, "material")), None)
    material = near.material if near is not None else "stainless"
    taken = {p.id for r in runs_of(project) for p in get(project, r)}
    made = []
    for s in closing.segments:
        number = next(n for n in itertools.count(1) if f"{'bend' if s.bends else 'straight'}{n}" not in taken)
        name = f"{'bend' if s.bends else 'straight'}{number}"
        taken.add(name)
        made.append(piece_of(s, name, s.bore_in, material))
    changed: Project = with_value_at(project, run, tuple([*pieces[:at], *made, *pieces[at:]]))
    return completed(changed)


def fitted_into(project: Project, run: str, segments: Sequence[Segment]) -> Project:
    """The document with pieces of a run (its place) as these segments of the same keys are; units stay as they were."""
    shaped = {s.id: s for s in segments}
    pieces = []
    for piece in get(project, run):
        s = shaped.get(piece.id)
        if s is not None and s.kind not in ("gap", "throttle"):
            changes = {}
            values = {"angle": s.angle, "roll": s.roll} if s.bends else {"length": s.length}
            for name, value in values.items():
                old = getattr(piece, name, None)
                if isinstance(old, Quantity) and abs(old.si - value) > 1e-9:
                    changes[name] = rounded(value, old)
            if changes:
                piece = piece.model_copy(update=changes)
        pieces.append(piece)
    changed: Project = with_value_at(project, run, tuple(pieces))
    return changed


def rounded(value: float, like: Quantity) -> Quantity:
    """An SI value in the unit of another quantity, to a hundredth of a millimetre or degree."""
    plain = {"length": ("mm", 1e-3), "angle": ("°", math.pi / 180.0)}[like.kind]
    if like.unit not in ("mm", "cm", "m", "°", "deg"):
        return Quantity(float(f"{like.with_si(value).value:.6g}"), like.unit, like.kind)
    return Quantity(round(value / plain[1], 2), plain[0], like.kind)


def inlets_for(project: Project) -> dict[int, int]:
    """Which inlet of its collector each cylinder goes to: in a twin scroll those that fire farthest apart side by side,
    else round the collector so that tubes cross least."""
    found = layout(project)
    space = space_of(project)
    head = space.head
    chosen: dict[int, int] = {}
    for bank in range(len(found.inlets)):
        own = [c for c in range(1, head.cylinders + 1) if len(found.inlets) == 1 or head.bank_of(c) == bank]
        inlets = found.inlets[bank]
        if len(own) != len(inlets):
            continue
        best = min(
            _orders(own, space),
            key=lambda order: sum(
                float(((found.ports[c - 1].moved(0.08).origin - inlets[n].moved(-0.08).origin) ** 2).sum()) ** 0.5
                for n, c in enumerate(order)
            ),
        )
        chosen.update({c: n + 1 for n, c in enumerate(best)})
    return chosen


def _orders(own: list[int], space: core.Space) -> list[tuple[int, ...]]:
    """Orders of cylinders round a collector that are tried."""
    if len(own) > 6:
        return [tuple(own[i:] + own[:i]) for i in range(len(own))]
    orders = list(itertools.permutations(own))
    if space.scrolls == 2 and len(own) % 2 == 0:
        half = len(own) // 2

        def paired(order: tuple[int, ...]) -> float:
            groups = order[:half], order[half:]
            ways = [core.firing_interval(space.order, a, b) for g in groups for a, b in itertools.combinations(g, 2)]
            return min(ways, default=0.0)

        most = max(paired(o) for o in orders)
        orders = [o for o in orders if paired(o) >= most - 1e-9]
    return orders


def not_as_wanted(project: Project, lengths: Sequence[float]) -> str:
    """What is said where primaries that were laid (their `lengths` m) are not as long as they are wanted: how long they have to be. Empty
    where they are."""
    wanted = project.layout.fabrication.primary_length.si
    longest = max(lengths, default=0.0)
    if wanted <= 0.0 or longest <= 0.0 or abs(longest / wanted - 1.0) <= WANTED_BAND:
        return ""
    units = project.shown_units
    asked, got = figure(wanted, "length", units), figure(longest, "length", units)
    if longest > wanted:
        return tr_format(
            (
                "{0} wanted, shortest possible {1}: ports and collector are too far apart or the bends too wide. "
                "Move the collector, or use tighter bends"
            ),
            asked,
            got,
        )
    return tr_format("{0} wanted, longest found {1}: there is no room for more", asked, got)


def stubs(project: Project) -> Project:
    """The document with straight stubs from the ports to a log."""
    bore = primary_bore(project)
    near = next((p.material for p in project.manifold if hasattr(p, "material")), "stainless")
    primaries = []
    for number in range(len(layout(project).ports)):
        stub = Segment(id="s1", length=project.layout.fabrication.log.si, bore_in=bore, bore_out=bore)
        piece = piece_of(stub, f"c{number + 1}-s1", bore, near)
        primaries.append(Primary(id=f"c{number + 1}", cylinder=_count(number + 1), inlet=_count(number + 1), pieces=(piece,)))
    return completed(project.model_copy(update={PRIMARIES: tuple(primaries)}))


def _count(number: int) -> Quantity:
    return Quantity(float(number), "", "count")


def piece_of(s: Segment, key: str, bore: float, material: str) -> Piece:
    """The piece of tube with a `bore` m that a segment stands for, of a `material` (its key)."""
    mm = 1e3
    fields: dict[str, object] = {"id": key, "bore": f"{bore * mm:.6g} mm", "material": material}
    if s.bends:
        fields |= {
            "kind": "bend",
            "radius": f"{s.radius * mm:.6g} mm",
            "angle": f"{math.degrees(s.angle):.2f} °",
            "roll": f"{math.degrees(s.roll):.2f} °",
        }
    else:
        fields |= {"kind": "straight", "length": f"{s.length * mm:.2f} mm"}
    return PIECE_MODELS[str(fields["kind"])].model_validate(fields)


def with_bends(project: Project, run: str, rows: Sequence[Row]) -> Project:
    """The document with the straights and bends of a run (its place) replaced by those of a bend table; bore, material
    and cover stay those of the first of them. Raises Fault for a run that has none to take them from."""
    pieces = list(get(project, run))
    places = [i for i, p in enumerate(pieces) if p.kind in ("straight", "bend")]
    if not places:
        raise Fault("This run has no tube for bore and material")
    first = pieces[places[0]]
    taken = {p.id for r in runs_of(project) for p in get(project, r)} - {pieces[i].id for i in places}
    made = []
    for number, s in enumerate(of_table(rows, first.bore.si), 1):
        key = next(k for k in (f"{run.rpartition('.')[2]}-t{number}{tail}" for tail in ("", "a", "b", "c", "d")) if k not in taken)
        new = piece_of(s, key, first.bore.si, getattr(first, "material", "stainless"))
        made.append(new.model_copy(update={"bore": first.bore, "cover": getattr(first, "cover", "bare")}))
    kept = [p for i, p in enumerate(pieces) if i not in places]
    at = sum(1 for i in range(places[0]) if i not in places)
    changed: Project = with_value_at(project, run, tuple([*kept[:at], *made, *kept[at:]]))
    return completed(changed)


def without_primaries(project: Project) -> Project:
    """The document with its primaries as one sum again."""
    return completed(project.model_copy(update={PRIMARIES: ()}))

"""Primaries laid through the engine bay: equal in length, two to four bends each, clear of what stands there and of each other, as pieces
in whole steps or of modelling blocks."""

from __future__ import annotations

import dataclasses
import math
from collections import deque
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from zarvik.core.bay.build_bodies import line_bodies, still_bodies, turbo_bodies
from zarvik.core.bay.clearance import Growth, head_middle, roll_of
from zarvik.core.bay.envelope import reach_of, walls
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.placement import BEHIND, CAST, PRIMARY, Layout, Space
from zarvik.core.routing.bay import Bay, End
from zarvik.core.routing.grid import tightest
from zarvik.core.routing.pieces import PiecedTube, in_steps, longer, of_blocks
from zarvik.core.routing.search import Routed, Router
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.document.document import Project
from zarvik.project.document.parts.layout import Primary
from zarvik.project.document.places import PRIMARIES, get
from zarvik.project.edits.edits import completed, meta, with_value
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import layout, primary_bore, space_of
from zarvik.project.manifold.making import fabrication_steps, kit_of, kit_words, radii_for
from zarvik.project.manifold.primaries import inlets_for, not_as_wanted, piece_of, stubs
from zarvik.project.routing.bodies import CLEARANCE, OWN_GAP, WELDED, grown, obstacle_bodies
from zarvik.project.routing.routes import narrow_words
from zarvik.project.units.rendering import figure
from zarvik.project.units.units import Quantity

BETWEEN = 0.006  # m between two primaries: a torch comes from outside, and they grow alike; common practice, no source
MEETING = 0.06  # m before a collector in which primaries come together
TOUCHING = -0.0005  # m between them there: legs of a collector lie side by side
STEEPEST = math.radians(120.5)  # more is two bends: nobody wants a half turn; common practice, no source
FLAT = math.radians(8.0)  # less is not worth a weld
STUB = 0.02  # m of straight behind a port, for the weld
SLIP = 0.03  # m of straight before a collector that is slipped on
ENOUGH_BENDS = 4  # more is a way through a wall
TOO_HOT = "No way keeps the heat away from all that stands there: shields are wanted, see the checks"
ENVELOPE = ("within_out", "within_down", "within_up")
NO_LIMIT = Quantity(0.0, "mm", "length")
SPARE, SPARE_TURN = 0.001, math.radians(2.0)  # m and rad that a whole step may take
ROUNDS = 3
PATIENCE = 3  # rounds after which there is no way
TRIED_FOR_BLOCKS = 4  # seeds


@dataclass(frozen=True, eq=False)
class LaidPrimaries:
    """A `project` with primaries of these `lengths` m and so many `bends` (a count); `short`: what is said beside it, of blocks or where
    they are not as long as wanted; `keeps_heat`: do they keep the heat gaps that were asked for?"""

    project: Project
    lengths: tuple[float, ...]
    bends: int
    short: str = ""
    keeps_heat: bool = True

    @property
    def spread(self) -> float:
        """Longest over shortest, less one."""
        return max(self.lengths) / min(self.lengths) - 1.0 if self.lengths else 0.0

    @property
    def words(self) -> str:
        """What they are, in the units of their document."""
        units = self.project.shown_units
        shortest, longest = figure(min(self.lengths), "length", units), figure(max(self.lengths), "length", units)
        words = tr_format("{0} primaries, {1} to {2}, {3} bends", len(self.lengths), shortest, longest, self.bends)
        return words + (". " + self.short if self.short else "")


@dataclass(frozen=True, eq=False)
class _Bank:
    """What the primaries of a bank are laid through: its cylinders (`own`), the `bay`, frames of ports and inlets (`starts`, `goals`), and
    how much straight tube is added `before` and `behind`, m."""

    own: tuple[int, ...]
    bay: Bay
    starts: tuple[Frame, ...]
    goals: tuple[Frame, ...]
    before: float
    behind: float


def _bank(project: Project, space: Space, found: Layout, number: int, heat: Mapping[str, float], length: float) -> _Bank:
    """What the primaries of a bank are laid through, all of a `length` m (0: as short as can be)."""
    head, making = space.head, project.layout.fabrication
    own = [c for c in range(1, head.cylinders + 1) if len(found.inlets) == 1 or head.bank_of(c) == number]
    diameter = primary_bore(project) + 2.0 * making.wall.si
    growth = Growth(np.zeros(3), head_middle(found), space.grows[0])
    bodies = obstacle_bodies(obstacles_of(project), heat, roll_of(space), growth)
    for line in found.lines:
        if not line.key.startswith(PRIMARY):
            bodies += [grown(body, 0.0, mounted=line.key.startswith(BEHIND)) for body in line_bodies(line, OWN_GAP - CLEARANCE)]
    if not space.blown:
        bodies += [grown(body, OWN_GAP - CLEARANCE, mounted=True) for turbo in found.turbos for body in turbo_bodies(turbo)]
    bodies += [grown(body, OWN_GAP - CLEARANCE, mounted=True) for body in still_bodies(space, found)]
    bodies += walls(space, found, own, CLEARANCE)
    decided = None
    if space.scrolls == 2:
        # Which cylinders share a scroll is decided by the firing order
        chosen = inlets_for(project)
        decided = tuple(chosen[c] - 1 for c in own) if all(c in chosen for c in own) else None
    kit = kit_of(project)
    before = 0.0 if kit else STUB - WELDED
    behind = SLIP - WELDED if space.slip else 0.0
    starts = tuple(found.ports[c - 1].moved(before) for c in own)
    goals = tuple(inlet.moved(-behind) for inlet in found.inlets[number])
    bay = Bay(
        ports=tuple(End(frame.origin, frame.along) for frame in starts),
        inlets=tuple(End(frame.origin, frame.along) for frame in goals),
        bodies=tuple(bodies),
        diameter=diameter,
        radii=kit.radii if kit else radii_for(project),
        straight=WELDED,
        clearance=CLEARANCE,
        gap=BETWEEN,
        tolerance=space.spread,
        bare=1.3 * (0.5 * diameter + CLEARANCE) + 0.03,
        angles=(FLAT, STEEPEST),
        length=max(length - before - behind, 0.0),
        near_inlets=MEETING,
        gap_at_inlets=TOUCHING,
        inlet_of=decided,
        most_bends=int(making.most_bends.si),
    )
    return _Bank(tuple(own), bay, starts, goals, before, behind)


def _roomy(bay: Bay) -> Bay:
    """A bay that asks for a little more, so that whole steps have room."""
    return dataclasses.replace(
        bay,
        straight=bay.straight + SPARE,
        clearance=bay.clearance + 2.0 * SPARE,
        gap=bay.gap + 2.0 * SPARE,
        gap_at_inlets=bay.gap_at_inlets,
        tolerance=0.7 * bay.tolerance,
        angles=(bay.angles[0] + SPARE_TURN, bay.angles[1] - SPARE_TURN),
    )


def _ways(project: Project, bank: _Bank, seed: int, patience: int) -> Iterator[list[PiecedTube]]:
    """The tubes of a bank as pieces in steps, each time shorter; or once, of blocks near to what several seeds found."""
    size = primary_bore(project), project.layout.fabrication.wall.si
    steps = dataclasses.replace(fabrication_steps(project), least=WELDED)
    if not steps.blocks:
        none = True
        for bay, rounds in ((_roomy(bank.bay), 1), (bank.bay, patience)):
            for one in Router(bay, seed, rounds).answers(ROUNDS):
                yield in_steps(bank.bay, bank.starts, bank.goals, one, steps, size)
                none = False
            if not none:
                return
        return
    answers: list[Routed] = []
    for other in range(seed, seed + TRIED_FOR_BLOCKS):
        answers += Router(bank.bay, other, patience).answers(ROUNDS)
        made = of_blocks(bank.bay, bank.starts, bank.goals, answers, steps, size) if answers else None
        if made is not None:
            yield made
            return


def primary_answers(
    project: Project, heat: Mapping[str, float] | None = None, *, seed: int = 1, patience: int = PATIENCE, progress: Progress = unwatched
) -> Iterator[LaidPrimaries]:
    """Documents with primaries from every port to its collector, whatever was there, each shorter than the one before; none where no way
    is found in so many rounds (`patience`). Those of a second bank are as long as those of the first. Raises Fault where there is no
    collector for them."""
    space, found = space_of(project), layout(project)
    length = project.layout.fabrication.primary_length.si
    done: list[tuple[_Bank, list[PiecedTube]]] = []
    for number in range(len(found.inlets)):
        bank = _bank(project, space, found, number, heat or {}, length)
        best: list[PiecedTube] | None = None
        for count, best in enumerate(_ways(project, bank, seed, patience), 1):
            progress((number + 1.0 - 0.85**count) / len(found.inlets))
            if number + 1 == len(found.inlets):
                yield _taken(project, [*done, (bank, best)])
        if best is None:
            return
        done.append((bank, best))
        length = length or sum(one.run.length for one in best) / len(best) + bank.before + bank.behind


def _taken(project: Project, done: list[tuple[_Bank, list[PiecedTube]]]) -> LaidPrimaries:
    """The document with the primaries of all banks."""
    bore = primary_bore(project)
    material = next((p.material for p in project.manifold if hasattr(p, "material")), "stainless")
    made, lengths, bends = [], [], 0
    for bank, pieced in done:
        for cylinder, one in zip(bank.own, pieced, strict=True):
            segments = longer(one.run.segments, bank.before, bank.behind)
            pieces = tuple(piece_of(s, f"c{cylinder}-{s.id}", bore, material) for s in segments)
            made.append(Primary(id=f"c{cylinder}", cylinder=_count(cylinder), inlet=_count(one.inlet + 1), pieces=pieces))
            lengths.append(one.run.length + bank.before + bank.behind)
            bends += sum(s.bends for s in segments)
    made.sort(key=lambda one: one.cylinder.si)
    changed = completed(project.model_copy(update={PRIMARIES: tuple(made)}))
    return LaidPrimaries(changed, tuple(lengths), bends, kit_words(changed))


def can_be_laid(project: Project) -> bool:
    """Has the manifold a collector that primaries of pieces go to?"""
    return any(getattr(piece, "form", "") in ("merge", "sheet") for piece in project.manifold)


def laid_primaries(
    project: Project, heat: Mapping[str, float] | None = None, *, seed: int = 1, progress: Progress = unwatched
) -> LaidPrimaries:
    """The best of `primary_answers`, straight stubs for a log; where none is as long as wanted, or far from what minds heat, the shortest,
    with words that say so. Raises Fault where there is no collector for them, and where there is no way: why, and what would give one."""
    space = space_of(project)
    if space.collector is None:
        raise Fault("There is no collector for the primaries: add one to the manifold")
    if space.collector.form == CAST:
        raise Fault("A cast manifold is one piece. Choose a merge collector, a sheet collector or a log")
    if space.collector.form == "log":
        count = len(layout(project).ports)
        return LaidPrimaries(stubs(project), (space.log,) * count, 0)
    best = _last(project, heat, seed, progress) or _of_any_length(project, heat, seed, progress)
    if best is not None:
        return best
    if heat:
        found = laid_primaries(project, {}, seed=seed, progress=progress)
        return dataclasses.replace(found, short=". ".join(words for words in (tr(TOO_HOT), found.short) if words), keeps_heat=False)
    _raise_what_binds(project, seed, progress)
    raise Fault(_why(project, heat))


def last_of(answers: Iterable[LaidPrimaries]) -> LaidPrimaries | None:
    """The best of some `answers`, each better than the one before; None where there is none."""
    found = deque(answers, maxlen=1)
    return found[0] if found else None


def _last(project: Project, heat: Mapping[str, float] | None, seed: int, progress: Progress) -> LaidPrimaries | None:
    return last_of(primary_answers(project, heat, seed=seed, progress=progress))


def _of_any_length(project: Project, heat: Mapping[str, float] | None, seed: int, progress: Progress) -> LaidPrimaries | None:
    """Primaries that are not as long as wanted, with words that say so; None where that is not what binds."""
    place = "layout.fabrication.primary_length"
    wanted = get(project, place)
    other = _last(with_value(project, place, NO_LIMIT), heat, seed, progress) if wanted.si > 0.0 else None
    if other is None:
        return None
    changed = with_value(other.project, place, wanted)
    return dataclasses.replace(other, project=changed, short=not_as_wanted(changed, other.lengths))


def _raise_what_binds(project: Project, seed: int, progress: Progress) -> None:
    """Raises Fault with the limit without which there is a way, and what that is like; nothing where no limit alone binds."""
    making, units = project.layout.fabrication, project.shown_units
    project = with_value(project, "layout.fabrication.primary_length", NO_LIMIT)
    limits: list[tuple[str, Quantity | str, str]] = [
        (name, NO_LIMIT, "No way with “{0}” {1}: without that limit they reach {2}") for name in ENVELOPE if getattr(making, name).si > 0.0
    ]
    if making.most_bends.si < ENOUGH_BENDS:
        limits.append(("most_bends", _count(ENOUGH_BENDS), "No way with so few bends: with up to {1} they are {2} long"))
    if making.blocks != "free":
        limits.append(("blocks", "free", "No way in whole blocks: of tube cut to any length they are {2} long"))
    for name, value, template in limits:
        place = f"layout.fabrication.{name}"
        other = _last(with_value(project, place, value), {}, seed, progress)
        if other is None:
            continue
        got = max(other.lengths)
        if name in ENVELOPE:
            got = reach_of(space_of(other.project), layout(other.project))[ENVELOPE.index(name)]
        shown = value if name == "most_bends" else getattr(making, name)
        raise Fault(template, tr(getattr(meta(project, place), "title", name)), shown, figure(got, "length", units))


def _why(project: Project, heat: Mapping[str, float] | None) -> str:
    """Why there is no way, in words: the narrowest place of the first bank that has one."""
    space, found = space_of(project), layout(project)
    words = ""
    for number in range(len(found.inlets)):
        bay = _bank(project, space, found, number, heat or {}, 0.0).bay
        words = narrow_words(project, bay)
        if tightest(bay) is not None:
            break
    return words


def _count(number: int) -> Quantity:
    return Quantity(float(number), "", "count")

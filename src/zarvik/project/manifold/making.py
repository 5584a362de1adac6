"""How primaries are made: steps, bends that can be had, and the kit of modelling blocks with what of it each cylinder takes."""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.common.constants import INCH
from zarvik.core.layout.equalise import FreeVariables, Steps
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import primary_bore, si
from zarvik.project.units.rendering import figure

# Weld elbows, ASME B16.9: long ones have a centreline radius of one and a half nominal sizes, short ones of one.
NOMINAL = (12.7, 19.05, 25.4, 31.75, 38.1, 50.8, 63.5, 76.2, 88.9, 101.6)
ONE_TUBE = 0.002  # m that blocks and bends may differ from a tube and still be for it
ENDLESS = 999  # blocks of a kit that has as many as are wanted
CUT = 1e-4  # m less than a whole block that still is one


@dataclass(frozen=True)
class Kit:
    """Modelling blocks: straight ones of `lengths` m, the shortest first, curved ones as `arcs` (centreline radius m, turn rad); how many
    there are, `straights` (of each length) and `curved` (of each radius), 0 for as many as are wanted."""

    lengths: tuple[float, ...]
    arcs: tuple[tuple[float, float], ...]
    straights: tuple[int, ...]
    curved: tuple[int, ...]

    @property
    def block(self) -> float:
        """The step of straights, m: whole shortest blocks, of which longer ones replace several."""
        return self.lengths[0]

    def made_of(self, length: float, left: Sequence[int]) -> tuple[int, ...]:
        """How many blocks of each length a straight `length` m takes, the fewest that do: of those that are `left` (of each; 0 or more),
        or of as many as are wanted where these do not do. What is no whole step is cut from the last one."""
        steps = math.ceil((length - CUT) / self.block)
        return self._fewest(steps, left) or self._fewest(steps, (steps,) * len(self.lengths)) or (0,) * len(self.lengths)

    def _fewest(self, steps: int, left: Sequence[int]) -> tuple[int, ...] | None:
        """The fewest blocks that make so many `steps`, counted over all ways of the longer ones."""
        ways = []
        most = [range(min(there, int(steps * self.block / length + 0.5)) + 1) for length, there in zip(self.lengths, left, strict=True)]
        for longer in itertools.product(*most[1:]):
            rest = steps * self.block - sum(n * length for n, length in zip(longer, self.lengths[1:], strict=True))
            short = round(rest / self.block)
            if short in most[0] and abs(rest - short * self.block) < CUT:
                ways.append((short, *longer))
        return min(ways, key=sum, default=None)

    @property
    def radii(self) -> tuple[float, ...]:
        """Centreline radii of its curved blocks, m."""
        return tuple(radius for radius, _ in self.arcs)


def kit_of(project: Project) -> Kit | None:
    """The kit that primaries are built of: the blocks in stock, else blocks of an inch on the radii of bends that can be had; None where
    tube is cut to any length."""
    if project.layout.fabrication.blocks != "inch":
        return None
    tube = _tube(project)
    own = [s for s in project.stock if abs(s.tube.si - tube) < ONE_TUBE]
    there = {round(s.length.si, 5): int(s.count.si) for s in own if s.kind == "block" and s.length.si > CUT}
    lengths = tuple(sorted(there)) or (INCH,)
    block = lengths[0]
    curved = sorted((s for s in own if s.kind == "arc" and s.radius.si > 0.0 and s.angle.si > 0.0), key=lambda s: s.radius.si)
    if curved:
        arcs = tuple((round(s.radius.si, 5), s.angle.si) for s in curved)
    else:
        arcs = tuple((radius, block / radius) for radius in radii_for(project))
    counts = tuple(int(s.count.si) for s in curved) or (0,) * len(arcs)
    return Kit(lengths, arcs, tuple(there.get(length, 0) for length in lengths), counts)


def _tube(project: Project) -> float:
    """Outside diameter of the primaries, m."""
    return primary_bore(project) + 2.0 * project.layout.fabrication.wall.si


def fabrication_steps(project: Project) -> Steps:
    """The steps in which pieces are made."""
    making, kit = project.layout.fabrication, kit_of(project)
    return Steps(
        length=making.length_step.si,
        angle=making.angle_step.si,
        roll=making.roll_step.si,
        blocks=kit.block if kit else 0.0,
        arcs=kit.arcs if kit else (),
    )


def allowed_of(project: Project) -> FreeVariables:
    """What may be changed to make primaries equal."""
    making = project.layout.fabrication
    return FreeVariables(making.lengths == "yes", making.angles == "yes", making.rolls == "yes")


def radii_for(project: Project) -> tuple[float, ...]:
    """Centre-line radii in m of bends for the primaries: of the stock with that tube, else of long weld elbows."""
    tube = _tube(project)
    stock = {round(s.radius.si, 5) for s in project.stock if s.kind == "bend" and abs(s.tube.si - tube) < ONE_TUBE and s.radius.si > 0.0}
    if stock:
        return tuple(sorted(stock))
    nominal = max((n for n in NOMINAL if n <= 1e3 * tube * 0.9), default=NOMINAL[0])
    return (round(1.5 * nominal / 1e3, 4),)


@dataclass(frozen=True)
class BlocksUsed:
    """Blocks of a `cylinder`'s primary: `straights` of each length of the kit, and `curved` ones of each radius (counts). The last
    straight and the last bend are cut from whole ones."""

    cylinder: int
    straights: tuple[int, ...]
    curved: tuple[int, ...]


def blocks_used(project: Project) -> tuple[BlocksUsed, ...]:
    """What each primary takes of the kit; nothing where tube is cut to any length, or none is made of pieces."""
    kit = kit_of(project)
    if kit is None:
        return ()
    found = []
    for primary in project.primaries:
        straights, curved = np.zeros(len(kit.lengths), int), Counter[int]()
        there = np.array([count or ENDLESS for count in kit.straights])
        for piece in primary.pieces:
            if piece.kind == "straight":
                straights += kit.made_of(si(piece, "length"), [int(n) for n in np.maximum(there - straights, 0)])
            elif piece.kind == "bend":
                number = min(range(len(kit.arcs)), key=lambda n: abs(kit.arcs[n][0] - si(piece, "radius")))
                curved[number] += math.ceil(si(piece, "angle") / kit.arcs[number][1] - CUT / kit.block)
        counts = tuple(int(n) for n in straights), tuple(curved[n] for n in range(len(kit.arcs)))
        found.append(BlocksUsed(int(primary.cylinder.si), *counts))
    return tuple(found)


def _said(project: Project, kit: Kit, straights: tuple[int, ...], curved: tuple[int, ...]) -> str:
    """So many blocks in words."""
    units = project.shown_units
    if len(kit.lengths) == 1:
        words = [tr_format("{0} straight", straights[0])]
    else:
        lengths = zip(straights, kit.lengths, strict=True)
        words = [tr_format("{0} straight of {1}", count, figure(length, "length", units)) for count, length in lengths if count]
    for count, radius in zip(curved, kit.radii, strict=True):
        if count:
            words.append(tr_format("{0} of R {1}", count, figure(radius, "length", units)))
    return ", ".join(words)


def block_lines(project: Project) -> tuple[str, ...]:
    """What each cylinder takes of the kit and all of them together, in words and the units of the document, and what the kit lacks."""
    kit = kit_of(project)
    if kit is None:
        return ()
    each = (tr_format("Cylinder {0}: {1}", one.cylinder, _said(project, kit, one.straights, one.curved)) for one in blocks_used(project))
    return (*each, *_together(project, kit))


def _together(project: Project, kit: Kit) -> Iterator[str]:
    """What all cylinders take of a kit, and what it lacks; nothing where there are none."""
    used = blocks_used(project)
    if used:
        straights = tuple(map(sum, zip(*(one.straights for one in used), strict=True)))
        curved = tuple(map(sum, zip(*(one.curved for one in used), strict=True)))
        yield tr_format("Together: {0}", _said(project, kit, straights, curved))
        yield from _lacking(project, kit, straights, curved)


def _lacking(project: Project, kit: Kit, straights: tuple[int, ...], curved: tuple[int, ...]) -> Iterator[str]:
    for length, there, wanted in zip(kit.lengths, kit.straights, straights, strict=True):
        if 0 < there < wanted and len(kit.lengths) == 1:
            yield tr_format("The kit has {0} straight blocks: build one primary after the other", there)
        elif 0 < there < wanted:
            long = figure(length, "length", project.shown_units)
            yield tr_format("The kit has {0} straight blocks of {1}: build one primary after the other", there, long)
    for number, (there, wanted) in enumerate(zip(kit.curved, curved, strict=True)):
        if 0 < there < wanted:
            radius = figure(kit.arcs[number][0], "length", project.shown_units)
            yield tr_format("The kit has {0} blocks of R {1}: build one primary after the other", there, radius)


def kit_words(project: Project) -> str:
    """The blocks of all cylinders in a sentence; empty without blocks."""
    kit = kit_of(project)
    lines = list(_together(project, kit)) if kit is not None else []
    return ". ".join([tr("Blocks"), *lines]) if lines else ""

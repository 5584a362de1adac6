"""Primaries laid through the engine bay: equal in length, two to four bends each, clear of what stands there and of each other."""

from __future__ import annotations

import math
from collections.abc import Mapping

from zarvik.core.bay.build_bodies import cooler_bodies, engine_bodies, line_bodies, turbo_bodies
from zarvik.core.bay.clearance import roll_of
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.layout.placement import BEHIND, CAST, PRIMARY, Layout, Space
from zarvik.core.routing.bay import Bay, End
from zarvik.core.routing.search import Routed, Router
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.document.document import Project
from zarvik.project.document.parts.layout import Primary
from zarvik.project.document.places import PRIMARIES
from zarvik.project.language.language import tr_format
from zarvik.project.layout.layout import layout, primary_bore, space_of
from zarvik.project.manifold.primaries import completed, inlets_for, piece_of, radii_for
from zarvik.project.routing.bodies import CLEARANCE, OWN_GAP, WELDED, grown, obstacle_bodies, segments_of
from zarvik.project.routing.routes import narrow_words
from zarvik.project.units.rendering import figure
from zarvik.project.units.units import Quantity

BETWEEN = 0.006  # m between two primaries: a torch comes from outside, and they grow by some tenths; common practice, no source
MEETING = 0.06  # m before a collector in which primaries come together
TOUCHING = -0.0005  # m between them there: legs of a collector lie side by side
STEEPEST = math.radians(120.0)  # more is two bends: nobody wants a half turn; common practice, no source
ROUNDS = 3


def _bank(project: Project, space: Space, found: Layout, bank: int, heat: Mapping[str, float], length: float) -> tuple[Bay, list[int]]:
    """What the primaries of a bank are laid through, all of a `length` m (0: as short as can be), and the cylinders of its ports."""
    head = space.head
    own = [c for c in range(1, head.cylinders + 1) if len(found.inlets) == 1 or head.bank_of(c) == bank]
    diameter = primary_bore(project) + 2.0 * project.layout.fabrication.wall.si
    bodies = obstacle_bodies(obstacles_of(project), heat, roll_of(space))
    for line in found.lines:
        if not line.key.startswith(PRIMARY):
            bodies += [grown(body, 0.0, mounted=line.key.startswith(BEHIND)) for body in line_bodies(line, OWN_GAP - CLEARANCE)]
    if not space.blown:
        bodies += [grown(body, OWN_GAP - CLEARANCE, mounted=True) for turbo in found.turbos for body in turbo_bodies(turbo)]
    bodies += [grown(body, OWN_GAP - CLEARANCE, mounted=True) for body in (*engine_bodies(space, found), *cooler_bodies(space, found))]
    decided = None
    if space.scrolls == 2:
        # Which cylinders share a scroll is decided by the firing order
        chosen = inlets_for(project)
        decided = tuple(chosen[c] - 1 for c in own) if all(c in chosen for c in own) else None
    bay = Bay(
        ports=tuple(End(found.ports[c - 1].origin, found.ports[c - 1].along) for c in own),
        inlets=tuple(End(inlet.origin, inlet.along) for inlet in found.inlets[bank]),
        bodies=tuple(bodies),
        diameter=diameter,
        radii=radii_for(project),
        straight=WELDED,
        clearance=CLEARANCE,
        gap=BETWEEN,
        tolerance=space.spread,
        bare=1.3 * (0.5 * diameter + CLEARANCE) + 0.03,
        angles=(math.radians(8.0), STEEPEST),
        length=length,
        near_inlets=MEETING,
        gap_at_inlets=TOUCHING,
        inlet_of=decided,
    )
    return bay, own


def routed_primaries(
    project: Project, heat: Mapping[str, float] | None = None, *, seed: int = 1, progress: Progress = unwatched
) -> tuple[Project | None, str]:
    """The document with primaries laid from every port to its collector, whatever was there, and what they are in words; None and why where
    no way was found. Those of a second bank are as long as those of the first. Raises Fault where there is no collector for them."""
    space = space_of(project)
    if space.collector is None or space.collector.form in (CAST, "log"):
        raise Fault("Primaries are routed to a merge or sheet collector: there is none")
    found = layout(project)
    bore, wall = primary_bore(project), project.layout.fabrication.wall.si
    material = next((p.material for p in project.manifold if hasattr(p, "material")), "stainless")
    length = project.layout.fabrication.primary_length.si
    made: list[Primary] = []
    lengths: list[float] = []
    for bank in range(len(found.inlets)):
        bay, own = _bank(project, space, found, bank, heat or {}, length)
        answers: list[Routed] = []
        for one in Router(bay, seed).answers(ROUNDS):
            answers.append(one)
            progress((bank + 1.0 - 0.85 ** len(answers)) / len(found.inlets))
        if not answers:
            return None, narrow_words(project, bay)
        best = answers[-1]
        lengths += best.inspection.lengths
        length = length or sum(best.inspection.lengths) / len(own)
        for tube in sorted(best.tubes, key=lambda tube: tube.port):
            cylinder = own[tube.port]
            segments = segments_of(found.ports[cylinder - 1], found.inlets[bank][tube.inlet].origin, tube, bore, wall)
            pieces = tuple(piece_of(s, f"c{cylinder}-{s.id}", bore, material) for s in segments)
            made.append(Primary(id=f"c{cylinder}", cylinder=_count(cylinder), inlet=_count(tube.inlet + 1), pieces=pieces))
    made.sort(key=lambda one: one.cylinder.si)
    units = project.shown_units
    bends = sum(piece.kind == "bend" for one in made for piece in one.pieces)
    shortest, longest = figure(min(lengths), "length", units), figure(max(lengths), "length", units)
    words = tr_format("{0} primaries, {1} to {2}, {3} bends", len(made), shortest, longest, bends)
    return completed(project.model_copy(update={PRIMARIES: tuple(made)})), words


def _count(number: int) -> Quantity:
    return Quantity(float(number), "", "count")

"""What the saw and the welder get: each run as pieces in space, marks, welds in their order, and stock to cut from."""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from zarvik.core.checks.layout import weld_positions
from zarvik.core.common.constants import INCH
from zarvik.core.common.sentences import Fault, Sentence, message
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.fabrication.nesting import Nested, Stock, nest
from zarvik.core.fabrication.templates import PieCuts, pie_cuts
from zarvik.core.layout import placement as core
from zarvik.core.layout.clash import hidden, trace
from zarvik.core.layout.frame import Frame, start
from zarvik.core.layout.run import Placed, Row, Segment, mass, place_pieces, table_of, volume
from zarvik.core.materials.table import values
from zarvik.core.stock.sizes import WALL
from zarvik.project.assembly.resources import rates_of
from zarvik.project.document.document import Project
from zarvik.project.document.naming import numbered, piece_title
from zarvik.project.document.parts.layout import Stock as StockLine
from zarvik.project.document.parts.piece import Piece
from zarvik.project.document.places import PRIMARIES, RUN_TITLES, get, run_title
from zarvik.project.language.language import reason, tr, tr_format
from zarvik.project.layout.layout import HOSES, layout, segments_of, si
from zarvik.project.units.rendering import ruled

DENSITY = values("density")  # kg/m3
# Straight tube as it is sold, and bends; common practice, no source
LENGTHS = (1.0, 2.0)
TURNS = tuple(math.radians(a) for a in (45.0, 90.0, 180.0))
HOSE = "hose"
STRAIGHTS, BENDS = ("straight",), ("bend", "mitre", "crush")
METAL = (*STRAIGHTS, *BENDS, "reducer")
WHOLE = 0.006  # of its length that a bend may differ from one that is sold and still be that one
LIKE_WALL = 0.00025  # m that its wall may differ: gauges and metric walls of one size
LIKE = 0.0011  # m that the diameter of stock may differ from a piece's: inch tube and metric tube of one size


class Tube(NamedTuple):
    """A tube as it is bought: `outside` diameter and `wall` m, `material`."""

    outside: float
    wall: float
    material: str


@dataclass(frozen=True, eq=False, kw_only=True)
class Cut:
    """A piece that is made: its `name`, `kind`, outside diameter `tube` m, `length` along its middle, the centreline
    `radius` m and `angle` rad of a bend, and where its scribe line stands: `roll` rad clockwise from that of the bend
    before it, for who looks along the flow; None where there is no bend before it. `legs`: m of straight before and
    behind a bend that come with the bend it is cut from, so that no weld is there; `in_leg`: a straight that is such a
    leg; `pie`: the cuts of a bend that is made of pieces; `key`: of the piece; `first`: rad of the first bend's line clockwise
    from straight up, for who looks along the flow where the run begins; `label`: its name with that of its run; `wall` m and
    `material` of its tube."""

    name: str
    kind: str
    tube: float
    length: float
    radius: float
    angle: float
    roll: float | None
    key: str = ""
    legs: tuple[float, float] = (0.0, 0.0)
    in_leg: bool = False
    pie: PieCuts | None = None
    first: float | None = None
    label: str = ""
    wall: float = 0.0
    material: str = ""

    @property
    def size(self) -> Tube:
        """The tube that it is cut from."""
        return Tube(self.tube, self.wall, self.material)


@dataclass(frozen=True, eq=False, kw_only=True)
class RunCuts:
    """A run: its place (`run`), its `cuts`, its pieces in space (`placed`), its bend table, `welds` (a count) with their
    `weld_length` m, `mass` kg and `volume` m3, and `hours` of work; `title` in words."""

    run: str
    title: str
    cuts: tuple[Cut, ...]
    placed: tuple[Placed, ...]
    table: tuple[Row, ...]
    welds: int
    weld_length: float
    mass: float
    volume: float
    hours: float

    @property
    def end(self) -> Frame:
        """Where the run ends; it begins at the origin and goes along z, x up."""
        return self.placed[-1].last if self.placed else start()


@dataclass(frozen=True, eq=False)
class CutList:
    """Every run; for each `Tube` how its straights are cut from stock (`nested`), and for each tube
    and radius how its bends are cut from bends, along their arc (`bends`); `names` of the pieces in the order in which
    either was nested; what cannot be cut and why (`faults`); the `order` of tacking, where it was asked for."""

    runs: tuple[RunCuts, ...]
    nested: dict[Tube, Nested]
    bends: dict[tuple[Tube, float], Nested]
    names: dict[object, tuple[str, ...]]
    faults: tuple[str, ...] = ()
    order: tuple[Sentence, ...] = ()

    @property
    def hours(self) -> float:
        """Hours of work of all runs."""
        return sum(run.hours for run in self.runs)


def density(piece: Piece) -> float:
    """Density in kg/m3 of what a piece is made of; stainless where it has no material."""
    return DENSITY.get(getattr(piece, "material", ""), DENSITY["stainless"])


def wall_of(project: Project, run: str) -> float:
    """Wall in m of the tube of a run (its place)."""
    return project.layout.fabrication.wall.si if run == "manifold" or run.startswith(PRIMARIES) else WALL


def _told_apart(rows: list[tuple[str, list[Cut]]]) -> list[tuple[str, list[Cut]]]:
    """Pieces of different runs that are called the same have the run with their names: on a bar of stock both lie side by side."""
    counts = Counter(cut.label for _, cuts in rows for cut in cuts)
    return [
        (
            run,
            [
                dataclasses.replace(cut, label=tr_format("{0}, {1}", cut.label, tr(RUN_TITLES[run])))
                if counts[cut.label] > 1 and run in RUN_TITLES
                else cut
                for cut in cuts
            ],
        )
        for run, cuts in rows
    ]


def cut_list(project: Project, runs: Sequence[str]) -> CutList:
    """The cut list of the `runs` (places of runs of the document, or of primaries). What no stock holds is among its
    faults."""
    faults: list[str] = []
    rows = _told_apart([(run, _cuts(project, run, faults)) for run in runs])
    kerf, more = project.workshop.kerf.si, project.workshop.allowance.si
    unsaid = _unsaid(project, rows, faults)
    bends, names = _bend_stock(project, rows, kerf, more, unsaid, faults)
    nested, straight_names = _tube_stock(project, rows, kerf, more, unsaid, faults)
    made = tuple(_run(project, run, cuts) for run, cuts in rows)
    return CutList(made, nested, bends, {**names, **straight_names}, tuple(faults))


def ordered_cut_list(project: Project, runs: Sequence[str]) -> CutList:
    """`cut_list` of the `runs` with the order of tacking: whether a torch gets there takes as long as all the rest."""
    return dataclasses.replace(cut_list(project, runs), order=tacking(project))


def _cuts(project: Project, run: str, faults: list[str]) -> list[Cut]:
    pieces: tuple[Piece, ...] = get(project, run)
    shaped = {s.id: s for s in segments_of(pieces, wall_of(project, run))}
    found: list[Cut] = []
    bent, rolled = False, 0.0
    for piece in pieces:
        s = shaped.get(piece.id)
        if s is None or piece.kind not in METAL:
            continue
        hose = getattr(piece, "material", "") in HOSES
        rolled += s.roll
        pie = None
        if piece.kind == "mitre" and s.radius > 1e-5:
            try:
                pie = pie_cuts(s.outside, s.radius, s.angle, max(round(si(piece, "cuts")), 1))
            except ValueError as error:
                faults.append(f"{piece_title(project, piece)}: {reason(error)}")
        name = numbered(pieces, piece)
        label = piece_title(project, piece)
        if run.startswith(PRIMARIES):
            label = tr_format("{0} of cylinder {1}", name, get(project, run.rpartition(".")[0]).cylinder)
        turn = math.remainder(rolled, 2.0 * math.pi)
        found.append(
            Cut(
                name=name,
                kind=HOSE if hose else piece.kind,
                tube=round(s.outside, 5),
                length=s.length,
                radius=s.radius if s.bends else 0.0,
                angle=s.angle,
                roll=turn if s.bends and bent else None,
                key=piece.id,
                pie=pie,
                first=turn if s.bends and not bent and run not in ("intake", "manifold") else None,
                label=label,
                wall=round(s.wall, 5),
                material=getattr(piece, "material", ""),
            )
        )
        if s.bends:
            bent, rolled = True, 0.0
    return found


def _like(line: StockLine, tube: Tube, unsaid: bool) -> bool:
    """Is a line of stock such a tube? What nobody has said the material of counts where all that is `unsaid` can only be this one."""
    if abs(line.tube.si - tube.outside) > LIKE or (line.wall.si > 0.0 and abs(line.wall.si - tube.wall) > LIKE_WALL):
        return False
    return line.material == tube.material or (not line.material and unsaid)


def tube_words(tube: Tube, units: Mapping[str, str]) -> str:
    """A tube as it is asked for in a shop: outside diameter, wall, material; in the owner's `units`."""
    inch = units.get("length") == "in"
    return tr_format(
        "{0} × {1} {2}",
        f"{tube.outside / INCH:.2f}" if inch else f"{1e3 * tube.outside:.1f}",
        f"{tube.wall / INCH:.2g} in" if inch else f"{1e3 * tube.wall:.2g} mm",
        tr(ROUGHNESS[tube.material][0]) if tube.material in ROUGHNESS else "",
    )


def _sold_length(size: float, project: Project) -> str:
    return f"{size / INCH:.0f} in" if project.shown_units.get("length") == "in" else f"{size:g} m"


def _unsaid(project: Project, rows: Sequence[tuple[str, list[Cut]]], faults: list[str]) -> frozenset[float]:
    """Outside diameters of which every piece is of one metal, so that stock of an unsaid one can be meant; of the others it is told that
    stock without a material is not cut."""
    metals: dict[float, set[str]] = {}
    for _, cuts in rows:
        for cut in cuts:
            if cut.kind != HOSE:
                metals.setdefault(cut.tube, set()).add(cut.material)
    one = frozenset(
        tube for tube, found in metals.items() if len({m for t, f in metals.items() if abs(t - tube) <= 2.0 * LIKE for m in f}) == 1
    )
    mixed = [tube for tube in metals if tube not in one]
    for line in project.stock:
        if line.kind in ("tube", *BENDS, "ring") and not line.material and any(abs(line.tube.si - tube) <= LIKE for tube in mixed):
            faults.append(
                tr_format(
                    "Stock “{0}” has no material, and pieces of this size are of several metals: it is not used", line.note or line.id
                )
            )
    return one


def _bend_stock(
    project: Project, rows: Sequence[tuple[str, list[Cut]]], kerf: float, more: float, unsaid: frozenset[float], faults: list[str]
) -> tuple[dict[tuple[Tube, float], Nested], dict[object, tuple[str, ...]]]:
    """Bends cut from bends along their arc, and straights that are a leg of one."""
    groups: dict[tuple[Tube, float], list[tuple[list[Cut], int]]] = {}
    for _, cuts in rows:
        for i, cut in enumerate(cuts):
            if cut.kind == "bend" and cut.material != "cast":
                groups.setdefault((cut.size, round(cut.radius, 4)), []).append((cuts, i))
    nested: dict[tuple[Tube, float], Nested] = {}
    names: dict[object, tuple[str, ...]] = {}
    for (tube, radius), members in sorted(groups.items()):
        stock, legs = [], {}
        for line in project.stock:
            if (
                line.kind in ("bend", "ring")
                and _like(line, tube, tube.outside in unsaid)
                and abs(line.radius.si - radius) <= 0.02 * radius
            ):
                name = line.note or f"{tr('bend')} {line.angle}"
                count = int(line.count.si)
                stock.append(Stock(name, radius * line.angle.si, count if count else -1, line.price.si))
                legs[name] = line.leg_length.si if line.kind == "bend" else 0.0
        if not any(s.count < 0 for s in stock):
            # What is in the shop comes first: what is bought costs more than nothing.
            rates = rates_of(project)
            each = max(rates["bend"].price + rates["bend_mm"].price * (1e3 * tube.outside - 60.0), 6.0)
            stock += [Stock(f"{tr('bend')} {math.degrees(t):.0f}°", radius * t, -1, each * max(t / (0.5 * math.pi), 0.5)) for t in TURNS]
        arcs = []
        for cuts, i in members:
            # A whole bend that is there is not cut: it needs neither kerf nor allowance.
            size = cuts[i].length
            whole = next((s.length for s in stock if abs(s.length - size) < WHOLE * size), None)
            arcs.append(size + more if whole is None else whole)
        try:
            found = nest(arcs, stock, kerf=kerf)
        except Fault as error:
            faults.append(f"{tube_words(tube, project.shown_units)}, R {ruled(radius, project.shown_units, places=0)}: {reason(error)}")
            continue
        nested[tube, radius] = found
        names[tube, radius] = tuple(cuts[i].label for cuts, i in members)
        for bar in found.bars:
            leg = legs.get(bar.stock.name, 0.0)
            if leg > 0.0:
                _with_legs([members[p] for p in bar.pieces], leg, bar.left < 1e-6 and len(bar.pieces) == 1)
    return nested, names


def _with_legs(members: Sequence[tuple[list[Cut], int]], leg: float, whole: bool) -> None:
    """Two ends of a bend have a leg: they go to the cuts of it that have a straight to save."""
    ends = 2
    wishes: list[tuple[float, list[Cut], int, int]] = []
    for cuts, i in members:
        for side in (-1, 1):
            j = i + side
            if (
                0 <= j < len(cuts)
                and cuts[j].kind == "straight"
                and not cuts[j].in_leg
                and cuts[j].length <= leg + 1e-9
                and cuts[j].size == cuts[i].size
            ):
                wishes.append((cuts[j].length, cuts, i, side))
    taken: set[tuple[int, int]] = set()
    for size, cuts, i, side in sorted(wishes, key=lambda w: -w[0]):
        # A cut end has no leg: of a bend that is cut each piece keeps one at the most.
        if ends == 0 or (not whole and any(t[0] == id(cuts) and t[1] == i for t in taken)) or cuts[i + side].in_leg:
            continue
        before, behind = cuts[i].legs
        cuts[i] = dataclasses.replace(cuts[i], legs=(size, behind) if side < 0 else (before, size))
        cuts[i + side] = dataclasses.replace(cuts[i + side], in_leg=True)
        taken.add((id(cuts), i))
        ends -= 1


def _tube_stock(
    project: Project, rows: Sequence[tuple[str, list[Cut]]], kerf: float, more: float, unsaid: frozenset[float], faults: list[str]
) -> tuple[dict[Tube, Nested], dict[object, tuple[str, ...]]]:
    """Straights, and bends of pieces, cut from tube."""
    lengths: dict[Tube, list[tuple[float, str]]] = {}
    for _, cuts in rows:
        for cut in cuts:
            if cut.kind in STRAIGHTS and not cut.in_leg and cut.material != "cast":
                lengths.setdefault(cut.size, []).append((cut.length, cut.label))
            elif cut.pie is not None:
                # Cut in turn from both sides, pieces leave nothing between them.
                whole = cut.pie.middle * (cut.pie.count - 1) + 2.0 * cut.pie.end
                lengths.setdefault(cut.size, []).append((whole + cut.pie.count * kerf, cut.label))
    nested: dict[Tube, Nested] = {}
    names: dict[object, tuple[str, ...]] = {}
    rates = rates_of(project)
    for tube, pieces in sorted(lengths.items()):
        stock = []
        for line in project.stock:
            if line.kind == "tube" and _like(line, tube, tube.outside in unsaid) and line.length.si > 0.0:
                count = int(line.count.si)
                stock.append(Stock(line.note or f"{tr('tube')} {line.length}", line.length.si, count if count else -1, line.price.si))
        if not any(s.count < 0 for s in stock):
            each = max(rates["tube"].price + rates["tube_mm"].price * (1e3 * tube.outside - 60.0), 6.0)
            stock += [Stock(f"{tr('tube')} {_sold_length(size, project)}", size, -1, each * size) for size in LENGTHS]
        longest = max(s.length for s in stock)
        # What is longer than any stock is welded from two.
        parts = [(part + more, name) for size, name in pieces for part in _parts(size, longest - more)]
        try:
            nested[tube] = nest([p for p, _ in parts], stock, kerf=kerf)
        except Fault as error:
            faults.append(f"{tube_words(tube, project.shown_units)}: {reason(error)}")
            continue
        names[tube] = tuple(name for _, name in parts)
    return nested, names


def _parts(piece: float, longest: float) -> list[float]:
    count = math.ceil(piece / longest - 1e-12)
    return [piece / count] * count


def _seams(cuts: Sequence[Cut], pieces: Sequence[Piece]) -> Iterator[tuple[Cut, Cut]]:
    """Neighbours that are welded: no joint between them, no leg of the same bend."""
    order = {piece.id: n for n, piece in enumerate(pieces)}
    for one, two in itertools.pairwise(cuts):
        between = pieces[order[one.key] + 1 : order[two.key]]
        loose = any(p.kind == "joint" for p in between) or HOSE in (one.kind, two.kind)
        leg = (one.in_leg and two.legs[0] > 0.0) or (two.in_leg and one.legs[1] > 0.0)
        if not loose and not leg:
            yield one, two


def _run(project: Project, run: str, cuts: Sequence[Cut]) -> RunCuts:
    pieces: tuple[Piece, ...] = get(project, run)
    wall = wall_of(project, run)
    order = segments_of(pieces, wall)
    around = [math.pi * two.tube for _, two in _seams(cuts, pieces)]
    welds = len(around) + sum(c.pie.count for c in cuts if c.pie is not None)
    around += [math.pi * c.tube * c.pie.count for c in cuts if c.pie is not None]
    if run.startswith(PRIMARIES) and cuts:
        # At the flange and at the collector.
        welds += 2
        around += [math.pi * cuts[0].tube, math.pi * cuts[-1].tube]
    rates = rates_of(project)
    work = sum(rates["bend" if c.kind in BENDS else "tube"].hours for c in cuts if c.kind != HOSE and not c.in_leg)
    metal = {c.key for c in cuts if c.kind != HOSE}
    weight = sum(mass([s], density(p)) for p in pieces for s in order if s.id == p.id and p.id in metal)
    return RunCuts(
        run=run,
        title=run_title(project, run),
        cuts=tuple(cuts),
        placed=place_pieces(order, start()),
        table=table_of([s for s in order if s.kind != "throttle"]),
        welds=welds,
        weld_length=sum(around),
        mass=weight,
        volume=volume(_held(order)),
        hours=work + welds * rates["weld"].hours,
    )


def _held(order: Sequence[Segment]) -> list[Segment]:
    return [s for s in order if s.kind != "gap"]


def tacking(project: Project) -> tuple[Sentence, ...]:
    """In which order a manifold is tacked and welded: what is hidden once its neighbours stand comes first."""
    found = layout(project)
    lines = found.primaries
    if not lines:
        return ()
    traces = {one.key: trace(one.placed) for one in lines}
    shares: dict[str, float] = {}
    for one in lines:
        others = [traces[o.key] for o in lines if o is not one and o.bank == one.bank]
        shares[one.key] = max(
            (hidden(p.first, 0.5 * p.segment.outside, others, traces[one.key], way) for p, way in weld_positions(one)), default=0.0
        )
    cylinders = {core.PRIMARY + p.id: int(p.cylinder.si) for p in project.primaries}
    rows = [
        message("Bolt the head flange to the fixture, the collector or its flange to the posts"),
        message(
            "Tack each primary piece by piece on the bench by its scribe lines, three tacks per seam. Hang it in and trim its last straight"
        ),
    ]
    hidden_first = sorted(lines, key=lambda one: -shares[one.key])
    names = ", ".join(str(cylinders[one.key]) for one in hidden_first)
    rows.append(message("Tack to flange and collector in this cylinder order, hidden ones first: {order}", order=names))
    shut = [str(cylinders[one.key]) for one in hidden_first if shares[one.key] > 0.25]
    if shut:
        rows.append(
            message(
                "Remove these again and weld their inner seams on the bench, no torch reaches them later: {order}", order=", ".join(shut)
            )
        )
    rows += [
        message("Weld seams opposite each other, not around one pipe: heat bends the flange"),
        message("Flange last, bolted down to something thick. Let it cool there, then face it"),
    ]
    return tuple(rows)

"""From the document to where everything stands: pieces as shapes, ports, turbo, cooler."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Sequence

from zarvik.core.common.identity_cache import IdentityCache, IdentityCacheEach
from zarvik.core.layout import placement as core
from zarvik.core.layout.bodies import BLOCK, HEAD_DEEP, HEAD_LOW, CollectorSizes, Head, TurboSizes, turbo_sizes
from zarvik.core.layout.placement import Layout, Position, firing, lay_out
from zarvik.core.layout.run import FIXED, SHORTER, Segment
from zarvik.core.materials.metals import COLD, METALS
from zarvik.core.stock.sizes import INDUCER_SHARE, WALL, openings
from zarvik.project.document.document import Project
from zarvik.project.document.parts.layout import MEASURED, Placement
from zarvik.project.document.parts.piece import Piece
from zarvik.project.document.places import PRIMARIES, RUNS, get, runs_of
from zarvik.project.language.language import tr
from zarvik.project.units.units import EntryError, Quantity

HOSES = ("silicone", "printed")
CROSSOVER = "crossover"
BENDS = ("bend", "mitre", "crush")
FILTER_WIDE, FILTER_LONG = 1.7, 2.0  # of its connection: a cone filter; common practice, no source, a rough guide
# K that the metal comes to on a hill: what its growth is judged by; common practice, no source, a rough guide
MANIFOLD_HOT, EXHAUST_HOT = 1073.0, 873.0
PORT_SPACING = 1.1  # of the cylinder's bore from port to port where nobody says it; common practice, no source


def si(piece: Piece, name: str) -> float:
    """A quantity of a piece in SI, 0 where it has none of that name."""
    value = getattr(piece, name, None)
    return value.si if isinstance(value, Quantity) else 0.0


WALLED = ("straight", "bend", "mitre", "crush", "reducer")  # pieces that may have a wall of their own


def _turns(piece: Piece) -> str:
    """What may become of the turn of a bend that is there: cut shorter, or nothing of a hose, which is moulded, and of a casting."""
    return FIXED if getattr(piece, "material", "") in (*HOSES, "cast") else SHORTER


_SEGMENTS: IdentityCacheEach[Sequence[Piece], dict[float, tuple[Segment, ...]]] = IdentityCacheEach(200)


def segments_of(pieces: Sequence[Piece], wall: float = WALL) -> tuple[Segment, ...]:
    """The pieces of a run that take room, as the shape knows them, of tube with a `wall` in m where a piece does not say its own. A
    single mitre of no radius turns on the spot; a joint is a gap; what has neither length nor turn is left out, but for the throttle."""
    if not isinstance(pieces, tuple):
        return _segments(pieces, wall)
    # A run that is the same one is shaped once: bands move dozens of entries of other rooms.
    made = _SEGMENTS.of(pieces, lambda _: {})
    if wall not in made:
        if len(made) > 3:
            made.clear()
        made[wall] = _segments(pieces, wall)
    return made[wall]


def _segments(pieces: Sequence[Piece], wall: float) -> tuple[Segment, ...]:
    found = []
    usual = wall
    for piece in pieces:
        wall = (si(piece, "wall") if piece.kind in WALLED else 0.0) or usual
        bore = si(piece, "bore") or si(piece, "bore_in")
        out = si(piece, "bore_out") or bore
        held = getattr(piece, "held", "may") == "held"
        hose = getattr(piece, "material", "") in HOSES
        kind = "hose" if hose else "tube"
        if piece.kind in BENDS:
            radius, angle = max(si(piece, "radius"), 1e-6), si(piece, "angle")
            found.append(
                Segment(
                    id=piece.id,
                    length=radius * angle,
                    bore_in=bore,
                    bore_out=bore,
                    radius=radius,
                    angle=angle,
                    roll=si(piece, "roll"),
                    wall=wall,
                    held=held,
                    kind=kind,
                    turns=_turns(piece),
                )
            )
        elif piece.kind == "joint":
            found.append(Segment(id=piece.id, length=si(piece, "gap"), bore_in=bore, bore_out=bore, wall=wall, held=held, kind="gap"))
        elif piece.kind == "throttle":
            found.append(Segment(id=piece.id, length=0.0, bore_in=bore, bore_out=bore, wall=wall, held=held, kind="throttle"))
        elif piece.kind not in ("primaries", "collector", CROSSOVER) and si(piece, "length") > 0.0:
            body = si(piece, "face") or si(piece, "body")
            found.append(
                Segment(
                    id=piece.id,
                    length=si(piece, "length"),
                    bore_in=body or bore,
                    bore_out=body or out,
                    wall=wall,
                    held=held,
                    kind=kind,
                    turns=_turns(piece),
                )
            )
    return tuple(found)


def _spot(stand: Placement) -> Position:
    return Position((stand.along.si, stand.up.si, stand.out.si), stand.heading.si, stand.pitch.si, stand.placed == MEASURED)


def head_of(project: Project) -> Head:
    """The exhaust side of the heads."""
    head, engine = project.layout.head, project.engine
    round_ = head.port == "round"
    middle = -0.5 * (head.bank_distance.si if head.banks == "vee" else HEAD_DEEP)
    return Head(
        cylinders=int(engine.cylinders.si),
        shape=head.port,
        port_width=head.port_width.si,
        port_height=head.port_width.si if round_ else head.port_height.si,
        spacing=head.spacing.si or round(PORT_SPACING * engine.bore.si, 4),
        port_down_angle=head.port_down_angle.si,
        flange=head.flange.si,
        banks=2 if head.banks == "vee" else 1,
        bank_distance=head.bank_distance.si,
        stagger=head.stagger.si,
        odd=head.numbered == "odd",
        roll=head.roll.si,
        crank=(-head.crank_below.si or -HEAD_LOW - BLOCK, -head.crank_behind.si or middle),
    )


def sizes_of(project: Project) -> TurboSizes:
    """The turbo's sizes: measured, else about what its wheels say."""
    chosen, stand = project.chosen, project.layout.turbo
    compressor, turbine = 0.06, 0.055
    if chosen is not None:
        turbine = chosen.turbine.wheel.si
        if chosen.wheels is not None:
            compressor = chosen.wheels.exducer.si
        else:
            compressor = openings(float(chosen.lines[-1].points[-1][0]))[0] / INDUCER_SHARE
    found = turbo_sizes(compressor, turbine)
    said = {"to_shaft": stand.to_shaft.si, "apart": stand.between.si, "outlet": stand.outlet.si}
    return dataclasses.replace(found, left=stand.hand == "left", **{k: v for k, v in said.items() if v > 0.0})


def hot_strain(pieces: Sequence[Piece], temperature: float) -> float:
    """By how much of its length a run of `pieces` grows from cold to a `temperature` K, of the metal that most of its pieces are of; 0
    without metal."""
    named = [material for piece in pieces if (material := getattr(piece, "material", "")) in METALS]
    if not named:
        return 0.0
    return METALS[max(set(named), key=named.count)].expansion * (temperature - COLD)


def _filter_size(project: Project) -> tuple[float, float]:
    """Diameter and length of the air filter in m: measured, else by the tube that it is clamped to."""
    stand, bore = project.layout.filter, max((si(p, "bore") or si(p, "bore_in") for p in project.intake[:1]), default=0.0)
    return stand.diameter.si or FILTER_WIDE * bore, stand.length.si or FILTER_LONG * bore


def _collector(project: Project, count: int, tube: float) -> CollectorSizes | None:
    piece = next((p for p in project.manifold if p.kind == "collector"), None)
    if piece is None:
        return None
    return CollectorSizes(
        form=getattr(piece, "form", "merge"),
        count=count,
        tube=tube,
        angle=si(piece, "angle"),
        length=si(piece, "length"),
        turn=project.layout.fabrication.turn.si,
    )


def primary_bore(project: Project) -> float:
    """Bore of the primaries in m."""
    for primary in project.primaries if has_pieced_primaries(project) else ():
        for piece in primary.pieces:
            return si(piece, "bore") or si(piece, "bore_in")
    found = next((p for p in project.manifold if p.kind == "primaries"), None)
    return si(found, "bore") if found is not None else 0.0409


def turbos_of(project: Project) -> int:
    """Turbos with a manifold of their own: two where the document says so, else one."""
    own = project.exhaust_paths == "own" and not project.blower.fitted
    return min(int(project.turbos_fitted.si), 2) if own else 1


def has_crossover(project: Project) -> bool:
    """Does a crossover bring the gas of a second bank to the turbo?"""
    return any(p.kind == CROSSOVER for p in project.manifold)


def shares(project: Project) -> int:
    """How many times what stands before the turbine (with a crossover: before that) is there, though it is entered once."""
    if has_crossover(project):
        return 2
    count = int(project.turbos_fitted.si)
    return count if project.exhaust_paths == "own" and not project.blower.fitted else 1


_SPACES: IdentityCache[core.Space] = IdentityCache()


def space_of(project: Project) -> core.Space:
    """What a document says of where things stand."""
    parts = (
        project.layout,
        project.primaries,
        project.engine,
        project.intercooler,
        project.turbos,
        project.turbo,
        project.exhaust_paths,
        project.turbos_fitted,
        project.blower,
        *(getattr(project, run) for run in RUNS),
    )
    return _SPACES.of(parts, lambda: _space(project))


def _space(project: Project) -> core.Space:
    s = project.layout
    head = head_of(project)
    turbos = turbos_of(project)
    wall = s.fabrication.wall.si
    said = tuple(int(n) for n in s.head.order.split("-") if n)
    order = said or firing((), head.cylinders)
    behind: list[Piece] = []
    for number, piece in enumerate(project.manifold):
        if piece.kind == "collector":
            behind = list(project.manifold[number + 1 :])
    crossing = next((p for p in project.manifold if p.kind == CROSSOVER), None)
    each = head.cylinders // 2 if (turbos > 1 or crossing is not None) and head.banks > 1 else head.cylinders
    cooler = project.intercooler
    return core.Space(
        head=head,
        order=order,
        primaries=tuple(
            core.Primary(p.id, int(p.cylinder.si), int(p.inlet.si), segments_of(p.pieces, wall))
            for p in project.primaries
            if has_pieced_primaries(project)
        ),
        runs=tuple((run, segments_of(getattr(project, run))) for run in RUNS if run != "manifold"),
        behind=segments_of(behind, wall),
        collector=_collector(project, each, primary_bore(project) + 2.0 * wall),
        turbo=_spot(s.turbo),
        sizes=sizes_of(project),
        shaft=s.turbo.shaft.si,
        compressor=s.turbo.cover.si,
        drain=s.turbo.drain.si,
        turbos=turbos,
        scrolls=int(project.chosen.turbine.scrolls.si) if project.chosen is not None else 1,
        cooler=(cooler.width.si, cooler.height.si, cooler.thickness.si) if cooler.fitted else None,
        cooler_in=_spot(s.cooler_in),
        cooler_out=_spot(s.cooler_out),
        throttle=_spot(s.throttle),
        tail=_spot(s.tail),
        filter=_spot(s.filter),
        filter_size=_filter_size(project),
        grows=(hot_strain(project.manifold, MANIFOLD_HOT), hot_strain(project.exhaust, EXHAUST_HOT)),
        slip=s.fabrication.joint == "slip",
        crossing=si(crossing, "length") if crossing is not None else 0.0,
        log=s.fabrication.log.si,
        spread=s.fabrication.spread.si,
        radius=s.fabrication.tightest_bend.si,
        blown=project.blower.fitted,
        envelope=(s.fabrication.within_out.si, s.fabrication.within_down.si, s.fabrication.within_up.si),
    )


def layout(project: Project) -> Layout:
    """Everything of a document in its place."""
    return lay_out(space_of(project))


def has_cast_manifold(project: Project) -> bool:
    """Is the manifold one casting?"""
    return any(getattr(p, "form", "") == core.CAST for p in project.manifold)


def has_pieced_primaries(project: Project) -> bool:
    """Are the primaries made of pieces? Those of a casting are not, whatever pieces there were."""
    return bool(project.primaries) and not has_cast_manifold(project)


def summed(project: Project) -> Project:
    """The document with what its primaries of pieces come to in the one piece that stands for them all: how many, mean
    length and turn, bore. Unchanged where there are none."""
    if not has_pieced_primaries(project):
        return project
    parts = (project.primaries, project.manifold, project.layout, project.turbos_fitted, project.exhaust_paths, project.blower)
    manifold = _SUMS.of(parts, lambda: _summed(project))
    return project if manifold is project.manifold else project.model_copy(update={"manifold": manifold})


_SUMS: IdentityCache[tuple[Piece, ...]] = IdentityCache()


def _summed(project: Project) -> tuple[Piece, ...]:
    piece = next((p for p in project.manifold if p.kind == "primaries"), None)
    lines = [segments_of(p.pieces, project.layout.fabrication.wall.si) for p in project.primaries]
    lines = [run for run in lines if sum(s.length for s in run) > 0.0]
    if piece is None or not lines:
        return project.manifold
    count = max(len(lines) // shares(project), 1)
    long = sum(s.length for run in lines for s in run)
    bore = sum(s.bore_in * s.length for run in lines for s in run) / long
    turns = sum(s.angle for run in lines for s in run) / len(lines)
    values: dict[str, object] = {
        "count": Quantity(float(count), "", "count"),
        "length": Quantity(round(1e3 * long / len(lines), 1), "mm", "length"),
        "bore": Quantity(round(1e3 * bore, 2), "mm", "length"),
        "turns": Quantity(round(min(math.degrees(turns), 540.0), 1), "°", "angle"),
    }
    for name in ("material", "cover"):
        # What most of their length is
        ways: dict[str, float] = {}
        for primary in project.primaries:
            for part in primary.pieces:
                if hasattr(part, name):
                    ways[getattr(part, name)] = ways.get(getattr(part, name), 0.0) + max(
                        si(part, "length"), si(part, "radius") * si(part, "angle")
                    )
        if ways:
            values[name] = max(ways, key=lambda k: ways[k])
    new = piece.model_copy(update={k: v for k, v in values.items() if getattr(piece, k) != v})
    if new == piece:
        return project.manifold
    return tuple(new if p.id == piece.id else p for p in project.manifold)


SUMS, OF_ALL = ("count", "length", "turns"), ("bore", "material", "cover")


def of_all_primaries(project: Project, place: str) -> bool:
    """Is the entry at `place` that of all primaries of pieces together? Raises EntryError where it is their sum, which
    follows from the pieces."""
    run, _, rest = place.partition(".")
    key, _, name = rest.partition(".")
    if run != "manifold" or name not in (*SUMS, *OF_ALL) or not has_pieced_primaries(project):
        return False
    piece = next((p for p in project.manifold if p.id == key), None)
    if piece is None or piece.kind != "primaries":
        return False
    if name in SUMS:
        raise EntryError(tr("This follows from the primary pieces: change or remove those"))
    return True


def spread_over(project: Project, name: str, value: object) -> Project:
    """The document with an entry (bore, material, cover) of all pieces of all primaries."""
    made = []
    for primary in project.primaries:
        pieces = tuple(p.model_copy(update={name: value}) if name in type(p).model_fields else p for p in primary.pieces)
        made.append(primary.model_copy(update={"pieces": pieces}))
    return project.model_copy(update={"primaries": tuple(made)})


def place_of(key: str) -> str:
    """Place of the run that a line of the layout stands for."""
    if key.startswith(core.PRIMARY):
        return f"{PRIMARIES}.{key.removeprefix(core.PRIMARY)}.pieces"
    return key.partition(":")[0]


def all_runs(project: Project) -> tuple[str, ...]:
    """Every run that has pieces: primaries first."""
    own = runs_of(project)[len(RUNS) :] if has_pieced_primaries(project) else ()
    return tuple(run for run in (*own, *RUNS) if get(project, run))

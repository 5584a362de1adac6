"""What the saw and the welder get: each run as pieces in space, its bend table, marks, welds, and stock to cut from."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from zarvik.core.fabrication.nesting import Nested, Stock, nest
from zarvik.core.shape.frame import Frame, start
from zarvik.core.shape.run import Placed, Row, mass, placed, table_of, volume
from zarvik.core.sizes import WALL
from zarvik.project.document import Project
from zarvik.project.naming import called
from zarvik.project.parts.piece import Piece
from zarvik.project.space import segments_of

STEEL = 7900.0  # kg/m3
KERF = 0.002  # m of a chop saw; common practice, no source
# Straight tube as it is sold, and bends with both legs; common practice, no source
LENGTHS = (1.0, 2.0)
TURNS = tuple(math.radians(a) for a in (30.0, 45.0, 60.0, 90.0, 180.0))
HOSE, HOSES = "hose", ("silicone", "printed")
STRAIGHTS, BENDS = ("straight",), ("bend", "mitre", "crush")


@dataclass(frozen=True, eq=False)
class Cut:
    """A piece that is made: its `name`, `kind`, outside diameter `tube` m, `length` along its middle, the centre-line
    `radius` m and `angle` rad of a bend, and where its scribe line stands: `roll` rad clockwise from that of the bend
    before it, for who looks along the flow; None where there is no bend before it."""

    name: str
    kind: str
    tube: float
    length: float
    radius: float
    angle: float
    roll: float | None


@dataclass(frozen=True, eq=False)
class RunCuts:
    """A run: its `cuts`, its pieces in space (`placed`), its bend table, `welds` (a count) with their `weld_length` m,
    `mass` kg and `volume` m3, and where it ends seen from where it begins."""

    run: str
    cuts: tuple[Cut, ...]
    placed: tuple[Placed, ...]
    table: tuple[Row, ...]
    welds: int
    weld_length: float
    mass: float
    volume: float

    @property
    def end(self) -> Frame:
        """Where the run ends; it begins at the origin and goes along z, y up."""
        return self.placed[-1].last if self.placed else start()


@dataclass(frozen=True, eq=False)
class CutList:
    """Every run, and for each `tube` (outside diameter, m) how its straights are cut from stock; `bends`: how many bends
    of a tube, radius (m) and turn (rad) that is sold have to be there."""

    runs: tuple[RunCuts, ...]
    nested: dict[float, Nested]
    bends: dict[tuple[float, float, float], int]


def cut_list(project: Project, runs: Sequence[str]) -> CutList:
    """The cut list of the `runs` (names of runs of the document). Raises Fault for what no stock holds."""
    made = tuple(_run(project, run) for run in runs)
    lengths: dict[float, list[float]] = {}
    bends: dict[tuple[float, float, float], int] = {}
    for run in made:
        for cut in run.cuts:
            if cut.kind in STRAIGHTS:
                lengths.setdefault(cut.tube, []).append(cut.length)
            elif cut.kind == "bend":
                sold = next((t for t in TURNS if t >= cut.angle - 1e-9), TURNS[-1])
                key = (cut.tube, round(cut.radius, 5), sold)
                bends[key] = bends.get(key, 0) + 1
    nested = {}
    for tube, pieces in sorted(lengths.items()):
        longest = max(LENGTHS)
        # What is longer than any stock is welded from two.
        parts = [p for piece in pieces for p in _parts(piece, longest)]
        stock = [Stock(f"{size:g} m", size, price=size) for size in LENGTHS]
        nested[tube] = nest(parts, stock, kerf=KERF)
    return CutList(made, nested, bends)


def _parts(piece: float, longest: float) -> list[float]:
    count = math.ceil(piece / longest - 1e-12)
    return [piece / count] * count


def _run(project: Project, run: str) -> RunCuts:
    pieces: tuple[Piece, ...] = getattr(project, run)
    shaped = {s.id: s for s in segments_of(pieces)}
    cuts: list[Cut] = []
    bent, rolled = False, 0.0
    for piece in pieces:
        s = shaped.get(piece.id)
        if s is None or piece.kind not in (*STRAIGHTS, *BENDS, "reducer"):
            continue
        hose = getattr(piece, "material", "") in HOSES
        rolled += s.roll
        cuts.append(
            Cut(called(project, piece), HOSE if hose else piece.kind, round(max(s.bore_in, s.bore_out) + 2.0 * s.wall, 5), s.length,
                s.radius if s.bends else 0.0, s.angle, math.remainder(rolled, 2.0 * math.pi) if s.bends and bent else None)
        )  # fmt: skip
        if s.bends:
            bent, rolled = True, 0.0
    welded = [p for p in pieces if p.kind in (*STRAIGHTS, *BENDS, "reducer", "joint")]
    # A hose is clamped, not welded.
    loose = {p.id for p in pieces if p.kind == "joint" or getattr(p, "material", "") in HOSES}
    welds, around = 0, 0.0
    for one, two in itertools.pairwise(welded):
        if not loose & {one.id, two.id}:
            welds += 1
            around += math.pi * (shaped[two.id].bore_in + 2.0 * WALL)
    order = [s for p in pieces if (s := shaped.get(p.id)) is not None]
    metal = [s for p in pieces if p.kind in (*STRAIGHTS, *BENDS, "reducer") and p.id not in loose
             and (s := shaped.get(p.id)) is not None]  # fmt: skip
    return RunCuts(
        run, tuple(cuts), placed(order, start()), table_of(order), welds, around, mass(metal, STEEL), volume(order)
    )

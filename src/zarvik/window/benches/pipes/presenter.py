"""What the Pipes bench shows, without a window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from zarvik.core.airpath.point import Point, Stretch
from zarvik.core.airpath.stations import EXHAUST, MANIFOLD
from zarvik.core.answer.answer import Answer
from zarvik.core.checks.velocity import MACH
from zarvik.core.limits.limits import TO_DO
from zarvik.core.whole_build.build import Build
from zarvik.project.document.document import Project
from zarvik.project.document.naming import numbered
from zarvik.project.document.parts.piece import Piece
from zarvik.project.edits.edits import RUN_TITLES, RUNS
from zarvik.project.language.language import tr
from zarvik.project.units.rendering import render
from zarvik.project.units.units import UNKNOWN

COOLER = "cooler"


@dataclass(frozen=True)
class Row:
    """A row of the list: a run's head (`kind` "head"), a piece or the intercooler.

    Losses in Pa, lengths in m, volume in m3; nan where nothing is solved. `share`: of the largest
    loss in the list. `skin`: outer skin of a hot piece in K, 0 for a cold one.
    """

    id: str
    kind: str
    run: str
    title: str
    bore_in: float = 0.0
    bore_out: float = 0.0
    loss: float = float("nan")
    velocity: float = float("nan")
    mach: float = float("nan")
    share: float = 0.0
    length: float = 0.0
    volume: float = 0.0
    turn: float = 0.0
    state: str = "ok"
    skin: float = 0.0


# Of a rating: they count where one of its figures was typed
RATING = ("intercooler.charge_flow", "intercooler.cooling_flow")
OF_WATER = (
    "intercooler.water_flow",
    "intercooler.front_effectiveness",
    "intercooler.front_width",
    "intercooler.front_height",
    "intercooler.front_thickness",
    "intercooler.front_fins",
)


def asked(project: Project, place: str) -> bool:
    """Does an entry of the intercooler count, so that it is asked for?"""
    cooler = project.intercooler
    if place in OF_WATER:
        return cooler.medium == "water"
    if place == "intercooler.cooling_flow":
        return cooler.effectiveness.known != UNKNOWN
    if place in RATING:
        return not (cooler.effectiveness.known == cooler.pressure_loss.known == UNKNOWN)
    return place != "intercooler.rating_confidence" or cooler.effectiveness.known != UNKNOWN


def bores(piece: Piece) -> tuple[float, float]:
    """Bore at the inlet and the outlet of a piece, m."""
    one = getattr(piece, "bore_in", None) or getattr(piece, "bore", None)
    two = getattr(piece, "bore_out", None) or getattr(piece, "bore", None)
    return (one.si if one else 0.0, two.si if two else 0.0)


def rows(project: Project, point: Point | None, build: Build | None) -> list[Row]:
    """The whole path in the order of the flow."""
    solved = point is not None and point.closure.solved
    stretches: dict[str, Stretch] = {s.id: s for s in point.stretches} if point and solved else {}
    elements = {e.id: e for e in build.elements} if build else {}
    largest = max((s.drop for s in stretches.values() if s.section in (*RUNS, COOLER)), default=1.0)
    found: list[Row] = []
    for run in RUNS:
        if run == "cold_pipe" and project.intercooler.fitted:
            s = stretches.get(COOLER)
            found.append(
                Row(COOLER, COOLER, COOLER, tr("Intercooler"), loss=s.drop if s else float("nan"), share=s.drop / largest if s else 0.0)
            )
        pieces = getattr(project, run)
        body = []
        for piece in pieces:
            s = stretches.get(piece.id)
            e = elements.get(piece.id)
            one, two = bores(piece)
            mach = s.mach if s else float("nan")
            state = MACH[run].state(mach) if s else TO_DO
            body.append(
                Row(
                    piece.id,
                    piece.kind,
                    run,
                    numbered(pieces, piece),
                    one,
                    two,
                    s.drop if s else float("nan"),
                    s.velocity if s else float("nan"),
                    mach,
                    max(s.drop, 0.0) / largest if s else 0.0,
                    e.length if e else 0.0,
                    e.volume if e else 0.0,
                    e.turn if e else 0.0,
                    state,
                    s.skin if s and run in (MANIFOLD, EXHAUST) else 0.0,
                )
            )
        found.append(
            Row(
                f"head:{run}",
                "head",
                run,
                tr(RUN_TITLES[run]),
                loss=sum(r.loss for r in body),
                length=sum(r.length for r in body),
                volume=sum(r.volume for r in body),
                turn=sum(r.turn for r in body),
            )
        )
        found += body
    return found


class Formatter(Protocol):
    """A number in the owner's unit."""

    def __call__(self, value: float, kind: str, *, places: int | None = None) -> str: ...


def _cost(answer: Answer, key: str, say: Formatter) -> list[str]:
    """What the loss of a piece costs, once that is known."""
    cost = answer.costs.get(key)
    if cost is None:
        return []
    figure = f"[cost:{key}/{answer.target.speed:.10g}|{say(cost, 'power', places=2)}]"
    return [tr("Costs {0} at the target").format(figure)]


def lines_about(answer: Answer, point: Point, stretch: Stretch, say: Formatter, steel: Callable[[float], str]) -> list[str]:
    """What is said of the chosen piece or the intercooler: lines in which `[address|figure]` is a figure
    that leads to its calculation. `steel`: what steel does at a skin temperature in K, in words."""
    at = tr("at {0}").format(say(point.speed, "rotation"))
    lost = say(stretch.drop, "pressure_difference", places=2)
    key = stretch.id
    if stretch.kind == COOLER:
        before, after = point.stations["cooler_inlet"], point.stations["cooler_outlet"]
        return [
            tr("Loss {0} {1}").format(f"[cooler_loss|{lost}]", at),
            tr("[temperature:cooler_inlet|{0}] in, [cooler_outlet|{1}] out").format(
                say(before.temperature, "temperature"), say(after.temperature, "temperature")
            ),
            tr("Works at [effectiveness|{0:.0f} %] effectiveness, takes [cooler_heat|{1}] of heat").format(
                100 * point.cooler_effectiveness, say(point.cooler_heat, "power")
            ),
            tr("The radiator behind it sees [cooling_air|{0}]").format(say(point.cooling_air_out, "temperature")),
            *_cost(answer, key, say),
        ]
    lines = [tr("Loss {0} {1}").format(f"[piece:{key}|{lost}]", at)]
    element = next(e for e in answer.build.elements if e.id == key)
    if stretch.loss > 0:
        low, high = answer.spreads.get(key, (0.0, 0.0))
        words = tr("Loss coefficient {0}")
        if high > 0:
            words = tr("Loss coefficient {0} (other methods {1} to {2})")
        sheet = f"coefficient:{key}"
        lines.append(words.format(f"[{sheet}|{stretch.loss:.3f}]", f"[{sheet}|{low:.2f}]", f"[{sheet}|{high:.2f}]"))
    lines.append(
        f"[velocity:{key}|{say(stretch.velocity, 'velocity')}], "
        + tr("Mach {0}").format(f"[mach:{key}|{stretch.mach:.3f}]")
        + f", Re [reynolds:{key}|{stretch.reynolds / 1000:.0f} 000]"
    )
    lines += _cost(answer, key, say)
    if stretch.skin > 0 and stretch.section in (MANIFOLD, EXHAUST):
        figure = say(stretch.skin, "temperature")
        if element.surface > 0.0:
            figure = f"[skin:{key}|{figure}]"
        lines.append(tr("Skin {0}: steel {1}").format(figure, tr(steel(stretch.skin))))
    lines.append(f"{tr(element.method)}: {tr(element.source)}")
    return lines + [render(note, {}) for note in element.notes]


def index_in_run(project: Project, piece: str) -> tuple[str, int]:
    """The run of a piece and its place in it; raises KeyError."""
    for run in RUNS:
        for i, item in enumerate(getattr(project, run)):
            if item.id == piece:
                return run, i
    raise KeyError(piece)

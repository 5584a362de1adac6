"""The uncertainties of a document's entries, what they do to the answers, and what to find out first."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator
from dataclasses import dataclass

from zarvik.core.answer.answer import Answer
from zarvik.core.checks import CheckResult
from zarvik.core.checks.check_result import worst
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Figure, message
from zarvik.core.compressor.measured import FLOW, POINTS, SCALED_FLOW, SCALED_POINTS
from zarvik.core.limits.limits import ALL, FAILS, MARGINAL, OK
from zarvik.core.uncertainty.bands import MARGIN, POWER, THRESHOLD, Bands, combined_bands, narrowing
from zarvik.core.uncertainty.levers import Move, UncertainInput, compressor_points, of_the_model
from zarvik.core.uncertainty.propagate import shifts
from zarvik.core.whole_build.build import Build
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.belonging import belongs
from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.naming import piece_title
from zarvik.project.document.places import get, meta, split_place, with_value_at
from zarvik.project.estimates.estimates import ONLY_FEEDS, filled, spread_of, uncertain_places
from zarvik.project.units.units import MOVED, SAID, UNKNOWN, unit_of


def levers_of(project: Project) -> Iterator[UncertainInput]:
    """Every entry of the present build that is only good to something."""
    for place in uncertain_places(project):
        if not _counts(project, place):
            continue
        spread = spread_of(project, place)
        if spread > 0.0:
            yield UncertainInput(place, title_of(project, place), _step(project, place, spread), _MovedInput(project, place, spread), place)
    yield from _tables(project)
    chosen = project.chosen
    if chosen is None or project.blower.fitted:
        return
    about = f"turbos.{chosen.id}{MAP}"
    flow = ("flow", "Flow of the estimated map", "±8 %", _map_flow(FLOW))
    points = ("points", "Efficiency of the estimated map", "±4 points", compressor_points(POINTS))
    wanted: tuple[tuple[str, str, str, Move], ...] = ()
    if chosen.estimated == "efficiency":
        wanted = (points,)
    if chosen.wheels is not None:
        wanted = (flow, points)
    elif chosen.estimated == "scaled":
        wanted = (
            ("flow", "Flow of the scaled map", "±4 %", _map_flow(SCALED_FLOW)),
            ("points", "Efficiency of the scaled map", "±2 points", compressor_points(SCALED_POINTS)),
        )
    for key, title, step, move in wanted:
        yield UncertainInput(f"{about}.{key}", title, message(step), move, about)


MAP = ".map"
"""Behind the key of a turbo: its map as a whole, where that is estimated."""
MAP_MEASURE = "The printed map of this wheel, read from a file"


def _map_flow(relative: float) -> Move:
    """Move the flow of the whole map by a `relative` share (a ratio)."""

    def move(build: Build, share: float) -> Build:
        chart = build.turbo.chart
        factor = 1.0 + relative * share
        lines = tuple(dataclasses.replace(q, flow=tuple(m * factor for m in q.flow)) for q in chart.lines)
        turbo = dataclasses.replace(build.turbo, chart=dataclasses.replace(chart, lines=lines))
        return dataclasses.replace(build, turbo=turbo)

    return move


TABLE_SPREADS = {"breathing_table": 0.03, "stock_torque": 0.03, "lambda_table": 0.01, "delivery_table": 0.05}
"""What the rows of a table are good to: shares, of lambda in itself (common practice, no source)."""
_TABLE_TITLES = {
    "breathing_table": "Volumetric efficiency table",
    "stock_torque": "Stock torque curve",
    "lambda_table": "Lambda table",
    "delivery_table": "Pump delivery table",
}


def _tables(project: Project) -> Iterator[UncertainInput]:
    """The tables that the engine is read from: all rows together, for whoever measured them was off by
    the same way all along."""
    engine = project.engine
    names = {"table": "breathing_table", "stock_torque": "stock_torque"}
    wanted = [names[engine.breathing]] if engine.breathing in names else []
    if engine.fuelling == "table":
        wanted.append("delivery_table")
    elif engine.mixture == "table":
        wanted.append("lambda_table")
    for name in wanted:
        spread = TABLE_SPREADS[name]
        words = {"lambda_table": "±0.01", "delivery_table": "±5 %"}
        step = message(words.get(name, "±3 %"))
        yield UncertainInput(f"engine.{name}", _TABLE_TITLES[name], step, _Table(project, name, spread), f"engine.{name}")


@dataclass(frozen=True, eq=False)
class _Table:
    """The build with all rows of a table of the engine moved by a share of their uncertainty."""

    project: Project
    name: str
    spread: float

    def __call__(self, build: Build, share: float) -> Build:
        step = share * self.spread
        rows = tuple(
            (speed, value + step if self.name == "lambda_table" else value * (1.0 + step))
            for speed, value in getattr(self.project.engine, self.name)
        )
        return assemble(with_value_at(self.project, f"engine.{self.name}", rows), id=build.id, connections=False)


def _counts(project: Project, place: str) -> bool:
    """Does the entry stand in this build at all?"""
    room, _, rest = place.partition(".")
    if room == "car" or place == "engine.intake_volume" or place.endswith(".turbine.inertia"):
        return False  # of the seconds alone
    if not belongs(project, place) or (room == "turbos" and rest.partition(".")[0] != project.turbo):
        return False
    if place == "engine.delivery":
        return project.engine.fuelling == "stroke"
    if place == "engine.full_load_lambda" and project.engine.fuelling != "lambda":
        return False
    if place in ("intercooler.water_flow", "intercooler.front_effectiveness"):
        return project.intercooler.fitted and project.intercooler.medium == "water"
    unrated = project.intercooler.effectiveness.known == UNKNOWN
    if place == "intercooler.rating_confidence" and unrated:
        return False
    if place == "goal.road_speed":
        return project.intercooler.fitted
    if room in ("blower", "intercooler"):
        return bool(getattr(project, room).fitted)
    of_shape = ("engine.best_breathing", "engine.best_breathing_speed")
    if project.engine.breathing in ("table", "stock_torque") and place in of_shape:
        return False
    if place == "engine.full_load_lambda" and project.engine.mixture == "table":
        return False
    if place == "engine.retard":
        return project.engine.ignition == "typed"
    if place in ("engine.stock_power", "engine.stock_speed"):
        shaped = project.engine.breathing not in ("table", "stock_torque")
        return shaped and project.engine.best_breathing.known == UNKNOWN
    return True


def title_of(project: Project, place: str) -> str:
    """What an entry is called where it stands alone: a piece's with the name of the piece."""
    field = meta(project, place)
    title = field.title if isinstance(field, QuantitySpec) else place
    split = split_place(place)
    if split is not None:
        piece = get(project, f"{split[0]}.{split[1]}")
        return f"{piece_title(project, piece)}: {title[0].lower()}{title[1:]}"
    return _TITLES.get(place, title)


# Titles that only say something beside the field before them.
_TITLES = {"engine.best_breathing_speed": "Engine speed of best volumetric efficiency", "engine.stock_speed": "Engine speed of stock power"}


def _step(project: Project, place: str, spread: float):  # type: ignore[no-untyped-def]
    kind = get(project, place).kind
    kinds = {"temperature": "temperature_difference", "pressure_gauge": "pressure_difference"}
    return message("±{step}", step=Figure(spread, kinds.get(kind, kind)))


@dataclass(frozen=True, eq=False)
class _MovedInput:
    """The build with one entry moved by a share of what it is good to, and with it all that is
    estimated from it."""

    project: Project
    place: str
    spread: float

    def __call__(self, build: Build, share: float) -> Build:
        quantity = get(self.project, self.place)
        field = meta(self.project, self.place)
        assert isinstance(field, QuantitySpec)
        low, high = field.limits
        value = min(max(quantity.si + share * self.spread, low), high)
        unit = unit_of(quantity.kind, quantity.unit)
        # So that no estimate takes its place, nor what only counts beside a figure that somebody said; unrounded, or small ones would be
        # lost.
        known = MOVED if quantity.known == UNKNOWN else SAID
        moved = dataclasses.replace(quantity, value=unit.from_si(value), known=known, spread=0.0)
        return assemble(filled(with_value_at(self.project, self.place, moved)), id=build.id, connections=False)


NOTHING = 1e-6  # of any answer (SI), below which a change is one of the last digits


def bands_of(project: Project, answer: Answer, progress: Progress = unwatched) -> Bands:
    """The bands of a solved document: its entries' uncertainties and the model's own."""
    levers = (*levers_of(project), *of_the_model(answer.build))
    middle = {POWER: answer.target.power, THRESHOLD: answer.case.threshold}
    return combined_bands(shifts(answer.case, answer.memo, levers, progress), middle)


def with_bands(answer: Answer, bands: Bands) -> Answer:
    """A solved design with bands, its checks by them."""
    return dataclasses.replace(answer, check_results=judged(answer.check_results, bands), bands=bands)


# The margin below which a check fails, by its key; 0 where the margin is counted from the limit.
_EDGES = {limit.key: limit.most for limit in ALL if limit.zero is None}
_EDGES["big_run"] = _EDGES["bottom_end"]


def judged(check_results: tuple[CheckResult, ...], bands: Bands) -> tuple[CheckResult, ...]:
    """The checks by their bands: what holds in the middle and may fail is tight, what fails in the
    middle by less than half of its band is tight too, and each of them says that the uncertainty decides."""
    return tuple(worst(_judged(v, bands) for v in check_results))


def _judged(check_result: CheckResult, bands: Bands) -> CheckResult:
    band = bands.of(MARGIN + check_result.id)
    if band is None or not (band.above or band.below):
        return check_result  # what no uncertainty moves is as it is
    if check_result.margin is None or check_result.state not in (OK, MARGINAL, FAILS):
        return check_result
    margin = check_result.margin
    low, high = margin - band.below, margin + band.above
    edge = _EDGES.get(check_result.id, 0.0)
    check_result = dataclasses.replace(check_result, band=(low, high))
    # What fails in the middle is only called open where it may as well hold: within one standard
    # deviation, half of the band. What holds has to hold at the bad end of it.
    if check_result.state == FAILS and margin + 0.5 * band.above < edge:
        return check_result
    if check_result.state != FAILS and low >= edge:
        return check_result
    figures = _between(check_result.id, (low, high), bands)
    by = message(", mostly because of “{lever}”", lever=message(band.lever.title)) if band.lever else ""
    own = figures["low"].kind != "ratio"
    text = message("Could be {low} to {high}{by}" if own else "Margin could be {low} to {high}{by}", by=by, **figures)
    return dataclasses.replace(check_result, state=MARGINAL, uncertainty=text)


def _between(check_result: str, margins: tuple[float, float], bands: Bands) -> dict[str, Figure]:
    """What a check lies between: in its own figure where its band is known, else its margin."""
    name, kind = {"target": (POWER, "power"), "spool": (THRESHOLD, "rotation")}.get(check_result, ("", ""))
    band, middle = bands.of(name), bands.middle.get(name, math.nan)
    ends, kind = margins, kind or "ratio"
    if band is not None and math.isfinite(middle):
        ends = (middle - band.below, middle + band.above)
    else:
        kind = "ratio"
    return {"low": Figure(ends[0], kind, "=known"), "high": Figure(ends[1], kind, "=known")}


@dataclass(frozen=True)
class WorthMeasuring:
    """An entry that is worth finding out: what it is now, and how much narrower the bands of `power` (W)
    and `threshold` (rev/min) become when it is measured as well as one can in a garage. `score`: the
    sum of the shares by which the bands that count become narrower. `decides`: keys of the checks that
    its uncertainty decides. `measure`: how."""

    place: str
    title: str
    power: float
    threshold: float
    score: float
    decides: tuple[str, ...]
    measure: str


def _unknown(place: str, title: str, gain: dict[str, float], bands: Bands, open_checks: list[str], measure: str) -> WorthMeasuring:
    """An entry with what finding it out gains, by name of the answer (SI)."""
    score = 0.0
    for name in (POWER, THRESHOLD, *(MARGIN + v for v in open_checks)):
        band = bands.of(name)
        if band is not None and band.half > 0.0 and math.isfinite(gain.get(name, 0.0)):
            score += gain.get(name, 0.0) / band.half
    decides = tuple(v for v in open_checks if (band := bands.of(MARGIN + v)) is not None and gain.get(MARGIN + v, 0.0) > 0.1 * band.half)
    return WorthMeasuring(
        place=place,
        title=title,
        power=gain.get(POWER, 0.0),
        threshold=gain.get(THRESHOLD, 0.0),
        score=score,
        decides=decides,
        measure=measure,
    )


def worth_measuring(project: Project, answer: Answer, bands: Bands) -> tuple[WorthMeasuring, ...]:
    """The entries that are not measured, the one first whose measuring narrows the answers most."""
    open_checks = [v.id for v in answer.check_results if v.uncertainty is not None]
    found = []
    for shift in bands.shifts:
        place = shift.lever.about
        if not place or place.removeprefix("engine.") in TABLE_SPREADS or place.endswith(MAP):
            continue
        field, quantity = meta(project, place), get(project, place)
        if not isinstance(field, QuantitySpec) or field.uncertainty is None:
            continue
        spread = spread_of(project, place)
        left = field.uncertainty.spread(quantity.si, field.uncertainty.said)
        if not field.uncertainty.measure or left >= 0.95 * spread:
            continue  # as well known as it can be
        # Measured, it hangs no longer on what it was estimated from.
        shares = {place: left / spread}
        if quantity.known == UNKNOWN:
            shares |= {source: 0.0 for source in ONLY_FEEDS.get(place, ())}
        gain = narrowing(bands, shares)
        if not any(abs(change) > NOTHING for change in (*shift.up.values(), *shift.down.values())):
            continue  # whatever it is, nothing comes of it
        found.append(_unknown(place, shift.lever.title, gain, bands, open_checks, field.uncertainty.measure))
    found += _maps(bands, open_checks)
    return tuple(sorted(found, key=lambda u: -u.score))


def _maps(bands: Bands, open_checks: list[str]) -> list[WorthMeasuring]:
    """An estimated map is found out as a whole: the printed one leaves a quarter of the uncertainty."""
    levers = [s.lever for s in bands.shifts if s.lever.about.endswith(MAP)]
    if not levers:
        return []
    gain = narrowing(bands, {lever.key: 0.25 for lever in levers})
    place = levers[0].about.removesuffix(MAP) + ".wheels.exducer"
    return [_unknown(place, "Compressor map", gain, bands, open_checks, MAP_MEASURE)]

"""What the Candidates bench shows, without a window."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.candidates.evaluation import Evaluated, GivenUp, Housing, Pulley, at_stage, for_boost, given_up_against
from zarvik.core.common.constants import INCH
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.limits.limits import FAILS, MARGINAL, OK, ORDER
from zarvik.core.spool.pull import LONGEST, Pull
from zarvik.core.whole_build.build import solved
from zarvik.project.document.document import Project
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import ruled
from zarvik.project.units.units import KINDS, show, unit_of
from zarvik.window.desk import OtherDesign
from zarvik.window.parts.figure_rows import Row
from zarvik.workspace.jobs import Candidates

CAR = (
    "goal.pedal_at",
    "car.pull_from",
    "car.mass",
    "car.gear_ratio",
    "car.final_drive",
    "car.tyre_diameter",
    "car.drag_area",
    "goal.budget",
)
COMMON_PRESSURE, COMMON_TEMPERATURE = 1e5, 298.0  # state that maps of several references are drawn at

MAPS, BOOST, POWER, SECONDS, PULL, HOUSINGS, PULLEYS = ("maps", "boost", "power", "seconds", "pull", "housings", "pulleys")
TITLES = {
    MAPS: "Map",
    BOOST: "Boost",
    POWER: "Power",
    SECONDS: "Spool at fixed rpm",
    PULL: "Spool in gear",
    HOUSINGS: "Housings",
    PULLEYS: "Pulleys",
}
HEADS = ("power", "full boost", "spool", "in gear", "back-pr.", "WG open", "surge", "price", "arrives")


def seconds(pull: Pull | None) -> str:
    """Seconds in words: two figures, “never” where the boost does not come, a dash where nobody knows yet."""
    if pull is None or math.isnan(pull.seconds):
        return "–"
    if math.isinf(pull.seconds):
        return tr("over {0:.0f} s").format(LONGEST) if pull.time[-1] > 0.95 * LONGEST else tr("never")
    return show(pull.seconds, "time", "s", places=1 if pull.seconds >= 1.0 else 2)


def state_of(project: Project, one: Evaluated, stage: int, uncertainty: float = 0.0, rest: float = 0.0) -> str:
    """The worst of how a turbo does at a stage, what it costs, and when it is here. `uncertainty`: what a power is good
    to (share, 2 sigma): a miss of less than half of that is tight, as the checks have it. `rest`: money that
    the build costs beside its turbos."""
    line = one.lines[stage]
    states = [line.figures.state(line.stage.power or 1.0, uncertainty)]
    turbo = next((t for t in project.turbos if t.id == one.turbo.id), None)
    if turbo is not None:
        brief = project.goal
        price = turbo.fit.price.si * project.turbos_fitted.si
        for budget, costs in ((brief.budget.si, price), (project.search.budget.si, price + rest if price > 0.0 else 0.0)):
            if 0.0 < budget < costs:
                states.append(FAILS if costs > 1.1 * budget else MARGINAL)
        if brief.ready_by and turbo.fit.here_by and turbo.fit.here_by > brief.ready_by:
            states.append(FAILS)
    return min([*states, OK], key=lambda s: ORDER[s])


def rows(
    project: Project, found: Sequence[Evaluated], stage: int, units: Mapping[str, str], uncertainty: float = 0.0, rest: float = 0.0
) -> list[Row]:
    """A row for each candidate at a stage of the build, numbered as in the pictures; `uncertainty` and `rest` as in `state_of`."""
    made = []
    by_id = {t.id: t for t in project.turbos}
    for number, one in enumerate(found, 1):
        figures = one.lines[stage].figures
        turbo = by_id.get(one.turbo.id)
        percent = [show(v, "ratio", "%", places=0) for v in (figures.opening, figures.surge)]
        cells = (
            show(figures.power, "power", units.get("power")),
            show(figures.spool, "rotation"),
            seconds(one.held[stage] if one.held else None),
            seconds(one.geared[stage] if one.geared else None),
            f"{figures.back_pressure:.2f}" if figures.back_pressure == figures.back_pressure else "–",
            *percent,
            _price(turbo),
            _day(turbo.fit.here_by) if turbo is not None else "–",
        )
        where = figures.where

        def lead(key: str, where: Mapping[str, float] = where) -> str:
            return f"{key}/{where[key]:.10g}" if key in where else ""

        leads = (
            lead("power"),
            "threshold" if figures.spool == figures.spool else "",
            "",
            "",
            lead("back_pressure"),
            lead("opening"),
            lead("surge"),
            "",
            "",
        )
        made.append(
            Row(
                one.turbo.id,
                one.turbo.name,
                one.turbo.id == project.turbo,
                state_of(project, one, stage, uncertainty, rest),
                cells,
                leads,
                HEADS,
                str(number),
            )
        )
    return made


def _price(turbo: Turbo | None) -> str:
    if turbo is None or turbo.fit.price.si <= 0.0:
        return "–"
    return show(turbo.fit.price.si, "money", turbo.fit.price.unit)


_MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def _day(text: str) -> str:
    """A date as people write it short."""
    if not text:
        return "–"
    _, month, day = text.split("-")
    return f"{int(day)} {tr(_MONTHS[int(month) - 1])}"


def beside(found: Candidates, number: int, stage: int) -> OtherDesign:
    """A candidate at a stage as a design whose numbers can be looked at."""
    one = found.found[number]
    line = one.lines[stage]
    built = at_stage(found.build, line.stage)
    title = tr_format("{0}, {1}", one.turbo.name, line.stage.title.lower())
    return OtherDesign(title, lambda: solved(dataclasses.replace(built, turbo=one.turbo)))


@dataclass(frozen=True, eq=False)
class Curve:
    """A line of a picture: its number, whether it is the chosen turbo's, and points in shown units."""

    mark: str
    chosen: bool
    x: np.ndarray
    y: np.ndarray


@dataclass(frozen=True, eq=False)
class Picture:
    """Curves with the ranges and words of their axes; `level`: a height that is asked for, None for none, with
    its words; `outlines`: of maps, drawn thin."""

    curves: tuple[Curve, ...]
    x_title: str
    y_title: str
    x_range: tuple[float, float]
    y_range: tuple[float, float]
    level: float | None = None
    level_title: str = ""
    outlines: tuple[Curve, ...] = ()


def _up(value: float, step: float) -> float:
    return math.ceil(value / step - 1e-9) * step


def common(chart: CompressorMap) -> float:
    """Factor on a map's corrected flow that brings it to the state at which maps are drawn together."""
    return COMMON_PRESSURE / chart.reference_pressure * math.sqrt(chart.reference_temperature / COMMON_TEMPERATURE)


def picture(mode: str, project: Project, found: Sequence[Evaluated], stage: int, units: Mapping[str, str]) -> Picture | None:
    """The candidates as curves; None where there is nothing to draw."""
    if not found:
        return None
    if mode == MAPS:
        return _maps(project, found, stage, units)
    if mode in (SECONDS, PULL):
        return _traces(mode, project, found, stage, units)
    kind, name = ("pressure_gauge", "boost") if mode == BOOST else ("power", "power")
    unit = unit_of(kind, units.get(kind, KINDS[kind][0].symbol))
    curves = tuple(
        Curve(str(n), w.turbo.id == project.turbo, w.lines[stage].speed, unit.from_si(getattr(w.lines[stage], name)))  # type: ignore[arg-type]
        for n, w in enumerate(found, 1)
        if len(w.lines[stage].speed) > 1
    )
    if not curves:
        return None
    asked = found[0].lines[stage].stage
    level = asked.boost if mode == BOOST else asked.power
    top = max(max(float(c.y.max()) for c in curves), unit.from_si(level))
    step = 0.2 if top < 5.0 else 50.0 if top > 60.0 else 5.0
    words = tr("target") if level > 0.0 else ""
    return Picture(
        curves=curves,
        x_title=tr("engine speed, rpm"),
        y_title=f"{tr(TITLES[mode]).lower()}, {unit.symbol}",
        x_range=(min(float(c.x[0]) for c in curves), max(float(c.x[-1]) for c in curves)),
        y_range=(0.0, _up(1.04 * top, step)),
        level=unit.from_si(level) if level > 0.0 else None,
        level_title=words,
    )


def _maps(project: Project, found: Sequence[Evaluated], stage: int, units: Mapping[str, str]) -> Picture:
    unit = unit_of("mass_flow", units.get("mass_flow", KINDS["mass_flow"][0].symbol))
    curves, outlines = [], []
    for number, one in enumerate(found, 1):
        line, chart = one.lines[stage], one.turbo.chart
        factor = common(chart) / unit.factor
        chosen = one.turbo.id == project.turbo
        outlines.append(Curve(str(number), chosen, *map_outline(chart, factor)))
        curves.append(Curve(str(number), chosen, line.flow * factor, line.ratio))
    wide = max(float(o.x.max()) for o in outlines)
    high = max(float(o.y.max()) for o in outlines)
    return Picture(
        curves=tuple(curves),
        x_title=tr("corrected flow per turbo, {0} at 298 K and 100 kPa").format(unit.symbol),
        y_title=tr("pressure ratio"),
        x_range=(0.0, 1.05 * wide),
        y_range=(1.0, 1.04 * high),
        level=None,
        level_title="",
        outlines=tuple(outlines),
    )


def map_outline(chart: CompressorMap, factor: float) -> tuple[np.ndarray, np.ndarray]:
    """From choke up the fastest line and down the surge line: what the map covers."""
    edge = np.vstack([chart.right_edge, chart.surge_line[::-1]])
    return edge[:, 0] * factor, edge[:, 1]


def _traces(mode: str, project: Project, found: Sequence[Evaluated], stage: int, units: Mapping[str, str]) -> Picture | None:
    unit = unit_of("pressure_gauge", units.get("pressure_gauge", "bar"))
    curves = []
    for number, one in enumerate(found, 1):
        pulls = one.held if mode == SECONDS else one.geared
        if not pulls or len(pulls[stage].time) < 2:
            continue
        pull = pulls[stage]
        curves.append(
            Curve(str(number), one.turbo.id == project.turbo, pull.time, unit.from_si(pull.boost))  # type: ignore[arg-type]
        )
    if not curves:
        return None
    asked = found[0].lines[stage].stage.boost
    arrived = [float(c.x[-1]) for c in curves]
    # The picture ends a little after most have arrived: what takes for ever would squeeze the rest.
    end = min(max(arrived), max(4.0, 1.6 * float(np.median(arrived))))
    top = max(max(float(c.y.max()) for c in curves), unit.from_si(asked))
    words = tr("seconds after flooring the pedal, at {0}").format(show(project.goal.pedal_at.si, "rotation"))
    if mode == PULL:
        words = tr("seconds after flooring the pedal, in gear from {0}").format(show(project.car.pull_from.si, "rotation"))
    return Picture(
        curves=tuple(curves),
        x_title=words,
        y_title=tr("boost, {0}").format(unit.symbol),
        x_range=(0.0, _up(end, 0.5)),
        y_range=(0.0, _up(1.06 * top, 0.2 if top < 5.0 else 2.0)),
        level=unit.from_si(asked),
        level_title=tr("target"),
    )


@dataclass(frozen=True)
class Choice:
    """A size that can be taken: what is drawn and what is said of it. `x`, `y` in shown units, `label`, more
    `words`, whether it is the present one, whether it is the answer; `value` in SI, or teeth."""

    x: float
    y: float
    label: str
    words: str
    own: bool
    answer: bool
    value: float
    teeth: int = 0


def housing_choices(project: Project, found: Sequence[Housing], units: Mapping[str, str]) -> tuple[Choice, ...]:
    """Housings of the chosen turbo: threshold across, back-pressure up."""
    chosen = project.chosen
    if chosen is None:
        return ()
    own = chosen.turbine.housing.si
    made = []
    for one in found:
        f = one.figures
        if not (math.isfinite(f.spool) and math.isfinite(f.back_pressure)):
            continue
        power = show(f.power, "power", units.get("power"))
        late = "–" if not math.isfinite(one.seconds) else show(one.seconds, "time", "s", places=1)
        made.append(
            Choice(
                f.spool,
                f.back_pressure,
                f"{one.housing / INCH:.2f}".lstrip("0"),
                f"{power}, {late}",
                abs(one.housing - own) < 1e-6,
                False,
                one.housing,
            )
        )
    return tuple(made)


def pulley_choices(project: Project, found: Sequence[Pulley], units: Mapping[str, str]) -> tuple[Choice, ...]:
    """Pulleys of the blower: size across, boost at the target speed up; the answer is the largest that makes the
    boost that is wanted."""
    blower, unit = project.blower, unit_of("pressure_gauge", units.get("pressure_gauge", "bar"))
    long = unit_of("length", units.get("length", "mm"))
    best = for_boost(found, project.goal.target_boost.si, blower.rotor_limit.si)
    toothed = blower.belt == "toothed"
    made = []
    for one in found:
        own = one.teeth == int(blower.teeth.si) if toothed else abs(one.size - blower.pulley.si) < 5e-4
        fast = " !" if one.speed > blower.rotor_limit.si else ""
        words = f"{show(one.speed, 'rotation')}{fast}, {show(one.belt_power, 'power', units.get('power'))}"
        made.append(
            Choice(
                float(one.teeth) if toothed else long.from_si(one.size),
                unit.from_si(one.boost),
                str(one.teeth) if toothed else f"{long.from_si(one.size):.{long.symbol == 'in':d}f}",
                words,
                own,
                best is not None and one.size == best.size,
                one.size,
                one.teeth,
            )
        )
    return tuple(made)


def pulley_answer(project: Project, found: Sequence[Pulley], units: Mapping[str, str]) -> str:
    """Which pulley gives the boost, in a sentence."""
    boost, limit = project.goal.target_boost.si, project.blower.rotor_limit.si
    say_boost = show(boost, "pressure_gauge", units.get("pressure_gauge"))
    best = for_boost(found, boost, limit)
    if best is None:
        fast = for_boost(found, boost, math.inf)
        if fast is None:
            return tr_format("No pulley of the series makes {0} on this blower: a larger blower, or less boost.", say_boost)
        return tr_format(
            "{0} needs rotors at {1}, above their limit of {2}: use a larger blower.",
            say_boost,
            show(fast.speed, "rotation"),
            show(limit, "rotation"),
        )
    size = tr_format("{0} teeth", best.teeth) if best.teeth else ruled(best.size, units, places=0).replace(" ", "\u00a0")
    return tr_format(
        (
            "{0} makes {1} on this blower, {2} left for the bypass. Rotors {3} at the rev limit, {4} through the "
            "belt; the belt carries {5} times that and slips {6}."
        ),
        say_boost,
        size,
        show(max(best.boost - boost, 0.0), "pressure_gauge", units.get("pressure_gauge")),
        show(best.speed, "rotation"),
        show(best.belt_power, "power", units.get("power")),
        f"{best.carried:.1f}",
        show(best.slip, "ratio", "%", places=1),
    )


_GIVEN = {
    "power": ("power", "{0} less power"),
    "spool": ("rotation", "full boost {0} later"),
    "seconds": ("time", "spool {0} longer"),
    "back_pressure": ("factor", "back-pressure {0} higher"),
}


def gives_up(found: Sequence[Evaluated], chosen: str, stage: int, units: Mapping[str, str]) -> tuple[str, ...]:
    """What a choice gives up, a line for each of the others; empty where it gives up nothing."""
    by_name: dict[str, list[GivenUp]] = {}
    for one in given_up_against(found, chosen, stage):
        by_name.setdefault(one.name, []).append(one)
    lines = []
    for name, items in by_name.items():
        parts = []
        for item in items:
            kind, words = _GIVEN[item.key]
            figure = show(item.by, kind, units.get(kind), places=2 if kind == "time" else None)
            parts.append(tr(words).format(figure))
        lines.append(tr_format("compared with {0}: {1}", name, ", ".join(parts)))
    return tuple(lines)

"""What the Designs bench shows, without a window."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from zarvik.core.airpath.point import Point
from zarvik.project.designs import Design, Designs, binding
from zarvik.project.designs.choices import TURBO
from zarvik.project.designs.wording import WISHED, gain, headline, obstacles, price
from zarvik.project.document.document import AdoptedDesign, Project
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import figure, render
from zarvik.project.units.units import KINDS, Quantity, unit_of
from zarvik.project.variants.variants import differences
from zarvik.window.benches.candidates.presenter import Choice, Curve, Picture, common, map_outline

WANTED = (
    "goal.target_power",
    "goal.target_speed",
    "goal.full_boost_from",
    "goal.target_boost",
    "goal.mild_boost",
    "goal.mild_power",
    "goal.big_run_boost",
    "goal.big_run_power",
)
LIMITS = (
    "engine.trusted_boost",
    "car.clutch",
    "car.gearbox",
    "car.low_gears",
    "search.budget",
    "search.build_time",
    "search.start_date",
    "goal.ready_by",
    "search.tailpipe_speed",
)
FREE = (
    "search.turbo",
    "search.count",
    "search.housing",
    "search.gate",
    "search.boost",
    "search.hold",
    "search.pulley",
    "search.hot_pipe",
    "search.cold_pipe",
    "search.cooler",
    "search.throttle",
    "search.exhaust",
    "search.intake",
    "search.manifold",
    "search.blower",
)
MATTERS = ("search.quick_spool", "search.power_reserve", "search.margins", "search.low_cost", "search.short_build_time")
SHOP = ("workshop.hours", "workshop.weld", "workshop.bend", "workshop.machine", "workshop.hourly_rate", "workshop.outsourced_days")
COMPARE, LOAD, MAPS, WHY = "compare", "load", "maps", "why"
MODES = {COMPARE: "Side by side", LOAD: "Full load", MAPS: "On the map", WHY: "Reasons"}
TALL = 46.0  # px of a small pressure run


@dataclass(frozen=True)
class DesignFigure:
    """A figure of a design: short title, title of an axis, kind of quantity, and how it is read."""

    title: str
    axis: str
    kind: str
    of: Callable[[Design], float]


MEASURES: dict[str, DesignFigure] = {
    "threshold": DesignFigure("full boost", "full-boost speed", "rotation", lambda d: d.figures.spool),
    "seconds": DesignFigure("time to boost", "time to full boost", "time", lambda d: d.seconds),
    "power": DesignFigure("power", "power at target speed", "power", lambda d: d.figures.power),
    "money": DesignFigure("cost", "cost, invented prices", "money", lambda d: d.cost.money),
    "weeks": DesignFigure("build time", "build time, weeks", "weeks", lambda d: d.weeks),
    "room": DesignFigure("smallest margin", "smallest margin of any check", "ratio", lambda d: d.room),
    "boost": DesignFigure("boost", "highest boost", "pressure_gauge", lambda d: d.figures.boost),
    "torque": DesignFigure("torque", "highest torque", "torque", lambda d: d.figures.torque),
    "charge": DesignFigure("charge temp.", "charge temperature at target speed", "temperature", lambda d: d.figures.charge),
    "surge": DesignFigure("surge margin", "surge margin", "ratio", lambda d: d.figures.surge),
    "back": DesignFigure("back-pressure", "back-pressure ratio", "factor", lambda d: d.figures.back_pressure),
    "opening": DesignFigure("WG open", "largest wastegate opening", "ratio", lambda d: d.figures.opening),
}
# What counts as one step of difference on a card
_STEPS = {
    "threshold": 150.0,
    "seconds": 0.25,
    "power": 7000.0,
    "money": 150.0,
    "weeks": 0.7,
    "room": 0.25,
    "boost": 0.08e5,
    "torque": 15.0,
    "charge": 6.0,
    "surge": 0.06,
    "back": 0.08,
    "opening": 0.25,
}
ON_A_CARD = 5


def text_of(measure: DesignFigure, value: float, units: Mapping[str, str]) -> str:
    """A figure as a card tells it."""
    if not math.isfinite(value):
        return "–"
    if measure.kind == "ratio":
        return f"{100.0 * value:.0f} %".replace("-", "−")
    return figure(value, measure.kind, units)


def telling(designs: Sequence[Design]) -> tuple[str, ...]:
    """Keys of the five figures in which designs differ most; power and early boost are always among them."""
    spread = {}
    for key, measure in MEASURES.items():
        values = [v for d in designs if math.isfinite(v := measure.of(d))]
        spread[key] = (max(values) - min(values)) / _STEPS[key] if len(values) > 1 else 0.0
    order = sorted(MEASURES, key=lambda k: -spread[k])
    kept = ["threshold", "power", "money", *(k for k in order if k not in ("threshold", "power", "money"))][:ON_A_CARD]
    return tuple(k for k in MEASURES if k in kept)


@dataclass(frozen=True, eq=False)
class Card:
    """A design as a card: number, name, worst state (empty while it is not judged), rows of title and figure, what it
    is bound by, and the point whose pressure run is drawn small."""

    mark: str
    name: str
    state: str
    rows: tuple[tuple[str, str], ...]
    bound: str
    point: Point | None
    chosen: bool


def cards(found: Designs, chosen: int, units: Mapping[str, str]) -> list[Card]:
    """A card for each design, numbered as in the pictures."""
    keys = telling(found.designs)
    made = []
    for number, one in enumerate(shown(found)):
        answer = one.answer
        bound = [tr(v.title) for v in binding(one)[:2]]
        possible = not found.designs and found.nearest is one
        made.append(
            Card(
                mark="≈" if possible else str(number + 1),
                name=name_of(one),
                state=one.worst,
                rows=tuple((tr(MEASURES[k].title), text_of(MEASURES[k], MEASURES[k].of(one), units)) for k in keys),
                bound=tr("limited by {0}").format(", ".join(bound)) if bound else "",
                point=answer.target if answer is not None and answer.target.closure.solved else None,
                chosen=number == chosen,
            )
        )
    return made


def shown(found: Designs) -> tuple[Design, ...]:
    """The designs, or the nearest possible one where none fulfils all."""
    if found.designs:
        return found.designs
    return (found.nearest,) if found.nearest is not None else ()


def name_of(one: Design) -> str:
    """A design by what is largest in it."""
    first = one.sizes.get(TURBO) or next(iter(one.sizes.values()), "")
    return first if len(one.sizes) < 2 or TURBO in one.sizes else f"{first} …"


def choices(found: Designs, across: str, up: str, chosen: int, units: Mapping[str, str]) -> tuple[Choice, ...]:
    """Designs as points: two figures (keys of MEASURES)."""
    made = []
    for number, one in enumerate(shown(found)):
        x, y = (_value(MEASURES[k], one, units) for k in (across, up))
        if not (math.isfinite(x) and math.isfinite(y)):
            continue
        other = "money" if "money" not in (across, up) else "threshold"
        words = f"{text_of(MEASURES[across], MEASURES[across].of(one), units)}, {text_of(MEASURES[other], MEASURES[other].of(one), units)}"
        made.append(Choice(x, y, str(number + 1), words, number == chosen, False, float(number)))
    return tuple(made)


def _value(measure: DesignFigure, one: Design, units: Mapping[str, str]) -> float:
    value = measure.of(one)
    if measure.kind == "ratio":
        return 100.0 * value
    return float(unit_of(measure.kind, _symbol(measure.kind, units)).from_si(value))


def _symbol(kind: str, units: Mapping[str, str]) -> str:
    return units.get(kind, KINDS[kind][0].symbol)


def axis_title(key: str, units: Mapping[str, str]) -> str:
    """Words of an axis with its unit."""
    measure = MEASURES[key]
    symbol = "%" if measure.kind == "ratio" else _symbol(measure.kind, units)
    return f"{tr(measure.axis)}, {symbol}" if symbol else tr(measure.axis)


def level(key: str, found: Designs, units: Mapping[str, str]) -> float | None:
    """The height that is asked for on an axis, in shown units; None where nothing is."""
    asked = {"power": found.limits.power, "threshold": found.limits.spool, "money": found.limits.money, "weeks": found.limits.weeks}.get(
        key, 0.0
    )
    if asked <= 0.0:
        return None
    kind = MEASURES[key].kind
    return float(unit_of(kind, _symbol(kind, units)).from_si(asked))


def load(found: Designs, chosen: int, units: Mapping[str, str]) -> Picture | None:
    """Full-load power of every judged design over engine speed."""
    unit = unit_of("power", _symbol("power", units))
    curves = []
    for number, one in enumerate(shown(found)):
        points = [p for p in one.answer.sweep if p.closure.solved] if one.answer is not None else []
        if len(points) > 1:
            curves.append(
                Curve(
                    str(number + 1),
                    number == chosen,
                    np.array([p.speed for p in points]),
                    np.array([unit.from_si(p.power) for p in points]),
                )
            )
    if not curves:
        return None
    asked = unit.from_si(found.limits.power)
    top = max(asked, *(float(c.y.max()) for c in curves))
    step = 50.0 if top > 60.0 else 5.0
    return Picture(
        curves=tuple(curves),
        x_title=tr("engine speed, rpm"),
        y_title=tr_format("full-load power, {0}", unit.symbol),
        x_range=(min(float(c.x[0]) for c in curves), max(float(c.x[-1]) for c in curves)),
        y_range=(0.0, math.ceil(1.04 * top / step) * step),
        level=asked,
        level_title=tr("target"),
    )


def maps(found: Designs, chosen: int, units: Mapping[str, str]) -> Picture | None:
    """The full-load lines of all designs on the outlines of their maps, at one common state; None for blowers."""
    unit = unit_of("mass_flow", _symbol("mass_flow", units))
    curves, outlines = [], []
    for number, one in enumerate(shown(found)):
        answer = one.answer
        if answer is None or answer.build.blower is not None:
            continue
        points = [p for p in answer.sweep if p.closure.solved]
        if len(points) < 2:
            continue
        chart = answer.build.turbo.chart
        factor = common(chart) / unit.factor
        mark = str(number + 1)
        outlines.append(Curve(mark, number == chosen, *map_outline(chart, factor)))
        curves.append(
            Curve(mark, number == chosen, np.array([p.turbo.flow for p in points]) * factor, np.array([p.turbo.ratio for p in points]))
        )
    if not curves:
        return None
    return Picture(
        curves=tuple(curves),
        x_title=tr("corrected flow per turbo, {0} at 298 K and 100 kPa").format(unit.symbol),
        y_title=tr("pressure ratio"),
        x_range=(0.0, 1.05 * max(float(o.x.max()) for o in outlines)),
        y_range=(1.0, 1.04 * max(float(o.y.max()) for o in outlines)),
        level=None,
        level_title="",
        outlines=tuple(outlines),
    )


def why(found: Designs, chosen: int, project: Project) -> list[tuple[str, list[str]]]:
    """Why a design is as it is, as titles with lines: its sizes, what binds it, what wishes cost, what limits would
    buy."""
    units = project.shown_units
    groups: list[tuple[str, list[str]]] = []
    designs = shown(found)
    if chosen < len(designs):
        one = designs[chosen]
        sizes = ", ".join(f"{axis.title} {one.sizes[axis.key]}" for axis in found.axes)
        groups.append((tr("Design {0}").format(chosen + 1), [f"{sizes}. {headline(one, units)}."]))
        groups.append(
            (tr("Limiting checks"), [tr_format("{0}: {1}", tr(v.title), render(v.text, units).rstrip(".")) for v in binding(one)])
        )
        if chosen < len(found.trades):
            granted = [price(t, units) for t in found.trades[chosen] if t.other is not None]
            others = [tr(WISHED[t.wish]) for t in found.trades[chosen] if t.other is None]
            if others:
                granted.append(tr_format("No solved design gives: {0}", "; ".join(others)))
            groups.append((tr("Price of more, from all solved designs"), granted))
    groups.append((tr("Gain per unit of limit"), [gain(relief, units) for relief in found.reliefs]))
    if not found.designs:
        groups.append((tr("In the way"), obstacles(found, units)))
    if found.missed is not None and found.why is not None:
        sizes = ", ".join(found.missed.sizes.values())
        groups.append((tr("Closest misses"), [tr_format("{0}. {1}: {2}", sizes, tr(found.why.title), render(found.why.text, units))]))
    return [(title, lines) for title, lines in groups if lines]


def summary(found: Designs, project: Project, part: bool) -> str:
    """What the search did, in a line."""
    if part and not found.trades:
        return tr_format("{0} designs solved so far", found.tried)
    if found.designs:
        if found.wish:
            return tr_format("{0} designs solved for more than the present one; fewest changes first.", found.tried)
        return tr_format("{0} designs solved; different ones, best first by your priorities. None fails a check.", found.tried)
    asked = tr_format(
        "{0} designs solved. None reaches {1} at {2} with full boost from {3}",
        found.tried,
        figure(found.limits.power, "power", project.shown_units),
        project.goal.target_speed,
        figure(found.limits.spool, "rotation", project.shown_units),
    )
    stands = obstacles(found, project.shown_units)
    if stands:
        asked += tr_format(". In the way: {0}", "; ".join(stands[:3]))
    if found.nearest is not None:
        asked += tr_format(
            ". Nearest possible: {0}, full boost from {1}",
            figure(found.nearest.figures.power, "power", project.shown_units),
            figure(found.nearest.figures.spool, "rotation", project.shown_units),
        )
    return asked + "."


def taken_over(one: Design, project: Project, mark: str) -> Project:
    """The document with a design as its present one, and a note of what was found; names, variants, prices and the
    decision stay those of the project."""
    kept = {
        "name": project.name,
        "note": project.note,
        "units": project.units,
        "decision": project.decision,
        "invented": project.invented,
        "workshop": project.workshop,
    }
    design = one.project.model_copy(update={**kept, "variants": (), "adopted": ()})
    note = AdoptedDesign(
        title=tr_format("Design {0}: {1}", mark, ", ".join(one.sizes.values()))[:200],
        power=_note(one.figures.power, "hp", "power"),
        threshold=_note(one.figures.spool, "rpm", "rotation"),
        money=_note(one.cost.money, "€", "money"),
        weeks=_note(one.weeks, "weeks", "weeks"),
        design=design,
    )
    return design.model_copy(update={"variants": project.variants, "adopted": (note,)})


def _note(si: float, unit: str, kind: str) -> Quantity:
    value = unit_of(kind, unit).from_si(si) if math.isfinite(si) else 0.0
    return Quantity(float(f"{max(value, 0.0):.5g}"), unit, kind)


def moved(project: Project, power: float, threshold: float) -> str:
    """How far the present design has moved from the one that was taken over; empty where none was. `power` W and
    `threshold` rev/min of the present one, nan while they are not known."""
    if not project.adopted:
        return ""
    note = project.adopted[0]
    changed = [d for d in differences(note.design, project) if not d.place.startswith(("search.", "workshop.", "car."))]
    if not changed:
        return tr_format("As taken: {0}", note.title)
    units, parts = project.shown_units, []
    for now, then, kind in ((power, note.power.si, "power"), (threshold, note.threshold.si, "rotation")):
        if now == now and then > 0.0:
            sign = "+" if now >= then else "−"
            parts.append(sign + figure(abs(now - then), kind, units))
    names = ", ".join(d.title for d in changed[:4]) + (" …" if len(changed) > 4 else "")
    return tr_format("{0} entries changed since this design was taken ({1}): {2}", len(changed), names, ", ".join(parts) or "–")

"""Results as plain text on standard output."""

from __future__ import annotations

import itertools
import math
import textwrap
from collections.abc import Mapping, Sequence

from zarvik.core.airpath import stations as st
from zarvik.core.airpath.point import Point
from zarvik.core.answer.answer import Answer
from zarvik.core.calculations import Sheet
from zarvik.core.calculations.sensitivity import Influence
from zarvik.core.candidates.catalogue_search import CatalogueMatch
from zarvik.core.candidates.evaluation import Evaluated, Pulley, for_boost
from zarvik.core.common.constants import INCH
from zarvik.core.connections.row import DECISIONS, KINDS, MADE, STATES
from zarvik.core.connections.rules import findings
from zarvik.core.heat.clearance import THINGS
from zarvik.core.limits.limits import STATE_WORDS
from zarvik.core.manifold import life
from zarvik.core.recommendations import needs
from zarvik.core.spool.pull import Pull
from zarvik.core.uncertainty.bands import POWER, THRESHOLD
from zarvik.project.assembly.stages import ComparisonBasis
from zarvik.project.boost_control.control import WHAT, Control, cycles_text, held_boost, steps, unsaid
from zarvik.project.connections.connection_list import connections_of as lines_of
from zarvik.project.connections.lists import Listing
from zarvik.project.designs import Design, Designs, Trade, binding
from zarvik.project.designs.wording import gain, headline, obstacles, price
from zarvik.project.document.document import Project
from zarvik.project.document.places import get
from zarvik.project.engine.diesel_pump import PumpSetting
from zarvik.project.engine.diesel_pump import sentences as turned
from zarvik.project.heat.hot_parts import HotSideReport, place_words, told_boss, told_hung
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.manifold.manifold_types import ManifoldType, boost_is_delayed
from zarvik.project.uncertainty.uncertainty import worth_measuring
from zarvik.project.units.rendering import advice, as_sold, change, entry_text, exact, figure, render, rough_figure, words
from zarvik.project.vehicle.towing import TowingReport
from zarvik.project.vehicle.towing import sentences as towing

WORTH = 0.02  # share of a band that a measurement must narrow to be worth the evening; common practice, no source
STATE_MARKS = {"ok": "=", "marginal": "!", "fails": "X", "to_do": "?"}


def _out(text: str = "") -> None:
    """One or more lines, with nothing in them that a terminal would obey."""
    print("\n".join(visible(line) for line in text.split("\n")))


def line(points: Sequence[Point], project: Project) -> None:
    """The full-load line, one row a point."""
    units = project.shown_units
    heads = (
        (tr("engine speed"), "<13"),
        (tr("boost"), ">10"),
        (tr("power"), ">11"),
        (tr("torque"), ">11"),
        (tr("air"), ">12"),
        (tr("ratio"), ">6"),
        (tr("rotor speed") if project.blower.fitted else tr("wheel speed"), ">12"),
        (tr("map"), "<7"),
        (tr("bypass") if project.blower.fitted else tr("wastegate"), ""),
    )
    _out(" ".join(format(head, width) for head, width in heads))
    for point in points:
        if not point.closure.solved:
            reason = tr_format("not solved: {0}", render(point.closure.reason, units))
            _out(f"{point.speed:9.0f} rpm  {reason}")
            continue
        t = point.turbo
        _out(
            f"{point.speed:9.0f} rpm {figure(point.boost, 'pressure_gauge', units):>10s} "
            f"{figure(point.power, 'power', units):>11s} "
            f"{figure(point.torque, 'torque', units):>11s} "
            f"{figure(point.air, 'mass_flow', units):>12s} {t.ratio:6.2f} "
            f"{t.real_speed:8.0f} rpm {tr(t.region):7s} {tr(t.regime)}"
        )
    _out()


def point(point: Point, project: Project) -> None:
    """Every station of a point, turbine and gate, and how the sums close."""
    units = project.shown_units
    _out(tr_format("at {0:.0f} rpm", point.speed))
    if not point.closure.solved:
        _out("  " + tr_format("not solved: {0}", render(point.closure.reason, units)))
        return
    names = {name: tr(title) for name, title in (st.BELT_TITLES if point.belt else st.TITLES).items()}
    titles = {s.end: "  " + tr_format("after {0}", words(s.name, units)) for s in point.stretches}
    shown = {name: names.get(name) or titles.get(name, name) for name in point.stations}
    wide = max(len(title) for title in shown.values())
    wide = max(wide, len(tr("station")))
    _out(f"  {tr('station'):{wide}s} {tr('total pressure'):>18s} {tr('temperature'):>12s} {tr('Mach'):>7s}")
    for name, station in point.stations.items():
        _out(
            f"  {shown[name]:{wide}s} "
            f"{figure(station.pressure, 'pressure_absolute', units) + ' abs':>18s} "
            f"{figure(station.temperature, 'temperature', units):>12s} {station.mach:7.3f}"
        )
    closure, turbo = point.closure, point.turbo
    if turbo.turbine_power > 0.0:
        gate = tr_format(
            "wastegate {0}, {1:.0f} % open; turbine expansion {2:.2f}, u/c0 {3:.2f}, efficiency {4:.0f} %",
            tr(turbo.regime),
            100 * turbo.opening,
            turbo.expansion,
            turbo.blade_ratio,
            100 * turbo.turbine_efficiency,
        )
        _out(f"  {gate}")
    closes = tr_format(
        "balance: flow {0:.1e}, pressure {1:.1e}, energy {2:.1e}, shaft {3:.1e} (relative), {4} steps",
        closure.mass,
        closure.pressure,
        closure.energy,
        closure.shaft,
        closure.iterations,
    )
    _out(f"  {closes}")


def one_sheet(sheet: Sheet, project: Project) -> None:
    """A calculation sheet: the number, its relation, the values in it, the source."""
    units = project.shown_units
    result = exact(sheet.result.value, sheet.result.kind, units)
    _out(f"\n  {words(sheet.title, units)}: {result}\n    {sheet.relation}")
    for line in sheet.lines:
        same = sheet.result.value if line.figure.kind == sheet.result.kind else None
        value = exact(line.figure.value, line.figure.kind, units, result=same)
        _out(f"      {line.symbol:7s} {value:>14s}  {words(line.meaning, units)}")
    _out(f"    {words(sheet.source, units)}")


def movers(found: Sequence[Influence], kind: str, project: Project) -> None:
    """What moves a number: each uncertain input with its change down and up."""
    units = project.shown_units
    most = max((i.size for i in found), default=0.0)
    for influence in found:
        if influence.size > 0.0:
            down = change(influence.down, kind, units, most=most)
            up = change(influence.up, kind, units, most=most)
            lever = influence.lever
            _out(f"      {tr(lever.title):36s} {render(lever.step, units):>10s} {down:>14s} {up:>14s}")


def known(found: Answer, project: Project) -> None:
    """The bands of power and threshold, and what to find out first."""
    units, bands = project.shown_units, found.bands
    if bands is None or not found.target.closure.solved:
        return
    _out()
    for name, title, value, kind in (
        (POWER, tr("Power"), found.target.power, "power"),
        (THRESHOLD, tr("Full boost from"), found.case.threshold, "rotation"),
    ):
        band = bands.of(name)
        if band is not None and value == value:
            low, high = (figure(v, kind, units) for v in (value - band.below, value + band.above))
            if low == high:
                _out(tr_format("{0} {1}: set by the controller", title, low))
                continue
            _out(
                tr_format(
                    "{0} {1}: {2} to {3} (95 % range); {4:.0f} % of it comes from the model itself",
                    title,
                    figure(value, kind, units),
                    low,
                    high,
                    100.0 * band.own,
                )
            )
    first = [u for u in worth_measuring(project, found, bands) if u.score >= WORTH][:5]
    if first:
        _out(tr("Measure first:"))
    for unknown in first:
        now = entry_text(get(project, unknown.place))
        gain = tr_format(
            "narrows power by {0}, full boost by {1}", figure(unknown.power, "power", units), figure(unknown.threshold, "rotation", units)
        )
        _out(f"  {tr(unknown.title)} ({now}): {gain}\n      {tr(unknown.measure)}")


def check_results(found: Answer, project: Project) -> None:
    """Every check with its cure, worst first."""
    units = project.shown_units
    for check_result in found.check_results:
        mark = STATE_MARKS[check_result.state]
        _out(f"[{mark}] {tr(STATE_WORDS[check_result.state]):8s}  {tr(check_result.title)}: {render(check_result.text, units)}")
        if check_result.uncertainty is not None:
            _out(f"           {render(check_result.uncertainty, units)}")
        if check_result.cure is not None:
            _out("           " + tr_format("fix: {0}", advice(check_result, units)))


def parts_needed(found: Answer, project: Project) -> None:
    """What the design needs in sizes that are sold."""
    wanted = needs(found.case)
    if wanted:
        _out(tr("This design needs:"))
    for one in wanted:
        _out(f"  {tr(one.title)}: {as_sold(render(one.text, project.shown_units))}")


def _seconds(pull: Pull) -> str:
    """Seconds of a pull; a dash where nobody knows, “never” where the boost does not come."""
    if math.isnan(pull.seconds):
        return "–"
    return tr("never") if math.isinf(pull.seconds) else f"{pull.seconds:.2f} s"


def evaluated(project: Project, asked: ComparisonBasis, found: Sequence[Evaluated]) -> None:
    """Every candidate at every stage, a row each."""
    units = project.shown_units
    by_id = {t.id: t for t in project.turbos}
    for number, stage in enumerate(asked.stages if found else ()):
        wanted = tr_format(" for {0}", figure(stage.power, "power", units)) if stage.power else ""
        _out(tr_format("{0}: {1}{2}", stage.title, figure(stage.boost, "pressure_gauge", units), wanted))
        heads = (
            (tr("turbo"), "<34"),
            (tr("power"), ">9"),
            (tr("full boost"), ">12"),
            (tr_format("at {0:.0f}", asked.held), ">9"),
            (tr_format("pull {0:.0f}", asked.geared), ">10"),
            (tr("back-pr."), ">9"),
            (tr("WG"), ">6"),
            (tr("price"), ">9"),
            (tr("arrives"), ">12"),
        )
        _out("  " + " ".join(format(head, width) for head, width in heads))
        for one in found:
            f, turbo = one.lines[number].figures, by_id[one.turbo.id]
            mark = "*" if one.turbo.id == project.turbo else " "
            price = str(turbo.fit.price) if turbo.fit.price.si > 0.0 else "–"
            gate = f"{100 * f.opening:.0f} %" if f.opening == f.opening else "–"
            back = f"{f.back_pressure:.2f}" if f.back_pressure == f.back_pressure else "–"
            _out(
                f"{mark} {one.turbo.name[:34]:34s} {figure(f.power, 'power', units):>9s} "
                f"{figure(f.spool, 'rotation', units):>12s} {_seconds(one.held[number]):>9s} "
                f"{_seconds(one.geared[number]):>10s} {back:>9s} {gate:>6s} {price:>9s} "
                f"{turbo.fit.here_by or '–':>12s}"
            )
        _out()


def schools(project: Project, found: Sequence[ManifoldType]) -> None:
    """Manifolds of every school, a row each."""
    units = project.shown_units
    late = boost_is_delayed(project, found)
    heads = (
        (tr("manifold"), "<20"),
        (tr("power"), ">9"),
        (tr("turbo alone" if late else "full boost"), ">12"),
        (tr_format("at {0:.0f}", project.goal.pedal_at.si), ">9"),
        (tr("back-pr."), ">9"),
        (tr("gas"), ">9"),
        (tr("volume"), ">8"),
        (tr("mass"), ">8"),
        (tr("welds"), ">6"),
        (tr("hours"), ">6"),
        (tr("price"), ">8"),
        (tr("cycles"), ">9"),
    )
    _out(" ".join(format(head, width) for head, width in heads))
    for s in found:
        threshold = figure(s.threshold, "rotation", units) if s.threshold == s.threshold else "–"
        seconds = "–" if s.seconds != s.seconds else tr("never") if math.isinf(s.seconds) else f"{s.seconds:.2f} s"
        _out(
            f"{tr(s.title)[:20]:20s} {figure(s.power, 'power', units):>9s} {threshold:>12s} {seconds:>9s} {s.ratio:9.2f} "
            f"{figure(s.gas, 'temperature', units):>9s} {1e3 * s.volume:6.2f} L {s.mass:5.1f} kg {s.welds:6d} {s.hours:6.1f} "
            f"{s.money:6.0f} € {cycles_text(s.cycles):>9s}"
        )
    _out(tr_format("cycles: heat cycles to a crack; rough guide, within a factor of {0:.0f}", life.BAND))
    _out()


_MARKS = {"runs": "!", "more": "!", "falls": "=", "stays": "="}


def control(project: Project, found: Control) -> None:
    """What the gate holds over engine speed, its hoses, and how it is hooked up."""
    units = project.shown_units
    columns = [(tr("spring only"), found.alone)]
    if found.most:
        columns += [(tr("as set"), found.now), (tr("solenoid duty"), found.most)]
    _out(" ".join([format(tr("engine speed"), "<13"), *(format(head, ">14") for head, _ in columns)]))
    for speed in [h.speed for h in found.alone]:
        row = []
        for _, points in columns:
            there = next((h for h in points if abs(h.speed - speed) < 1.0), None)
            row.append("–" if there is None else held_boost(there.boost, units))
        _out(f"{speed:9.0f} rpm " + " ".join(format(text, ">14") for text in row))
    if not found.actuator.said:
        _out(unsaid(found, units))
    if found.duty == found.duty:
        _out(tr_format("{0} with the solenoid at {1:.0f} % duty", figure(found.asked, "pressure_gauge", units), 100.0 * found.duty))
    if found.overshoot is not None:
        _out(tr_format("Flooring the pedal overshoots by about {0}", figure(found.overshoot.over, "pressure_gauge", units)))
    _out()
    for line in found.lines:
        off = tr("pinched") if line.key == "vent" else tr("off")
        boost = held_boost(line.boost, units)
        _out(f"{_MARKS[line.what]} {line.letter}  {line.begin} → {line.end};  {off}: {boost}, {tr(WHAT[line.what])}")
    for number, step in enumerate(steps(found), 1):
        _out(f"  {number}. {render(step, units)}")
    for sentence in found.plumbed:
        _out(tr_format("As fitted: {0}", render(sentence, units)))
    for sentence in found.relief:
        _out(render(sentence, units))
    _out()


def around(project: Project, found: HotSideReport) -> None:
    """Heat, losses and distances of the hot side, what probes show, how it is hung."""
    units = project.shown_units
    heads = (("loss", ">12"), ("power", ">9"), ("gas", ">9"), ("metal", ">9"))
    _out(" ".join([format(tr("hot side"), "<24"), *(format(tr(head), width) for head, width in heads), format(tr("clearance"), ">20")]))
    rubber = next(i for i, thing in enumerate(THINGS) if thing.key == "rubber")
    for piece in found.parts.pieces:
        title = tr("Turbine housing") if piece.run == "turbine" else found.titles.get(piece.id, piece.id)
        cost = "–" if piece.cost != piece.cost else rough_figure(piece.cost, "power", units)
        hot = "–" if piece.metal != piece.metal else figure(piece.metal, "temperature", units)
        gap = ""
        if piece.gaps:
            bare, shielded = (tr("bay too hot") if math.isinf(g) else rough_figure(g, "length", units) for g in piece.gaps[rubber])
            gap = f"{bare} / {shielded}"
        _out(
            f"{title[:24]:<24} {figure(piece.drop, 'pressure_difference', units):>12} {cost:>9} "
            f"{figure(piece.gas, 'temperature', units):>9} {hot:>9} {gap:>20}"
        )
    _out(
        tr_format(
            "Clearance to: {0}, bare and with a bright shield, at the hottest full load and after shut-down", tr(THINGS[rubber].title)
        )
    )
    for probe in found.parts.probes:
        _out(
            tr_format(
                "{0}: gas of {1} reads {2}",
                place_words(found, probe.place),
                figure(probe.gas, "temperature", units),
                figure(probe.shown, "temperature", units),
            )
        )
    for sentence in (told_boss(found), *told_hung(found), *found.notes):
        _out(render(sentence, units))
    _out()


def towed(project: Project, found: TowingReport) -> None:
    """A train on its hill over engine speed, and what its driver has to know."""
    units = project.shown_units
    if found.hill is not None:
        _out(" ".join((format(tr("engine speed"), "<13"), format(tr("gas before the turbine"), ">24"))))
        for speed, gas in zip(found.hill.speeds, found.hill.gas, strict=True):
            _out(f"{speed:9.0f} rpm {figure(float(gas), 'temperature', units) if gas == gas else '–':>24}")
    for brake in found.brakes:
        _out(
            tr_format(
                "{0:.0f} rpm: the brake builds {1} and holds {2}",
                brake.speed,
                figure(brake.pressure, "pressure_gauge", units),
                figure(brake.power, "power", units),
            )
        )
    for sentence in towing(found, spark=project.engine.fuel != "diesel"):
        _out(render(sentence, units))
    _out()


WIDEST = 40  # characters of a cell in a list


def listing(found: Listing) -> None:
    """A list, its columns as wide as they are; a cell that is longer than `WIDEST` goes on below."""
    heads = [tr(head) for head in found.columns]
    table = [heads, *(list(row) for row in found.rows)]
    wide = [min(max(len(row[n]) for row in table), WIDEST) for n in range(len(heads))]
    _out(tr(found.title))
    if not found.rows:
        _out(tr(found.empty))
        return
    for row in table:
        cells = [textwrap.wrap(cell, WIDEST) or [""] for cell in row]
        for parts in itertools.zip_longest(*cells, fillvalue=""):
            _out("  ".join(f"{part:<{w}}" for part, w in zip(parts, wide, strict=True)).rstrip())
    _out()


def connections(project: Project) -> None:
    """Every line of the connection list with its state and what the rules say."""
    rows = lines_of(project)
    said: dict[str, list[str]] = {}
    for finding in findings(rows):
        said.setdefault(finding.key, []).append(f"{STATE_MARKS[finding.state]} {render(finding.text, project.shown_units)}")
    wide, named, placed = (max((len(getattr(row, what)) for row in rows), default=4) for what in ("key", "name", "where"))
    for row in rows:
        decided = tr(DECISIONS[row.decision]) if row.kind == "port" else tr(MADE.get(row.made, ""))
        _out(f"{row.key:<{wide}}  {tr(KINDS[row.kind]):<7} {row.name:<{named}} {row.where:<{placed}} {decided:<22} {tr(STATES[row.state])}")
        for line in said.get(row.key, ()):
            _out(f"{'':<{wide}}  {line}")
    _out(tr_format("{0} lines", len(rows)))


def pump(project: Project, found: Sequence[PumpSetting]) -> None:
    """The pump of a diesel, a row for each setting, and how far it may go."""
    if not found:
        return
    units = project.shown_units
    heads = (
        (tr("pump"), "<24"),
        (tr("injection"), ">12"),
        (tr("least lambda"), ">13"),
        (tr("hottest gas"), ">12"),
        (tr("power"), ">9"),
        (tr("torque"), ">9"),
    )
    _out("  " + " ".join(format(head, width) for head, width in heads))
    for one in found:
        _out(
            f"{'*' if one.now else ' '} {render(one.title, units):24s} {figure(one.gives, 'injection', units):>12s} {one.least:13.2f} "
            f"{figure(one.gas, 'temperature', units):>12s} {figure(one.power, 'power', units):>9s} "
            f"{figure(one.torque, 'torque', units):>9s}"
            f"  {STATE_MARKS[one.state]}"
        )
    for sentence in turned(tuple(found), project.goal.target_power.si):
        _out(render(sentence, units))
    _out()


def pulleys(project: Project, found: Sequence[Pulley]) -> None:
    """Every pulley of a blower, a row each, and which makes the boost that is wanted."""
    if not found:
        return
    units, brief = project.shown_units, project.goal
    best = for_boost(found, brief.target_boost.si, project.blower.rotor_limit.si)
    heads = (
        (tr("pulley"), "<10"),
        (tr("ratio"), ">6"),
        (tr("boost"), ">10"),
        (tr("power"), ">9"),
        (tr("by the belt"), ">12"),
        (tr("sustains"), ">9"),
        (tr("slip"), ">6"),
        (tr("rotors"), ">11"),
    )
    _out("  " + " ".join(format(head, width) for head, width in heads))
    for one in found:
        name = tr_format("{0} teeth", one.teeth) if one.teeth else figure(one.size, "length", units)
        mark = "*" if best is not None and one == best else " "
        _out(
            f"{mark} {name:10s} {one.ratio:6.2f} {figure(one.boost, 'pressure_gauge', units):>10s} "
            f"{figure(one.power, 'power', units):>9s} {figure(one.belt_power, 'power', units):>12s} "
            f"{one.carried:8.1f}x {100 * one.slip:4.1f} % {figure(one.speed, 'rotation', units):>11s}"
        )
    if best is not None:
        name = tr_format("{0} teeth", best.teeth) if best.teeth else figure(best.size, "length", units)
        _out(tr_format("* {0} makes the target {1}", name, brief.target_boost))
    else:
        _out(tr_format("no pulley makes {0} with rotors below {1}", brief.target_boost, project.blower.rotor_limit))


def designs(project: Project, found: Designs) -> None:
    """Designs that a search found, one block each with what binds it; where there is none, what stands in the way
    and the nearest possible target."""
    units = project.shown_units
    _out(tr_format("{0} designs solved, {1} different ones meet all requirements:", found.tried, len(found.designs)))
    for number, one in enumerate(found.designs, 1):
        _design(found, one, str(number), units, found.trades[number - 1] if found.trades else ())
    for relief in found.reliefs:
        _out(gain(relief, units))
    if found.missed is not None and found.why is not None:
        sizes = ", ".join(found.missed.sizes.values())
        _out(tr_format("left out: {0} ({1}: {2})", sizes, tr(found.why.title), render(found.why.text, units)))
    if found.designs:
        return
    for text in obstacles(found, units):
        _out(tr_format("in the way: {0}", text))
    if found.nearest is not None:
        _out(tr("nearest possible:"))
        _design(found, found.nearest, "*", units, ())


def _design(found: Designs, one: Design, mark: str, units: Mapping[str, str], trades: Sequence[Trade]) -> None:
    _out(f"{mark}  {headline(one, units)}; {tr(one.worst)}")
    _out("   " + ", ".join(f"{axis.title}: {one.sizes[axis.key]}" for axis in found.axes))
    bound = [tr(v.title) for v in binding(one)]
    if bound:
        _out("   " + tr_format("limited by: {0}", ", ".join(bound)))
    for trade in trades:
        if trade.other is not None:
            _out("   " + price(trade, units))


def ranked(project: Project, found: Sequence[CatalogueMatch], looked_at: int) -> None:
    """Turbos ranked in a build, the best first."""
    units = project.shown_units
    _out(tr_format("{0} turbos and housings tried; the best, solved over the whole rev range:", looked_at))
    for number, one in enumerate(found, 1):
        f = one.figures
        _out(
            tr_format(
                "{0:3d}  {1}, A/R {2:.2f}: {3}, full boost from {4}, surge {5:.0f} %, choke {6:.0f} %, speed {7:.0f} %",
                number,
                visible(one.turbo.name),
                one.housing / INCH,
                figure(f.power, "power", units),
                figure(f.spool, "rotation", units),
                100 * f.surge,
                100 * f.choke,
                100 * f.overspeed,
            )
        )

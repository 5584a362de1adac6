"""Results as plain text on standard output."""

from __future__ import annotations

from collections.abc import Sequence

from zarvik.core.airpath import stations as st
from zarvik.core.airpath.point import Point
from zarvik.core.answer import Answer
from zarvik.core.working import Sheet
from zarvik.core.working.sensitivity import Influence
from zarvik.project.document import Project
from zarvik.project.plain import visible
from zarvik.project.sentences import advice, change, exact, figure, render, words

STATE_MARKS = {"holds": "=", "tight": "!", "fails": "X", "open": "?"}


def _out(text: str = "") -> None:
    """One or more lines, with nothing in them that a terminal would obey."""
    print("\n".join(visible(line) for line in text.split("\n")))


def line(points: Sequence[Point], project: Project) -> None:
    """The full-load line, one row a point."""
    units = project.shown_units
    _out(
        "engine speed      boost       power      torque        air   ratio  wheel speed  map     gate"
    )
    for point in points:
        if not point.closure.solved:
            _out(f"{point.speed:9.0f} rpm  not solved: {render(point.closure.reason, {})}")
            continue
        t = point.turbo
        _out(
            f"{point.speed:9.0f} rpm {figure(point.boost, 'pressure_gauge', units):>10s} "
            f"{figure(point.power, 'power', units):>11s} "
            f"{figure(point.torque, 'torque', units):>11s} "
            f"{figure(point.air, 'mass_flow', units):>12s} {t.ratio:6.2f} "
            f"{t.real_speed:8.0f} rpm  {t.region:7s} {t.regime}"
        )
    _out()


def point(point: Point, project: Project) -> None:
    """Every station of a point, turbine and gate, and how the sums close."""
    units = project.shown_units
    _out(f"at {point.speed:.0f} rpm")
    if not point.closure.solved:
        _out(f"  not solved: {render(point.closure.reason, {})}")
        return
    names = dict(st.TITLES)
    titles = {s.end: f"  after {s.name}" for s in point.stretches}
    shown = {name: names.get(name) or titles.get(name, name) for name in point.stations}
    wide = max(len(title) for title in shown.values())
    _out(f"  {'station':{wide}s} {'total pressure':>18s} {'temperature':>12s} {'Mach':>7s}")
    for name, station in point.stations.items():
        _out(
            f"  {shown[name]:{wide}s} "
            f"{figure(station.pressure, 'pressure_absolute', units) + ' abs':>18s} "
            f"{figure(station.temperature, 'temperature', units):>12s} {station.mach:7.3f}"
        )
    closure, turbo = point.closure, point.turbo
    if turbo.turbine_power > 0.0:
        _out(
            f"  gate {turbo.regime}, {100 * turbo.opening:.0f} % open; turbine at expansion "
            f"{turbo.expansion:.2f}, u/c0 {turbo.blade_ratio:.2f}, "
            f"{100 * turbo.turbine_efficiency:.0f} % efficient"
        )
    _out(
        f"  closes: flow {closure.mass:.1e}, pressure {closure.pressure:.1e}, energy "
        f"{closure.energy:.1e}, shaft {closure.shaft:.1e} (relative), {closure.iterations} steps"
    )


def one_sheet(sheet: Sheet, project: Project) -> None:
    """A working sheet: the number, its relation, the values in it, the source."""
    units = project.shown_units
    result = exact(sheet.result.value, sheet.result.kind, units)
    _out(f"\n  {words(sheet.title, units)}: {result}\n    {sheet.relation}")
    for line in sheet.lines:
        same = sheet.result.value if line.figure.kind == sheet.result.kind else None
        value = exact(line.figure.value, line.figure.kind, units, result=same)
        _out(f"      {line.symbol:7s} {value:>14s}  {words(line.meaning, units)}")
    _out(f"    {sheet.source}")


def movers(found: Sequence[Influence], kind: str, project: Project) -> None:
    """What moves a number: each doubtful input with its change down and up."""
    units = project.shown_units
    most = max((i.size for i in found), default=0.0)
    for influence in found:
        if influence.size > 0.0:
            down = change(influence.down, kind, units, most=most)
            up = change(influence.up, kind, units, most=most)
            lever = influence.lever
            _out(f"      {lever.title:36s} {render(lever.step, units):>10s} {down:>14s} {up:>14s}")


def verdicts(found: Answer, project: Project) -> None:
    """Every verdict with its cure, worst first."""
    units = project.shown_units
    for verdict in found.verdicts:
        mark = STATE_MARKS[verdict.state]
        _out(f"[{mark}] {verdict.state:5s}  {verdict.title}: {render(verdict.text, units)}")
        if verdict.cure is not None:
            _out(f"           cure: {advice(verdict, units)}")

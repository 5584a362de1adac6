"""From nothing to a file: a first design, a compressor map."""

from __future__ import annotations

import argparse
from pathlib import Path

from zarvik.commands.terminal import GOOD, not_over
from zarvik.formats import map_csv, project_file, shipped
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.edits.turbo_edits import add_turbo
from zarvik.project.first_design.first_design import design
from zarvik.project.language.language import tr_format
from zarvik.project.language.plain import visible
from zarvik.project.uncertainty.known import BuilderInput, faults
from zarvik.project.units.units import parse


def check_map(given: argparse.Namespace) -> int:
    """Check a map, take it into a project, or write the chosen one of a project."""
    path = Path(given.csv)
    if given.out_of:
        chosen = project_file.read(given.out_of).chosen
        if chosen is None:
            raise project_file.FileError(tr_format("“{0}” has no turbo chosen", given.out_of))
        not_over(path, force=given.force)
        map_csv.write(chosen.chart, path, *([chosen.note] if chosen.note else []))
        print(tr_format("wrote {0}: {1}", path, visible(chosen.name)))
        return GOOD
    read = map_csv.read_noted(path)
    chart = read.chart
    for note in read.notes:
        print(note)
    print(
        tr_format(
            "{0}: {1} speed lines up to {2:.0f} rpm, {3:.3f} kg/s at most, ratio {4:.2f}, best efficiency {5:.0f} %; at ratio 2.2 from "
            "{6:.3f} to {7:.3f} kg/s",
            visible(chart.name),
            len(chart.lines),
            chart.maximum_speed,
            chart.lines[-1].flow[-1],
            chart.lines[-1].ratio[0],
            100 * max(max(q.efficiency) for q in chart.lines),
            chart.surge_flow(2.2),
            chart.flow_limit(2.2),
        )
    )
    if given.into:
        project = project_file.read(given.into)
        changed = add_turbo(project, Turbo.of(chart, map_csv.key_of(path), estimated="efficiency" if read.estimated else ""))
        project_file.write(changed, given.into)
        print(tr_format("{0}: now a candidate beside {1} others", given.into, len(project.turbos)))
    return GOOD


def first_design(given: argparse.Namespace) -> int:
    """A first design from the command line."""
    path = Path(given.file)
    not_over(path, force=given.force)

    def si(text: str | None, kind: str, unit: str) -> float | None:
        return parse(text, kind, default_unit=unit).si if text is not None else None

    def must(text: str, kind: str, unit: str) -> float:
        return parse(text, kind, default_unit=unit).si

    redline = must(given.redline, "rotation", "rpm")
    known = BuilderInput(
        kind=given.engine,
        cylinders=given.cylinders,
        litres=must(given.litres, "volume", "L"),
        redline=redline,
        power=si(given.power, "power", "hp"),
        fuel=given.fuel,
        stock_power=si(given.stock_power, "power", "hp"),
        stock_speed=si(given.stock_speed, "rotation", "rpm"),
        compression=si(given.compression, "number", ""),
        altitude=must(given.altitude, "length", "m"),
        day=must(given.day, "temperature", "°C"),
        matters=given.matters,
        name=given.name,
        layout=given.layout,
        stock_boost=si(given.stock_boost, "pressure_gauge", "bar") or 0.0,
        charger=given.charger,
        count=given.turbos,
        cooling=given.cooling,
        boost=si(given.boost, "pressure_gauge", "bar"),
        big_power=si(given.big_power, "power", "hp"),
        turbo=given.turbo,
    )
    wrong = faults(known)
    if given.turbo is not None and given.turbo not in shipped.turbo_names():
        wrong.append(tr_format("there is no turbo “{0}” in the catalogue: {1}", given.turbo, ", ".join(shipped.turbo_names())))
    if wrong:
        raise project_file.FileError("; ".join(wrong))
    made = design(known, {name: shipped.turbo(name) for name in shipped.turbo_names()})
    project = made.noted
    project_file.write(project, path)
    charger = project.blower.name if project.blower.fitted else f"{project.turbos_fitted} × {project.turbos[0].name}"
    print(tr_format("wrote {0}: {1}, {2}, {3} values assumed", path, charger, project.goal.target_boost, len(project.assumed)))
    for text in made.obstacles:
        print(tr_format("in the way: {0}", text))
    return GOOD

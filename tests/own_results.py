"""What the program made of some documents earlier: a regression check, which validates nothing.

It says that a number has moved, not which of the two is right; what is right is checked against sources outside the project in the other
tests. After a change that is meant, run `.venv/bin/python tests/own_results.py` (with labels: these alone) and read what it prints before
the file is committed.
"""

from __future__ import annotations

import dataclasses
import enum
import io
import json
import lzma
import math
import re
import sys
import tempfile
from collections.abc import Iterator, Mapping, Sequence
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from typing import Any

import numpy as np

from zarvik.cli import main
from zarvik.core.airpath.solution import Solver
from zarvik.core.answer.answer import Answer
from zarvik.core.common.sentences import Sentence
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.limits import limits
from zarvik.core.whole_build.build import Build, Solved
from zarvik.formats import project_file, shipped
from zarvik.formats.results import point_tree
from zarvik.project.connections.connection_list import TEMPLATES
from zarvik.project.connections.lists import ALL_LISTS
from zarvik.project.document.document import Project
from zarvik.project.edits import edits
from zarvik.project.units.rendering import render
from zarvik.project.units.units import Quantity, parse
from zarvik.workspace import jobs
from zarvik.workspace.job_store import Job, JobError
from zarvik.workspace.solving import solve

STORE = Path(__file__).parent / "reference" / "own_results.json.xz"
CLOSE = 1e-6  # share by which a number may differ: another processor, another order of sums
ONE_IN = 9  # of the points of a sweep that are kept
MANY = 24  # numbers of a row that are kept one by one; of more their sum and their spread

# First designs, as they are asked for on the command line
NEW = {
    "four": "--litres 2.0 --power 300hp",
    "six": "--litres 3.0 --cylinders 6 --power 500hp --fuel e85 --stock-power 220hp --stock-speed 6300",
    "diesel": "--litres 2.8 --engine diesel --fuel diesel --power 220hp --redline 4500 --matters top",
    "eight": "--litres 5.7 --cylinders 8 --layout vee --power 700hp --altitude 1500m --day 38C",
    "blown": "--litres 1.3 --charger blower --power 160hp --cooling water",
    "boosted": "--litres 1.8 --boost 0.7bar --stock-boost 0.4bar --stock-power 180hp --engine two --fuel petrol95 --cooling none",
}
# Demos with something changed that they do not have as they ship
CHANGED: dict[str, tuple[str, dict[str, str]]] = {
    "tarn sooner": ("tarn", {"goal.target_boost": "1.4 bar", "goal.full_boost_from": "2600 rpm", "engine.bore": "91 mm"}),
    "tarn hot": (
        "tarn",
        {"goal.design_day": "48 °C", "goal.altitude": "2900 m", "intercooler.rating_confidence": "60 %", "car.low_gears": "300 N·m"},
    ),
    "tarn small": (
        "tarn",
        {
            "exhaust.e-down.bore": "48 mm",
            "cold_pipe.c-run.bore": "42 mm",
            "wastegate.air_metering": "yes",
            "wastegate.blow_off_outlet": "air",
            "wastegate.outlet": "air",
            "wastegate.spring_rating": "bench",
            "wastegate.control": "four",
            "radiator.grille_opening": "30 %",
            "radiator.mounting": "open",
            "radiator.fan_flow": "0 m³/h",
        },
    ),
    "tarn lines": (
        "tarn",
        {
            "fluid_lines.drain_bore": "10 mm",
            "fluid_lines.drain_outlet": "below",
            "fluid_lines.bearings": "ball",
            "fluid_lines.injector_flow": "380 cc/min",
            "fluid_lines.pump_flow": "120 L/h",
            "fluid_lines.regulator_reference": "open",
            "air_meter.kind": "film",
            "air_meter.max_reading": "600 kg/h",
            "ports.runner_width": "60 mm",
            "ports.throat": "27 mm",
            "ports.valve_diameter": "31 mm",
            "turbo_coolant.bore": "5 mm",
            "turbo_coolant.return_height": "0 mm",
            "runners.short_length": "150 mm",
            "breather.ring_condition": "worn",
            "breather.bore": "8 mm",
            "fittings.turbo_mass": "9 kg",
            "fittings.full_load_share": "95 %",
            "leak_test.start_pressure": "0.7 bar",
            "leak_test.end_pressure": "0.2 bar",
            "leak_test.volume": "12 L",
            "fuel_rail.thread": "M10",
            "workshop.used_in": "salt",
        },
    ),
    "skerry steep": (
        "skerry",
        {"engine.compression": "15", "wastegate.spring": "1.6 bar", "towing.mass": "3500 kg", "towing.brake": "fitted"},
    ),
    "skerry dry": (
        "skerry",
        {"turbo_coolant.connection": "none", "engine.limiter": "none", "towing.gear_ratio": "1", "wastegate.kind": "inside"},
    ),
    "moth fast": ("moth", {"blower.pulley": "52 mm", "goal.target_power": "190 hp", "blower.belt_ribs": "4"}),
    "fell thin": (
        "fell",
        {"fittings.full_load_share": "90 %", "goal.target_boost": "1.3 bar", "wastegate.diameter": "30 mm", "engine.fuel": "petrol98"},
    ),
}
DEMOS = ("fell", "moth", "skerry", "tarn")
PRINTED = ("weigh", "hotside", "register")  # the last two of the changed demos
LONG = ("rank", "design --tries 30 --most 2", "manifold")  # half a minute each with ten cylinders: of two demos
OF_LONG = ("tarn", "moth")
# Of the demos alone; the last one changes the file
SAID = (
    "check",
    "solve --sweep 2000:6000:1000",
    "solve --rpm 4000 --calculation boost",
    *LONG,
    *(f"export --what {what}" for what in ("cutlist", "bends")),
    *(f"joints --list {name}" for name in ALL_LISTS),
    *(f"joints --template {name} --list ports" for name in TEMPLATES),
)
# Never walked into: what was given to a question, not what was found
GIVEN = (Solver, Build, Solved, Answer, Project, CompressorMap)


def document(label: str) -> Project:
    """The document of a label."""
    if label in CHANGED:
        demo, changes = CHANGED[label]
        project = shipped.demo(demo)
        for place, text in changes.items():
            old = edits.get(project, place)
            project = edits.with_value(project, place, parse(text, old.kind) if isinstance(old, Quantity) else text)
        return project
    if label in DEMOS:
        return shipped.demo(label)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "new.zarvik.json"
        with redirect_stdout(io.StringIO()):
            main(["new", str(path), *NEW[label].split()])
        return project_file.loads(path.read_bytes(), path.name)


ENTRIES = "entries and limits"  # of no document: what may be entered, what stands there at first, and what each check goes by
LABELS = (ENTRIES, *DEMOS, *CHANGED, *NEW)


def asked(label: str, project: Project) -> dict[str, Job]:
    """What the window finds out beside the answer; all of it for the demos."""
    answer = solve(project).answer
    needed = {} if answer is None else {"needed": jobs.needed_of(answer)}
    if label not in DEMOS:
        return needed | {"cuts": jobs.cuts_of(project)}
    return needed | {
        "weighed": jobs.evaluated(project),
        "cuts": jobs.cuts_of(project),
        "schools": jobs.schools_of(project),
        "around": jobs.around_of(project),
        "holes": jobs.holes_of(project),
        "control": jobs.control_of(project),
        "drawings": jobs.sheets_of(project),
        "materials": jobs.materials_of(project, "cold_pipe"),
        "towed": jobs.towed_of(project),
        "pump": jobs.settings_of(project),
        "housings": jobs.pulleys_of(project) if project.blower.fitted else jobs.housings_of(project),
    }


class Quiet:
    """Progress that nobody looks at."""

    def __call__(self, share: float = math.nan) -> None:
        """Go on."""

    def show(self, value: object) -> None:
        """Nobody looks."""

    def rest(self, seconds: float) -> None:
        """Nobody asks for something newer."""


def flat(value: object, path: str) -> Iterator[tuple[str, str | float]]:
    """The words and numbers in what was found, each with the way to it."""
    if isinstance(value, GIVEN) or callable(value):
        return
    if isinstance(value, Sentence):
        yield path, render(value, {})
    elif value is None or isinstance(value, bool | str | enum.Enum):
        yield path, str(value)
    elif isinstance(value, int | float | np.number):
        yield path, float(value)
    elif isinstance(value, np.ndarray):
        yield from _row(path, value)
    elif dataclasses.is_dataclass(value):
        for field in dataclasses.fields(value):
            yield from flat(getattr(value, field.name), f"{path}.{field.name}")
    elif isinstance(value, Mapping):
        for key in value:
            yield from flat(value[key], f"{path}[{key}]")
    elif isinstance(value, list | tuple | set | frozenset):
        items: list[Any] = sorted(value, key=str) if isinstance(value, set | frozenset) else list(value)
        if len(items) > MANY and all(isinstance(x, int | float) for x in items):
            yield from _row(path, np.array(items))
        else:
            for number, item in enumerate(items):
                yield from flat(item, f"{path}[{number}]")


def _row(path: str, row: np.ndarray) -> Iterator[tuple[str, str | float]]:
    if row.dtype.kind not in "fiub":
        return
    if row.size <= MANY:
        for number, x in enumerate(row.ravel()):
            yield f"{path}[{number}]", float(x)
    else:
        good = row[np.isfinite(row)].astype(float)
        yield f"{path}.count", float(row.size)
        yield f"{path}.sum", float(good.sum())
        yield f"{path}.squares", float((good**2).sum())


def answered(project: Project) -> dict[str, Any]:
    """Checks with their cures as they stand untried, and some points; what is in the way where there is no answer."""
    found = solve(project)
    if found.answer is None:
        return {"problems": found.problems}
    return {"checks": found.answer.check_results, "points": [point_tree(point) for point in found.answer.sweep[::ONE_IN]]}


def results(label: str) -> dict[str, str | float]:
    """Everything that is kept of a document."""
    if label == ENTRIES:
        records = {name: one for name, one in vars(limits).items() if isinstance(one, limits.Limit)}
        return dict(flat(project_file.schema(), "schema")) | dict(flat(records, "limits")) | dict(flat(KINDS, "pieces"))
    project = document(label)
    found: dict[str, str | float] = dict(flat(json.loads(project.model_dump_json()), "document")) if label in NEW else {}
    with tempfile.TemporaryDirectory() as folder:
        path, out = Path(folder) / "it.zarvik.json", Path(folder) / "out.json"
        project_file.write(project, path)
        for command in PRINTED if label in DEMOS else PRINTED[1:] if label in CHANGED else ("solve",) if label == "four" else ():
            heard = io.StringIO()
            with redirect_stdout(heard):
                main([command, str(path)])
            found |= {f"{command}:{n}": line for n, line in enumerate(heard.getvalue().splitlines())}
        for line in SAID if label in DEMOS else ():
            if line in LONG and label not in OF_LONG:
                continue
            word, *rest = line.split()
            heard = io.StringIO()
            with redirect_stdout(heard), redirect_stderr(io.StringIO()):
                main([word, str(path), *rest])
            found |= {f"{line}:{n}": text for n, text in enumerate(heard.getvalue().splitlines())}
        if label in DEMOS:
            with redirect_stdout(io.StringIO()):
                main(["solve", str(path), "--calculations", "--json", str(out)])
            tree = json.loads(out.read_text("utf-8"))
            tree["points"] = tree["points"][::ONE_IN]
            found |= dict(flat(tree, "solved"))
    found |= dict(flat(answered(project), "answer"))
    for name, job in asked(label, project).items():
        try:
            found |= dict(flat(job.work(Quiet()), name))  # type: ignore[arg-type]
        except JobError as error:
            found[name] = str(error)
    return {key: value if isinstance(value, str) else float(f"{value:.9g}") for key, value in found.items()}


NUMBER = re.compile(r"\d+(?:\.\d+)?(?:e[+-]?\d+)?")


def alike(one: str | float, two: str | float) -> bool:
    """The same words, the same numbers; a figure that is printed may round the other way in its last place."""
    if isinstance(one, str) and isinstance(two, str):
        if one == two:
            return True
        a, b = (s.replace("\N{NO-BREAK SPACE}", "") for s in (one, two))
        if NUMBER.sub("#", a) != NUMBER.sub("#", b):
            return False
        return all(x == y or _rounds(x, y) for x, y in zip(NUMBER.findall(a), NUMBER.findall(b), strict=True))
    if isinstance(one, str) or isinstance(two, str):
        return False
    return one == two or (one != one and two != two) or abs(one - two) <= CLOSE * max(abs(one), abs(two)) + 1e-12


def _rounds(one: str, two: str) -> bool:
    places = len(one.partition(".")[2])
    long = len(one.replace(".", "")) > 4  # written out, not rounded for reading
    return not long and "e" not in one + two and abs(float(one) - float(two)) <= 1.001 * 10.0**-places and places > 0


def differences(old: Mapping[str, str | float], new: Mapping[str, str | float]) -> list[str]:
    """What is there no more, what is new, and what has changed."""
    found = [f"- {key}: {old[key]}" for key in old.keys() - new.keys()] + [f"+ {key}: {new[key]}" for key in new.keys() - old.keys()]
    return sorted(found) + [f"  {key}: {old[key]} -> {new[key]}" for key in old if key in new and not alike(old[key], new[key])]


def stored() -> dict[str, dict[str, str | float]]:
    """Results earlier, by label."""
    return json.loads(lzma.decompress(STORE.read_bytes()))


def refresh(labels: Sequence[str]) -> None:
    """Find everything anew, of some `labels` or of all, say what has changed, and keep it."""
    old = stored() if STORE.exists() else {}
    new = {label: old.get(label, {}) for label in LABELS}
    for label in labels or LABELS:
        new[label] = results(label)
        changes = differences(old.get(label, {}), new[label])
        print(f"{label}: {len(new[label])} results, {len(changes)} changed")
        print("\n".join(changes[:40]) if label in old else "")
    STORE.write_bytes(lzma.compress(json.dumps(new, ensure_ascii=False, separators=(",", ":")).encode(), preset=9))


if __name__ == "__main__":
    sys.path.insert(0, str(Path(__file__).parent))
    refresh(sys.argv[1:])

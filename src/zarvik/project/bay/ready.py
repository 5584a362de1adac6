"""Engine bays for common layouts to begin with, from `data/ready_bays.csv`: made up, to be measured."""

from __future__ import annotations

import csv
from importlib import resources

from zarvik.project.bay.objects import new_object
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bay_object import EYE
from zarvik.project.document.places import with_value_at
from zarvik.project.layout.layout import head_of
from zarvik.project.units.units import parse

READY = {
    "lengthways": "Inline engine lengthways",
    "moving": "Inline engine lengthways, with all that moves",
    "across": "Inline engine across",
    "vee": "V engine",
    "flat": "Flat engine",
}
BEHIND = {"moving": "lengthways"}  # a bay that has all of another one too
ROLL = "2 °"  # of the engine on mounts that are not worn; common practice, no source
_SIZES = ("length", "width", "height", "diameter", "up", "out")
_NUMBERS = dict.fromkeys(_SIZES, "mm") | dict.fromkeys(("heading", "pitch", "turn_from", "turn_to"), "°")
_TEXTS = ("turns", "pivot", "slide", "pulleys")


def _rows() -> list[dict[str, str]]:
    text = (resources.files("zarvik.data") / "ready_bays.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    return [{key: value or "" for key, value in row.items()} for row in rows]


def usual_bay(project: Project) -> str:
    """The bay that fits an engine best: its key in `READY`."""
    if project.layout.head.banks == "vee":
        return "vee"
    return "across" if int(project.engine.cylinders.si) <= 4 else "lengthways"


def with_ready(project: Project, bay: str) -> Project:
    """The document with the objects of a ready bay (its key in `READY`) added, moved to where its last port is; all of them by eye. Raises
    ValueError where there are too many."""
    head = head_of(project)
    each = head.cylinders // head.banks
    last = 1e3 * head.spacing * (each - 1)
    rows = _rows()
    names = {row["name"] for row in rows if row["bay"] == bay}
    wanted = [row for row in rows if row["bay"] == bay or (row["bay"] == BEHIND.get(bay) and row["name"] not in names)]
    for row in wanted:
        shift = last if row["from"] == "last" else 0.0
        values = {name: f"{row[name]} {unit}" for name, unit in _NUMBERS.items() if row[name]}
        values |= {name: row[name] for name in _TEXTS if row[name]}
        if row["points"]:
            points = [[float(n) for n in part.split()] for part in row["points"].split(";")]
            values["points"] = "; ".join(f"{x + shift:g} {y:g} {z:g}" for x, y, z in points)
        else:
            values["along"] = f"{float(row['along']) + shift:g} mm"
        project, _ = new_object(project, row["kind"], name=row["name"], shape=row["shape"], measured=EYE, **values)
    if bay in BEHIND and project.layout.head.roll.si == 0.0:
        project = with_value_at(project, "layout.head.roll", parse(ROLL, "angle"))
    return project

"""Sizes that cannot stand beside each other are told at their place, and what can stays untold."""

from __future__ import annotations

import pytest

from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.edits import edits
from zarvik.project.edits.edits import with_value


def told(project: Project, **entries: str) -> set[str]:
    """Places of the problems of a document with these entries (`__` for a dot)."""
    for name, text in entries.items():
        place = name.replace("__", ".")
        field = edits.meta(project, place)
        project = with_value(project, place, field.read(text) if isinstance(field, QuantitySpec) else text)
    try:
        assemble(project)
    except ProjectProblems as error:
        return {p.place for p in error.problems}
    return set()


@pytest.mark.parametrize(
    ("entries", "place"),
    [
        # A valve of 38 mm is moved by a diaphragm of 60 to 80 mm: common practice, no source
        ({"wastegate__diaphragm": "20 mm"}, "wastegate.diaphragm"),
        # 2,462 kg/h through 20 mm: 0.684 kg/s over 1.2 kg/m3 and 314 mm2 are 1,814 m/s, five times the speed of sound
        ({"air_meter__kind": "film", "air_meter__bore": "20 mm", "air_meter__max_reading": "2462 kg/h"}, "air_meter.max_reading"),
        ({"air_meter__kind": "film", "air_meter__bore": "80 mm", "air_meter__max_reading": "50 kg/h"}, "air_meter.max_reading"),
        ({"goal__pedal_at": "9000 rpm"}, "goal.pedal_at"),
    ],
)
def test_a_slip_is_told_at_its_place(tarn: Project, entries: dict[str, str], place: str) -> None:
    """Alone, and nowhere else."""
    assert told(tarn, **entries) == {place}


@pytest.mark.parametrize(
    "entries",
    [
        {"wastegate__diaphragm": "65 mm"},
        {"air_meter__kind": "film", "air_meter__bore": "70 mm", "air_meter__max_reading": "640 kg/h"},
        {"air_meter__kind": "vane", "air_meter__bore": "60 mm", "air_meter__max_reading": "480 kg/h"},
    ],
)
def test_what_is_sold_is_no_slip(tarn: Project, entries: dict[str, str]) -> None:
    """A common film meter ends at 640 kg/h in 70 mm, 39 m/s (from memory); its like are not told."""
    assert told(tarn, **entries) == set()


def test_what_the_turbo_is_like_is_read(tarn: Project) -> None:
    """One that is cooled by oil alone has no water led through it, whatever hoses there are, and is judged so."""
    oil = with_value(with_value(tarn, "turbo_coolant.connection", "flows"), f"turbos.{tarn.turbo}.fit.cooling", "oil")
    assert assemble(oil).coolant.water == "none"
    assert assemble(with_value(oil, f"turbos.{tarn.turbo}.fit.cooling", "water")).coolant.water == "flows"

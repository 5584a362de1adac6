"""Every entry of the document stands on some page."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from driving import rest

from zarvik.formats import shipped
from zarvik.project.document.belonging import belongs
from zarvik.project.document.document import Project
from zarvik.project.document.parts.part import Part, field_meta
from zarvik.window.benches.goal.presenter import counting
from zarvik.window.frame.main_window import MainWindow

# In the header, and what "Choose this turbo" writes down
ELSEWHERE = {"units", "decision.name"}


def entries(part: Part, path: str = "") -> Iterator[str]:
    """Places of all entries of a document, but those of parts in lists."""
    for name in type(part).model_fields:
        value = getattr(part, name)
        if field_meta(part, name) is not None:
            yield path + name
        elif isinstance(value, Part):
            yield from entries(value, f"{path}{name}.")


@pytest.mark.parametrize("demo", ["tarn", "moth", "skerry"])
def test_every_entry_can_be_typed(open_window: object, demo: str) -> None:
    """Whatever a file can say of this build has a field on a page; what does not belong to it has none that is shown."""
    project: Project = shipped.demo(demo)
    window: MainWindow = open_window(project)  # type: ignore[operator]
    rest(window)
    found: dict[str, bool] = {}
    for key in window.benches:
        window.show_bench(key)
        bench = window.benches[key]
        for form in bench.forms_of_all_pages():
            form.refresh()
            for place in form.fields:
                found[place] = found.get(place, False) or place in form.asked
        found |= {place: True for place in bench.places() if place not in found}
    missing = [place for place in entries(project) if belongs(project, place) and place not in found and place not in ELSEWHERE]
    assert missing == []
    assert [place for place, asked in found.items() if asked and not belongs(project, place)] == []


def test_entries_of_a_pump_follow_how_it_is_said() -> None:
    """One figure for a pump that gives the same at every speed, none where a table says it or where lambda does."""
    engine = shipped.demo("skerry").engine
    shown = {how: counting(engine.model_copy(update={"fuel": "diesel", "fuelling": how})) for how in ("lambda", "stroke", "table")}
    assert {how: found["engine.delivery"] for how, found in shown.items()} == {"lambda": False, "stroke": True, "table": False}
    assert {how: found["engine.pump"] for how, found in shown.items()} == {"lambda": False, "stroke": True, "table": True}
    assert {how: found["engine.mixture"] for how, found in shown.items()} == {"lambda": True, "stroke": False, "table": False}

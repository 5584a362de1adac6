"""Oil, fuel and coolant with what flows in them."""

from __future__ import annotations

import re

import pytest
from CoolProp.CoolProp import PropsSI

from zarvik.core.answer.answer import Answer, answer
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.units.rendering import render
from zarvik.window.app import settle
from zarvik.window.benches.joints_services.fluid_lines.plumbing import FUEL, HOT_WATER, OIL, WATER, lanes_of
from zarvik.window.frame.main_window import MainWindow


def solved(project: Project) -> Answer:
    """A document with its answer."""
    return answer(assemble(project), ())


def first_number(words: str) -> float:
    """The first number of a text."""
    found = re.search(r"\d+(?:[\u00a0 ]\d{3})*(?:\.\d+)?", words)
    assert found is not None, words
    return float(found.group().replace("\u00a0", "").replace(" ", ""))


def test_lines_say_what_the_checks_say(tarn_answer: Answer) -> None:
    """One truth: the figures on the lines are those of the checks; an oil feed of 1 to 5 L/min, a coolant hose of 2 to 15 L/min
    (common practice, no source)."""
    units = {"pressure_gauge": "bar", "length": "mm"}
    lanes = {lane.fluid: lane for lane in lanes_of(tarn_answer, units)}
    said = {v.id: render(v.text, units) for v in tarn_answer.check_results}
    assert list(lanes) == [OIL, FUEL, WATER]
    feed, drain = lanes[OIL].pipes
    assert feed.flow in said["oil_feed"] and 1.0 <= first_number(feed.flow) <= 5.0
    assert drain.flow in said["oil_drain"]
    pump, rail = lanes[FUEL].pipes
    assert pump.flow.removeprefix("pump ") in said["fuel_pump"].replace("it gives", "gives")
    assert rail.flow.removeprefix("uses ") in said["fuel_pump"] and rail.state.partition(",")[0] in said["fuel_pump"]
    assert rail.state.partition(", ")[2] in said["injectors"]
    there, back = lanes[WATER].pipes
    assert 2.0 <= first_number(there.flow) <= 15.0 and first_number(back.flow) == pytest.approx(
        first_number(said["turbo_water"].partition(" by ")[2])
    )


def test_hot_water_against_a_library() -> None:
    """CoolProp: water at 90 °C."""
    assert pytest.approx(PropsSI("D", "T", 363.15, "P", 101325.0, "Water"), rel=1e-3) == HOT_WATER


def test_what_is_not_entered_is_told() -> None:
    """A blower has neither oil feed nor coolant; a diesel is injected by its pump; without sizes the lines say so."""
    assert [lane.fluid for lane in lanes_of(solved(shipped.demo("moth")), {})] == [FUEL]
    diesel = {lane.fluid: lane for lane in lanes_of(solved(shipped.demo("skerry")), {})}
    assert diesel[FUEL].pipes[1].flow == "injected"
    project = shipped.demo("tarn")
    for place in ("restrictor_bore", "drain_bore", "pump_flow", "injector_flow"):
        project = with_value(project, f"fluid_lines.{place}", getattr(project.fluid_lines, place).with_si(0.0))
    words = " ".join(p.flow + p.state for lane in lanes_of(solved(project), {}) for p in lane.pipes)
    for missing in ("no restrictor", "needs", "drain not entered", "pump not entered", "no injectors"):
        assert missing in words


def test_the_picture_follows(window: MainWindow) -> None:
    """It stands on the page of oil and fuel, and follows an entry."""
    window.show_bench("joints")
    bench = window.benches["joints"]
    bench.show_page("supply")
    assert settle(window)
    picture = bench.entries("supply").picture
    assert picture.isVisible() and picture.height() > 150 and "L/min" in picture.accessibleDescription()
    before = picture.accessibleDescription()
    bore = window.session.project.fluid_lines.restrictor_bore
    window.desk.edit("fluid_lines.restrictor_bore", bore.with_si(2.0 * bore.si))
    assert settle(window)
    assert picture.accessibleDescription() != before

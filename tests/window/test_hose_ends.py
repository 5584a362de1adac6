"""Hoses of the wastegate put from port to port in the plan."""

from __future__ import annotations

import itertools

import pytest
from driving import rest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from zarvik.core.answer.answer import answer
from zarvik.core.checks import CheckResult
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.boost_control.control import control
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.window.app import settle
from zarvik.window.benches.wastegate_exhaust.hose_ends import SHARED, fitted, with_hose
from zarvik.window.frame.main_window import MainWindow


def hoses_check(project: Project) -> CheckResult:
    """The check of hoses as they are fitted."""
    return next(v for v in answer(assemble(project), ()).check_results if v.id == "plumbing")


def planned(project: Project) -> list[tuple[str, str]]:
    """The hoses of the plan, by fitting the first of them where nothing is said."""
    found = control(project)
    assert found is not None
    actuator = found.actuator
    return fitted(with_hose(project, actuator, actuator.reference, "lower" if actuator.control == "none" else "in"))


@pytest.mark.parametrize("kind", ["none", "three", "four"])
def test_as_in_the_plan_nothing_is_wrong(kind: str) -> None:
    """Every hose of the plan fitted by hand leaves what the check finds good; one to a wrong port is found, put back it is good again."""
    project = with_value(shipped.demo("tarn"), "wastegate.control", kind)
    if kind == "four":
        project = with_value(project, "wastegate.ports_four", "12.34-14.23")
    for letter in "abcd":
        for end in ("", "_to"):
            project = with_value(project, f"wastegate.hose_{letter}{end}", "")
    found = control(project)
    assert found is not None
    pairs = [pair for pair in planned(project) if pair != ("", "")]
    assert len(pairs) == {"none": 1, "three": 3, "four": 4}[kind]
    good = project
    for begin, end in pairs:
        good = with_hose(good, found.actuator, begin, end)
    assert {frozenset(p) for p in fitted(good) if any(p)} == {frozenset(p) for p in pairs}
    assert hoses_check(good).state == "ok"
    if kind == "three":
        crossed = with_hose(good, found.actuator, "vent", "lower")
        assert hoses_check(crossed).state == "fails"
        back = with_hose(
            with_hose(crossed, found.actuator, *next(p for p in pairs if "lower" in p)),
            found.actuator,
            *next(p for p in pairs if "vent" in p),
        )
        assert hoses_check(back).state == "ok"


def test_no_port_has_two_hoses() -> None:
    """Whatever is put where, a port has one hose at the most; a source and the open air may have more."""
    project = shipped.demo("tarn")
    found = control(project)
    assert found is not None
    for begin, end in itertools.permutations(("compressor", "in", "out", "vent", "lower", "upper", "open"), 2):
        project = with_hose(project, found.actuator, begin, end)
        ends = [port for pair in fitted(project) for port in pair if port and port not in SHARED]
        assert len(ends) == len(set(ends)), (begin, end, fitted(project))
        assert (begin, end) in fitted(project)


def test_a_hose_is_drawn_from_port_to_port(window: MainWindow) -> None:
    """Taken at one port and let go at another it is what is on the car, one step; let go beside all of them nothing changes."""
    window.show_bench("exhaust")
    bench = window.benches["exhaust"]
    bench.show_page("gate")
    assert settle(window)
    rest(window)
    plan = bench.plan
    plan.grab()
    before = window.session.project
    assert set(plan._spots) >= {"compressor", "lower", "upper", "open"} or "plenum" in plan._spots
    one, two = plan._spots["upper"], plan._spots["open"]
    assert plan.port_at(one) == "upper" and plan.port_at(QPointF(2.0, 2.0)) == ""
    for end, changed in ((QPointF(3.0, 170.0), False), (two, True)):
        QTest.mousePress(plan, Qt.MouseButton.LeftButton, pos=one.toPoint())
        QTest.mouseMove(plan, (0.5 * (one + end)).toPoint())
        plan.grab()
        QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, pos=end.toPoint())
        assert (window.session.project != before) == changed
    assert ("upper", "open") in fitted(window.session.project)
    assert settle(window)
    window.undo()
    assert window.session.project == before

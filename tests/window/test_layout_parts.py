"""In the layout: arrows that move the turbo and the core, the section that is pulled, scale, ground and the hint of an engine."""

from __future__ import annotations

import math

import numpy as np
import pytest
from driving import pause
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from zarvik.formats import shipped
from zarvik.project.edits import edits
from zarvik.project.layout.layout import layout, space_of
from zarvik.window.app import settle
from zarvik.window.benches.layout.bodies import BETWEEN, GHOST, GROUND, bodies_of
from zarvik.window.benches.layout.parts import COOLER_IN, OUT, PARTS, TURBO, UP, part_handles, parts_of
from zarvik.window.benches.layout.view3d import LayoutView
from zarvik.window.frame.main_window import MainWindow

LEFT = Qt.MouseButton.LeftButton
NONE = Qt.KeyboardModifier.NoModifier


def picture(window: MainWindow) -> LayoutView:
    """The picture of the layout, finely drawn."""
    window.show_bench("layout")
    assert settle(window)
    view = window.benches["layout"].view
    assert isinstance(view, LayoutView)
    view.see_all()
    view.settle()
    return view


def dragged(view: LayoutView, begin: QPointF, by: QPointF) -> None:
    """Pull from a point of the picture by so many px, in two steps."""
    QTest.mousePress(view, LEFT, NONE, begin.toPoint())
    for share in (0.5, 1.0):
        QTest.mouseMove(view, (begin + by * share).toPoint())
        pause(5)
    QTest.mouseRelease(view, LEFT, NONE, (begin + by).toPoint())


@pytest.mark.parametrize("name", [UP, OUT])
def test_the_turbo_is_pulled(window: MainWindow, name: str) -> None:
    """A click on it gives it three arrows with their measures; one pulled by 40 mm of the picture moves it so far and no other way, in
    one step, and the pipes that hang on it follow."""
    view = picture(window)
    before = window.session.project
    view.look("end")  # looked at along the crank: up is up, out is to one side
    where = view._at(view.layout_.turbos[0].turbine)  # type: ignore[union-attr]
    view.choose_part("")
    assert view._part_at(where) == TURBO
    QTest.keyClick(view, Qt.Key.Key_T)
    assert view.part == TURBO
    handles = {h.name: h for h in view.handles()}
    assert list(handles) == ["along", UP, OUT] and all(h.value == edits.get(before, h.place).si for h in handles.values())
    handle = handles[name]
    way = (view._at(handle.next) - view._at(handle.point)) * 4.0  # 40 mm
    dragged(view, view._at(handle.point), way)
    after = window.session.project
    moved = {n: edits.get(after, h.place).si - edits.get(before, h.place).si for n, h in handles.items()}
    assert moved.pop(name) == pytest.approx(0.040, abs=2.0 * view.eye.scale) and not any(moved.values())
    one, two = layout(before).turbos[0].gas_out.origin, layout(after).turbos[0].gas_out.origin
    assert np.linalg.norm(two - one) == pytest.approx(0.040, abs=2.0 * view.eye.scale)
    window.undo()
    assert window.session.project == before


def test_a_part_is_moved_by_keys(window: MainWindow) -> None:
    """T goes through what stands by its measures and then to none; A, U, O move it by 10 mm, with Shift back; a piece that is chosen
    takes the arrows away."""
    view = picture(window)
    view.setFocus()
    known = parts_of(space_of(window.session.project))
    assert known[0] == TURBO and set(known) <= set(PARTS)
    seen = []
    for _ in range(len(known) + 1):
        QTest.keyClick(view, Qt.Key.Key_T)
        seen.append(view.part)
    assert seen == [*known, ""]
    view.choose_part(TURBO)
    start = edits.get(window.session.project, "layout.turbo.up").si
    QTest.keyClick(view, Qt.Key.Key_U)
    assert edits.get(window.session.project, "layout.turbo.up").si == pytest.approx(start + 0.010)
    for _ in range(2):
        QTest.keyClick(view, Qt.Key.Key_U, Qt.KeyboardModifier.ShiftModifier)
    assert edits.get(window.session.project, "layout.turbo.up").si == pytest.approx(start - 0.010)
    QTest.keyClick(view, Qt.Key.Key_PageDown)
    assert view.part == "" and window.desk.piece


def test_the_measure_of_an_arrow_can_be_typed(window: MainWindow) -> None:
    """A double click on an arrow opens its entry."""
    view = picture(window)
    view.choose_part(TURBO)
    handle = view.handles()[1]
    QTest.mouseDClick(view, LEFT, NONE, view._at(handle.point).toPoint())
    field = window.benches["layout"].field_of("layout.turbo.up")
    assert handle.place == "layout.turbo.up" and field is not None and field.isVisible() and field.hasFocus()


def test_the_section_is_pulled(window: MainWindow) -> None:
    """Its knob goes with the hand, as many millimetres as the picture has px; comma and full stop move it by 10 mm."""
    view = picture(window)
    view.look("side")
    window.desk.choose_piece("e-down")
    view.set_cut(True)
    assert view.cut is not None
    start, turn = view.cut, view.eye.turn
    dragged(view, view._knob().center(), QPointF(0.0, -30.0))
    assert view.cut == pytest.approx(start + 30.0 * view.eye.scale, abs=1.5 * view.eye.scale) and view.eye.turn == turn
    QTest.keyClick(view, Qt.Key.Key_Comma)
    assert view.cut == pytest.approx(start + 30.0 * view.eye.scale - 0.01, abs=1.5 * view.eye.scale)
    view.set_cut(False)
    QTest.keyClick(view, Qt.Key.Key_Period)
    assert view.cut is None


@pytest.mark.parametrize("name", shipped.demo_names())
def test_ground_and_engine(name: str) -> None:
    """The ground lies below everything near the engine, a line each tenth of a metre; a hint of head and block for every bank lies
    behind the ports and reaches below them; none of them can be chosen."""
    project = shipped.demo(name)
    found = layout(project)
    bodies = bodies_of(space_of(project), found)
    (ground,) = (b for b in bodies if b.tint == GROUND)
    overlays = [b for b in bodies if b.tint == GHOST]
    assert len(overlays) == 2 * space_of(project).head.banks and not any(b.piece for b in (*overlays, ground))
    near = [b for b in bodies if b is not ground and not b.run.startswith("exhaust")]
    assert ground.corners[:, 1].max() < min(b.corners[:, 1].min() for b in near)
    lines = ground.corners[ground.triangles]
    for way, other in ((0, 2), (2, 0)):
        across = lines[np.abs(np.diff(lines[:, :, way], axis=1)[:, 0]) < 1e-9][:, 0, way] / BETWEEN
        assert np.allclose(np.sort(across), np.arange(round(across.min()), round(across.max()) + 1), atol=1e-6)
        assert np.allclose(np.ptp(lines[:, :, other], axis=1)[np.ptp(lines[:, :, other], axis=1) > 0.0], np.ptp(ground.corners[:, other]))
    ports = np.array([p.origin for p in found.ports])
    block = np.vstack([b.corners for b in overlays])
    assert block[:, 1].min() < ports[:, 1].min() - 0.2 and block[:, 2].min() < ports[:, 2].max()
    assert block[:, 0].min() < ports[:, 0].min() and block[:, 0].max() > ports[:, 0].max()


def test_parts_of_a_blower_build() -> None:
    """No turbo to pull; a core only where somebody measured where it stands."""
    moth = shipped.demo("moth")
    assert TURBO not in parts_of(space_of(moth))
    tarn = shipped.demo("tarn")
    placed = edits.with_value(tarn, f"layout.{COOLER_IN}.placed", "measured")
    assert COOLER_IN in parts_of(space_of(placed))
    handles = list(part_handles(placed, COOLER_IN, layout(placed)))
    origin = np.array([edits.get(placed, f"layout.{COOLER_IN}.{way}").si for way in ("along", "up", "out")])
    for n, handle in enumerate(handles):
        away = handle.point - origin
        assert (
            np.argmax(np.abs(away)) == n and np.count_nonzero(away) == 1 and math.isclose(np.linalg.norm(handle.next - handle.point), 0.01)
        )


def test_no_arrow_hides_a_piece(window: MainWindow) -> None:
    """Where a pipe is seen in front of a part the pipe is chosen."""
    view = picture(window)
    spot = QPoint(4, 4)
    QTest.mouseClick(view, LEFT, NONE, spot)
    assert view.part == "" and view.pick(QPointF(spot)) == ""

"""A tape in the picture of the layout: places that are clicked on, and how far they are apart."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkFiltersGeneral import vtkOBBTree

from conftest import MakeWindow
from made_bays import tarn_in_its_bay
from zarvik.window.app import settle
from zarvik.window.benches.layout.bodies import GHOST, GROUND, Body
from zarvik.window.benches.layout.camera import Camera
from zarvik.window.benches.layout.measuring import place_at
from zarvik.window.benches.layout.view import LayoutBench

SIZE = (800.0, 600.0)


def body(mesh: trimesh.Trimesh, tint: str = "steel") -> Body:
    return Body("a", np.asarray(mesh.vertices), np.asarray(mesh.faces), tint)


def met_first(mesh: trimesh.Trimesh, begin: np.ndarray, end: np.ndarray) -> np.ndarray | None:
    """Where a line from `begin` meets a mesh first, by VTK."""
    data, tree, places = vtkPolyData(), vtkOBBTree(), vtkPoints()
    points, cells = vtkPoints(), vtkCellArray()
    for corner in mesh.vertices:
        points.InsertNextPoint(*corner)
    for triangle in mesh.faces:
        cells.InsertNextCell(3, [int(k) for k in triangle])
    data.SetPoints(points)
    data.SetPolys(cells)
    tree.SetDataSet(data)
    tree.BuildLocator()
    tree.IntersectWithLine(begin.tolist(), end.tolist(), places, None)
    return np.array(places.GetPoint(0)) if places.GetNumberOfPoints() else None


def test_places_on_bodies_against_rays() -> None:
    """A ball and a box from many sides: the place that a line of another library meets first; nothing beside them; what is cut away or
    looked through does not hide what is behind it."""
    ball = trimesh.creation.icosphere(subdivisions=3, radius=0.1)
    box = trimesh.creation.box((0.1, 0.2, 0.3)).apply_translation((0.05, 0.12, -0.1))
    both, dice, hits = trimesh.util.concatenate([ball, box]), np.random.default_rng(4), 0
    for _ in range(40):
        eye = Camera()
        eye.turn, eye.tip, eye.scale = dice.uniform(-3, 3), dice.uniform(-1.4, 1.4), 0.001
        eye.centre = np.zeros(3)
        at = (float(dice.uniform(250, 550)), float(dice.uniform(150, 450)))
        found = place_at([body(ball), body(box)], eye, SIZE, at, None)
        begin = eye.centre + eye.scale * ((at[0] - 400.0) * eye.axes[0] - (at[1] - 300.0) * eye.axes[1]) + 2.0 * eye.axes[2]
        met = met_first(both, begin, begin - 4.0 * eye.axes[2])
        if met is None:
            assert found is None
            continue
        hits += 1
        assert found == pytest.approx(met, abs=1e-5)
        assert math.dist(eye.seen(found, *SIZE)[0, :2], at) < 1e-6
    assert hits > 8
    eye = Camera()
    eye.centre, eye.scale = np.zeros(3), 0.001
    front = body(trimesh.creation.box((0.1, 0.1, 0.1)).apply_translation(0.3 * eye.axes[2]))
    middle = place_at([front, body(ball)], eye, SIZE, (400.0, 300.0), None)
    behind = place_at([front, body(ball)], eye, SIZE, (400.0, 300.0), 0.2)
    assert middle is not None
    assert behind is not None
    assert middle @ eye.axes[2] > 0.2 > behind @ eye.axes[2]
    sheer = Body("g", front.corners, front.triangles, GHOST)
    assert place_at([sheer, body(ball)], eye, SIZE, (400.0, 300.0), None) == pytest.approx(behind)
    assert place_at([sheer], eye, SIZE, (400.0, 300.0), None) is not None
    assert place_at([Body("f", np.zeros((2, 3)), np.array([[0, 1]]), GROUND)], eye, SIZE, (400.0, 300.0), None) is None


def test_a_tape_is_held_by_two_clicks(open_window: MakeWindow) -> None:
    """The words are the distance between the two places; a third click begins anew; clicks choose pieces again when it is put away."""
    window = open_window(tarn_in_its_bay())
    window.show_bench("layout")
    bench = window.findChildren(LayoutBench)[0]
    assert settle(window)
    view = bench.view
    chosen = window.desk.piece
    bench.tape.click()
    line = view.layout_.line("exhaust")  # type: ignore[union-attr]
    assert line is not None
    spots = [view._at(part.at(0.5).origin) for part in line.placed if part.segment.length > 0.03]
    seen = [at for at in spots if view.rect().adjusted(5, 5, -5, -5).contains(at.toPoint())][:2]
    assert len(seen) == 2
    for at in seen:
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at.toPoint())
    assert view.tape is not None
    assert len(view.tape) == 2
    far = float(np.linalg.norm(view.tape[1] - view.tape[0]))
    assert view.tape_words().startswith(window.desk.text(far, "length", places=0) + ": ")
    assert window.desk.piece == chosen
    view.repaint()
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, seen[0].toPoint())
    assert len(view.tape) == 1
    assert view.tape_words() == ""
    view.hold_tape(QPointF(QPoint(-50, -50)))
    assert len(view.tape) == 1
    bench.tape.click()
    assert view.tape is None
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, seen[0].toPoint())
    assert window.desk.piece != chosen

"""Joints as pins along the air path: each once, in the order of the flow, chosen and ticked in the picture."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from zarvik.core.connections import row as r
from zarvik.formats import shipped
from zarvik.project.connections.connection_list import connections_of
from zarvik.window.app import settle
from zarvik.window.benches.joints_services.connections.air_path_picture import PIN, AirPathPicture, pins_of, stretch_of
from zarvik.window.frame.main_window import MainWindow


@pytest.mark.parametrize("name", shipped.demo_names())
@pytest.mark.parametrize("wide", [260.0, 500.0, 900.0])
def test_every_line_is_a_pin(name: str, wide: float) -> None:
    """Each line of the list once, within the picture; on the way in later joints stand further right, on the way out further left."""
    project = shipped.demo(name)
    rows, turbo = connections_of(project), not project.blower.fitted
    pins, boxes = pins_of(rows, wide, cooled=project.intercooler.fitted, turbo=turbo)
    assert sorted(pin.row.key for pin in pins) == sorted(row.key for row in rows)
    assert all(0.0 < pin.at.x() < wide for pin in pins)
    at = {pin.row.key: pin.at.x() for pin in pins}
    for run in ("intake", "hot_pipe", "cold_pipe", "exhaust"):
        places = [at[row.key] for row in rows if row.key.startswith(f"{run}__")]
        assert places == sorted(places, reverse=run == "exhaust")
    assert ("turbine" in boxes) == turbo and boxes["charger"].right() <= boxes["engine"].left()
    # Where there is room for them no two lie on each other
    if wide > 800.0 and name == "tarn":
        spots = [(pin.at.x(), pin.at.y()) for pin in pins]
        assert all(abs(a[0] - b[0]) > 1.5 * PIN or abs(a[1] - b[1]) > 1.5 * PIN for n, a in enumerate(spots) for b in spots[:n])


def test_without_an_intercooler_the_pipes_are_one() -> None:
    """All charge joints stand between charger and engine."""
    project = shipped.demo("tarn")
    project = project.model_copy(update={"intercooler": project.intercooler.model_copy(update={"fitted": False})})
    rows = connections_of(project)
    pins, boxes = pins_of(rows, 600.0, cooled=False, turbo=True)
    assert "cooler" not in boxes and len(pins) == len(rows)
    charge = [pin for pin in pins if pin.row.key.startswith(("hot_pipe__", "cold_pipe__"))]
    assert charge and all(boxes["charger"].right() <= pin.at.x() <= boxes["engine"].left() for pin in charge)


def test_a_pin_is_chosen_and_ticked(window: MainWindow) -> None:
    """A click chooses the joint in list and details, the next one takes it a state further, as Space does; arrows go along the flow;
    undo takes the tick back."""
    window.show_bench("joints")
    bench = window.benches["joints"]
    bench.show_page("lines")
    assert settle(window)
    picture = bench.path
    assert isinstance(picture, AirPathPicture) and picture.isVisible()
    pins, _ = picture.pins()
    pin = next(p for p in pins if p.row.key == "intake__tract__elbow")
    spot = pin.at.toPoint()
    QTest.mouseClick(picture, Qt.MouseButton.LeftButton, pos=spot)
    assert bench.ledger.key == picture.key == pin.row.key and bench.details.key == pin.row.key
    assert "Elbow past the radiator" in picture.accessibleDescription()

    def state() -> str:
        return next(x.state for x in connections_of(window.session.project) if x.key == pin.row.key)

    assert state() == r.OPEN
    QTest.mouseClick(picture, Qt.MouseButton.LeftButton, pos=spot)
    assert state() == r.DRY
    QTest.keyClick(picture, Qt.Key.Key_Space)
    assert state() == r.HAND
    window.undo()
    window.undo()
    assert state() == r.OPEN
    QTest.keyClick(picture, Qt.Key.Key_Right)
    assert picture.key == "intake__elbow__stub" == bench.ledger.key
    QTest.keyClick(picture, Qt.Key.Key_Left)
    assert picture.key == pin.row.key
    bench.ledger.choose("turbo__hot_in", tell=True)
    assert picture.key == "turbo__hot_in"


def test_what_hangs_beside_is_told_apart() -> None:
    """Hoses of the wastegate, ports of the manifold, oil, water and fuel each have a place of their own."""
    found = {row.key: stretch_of(row) for row in connections_of(shipped.demo("tarn"))}
    assert found["hose__A"] == found["gate__in"] == found["blow__signal"] == "signals"
    assert found["hand-1"] == found["sensor__map"] == "ports" and found["sensor__egt"] == "manifold" and found["sensor__iat"] == "cold"
    assert {found[key] for key in ("turbo__oil_in", "turbo__water", "engine__fuel")} == {"fluids"}

"""Files in the real window: save, open, refuse, be killed, recover."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from driving import click, field, turbo, type_into, wait_for
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QApplication, QLabel, QMessageBox, QPushButton

from zarvik.cli import main
from zarvik.formats import map_csv, project_file, shipped
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse
from zarvik.window.app import settle
from zarvik.window.frame.main_window import MainWindow
from zarvik.workspace import journal

DRIVE_AND_DIE = """
import os, sys
from pathlib import Path
from PySide6.QtTest import QTest
from zarvik.formats import project_file
from zarvik.window.app import make_window, settle
sys.path.insert(0, sys.argv[2])
from driving import field, type_into
path = Path(sys.argv[1])
window = make_window(project_file.read(path), path, "light")
window.show()
window.activateWindow()
QTest.qWaitForWindowActive(window)
settle(window)
type_into(field(window.benches["goal"], "goal.target_boost"), "0.77 bar")
type_into(field(window.benches["goal"], "goal.target_power"), "280 hp")
settle(window)
window.session.idle()
os.kill(os.getpid(), 9)
"""


def _target(path: Path) -> str:
    return str(project_file.read(path).goal.target_boost)


@pytest.mark.whole_answers
def test_save_and_the_command_line_gives_the_same_numbers(window: MainWindow, tmp_path: Path) -> None:
    """What the window shows is what `solve --json` writes for the saved file."""
    type_into(field(window.benches["goal"], "goal.target_boost"), "14 psi")
    assert settle(window)
    path = tmp_path / "mine.zarvik.json"
    assert window.save_as(str(path))
    assert not window.session.dirty
    out = tmp_path / "o.json"
    assert main(["solve", str(path), "--rpm", "6400", "--json", str(out)]) == 0
    tree = json.loads(out.read_text("utf-8"))
    point = window.desk.answer.target
    assert tree["points"][0]["power_W"] == pytest.approx(point.power, rel=1e-7)
    for name, station in point.stations.items():
        assert tree["points"][0]["stations"][name]["p_total_Pa"] == pytest.approx(station.pressure, rel=1e-7)
    assert '"14 psi"' in path.read_text("utf-8")
    states = {v["id"]: v["state"] for v in tree["checks"]}
    assert states == {v.id: v.state for v in window.desk.answer.check_results}


def test_killed_and_recovered(tarn: Project, tmp_path: Path, state_folder: Path, open_window: object) -> None:
    """A real window is killed with unsaved edits; the next one offers them: taken, they are there and can be saved; dropped, what the file
    holds is."""
    path = tmp_path / "mine.zarvik.json"
    project_file.write(tarn, path)
    done = subprocess.run([sys.executable, "-c", DRIVE_AND_DIE, str(path), str(Path(__file__).parent)], check=False, env=dict(os.environ))
    assert done.returncode == -9
    assert project_file.read(path) == tarn
    shutil.copytree(state_folder, tmp_path / "left")
    for take in (False, True):
        shutil.rmtree(state_folder)
        shutil.copytree(tmp_path / "left", state_folder)
        window = open_window(project_file.read(path), path)  # type: ignore[operator]
        window.offer_recovery()
        assert window.recovery.isVisible()
        click(window.recovery.findChild(QPushButton, "take" if take else "drop"))
        assert settle(window)
        assert not window.recovery.isVisible()
        assert str(window.session.project.goal.target_boost) == ("0.77 bar" if take else "1.1 bar")
        assert window.session.dirty == take
        if take:
            assert str(window.session.project.goal.target_power) == "280 hp"
            assert window.save()
            assert str(project_file.read(path).goal.target_boost) == "0.77 bar"
        window.session.close()


@pytest.mark.parametrize("name", shipped.demo_names())
def test_every_demo_in_the_window(window: MainWindow, name: str) -> None:
    """All demos open, solve and draw on every bench."""
    window.open_demo(name)
    assert settle(window)
    assert window.run.profile is not None
    for key in window.benches:
        window.show_bench(key)
        assert not window.grab().isNull()


def test_read_a_map_and_refuse_a_bad_one(window: MainWindow, tmp_path: Path) -> None:
    """A good CSV becomes a candidate; a bad one is told by its row and changes nothing."""
    bench = turbo(window)
    good = tmp_path / "Mine 1.csv"
    map_csv.write(shipped.turbo_map("c64-84"), good)
    bench.read_map(str(good))
    assert settle(window)
    assert window.session.project.turbos[-1].id == "mine-1"
    assert len([r for r in bench.rows if r.isVisible()]) == 5
    bad = tmp_path / "bad.csv"
    bad.write_text(good.read_text("utf-8").replace("0.7", "nan", 1), "utf-8")
    count = window.session.history.position
    bench.read_map(str(bad))
    assert "row" in window.notice.text()
    assert window.session.history.position == count
    bench.write_map(str(tmp_path / "out.csv"))
    assert map_csv.read(tmp_path / "out.csv") == window.session.project.chosen.chart
    bench.drop.trigger()
    assert len(window.session.project.turbos) == 1


@pytest.mark.parametrize("text", ["", "{", '{"schema": "zarvik-project", "schema_version": 99}'])
def test_a_broken_file_is_told_and_nothing_is_lost(window: MainWindow, tmp_path: Path, text: str) -> None:
    """Opening a bad file, also by dropping it on the window."""
    path = tmp_path / "bad.zarvik.json"
    path.write_text(text, "utf-8")
    before = window.session.project
    assert not window.open(str(path))
    assert window.notice.isVisible()
    assert "bad.zarvik.json" in window.notice.text()
    window.notice.hide()
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path))])
    window.dropEvent(QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier))
    assert window.notice.isVisible()
    assert window.session.project is before
    assert path.read_text("utf-8") == text


def test_open_another_project(window: MainWindow, tarn: Project, tmp_path: Path) -> None:
    """A good file opens and starts a history of its own; speeds beyond its limit are gone."""
    other = with_value(tarn, "engine.rev_limit", parse("6500 rpm", "rotation"))
    other = with_value(other, "name", "Other")
    path = tmp_path / "o.zarvik.json"
    project_file.write(other, path)
    assert window.open(str(path))
    assert settle(window)
    assert window.name.text() == "Other"
    assert max(window.desk.speeds) == 6500.0
    assert window.session.history.undo_label is None


@pytest.mark.parametrize(
    ("answer", "leaves"),
    [(QMessageBox.StandardButton.Cancel, False), (QMessageBox.StandardButton.Discard, True), (QMessageBox.StandardButton.Save, True)],
)
def test_leaving_asks_about_unsaved_work(
    open_window: object, tarn: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, answer: QMessageBox.StandardButton, leaves: bool
) -> None:
    """Save, discard or stay."""
    path = tmp_path / "a.zarvik.json"
    project_file.write(tarn, path)
    window = open_window(tarn, path)  # type: ignore[operator]
    type_into(field(window.benches["goal"], "goal.target_boost"), "0.8 bar")
    monkeypatch.setattr(QMessageBox, "exec", lambda box: answer)
    assert window.close() is leaves
    saved = str(project_file.read(path).goal.target_boost)
    assert saved == ("0.8 bar" if answer == QMessageBox.StandardButton.Save else "1.1 bar")


def test_new_project_starts_with_something_to_change(window: MainWindow) -> None:
    """New asks for what is known; its first design is whole, solved, and no demo."""
    window.new()
    assert window.pages.currentWidget() is window.start
    click(window.start.go)
    assert wait_for(lambda: window.pages.currentWidget() is window.frame)
    assert settle(window)
    assert window.pages.currentWidget() is window.frame
    assert window.session.project.name == "New build"
    assert not window.session.project.invented
    assert window.desk.point is not None and window.desk.point.closure.solved


def test_nothing_is_left_in_the_clipboard(window: MainWindow) -> None:
    """Selecting all on focus does not copy by itself."""
    clipboard = QApplication.clipboard()
    clipboard.setText("mine")
    field(window.benches["goal"], "goal.target_power").setFocus()
    assert clipboard.text() == "mine"


def test_the_same_file_opened_again_and_saved(tarn: Project, tmp_path: Path, open_window: object, monkeypatch: pytest.MonkeyPatch) -> None:
    """The file is opened again with edits that are answered Save: the window shows what is in the file now,
    and the next save puts nothing back."""
    path = tmp_path / "mine.zarvik.json"
    project_file.write(tarn, path)
    window = open_window(tarn, path)  # type: ignore[operator]
    window.session.apply("Boost", with_value(tarn, "goal.target_boost", parse("0.8 bar", "pressure_gauge")))
    monkeypatch.setattr(QMessageBox, "exec", lambda box: QMessageBox.StandardButton.Save)
    assert window.open(str(path))
    assert str(window.session.project.goal.target_boost) == "0.8 bar"
    assert not window.session.unsaved
    assert not window.session.changed_outside
    assert window.save()
    assert _target(path) == "0.8 bar"


@pytest.mark.parametrize("spelling", ["plain", "dots", "link"])
def test_a_file_written_while_the_question_stands(
    tarn: Project, tmp_path: Path, open_window: object, monkeypatch: pytest.MonkeyPatch, spelling: str
) -> None:
    """Every state that somebody else wrote is asked about, under whatever spelling of the path, and the one
    that is written over is kept under a name of its own."""
    path = tmp_path / "mine.zarvik.json"
    project_file.write(tarn, path)
    (tmp_path / "sub").mkdir()
    (tmp_path / "link.zarvik.json").symlink_to(path)
    goal = {"plain": path, "dots": tmp_path / "sub" / ".." / path.name, "link": tmp_path / "link.zarvik.json"}[spelling]
    window = open_window(tarn, path)  # type: ignore[operator]
    window.session.apply("Boost", with_value(tarn, "goal.target_boost", parse("0.8 bar", "pressure_gauge")))
    asked: list[str] = []

    def other(text: str) -> None:
        project_file.write(with_value(tarn, "goal.target_boost", parse(text, "pressure_gauge")), path)

    def question(box: QMessageBox) -> QMessageBox.StandardButton:
        asked.append(box.text())
        if len(asked) == 1:
            other("0.5 bar")  # while the question stands
        return QMessageBox.StandardButton.Yes

    other("0.6 bar")
    monkeypatch.setattr(QMessageBox, "exec", question)
    assert window.save_as(str(goal))
    assert len(asked) == 2
    assert _target(path) == "0.8 bar"
    kept = sorted(tmp_path.glob("mine (other*"))
    assert [_target(k) for k in kept] == ["0.5 bar"]
    window.session.apply("Boost", with_value(tarn, "goal.target_boost", parse("0.9 bar", "pressure_gauge")))
    assert window.save()
    assert len(asked) == 2
    assert [_target(k) for k in kept] == ["0.5 bar"]


def test_recovery_stands_above_the_first_page(tarn: Project, tmp_path: Path, open_window: object) -> None:
    """After a crash the program begins on its first page: what was left behind is offered there, and what
    cannot be read is told there."""
    (journal.folder()).mkdir(parents=True, exist_ok=True)
    head = {"path": None, "time": "2026-01-02T03:04:05+00:00", "document": json.loads(project_file.dumps(tarn))}
    (journal.folder() / "left.json").write_text(json.dumps(head), "utf-8")
    (journal.folder() / "bad.json").write_text('{"document"', "utf-8")
    window = open_window(shipped.fresh(), None)  # type: ignore[operator]
    window.show_start(first=True)
    window.offer_recovery()
    assert window.recovery.isVisible()
    assert "1 more" in window.recovery.findChild(QLabel).text()
    click(window.recovery.findChild(QPushButton, "take"))
    QApplication.processEvents()
    assert window.session.project.name == tarn.name
    assert window.pages.currentWidget() is window.frame
    assert window.recovery.isVisible()
    labels = [label.text() for label in window.recovery.findChildren(QLabel) if label.isVisible()]
    assert any("cannot be read" in text and "bad.unreadable" in text for text in labels)
    drops = [b for b in window.recovery.findChildren(QPushButton) if b.isVisible()]
    click(drops[-1])
    assert not window.recovery.isVisible()
    assert journal.damaged() == []

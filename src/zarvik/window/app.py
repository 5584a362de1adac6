"""Starts the window, or takes a picture of it and leaves."""

from __future__ import annotations

import re
import sys
import traceback
from datetime import datetime
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QEventLoop, QTimer

from zarvik.core.common.compiled import forget_old, to_be_compiled
from zarvik.formats.atomic_writer import Mark
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr
from zarvik.window.benches import BENCHES, FORMER
from zarvik.window.benches.bench import Bench
from zarvik.window.collector import Collector
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.opening import application, give_place
from zarvik.window.theme import style
from zarvik.workspace import settings
from zarvik.workspace.folders import state_folder
from zarvik.workspace.jobs import compiling
from zarvik.workspace.session import Now, Session


def make_window(project: Project, path: Path | None, theme: str, mark: Mark | Now | None = "now") -> MainWindow:
    """A window on a project; a demo or new one has no path, `mark` is that of the file when it was read."""
    app = application()
    style.apply(app, theme)
    window = MainWindow(Session(project, path, mark), theme)
    if app.findChild(Collector) is None:
        Collector(app)
    return window


def settle(window: MainWindow, seconds: float = 60.0, *, first: bool = False) -> bool:
    """Let the window work until the answer of the present document is shown; with `first`, until
    its first part is."""

    def shown() -> bool:
        return window.desk.current if first else window.desk.complete

    app = application()
    loop = QEventLoop()
    window.desk.result_changed.connect(loop.quit)
    window.desk.rest_changed.connect(loop.quit)
    timer = QTimer()
    timer.setSingleShot(True)
    timer.timeout.connect(loop.quit)
    timer.start(int(seconds * 1000))
    while not shown() and timer.isActive():
        loop.exec()
    window.desk.result_changed.disconnect(loop.quit)
    window.desk.rest_changed.disconnect(loop.quit)
    app.processEvents()
    return shown()


def run(
    project: Project,
    path: Path | None,
    *,
    shot: str | None = None,
    bench: str | None = None,
    theme: str | None = None,
    size: str = "1280x800",
    speed: float | None = None,
    calculation: str | None = None,
    overlay: str | None = None,
    first: bool = False,
    mark: Mark | None = None,
) -> int:
    """Open the window and stay, or save a picture of a bench and leave; `calculation`: number whose
    sheet is open, `overlay`: variant behind the design, `first`: on the page that asks for a new build. Returns the exit code."""
    keys = [entry.key for entry in BENCHES]
    bench = FORMER.get(bench, bench) if bench is not None else None
    if bench is not None and bench not in keys:
        print(f"zarvik: there is no bench “{bench}”; there are {', '.join(keys)}", file=sys.stderr)
        return 2
    match = re.fullmatch(r"(\d{3,4})x(\d{3,4})", size)
    if match is None:
        print(f"zarvik: a size looks like 1280x800, not “{size}”", file=sys.stderr)
        return 2
    app = application()
    window = make_window(project, path, theme or settings.load().theme, mark)
    window.resize(int(match[1]), int(match[2]))
    if bench:
        window.show_bench(bench)
    if first:
        window.show_start(first=True)
    give_place(window)
    if shot is not None:
        return _picture(window, shot, speed, calculation, overlay)
    sys.excepthook = _hook(window)
    if to_be_compiled():
        window.desk.ask(compiling())
    forget_old()
    window.offer_recovery()
    window.build_ahead()
    return int(app.exec())


def _picture(window: MainWindow, shot: str, speed: float | None, calculation: str | None, overlay: str | None) -> int:
    """A picture of the window, with an engine speed (rev/min), a sheet and a variant where they are named; the exit code."""
    settled = settle(window)
    if speed is not None:
        window.desk.set_speed(speed)
    if overlay:
        window.desk.set_overlay(overlay)
    if calculation:
        window.desk.follow(calculation)
    for _ in range(3):
        # What is heard of one job may ask for the next.
        window.session.jobs.idle()
        application().processEvents()
    seen = window.stack.currentWidget()
    if isinstance(seen, Bench):
        seen.settle()
    good = window.grab().save(shot) if settled else False
    window.session.close()
    window.hide()
    window.deleteLater()
    if not settled:
        print("zarvik: not solved within a minute, no picture", file=sys.stderr)
    elif not good:
        print(f"zarvik: the picture cannot be written to “{shot}”", file=sys.stderr)
    return 0 if good else 2


def _hook(window: MainWindow):  # type: ignore[no-untyped-def]
    def caught(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        log = state_folder() / "faults.log"
        log.parent.mkdir(parents=True, exist_ok=True)
        with log.open("a", encoding="utf-8") as file:
            file.write(f"--- {datetime.now().isoformat(timespec='seconds')}\n")
            traceback.print_exception(kind, error, trace, file=file)
        window.say(tr("Something unexpected happened. Your project is unchanged. Details: {0}").format(log))

    return caught

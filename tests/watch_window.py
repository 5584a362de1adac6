"""What holds the window's thread, and for how long: every bench and page of a demo opened, edited, undone.

Run by hand: `.venv/bin/python tests/watch_window.py [demo, or “large” for a document of many years]`. A line for each stretch of more than
50 ms that the event loop was not reached, in processor time, with the function that held it. Machines differ by a factor of three and by
the hour, so a stretch is also given in ms of a plain office machine: one that adds up a million integers in Python in 40 ms; `!` where it
is over 50 ms even there. Nothing is asserted: a slow machine is no fault.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).parent))
sys.path.insert(0, str(Path(__file__).parent / "window"))

from driving import pause
from watchdog import watched

from large import large
from zarvik.formats import shipped
from zarvik.window.app import make_window, settle
from zarvik.window.benches import BENCHES
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.opening import application

PATIENCE = 15.0  # s
PLAIN = 0.040  # s in which a plain office machine adds up a million integers; from memory


def slowness() -> float:
    """How many times slower this machine is than a plain one, now."""

    def loop() -> float:
        begun, total = time.thread_time(), 0
        for number in range(1_000_000):
            total += number
        return time.thread_time() - begun

    return min(loop() for _ in range(3)) / PLAIN


def act(window: MainWindow, label: str, doing: Callable[[], object]) -> None:
    """Do something, wait until all that follows from it is there, tell what held the thread."""
    with watched() as dog:
        doing()
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            pause(30)
            if window.session.questions.idle(0.0):
                break
        pause(60)
    factor = slowness() if dog.held else 1.0
    for held in dog.held:
        plain = 1e3 * held.seconds / factor
        way = " > ".join(step.partition(":")[2] for step in held.way[-4:])
        print(
            f"{label:26} {1e3 * held.seconds:6.0f} ms {plain:5.0f} plain{'!' if plain > 50.0 else ' '} {held.where}   [{way}]", flush=True
        )


def made_ahead(window: MainWindow) -> None:
    """Every bench and page made."""
    window.build_ahead()
    while not all(map(window.benches.made, window.benches)) or any(bench.unmade() for bench in window.benches.values()):
        pause(30)


def run(demo: str) -> None:
    """Every bench, every page, an edit and its undo on each, and what the window does itself."""
    application()
    window = make_window(large() if demo == "large" else shipped.demo(demo), None, "light")
    window.resize(1280, 800)
    window.show()
    settle(window)
    # As in the program: what nobody has opened yet is made while there is nothing else to do.
    act(window, "made ahead", lambda: made_ahead(window))
    for entry in BENCHES:
        act(window, f"open {entry.key}", lambda key=entry.key: window.show_bench(key))
        bench = window.benches[entry.key]
        for page in getattr(bench, "pages", {}):
            act(window, f"  {page}", lambda bench=bench, page=page: bench.show_page(page))
    for entry in BENCHES:
        act(window, f"again {entry.key}", lambda key=entry.key: window.show_bench(key))
        boost = window.session.project.brief.target_boost
        act(window, "  an edit", lambda v=boost: window.desk.edit("brief.target_boost", v.with_si(1.01 * v.si)))
        act(window, "  its undo", window.undo)
    act(window, "find", window.find_action.trigger)
    act(window, "  closed", window.finder.leave)
    act(window, "theme", window.turn_theme)
    act(window, "page as PDF", lambda: window.write_page(str(Path(tempfile.mkdtemp()) / "page.pdf")))
    act(window, "variant", window.keep_variant)
    act(window, "save", lambda: window.save_as(str(Path(tempfile.mkdtemp()) / "kept.zarvik.json")))
    act(window, "first page", window.show_start)
    act(window, "another demo", lambda: window.open_demo("moth" if demo != "moth" else "tarn"))
    window.session.close()


if __name__ == "__main__":
    run(sys.argv[1] if len(sys.argv) > 1 else "tarn")

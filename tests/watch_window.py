"""What holds the window's thread, and for how long: every bench and page of a demo opened, edited, undone.

Run by hand: `.venv/bin/python tests/watch_window.py [demo, or “large” for a document of many years]`. Everything is done `TIMES` times,
each time in a program that has just been started, and a line stands for what kept the event loop for more than 50 ms of processor time at
every one of them, with the shortest of the times: what happens once is the machine. Machines differ by a factor of three, so it is also
given in ms of a plain office machine: one that adds up a million integers in Python in 40 ms; `!` where it is over 50 ms even there.
Nothing is asserted: a slow machine is no fault.
"""

from __future__ import annotations

import json
import os
import subprocess
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
TIMES = 3
ONCE = "once"  # said to a program that does it one time
PLAIN = 0.040  # s in which a plain office machine adds up a million integers; from memory


def slowness() -> float:
    """How many times slower this machine is than a plain one, now."""

    def loop() -> float:
        begun, total = time.thread_time(), 0
        for number in range(1_000_000):
            total += number
        return time.thread_time() - begun

    return min(loop() for _ in range(3)) / PLAIN


class Hand:
    """Does things in a window, one after the other, and notes for each of them what held the thread for longest."""

    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.longest: list[tuple[str, float, str]] = []  # what was done, ms, line that tells of it
        self._room = ""

    def act(self, label: str, doing: Callable[[], object]) -> None:
        """Do something, wait until all that follows from it is there."""
        window = self.window
        self._room = self._room if label.startswith(" ") else label
        with watched(0.0) as dog:
            doing()
            end = time.monotonic() + PATIENCE
            while time.monotonic() < end:
                pause(30)
                if window.session.jobs.idle(0.0):
                    break
            pause(60)
        held = max(dog.held, key=lambda held: held.seconds)
        way = " > ".join(step.partition(":")[2] for step in held.way[-4:])
        what = self._room if label == self._room else f"{self._room}:{label}"
        self.longest.append((what, 1e3 * held.seconds, f"{held.where}   [{way}]"))


def made_ahead(window: MainWindow) -> None:
    """Every bench and page made."""
    window.build_ahead()
    while not all(map(window.benches.made, window.benches)) or any(bench.unmade() for bench in window.benches.values()):
        pause(30)


def run(demo: str) -> list[tuple[str, float, str]]:
    """Every bench, every page, an edit and its undo on each, and what the window does itself: what held the thread for longest in each."""
    window = make_window(large() if demo == "large" else shipped.demo(demo), None, "light")
    window.resize(1280, 800)
    window.show()
    settle(window)
    hand = Hand(window)
    act = hand.act
    # As in the program: what nobody has opened yet is made while there is nothing else to do.
    act("made ahead", lambda: made_ahead(window))
    for entry in BENCHES:
        act(f"open {entry.key}", lambda key=entry.key: window.show_bench(key))
        bench = window.benches[entry.key]
        for page in getattr(bench, "pages", {}):
            act(f"  {page}", lambda bench=bench, page=page: bench.show_page(page))
    for entry in BENCHES:
        act(f"again {entry.key}", lambda key=entry.key: window.show_bench(key))
        boost = window.session.project.goal.target_boost
        act("  an edit", lambda v=boost: window.desk.edit("goal.target_boost", v.with_si(1.01 * v.si)))
        act("  its undo", window.undo)
    act("find", window.find_action.trigger)
    act("  closed", window.finder.leave)
    act("theme", window.turn_theme)
    act("theme done", lambda: made_ahead(window))
    act("page as PDF", lambda: window.write_page(str(Path(tempfile.mkdtemp()) / "page.pdf")))
    act("variant", window.keep_variant)
    act("save", lambda: window.save_as(str(Path(tempfile.mkdtemp()) / "kept.zarvik.json")))
    act("first page", window.show_start)
    act("another demo", lambda: window.open_demo("moth" if demo != "moth" else "tarn"))
    window.session.close()
    window.hide()
    window.deleteLater()
    pause(50)
    return hand.longest


def main(demo: str) -> None:
    """Do it all several times and tell what was long at each of them."""
    runs, factors = [], []
    for _ in range(TIMES):
        factors.append(slowness())
        done = subprocess.run([sys.executable, __file__, demo, ONCE], capture_output=True, text=True, check=True)
        runs.append(json.loads(done.stdout.splitlines()[-1]))
    factor, things = min(factors), list(zip(*runs, strict=True))
    print(f"{demo}: {len(things)} things, each done {TIMES} times; this machine takes {factor:.1f} times as long as a plain one")
    for times in things:
        label, took, where = min(times, key=lambda one: one[1])
        if took > 50.0:
            plain = took / factor
            print(f"{label:32} {took:6.0f} ms {plain:5.0f} plain{'!' if plain > 50.0 else ' '} {where}")
    least = [min(one[1] for one in times) for times in things]
    print(
        f"longest at every time: {max(least):.0f} ms; over 50 ms at one time or other: {sum(max(o[1] for o in t) > 50.0 for t in things)}"
    )


if __name__ == "__main__":
    named = sys.argv[1] if len(sys.argv) > 1 else "tarn"
    if ONCE in sys.argv:
        application()
        print(json.dumps(run(named)))
    else:
        main(named)

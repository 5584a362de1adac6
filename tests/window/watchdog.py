"""What the window's thread does, and for how long at a stretch.

Two looks at the same rule, that nothing is worked out in the thread that paints:

`Watchdog` samples the thread and tells which function held it, by processor time, so that a busy machine
does not accuse anybody. It is read by people (`tests/watch_window.py`) and asserts nothing by itself.

`entrances_watched` notes whoever enters the solver, the laying of pieces or the cutting of stock from that
thread: a rule that holds on any machine.
"""

from __future__ import annotations

import importlib
import sys
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from types import FrameType
from typing import Any

import pytest
from PySide6.QtCore import QTimer

BEAT = 5  # ms between two beats of the event loop
SAMPLE = 0.004  # s between two looks at the stack


@dataclass(frozen=True)
class GatePoint:
    """A stretch in which the event loop was not reached: processor seconds, and the function of the program in
    which most of it was seen, with the way there from the outside."""

    seconds: float
    where: str
    way: tuple[str, ...]


def _name(frame: FrameType) -> str:
    code = frame.f_code
    file = code.co_filename.rpartition("/zarvik/")[2]
    return f"{file}:{code.co_qualname}"


def _way(frame: FrameType | None) -> tuple[str, ...]:
    """The functions of the program on the stack, the outermost first."""
    found = []
    while frame is not None:
        if "/zarvik/" in frame.f_code.co_filename:
            found.append(_name(frame))
        frame = frame.f_back
    return tuple(reversed(found))


class Watchdog:
    """Watches the thread that makes it, from `start` to `stop`, while its event loop runs."""

    def __init__(self, limit: float = 0.05) -> None:
        self.limit = limit
        self.held: list[GatePoint] = []
        self._thread = threading.get_ident()
        self._clock = time.pthread_getcpuclockid(self._thread)
        self._beat_at = self._now()
        self._seen: list[tuple[str, ...]] = []
        self._over = threading.Event()
        self._timer = QTimer()
        self._timer.setInterval(BEAT)
        self._timer.timeout.connect(self.beat)
        self._sampler = threading.Thread(target=self._sample, daemon=True)

    def _now(self) -> float:
        return time.clock_gettime(self._clock)

    def start(self) -> None:
        """Begin to watch."""
        self.beat()
        self._timer.start()
        self._sampler.start()

    def stop(self) -> None:
        """End; what is held at this moment counts too."""
        self.beat()
        self._timer.stop()
        self._over.set()
        self._sampler.join()

    def beat(self) -> None:
        """The event loop is here."""
        now, seen = self._now(), self._seen
        spent, self._beat_at, self._seen = now - self._beat_at, now, []
        if spent > self.limit:
            often = Counter(way for way in seen if way)
            way = often.most_common(1)[0][0] if often else ()
            self.held.append(GatePoint(spent, self._shared(seen) or (way[-1] if way else "the toolkit"), way))

    @staticmethod
    def _shared(seen: list[tuple[str, ...]]) -> str:
        """The innermost function that was on the stack in most of the looks."""
        looks = [way for way in seen if way]
        counted = Counter(name for way in looks for name in set(way))
        most = [name for name, often in counted.items() if often >= 0.7 * len(looks)]
        longest = max(looks, key=len, default=())
        inside = [name for name in longest if name in most]
        return inside[-1] if inside else ""

    def _sample(self) -> None:
        while not self._over.wait(SAMPLE):
            self._seen.append(_way(sys._current_frames().get(self._thread)))


@contextmanager
def watched(limit: float = 0.05) -> Iterator[Watchdog]:
    """Watch the window's thread for the time of a block."""
    dog = Watchdog(limit)
    dog.start()
    try:
        yield dog
    finally:
        dog.stop()


# (module or class, name) of what takes longer than a frame; a single point is solved within a few milliseconds
ENTRANCES = (
    ("zarvik.workspace.solving", "figures"),
    ("zarvik.workspace.solving", "judged"),
    ("zarvik.workspace.solving", "completed"),
    ("zarvik.workspace.jobs", "design"),
    ("zarvik.workspace.jobs", "search"),
    ("zarvik.workspace.jobs", "evaluate"),
    ("zarvik.core.calculations", "sheets"),
    ("zarvik.workspace.jobs", "sustained_share"),
    ("zarvik.window.paper.page", "judge"),
    ("zarvik.project.fabrication.cut_list", "nest"),
    ("zarvik.project.fabrication.cut_list", "tacking"),
    ("zarvik.project.manifold.primaries", "fit"),
    ("zarvik.project.manifold.primaries", "equalise"),
    ("zarvik.workspace.jobs", "laid_primaries"),
    ("zarvik.project.fabrication.drawings", "templates"),
    ("zarvik.window.benches.layout.scene:Scene", "picture"),
)


def entrances_watched(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The list that fills with those of `ENTRANCES` that the window's own code entered in the window's thread: tests
    that solve something themselves are not meant."""
    caught: list[str] = []
    here = threading.get_ident()

    def watch(owner: Any, name: str) -> None:
        real = getattr(owner, name)

        def seen(*given: Any, **named: Any) -> Any:
            if threading.get_ident() == here:
                way = _way(sys._getframe(1))
                if any(step.startswith("window/") for step in way):
                    caught.append(f"{name} by {' > '.join(way[-4:])}")
            return real(*given, **named)

        monkeypatch.setattr(owner, name, seen)

    for place, name in ENTRANCES:
        module, _, inside = place.partition(":")
        owner = importlib.import_module(module)
        watch(getattr(owner, inside) if inside else owner, name)
    return caught

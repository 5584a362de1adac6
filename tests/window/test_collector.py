"""The collector of the window leaves what other threads are making alone."""

from __future__ import annotations

import gc
import threading
from collections.abc import Iterator

import pytest
from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication

from zarvik.window import collector
from zarvik.window.collector import Collector


@pytest.fixture
def ours(qapp: QApplication) -> Iterator[Collector]:
    """One that is always due for a full round; Python's own is as it was afterwards."""
    parent = QObject()
    try:
        yield Collector(parent)
    finally:
        gc.enable()
        gc.unfreeze()


def test_tuples_of_other_threads_can_grow(ours: Collector, monkeypatch: pytest.MonkeyPatch) -> None:
    """A tuple that is being filled may be seen by nobody else: a list of all objects holds it, and `tuple(...)` in the other thread raised
    SystemError while a file was saved."""
    monkeypatch.setattr(collector, "FULL_EVERY", -1.0)
    monkeypatch.setattr(collector, "LOADED", 10**9)
    monkeypatch.setattr(collector, "SLOW", 10.0)
    monkeypatch.setattr(gc, "collect", lambda generation=2: 0)
    kept = [[] for _ in range(60_000)]  # so that a look at all of them takes a while
    faults, stop = [], threading.Event()

    def work() -> None:
        while not stop.is_set():
            try:
                assert len(tuple(str(n) for n in range(200))) == 200
            except SystemError as fault:
                faults.append(fault)

    thread = threading.Thread(target=work)
    thread.start()
    for _ in range(400):
        ours.sweep()
    stop.set()
    thread.join()
    assert not faults and kept


def test_much_is_frozen_and_little_is_looked_at(ours: Collector, monkeypatch: pytest.MonkeyPatch) -> None:
    """After more blocks than `MANY` a full round is left out, and what is there is frozen."""
    monkeypatch.setattr(collector, "FULL_EVERY", -1.0)
    rounds: list[int] = []
    monkeypatch.setattr(gc, "collect", lambda generation=2: rounds.append(generation))
    ours.sweep()
    assert rounds == [2]
    frozen = gc.get_freeze_count()
    monkeypatch.setattr(collector, "MANY", -1)
    monkeypatch.setattr(collector, "LOADED", 10**9)
    kept = [[] for _ in range(500)]
    ours.sweep()
    assert rounds == [2] and gc.get_freeze_count() >= frozen + len(kept)

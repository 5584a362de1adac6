"""The garbage collector runs in the window's thread only.

Python's collector runs in whichever thread makes an object too many. In the solver's thread it would
destroy widgets and timers that belong to the window's, which Qt does not allow, and a full round over
everything that was loaded takes a tenth of a second. So what is loaded is frozen, once the first answer is likely there and
whenever so much has come at a time that it can only be code (the solver's, the picture's in space),
the automatic rounds are off, and short ones are made here while the window rests.

What is frozen is still freed when nothing refers to it any more; only circles among it are not found.
"""

from __future__ import annotations

import gc
import sys
import time

from PySide6.QtCore import QObject, QTimer

PERIOD = 250  # ms
LOADED = 12_000  # new objects at a time that are kept unseen: looking at them takes longer than a frame
SLOW = 0.02  # s of a round after which what is left of it is not looked at again
SMALL, MIDDLE = 2000, 10  # new objects, and small rounds, before a round of that size
MANY = 80_000  # blocks of memory since the last freeze: a full round over so many objects takes longer than a frame
FULL_EVERY = 20.0  # s between full rounds; they are short, as what was loaded is frozen


class Collector(QObject):
    """One for the application; lives in the window's thread."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        self._freeze()
        self._full = time.monotonic()
        self._timer = QTimer(self)
        self._timer.setInterval(PERIOD)
        self._timer.timeout.connect(self.sweep)
        self._timer.start()

    def sweep(self) -> None:
        """One round, as large as what has piled up asks for."""
        young, middle, _ = gc.get_count()
        if young > LOADED:
            self._freeze()
            return
        begun = time.thread_time()
        if time.monotonic() - self._full > FULL_EVERY:
            self._full = time.monotonic()
            # A list of the objects themselves would hold a tuple that another thread is filling, which it could not let grow then.
            if sys.getallocatedblocks() - self._blocks > MANY:
                self._freeze()
            else:
                gc.collect(2)
        elif middle > MIDDLE:
            gc.collect(1)
        elif young > SMALL:
            gc.collect(0)
        if time.thread_time() - begun > SLOW:
            self._freeze()

    def _freeze(self) -> None:
        gc.freeze()
        self._blocks = sys.getallocatedblocks()

"""What another thread has found, handed over to the window's thread."""

from __future__ import annotations

from collections import deque
from typing import Any

from PySide6.QtCore import QObject, Signal


class Mailbox(QObject):
    """Values posted in any thread arrive, in their order, in the thread that made the box. Only a signal without values crosses the
    threads: values carried by Qt's own queue are counted by two threads at once there, which once ended the program."""

    arrived = Signal(object)
    _posted = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._waiting: deque[Any] = deque()
        self._posted.connect(self._hand_on)

    def post(self, value: Any) -> None:
        """Have it arrive; at once where the thread is the box's own."""
        self._waiting.append(value)
        self._posted.emit()

    def _hand_on(self) -> None:
        if self._waiting:  # one for each signal: what comes of it may take its time
            self.arrived.emit(self._waiting.popleft())

"""Work of the disk beside the window: whoever asked waits for it, the window goes on painting."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import TypeVar

from PySide6.QtCore import QEventLoop, QObject, Qt, Signal

T = TypeVar("T")

_standing: list[QEventLoop] = []


class _Done(QObject):
    """Told from the thread that has worked, heard in the window's."""

    finished = Signal()


def waiting() -> bool:
    """Does somebody wait just now? Nothing may end the program then."""
    return bool(_standing)


def beside(work: Callable[[], T]) -> T:
    """What `work` returns or raises, done in a thread of its own; keys and clicks stay in the queue until then."""
    found: list[T] = []
    fault: list[BaseException] = []
    loop, done = QEventLoop(), _Done()
    done.finished.connect(loop.quit, Qt.ConnectionType.QueuedConnection)

    def run() -> None:
        try:
            found.append(work())
        except BaseException as error:  # whatever it is belongs to who asked
            fault.append(error)
        done.finished.emit()

    _standing.append(loop)
    thread = threading.Thread(target=run, name="zarvik-disk")
    try:
        thread.start()
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        thread.join()
    finally:
        _standing.pop()
    if fault:
        raise fault[0]
    return found[0]

"""What other threads have found arrives in the window's thread, all of it and in order."""

from __future__ import annotations

import threading

from driving import wait_for
from PySide6.QtWidgets import QApplication

from zarvik.window.mailbox import Mailbox


def test_all_that_is_posted_arrives_in_order(qapp: QApplication) -> None:
    """Four threads post a thousand values each: none is lost, each thread's come in their order, all in this thread."""
    box = Mailbox()
    came: list[tuple[int, int]] = []
    here: set[int] = set()

    def take(value: tuple[int, int]) -> None:
        came.append(value)
        here.add(threading.get_ident())

    box.arrived.connect(take)
    box.post((9, 0))
    assert came == [(9, 0)]  # its own thread does not wait
    threads = [threading.Thread(target=lambda k=k: [box.post((k, n)) for n in range(1000)]) for k in range(4)]
    for thread in threads:
        thread.start()
    assert wait_for(lambda: len(came) == 4001)
    for thread in threads:
        thread.join()
    for k in range(4):
        assert [n for one, n in came if one == k] == list(range(1000))
    assert here == {threading.get_ident()}

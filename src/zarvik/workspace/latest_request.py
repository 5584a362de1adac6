"""A worker thread that always does the latest request and drops the ones in between."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Generic, TypeVar

Request = TypeVar("Request")


class LatestRequest(Generic[Request]):
    """Runs `work(request)` on one thread, newest request first, older waiting ones dropped.

    `work` handles its own failures; one that escapes is handed to `failed`. `pause`: seconds to
    wait for still newer requests before one is begun.
    """

    def __init__(
        self, name: str, work: Callable[[Request], None], failed: Callable[[BaseException], None] | None = None, pause: float = 0.0
    ) -> None:
        self._work = work
        self._failed = failed
        self._pause = pause
        self._condition = threading.Condition()
        self._waiting: list[Request] = []
        self._busy = False
        self._closed = False
        self._thread = threading.Thread(target=self._loop, name=name, daemon=True)
        self._thread.start()

    def put(self, request: Request) -> None:
        """Ask for `request`; what waits and was not begun is dropped."""
        with self._condition:
            self._waiting = [request]
            self._condition.notify_all()

    def _loop(self) -> None:
        while True:
            with self._condition:
                while not self._waiting and not self._closed:
                    self._condition.wait()
                if not self._waiting:
                    return
                if self._pause and not self._closed:
                    self._condition.wait_for(lambda: self._closed, self._pause)
                request = self._waiting.pop()
                self._busy = True
            try:
                self._work(request)
            except Exception as error:
                if self._failed is not None:
                    self._failed(error)
            finally:
                with self._condition:
                    self._busy = False
                    self._condition.notify_all()

    def idle(self, timeout: float = 30.0) -> bool:
        """Wait until nothing is waiting or being done; False when `timeout` seconds pass."""
        with self._condition:
            return self._condition.wait_for(lambda: not self._waiting and not self._busy, timeout)

    def close(self) -> None:
        """Do what waits, then end the thread."""
        with self._condition:
            self._closed = True
            self._condition.notify_all()
        self._thread.join(timeout=30.0)

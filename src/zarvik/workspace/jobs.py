"""Long work: one job at a time on a thread of its own, with progress, time left and cancel.

A job is a function of a `Progress`; it asks `progress.step(share)` now and then and stops when that
says False. Its outcome comes back as a `Job` that carries what was asked; nothing of a job that
failed or was cancelled is kept by whoever started it.
"""

from __future__ import annotations

import threading
import time
import traceback
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

WAITING, RUNNING, DONE, FAILED, CANCELLED = "waiting", "running", "done", "failed", "cancelled"


@dataclass(eq=False)
class Job:
    """One job: its `title`, `state`, share `done` 0–1, and then its `result` or `fault`."""

    title: str
    work: Callable[[Progress], Any]
    state: str = WAITING
    done: float = 0.0
    result: Any = None
    fault: str = ""
    trace: str = ""
    _begun: float = 0.0
    _cancel: threading.Event = field(default_factory=threading.Event)

    def cancel(self) -> None:
        """Ask the job to stop; it does at its next step."""
        self._cancel.set()

    @property
    def left(self) -> float | None:
        """Seconds that are left by the pace so far; None when it cannot be told yet."""
        if self.state != RUNNING or self.done < 0.02:
            return None
        return (time.monotonic() - self._begun) * (1.0 - self.done) / self.done


class Progress:
    """What a job sees of its service."""

    def __init__(self, job: Job, tell: Callable[[Job], None]) -> None:
        self._job = job
        self._tell = tell
        self._told = 0.0

    def step(self, share: float) -> bool:
        """Say which share (0–1) is done; False when the job is to stop."""
        self._job.done = min(max(share, self._job.done), 1.0)
        now = time.monotonic()
        if now - self._told > 0.05:
            self._told = now
            self._tell(self._job)
        return not self._job._cancel.is_set()


class Jobs:
    """The service. `news` hears of every change of a job, on the service's thread."""

    def __init__(self, news: Callable[[Job], None]) -> None:
        self._news = news
        self._condition = threading.Condition()
        self._queue: list[Job] = []
        self._running: Job | None = None
        self._closed = False
        self._thread = threading.Thread(target=self._loop, name="zarvik-jobs", daemon=True)
        self._thread.start()

    def start(self, title: str, work: Callable[[Progress], Any]) -> Job:
        """Put a job behind those that wait."""
        job = Job(title, work)
        with self._condition:
            self._queue.append(job)
            self._condition.notify_all()
        return job

    @property
    def running(self) -> Job | None:
        """The job that is being done."""
        return self._running

    def _loop(self) -> None:
        while True:
            with self._condition:
                self._condition.wait_for(lambda: bool(self._queue) or self._closed)
                if self._closed:
                    return
                job = self._running = self._queue.pop(0)
            self._do(job)
            with self._condition:
                self._running = None
                self._condition.notify_all()

    def _do(self, job: Job) -> None:
        job.state, job._begun = RUNNING, time.monotonic()
        self._news(job)
        try:
            result = job.work(Progress(job, self._news))
        except Exception as error:
            job.state, job.fault = FAILED, str(error) or type(error).__name__
            job.trace = traceback.format_exc()
        else:
            if job._cancel.is_set():
                job.state = CANCELLED
            else:
                job.state, job.result, job.done = DONE, result, 1.0
        self._news(job)

    def idle(self, timeout: float = 60.0) -> bool:
        """Wait until nothing waits or is being done."""
        with self._condition:
            return self._condition.wait_for(
                lambda: not self._queue and self._running is None, timeout
            )

    def close(self) -> None:
        """Cancel what runs, drop what waits, end the thread."""
        with self._condition:
            self._closed = True
            self._queue.clear()
            if self._running is not None:
                self._running.cancel()
            self._condition.notify_all()
        self._thread.join(timeout=30.0)

"""The store of jobs: everything that is found out in the background is asked here.

A job is a key (who asks), what it is of (the input, compared by identity or, for text and
tuples, by value), and the work. Of one key only the newest job counts: an older one is stopped and
its reply is never given out. Replies stay until something else is asked under their key.
"""

from __future__ import annotations

import copy
import math
import threading
import time
import traceback
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from zarvik.core.common.progress import Stopped

WAITING, RUNNING, PART, DONE, FAILED, CANCELLED = ("waiting", "running", "part", "done", "failed", "cancelled")
TELL = 0.05  # s between two words about how far long work is
LANES = ("answer", "side", "work")


@dataclass(frozen=True, eq=False)
class Job:
    """Who asks (`key`), what the reply is `of`, the `work`. `lane`: the thread that does it (one of
    LANES). `title`: of long work that is shown with its progress, and can be cancelled where it may
    `stop`. `pause`: seconds to wait for a newer job of the same key before it is begun."""

    key: str
    of: Any
    work: Callable[[JobProgress], Any]
    lane: str = "side"
    title: str = ""
    pause: float = 0.0
    stop: bool = True


@dataclass(eq=False)
class JobResult:
    """What is known of a job: its `state`, the share `done` 0–1, its `value` (of a part, when
    the state says so), or why there is none: `fault` in a sentence, `trace` of the program."""

    job: Job
    state: str = WAITING
    done: float = 0.0
    value: Any = None
    fault: str = ""
    trace: str = ""
    _begun: float = 0.0
    _unwanted: threading.Event = field(default_factory=threading.Event)

    @property
    def key(self) -> str:
        """Who asked."""
        return self.job.key

    @property
    def left(self) -> float | None:
        """Seconds that are left by the pace so far; None when it cannot be told yet."""
        if self.state not in (RUNNING, PART) or self.done < 0.02:
            return None
        return (time.monotonic() - self._begun) * (1.0 - self.done) / self.done


class JobError(Exception):
    """Raised by work that cannot answer: the sentence that says why."""


def same(one: Any, two: Any) -> bool:
    """Is it the same input: the same object, or equal text, numbers, or tuples of such?"""
    if one is two:
        return True
    if isinstance(one, tuple) and isinstance(two, tuple):
        return len(one) == len(two) and all(map(same, one, two))
    return type(one) is type(two) and isinstance(one, str | int | float) and one == two


class JobProgress:
    """What the work of a job sees: a `Progress` of the core, with two things more."""

    def __init__(self, store: JobStore, reply: JobResult) -> None:
        self._store = store
        self._reply = reply
        self._told = time.monotonic()

    def __call__(self, share: float = math.nan) -> None:
        """Say which share (0–1) is done. Raises Stopped when nobody wants it any more."""
        if self._reply._unwanted.is_set():
            raise Stopped
        if share == share:
            self._reply.done = min(max(share, self._reply.done), 1.0)
        if self._reply.job.title and time.monotonic() - self._told > TELL:
            self._told = time.monotonic()
            self._store._tell(self._reply)

    def show(self, value: Any) -> None:
        """Give out what is known so far, also when something newer waits by then: to who looks on it
        is news. Raises Stopped as above."""
        self._reply.value, self._reply.state = value, PART
        self._store._tell(self._reply)
        self()

    def rest(self, seconds: float) -> None:
        """Wait while nothing newer is asked. Raises Stopped as soon as something is."""
        self._reply._unwanted.wait(seconds)
        self()


class JobStore:
    """The store. `on_change` hears of every change of a reply, on a thread of the store: take what
    `reply` gives for the input of the moment, not what is heard, which may be late."""

    def __init__(self, on_change: Callable[[JobResult], None]) -> None:
        self._on_change = on_change
        self._condition = threading.Condition()
        self._replies: dict[str, JobResult] = {}
        self._waiting: list[JobResult] = []
        self._running: dict[str, JobResult] = {}
        self._closed = False
        self._threads = [threading.Thread(target=self._loop, args=(lane,), name=f"zarvik-{lane}", daemon=True) for lane in LANES]
        for thread in self._threads:
            thread.start()

    def ask(self, job: Job, *, again: bool = False) -> JobResult:
        """Ask. What is asked or known already of the same input is not asked `again` unless told
        to."""
        with self._condition:
            before = self._replies.get(job.key)
            if before is not None and not again and before.state != CANCELLED and same(before.job.of, job.of):
                return before
            if before is not None:
                self._drop(before)
            reply = JobResult(job)
            self._replies[job.key] = reply
            self._waiting.append(reply)
            self._condition.notify_all()
        return reply

    def reply(self, key: str, of: Any) -> JobResult | None:
        """What is known under `key` of exactly this input, None when something else or nothing was
        asked."""
        with self._condition:
            found = self._replies.get(key)
        return found if found is not None and same(found.job.of, of) else None

    def cancel(self, key: str) -> None:
        """The job of `key` is not wanted any more."""
        with self._condition:
            found = self._replies.get(key)
            waited = found in self._waiting
            if found is not None:
                self._drop(found)
        if found is not None and waited:
            self._tell(found)

    def keep(self, keys: Iterable[str], *, among: str) -> None:
        """Forget what was asked under keys that begin with `among`, but for `keys`."""
        kept = set(keys)
        with self._condition:
            for key in [k for k in self._replies if k.startswith(among) and k not in kept]:
                self._drop(self._replies.pop(key))

    def running(self) -> tuple[JobResult, ...]:
        """What is being worked on."""
        with self._condition:
            return tuple(self._running.values())

    def waiting(self) -> tuple[JobResult, ...]:
        """What is not begun yet."""
        with self._condition:
            return tuple(self._waiting)

    def _drop(self, reply: JobResult) -> None:
        reply._unwanted.set()
        if reply in self._waiting:
            self._waiting.remove(reply)
            reply.state = CANCELLED

    def _next(self, lane: str) -> JobResult | None:
        """The newest job of a lane, in its own time."""
        for reply in reversed(self._waiting):
            if reply.job.lane == lane:
                return reply
        return None

    def _loop(self, lane: str) -> None:
        while True:
            with self._condition:
                self._condition.wait_for(lambda: self._closed or self._next(lane) is not None)
                if self._closed:
                    return
                reply = self._next(lane)
                assert reply is not None
                if not self._calm(lane, reply):
                    continue
                self._waiting.remove(reply)
                self._running[lane] = reply
            try:
                self._do(reply)
            finally:
                with self._condition:
                    del self._running[lane]
                    self._condition.notify_all()

    def _calm(self, lane: str, reply: JobResult) -> bool:
        """Wait out the pause of a job: a hand that moves asks for every step of itself. False
        when it is not the newest any more."""
        if reply.job.pause:
            self._condition.wait_for(lambda: self._closed or self._next(lane) is not reply, reply.job.pause)
        return not self._closed and self._next(lane) is reply

    def _do(self, reply: JobResult) -> None:
        reply.state, reply._begun = RUNNING, time.monotonic()
        if reply.job.title:
            self._tell(reply)
        try:
            value = reply.job.work(JobProgress(self, reply))
        except Stopped:
            reply.state, reply.value = CANCELLED, None
        except Exception as error:
            reply.state, reply.value = FAILED, None
            reply.fault = str(error) or type(error).__name__
            if not isinstance(error, JobError):
                reply.trace = traceback.format_exc()
        else:
            if reply._unwanted.is_set():
                reply.state = CANCELLED
            else:
                reply.state, reply.value, reply.done = DONE, value, 1.0
        self._tell(reply)

    def _tell(self, reply: JobResult) -> None:
        # As it is now: by the time this is heard it may have ended, or, stopped, have forgotten what it knew
        self._on_change(copy.copy(reply))

    def idle(self, timeout: float = 60.0) -> bool:
        """Wait until nothing waits or is being done; False when `timeout` seconds pass."""
        with self._condition:
            return self._condition.wait_for(lambda: not self._waiting and not self._running, timeout)

    def close(self) -> None:
        """Stop what runs, drop what waits, end the threads."""
        with self._condition:
            self._closed = True
            for reply in [*self._waiting, *self._running.values()]:
                self._drop(reply)
            self._condition.notify_all()
        for thread in self._threads:
            thread.join(timeout=30.0)

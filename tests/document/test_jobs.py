"""Long work, questions beside the answer, settings: finish, fail, cancel, close while running."""

from __future__ import annotations

import json
import threading
from pathlib import Path

import pytest

from zarvik.core import working
from zarvik.formats import shelf
from zarvik.project import edits
from zarvik.project.document import Project
from zarvik.project.units import parse
from zarvik.workspace import settings
from zarvik.workspace.inquiry import Asked, Comparing, Influences, Reply
from zarvik.workspace.jobs import CANCELLED, DONE, FAILED, Job, Jobs, Progress
from zarvik.workspace.places import settings_file
from zarvik.workspace.solving import Result, solve


def test_a_job_finishes_fails_and_is_cancelled(no_threads_left: None) -> None:
    """Each outcome is told with its state; a failure says why; nothing runs after a cancel."""
    heard: list[tuple[str, str]] = []
    jobs = Jobs(lambda job: heard.append((job.title, job.state)))
    steps: list[float] = []
    inside, release = threading.Event(), threading.Event()

    def count(progress: Progress) -> int:
        return sum(progress.step(i / 10) for i in range(1, 11))

    def fail(progress: Progress) -> None:
        raise ValueError("the map has one line")

    def wait(progress: Progress) -> None:
        inside.set()
        release.wait(30)
        while progress.step(0.5):
            steps.append(0.5)

    good = jobs.start("count", count)
    bad = jobs.start("fail", fail)
    slow = jobs.start("wait", wait)
    assert inside.wait(30)
    assert jobs.running is slow
    slow.cancel()
    release.set()
    assert jobs.idle()
    assert (good.state, good.result, good.done) == (DONE, 10, 1.0)
    assert (bad.state, bad.fault) == (FAILED, "the map has one line")
    assert "ValueError" in bad.trace
    assert slow.state == CANCELLED and slow.result is None and steps == []
    assert ("count", DONE) in heard and ("wait", CANCELLED) in heard
    jobs.close()


def test_closing_cancels_what_runs(no_threads_left: None) -> None:
    """Closing the service while a job runs ends the job and drops those that wait."""
    inside = threading.Event()
    jobs = Jobs(lambda job: None)

    def forever(progress: Progress) -> None:
        inside.set()
        while progress.step(0.1):
            pass

    running = jobs.start("forever", forever)
    waiting = jobs.start("later", forever)
    assert inside.wait(30)
    jobs.close()
    assert running.state == CANCELLED
    assert waiting.state == "waiting"


def test_time_left_follows_the_pace() -> None:
    """Half done after two seconds: two are left; nothing is said before the pace is known."""
    job = Job("x", lambda p: None, state="running", done=0.5)
    job._begun = __import__("time").monotonic() - 2.0
    assert job.left == pytest.approx(2.0, abs=0.2)
    job.done = 0.001
    assert job.left is None


def test_influences_in_the_background(tarn: Project, no_threads_left: None) -> None:
    """The newest question is told; a number that the build does not have is said, not raised."""
    told: list[Reply] = []
    asking = Influences(told.append)
    answer = solve(tarn).answer
    assert answer is not None
    asking.ask(Asked(answer.solver, 6400.0, "boost"))
    asking.ask(Asked(answer.solver, 6400.0, "power"))
    assert asking.idle()
    asking.ask(Asked(answer.solver, 6400.0, "nobody"))
    assert asking.idle()
    asking.close()
    assert told[-1].fault
    assert told[-2].asked.key == "power"
    assert len(told[-2].found) > 8
    assert set(working.keys(answer.solver)) > {"power", "gate_flow", "back_pressure"}


def test_designs_beside_the_present_one(tarn: Project, no_threads_left: None) -> None:
    """Designs are solved once and kept while they are asked for; one that cannot be solved has its
    reason."""
    told: list[Result] = []
    comparing = Comparing(told.append)
    wide = edits.put(tarn, "cold_pipe.c-run.bore", parse("70 mm", "length"))
    none = shelf.fresh().model_copy(update={"turbos": (), "turbo": ""})
    comparing.ask((tarn, wide, none))
    assert comparing.idle()
    comparing.ask((tarn, wide, none))
    assert comparing.idle()
    assert len(told) == 3
    found = comparing.result(wide)
    assert found is not None and found.answer is not None
    broken = comparing.result(none)
    assert broken is not None and broken.problems
    comparing.ask((tarn,))
    assert comparing.result(wide) is None
    comparing.close()


def test_settings_survive_and_stand_odd_files(state_folder: Path) -> None:
    """What is chosen comes back; a broken, foreign or absurd file leaves the defaults."""
    chosen = settings.Settings("dark", 1.5).opened(Path("/a/one.json")).opened(Path("/a/two.json"))
    chosen = chosen.opened(Path("/a/one.json"))
    settings.save(chosen)
    assert settings.load() == chosen
    assert [Path(r).name for r in chosen.recent] == ["one.json", "two.json"]
    for odd in ("", "[1]", '{"theme": 3, "scale": 1e99, "recent": 7}', '{"scale": "x"}'):
        settings_file().write_text(odd)
        assert settings.load() == settings.Settings()
    settings_file().write_text(json.dumps({"recent": ["a", 3], "scale": True}))
    assert settings.load().recent == ("a",)

"""The open project: background solving, journal, recovery after a kill."""

from __future__ import annotations

import json
import math
import os
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest

from zarvik.core.common.progress import Stopped
from zarvik.formats import project_file, shipped
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse
from zarvik.project.variants.variants import keep
from zarvik.workspace import journal, solving
from zarvik.workspace.journal import Journal
from zarvik.workspace.latest_request import LatestRequest
from zarvik.workspace.session import Session
from zarvik.workspace.solving import Result, Solving, solve

pytestmark = pytest.mark.usefixtures("no_threads_left", "answers_that_are_known", "answers_that_are_near")


def boosted(project: Project, text: str = "0.9 bar") -> Project:
    """The project with another boost."""
    return with_value(project, "goal.target_boost", parse(text, "pressure_gauge"))


def test_latest_does_the_newest_and_drops_the_rest() -> None:
    """While one is being done, of those that wait only the newest is done."""
    done: list[int] = []
    begun, go = threading.Event(), threading.Event()

    def work(number: int) -> None:
        begun.set()
        go.wait(10)
        done.append(number)

    worker: LatestRequest[int] = LatestRequest("zarvik-test", work)
    worker.put(1)
    assert begun.wait(10)
    for number in range(2, 9):
        worker.put(number)
    go.set()
    assert worker.idle(10)
    assert done == [1, 8]
    worker.close()


def test_latest_waits_out_its_pause() -> None:
    """With a pause, what is asked in quick succession is done once, the newest of it; closing does not wait for the pause."""
    done: list[int] = []
    worker: LatestRequest[int] = LatestRequest("zarvik-test", done.append, pause=0.5)
    for number in range(4):
        worker.put(number)
        time.sleep(0.02)
    assert worker.idle(10) and done == [3]
    worker.put(4)
    before = time.monotonic()
    worker.close()
    assert done == [3, 4] and time.monotonic() - before < 0.4


def test_latest_hands_failures_on_and_goes_on() -> None:
    """A failing request is told and does not end the worker."""
    failures: list[BaseException] = []

    def work(number: int) -> None:
        if number == 1:
            raise RuntimeError("first")

    worker: LatestRequest[int] = LatestRequest("zarvik-test", work, failures.append)
    worker.put(1)
    assert worker.idle(10)
    worker.put(2)
    assert worker.idle(10)
    worker.close()
    assert [str(f) for f in failures] == ["first"]


def test_close_does_what_waits() -> None:
    """Closing while running ends cleanly and loses nothing."""
    done: list[int] = []

    def work(number: int) -> None:
        time.sleep(0.05)
        done.append(number)

    worker: LatestRequest[int] = LatestRequest("zarvik-test", work)
    worker.put(1)
    worker.put(2)
    worker.close()
    assert done[-1] == 2


def test_solving_says_what_is_wrong(tarn: Project) -> None:
    """A document with problems has no answer, and all its problems."""
    result = solve(with_value(tarn, "cold_pipe.c-up.radius", parse("20 mm", "length")))
    assert result.answer is None
    assert "Bend up" in result.problems[0].text
    assert result.problems[0].place == "cold_pipe.c-up"


def test_solving_survives_the_unexpected(tarn: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    """A fault of the program is told with its trace, not raised into the thread."""
    monkeypatch.setattr("zarvik.workspace.solving.figures", lambda *a: (_ for _ in ()).throw(TypeError("odd")))
    result = solve(tarn)
    assert result.answer is None
    assert "odd" in result.problems[0].text
    assert "TypeError" in result.fault


def test_session_solves_every_edit(tarn: Project) -> None:
    """The last answer is that of the last document, complete."""
    results: list[Result] = []
    session = Session(tarn)
    session.job_changed = lambda reply: results.append(reply.value)
    for text in ("0.8 bar", "0.9 bar", "1.0 bar"):
        assert session.apply("Boost", boosted(session.project, text))
        assert not session.apply("Nothing", session.project)
    assert session.idle()
    session.close()
    assert results[-1].project is session.project
    assert results[-1].answer is not None
    assert results[-1].answer.target.boost == pytest.approx(1.0e5)


def test_what_is_undone_is_not_solved_again(tarn: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    """Undo, redo and a design that is kept beside bring back the complete answer that there was; another edit is solved."""
    solved: list[object] = []
    own = solving.figures
    monkeypatch.setattr(solving, "figures", lambda *given: solved.append(given) or own(*given))  # type: ignore[func-returns-value]
    results: list[Result] = []
    session = Session(tarn)
    session.job_changed = lambda reply: results.append(reply.value)
    session.apply("Boost", boosted(session.project, "0.95 bar"))
    assert session.idle()
    first = results[-1]
    session.apply("Boost", boosted(session.project, "0.9 bar"))
    assert session.idle() and len(solved) == 2
    other = results[-1]
    for step, answer in ((session.undo, first), (session.redo, other), (session.undo, first)):
        step()
        assert session.idle()
        assert results[-1].complete and results[-1].answer is answer.answer and results[-1].project is session.project
    session.apply("Keep", keep(session.project, "present"))
    assert session.idle()
    assert results[-1].answer is first.answer and results[-1].project is session.project and len(solved) == 2
    session.apply("Boost", boosted(session.project, "0.8 bar"))
    assert session.idle() and len(solved) == 3
    session.close()


def test_dirty_follows_the_file(tarn: Project, tmp_path: Path) -> None:
    """Saved, changed, undone, saved elsewhere."""
    path = tmp_path / "a.zarvik.json"
    project_file.write(tarn, path)
    session = Session(project_file.read(path), path)
    assert not session.dirty
    session.apply("Boost", boosted(session.project))
    assert session.dirty
    session.undo()
    assert not session.dirty
    session.redo()
    session.save()
    assert not session.dirty
    assert project_file.read(path) == session.project
    other = tmp_path / "b.zarvik.json"
    session.save(other)
    assert session.path == other
    session.close()


def test_a_failed_save_changes_nothing(tarn: Project, tmp_path: Path) -> None:
    """The document stays dirty and journalled."""
    session = Session(tarn)
    session.apply("Boost", boosted(tarn))
    with pytest.raises(project_file.FileError, match="no file yet"):
        session.save()
    blocked = tmp_path / "x"
    blocked.mkdir()
    (blocked / "y").touch()
    with pytest.raises(project_file.FileError):
        session.save(blocked)
    assert session.dirty
    assert session.path is None
    assert session.idle()
    assert len(list(journal.folder().glob("*.json"))) == 1
    session.close()


def test_journal_goes_when_saved_or_undone(tarn: Project, tmp_path: Path) -> None:
    """Only unsaved states are journalled."""
    path = tmp_path / "a.zarvik.json"
    project_file.write(tarn, path)
    session = Session(project_file.read(path), path)
    session.apply("Boost", boosted(session.project))
    assert session.idle()
    assert len(list(journal.folder().glob("*.json"))) == 1
    session.undo()
    assert session.idle()
    assert list(journal.folder().glob("*.json")) == []
    session.redo()
    session.save()
    assert session.idle()
    assert list(journal.folder().glob("*.json")) == []
    session.close()


EDIT_AND_DIE = """
import os, sys
from pathlib import Path
from zarvik.formats import project_file
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse
from zarvik.workspace.session import Session
path = Path(sys.argv[1])
session = Session(project_file.read(path), path)
for text in ("0.7 bar", "0.8 bar", "0.95 bar"):
    session.apply("Boost", with_value(session.project, "goal.target_boost", parse(text, "pressure_gauge")))
session.idle()
os.kill(os.getpid(), 9)
"""


def test_a_killed_program_leaves_its_unsaved_state(tarn: Project, tmp_path: Path) -> None:
    """kill -9 after edits: the next start finds the last of them, and the file is untouched."""
    path = tmp_path / "a.zarvik.json"
    project_file.write(tarn, path)
    done = subprocess.run([sys.executable, "-c", EDIT_AND_DIE, str(path)], check=False, env=dict(os.environ))
    assert done.returncode == -9
    assert project_file.read(path) == tarn
    found = journal.left_behind()
    assert len(found) == 1
    assert found[0].path == path
    assert str(found[0].project.goal.target_boost) == "0.95 bar"
    journal.discard(found[0])
    assert journal.left_behind() == []


def test_journals_of_living_programs_are_let_be(tarn: Project) -> None:
    """This program's own journal and that of another that runs are not offered."""
    session = Session(tarn)
    session.apply("Boost", boosted(tarn))
    assert session.idle()
    assert journal.left_behind() == []
    tree = json.loads(next(journal.folder().glob("*.json")).read_text("utf-8"))
    # A process number that lives again (a restart of the machine hands them out anew) is no life.
    other = journal.folder() / "1-aaaa.json"
    other.write_text(json.dumps({**tree, "pid": 1}), "utf-8")
    assert [u.journal for u in journal.left_behind()] == [other]
    living = subprocess.Popen(
        [
            sys.executable,
            "-c",
            "import fcntl,sys,time; f=open(sys.argv[1],'w'); fcntl.flock(f, fcntl.LOCK_EX);print('held', flush=True); time.sleep(60)",
            str(other.with_suffix(".lock")),
        ],
        stdout=subprocess.PIPE,
    )
    assert living.stdout is not None
    living.stdout.readline()
    held = journal.left_behind()
    living.kill()
    living.wait()
    living.stdout.close()
    session.close()
    assert held == []
    assert [u.journal for u in journal.left_behind()] == [other]


def test_odd_journals_do_not_stop_the_start(tarn: Project) -> None:
    """Times with a zone, no time, a folder in place of a file, a process number without end."""
    session = Session(tarn)
    session.apply("Boost", boosted(tarn))
    assert session.idle()
    tree = json.loads(next(journal.folder().glob("*.json")).read_text("utf-8"))
    session.close()
    good = {
        "a": {"time": "2026-01-02T03:04:05+05:00"},
        "b": {"time": "2026-01-02T03:04:05"},
        "c": {"pid": 10**400},
        "d": {"pid": -1, "time": "2026-01-02"},
    }
    for name, change in good.items():
        (journal.folder() / f"{name}.json").write_text(json.dumps({**tree, **change}), "utf-8")
    for name, change in {"e": {"time": "never"}, "f": {"path": 7}, "g": {"document": []}}.items():
        (journal.folder() / f"{name}.json").write_text(json.dumps({**tree, **change}), "utf-8")
    (journal.folder() / "h.json").mkdir()
    found = {u.journal.stem for u in journal.left_behind()}
    assert found == set(good)


def _left(tarn: Project, path: Path, **change: object) -> Path:
    """A journal of a program that is gone, of an edit of the file at `path`."""
    session = Session(tarn, path)
    session.apply("Boost", boosted(tarn))
    assert session.idle()
    tree = json.loads(next(journal.folder().glob("*.json")).read_text("utf-8"))
    session.close()
    left = journal.folder() / "left.json"
    left.write_text(json.dumps({**tree, **change}), "utf-8")
    return left


@pytest.mark.parametrize("when", ["2020-01-01T00:00:00", "2099-01-01T00:00:00+00:00", "2026-10-25T02:30:00+02:00"])
def test_no_clock_hides_a_state(tarn: Project, tmp_path: Path, when: str) -> None:
    """A clock set back, another zone, the hour that comes twice: the state is offered, and whether the file
    was written since is told by its own mark."""
    path = tmp_path / "t.zarvik.json"
    project_file.write(tarn, path)
    left = _left(tarn, path, time=when)
    found = journal.left_behind()
    assert [u.journal for u in found] == [left]
    assert found[0].project == boosted(tarn)
    assert not found[0].moved
    assert found[0].time.tzinfo is not None


def test_a_file_written_since_is_told(tarn: Project, tmp_path: Path) -> None:
    """Another window saved after the edit: both are there, and saving asks before it writes over."""
    path = tmp_path / "t.zarvik.json"
    project_file.write(tarn, path)
    _left(tarn, path)
    other = with_value(tarn, "goal.target_boost", parse("0.66 bar", "pressure_gauge"))
    project_file.write(other, path)
    found = journal.left_behind()
    assert [u.moved for u in found] == [True]
    session = Session(tarn)
    session.replace(found[0].project, path, saved=False, label="Recovered", precious=True, mark=found[0].mark)
    assert session.changed_outside
    kept = session.save(keep_other=True)
    assert kept is not None
    assert project_file.read(kept) == other
    assert project_file.read(path) == boosted(tarn)
    session.save(keep_other=False)
    assert project_file.read(kept) == other  # the next save does not take it
    session.close()


def test_a_state_that_was_saved_is_not_offered(tarn: Project, tmp_path: Path) -> None:
    """The program ended between saving and forgetting: the file says the same, there is nothing to recover."""
    path = tmp_path / "t.zarvik.json"
    project_file.write(tarn, path)
    left = _left(tarn, path)
    project_file.write(boosted(tarn), path)
    assert journal.left_behind() == []
    assert not left.exists()


def test_states_set_aside_are_seen_again(tarn: Project, tmp_path: Path) -> None:
    """What an earlier version put away is offered; what cannot be read is told until it is thrown away."""
    path = tmp_path / "t.zarvik.json"
    project_file.write(tarn, path)
    left = _left(tarn, path)
    left.rename(left.with_suffix(".older"))
    (journal.folder() / "bad.json").write_text("{", "utf-8")
    for _ in range(2):
        assert [u.journal.suffix for u in journal.left_behind()] == [".older"]
        told = journal.damaged()
        assert [d.journal.name for d in told] == ["bad.unreadable"]
        assert "property name" in told[0].reason, "as the reader of JSON says it"
    journal.discard(told[0])
    journal.discard(journal.left_behind()[0])
    assert (journal.damaged(), journal.left_behind()) == ([], [])


def test_a_lock_that_is_looked_at_is_still_got(tmp_path: Path) -> None:
    """Another program that looks whether one lives, or clears up, takes no lock from one that begins."""
    file = journal.folder() / "x.json"
    file.parent.mkdir(parents=True)
    stop = threading.Event()

    def look() -> None:
        while not stop.is_set():
            journal.left_behind()

    threads = [threading.Thread(target=look) for _ in range(2)]
    for thread in threads:
        thread.start()
    try:
        for _ in range(150):
            made = Journal()
            assert made._lock is not None
            assert journal._held(made.file)
            made.close()
    finally:
        stop.set()
        for thread in threads:
            thread.join()


def test_recovered_and_duplicated_work_is_unsaved(tarn: Project, tmp_path: Path) -> None:
    """Neither is in a file: leaving asks, and a kill right behind it loses nothing."""
    session = Session(tarn)
    assert not session.unsaved
    session.replace(boosted(tarn), None, saved=False, label="Recovered", precious=True)
    assert session.unsaved
    assert session.journalled()
    tree = json.loads(next(journal.folder().glob("*.json")).read_text("utf-8"))
    assert project_file.from_tree(tree["document"], "x") == boosted(tarn)
    session.save(tmp_path / "r.zarvik.json")
    assert not session.unsaved
    session.close()


def test_a_file_changed_by_somebody_else_is_noticed(tarn: Project, tmp_path: Path) -> None:
    """Touched, replaced or removed since it was opened."""
    path = tmp_path / "t.zarvik.json"
    project_file.write(tarn, path)
    session = Session(tarn, path)
    assert not session.changed_outside
    session.apply("Boost", boosted(tarn))
    session.save()
    assert not session.changed_outside
    project_file.write(tarn, path)
    assert session.changed_outside
    session.close()


@pytest.mark.parametrize("text", ["", "{", "{}", '{"pid": "x"}', "[]", '{"pid": 999999999}'])
def test_unreadable_journals_are_set_aside(text: str) -> None:
    """A broken journal neither stops the start nor is lost."""
    journal.folder().mkdir(parents=True)
    (journal.folder() / "x.json").write_text(text, "utf-8")
    assert journal.left_behind() == []
    assert [p.name for p in journal.folder().iterdir()] == ["x.unreadable"]


def test_a_journal_that_cannot_be_written_is_told(tarn: Project, state_folder: Path) -> None:
    """A full or blocked disk is said, and editing goes on."""
    state_folder.mkdir()
    (state_folder / "journal").write_text("in the way", "utf-8")
    session = Session(tarn)
    session.apply("Boost", boosted(tarn))
    assert session.idle()
    assert session.journal_fault
    session.close()


def test_new_document_starts_a_new_history(tarn: Project) -> None:
    """Another document has a history and a file of its own."""
    session = Session(tarn)
    session.apply("Boost", boosted(tarn))
    session.replace(shipped.demo("tarn"), None, saved=False, label="Opened")
    assert session.history.undo_label is None
    assert session.idle()
    assert list(journal.folder().glob("*.json")) == []
    session.close()


class _Hand:
    """Stands in for the watch of a question: keeps what is shown, and is stopped in its `stop`th rest."""

    def __init__(self, stop: int) -> None:
        self.shown: list[Result] = []
        self._left = stop

    def __call__(self, share: float = math.nan) -> None:
        pass

    def show(self, result: Result) -> None:
        self.shown.append(result)

    def rest(self, seconds: float) -> None:
        self._left -= 1
        if self._left == 0:
            raise Stopped


def test_figures_come_first_and_a_hand_that_never_rests_still_sees_checks(tarn: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    solving, clock = Solving(), [100.0]
    tarn = boosted(tarn, "0.83 bar")  # not one whose answer is known
    monkeypatch.setattr("zarvik.workspace.solving.time.monotonic", lambda: clock[0])
    first = _Hand(2)
    with pytest.raises(Stopped):
        solving.job(tarn).work(first)
    figures, judged = (r.answer for r in first.shown)
    assert figures is not None and judged is not None
    assert not figures.judged and figures.check_results == () and judged.judged
    assert judged.target is figures.target and len(judged.check_results) > 15
    # Every step of this hand comes before the checks of the one before.
    for step, wanted in ((0.01, False), (0.1, False), (0.1, True)):
        clock[0] += step
        hand = _Hand(1)
        with pytest.raises(Stopped):
            solving.job(tarn).work(hand)
        assert [r.answer is not None and r.answer.judged for r in hand.shown] == [wanted]

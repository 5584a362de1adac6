"""The store of questions: finish, fail, stop, replace, close while running; settings."""

from __future__ import annotations

import json
import threading
from pathlib import Path

import pytest

from zarvik.core import calculations
from zarvik.core.answer.answer import Answer
from zarvik.core.common.progress import Stopped
from zarvik.formats import atomic_writer, bench_files, shipped
from zarvik.project.document.document import Project
from zarvik.project.document.parts.part import Part, complete_parts
from zarvik.project.edits import edits
from zarvik.project.units.units import parse
from zarvik.workspace import settings
from zarvik.workspace.folders import settings_file
from zarvik.workspace.job_store import CANCELLED, DONE, FAILED, PART, RUNNING, Job, JobError, JobProgress, JobResult, JobStore, same
from zarvik.workspace.jobs import CATALOGUE, ROAD_SPEEDS, bay_of, beside, catalogue_in, files_of, influences_of, radiator_shares_of
from zarvik.workspace.solving import solve


def store() -> tuple[JobStore, list[tuple[str, str]]]:
    """A store and what it tells: (key, state)."""
    heard: list[tuple[str, str]] = []
    return JobStore(lambda reply: heard.append((reply.key, reply.state))), heard


def test_a_question_finishes_fails_and_is_stopped(no_threads_left: None) -> None:
    """Each outcome is told with its state; a failure says why; nothing runs after a stop."""
    questions, heard = store()
    steps: list[float] = []
    inside, release = threading.Event(), threading.Event()

    def count(watch: JobProgress) -> int:
        for i in range(1, 11):
            watch(i / 10)
        return 10

    def fail(watch: JobProgress) -> None:
        raise ValueError("the map has one line")

    def unable(watch: JobProgress) -> None:
        raise JobError("there is no map")

    def wait(watch: JobProgress) -> None:
        inside.set()
        release.wait(30)
        while True:
            watch(0.5)
            steps.append(0.5)

    good = questions.ask(Job("count", 1, count, "work", title="Count"))
    assert questions.idle()
    bad = questions.ask(Job("fail", 1, fail, "work", title="Fail"))
    none = questions.ask(Job("unable", 1, unable, "work"))
    assert questions.idle()
    slow = questions.ask(Job("wait", 1, wait, "work", title="Wait"))
    assert inside.wait(30)
    assert questions.running() == (slow,)
    questions.cancel("wait")
    release.set()
    assert questions.idle()
    assert (good.state, good.value, good.done) == (DONE, 10, 1.0)
    assert (bad.state, bad.fault) == (FAILED, "the map has one line")
    assert "ValueError" in bad.trace
    assert (none.state, none.fault, none.trace) == (FAILED, "there is no map", "")
    assert slow.state == CANCELLED and slow.value is None and steps == []
    assert ("count", RUNNING) in heard and ("count", DONE) in heard and ("wait", CANCELLED) in heard
    questions.close()


def test_the_newest_question_of_a_key_counts(no_threads_left: None) -> None:
    """A newer one stops an older one, whose late reply is never given out; the same input is not asked
    twice; another key is not touched."""
    questions, _ = store()
    inside, release = threading.Event(), threading.Event()

    def slow(watch: JobProgress) -> str:
        inside.set()
        release.wait(30)
        return "315 hp"

    first = questions.ask(Job("shelf", "0.8 bar", slow))
    assert inside.wait(30)
    second = questions.ask(Job("shelf", "0.5 bar", lambda watch: "201 hp"))
    assert questions.ask(Job("shelf", "0.5 bar", lambda watch: "never")) is second
    other = questions.ask(Job("other", "0.8 bar", lambda watch: "kept"))
    assert questions.reply("shelf", "0.8 bar") is None
    release.set()
    assert questions.idle()
    assert (first.state == CANCELLED and first.value is None) or first.value != second.value
    found = questions.reply("shelf", "0.5 bar")
    assert found is second and found.value == "201 hp" and other.value == "kept"
    assert questions.reply("shelf", "0.8 bar") is None
    assert questions.ask(Job("shelf", "0.5 bar", lambda watch: "again"), again=True) is not second
    questions.keep([], among="oth")
    assert questions.reply("other", "0.8 bar") is None
    questions.close()


def test_a_part_is_shown_although_something_newer_waits(no_threads_left: None) -> None:
    """While a hand drags, each first answer is news; what takes longer is given up."""
    shown: list[tuple[str, str]] = []
    kept: list[JobResult] = []

    def hear(reply: JobResult) -> None:
        shown.append((str(reply.value), reply.state))
        kept.append(reply)

    questions = JobStore(hear)
    inside, release = threading.Event(), threading.Event()

    def work(watch: JobProgress) -> str:
        inside.set()
        release.wait(30)
        watch.show("first of one")
        watch.rest(30)
        return "whole of one"

    one = questions.ask(Job("answer", 1, work, "answer"))
    assert inside.wait(30)
    two = questions.ask(Job("answer", 2, lambda watch: "whole of two", "answer"))
    release.set()
    assert questions.idle()
    assert ("first of one", PART) in shown and one.state == CANCELLED
    # Who takes up what he heard only later, as the window does, still finds it.
    assert [r.value for r in kept if r.state == PART] == ["first of one"]
    assert two.value == "whole of two" and ("whole of one", DONE) not in shown
    questions.close()


def test_closing_stops_what_runs(no_threads_left: None) -> None:
    """Closing the store while something runs ends it and drops what waits."""
    inside = threading.Event()
    questions, _ = store()

    def forever(watch: JobProgress) -> None:
        inside.set()
        while True:
            watch(0.1)

    running = questions.ask(Job("forever", 1, forever, "work"))
    assert inside.wait(30)
    waiting = questions.ask(Job("later", 1, forever, "work"))
    questions.close()
    assert running.state == CANCELLED and waiting.state == CANCELLED
    with pytest.raises(Stopped):
        JobProgress(questions, running)()


def test_what_counts_as_the_same_input() -> None:
    """The same object, equal text and numbers, tuples of such; never two equal objects."""
    thing, other = [1], [1]
    assert same(thing, thing) and not same(thing, other)
    assert same((thing, "a", 2.0), (thing, "a", 2.0)) and not same((thing, 1), (other, 1))
    assert not same((thing,), (thing, 1)) and not same(1, 1.0) and not same("a", "b")


def test_time_left_follows_the_pace() -> None:
    """Half done after two seconds: two are left; nothing is said before the pace is known."""
    reply = JobResult(Job("x", 1, lambda watch: None), state=RUNNING, done=0.5)
    reply._begun = __import__("time").monotonic() - 2.0
    assert reply.left == pytest.approx(2.0, abs=0.2)
    reply.done = 0.001
    assert reply.left is None


def test_influences_in_the_background(tarn: Project, no_threads_left: None) -> None:
    """The newest question is answered; a number that the build does not have is said, not raised."""
    questions, _ = store()
    answer = solve(tarn).answer
    assert answer is not None
    boost = questions.ask(influences_of(answer.solved, 6400.0, "boost"))
    power = questions.ask(influences_of(answer.solved, 6400.0, "power"))
    assert questions.idle()
    assert boost.state == CANCELLED and power.state == DONE and len(power.value) > 8
    nobody = questions.ask(influences_of(answer.solved, 6400.0, "nobody"))
    assert questions.idle()
    assert nobody.fault == "this build does not have that number"
    questions.close()
    assert set(calculations.keys(answer.build)) > {"power", "gate_flow", "back_pressure"}


def test_designs_beside_the_present_one(tarn: Project, no_threads_left: None) -> None:
    """Designs are solved once and kept while they are asked for; one that cannot be solved has its
    reason."""
    questions, heard = store()
    wide = edits.with_value(tarn, "cold_pipe.c-run.bore", parse("70 mm", "length"))
    none = shipped.fresh().model_copy(update={"turbos": (), "turbo": ""})
    designs = {"plain": tarn, "wide": wide, "none": none}
    for _ in range(2):
        for name, design in designs.items():
            questions.ask(beside(name, design))
        assert questions.idle()
    assert [state for _, state in heard].count(DONE) == 3
    found = questions.reply("beside:wide", wide)
    assert found is not None and found.value.answer is not None
    broken = questions.reply("beside:none", none)
    assert broken is not None and broken.value.problems
    questions.close()


def test_a_search_belongs_to_everything_but_the_turbo(tarn: Project) -> None:
    """Another boost or pipe is another question; another turbo, name or unit is not."""
    asked = catalogue_in(tarn)
    assert asked.key == CATALOGUE
    for place, text, kind in (("goal.target_boost", "0.5 bar", "pressure_gauge"), ("cold_pipe.c-run.bore", "70 mm", "length")):
        assert not same(asked.of, catalogue_in(edits.with_value(tarn, place, parse(text, kind))).of)
    other = edits.with_value(tarn, "turbo", tarn.turbos[1].id)
    assert same(asked.of, catalogue_in(other).of)
    assert same(asked.of, catalogue_in(edits.with_value(other, "units", "inch")).of)
    fewer = tarn.model_copy(update={"turbos": tarn.turbos[:1], "turbo": tarn.turbos[0].id})
    assert same(asked.of, catalogue_in(fewer).of)


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


def test_what_a_radiator_sustains_over_road_speed(tarn_answer: Answer, no_threads_left: None) -> None:
    """It rises with the wind and is less behind another core; at the speed of the build it is what the check of the radiator speaks of."""
    questions, _ = store()
    reply = questions.ask(radiator_shares_of(tarn_answer))
    assert questions.idle()
    questions.close()
    found = reply.value
    assert reply.state == DONE and len(found.shares) == len(found.alone) == len(ROAD_SPEEDS)
    assert list(found.shares) == sorted(found.shares) and all(one < two for one, two in zip(found.shares, found.alone, strict=True))
    slower = max(share for share, speed in zip(found.shares, ROAD_SPEEDS, strict=True) if speed <= found.road_speed)
    assert slower <= found.here <= max(found.shares)
    check = next(v for v in tarn_answer.check_results if v.id == "radiator")
    assert any(getattr(figure, "value", None) == pytest.approx(found.here) for _, figure in check.text.figures), "the same share"


def test_parts_are_completed_ahead() -> None:
    """Every kind of part of the document, those of other parts too: a window does not wait for it."""
    complete_parts()
    kinds, waiting = [Part], []
    while kinds:
        kind = kinds.pop()
        waiting += [kind.__name__] if not kind.__pydantic_complete__ else []
        kinds += kind.__subclasses__()
    assert set(waiting) <= {"Part"}


@pytest.mark.parametrize("fault", [ValueError("no such drawing"), atomic_writer.FileError("the disk is full")])
def test_files_that_cannot_be_made_say_why(fault: Exception, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """What a drawing or a disk refuses is a sentence for the person who asked, not a trace of the program."""

    def made(*_: object) -> list[tuple[Path, bytes]]:
        raise fault

    monkeypatch.setattr(bench_files, "made", made)
    with pytest.raises(JobError, match=str(fault)):
        files_of(shipped.demo("tarn"), "drawings", tmp_path / "x.pdf").work(lambda share=0.0: None)


def test_what_is_heard_is_as_it_was_then() -> None:
    """Who hears late, as a window does, hears each state once and in order: how far it was never comes as its end."""
    later: list[JobResult] = []
    store = JobStore(later.append)

    def work(watch: JobProgress) -> int:
        for n in range(3):
            watch._told = 0.0
            watch(n / 3)
        watch.show(5)
        return 7

    store.ask(Job("k", 1, work, title="Work"))
    assert store.idle()
    store.close()
    heard = [(one.state, one.value) for one in later]
    assert heard[0] == ("running", None)
    assert heard[-2:] == [("part", 5), ("done", 7)]
    assert {state for state, _ in heard[:-2]} == {"running"}
    assert [one.done for one in later] == sorted(one.done for one in later)


def test_gaps_are_told_though_the_next_step_is_asked_for() -> None:
    """A hand that moves a piece asks for the gaps of the next step before those of this one are known: they are shown all the same, and
    the work begins without a pause that a hand would prolong."""
    shown: list[object] = []

    class Unwanted:
        def __call__(self, share: float = 0.0) -> None:
            pass

        def show(self, value: object) -> None:
            shown.append(value)
            raise Stopped

    job = bay_of(shipped.demo("tarn"))
    with pytest.raises(Stopped):
        job.work(Unwanted())  # type: ignore[arg-type]
    assert len(shown) == 1
    assert len(shown[0]) > 50  # type: ignore[arg-type]
    assert job.pause == 0.0

"""What the parts of the window share: the session, the newest answer, what is chosen."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import partial
from typing import Any, Protocol

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from zarvik.core.airpath.point import Point
from zarvik.core.answer.answer import Answer
from zarvik.core.checks import Change, CheckResult
from zarvik.core.common.sentences import Sentence
from zarvik.core.whole_build.build import Solved, solved
from zarvik.project.assembly.site import ambient_pressure
from zarvik.project.cures.cure_edits import is_long, with_changes
from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.naming import piece_title
from zarvik.project.document.places import split_place
from zarvik.project.edits import edits, tables
from zarvik.project.estimates.estimates import origin, spread_of
from zarvik.project.language.language import reason, tr
from zarvik.project.units import rendering
from zarvik.project.units.units import EntryError, Quantity, show, unit_of
from zarvik.window.mailbox import Mailbox
from zarvik.workspace.job_store import DONE, Job, JobResult
from zarvik.workspace.jobs import BESIDE, CURE, beside, cure_of
from zarvik.workspace.session import Session
from zarvik.workspace.solving import Result

_DIFFERENCES = {"temperature": "temperature_difference", "pressure_gauge": "pressure_difference"}


def _unit_of_difference(value: Quantity) -> str | None:
    return None if value.kind == "temperature" else value.unit


@dataclass(frozen=True)
class OtherDesign:
    """A design beside the present one, whose numbers are looked at: its name, and what gives it
    solved, None when it is gone or not solved."""

    name: str
    solved: Callable[[], Solved | None]


class Steps(Protocol):
    """Work with an undo and a redo of its own."""

    def undo(self) -> None:
        """One step back."""

    def redo(self) -> None:
        """And forth."""


class Desk(QObject):
    """Binds the widgets to one session. Edits go through here; news comes out as signals."""

    document_changed = Signal()
    result_changed = Signal()
    checks_changed = Signal()  # they follow the figures within a moment, and again with the rest
    rest_changed = Signal()  # costs and candidates of an answer that is shown already
    speed_changed = Signal()
    bench_wanted = Signal(str)  # key of a bench
    subject_wanted = Signal(str)
    piece_chosen = Signal(str)
    notice = Signal(str)
    calculation_wanted = Signal(str, object)  # key of the sheet, Beside or None
    place_wanted = Signal(str)
    check_wanted = Signal()
    known_wanted = Signal()
    overlay_changed = Signal()
    job_changed = Signal(object)  # a Reply of the store of jobs, the answer's apart
    compared = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.result: Result | None = None
        self._answer: Answer | None = None
        self._speed: float | None = None
        self._target: float | None = None
        self.piece: str | None = None
        self._tried: tuple[Answer, str, Solved] | None = None
        session.changed = self.document_changed.emit
        self._mail = Mailbox(self)  # from the threads of the store
        session.job_changed = self._mail.post
        self._mail.arrived.connect(self._hear)
        # Where benches stand: what is made in its place is dressed once, what is brought there is dressed with all that is in it again
        self.home: QWidget | None = None
        self.own_steps: Steps | None = None  # a sheet that is open has its own undo and redo
        self.overlay = ""  # name of the variant that is drawn behind the present design

    @property
    def project(self) -> Project:
        """The document as it is now."""
        return self.session.project

    @property
    def answer(self) -> Answer | None:
        """The newest answer, of the present document or, while solving, of one just before."""
        return self._answer

    @property
    def current(self) -> bool:
        """Is the answer that of the present document?"""
        return self.result is not None and self.result.project is self.project

    @property
    def complete(self) -> bool:
        """Is everything of the present document's answer here?"""
        return self.current and self.result is not None and self.result.complete

    @property
    def checking(self) -> bool:
        """Are the states of the checks provisional: is it not known yet how uncertain they are?"""
        return self._answer is not None and self._answer.bands is None and not (self.result is not None and self.result.complete)

    @property
    def ambient(self) -> float:
        """Ambient pressure of the site in Pa, the reference of gauge entries."""
        return ambient_pressure(self.project)

    def ask(self, job: Job, *, again: bool = False) -> JobResult:
        """Ask the store; `job_changed` brings the reply, unless it is known already and not asked for `again`."""
        return self.session.jobs.ask(job, again=again)

    def known(self, job: Job) -> Any:
        """The value of the reply to exactly this job, None while there is none."""
        reply = self.session.jobs.reply(job.key, job.of)
        return reply.value if reply is not None and reply.state == DONE else None

    def _hear(self, reply: JobResult) -> None:
        if reply.key == "answer":
            if isinstance(reply.value, Result):
                self._take(reply.value)
            return
        if reply.key == CURE and reply.state == DONE:
            self._cured(reply)
        if reply.key.startswith(BESIDE) and reply.state == DONE:
            self.compared.emit()
            if self.overlay and reply.key == BESIDE + self.overlay:
                self.overlay_changed.emit()
        self.job_changed.emit(reply)

    def _take(self, result: Result) -> None:
        if self.current and result.project is not self.project:
            return  # late: the answer of the present document is shown already
        before = self.result
        rest = before is not None and before.project is result.project and before.answer is not None and result.answer is not None
        self.result = result
        self._answer = result.answer
        target = result.answer.target.speed if result.answer is not None else None
        if target is not None and (self._speed is None or target != self._target):
            # Another target is what one wants to see.
            self._speed = target
        self._target = target if target is not None else self._target
        judged = result.answer is None or result.answer.judged
        if not rest:
            self.result_changed.emit()
        elif before is not None and before.answer is not None and before.answer.judged:
            self.rest_changed.emit()
        if judged:
            self.checks_changed.emit()

    def set_overlay(self, name: str) -> None:
        """Draw a variant behind the present design in every plot; empty for none."""
        self.overlay = name
        self.ask_beside()
        self.overlay_changed.emit()

    def ask_beside(self, names: Iterable[str] = ()) -> None:
        """Have variants solved beside the present design, the overlay always."""
        wanted = {*names, self.overlay}
        asked = [beside(v.name, v.design) for v in self.project.variants if v.name in wanted]
        self.session.jobs.keep([q.key for q in asked], among=BESIDE)
        for job in asked:
            self.ask(job)

    def beside(self, name: str) -> Answer | None:
        """The answer of a variant, None while there is none."""
        for variant in self.project.variants:
            if variant.name == name:
                found = self.known(beside(name, variant.design))
                return found.answer if isinstance(found, Result) else None
        return None

    @property
    def overlay_answer(self) -> Answer | None:
        """The answer of the overlay."""
        return self.beside(self.overlay) if self.overlay else None

    @property
    def speeds(self) -> list[float]:
        """Engine speeds that can be shown: those of the sweep and the target's."""
        if self._answer is None:
            return []
        return sorted({p.speed for p in self._answer.sweep} | {self._answer.target.speed})

    @property
    def speed(self) -> float:
        """The engine speed that is shown, rev/min."""
        return self._speed if self._speed is not None else self.project.goal.target_speed.si

    def set_speed(self, speed: float) -> None:
        """Show the solved point nearest to `speed` in rev/min."""
        if self.speeds:
            speed = min(self.speeds, key=lambda s: abs(s - speed))
        if speed != self._speed:
            self._speed = speed
            self.speed_changed.emit()

    @property
    def point(self) -> Point | None:
        """The solved point at the speed that is shown."""
        if self._answer is None:
            return None
        points = (*self._answer.sweep, self._answer.target)
        return min(points, key=lambda p: abs(p.speed - self.speed))

    def text(self, value: float, kind: str, *, places: int | None = None) -> str:
        """An SI number in the owner's unit. `places` of a length are those of a millimetre."""
        units = self.project.shown_units
        if places is None:
            return rendering.figure(value, kind, units)
        if kind == "length":
            return rendering.ruled(value, units, places=places)
        return rendering.show(value, kind, units.get(kind), places=places)

    def unit(self, kind: str) -> str | None:
        """The owner's unit for a kind of quantity, None where there is no choice."""
        return self.project.shown_units.get(kind)

    def linked(self, sentence: Sentence | None) -> tuple[str, tuple[tuple[int, int, str], ...]]:
        """A sentence in the owner's units, and where in it the figures stand that lead somewhere."""
        return rendering.linked(sentence, self.project.shown_units)

    def say(self, sentence: Sentence | None) -> str:
        """A sentence in the owner's units."""
        return rendering.render(sentence, self.project.shown_units)

    def advice(self, check_result: CheckResult) -> str:
        """The cure of a check with its price, in the owner's units."""
        return rendering.advice(check_result, self.project.shown_units)

    def edit(self, place: str, value: Any, *, label: str = "", merge_key: str | None = None) -> None:
        """Set the value at `place`; raises EntryError when it is not allowed."""
        title = label or self.title_of(place, value)
        if place == "engine.breathing":
            changed = tables.choose_breathing(self.project, value)
        elif place == "engine.mixture":
            changed = tables.choose_mixture(self.project, value)
        elif place == "engine.fuelling":
            changed = tables.choose_fuelling(self.project, value)
        else:
            changed = edits.with_value(self.project, place, value)
        self.session.apply(title, changed, merge_key)

    def drag(self, label: str, *values: tuple[str, float]) -> None:
        """Entries (their places, with SI numbers) follow a hand that drags them, in whole steps of what is shown, as one step of undo until
        the history is sealed. A number that an entry does not allow is left as it was."""
        changed = self.project
        for place, si in values:
            stood: Quantity = edits.get(changed, place)
            unit = unit_of(stood.kind, stood.unit)
            try:
                changed = edits.with_value(changed, place, Quantity(round(unit.from_si(si), unit.places), stood.unit, stood.kind))
            except EntryError:
                continue
        self.session.apply(label, changed, f"drag:{label}")

    def origin(self, place: str) -> str:
        """How the entry at a place came to be known, what it is good to, and how one measures it."""
        words = self.say(origin(self.project, place))
        found, value = edits.meta(self.project, place), edits.get(self.project, place)
        if not words or not isinstance(found, QuantitySpec) or found.uncertainty is None:
            return ""
        spread = spread_of(self.project, place)
        kind = _DIFFERENCES.get(value.kind, value.kind)
        good = tr("uncertainty ±{0}").format(show(spread, kind, _unit_of_difference(value)))
        return f"{words}; {good}\n{tr('Measured: {0}').format(tr(found.uncertainty.measure))}"

    def title_of(self, place: str, value: Any) -> str:
        """An entry and its value in words: “Bend up, bore: 63 mm”."""
        found = edits.meta(self.project, place)
        title = tr(found.title) if found else place
        split = split_place(place)
        if split is not None:
            piece = edits.get(self.project, f"{split[0]}.{split[1]}")
            title = f"{piece_title(self.project, piece)}, {title[0].lower()}{title[1:]}"
        if isinstance(found, Choice):
            value = tr(dict(found.options()).get(value, value))
        elif isinstance(value, Quantity):
            value = rendering.entry_text(value, found.blank if isinstance(found, QuantitySpec) else "")
        elif isinstance(value, bool):
            value = tr("yes") if value else tr("no")
        return f"{title}: {value or '–'}"

    def change(self, label: str, project: Project) -> None:
        """Make another document the present one, as one step."""
        self.session.history.seal()
        self.session.apply(label, project)
        self.session.history.seal()

    def cure(self, title: str, changes: Iterable[Change]) -> None:
        """Carry out the changes of a cure as one step; what lays pieces does it in the background, with its
        progress at the foot of the window."""
        changes = tuple(changes)
        if is_long(changes):
            self.ask(cure_of(self.project, title, changes))
            return
        try:
            self.change(self._cure_label(title), with_changes(self.project, changes))
        except (EntryError, KeyError, ValueError) as error:
            self._no_cure(reason(error) if isinstance(error, ValueError) else str(error))

    def _cured(self, reply: JobResult) -> None:
        """A cure came back from the background."""
        before, title = reply.job.of
        if before is self.project:
            self.change(self._cure_label(title), reply.value)
        else:
            self._no_cure(tr("the design has changed: press it again"))

    @staticmethod
    def _cure_label(title: str) -> str:
        return tr("Fix: {0}").format(tr(title))

    def _no_cure(self, why: str) -> None:
        self.notice.emit(tr("This fix no longer applies: {0}").format(why))

    def choose_piece(self, piece: str) -> None:
        """Make a piece the chosen one."""
        self.piece = piece
        self.piece_chosen.emit(piece)

    def go_to_place(self, place: str) -> None:
        """Open the bench that holds an entry and put the cursor in it."""
        self.place_wanted.emit(place)

    def show_calculation(self, key: str, beside: OtherDesign | None = None) -> None:
        """Open the calculation sheet of a number, of the present design or of one beside it."""
        self.calculation_wanted.emit(key, beside)

    def follow(self, address: str, beside: OtherDesign | None = None) -> None:
        """Go where a figure leads: `KEY` opens its sheet, `KEY/SPEED` at that engine speed, `/SPEED`
        shows that speed, `=PLACE` goes to the entry, `=known` to what is known, `=bench:KEY` to a bench, `=subject:ABOUT` to where what a
        check is about is worked on."""
        if address == "=check":
            self.check_wanted.emit()
            return
        if address == "=known":
            self.known_wanted.emit()
            return
        if address.startswith("=bench:"):
            self.bench_wanted.emit(address.removeprefix("=bench:"))
            return
        if address.startswith("=subject:"):
            self.go(address.removeprefix("=subject:"))
            return
        if address.startswith("=piece:"):
            self.go(address.removeprefix("="))
            return
        if address.startswith("="):
            self.go_to_place(address[1:])
            return
        key, stroke, speed = address.partition("/")
        if stroke:
            self.set_speed(float(speed))
        if key:
            self.show_calculation(key, beside)

    def turbo_beside(self, key: str) -> OtherDesign:
        """The present build with another candidate's turbo."""
        name = next((t.name for t in self.project.turbos if t.id == key), key)
        return OtherDesign(name, partial(self._with_turbo, key))

    def _with_turbo(self, key: str) -> Solved | None:
        answer = self._answer
        if answer is None:
            return None
        if answer.build.turbo.id == key:
            return answer.solved
        if self._tried is None or self._tried[0] is not answer or self._tried[1] != key:
            turbo = next((t for t in answer.case.candidates if t.id == key), None)
            if turbo is None:
                return None
            self._tried = (answer, key, solved(dataclasses.replace(answer.build, turbo=turbo)))
        return self._tried[2]

    def variant_beside(self, name: str) -> OtherDesign:
        """A variant of the document."""

        def found() -> Solved | None:
            answer = self.beside(name)
            return answer.solved if answer is not None else None

        return OtherDesign(name, found)

    def go(self, subject: str) -> None:
        """Open the bench on which a subject is worked on: what a check is about, or
        `piece:ID`."""
        self.subject_wanted.emit(subject)
        piece = "cooler" if subject == "charge" else subject.partition(":")[2]
        if piece:
            self.choose_piece(piece)

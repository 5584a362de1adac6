"""The work in the engine bay: how joints are got at, parts going in one by one, what comes off for a job."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QPushButton, QSlider, QVBoxLayout, QWidget

from zarvik.core.bay.assembly import Part, Pose, Step
from zarvik.core.layout.placement import BEHIND, PRIMARY, Layout
from zarvik.project.bay.work import BayWork, Service, part_names, reach_words, step_words
from zarvik.project.language.language import tr, tr_format
from zarvik.window.benches.layout.bodies import THING, Body
from zarvik.window.benches.layout.scene import name_of
from zarvik.window.desk import Desk
from zarvik.window.parts.copying import offer_copy
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.workspace.job_store import DONE, FAILED, JobResult
from zarvik.workspace.jobs import WORK, work_of

REACHES, ORDER, SERVICES = "reaches", "order", "services"
MODES = {REACHES: "Tool access", ORDER: "Assembly order", SERVICES: "Removal jobs"}
PER_STEP = 60  # notches of the slider for one part
TICK = 40  # ms
OF_TURBO = ("turbine", "compressor", "centre", "gas-in", "gas-out", "air-in", "air-out", "drain", "turbine-flange")
OF_MANIFOLD = ("leg", "neck", "log", "casting")


def belongs_to(part: Part, body: Body, layout: Layout) -> bool:
    """Is a body that is drawn one of a part's?"""
    kind, _, rest = part.key.partition(":")
    of, _, number = body.key.partition(":")
    if part.pieces:
        return body.run == part.key.partition("|")[0] and any(piece.segment.id == body.key for piece in part.pieces)
    if kind == "manifold":
        line = layout.line(body.run)
        if line is not None and line.key.startswith((PRIMARY, BEHIND)):
            return str(line.bank) == rest
        return not body.piece and of in OF_MANIFOLD and number.partition(":")[0] == rest
    if body.piece:
        return False
    if kind == "turbo":
        return of in OF_TURBO and number == rest
    return body.key == part.key or (kind == "bay" and body.key.startswith(f"{THING}:{rest}:"))


def pose_at(poses: Sequence[Pose], share: float) -> np.ndarray:
    """Where a part is when it has gone a share (0 to 1) of its way out: a matrix (4, 4), m."""
    lengths = [float(np.linalg.norm(b.shift - a.shift)) + 0.05 for a, b in itertools.pairwise(poses)]
    left = share * sum(lengths)
    for one, two, length in zip(poses[:-1], poses[1:], lengths, strict=True):
        if left <= length or two is poses[-1]:
            t = min(left / length, 1.0)
            pose = Pose(two.turn if t > 0.5 else one.turn, one.shift + t * (two.shift - one.shift), one.middle)
            break
        left -= length
    matrix = np.eye(4)
    matrix[:3, :3] = pose.turn
    matrix[:3, 3] = pose.middle + pose.shift - pose.turn @ pose.middle
    return matrix


def moves_at(steps: Sequence[Step], gone: float, bodies: Sequence[Body], layout: Layout) -> dict[str, np.ndarray | None]:
    """Where all bodies are when parts have gone in so far: `gone` parts (3.5: three are in, the fourth is on its way)."""
    found: dict[str, np.ndarray | None] = {}
    for number, step in enumerate(reversed(steps)):
        if number < math.floor(gone + 1e-9):
            continue
        share = 1.0 - (gone - number)
        there = pose_at(step.poses, share) if share < 1.0 - 1e-9 else None
        found |= {name_of(body): there for body in bodies if belongs_to(step.part, body, layout)}
    return found


class WorkPage(QWidget):
    """A list of one of the `MODES` with words to the chosen row; a slider puts the parts in."""

    moved = Signal(dict)  # bodies that are drawn elsewhere
    pointed = Signal(object)  # a place and words, or None

    def __init__(self, desk: Desk, parent: QWidget) -> None:
        super().__init__(parent)
        self.desk = desk
        self.work: BayWork | None = None
        self.mode = REACHES
        self.drawn: tuple[Sequence[Body], Layout | None] = ((), None)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.head = Paragraph("")
        column.addWidget(self.head)
        self.list = QListWidget()
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(self._chosen)
        offer_copy(self.list, self.table)
        column.addWidget(self.list, 1)
        self.words = Paragraph("")
        column.addWidget(self.words)
        bar = QHBoxLayout()
        bar.setSpacing(5)
        self.play = QPushButton(tr("Play"))
        self.play.setObjectName("slim")
        self.play.setToolTip(plain_tip(tr("Parts go in one by one")))
        self.play.clicked.connect(self._played)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(tr("Parts that are in"))
        self.slider.valueChanged.connect(self._slid)
        bar.addWidget(self.play)
        bar.addWidget(self.slider, 1)
        column.addLayout(bar)
        self._timer = QTimer(self)
        self._timer.setInterval(TICK)
        self._timer.timeout.connect(self._tick)
        desk.job_changed.connect(self._hear)

    # What is shown

    def show_mode(self, mode: str) -> None:
        """One of the `MODES`."""
        self.mode = mode
        self.list.setAccessibleName(tr(MODES[mode]))
        self.refresh()

    def refresh(self) -> None:
        """Have it worked out for the document as it is now."""
        self._timer.stop()
        self.play.setText(tr("Play"))
        self.moved.emit({})
        self.desk.ask(work_of(self.desk.project))
        self._fill()

    def left(self) -> None:
        """The page is turned: the picture is that of the finished build again."""
        self._timer.stop()
        self.play.setText(tr("Play"))
        self.moved.emit({})
        self.pointed.emit(None)

    def _hear(self, reply: JobResult) -> None:
        if reply.key != WORK or reply.job.of is not self.desk.project:
            return
        if reply.state in (DONE, FAILED):
            self.work = reply.value if reply.state == DONE else None
            self._fill()

    @property
    def steps(self) -> tuple[Step, ...]:
        """Of taking apart, in their order."""
        return self.work.order.steps if self.work is not None else ()

    def table(self) -> list[list[str]]:
        """The rows with their words."""
        return [[tr(MODES[self.mode]), ""], *([row, words] for row, words in self._rows())]

    def _rows(self) -> list[tuple[str, str]]:
        work, project = self.work, self.desk.project
        if work is None:
            return []
        if self.mode == REACHES:
            rows = [(f"{'▲ ' if one.spare < 0.0 else ''}{self.desk.text(one.spare, 'length', places=0)}", one) for one in work.reaches]
            rows += [(tr("bench") if one.spare < 0.0 else tr("in the car"), one) for one in work.welds]
            return [(tr_format("{0}: {1}", mark, one.place.name), reach_words(project, one)) for mark, one in rows]
        if self.mode == ORDER:
            found = [(f"{n}  {step.part.name}", step_words(step)) for n, step in enumerate(reversed(work.order.steps), 1)]
            return found + [(f"▲ {one.part.name}", self._stuck_words(one.part.name)) for one in work.order.stuck]
        return [(("" if one.before is not None else "▲ ") + one.part.name, self._job_words(one)) for one in work.services]

    def _stuck_words(self, name: str) -> str:
        assert self.work is not None
        one = next(one for one in self.work.order.stuck if one.part.name == name)
        behind = tr(" and ").join(f"“{thing}”" for thing in one.behind)
        words = tr_format("Does not go in: {0} in the way", behind)
        if one.cut:
            words += ". " + tr_format("A V-band behind “{0}” would let it in", part_names(self.desk.project).get(one.cut, one.cut))
        return words

    def _job_words(self, one: Service) -> str:
        opens = tr_format("Open: {0}", ", ".join(one.opens)) if one.opens else ""
        if one.before is None:
            return tr("Does not come out with what stands there")
        first = tr_format("Before it: {0}", ", ".join(part.name for part in one.before)) if one.before else tr("Comes out by itself")
        return ". ".join(words for words in (first, opens) if words)

    def _fill(self) -> None:
        rows = self._rows()
        names = [row for row, _ in rows]
        if names != [self.list.item(i).text() for i in range(self.list.count())]:
            self.list.blockSignals(True)
            self.list.clear()
            self.list.addItems(names)
            self.list.setCurrentRow(0 if names else -1)
            self.list.blockSignals(False)
        for widget in (self.play, self.slider):
            widget.setVisible(self.mode == ORDER and bool(self.steps))
        self.slider.blockSignals(True)
        self.slider.setMaximum(PER_STEP * len(self.steps))
        self.slider.setValue(self.slider.maximum())
        self.slider.blockSignals(False)
        self.head.setText(self._headline())
        self._chosen(self.list.currentRow())

    def _headline(self) -> str:
        work = self.work
        if work is None:
            return tr("Working it out")
        if self.mode == REACHES:
            short = sum(one.spare < 0.0 for one in work.reaches)
            bench = sum(one.spare < 0.0 for one in work.welds)
            words = tr_format("{0} of {1} joints cannot be got at", short, len(work.reaches)) if short else tr("A hand gets at every joint")
            return words + (tr_format("; {0} of {1} welds belong on the bench", bench, len(work.welds)) if bench else "")
        if self.mode == ORDER:
            if work.order.stuck:
                return tr_format("{0} parts do not go in", len(work.order.stuck))
            return tr_format("{0} parts, in the order in which they go in", len(work.order.steps))
        return tr("What has to come off first")

    def _chosen(self, row: int) -> None:
        rows = self._rows()
        self.words.setText(rows[row][1] if 0 <= row < len(rows) else "")
        self.pointed.emit(None)
        if self.work is None or not 0 <= row < len(rows):
            return
        if self.mode == REACHES:
            one = [*self.work.reaches, *self.work.welds][row]
            self.moved.emit({})
            self.pointed.emit((one.place.frame.origin, one.place.name))
        elif self.mode == ORDER:
            if row < len(self.steps) and self.list.hasFocus():
                self.slider.setValue(PER_STEP * row + PER_STEP // 2)
        else:
            service = self.work.services[row]
            bodies, layout = self.drawn
            hidden = [part for part in (service.before or ())]
            if layout is not None:
                self.moved.emit({name_of(b): None for b in bodies for part in hidden if belongs_to(part, b, layout)})
            self.pointed.emit((service.part.points.mean(axis=0), service.part.name))

    # The slider

    def _slid(self, value: int) -> None:
        bodies, layout = self.drawn
        if layout is None or not self.steps:
            return
        self.moved.emit(moves_at(self.steps, value / PER_STEP, bodies, layout))
        row = min(value // PER_STEP, len(self.steps) - 1)
        if row != self.list.currentRow():
            self.list.blockSignals(True)
            self.list.setCurrentRow(row)
            self.list.blockSignals(False)
            self.words.setText(self._rows()[row][1])

    def _played(self) -> None:
        if self._timer.isActive():
            self._timer.stop()
            self.play.setText(tr("Play"))
            return
        if self.slider.value() >= self.slider.maximum():
            self.slider.setValue(0)
        self.play.setText(tr("Pause"))
        self._timer.start()

    def _tick(self) -> None:
        self.slider.setValue(self.slider.value() + 2)
        if self.slider.value() >= self.slider.maximum():
            self._timer.stop()
            self.play.setText(tr("Play"))

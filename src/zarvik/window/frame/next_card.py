"""What this build needs next, under the rail."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QToolButton, QVBoxLayout, QWidget

from zarvik.core.answer.answer import Answer
from zarvik.project.language.language import tr, tr_format
from zarvik.project.next_steps import next_steps as n
from zarvik.project.next_steps.next_steps import NextStep, next_steps
from zarvik.window.desk import Desk
from zarvik.window.parts.figure_text import FigureText
from zarvik.window.parts.form import heading

SHOWN = 3  # steps


def goal(desk: Desk, answer: Answer) -> str:
    """The power that is made, and whether it is what was wanted."""
    wanted = desk.project.goal.target_power.si
    power = desk.text(answer.target.power, "power")
    if not answer.target.closure.solved:
        return tr("The target point cannot be solved.")
    if answer.target.power >= wanted:
        return tr_format("[power|{0}]: goal met.", power)
    return tr_format("[power|{0}]: {1} short of the goal.", power, desk.text(wanted - answer.target.power, "power"))


def words(desk: Desk, step: NextStep) -> str:
    """A step in a sentence, its links in it."""
    title, address = tr(step.leads[0][0]), step.leads[0][1]
    if step.kind == n.FIX:
        more = tr_format(" ({0} checks fail)", step.count) if step.count > 1 else ""
        return tr_format("[{0}|Fix: {1}]", address, title) + more
    if step.kind == n.MEASURE:
        names = ", ".join(f"[{to}|{tr(name)}]" for name, to in step.leads)
        text = tr_format("Measure: {0}", names)
        if step.decides:
            return text + tr_format(" (decides {0})", tr(step.decides[0]))
        return text + tr_format(" (narrows power by {0})", desk.text(step.power, "power"))
    if step.kind == n.TURBO:
        return tr_format("[{0}|Choose a turbo] ({1} candidates)", address, step.count)
    if step.kind == n.PRIMARIES:
        return tr_format("[{0}|Generate the primaries]", address)
    if step.kind == n.DECIDE:
        more = tr_format(" and {0} more", step.count - 1) if step.count > 1 else ""
        return tr_format("[{0}|To do: {1}]", address, title) + more
    if step.kind == n.STOCK:
        return tr_format("[{0}|Enter the tube you have]", address)
    return tr_format("[{0}|Print the cut list]", address)


class NextCard(QWidget):
    """The goal and the next steps; `dismissed` when somebody wants it away."""

    dismissed = Signal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.desk = desk
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 6, 8, 8)
        column.setSpacing(2)
        head = QHBoxLayout()
        head.addWidget(heading(tr("Next")), 1)
        close = QToolButton()
        close.setObjectName("quiet")
        close.setText("×")
        close.setToolTip(tr("Hide the next steps; “Next steps” brings them back"))
        close.setAccessibleName(tr("Hide the next steps"))
        close.clicked.connect(self.dismissed)
        head.addWidget(close)
        column.addLayout(head)
        self.text = FigureText(desk, "plain")
        column.addWidget(self.text)
        desk.checks_changed.connect(self.refresh)

    def showEvent(self, event: QShowEvent) -> None:
        """What went by while it was hidden is taken up."""
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """By the answer of the present document; while there is none, what is shown stays."""
        answer = self.desk.answer
        if answer is None or not answer.judged or not self.desk.current or not self.isVisible():
            return
        steps = next_steps(self.desk.project, answer)[:SHOWN]
        lines = [f"{number}  {words(self.desk, step)}" for number, step in enumerate(steps, 1)]
        self.text.say("\n".join([goal(self.desk, answer), *lines]))

"""Long work at the foot of the window: what runs, how far it is, how long it takes, what waits; each can be cancelled."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QVBoxLayout, QWidget

from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.workspace.job_store import CANCELLED, FAILED, PART, RUNNING, JobResult


class JobRow(QWidget):
    """One job that runs."""

    def __init__(self, cancel: Callable[[], object]) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.words = PlainLabel()
        self.words.setMinimumWidth(150)
        row.addWidget(self.words)
        self.bar = QProgressBar()
        self.bar.setRange(0, 1000)
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(10)
        row.addWidget(self.bar, 1)
        self.left = PlainLabel()
        self.left.setObjectName("soft")
        self.left.setMinimumWidth(110)
        row.addWidget(self.left)
        self.cancel = QPushButton(tr("Cancel"))
        self.cancel.clicked.connect(lambda _=False: cancel())
        row.addWidget(self.cancel)

    def take(self, reply: JobResult, waiting: int) -> None:
        """Show how far it is, and how many jobs wait for it."""
        title, left = tr(reply.job.title), reply.left
        self.words.setText(tr("{0} ({1} waiting)").format(title, waiting) if waiting else title)
        self.cancel.setVisible(reply.job.stop)
        self.bar.setAccessibleName(title)
        self.bar.setValue(round(1000 * reply.done))
        self.left.setText(tr("{0:.0f} s left").format(left) if left is not None else "")


class JobStrip(QWidget):
    """A row for each long job of the store that runs; hidden while there is none."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(14, 5, 12, 5)
        self._column.setSpacing(4)
        self.rows: dict[str, JobRow] = {}  # by the key of the job
        self._shown: dict[str, JobResult] = {}
        self.hide()
        desk.job_changed.connect(self._told)

    def _told(self, reply: JobResult) -> None:
        title = tr(reply.job.title)
        if not title or reply.state == PART:
            return
        if reply.state == RUNNING:
            if reply.key not in self.rows:
                self.rows[reply.key] = JobRow(partial(self.desk.session.jobs.cancel, reply.key))
                self._column.addWidget(self.rows[reply.key])
            self._shown[reply.key] = reply
            waiting = sum(1 for other in self.desk.session.jobs.waiting() if other.job.title and other.job.lane == reply.job.lane)
            self.rows[reply.key].take(reply, waiting)
            self.show()
            return
        shown = self._shown.get(reply.key)
        if shown is not None and reply.job is shown.job:
            del self._shown[reply.key]
            row = self.rows.pop(reply.key)
            self._column.removeWidget(row)
            row.hide()
            row.deleteLater()
            self.setVisible(bool(self.rows))
        if reply.state == FAILED:
            self.desk.notice.emit(tr("{0} failed: {1}. Nothing was changed").format(title, tr(reply.fault)))
        elif reply.state == CANCELLED:
            self.desk.notice.emit(tr("{0}: cancelled. Nothing was changed").format(title))

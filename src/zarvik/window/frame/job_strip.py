"""Long work at the foot of the window: what runs, how far it is, how long it takes, cancel."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from zarvik.project.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.workspace.jobs import CANCELLED, DONE, FAILED, RUNNING, Job, Progress


class JobStrip(QWidget):
    """Starts jobs and hands their results to who asked; hidden while nothing runs."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 5, 12, 5)
        self.words = PlainLabel()
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
        self.cancel.clicked.connect(self._cancel)
        row.addWidget(self.cancel)
        self._then: dict[Job, Callable[[Any], None]] = {}
        self._job: Job | None = None
        self.hide()
        desk.job_changed.connect(self._changed)

    def start(
        self, title: str, work: Callable[[Progress], Any], then: Callable[[Any], None]
    ) -> Job:
        """Run `work` in the background and call `then` with its result, in the window's thread;
        nothing is called when it fails or is cancelled."""
        job = self.desk.session.jobs.start(title, work)
        self._then[job] = then
        return job

    def _changed(self, job: Job) -> None:
        if job.state == RUNNING:
            self._job = job
            self.words.setText(job.title)
            self.bar.setValue(round(1000 * job.done))
            left = job.left
            self.left.setText(tr("{0:.0f} s left").format(left) if left is not None else "")
            self.show()
            return
        then = self._then.pop(job, None)
        if job is self._job:
            self._job = None
            self.hide()
        if job.state == DONE and then is not None:
            then(job.result)
        elif job.state == FAILED:
            self.desk.notice.emit(
                tr("{0} came to nothing: {1}. All is as it was").format(job.title, job.fault)
            )
        elif job.state == CANCELLED:
            self.desk.notice.emit(tr("{0}: cancelled. All is as it was").format(job.title))

    def _cancel(self) -> None:
        if self._job is not None:
            self._job.cancel()

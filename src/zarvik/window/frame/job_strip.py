"""Long work at the foot of the window: what runs, how far it is, how long it takes, cancel."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.workspace.job_store import CANCELLED, FAILED, RUNNING, JobResult


class JobStrip(QWidget):
    """Shows the long work of the store of jobs; hidden while nothing runs."""

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
        self._shown: JobResult | None = None
        self.hide()
        desk.told.connect(self._told)

    def _told(self, reply: JobResult) -> None:
        title = tr(reply.job.title)
        if not title:
            return
        if reply.state == RUNNING:
            self._shown = reply
            self.words.setText(title)
            self.cancel.setVisible(reply.job.stop)
            self.bar.setValue(round(1000 * reply.done))
            left = reply.left
            self.left.setText(tr("{0:.0f} s left").format(left) if left is not None else "")
            self.show()
            return
        if reply is self._shown:
            self._shown = None
            self.hide()
        if reply.state == FAILED:
            self.desk.notice.emit(tr("{0} failed: {1}. Nothing was changed").format(title, tr(reply.fault)))
        elif reply.state == CANCELLED:
            self.desk.notice.emit(tr("{0}: cancelled. Nothing was changed").format(title))

    def _cancel(self) -> None:
        if self._shown is not None:
            self.desk.session.jobs.cancel(self._shown.key)

"""What the design needs, over the entries of what there is."""

from __future__ import annotations

from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zarvik.project.language.language import tr
from zarvik.project.units.rendering import as_sold, render
from zarvik.window.desk import Desk
from zarvik.window.parts.form import heading
from zarvik.window.parts.plain_label import Paragraph
from zarvik.workspace.job_store import DONE, JobResult
from zarvik.workspace.jobs import NEEDED, needed_of


class RecommendationList(QWidget):
    """The needs of one `page`, found out in the background; hidden while there are none."""

    def __init__(self, desk: Desk, page: str) -> None:
        super().__init__()
        self.desk, self.page = desk, page
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 4)
        column.setSpacing(4)
        column.addWidget(heading(tr("This design needs")))
        self.words = Paragraph()
        column.addWidget(self.words)
        self.hide()
        desk.job_changed.connect(self._hear)
        desk.result_changed.connect(self.refresh)

    def refresh(self) -> None:
        """Ask, where the page is looked at."""
        parent = self.parentWidget()
        answer = self.desk.answer
        if parent is None or not parent.isVisible() or answer is None:
            return
        if not answer.case.target.closure.solved:
            self.hide()
            return
        self._take(self.desk.ask(needed_of(answer)))

    def _hear(self, reply: JobResult) -> None:
        answer = self.desk.answer
        if reply.key == NEEDED and answer is not None and reply.job.of is answer.build:
            self._take(reply)

    def _take(self, reply: JobResult) -> None:
        if reply.state != DONE:
            return
        units = self.desk.project.shown_units
        lines = [f"{tr(n.title)}: {as_sold(render(n.text, units))}" for n in reply.value if n.page == self.page]
        self.words.setText("\n".join(lines))
        self.setVisible(bool(lines))

    def showEvent(self, event: QShowEvent) -> None:
        """Nothing old is shown."""
        super().showEvent(event)
        self.refresh()

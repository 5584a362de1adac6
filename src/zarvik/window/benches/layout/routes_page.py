"""Ways of a pipe through the bay beside each other: chosen ones are taken into the design at once, undo goes back."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QIcon, QImage, QPixmap
from PySide6.QtWidgets import QComboBox, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from zarvik.project.document.document import Project
from zarvik.project.document.places import PRIMARIES, RUNS, get, run_title
from zarvik.project.language.language import tr, tr_format
from zarvik.project.routing.alternatives import COOLER, FILTER, POSITIONS, TURBO, Alternative, words_of
from zarvik.project.routing.primaries import can_be_laid
from zarvik.window.benches.layout.renderer import SMALL
from zarvik.window.desk import Desk
from zarvik.window.parts.copying import offer_copy
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.workspace.job_store import DONE, FAILED, PART, JobResult
from zarvik.workspace.jobs import WAYS, ways_of


class RoutesPage(QWidget):
    """A pipe, the ways that were found for it, and which of them is in use. `pictures_wanted`: documents of which small
    pictures are wanted."""

    pictures_wanted = Signal(list)

    def __init__(self, desk: Desk, parent: QWidget) -> None:
        super().__init__(parent)
        self.desk = desk
        self.found: tuple[Alternative, ...] = ()
        self.run = ""
        self._icons: dict[int, QIcon] = {}  # small pictures of ways, by their documents
        self._of: Project | None = None  # the design that they are found for
        self._taken: Project | None = None  # the one that was chosen last
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.runs = QComboBox()
        self.runs.setAccessibleName(tr("Pipe"))
        column.addWidget(self.runs)
        self.look = QPushButton(tr("Find routes"))
        self.look.setToolTip(plain_tip(tr("Several ways round what stands in the bay, each solved for its loss")))
        self.look.clicked.connect(self.ask)
        column.addWidget(self.look)
        self.head = Paragraph("")
        column.addWidget(self.head)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Pipe routes"))
        self.list.setWordWrap(True)
        self.list.setIconSize(QSize(*SMALL))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(self._chosen)
        offer_copy(self.list, self.table)
        column.addWidget(self.list, 1)
        self.marks = Paragraph("")
        self.marks.setAccessibleName(tr("Where the pipe is sawn"))
        column.addWidget(self.marks)
        desk.job_changed.connect(self._hear)

    def refresh(self) -> None:
        """The pipes of the document; ways of another design are forgotten."""
        project = self.desk.project
        runs = [run for run in RUNS if run != "manifold" and get(project, run)]
        if can_be_laid(project):
            runs.append(PRIMARIES)
        if project.chosen is not None and not project.blower.fitted:
            runs.append(TURBO)
        if project.intercooler.fitted:
            runs.append(COOLER)
        if project.intake:
            runs.append(FILTER)
        if runs != [self.runs.itemData(i) for i in range(self.runs.count())]:
            now = self.runs.currentData()
            self.runs.clear()
            for run in runs:
                self.runs.addItem(self._title(run), run)
            self.runs.setCurrentIndex(max(self.runs.findData(now or "exhaust"), 0))
        if not self._known(project):
            self.found, self._of, self._taken = (), None, None
            self._fill()

    def ask(self) -> None:
        """Have ways looked for."""
        self.run = self.runs.currentData() or ""
        if self.run:
            self.found, self._of, self._taken = (), self.desk.project, None
            self._fill()
            self.head.setText(tr("Looking for routes"))
            self.desk.ask(ways_of(self.desk.project, self.run), again=True)

    def table(self) -> list[list[str]]:
        """The ways in words."""
        return [[tr("Pipe routes")], *([words_of(self.desk.project, one)] for one in self.found)]

    def _hear(self, reply: JobResult) -> None:
        if reply.key != WAYS or reply.state not in (PART, DONE, FAILED):
            return
        project, _ = reply.job.of
        if project is not self._of or not self._known(self.desk.project):
            return
        self.found = reply.value if reply.state != FAILED else ()
        self._fill(going_on=reply.state == PART)

    def _known(self, project: Project) -> bool:
        """Is a design the one that ways are found for, or one of them?"""
        return self._of is not None and any(project is one for one in (self._of, self._taken, *(one.project for one in self.found)))

    def _fill(self, *, going_on: bool = False) -> None:
        self.list.blockSignals(True)
        self.list.clear()
        for one in self.found:
            item = QListWidgetItem(words_of(self.desk.project, one, marked=False))
            if id(one.project) in self._icons:
                item.setIcon(self._icons[id(one.project)])
            self.list.addItem(item)
        self.list.setCurrentRow(next((n for n, one in enumerate(self.found) if one.project is self.desk.project), -1))
        self.list.blockSignals(False)
        self._mark(self.list.currentRow())
        kept = {id(one.project) for one in self.found}
        self._icons = {key: icon for key, icon in self._icons.items() if key in kept}
        self.pictures_wanted.emit([one.project for one in self.found if id(one.project) not in self._icons])
        words = tr_format("{0} found: choose one to take it", len(self.found)) if self.found else ""
        self.head.setText(words + (tr("; looking for more") if going_on and words else ""))

    def take_picture(self, project: Project, image: QImage) -> None:
        """The small picture of a way came."""
        row = next((n for n, one in enumerate(self.found) if one.project is project), -1)
        if row >= 0:
            icon = self._icons[id(project)] = QIcon(QPixmap.fromImage(image))
            self.list.item(row).setIcon(icon)

    def _mark(self, row: int) -> None:
        """Where a pipe of the stock is sawn for the way in a row, line by line."""
        marks = self.found[row].marks if 0 <= row < len(self.found) else ()
        self.marks.setText("\n".join(f"{number}  {mark}" for number, mark in enumerate(marks, 1)))
        self.marks.setVisible(bool(marks))

    def _chosen(self, row: int) -> None:
        self._mark(row)
        if 0 <= row < len(self.found) and self.found[row].project is not self.desk.project:
            self._taken = self.found[row].project
            self.desk.change(tr_format("Route: {0}", self._title(self.run).lower()), self._taken)

    def _title(self, run: str) -> str:
        if run in POSITIONS:
            return tr(POSITIONS[run])
        return tr("All primaries") if run == PRIMARIES else run_title(self.desk.project, run)

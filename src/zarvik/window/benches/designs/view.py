"""The Designs bench: what may be another one, a search, a picture of what was found, and one taken over."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
)

from zarvik.project.designs import Designs
from zarvik.project.language import tr
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.candidates.pictures import WeighChart
from zarvik.window.benches.designs import presenter as show
from zarvik.window.desk import Desk
from zarvik.window.parts.figure_rows import CandidateRow, Heads, show_rows
from zarvik.window.parts.form import heading
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.window.parts.side import side_column
from zarvik.workspace.inquiry import DESIGNS, designs_of
from zarvik.workspace.questions import CANCELLED, DONE, FAILED, PART, Question, Reply

TRIES = (200, 600, 2000)


class DesignsBench(Bench):
    """Free sizes on the left, the picture, the rows."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.found: Designs | None = None
        self.part = False
        self.chosen = 0
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 10, 12, 10)
        layout.setSpacing(5)
        head = QHBoxLayout()
        head.addWidget(heading(tr("Whole designs for what is asked")), 1)
        self.across = QComboBox()
        for key, title in show.CHOICES.items():
            self.across.addItem(tr(title), key)
        self.across.setAccessibleName(tr("Across the picture"))
        self.across.activated.connect(lambda _: self._draw())
        head.addWidget(self.across)
        self.tries = QComboBox()
        for count in TRIES:
            self.tries.addItem(tr("{0} designs").format(count), count)
        self.tries.setAccessibleName(tr("Designs to solve"))
        head.addWidget(self.tries)
        self.go = QPushButton(tr("Search"))
        self.go.clicked.connect(self.search)
        head.addWidget(self.go)
        layout.addLayout(head)
        middle = QHBoxLayout()
        middle.setSpacing(14)
        side, column = side_column(150, 8, 5)
        column.addWidget(heading(tr("May be another")))
        self.free: dict[str, QCheckBox] = {}
        for key, title in show.FREE.items():
            box = QCheckBox(tr(title))
            box.setChecked(key in show.FROM_THE_START)
            self.free[key] = box
            column.addWidget(box)
        column.addStretch(1)
        middle.addWidget(side)
        self.chart = WeighChart()
        self.chart.taken.connect(self._look)
        middle.addWidget(self.chart, 1)
        layout.addLayout(middle, 1)
        self.text = PlainLabel()
        self.text.setObjectName("soft")
        self.text.setWordWrap(True)
        layout.addWidget(self.text)
        self.heads = Heads(tr("Turbo"), show.HEADS)
        layout.addWidget(self.heads)
        self.rows: list[CandidateRow] = []
        self._rows = QVBoxLayout()
        self._rows.setSpacing(0)
        layout.addLayout(self._rows)
        foot = QHBoxLayout()
        self.sizes = PlainLabel()
        self.sizes.setWordWrap(True)
        foot.addWidget(self.sizes, 1)
        self.take = QPushButton(tr("Take it over"))
        self.take.setToolTip(tr("Makes it the present design; one undo brings the old one back"))
        self.take.clicked.connect(self.take_over)
        foot.addWidget(self.take, 0, Qt.AlignmentFlag.AlignTop)
        layout.addLayout(foot)
        desk.told.connect(self._hear)
        self._draw()

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """The search, and taking over."""
        yield tr("Search designs"), self.search
        yield tr("Take the chosen design over"), self.take_over

    def _question(self) -> Question:
        free = tuple(key for key, box in self.free.items() if box.isChecked())
        return designs_of(self.desk.project, free, int(self.tries.currentData()))

    def search(self) -> None:
        """Search in the background; the best so far are drawn while it goes on."""
        question = self._question()
        reply = self.desk.ask(question)
        if reply.state == DONE:
            self._show(reply)

    def refresh_document(self) -> None:
        """A blower has no turbo to search for."""
        self.go.setEnabled(not self.desk.project.blower.fitted)

    def _hear(self, reply: Reply) -> None:
        if reply.key != DESIGNS:
            return
        if reply.state in (PART, DONE):
            self._show(reply)
        elif reply.state == FAILED:
            self.desk.notice.emit(reply.fault)
        elif reply.state == CANCELLED and self.part:
            self.part = False
            self._draw()

    def _show(self, reply: Reply) -> None:
        if isinstance(reply.value, Designs):
            self.found, self.part = reply.value, reply.state == PART
            self.chosen = min(self.chosen, max(len(self.found.designs) - 1, 0))
            if self.isVisible():
                self._draw()

    def refresh(self) -> None:
        """What was found while another bench was shown."""
        super().refresh()
        self._draw()

    def _draw(self) -> None:
        project, found = self.desk.project, self.found
        units = project.shown_units
        across = self.across.currentData()
        points = show.choices(found, across, units) if found is not None else ()
        points = tuple(
            dataclasses.replace(c, own=int(c.label) - 1 == self.chosen) for c in points
        )
        unit = self.desk.unit("power") or "hp"
        level = project.brief.target_power.into(unit).value
        self.chart.show_choices(
            points, tr(show.ACROSS[across]), tr("power at the target speed, {0}").format(unit), level if points else None,
            tr("Say what may be another one, then search: turbos of the shelf, housings, tube, cores and gates that "
               "are sold, each design solved and judged as a whole."), joined=False,
        )  # fmt: skip
        self.text.setText(show.summary(found, project, self.part) if found is not None else "")
        made = show.rows(found, units) if found is not None else []
        made = [dataclasses.replace(row, chosen=n == self.chosen) for n, row in enumerate(made)]
        show_rows(self._rows, self.rows, made, lambda key: self._look(int(key) - 1))
        self.heads.setVisible(bool(made))
        one = found.designs[self.chosen] if found is not None and found.designs else None
        self.sizes.setText(show.sizes(one, found) if one is not None and found is not None else "")
        self.take.setVisible(one is not None)

    def _look(self, number: int) -> None:
        """Look at one design."""
        if self.found is not None and 0 <= number < len(self.found.designs):
            self.chosen = number
            self._draw()

    def take_over(self) -> None:
        """Make the design that is looked at the present one, in one step."""
        if self.found is None or not self.found.designs:
            return
        one = self.found.designs[self.chosen]
        now = self.desk.project
        # Names, variants and the decision stay those of the project.
        taken = one.project.model_copy(
            update={"name": now.name, "note": now.note, "units": now.units, "variants": now.variants,
                    "decision": now.decision}
        )  # fmt: skip
        self.desk.change(tr("Design {0}: {1}").format(self.chosen + 1, ", ".join(one.sizes.values()))[:120], taken)

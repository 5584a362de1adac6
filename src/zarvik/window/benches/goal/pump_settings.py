"""A diesel's pump, setting by setting, under the curves of its engine."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from zarvik.project.engine.diesel_pump import PumpSetting, with_setting
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import opening
from zarvik.project.units.rendering import render
from zarvik.project.units.units import EntryError
from zarvik.window.benches.goal import presenter
from zarvik.window.desk import Desk
from zarvik.window.parts.figure_rows import CandidateRow, Heads, show_rows
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.side import side_column
from zarvik.workspace.job_store import DONE, FAILED, JobResult
from zarvik.workspace.jobs import PUMP, settings_of


class PumpSettings(QWidget):
    """Rows that set the pump, and how far it may go."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.found: tuple[PumpSetting, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.heads = Heads(tr("setting"), presenter.setting_heads({}))
        column.addWidget(self.heads)
        area, inside = side_column(0, 0, 6)
        self.column = QVBoxLayout()
        self.column.setSpacing(0)
        inside.addLayout(self.column)
        self.rows: list[CandidateRow] = []
        self.words = Paragraph()
        inside.addWidget(self.words)
        inside.addStretch(1)
        column.addWidget(area, 1)
        desk.job_changed.connect(self._hear)

    def refresh(self) -> None:
        """Ask for what each setting makes."""
        self.heads.take(presenter.setting_heads(self.desk.project.shown_units))
        self._answered(self.desk.ask(settings_of(self.desk.project)))

    def _hear(self, reply: JobResult) -> None:
        if reply.key == PUMP and self.isVisible() and reply.job.of is self.desk.project:
            self._answered(reply)

    def _answered(self, reply: JobResult) -> None:
        if reply.state not in (DONE, FAILED):
            return
        self.found = reply.value if reply.state == DONE else ()
        units = self.desk.project.shown_units
        show_rows(self.column, self.rows, presenter.setting_rows(self.found, units), self._set)
        self.words.setText(presenter.setting_words(self.found, self.desk.project) if self.found else opening(reply.fault))

    def _set(self, key: str) -> None:
        """Set the pump to a setting, in one step to undo."""
        if not key.isdigit() or int(key) >= len(self.found):
            return
        setting = self.found[int(key)]
        try:
            changed = with_setting(self.desk.project, setting)
        except EntryError as error:
            self.desk.notice.emit(str(error))
            return
        if not setting.now:
            self.desk.change(tr_format("Pump: {0}", render(setting.title, self.desk.project.shown_units)), changed)

"""The steps of the document by name: where it stands, what can be undone and done again."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.plain_label import Paragraph

MOST = 400  # steps that are listed; older ones stay reachable by undo


class HistoryPanel(QWidget):
    """A list of steps, the newest first; Enter or a click goes there."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 10, 8)
        self.head = Paragraph(soft=True)
        column.addWidget(self.head)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Steps, newest first"))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.list.activated.connect(self._go)
        self.list.clicked.connect(self._go)
        column.addWidget(self.list, 1)
        desk.document_changed.connect(self._news)

    def _news(self) -> None:
        if self.isVisible():
            self.refresh()

    def showEvent(self, event: QShowEvent) -> None:
        """What went by while it was hidden is taken up."""
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """List the steps."""
        history = self.desk.session.history
        steps, at = history.steps, history.position
        self.list.blockSignals(True)
        self.list.clear()
        for number in range(len(steps) - 1, max(len(steps) - 1 - MOST, -1), -1):
            ahead = number > at
            item = QListWidgetItem(("↷ " if ahead else "• " if number == at else "   ") + steps[number].label)
            item.setData(Qt.ItemDataRole.UserRole, number)
            if ahead:
                item.setToolTip(tr("Undone; lost when you change something else"))
                font = item.font()
                font.setItalic(True)
                item.setFont(font)
            self.list.addItem(item)
            if number == at:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)
        undone = len(steps) - 1 - at
        text = tr("{0} steps. You can go back to any of them.").format(at)
        if undone:
            text = tr("{0} steps, {1} undone. You can go back to any of them.").format(at, undone)
        self.head.setText(text)

    def _go(self, index: QModelIndex) -> None:
        self.desk.session.go_to(int(index.data(Qt.ItemDataRole.UserRole)))

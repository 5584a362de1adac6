"""Tooltips in plain text: Qt guesses whether a tip is markup, and a name in one might be taken for it."""

from __future__ import annotations

import html

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QHelpEvent
from PySide6.QtWidgets import QAbstractItemView, QToolTip, QWidget

from zarvik.project.plain import looks_rich


class PlainTips(QObject):
    """Filters the events of the whole application and shows what looks like markup as it is."""

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """True when the tip was shown here."""
        if event.type() != QEvent.Type.ToolTip or not isinstance(event, QHelpEvent):
            return False
        text = ""
        if isinstance(watched, QWidget):
            text = watched.toolTip()
            view = watched.parent()
            if isinstance(view, QAbstractItemView) and watched is view.viewport():
                found = view.indexAt(event.pos()).data(Qt.ItemDataRole.ToolTipRole)
                text = found if isinstance(found, str) else text
        if not text or not looks_rich(text):
            return False
        QToolTip.showText(event.globalPos(), f"<qt>{html.escape(text)}</qt>")
        return True

"""The entry of a name or a note."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QLineEdit, QWidget

from zarvik.project.document.fields import Day, TextSpec
from zarvik.project.language.language import tr
from zarvik.window.parts.plain_tips import plain_tip


class WordsField(QLineEdit):
    """One line of words. `edited` carries them while they are typed, `sealed` says that it is over."""

    edited = Signal(str)
    sealed = Signal()

    def __init__(self, meta: TextSpec, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMaxLength(meta.most)
        self.setAccessibleName(tr(meta.title))
        self._stood = ""
        self._whole = isinstance(meta, Day)
        self._refused = False
        if self._whole:
            # Half of a date may be another one: it counts when it is all there.
            self.setPlaceholderText(tr("e.g. 12 June 2027"))
            self.textEdited.connect(lambda _: self._calm())
        else:
            self.textEdited.connect(self.edited)

    def set_words(self, text: str) -> None:
        """Show what stands in the document; the cursor stays where it is while it is typed."""
        if text != self.text():
            self.setText(text)
            self.setCursorPosition(0)

    def refuse(self, text: str) -> None:
        """The document did not take the words: say why."""
        self._refused = True
        self.setToolTip(plain_tip(text))
        self.setProperty("refused", "true")
        self.style().polish(self)

    def _calm(self) -> None:
        """Typed again: what was refused may be good now."""
        if self._refused:
            self._refused = False
            self.setToolTip("")
            self.setProperty("refused", "false")
            self.style().polish(self)

    def _end(self) -> None:
        """What is only taken whole is taken now."""
        if self._whole and self.text() != self._stood:
            self.edited.emit(self.text())
            if not self._refused:
                self._stood = self.text()

    def focusInEvent(self, event: QFocusEvent) -> None:
        """Remember what stood."""
        super().focusInEvent(event)
        self._stood = self.text()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """The edit is over."""
        super().focusOutEvent(event)
        self._end()
        if self._refused:
            # Half a word does not stay.
            self.setText(self._stood)
            self._calm()
        self.sealed.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape goes back to what stood, Enter ends the edit."""
        if event.key() == Qt.Key.Key_Escape:
            self._calm()
            self.setText(self._stood)
            self.edited.emit(self._stood)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._end()
            self.sealed.emit()
        else:
            super().keyPressEvent(event)

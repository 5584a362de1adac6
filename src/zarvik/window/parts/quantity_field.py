"""The entry of a quantity: any unit of its kind, live, refusing with a sentence."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable

from PySide6.QtCore import QEvent, QPoint, Qt, Signal
from PySide6.QtGui import QAction, QContextMenuEvent, QEnterEvent, QFocusEvent, QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QLabel, QLineEdit, QWidget

from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.presets import INCH_UNITS
from zarvik.project.language.language import tr
from zarvik.project.language.plain import opening
from zarvik.project.units.rendering import entry_text, in_groups
from zarvik.project.units.units import ABOUT, KINDS, UNKNOWN, EntryError, Quantity, parse, unit_of
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.theme.style import dress

FROM_ZERO = 300.0  # steps from zero to the other end of what may be entered


class Bubble(QLabel):
    """A sentence that hangs under the field it speaks of."""

    def __init__(self, owner: QWidget) -> None:
        super().__init__(owner.window())
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setObjectName("bubble")
        self.setWordWrap(True)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)

    def show_under(self, field: QWidget, text: str) -> None:
        """Show `text` under `field`, inside the window."""
        window = field.window()
        if self.parentWidget() is not window:
            self.setParent(window)
        dress(self)
        self.setText(text)
        self.setFixedWidth(min(320, window.width() - 20))
        self.adjustSize()
        spot = field.mapTo(window, QPoint(0, field.height() + 3))
        spot.setX(max(4, min(spot.x(), window.width() - self.width() - 6)))
        if spot.y() + self.height() > window.height():
            spot.setY(field.mapTo(window, QPoint(0, 0)).y() - self.height() - 3)
        self.move(spot)
        self.raise_()
        self.show()


class QuantityField(QLineEdit):
    """One quantity. `edited` carries a valid new quantity while it is being typed, `sealed` says
    that the edit is over."""

    edited = Signal(object)
    sealed = Signal()

    def __init__(
        self,
        meta: QuantitySpec,
        ambient: Callable[[], float],
        parent: QWidget | None = None,
        *,
        origin: Callable[[], str] | None = None,
        shown: Callable[[str], str | None] = lambda kind: None,
    ) -> None:
        super().__init__(parent)
        self._origin, self._shown = origin, shown
        self.meta = meta
        self._ambient = ambient
        self._quantity: Quantity | None = None
        self._entered: Quantity | None = None  # what stood when the typing began
        self._bubble: Bubble | None = None
        self.fault = ""
        self.setAccessibleName(tr(meta.title))
        self._tip = self._hint()
        self.setToolTip(plain_tip(self._tip))
        self.textEdited.connect(self._typed)

    def _hint(self) -> str:
        reference = {"pressure_gauge": tr("gauge; “abs” behind the unit for absolute"), "pressure_absolute": tr("absolute")}.get(
            self.meta.kind, ""
        )
        parts = [tr(self.meta.help) if self.meta.help else "", self._range(), reference]
        return "\n".join(part for part in parts if part)

    def _range(self) -> str:
        """What may be entered, for a shop that has inches in its units."""
        meta, symbol = self.meta, self._shown(self.meta.kind)
        limits = [parse(text, meta.kind, default_unit=meta.unit) for text in (meta.low, meta.high)]
        if symbol in INCH_UNITS:
            limits = [limit.into(symbol).rounded(3) for limit in limits]
        return tr("{0} to {1}").format(*map(in_groups, limits))

    def assumed(self, is_assumed: bool) -> None:
        """Say in the tip that nobody has said this value."""
        hint = self._hint()
        if is_assumed:
            hint = tr("≈ estimated for you: what you type replaces it") + "\n" + hint
        self._tip = hint
        self.setToolTip(plain_tip(hint))

    def enterEvent(self, event: QEnterEvent) -> None:
        """The tip also tells how the value came to be known, which is asked for when the mouse comes near."""
        origin = self._origin() if self._origin is not None else ""
        self.setToolTip(plain_tip("\n".join(part for part in (origin, self._tip) if part)))
        super().enterEvent(event)

    @property
    def quantity(self) -> Quantity | None:
        """The quantity that stands in the document."""
        return self._quantity

    def set_quantity(self, quantity: Quantity) -> None:
        """Show what stands in the document; what is being typed is left alone."""
        changed = quantity != self._quantity
        self._quantity = quantity
        if changed and not (self.hasFocus() and (self._means(quantity) or self.fault)):
            self._show()

    def forget(self) -> None:
        """Nothing stands here: not known."""
        self._quantity = None
        self._entered = None
        self._refuse("")

    def _means(self, quantity: Quantity) -> bool:
        try:
            read = self._read()
        except EntryError:
            return False
        # “?” and nothing at all mean whatever the estimate says.
        return read == quantity or read.known == quantity.known == UNKNOWN

    def _show(self) -> None:
        text, grey = self._words()
        self.setText(text)
        if grey != self.placeholderText():
            self.setPlaceholderText(grey)
        self.setCursorPosition(0)
        self._refuse("")

    def _words(self) -> tuple[str, str]:
        """The text of the field, and the grey words of an empty one: what is not known is not written as if it were."""
        quantity = self._quantity
        if quantity is None:
            return "", ""
        if quantity.known == UNKNOWN or (self.meta.blank and quantity.value == 0.0):
            return "", entry_text(quantity, self.meta.blank)
        return str(quantity), ""

    def _read(self) -> Quantity:
        # A bare number means the unit that stood there, not the one of a half-typed word.
        stood = self._entered or self._quantity
        unit = stood.unit if stood is not None else self.meta.unit
        if stood is not None and self.meta.blank and stood.value == 0.0:
            unit = self._shown(self.meta.kind) or self.meta.unit
        return self.meta.read(self.text(), unit=unit, ambient=self._ambient())

    def _typed(self, text: str) -> None:
        if self._entered is None:
            self._entered = self._quantity
        try:
            quantity = self._read()
        except EntryError as error:
            self._refuse(str(error))
            # What was only half of a word is not what was meant: back to what stood before.
            self._back()
            return
        self._refuse("")
        if quantity != self._quantity:
            self.edited.emit(quantity)

    def _back(self) -> None:
        """The document holds again what it held before the typing; the text stays as it is."""
        if self._entered is not None and self._quantity != self._entered:
            self._quantity = self._entered
            self.edited.emit(self._entered)

    def refuse(self, text: str) -> None:
        """The document did not take the value: say why."""
        self._refuse(text)

    def _refuse(self, text: str) -> None:
        if text != self.fault:
            self.fault = text
            self.setProperty("refused", "true" if text else "false")
            self.style().unpolish(self)
            self.style().polish(self)
        if text and self.isVisible():
            if self._bubble is None:
                self._bubble = Bubble(self)
            self._bubble.show_under(self, opening(text))
        elif self._bubble is not None:
            self._bubble.hide()

    def step(self, count: float) -> None:
        """Change the number by `count` sensible steps."""
        if self._quantity is None:
            return
        unit = unit_of(self._quantity.kind, self._quantity.unit)
        low, high = (unit.from_si(v) for v in self.meta.limits)
        size = 1.0 if self.meta.kind == "count" else step_size(self._quantity.value, unit.places, high - low)
        value = min(max(round(self._quantity.value / size + count) * size, low), high)
        digits = max(0, -math.floor(math.log10(size)))
        quantity = Quantity(round(value, digits + 1), self._quantity.unit, self._quantity.kind)
        if quantity == self._quantity:
            return
        self._entered = None
        self.setText(str(quantity))
        self._refuse("")
        self.edited.emit(quantity)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down step, Escape goes back to what stands, Enter ends the edit."""
        large = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        ctrl = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if ctrl and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.next_unit(1 if event.key() == Qt.Key.Key_Down else -1)
        elif event.key() == Qt.Key.Key_Up:
            self.step(large)
        elif event.key() == Qt.Key.Key_Down:
            self.step(-large)
        elif event.key() == Qt.Key.Key_Escape:
            self._back()
            self._entered = None
            self._show()
            self.selectAll()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._finish()
            self.selectAll()
        else:
            super().keyPressEvent(event)

    def use_unit(self, symbol: str) -> None:
        """The same quantity in another unit of its kind, kept from now on."""
        if self._quantity is None or symbol == self._quantity.unit:
            return
        quantity = self._quantity.into(symbol).rounded(6)
        self.setText(str(quantity))
        self._refuse("")
        self.edited.emit(quantity)
        self.selectAll()

    def next_unit(self, by: int) -> None:
        """The unit behind (`by` 1) or before the present one among the kind's units."""
        if self._quantity is None:
            return
        symbols = [u.symbol for u in KINDS[self.meta.kind]]
        at = symbols.index(self._quantity.unit) if self._quantity.unit in symbols else 0
        self.use_unit(symbols[(at + by) % len(symbols)])

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """The units of the kind, then what a text field offers."""
        menu = self.createStandardContextMenu()
        first = menu.actions()[0]
        units = KINDS[self.meta.kind]
        if len(units) > 1 and self._quantity is not None:
            for unit in units:
                action = QAction(tr("in {0}").format(unit.symbol), menu)
                action.setCheckable(True)
                action.setChecked(unit.symbol == self._quantity.unit)
                action.triggered.connect(lambda _=False, u=unit.symbol: self.use_unit(u))
                menu.insertAction(first, action)
            menu.insertSeparator(first)
        if self.meta.unknown is not None and self._quantity is not None:
            for words, known in ((tr("Approximate"), ABOUT), (tr("Unknown"), UNKNOWN)):
                action = QAction(words, menu)
                action.triggered.connect(lambda _=False, k=known: self._take_for(k))
                menu.insertAction(first, action)
            menu.insertSeparator(first)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(event.globalPos())

    def _take_for(self, known: str) -> None:
        """The same number, known otherwise."""
        if self._quantity is not None:
            self._entered = None
            self.edited.emit(dataclasses.replace(self._quantity, known=known, spread=0.0, relative=False))
            self._show()
            self.sealed.emit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        """The wheel steps only where the eye already is."""
        if self.hasFocus():
            self.step(1.0 if event.angleDelta().y() > 0 else -1.0)
        else:
            event.ignore()

    def focusInEvent(self, event: QFocusEvent) -> None:
        """Select all, so that typing replaces."""
        super().focusInEvent(event)
        self.selectAll()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """A refused entry goes; the old value stays."""
        super().focusOutEvent(event)
        self._finish()

    def _finish(self) -> None:
        self._entered = None
        if self._quantity is not None:
            self._show()
        self.sealed.emit()

    def hideEvent(self, event: QEvent) -> None:
        """The bubble does not outlive its field."""
        if self._bubble is not None:
            self._bubble.hide()


def step_size(value: float, places: int, span: float = 0.0) -> float:
    """A step of about a hundredth of `value`, as 1, 2 or 5 times a power of ten; from zero a small part of what may be entered
    (`span`): a hand would turn for ever at a hundredth of a millimetre."""
    rough = max(abs(value) / 100.0, 10.0 ** -(places + 1))
    if value == 0.0:
        rough = max(span / FROM_ZERO, 10.0**-places)
    power = 10.0 ** math.floor(math.log10(rough))
    return next(power * m for m in (1.0, 2.0, 5.0, 10.0) if power * m >= rough * 0.999)


class ScrubLabel(QLabel):
    """The label of a field: dragging it sideways changes the number while the window follows."""

    def __init__(self, text: str, field: QuantityField) -> None:
        super().__init__(text)
        self._field = field
        self._from: float | None = None
        self._moved = 0
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self.setToolTip(tr("Drag sideways to change the number"))
        self.setBuddy(field)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Begin to drag."""
        self._from = event.position().x()
        self._moved = 0

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """One step every four pixels; ten with Shift."""
        if self._from is None:
            return
        steps = int((event.position().x() - self._from) / 4.0)
        if steps != self._moved:
            large = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self._field.step((steps - self._moved) * large)
            self._moved = steps

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """End of the drag: one step for undo."""
        if self._moved:
            self._field.sealed.emit()
        else:
            self._field.setFocus(Qt.FocusReason.MouseFocusReason)
        self._from = None

"""Hands for the tests: find a field, type into it, click."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from zarvik.window.parts.form import Form
from zarvik.window.parts.quantity_field import QuantityField


def field(bench: QWidget, place: str) -> QuantityField:
    """The field of a bench that holds `place`."""
    for form in bench.findChildren(Form):
        found = form.fields.get(place)
        if isinstance(found, QuantityField):
            return found
    raise KeyError(place)


def type_into(entry: QuantityField, text: str) -> None:
    """Type as a user does: focus, select all, keys, Enter."""
    entry.setFocus()
    entry.selectAll()
    QTest.keyClicks(entry, text)
    QTest.keyClick(entry, Qt.Key.Key_Return)


def click(widget: QWidget) -> None:
    """Click in the middle of a widget, or on the box of a check box."""
    spot = widget.rect().center()
    if widget.metaObject().className() == "QCheckBox":
        spot.setX(8)
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=spot)

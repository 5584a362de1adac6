"""Where the keyboard goes."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QScrollArea, QWidget
from shiboken6 import isValid


def tab_order(inside: QWidget) -> Iterator[QWidget]:
    """The visible widgets in `inside` that take the focus by Tab, in their order."""
    found = inside.nextInFocusChain()
    for _ in range(5000):
        if found is None or found is inside:
            return
        if found.focusPolicy() & Qt.FocusPolicy.TabFocus and inside.isAncestorOf(found) and found.isVisible() and found.isEnabled():
            yield found
        found = found.nextInFocusChain()


def show_in_scroll(widget: QWidget) -> None:
    """Scroll what holds a widget so that it is seen."""
    parent = widget.parentWidget()
    while parent is not None:
        inside = parent.widget() if isinstance(parent, QScrollArea) else None
        if isinstance(parent, QScrollArea) and inside is not None:
            # All of it, and of what is too tall the top.
            first = widget.mapTo(inside, QPoint(0, 0))
            last = widget.mapTo(inside, widget.rect().bottomRight())
            for spot in (last, first):
                parent.ensureVisible(spot.x(), spot.y(), 10, 40)
        parent = parent.parentWidget()


def give_back(widget: QWidget | None) -> None:
    """Put the focus where it was before something lay over the window, if that still exists."""
    if widget is not None and isValid(widget) and widget.isVisible():
        widget.setFocus(Qt.FocusReason.OtherFocusReason)

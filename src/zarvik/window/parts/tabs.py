"""Buttons that turn the pages of a bench."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QToolButton, QVBoxLayout, QWidget

from zarvik.project.language.language import tr
from zarvik.window.theme.style import Pages


def page_tabs(owner: QWidget, pages: Mapping[str, str], turn: Callable[[str], object]) -> tuple[QHBoxLayout, dict[str, QToolButton]]:
    """A row with a button for each of the `pages` (key and title), of which one is down, and the buttons by key; `turn`
    hears the key of the one that is clicked. Room is left behind them."""
    row = QHBoxLayout()
    row.setSpacing(0)
    group = QButtonGroup(owner)
    buttons: dict[str, QToolButton] = {}
    for key, title in pages.items():
        button = QToolButton(owner)
        button.setText(tr(title).replace("&", "&&"))
        button.setCheckable(True)
        button.clicked.connect(partial(turn, key))
        group.addButton(button)
        row.addWidget(button)
        buttons[key] = button
    row.addStretch(1)
    return row, buttons


def paged(owner: QWidget, pages: Mapping[str, str], turn: Callable[[str], object]) -> tuple[QHBoxLayout, dict[str, QToolButton], Pages]:
    """A whole bench of `pages` under their buttons: the row of buttons as `page_tabs` makes it, the buttons, and the stack below
    them."""
    layout = QVBoxLayout(owner)
    layout.setContentsMargins(14, 10, 12, 8)
    layout.setSpacing(6)
    row, buttons = page_tabs(owner, pages, turn)
    layout.addLayout(row)
    stack = Pages(owner)
    layout.addWidget(stack, 1)
    return row, buttons, stack

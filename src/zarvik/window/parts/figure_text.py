"""Sentences with figures that open their working: by mouse, or by Tab and Enter."""

from __future__ import annotations

import html
import re

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from zarvik.window.desk import Desk
from zarvik.window.theme.palette import current

_LINK = re.compile(r"\[([A-Za-z_0-9:\-/.=]+)\|([^\]]*)\]")


class FigureText(QLabel):
    """Shows text in which `[address|figure]` is a figure that leads to its working."""

    def __init__(self, desk: Desk, name: str = "soft") -> None:
        super().__init__()
        self.setObjectName(name)
        self.setWordWrap(True)
        self.setTextFormat(Qt.TextFormat.RichText)
        self.setTextInteractionFlags(
            Qt.TextInteractionFlag.LinksAccessibleByMouse
            | Qt.TextInteractionFlag.LinksAccessibleByKeyboard
        )
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.linkActivated.connect(lambda address: desk.follow(address))
        self._shown = ("", "")

    def say(self, text: str) -> None:
        """Show a text; the same one again costs nothing."""
        ink = current().ink
        if (text, ink) == self._shown:
            return
        self._shown = (text, ink)

        def link(match: re.Match[str]) -> str:
            return f"<a href='{match[1]}' style='color:{ink}'>{match[2]}</a>"

        safe = html.escape(text, quote=False).replace("\n", "<br>")
        self.setText(_LINK.sub(link, safe))
        self.setAccessibleName(_LINK.sub(lambda m: m[2], text))

    def stale(self) -> None:
        """The theme has turned: the ink of the links is another one."""
        self.say(self._shown[0])

    def plain(self) -> str:
        """What is shown, without the links."""
        return self.accessibleName()

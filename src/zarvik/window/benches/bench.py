"""What a bench is to the window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from zarvik.window.desk import Desk


class Bench(QWidget):
    """A screen for one step. Only the bench that is shown is refreshed."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setObjectName("bench")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        for signal, refresh in (
            (desk.document_changed, self.refresh_document),
            (desk.result_changed, self.refresh_result),
            (desk.rest_changed, self.refresh_rest),
            (desk.speed_changed, self.refresh_speed),
        ):
            signal.connect(partial(self._if_seen, refresh))

    def _if_seen(self, refresh: Callable[[], None]) -> None:
        if self.isVisible():
            refresh()

    def refresh_document(self) -> None:
        """The document changed."""

    def refresh_result(self) -> None:
        """A new answer came."""

    def refresh_rest(self) -> None:
        """Costs and candidates of the answer came."""

    def refresh_speed(self) -> None:
        """Another engine speed is shown."""

    def refresh(self) -> None:
        """Everything, when the bench comes to the front."""
        self.refresh_document()
        self.refresh_result()
        self.refresh_rest()


@dataclass(frozen=True)
class Entry:
    """A bench in the rail: `key`, `title`, `hint`, and what makes it."""

    key: str
    title: str
    hint: str
    make: Callable[[Desk], Bench]

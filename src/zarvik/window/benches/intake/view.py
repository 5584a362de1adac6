"""The bench of what the intake is made of beside its pipes: meter, throttle, ports, runners."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout

from zarvik.window.benches.bench import Bench
from zarvik.window.benches.intake.page import IntakePage
from zarvik.window.desk import Desk


class IntakeBench(Bench):
    """One page of entries."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 10, 12, 8)
        self.page = IntakePage(self, desk)
        layout.addWidget(self.page)

    def refresh_document(self) -> None:
        """The entries and what comes of them."""
        self.page.refresh()

    def refresh_result(self) -> None:
        """What comes of them."""
        self.page.refresh()

    def refresh_rest(self) -> None:
        """Judged once more."""
        self.page.refresh()

"""What a bench is to the window."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from zarvik.window.desk import Desk
from zarvik.window.parts.form import Form


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

    def places(self) -> Iterator[str]:
        """Places of the document that this bench shows."""
        for form in self.findChildren(Form):
            yield from form.fields

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """What can be done on this bench beside its entries: words and what does it."""
        yield from ()

    def opens(self, place: str) -> bool:
        """Can this bench show the entry at `place`?"""
        return any(place in form.fields for form in self.findChildren(Form))

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry, None while it is not shown."""
        found = (form.fields.get(place) for form in self.findChildren(Form))
        return next((field for field in found if field is not None), None)

    def refresh(self) -> None:
        """Everything, when the bench comes to the front."""
        self.refresh_document()
        self.refresh_result()
        self.refresh_rest()


@dataclass(frozen=True)
class Entry:
    """A bench in the rail: `key`, `title`, `hint`, what makes it; `judged`: whether verdicts speak
    of it."""

    key: str
    title: str
    hint: str
    make: Callable[[Desk], Bench]
    judged: bool = True

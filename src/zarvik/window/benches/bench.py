"""What a bench is to the window."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Protocol

from PySide6.QtCore import QSize
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QShowEvent
from PySide6.QtWidgets import QWidget

from zarvik.project.document.document import Project
from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.form import Form
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import Pages


class Bench(QWidget):
    """A screen for one step. Only the bench that is shown is refreshed; what it missed while it was hidden, by another bench or by the
    first page, it takes up when it is shown again."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk.home)
        self.desk = desk
        self.behind = True
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
        else:
            self.behind = True

    def showEvent(self, event: QShowEvent) -> None:
        """Nothing old is ever shown."""
        super().showEvent(event)
        if self.behind:
            self.refresh()

    @guarded
    def paintEvent(self, event: QPaintEvent) -> None:
        """The ground of a panel. Were it filled by the toolkit, which takes it to be opaque then, a bench that is turned to would be
        painted twice, once by itself and once with what it lies on."""
        painter = QPainter(self)
        painter.fillRect(event.rect(), QColor(current().panel))
        painter.end()

    def refresh_document(self) -> None:
        """The document changed."""

    def refresh_result(self) -> None:
        """A new answer came."""

    def refresh_rest(self) -> None:
        """Costs and candidates of the answer came."""

    def refresh_speed(self) -> None:
        """Another engine speed is shown."""

    def places(self) -> Iterator[str]:
        """Places of the document that this bench shows on the pages that are made."""
        for form in self.findChildren(Form):
            yield from form.fields

    def make_next(self) -> bool:
        """Make one of the pages that nobody has turned to yet; False when there is none."""
        return any(pages.make_next() for pages in self.findChildren(Pages))

    def unmade(self) -> list[str]:
        """Keys of the pages that nobody has turned to yet."""
        return [key for pages in self.findChildren(Pages) for key in pages.unmade()]

    def forms_of_all_pages(self) -> list[Form]:
        """Those of pages that nobody has turned to yet as well."""
        while self.make_next():
            pass
        return self.findChildren(Form)

    def settle(self) -> None:
        """What is drawn in the background is there: for a picture of the window."""

    def look_at(self, subject: str) -> None:
        """Turn to what a check is about: one of `SUBJECTS`, with a place on the bench behind a colon."""

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """What can be done on this bench beside its entries: words and what does it."""
        yield from ()

    def opens(self, place: str) -> bool:
        """Can this bench show the entry at `place`?"""
        return any(place in form.fields for form in self.forms_of_all_pages())

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry, None while it is not shown."""
        found = (form.fields.get(place) for form in self.forms_of_all_pages())
        return next((field for field in found if field is not None), None)

    def refresh(self) -> None:
        """Everything, when the bench comes to the front."""
        self.behind = False
        self.refresh_document()
        self.refresh_result()
        self.refresh_rest()


class Drawn(Protocol):
    """A chart that a bench puts on the printed page."""

    def resize(self, size: QSize, /) -> None:
        """Take a size in px."""

    def refresh(self) -> None:
        """Take up the newest answer."""

    def draw(self, painter: QPainter) -> None:
        """Draw itself."""

    def deleteLater(self) -> None:
        """Go."""


@dataclass(frozen=True)
class Entry:
    """A bench as the window knows it: `key`, `title`, `hint`, what makes it.

    `subjects`: what checks and figures are about that are worked on here (`core.checks.check_result` names them); none: no check speaks
    of it. `rooms`: of the document, that it has entries of. `keys`: (keys, words) for the sheet of keys, under the bench's title.
    `page`: makes its chart for the printed page. `note`: a few words about the document under its name, where no check speaks of it.
    `with_blower`: title and hint in a build with a blower, where they are others there.
    """

    key: str
    title: str
    hint: str
    make: Callable[[Desk], Bench]
    subjects: tuple[str, ...] = ()
    rooms: tuple[str, ...] = ()
    keys: tuple[tuple[str, str], ...] = ()
    page: Callable[[Desk], Drawn] | None = None
    note: Callable[[Project], str] | None = None
    with_blower: tuple[str, str] | None = None

    def name(self, project: Project) -> str:
        """What a project calls it."""
        return tr(self.with_blower[0] if self.with_blower is not None and project.blower.fitted else self.title)

    def tip(self, project: Project) -> str:
        """What is done on it."""
        return tr(self.with_blower[1] if self.with_blower is not None and project.blower.fitted else self.hint)


def shortcut(number: int) -> str:
    """Keys of the bench with a `number` from 1 in the rail: digits with Ctrl, the tenth with 0, the
    next ten with Alt as well."""
    if number > 20:
        return ""
    return ("Ctrl+" if number <= 10 else "Ctrl+Alt+") + str(number % 10)

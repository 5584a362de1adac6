"""Watches what a window paints: every text that goes to a painter, with the room that it had."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from driving import pause
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter
from PySide6.QtWidgets import QAbstractScrollArea, QComboBox, QScrollArea, QWidget

from zarvik.project.edits import edits
from zarvik.project.variants import variants
from zarvik.window.app import settle
from zarvik.window.frame.calculation_panel import Choice
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.parts.chart import Chart
from zarvik.window.run.pressure_run import PressureRun


@dataclass(frozen=True)
class Painted:
    """A text on a widget: where its ink goes, the room it was given (None when it was set at a
    point), and how wide the widget is."""

    text: str
    ink: QRectF
    room: QRectF | None
    widget: QWidget

    @property
    def cut(self) -> str:
        """What is wrong with it, empty when it stands clear."""
        if "…" in self.text:
            return "elided"
        if self.room is not None and self.ink.width() > self.room.width() + 1.5:
            return f"{self.ink.width() - self.room.width():.0f} px wider than its place"
        # A list or a page that scrolls may show half a line at its edge.
        scrolls = isinstance(self.widget.parent(), QAbstractScrollArea)
        edge = QRectF(self.widget.rect()).adjusted(-1, -3, 1, 3)
        if scrolls:
            edge.adjust(0, -60, 0, 60)
        if not edge.contains(self.ink):
            return f"outside of its widget {edge} at {self.ink}"
        return ""


@contextmanager
def watched() -> Iterator[list[Painted]]:
    """Texts of the last picture of each widget that is painted inside the block."""
    found: list[Painted] = []
    painters: dict[QWidget, QPainter] = {}
    whole, back, run = QPainter.drawText, Chart._paint_all_back, PressureRun.draw
    owners: list[QWidget] = []  # what is drawn once and kept, while it is drawn

    def drawn(self: QPainter, *given: Any) -> Any:
        device = owners[-1] if owners else self.device()
        text = next((g for g in reversed(given) if isinstance(g, str)), "")
        if isinstance(device, QWidget) and text.strip():
            if painters.get(device) is not self:  # a new picture of it: the old one is gone
                painters[device] = self
                found[:] = [f for f in found if f.widget is not device]
            metrics = QFontMetricsF(self.font())
            area, flags = given[0], given[1] if len(given) > 2 else 0
            flags = int(flags.value if hasattr(flags, "value") else flags)
            room = None
            if isinstance(area, QPointF):
                ink = QRectF(area.x(), area.y() - metrics.ascent(), metrics.horizontalAdvance(text), metrics.height())
            else:
                room = QRectF(area)
                ink = metrics.boundingRect(room, flags, text)
            shift = self.combinedTransform()
            if device.devicePixelRatioF() == 1.0:
                ink = shift.mapRect(ink)
                room = shift.mapRect(room) if room is not None else None
                found.append(Painted(text, ink, room, device))
        return whole(self, *given)

    def kept(paint: Callable[[Any, QPainter], None]) -> Callable[[Any, QPainter], None]:
        def painted(self: Any, painter: QPainter) -> None:
            owners.append(self)
            try:
                paint(self, painter)
            finally:
                owners.pop()

        return painted

    QPainter.drawText = drawn  # type: ignore[method-assign]
    Chart._paint_all_back, PressureRun.draw = kept(back), kept(run)  # type: ignore[method-assign]
    try:
        yield found
    finally:
        QPainter.drawText = whole  # type: ignore[method-assign]
        Chart._paint_all_back, PressureRun.draw = back, run  # type: ignore[method-assign]


def collisions(found: list[Painted]) -> list[tuple[str, str]]:
    """Pairs of texts on one widget whose ink lies over each other."""
    pairs = []
    for i, one in enumerate(found):
        for two in found[i + 1 :]:
            if one.widget is not two.widget or one.text == two.text:
                continue
            # Ascent and descent are taller than figures and small letters are.
            first = one.ink.adjusted(1, 3, -1, -4)
            second = two.ink.adjusted(1, 3, -1, -4)
            if first.intersects(second):
                pairs.append((one.text, two.text))
    return pairs


def paint(window: MainWindow) -> list[Painted]:
    """Everything that the window paints by hand, once."""
    assert settle(window)
    assert window.session.jobs.idle()
    pause(20)
    with watched() as found:
        for widget in window.findChildren(QWidget):
            if widget.isVisible():
                getattr(widget, "stale", widget.update)()
        pause(30)
        for widget in window.findChildren(QWidget):
            if widget.isVisible():
                getattr(widget, "stale", widget.update)()
        pause(30)
    return found


def names(window: MainWindow) -> set[str]:
    """Names that the owner gave: these may be shortened, the tooltip has them whole."""
    project = window.session.project
    found = {t.name for t in project.turbos} | set(variants.names(project))
    found |= {p.name for run in edits.RUNS for p in getattr(project, run)}
    return found | {project.blower.name, *(p.name for p in window.run.profile.spans)}


def faults(window: MainWindow, found: list[Painted]) -> list[str]:
    """What does not stand whole and clear."""
    known = names(window)
    wrong = [
        f"{type(f.widget).__name__}: {f.text!r} {f.cut}"
        for f in found
        if f.cut and not (f.text.endswith("…") and any(n.startswith(f.text[:-1]) for n in known))
    ]
    wrong += [f"{one!r} over {two!r}" for one, two in collisions(found)]
    for area in window.findChildren(QScrollArea):
        inside = area.widget()
        never = area.horizontalScrollBarPolicy() == Qt.ScrollBarPolicy.ScrollBarAlwaysOff
        if area.isVisible() and inside is not None and never:
            short = inside.minimumSizeHint().width() - area.viewport().width()
            if short > 1:
                wrong.append(f"{area.accessibleName() or type(inside).__name__}: {short} px cut off")
    for choice in window.findChildren(QComboBox):
        if choice.isVisible() and not isinstance(choice, Choice):
            wide = choice.fontMetrics().horizontalAdvance(choice.currentText())
            if wide + 30 > choice.width():
                wrong.append(f"{choice.currentText()!r} in a choice of {choice.width()} px")
    return wrong

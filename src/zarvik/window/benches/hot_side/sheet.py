"""The hot side on paper: what the gate holds, the plan of its hoses with what comes of each, how it is hooked up; manifolds."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QColor, QPainter

from zarvik.project.control import Control, steps
from zarvik.project.language import tr
from zarvik.project.schools import School
from zarvik.project.sentences import render
from zarvik.window.benches.hot_side import presenter as show
from zarvik.window.benches.hot_side.pictures import BoostChart, HosePlan, SchoolRows
from zarvik.window.desk import Desk
from zarvik.window.paper import sheet as page
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.wrapping import wrapped
from zarvik.window.theme import palette
from zarvik.window.theme.style import font

LEFT = 620.0  # units of the sheet that plan and curves are wide


def write(desk: Desk, path: str, found: Control | None, manifolds: Sequence[School]) -> str:
    """Write what there is of it as PDF; returns a sentence when it cannot be written, else nothing."""
    if found is None and not manifolds:
        return tr("There is nothing to write yet: look at the gate or the manifolds first")

    def draw(desk: Desk, painter: QPainter, more: Callable[[], object]) -> None:
        page.head(desk, painter)
        if found is not None:
            _gate(desk, painter, found)
            page.foot(painter)
            if manifolds:
                more()
                page.head(desk, painter)
        if manifolds:
            rows = SchoolRows(desk)
            rows.take(manifolds)
            rows.resize(QSize(int(page.WIDE), rows.minimumHeight()))
            painter.save()
            painter.translate(0, 60)
            rows.draw(painter)
            painter.restore()
            rows.deleteLater()
            page.foot(painter)

    return page.write(desk, path, draw)


def _gate(desk: Desk, painter: QPainter, found: Control) -> None:
    units = desk.project.shown_units
    chart, plan = BoostChart(desk), HosePlan(desk)
    chart.take(show.curves(found, units))
    plan.take(found)
    for widget, top, high in ((chart, 44.0, 330.0), (plan, 392.0, 158.0)):
        widget.resize(QSize(int(LEFT), int(high)))
        painter.save()
        painter.translate(0, top)
        widget.draw(painter)
        painter.restore()
        widget.deleteLater()
    ink = QColor(palette.current().ink)
    y = 60.0
    room = page.WIDE - LEFT - 40.0

    def put(text: str, *, indent: float = 0.0) -> None:
        nonlocal y
        painter.setFont(font(14))
        painter.setPen(ink)
        for line in wrapped(text, room - indent, 14):
            painter.drawText(QPointF(LEFT + 40.0 + indent, y), line)
            y += 19.0
        y += 5.0

    put(show.headline(found, units))
    for line in found.lines:
        draw_state(painter, QRectF(LEFT + 40.0, y - 12.0, 13, 13), show.STATES[line.what])
        put(f"{line.letter}  {show.hose_words(line, units)}", indent=22.0)
    for number, step in enumerate(steps(found), 1):
        put(f"{number}. {render(step, units)}")
    for sentence in found.relief:
        put(render(sentence, units))


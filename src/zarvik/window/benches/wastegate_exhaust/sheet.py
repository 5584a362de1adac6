"""The hot side on paper: what the gate holds, the plan of its hoses with what comes of each, how it is hooked up; manifolds."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QWidget

from zarvik.project.boost_control.control import Control, steps
from zarvik.project.heat.hot_parts import HotSideReport
from zarvik.project.language.language import tr, tr_format
from zarvik.project.manifold.manifold_types import ManifoldType
from zarvik.project.units.rendering import render
from zarvik.project.vehicle.towing import TowingReport
from zarvik.window.benches.wastegate_exhaust import presenter as show
from zarvik.window.benches.wastegate_exhaust.heat import presenter as heat
from zarvik.window.benches.wastegate_exhaust.heat.rows import HeatRows
from zarvik.window.benches.wastegate_exhaust.pictures import BoostChart, HosePlan, ManifoldRows
from zarvik.window.benches.wastegate_exhaust.towing import presenter as tow
from zarvik.window.benches.wastegate_exhaust.towing.charts import HeatChart
from zarvik.window.desk import Desk
from zarvik.window.paper import sheet as page
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.wrapping import wrapped
from zarvik.window.theme import palette
from zarvik.window.theme.style import font

LEFT = 620.0  # units of the sheet that plan and curves are wide


def write(
    desk: Desk,
    path: str,
    found: Control | None,
    manifolds: Sequence[ManifoldType],
    hot: HotSideReport | None = None,
    hill: TowingReport | None = None,
) -> str:
    """Write what there is of it as PDF, a page each; returns a sentence when it cannot be written, else nothing."""
    pages: list[tuple[str, Callable[[QPainter], None]]] = []
    if found is not None:
        gate = found
        pages.append((tr("Boost control"), lambda painter: _gate(desk, painter, gate)))
    if manifolds:
        pages.append((tr("Manifold"), lambda painter: _manifolds(desk, painter, manifolds)))
    if hot is not None:
        around = hot
        pages.append((tr("Exhaust & heat"), lambda painter: _heat(desk, painter, around)))
    if hill is not None:
        train = hill
        pages.append((tr("Towing"), lambda painter: _hill(desk, painter, train)))
    if not pages:
        return tr("Nothing to write yet: open one of the pages first")

    def draw(desk: Desk, painter: QPainter, paper: page.Paper) -> None:
        for number, (title, body) in enumerate(pages):
            if number:
                paper.more()
            page.head(desk, painter, title)
            body(painter)
            page.foot(painter, paper)

    return page.write(desk, path, draw, len(pages))


def _drawn(painter: QPainter, widget: QWidget, top: float, size: QSize) -> None:
    """A picture of the window on paper."""
    widget.resize(size)
    painter.save()
    painter.translate(0, top)
    widget.draw(painter)  # type: ignore[attr-defined]
    painter.restore()
    widget.deleteLater()


def _manifolds(desk: Desk, painter: QPainter, manifolds: Sequence[ManifoldType]) -> None:
    rows = ManifoldRows(desk)
    rows.resize(int(page.WIDE), 10)
    rows.take(manifolds)
    _drawn(painter, rows, 60.0, QSize(int(page.WIDE), rows.minimumHeight()))


def _heat(desk: Desk, painter: QPainter, found: HotSideReport) -> None:
    units = desk.project.shown_units
    rows = HeatRows(desk)
    rows.take(found, 4)
    high = rows.sizeHint().height()
    _drawn(painter, rows, 50.0, QSize(int(page.WIDE), high))
    put = _Writer(painter, 80.0 + high, 0.0, page.WIDE)
    put(heat.headline(found, units))
    put(tr_format("Gaps: {0}", heat.things()[4]))
    for line in (*heat.probe_lines(found, units), *heat.sentences(found, units)):
        put(f"· {line}")


def _hill(desk: Desk, painter: QPainter, found: TowingReport) -> None:
    units = desk.project.shown_units
    curves, unit, spot = tow.over_speed(found, units)
    minutes, degrees = tow.over_minutes(found, units)
    brake, power = tow.over_brake(found, units)
    top = 44.0
    for lines, across, up, at in (
        (curves, tr("engine speed, rpm: other gears at the same road speed"), unit, spot),
        (minutes, tr("minutes uphill"), degrees, None),
        (brake, tr("engine speed, rpm"), power, None),
    ):
        if lines:
            chart = HeatChart("")
            chart.take(lines, across, up, at)
            _drawn(painter, chart, top, QSize(int(LEFT), 200))
            top += 208.0
    put = _Writer(painter, 60.0, LEFT + 40.0, page.WIDE - LEFT - 40.0)
    for line in tow.lines(found, desk.project):
        put(f"· {line}")


class _Writer:
    """Puts lines of text under each other."""

    def __init__(self, painter: QPainter, y: float, left: float, room: float) -> None:
        self.painter, self.y, self.left, self.room = painter, y, left, room

    def __call__(self, text: str, *, indent: float = 0.0) -> None:
        self.painter.setFont(font(14))
        self.painter.setPen(QColor(palette.current().ink))
        for line in wrapped(text, self.room - indent, 14):
            self.painter.drawText(QPointF(self.left + indent, self.y), line)
            self.y += 19.0
        self.y += 5.0


def _gate(desk: Desk, painter: QPainter, found: Control) -> None:
    units = desk.project.shown_units
    chart, plan = BoostChart(desk), HosePlan(desk)
    chart.take(show.curves(found, units))
    plan.take(found)
    _drawn(painter, chart, 44.0, QSize(int(LEFT), 330))
    _drawn(painter, plan, 392.0, QSize(int(LEFT), 158))
    put = _Writer(painter, 60.0, LEFT + 40.0, page.WIDE - LEFT - 40.0)
    put(show.headline(found, units))
    for line in found.lines:
        draw_state(painter, QRectF(LEFT + 40.0, put.y - 12.0, 13, 13), show.STATES[line.what])
        put(f"{line.letter}  {show.hose_words(line, units)}", indent=22.0)
    for sentence in found.plumbed:
        put(tr_format("As fitted: {0}", render(sentence, units)))
    for number, step in enumerate(steps(found), 1):
        put(f"{number}. {render(step, units)}")
    for sentence in found.relief:
        put(render(sentence, units))

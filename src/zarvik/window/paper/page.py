"""The design on paper: figures, pressure run, curves, map, checks, entries."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QColor, QPainter, QPen, QPicture

from zarvik.core.answer.answer import Answer
from zarvik.core.checks import CheckResult
from zarvik.core.limits.limits import OK, STATE_WORDS
from zarvik.core.stock.sizes import WALL
from zarvik.project.document.document import Project
from zarvik.project.document.places import RUN_TITLES
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.units.rendering import as_sold
from zarvik.window.desk import Desk
from zarvik.window.paper import sheet
from zarvik.window.paper.sheet import TALL, WIDE, Paper, foot, head
from zarvik.window.parts.disk_work import beside
from zarvik.window.parts.marks import draw_state
from zarvik.window.parts.wrapping import fitting, width, wrapped
from zarvik.window.run.pressure_run import HEIGHT, PressureRun
from zarvik.window.theme import palette
from zarvik.window.theme.style import font
from zarvik.workspace.solving import judge

TUBES = ("straight", "bend")  # kinds of pieces that are cut from tube as it is sold
TOP = 62.0  # units of the sheet over the pressure run


def write(desk: Desk, path: str, charts: Sequence[Callable[[Desk], Any]]) -> str:
    """Write the page of the design with `charts` of the benches; returns a sentence when it cannot be written, else nothing."""
    checks, decided = _checks_of(desk), _decided(desk)
    sheets = _sheets(desk, checks, _room(decided))
    return sheet.write(desk, path, partial(_draw, charts, checks, decided), sheets)


def _room(decided: Sequence[str]) -> QRectF:
    """Where the first checks stand: beside the charts, over what was decided."""
    top = TOP + HEIGHT + 10.0
    return QRectF(450.0, top, WIDE - 450.0, TALL - top - 40.0 - 17.0 * len(decided))


def _next_room() -> QRectF:
    """Where they stand on the sheets that follow."""
    return QRectF(0.0, 50.0, WIDE, TALL - 90.0)


def _sheets(desk: Desk, checks: list[CheckResult], room: QRectF) -> int:
    """How many sheets the checks take."""
    trial = QPicture()
    painter = QPainter(trial)
    count, rest = 1, _draw_checks(desk, painter, room, checks)
    while rest:
        count += 1
        left = _draw_checks(desk, painter, _next_room(), rest)
        rest = left if len(left) < len(rest) else []
    painter.end()
    return count


def _draw(
    charts: Sequence[Callable[[Desk], Any]], checks: list[CheckResult], decided: Sequence[str], desk: Desk, painter: QPainter, paper: Paper
) -> None:
    """Draw the design, on more than one sheet when the checks need it."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    head(desk, painter, tr("Design summary"))
    painter.setFont(font(14))
    painter.setPen(QColor(palette.current().ink))
    painter.drawText(QPointF(0, 50), fitting(headline(desk.project, desk.answer, desk.text), WIDE, 14))
    run = PressureRun(desk)
    run.resize(QSize(int(WIDE), HEIGHT))
    run.show_now()
    paper.rest()
    painter.save()
    painter.translate(0, TOP)
    run.draw(painter)
    painter.restore()
    run.deleteLater()
    paper.rest()
    room = _room(decided)
    parts = [chart(desk) for chart in charts]
    for i, drawn in enumerate(parts):
        drawn.resize(QSize(430, int(room.height() / len(parts) - 6)))
        drawn.refresh()
        paper.rest()
        painter.save()
        painter.translate(0, room.top() + i * (room.height() / len(parts)))
        drawn.draw(painter)
        painter.restore()
        drawn.deleteLater()
        paper.rest()
    painter.setFont(font(12))
    painter.setPen(QColor(palette.current().ink))
    for number, line in enumerate(decided):
        painter.drawText(QPointF(0, TALL - 26 - 17.0 * (len(decided) - 1 - number)), line)
    rest = _draw_checks(desk, painter, room, checks)
    while rest:
        foot(painter, paper)
        paper.more()
        head(desk, painter, tr("Design summary"))
        left = _draw_checks(desk, painter, _next_room(), rest)
        rest = left if len(left) < len(rest) else []
    foot(painter, paper)
    paper.rest()


def headline(project: Project, answer: Answer | None, say: Callable[[float, str], str]) -> str:
    """What is built, in a line: the turbo or the blower, boost and power, and the tubes of every run by their outside diameters."""
    chosen = project.chosen
    if project.blower.fitted:
        parts = [project.blower.name]
    else:
        count = project.turbos_fitted.si
        parts = [f"{count:.0f} × {chosen.name}" if count > 1.0 else chosen.name] if chosen is not None else []
    if answer is not None and answer.target.closure.solved:
        point = answer.target
        parts.append(
            tr_format("{0} boost, {1} at {2}", say(point.boost, "pressure_gauge"), say(point.power, "power"), say(point.speed, "rotation"))
        )
    for run, title in RUN_TITLES.items():
        tubes = sorted(round(piece.bore.si + 2.0 * WALL, 4) for piece in getattr(project, run) if piece.kind in TUBES)
        if tubes:
            ends = [as_sold(say(tube, "length")) for tube in dict.fromkeys((tubes[0], tubes[-1]))]
            parts.append(f"{tr(title)} {tr_format('{0} to {1}', *ends) if len(ends) > 1 else ends[0]}")
    return " · ".join(visible(part) for part in parts)


def _decided(desk: Desk) -> list[str]:
    """What was decided, why, and what it gives up: two lines at the most; none while nothing is decided."""
    decision = desk.project.decision
    if not decision.turbo:
        return []
    why = (decision.reason or tr("No reason entered.")).rstrip(".") + "."
    text = tr("Decided: {0}. {1}").format(decision.name, why)
    if decision.given_up:
        text += " " + tr("Trade-offs: {0}").format("; ".join(decision.given_up))
    lines = wrapped(text, WIDE, 12)
    return [*lines[:1], fitting(" ".join(lines[1:]), WIDE, 12)] if len(lines) > 1 else lines


def _checks_of(desk: Desk) -> list[CheckResult]:
    # Paper does not wait for the checks that follow the figures.
    found = desk.result
    if found is not None and found.answer is not None and not found.answer.judged:
        found = beside(partial(judge, found))
    answer = found.answer if found is not None else None
    return list(answer.check_results) if answer is not None else []


def _also(titles: list[str], room: float) -> str:
    """What also holds, in one line: as many titles as there is room for, and how many more."""
    text = tr("Also OK: {0}").format(", ".join(titles))
    for left in range(len(titles) - 1, 0, -1):
        if width(text, 12) <= room:
            break
        text = tr("Also OK: {0}, and {1} more").format(", ".join(titles[:left]), len(titles) - left)
    return text


def _draw_checks(desk: Desk, painter: QPainter, area: QRectF, check_results: list[CheckResult]) -> list[CheckResult]:
    """Columns of checks, worst first; gives back those that have no room."""
    p = palette.current()
    count = max(round(area.width() / 410.0), 1)
    column = (area.width() - 20 * (count - 1)) / count
    x, y = area.left(), area.top()
    for number, check_result in enumerate(check_results):
        said = desk.say(check_result.text)
        if check_result.uncertainty is not None:
            said = f"{said.rstrip('.')}. {desk.say(check_result.uncertainty)}"
        lines = wrapped(said, column - 24, 12)
        cure = desk.advice(check_result)
        advice = wrapped(f"→ {cure}", column - 24, 12) if cure else []
        tall = 17 + 14.5 * (len(lines) + len(advice)) + 7
        if y + tall > area.bottom():
            x, y = x + column + 20, area.top()
            if x > area.right() - 50:
                rest = check_results[number:]
                # What merely holds is named in a line instead of beginning another sheet.
                short = all(v.state == OK for v in rest)
                text = tr("more on the next sheet")
                if short:
                    text = _also([tr(v.title) for v in rest], area.width())
                painter.setPen(QColor(p.soft))
                painter.setFont(font(12))
                painter.drawText(QPointF(area.left(), area.bottom() + 12), text)
                return [] if short else rest
        draw_state(painter, QRectF(x, y + 1, 13, 13), check_result.state)
        painter.setPen(QColor(p.ink))
        painter.setFont(font(13, strong=True))
        painter.drawText(QPointF(x + 20, y + 12), f"{tr(check_result.title)}: {tr(STATE_WORDS[check_result.state])}")
        painter.setFont(font(12))
        at = y + 27
        for line in lines:
            painter.drawText(QPointF(x + 20, at), line)
            at += 14.5
        painter.setPen(QPen(QColor(p.accent), 1))
        for line in advice:
            painter.drawText(QPointF(x + 20, at), line)
            at += 14.5
        y += tall
    return []

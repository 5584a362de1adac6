"""What every page of the window showed earlier: words, entries, rows, places, and what was painted by hand. It validates nothing.

It says that a page has changed, not which of the two is right. After a change that is meant, run
`.venv/bin/python tests/window/own_pages.py`, read what it prints, look at the page, and commit the file.
"""

from __future__ import annotations

import json
import lzma
import os
import tempfile
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from driving import pause, rest, wait_for
from PySide6.QtCore import QLineF, QPoint, QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QGradient, QPagedPaintDevice, QPainter, QPainterPath, QPaintEvent, QPen, QPolygon, QPolygonF
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QGroupBox, QLabel, QLineEdit, QListWidget, QWidget

from zarvik.formats import shipped
from zarvik.project.edits.edits import with_value
from zarvik.window.app import make_window, settle
from zarvik.window.benches import BENCHES
from zarvik.window.benches.layout.view3d import LayoutView
from zarvik.window.benches.pipes.silhouettes import SILHOUETTES, ShapeBox
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.opening import application
from zarvik.window.parts.chart import Chart
from zarvik.window.parts.row_list import RowList
from zarvik.window.run.pressure_run import PressureRun

THE_DAY = "1700000000"  # that stands on what is printed
STORE = Path(__file__).parents[1] / "reference" / "own_pages.json.xz"
DEMOS = {"tarn": "mixed", "moth": "inch", "skerry": "metric", "fell": "inch"}
ONLY = {"skerry": ("goal", "exhaust"), "fell": ("turbo", "layout", "exhaust")}  # benches of a demo that the others do not have so
LEAVES = ("calculation", "uncertainty", "history")
WIDE, NARROW = (1280, 800), ((840, 520), (640, 400))
PAPERS: dict[str, tuple[str, ...]] = {
    "cut_weld": ("paper",),
    "joints": ("pdf",),
    "exhaust": (),
}  # benches that print, and what they are told
CLOSE = 0.4  # px by which all that is drawn alike may differ in sum
SHAPES = (
    "drawLine",
    "drawRect",
    "fillRect",
    "drawPolyline",
    "drawPolygon",
    "drawEllipse",
    "drawRoundedRect",
    "drawText",
    "drawPath",
    "fillPath",
    "drawPie",
)

Page = dict[str, list[Any]]  # a widget, by what it is: what it shows, and the numbers of its places


def _numbers(given: Any) -> Iterator[float]:
    """Every number of what a painter is given."""
    if isinstance(given, (int, float)) and not isinstance(given, bool):
        yield float(given)
    elif isinstance(given, (QPointF, QPoint)):
        yield from (float(given.x()), float(given.y()))
    elif isinstance(given, (QRectF, QRect)):
        yield from map(float, given.getRect())
    elif isinstance(given, QLineF):
        yield from (given.x1(), given.y1(), given.x2(), given.y2())
    elif isinstance(given, (QPolygonF, QPolygon)):
        for point in given.toList():
            yield from (float(point.x()), float(point.y()))
    elif isinstance(given, QPainterPath):
        for element in map(given.elementAt, range(given.elementCount())):
            yield from (element.x, element.y)


def _filled(brush: QBrush) -> str:
    """Colours of what a shape is filled with."""
    if brush.style() == Qt.BrushStyle.NoBrush:
        return ""
    gradient = brush.gradient()
    return brush.color().name() if gradient is None else " ".join(f"{at:.3f}{colour.name()}" for at, colour in gradient.stops())


class Drawings:
    """What is painted on each widget: a row for each call, of its last picture."""

    def __init__(self) -> None:
        self.rows: dict[QWidget, list[tuple[str, list[float]]]] = {}
        self.paper: list[tuple[str, list[float]]] = []
        self._painters: dict[QWidget, QPainter] = {}
        self._charts: list[QWidget] = []  # whose background is being painted

    def take(self, painter: QPainter, name: str, given: tuple[Any, ...]) -> None:
        """A painter was told to draw."""
        device = painter.device()
        if isinstance(device, QPagedPaintDevice):
            words = next((g for g in reversed(given) if isinstance(g, str)), "")
            size = f"{painter.font().pixelSize()} " if name == "drawText" else ""
            self.paper.append((f"{name} {size}{words}", self._places(painter, given)))
            return
        device = self._charts[-1] if self._charts else device
        if not isinstance(device, QWidget):
            return
        if not self._charts and self._painters.get(device) is not painter:
            self._painters[device] = painter
            kept = [row for row in self.rows.get(device, []) if row[0].startswith("back ")]
            self.rows[device] = kept
        words = next((g for g in reversed(given) if isinstance(g, str)), "")
        pen = painter.pen()
        if name in ("fillRect", "fillPath"):
            colour = _filled(QBrush(given[-1])) if isinstance(given[-1], (QBrush, QColor, QGradient)) else ""
        elif name == "drawText":
            colour = f"{pen.color().name()} {painter.font().pixelSize()}{' strong' if painter.font().bold() else ''}"
        else:
            colour = f"{pen.color().name()} {pen.widthF():g} {_filled(painter.brush())}"
        label = f"{'back ' if self._charts else ''}{name} {colour} {words}".rstrip()
        self.rows.setdefault(device, []).append((label, self._places(painter, given)))

    @staticmethod
    def _places(painter: QPainter, given: tuple[Any, ...]) -> list[float]:
        at = painter.transform()
        return [at.dx(), at.dy(), *(x for g in given for x in _numbers(g) if not isinstance(g, (Qt.AlignmentFlag, QPen)))]

    def background(self, chart: QWidget, paint: Callable[[], None]) -> None:
        """A chart paints what it keeps."""
        self.rows[chart] = []
        self._charts.append(chart)
        try:
            paint()
        finally:
            self._charts.pop()


@contextmanager
def drawings() -> Iterator[Drawings]:
    """What is painted inside the block."""
    found = Drawings()
    whole = {name: getattr(QPainter, name) for name in SHAPES}
    back, run = Chart._paint_all_back, PressureRun.draw

    def watched(name: str) -> Callable[..., Any]:
        def drawn(self: QPainter, *given: Any) -> Any:
            found.take(self, name, given)
            return whole[name](self, *given)

        return drawn

    for name in SHAPES:
        setattr(QPainter, name, watched(name))
    Chart._paint_all_back = lambda self, painter: found.background(self, lambda: back(self, painter))  # type: ignore[method-assign]
    PressureRun.draw = lambda self, painter: found.background(self, lambda: run(self, painter))  # type: ignore[method-assign]
    try:
        yield found
    finally:
        for name in SHAPES:
            setattr(QPainter, name, whole[name])
        Chart._paint_all_back, PressureRun.draw = back, run  # type: ignore[method-assign]


def _summed(rows: list[tuple[str, list[float]]]) -> tuple[list[str], list[float]]:
    """What was drawn, each kind once with how often, and for each how far along and how far out its numbers lie."""
    kinds: dict[str, list[list[float]]] = {}
    for label, numbers in rows:
        kinds.setdefault(label, []).append(numbers)
    words, places = [], []
    for label, lists in kinds.items():
        flat = [x for numbers in lists for x in numbers]
        words.append(f"{label} ×{len(lists)} {len(flat)}")
        places += [sum(flat), sum(abs(x) * (n % 7 + 1) for n, x in enumerate(flat))]
    return words, places


def _words(widget: QWidget) -> list[str]:
    """Everything that a person or a reader of the screen gets from a widget."""
    found = [widget.accessibleName(), widget.accessibleDescription(), widget.toolTip()]
    if isinstance(widget, (QLabel, QAbstractButton, QLineEdit)):
        found.append(widget.text())
    if isinstance(widget, QLineEdit):
        found.append(widget.placeholderText())
    if isinstance(widget, QGroupBox):
        found.append(widget.title())
    if isinstance(widget, QAbstractButton) and widget.isCheckable():
        found.append("on" if widget.isChecked() else "off")
    if isinstance(widget, QComboBox):
        found += ["→ " + widget.currentText(), *(widget.itemText(n) for n in range(widget.count()))]
    if isinstance(widget, RowList):
        kind = widget.rows.kind
        for row in widget.rows.items:
            found += [kind.words(row), kind.said(row)]
    if isinstance(widget, QListWidget):
        found += [widget.item(n).text() for n in range(widget.count())]
    if not widget.isEnabled():
        found.append("grey")
    return [word for word in found if word]


def page(window: MainWindow, root: QWidget) -> Page:
    """What the window shows now in one of its parts, the `root`."""
    assert settle(window)
    rest(window)
    with drawings() as drawn:
        shown = [widget for widget in root.findChildren(QWidget) if widget.isVisible()]
        for widget in shown:
            (widget.stale if isinstance(widget, (Chart, PressureRun)) else widget.update)()
        pause(30)
    found: Page = {}
    times: Counter[str] = Counter()
    for widget in shown:
        if isinstance(widget, LayoutView) or (type(widget).__name__.startswith("Q") and not _words(widget) and widget not in drawn.rows):
            continue
        corner = widget.mapTo(window, QPoint(0, 0))
        name = type(widget).__name__
        times[name] += 1
        words, places = _summed(drawn.rows.get(widget, []))
        if len(words) == 1 and words[0].startswith("fillRect"):
            places = []  # a ground is painted where it is asked for, in parts or at once
        found[f"{name} {times[name]}"] = [
            [*_words(widget), *words],
            [round(x, 1) for x in (corner.x(), corner.y(), widget.width(), widget.height(), *places)],
        ]
    return found


def pages(window: MainWindow, folder: Path) -> Iterator[tuple[str, Page]]:
    """Every bench with every page of it, what stands at the side, and what is printed (into a `folder`)."""
    only = next((benches for name, benches in ONLY.items() if name == window.session.project.name.lower()), ())
    focused: Page = {}
    for entry in BENCHES:
        if only and entry.key not in only:
            continue
        window.show_bench(entry.key)
        yield entry.key, page(window, window if entry is BENCHES[0] else window.stack)
        focused |= _focused(window, set(focused))
        bench = window.benches[entry.key]
        for name in getattr(bench, "pages", {}):
            bench.show_page(name)
            yield f"{entry.key}, {name}", page(window, window.stack)
            focused |= _focused(window, set(focused))
    yield "with the keyboard", focused
    if only:
        yield from _printed(window, folder, tuple(key for key in only if key in PAPERS))
        return
    for variant in window.session.project.variants[:1]:
        window.desk.set_overlay(variant.name)
        for key in ("goal", "turbo"):
            window.show_bench(key)
            yield f"{key}, overlaid", page(window, window)
        window.desk.set_overlay("")
    for leaf in LEAVES:
        window.side.turn(leaf)
        yield f"beside: {leaf}", page(window, window.side)
    yield from _over_the_window(window)
    yield from _pictures(window)
    for width, height in NARROW:
        window.resize(width, height)
        for key in ("pipes", "cut_weld"):
            window.show_bench(key)
            yield f"{key}, {width} × {height}", page(window, window)
    window.resize(*WIDE)
    yield "paper", on_paper(lambda: window.write_page(str(folder / "page.pdf")))
    yield from _printed(window, folder, tuple(PAPERS))


def _over_the_window(window: MainWindow) -> Iterator[tuple[str, Page]]:
    """The first page, the finder, and the sheets with which a turbo is made. (Keys of commands are those of the system.)"""
    window.show_start()
    yield "start", page(window, window.start)
    window.show_design()
    window.finder.open()
    QTest.keyClicks(window.finder.field, "bend")
    wait_for(lambda: window.finder.list.count() > 0)
    yield "finder", page(window, window.finder)
    window.finder.hide()
    if window.session.project.blower.fitted:
        return
    window.show_bench("turbo")
    bench = window.benches["turbo"]
    for name, sheet in (("measured", bench.measured), ("scaler", bench.scaler), ("tracer", bench.tracer)):
        sheet.open()
        yield f"sheet: {name}", page(window, sheet)
        sheet.hide()


class Gallery(QWidget):
    """The shape of every kind of piece, two of each: with one bore, and with two."""

    def paintEvent(self, event: QPaintEvent) -> None:
        """One under the other."""
        painter = QPainter(self)
        for number, draw in enumerate(dict.fromkeys(SILHOUETTES.values())):
            for left, bores in ((10.0, (8.0, 8.0)), (110.0, (4.0, 11.0))):
                area = QRectF(left, 40.0 * number, 80.0, 30.0)
                painter.setPen(QPen(QColor("#102030"), 1.3))
                painter.setBrush(QColor("#405060"))
                draw(painter, ShapeBox(area, area.left() + 3, area.right() - 3, area.center(), *bores, QColor("#405060")))
        painter.end()


def _painted(widget: QWidget) -> Page:
    """What a widget paints now, with what lies in it."""
    with drawings() as drawn:
        widget.grab()
    words, places = _summed([row for rows in drawn.rows.values() for row in rows])
    return {"picture": [words, [round(x, 1) for x in places]]}


def _focused(root: QWidget, seen: set[str]) -> Page:
    """What widgets of the program's own paint that have the keyboard, of each kind that was not `seen` yet the first."""
    found: Page = {}
    for widget in root.findChildren(QWidget):
        kind, own = type(widget).__name__, type(widget).__module__.startswith("zarvik.")
        if kind in seen or not own or not widget.isVisible() or widget.focusPolicy() == Qt.FocusPolicy.NoFocus:
            continue
        if isinstance(widget, LayoutView):
            continue  # its picture comes when it is drawn: it is kept where that is waited for
        seen.add(kind)
        widget.setFocus()
        found[kind] = _painted(widget)["picture"]
    return found


def _pictures(window: MainWindow) -> Iterator[tuple[str, Page]]:
    """Shapes of all pieces, and what stands over the layout: for a pipe, for each part that is moved, cut open, and with all pipes."""
    gallery = Gallery()
    gallery.resize(200, 800)
    yield "shapes", _painted(gallery)
    window.show_bench("layout")
    view = window.benches["layout"].view
    view.setFocus()
    for key in (Qt.Key.Key_2, Qt.Key.Key_T, Qt.Key.Key_T, Qt.Key.Key_T, Qt.Key.Key_X, Qt.Key.Key_N):
        QTest.keyClick(view, key)
        rest(window)
        assert wait_for(lambda: view._image is not None)
        yield f"over the layout, {key.name}", _painted(view)


def _printed(window: MainWindow, folder: Path, benches: tuple[str, ...]) -> Iterator[tuple[str, Page]]:
    """What the benches write on paper, into a `folder`."""
    for key in benches:
        what = PAPERS[key]
        bench = window.benches[key]
        window.show_bench(key)
        rest(window)
        goal = folder / f"{key}.pdf"

        def write(save: Callable[..., None] = bench.save, what: tuple[str, ...] = what, goal: Path = goal) -> None:
            save(*what, str(goal))
            assert wait_for(goal.exists)

        yield f"paper, {key}", on_paper(write)


def on_paper(write: Callable[[], None]) -> Page:
    """What is drawn on the sheets that are written."""
    with drawings() as drawn:
        write()
    words, places = _summed(drawn.paper)
    return {"sheet": [words, [round(x, 1) for x in places]]}


def _moved(places: list[float], was: list[float]) -> bool:
    """Does a widget stand elsewhere, or is something in it drawn elsewhere?"""
    stands = any(abs(x - y) > 0.5 for x, y in zip(places[:4], was, strict=False))
    return stands or any(abs(x - y) > max(CLOSE, 2e-5 * abs(y)) for x, y in zip(places[4:], was[4:], strict=True))


def differences(before: Page, now: Page) -> list[str]:
    """What is not as it was."""
    found = [f"gone: {name} {before[name][0][:3]}" for name in before if name not in now]
    for name, (words, places) in now.items():
        if name not in before:
            found.append(f"new: {name} {words[:3]}")
            continue
        old, was = before[name]
        if words != old:
            found += [f"{name}: {'−' if w in old else '+'} {w}" for w in {*words} ^ {*old}] or [f"{name}: another order"]
        elif len(places) != len(was) or _moved(places, was):
            found.append(f"{name}: at {places[:6]} and not {was[:6]} {words[:2]}")
    return found


def stored() -> dict[str, dict[str, Page]]:
    """The pages of each demo, as they were."""
    with lzma.open(STORE, "rt", encoding="utf-8") as file:
        found: dict[str, dict[str, Page]] = json.load(file)
    return found


def write() -> None:
    """Keep what the pages show now, and say what is not as it was."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    os.environ["SOURCE_DATE_EPOCH"] = THE_DAY
    os.environ["ZARVIK_STATE"] = tempfile.mkdtemp()
    application()
    before = stored() if STORE.exists() else {}
    found: dict[str, dict[str, Page]] = {}
    for demo, units in DEMOS.items():
        window = make_window(with_value(shipped.demo(demo), "units", units), None, "light")
        window.resize(*WIDE)
        window.show()
        found[demo] = dict(pages(window, Path(tempfile.mkdtemp())))
        for name, shown in found[demo].items():
            for line in differences(before.get(demo, {}).get(name, {}), shown)[:8]:
                print(f"{demo}, {name}: {line[:160]}")
        window.session.close()
        window.close()
    with lzma.open(STORE, "wt", encoding="utf-8", preset=9) as file:
        json.dump(found, file, ensure_ascii=False, separators=(",", ":"))


if __name__ == "__main__":
    write()

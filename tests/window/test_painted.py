"""Painted text: whole, in its place and clear of other text, in English and in a language a third
longer, in wide and narrow units."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from driving import open_finder, pause
from painted import collisions, faults, names, paint, watched
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QAction, QPainter, QPaintEvent
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QWidget

from zarvik.formats import project_file, shipped
from zarvik.project.edits import edits
from zarvik.project.language import language
from zarvik.project.units.units import parse
from zarvik.window.benches import BENCHES
from zarvik.window.frame.arranged import LEAST
from zarvik.window.frame.main_window import MainWindow

LEAVES = ("checks", "calculation", "uncertainty", "history")


@pytest.mark.parametrize(("words", "units", "demo"), [("own", "metric", "fell"), ("longer", "inch", "tarn"), ("longer", "inch", "moth")])
def test_painted_text_is_whole_and_clear(open_window: object, words: str, units: str, demo: str, own_language: None) -> None:
    """Run, charts, cards, lists, tables and bars of every bench and leaf: no text is cut, leaves its
    widget or lies over another; nothing is wider than the page that it scrolls in."""
    language.use(language.lengthened if words == "longer" else None)
    window = open_window(edits.with_value(shipped.demo(demo), "units", units))  # type: ignore[operator]
    count = 0
    for entry in BENCHES:
        window.show_bench(entry.key)
        # What stands at the side is the same beside every bench: each leaf is looked at beside two of them.
        for leaf in LEAVES if entry in BENCHES[:2] else LEAVES[:1]:
            window.side.turn(leaf)
            found = paint(window)
            count += len(found)
            assert not faults(window, found), (entry.key, leaf)
    assert count > 350


@pytest.mark.parametrize(("words", "size"), [("longer", (853, 533))])
def test_what_lies_over_the_window_is_whole(open_window: object, words: str, size: tuple[int, int], own_language: None) -> None:
    """The keys, the finder and a smaller window at other engine speeds: 150 % on a small screen."""
    language.use(language.lengthened if words == "longer" else None)
    window = open_window(shipped.demo("tarn"))  # type: ignore[operator]
    window.show_keys()
    assert not faults(window, paint(window))
    window.keys.hide()
    window.finder.open()
    assert not faults(window, paint(window))
    window.finder.hide()
    window.resize(*size)
    for speed, entries in ((1500.0, BENCHES[::3]), (7000.0, BENCHES)):
        window.desk.set_speed(speed)
        for entry in entries:
            window.show_bench(entry.key)
            assert not faults(window, paint(window)), (speed, entry.key)


class Careless(QWidget):
    """Paints one text over another, one out of its place and one out of sight."""

    def paintEvent(self, event: QPaintEvent) -> None:
        """Four texts, three of them wrong."""
        painter = QPainter(self)
        painter.drawText(QPointF(5, 20), "first")
        painter.drawText(QPointF(12, 22), "second")
        painter.drawText(QRectF(5, 40, 20, 18), Qt.AlignmentFlag.AlignLeft, "far too long for it")
        painter.drawText(QPointF(180, 80), "beyond the edge")
        painter.end()


def test_the_watch_sees_what_is_wrong(qapp: object) -> None:
    """The check itself can fail."""
    widget = Careless()
    widget.resize(200, 100)
    widget.show()
    with watched() as found:
        widget.repaint()
        pause(20)
    texts = {f.text: f.cut for f in found}
    assert texts["first"] == "" and "wider" in texts["far too long for it"]
    assert "outside" in texts["beyond the edge"]
    assert ("first", "second") in collisions(found)
    widget.hide()
    widget.deleteLater()


def test_a_small_screen_shows_the_whole_in_parts(window: MainWindow) -> None:
    """On half of a small screen, as with everything drawn twice as large, nothing is squeezed: the
    window scrolls, never sideways, and going to an entry brings it into sight."""
    window.resize(640, 400)
    pause(30)
    body = window.frame.widget()
    assert body is not None and (body.width(), body.height()) >= LEAST
    assert window.frame.verticalScrollBar().maximum() > 0 and window.frame.horizontalScrollBar().maximum() == 0
    for place in ("wastegate.discharge", "engine.evaporated", "cold_pipe.c-run.bore"):
        window.go_to_place(place)
        pause(20)
        entry = QApplication.focusWidget()
        assert entry is not None and entry.accessibleName()
        assert entry.visibleRegion().boundingRect().height() > 0.8 * entry.height(), place
    window.resize(1280, 800)
    pause(30)
    assert window.frame.horizontalScrollBar().maximum() == 0
    assert window.frame.verticalScrollBar().maximum() == 0


SHOWN = re.compile(r"<style.*?</style>|<[^>]*>|&\w+;")
WORD = re.compile(r"[^\W\d_]{4,}")


def shown(window: MainWindow) -> Iterator[tuple[str, str]]:
    """Everything that a window says without painting it by hand: (of what, the words)."""
    for action in window.findChildren(QAction):
        yield "action", action.text()
    for widget in window.findChildren(QWidget):
        kind = type(widget).__name__
        yield kind + " tooltip", widget.toolTip()
        yield kind + " for readers", widget.accessibleName()
        if isinstance(widget, QLabel | QAbstractButton):
            yield kind, widget.text()
        if isinstance(widget, QComboBox):
            for i in range(widget.count()):
                yield kind, widget.itemText(i)
        if isinstance(widget, QLineEdit):
            yield kind + " hint", widget.placeholderText()


@pytest.mark.parametrize("demo", ["tarn", "moth"])
def test_everything_that_is_shown_goes_through_the_translation(open_window: object, demo: str, own_language: None) -> None:
    """In the made-up language every word has its vowels accented: one with a plain vowel that the owner
    did not write went past the translation. Labels, buttons, tooltips, choices, commands, the finder,
    the history, and what is painted."""
    # A document of its own: what is kept of a demo may have been said in another language by another test.
    language.use(language.lengthened)
    window = open_window(project_file.loads(project_file.dumps(shipped.demo(demo))))  # type: ignore[operator]
    window.resize(1500, 950)
    said: set[tuple[str, str]] = set()
    project = window.session.project
    window.desk.change("", edits.with_value(project, "goal.humidity", parse("44 %", "ratio")))
    window.keep_variant()
    for number, bench in enumerate(window.benches):
        window.show_bench(bench)
        # What stands at the side is the same beside every bench
        for leaf in LEAVES if number < 2 else LEAVES[:1]:
            window.turn_to(leaf)
            said |= {("painted", p.text) for p in paint(window)}
        said |= set(shown(window))
    for run in edits.RUNS:
        for piece in getattr(project, run):
            window.desk.go(f"piece:{piece.id}")
            said |= set(shown(window))
    open_finder(window)
    said |= {("finder", thing.words) for thing in window.findable.things()}
    own = " ".join(
        [
            project.model_dump_json(),
            *names(window),
            *shipped.demo_names(),
            *shipped.turbo_names(),
            *(s.name for n in shipped.turbo_names() for s in [shipped.turbo(n)]),
            *(shipped.demo(n).note for n in shipped.demo_names()),
            "imep pmep fmep",
        ]
    ).lower()
    raw = {
        (where, word, text)
        for where, text in said
        for word in WORD.findall(SHOWN.sub(" ", text))
        if re.search("[aeiou]", word) and word.lower() not in own
    }
    assert not raw, "\n".join(f"{a}: {b}" for a, *b in sorted(raw))

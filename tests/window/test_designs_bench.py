"""The Designs bench in the real window: search, look, take over, undo; what it says when there is none."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from driving import click, pause, type_into
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox

from zarvik.formats import shipped
from zarvik.project.designs import ALL_FREE
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse
from zarvik.window.app import settle
from zarvik.window.benches.designs.prices import bill_of
from zarvik.window.benches.designs.view import DesignsBench
from zarvik.window.frame.main_window import MainWindow


def rest(window: MainWindow) -> None:
    """Let everything be found out that is asked."""
    for _ in range(4):
        window.session.jobs.idle()
        pause(20)


def bench_of(window: MainWindow, *free: str) -> DesignsBench:
    """The bench in front, with these things left free in its own form."""
    window.show_bench("designs")
    bench = window.benches["designs"]
    assert isinstance(bench, DesignsBench)
    bench.show_page("asked")
    bench.tries.setItemData(0, 90)  # fewer than are offered: it is the window that is tried here
    bench.tries.setCurrentIndex(0)
    for form in bench.forms:
        for place, box in form.fields.items():
            key = place.removeprefix("search.")
            if place.startswith("search.") and key in ALL_FREE and isinstance(box, QComboBox):
                wanted = box.findData("free" if key in free else "kept")
                if box.currentIndex() != wanted:
                    box.setCurrentIndex(wanted)
                    box.activated.emit(wanted)
    return bench


def test_a_design_is_searched_and_taken_over(window: MainWindow) -> None:
    """A card and a plate for each design; looking at one chooses it in every picture; each picture is painted; taken over
    it is the present design with its own figures, further edits tell how far it has moved, and one undo of each brings
    the old one back."""
    bench = bench_of(window, "turbo", "housing", "boost")
    before = window.desk.project
    click(bench.go)
    assert bench.page == "found"
    rest(window)
    assert bench.found is not None and not bench.part and len(bench.found.designs) >= 2
    cards = [card for card in bench.cards.cards if not card.isHidden()]
    assert len(cards) == len(bench.chart.choices) == len(bench.found.designs)
    bench.chart.grab()
    QTest.mouseClick(bench.chart, Qt.MouseButton.LeftButton, pos=bench.chart._spots[1].toPoint())
    assert bench.chosen == 1 and cards[1].card is not None and cards[1].card.chosen
    QTest.mouseClick(cards[0], Qt.MouseButton.LeftButton, pos=QPoint(60, 12))
    assert bench.chosen == 0 and len(cards[0].card.rows) == 5  # type: ignore[union-attr]
    cards[1].setFocus()
    QTest.keyClick(cards[1], Qt.Key.Key_Return)
    assert bench.chosen == 1
    QTest.mouseClick(cards[0], Qt.MouseButton.LeftButton, pos=QPoint(60, 12))
    for box in bench.axes.values():
        for number in range(box.count()):
            box.setCurrentIndex(number)
            box.activated.emit(number)
            assert len(bench.chart.choices) == len(cards), box.itemData(number)
    for mode in ("load", "maps"):
        click(bench.modes[mode])
        assert bench.chart.picture is not None and len(bench.chart.picture.curves) == len(cards)
        bench.chart.grab()
    click(bench.modes["why"])
    told = "\n".join(under.text() for over, under in bench.why if not over.isHidden())
    assert "Turbo" in told and "Closest misses" not in told and not bench.text_area.isHidden()
    assert "None fails" in bench.summary.text()
    click(bench.take)
    assert settle(window)
    one = bench.found.designs[0]
    assert window.desk.answer.target.power == pytest.approx(one.figures.power, rel=1e-4)
    now = window.desk.project
    assert now.name == before.name and now.variants == before.variants and len(now.adopted) == 1
    assert "As taken" in bench.moved.text()
    window.desk.edit("goal.target_boost", parse("0.9 bar", "pressure_gauge"))
    assert settle(window)
    assert "1 entries changed" in bench.moved.text() and "hp" in bench.moved.text()
    window.session.history.undo()
    window.session.undo()
    assert window.desk.project == before


def test_kept_as_a_variant_and_asked_for_more(window: MainWindow) -> None:
    """Kept, the design is a variant and the present one stays; a wish searches from the present design."""
    bench = bench_of(window, "turbo", "housing", "boost")
    click(bench.go)
    rest(window)
    before = window.desk.project
    click(bench.keep)
    now = window.desk.project
    assert len(now.variants) == len(before.variants) + 1 and now.turbo == before.turbo
    found = bench.found
    bench.wishes.setCurrentIndex(bench.wishes.findData("spool"))
    click(bench.what_if)
    rest(window)
    assert bench.found is not found and bench.found is not None and bench.found.wish == "spool"
    assert settle(window)


def test_prices_are_the_owners(window: MainWindow) -> None:
    """A price that is typed counts in the bill and in the check, is marked, is one undo step, and goes back to the
    catalogue's; the same price again is none of the owner's own."""
    bench = bench_of(window, "turbo")
    click(bench.pages["prices"])
    page = bench.prices
    assert "1 803" in page.bill.text().replace("\u00a0", " ") and not page.back.isEnabled()
    field = page.fields["primary", "price"]
    type_into(field, "100")
    assert settle(window)
    assert "2 019" in page.bill.text().replace("\u00a0", " ")  # four primaries, 54 more each
    assert page.titles["primary"].text().startswith("●")
    money = next(v for v in window.desk.answer.check_results if v.id == "money")
    assert money.margin == pytest.approx(1.0 - 2019.3 / 2200.0, abs=1e-3)
    assert bill_of(window.desk.project) == page.bill.text()
    type_into(field, "46")
    assert window.desk.project.workshop.prices == ()
    type_into(field, "70")
    assert settle(window)
    click(page.back)
    assert settle(window)
    assert window.desk.project.workshop.prices == () and "1 803" in page.bill.text().replace("\u00a0", " ")


def test_what_cannot_be_is_told(open_window: Callable[..., MainWindow]) -> None:
    """A power that nothing gives: what stands in the way and the nearest possible design; nothing free: told."""
    window = open_window(with_value(shipped.demo("tarn"), "goal.target_power", parse("420 hp", "power")))
    bench = bench_of(window, "turbo", "boost")
    click(bench.go)
    rest(window)
    assert "None reaches" in bench.summary.text() and "In the way" in bench.summary.text()
    shown = [card for card in bench.cards.cards if not card.isHidden()]
    assert len(shown) == 1 and shown[0].card is not None and shown[0].card.mark == "≈"
    bench = bench_of(window)
    click(bench.go)
    rest(window)
    assert "Nothing is free to change" in window.notice.text()


def test_a_blower_has_its_own_axes(open_window: Callable[..., MainWindow]) -> None:
    """The form of a build with a blower asks for pulleys and not for turbos; what is found is drawn."""
    window = open_window(shipped.demo("moth"))
    bench = bench_of(window, "pulley")
    rows = {p: w for form in bench.forms for p, w in form.fields.items()}
    assert rows["search.turbo"].isHidden() and not rows["search.pulley"].isHidden()
    click(bench.go)
    rest(window)
    assert bench.found is not None and bench.found.designs
    for mode in bench.modes.values():
        click(mode)
        bench.grab()


def test_a_search_is_ended_by_the_hand(window: MainWindow) -> None:
    """Cancelled, it stops; the window goes on, and a new search begins."""
    bench = bench_of(window, "turbo", "housing", "gate", "boost", "exhaust")
    bench.tries.setCurrentIndex(2)
    click(bench.go)
    pause(300)
    window.session.jobs.cancel("designs")
    rest(window)
    assert not bench.part
    bench = bench_of(window, "boost")
    bench.tries.setCurrentIndex(0)
    click(bench.go)
    rest(window)
    assert bench.found is not None

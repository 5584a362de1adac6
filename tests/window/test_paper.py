"""What is printed: the cut list with its strips, the lists, the page of the design, read back by another library."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pdfplumber
import pytest
from driving import press, printed, rest, wait_for
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog

from zarvik.formats import bench_lists, shipped
from zarvik.formats.paper_stamp import revision
from zarvik.project.language.plain import visible
from zarvik.window.frame.main_window import MainWindow
from zarvik.window.paper import flow
from zarvik.window.paper.flow import Part, paged
from zarvik.workspace.jobs import cuts_of

POINTS = 11.0  # of letters that are read at arm's length


@pytest.fixture
def window(open_window: Callable[..., MainWindow]) -> MainWindow:
    """The demo with the large turbo."""
    return open_window(shipped.demo("tarn"))


def plain(text: str) -> str:
    """Letters and digits of a text, as a PDF gives them back whatever its spaces are."""
    return "".join(c for c in text if c.isalnum())


def test_the_cut_list_on_paper(window: MainWindow, tmp_path: Path) -> None:
    """Every piece, what to buy and the order of tacking are on it, in letters of 11 points and the numbers of the strips in 14, a box for a
    pen at every row; nothing runs off a page; each page says which it is."""
    bench = window.benches["cut_weld"]
    window.show_bench("cut_weld")
    rest(window)
    goal = tmp_path / "c.pdf"
    bench.save("paper", str(goal))
    assert wait_for(goal.exists)
    found = window.desk.known(cuts_of(window.desk.project))
    with pdfplumber.open(goal) as pdf:
        pages = pdf.pages
        words = plain("".join(page.extract_text() for page in pages))
        assert plain("Cut list") in words and plain("Tacking order") in words and plain("To buy") in words
        for run in found.runs:
            for cut in run.cuts:
                assert (
                    plain(visible(cut.name)) in words
                    and plain(bench_lists.piece(cut, window.desk.project.shown_units).split(",")[0]) in words
                )
        rows = (
            sum(len(run.cuts) for run in found.runs)
            + len(found.faults)
            + len(bench_lists.bought_of(found, window.desk.project.shown_units))
            + len(found.order)
        )
        rows += sum(len(nested.bars) for nested in (*found.nested.values(), *found.bends.values()))
        # A box of 20 units of a sheet that has 1280 on 277 mm
        side = 20.0 * 277.0 / 1280.0 / 25.4 * 72.0
        shapes = [x for page in pages for x in (*page.rects, *page.curves)]
        assert sum(abs(x["x1"] - x["x0"] - side) < 0.4 and abs(x["bottom"] - x["top"] - side) < 0.4 for x in shapes) == rows
        sizes = {round(char["size"], 1) for page in pages for char in page.chars if char["text"].isdigit()}
        assert any(abs(size - 14.0) < 0.6 for size in sizes), sizes
        body = [c for page in pages for c in page.chars if c["text"].isalpha() and 60.0 < c["top"] < page.height - 45.0]
        assert sum(c["size"] < POINTS - 0.3 for c in body) < 0.12 * len(body), "but for what stands in narrow boxes of a strip"
        for number, page in enumerate(pages, 1):
            assert plain(f"revision {revision(window.desk.project)} page {number} of {len(pages)}") in plain(page.extract_text())
            assert all(c["x0"] >= 0.0 and c["x1"] <= page.width and c["bottom"] <= page.height for c in page.chars)


def test_a_head_is_never_the_last_of_a_sheet() -> None:
    """Parts of all heights: nothing is lost, the order stays, a sheet is never fuller than it is high, and no head ends it."""
    for high in (30.0, 61.0, 190.0, 333.0):
        parts = [Part(high, lambda painter, top: None, with_next=n % 3 == 0) for n in range(31)]
        sheets = paged(parts)
        assert [part for one in sheets for part in one] == parts
        for one in sheets:
            assert sum(part.high for part in one) <= flow.sheet.TALL - flow.TOP - flow.BOTTOM
        assert not any(one[-1].with_next for one in sheets[:-1])


def test_the_page_of_the_design(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """By the keys: it names the turbo, the boost, the tubes as they are sold, and itself."""
    goal = tmp_path / "page.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(goal), ""))
    press(window, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
    text, *more = printed(goal)
    assert "Design summary" in text and "54 × 71 mm wheel" in text and f"page 1 of {1 + len(more)}" in text
    assert "1.10 bar boost" in text.replace("\u00a0", " ") and "Hot charge pipe" in text and "Intake" in text


def test_lists_have_room_for_a_pen(window: MainWindow, tmp_path: Path) -> None:
    """Letters of 11 points, and columns for the torque that was set and for initials."""
    goal = tmp_path / "lists.pdf"
    window.show_bench("joints")
    window.benches["joints"].show_page("lists")
    window.benches["joints"].save("pdf", str(goal))
    with pdfplumber.open(goal) as pdf:
        text = "\n".join(page.extract_text() for page in pdf.pages)
        body = [c["size"] for page in pdf.pages for c in page.chars if c["text"].isalpha() and 75.0 < c["top"] < page.height - 45.0]
        assert min(body) > POINTS - 0.2
        assert all(c["x1"] <= page.width for page in pdf.pages for c in page.chars)
    assert "torque set" in text and "initials" in text and "Joints and clamps" in text and f"page 1 of {len(pdf.pages)}" in text

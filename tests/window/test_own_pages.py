"""Every page of two demos, and what only the others have, shows what it showed: see `own_pages`."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from own_pages import DEMOS, THE_DAY, differences, pages, stored

from zarvik.formats import shipped
from zarvik.project.edits.edits import with_value


@pytest.mark.whole_answers
@pytest.mark.parametrize("demo", DEMOS)
def test_no_page_has_changed(open_window: object, demo: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Words, entries, rows, places and what is painted by hand."""
    monkeypatch.setenv("SOURCE_DATE_EPOCH", THE_DAY)
    before = stored()[demo]
    window = open_window(with_value(shipped.demo(demo), "units", DEMOS[demo]))  # type: ignore[operator]
    now = dict(pages(window, tmp_path))
    assert list(now) == list(before)
    changed = {name: found for name, shown in now.items() if (found := differences(before[name], shown))}
    assert not changed


# What is sold or held by metric sizes in inch shops too, and a scale's own words
METRIC = re.compile(r"\d[\u00a0 ](kPa|°C|mm|bar|cm|N·m|kW|m/s|kg|km/h|K)(?!\w)")
SOLD_METRIC = (
    *("Tube of", "Bend of", "Catalyst of", "for each mm", "per mm;", "Socket 10 mm"),
    *("cm³", " × tube", "8 mm pitch", "schedule 40", "Pressure sensor: One for"),
)


def test_an_inch_shop_reads_inches() -> None:
    """Moth is kept as a shop sees it that measures in inches: no figure has a metric unit but what was entered so."""
    found = []
    for name, page in stored()["moth"].items():
        if name in ("start", "finder"):
            continue  # notes of all demos; entries as they were typed
        for widget, (words, _) in page.items():
            if widget.startswith(("QuantityField", "WordsField", "QComboBox")):
                continue  # entries stand as they were typed
            found += [f"{name}, {widget}: {w[:120]}" for w in words if METRIC.search(w) and not any(sold in w for sold in SOLD_METRIC)]
    assert not found


def test_a_change_is_seen() -> None:
    """The comparison itself can fail: a word, a place, a widget more or less."""
    before = {
        "Label 1": [["boost", "1 bar"], [10.0, 20.0, 30.0, 40.0]],
        "Chart 1": [["drawLine #000000 ×2 8"], [0.0, 0.0, 9.0, 9.0, 5.0, 7.0]],
    }
    assert not differences(before, before)
    for changed, words in (
        ({**before, "Label 1": [["boost", "2 bar"], [10.0, 20.0, 30.0, 40.0]]}, "2 bar"),
        ({**before, "Label 1": [["boost", "1 bar"], [10.0, 23.0, 30.0, 40.0]]}, "23"),
        ({**before, "Chart 1": [["drawLine #000000 ×2 8"], [0.0, 0.0, 9.0, 9.0, 5.0, 9.0]]}, "Chart 1"),
        ({"Chart 1": before["Chart 1"]}, "gone"),
        ({**before, "Label 2": [["more"], [0.0, 0.0, 1.0, 1.0]]}, "new"),
    ):
        assert words in str(differences(before, changed))

"""Every sentence of the window goes through the translation, and a catalogue is taken up."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest

import zarvik
from zarvik.core.common.sentences import Figure, message
from zarvik.project.language import language
from zarvik.project.units.rendering import render

WINDOW = Path(zarvik.__file__).parent / "window"
SHOWS = {
    "QLabel",
    "QPushButton",
    "QCheckBox",
    "QAction",
    "heading",
    "setText",
    "setToolTip",
    "setAccessibleName",
    "setPlaceholderText",
    "addItem",
    "addAction",
    "addMenu",
    "command",
    "drawText",
    "question",
    "showText",
}
KEYS = re.compile(r"(Ctrl|Alt|Shift|F\d+)")


def raw_words(source: str) -> list[tuple[int, str]]:
    """Words that are handed to something that shows them, without `tr` round them."""
    found = []
    for node in ast.walk(ast.parse(source)):
        if not isinstance(node, ast.Call):
            continue
        name = getattr(node.func, "id", getattr(node.func, "attr", ""))
        if name not in SHOWS:
            continue
        stack = list(node.args)
        while stack:
            part = stack.pop()
            if isinstance(part, ast.IfExp):
                stack += [part.body, part.orelse]
            elif isinstance(part, ast.BinOp):
                stack += [part.left, part.right]
            elif isinstance(part, ast.JoinedStr):
                stack += [v for v in part.values if isinstance(v, ast.Constant)]
            elif isinstance(part, ast.Constant) and isinstance(part.value, str):
                text = re.sub(r"<[^>]*>|\{[^}]*\}", "", part.value)
                if re.search(r"[A-Za-z]{3,}", text) and not KEYS.match(text):
                    found.append((part.lineno, part.value))
    return found


@pytest.mark.parametrize("path", sorted(WINDOW.rglob("*.py")), ids=lambda p: p.name)
def test_no_words_beside_the_translation(path: Path) -> None:
    """A widget is never given English that cannot be translated."""
    assert raw_words(path.read_text("utf-8")) == []


def test_a_raw_word_is_found() -> None:
    """The check itself can fail."""
    assert raw_words('QLabel("Power at the crank")') == [(1, "Power at the crank")]
    assert raw_words('button.setText(tr("Keep") if a else "Drop")') == [(1, "Drop")]
    assert raw_words('label.setText(f"{a} of {b}: lost")') == [(1, ": lost")]


def test_a_longer_language(own_language: None) -> None:
    """About a third longer, places for figures intact, filled after the translation."""
    text = "Missed: {power} of {wanted} at {speed}. [power|{0}] as a dyno would print it"
    longer = language.lengthened(text)
    plain = "Widen the charge pipe between the cooler and the throttle"
    assert 1.28 < len(language.lengthened(plain)) / len(plain) < 1.6
    for place in ("{power}", "{wanted}", "{speed}", "[power|", "{0}"):
        assert place in longer
    language.use(language.lengthened)
    sentence = message("Missed: {power}", power=Figure(74570.0, "power"))
    assert render(sentence, {"power": "hp"}).endswith("100\u00a0hp")


def test_a_catalogue_is_taken_up(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, own_language: None) -> None:
    """A standard gettext file translates; what it does not have stays English."""
    folder = tmp_path / "de" / "LC_MESSAGES"
    folder.mkdir(parents=True)
    (folder / "zarvik.mo").write_bytes(catalogue({"Keep": "Behalten"}))
    monkeypatch.setenv("ZARVIK_LOCALE", str(tmp_path))
    monkeypatch.setenv("LANGUAGE", "de")
    language.use_system()
    assert language.tr("Keep") == "Behalten"
    assert language.tr("Remove") == "Remove"


def catalogue(words: dict[str, str]) -> bytes:
    """A gettext .mo file (its format: GNU gettext manual, ch. 10.3)."""
    pairs = sorted({"": "Content-Type: text/plain; charset=UTF-8\n", **words}.items())
    count = len(pairs)
    keys, values = b"", b""
    table: list[tuple[int, int, int, int]] = []
    for key, value in pairs:
        k, v = key.encode(), value.encode()
        table.append((len(k), len(keys), len(v), len(values)))
        keys += k + b"\0"
        values += v + b"\0"
    start = 28 + 16 * count
    rows = [n for k, at, _, _ in table for n in (k, start + at)]
    rows += [n for _, _, v, at in table for n in (v, start + len(keys) + at)]
    head = [0x950412DE, 0, count, 28, 28 + 8 * count, 0, start]
    return b"".join(n.to_bytes(4, "little") for n in (*head, *rows)) + keys + values

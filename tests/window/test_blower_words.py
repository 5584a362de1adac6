"""No word of a turbocharger in a build with a blower: on any page, on paper, in the finder, on the command line."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from pathlib import Path

import own_pages
import pytest
from driving import printed, rest, wait_for
from PySide6.QtWidgets import QLabel

from zarvik.cli import main
from zarvik.formats import shipped
from zarvik.formats.project_file import read
from zarvik.project.connections.lists import ALL_LISTS
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.fabrication.drawings import flanges
from zarvik.project.units.rendering import render
from zarvik.project.units.units import parse
from zarvik.window.app import settle
from zarvik.window.frame.main_window import MainWindow

# What the finder offers in every build: a turbo in the blower's place
SWITCHES = ("Turbocharger instead",)
WORDS = re.compile(r"turb(?!ulen)|wastegate|spool", re.IGNORECASE)

MakeWindow = Callable[..., MainWindow]


def made(folder: Path) -> Project:
    """A new build: a 3.4 l V6 on E85 with a blower."""
    path = folder / "v6.zarvik"
    given = "--litres 3.4 --layout vee --cylinders 6 --redline 6800 --power 420hp --charger blower --fuel e85"
    assert main(["new", str(path), *given.split()]) == 0
    return with_value(read(path), "towing.mass", parse("2600 kg", "mass"))


def spoken(words: object, path: str) -> Iterator[str]:
    """Every text with a word of a turbo, and where it stands."""
    if isinstance(words, str):
        if WORDS.search(words):
            yield f"{path}: {words[:200]}"
    elif isinstance(words, dict):
        for key, value in words.items():
            yield from spoken(value, f"{path}, {key}")
    elif isinstance(words, list):
        for value in words:
            yield from spoken(value, path)


def found_in_the_window(window: MainWindow) -> Iterator[str]:
    """In the finder, in the checks with their details and on drawings."""
    for thing in window.findable.things():
        yield from spoken(thing.words, f"finder, {thing.kind}")
    window.show_keys()
    heads = [label.text() for label in window.keys.findChildren(QLabel)]
    assert {"Checks", "Exhaust", "Pressure run"} <= set(heads)
    yield from spoken(heads, "keys")
    window.keys.hide()
    for check_result in window.desk.answer.check_results:
        yield from spoken(
            [check_result.title, *(render(x, {}) for x in (check_result.text, check_result.cure) if x is not None)],
            f"check {check_result.id}",
        )
    for drawing in flanges(window.desk.project)[0]:
        said = [drawing.title, *drawing.about, *(note.words for note in drawing.notes)]
        yield from spoken([render(words, {}) for words in said], f"drawing {drawing.key}")


def found_on_paper(window: MainWindow, folder: Path) -> Iterator[str]:
    """In the lines of every sheet that is printed."""
    for bench, what in (("cut_weld", "paper"), ("joints", "pdf"), ("exhaust", "")):
        window.show_bench(bench)
        rest(window)
        goal = folder / f"{bench}.pdf"
        window.benches[bench].save(*filter(None, (what,)), str(goal))
        assert wait_for(goal.exists), bench
        for page in printed(goal):
            yield from spoken(page.split("\n"), f"printed {bench}")


@pytest.mark.parametrize("which", ["moth", "new"])
def test_no_word_of_a_turbo_in_the_window(which: str, open_window: MakeWindow, tmp_path: Path) -> None:
    """The demo, in whose file there is a turbo, and a build that has just been made, for which nobody ever looked at one. Pages of the demo
    are those that are kept, which another test compares with what the window shows."""
    new = which == "new"
    window = open_window(made(tmp_path).model_copy(update={"turbos": (), "turbo": ""}) if new else shipped.demo("moth"))
    window.resize(1280, 800)
    assert settle(window)
    found: list[str] = []
    for name, page in own_pages.stored()["moth"].items() if which == "moth" else own_pages.pages(window, tmp_path):
        found += spoken(page, name) if name != "start" else ()  # where a turbo can be chosen for a new build
    found += [*found_in_the_window(window), *found_on_paper(window, tmp_path)]
    found = [one for one in found if not one.endswith(SWITCHES)]
    assert not found, "\n".join(dict.fromkeys(found))


def test_no_word_of_a_turbo_on_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """What each word of the command line prints of a new build."""
    made(tmp_path)
    path = str(tmp_path / "v6.zarvik")
    capsys.readouterr()
    found: list[str] = []
    for words in (
        ["solve", path],
        ["check", path],
        ["candidates", path],
        ["exhaust", path],
        ["joints", path],
        ["design", path, "--tries", "60"],
    ):
        main(words)
        found += spoken(capsys.readouterr().out.split("\n"), words[0])
    for name in ALL_LISTS:
        main(["joints", path, "--list", name])
        found += spoken(capsys.readouterr().out.split("\n"), f"list {name}")
    assert not found, "\n".join(dict.fromkeys(found))

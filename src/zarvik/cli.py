"""The command line: the same services as the window, without one."""

from __future__ import annotations

import argparse
import importlib
import json
import re
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from zarvik.commands.arguments import parser
from zarvik.commands.terminal import GOOD, bad, carried_out, not_over, plain_terminal
from zarvik.formats import atomic_writer, project_file, shipped
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr, tr_format, use_system


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    use_system()
    plain_terminal()
    return carried_out(lambda: _told(sys.argv[1:] if arguments is None else arguments))


def _told(arguments: Sequence[str]) -> int:
    given = parser().parse_args(_joined(_renamed(arguments)))
    try:
        return _run(given)
    except ProjectProblems as error:
        return bad(tr_format("the project cannot be solved: {0}", "; ".join(project_file.problem_lines(error))))


# What commands and options were called before; understood for one more version
FORMER = {"weigh": "candidates", "hotside": "exhaust", "register": "joints"}
FORMER_OPTIONS = {"--sheet": "--calculation", "--sheets": "--calculations", "--working": "--calculation", "--ghost": "--overlay"}


def _renamed(words: Sequence[str]) -> list[str]:
    """Words as they are called now."""
    found = []
    for number, word in enumerate(words):
        option, sign, value = word.partition("=")
        found.append(FORMER.get(word, word) if number == 0 else FORMER_OPTIONS.get(option, option) + sign + value)
    return found


def _joined(words: Sequence[str]) -> list[str]:
    """Words in which a cold day (`--day -10C`) is not taken for an option of its own."""
    found: list[str] = []
    for word in words:
        if re.match(r"-\d", word) and found and re.fullmatch(r"--[a-z-]+", found[-1]):
            found[-1] += f"={word}"
        else:
            found.append(word)
    return found


def _run(given: argparse.Namespace) -> int:
    match given.word:
        case "demo":
            if given.list:
                for name in shipped.demo_names():
                    print(f"{name:10s} {tr(shipped.demo(name).note)}")
                return GOOD
            project = shipped.demo(given.name)
            if given.copy:
                not_over(Path(given.copy), force=given.force)
                atomic_writer.write_text(shipped.demo_text(given.name), Path(given.copy))
                print(tr_format("wrote {0}", given.copy))
                return GOOD
            return _window(given, project, None)
        case None | "start":
            return _window(given, shipped.fresh(), None, first=True)
        case "open":
            path = Path(given.file)
            project, mark = project_file.read_marked(path)
            return _window(given, project, path, mark=mark)
        case "schema":
            print(json.dumps(project_file.schema(), indent=2, ensure_ascii=False))
            return GOOD
        case word:
            return _command(word, given)


# Module of `zarvik.commands` and function of each command of words
COMMANDS = {
    "new": ("building", "first_design"),
    "map": ("building", "check_map"),
    "solve": ("solving", "solve"),
    "check": ("solving", "check"),
    "candidates": ("turbo_choice", "evaluate_candidates"),
    "design": ("turbo_choice", "search"),
    "rank": ("turbo_choice", "rank_all"),
    "exhaust": ("exhaust", "hot_side"),
    "export": ("cut_weld", "export"),
    "bends": ("cut_weld", "bends"),
    "manifold": ("cut_weld", "lay"),
    "joints": ("joints", "joints"),
    "route": ("routing", "route"),
    "bay": ("bay", "bay"),
    "scan": ("scanning", "add_scan"),
    "warm": ("warming", "warmed"),
}


def _command(word: str, given: argparse.Namespace) -> int:
    """What a command of words needs is read here: a window does not wait for it."""
    module, name = COMMANDS[word]
    return int(getattr(importlib.import_module(f"zarvik.commands.{module}"), name)(given))


def _window(
    given: argparse.Namespace, project: Project, path: Path | None, *, first: bool = False, mark: atomic_writer.Mark | None = None
) -> int:
    # Everything but the window runs where no Qt can be loaded.
    try:
        app: Any = importlib.import_module("zarvik.window.app")
    except ImportError as error:
        return bad(tr_format("the window needs a library that is missing: {0}. Run ./zarvik setup", error))
    options = vars(given)
    return int(
        app.run(
            project,
            path,
            shot=options.get("shot"),
            bench=options.get("bench"),
            theme=options.get("theme"),
            size=options.get("size") or "1280x800",
            speed=options.get("rev"),
            calculation=options.get("calculation"),
            overlay=options.get("overlay"),
            first=first,
            mark=mark,
        )
    )


if __name__ == "__main__":
    raise SystemExit(main())

"""The start: a window is painted before everything that fills it is read from the disk."""

from __future__ import annotations

import gc
import importlib
import os
import sys
from collections.abc import Sequence
from pathlib import Path


def main() -> int:
    """Run the words of the command line; returns the exit code."""
    words = sys.argv[1:]
    if opens_window(words):
        # Of what is only read nothing is garbage: rounds over it take a quarter of a second. The window has rounds of its own.
        gc.disable()
        try:
            opening = importlib.import_module("zarvik.window.opening")
        except ImportError:
            pass  # no Qt here: the command line says so
        else:
            size = words[words.index("--size") + 1] if "--size" in words[:-1] else ""
            opening.show(size)
            if not opening.meanwhile(lambda: [importlib.import_module(f"zarvik.{name}") for name in ("cli", "window.app")]):
                return 0
    if routes_a_bay(words):
        return int(importlib.import_module("zarvik.commands.bay_routing").main(words[1:]))
    return int(importlib.import_module("zarvik.cli").main())


def routes_a_bay(words: Sequence[str]) -> bool:
    """Do these words lay tubes through the bay of a file? Then nothing of a project is read, which takes longer than the tubes."""
    return words[:1] == ["route"] and not any(word.startswith(("--ru", "-h", "--h")) for word in words)


def opens_window(words: Sequence[str]) -> bool:
    """Do these words end in a window that stays? Not where there is no screen, nor where the answer is one of words."""
    if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        return False
    if any(word.startswith(("--shot", "--list", "--copy", "-h", "--help")) for word in words):
        return False
    if words and words[0] == "open":
        return len(words) > 1 and Path(words[1]).is_file()
    return not words or words[0] in ("start", "demo")

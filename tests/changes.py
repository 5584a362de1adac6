"""Deliberate small changes to the program, each of which the tests of its subject have to notice.

Run by hand: `.venv/bin/python tests/changes.py [--jobs N] [WORD …]` (with words: only changes whose file
holds one of them). Each change is made in a copy of the tree; the tests named beside it run on it. It is
caught when one of them fails. Leaves with 1 when fewer than nine in ten are caught. Physics whose tests
call functions one by one runs uncompiled, which is quicker; the rest compiles what was changed. Copies
take turns in the same few folders, so that what is unchanged has to be compiled once.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from queue import Queue

from deliberate import CHANGES, Change

ROOT = Path(__file__).parents[1]
UNCOMPILED = {
    f"core/test_{name}.py"
    for name in ("gas", "ducts", "engine", "compressor", "cooling", "hand_worked", "intake_side", "bolted")
}


def made(change: Change, folder: Path) -> str:
    """Make the change in a copy of the tree; a sentence when it cannot be made."""
    for part in ("src", "tests", "docs"):
        shutil.copytree(ROOT / part, folder / part, ignore=shutil.ignore_patterns("__pycache__", "*.png"))
    for name in ("pyproject.toml", "README.md", "requirements.lock", "requirements-dev.lock"):
        shutil.copy(ROOT / name, folder / name)
    path = folder / "src" / "zarvik" / change.file
    text = path.read_text("utf-8")
    if text.count(change.old) < 1:
        return "is not there any more"
    path.write_text(text.replace(change.old, change.new, 1), "utf-8")
    return ""


def caught(change: Change, slots: Queue[Path]) -> str:
    """`caught`, `SURVIVED`, or why it could not be tried; in a folder of `slots`."""
    folder = slots.get()
    try:
        shutil.rmtree(folder, ignore_errors=True)
        fault = made(change, folder)
        if fault:
            return fault
        environment = dict(os.environ, PYTHONPATH=str(folder / "src"))
        environment.pop("QT_QPA_PLATFORM", None)
        if set(change.tests) <= UNCOMPILED:
            environment["NUMBA_DISABLE_JIT"] = "1"
        elif change.file.startswith("core/") and "checks" not in change.file:
            environment["NUMBA_CACHE_DIR"] = str(folder / "kernels")
        command = [sys.executable, "-m", "pytest", "-q", "-x", *(f"tests/{t}" for t in change.tests)]
        done = subprocess.run(
            command, cwd=folder, env=environment, capture_output=True, text=True, check=False
        )
        return "caught" if done.returncode == 1 else "SURVIVED" if done.returncode == 0 else (
            f"tests left with {done.returncode}")  # fmt: skip
    finally:
        slots.put(folder)


def main() -> int:
    """Make every change, one after the other, and tell how each fared."""
    parser = argparse.ArgumentParser(description=__doc__.partition("\n")[0])
    parser.add_argument("words", nargs="*")
    parser.add_argument("--jobs", type=int, default=1)
    given = parser.parse_args()
    chosen = [c for c in CHANGES if not given.words or any(w in c.file for w in given.words)]
    found: list[str] = []
    slots: Queue[Path] = Queue()
    base = Path(tempfile.mkdtemp(prefix="zarvik-changes-"))
    for number in range(given.jobs):
        slots.put(base / str(number))
    with ThreadPoolExecutor(given.jobs) as pool:
        tried = pool.map(lambda change: caught(change, slots), chosen)
        for change, fate in zip(chosen, tried, strict=True):
            found.append(fate)
            print(f"{fate:10} {change.file}: {change.old[:60]!r} → {change.new[:40]!r}", flush=True)
    shutil.rmtree(base, ignore_errors=True)
    good = found.count("caught")
    print(f"{good} of {len(found)} caught")
    return 0 if good >= 0.9 * len(found) else 1


if __name__ == "__main__":
    sys.exit(main())

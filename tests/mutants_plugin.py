"""Part of `mutants.py`: tells the coverage measurement which test runs, and writes down how long each took."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import coverage
import pytest


def pytest_runtest_setup(item: pytest.Item) -> None:
    """Lines that are run from here on, in any thread, are this test's."""
    measured = coverage.Coverage.current()
    if measured is not None:
        measured.switch_context(item.nodeid)


def pytest_runtest_logreport(report: Any) -> None:
    """A line for each stage of a test: seconds and its name."""
    with Path(os.environ["MUTANTS_TIMES"]).open("a", encoding="utf-8") as file:
        file.write(f"{report.duration:.4f} {report.nodeid}\n")
    if report.failed:
        with Path(os.environ["MUTANTS_TIMES"]).with_name("failed.txt").open("a", encoding="utf-8") as file:
            file.write(f"{report.nodeid}\n")

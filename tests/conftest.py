"""Shared fixtures: a state folder of its own for each test, the demo, a real window."""

from __future__ import annotations

import gc
import os
import shutil
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest

# Each process of the run gets a screen of its own (pytest-xvfb), so that no window takes another's focus.
os.environ.setdefault("QT_QPA_PLATFORM", "xcb" if shutil.which("Xvfb") else "offscreen")

from zarvik.core.answer.answer import Answer, answer
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.turbos import candidates
from zarvik.project.document.document import Project
from zarvik.project.language import language


def pytest_addoption(parser: pytest.Parser) -> None:
    """`--quick`: without what takes long, for the inner loop."""
    parser.addoption("--quick", action="store_true", help="without the tests of tests/slow.txt")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """The slow ones are left out of a quick run; a new test is taken for a quick one until it was measured (`tests/mutants.py`)."""
    if config.getoption("--quick"):
        slow = set((Path(__file__).parent / "slow.txt").read_text("utf-8").split())
        config.hook.pytest_deselected(items=[item for item in items if item.nodeid.partition("[")[0] in slow])
        items[:] = [item for item in items if item.nodeid.partition("[")[0] not in slow]


def pytest_collection_finish(session: pytest.Session) -> None:
    """What was imported stays: looked through for garbage again and again it takes a tenth of the time of a run."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)


@pytest.fixture(autouse=True)
def state_folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Journals, logs and settings go to a folder of the test."""
    folder = tmp_path / "state"
    monkeypatch.setenv("ZARVIK_STATE", str(folder))
    return folder


@pytest.fixture(scope="session")
def tarn() -> Project:
    """The demo project."""
    return shipped.demo("tarn")


@pytest.fixture(scope="session")
def tarn_answer(tarn: Project) -> Answer:
    """The demo project, solved and judged."""
    return answer(assemble(tarn, id="tarn"), candidates(tarn))


@pytest.fixture
def no_threads_left() -> Iterator[None]:
    """Fails when the test leaves a thread of the program behind."""
    yield
    left = [t.name for t in threading.enumerate() if t.name.startswith("zarvik")]
    assert not left, f"threads left behind: {left}"


@pytest.fixture
def own_language() -> Iterator[None]:
    """English again after a test in another language."""
    yield
    language.use(None)

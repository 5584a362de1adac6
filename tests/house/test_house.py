"""Rules of the house that a test can hold: purity, docstrings, contrast, the toolkit's pin."""

from __future__ import annotations

import ast
import inspect
import re
import subprocess
import sys
from pathlib import Path

import pytest
from PySide6.QtCore import QObject

from zarvik.window.theme.palette import DARK, LIGHT, Palette, contrast

ROOT = Path(__file__).parents[2]
SOURCE = ROOT / "src" / "zarvik"
CORE = sorted((SOURCE / "core").rglob("*.py"))

PURE = """
import sys, importlib, pkgutil
for name in sys.argv[1].split(","):
    package = importlib.import_module(name)
    for found in pkgutil.walk_packages(getattr(package, "__path__", []), name + "."):
        importlib.import_module(found.name)
loaded = [m for m in sys.modules if m.split(".")[0] in ("PySide6", "shiboken6", "matplotlib")]
loaded += [m for m in sys.modules if m.startswith("zarvik.window")]
sys.exit(", ".join(loaded) or 0)
"""


def test_a_fresh_interpreter_finds_no_qt_below_the_window() -> None:
    """Core, project, formats and workspace load without the interface."""
    rooms = "zarvik.core,zarvik.project,zarvik.formats,zarvik.workspace,zarvik.cli"
    done = subprocess.run(
        [sys.executable, "-c", PURE, rooms], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr


def functions(path: Path) -> list[ast.FunctionDef]:
    """Public functions and methods of a file."""
    tree = ast.parse(path.read_text("utf-8"))
    return [
        node
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_")
    ]


@pytest.mark.parametrize(
    "path", sorted(SOURCE.rglob("*.py")), ids=lambda p: str(p.relative_to(SOURCE))
)
def test_everything_public_has_a_docstring(path: Path) -> None:
    """Modules, classes and functions say what they are."""
    tree = ast.parse(path.read_text("utf-8"))
    if tree.body:
        assert ast.get_docstring(tree), f"{path.name} says nothing of itself"
    nested = {
        inner
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef)
        for inner in ast.walk(node)
        if inner is not node
    }
    for node in ast.walk(tree):
        if (
            isinstance(node, ast.FunctionDef | ast.ClassDef)
            and not node.name.startswith("_")
            and node not in nested
        ):
            assert ast.get_docstring(node), f"{path.name}: {node.name}"


UNITS = re.compile(
    r"\b(Pa|K|kg|m|m2|m3|W|J|rad|s|rpm|rev/min|kPa|°C|dimensionless|relative|0–1|ratio|number|"
    r"factor|coefficient|fraction|efficiency|lambda|share|Mach|effectiveness|NTU|units|place)\b"
)
PHYSICS = [p for p in CORE if p.parent.name in ("gas", "ducts", "cooling", "engine")]


@pytest.mark.parametrize("path", PHYSICS, ids=lambda p: p.name)
def test_physics_names_its_units(path: Path) -> None:
    """A public function of physics with numbers in it says in which units."""
    for node in functions(path):
        numeric = [
            a.arg
            for a in (*node.args.args, *node.args.kwonlyargs)
            if a.annotation is not None and ast.unparse(a.annotation) == "float"
        ]
        if numeric:
            text = ast.get_docstring(node) or ""
            assert UNITS.search(text), f"{path.name}: {node.name} does not name a unit"


def test_no_own_import_inside_a_function() -> None:
    """Cycles are not hidden; the one late import (the window) goes through importlib."""
    for path in SOURCE.rglob("*.py"):
        for node in functions(path):
            for inner in ast.walk(node):
                if isinstance(inner, ast.ImportFrom):
                    assert not (inner.module or "").startswith("zarvik"), f"{path}: {node.name}"


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=lambda p: p.name)
def test_contrast_is_double_a(palette: Palette) -> None:
    """WCAG 2.1 AA: 4.5 for text on the grounds that it stands on, 3 for marks."""
    for ground in (palette.panel, palette.raised, palette.ground):
        for ink in (palette.ink, palette.soft, palette.accent):
            assert contrast(ink, ground) >= 4.5, (ink, ground)
        for mark in (palette.holds, palette.tight, palette.fails, palette.open):
            assert contrast(mark, ground) >= 3.0, (mark, ground)
    assert contrast(palette.accent_ink, palette.accent) >= 4.5
    assert contrast(palette.ink, palette.accent_soft) >= 4.5
    assert contrast(palette.soft, palette.accent_soft) >= 4.5


def test_contrast_of_black_on_white() -> None:
    """Closed form: 21 to 1 (WCAG 2.1)."""
    assert contrast("#000000", "#ffffff") == pytest.approx(21.0)


def test_the_toolkit_survives_many_void_calls() -> None:
    """Some builds of the toolkit lose a reference at each call that returns nothing and crash
    after some thousands: twenty thousand have to pass."""
    thing = QObject()
    for _ in range(20_000):
        thing.setObjectName("x")
    assert thing.objectName() == "x"


def test_locks_hold_hashes_and_no_address() -> None:
    """Every requirement has hashes; no registry is named."""
    for name in ("requirements.lock", "requirements-dev.lock"):
        text = (ROOT / name).read_text("utf-8")
        assert "://" not in text
        blocks = [b for b in re.split(r"\n(?=\S)", text) if "==" in b]
        assert len(blocks) > 10
        assert all("--hash=sha256:" in block for block in blocks)
        assert "pyside6-essentials==6.11" in text


def test_public_signatures_are_annotated() -> None:
    """Spot check by inspection: the solver's entry points carry types."""
    from zarvik.core.answer import answer
    from zarvik.project.assemble import assemble

    for function in (answer, assemble):
        assert all(
            p.annotation is not inspect.Parameter.empty
            for p in inspect.signature(function).parameters.values()
        )

"""Rules of the house that a test can hold: purity, docstrings, contrast, the toolkit's pin."""

from __future__ import annotations

import ast
import importlib.util
import inspect
import re
import subprocess
import sys
import tomllib
from pathlib import Path

import pytest
from PySide6.QtCore import QObject

import sources
from zarvik.core.relations import table
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
    rooms = "zarvik.core,zarvik.project,zarvik.formats,zarvik.workspace,zarvik.commands,zarvik.cli"
    done = subprocess.run([sys.executable, "-c", PURE, rooms], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


def functions(path: Path) -> list[ast.FunctionDef]:
    """Public functions and methods of a file."""
    tree = sources.tree(path)
    return [node for node in ast.walk(tree) if isinstance(node, ast.FunctionDef) and not node.name.startswith("_")]


@pytest.mark.parametrize("path", sorted(SOURCE.rglob("*.py")), ids=lambda p: str(p.relative_to(SOURCE)))
def test_everything_public_has_a_docstring(path: Path) -> None:
    """Modules, classes and functions say what they are."""
    tree = sources.tree(path)
    if tree.body:
        assert ast.get_docstring(tree), f"{path.name} says nothing of itself"
    nested = {inner for node in ast.walk(tree) if isinstance(node, ast.FunctionDef) for inner in ast.walk(node) if inner is not node}
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_") and node not in nested:
            assert ast.get_docstring(node), f"{path.name}: {node.name}"


UNITS = re.compile(
    r"(?<!\w)(Pa|kPa|K|kg|px|kg/s|m|mm|m2|m3|W|J|rad|s|rev/min|degrees?|°|relative|0–1|ratios?|number|factor|"
    r"coefficient|efficiency|lambda|shares?|Mach|effectiveness|Nusselt|Reynolds|unknowns|packed|SI|"
    r"octane|dimensionless)(?!\w)"
)
# Handed through everywhere: packed gases, unknowns, residuals, what is written.
UNDERSTOOD = {"gas", "burnt", "x", "f", "state", "pieces", "out"}


def calls(path: Path) -> list[tuple[ast.FunctionDef, list[str]]]:
    """Public functions and methods of a file with the names of their numeric arguments."""
    tree = sources.tree(path)
    found = [n for n in tree.body if isinstance(n, ast.FunctionDef)]
    for kind in tree.body:
        if isinstance(kind, ast.ClassDef):
            found += [n for n in kind.body if isinstance(n, ast.FunctionDef)]
    return [
        (
            node,
            [
                a.arg
                for a in (*node.args.args, *node.args.kwonlyargs)
                if a.annotation is not None and re.search(r"\bfloat\b|ndarray", ast.unparse(a.annotation))
            ],
        )
        for node in found
        if not node.name.startswith("_") and not any("property" in ast.unparse(d) for d in node.decorator_list)
    ]


@pytest.mark.parametrize("path", CORE, ids=lambda p: str(p.relative_to(SOURCE / "core")))
def test_every_number_that_goes_in_is_explained(path: Path) -> None:
    """A public function of the core names each of its numeric arguments and says in which units."""
    for node, numeric in calls(path):
        text = ast.get_docstring(node) or ""
        if not numeric:
            continue
        assert UNITS.search(text), f"{path.name}: {node.name} does not name a unit"
        for name in set(numeric) - UNDERSTOOD:
            assert re.search(rf"\b{name.strip('_')}", text, re.I), f"{path.name}: {node.name}: {name}"


def test_functions_fit_a_screen() -> None:
    """Sixty lines at the most; what is compiled may be longer, as a call costs there."""
    compiled = re.compile(r"\bcompiled\b|\bnjit\b")
    long = [
        f"{path.relative_to(SOURCE)}:{node.name} {node.end_lineno - node.lineno + 1}"
        for path in SOURCE.rglob("*.py")
        for node in ast.walk(sources.tree(path))
        if isinstance(node, ast.FunctionDef)
        and node.end_lineno is not None
        and node.end_lineno - node.lineno >= 60
        and not any(compiled.search(ast.unparse(d)) for d in node.decorator_list)
    ]
    assert not long, long


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
        for mark in (palette.ok, palette.marginal, palette.fails, palette.to_do):
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
    from zarvik.core.answer.answer import answer
    from zarvik.project.assembly.assemble import assemble

    for function in (answer, assemble):
        assert all(p.annotation is not inspect.Parameter.empty for p in inspect.signature(function).parameters.values())


def test_every_relation_has_its_record() -> None:
    """Keys differ; each says where it comes from and how good it is; limits are of its own arguments,
    rising; the table in the documentation is that of the records."""
    keys = [m.key for m in table.RELATIONS]
    assert len(set(keys)) == len(keys) and len(keys) > 35
    for method in table.RELATIONS:
        assert method.source and method.accuracy and method.title, method.key
        names = inspect.signature(getattr(method.function, "py_func", method.function)).parameters
        for name, (low, high) in method.limits.items():
            assert name in names or method.key in ("Rennels", "Miller", "Ito"), (method.key, name)
            assert low < high
            assert method.outside(**{name: high * 1.001}) and method.outside(**{name: low - 1e-3})
            assert not method.outside(**{name: low}) and not method.outside(**{name: high})
    text = (ROOT / "docs" / "methods.md").read_text("utf-8")
    assert text.endswith(table.table()), "write it anew: tools/make_methods.py"


COVERED = {"engine/engine.py", "engine/blower.py", "turbine/turbine.py", "wastegate/wastegate_flow.py", "intercooler/effectiveness.py"}
HELPERS = {
    # definitions, or parts of a relation that has its record
    "evaporable",
    "evaporated_share",
    "throat",
    "pipes",
    "opened",
    "displaced",
    "mean_gas_temperature",
    "exhaust_temperature",
    "nozzle_function",
    "nozzle_function_forward",
    "expand",
    "transfer_units_for",
    "efficiency_at",
    "at",
    "piston_speed",
    "burnt",
    "pistons",
    "displacement",
    "swept_flow",
    "pack",
    "work_per_air",
    "breathing_of_torque",
    "torque_of_breathing",
    "most_stock_pressure",
    "area",
    "outlet",
    "volute",
    "fuel_rate",
    "hydraulic_diameter",
    "cut",
}


def test_no_relation_of_physics_is_without_a_record() -> None:
    """A public function of physics is the function of a record, or a helper that is named here."""
    known = {getattr(m.function, "__name__", "") for m in table.RELATIONS}
    for name in sorted(COVERED):
        for node in functions(SOURCE / "core" / name):
            assert node.name in known | HELPERS, f"{name}: {node.name}"


def test_everything_that_the_program_reads_is_in_its_package() -> None:
    """A file beside the code goes into a wheel only where the project file names it."""
    kept = tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))
    patterns = kept["tool"]["setuptools"]["package-data"]["zarvik"]
    named = {path for pattern in patterns for path in SOURCE.glob(pattern)}
    loose = {p for p in SOURCE.rglob("*") if p.is_file() and p.suffix not in (".py", ".pyc") and p not in named}
    assert not loose, loose
    packages = {p.parent for p in SOURCE.rglob("*.py")}
    assert all((folder / "__init__.py").exists() for folder in packages)


def test_imports_in_texts_are_there() -> None:
    """Scripts that tests run in another process, and examples in the documentation, import what there is: told at once, not by the one slow
    test that runs them."""
    pages = [*(ROOT / "docs").rglob("*.md"), *ROOT.glob("*.md"), *(ROOT / "tests").rglob("*.py")]
    wrong = []
    for page in pages:
        for module, names in re.findall(r"from (zarvik[\w.]*) import (\w+(?:, \w+)*)", page.read_text("utf-8").replace("\\n", "\n")):
            found = importlib.import_module(module)
            for name in names.split(", "):
                if not hasattr(found, name) and importlib.util.find_spec(f"{module}.{name}") is None:
                    wrong.append(f"{page.name}: {module} has no {name}")
    assert not wrong

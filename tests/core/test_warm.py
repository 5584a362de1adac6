"""What is compiled is compiled at set-up: nothing is left for the first time that somebody uses it."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from zarvik.core.common import compiled

PROGRAM = """
import importlib, os, pathlib, pkgutil, sys
from zarvik.commands.warming import warm  # before numba: it says where compiled code is kept
from numba.core.dispatcher import Dispatcher
import zarvik.core
warm()
for module in pkgutil.walk_packages(zarvik.core.__path__, "zarvik.core."):
    importlib.import_module(module.name)
kernels = {
    f"{thing.py_func.__module__}.{thing.py_func.__name__}": thing
    for name, module in list(sys.modules.items()) if name.startswith("zarvik.core")
    for thing in vars(module).values() if isinstance(thing, Dispatcher)
}
# Compiled now, or kept on the disk: of a kernel that was read from there what it calls has no signature of its own.
kept = {path.name.rpartition("-")[0] for path in pathlib.Path(os.environ["NUMBA_CACHE_DIR"]).rglob("*.nbi")}
cold = [n for n, k in kernels.items() if not k.signatures and ".".join(n.split(".")[-2:]) not in kept]
print(len(kernels), *sorted(cold))
"""


def test_no_kernel_is_left_to_be_compiled() -> None:
    """Every function that is compiled has been called with the types it is called with in the program, in a process of its own: here others
    have been called by other tests."""
    count, *cold = subprocess.run([sys.executable, "-c", PROGRAM], capture_output=True, text=True, check=True).stdout.split()
    assert int(count) > 90 and cold == []


READ = """
import sys
from zarvik.core.ducts import flow
from zarvik.core.airpath.solution import prepare
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
raw = prepare(assemble(shipped.demo("moth"))).full_load
before = [name for name in ("numba.np.arraymath", "numba.np.linalg", "numba.typed.typedlist", "scipy.linalg") if name in sys.modules]
# The compiler reads what it needs, and what it makes calls what was read from the disk.
import numba
late = numba.njit(flow.mach_of_flow.py_func)(0.3, 1.4)
print(*before, int(raw.solved.sum()), len(raw.speed), "%.5f" % late, "numba.np.arraymath" in sys.modules)
"""


def test_code_from_the_disk_does_not_wait_for_the_compiler() -> None:
    """What was compiled before is put to work without the modules that compile, and the compiler still works beside it. Mach number at a
    flow parameter of 0.3: M = 0.3 (1 + M²/5)³ is 0.31865 by hand."""
    told = subprocess.run([sys.executable, "-c", READ], capture_output=True, text=True, check=True).stdout.split()
    assert told[0] == told[1] and int(told[0]) > 30
    assert told[2:] == ["0.31865", "True"]


def test_another_source_is_another_cache(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The name of the cache changes with every file of a folder that has a compiled loop, with the constants and with what compiles, and
    not with a folder that has none."""
    core = Path(compiled.__file__).parents[1]
    copied = tmp_path / "core"
    for folder in ("common", "gas", "checks"):
        shutil.copytree(core / folder, copied / folder, ignore=shutil.ignore_patterns("__pycache__"))
    monkeypatch.setattr(compiled, "__file__", str(copied / "common" / "compiled.py"))
    before = compiled.source_digest()
    assert len(before) == 16 and compiled.source_digest() == before
    with_loop = next(p for p in sorted((copied / "gas").glob("*.py")) if "\n@compiled\n" in p.read_text("utf-8"))
    without = next(p for p in sorted((copied / "gas").glob("*.py")) if "\n@compiled\n" not in p.read_text("utf-8"))
    for path, changes in (
        (with_loop, True),
        (without, True),
        (copied / "common" / "constants.py", True),
        (copied / "common" / "compiled.py", True),
        (copied / "checks" / "belt.py", False),
    ):
        text = path.read_text("utf-8")
        path.write_text(text + "\n# another\n", "utf-8")
        assert (compiled.source_digest() != before) == changes, path.name
        path.write_text(text, "utf-8")

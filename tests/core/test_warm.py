"""What is compiled is compiled at set-up: nothing is left for the first time that somebody uses it."""

from __future__ import annotations

import subprocess
import sys

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

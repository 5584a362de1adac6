"""Compilation of the hot loops to machine code, kept between runs.

The compiled code is cached in the user's cache folder under a name that contains a digest of
all core sources: a compiled loop is inlined into its callers, and a cache that only watches the
caller's own file would go on using the old callee.
"""

from __future__ import annotations

import hashlib
import os
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, TypeVar

import platformdirs

Function = TypeVar("Function", bound=Callable[..., Any])


def source_digest() -> str:
    """Digest of every source file of the core, as 16 hexadecimal characters."""
    digest = hashlib.sha256()
    for path in sorted(Path(__file__).parent.rglob("*.py")):
        digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


if "NUMBA_CACHE_DIR" not in os.environ:
    os.environ["NUMBA_CACHE_DIR"] = str(
        Path(platformdirs.user_cache_dir("zarvik")) / f"kernels-{source_digest()}"
    )

import numba  # noqa: E402  (the cache folder has to be named before numba reads it)


@contextmanager
def _hidden(module: str) -> Iterator[None]:
    """Makes an import of `module` fail, when nobody has imported it before."""
    known = module in sys.modules
    if not known:
        sys.modules[module] = None  # type: ignore[assignment]
    try:
        yield
    finally:
        if not known:
            del sys.modules[module]


# This part of numba looks whether matrix products could go to SciPy's BLAS, which takes a fifth of
# a second and 50 MB from the disk at every start. No compiled loop here has a matrix in it.
with _hidden("scipy.linalg"):
    import numba.np.arraymath


def compiled(function: Function) -> Function:
    """Compile `function` at its first call; releases the interpreter lock while it runs.

    Division by zero gives inf or nan as in NumPy. The plain function stays reachable as
    ``function.py_func``.
    """
    return numba.njit(cache=True, nogil=True, error_model="numpy")(function)

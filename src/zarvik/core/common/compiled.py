"""Compilation of the hot loops to machine code, kept between runs.

The compiled code is cached in the user's cache folder under a name that contains a digest of
the sources of every subject with a compiled loop: such a loop is inlined into its callers, with the
numbers of its own and other files, and a cache that only watches the caller's own file would go on
using the old callee.
"""

from __future__ import annotations

import atexit
import hashlib
import os
import shutil
import stat
import tempfile
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any, TypeVar

import platformdirs

Function = TypeVar("Function", bound=Callable[..., Any])


def source_digest() -> str:
    """Digest of the sources of every subject of the core that has a compiled loop, of the constants, and of this file,
    as 16 hexadecimal characters."""
    digest = hashlib.sha256(Path(__file__).read_bytes())
    digest.update((Path(__file__).parent / "constants.py").read_bytes())  # the loops have its numbers in them
    for folder in sorted(p for p in Path(__file__).parents[1].iterdir() if p.is_dir()):
        sources = [path.read_bytes() for path in sorted(folder.rglob("*.py"))]
        if any(b"\n@compiled\n" in source for source in sources):
            for source in sources:
                digest.update(source)
    return digest.hexdigest()[:16]


def private_folder(wanted: Path) -> Path:
    """A folder for compiled code that nobody else can write: `wanted` when it is ours and can be
    made so, else one that lasts as long as the program."""
    try:
        wanted.mkdir(parents=True, exist_ok=True, mode=0o700)
        found = wanted.lstat()
        if not stat.S_ISDIR(found.st_mode) or found.st_uid != os.getuid():
            raise OSError("not ours")
        if found.st_mode & 0o022:
            # Others could have put code into it: what is there is not trusted.
            shutil.rmtree(wanted)
            wanted.mkdir(mode=0o700)
        wanted.chmod(0o700)
        with tempfile.NamedTemporaryFile(dir=wanted):
            pass
    except OSError:
        made = Path(tempfile.mkdtemp(prefix="zarvik-kernels-"))
        atexit.register(shutil.rmtree, made, ignore_errors=True)
        return made
    return wanted


def trusted(folder: Path) -> bool:
    """May compiled code be loaded from a `folder` that somebody named? Its index is unpickled, so whoever can write there runs code here:
    it has to be ours, and no folder above it one in which others can put another in its place."""
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        place = folder.resolve()
        found = place.stat()
        if found.st_uid != os.getuid() or found.st_mode & 0o022:
            return False
        above = [parent.stat() for parent in place.parents]
    except OSError:
        return False
    return all(not p.st_mode & 0o022 or p.st_mode & stat.S_ISVTX for p in above)


if "NUMBA_CACHE_DIR" not in os.environ or not trusted(Path(os.environ["NUMBA_CACHE_DIR"])):
    os.environ["NUMBA_CACHE_DIR"] = str(private_folder(Path(platformdirs.user_cache_dir("zarvik")) / f"kernels-{source_digest()}"))

import numba  # noqa: E402  (the cache folder has to be named before numba reads it)
import numba.core.caching  # noqa: E402
import numba.core.runtime  # noqa: E402

_decorated: list[str] = []
UNUSED = 30 * 86400.0  # s after which compiled code of another version is taken away


def to_be_compiled() -> bool:
    """Does the solver still have to be compiled on this machine, which takes up to a minute?"""
    return next(Path(os.environ["NUMBA_CACHE_DIR"]).rglob("sweep.solve*.nbc"), None) is None


def share_compiled() -> float:
    """Share (0–1) of the loops that have been compiled on this machine."""
    done = sum(1 for _ in Path(os.environ["NUMBA_CACHE_DIR"]).rglob("*.nbi"))
    return min(done / max(len(_decorated), 1), 1.0)


def forget_old() -> None:
    """Take away what other versions have compiled, when nobody has used it for a month."""
    mine = Path(os.environ["NUMBA_CACHE_DIR"])
    with suppress(OSError):
        os.utime(mine)
        for folder in mine.parent.glob("kernels-*"):
            if folder != mine and time.time() - folder.lstat().st_mtime > UNUSED:
                shutil.rmtree(folder, ignore_errors=True)


def _guard_cache() -> None:
    """Compiled code that does not have the digest it was saved with is compiled again instead of being
    loaded: a damaged file would stop every solve, or run as whatever it became."""
    files = numba.core.caching.IndexDataCacheFile
    load_index, load_data, save_data = files._load_index, files._load_data, files._save_data

    def path_of(self: Any, name: str) -> Path:
        return Path(self._data_path(name))

    def safe_index(self: Any) -> Any:
        try:
            return load_index(self)
        except Exception:
            Path(self._index_path).unlink(missing_ok=True)
            return {}

    def safe_data(self: Any, name: str) -> Any:
        path = path_of(self, name)
        try:
            kept = path.with_suffix(path.suffix + ".sum").read_text("ascii")
            found = hashlib.sha256(path.read_bytes()).hexdigest()
            if kept != found or path.stat().st_uid != os.getuid():
                raise OSError("damaged")
            return load_data(self, name)
        except Exception as error:
            # What numba understands as: it is not there
            raise OSError("not to be used") from error

    def summed_data(self: Any, name: str, data: Any) -> None:
        save_data(self, name, data)
        path = path_of(self, name)
        total = hashlib.sha256(path.read_bytes()).hexdigest()
        part = path.with_suffix(f".{os.getpid()}.part")
        part.write_text(total, "ascii")
        os.replace(part, path.with_suffix(path.suffix + ".sum"))

    files._load_index, files._load_data, files._save_data = safe_index, safe_data, summed_data


_guard_cache()


def _load_only(self: Any, signature: Any, target: Any) -> Any:
    """Code from the disk is put to work as it is. Numba would first read some seventy modules with which it writes machine code, a
    third of a second at every start; what has to be compiled after all has them read by its compiler."""
    numba.core.runtime.rtsys.initialize(target)  # what arrays are made and let go with
    with self._guard_against_spurious_io_errors():
        return self._load_overload(signature, target)
    return None


numba.core.caching.Cache.load_overload = _load_only


def compiled(function: Function) -> Function:
    """Compile `function` at its first call; releases the interpreter lock while it runs.

    Division by zero gives inf or nan as in NumPy. The plain function stays reachable as
    ``function.py_func``.
    """
    _decorated.append(function.__name__)
    return numba.njit(cache=True, nogil=True, error_model="numpy", no_cfunc_wrapper=True)(function)

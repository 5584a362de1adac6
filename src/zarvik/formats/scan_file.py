"""Scans of an engine bay from STL, OBJ and PLY files."""

from __future__ import annotations

import io
import logging
from pathlib import Path

import numpy as np

from zarvik.core.bay.scan import Scan, scan, whole
from zarvik.core.common.progress import Progress, unwatched
from zarvik.core.common.sentences import Fault
from zarvik.formats.atomic_writer import FileError
from zarvik.project.bay.objects import new_object
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bay_object import skin_text
from zarvik.project.language.language import reason, tr_format

KINDS = (".stl", ".obj", ".ply")
LARGEST = 600 * 1024 * 1024


def read_scan(path: Path | str, *, unit: str = "", progress: Progress = unwatched) -> Scan:
    """The scan in a file, in metres and with as many triangles as are kept. `unit`: what its numbers are (mm, cm, m, in); empty: the
    likely one. Raises FileError with what is wrong."""
    path = Path(path)
    data = _bytes(path)
    progress(0.05)
    corners, triangles = _triangles(data, path)
    progress(0.4)
    try:
        return scan(corners, triangles, unit=unit, progress=lambda share: progress(0.4 + 0.6 * share))
    except Fault as fault:
        raise FileError(tr_format("“{0}”: {1}", path.name, reason(fault))) from None


def whole_scan(path: Path, kept: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """All corners (any number, 3) m and triangles of the scan in a file, of which these corners m were `kept`. Raises FileError, also where
    it is another scan by now."""
    try:
        return whole(*_triangles(_bytes(path), path), kept)
    except (Fault, ValueError, IndexError) as fault:
        raise FileError(tr_format("“{0}”: {1}", path.name, reason(fault))) from None


def _bytes(path: Path) -> bytes:
    """What a file holds; raises FileError."""
    if path.suffix.lower() not in KINDS:
        raise FileError(tr_format("“{0}” is no scan: STL, OBJ and PLY files are read", path.name))
    try:
        if not path.is_file():
            raise FileError(tr_format("there is no file “{0}”", path))
        if path.stat().st_size > LARGEST:
            raise FileError(tr_format("“{0}” is larger than {1:.0f} MB", path.name, LARGEST / 1e6))
        return path.read_bytes()
    except OSError as error:
        raise FileError(tr_format("“{0}” cannot be read: {1}", path.name, error.strerror)) from error


def _triangles(data: bytes, path: Path) -> tuple[np.ndarray, np.ndarray]:
    """Corners (any number, 3) and triangles (any number, 3) of the bytes of a file; raises FileError."""
    import trimesh

    # What is wrong with a file is said in one sentence, not as the tracebacks that the reader would write
    logging.getLogger("trimesh").setLevel(logging.CRITICAL + 1)
    try:
        kind = path.suffix.lower()[1:]
        found = trimesh.load(io.BytesIO(data), file_type=kind, process=False, force="mesh", skip_materials=True)
        return np.asarray(found.vertices, np.float64).reshape(-1, 3), np.asarray(getattr(found, "faces", ()), np.int64).reshape(-1, 3)
    except MemoryError:
        raise FileError(tr_format("“{0}” is too large for this machine", path.name)) from None
    except Exception as error:  # a reader of damaged files may raise anything
        raise FileError(tr_format("“{0}” cannot be read as a scan: {1}", path.name, str(error)[:120] or type(error).__name__)) from None


def with_scan(
    project: Project, path: Path | str, *, unit: str = "", kind: str = "unknown", progress: Progress = unwatched
) -> tuple[Project, Scan]:
    """The document with the scan in a file as one more object of a `kind`, where the file says that it is. Raises FileError."""
    found = read_scan(path, unit=unit, progress=progress)
    name = Path(path).name[:200]
    try:
        changed, _ = new_object(
            project, kind, shape="scan", name=Path(path).stem[:60], file=name, skin=skin_text(found.mesh, found.beside), measured="tape"
        )
    except ValueError as error:
        raise FileError(str(error)) from None
    return changed, found


def scan_words(found: Scan) -> str:
    """What was read, in words."""
    size = " × ".join(f"{1e3 * side:.0f}" for side in found.size)
    words = tr_format("{0:,} triangles, taken as {1}: {2} mm", found.triangles, found.unit, size)
    kept = len(found.mesh.triangles)
    if kept < found.triangles - found.without:
        words += tr_format("; {0:,} kept, true to {1:.1f} mm", kept, 1e3 * found.beside)
    if found.without:
        words += tr_format("; {0:,} without area left out", found.without)
    return words + (tr_format("; closed") if found.closed else tr_format("; with holes: a skin without an inside"))

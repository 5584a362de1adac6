"""The project file: one JSON document, read with care and written atomically."""

from __future__ import annotations

import json
import math
import re
import stat
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from zarvik.formats import kept_designs
from zarvik.formats.atomic_writer import FileError, Mark, mark, write_text
from zarvik.formats.migrations import MIGRATIONS
from zarvik.formats.text_file import LARGEST
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.document.document import SCHEMA, SCHEMA_VERSION, Project
from zarvik.project.estimates.estimates import check_filled, filled
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import EntryError

DEEPEST = 40


def read(path: Path | str) -> Project:
    """The project in a file; raises FileError. The file is never touched."""
    path = Path(path)
    try:
        found = path.stat()
        size = found.st_size
        if stat.S_ISDIR(found.st_mode):
            raise FileError(tr_format("“{0}” is a folder, not a project file", path.name))
        if not stat.S_ISREG(found.st_mode):
            raise FileError(tr_format("“{0}” is a device or a pipe, not a project file", path.name))
        if size > LARGEST:
            raise FileError(
                tr_format("“{0}” has {1:.0f} MB; project files are below {2:.0f} MB", path.name, size / 1000000.0, LARGEST / 1000000.0)
            )
        data = path.read_bytes()
    except FileNotFoundError:
        raise FileError(tr_format("there is no file “{0}”", path)) from None
    except OSError as error:
        raise FileError(tr_format("“{0}” cannot be read: {1}", path.name, error.strerror)) from error
    except ValueError as error:
        raise FileError(tr_format("not a file name: {0}", error)) from None
    return loads(data, path.name)


def read_marked(path: Path | str) -> tuple[Project, Mark | None]:
    """The project in a file, and the mark of the very state that was read; raises FileError."""
    path = Path(path)
    for _ in range(5):
        before = mark(path)
        project = read(path)
        if mark(path) == before:
            return project, before
    # Somebody writes all the time: what was read is older than what stands there, and saving asks.
    return project, before


def loads(data: bytes | str, name: str = "the text") -> Project:
    """The project in JSON text; raises FileError."""
    try:
        text = data.decode("utf-8-sig") if isinstance(data, bytes) else data
    except UnicodeDecodeError:
        raise FileError(tr_format("“{0}” is not a UTF-8 text file, so not a project file", name)) from None
    if not text.strip():
        raise FileError(tr_format("“{0}” is empty", name))
    try:
        tree = json.loads(text, parse_constant=_no_constant, parse_float=_finite_float)
        _sound(tree)
    except json.JSONDecodeError as error:
        raise FileError(
            tr_format("“{0}” is not valid JSON: {1} in line {2}, column {3}; it may be cut off", name, error.msg, error.lineno, error.colno)
        ) from None
    except (RecursionError, ValueError) as error:
        raise FileError(tr_format("“{0}” is not a project file: {1}", name, error)) from None
    return from_tree(tree, name)


def _finite_float(word: str) -> float:
    value = float(word)
    if not math.isfinite(value):
        raise ValueError(f"{word} is too large to be a number")
    return value


def _sound(tree: Any) -> None:
    """Refuse what could be read and never written again: half characters, endless nesting; without a
    call inside a call, so that no depth is too much for it."""
    waiting = [(tree, 0)]
    while waiting:
        node, depth = waiting.pop()
        if depth > DEEPEST:
            raise ValueError("it is nested too deeply")
        if isinstance(node, str):
            _whole_text(node)
        elif isinstance(node, int) and not isinstance(node, bool) and abs(node) > 10**300:
            raise ValueError("it contains a number that is too large")
        elif isinstance(node, dict):
            for key, item in node.items():
                _whole_text(key)
                waiting.append((item, depth + 1))
        elif isinstance(node, list):
            waiting.extend((item, depth + 1) for item in node)


def _whole_text(text: str) -> None:
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        raise ValueError("it contains half a character (a lone surrogate)") from None


def _no_constant(word: str) -> float:
    raise ValueError(f"{word} is not a number that a project may hold")


def from_tree(tree: Any, name: str) -> Project:
    """The project in parsed JSON, migrated from older versions; raises FileError."""
    if not isinstance(tree, dict) or tree.get("schema") != SCHEMA:
        raise FileError(tr_format('“{0}” is not a Zarvik project: it does not say "schema": "{1}"', name, SCHEMA))
    version = tree.get("schema_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise FileError(tr_format("“{0}” does not say which version of the document it is", name))
    if version > SCHEMA_VERSION:
        raise FileError(
            tr_format(
                (
                    "“{0}” was written by a newer Zarvik (document version {1}; this one reads up to {2}): update the "
                    "program. The file is unchanged"
                ),
                name,
                version,
                SCHEMA_VERSION,
            )
        )
    while version < SCHEMA_VERSION:
        tree = MIGRATIONS[version](tree)
        version += 1
    try:
        project = _filled(kept_designs.read(tree))
        check_filled(project)
        return project
    except kept_designs.Misfit as error:
        why = _faults(error.cause) if isinstance(error.cause, ValidationError) else str(error.cause)
        raise FileError(tr_format("“{0}” has {1}", name, tr_format("“{0}” among its {1}: {2}", error.name, error.room, why))) from None
    except ValidationError as error:
        raise FileError(tr_format("“{0}” has {1}", name, _faults(error))) from None
    except EntryError as error:
        raise FileError(tr_format("“{0}” has {1}", name, error)) from None
    except RecursionError:
        raise FileError(tr_format("“{0}” is nested too deeply for a project", name)) from None


def _filled(project: Project) -> Project:
    """The document, and its variants, with the estimates of this version."""
    variants = tuple(v.model_copy(update={"design": filled(v.design)}) for v in project.variants)
    return filled(project.model_copy(update={"variants": variants}) if variants else project)


def _faults(error: ValidationError) -> str:
    found = []
    for item in error.errors():
        # Keys only: the kind of a piece, which pydantic puts into the path, says nothing.
        place = ".".join(str(key + 1) if isinstance(key, int) else str(key) for key in item["loc"])
        text = item["msg"].removeprefix("Value error, ")
        found.append(f"{place}: {text}" if place else text)
    many = f"{len(found)} faults: " if len(found) > 1 else "a fault: "
    more = f"; and {len(found) - 4} more" if len(found) > 4 else ""
    return many + "; ".join(found[:4]) + more


_NUMBER_ROW = re.compile(r"\[\s*(-?[\d.][^\[\]{}\"]*?)\s*\]")


def dumps(project: Project) -> str:
    """The document as JSON text for people: two blanks of indent, rows of numbers on one line."""
    tree = kept_designs.tree_of(project)
    _finite(tree, "")
    text = json.dumps(tree, indent=2, ensure_ascii=False, allow_nan=False)
    return _NUMBER_ROW.sub(lambda m: "[" + " ".join(m[1].split()) + "]", text) + "\n"


def _finite(node: Any, place: str) -> None:
    if isinstance(node, float) and not math.isfinite(node):
        raise FileError(tr_format("{0} is not a finite number and cannot be written", place))
    if isinstance(node, dict):
        for key, item in node.items():
            _finite(item, f"{place}.{key}".lstrip("."))
    if isinstance(node, list | tuple):
        for index, item in enumerate(node):
            _finite(item, f"{place}[{index}]")


def write(project: Project, path: Path | str) -> None:
    """Write the project so that a crash at any moment leaves the old or the new file whole.

    Temporary file beside it, fsync, the old file kept as `NAME.previous`, rename. Raises
    FileError.
    """
    text = dumps(project)
    # What this program writes it has to read again: better no new file than one that is refused.
    loads(text, Path(path).name)
    write_text(text, Path(path), keep_previous=True)


def schema() -> dict[str, Any]:
    """The JSON Schema of the project file."""
    tree = Project.model_json_schema(by_alias=True)
    for name in ("Variant", "AdoptedDesign"):  # a file says what differs, the program holds the design
        part = tree["$defs"][name]
        del part["properties"]["design"]
        part["properties"]["differs"] = {"type": "object", "title": "What differs from the document, as a merge patch"}
        part["required"] = [entry if entry != "design" else "differs" for entry in part["required"]]
    tree["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    tree["title"] = "Zarvik project"
    return tree


def problem_lines(error: ProjectProblems) -> list[str]:
    """One line for each problem, with its place in the file."""
    return [f"{problem.place}: {problem.text}" for problem in error.problems]

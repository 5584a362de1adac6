"""Drawings and bodies as files, by what the name of a file ends in."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path

import numpy as np

from zarvik.core.fabrication.drawing import Drawing
from zarvik.core.shape.mesh import tube
from zarvik.core.words import Fault
from zarvik.formats import drawings as drawn
from zarvik.project.document import Project
from zarvik.project.space import layout, place_of


def files(drawings: Sequence[Drawing], goal: Path, title: str, units: dict[str, str]) -> Iterator[tuple[Path, bytes]]:
    """Files and what is in them: one PDF of all `drawings` for a `goal` that ends in .pdf, called `title`; one file each,
    its key behind the name, for .dxf and .svg; words in `units`. Raises Fault for another ending."""
    kind = goal.suffix.lower()
    if kind == ".pdf":
        yield goal, drawn.pdf(drawings, title, units)
        return
    if kind not in (".dxf", ".svg"):
        raise Fault("drawings are written as .pdf, .svg or .dxf, not as “{0}”", kind or goal.name)
    write = drawn.dxf if kind == ".dxf" else drawn.svg
    for drawing in drawings:
        path = goal if len(drawings) == 1 else goal.with_name(f"{goal.stem}-{drawing.key}{goal.suffix}")
        yield path, write(drawing, units).encode("utf-8")


def bodies(project: Project, runs: Sequence[str]) -> list[tuple[np.ndarray, np.ndarray]]:
    """The tubes of the `runs` (their places), each where it stands in the car. Raises Fault where none has a length."""
    found = [tube(line.placed) for line in layout(project).lines if place_of(line.key) in runs and not _other(line.key)]
    found = [body for body in found if len(body[1])]
    if not found:
        raise Fault("there is no tube with a length")
    return found


def _other(key: str) -> bool:
    """The second bank's runs that follow from the first one's."""
    return key.endswith(":2")

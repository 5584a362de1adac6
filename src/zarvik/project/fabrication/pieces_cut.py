"""What is cut already: ticked off piece by piece, each with what it was cut to, so that a later change of the design is told."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Sequence

from zarvik.project.document.document import MOST_CUT, Project
from zarvik.project.fabrication.cut_list import Cut

NOT_CUT, CUT_AS_NOW, CUT_BEFORE = "", "cut", "changed"


def mark_of(cut: Cut) -> str:
    """Key of a piece and what it is cut to, to a tenth of a millimetre and of a degree."""
    sizes = [round(1e4 * x) for x in (cut.tube, cut.wall, cut.length, cut.radius, *cut.legs)]
    turns = [round(10.0 * math.degrees(x)) for x in (cut.angle, cut.roll or 0.0, cut.first or 0.0)]
    text = f"{cut.kind} {cut.material} {sizes} {turns}"
    return f"{cut.key}:{hashlib.sha256(text.encode('utf-8')).hexdigest()[:6]}"


def cut_state(project: Project, cut: Cut) -> str:
    """`NOT_CUT`, `CUT_AS_NOW`, or `CUT_BEFORE`: it was cut to other sizes than it has now."""
    mark = mark_of(cut)
    if mark in project.pieces_cut:
        return CUT_AS_NOW
    return CUT_BEFORE if any(other.rpartition(":")[0] == cut.key for other in project.pieces_cut) else NOT_CUT


def with_cut(project: Project, cut: Cut, cuts: Sequence[Cut]) -> Project:
    """The document in which a piece is ticked off as it is now, or not any more where it was; pieces that are not among the `cuts` of the
    design any more are forgotten."""
    keys = {other.key for other in cuts}
    left = tuple(mark for mark in project.pieces_cut if (key := mark.rpartition(":")[0]) in keys and key != cut.key)
    done = () if cut_state(project, cut) == CUT_AS_NOW else (mark_of(cut),)
    return project.model_copy(update={"pieces_cut": (*left, *done)[-MOST_CUT:]})

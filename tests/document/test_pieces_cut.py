"""Pieces that are ticked off: what was cut to other sizes is told, what is gone is forgotten, the design is the same."""

from __future__ import annotations

import dataclasses
import math
from pathlib import Path

from zarvik.formats import project_file, shipped
from zarvik.formats.paper_stamp import revision
from zarvik.project.edits.edits import with_value
from zarvik.project.fabrication.cut_list import Cut, cut_list
from zarvik.project.fabrication.pieces_cut import CUT_AS_NOW, CUT_BEFORE, NOT_CUT, cut_state, mark_of, with_cut
from zarvik.project.layout.layout import all_runs
from zarvik.project.variants.variants import differences, enter, keep, same_design
from zarvik.workspace.solving import Result, Solving


def cuts_of(project) -> list[Cut]:  # type: ignore[no-untyped-def]
    """Every piece that is cut."""
    return [cut for run in cut_list(project, all_runs(project)).runs for cut in run.cuts]


def test_a_piece_is_cut_and_the_design_changes(tmp_path: Path) -> None:
    """Ticked, saved and read again; a longer pipe makes it one that was cut to other sizes, and the old length makes it right again; ticked
    again it is of the new length; ticked twice it is not cut."""
    project = shipped.demo("tarn")
    cuts = cuts_of(project)
    straight = next(cut for cut in cuts if cut.kind == "straight" and cut.key in {p.id for p in project.cold_pipe})
    ticked = with_cut(project, straight, cuts)
    assert cut_state(project, straight) == NOT_CUT and cut_state(ticked, straight) == CUT_AS_NOW
    assert sum(cut_state(ticked, cut) != NOT_CUT for cut in cuts) == 1
    project_file.write(ticked, tmp_path / "t.zarvik.json")
    assert project_file.read(tmp_path / "t.zarvik.json").pieces_cut == ticked.pieces_cut
    place = f"cold_pipe.{straight.key}.length"
    longer = with_value(ticked, place, project.cold_pipe[[p.id for p in project.cold_pipe].index(straight.key)].length.with_si(0.4321))
    (now,) = [cut for cut in cuts_of(longer) if cut.key == straight.key]
    assert cut_state(longer, now) == CUT_BEFORE
    again = with_cut(longer, now, cuts_of(longer))
    assert cut_state(again, now) == CUT_AS_NOW and len(again.pieces_cut) == 1
    assert cut_state(with_cut(ticked, straight, cuts), straight) == NOT_CUT


def test_every_size_of_a_piece_counts() -> None:
    """Any of its sizes that a saw or a hand can tell makes another mark; less than a twentieth of a millimetre or degree does not."""
    cut = Cut(
        name="b",
        kind="bend",
        tube=0.0635,
        length=0.15,
        radius=0.095,
        angle=1.5,
        roll=0.3,
        key="b1",
        legs=(0.02, 0.0),
        wall=0.0016,
        material="steel",
    )
    for changed in (
        {"kind": "mitre"},
        {"tube": 0.0634},
        {"length": 0.1502},
        {"radius": 0.0952},
        {"angle": 1.5 + math.radians(0.2)},
        {"roll": -0.3},
        {"roll": None, "first": 0.3},
        {"legs": (0.02, 0.01)},
        {"wall": 0.002},
        {"material": "stainless"},
        {"key": "b2"},
    ):
        if changed == {"roll": None, "first": 0.3}:
            changed = {"roll": None, "first": 0.4}
        assert mark_of(dataclasses.replace(cut, **changed)) != mark_of(cut), changed  # type: ignore[arg-type]
    assert mark_of(dataclasses.replace(cut, length=cut.length + 3e-5, name="another name", label="x")) == mark_of(cut)


def test_it_is_beside_the_design() -> None:
    """A tick is no other revision and no difference of a variant; who goes back to a variant has cut what he has cut; pieces that are gone
    are forgotten with the next tick."""
    project = shipped.demo("tarn")
    cuts = cuts_of(project)
    ticked = with_cut(project, cuts[0], cuts)
    assert revision(ticked) == revision(project) and same_design(ticked, project) and not differences(ticked, project)
    kept = keep(project, "before")
    assert enter(with_cut(kept, cuts[0], cuts), "before").pieces_cut == ticked.pieces_cut
    gone = ticked.model_copy(update={"pieces_cut": (*ticked.pieces_cut, "nobody:000000")})
    assert with_cut(gone, cuts[1], cuts).pieces_cut == (mark_of(cuts[0]), mark_of(cuts[1]))


def test_a_tick_is_answered_at_once() -> None:
    """What is known of the design is known of it with a piece ticked off: nothing is solved anew."""
    project = shipped.demo("tarn")
    cuts = cuts_of(project)
    solving = Solving()
    result = Result(project, None, (), 1.0)
    solving._kept.append(result)
    found = solving._known(with_cut(project, cuts[0], cuts))
    assert found is not None and found.seconds == 1.0 and found.project.pieces_cut
    boost = project.goal.target_boost
    assert solving._known(with_value(project, "goal.target_boost", boost.with_si(1.01 * boost.si))) is None

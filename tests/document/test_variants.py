"""Variants: kept, entered, compared; and ten thousand edits that come back to where they began."""

from __future__ import annotations

import json
import random
from pathlib import Path

import pytest

from zarvik.formats import project_file, shipped
from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.piece import PIECE_MODELS
from zarvik.project.edits import edits
from zarvik.project.edits.history import History
from zarvik.project.edits.piece_edits import insert_piece, move_piece, remove_piece
from zarvik.project.units.units import KINDS, EntryError, Quantity, parse
from zarvik.project.variants import variants


def test_keep_change_and_go_back(tarn: Project, tmp_path: Path) -> None:
    """A kept design survives an edit, a file and the way back; what stands beside it stays."""
    kept = variants.keep(tarn, "  as   bought ")
    assert variants.names(kept) == (*variants.names(tarn), "as bought")
    wider = edits.with_value(kept, "cold_pipe.c-run.bore", parse("2.5 in", "length"))
    other = edits.with_value(wider, "units", "inch")
    path = tmp_path / "v.zarvik.json"
    project_file.write(other, path)
    again = project_file.read(path)
    assert again == other
    back = variants.enter(again, "as bought")
    assert back.units == "inch"
    assert back.variants == again.variants
    assert variants.same_design(back, tarn)
    assert not variants.same_design(again, tarn)
    assert variants.names(variants.remove(back, "as bought")) == variants.names(tarn)


def test_names_of_variants(tarn: Project) -> None:
    """Empty, too long and taken names are refused with a sentence; a free one is proposed."""
    kept = variants.keep(tarn, "A")
    for bad in ("", "   ", "x" * 61, "A"):
        with pytest.raises(EntryError):
            variants.keep(kept, bad)
    assert variants.free_name(kept) == "B"
    with pytest.raises(KeyError):
        variants.enter(kept, "nobody")


def test_a_file_with_bad_variants_is_refused(tarn: Project) -> None:
    """Two of one name, or a variant within a variant: one clear sentence."""
    one = variants.keep(tarn, "A")
    twice = one.model_copy(update={"variants": one.variants * 2})
    with pytest.raises(project_file.FileError, match="same name"):
        project_file.loads(project_file.dumps(twice))
    deep = json.loads(project_file.dumps(one))
    deep["variants"][0]["differs"]["variants"] = []
    with pytest.raises(project_file.FileError, match="cannot have its own “variants”"):
        project_file.loads(json.dumps(deep))


def test_differences_name_every_entry(tarn: Project) -> None:
    """Each edit shows up once, with its place, its words and both values in their own units; the
    same quantity in another unit is no difference."""
    other = edits.with_value(tarn, "goal.target_boost", parse("16 psi", "pressure_gauge"))
    other = edits.with_value(other, "engine.fuel", "e85")
    other = edits.with_value(other, "turbos.c54-71.turbine.housing", parse("19 mm", "length"))
    other = edits.with_value(other, "intercooler.fitted", False)
    other = remove_piece(other, "c-up")
    other, key = insert_piece(other, "exhaust", 0, "bend")
    found = {d.place: d for d in variants.differences(tarn, other)}
    assert found["goal.target_boost"].title == "Goal: Target boost"
    assert (found["goal.target_boost"].one, found["goal.target_boost"].two) == ("1.1 bar", "16 psi")
    assert found["engine.fuel"].two == "E85"
    assert found["turbos.c54-71.turbine.housing"].title == "Turbine: Housing A/R"
    assert found["intercooler.fitted"].two == "no"
    assert found["cold_pipe.c-up"].two == "–"
    assert found[f"exhaust.{key}"].one == "–"
    assert len(found) == 6
    same = edits.with_value(tarn, "goal.target_boost", parse("110 kPa", "pressure_gauge"))
    assert variants.differences(tarn, same) == ()


def places(project: Project) -> list[str]:
    """Every place that holds a quantity."""
    found = [
        f"{room}.{name}"
        for room in ("goal", "engine", "wastegate", "intercooler", "bay")
        for name in type(getattr(project, room)).model_fields
    ]
    for run in edits.RUNS:
        for piece in getattr(project, run):
            found += [f"{run}.{piece.id}.{name}" for name in type(piece).model_fields]
    return [p for p in found if isinstance(edits.meta(project, p), QuantitySpec)]


def random_edit(chance: random.Random, project: Project) -> Project:
    """One edit of any kind that the window can make; may be refused."""
    kind = chance.random()
    run = chance.choice(edits.RUNS)
    pieces = getattr(project, run)
    if kind < 0.70:
        place = chance.choice(places(project))
        meta = edits.meta(project, place)
        assert isinstance(meta, QuantitySpec)
        low, high = meta.limits
        value = low + chance.random() * (high - low)
        unit = chance.choice([u for u in KINDS[meta.kind]])
        number = float(f"{unit.from_si(value):.4g}")
        if meta.kind == "count":
            number = float(round(number))
        return edits.with_value(project, place, Quantity(number, unit.symbol, meta.kind))
    if kind < 0.80:
        piece = chance.choice(sorted(PIECE_MODELS))
        return insert_piece(project, run, chance.randint(0, len(pieces)), piece)[0]
    if kind < 0.88 and pieces:
        return remove_piece(project, chance.choice(pieces).id)
    if kind < 0.94 and pieces:
        return move_piece(project, chance.choice(pieces).id, chance.randint(0, 8))
    if kind < 0.97:
        return variants.keep(project, variants.free_name(project))
    if project.variants:
        name = chance.choice(variants.names(project))
        change = variants.enter if chance.random() < 0.5 else variants.remove
        return change(project, name)
    return edits.with_value(project, "engine.fuel", chance.choice(["petrol98", "e85", "methanol"]))


def test_thousands_of_edits_undone_and_redone() -> None:
    """Property: random edits, undo and redo in any order; all the way back is the document of the
    beginning, all the way forward the one of the end, and both survive their file."""
    chance = random.Random(20_640)
    begin = shipped.demo("tarn")
    history = History(begin)
    made = 0
    while made < 1_500:
        made += 1
        lot = chance.random()
        if lot < 0.12:
            history.undo()
        elif lot < 0.20:
            history.redo()
        else:
            try:
                changed = random_edit(chance, history.project)
            except (EntryError, ValueError):
                continue
            key = "drag" if chance.random() < 0.3 else None
            history.apply(f"edit {made}", changed, key)
    while history.redo():
        pass
    end = history.project
    steps = history.position
    while history.undo():
        pass
    assert history.project == begin
    assert project_file.dumps(history.project) == project_file.dumps(begin)
    while history.redo():
        pass
    assert history.position == steps > 800
    assert history.project is end
    assert project_file.loads(project_file.dumps(end)) == end

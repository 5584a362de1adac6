"""Designs that a document keeps: the file says what differs, as a merge patch, and gives the same designs back."""

from __future__ import annotations

import json
import random
from typing import Any

import pytest

from large import large
from zarvik.formats import kept_designs, project_file, shipped
from zarvik.formats.project_file import FileError
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse
from zarvik.project.variants import variants

# Target, patch, result: the examples of RFC 7386, appendix A, but those whose patch has a null inside a list or a
# whole new part, which say how null is cleaned out of what is new: a document has none there.
MERGES = [
    ({"a": "b"}, {"a": "c"}, {"a": "c"}),
    ({"a": "b"}, {"b": "c"}, {"a": "b", "b": "c"}),
    ({"a": "b"}, {"a": None}, {}),
    ({"a": "b", "b": "c"}, {"a": None}, {"b": "c"}),
    ({"a": ["b"]}, {"a": "c"}, {"a": "c"}),
    ({"a": "c"}, {"a": ["b"]}, {"a": ["b"]}),
    ({"a": {"b": "c"}}, {"a": {"b": "d", "c": None}}, {"a": {"b": "d"}}),
    ({"a": [{"b": "c"}]}, {"a": [1]}, {"a": [1]}),
    (["a", "b"], ["c", "d"], ["c", "d"]),
    ({"a": "b"}, ["c"], ["c"]),
    ({"e": None}, {"a": 1}, {"e": None, "a": 1}),
    ([1, 2], {"a": "b"}, {"a": "b"}),
]


LINES = 800


@pytest.mark.parametrize(("target", "patch", "result"), MERGES)
def test_the_published_examples(target: Any, patch: Any, result: Any) -> None:
    """RFC 7386 (JSON Merge Patch), appendix A."""
    assert kept_designs.patched(target, patch) == result


def _random_tree(dice: random.Random, depth: int = 0) -> Any:
    kind = dice.randrange(5 if depth < 4 else 2)
    if kind == 0:
        return dice.choice(["1 mm", "2 mm", 7, True])
    if kind == 1:
        return dice.choice(["a", "b", 3.5])
    if kind == 2:
        return {key: _random_tree(dice, depth + 1) for key in dice.sample("abcdefg", dice.randrange(5))}
    if kind == 3:
        return [_random_tree(dice, depth + 1) for _ in range(dice.randrange(4))]
    return [{"id": key, "x": _random_tree(dice, depth + 1)} for key in dice.sample("pqrstu", dice.randrange(6))]


def test_what_differs_makes_the_other() -> None:
    """Any two trees, parts with keys put in, taken out, changed and in another order."""
    dice = random.Random(17)
    moved = 0
    for _ in range(3000):
        one = {"room": _random_tree(dice)}
        two = {"room": _random_tree(dice)}
        before = json.dumps(one)
        assert kept_designs.patched(one, kept_designs.differs(one, two)) == two
        assert json.dumps(one) == before
        moved += "order" in json.dumps(kept_designs.differs(one, two))
    assert moved > 50


def test_a_part_moved_up_is_told_by_its_key() -> None:
    """The list is not repeated for one entry of one part."""
    parts = [{"id": f"p{n}", "length": "100 mm", "bore": "50 mm"} for n in range(50)]
    other = [*parts[1:10], {**parts[0], "length": "90 mm"}, *parts[10:]]
    patch = kept_designs.differs(parts, other)
    assert patch["changed"] == {"p0": {"length": "90 mm"}} and len(patch["order"]) == 50
    assert kept_designs.patched(parts, patch) == other


def test_variants_come_back_and_share_what_they_can(tarn: Project) -> None:
    """A file gives every kept design back; the rooms that it has in common are held once."""
    for change in (
        ("goal.target_power", parse("290 hp", "power")),
        ("wastegate.spring", parse("0.9 bar", "pressure_gauge")),
        ("note", "other"),
    ):
        tarn = variants.keep(with_value(tarn, *change), f"with {change[0]}")
    text = project_file.dumps(tarn)
    again = project_file.loads(text)
    assert again == tarn
    first = again.variants[-1].design
    assert first.intake is again.intake and first.joints is again.joints
    said = json.loads(text)["variants"][-3]["differs"]
    assert said["wastegate"]["spring"] == str(shipped.demo("tarn").wastegate.spring) and "intake" not in said


def test_a_large_document_is_said_once() -> None:
    """Many variants of many lines: the file is not much longer than one without a variant; all of them come back."""
    project = large(pieces=60, lines=LINES, kept=10)
    bare = project.model_copy(update={"variants": ()})
    text = project_file.dumps(project)
    assert len(text) < 1.1 * len(project_file.dumps(bare))
    again = project_file.loads(text)
    assert again == project and len(again.joints) == LINES
    # One line of the connection list differs in each: one line is said, not five thousand.
    lines = project.joints
    moved = tuple(
        v.model_copy(
            update={
                "design": v.design.model_copy(
                    update={"joints": (*lines[:n], lines[n].model_copy(update={"name": "Other"}), *lines[n + 1 :])}
                )
            }
        )
        for n, v in enumerate(project.variants)
    )
    other = project.model_copy(update={"variants": moved})
    assert len(project_file.dumps(other)) < 1.2 * len(text)
    assert project_file.loads(project_file.dumps(other)) == other


@pytest.mark.parametrize(
    ("differs", "said"),
    [
        ({"goal": {"target_power": "a lot"}}, "58 mm wheel.*target_power"),
        ({"goal": {"target_power": "-3 hp"}}, "58 mm wheel.*Target power"),
        ({"schema_version": 3}, "cannot have its own “schema_version”"),
        ({"variants": []}, "cannot have its own “variants”"),
        ({"turbo": "nobody"}, "not among the candidates"),
        ({"turbos": {"changed": {}, "order": ["nobody"]}}, "unknown part"),
        ({"turbos": {"changed": []}}, "have no keys"),
        ({"turbos": {"changed": {"c54-71": {"id": "c58-76"}}}}, "same key"),
        ({"turbos": {"changed": {"c54-71": {"id": "c60"}}}}, "not among the candidates"),
        ({"intake": 7}, "intake"),
        ({"intake": {"changed": {"new": {"kind": "straight"}}, "order": ["new"]}}, "intake"),
        ({"goal": 7}, "goal"),
    ],
)
def test_a_kept_design_with_a_fault_is_named(differs: dict[str, Any], said: str) -> None:
    """A clear sentence, with the name of the variant."""
    tree = json.loads(project_file.dumps(shipped.demo("tarn")))
    tree["variants"][0]["differs"] = differs
    with pytest.raises(FileError, match=said):
        project_file.loads(json.dumps(tree))


def test_a_room_taken_away_is_as_new() -> None:
    """Null takes an entry away: what nobody says has its default; an unknown room goes."""
    tree = json.loads(project_file.dumps(shipped.demo("tarn"))) | {"later": {"a": 1}}
    tree["variants"][0]["differs"] = {"wastegate": None, "later": None}
    design = project_file.loads(json.dumps(tree)).variants[0].design
    assert design.wastegate.spring == Project().wastegate.spring and not design.model_extra
    assert project_file.loads(json.dumps(tree)).model_extra == {"later": {"a": 1}}


def test_a_blower_that_an_older_file_leaves_unsaid_keeps_its_size() -> None:
    """450 cm³ stood for it until version 6, in the document and in its variants."""
    tree = json.loads(project_file.dumps(shipped.demo("moth")))
    del tree["blower"]["displacement"]
    whole = {key: item for key, item in tree.items() if key not in kept_designs.NEVER}
    other = {**whole, "goal": {**tree["goal"], "target_power": "90 hp"}}
    old = project_file.loads(json.dumps({**tree, "schema_version": 6, "variants": [{"name": "A", "design": other}]}))
    for design in (old, old.variants[0].design):
        assert str(design.blower.displacement) == "450 cm³"
    assert str(old.variants[0].design.goal.target_power) == "90 hp"
    assert str(project_file.loads(json.dumps(tree)).blower.displacement).startswith("?")


def test_what_a_later_program_wrote_is_kept_in_kept_designs_too() -> None:
    """Rooms that this program does not know: of the document, of a variant, of both, changed in one."""
    tree = json.loads(project_file.dumps(shipped.demo("tarn"))) | {"later": {"a": 1}, "both": {"b": 1, "c": 2}}
    tree["variants"][0]["differs"] |= {"own": {"d": 4}, "both": {"b": 7}}
    project = project_file.loads(json.dumps(tree))
    assert project.variants[0].design.model_extra == {"later": {"a": 1}, "both": {"b": 7, "c": 2}, "own": {"d": 4}}
    assert project.variants[1].design.model_extra == project.model_extra == {"later": {"a": 1}, "both": {"b": 1, "c": 2}}
    again = project_file.loads(project_file.dumps(project))
    assert again == project and again.variants[0].design.model_extra == project.variants[0].design.model_extra

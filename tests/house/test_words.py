"""The words of the screen, of lists and of messages: plain English of the trade, one word for one thing."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from functools import cache
from pathlib import Path

import pytest

from sources import tree as tree_of
from zarvik.core.ducts.pieces import KINDS
from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec

SOURCE = Path(__file__).parents[2] / "src" / "zarvik"
# What a builder would laugh at, or what has another word in the glossary
FORMER = (
    r"verdicts?|doubt|doubts|shelf|ghosts?|gate|gates|trusted|swallows?|asked for|asks for|is told|air of the day|nobody knows|nobody says"
    r"|gives back|takes it over|at the most|at the least|as it came|its gas|room to surge|(?:the|charge|no) cooler"
)
# Shops of a tongue of their own: what units are called, what an error of the parser is cut from
ALLOWED = {"Cooler", "cooler", "charge cooler"}
WORDS = 25


@cache
def _nodes() -> dict[Path, list[ast.AST]]:
    """Every file of the program, taken apart once."""
    return {path: list(ast.walk(tree_of(path))) for path in sorted(SOURCE.rglob("*.py"))}


@cache
def _texts(path: Path) -> list[ast.Constant]:
    """Texts of a file that are no docstrings."""
    docs = {id(node.value) for node in _nodes()[path] if isinstance(node, ast.Expr)}
    return [n for n in _nodes()[path] if isinstance(n, ast.Constant) and isinstance(n.value, str) and id(n) not in docs]


@cache
def _said() -> tuple[tuple[str, str], ...]:
    """Where a text of more than a word stands, and the text; docstrings, keys and patterns are none."""
    return tuple(
        (f"{path.relative_to(SOURCE)}:{node.lineno}", node.value) for path in _nodes() for node in _texts(path) if " " in node.value.strip()
    )


def _metas() -> Iterator[QuantitySpec | Choice | TextSpec]:
    """Every kind of entry that a document can have."""
    seen: set[int] = set()
    models: list[type] = [Project]
    while models:
        model = models.pop()
        if id(model) in seen or not hasattr(model, "model_fields"):
            continue
        seen.add(id(model))
        for field in model.model_fields.values():
            yield from (m for m in field.metadata if isinstance(m, QuantitySpec | Choice | TextSpec))
            stack = [field.annotation]
            while stack:
                one = stack.pop()
                stack += list(getattr(one, "__args__", ()))
                if isinstance(one, type):
                    models.append(one)


def test_nothing_is_said_in_former_words() -> None:
    """A text that a person reads has the words of the glossary."""
    pattern = re.compile(rf"\b({FORMER})\b", re.IGNORECASE)
    found = []
    for place, text in _said():
        bare = re.sub(r"\{[^}]*\}|\[[^|\]]*\|", " ", text)
        if pattern.search(bare) and text not in ALLOWED and re.search("[a-z] [a-z]", bare):
            found.append((place, text))
    assert not found, found


def _named(node: ast.expr, name: str) -> bool:
    return isinstance(node, ast.Name) and node.id == name


def test_no_text_names_a_class() -> None:
    """A name of the program that got into a text, as by renaming a class: “JobStore for the tuner”."""
    names = {node.name for nodes in _nodes().values() for node in nodes if isinstance(node, ast.ClassDef)}
    names = {name for name in names if re.fullmatch(r"(?:[A-Z][a-z0-9]+){2,}", name)}
    assert len(names) > 150
    found = []
    word = re.compile("|".join(rf"\b{name}\b" for name in sorted(names - {"AdoptedDesign"})))
    for path, nodes in _nodes().items():
        told = [n for n in _texts(path) if word.search(n.value)]
        if not told:
            continue
        meant = {id(n) for node in nodes if isinstance(node, ast.Assign) and _named(node.targets[0], "__all__") for n in ast.walk(node)}
        # Where it is read by its name later, and in the schema of a file
        meant |= {id(n) for node in nodes if isinstance(node, ast.Call) and _named(node.func, "_later") for n in node.args}
        found += [f"{path.name}:{n.lineno} {n.value}" for n in told if id(n) not in meant]
    assert not found, found


def test_no_sentence_is_long() -> None:
    """At most 25 words from one stop to the next; a formula is no sentence."""
    found = []
    for place, text in _said():
        for sentence in re.split(r"(?<=[.;:!?])\s", text):
            words = [w for w in sentence.split() if re.search("[a-z]{2}", w)]
            if len(words) > WORDS:
                found.append((place, sentence))
    assert not found, found


def test_a_label_is_a_noun_phrase() -> None:
    """Quantity last, never an adjective; no pronoun without its noun; not a sentence."""
    labels = {meta.title for meta in _metas()} | {p.title for kind in KINDS.values() for p in kind.parameters}
    assert len(labels) > 150
    wrong = [
        label
        for label in labels
        if re.search(r"\b(wide|long|high|thick|deep|across|weighs|takes|goes|is)$", label)
        or re.match(r"(Its|Of|For|In|Where|Sees|What)\b", label)
        or label.endswith(".")
        or len(label) > 44
    ]
    assert not wrong, wrong


def test_an_empty_field_says_what_stands_in() -> None:
    """Where zero is no value of its own the field is empty, with a few grey words."""
    blanks = {meta.title: meta.blank for meta in _metas() if isinstance(meta, QuantitySpec) and meta.blank}
    assert len(blanks) > 50
    assert all(len(words) <= 22 and words[0].islower() for words in blanks.values()), blanks
    for meta in _metas():
        if isinstance(meta, QuantitySpec):
            assert not re.search(r"\b0: |\b0 (for|while|where)\b", meta.help), (meta.title, meta.help)


@pytest.mark.parametrize("text", ["", "  "])
def test_an_empty_text_is_read_as_nothing(text: str) -> None:
    """Typed or in a file; as zero it is written empty again, in the field's own unit, and what is more is written as it is."""
    for meta in _metas():
        if isinstance(meta, QuantitySpec) and meta.blank:
            found = meta.read(text)
            assert found.si == 0.0 and meta.written(found) == ""
            low, high = meta.limits
            assert low <= 0.0 < high and meta.check(found) == found
            half = meta.read(f"{meta.high}")
            assert meta.written(half) == str(half) != ""

"""Nothing stands in the program that nobody asks for."""

from __future__ import annotations

import ast
import re
from collections import Counter
from pathlib import Path

import zarvik
from sources import tree as tree_of

SOURCES = sorted(Path(zarvik.__file__).parent.rglob("*.py"))
# Asked for by tests alone, which are the rule that they stand for: the contrast of inks, a language of long words, frames that face
# somewhere, what checks may be about, the whole span of a pulse
FOR_TESTS = {"contrast", "lengthened", "frame_facing", "SUBJECTS", "Factors.trough"}
KEYS = {"LOG"}  # one of the keys of a choice, which the document names
CALLED_BY_OTHERS = {"Project.model_config", "Part.model_config"}  # pydantic's
OVERRIDE = re.compile(r"[a-z]+([A-Z][a-z0-9]*)+")  # of the toolkit: they are called from there


def asked_for(trees: list[ast.Module]) -> Counter[str]:
    """How often each name is read, called, or written in a string as a name; a field that is only given by its name when a record is made
    is read by nobody."""
    found: Counter[str] = Counter()
    for tree in trees:
        for node in ast.walk(tree):
            if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Load):
                found[node.id] += 1
            elif isinstance(node, ast.Attribute):
                found[node.attr] += 1
            elif isinstance(node, ast.Constant) and isinstance(node.value, str) and len(node.value) < 80:
                found.update(re.findall(r"[A-Za-z_]\w*", node.value) if re.fullmatch(r"[\w.\[\], |:]+", node.value) else ())
    return found


def made(tree: ast.Module | ast.ClassDef, owner: str = "") -> list[tuple[str, str]]:
    """Names that a module and its classes make, with their owner; validators are called by their decorator."""
    found = []
    for node in tree.body:
        if isinstance(node, ast.FunctionDef):
            if not any("valid" in ast.unparse(d) or "serial" in ast.unparse(d) for d in node.decorator_list):
                found.append((owner + node.name, node.name))
        elif isinstance(node, ast.ClassDef):
            found += [(owner + node.name, node.name), *made(node, f"{node.name}.")]
        elif isinstance(node, ast.Assign | ast.AnnAssign):
            for target in node.targets if isinstance(node, ast.Assign) else [node.target]:
                names = [n for n in ast.walk(target) if isinstance(n, ast.Name) and isinstance(n.ctx, ast.Store)]
                found += [(owner + n.id, n.id) for n in names]
    return found


def test_every_name_is_asked_for() -> None:
    """Each function, class, method and constant is named somewhere in the program beside where it is made."""
    trees = [tree_of(path) for path in SOURCES]
    asked = asked_for(trees)
    dead = {
        full
        for tree in trees
        for full, name in made(tree)
        if not asked[name] and not name.startswith("__") and not OVERRIDE.fullmatch(name)
    }
    assert dead - FOR_TESTS - CALLED_BY_OTHERS == set()
    assert dead >= FOR_TESTS, "no longer dead: take it off the list"


def test_every_name_of_a_file_is_asked_for_where_it_stands() -> None:
    """What stands in a file by itself is read in it, brought from it by name, or asked of it: another one of the same name does not
    count."""
    trees = {path: tree_of(path) for path in SOURCES}
    brought: set[tuple[str, str]] = set()
    asked: set[str] = set()
    for tree in trees.values():
        for node in ast.walk(tree):
            if isinstance(node, ast.ImportFrom) and node.module:
                brought.update((node.module, alias.name) for alias in node.names)
            elif isinstance(node, ast.Attribute):
                asked.add(node.attr)
            elif isinstance(node, ast.Constant) and isinstance(node.value, str):
                asked.update(node.value.split("."))
    dead = []
    for path, tree in trees.items():
        module = ".".join(("zarvik", *path.relative_to(SOURCES[0].parent).with_suffix("").parts)).removesuffix(".__init__")
        own = {n.id for n in ast.walk(tree) if isinstance(n, ast.Name) and isinstance(n.ctx, ast.Load)}
        names = {full for full, name in made(tree) if full == name and not name.startswith("__")}
        dead += [f"{module}.{name}" for name in names - own - asked if (module, name) not in brought and name not in FOR_TESTS | KEYS]
    assert dead == []


def test_the_look_finds_what_is_dead() -> None:
    """A constant, a function and a field that nobody reads; not what is only read in a string of names."""
    tree = ast.parse(
        "A = 1\nB = 2\ndef f():\n    return B\nclass C:\n    x: int\n    def g(self):\n        return getattr(self, 'x')\nC().g()\n"
    )
    asked = asked_for([tree])
    assert {full for full, name in made(tree) if not asked[name]} == {"A", "f"}

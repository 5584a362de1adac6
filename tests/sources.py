"""The program's files, parsed once for all rules that look through them."""

from __future__ import annotations

import ast
from functools import lru_cache
from pathlib import Path


@lru_cache(2000)
def tree(path: Path) -> ast.Module:
    """A file as a tree; nobody changes it."""
    return ast.parse(path.read_text("utf-8"))


@lru_cache(2000)
def nodes(path: Path) -> tuple[ast.AST, ...]:
    """Everything in the tree of a file."""
    return tuple(ast.walk(tree(path)))

"""Writes the table of all relations into docs/methods.md."""

from __future__ import annotations

from pathlib import Path

from zarvik.core.relations.table import table

PAGE = Path(__file__).parents[1] / "docs" / "methods.md"

if __name__ == "__main__":
    head = PAGE.read_text("utf-8").partition("| relation |")[0]
    PAGE.write_text(head + table(), "utf-8")

"""Words that builders use for what the program calls otherwise, from its data folder."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources


@lru_cache(1)
def synonyms() -> tuple[tuple[str, str], ...]:
    """Pairs of what is said and what it is called, in lower case."""
    text = (resources.files("zarvik.data") / "synonyms.csv").read_text("utf-8")
    rows = [line for line in text.splitlines() if line.strip() and not line.startswith("#")][1:]
    return tuple((said.strip(), called.strip()) for said, called in (row.split(",", 1) for row in rows))


def others(query: str) -> tuple[str, ...]:
    """The query with each of its words that is said otherwise put in the program's own. `query` in
    lower case; what is still being typed counts from its third letter."""
    found = []
    for said, called in synonyms():
        if said in query:
            found.append(query.replace(said, called))
        elif len(query) >= 3 and said.startswith(query):
            found.append(called)
    return tuple(dict.fromkeys(found))

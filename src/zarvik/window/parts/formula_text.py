"""A relation as rich text: symbols slanted with their index below, roots under a line, and the same
with the numbers put in."""

from __future__ import annotations

import html
import re
from collections.abc import Mapping

# A symbol: letters (Greek too) that may carry an index behind an underscore; names of functions and
# units stand upright.
_SYMBOL = re.compile(r"[A-Za-zΔ-ωτπ]+[0-9]?[a-z]?(?:_[A-Za-z0-9]+)?")
_POWER = re.compile(r"\^([-−]?[\d.]+)")
_UPRIGHT = {"bar", "ms", "m", "s", "map", "kPa", "K", "C", "ln", "exp", "J"}


def symbol(text: str) -> str:
    """A symbol in rich text."""
    name, _, index = text.partition("_")
    if not index:
        match = re.fullmatch(r"([A-Za-zΔ-ω]+)(\d[a-z]?)", name)
        if match:
            name, index = match[1], match[2]
    below = f"<sub>{html.escape(index)}</sub>" if index else ""
    return f"<i>{html.escape(name)}</i>{below}"


def _roots(text: str, inner: str) -> str:
    """Put what stands under a root under a line."""
    found, depth, start = "", 0, -1
    i = 0
    while i < len(text):
        if text.startswith("√(", i) and start < 0:
            start, depth = i + 2, 1
            i += 2
            continue
        if start >= 0:
            depth += {"(": 1, ")": -1}.get(text[i], 0)
            if depth == 0:
                found += f"√<span style='{inner}'>{text[start:i]}</span>"
                start = -1
        else:
            found += text[i]
        i += 1
    return found


def typeset(relation: str, known: Mapping[str, str] | None = None) -> str:
    """The relation as rich text; with `known`, symbols are replaced by what stands in it."""

    def one(match: re.Match[str]) -> str:
        text = match[0]
        if known is not None and text in known:
            return f"<b>{html.escape(known[text])}</b>"
        if text in _UPRIGHT and (known is None or text not in known):
            return html.escape(text)
        return symbol(text)

    plain = relation.replace("<", "&lt;").replace(">", "&gt;")
    raised = _POWER.sub(r"<sup>\1</sup>", _SYMBOL.sub(one, plain))
    return _roots(raised, "text-decoration: overline")

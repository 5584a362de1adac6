"""Tooltips in plain text: Qt guesses whether a tip is markup, and a name in one might be taken for it."""

from __future__ import annotations

import html

from zarvik.project.language.plain import looks_rich


def plain_tip(text: str) -> str:
    """What Qt shows as `text`, whatever stands in it. For every tip that somebody's words may get into: an
    event filter that looked at all tips would be asked about every event of the program."""
    return f"<qt>{html.escape(text)}</qt>" if looks_rich(text) else text

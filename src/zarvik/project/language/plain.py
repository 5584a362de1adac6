"""Text that somebody typed is text: nothing in it is markup, a path or a command to a terminal."""

from __future__ import annotations

import re
import unicodedata

_CONTROL = re.compile(r"[\x00-\x1f\x7f-\x9f\u200e\u200f\u202a-\u202e\u2066-\u2069\ufdd0-\ufdef\ufffe\uffff]")
_MARKS = {chr(n): chr(0x2400 + n) for n in range(32)} | {"\x7f": "\u2421"}


def visible(text: str) -> str:
    """`text` with its control characters made visible and what turns the direction of writing taken
    away, and what is no character (an XML file may not hold it): a terminal or a title shows it, and does nothing else."""
    return _CONTROL.sub(lambda m: _MARKS.get(m[0], ""), text)


def looks_rich(text: str) -> bool:
    """Might a widget that guesses take `text` for markup?"""
    return "<" in text or "&" in text


def file_name(text: str, suffix: str) -> str:
    """A name for a file from a project's name: no folders, nothing hidden, letters and digits."""
    plain = unicodedata.normalize("NFKC", visible(text)).lower()
    plain = re.sub(r"[^\w.-]+", "-", plain).strip("-.") or "project"
    return f"{plain[:80]}{suffix}"


def opening(text: str) -> str:
    """A message as a sentence of its own: with a capital."""
    return text[:1].upper() + text[1:]

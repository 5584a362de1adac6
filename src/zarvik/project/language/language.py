"""Words of the program in another language: every sentence that is shown goes through `tr`.

English is the language of the source. A catalogue is a standard gettext file,
`locale/LANGUAGE/LC_MESSAGES/zarvik.mo` in a folder named by `ZARVIK_LOCALE`; what it does not have
stays English. Figures, units and names of the owner are put in after the translation.
"""

from __future__ import annotations

import gettext
import math
import os
import re
from collections.abc import Callable

from zarvik.core.common.sentences import Fault

_VOWELS = str.maketrans("aeiouAEIOU", "áéíóúÁÉÍÓÚ")
_PLACE = re.compile(r"(\{[^}]*\}|\[[A-Za-z_0-9:\-/.=]+\||<[^>]+>)")


def _own(text: str) -> str:
    return text


_say: Callable[[str], str] = _own


def tr(text: str) -> str:
    """`text` in the language in force."""
    return _say(text)


def tr_format(template: str, *values: object) -> str:
    """`template` in the language in force, with its places (`{0}`) filled in."""
    return tr(template).format(*values)


def reason(error: Exception) -> str:
    """What an error says, in the language in force where it can be."""
    if isinstance(error, Fault):
        return tr_format(error.template, *error.values)
    return str(error)


def use(words: Callable[[str], str] | None) -> None:
    """Put a translation in force; None for the language of the source."""
    global _say
    _say = words or _own


def use_system() -> None:
    """The language of the desktop, where there is a catalogue for it."""
    folder = os.environ.get("ZARVIK_LOCALE")
    if folder:
        use(gettext.translation("zarvik", folder, fallback=True).gettext)


def _drawn_out(word: str) -> str:
    return word + word[-1] * math.ceil(0.35 * len(word)) if word[-1:].isalpha() else word


def lengthened(text: str) -> str:
    """A made-up language three tenths longer than English, for finding what has no room: accents on
    the vowels, and every word drawn out; places for figures stay."""
    parts = _PLACE.split(text)
    for i in range(0, len(parts), 2):
        words = parts[i].translate(_VOWELS).split(" ")
        parts[i] = " ".join(_drawn_out(w) for w in words)
    return "".join(parts)

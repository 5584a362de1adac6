"""What was decided, and why."""

from __future__ import annotations

from typing import Annotated

from pydantic import field_validator

from zarvik.project.document.fields import TextSpec
from zarvik.project.document.parts.part import Part
from zarvik.project.language.language import tr_format

_REASON = TextSpec("Reason", 600)
MOST_LINES = 30


class Decision(Part):
    """Which turbo was chosen: its `turbo` key and `name` at that time, the `reason` in the owner's words, and
    what was `given_up`, a line for each, as it stood when it was decided."""

    turbo: str = ""
    name: Annotated[str, TextSpec("Turbo", 80)] = ""
    reason: Annotated[str, _REASON] = ""
    given_up: tuple[str, ...] = ()

    @field_validator("given_up")
    @classmethod
    def _short(cls, lines: tuple[str, ...]) -> tuple[str, ...]:
        if len(lines) > MOST_LINES or any(len(line) > 300 for line in lines):
            raise ValueError(tr_format("The trade-offs can have at most {0} lines of 300 characters", MOST_LINES))
        return lines

"""Deliberate changes, a file for each subject."""

from __future__ import annotations

from deliberate import air_path, designs, document, hot_side, judged, register, space
from deliberate.change import Change

CHANGES: tuple[Change, ...] = tuple(
    change for part in (air_path, designs, document, hot_side, judged, register, space) for change in part.CHANGES
)

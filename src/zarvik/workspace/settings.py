"""The owner's settings: theme, scale, recent projects. A file that cannot be read or written is no
reason to stop: the defaults stand in."""

from __future__ import annotations

import dataclasses
import json
from dataclasses import dataclass, field
from pathlib import Path

from zarvik.formats import atomic_writer
from zarvik.workspace.folders import settings_file

SCALES = (1.0, 1.25, 1.5, 1.75, 2.0)
MOST_RECENT = 8


@dataclass(frozen=True)
class Settings:
    """`theme` "light" or "dark"; `scale` of everything on the screen, 1–2, from the next start;
    `recent` project files, the newest first; `next_steps` shown under the rail;
    `side` panel shown; `runs`: how much of the pressure run is shown, by the key of a phase, where somebody said so."""

    theme: str = "light"
    scale: float = 1.0
    recent: tuple[str, ...] = ()
    next_steps: bool = True
    side: bool = True
    runs: dict[str, str] = field(default_factory=dict)

    def opened(self, path: Path) -> Settings:
        """With a project at the head of the recent ones."""
        name = str(path.absolute())
        rest = [r for r in self.recent if r != name]
        return dataclasses.replace(self, recent=(name, *rest)[:MOST_RECENT])


def load() -> Settings:
    """The settings of the last time; what is missing or odd is left at its default."""
    try:
        tree = json.loads(settings_file().read_text("utf-8"))
    except (OSError, ValueError, RecursionError):
        return Settings()
    if not isinstance(tree, dict):
        return Settings()
    theme = tree.get("theme")
    scale = tree.get("scale")
    recent = tree.get("recent")
    runs = tree.get("runs")
    # Compared before it is turned: an integer of 400 digits is no float.
    good = isinstance(scale, int | float) and not isinstance(scale, bool) and 1.0 <= scale <= 2.0
    names = [r for r in recent if isinstance(r, str)] if isinstance(recent, list) else []
    return Settings(
        theme=theme if theme in ("light", "dark") else "light",
        next_steps=tree.get("next_steps") is not False,
        side=tree.get("side") is not False,
        runs={k: v for k, v in runs.items() if isinstance(v, str)} if isinstance(runs, dict) else {},
        scale=float(scale) if good and scale is not None else 1.0,
        recent=tuple(names[:MOST_RECENT]),
    )


def save(settings: Settings) -> None:
    """Remember the settings."""
    try:
        atomic_writer.write_text(json.dumps(dataclasses.asdict(settings)), settings_file())
    except atomic_writer.FileError:
        return

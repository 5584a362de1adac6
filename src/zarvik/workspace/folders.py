"""Where the program keeps what is not a project file."""

from __future__ import annotations

import os
from pathlib import Path

import platformdirs


def state_folder() -> Path:
    """Folder for journals and logs; `ZARVIK_STATE` overrides it."""
    chosen = os.environ.get("ZARVIK_STATE")
    return Path(chosen) if chosen else Path(platformdirs.user_state_dir("zarvik"))


def settings_file() -> Path:
    """File for the owner's settings (theme); `ZARVIK_STATE` overrides its folder."""
    chosen = os.environ.get("ZARVIK_STATE")
    folder = Path(chosen) if chosen else Path(platformdirs.user_config_dir("zarvik"))
    return folder / "settings.json"

"""Sources that several relations name."""

from __future__ import annotations

PRACTICE = "common practice, no source"

"""One record for each published method: what it is called, where it holds, where it comes from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Method:
    """A published way to get a number.

    `limits`: by argument name, (low, high) in SI; an argument without an entry has no published
    limit (which is not the same as none). `accuracy`: in the words of the source.
    """

    key: str
    title: str
    function: Callable[..., Any]
    limits: dict[str, tuple[float, float]]
    source: str
    accuracy: str

    def outside(self, **values: float) -> list[str]:
        """Which of `values` (SI) lie outside of the published limits, one sentence each."""
        found = []
        for name, value in values.items():
            low, high = self.limits.get(name, (float("-inf"), float("inf")))
            if not low <= value <= high:
                label = name.replace("_", " ")
                found.append(f"{label} {value:.4g} is outside {low:.4g} to {high:.4g} ({self.title})")
        return found

"""One record for each published method: what it is called, where it holds, where it comes from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from types import ModuleType
from typing import Any


@dataclass(frozen=True)
class Named:
    """A constant of a relation where the solver has it: its `module` and `name` there, its place in a tuple (`index`), what it
    is multiplied by to be shown (`scale`)."""

    module: ModuleType
    name: str
    index: int = -1
    scale: float = 1.0

    @property
    def value(self) -> float:
        """The number that stands there now, as it is shown."""
        found = getattr(self.module, self.name)
        return float(found if self.index < 0 else found[self.index]) * self.scale


@dataclass(frozen=True)
class Method:
    """A published way to get a number.

    `limits`: by argument name, (low, high) in SI; an argument without an entry has no published limit (which is not the same as none).
    `accuracy`: in the words of the source. `formula`: as a mechanic would write it, with places for its `constants`, which are read
    where the solver has them.
    """

    key: str
    title: str
    function: Callable[..., Any]
    limits: dict[str, tuple[float, float]]
    source: str
    accuracy: str
    formula: str = ""
    constants: dict[str, Named] = field(default_factory=dict)

    @property
    def written(self) -> str:
        """The formula with the numbers of its constants."""
        return self.formula.format(**{name: f"{constant.value:.6g}" for name, constant in self.constants.items()})

    def outside(self, **values: float) -> list[str]:
        """Which of `values` (SI) lie outside of the published limits, one sentence each."""
        found = []
        for name, value in values.items():
            low, high = self.limits.get(name, (float("-inf"), float("inf")))
            if not low <= value <= high:
                label = name.replace("_", " ")
                found.append(f"{label} {value:.4g} is outside {low:.4g} to {high:.4g} ({self.title})")
        return found

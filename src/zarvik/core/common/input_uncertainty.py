"""What an entry is good to, by how it came to be known."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class InputUncertainty:
    """How far a number may be off, up and down, 19 times out of 20: when somebody `said` it, said it
    roughly (`about`), or nobody knows it and a usual value or an estimate stands in (`unknown`; None
    where it cannot be unknown, a size that one chooses). As a share of the value, or in SI when
    `absolute`. `measure`: how one finds it out in a garage.

    The numbers are common practice without a source.
    """

    said: float
    about: float
    unknown: float | None = None
    absolute: bool = False
    measure: str = ""

    def spread(self, value: float, share: float) -> float:
        """`share` (one of the three) of a `value` in SI, as a difference in SI."""
        return share if self.absolute else share * abs(value)

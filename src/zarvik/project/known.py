"""What a builder knows of his build before there is a design."""

from __future__ import annotations

from dataclasses import dataclass

KINDS = (
    ("four", "Petrol, four valves"), ("two", "Petrol, two valves"), ("diesel", "Diesel"),
)  # fmt: skip
MATTERS = (("spool", "Early boost"), ("even", "A bit of both"), ("top", "Top end"))


@dataclass(frozen=True)
class Known:
    """What the builder says; None where he does not know. Powers in W, speeds in rev/min, `litres` in
    m3, `altitude` m, `day` K. `kind` and `matters`: keys of `KINDS` and `MATTERS`."""

    kind: str
    cylinders: int
    litres: float
    redline: float
    power: float
    fuel: str
    stock_power: float | None = None
    stock_speed: float | None = None
    compression: float | None = None
    altitude: float = 0.0
    day: float = 303.15
    matters: str = "even"
    name: str = "New build"


class NoDesign(ValueError):
    """No design of the shelf comes near what is wanted; the message says what stands in the way."""

"""How long a wall lasts in the air: metal that rusts away in a year by where the car lives.

note: first years' rates by category of the air, ISO 9223:2012, table 2 (memory): C2 rural and dry, C3 a town, C4 the coast, C5 salted roads
and spray. What stands behind them on ISO 9224's slowing law is left out: the rates are upper ones.
"""

from __future__ import annotations

import math

from zarvik.core.materials.table import FACTS

AIRS = {"dry": "Dry, kept indoors", "town": "In town, all year", "coast": "By the sea", "salt": "Salted roads"}
RATES: dict[str, dict[str, float]] = {
    key: {air: facts[f"rust_{air}"].value for air in AIRS} for key, facts in FACTS.items() if "rust_dry" in facts
}  # m a year
INSIDE_WET = 2.0  # times as fast where an exhaust that never gets hot stays wet inside; common practice, no source
GONE = 0.5  # of a wall that may go before it is holed somewhere: it pits; common practice, no source


def years(material: str, wall: float, air: str, *, wet: bool = False) -> float:
    """Years until half of a `wall` (m) of a `material` is gone in an `air` (key of `AIRS`), faster where it is `wet` inside; inf for what
    does not rust through."""
    rate = RATES.get(material, {}).get(air, 0.0) * (INSIDE_WET if wet else 1.0)
    return GONE * wall / rate if rate > 0.0 else math.inf

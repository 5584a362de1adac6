"""What a builder knows of his build before there is a design."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.common.constants import HORSEPOWER
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.units import unit_of

KINDS = (("four", "Petrol, four valves"), ("two", "Petrol, two valves"), ("diesel", "Diesel"))
MATTERS = (("spool", "Quick spool"), ("even", "Balanced"), ("top", "Top end"))


LAYOUTS = (("inline", "Inline"), ("vee", "V"), ("flat", "Flat (boxer)"))
CHARGERS = (("turbo", "Turbo"), ("blower", "Belt-driven blower"))
COUNTS = ((0, "Best fit"), (1, "One"), (2, "Two"))
COOLING = (("auto", "Best fit"), ("air", "Air-to-air"), ("water", "Air-to-water"), ("none", "None"))


@dataclass(frozen=True, kw_only=True)
class BuilderInput:
    """What the builder says; None where he does not know. Powers in W, speeds in rev/min, `litres` in
    m3, `altitude` m, `day` K. `kind`, `matters`, `layout`, `charger`, `cooling`: keys of `KINDS`, `MATTERS`, `LAYOUTS`, `CHARGERS`,
    `COOLING`; `count` of turbos, 0: as it suits. `stock_boost` Pa gauge with which the stock power was made. `power` None: what a full
    `boost` (Pa gauge) makes is the question; `boost` None: what the power takes. `big_power` W of a one-off run. `turbo`: key of the
    one that was bought."""

    kind: str
    cylinders: int
    litres: float
    redline: float
    power: float | None
    fuel: str
    stock_power: float | None = None
    stock_speed: float | None = None
    compression: float | None = None
    altitude: float = 0.0
    day: float = 303.15
    matters: str = "even"
    name: str = "New build"
    layout: str = "inline"
    stock_boost: float = 0.0
    charger: str = "turbo"
    count: int = 0
    cooling: str = "auto"
    boost: float | None = None
    big_power: float | None = None
    turbo: str | None = None


# What is believed, in SI: lowest, highest, unit that it is told in
LIMITS: dict[str, tuple[float, float, str, str]] = {
    "cylinders": (1.0, 16.0, "count", ""),
    "litres": (0.2e-3, 12e-3, "volume", "L"),
    "redline": (2500.0, 12000.0, "rotation", "rpm"),
    "power": (7457.0, 3000.0 * HORSEPOWER, "power", "hp"),
    "big_power": (7457.0, 3000.0 * HORSEPOWER, "power", "hp"),
    "stock_power": (3728.0, 1500.0 * HORSEPOWER, "power", "hp"),
    "stock_speed": (1000.0, 12000.0, "rotation", "rpm"),
    "compression": (5.0, 24.0, "number", ""),
    "stock_boost": (0.0, 3e5, "pressure_gauge", "bar"),
    "boost": (5e3, 3e5, "pressure_gauge", "bar"),
    "altitude": (-400.0, 5000.0, "altitude", "m"),
    "day": (243.15, 328.15, "temperature", "°C"),
}
_TITLES = {
    "cylinders": "Cylinders",
    "litres": "Displacement",
    "redline": "Rev limit",
    "power": "Target power",
    "big_power": "One-off power",
    "stock_power": "Stock power",
    "stock_speed": "Stock power engine speed",
    "compression": "Compression ratio",
    "stock_boost": "Stock boost",
    "boost": "Planned boost",
    "altitude": "Altitude",
    "day": "Hottest day",
}


def _plain(si: float, kind: str, unit: str) -> str:
    return f"{unit_of(kind, unit).from_si(si):.6g} {unit}".strip().replace("-", "−")


def faults(known: BuilderInput) -> list[str]:
    """What cannot be meant in what is said, a sentence each."""
    found = []
    for name, (low, high, kind, unit) in LIMITS.items():
        value = getattr(known, name)
        if value is not None and not low - 1e-9 * abs(low) <= value <= high + 1e-9 * abs(high):
            found.append(
                tr_format(
                    "{0} must be between {1} and {2}, not {3}",
                    tr(_TITLES[name]),
                    _plain(low, kind, unit),
                    _plain(high, kind, unit),
                    _plain(float(value), kind, unit),
                )
            )
    if known.stock_speed is not None and known.stock_speed > known.redline:
        found.append(tr_format("Stock power cannot be made above the rev limit"))
    if (known.fuel == "diesel") != (known.kind == "diesel"):
        found.append(tr_format("Select diesel fuel for a diesel engine only"))
    if known.power is None and known.boost is None:
        found.append(tr_format("Enter a target power, or the planned boost"))
    return found


class NoDesignFound(ValueError):
    """No design of the catalogue comes near what is wanted; the message says what stands in the way."""

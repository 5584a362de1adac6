"""What the Designs bench shows, without a window."""

from __future__ import annotations

from collections.abc import Mapping

from zarvik.project.designs import (
    BOOST,
    COLD,
    COOLER,
    COUNT,
    EXHAUST_BORE,
    GATE_SIZE,
    HOT,
    HOUSING,
    TURBO,
    Design,
    Designs,
)
from zarvik.project.document import Project
from zarvik.project.language import told, tr
from zarvik.project.units import KINDS, show, unit_of
from zarvik.window.benches.candidates.presenter import Choice
from zarvik.window.parts.figure_rows import Row

FREE = {
    TURBO: "Turbo", HOUSING: "Housing", COUNT: "One or two", GATE_SIZE: "Gate", HOT: "Hot pipe", COLD: "Cold pipe",
    EXHAUST_BORE: "Exhaust", COOLER: "Cooler", BOOST: "Boost",
}  # fmt: skip
FROM_THE_START = (TURBO, HOUSING, GATE_SIZE, BOOST)
HEADS = ("power", "full boost", "money", "weeks", "back-pr.", "gate", "surge")
CHOICES = {"threshold": "by full boost", "money": "by money", "weeks": "by weeks"}
ACROSS = {"threshold": "full boost stands at, rpm", "money": "money, € (invented prices)", "weeks": "weeks of evenings"}


def rows(found: Designs, units: Mapping[str, str]) -> list[Row]:
    """A row for each design, numbered as in the picture."""
    made = []
    for number, one in enumerate(found.designs, 1):
        f = one.figures
        percent = [show(v, "ratio", "%", places=0) for v in (f.opening, f.surge)]
        cells = (
            show(f.power, "power", units.get("power")), show(f.spool, "rotation"),
            show(one.cost.money, "money", "€"), f"{one.cost.weeks:.1f}", f"{f.back_pressure:.2f}", *percent,
        )  # fmt: skip
        made.append(
            Row(str(number), one.sizes.get(TURBO, tr("Design {0}").format(number)), False, one.worst or "open",
                cells, ("",) * len(cells), HEADS, str(number))
        )  # fmt: skip
    return made


def choices(found: Designs, across: str, units: Mapping[str, str]) -> tuple[Choice, ...]:
    """Designs as points: what is chosen `across` (a key of ACROSS), power up."""
    unit = unit_of("power", units.get("power", KINDS["power"][0].symbol))
    values = {
        "threshold": lambda d: d.figures.spool, "money": lambda d: d.cost.money, "weeks": lambda d: d.cost.weeks,
    }  # fmt: skip
    made = []
    for number, one in enumerate(found.designs, 1):
        x, y = float(values[across](one)), unit.from_si(one.figures.power)
        if x != x or y != y:
            continue
        words = f"{show(one.figures.spool, 'rotation')}, {show(one.cost.money, 'money', '€')}"
        made.append(Choice(x, y, str(number), words, False, False, 0.0))
    return tuple(made)


def sizes(one: Design, found: Designs) -> str:
    """The sizes of a design, and what is tight in it."""
    text = ", ".join(f"{axis.title} {one.sizes[axis.key]}" for axis in found.axes)
    narrow = [tr(v.title) for v in one.verdicts if v.state == "tight"]
    if narrow:
        text += ". " + tr("Tight: {0}").format(", ".join(narrow))
    return text


def summary(found: Designs, project: Project, part: bool) -> str:
    """What the search did, and why not more."""
    if part:
        return told("{0} designs solved so far", found.tried)
    if not found.designs:
        text = told("{0} designs solved, none fulfils {1} at {2} with full boost from {3}.", found.tried,
                    project.brief.target_power, project.brief.target_speed, project.brief.full_boost_from)  # fmt: skip
    else:
        text = told("{0} designs solved; the best that differ, none fails anything.", found.tried)
    if found.why is not None and found.missed is not None:
        text += " " + told("Nearest left out: {0}, for “{1}”.", ", ".join(found.missed.sizes.values()), tr(found.why.title))
    return text

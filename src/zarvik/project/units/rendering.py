"""Sentences of the core in the owner's units."""

from __future__ import annotations

import dataclasses
import math
import re
from collections.abc import Mapping

from zarvik.core.checks import CheckResult
from zarvik.core.common.constants import INCH
from zarvik.core.common.sentences import Figure, Sentence
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.units import KINDS, SAID, UNKNOWN, Quantity, show, unit_of

# Kinds that are shown in whole units elsewhere.
_WORKED = {"power", "torque", "velocity", "pressure_difference", "consumption", "mass_flow", "temperature_difference"}


def figure(value: float, kind: str, units: Mapping[str, str]) -> str:
    """An SI number as text in the unit that `units` names for its kind."""
    return show(value, kind, units.get(kind))


def ruled(value: float, units: Mapping[str, str], *, places: int = 1) -> str:
    """A length (m) as it is read off a rule in the workshop: tenths of a millimetre, or hundredths of an inch; `places` fewer or more of
    them: 0 for what is cut by eye, 2 for a wall."""
    if units.get("length") == "in":
        return f"{value / INCH:.{places + 1}f} in"
    return f"{1e3 * value:.{places}f}".removesuffix(".0") + " mm"


_SOLD = re.compile(r"(\d)\.0(?=[\u00a0 ](?:mm|cc/min|L/h)\b)")


def as_sold(text: str) -> str:
    """A sentence with whole sizes as they stand on what one buys: a tube of 16 mm, not of 16.0 mm."""
    return _SOLD.sub(r"\1", text)


def exact(value: float, kind: str, units: Mapping[str, str], *, result: float | None = None) -> str:
    """As `figure`, with at least three digits that count, where a number is to be worked with.
    `result`: what it goes into, where that is a number of the same kind: a difference shows as
    many places as make it up."""
    symbol = units.get(kind)
    unit = unit_of(kind, symbol) if symbol is not None else KINDS[kind][0]
    places = unit.places
    if kind in _WORKED:
        places = max(places, _places(unit.from_si(value), 3))
        if result is not None and abs(result) < abs(value):
            places = max(places, _places(unit.from_si(result), 2))
    return show(value, kind, symbol, places=min(places, 6))


NO_POWER = 5.0  # W, of which nobody has ever felt or measured the want


def rough_figure(value: float, kind: str, units: Mapping[str, str]) -> str:
    """As `figure`, with the two digits that count of what is not known any better."""
    symbol = units.get(kind)
    unit = unit_of(kind, symbol) if symbol is not None else KINDS[kind][0]
    shown = unit.from_si(value)
    if not math.isfinite(shown) or shown == 0.0 or (kind == "power" and abs(value) < NO_POWER):
        return show(value, kind, symbol)
    return show(unit.to_si(float(f"{shown:.2g}")), kind, symbol, places=_places(float(f"{shown:.2g}"), 2))


def _places(shown: float, digits: int) -> int:
    """Decimal places with which a number has so many digits that count."""
    if not math.isfinite(shown) or shown == 0.0:
        return 0
    return max(digits - 1 - math.floor(math.log10(abs(shown))), 0)


def entry_text(quantity: Quantity, blank: str = "") -> str:
    """An entry as it is shown; one that nobody knows as what is taken for it, one that is left open by the words (`blank`) for that."""
    if blank and quantity.known != UNKNOWN and quantity.value == 0.0:
        return tr(blank)
    if quantity.known == UNKNOWN:
        return tr_format("auto: {0}", dataclasses.replace(quantity, known=SAID))
    return str(quantity)


def in_groups(quantity: Quantity) -> str:
    """A size with its digits in groups of three, as it stands in a text; not as it is typed."""
    gap = "" if quantity.unit == "°" else "\u00a0"
    return f"{quantity.value:,.12g}{gap}{quantity.unit}".replace(",", "\u00a0").replace("-", "−").rstrip("\u00a0")


def words(text: str | Sentence, units: Mapping[str, str]) -> str:
    """Words of the core in the language in force, a sentence with its figures filled in."""
    return tr(text) if isinstance(text, str) else render(text, units)


def render(sentence: Sentence | None, units: Mapping[str, str]) -> str:
    """A sentence with its figures filled in; empty for None. Gauge and absolute are said."""
    if sentence is None:
        return ""
    words = {}
    for name, item in sentence.figures:
        if isinstance(item, Figure):
            text = figure(item.value, item.kind, units)
            if item.kind == "pressure_absolute":
                text += " abs"
            words[name] = text
        elif isinstance(item, Sentence):
            words[name] = render(item, units)
        else:
            words[name] = item
    return "".join(tr(part).format(**words) for part in sentence.templates)


def advice(check_result: CheckResult, units: Mapping[str, str]) -> str:
    """The cure of a check and what it costs elsewhere, empty without one."""
    cure, price = as_sold(render(check_result.cure, units)), render(check_result.price, units)
    return f"{cure}. {price}" if cure and price else cure


# A change of a number is a difference, which has no zero of its own.
_CHANGE_KINDS = {
    "pressure_gauge": "pressure_difference",
    "pressure_absolute": "pressure_difference",
    "temperature": "temperature_difference",
}
_CHANGE_PLACES = {"power": 1, "number": 3, "torque": 1, "pressure_difference": 2, "mean_pressure": 3, "temperature_difference": 1}


def change(value: float, kind: str, units: Mapping[str, str], *, most: float = math.nan) -> str:
    """What a number of `kind` changes by, SI, with its sign; “no result” for nan. `most`: the
    largest of the changes beside it, which shows two digits that count."""
    if not math.isfinite(value):
        return tr("no result")
    kind = _CHANGE_KINDS.get(kind, kind)
    symbol = units.get(kind)
    unit = unit_of(kind, symbol) if symbol is not None else KINDS[kind][0]
    places = max(_CHANGE_PLACES.get(kind, unit.places), _places(most / unit.factor, 2))
    text = show(abs(value), kind, symbol, places=min(places, 6))
    return ("+" if value >= 0 else "−") + text


def linked(sentence: Sentence | None, units: Mapping[str, str]) -> tuple[str, tuple[tuple[int, int, str], ...]]:
    """A sentence as `render` gives it, and where in it the figures stand that lead somewhere:
    (first character, behind the last, address)."""
    if sentence is None:
        return "", ()
    marked = {name: f"\x02{name}\x03" if isinstance(item, Figure) and item.address else item for name, item in sentence.figures}
    whole = render(dataclasses.replace(sentence, figures=tuple(marked.items())), units)
    figures = dict(sentence.figures)
    text, places = "", []
    for number, part in enumerate(re.split("[\x02\x03]", whole)):
        item = figures.get(part)
        if number % 2 and isinstance(item, Figure):
            part = render(Sentence("{x}", (("x", item),)), units)
            places.append((len(text), len(text) + len(part), item.address))
        text += part
    return text, tuple(places)


def margin_text(margin: float | None, *, holds: bool = False) -> str:
    """How much room a check leaves, or how far it is past its limit (`margin`, a share of the room that there is): empty where it has
    none, or more than all. One that `holds` misses nothing: a hair under its limit is within what is forgiven."""
    if margin is None or not math.isfinite(margin) or margin >= 5.0:
        return ""
    if holds:
        margin = max(margin, 0.0)
    share = 100.0 * abs(margin)
    if margin >= 0.0:
        return f"+{share:.{int(share < 0.95)}f} %"
    if margin < -1.0:
        return tr("missed by far")
    # A sign of nothing would say that it is met.
    return tr("missed by {0} %").format(f"{share:.{int(share < 0.95)}f}" if share >= 0.05 else "< 0.1")

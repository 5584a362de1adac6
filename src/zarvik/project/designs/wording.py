"""What designs are told in: wishes, prices, gains, what stands in the way, for the window and the command line."""

from __future__ import annotations

from collections.abc import Mapping

from zarvik.project.designs.design import Design, Designs, LimitGain, Trade
from zarvik.project.designs.explanations import obstacles_of
from zarvik.project.designs.limits import UNITS
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import figure
from zarvik.project.units.units import KINDS

# A wish in words, by the key of its limit
WISHED = {"spool": "Full boost 100 rpm earlier", "power": "10 hp more", "money": "100 cheaper", "weeks": "Half a week faster"}
_GAINS = {"spool": "full boost {0} earlier", "power": "{0} more", "money": "{0} cheaper", "weeks": "{0} faster"}
_COSTS = {
    "spool": ("full boost {0} later", "full boost {0} earlier"),
    "power": ("{0} less", "{0} more"),
    "money": ("{0} more cost", "{0} cheaper"),
    "weeks": ("{0} later", "{0} faster"),
}


def gain(relief: LimitGain, units: Mapping[str, str]) -> str:
    """What one unit more of a limit would buy, as “Target power −10 hp: full boost 230 rpm earlier”."""
    unit = UNITS[relief.key]
    step = ("+" if unit.sign > 0.0 else "−") + figure(unit.step, unit.kind, units)
    return f"{tr(unit.title)} {step}: {tr(_GAINS[relief.aim]).format(figure(relief.gain, UNITS[relief.aim].kind, units))}"


def price(trade: Trade, units: Mapping[str, str]) -> str:
    """What a wish costs, as “10 hp more: 180 € more to pay”; that it is not within reach where none was found."""
    wish = tr(WISHED[trade.wish])
    if trade.other is None:
        return tr_format("{0}: none solved", wish)
    parts = []
    for key, value in trade.costs.items():
        worse, better = _COSTS[key]
        parts.append(tr(worse if value > 0.0 else better).format(figure(abs(value), UNITS[key].kind, units)))
    sizes = tr_format("with {0}", ", ".join(trade.other.sizes.values()))
    return tr_format("{0}: {1}; {2}", wish, ", ".join(parts), sizes) if parts else tr_format("{0}: not at any price; {1}", wish, sizes)


def obstacles(found: Designs, units: Mapping[str, str]) -> list[str]:
    """What stands in the way of an impossible target, as “Full boost wanted from: missed by 80 rpm”."""
    made = []
    for key, value in obstacles_of(found).items():
        unit = UNITS[key]
        size = figure(value, unit.kind, units) if value == value else tr("too many to solve")
        made.append(tr_format("{0}: missed by {1}", tr(unit.title), size))
    return made


def headline(one: Design, units: Mapping[str, str]) -> str:
    """The figures of a design in a line."""
    f = one.figures
    return tr_format(
        "{0}, full boost from {1}, about {2} (invented prices), {3}",
        figure(f.power, "power", units),
        figure(f.spool, "rotation", units),
        figure(one.cost.money, "money", units),
        figure(one.weeks, "weeks", units),
    )


def symbol(kind: str, units: Mapping[str, str]) -> str:
    """The unit in which a kind of quantity is shown."""
    return units.get(kind, KINDS[kind][0].symbol)

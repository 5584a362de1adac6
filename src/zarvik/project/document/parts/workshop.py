"""The owner's workshop: what is done there, what is given out, and prices that differ from the catalogue's."""

from __future__ import annotations

from typing import Annotated

from pydantic import field_validator

from zarvik.core.materials.corrosion import AIRS
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.part import Part
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import Quantity

OWN, OUT = "own", "out"
_WHERE = ((OWN, "in house"), (OUT, "outsourced"))
MOST_PRICES = 100
_HOURS = QuantitySpec(kind="work", low="1 h", high="80 h", unit="h", title="Hours per week", help="Your time for the build")
_RATE = QuantitySpec(kind="money", low="0 €", high="1000 €", unit="€", title="Outsourced hourly rate", help="What a shop charges per hour")
_AWAY = QuantitySpec(
    kind="days", low="0 days", high="365 days", unit="days", title="Outsourced work, days", help="Until outsourced work is back"
)
_PRICE = QuantitySpec("money", "0 €", "1000000 €", "€", "Price")
_WORK = QuantitySpec("work", "0 h", "1000 h", "h", "Hours of work")
_DAYS = QuantitySpec("days", "0 days", "1000 days", "days", "Delivery, days")


_KERF = QuantitySpec(
    kind="length", low="0 mm", high="10 mm", unit="mm", title="Saw kerf", help="Width of cut: 1 mm for a band saw, 2 to 3 mm for a chop saw"
)
_ALLOWANCE = QuantitySpec(
    kind="length", low="0 mm", high="20 mm", unit="mm", title="Trim allowance", help="Left for the grinder on each piece"
)


class Price(Part):
    """A line of the catalogue as the owner knows it."""

    id: Annotated[str, TextSpec("Key", 60, key=True)]
    price: Annotated[Quantity, _PRICE] = _PRICE("0 €")
    hours: Annotated[Quantity, _WORK] = _WORK("0 h")
    days: Annotated[Quantity, _DAYS] = _DAYS("0 days")


class Workshop(Part):
    """Hours, machines, prices."""

    hours: Annotated[Quantity, _HOURS] = _HOURS("10 h")
    weld: Annotated[str, Choice("Welding", lambda: _WHERE)] = OWN
    bend: Annotated[str, Choice("Cutting and bending", lambda: _WHERE)] = OWN
    machine: Annotated[str, Choice("Machining", lambda: _WHERE)] = OWN
    hourly_rate: Annotated[Quantity, _RATE] = _RATE("60 €")
    outsourced_days: Annotated[Quantity, _AWAY] = _AWAY("14 days")
    kerf: Annotated[Quantity, _KERF] = _KERF("2 mm")
    allowance: Annotated[Quantity, _ALLOWANCE] = _ALLOWANCE("1 mm")
    used_in: Annotated[str, Choice("Car used in", lambda: tuple(AIRS.items()))] = "town"
    prices: tuple[Price, ...] = ()

    @field_validator("prices")
    @classmethod
    def _once(cls, prices: tuple[Price, ...]) -> tuple[Price, ...]:
        if len(prices) > MOST_PRICES or len({p.id for p in prices}) != len(prices):
            raise ValueError(tr_format("Each catalogue line can have one price, at most {0}", MOST_PRICES))
        return prices

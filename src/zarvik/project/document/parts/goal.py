"""What is wanted, and where."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.project.document.fields import Day, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_BOOST = QuantitySpec(
    kind="pressure_gauge",
    low="0 bar",
    high="5 bar",
    unit="bar",
    title="Target boost",
    help="Plenum pressure above ambient",
    uncertainty=InputUncertainty(0.02, 0.04, measure="A gauge at the plenum, checked against a second one"),
)
_POWER = QuantitySpec(kind="power", low="5 hp", high="5000 hp", unit="hp", title="Target power", help="At the crank")
_TARGET_SPEED = QuantitySpec("rotation", "500 rpm", "15000 rpm", "rpm", "Target engine speed")
_FULL_FROM = QuantitySpec(
    kind="rotation", low="800 rpm", high="12000 rpm", unit="rpm", title="Full boost by", help="Your wish; the real speed is calculated"
)
_HOLD = QuantitySpec(
    kind="rotation",
    low="500 rpm",
    high="12000 rpm",
    unit="rpm",
    title="Delay full boost to",
    help="The controller allows full boost from here up; keeps clear of surge",
)
_BIG_RUN = QuantitySpec(
    kind="pressure_gauge", low="0 bar", high="5 bar", unit="bar", title="One-off maximum boost", help="One-off maximum boost"
)
_ALTITUDE = QuantitySpec(
    kind="altitude",
    low="-400 m",
    high="5500 m",
    unit="m",
    title="Altitude",
    help="At the highest place of use",
    uncertainty=InputUncertainty(30.0, 150.0, 250.0, absolute=True, measure="A map, or a phone on site"),
    usual="200 m",
)
_DAY = QuantitySpec(kind="temperature", low="-30 °C", high="55 °C", unit="°C", title="Hottest day", help="Hottest air it must work in")
_HUMIDITY = QuantitySpec(
    kind="ratio",
    low="0 %",
    high="100 %",
    unit="%",
    title="Humidity",
    help="On that day",
    uncertainty=InputUncertainty(0.10, 0.20, 0.25, absolute=True, measure="Local weather service, on a hot day"),
    usual="45 %",
)
_ROAD = QuantitySpec(
    kind="road_speed",
    low="0 km/h",
    high="500 km/h",
    unit="km/h",
    title="Road speed at full load",
    help="Gives the cooling air through the intercooler",
    uncertainty=InputUncertainty(0.10, 0.20, 0.35, measure="A data log: the speed with the longest full-load time"),
    usual="100 km/h",
)


_MILD = QuantitySpec(
    kind="pressure_gauge",
    low="0 bar",
    high="5 bar",
    unit="bar",
    title="Everyday boost",
    help="First lasting tune, on the lowest spring",
    blank="none",
)
_MILD_POWER = QuantitySpec(
    kind="power", low="0 hp", high="5000 hp", unit="hp", title="Everyday power", help="At that boost", blank="no target"
)
_BIG_POWER = QuantitySpec(
    kind="power", low="0 hp", high="5000 hp", unit="hp", title="One-off maximum power", help="At that boost", blank="no target"
)
_PEDAL = QuantitySpec(
    kind="rotation",
    low="800 rpm",
    high="12000 rpm",
    unit="rpm",
    title="Comparison engine speed",
    help="Engine speed at which you floor the pedal; seconds to full boost are counted from there",
)
_BUDGET = QuantitySpec(
    kind="money",
    low="0 €",
    high="1000000 €",
    unit="€",
    title="Turbo budget",
    help="Turbo budget, for all turbos together",
    blank="no limit",
)


class Goal(Part):
    """What is wanted, and where."""

    target_power: Annotated[Quantity, _POWER] = _POWER("330 hp")
    target_speed: Annotated[Quantity, _TARGET_SPEED] = _TARGET_SPEED("6400 rpm")
    target_boost: Annotated[Quantity, _BOOST] = _BOOST("1.1 bar")
    full_boost_from: Annotated[Quantity, _FULL_FROM] = _FULL_FROM("3400 rpm")
    hold_back_until: Annotated[Quantity, _HOLD] = _HOLD("1000 rpm")
    big_run_boost: Annotated[Quantity, _BIG_RUN] = _BIG_RUN("1.25 bar")
    mild_boost: Annotated[Quantity, _MILD] = _MILD("0.5 bar")
    mild_power: Annotated[Quantity, _MILD_POWER] = _MILD_POWER("0 hp")
    big_run_power: Annotated[Quantity, _BIG_POWER] = _BIG_POWER("0 hp")
    pedal_at: Annotated[Quantity, _PEDAL] = _PEDAL("3500 rpm")
    ready_by: Annotated[str, Day("Deadline", help="Day it must run, for example 12 June 2027")] = ""
    budget: Annotated[Quantity, _BUDGET] = _BUDGET("0 €")
    altitude: Annotated[Quantity, _ALTITUDE] = _ALTITUDE("? 200 m")
    design_day: Annotated[Quantity, _DAY] = _DAY("30 °C")
    humidity: Annotated[Quantity, _HUMIDITY] = _HUMIDITY("? 45 %")
    road_speed: Annotated[Quantity, _ROAD] = _ROAD("? 100 km/h")

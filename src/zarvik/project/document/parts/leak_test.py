"""A pressure test of the charge side, as it was done."""

from __future__ import annotations

from typing import Annotated

from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_START = QuantitySpec(
    kind="pressure_gauge",
    low="0 bar",
    high="3 bar",
    unit="bar",
    title="Test pressure",
    help="Keep it low: as the weakest part allows, rarely over 1 bar (15 psi)",
    blank="not tested yet",
)
_END = QuantitySpec("pressure_gauge", "0 bar", "3 bar", "bar", "Pressure at the end")
_SECONDS = QuantitySpec("time", "0.1 s", "3600 s", "s", "Duration")
_VOLUME = QuantitySpec(
    kind="volume",
    low="0 L",
    high="400 L",
    unit="L",
    title="Sealed volume",
    help="Charge pipes, cooler, plenum and runners",
    blank="auto: as designed",
)
_WARM = QuantitySpec("temperature", "-20 °C", "60 °C", "°C", "Shop temperature")


class LeakTest(Part):
    """The last pressure test."""

    start_pressure: Annotated[Quantity, _START] = _START("0 bar")
    end_pressure: Annotated[Quantity, _END] = _END("0 bar")
    duration: Annotated[Quantity, _SECONDS] = _SECONDS("60 s")
    volume: Annotated[Quantity, _VOLUME] = _VOLUME("0 L")
    shop_temperature: Annotated[Quantity, _WARM] = _WARM("20 °C")

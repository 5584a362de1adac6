"""A turbocharger: its map and its turbine."""

from __future__ import annotations

import math
from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import model_validator

from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.core.compressor.chart import CompressorMap, SpeedLine, faults
from zarvik.core.compressor.measured import map_of_wheel
from zarvik.project.document.fields import Choice, Day, QuantitySpec, TextSpec
from zarvik.project.document.parts.part import Part
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import Quantity


class Line(Part):
    """A speed line of a map: rows of (corrected flow kg/s, pressure ratio, efficiency)."""

    speed_rpm: float
    points: tuple[tuple[float, float, float], ...]


_CALIPER = "Callipers, across two opposite blades, housing off"
_WHEEL = QuantitySpec(
    kind="length",
    low="20 mm",
    high="200 mm",
    unit="mm",
    title="Turbine wheel diameter",
    help="At the inlet",
    uncertainty=InputUncertainty(0.005, 0.02, 0.05, measure=_CALIPER),
    usual="60 mm",
)
_EXDUCER = QuantitySpec(
    kind="length",
    low="15 mm",
    high="180 mm",
    unit="mm",
    title="Turbine exducer diameter",
    help="At the outlet",
    uncertainty=InputUncertainty(0.005, 0.02, 0.05, measure=_CALIPER),
    usual="52 mm",
)
_HOUSING = QuantitySpec(
    kind="length",
    low="3 mm",
    high="80 mm",
    unit="mm",
    title="Housing A/R",
    help="Throat area over its radius; a number below 3 means inches, as .63 for 16 mm",
    inch_below=3.0,
    uncertainty=InputUncertainty(
        0.02, 0.05, 0.10, measure="The number cast on the housing; or clay in the throat: area over radius to its centre"
    ),
    usual="16 mm",
)
_BEST = QuantitySpec(
    kind="ratio",
    low="40 %",
    high="85 %",
    unit="%",
    title="Best turbine efficiency",
    help="Total to static",
    uncertainty=InputUncertainty(
        0.02,
        0.03,
        0.04,
        absolute=True,
        measure="Pressure and temperature before and after the turbine at full boost, against the boost made",
    ),
    usual="68 %",
    model=True,
)
_VANES = QuantitySpec(
    kind="ratio", low="30 %", high="150 %", unit="%", title="Vane opening", help="Variable vanes; 100 % for a fixed housing"
)
_SCROLLS = QuantitySpec("count", "1", "2", "", "Scrolls")
_PULSES = QuantitySpec(
    kind="ratio",
    low="0 %",
    high="150 %",
    unit="%",
    title="Exhaust pulse energy used",
    help="Share of the pulse gain in this manifold; 0 % for steady flow",
    uncertainty=InputUncertainty(0.15, 0.25, 0.25, absolute=True, measure="Logged full-boost speed, with the rest known"),
    usual="60 %",
    model=True,
)


_INERTIA = QuantitySpec(
    kind="inertia",
    low="1 g·cm²",
    high="100000 g·cm²",
    unit="g·cm²",
    title="Rotor inertia",
    help="Both wheels and the shaft",
    uncertainty=InputUncertainty(0.05, 0.15, 0.25, measure="Hang the rotor on two threads and time its swing"),
    usual="550 g·cm²",
    model=True,
)


class Turbine(Part):
    """A turbine by its dimensions."""

    wheel: Annotated[Quantity, _WHEEL] = _WHEEL("? 62 mm")
    exducer: Annotated[Quantity, _EXDUCER] = _EXDUCER("? 53 mm")
    housing: Annotated[Quantity, _HOUSING] = _HOUSING("? 17 mm")
    efficiency: Annotated[Quantity, _BEST] = _BEST("? 68 %")
    vanes: Annotated[Quantity, _VANES] = _VANES("100 %")
    scrolls: Annotated[Quantity, _SCROLLS] = _SCROLLS("1")
    pulses: Annotated[Quantity, _PULSES] = _PULSES("? 60 %")
    inertia: Annotated[Quantity, _INERTIA] = _INERTIA("? 550 g·cm²")


_PRICE = QuantitySpec(kind="money", low="0 €", high="1000000 €", unit="€", title="Price", help="For one", blank="not known")
FLANGES = (
    ("", "Not known"),
    ("four_bolt", "Four bolts, one opening"),
    ("four_divided", "Four bolts, divided"),
    ("three_bolt", "Three bolts"),
    ("round_clamp", "Round, with a clamp"),
    ("other", "Other"),
)
GATES = (("", "Not known"), ("outside", "In the manifold"), ("inside", "In the turbine housing"))
COOLINGS = (("", "Not known"), ("oil", "Oil only"), ("water", "Oil and water"))
_BOLTS = QuantitySpec(
    kind="length",
    low="0 mm",
    high="300 mm",
    unit="mm",
    title="Inlet flange bolt spacing",
    help="Between holes, along the longer side",
    blank="not measured",
)


class Fit(Part):
    """What a turbo is bolted to, where it came from, and what it costs: nothing that the flow feels."""

    flange: Annotated[str, Choice("Inlet flange", lambda: FLANGES)] = ""
    bolts: Annotated[Quantity, _BOLTS] = _BOLTS("0 mm")
    gate: Annotated[str, Choice("Wastegate", lambda: GATES)] = ""
    cooling: Annotated[str, Choice("Bearing cooling", lambda: COOLINGS)] = ""
    donor: Annotated[str, TextSpec("Donor vehicle", 120, "Engine or car it came from")] = ""
    price: Annotated[Quantity, _PRICE] = _PRICE("0 €")
    here_by: Annotated[str, Day("Delivery date", help="Day it can be in the shop, for example 3 March 2027")] = ""


_INDUCER = QuantitySpec(
    kind="length",
    low="12 mm",
    high="180 mm",
    unit="mm",
    title="Compressor inducer diameter",
    help="At the inlet",
    uncertainty=InputUncertainty(0.005, 0.02, measure=_CALIPER),
)
_TIP = QuantitySpec(
    kind="length",
    low="18 mm",
    high="220 mm",
    unit="mm",
    title="Compressor exducer diameter",
    help="At the outlet",
    uncertainty=InputUncertainty(0.005, 0.02, measure=_CALIPER),
)


class Wheels(Part):
    """The compressor wheel in the hand, from which its map is estimated."""

    inducer: Annotated[Quantity, _INDUCER] = _INDUCER("51 mm")
    exducer: Annotated[Quantity, _TIP] = _TIP("67 mm")

    def chart(self, name: str) -> CompressorMap:
        """The estimated map, called `name`; raises Fault for no wheel."""
        return map_of_wheel(round(self.inducer.si, 6), round(self.exducer.si, 6), name)


class Turbo(Part):
    """A turbo that could be had, with its compressor map and its turbine; with `wheels`, the map is no
    measured one but follows from them; `estimated` says what of it else was not printed: its efficiencies, or all
    of it, scaled from a wheel of another size."""

    id: Annotated[str, TextSpec("Key", 60, key=True)]
    name: Annotated[str, TextSpec("Name", 80)]
    note: Annotated[str, TextSpec("Note", 400)] = ""
    reference_pressure_Pa: float = 1e5
    reference_temperature_K: float = 298.0
    maximum_speed_rpm: float
    turbine: Turbine = Turbine()
    wheels: Wheels | None = None
    fit: Fit = Fit()
    estimated: Literal["", "efficiency", "scaled"] = ""
    lines: tuple[Line, ...]

    @model_validator(mode="after")
    def _sound(self) -> Turbo:
        found = faults(self.chart)
        if found:
            first = found[0]
            place = f"speed line {first.line}" if first.line else "the map"
            place += f", point {first.point}" if first.point else ""
            more = f" (and {len(found) - 1} more)" if len(found) > 1 else ""
            raise ValueError(tr_format("turbo “{0}”, {1}: {2}{3}", self.name, place, first.text, more))
        return self

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Turbo:
        """A copy with other values, and without the map that was made of the old ones."""
        copy = super().model_copy(update=update, deep=deep)
        copy.__dict__.pop("chart", None)
        return copy

    @cached_property
    def chart(self) -> CompressorMap:
        """The map as the core takes it, made once: it keeps what it has worked out."""
        return CompressorMap(
            self.name,
            self.reference_pressure_Pa,
            self.reference_temperature_K,
            self.maximum_speed_rpm,
            tuple(SpeedLine(line.speed_rpm, *(tuple(p[i] for p in line.points) for i in range(3))) for line in self.lines),
        )

    @staticmethod
    def of_wheels(wheels: Wheels, id: str, name: str, turbine: Turbine | None = None) -> Turbo:
        """A turbo with a map that is estimated from its wheels; raises Fault for no wheel."""
        made = Turbo.of(wheels.chart(name), id, "", turbine)
        return made.model_copy(update={"wheels": wheels})

    @staticmethod
    def of(
        chart: CompressorMap,
        id: str,
        note: str = "",
        turbine: Turbine | None = None,
        *,
        estimated: Literal["", "efficiency", "scaled"] = "",
    ) -> Turbo:
        """A document turbo from a map, `estimated` as it says; without a `turbine`, one of the size that suits
        the wheel."""
        return Turbo(
            id=id,
            estimated=estimated,
            turbine=turbine or suited_turbine(chart),
            name=chart.name,
            note=note,
            reference_pressure_Pa=chart.reference_pressure,
            reference_temperature_K=chart.reference_temperature,
            maximum_speed_rpm=chart.maximum_speed,
            lines=lines_of(chart),
        )


def lines_of(chart: CompressorMap) -> tuple[Line, ...]:
    """The speed lines of a map as the document keeps them."""
    return tuple(Line(speed_rpm=q.speed, points=tuple(zip(q.flow, q.ratio, q.efficiency, strict=True))) for q in chart.lines)


def suited_turbine(chart: CompressorMap) -> Turbine:
    """A turbine in common proportion to a compressor that flows so much (common practice, no
    source): its wheel by the root of the flow, its housing by its wheel."""
    flow = chart.lines[-1].flow[-1]
    wheel = 62.0 * math.sqrt(flow / 0.362)
    return Turbine(
        wheel=_WHEEL(f"? {wheel:.0f} mm"), exducer=_EXDUCER(f"? {0.855 * wheel:.0f} mm"), housing=_HOUSING(f"? {0.275 * wheel:.1f} mm")
    )

"""Units and the reading of what people type: `2.5 in`, `1,1 bar`, `2 1/2"`, `14.5 psi abs`.

A decimal comma is read as one. What could mean two things (`6,400`) is refused with both readings
in the sentence, and so is everything that is not understood: nothing is guessed.
"""

from __future__ import annotations

import dataclasses
import functools
import math
import re
from dataclasses import dataclass

from zarvik.core.common.constants import HORSEPOWER, INCH, POUND, STANDARD_ATMOSPHERE, STANDARD_GRAVITY, ZERO_CELSIUS
from zarvik.project.language.language import tr, tr_format

_POUND = POUND
_PSI = 6894.757293168361
_FOOT = 0.3048


@dataclass(frozen=True)
class Unit:
    """A unit: SI = value * factor + offset. `places`: decimals that make sense on a screen."""

    symbol: str
    factor: float
    places: int
    offset: float = 0.0
    also: tuple[str, ...] = ()

    def to_si(self, value: float) -> float:
        """The number in SI."""
        return value * self.factor + self.offset

    def from_si(self, value: float) -> float:
        """The SI number in this unit."""
        return (value - self.offset) / self.factor


_PRESSURES = (
    Unit("bar", 1e5, 2),
    Unit("psi", _PSI, 1, also=("lb/in2", "lbs")),
    Unit("kPa", 1e3, 1),
    Unit("Pa", 1.0, 0),
    Unit("hPa", 100.0, 0, also=("mbar",)),
    Unit("MPa", 1e6, 3),
    Unit("atm", STANDARD_ATMOSPHERE, 3),
    Unit("inHg", 3386.389, 2),
    Unit("mmHg", 133.322387415, 0),
    Unit("inH2O", 249.08891, 1),
    Unit("mmH2O", STANDARD_GRAVITY, 0),
)

AIR_DENSITY = 1.2041  # kg/m3, of dry air at 20 °C and 101.325 kPa

KINDS: dict[str, tuple[Unit, ...]] = {
    "length": (
        Unit("mm", 1e-3, 1),
        Unit("in", INCH, 2, also=('"', "inch", "inches", "″", "''")),
        Unit("cm", 1e-2, 2),
        Unit("m", 1.0, 3),
        Unit("ft", _FOOT, 3, also=("'", "feet")),
    ),
    # Of a place above the sea, which nobody says in inches
    "altitude": (Unit("m", 1.0, 0), Unit("ft", _FOOT, 0, also=("'", "feet")), Unit("in", INCH, 0), Unit("mm", 1e-3, 0)),
    "area": (
        Unit("cm²", 1e-4, 1, also=("cm2",)),
        Unit("m²", 1.0, 4, also=("m2",)),
        Unit("mm²", 1e-6, 0, also=("mm2",)),
        Unit("in²", INCH**2, 2, also=("in2", "sq in")),
    ),
    "volume": (
        Unit("L", 1e-3, 2, also=("l", "litre", "liter", "dm3")),
        Unit("cm³", 1e-6, 0, also=("cm3", "cc", "ml")),
        Unit("m³", 1.0, 5, also=("m3",)),
        Unit("in³", INCH**3, 1, also=("in3", "cu in")),
    ),
    "angle": (Unit("°", math.pi / 180.0, 0, also=("deg", "degree", "degrees")), Unit("rad", 1.0, 3)),
    "temperature": (
        Unit("°C", 1.0, 0, ZERO_CELSIUS, also=("C", "degC", "celsius")),
        Unit("°F", 5.0 / 9.0, 0, 459.67 * 5.0 / 9.0, also=("F", "degF", "fahrenheit")),
        Unit("K", 1.0, 0),
    ),
    "temperature_difference": (Unit("K", 1.0, 0, also=("°C", "C")), Unit("°F", 5.0 / 9.0, 0, also=("F",))),
    "pressure_gauge": _PRESSURES,
    "pressure_absolute": _PRESSURES,
    "mean_pressure": _PRESSURES,
    # A loss is small: a tenth of a psi would hide it
    "pressure_difference": (_PRESSURES[2], _PRESSURES[0], dataclasses.replace(_PRESSURES[1], places=2), *_PRESSURES[3:]),
    "mass_flow": (
        Unit("lb/min", _POUND / 60.0, 1),
        Unit("kg/s", 1.0, 3),
        Unit("g/s", 1e-3, 0),
        Unit("kg/h", 1.0 / 3600.0, 0),
        Unit("kg/min", 1.0 / 60.0, 2),
        Unit("lb/s", _POUND, 3),
        Unit("lb/h", _POUND / 3600.0, 0),
        # A volume of air at 20 °C and 1013 hPa, as filters, flow benches and blowers are rated
        Unit("cfm", AIR_DENSITY * _FOOT**3 / 60.0, 0, also=("CFM", "ft3/min", "scfm")),
        Unit("m³/h", AIR_DENSITY / 3600.0, 0, also=("m3/h",)),
    ),
    "volume_flow": (
        Unit("m³/h", 1.0 / 3600.0, 0, also=("m3/h",)),
        Unit("cfm", _FOOT**3 / 60.0, 0, also=("ft3/min", "CFM")),
        Unit("L/s", 1e-3, 0, also=("l/s",)),
        Unit("L/min", 1e-3 / 60.0, 0, also=("l/min",)),
        Unit("m³/s", 1.0, 4, also=("m3/s",)),
    ),
    # Of oil, of an injector, of a pump: each as its own shop says it
    "liquid_flow": (
        Unit("L/min", 1e-3 / 60.0, 1, also=("l/min",)),
        Unit("cc/min", 1e-6 / 60.0, 0),
        Unit("L/h", 1e-3 / 3600.0, 0, also=("l/h",)),
        Unit("L/s", 1e-3, 2, also=("l/s",)),
    ),
    "injector_flow": (Unit("cc/min", 1e-6 / 60.0, 0, also=("cm³/min", "ml/min")), Unit("L/h", 1e-3 / 3600.0, 1, also=("l/h",))),
    "fuel_flow": (
        Unit("L/h", 1e-3 / 3600.0, 0, also=("l/h", "lph", "LPH")),
        Unit("L/min", 1e-3 / 60.0, 1, also=("l/min",)),
        Unit("cc/min", 1e-6 / 60.0, 0),
    ),
    "meter_flow": (Unit("kg/h", 1.0 / 3600.0, 0), Unit("g/s", 1e-3, 0), Unit("lb/min", _POUND / 60.0, 1), Unit("kg/s", 1.0, 3)),
    "gas_flow": (
        Unit("L/min", 1e-3 / 60.0, 0, also=("l/min",)),
        Unit("cfm", _FOOT**3 / 60.0, 1, also=("CFM", "ft3/min")),
        Unit("m³/h", 1.0 / 3600.0, 1, also=("m3/h",)),
        Unit("L/s", 1e-3, 1, also=("l/s",)),
    ),
    # Of heat, which nobody says in horsepower
    "heat_flow": (Unit("kW", 1e3, 1), Unit("W", 1.0, 0), Unit("BTU/min", 17.584264, 0, also=("btu/min",))),
    "small_heat": (Unit("W", 1.0, 0), Unit("kW", 1e3, 2)),
    "years": (Unit("years", 1.0, 0, also=("a", "year")),),
    "seconds": (Unit("s", 1.0, 0), Unit("min", 60.0, 1)),
    "warming": (Unit("K", 1.0, 1, also=("°C", "C")), Unit("°F", 5.0 / 9.0, 1, also=("F",))),
    "rotation": (Unit("rpm", 1.0, 0, also=("1/min", "rev/min", "r/min")), Unit("krpm", 1e3, 1, also=("k",))),
    "velocity": (Unit("km/h", 1.0 / 3.6, 0, also=("kph", "kmh")), Unit("m/s", 1.0, 0), Unit("mph", 0.44704, 0), Unit("ft/s", _FOOT, 0)),
    # Of a car, which nobody says in m/s
    "road_speed": (Unit("km/h", 1.0 / 3.6, 0, also=("kph", "kmh")), Unit("mph", 0.44704, 0), Unit("m/s", 1.0, 1)),
    "power": (Unit("hp", HORSEPOWER, 0, also=("bhp",)), Unit("kW", 1e3, 0), Unit("PS", 735.49875, 0, also=("ps", "cv")), Unit("W", 1.0, 0)),
    "torque": (
        Unit("N·m", 1.0, 0, also=("Nm", "N m")),
        Unit("lb·ft", _POUND * STANDARD_GRAVITY * _FOOT, 0, also=("lbft", "lb ft", "ft lb", "lb-ft")),
    ),
    "consumption": (Unit("g/kWh", 1e-3 / 3.6e6, 0), Unit("lb/hp·h", _POUND / (HORSEPOWER * 3600.0), 2, also=("lb/hph",))),
    "mass": (Unit("kg", 1.0, 2), Unit("g", 1e-3, 0), Unit("lb", _POUND, 2), Unit("t", 1e3, 3)),
    "injection": (
        Unit("mm³", 1e-9, 0, also=("mm3", "mm³/stroke", "mm3/stroke", "cmm", "mm³/injection")),
        # As a pump bench prints it: for a thousand strokes
        Unit("cc/1000", 1e-9, 0, also=("cc/1000 strokes", "ml/1000", "cm³/1000")),
    ),
    "force": (
        Unit("N", 1.0, 0),
        Unit("kgf", STANDARD_GRAVITY, 1, also=("kp",)),
        Unit("lbf", _POUND * STANDARD_GRAVITY, 0),
        Unit("kN", 1e3, 2),
    ),
    "inertia": (
        Unit("g·cm²", 1e-7, 0, also=("gcm2", "g cm2", "g·cm2")),
        Unit("kg·m²", 1.0, 8, also=("kgm2", "kg m2", "kg·m2")),
        Unit("kg·cm²", 1e-4, 3, also=("kgcm2", "kg cm2")),
    ),
    "time": (Unit("s", 1.0, 2), Unit("min", 60.0, 1)),
    # No rate of exchange: a sum is of the money that it was said in.
    "money": (
        Unit("€", 1.0, 0, also=("EUR", "eur")),
        Unit("$", 1.0, 0, also=("USD",)),
        Unit("£", 1.0, 0, also=("GBP",)),
        Unit("kr", 1.0, 0),
        Unit("Fr", 1.0, 0, also=("CHF",)),
    ),
    "weeks": (Unit("weeks", 1.0, 1, also=("week", "wk")), Unit("days", 1.0 / 7.0, 0, also=("day", "d"))),
    "days": (Unit("days", 1.0, 0, also=("day", "d")), Unit("weeks", 7.0, 1, also=("week", "wk"))),
    "work": (Unit("h", 1.0, 0, also=("hours", "hour", "hrs")),),
    "ratio": (Unit("%", 1e-2, 1, also=("percent",)),),
    "number": (Unit("", 1.0, 3),),
    "factor": (Unit("", 1.0, 2),),
    "closure": (Unit("ppm", 1e-6, 4),),
    "count": (Unit("", 1.0, 0),),
}

KIND_TITLES: dict[str, str] = {
    "length": "a length",
    "altitude": "an altitude",
    "area": "an area",
    "volume": "a volume",
    "angle": "an angle",
    "temperature": "a temperature",
    "temperature_difference": "a temperature difference",
    "pressure_gauge": "a gauge pressure",
    "pressure_absolute": "an absolute pressure",
    "mean_pressure": "a mean pressure",
    "pressure_difference": "a pressure difference",
    "mass_flow": "a mass flow",
    "volume_flow": "a volume flow",
    "rotation": "a speed of rotation",
    "velocity": "a speed",
    "power": "a power",
    "torque": "a torque",
    "consumption": "a fuel consumption",
    "road_speed": "a road speed",
    "liquid_flow": "a flow of liquid",
    "meter_flow": "a flow of air",
    "gas_flow": "a flow of gas",
    "heat_flow": "a flow of heat",
    "small_heat": "a flow of heat",
    "seconds": "a time",
    "years": "a number of years",
    "warming": "a temperature difference",
    "injector_flow": "the flow of an injector",
    "fuel_flow": "a flow of fuel",
    "mass": "a mass",
    "force": "a force",
    "injection": "fuel for one injection",
    "inertia": "a moment of inertia",
    "time": "a time",
    "money": "a sum of money",
    "weeks": "a number of weeks",
    "days": "a number of days",
    "work": "hours of work",
    "ratio": "a share",
    "number": "a plain number",
    "factor": "a plain number",
    "closure": "a share in millionths",
    "count": "a whole number",
}


class EntryError(ValueError):
    """What was typed is not a quantity of the wanted kind; the message is for the reader."""


def unit_of(kind: str, symbol: str) -> Unit:
    """The unit of `kind` written as `symbol` or one of its other spellings; raises EntryError."""
    for unit in KINDS[kind]:
        if symbol == unit.symbol or symbol in unit.also:
            return unit
    folded = symbol.lower().replace(" ", "").replace("·", "")
    for unit in KINDS[kind]:
        names = (unit.symbol, *unit.also)
        if folded in [n.lower().replace(" ", "").replace("·", "") for n in names]:
            return unit
    for other, units in KINDS.items():
        for unit in units:
            if symbol and symbol in (unit.symbol, *unit.also):
                raise EntryError(
                    tr_format(
                        "“{0}” belongs to {1}; {2} is needed here ({3})", symbol, KIND_TITLES[other], KIND_TITLES[kind], _examples(kind)
                    )
                )
    raise EntryError(tr_format("“{0}” is not a unit of {1} ({2})", symbol, tr(KIND_TITLES[kind]), _examples(kind)))


def _examples(kind: str) -> str:
    return ", ".join(unit.symbol or "no unit" for unit in KINDS[kind][:4])


SAID, ABOUT, UNKNOWN = "", "about", "?"
"""How well a number is known: said, said roughly, or not at all, so that an estimate stands in."""
MOVED = "moved"
"""An estimate that an uncertainty has moved: it stands as it is, and is no figure that somebody rated or measured."""
ESTIMATED = (UNKNOWN, MOVED)


@dataclass(frozen=True)
class Quantity:
    """A number with the unit that its owner likes and the kind of thing it is.

    `known`: SAID, ABOUT or UNKNOWN. `spread`: what its owner takes it to be good to, up and down (19
    times out of 20), in the same unit, or in percent of the value when `relative`; 0 where that was not
    said. Written and typed alike: `95 %`, `95 % ± 3 %`, `about 95 %`, `? 95 %`.
    """

    value: float
    unit: str
    kind: str
    known: str = SAID
    spread: float = 0.0
    relative: bool = False

    @functools.cached_property
    def si(self) -> float:
        """The number in SI; worked out once, since the figures of a document are read thousands of times."""
        return unit_of(self.kind, self.unit).to_si(self.value)

    @property
    def spread_si(self) -> float:
        """Its own uncertainty as a difference in SI, up and down; 0 where none was said."""
        if self.relative:
            return abs(self.si) * self.spread / 100.0
        return abs(unit_of(self.kind, self.unit).factor * self.spread)

    @property
    def number(self) -> str:
        """Number and unit, without how well they are known."""
        return f"{self.value:.12g} {self.unit}".strip()

    def __str__(self) -> str:
        text = f"{self.known} {self.number}".strip()
        if not self.spread:
            return text
        unit = "%" if self.relative else {"°C": "K", "°F": "°F"}.get(self.unit, self.unit)
        return f"{text} ± {self.spread:.6g} {unit}".strip()

    def with_si(self, si: float) -> Quantity:
        """Another number of SI in the same unit, rounded to what the eye can use; it is said now."""
        unit = unit_of(self.kind, self.unit)
        return Quantity(round(unit.from_si(si), unit.places + 1), self.unit, self.kind)

    def into(self, symbol: str) -> Quantity:
        """The same quantity in another unit, as well known as before."""
        unit = unit_of(self.kind, symbol)
        spread = self.spread
        if not self.relative and spread:
            spread = float(f"{self.spread_si / abs(unit.factor):.6g}")
        return dataclasses.replace(self, value=float(f"{unit.from_si(self.si):.10g}"), unit=unit.symbol, spread=spread)

    def rounded(self, digits: int) -> Quantity:
        """The same with so many digits."""
        return dataclasses.replace(self, value=float(f"{self.value:.{digits}g}"))


_NUMBER = re.compile(
    r"""(?P<sign>[+-]?)\s*(?:
        (?:(?P<whole>\d+)\s+)?(?P<top>\d+)\s*/\s*(?P<bottom>\d+)
      | (?P<plain>(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?)
    )""",
    re.VERBOSE,
)
_REFERENCE = re.compile(r"\s*\(?\b(abs|absolute|a|gauge|g)\)?\s*$", re.IGNORECASE)


def _number(text: str) -> tuple[float, str]:
    """The number at the start of `text` and what stands behind it."""
    match = _NUMBER.match(text)
    if match is None:
        raise EntryError(tr_format("“{0}” does not start with a number", text.strip()))
    rest = text[match.end() :]
    sign = -1.0 if match["sign"] == "-" else 1.0
    if match["top"]:
        if int(match["bottom"]) == 0:
            raise EntryError(tr_format("a fraction needs a number other than 0 below the line"))
        value = int(match["whole"] or 0) + int(match["top"]) / int(match["bottom"])
    else:
        plain = match["plain"]
        if re.match(r"[.,]?\d", rest) or rest.startswith((".", ",")):
            raise EntryError(tr_format("“{0}” is not one number: no thousands separators", text.strip()))
        if re.fullmatch(r"[1-9]\d{0,2},\d{3}", plain):
            raise EntryError(
                tr_format("“{0}” can mean {1} or {2}: write the one you mean", plain, plain.replace(",", "."), plain.replace(",", ""))
            )
        value = float(plain.replace(",", "."))
    if not math.isfinite(value):
        raise EntryError(tr_format("the number is too large to be one"))
    return sign * value, rest.strip()


def _terms(text: str) -> list[str]:
    """`2.5 in + 3 mm` as its terms with their signs; exponents and leading signs stay whole."""
    parts = re.split(r"\s+(?=[+-]\s*[\d.,])", text.strip())
    return [p for p in parts if p]


# Thousands set apart by a space of any kind, as this program prints them; not the whole number before a fraction
_GROUPS = re.compile(r"(?<![\d.,/])\d{1,3}(?:[ \u00a0\u2007\u2009\u202f]\d{3})+(?![\d/])")


def as_typed(text: str) -> str:
    """What is printed, as a keyboard writes it: a true minus, thousands set apart."""
    text = text.replace("\u2212", "-")
    return _GROUPS.sub(lambda match: re.sub(r"\s|\u00a0|\u2007|\u2009|\u202f", "", match[0]), text)


@functools.lru_cache(maxsize=8192)  # a document says the same few hundred texts many times over, in every variant again
def parse(text: str, kind: str, *, default_unit: str | None = None, ambient: float = STANDARD_ATMOSPHERE) -> Quantity:
    """What was typed, as a quantity of `kind`.

    A number without a unit takes `default_unit` (else the first of the kind). `ambient` Pa turns
    `abs` entries into gauge ones and back. Raises EntryError with a sentence.
    """
    if len(text) > 80:
        raise EntryError(tr_format("too long for a quantity"))
    known, text, uncertainty = knowledge(as_typed(text))
    if not text.strip():
        raise EntryError(tr_format("a value is needed here: {0}", tr(KIND_TITLES[kind])))
    text = _meant(text, kind)
    terms = _terms(text)
    if len(terms) > 1 and kind in ("temperature", "count"):
        raise EntryError(tr_format("sums are not possible for this kind of value"))
    found = [_one(term, kind, ambient) for term in terms]
    symbol = next((u for _, u in found if u is not None), None)
    if symbol is None:
        symbol = default_unit if default_unit is not None else KINDS[kind][0].symbol
    unit = unit_of(kind, symbol)
    if len(found) == 1:
        value = found[0][0]
    else:
        total = sum(unit_of(kind, u or symbol).to_si(v) for v, u in found)
        value = float(f"{unit.from_si(total):.10g}")
    if not math.isfinite(unit.to_si(value)):
        raise EntryError(tr_format("the number is too large to be one"))
    if kind == "count" and value != int(value):
        raise EntryError(tr_format("enter a whole number"))
    found_quantity = Quantity(value, unit.symbol, kind, known)
    return _uncertain(found_quantity, uncertainty) if uncertainty else found_quantity


_PREFIX = re.compile(r"\s*(\?|about\b|roughly\b|around\b|ca\b\.?|circa\b|~|≈)\s*", re.IGNORECASE)
_PLUS_MINUS = re.compile(r"\s*(?:±|\+\s*/\s*[-−]|\+-)\s*")


def knowledge(text: str) -> tuple[str, str, str]:
    """How well it is known, the number with its unit, and the uncertainty behind it, as they were typed."""
    known = SAID
    match = _PREFIX.match(text)
    if match:
        known = UNKNOWN if match[1] == "?" else ABOUT
        text = text[match.end() :]
    parts = _PLUS_MINUS.split(text)
    if len(parts) > 2:
        raise EntryError(tr_format("one ± is enough"))
    if len(parts) == 2 and not parts[1].strip():
        raise EntryError(tr_format("how much up and down? As “{0} ± 3 %”", parts[0].strip()))
    return known, parts[0], parts[1] if len(parts) == 2 else ""


def _uncertain(quantity: Quantity, text: str) -> Quantity:
    """The quantity with the uncertainty that stands behind its ±: in its unit, in another of its kind, or in
    percent of it."""
    value, symbol = _number(text.strip())
    if value < 0.0:
        raise EntryError(tr_format("the value after ± has no sign"))
    unit = unit_of(quantity.kind, quantity.unit)
    if symbol == "%" and quantity.kind != "ratio":
        if value >= 100.0:
            raise EntryError(tr_format("an uncertainty as large as the value says nothing. Enter “?” for unknown"))
        return dataclasses.replace(quantity, spread=value, relative=True)
    if symbol in ("K", "C", "°C") and quantity.kind == "temperature":
        spread = value / abs(unit.factor)
    elif symbol:
        spread = value * abs(unit_of(quantity.kind, symbol).factor / unit.factor)
    else:
        spread = value
    if unit.offset == 0.0 and spread >= abs(quantity.value) > 0.0:
        raise EntryError(tr_format("an uncertainty as large as the value says nothing. Enter “?” for unknown"))
    return dataclasses.replace(quantity, spread=float(f"{spread:.6g}"))


_WHEELS = re.compile(r"\s*([\d.,]+)\s*w(hp|kw|ps)\s*(?:[,;/]?\s*([\d.,]+)\s*%)?\s*", re.IGNORECASE)
_WHOLE_UNIT = {"hp": "hp", "kw": "kW", "ps": "PS"}


def _meant(text: str, kind: str) -> str:
    """What the trade writes, as what the parser reads: 11:1, 330 whp 15 %, .7 for a share, 6 deg."""
    if kind == "number":
        text = re.sub(r"\s*:\s*1\s*$", "", text)
        return re.sub(r"\s*(deg|degrees|°)\s*$", "", text, flags=re.IGNORECASE)
    if kind == "ratio" and re.fullmatch(r"\s*0?[.,]\d+\s*", text):
        return f"{100.0 * float(text.strip().replace(',', '.')):.10g} %"
    wheels = _WHEELS.fullmatch(text) if kind == "power" else None
    if wheels:
        unit = _WHOLE_UNIT[wheels[2].lower()]
        if wheels[3] is None:
            raise EntryError(
                tr_format(
                    "{0} is power at the wheels: add the drivetrain loss, as “{1} w{2} 15 %” (12 to 18 % is common practice)",
                    text.strip(),
                    wheels[1],
                    wheels[2].lower(),
                )
            )
        lost = float(wheels[3].replace(",", ".")) / 100.0
        if not 0.0 <= lost <= 0.5:
            raise EntryError(tr_format("a drivetrain loses 0 to 50 %"))
        return f"{float(wheels[1].replace(',', '.')) / (1.0 - lost):.4g} {unit}"
    return text


def _one(text: str, kind: str, ambient: float) -> tuple[float, str | None]:
    value, symbol = _number(text)
    if not kind.startswith("pressure_"):
        return value, (unit_of(kind, symbol).symbol if symbol else None)
    absolute: bool | None = None
    if symbol.lower() in ("psia", "psig"):
        absolute, symbol = symbol.lower() == "psia", "psi"
    else:
        match = _REFERENCE.search(symbol)
        if match and match.start() > 0:
            absolute, symbol = match[1].lower().startswith("a"), symbol[: match.start()].strip()
    if not symbol:
        return value, None
    unit = unit_of(kind, symbol)
    if absolute is None or kind == "pressure_difference":
        return value, unit.symbol
    if kind == "pressure_gauge" and absolute:
        value = float(f"{unit.from_si(unit.to_si(value) - ambient):.10g}")
    if kind == "pressure_absolute" and not absolute:
        value = float(f"{unit.from_si(unit.to_si(value) + ambient):.10g}")
    return value, unit.symbol


_FEWER = ("lb", "in³")  # units of which ten and more are shown with a place less, as three digits are enough


def show(si: float, kind: str, symbol: str | None = None, *, places: int | None = None) -> str:
    """An SI number as text in the unit `symbol` (else the first of the kind), unit behind it."""
    unit = unit_of(kind, symbol) if symbol is not None else KINDS[kind][0]
    if not math.isfinite(si):
        return "–"
    value = unit.from_si(si)
    if kind == "rotation" and unit.symbol == "rpm" and abs(value) >= 20_000.0 and places is None:
        # No map knows the speed of a wheel to a turn: three digits.
        value = float(f"{value:.3g}")
    if kind == "closure" and 0.0 <= value < 1.0 and places is None:
        return tr("under {0}").format("1\u00a0ppm")
    if kind == "angle" and unit.symbol == "°" and places is None and abs(value) < 10.0 and abs(value - round(value)) > 0.04:
        places = 1  # between ends that should meet a tenth of a degree counts
    if kind == "length" and unit.symbol == "mm" and places is None and (abs(value) >= 1000.0 or abs(value - round(value)) < 0.05):
        places = 0  # as on a tape: 57 mm where nothing is behind the point, and no tenths of a metre
    if unit.symbol in _FEWER and places is None and abs(value) >= 10.0:
        places = unit.places - 1
    text = f"{value:,.{unit.places if places is None else places}f}".replace(",", "\u00a0")
    if text.lstrip("-").strip("0.\u00a0") == "":
        text = text.lstrip("-")
    if unit.symbol == "°" and kind == "angle":
        return f"{text.replace('-', '−')}°"
    return f"{text.replace('-', '−')}\u00a0{unit.symbol}".rstrip("\u00a0")

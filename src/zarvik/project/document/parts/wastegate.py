"""Wastegate and bay."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.core.wastegate.actuator import FOUR, THREE
from zarvik.core.wastegate.solenoid import NAMED, PORTS
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_VALVE = QuantitySpec(
    kind="length", low="0 mm", high="120 mm", unit="mm", title="Valve diameter", help="Across the seat", blank="no wastegate"
)
_LIFT = QuantitySpec("length", "0 mm", "60 mm", "mm", "Full valve lift")
_GATES = QuantitySpec("count", "1", "4", "", "Number of wastegates")
_DISCHARGE = QuantitySpec(
    kind="ratio",
    low="20 %",
    high="95 %",
    unit="%",
    title="Discharge coefficient",
    help="Valve and branch together. If unknown: from branch and angle",
    uncertainty=InputUncertainty(0.05, 0.10, 0.12, absolute=True, measure="Boost with the wastegate wired open, at two engine speeds"),
    usual="65 %",
    model=True,
)


_KIND = Choice("Wastegate type", lambda: (("outside", "External, on the manifold"), ("inside", "Internal flap")))
_SPRING = QuantitySpec(
    kind="pressure_gauge",
    low="0 bar",
    high="4 bar",
    unit="bar",
    title="Spring pressure",
    help="Stacked springs add up: 0.5 bar + 0.2 bar",
    blank="not chosen",
)
_FULL = QuantitySpec(
    kind="pressure_gauge",
    low="0 bar",
    high="8 bar",
    unit="bar",
    title="Full-open pressure",
    help="Air pressure on the diaphragm alone",
    blank="auto: 1.45 ×",
)
_SOLD = Choice(
    "Spring rating",
    lambda: (("engine", "Boost held on an engine"), ("bench", "Bench opening pressure")),
    ("Springs are sold by the boost they hold on an engine; with a hand pump on the bench the valve opens at more"),
)
_DIAPHRAGM = QuantitySpec(
    kind="length", low="0 mm", high="200 mm", unit="mm", title="Diaphragm diameter", help="Effective diameter", blank="auto"
)
_FROM = Choice("Pressure source", lambda: (("compressor", "Compressor outlet"), ("plenum", "Plenum")))
_CONTROL = Choice(
    "Solenoid",
    lambda: (("none", "Nothing"), ("three", "Three-port solenoid"), ("four", "Four-port solenoid")),
    "Four ports lead to both sides of the diaphragm",
)
_BLOWN = "Blow through the valve: first unpowered, then with 12 V held on. Makers number ports differently"


def _blown(control: str) -> tuple[tuple[str, str], ...]:
    """What blowing through a solenoid can find, as choices."""

    def wording(code: str) -> str:
        off, on = (" and ".join("–".join(pair) for pair in half.split(".")) for half in code.split("-"))
        return f"{off} unpowered, {on} powered"

    return (("", "Not known"), *((code, wording(code)) for code in PORTS[control]), (NAMED, "Ports marked by name"))


_PORTS_THREE = Choice("Solenoid ports", lambda: _blown(THREE), _BLOWN)
_PORTS_FOUR = Choice("Solenoid ports", lambda: _blown(FOUR), _BLOWN)
_DUTY = QuantitySpec(
    kind="ratio", low="0 %", high="100 %", unit="%", title="Solenoid duty", help="Share of time on", blank="first start: off"
)
_HOSE = QuantitySpec("length", "1 mm", "20 mm", "mm", "Hose bore")
_HOSE_LONG = QuantitySpec(
    kind="length", low="20 mm", high="5 m", unit="mm", title="Hose length", help="From the pressure source to the wastegate"
)

_BLOW = QuantitySpec(kind="length", low="0 mm", high="80 mm", unit="mm", title="Blow-off valve", help="Diameter of its seat", blank="none")
_BLOW_SPRING = QuantitySpec(
    kind="pressure_difference",
    low="0 bar",
    high="4 bar",
    unit="bar",
    title="Blow-off opening pressure",
    help="Charge pipe above plenum, across the valve",
)
_BLOW_TO = Choice("Blow-off outlet", lambda: (("back", "Back into the intake"), ("air", "Vented to atmosphere")))
_METER = Choice("Air metering", lambda: (("no", "Sensor, or meter after it"), ("yes", "Meter before compressor")))


_BRANCH = QuantitySpec(
    kind="length",
    low="0 mm",
    high="120 mm",
    unit="mm",
    title="Branch bore",
    help="Pipe that feeds the wastegate",
    blank="auto: as the valve",
)
_ANGLE = QuantitySpec(
    kind="angle",
    low="0 °",
    high="150 °",
    unit="°",
    title="Branch angle",
    help="To the gas flow: 0° straight on, 90° square, more is backwards",
)
_REJOIN = QuantitySpec(
    kind="count",
    low="0",
    high="200",
    unit="",
    title="Pieces bypassed",
    help="Exhaust pieces behind the turbine that the wastegate gas bypasses",
    blank="none",
)
_TUBE = QuantitySpec(
    kind="length",
    low="0 mm",
    high="120 mm",
    unit="mm",
    title="Return pipe bore",
    help="Pipe back into the exhaust",
    blank="auto: as the valve",
)
_JOINS = QuantitySpec(kind="angle", low="0 °", high="120 °", unit="°", title="Return angle", help="To the gas flow in the exhaust")
_DUMP = Choice(
    "Wastegate outlet",
    lambda: (("back", "Back into the downpipe"), ("air", "Vented to atmosphere")),
    "An open outlet is loud, and often not road legal",
)
_ENDS = (
    ("", "Not known"),
    ("compressor", "Compressor"),
    ("plenum", "Plenum"),
    ("in", "Port 1"),
    ("out", "Port 2"),
    ("vent", "Port 3"),
    ("other", "Port 4"),
    ("lower", "Wastegate, opening side"),
    ("upper", "Wastegate, closing side"),
    ("open", "Atmosphere"),
    ("cap", "Plug"),
)
_HELP = "As it is on the car. The program finds loops and open ends, and what the wastegate then does"
_A1, _B1, _C1, _D1 = (Choice(f"Hose {letter} from", lambda: _ENDS, _HELP) for letter in "ABCD")
_A2, _B2, _C2, _D2 = (Choice(f"Hose {letter} to", lambda: _ENDS, _HELP) for letter in "ABCD")


class Wastegate(Part):
    """The wastegate, in parallel with the turbine, what moves it, and the blow-off valve."""

    diameter: Annotated[Quantity, _VALVE] = _VALVE("38 mm")
    lift: Annotated[Quantity, _LIFT] = _LIFT("10 mm")
    count: Annotated[Quantity, _GATES] = _GATES("1")
    discharge: Annotated[Quantity, _DISCHARGE] = _DISCHARGE("? 65 %")
    branch_bore: Annotated[Quantity, _BRANCH] = _BRANCH("0 mm")
    branch_angle: Annotated[Quantity, _ANGLE] = _ANGLE("45 °")
    kind: Annotated[str, _KIND] = "outside"
    outlet: Annotated[str, _DUMP] = "back"
    pieces_bypassed: Annotated[Quantity, _REJOIN] = _REJOIN("0")
    return_bore: Annotated[Quantity, _TUBE] = _TUBE("0 mm")
    return_angle: Annotated[Quantity, _JOINS] = _JOINS("30 °")
    spring: Annotated[Quantity, _SPRING] = _SPRING("0 bar")
    fully_open: Annotated[Quantity, _FULL] = _FULL("0 bar")
    spring_rating: Annotated[str, _SOLD] = "engine"
    diaphragm: Annotated[Quantity, _DIAPHRAGM] = _DIAPHRAGM("0 mm")
    reference: Annotated[str, _FROM] = "compressor"
    control: Annotated[str, _CONTROL] = "none"
    ports: Annotated[str, _PORTS_THREE] = ""
    ports_four: Annotated[str, _PORTS_FOUR] = ""
    duty: Annotated[Quantity, _DUTY] = _DUTY("0 %")
    hose_bore: Annotated[Quantity, _HOSE] = _HOSE("4 mm")
    hose_length: Annotated[Quantity, _HOSE_LONG] = _HOSE_LONG("600 mm")
    blow_off: Annotated[Quantity, _BLOW] = _BLOW("0 mm")
    blow_off_pressure: Annotated[Quantity, _BLOW_SPRING] = _BLOW_SPRING("0.8 bar")
    blow_off_outlet: Annotated[str, _BLOW_TO] = "back"
    air_metering: Annotated[str, _METER] = "no"
    hose_a: Annotated[str, _A1] = ""
    hose_a_to: Annotated[str, _A2] = ""
    hose_b: Annotated[str, _B1] = ""
    hose_b_to: Annotated[str, _B2] = ""
    hose_c: Annotated[str, _C1] = ""
    hose_c_to: Annotated[str, _C2] = ""
    hose_d: Annotated[str, _D1] = ""
    hose_d_to: Annotated[str, _D2] = ""

    @property
    def plumbed(self) -> tuple[tuple[str, str], ...]:
        """Ends of hoses A to D as they are on the car; empty where nothing is said."""
        found = ((self.hose_a, self.hose_a_to), (self.hose_b, self.hose_b_to), (self.hose_c, self.hose_c_to), (self.hose_d, self.hose_d_to))
        return found if any(any(pair) for pair in found) else ()


_BAY = QuantitySpec(
    kind="temperature",
    low="-20 °C",
    high="160 °C",
    unit="°C",
    title="Bay temperature",
    help="Air around the pipes at full load",
    uncertainty=InputUncertainty(10.0, 15.0, 20.0, absolute=True, measure="A thermometer on a wire in the bay, on a long pull"),
    usual="60 °C",
)
_BREEZE = QuantitySpec(
    kind="velocity",
    low="0 m/s",
    high="60 m/s",
    unit="m/s",
    title="Air speed in the bay",
    help="Past hot parts",
    uncertainty=InputUncertainty(0.30, 0.50, 0.70, measure="Wool tufts on the parts and a camera, at road speed"),
    usual="5 m/s",
)


class Bay(Part):
    """The engine bay."""

    temperature: Annotated[Quantity, _BAY] = _BAY("? 60 °C")
    air_speed: Annotated[Quantity, _BREEZE] = _BREEZE("? 5 m/s")

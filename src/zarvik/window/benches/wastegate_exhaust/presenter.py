"""What the Wastegate & exhaust bench shows: entries of the gate, curves, hoses, schools in the owner's units."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from zarvik.core.boost_control.held_boost import RUN_AWAY, GatePoint
from zarvik.core.common.constants import ZERO_CELSIUS
from zarvik.core.limits.limits import FAILS, MARGINAL, OK
from zarvik.core.manifold.life import BAND
from zarvik.project.boost_control.control import FALLS, MORE, RUNS, STAYS, WHAT, Control, Line, cycles_text, held_boost, unsaid
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr, tr_format
from zarvik.project.manifold.manifold_types import LONGER, OWN, ManifoldType
from zarvik.project.units.rendering import figure
from zarvik.project.units.units import KINDS, unit_of

GATE = (
    "wastegate.kind",
    "wastegate.branch_bore",
    "wastegate.branch_angle",
    "wastegate.outlet",
    "wastegate.pieces_bypassed",
    "wastegate.return_bore",
    "wastegate.return_angle",
    "wastegate.diameter",
    "wastegate.lift",
    "wastegate.count",
    "wastegate.discharge",
    "wastegate.spring",
    "wastegate.fully_open",
    "wastegate.spring_rating",
    "wastegate.diaphragm",
    "wastegate.reference",
    "wastegate.control",
    "wastegate.ports",
    "wastegate.ports_four",
    "wastegate.duty",
    "wastegate.hose_bore",
    "wastegate.hose_length",
    "wastegate.blow_off",
    "wastegate.blow_off_pressure",
    "wastegate.blow_off_outlet",
    "wastegate.air_metering",
)
HOSES = tuple(f"wastegate.hose_{letter}{end}" for letter in "abcd" for end in ("", "_to"))
_LETTERS = {"none": "ab", "three": "abc", "four": "abcd"}


def asked(project: Project, place: str) -> bool:
    """Is an entry of the gate asked for, as things are?"""
    gate = project.wastegate
    fitted = gate.diameter.si > 0.0
    if place == "wastegate.kind":
        return True
    if not fitted:
        return place == "wastegate.diameter"
    if place == "wastegate.duty":
        return gate.control != "none"
    if place in ("wastegate.ports", "wastegate.ports_four"):
        return gate.control == ("three" if place == "wastegate.ports" else "four")
    if place in HOSES:
        # One that is said stays in sight, whatever the hardware.
        name = place.partition(".")[2]
        return name.removeprefix("hose_")[0] in _LETTERS[gate.control] or bool(getattr(gate, name))
    if place in ("wastegate.branch_bore", "wastegate.branch_angle"):
        return gate.kind == "outside"
    if place == "wastegate.pieces_bypassed":
        return gate.outlet == "back"
    if place in ("wastegate.return_bore", "wastegate.return_angle"):
        return gate.outlet == "back" and gate.pieces_bypassed.si > 0.0
    return True


STATES = {RUNS: FAILS, MORE: MARGINAL, FALLS: OK, STAYS: OK}


@dataclass(frozen=True)
class Curves:
    """Boost over engine speed (rev/min) in a shown `unit`: on the spring alone, as it is set, with all of the solenoid (empty
    without one); what is `asked`, what is `trusted`, the `target` speed, the `top` of the axis."""

    unit: str
    alone: tuple[tuple[float, float], ...]
    now: tuple[tuple[float, float], ...]
    most: tuple[tuple[float, float], ...]
    asked: float
    trusted: float
    target: float
    top: float


def curves(found: Control, units: Mapping[str, str]) -> Curves:
    """The curves of a report."""
    symbol = units.get("pressure_gauge")
    unit = unit_of("pressure_gauge", symbol) if symbol else KINDS["pressure_gauge"][0]

    def points(held: Sequence[GatePoint]) -> tuple[tuple[float, float], ...]:
        return tuple((h.speed, unit.from_si(h.boost)) for h in held)

    seen = [h.boost for h in (*found.alone, *found.now)]
    top = min(max([*seen, 1.2 * found.asked, 1.15 * found.trusted]), RUN_AWAY)
    return Curves(
        unit.symbol,
        points(found.alone),
        points(found.now),
        points(found.most),
        unit.from_si(found.asked),
        unit.from_si(found.trusted),
        found.speed,
        unit.from_si(top),
    )


def hose_words(line: Line, units: Mapping[str, str]) -> str:
    """A hose and what comes of it."""
    off = tr("pinched") if line.key == "vent" else tr("off")
    return tr_format("{0} to {1}; {2}: {3}, {4}", line.begin, line.end, off, held_boost(line.boost, units), tr(WHAT[line.what]))


def headline(found: Control, units: Mapping[str, str]) -> str:
    """What the gate does, in a line."""
    words = []
    if found.duty == found.duty:
        words.append(tr_format("{0} with the solenoid at {1:.0f} % duty", figure(found.asked, "pressure_gauge", units), 100.0 * found.duty))
    if found.overshoot is not None and found.overshoot.over > 500.0:
        words.append(tr_format("about {0} overshoot when you floor the pedal", figure(found.overshoot.over, "pressure_gauge", units)))
    held = [h for h in found.alone if h.state != "shut"]
    if held:
        words.insert(0, tr_format("the spring alone opens the wastegate from {0}", figure(held[0].speed, "rotation", units)))
    if not found.actuator.said:
        words.insert(0, unsaid(found, units))
    line = "; ".join(words)
    return line[:1].upper() + line[1:]


@dataclass(frozen=True)
class Column:
    """A column of the schools: its `title`, the text of a school and the number that its bar stands for (nan for none);
    `less` is better."""

    title: str
    text: Callable[[ManifoldType], str]
    value: Callable[[ManifoldType], float]
    less: bool = True


def columns(units: Mapping[str, str], *, driven: bool = False, late: bool = False) -> tuple[Column, ...]:
    """The columns, in the owner's units. A blower that is `driven` by a belt boosts as soon whatever the manifold is; where the
    controller lets full boost in `late`, the speed is that of the turbo alone, and called so."""

    def of(kind: str, value: float) -> str:
        return figure(value, kind, units) if value == value else "–"

    def seconds(s: ManifoldType) -> str:
        return "–" if s.seconds != s.seconds else tr("never") if math.isinf(s.seconds) else f"{s.seconds:.2f} s"

    response = (
        Column("turbo alone" if late else "full boost", lambda s: of("rotation", s.threshold), lambda s: s.threshold),
        Column("spool", seconds, lambda s: s.seconds if math.isfinite(s.seconds) else math.nan),
    )
    return (
        *(response if not driven else ()),
        Column("power", lambda s: of("power", s.power), lambda s: s.power, False),
        Column("exhaust gas", lambda s: of("temperature", s.gas), lambda s: s.gas - ZERO_CELSIUS),
        Column("volume", lambda s: of("volume", s.volume), lambda s: s.volume),
        Column("weight", lambda s: of("mass", s.mass), lambda s: s.mass),
        Column("welds", lambda s: str(s.welds), lambda s: float(s.welds)),
        Column("work", lambda s: of("work", s.hours), lambda s: s.hours),
        Column("price", lambda s: of("money", s.money), lambda s: s.money),
        Column("growth", lambda s: of("length", s.grows), lambda s: s.grows),
        Column(
            "heat cycles to crack",
            lambda s: cycles_text(s.cycles),
            lambda s: math.log10(max(s.cycles, 1.0)) if s.cycles == s.cycles else math.nan,
            False,
        ),
    )


def gains(found: Sequence[ManifoldType], units: Mapping[str, str], *, driven: bool = False, late: bool = False) -> str:
    """Which boosts earliest and which makes most power, against the present manifold; of a blower that is `driven` power alone. Where
    the controller lets full boost in `late`, earliest is the turbo alone."""
    own = next((s for s in found if s.key == OWN), None)
    others = [s for s in found if s.key != OWN and s.threshold == s.threshold]
    if own is None or not others or own.threshold != own.threshold:
        return ""
    early = min(others, key=lambda s: s.threshold)
    strong = max(others, key=lambda s: s.power if s.power == s.power else 0.0)
    words = []
    if not driven and early.threshold < own.threshold - 20.0:
        words.append(
            tr_format(
                "{0}: the turbo alone makes full boost from {1} instead of {2}" if late else "{0}: full boost from {1} instead of {2}",
                tr(early.title),
                figure(early.threshold, "rotation", units),
                figure(own.threshold, "rotation", units),
            )
        )
    if strong.power > 1.005 * own.power:
        words.append(
            tr_format("{0}: {1} instead of {2}", tr(strong.title), figure(strong.power, "power", units), figure(own.power, "power", units))
        )
    if not words:
        none = "None makes more power than the present manifold" if driven else ""
        words = [tr(none or "None gives full boost earlier than the present manifold, and none makes more power")]
    if own.cycles == own.cycles:
        words.append(tr_format("{0}: {1}", tr(own.title), lasts(own)))
    return ". ".join(words)


def lasts(own: ManifoldType) -> str:
    """How long the manifold lasts, how rough that is, and what makes it last longer."""
    text = tr_format("about {0} heat cycles to a crack, rough guide within a factor of {1:.0f}", cycles_text(own.cycles), BAND)
    if own.longer:
        better = ", ".join(tr_format("{0} ({1}×)", tr(LONGER[key]), times(factor)) for key, factor in own.longer)
        text = tr_format("{0}. Lasts longer with: {1}", text, better)
    return text


def times(factor: float) -> str:
    """A factor with the digits that count: 1.5, 3, 12."""
    return f"{factor:.1f}" if factor < 2.95 else f"{factor:.0f}" if factor < 99.5 else tr("over 100")

"""What the Joints & services bench shows: lines filtered and grouped, in words; entries of a line by its kind."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from zarvik.core.connections import row as r
from zarvik.core.connections.row import Row
from zarvik.core.connections.rules import SERVED, JointFinding, exhaust_risk, findings, risk
from zarvik.core.joints.hose_joints import CLAMPS, end_force
from zarvik.core.joints.threads import THREADS
from zarvik.core.leak_test.boost_loss import Hole
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import figure, rough_figure

LADDER = (r.OPEN, r.DRY, r.HAND, r.TORQUED, r.TESTED)
GROUPS = {"where": "By position", "state": "By state", "kind": "By kind", "side": "By medium", "tool": "By tool"}
COMMON = ("name", "note", "measured")
ENTRIES: dict[str, tuple[str, ...]] = {
    r.PORT: ("decision", "served", "bore", "thread", "sealed", "wall", "material", "side", "where", "piece"),
    r.BUNG: ("thread", "sealed", "bore", "wall", "material", "at", "clock", "side", "where", "piece"),
    r.SENSOR: ("thread", "sealed", "wall", "at", "clock", "material"),
    r.JOINT: (
        "made",
        "clamp",
        "bead",
        "engaged",
        "oily",
        "torque",
        "material",
        "bolts",
        "across",
        "up",
        "screw",
        "bore",
        "other_bolts",
        "other_across",
        "other_up",
        "other_screw",
        "other_bore",
        "turns",
        "layer_1",
        "thick_1",
        "layer_2",
        "thick_2",
        "layer_3",
        "thick_3",
        "face",
    ),
    r.HOSE: ("served", "bore", "material", "oily"),
    r.LINE: ("bore", "material", "oily", "thread", "sealed", "clock"),
}
# What is asked of a joint by how it is made; the rest of its entries are of flanges.
OF_HOSES = ("clamp", "bead", "engaged", "oily", "material")
OF_JOINTS = ("made", "torque")


def entries_of(row: Row) -> tuple[str, ...]:
    """The entries that a line asks for, by its kind; of a joint by how it is made, of its layers one more than there are."""
    if row.kind != r.JOINT:
        return (*ENTRIES[row.kind], *COMMON)
    if row.made != r.FLANGED:
        return (*OF_JOINTS, *(OF_HOSES if row.made in (r.HOSED, r.SLIPPED) else ()), *COMMON)
    shut = set(OF_HOSES) | {f"{what}_{n}" for n in (2, 3) for what in ("layer", "thick") if n > len(row.layers) + 1}
    if not row.layers:
        shut |= {"thick_1", "face"}
    shut |= {f"thick_{len(row.layers) + 1}"}
    return (*(name for name in ENTRIES[r.JOINT] if name not in shut), *COMMON)


@dataclass(frozen=True)
class Item:
    """A line of the picture: a heading (`title` alone), or a `row` with its worst `state` of the rules (empty for none) and the words
    of its cells."""

    title: str
    row: Row | None = None
    state: str = ""
    what: str = ""
    decided: str = ""


def tool(row: Row) -> str:
    """What it is worked with."""
    if row.thread in THREADS:
        return tr_format("Tap {0}", row.thread)
    if row.kind == r.JOINT and row.made == r.HOSED:
        return tr(CLAMPS[row.clamp].title)
    return tr(r.MADE.get(row.made, "")) or tr("Own line")


def group_of(row: Row, by: str) -> str:
    """Heading under which a line stands."""
    if by == "state":
        return tr(r.STATES[row.state])
    if by == "kind":
        return tr(r.KINDS[row.kind])
    if by == "side":
        return tr(r.SIDES[row.side])
    if by == "tool":
        return tool(row)
    return row.where


def what(row: Row, units: Mapping[str, str]) -> str:
    """What a line is, in a few words."""
    parts = []
    if row.kind == r.JOINT:
        parts.append(tr(r.MADE.get(row.made, "")))
        if row.diameter > 0.0:
            parts.append(figure(row.diameter, "length", units))
        if row.pressure > 0.0 and row.diameter > 0.0 and row.made == r.HOSED:
            parts.append(figure(end_force(row.pressure, row.diameter), "force", units))
    else:
        if row.thread:
            parts.append(row.thread)
        if row.bore > 0.0:
            parts.append(figure(row.bore, "length", units))
        if row.served:
            parts.append(tr(SERVED.get(row.served, "")))
    return ", ".join(part for part in parts if part)


def decided(row: Row) -> str:
    """What was decided of a line."""
    if row.lost:
        return tr("its piece was removed")
    return tr(r.DECISIONS[row.decision]) if row.kind == r.PORT else ""


def matching(rows: Iterable[Row], text: str) -> list[Row]:
    """The lines in which every word of a text stands somewhere."""
    asked = text.lower().split()
    if not asked:
        return list(rows)
    found = []
    for row in rows:
        hay = " ".join(
            (
                row.name,
                row.where,
                tr(r.KINDS[row.kind]),
                tr(r.STATES[row.state]),
                tr(r.SIDES[row.side]),
                row.thread,
                decided(row),
                tr(SERVED.get(row.served, "")),
                row.note,
                row.measured,
                tool(row),
            )
        ).lower()
        if all(word in hay for word in asked):
            found.append(row)
    return found


def worst_of(found: Iterable[JointFinding]) -> dict[str, list[JointFinding]]:
    """What the rules say, by the key of the line, worst first."""
    by: dict[str, list[JointFinding]] = {}
    for finding in found:
        by.setdefault(finding.key, []).append(finding)
    return by


def items(rows: Sequence[Row], text: str, by: str, units: Mapping[str, str]) -> tuple[Item, ...]:
    """The lines that match, under their headings, in the order in which these first come."""
    said = worst_of(findings(rows))
    groups: dict[str, list[Row]] = {}
    for row in matching(rows, text):
        groups.setdefault(group_of(row, by), []).append(row)
    found: list[Item] = []
    for title, members in groups.items():
        done = sum(row.state in r.DONE for row in members)
        found.append(Item(tr_format("{0}: {1} of {2} done", title, done, len(members))))
        for row in members:
            faults = said.get(row.key, ())
            found.append(Item(row.name, row, faults[0].state if faults else "", what(row, units), decided(row)))
    return tuple(found)


def summary(rows: Sequence[Row]) -> str:
    """How far it is, in a line."""
    joints = [x for x in rows if x.kind == r.JOINT and x.side == r.BOOST]
    ports = [x for x in rows if x.kind == r.PORT]
    words = [
        tr_format("{0} lines", len(rows)),
        tr_format("{0} of {1} boost joints torqued", sum(x.state in r.DONE for x in joints), len(joints)),
    ]
    if ports:
        words.append(tr_format("{0} of {1} ports decided", sum(bool(x.decision) for x in ports), len(ports)))
    return ", ".join(words)


def risks(rows: Sequence[Row], most: int = 12) -> tuple[tuple[Row, float], ...]:
    """Where to look for a leak first, the likeliest first."""
    found = sorted(((row, risk(row)) for row in rows), key=lambda pair: -pair[1])
    return tuple(pair for pair in found if pair[1] > 0.0)[:most]


def exhaust_risks(rows: Sequence[Row], most: int = 8) -> tuple[tuple[Row, float], ...]:
    """Where to look for a leak of the exhaust first, before the turbine above all."""
    found = sorted(((row, exhaust_risk(row)) for row in rows), key=lambda pair: -pair[1])
    return tuple(pair for pair in found if pair[1] > 0.0)[:most]


EXHAUST_LEAKS = (
    "Cold: blow smoke or a shop vacuum into the tailpipe, with soapy water on flanges, welds and probes. "
    "Soot shows old leaks. A manifold crack can close when hot: check again after the first heat. "
    "Exhaust gas is poisonous: never indoors."
)


def hole_words(found: Sequence[Hole], units: Mapping[str, str]) -> tuple[str, ...]:
    """What holes of a few sizes cost here."""
    lines = []
    for hole in found:
        if hole.share != hole.share:
            continue
        size = figure(hole.diameter, "length", units)
        words = [
            tr_format("{0} of the air leaks", figure(hole.share, "ratio", units)),
            tr_format("{0} less at the target", rough_figure(hole.power, "power", units)),
        ]
        if hole.later == hole.later and hole.later >= 1.0:
            words.append(tr_format("full boost {0} later", figure(hole.later, "rotation", units)))
        if hole.short > 500.0:
            words.append(tr_format("{0} of boost not reached", figure(hole.short, "pressure_difference", units)))
        lines.append(tr_format("A hole of {0}: {1}", size, ", ".join(words)))
    if lines:
        lines.append(tr("With a meter before the compressor the mixture gets richer by the leak; with a pressure sensor it stays right"))
    return tuple(lines)


def spoken(item: Item) -> str:
    """A line in words, for who does not see it."""
    if item.row is None:
        return item.title
    return ", ".join(part for part in (item.title, item.row.where, item.what, item.decided, tr(r.STATES[item.row.state])) if part)

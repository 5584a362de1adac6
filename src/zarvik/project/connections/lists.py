"""Lists that go to the bench, made from the connection list: what to drill, what to plug, what to clamp, in which order to tighten, what to
buy, which tools to lay out."""

from __future__ import annotations

import csv
import io
import math
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from zarvik.core.common.constants import STANDARD_ATMOSPHERE
from zarvik.core.connections import row as r
from zarvik.core.connections.row import Row
from zarvik.core.connections.rules import SERVED
from zarvik.core.fluid_lines.pressure_hoses import SERVES, late
from zarvik.core.joints.flanges import Pattern, bores_meet
from zarvik.core.joints.gaskets import STUFFS
from zarvik.core.joints.hose_joints import BAND_TORQUE, CLAMPS, COARSE, STRETCHED, end_force, screw_torque
from zarvik.core.joints.threads import SEALS, THREADS, Thread, boss_height, depth_needed
from zarvik.core.materials.table import NAMES
from zarvik.core.stock.sizes import WALL
from zarvik.project.connections.connection_list import connections_of, plate_of
from zarvik.project.document.document import Project
from zarvik.project.language.language import tr, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.layout.layout import head_of
from zarvik.project.units.rendering import figure

FORMULA = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True)
class Listing:
    """A list: `key`, `title`, heads of its `columns`, its `rows` as texts, each with the key of the line it stands for (empty where it
    stands for several) and whether that is ticked off; what to say of one without rows (`empty`)."""

    key: str
    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    keys: tuple[str, ...]
    ticked: tuple[bool, ...]
    empty: str = "nothing to list"


def _length(value: float, units: Mapping[str, str]) -> str:
    return figure(value, "length", units) if value > 0.0 else "–"


def _drill(row: Row, units: Mapping[str, str]) -> str:
    thread = THREADS.get(row.thread)
    return "–" if thread is None else figure(thread.drill, "length", units)


def _bungs(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    lines, keys, ticks = [], [], []
    for row in rows:
        thread = THREADS.get(row.thread)
        if row.kind not in (r.BUNG, r.SENSOR) and not (row.kind == r.PORT and thread is not None):
            continue
        wall = row.wall or WALL
        high = boss_height(thread, row.material or "stainless", wall) if thread is not None else 0.0
        boss = tr_format("boss, {0} higher", figure(high, "length", units)) if high > 0.0 else tr("in the wall")
        deep = depth_needed(thread, row.material or "stainless") if thread is not None else 0.0
        if thread is not None and high <= 0.0:
            # Chips of a hole that goes through fall into what the engine breathes.
            boss = (
                tr_format("blind, {0} deep", figure(deep, "length", units))
                if wall >= deep
                else tr("through: grease the tap, clean behind it")
            )
        lines.append(
            (
                row.name,
                row.where,
                row.thread or "–",
                _drill(row, units),
                boss if thread else "–",
                tr(SEALS[row.sealed][0]) if row.sealed else "–",
                _length(row.at, units),
                f"{math.degrees(row.clock):.0f}°",
                tr(r.STATES[row.state]),
            )
        )
        keys.append(row.key)
        ticks.append(row.state in r.DONE)
    return Listing(
        key="bungs",
        title="Bungs and sensors",
        columns=("what", "where", "thread", "drill", "metal", "seal", "from start", "clock", "state"),
        rows=tuple(lines),
        keys=tuple(keys),
        ticked=tuple(ticks),
    )


def _ports(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    chosen = [x for x in rows if x.kind == r.PORT]
    lines = tuple(
        (
            x.name,
            x.where,
            _length(x.bore, units),
            x.thread or "–",
            tr(SERVED.get(x.served, "")),
            tr(r.DECISIONS[x.decision]),
            tr(r.STATES[x.state]),
            x.note,
        )
        for x in chosen
    )
    return Listing(
        key="ports",
        title="Ports",
        columns=("port", "where", "bore", "thread", "served", "decision", "state", "note"),
        rows=lines,
        keys=tuple(x.key for x in chosen),
        ticked=tuple(x.state in r.DONE for x in chosen),
    )


def _joints(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    chosen = [x for x in rows if x.kind == r.JOINT]
    lines = []
    for x in chosen:
        force = figure(end_force(x.pressure, x.diameter), "force", units) if x.pressure > 0.0 and x.diameter > 0.0 else "–"
        clamp = tr(CLAMPS[x.clamp].title) if x.made == r.HOSED else "–"
        torque = _torque(x, units)
        lines.append((x.name, x.where, tr(r.MADE.get(x.made, "")), _length(x.diameter, units), clamp, force, torque, tr(r.STATES[x.state])))
    return Listing(
        key="joints",
        title="Joints and clamps",
        columns=("joint", "where", "joint type", "across", "clamp", "separating force", "torque", "state"),
        rows=tuple(lines),
        keys=tuple(x.key for x in chosen),
        ticked=tuple(x.state in r.DONE for x in chosen),
    )


def _hoses(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    chosen = [x for x in rows if x.kind in (r.HOSE, r.LINE)]
    lines = tuple(
        (
            x.name,
            x.where,
            tr(r.SIDES[x.side]),
            _length(x.bore, units),
            *_signal(x, units),
            tr(NAMES[x.material].title) if x.material else "–",
            tr(r.STATES[x.state]),
            x.note,
        )
        for x in chosen
    )
    return Listing(
        key="hoses",
        title="Hoses and lines",
        columns=("hose", "where", "sees", "bore", "wants", "days late", "of", "state", "note"),
        rows=lines,
        keys=tuple(x.key for x in chosen),
        ticked=tuple(x.state in r.DONE for x in chosen),
    )


def _torque(row: Row, units: Mapping[str, str]) -> str:
    """The torque that was said of a joint, or what is usual for its hardware; a dash where nobody measured the screws."""
    if row.torque > 0.0:
        return figure(row.torque, "torque", units)
    if row.made == r.HOSED and CLAMPS[row.clamp].torque:
        return figure(CLAMPS[row.clamp].torque, "torque", units)
    if row.made == r.BANDED:
        return tr_format("{0}, tap around it, again", figure(BAND_TORQUE, "torque", units))
    if row.made == r.FLANGED and row.one is not None and row.one.thread in COARSE:
        soft = row.side != r.EXHAUST or any(STUFFS[y.stuff].settles for y in row.layers)
        return tr_format("{0}, in a cross pattern", figure(screw_torque(row.one.thread, soft=soft), "torque", units))
    return "–"


HOSE_LONG = 0.6  # m of a hose that nobody measured


def _signal(row: Row, units: Mapping[str, str]) -> tuple[str, str]:
    """The bore that a signal wants, and how late the far end hears a step to full boost."""
    room, least = SERVES.get(row.served, (0.0, 0.0))
    if row.kind != r.HOSE or least <= 0.0:
        return "–", "–"
    wants = figure(least, "length", units)
    if room <= 0.0 or row.bore <= 0.0 or row.pressure <= 0.0:
        return wants, "–"
    return wants, f"{1e3 * late(row.bore, HOSE_LONG, room, start=STANDARD_ATMOSPHERE, end=STANDARD_ATMOSPHERE + row.pressure):.0f} ms"


def _plates(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    """Flanges that were measured: do they meet, which plate goes between, what lies between them."""
    chosen = [x for x in rows if x.kind == r.JOINT and (x.one is not None or x.other is not None or x.layers)]
    lines = []
    for x in chosen:
        made = plate_of(x)
        if x.one is None or x.other is None:
            words = tr("second part not measured") if x.one is not x.other else "–"
        elif made is None:
            words = tr("bolts match") if bores_meet(x.one, x.other) else tr("bolts match, bores do not")
        elif made.made:
            turn = tr_format(", rotated {0}", figure(made.turn, "angle", units)) if made.turn > 0.0 else ""
            words = tr_format("plate of {0}{1}", figure(made.thick, "length", units), turn)
        else:
            words = tr("no single plate fits")
        layers = " + ".join(f"{tr(STUFFS[y.stuff].title)} {figure(y.thick, 'length', units)}" for y in x.layers) or "–"
        lines.append((x.name, _pattern(x.one, units), _pattern(x.other, units), words, layers, tr(r.STATES[x.state])))
    return Listing(
        key="plates",
        title="Flanges, plates, gaskets",
        columns=("joint", "before", "behind", "between", "layers", "state"),
        rows=tuple(lines),
        keys=tuple(x.key for x in chosen),
        ticked=tuple(x.state in r.DONE for x in chosen),
        empty="Measure bolts, bores or layers of a flanged joint",
    )


def _pattern(pattern: Pattern | None, units: Mapping[str, str]) -> str:
    if pattern is None:
        return "–"
    size = figure(pattern.across, "length", units)
    apart = (
        f"{size} × {figure(pattern.up, 'length', units)}"
        if pattern.up > 0.0
        else tr_format("{0} bolt circle", size)
        if pattern.count > 2
        else size
    )
    bore = tr_format(", bore {0}", figure(pattern.bore, "length", units)) if pattern.bore > 0.0 else ""
    return f"{pattern.count} × M{1e3 * pattern.thread:.0f}, {apart}{bore}"


def _tapped_ends(thread: Thread | None, outside: float, units: dict[str, str]) -> list[tuple[str, str, str]]:
    """The ends of a rail of `outside` m, where they have a thread."""
    if thread is None:
        return []
    wall = 0.5 * (outside - thread.major)
    remark = tr_format(
        "{0} deep; wall around it {1}", figure(depth_needed(thread, "aluminium"), "length", units), figure(wall, "length", units)
    )
    return [
        (
            tr_format("Both ends tapped {0}", thread.title),
            figure(thread.drill, "length", units),
            remark if wall >= LEAST_WALL else tr_format("{0}: too thin, use a larger rail", remark),
        )
    ]


def rail_card(project: Project) -> Listing:
    """What is drilled for a fuel rail and its bosses: from the spacing of the ports, the injectors' seats and the rail's ends."""
    units, rail, head = project.shown_units, project.fuel_rail, head_of(project)
    columns = ("step", "size", "remark")
    if rail.seat_bore.si <= 0.0:
        return Listing(
            key="rail",
            title="Fuel rail and bosses",
            columns=columns,
            rows=(),
            keys=(),
            ticked=(),
            empty="Enter the injector seat on the page “Oil & fuel” to make a rail and bosses yourself",
        )
    each = head.cylinders // head.banks
    seat, outside, bore = rail.seat_bore.si, rail.outside_size.si, rail.bore.si
    places = ", ".join(figure(RAIL_END + n * head.spacing, "length", units) for n in range(each))
    lines = [
        (
            tr("Rail, cut to length"),
            figure(2.0 * RAIL_END + (each - 1) * head.spacing, "length", units),
            tr_format("{0} of them; seats at {1} from one end", head.banks, places),
        ),
        (
            tr("Bored lengthwise"),
            figure(bore, "length", units),
            tr_format("wall left {0}", figure(0.5 * (outside - bore), "length", units)),
        ),
        (
            tr_format("{0} seats drilled", head.cylinders),
            figure(seat - REAMED, "length", units),
            tr("square to the rail, in one set-up, all in line"),
        ),
        (
            tr("reamed"),
            f"{figure(seat, 'length', units)} H8",
            tr_format("{0} deep, edge chamfered 30° and polished for the O-ring", figure(rail.seat_depth.si, "length", units)),
        ),
        (
            tr_format("{0} bosses in the ports", head.cylinders),
            f"{figure(seat, 'length', units)} H8",
            tr_format(
                "boss {0} outside; aim the spray at the back of the valve, not the wall", figure(seat + 2.0 * BOSS_WALL, "length", units)
            ),
        ),
    ]
    lines += _tapped_ends(THREADS.get(rail.thread), outside, units)
    lines.append(
        (
            tr("Washed, blown out, tested"),
            figure(TRIED, "pressure_gauge", units),
            tr("air under water or test oil, never fuel; work on fuel systems may need a licence"),
        )
    )
    return Listing(
        key="rail", title="Fuel rail and bosses", columns=columns, rows=tuple(lines), keys=("",) * len(lines), ticked=(False,) * len(lines)
    )


RAIL_END = 0.030  # m from the end of a rail to its first seat; common practice, no source
REAMED = 0.0002  # m that a reamer takes
BOSS_WALL = 0.005  # m of weld boss round a seat; common practice, no source
LEAST_WALL = 0.003  # m of aluminium round a thread; common practice, no source
TRIED = 9e5  # Pa gauge at which a rail is tried; common practice, no source


def _order(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    """All by hand first; then from the fixed to the free: the heads, the turbo, the rest along the flow, clamps last."""
    rank = {r.FLANGED: 0, r.BANDED: 1, r.SLIPPED: 2, r.SCREWED: 3, r.HOSED: 4}
    chosen = sorted((x for x in rows if x.kind == r.JOINT and x.made in rank), key=lambda x: (rank[x.made], not x.key.startswith("engine")))
    lines = []
    for number, x in enumerate(chosen, 1):
        lines.append(
            (
                str(number),
                x.name,
                x.where,
                tr(r.MADE[x.made]),
                tr("hand tight") if x.state in (r.OPEN, r.REOPENED, r.DRY) else tr("torque"),
                tr(r.STATES[x.state]),
            )
        )
    return Listing(
        key="order",
        title="Tightening order",
        columns=("no.", "joint", "where", "joint type", "next", "state"),
        rows=tuple(lines),
        keys=tuple(x.key for x in chosen),
        ticked=tuple(x.state in r.DONE for x in chosen),
    )


def _shopping(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    count: Counter[tuple[str, str]] = Counter()
    for x in rows:
        size = _length(x.diameter or x.bore, units)
        stepped = x.meets > 0.0 and abs(x.meets - (x.diameter or x.bore)) > STRETCHED
        if x.kind == r.JOINT and x.made == r.HOSED and stepped and not x.key.endswith("__out"):
            count[(tr("Reducing coupler"), f"{size} – {_length(x.meets, units)}")] += 1
        if x.kind == r.JOINT and x.made == r.HOSED and x.clamp != "none":
            count[(tr(CLAMPS[x.clamp].title), size)] += 1
        elif x.kind == r.JOINT and x.made == r.BANDED:
            count[(tr("V-band with both flanges"), size)] += 1
        elif x.kind == r.JOINT and x.made == r.FLANGED:
            count[(tr_format("Gasket: {0}", x.name), size)] += 1
        elif x.kind == r.PORT and x.decision == r.CHECK:
            count[(tr("Check valve"), size)] += 1
        elif x.kind == r.PORT and x.decision == r.PLUG:
            count[(tr_format("Plug {0}", x.thread) if x.thread else tr("Plug"), size if not x.thread else "")] += 1
        elif x.kind == r.PORT and x.decision == r.CAP:
            count[(tr("Cap and small clamp"), size)] += 1
        elif x.kind in (r.BUNG, r.SENSOR) and x.thread:
            count[(tr_format("Boss {0}", x.thread), "")] += 1
        elif x.kind in (r.HOSE, r.LINE):
            count[(tr(NAMES[x.material or "silicone"].title), size)] += 1
    lines = tuple((str(n), what, size if size != "–" else "") for (what, size), n in sorted(count.items()))
    return Listing(
        key="shopping",
        title="Shopping list",
        columns=("quantity", "what", "size"),
        rows=lines,
        keys=("",) * len(lines),
        ticked=(False,) * len(lines),
    )


def _tools(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    used = sorted({x.thread for x in rows if x.thread in THREADS})
    lines = [(tr_format("Drill {0}", figure(THREADS[t].drill, "length", units)), tr_format("for {0}", t)) for t in used]
    lines += [(tr_format("Tap {0}", t), tr("plug tap, oil, turn back every half turn")) for t in used]
    sizes = {x.clamp for x in rows if x.kind == r.JOINT and x.made == r.HOSED}
    if "tbolt" in sizes:
        wrench = figure(2.0, "torque", units)
        lines.append((tr_format("Socket 10 mm or 7/16 in, torque wrench from {0}", wrench), tr("T-bolt clamps")))
    if "worm" in sizes:
        lines.append((tr("Nut driver 7 or 8 mm"), tr("worm-drive clamps")))
    lines.append((tr("Deburring blade, magnet, clean rag"), tr("no chip may stay in a pipe before the engine")))
    return Listing(
        key="tools",
        title="Tools and drills",
        columns=("tool", "for"),
        rows=tuple(lines),
        keys=("",) * len(lines),
        ticked=(False,) * len(lines),
    )


MAKERS: dict[str, Callable[[Sequence[Row], Mapping[str, str]], Listing]] = {
    "bungs": _bungs,
    "ports": _ports,
    "joints": _joints,
    "hoses": _hoses,
    "order": _order,
    "plates": _plates,
    "shopping": _shopping,
    "tools": _tools,
}


ALL_LISTS = (*MAKERS, "rail")


def listing(project: Project, key: str) -> Listing:
    """A list by its key; raises KeyError for one that there is not."""
    if key == "rail":
        return rail_card(project)
    return MAKERS[key]([x for x in connections_of(project) if not x.lost], project.shown_units)


def safe_cell(text: str) -> str:
    """A cell that no spreadsheet takes for a formula, with nothing in it that a terminal obeys."""
    plain = visible(text)
    return "'" + plain if plain.startswith(FORMULA) else plain


def as_csv(found: Listing) -> str:
    """A list as CSV."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow([tr(head) for head in found.columns])
    for row in found.rows:
        table.writerow([safe_cell(cell) for cell in row])
    return out.getvalue()

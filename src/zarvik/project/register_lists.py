"""Lists that go to the bench, made from the register: what to drill, what to plug, what to clamp, in which order to tighten, what to
buy, which tools to lay out."""

from __future__ import annotations

import csv
import io
import math
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from zarvik.core.register import rows as r
from zarvik.core.register.joints import CLAMPS, end_force
from zarvik.core.register.rows import Row
from zarvik.core.register.rules import SERVED
from zarvik.core.register.threads import THREADS, boss_height
from zarvik.project.document import Project
from zarvik.project.language import told, tr
from zarvik.project.plain import visible
from zarvik.project.register import register
from zarvik.project.sentences import figure

FORMULA = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True)
class Listing:
    """A list: `key`, `title`, heads of its `columns`, its `rows` as texts, each with the key of the line it stands for (empty where it
    stands for several) and whether that is ticked off."""

    key: str
    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    keys: tuple[str, ...]
    ticked: tuple[bool, ...]


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
        wall = row.wall or 0.00165
        high = boss_height(thread, row.material or "stainless", wall) if thread is not None else 0.0
        boss = told("boss, {0} higher", figure(high, "length", units)) if high > 0.0 else tr("in the wall")
        lines.append((row.name, row.where, row.thread or "–", _drill(row, units), boss if thread else "–", _length(row.at, units),
                      f"{math.degrees(row.clock):.0f}°", tr(r.STATES[row.state])))  # fmt: skip
        keys.append(row.key)
        ticks.append(row.state in r.DONE)
    return Listing("bungs", "Bungs and sensors", ("what", "where", "thread", "drill", "metal", "from the beginning", "clock", "state"), tuple(lines), tuple(keys), tuple(ticks))


def _ports(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    chosen = [x for x in rows if x.kind == r.PORT]
    lines = tuple(
        (x.name, x.where, _length(x.bore, units), x.thread or "–", tr(SERVED.get(x.served, "")), tr(r.DECISIONS[x.decision]), tr(r.STATES[x.state]), x.note)
        for x in chosen
    )
    return Listing("ports", "Ports", ("port", "where", "bore", "thread", "served", "decision", "state", "note"), lines, tuple(x.key for x in chosen),
                   tuple(x.state in r.DONE for x in chosen))  # fmt: skip


def _joints(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    chosen = [x for x in rows if x.kind == r.JOINT]
    lines = []
    for x in chosen:
        force = f"{end_force(x.pressure, x.diameter):.0f} N" if x.pressure > 0.0 and x.diameter > 0.0 else "–"
        clamp = tr(CLAMPS[x.clamp].title) if x.made == r.HOSED else "–"
        torque = figure(x.torque, "torque", units) if x.torque > 0.0 else f"{CLAMPS[x.clamp].torque:.0f} N·m" if x.made == r.HOSED and CLAMPS[x.clamp].torque else "–"
        lines.append((x.name, x.where, tr(r.MADE.get(x.made, "")), _length(x.diameter, units), clamp, force, torque, tr(r.STATES[x.state])))
    return Listing("joints", "Joints and clamps", ("joint", "where", "made by", "across", "clamp", "parts it", "torque", "state"), tuple(lines),
                   tuple(x.key for x in chosen), tuple(x.state in r.DONE for x in chosen))  # fmt: skip


def _hoses(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    chosen = [x for x in rows if x.kind in (r.HOSE, r.LINE)]
    lines = tuple((x.name, x.where, tr(r.SIDES[x.side]), _length(x.bore, units), tr(x.material or "–"), tr(r.STATES[x.state]), x.note) for x in chosen)
    return Listing("hoses", "Hoses and lines", ("hose", "where", "sees", "bore", "of", "state", "note"), lines, tuple(x.key for x in chosen),
                   tuple(x.state in r.DONE for x in chosen))  # fmt: skip


def _order(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    """All by hand first; then from the fixed to the free: the heads, the turbo, the rest along the flow, clamps last."""
    rank = {r.FLANGED: 0, r.BANDED: 1, r.SLIPPED: 2, r.SCREWED: 3, r.HOSED: 4}
    chosen = sorted((x for x in rows if x.kind == r.JOINT and x.made in rank), key=lambda x: (rank[x.made], not x.key.startswith("engine")))
    lines = []
    for number, x in enumerate(chosen, 1):
        lines.append((str(number), x.name, x.where, tr(r.MADE[x.made]), tr("hand tight") if x.state in (r.OPEN, r.REOPENED, r.DRY) else tr("torque"), tr(r.STATES[x.state])))
    return Listing("order", "Order of tightening", ("no.", "joint", "where", "made by", "next", "state"), tuple(lines), tuple(x.key for x in chosen),
                   tuple(x.state in r.DONE for x in chosen))  # fmt: skip


def _shopping(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    count: Counter[tuple[str, str]] = Counter()
    for x in rows:
        size = _length(x.diameter or x.bore, units)
        if x.kind == r.JOINT and x.made == r.HOSED and x.clamp != "none":
            count[(tr(CLAMPS[x.clamp].title), size)] += 1
        elif x.kind == r.JOINT and x.made == r.BANDED:
            count[(tr("V-band with both flanges"), size)] += 1
        elif x.kind == r.JOINT and x.made == r.FLANGED:
            count[(told("Gasket: {0}", x.name), size)] += 1
        elif x.kind == r.PORT and x.decision == r.CHECK:
            count[(tr("Check valve"), size)] += 1
        elif x.kind == r.PORT and x.decision == r.PLUG:
            count[(told("Plug {0}", x.thread) if x.thread else tr("Plug"), size if not x.thread else "")] += 1
        elif x.kind == r.PORT and x.decision == r.CAP:
            count[(tr("Cap and small clamp"), size)] += 1
        elif x.kind in (r.BUNG, r.SENSOR) and x.thread:
            count[(told("Boss {0}", x.thread), "")] += 1
        elif x.kind in (r.HOSE, r.LINE):
            count[(told("Hose of {0}", tr(x.material or "silicone")), size)] += 1
    lines = tuple((str(n), what, size if size != "–" else "") for (what, size), n in sorted(count.items()))
    return Listing("shopping", "To buy", ("how many", "what", "size"), lines, ("",) * len(lines), (False,) * len(lines))


def _tools(rows: Sequence[Row], units: Mapping[str, str]) -> Listing:
    used = sorted({x.thread for x in rows if x.thread in THREADS})
    lines = [(told("Drill {0}", figure(THREADS[t].drill, "length", units)), told("for {0}", t)) for t in used]
    lines += [(told("Tap {0}", t), tr("plug tap, oil, turn back each half turn")) for t in used]
    sizes = {x.clamp for x in rows if x.kind == r.JOINT and x.made == r.HOSED}
    if "tbolt" in sizes:
        lines.append((tr("Socket 10 mm or 7/16 in, torque wrench from 2 N·m"), tr("T-bolt clamps")))
    if "worm" in sizes:
        lines.append((tr("Nut driver 7 or 8 mm"), tr("worm-drive clamps")))
    lines.append((tr("Deburring blade, magnet, clean rag"), tr("no chip stays in a pipe before an engine")))
    return Listing("tools", "Tools and drills", ("tool", "for"), tuple(lines), ("",) * len(lines), (False,) * len(lines))


MAKERS: dict[str, Callable[[Sequence[Row], Mapping[str, str]], Listing]] = {
    "bungs": _bungs, "ports": _ports, "joints": _joints, "hoses": _hoses, "order": _order, "shopping": _shopping, "tools": _tools,
}  # fmt: skip


def listing(project: Project, key: str) -> Listing:
    """A list by its key; raises KeyError for one that there is not."""
    return MAKERS[key]([x for x in register(project) if not x.lost], project.shown_units)


def safe(text: str) -> str:
    """A cell that no spreadsheet takes for a formula, with nothing in it that a terminal obeys."""
    plain = visible(text)
    return "'" + plain if plain.startswith(FORMULA) else plain


def as_csv(found: Listing) -> str:
    """A list as CSV."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow([tr(head) for head in found.columns])
    for row in found.rows:
        table.writerow([safe(cell) for cell in row])
    return out.getvalue()

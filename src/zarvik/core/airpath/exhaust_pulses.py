"""What beats on the turbines of an air path: which cylinders blow into which entry, and into how much room."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.stations import MANIFOLD
from zarvik.core.layout.placement import firing
from zarvik.core.turbine.pulses import PulsedEntry, table

PORT = 0.16  # volume of a cylinder's exhaust port over its swept volume; common practice, no source


def groups(path: AirPath) -> tuple[tuple[int, ...], ...]:
    """Cylinders (from 1) by the entry that they blow into: the entries of the first turbo, or of all where they share
    one exhaust. Turbos with a hot side of their own have a bank each, or half of a row; two scrolls take every other
    cylinder of the firing order, or with a crossover a bank each."""
    engine, space, turbo = path.engine, path.space, path.turbo
    order = list(firing(space.order if space is not None else (), engine.cylinders))
    if space is not None and space.turbos > 1:
        head = space.head
        if head.banks > 1:
            order = [c for c in order if head.bank_of(c) == 0]
        else:
            order = [c for c in order if c <= (engine.cylinders + 1) // 2]
    if turbo.turbine.scrolls == 2 and len(order) > 1:
        if space is not None and space.crossing > 0.0 and space.head.banks > 1:
            # Each bank comes to a scroll of its own.
            banks = [tuple(c for c in order if space.head.bank_of(c) == bank) for bank in (0, 1)]
            if all(banks):
                return banks[0], banks[1]
        return tuple(order[0::2]), tuple(order[1::2])
    return (tuple(order),)


# Two scrolls do not stay apart: gas crosses at the tongue and in the gap before the wheel, and a wheel that is fed on half of its rim loses
# much of what the pulse brings (partial admission; N. Watson, M. S. Janota, 1982, ch. 7). So much of the way back to one scroll; common
# practice, no source: full boost comes 150 to 450 rpm earlier than with one scroll on a four
CROSSES = 0.4


def pulsed_entries(path: AirPath, *, apart: bool = True) -> tuple[tuple[PulsedEntry, ...], float]:
    """The entries that are beaten on, and the effective area in m2 of the turbines behind them; not `apart`: all that blow into one
    turbine in one entry. Cylinders of an order nobody knows fire evenly."""
    engine, space, turbo = path.engine, path.space, path.turbo
    own = space is not None and space.turbos > 1
    order = list(firing(space.order if space is not None else (), engine.cylinders))
    step = 4.0 * math.pi / engine.cylinders
    piston = 0.25 * math.pi * engine.bore**2
    swept = piston * engine.stroke
    lengths = {}
    if space is not None:
        lengths = {p.cylinder: sum(s.length for s in p.segments) for p in space.primaries}
    if space is not None and space.crossing > 0.0 and space.head.banks > 1:
        # The far bank's pulses come later by the crossover.
        primaries = next((e.length for e in path.runs[MANIFOLD] if e.kind == "primaries"), 0.1)
        lengths = {c: lengths.get(c, primaries) + space.crossing * space.head.bank_of(c) for c in order}
    found = groups(path)
    if not apart:
        found = (tuple(c for c in order if any(c in group for group in found)),)
    turbos = space.turbos if own and space is not None else 1
    beside = 1 if own else turbo.count
    room = sum(e.volume for e in path.runs[MANIFOLD]) / turbos / len(found)
    room += beside * turbo.turbine.volute / len(found)
    entries = []
    for group in found:
        volume = room + len(group) * PORT * swept
        fires = tuple(order.index(c) * step for c in group)
        pipes = tuple(lengths.get(c, 0.0) for c in group)
        delays = pipes if all(pipes) else ()
        # Sizes that differ by less than anybody measures share one table
        entries.append(
            PulsedEntry(
                fires=tuple(round(f - fires[0], 6) for f in fires),
                cylinder=round(swept, 9),
                piston=round(piston, 8),
                compression=engine.compression,
                volume=round(volume, 6),
                delays=tuple(round(d, 3) for d in delays),
            )
        )
    return tuple(entries), beside * turbo.turbine.area


def pulse_table(path: AirPath) -> np.ndarray:
    """The table of the turbine's pulses, as the kernel reads it."""
    entries, area = pulsed_entries(path)
    engine, share = path.engine, path.turbo.turbine.pulses
    if share <= 0.0:
        return np.zeros(1)
    found = table(entries, round(area, 8), engine.idle, engine.rev_limit, share)
    if len(entries) < 2:
        return found
    one, _ = pulsed_entries(path, apart=False)
    # Where the speeds stand is the same in both
    return CROSSES * table(one, round(area, 8), engine.idle, engine.rev_limit, share) + (1.0 - CROSSES) * found

"""Sizes that can be bought, so that a cure asks for nothing that has to be made.

Common practice, no source: outside diameters of tube that fabricators stock, gates and valves as they
are sold. Inside diameters follow with a wall of 1.65 mm (16 gauge), which bends are made of.
"""

from __future__ import annotations

import math

from zarvik.core.common.constants import INCH

WALL = 1.65e-3  # m
TUBES = tuple(
    mm / 1000.0
    for mm in (
        25.4,
        28.6,
        31.8,
        35.0,
        38.1,
        41.3,
        44.5,
        47.6,
        50.8,
        54.0,
        57.2,
        60.3,
        63.5,
        70.0,
        76.2,
        82.6,
        88.9,
        101.6,
        114.3,
        127.0,
        139.7,
        152.4,
        168.3,
        203.2,
    )
)
GATES = tuple(mm / 1000.0 for mm in (19.0, 22.0, 25.0, 28.0, 32.0, 35.0, 38.0, 40.0, 45.0, 50.0, 60.0))
LIFT_SHARE = 0.28  # of its diameter that a valve lifts; more opens nothing
# Corrected choke flow at the highest speed over the square of the inducer: turbocharger compressors
# of tip speeds near 540 m/s, within 6 %; the outlet is 0.88 of the inducer.
FLOW_OF_INDUCER = 124.5  # kg/(s m2)
OUTLET_SHARE = 0.88
INDUCER_SHARE = 0.75  # inducer over exducer of a compressor wheel, 0.70 to 0.80
PULLEY_STEP = 0.05  # of a turn for one of the crank: what the next pulley of a series makes


def tube_bore(least: float) -> float:
    """Inside diameter in m of the smallest stocked tube that is at least `least` m wide inside; above
    the largest, the next whole 5 mm."""
    for outside in TUBES:
        if outside - 2.0 * WALL >= least - 1e-9:
            return round(outside - 2.0 * WALL, 5)
    return math.ceil(least * 200.0) / 200.0


def gate_diameters(least: float) -> tuple[float, ...]:
    """Valve diameters in m that are sold, from `least` m up."""
    return tuple(size for size in GATES if size >= least - 1e-9)


def pulley_ratio(most: float) -> float:
    """Turns for one of the crank, not above `most` (a ratio), that a pulley of a series makes."""
    return round(math.floor(most / PULLEY_STEP + 1e-9) * PULLEY_STEP, 4)


def openings(choke_flow: float) -> tuple[float, float]:
    """Inlet and outlet diameter in m of a compressor by its corrected `choke_flow` in kg/s at the
    highest speed."""
    inducer = math.sqrt(choke_flow / FLOW_OF_INDUCER)
    return inducer, OUTLET_SHARE * inducer


# Housings that turbine wheels are sold with: A/R in inches as the trade counts them.
HOUSINGS = tuple(inch * INCH for inch in (0.35, 0.41, 0.48, 0.55, 0.63, 0.70, 0.76, 0.82, 0.92, 1.01, 1.12, 1.25, 1.44))
# Pulleys of ribbed belts by outside diameter, and of toothed belts (8 mm pitch) by teeth.
PULLEYS = tuple(
    mm / 1000.0
    for mm in (
        57.0,
        60.0,
        63.0,
        66.0,
        69.0,
        72.0,
        75.0,
        78.0,
        82.0,
        86.0,
        90.0,
        95.0,
        100.0,
        106.0,
        112.0,
        120.0,
        128.0,
        136.0,
        145.0,
        155.0,
        165.0,
        175.0,
        190.0,
        205.0,
    )
)
TEETH = (20, 22, 24, 26, 28, 30, 32, 34, 36, 38, 40, 44, 48, 52, 56, 60, 64, 72)


def next_housing(housing: float, step: int) -> float | None:
    """The housing (A/R in m) that is sold `step` sizes (a number, up above 0) from a `housing` in m; None where there is
    none."""
    larger = [h for h in HOUSINGS if h > 1.02 * housing]
    smaller = [h for h in reversed(HOUSINGS) if h < 0.98 * housing]
    others = larger if step > 0 else smaller
    return others[abs(step) - 1] if 0 < abs(step) <= len(others) else None


def housings_near(housing: float, least: float = 0.7, most: float = 1.5) -> tuple[float, ...]:
    """Housings (A/R in m) that are sold between `least` and `most` times a `housing` in m."""
    return tuple(size for size in HOUSINGS if least * housing <= size <= most * housing)

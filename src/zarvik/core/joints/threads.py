"""Threads that holes in pipes, manifolds and housings are tapped with: sizes, drills, and what wall they need.

note: a parallel thread of a coarse or fine metric series is drilled to its major diameter less its pitch (ISO 2306); a taper
thread to the size that its standard gives. Sizes from ISO 261, ISO 7-1, ISO 228-1, ASME B1.20.1, ASME B1.1; from memory, to the
digits that are printed here.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.constants import INCH

METRIC, TAPER_INCH, TAPER_PIPE, PARALLEL_PIPE, UNIFIED = "metric", "npt", "r", "g", "unf"
FAMILIES = {METRIC: "Metric", TAPER_INCH: "NPT, taper", TAPER_PIPE: "R, taper", PARALLEL_PIPE: "G, parallel", UNIFIED: "UNF"}
TURNS = 4.0  # full threads that a parallel fitting wants in steel; common practice, no source
SOFT = 1.5  # times as many in aluminium and plastic; common practice, no source
MORE = 2.0  # pitches past hand tight that a taper thread is screwed in; ASME B1.20.1 (1.5 to 3 turns)


@dataclass(frozen=True)
class Thread:
    """A thread: its `key` and `title`, `family`, `major` diameter and `pitch` m, tap `drill` m, `hand`: length in m that a taper
    thread goes in by hand, 0 for a parallel one."""

    key: str
    family: str
    major: float
    pitch: float
    drill: float
    hand: float = 0.0

    @property
    def title(self) -> str:
        """As it is said in the shop."""
        return self.key

    @property
    def taper(self) -> bool:
        """Does it seal on its flanks?"""
        return self.hand > 0.0


def _metric(size: float, pitch: float) -> Thread:
    """A metric thread by its size and pitch in mm."""
    coarse = {3: 0.5, 4: 0.7, 5: 0.8, 6: 1.0, 8: 1.25, 10: 1.5, 12: 1.75, 14: 2.0, 16: 2.0, 18: 2.5, 20: 2.5}
    name = f"M{size:g}" if coarse.get(int(size)) == pitch else f"M{size:g}×{pitch:g}"
    # ISO 2306 prints tenths; where the difference lies between two, what is printed
    drill = {(8, 1.25): 6.8, (10, 1.25): 8.8, (12, 1.75): 10.2, (12, 1.25): 10.8}.get((int(size), pitch), size - pitch)
    return Thread(name, METRIC, 1e-3 * size, 1e-3 * pitch, 1e-3 * drill)


def _npt(name: str, outside: float, turns: float, drill: float, hand: float) -> Thread:
    """An NPT thread; `outside`, `drill`, `hand` (L1) in inch, `turns` an inch."""
    return Thread(key=f"{name} NPT", family=TAPER_INCH, major=outside * INCH, pitch=INCH / turns, drill=drill * INCH, hand=hand * INCH)


def _pipe(name: str, major: float, turns: float, parallel: float, taper: float, gauge: float) -> tuple[Thread, Thread]:
    """The parallel and the taper pipe thread of a size; mm, `turns` an inch, `gauge` length mm."""
    pitch = INCH / turns
    return (
        Thread(f"G{name}", PARALLEL_PIPE, 1e-3 * major, pitch, 1e-3 * parallel),
        Thread(key=f"R{name}", family=TAPER_PIPE, major=1e-3 * major, pitch=pitch, drill=1e-3 * taper, hand=1e-3 * gauge),
    )


def _unified(name: str, major: float, turns: float, drill: float) -> Thread:
    """A UNF thread; `major` and `drill` in inch and mm, `turns` an inch."""
    return Thread(name, UNIFIED, major * INCH, INCH / turns, 1e-3 * drill)


THREADS: dict[str, Thread] = {
    t.key: t
    for t in (
        *(
            _metric(s, p)
            for s, p in (
                (4, 0.7),
                (5, 0.8),
                (6, 1.0),
                (8, 1.25),
                (10, 1.5),
                (10, 1.0),
                (12, 1.75),
                (12, 1.5),
                (12, 1.25),
                (14, 2.0),
                (14, 1.5),
                (16, 2.0),
                (16, 1.5),
                (18, 1.5),
                (20, 1.5),
                (22, 1.5),
            )
        ),
        _npt("1/16", 0.3125, 27, 0.246, 0.160),
        _npt("1/8", 0.405, 27, 0.339, 0.1615),
        _npt("1/4", 0.540, 18, 0.4375, 0.2278),
        _npt("3/8", 0.675, 18, 0.578, 0.240),
        _npt("1/2", 0.840, 14, 0.719, 0.320),
        _npt("3/4", 1.050, 14, 0.922, 0.339),
        *_pipe("1/8", 9.728, 28, 8.8, 8.4, 4.0),
        *_pipe("1/4", 13.157, 19, 11.8, 11.2, 6.0),
        *_pipe("3/8", 16.662, 19, 15.25, 14.75, 6.4),
        *_pipe("1/2", 20.955, 14, 19.0, 18.25, 8.2),
        *_pipe("3/4", 26.441, 14, 24.5, 23.75, 9.5),
        _unified("7/16-20 UNF", 0.4375, 20, 9.9),
        _unified("9/16-18 UNF", 0.5625, 18, 12.9),
        _unified("3/4-16 UNF", 0.75, 16, 17.5),
        _unified("7/8-14 UNF", 0.875, 14, 20.4),
        _unified("1 1/16-12 UNF", 1.0625, 12, 25.0),
    )
}


# How a thread is sealed: title, K that it stands for long (common practice, no source), does it fill the flanks of a thread (else it
# lies under a face)
SEALS: dict[str, tuple[str, float, bool]] = {
    "": ("Not known", math.inf, True),
    "tape": ("Thread tape", 533.0, True),
    "paste": ("Thread paste", 470.0, True),
    "oring": ("O-ring", 473.0, False),
    "washer": ("Copper or bonded washer", 523.0, False),
    "cone": ("Cone or flare", 773.0, False),
    "dry": ("Dry, anti-seize", math.inf, False),
}


def wall_needed(thread: Thread, material: str) -> float:
    """Thickness of metal in m that a `thread` wants where it stands: full threads of a parallel one, more in soft metal; hand
    tight and two turns of a taper one. `material`: key as of pipes ("aluminium", "printed" and "silicone" are soft)."""
    if thread.taper:
        return thread.hand + MORE * thread.pitch
    turns = TURNS * (SOFT if material in ("aluminium", "printed", "silicone") else 1.0)
    return turns * thread.pitch


def depth_needed(thread: Thread, material: str) -> float:
    """Depth in m of a blind hole for a `thread` in a `material`: the threads, two pitches that a plug tap leaves, and the point of
    the drill (118 degrees)."""
    return wall_needed(thread, material) + 2.0 * thread.pitch + 0.5 * thread.drill / math.tan(math.radians(59.0))


def engaged(thread: Thread, wall: float) -> float:
    """Full threads (a number) in a `wall` of so many m."""
    return wall / thread.pitch


def boss_height(thread: Thread, material: str, wall: float) -> float:
    """Height in m of a boss that is welded onto a `wall` (m) of a `material` for a `thread`; 0 where the wall itself will do."""
    return max(wall_needed(thread, material) - wall, 0.0)

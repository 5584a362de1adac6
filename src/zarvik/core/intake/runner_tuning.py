"""Runners and plenum that ring, and what a throttle lets be felt.

note: f Hz, n engine speed; a cylinder with its runner is a Helmholtz resonator with half its swept volume and its compression
space; an open pipe answers at quarter waves.
"""

from __future__ import annotations

import math

from zarvik.core.ducts.element import circle

TUNED = 2.1  # of its own frequency over the engine's turns at which a runner helps the most; H. W. Engelman, ASME 73-WA/DGP-2 (memory)
END = 0.3  # bores that the open end of a runner adds; flanged half, common acoustics (memory)


def helmholtz(sound: float, diameter: float, length: float, volume: float) -> float:
    """Frequency in Hz of a `volume` m3 behind a neck of `diameter` and `length` in m, gas with a speed of `sound` in m/s. H. von
    Helmholtz; any book of acoustics."""
    return sound / (2.0 * math.pi) * math.sqrt(circle(diameter) / (volume * (length + END * diameter)))


def effective_volume(cylinder: float, compression: float) -> float:
    """Volume in m3 that a runner feels while its valve is open: half the swept volume of one `cylinder` m3 and the space that the
    `compression` ratio leaves. Engelman 1973 (memory)."""
    return 0.5 * cylinder * (compression + 1.0) / (compression - 1.0)


def ram_speed(sound: float, diameter: float, length: float, cylinder: float, compression: float) -> float:
    """Engine speed in rev/min at which a runner of `diameter` and `length` m rings with its `cylinder` (swept m3, `compression` ratio),
    speed of `sound` m/s."""
    own = helmholtz(sound, diameter, length, effective_volume(cylinder, compression))
    return 60.0 * own / TUNED


def runner_for(speed: float, sound: float, diameter: float, cylinder: float, compression: float) -> float:
    """Length in m of a runner of `diameter` m that rings at an engine `speed` in rev/min with its `cylinder` (m3, `compression`
    ratio) and a speed of `sound` in m/s. Below 0 where no length does."""
    own = speed * TUNED / 60.0
    neck = circle(diameter) / effective_volume(cylinder, compression) * (sound / (2.0 * math.pi * own)) ** 2
    return neck - END * diameter


def warmed(speed: float, cold: float, hot: float) -> float:
    """Engine speed in rev/min at which a runner rings with charge of `hot` K that rings at `speed` with `cold` K: it moves with the
    speed of sound. What it adds stays about the same share of the air, boost or not: waves scale with the pressure they run in."""
    return speed * math.sqrt(hot / cold)

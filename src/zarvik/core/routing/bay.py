"""What tubes are laid through: the ends they join, what stands in the way, and what they can be bent from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zarvik.core.solids.bodies import Body, packed

MOST_BENDS = 7  # of a tube


@dataclass(frozen=True)
class End:
    """Where a tube begins or ends: `place` m, and the `way` of the flow there (a unit vector)."""

    place: np.ndarray
    way: np.ndarray


@dataclass(frozen=True, kw_only=True)
class Bay:
    """Lengths in m, angles in rad. `ports`: where tubes begin; `inlets`: where they end; `inlet_of`, the inlet of each port where it is
    decided. `clearance` to bodies, `gap` between tubes and of a tube to itself; `gap_at_inlets` over the last `near_inlets` of two tubes.
    `bare` is the stretch at either end over which bodies that it is mounted on do not count. `tolerance`: longest less shortest over the
    mean; `length`, 0 for as short as it can be."""

    ports: tuple[End, ...]
    inlets: tuple[End, ...]
    bodies: tuple[Body, ...]
    diameter: float
    radii: tuple[float, ...]
    straight: float
    clearance: float
    gap: float
    tolerance: float
    bare: float
    angles: tuple[float, float]
    length: float = 0.0
    near_inlets: float = 0.0
    gap_at_inlets: float = 0.0
    inlet_of: tuple[int, ...] | None = None
    most_bends: int = MOST_BENDS

    def packed(self) -> np.ndarray:
        """The bodies as rows of numbers, as the compiled code reads them."""
        return packed(self.bodies, in_cells=True)


@dataclass(frozen=True)
class Tube:
    """From a `port` to an `inlet` (their numbers) by `corners` (n, 3) m, where its straights would meet, each rounded by its radius m."""

    port: int
    inlet: int
    corners: np.ndarray
    radii: np.ndarray

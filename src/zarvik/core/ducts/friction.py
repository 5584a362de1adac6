"""Wall friction and the roughness of what pipes are made of."""

from __future__ import annotations

import fluids

from zarvik.core.materials import table

EMISSIVITY = table.values("emissivity")  # of the outer skin as it is after some use
HEAT_TINTED = table.values("emissivity_red_hot")  # of a skin that has been red hot
WALL = table.values("wall_resistance")  # m2 K/W; nothing for metal
ROUGHNESS = {key: (table.NAMES[key].choice, value) for key, value in table.values("roughness").items()}  # title, absolute in m


def friction_factor(reynolds: float, relative_roughness: float) -> float:
    """Darcy friction factor of a round pipe; relative roughness 0–0.05, Reynolds 4e3–1e8.

    Source: D. Clamond, Ind. Eng. Chem. Res. 48 (2009) 3665 (exact solution of Colebrook 1939).
    `relative_roughness`: roughness over bore.
    """
    return float(fluids.friction_factor(reynolds, eD=relative_roughness, Method="Clamond"))

"""Wall friction and the roughness of what pipes are made of."""

from __future__ import annotations

import fluids

# Emissivity of the outer skin as it is after some use; from memory of common tables, as bands.
EMISSIVITY = {"aluminium": 0.15, "stainless": 0.5, "mild_steel": 0.8, "silicone": 0.9, "cast": 0.85, "printed": 0.9}
# Of a skin that has been red hot: Incropera, table A.11, stainless highly oxidised 0.67 to 0.76, type 347 0.87 (memory)
HEAT_TINTED = {"stainless": 0.75}
# Resistance of the wall itself, m2 K/W: nothing for metal, 4 mm of rubber, 3 mm of plastic.
WALL = {"silicone": 0.02, "printed": 0.012}

# Absolute roughness in m. Drawn tube, new steel: L. F. Moody, Trans. ASME 66 (1944) 671;
# the others from memory of the same kind of table, as bands.
ROUGHNESS: dict[str, tuple[str, float]] = {
    "aluminium": ("Aluminium", 1.5e-6),
    "stainless": ("Stainless", 2.0e-6),
    "mild_steel": ("Mild steel", 45.0e-6),
    "silicone": ("Silicone", 25.0e-6),
    "cast": ("Cast", 250.0e-6),
    "printed": ("Plastic", 5.0e-6),
}


def friction_factor(reynolds: float, relative_roughness: float) -> float:
    """Darcy friction factor of a round pipe; relative roughness 0–0.05, Reynolds 4e3–1e8.

    Source: D. Clamond, Ind. Eng. Chem. Res. 48 (2009) 3665 (exact solution of Colebrook 1939).
    `relative_roughness`: roughness over bore.
    """
    return float(fluids.friction_factor(reynolds, eD=relative_roughness, Method="Clamond"))

"""The rotor of a turbocharger: how hard it is to bring to speed."""

from __future__ import annotations

from zarvik.core.common.method import Method

TURBINE_DENSITY = 8190.0  # kg/m3, nickel alloy of cast turbine wheels
COMPRESSOR_DENSITY = 2770.0  # kg/m3, cast or milled aluminium alloy
# J over density and the fifth power of the diameter. A hub that falls from 0.85 of the tip radius at the
# back to 0.30 at the nose as a cubic over 0.9 of the radius holds 0.0032; eleven blades, 0.04 of the radius
# thick on the mean, between hub and shroud another 0.0024.
SHAPE = 0.0056


def inertia(turbine: float, compressor: float) -> float:
    """Moment of inertia in kg m2 of both wheels, `turbine` and `compressor`, by their tip diameters in m; the shaft adds less than a
    hundredth. Wheels of one shape: J over density and D^5, worked out from a hub and blades of common
    proportions."""
    return SHAPE * (TURBINE_DENSITY * turbine**5 + COMPRESSOR_DENSITY * compressor**5)


METHODS = (
    Method(
        key="rotor_inertia",
        title="Inertia of a rotor from its wheels",
        function=inertia,
        limits={},
        source="Geometry of common wheels; a rotor of 60 mm weighs in at some 5e-5 kg m2 (from memory)",
        accuracy="25 %",
    ),
)

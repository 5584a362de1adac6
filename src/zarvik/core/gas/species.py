"""The seven species of air and burnt gas, with their standard thermodynamic polynomials.

Source: B. J. McBride, S. Gordon, M. A. Reno, "Coefficients for Calculating Thermodynamic and
Transport Properties of Individual Species", NASA TM-4513, 1993: cp/R as a polynomial of the
fourth degree in T, one set from 200 K to 1000 K and one from 1000 K to 6000 K; the sixth and
seventh number are the constants of enthalpy (K, times R) and entropy.
"""

from __future__ import annotations

from dataclasses import dataclass

RANGE_BREAK = 1000.0  # K


@dataclass(frozen=True)
class Species:
    """One ideal-gas species: molar mass in kg/mol and two sets of seven polynomial numbers."""

    name: str
    molar_mass: float
    low: tuple[float, float, float, float, float, float, float]
    high: tuple[float, float, float, float, float, float, float]


_TABLE = (
    Species(
        "N2",
        28.0134e-3,
        (3.53100528, -1.23660987e-04, -5.02999437e-07, 2.43530612e-09, -1.40881235e-12, -1046.97628, 2.96747468),
        (2.95257626, 1.39690057e-03, -4.92631691e-07, 7.86010367e-11, -4.60755321e-15, -923.948645, 5.87189252),
    ),
    Species(
        "O2",
        31.9988e-3,
        (3.78245636, -2.99673415e-03, 9.847302e-06, -9.68129508e-09, 3.24372836e-12, -1063.94356, 3.65767573),
        (3.66096083, 6.56365523e-04, -1.41149485e-07, 2.05797658e-11, -1.29913248e-15, -1215.97725, 3.41536184),
    ),
    Species("Ar", 39.948e-3, (2.5, 0.0, 0.0, 0.0, 0.0, -745.375, 4.37967491), (2.5, 0.0, 0.0, 0.0, 0.0, -745.375, 4.37967491)),
    Species(
        "CO2",
        44.0095e-3,
        (2.35677352, 8.98459677e-03, -7.12356269e-06, 2.45919022e-09, -1.43699548e-13, -48371.9697, 9.90105222),
        (4.63659493, 2.74131991e-03, -9.95828531e-07, 1.60373011e-10, -9.16103468e-15, -49024.9341, -1.93534855),
    ),
    Species(
        "H2O",
        18.01528e-3,
        (4.19864056, -2.0364341e-03, 6.52040211e-06, -5.48797062e-09, 1.77197817e-12, -30293.7267, -0.849032208),
        (2.67703787, 2.97318329e-03, -7.7376969e-07, 9.44336689e-11, -4.26900959e-15, -29885.8938, 6.88255571),
    ),
    Species(
        "CO",
        28.0101e-3,
        (3.57953347, -6.1035368e-04, 1.01681433e-06, 9.07005884e-10, -9.04424499e-13, -14344.086, 3.50840928),
        (3.04848583, 1.35172818e-03, -4.85794075e-07, 7.88536486e-11, -4.69807489e-15, -14266.1171, 6.0170979),
    ),
    Species(
        "H2",
        2.01588e-3,
        (2.34433112, 7.98052075e-03, -1.9478151e-05, 2.01572094e-08, -7.37611761e-12, -917.935173, 0.683010238),
        (2.93286579, 8.26607967e-04, -1.46402335e-07, 1.54100359e-11, -6.88804432e-16, -813.065597, -1.02432887),
    ),
)

SPECIES: dict[str, Species] = {species.name: species for species in _TABLE}

# Dry air, mole fractions: ISO 2533:1975 table 1, trace gases counted as argon.
DRY_AIR: dict[str, float] = {"N2": 0.78084, "O2": 0.209476, "Ar": 0.00937, "CO2": 0.000314}

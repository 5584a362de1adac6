"""Relations of air, fuel and burnt gas."""

from __future__ import annotations

from zarvik.core.common.method import Method
from zarvik.core.gas import ambient, combustion, humidity, mixture, properties

GAS = Method(
    key="gas",
    title="Enthalpy and heat capacity",
    function=properties.enthalpy,
    limits={"temperature": (200.0, 6000.0)},
    source="NASA TM-4513 (1993), seven coefficients a species",
    accuracy="0.1 % of heat capacity",
)


VISCOSITY = Method(
    key="viscosity",
    title="Viscosity of air and burnt gas",
    function=mixture.mixture_viscosity,
    limits={"temperature": (200.0, 2000.0)},
    source="Sutherland; Wilke",
    accuracy="2 %, burnt gas 4 %",
)


HUMIDITY = Method(
    key="humidity",
    title="Saturation of water vapour",
    function=humidity.saturation_pressure,
    limits={"temperature": (173.15, 473.15)},
    source="Hyland & Wexler 1983",
    accuracy="0.1 %",
)


ATMOSPHERE = Method(
    key="atmosphere",
    title="Standard atmosphere",
    function=ambient.standard_pressure,
    limits={"altitude": (-2000.0, 11000.0)},
    source="ISO 2533:1975",
    accuracy="a day differs by up to 3 %",
)


COMBUSTION = Method(
    key="combustion",
    title="Heat released",
    function=combustion.burn,
    limits={"lambda_": (0.45, 20.0)},
    source="Oxygen limits it on the rich side, fuel on the lean side (Heywood 1988, sec. 4.9)",
    accuracy="1 %; 2 % of the fuel stays unburnt (from memory)",
)

RELATIONS = (GAS, VISCOSITY, HUMIDITY, ATMOSPHERE, COMBUSTION)

"""Constants of physics and of units, each once."""

from __future__ import annotations

STANDARD_GRAVITY = 9.80665  # m/s2, ISO 80000-3
STEFAN_BOLTZMANN = 5.670374419e-8  # W/(m2 K4), CODATA 2018
UNIVERSAL_GAS_CONSTANT = 8.31446261815324  # J/(mol K), CODATA 2018, exact
DRY_AIR_GAS_CONSTANT = 287.05287  # J/(kg K), ISO 2533:1975
EXHAUST_GAS_CONSTANT = 287.0  # J/(kg K), burnt gas of petrol near lambda 1, within 1 %
AIR_GAMMA = 1.4  # ratio of heat capacities of air about 300 K
AIR_CP = 1005.0  # J/(kg K), air about 300 K
STANDARD_ATMOSPHERE = 101_325.0  # Pa, ISO 2533:1975
ZERO_CELSIUS = 273.15  # K
HORSEPOWER = 745.6998715822702  # W, 550 ft lbf/s
POUND = 0.45359237  # kg, exact
INCH = 0.0254  # m, exact

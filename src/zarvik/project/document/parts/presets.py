"""Units in which results are shown, by shop."""

from __future__ import annotations

UNIT_PRESETS: dict[str, dict[str, str]] = {
    "metric": {
        "length": "mm",
        "pressure_gauge": "bar",
        "pressure_absolute": "kPa",
        "mean_pressure": "bar",
        "pressure_difference": "kPa",
        "mass_flow": "kg/s",
        "power": "kW",
        "torque": "N·m",
        "temperature": "°C",
        "velocity": "m/s",
        "volume": "L",
        "road_speed": "km/h",
    },
    "inch": {
        "length": "in",
        "pressure_gauge": "psi",
        "pressure_absolute": "psi",
        "mean_pressure": "psi",
        "pressure_difference": "psi",
        "mass_flow": "lb/min",
        "power": "hp",
        "torque": "lb·ft",
        "temperature": "°F",
        "temperature_difference": "°F",
        "warming": "°F",
        "velocity": "ft/s",
        "volume": "in³",
        "mass": "lb",
        "force": "lbf",
        "consumption": "lb/hp·h",
        "road_speed": "mph",
    },
    "mixed": {
        "length": "mm",
        "pressure_gauge": "bar",
        "pressure_absolute": "kPa",
        "mean_pressure": "bar",
        "pressure_difference": "kPa",
        "mass_flow": "lb/min",
        "power": "hp",
        "torque": "N·m",
        "temperature": "°C",
        "velocity": "m/s",
        "volume": "L",
        "road_speed": "km/h",
    },
}
# Those that only a shop has that measures in inches
INCH_UNITS = frozenset(UNIT_PRESETS["inch"].values()) - frozenset(UNIT_PRESETS["mixed"].values())

"""Units in which results are shown, by shop."""

from __future__ import annotations

_METRIC = {
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
    "altitude": "m",
    "volume_flow": "m³/h",
    "meter_flow": "kg/h",
    "gas_flow": "L/min",
}
UNIT_PRESETS: dict[str, dict[str, str]] = {
    "metric": _METRIC,
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
        "altitude": "ft",
        "volume_flow": "cfm",
        "meter_flow": "lb/min",
        "gas_flow": "cfm",
    },
    # As most garages say it: metric sizes, air in lb/min, power in hp
    "mixed": {**_METRIC, "mass_flow": "lb/min", "power": "hp"},
}
# Those that only a shop has that measures in inches
INCH_UNITS = frozenset(UNIT_PRESETS["inch"].values()) - frozenset(UNIT_PRESETS["mixed"].values())

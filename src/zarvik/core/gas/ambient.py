"""Where and when the engine runs: pressure from altitude, temperature and humidity of the day."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT, STANDARD_ATMOSPHERE, STANDARD_GRAVITY
from zarvik.core.common.sentences import Fault
from zarvik.core.gas.mixture import Gas, moist_air

_EARTH_RADIUS = 6_356_766.0  # m, ISO 2533:1975, 2.3
_SEA_LEVEL_TEMPERATURE = 288.15
_LAPSE = 6.5e-3  # K per geopotential metre
_EXPONENT = STANDARD_GRAVITY / (DRY_AIR_GAS_CONSTANT * _LAPSE)


def geopotential_altitude(altitude: float) -> float:
    """Geopotential altitude in m for the geometric `altitude` in m (ISO 2533:1975, eq. 8)."""
    return _EARTH_RADIUS * altitude / (_EARTH_RADIUS + altitude)


def standard_temperature(altitude: float) -> float:
    """Temperature in K of the standard atmosphere at geometric `altitude` in m, -2000 to 11000.

    Source: ISO 2533:1975. Raises ValueError outside.
    """
    _check(altitude)
    return _SEA_LEVEL_TEMPERATURE - _LAPSE * geopotential_altitude(altitude)


def standard_pressure(altitude: float) -> float:
    """Absolute pressure in Pa of the standard atmosphere at `altitude` in m, -2000 to 11000.

    Source: ISO 2533:1975, eq. 12. Raises ValueError outside.
    """
    return float(STANDARD_ATMOSPHERE * (standard_temperature(altitude) / _SEA_LEVEL_TEMPERATURE) ** _EXPONENT)


def _check(altitude: float) -> None:
    if not -2000.0 <= altitude <= 11000.0:
        raise Fault("altitude must be between -2000 m and 11000 m, not {0}", altitude)


@dataclass(frozen=True)
class Site:
    """Ambient state: absolute `pressure` in Pa, `temperature` in K, relative humidity 0–1."""

    pressure: float
    temperature: float
    relative_humidity: float

    @property
    def air(self) -> Gas:
        """The moist air of this place."""
        return moist_air(temperature=self.temperature, pressure=self.pressure, relative_humidity=self.relative_humidity)

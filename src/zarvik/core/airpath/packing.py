"""A system as the arrays that the kernel reads."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.system import System
from zarvik.core.compressor import lookup
from zarvik.core.cooling import cooler as cooling
from zarvik.core.ducts import march
from zarvik.core.engine import engine as eng
from zarvik.core.engine import knock
from zarvik.core.gas import combustion
from zarvik.core.gas.mixture import GAS_CONSTANT, mix
from zarvik.core.gas.species import DRY_AIR
from zarvik.core.turbine import turbine as turbines


def mixture_numbers(site: np.ndarray, engine: eng.Engine) -> None:
    """Write what hangs on lambda into the numbers of the kernel.

    `site` numbers as in `slots`, J/kg and ratios.
    """
    burn = engine.burnt
    site[k.RELEASED] = burn.heat_per_air
    site[k.FUEL_PER_AIR] = burn.fuel_per_air
    site[k.WORK] = eng.work_per_air(engine)


@lru_cache(1024)
def _burnt(fuel: str, lambda_: float, water: float) -> np.ndarray:
    burn = combustion.burn(combustion.FUELS[fuel], lambda_)
    products = dict(burn.products)
    # The vapour of the air goes through: moles per mole of carbon beside the products.
    moles_air = combustion.FUELS[fuel].oxygen_demand * lambda_ / DRY_AIR["O2"]
    products["H2O"] += moles_air * water / max(1.0 - water, 1e-9)
    return mix(products).packed


def burnt_gas(system: System, engine: eng.Engine) -> np.ndarray:
    """The packed exhaust gas of an `engine` in the moist air of a system."""
    water = dict(system.site.air.fractions).get("H2O", 0.0)
    return _burnt(engine.fuel.key, engine.lambda_, water)


def packed(system: System) -> k.Packed:
    """The arrays of a system. Raises ValueError when its cooler contradicts itself."""
    air = system.site.air
    engine = system.engine
    burnt = burnt_gas(system, engine)
    density = system.site.pressure / (air.packed[GAS_CONSTANT] * system.site.temperature)
    rows, losses = march.pack(system.elements)
    lines, points = lookup.pack(system.turbo.chart)
    site = np.zeros(k.SITE_SIZE)
    site[k.SITE_PRESSURE] = system.site.pressure
    site[k.SITE_TEMPERATURE] = system.site.temperature
    site[k.DISPLACEMENT] = engine.displacement
    site[k.MAP_PRESSURE] = system.turbo.chart.reference_pressure
    site[k.MAP_TEMPERATURE] = system.turbo.chart.reference_temperature
    site[k.MAP_MAXIMUM] = system.turbo.chart.maximum_speed
    mixture_numbers(site, engine)
    site[k.BORE] = engine.bore
    site[k.PISTONS] = engine.pistons
    site[k.TRUST_HEAT] = engine.wall_trust
    site[k.STROKE] = engine.stroke
    site[k.COMPRESSION] = engine.compression
    site[k.NUSSELT] = eng.SPARK_NUSSELT if engine.fuel.spark else eng.DIESEL_NUSSELT
    site[k.DRY_SHARE] = 1.0 - air.mass_fraction("H2O")
    site[k.EVAPORATED] = engine.evaporated
    site[k.LATENT] = engine.fuel.vaporisation
    site[k.VAPOUR + 3] = engine.fuel.vapour_mass
    if engine.fuel.saturation is not None:
        site[k.VAPOUR : k.VAPOUR + 3] = engine.fuel.saturation
    site[k.BAY_TEMPERATURE] = system.bay.temperature
    site[k.BAY_CONVECTION] = system.bay.convection
    site[k.BAY_HOT_CONVECTION] = system.bay.hot_convection
    site[k.GATE_AREA] = system.gate.area
    site[k.TRUST_TURBINE] = 1.0
    if system.blower is not None:
        blower = system.blower
        site[k.BELT] = 1.0
        site[k.BELT_RATIO] = blower.ratio
        site[k.BLOWER_DISPLACEMENT] = blower.displacement
        site[k.BLOWER_VOLUMETRIC] = blower.volumetric
        site[k.BLOWER_LEAK] = blower.leak
        site[k.BLOWER_ADIABATIC] = blower.adiabatic
        site[k.BLOWER_FALL] = blower.fall
        site[k.BLOWER_DRIVE] = blower.drive
    cooler = cooling.pack(system.cooler, road_speed=system.road_speed, air_density=density)
    turbine = turbines.pack(system.turbo.turbine, count=system.turbo.count)
    ignition = knock.pack(engine, float(air.packed[GAS_CONSTANT]))
    return (site, air.packed, burnt, rows, losses, lines, points, cooler, turbine, ignition)

"""An air path as the arrays that the kernel reads."""

from __future__ import annotations

import dataclasses
import math
from functools import lru_cache

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.exhaust_pulses import pulse_table
from zarvik.core.airpath.stations import EXHAUST
from zarvik.core.compressor import lookup
from zarvik.core.ducts import march
from zarvik.core.ducts.element import circle
from zarvik.core.engine import engine as eng
from zarvik.core.engine import knock
from zarvik.core.engine.belt import compliance
from zarvik.core.gas import combustion
from zarvik.core.gas.mixture import GAS_CONSTANT, mix
from zarvik.core.gas.species import DRY_AIR
from zarvik.core.intercooler import intercooler as cooling
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


def burnt_gas(path: AirPath, engine: eng.Engine) -> np.ndarray:
    """The packed exhaust gas of an `engine` in the moist air of an air path."""
    water = dict(path.site.air.fractions).get("H2O", 0.0)
    return _burnt(engine.fuel.key, engine.lambda_, water)


# Lambdas of the table that is read where a pump gives the fuel; between them fuel per air is straight.
TABLE_LAMBDAS = (
    20.0,
    8.0,
    5.0,
    3.5,
    2.8,
    2.3,
    2.0,
    1.8,
    1.65,
    1.5,
    1.4,
    1.3,
    1.22,
    1.15,
    1.1,
    1.05,
    1.0,
    0.95,
    0.9,
    0.85,
    0.8,
    0.7,
    0.6,
    0.5,
    0.45,
)


def mixture_table(path: AirPath) -> np.ndarray:
    """What hangs on lambda, a row for each of `TABLE_LAMBDAS` (`slots.MIX_FUEL` and on), for an engine
    whose fuel a pump gives; one empty row for any other."""
    engine = path.engine
    if not engine.delivery:
        return np.zeros((1, k.MIX_BURNT + len(burnt_gas(path, engine))))
    rows = []
    for value in TABLE_LAMBDAS:
        here = dataclasses.replace(engine, lambda_=value)
        burn = here.burnt
        rows.append((burn.fuel_per_air, burn.heat_per_air, eng.work_per_air(here), *burnt_gas(path, here)))
    return np.array(rows)


def _pack_gate(path: AirPath, site: np.ndarray) -> None:
    gate = path.gate
    site[k.GATE_AREA] = gate.area
    if path.blower is None and gate.area > 0.0:
        site[k.DUMPS] = 1.0 if gate.to_air else 0.0
        site[k.REJOINS] = path.alone
        if site[k.REJOINS] > 0.0:
            there = path.runs[EXHAUST][int(site[k.REJOINS]) - 1]
            site[k.JOIN_WIDE] = there.area / (gate.count * circle(gate.return_bore))
            site[k.JOIN_COSINE] = math.cos(gate.return_angle)


def _pack_blower(path: AirPath, site: np.ndarray) -> None:
    blower = path.blower
    if blower is not None:
        site[k.BELT] = 1.0
        site[k.BELT_RATIO] = blower.ratio
        site[k.VENTS] = 1.0 if blower.vents else 0.0
        site[k.BLOWER_DISPLACEMENT] = blower.displacement
        site[k.BLOWER_VOLUMETRIC] = blower.volumetric
        site[k.BLOWER_LEAK] = blower.leak
        site[k.BLOWER_ADIABATIC] = blower.adiabatic
        site[k.BLOWER_FALL] = blower.fall
        site[k.BLOWER_DRIVE] = blower.drive
        if blower.belt is not None:
            site[k.BELT_SLIP] = compliance(blower.belt) / blower.drive


def packed(path: AirPath) -> k.Packed:
    """The arrays of an air path. Raises ValueError when its intercooler contradicts itself."""
    air = path.site.air
    engine = path.engine
    burnt = burnt_gas(path, engine)
    density = path.site.pressure / (air.packed[GAS_CONSTANT] * path.site.temperature)
    rows, losses = march.pack(path.elements)
    lines, points = lookup.pack(path.turbo.chart)
    site = np.zeros(k.SITE_SIZE)
    site[k.SITE_PRESSURE] = path.site.pressure
    site[k.SITE_TEMPERATURE] = path.site.temperature
    site[k.DISPLACEMENT] = engine.displacement
    site[k.MAP_PRESSURE] = path.turbo.chart.reference_pressure
    site[k.MAP_TEMPERATURE] = path.turbo.chart.reference_temperature
    site[k.MAP_MAXIMUM] = path.turbo.chart.maximum_speed
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
    site[k.BAY_TEMPERATURE] = path.bay.temperature
    site[k.BAY_CONVECTION] = path.bay.convection
    site[k.BAY_HOT_CONVECTION] = path.bay.hot_convection
    _pack_gate(path, site)
    if engine.delivery and engine.leanest > 0.0:
        site[k.MOST_FUEL] = 1.0 / (engine.leanest * engine.fuel.stoichiometric_ratio)
    site[k.TRUST_TURBINE] = 1.0
    _pack_blower(path, site)
    cooler = cooling.pack(path.cooler, road_speed=path.road_speed, air_density=density)
    beats = None if path.blower is not None else pulse_table(path)
    turbine = turbines.pack(path.turbo.turbine, count=path.turbo.count, pulses=beats)
    ignition = knock.pack(engine, float(air.packed[GAS_CONSTANT]))
    table = mixture_table(path)
    return (site, air.packed, burnt, rows, losses, lines, points, cooler, turbine, ignition, table)

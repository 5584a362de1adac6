"""How much air a 2.0 L engine takes at 6,400 rpm and 1.1 bar of boost, what its compressor makes of that, and how hot the charge gets.

The map is made by the generator of the program for a wheel of 52 by 71 mm: an invented turbo.
"""

import math

from zarvik.core.common.constants import AIR_CP, AIR_GAMMA, DRY_AIR_GAS_CONSTANT
from zarvik.core.compressor import lookup
from zarvik.core.compressor.meanline import Wheel, generate
from zarvik.core.gas.ambient import standard_pressure

DISPLACEMENT, SPEED, BOOST, VE = 2.0e-3, 6400.0, 1.1e5, 0.95  # m3, rev/min, Pa, over the manifold's density
AMBIENT, CHARGE = 306.0, 323.0  # K: the day, and behind the intercooler

before = standard_pressure(640.0)
plenum = before + BOOST
air = VE * plenum / (DRY_AIR_GAS_CONSTANT * CHARGE) * DISPLACEMENT * SPEED / 120.0
ratio = (plenum + 9e3) / (before - 2e3)  # 9 kPa lost in pipes and intercooler, 2 kPa before the compressor

chart = generate(Wheel(0.052, 0.071), "52 × 71 mm")
corrected = air * math.sqrt(AMBIENT / chart.reference_temperature) / ((before - 2e3) / chart.reference_pressure)
lines, points = lookup.pack(chart)
speed, efficiency = (float(value) for value in lookup.inverse(lines, points, corrected, ratio, 0.8)[:2])
outlet = AMBIENT * (1.0 + (ratio ** ((AIR_GAMMA - 1.0) / AIR_GAMMA) - 1.0) / efficiency)
power = air * AIR_CP * (outlet - AMBIENT)

if __name__ == "__main__":
    print(f"{air:.3f} kg/s ({air / 0.45359237 * 60.0:.1f} lb/min), pressure ratio {ratio:.2f}, corrected {corrected:.3f} kg/s")
    print(f"{100.0 * speed:.0f} % of the highest wheel speed, efficiency {efficiency:.3f}")
    print(f"{outlet - 273.15:.0f} °C out of the compressor, {power / 1e3:.1f} kW at its shaft")

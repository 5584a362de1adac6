"""Meter, throttle, ports: against plane geometry by another library, closed forms and figures that are printed."""

from __future__ import annotations

import dataclasses
import itertools
import math

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.optimize import brentq
from shapely import affinity
from shapely.geometry import LineString, Point

from zarvik.core.ducts.pieces.throttle import throttle_loss
from zarvik.core.intake import butterfly, meter, ports
from zarvik.core.intake.ports import Opening, Ports


def _open_by_shapes(bore: float, shaft: float, angle: float) -> float:
    """Circle less the ellipse that the blade throws and the strip of its shaft: plane geometry by Shapely."""
    circle = Point(0.0, 0.0).buffer(0.5 * bore, quad_segs=512)
    high = math.cos(angle) / math.cos(butterfly.SHUT)
    left = circle.difference(affinity.scale(circle, 1.0, max(high, 1e-9)))
    return float(left.difference(LineString([(-bore, 0.0), (bore, 0.0)]).buffer(0.5 * shaft, cap_style="flat")).area)


@pytest.mark.parametrize("shaft", [0.004, 0.009, 0.014])
@pytest.mark.parametrize("degrees", [6.0, 9.0, 15.0, 30.0, 55.0, 75.0, 84.0, 90.0])
def test_area_of_a_blade(shaft: float, degrees: float) -> None:
    """Harrington and Bolt's formula is the plane geometry of blade and shaft."""
    angle = math.radians(degrees)
    assert butterfly.open_area(0.065, shaft, angle) == pytest.approx(_open_by_shapes(0.065, shaft, angle), rel=2e-4, abs=2e-8)


def test_what_a_throttle_leaves_to_feel() -> None:
    """The pressure behind the blade is looked for from the two flows written out (isentropic nozzle of NACA 1135, pump of the engine)."""
    engine = butterfly.NaturalIntake(0.002, 0.85, 100e3, 295.0)
    area = butterfly.area_for(engine, 2000.0)

    def over(p: float) -> float:
        r = p / 100e3
        nozzle = 0.85 * area * 100e3 / math.sqrt(287.05287 * 295.0) * math.sqrt(7.0 * (r ** (2.0 / 1.4) - r ** (2.4 / 1.4)))
        return nozzle - 0.85 * 0.002 * 2000.0 / 120.0 * p / (287.05287 * 295.0)

    assert brentq(over, 60e3, 99.9e3) == pytest.approx(90e3, rel=1e-6)
    found = butterfly.choose(0.009, engine, flow=0.25, pressure=220e3, temperature=320.0)
    losses, travels = [c.loss for c in found], [c.travel for c in found]
    assert losses == sorted(losses, reverse=True) and travels == sorted(travels, reverse=True) and len(found) == len(butterfly.BORES)
    # A two-litre engine on 65 mm has all its town torque in the first quarter of the pedal: fact of the trade, no source
    assert 0.15 < next(c.travel for c in found if c.bore == 0.065) < 0.3
    # Trade: 75 mm under boost is not the restriction below about 1,000 hp, some 0.75 kg/s at 3 bar absolute: less than 3 %
    loss, mach = butterfly.full_load(0.075, 0.009, flow=0.75, pressure=300e3, temperature=330.0)
    assert loss < 0.03 * 300e3 and mach < 0.25
    assert butterfly.travel_for(0.046, 0.009, 1.0) == 1.0
    half = butterfly.open_area(0.065, 0.009, 0.5 * (butterfly.SHUT + math.radians(90.0)))
    assert butterfly.travel_for(0.065, 0.009, half) == pytest.approx(0.5)
    for bore, shaft in ((0.046, 0.009), (0.065, 0.012), (0.09, 0.004)):
        assert butterfly.shaft_of(bore, throttle_loss(bore, shaft)) == pytest.approx(shaft)
    assert not butterfly.choose(0.03, engine, flow=0.25, pressure=220e3, temperature=320.0, bores=(0.046, 0.05))


def test_a_meter_goes_with_its_area() -> None:
    """An insert of a 60 mm housing that says 600 kg/h says it of 937 in one of 75 mm, and 64 % of what goes through (areas by hand)."""
    one = meter.Meter("film", 0.060, 600.0 / 3600.0)
    wide = dataclasses.replace(one, new_bore=0.075)
    assert meter.meter_range(one) * 3600.0 == pytest.approx(600.0) and meter.says(one) == 1.0
    assert meter.meter_range(wide) * 3600.0 == pytest.approx(937.5) and meter.says(wide) == pytest.approx(0.64)
    asked = meter.housing_for(one, 900.0 / 3600.0)
    assert 3600.0 * meter.meter_range(dataclasses.replace(one, new_bore=asked)) == pytest.approx(945.0)
    assert math.isnan(meter.housing_for(meter.Meter("film", 0.06), 0.2))


def test_areas_of_openings() -> None:
    """Round by the circle, a slot by a circle and a box, a rectangle by its corners: each by hand."""
    assert Opening(0.04).area == pytest.approx(math.pi * 4e-4)
    assert Opening(0.05, 0.03, "oval").area == pytest.approx(math.pi * 0.015**2 + 0.02 * 0.03)
    assert Opening(0.05, 0.03, "rectangle", 2).area == pytest.approx(2.0 * (0.0015 - (4.0 - math.pi) * 0.0045**2))
    assert not Opening().said


def test_a_step_between_two_openings() -> None:
    """Borda-Carnot and Idelchik 4-9 by hand: 40 into 44 mm, 44 into 40 mm, and 40 on 40 that sits 4 mm aside."""
    a, b = Opening(0.040), Opening(0.044)
    ratio = (40.0 / 44.0) ** 2
    lip, back, loss = ports.edge_loss(a, b, 0.0, 0.0)
    assert (lip, back) == pytest.approx((0.0, 0.002)) and loss == pytest.approx((1.0 / ratio - 1.0) ** 2)
    lip, back, loss = ports.edge_loss(b, a, 0.0, 0.0)
    assert (lip, back) == pytest.approx((0.002, 0.0)) and loss == pytest.approx(0.5 * (1.0 - ratio))
    lip, back, loss = ports.edge_loss(Opening(0.05, 0.03, "rectangle"), Opening(0.05, 0.03, "rectangle"), 0.004, 0.0)
    # The box that both leave is 46 by 30 mm, with the same corners
    free = (0.046 * 0.03 - 0.8584073 * 0.0045**2) / (0.05 * 0.03 - 0.8584073 * 0.0045**2)
    assert lip == back == pytest.approx(0.004)
    assert loss == pytest.approx(0.5 * (1.0 - free) / free**2 + (1.0 / free - 1.0) ** 2, rel=1e-6)
    aside = [ports.edge_loss(a, a, x, 0.0)[2] for x in np.linspace(0.0, 0.03, 31)]
    assert aside[0] == pytest.approx(0.0, abs=1e-12) and all(y > x for x, y in itertools.pairwise(aside))
    assert ports.edge_loss(a, a, 0.0, 0.003)[2] == pytest.approx(ports.edge_loss(a, a, -0.003, 0.0)[2])


def test_pulses_of_a_port_over_its_mean() -> None:
    """A stroke of half a sine: what the charge sees of v squared, integrated."""
    top = quad(lambda x: math.sin(x) ** 3, 0.0, math.pi)[0]
    mean = quad(math.sin, 0.0, math.pi)[0]
    assert pytest.approx(top / mean / (mean / math.pi) ** 2) == ports.PULSED


def test_taylors_mach_index() -> None:
    """C. F. Taylor: breathing falls from an index of about 0.5 on (fig. 6-13, memory). An engine of 86 mm bore and stroke with two valves
    of
    34.5 mm lifting 9.5 mm stays under it at 7,000 rpm, one with a single valve of 40 mm is past it (facts of the trade, no source)."""
    area, speed = 0.25 * math.pi * 0.086**2, 2.0 * 0.086 * 7000.0 / 60.0
    four = Ports(valves=2, valve_diameter=0.0345, valve_lift=0.0095)
    two = Ports(valves=1, valve_diameter=0.040, valve_lift=0.0095)
    sound = math.sqrt(1.4 * 287.05287 * 320.0)
    assert ports.flow_coefficient(0.04, 0.01) == pytest.approx(0.3625) and ports.flow_coefficient(0.04, 0.02) == pytest.approx(0.3625)
    found = [ports.mach_index(p, piston_area=area, piston_speed=speed, sound=sound) for p in (four, two)]
    assert 0.38 < found[0] < 0.5 < 0.6 < found[1] < 0.9
    # By hand: 5.809e-3 m2 times 20.07 m/s over 2 times 9.348e-4 m2 times 0.3625 and 358.6 m/s
    assert found[0] == pytest.approx(5.8088e-3 * 20.0667 / (2.0 * 9.3482e-4 * 0.3625 * 358.61), rel=1e-3)
    assert math.isnan(ports.mach_index(Ports(), piston_area=area, piston_speed=speed, sound=sound))


def test_the_way_to_the_valve() -> None:
    """Velocity by the stroke: 0.05 kg/s of 2 kg/m3 through 40 mm in a quarter of the time is 79.6 m/s; what nobody measured is left out."""
    given = Ports(runner=Opening(0.040), port=Opening(0.038), throat=Opening(0.029, count=2), offset_sideways=0.001)
    found = ports.way(given, flow=0.05, density=2.0, sound=360.0, piston_area=5.8e-3, piston_speed=20.0)
    assert [p.key for p in found.places] == ["runner", "port", "throat"] and [(e.before, e.behind) for e in found.edges] == [
        ("runner", "port")
    ]
    assert found.places[0].speed == pytest.approx(79.58, rel=1e-3) and found.places[0].mach == pytest.approx(79.58 / 360.0, rel=1e-3)
    assert found.narrowest.key == "port" and found.edges[0].lip == pytest.approx(0.002) and found.loss > 0.0
    with pytest.raises(ValueError, match="measured"):
        ports.way(Ports(), flow=0.05, density=2.0, sound=360.0, piston_area=5.8e-3, piston_speed=20.0)

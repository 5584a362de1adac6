"""Coolers against the reference library, a textbook case and their limits."""

from __future__ import annotations

import dataclasses
import math
from itertools import pairwise

import ht
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zarvik.core.gas.mixture import mix
from zarvik.core.gas.properties import enthalpy
from zarvik.core.gas.species import DRY_AIR
from zarvik.core.intercooler import intercooler as charge
from zarvik.core.intercooler.core_size import BUILDS, Core, Rating, Wind, charge_volume, cooling_flow, rate, rate_front, rate_water
from zarvik.core.intercooler.effectiveness import crossflow_effectiveness, transfer_units_for
from zarvik.core.intercooler.surfaces import Louvre, Strip, louvre_factors, plain_factors, strip_factors

AIR = mix(DRY_AIR).packed
COOLER = charge.Intercooler(effectiveness=0.76, drop=7000.0, rated_charge=0.25, rated_cooling=1.3, face_area=0.1344, capture=0.36)


@pytest.mark.parametrize("units", [0.3, 0.8, 1.5, 2.5, 4.0])
@pytest.mark.parametrize("ratio", [0.1, 0.25, 0.5, 0.75, 1.0])
def test_effectiveness_against_ht(units: float, ratio: float) -> None:
    """Independent library: `ht`, the same approximation exactly, the exact series within 4 %."""
    found = crossflow_effectiveness(units, ratio)
    same = ht.effectiveness_from_NTU(units, ratio, subtype="crossflow approximate")
    exact = ht.effectiveness_from_NTU(units, ratio, subtype="crossflow")
    assert found == pytest.approx(same, rel=1e-9)
    assert found == pytest.approx(exact, rel=0.04)


def test_incropera_finned_exchanger() -> None:
    """Published: Incropera & DeWitt, 6th ed., ex. 11.4 (from memory): effectiveness 0.75 at a
    ratio of 0.45 needs 2.1 units, read off figure 11.14."""
    assert transfer_units_for(0.75, 0.45) == pytest.approx(2.1, rel=0.06)


def test_limits_of_effectiveness() -> None:
    """No area nothing; endless area everything when one stream is endless."""
    assert crossflow_effectiveness(0.0, 0.5) == 0.0
    assert crossflow_effectiveness(20.0, 0.0) == pytest.approx(1.0)
    assert crossflow_effectiveness(1.0, 1e-12) == pytest.approx(1 - 2.718281828**-1)


@given(effectiveness=st.floats(0.05, 0.85), ratio=st.floats(0.05, 0.6))
@settings(max_examples=50, deadline=None)
def test_transfer_units_invert(effectiveness: float, ratio: float) -> None:
    """Round trip."""
    units = transfer_units_for(effectiveness, ratio)
    assert crossflow_effectiveness(units, ratio) == pytest.approx(effectiveness, rel=1e-6)


def run(cooler: charge.Intercooler, air: float, temperature: float, *, speed: float) -> tuple[float, ...]:
    """Charge of 210 kPa through the intercooler at 33 °C ambient and 1.07 kg/m3."""
    packed = charge.pack(cooler, road_speed=speed, air_density=1.07)
    return charge.cool(packed, AIR, air, 210e3, temperature, 306.15)


def rated_speed() -> float:
    """Road speed that drives the rated cooling air through the core."""
    return 1.3 / (1.07 * COOLER.face_area * COOLER.capture)


def test_rated_point_comes_back() -> None:
    """Closed form: at the rated flows it cools and loses as rated (air's cp aside)."""
    _, out, effectiveness, _, _ = run(COOLER, 0.25, 400.0, speed=rated_speed())
    assert effectiveness == pytest.approx(0.76, rel=0.005)
    assert (400.0 - out) / (400.0 - 306.15) == pytest.approx(0.76, rel=0.01)


def test_energy_closes_over_the_core() -> None:
    """Heat out of the charge is the heat into the cooling air."""
    _, out, _, heat, behind = run(COOLER, 0.25, 420.0, speed=25.0)
    assert 0.25 * (enthalpy(AIR, 420.0) - enthalpy(AIR, out)) == pytest.approx(heat, rel=1e-9)
    flow = COOLER.cooling_flow(25.0, 1.07)
    assert flow * (enthalpy(AIR, behind) - enthalpy(AIR, 306.15)) == pytest.approx(heat, rel=0.01)


def test_charge_never_gets_colder_than_the_air() -> None:
    """Second law, and colder charge than ambient is warmed."""
    for air in (0.001, 0.02, 0.5):
        out = run(COOLER, air, 430.0, speed=30.0)[1]
        assert 306.15 - 1e-6 <= out < 430.0
    assert run(COOLER, 0.2, 290.0, speed=30.0)[1] > 290.0


def test_standing_still_hardly_cools() -> None:
    """Without cooling air there is nowhere for the heat to go."""
    assert run(COOLER, 0.25, 400.0, speed=0.0)[1] == pytest.approx(400.0, abs=0.2)


def test_loss_scales_between_first_and_second_power() -> None:
    """Turbulent friction: between flow^1.75 and flow^2."""
    packed = charge.pack(COOLER, road_speed=25.0, air_density=1.07)
    drops = [210e3 - charge.cool(packed, AIR, air, 210e3, 350.0, 349.0)[0] for air in (0.125, 0.25)]
    assert 2**1.75 < drops[1] / drops[0] < 2**2
    density = 210e3 / (AIR[0] * 350.0)
    assert drops[1] == pytest.approx(7000.0 * charge.RATED_DENSITY / density, rel=0.01)


def test_trust_takes_conductance_away() -> None:
    """Common practice, no source: a seller's rating is trusted to 80 %."""
    uncertain = charge.Intercooler(
        effectiveness=0.76, drop=7000.0, rated_charge=0.25, rated_cooling=1.3, face_area=0.1344, capture=0.36, trust=0.8
    )
    assert uncertain.conductance() == pytest.approx(0.8 * COOLER.conductance())
    full = run(COOLER, 0.25, 400.0, speed=25.0)[2]
    part = run(uncertain, 0.25, 400.0, speed=25.0)[2]
    assert 0.85 * full < part < full


def test_contradicting_rating_is_refused() -> None:
    """More heat than the cooling air can take up."""
    with pytest.raises(ValueError, match="cooling air"):
        charge.Intercooler(effectiveness=0.95, drop=7000.0, rated_charge=0.25, rated_cooling=0.2, face_area=0.1, capture=0.3).conductance()


# ---- a core by its dimensions --------------------------------------------------------------------

CORE = Core(width=0.55, height=0.23, thickness=0.065, fins=500.0, entry=0.0635, build="bar_plate")


def test_plain_passages_have_their_printed_numbers() -> None:
    """Shah & London 1978, tables 42 and 44: Nu at constant wall temperature and f Re (Fanning) of rectangular
    passages, printed for aspects 0, 1/4, 1/2 and 1."""
    for aspect, nusselt, friction in ((1e-9, 7.541, 24.0), (0.25, 4.439, 18.233), (0.5, 3.391, 15.548), (1.0, 2.976, 14.227)):
        j, f = plain_factors(aspect, 500.0, 0.7)
        assert j * 500.0 * 0.7 ** (1.0 / 3.0) == pytest.approx(nusselt, rel=0.005)
        assert f * 500.0 == pytest.approx(friction, rel=0.005)


@pytest.mark.parametrize("reynolds", [4000.0, 8000.0, 20000.0])
def test_turbulent_passages_against_a_library(reynolds: float) -> None:
    """ht (Gnielinski) and fluids (Petukhov's friction, a quarter of Darcy's)."""
    import fluids
    import ht

    j, f = plain_factors(0.3, reynolds, 0.7)
    darcy = (0.79 * math.log(reynolds) - 1.64) ** -2
    assert f == pytest.approx(fluids.friction_factor(Re=reynolds, eD=0.0) / 4.0, rel=0.04)
    nusselt = ht.turbulent_Gnielinski(Re=reynolds, Pr=0.7, fd=darcy)
    assert j * reynolds * 0.7 ** (1.0 / 3.0) == pytest.approx(nusselt, rel=0.005)


def test_strip_fins_behave_as_measured() -> None:
    """By hand from the printed relation at Re 1,000 (Manglik & Bergles 1995) for s 1.5, h 6, l 3, t 0.1 mm:
    α 0.25, δ 0.0333, γ 0.0667; j 0.6522 · 0.02394 · 1.238 · 0.6006 · 1.2016 = 0.01395 times the bracket
    1.072; laminar j falls with Re^-0.54, turbulent with Re^-0.41; shorter strips give more of both (Kays &
    London 1984, ch. 10)."""
    fin = Strip(1.5e-3, 6e-3, 3e-3, 0.1e-3)
    j, f = strip_factors(fin, 1000.0)
    assert j == pytest.approx(0.01395 * 1.072, rel=0.01)
    assert f == pytest.approx(0.0563, rel=0.01) and 0.2 < j / f < 0.3
    assert fin.hydraulic_diameter == pytest.approx(4 * 1.5 * 6 * 3 / (2 * (4.5 + 18 + 0.6) + 0.15) * 1e-3)
    one, two = strip_factors(fin, 150.0)[0], strip_factors(fin, 300.0)[0]
    assert math.log(one / two) / math.log(2.0) == pytest.approx(0.5403, abs=0.02)
    one, two = strip_factors(fin, 5e4)[0], strip_factors(fin, 1e5)[0]
    assert math.log(one / two) / math.log(2.0) == pytest.approx(0.5403 - 0.134, abs=0.02)
    shorter = strip_factors(dataclasses.replace(fin, length=1.5e-3), 1000.0)
    assert shorter[0] > j and shorter[1] > f


def test_a_core_is_what_cores_are() -> None:
    """A common 550 x 230 x 65 mm core at 0.25 kg/s: effectiveness 0.65 to 0.85, 5 to 12 kPa, cooling air 400 to
    1,000 Pa at 1.3 kg/s; at 30 m/s in a duct 15 to 35 % of the free stream goes through (common practice, no
    source)."""
    found = rate(CORE, charge=0.25, cooling=1.3)
    assert 0.65 < found.effectiveness < 0.85 and 5e3 < found.drop < 12e3 and 400.0 < found.air_drop < 1000.0
    # Two velocity heads of the connections: 0.25 kg/s through 3.167e-3 m2 is 78.9 kg/(m2 s), over 1.9 kg/m3.
    assert found.tanks == pytest.approx(2.0 * 78.94**2 / (2.0 * 1.9), rel=1e-3)
    flow = cooling_flow(CORE, road_speed=30.0, wind=Wind(1.0))
    assert 0.15 < flow / (1.12 * 0.55 * 0.23 * 30.0) < 0.35
    # It is the flow at which the core takes the head that there is.
    assert rate(CORE, charge=0.2, cooling=flow).air_drop == pytest.approx(0.5 * 1.12 * 900.0, rel=1e-3)


def test_sizes_of_a_core_go_the_right_way() -> None:
    """Every size over its range: more face cools better for less loss, a thicker core takes less loss from the
    charge and more from the air; twice the core with twice the flows does the same; no effectiveness above
    what the two streams allow."""

    def at(**change: float) -> Rating:
        return rate(dataclasses.replace(CORE, **change), charge=0.25, cooling=1.0)

    for name, values, better, easier in (
        ("height", (0.1, 0.15, 0.23, 0.35, 0.6), 1, 1),
        ("thickness", (0.04, 0.065, 0.1, 0.15), 1, 1),
        ("width", (0.2, 0.4, 0.6, 0.9), 1, -1),
        ("entry", (0.04, 0.05, 0.0635, 0.076), 0, 1),
        ("fins", (300.0, 450.0, 600.0, 800.0), 1, 0),
    ):
        found = [at(**{name: value}) for value in values]
        for one, two in pairwise(found):
            assert (two.effectiveness - one.effectiveness) * better >= (0.0 if better else -1e-12), name
            assert (one.drop - two.drop) * easier >= (0.0 if easier else -1e-12), name
        assert all(0.0 < r.effectiveness < 1.0 for r in found)
    gap = BUILDS["bar_plate"].passage + BUILDS["bar_plate"].gap + 2.0 * BUILDS["bar_plate"].wall
    once = dataclasses.replace(CORE, height=20.0 * gap + BUILDS["bar_plate"].gap)
    twice = dataclasses.replace(CORE, height=40.0 * gap + BUILDS["bar_plate"].gap)
    small, large = rate(once, charge=0.2, cooling=0.8), rate(twice, charge=0.4, cooling=1.6)
    assert large.effectiveness == pytest.approx(small.effectiveness, rel=0.01)
    assert large.drop - large.tanks == pytest.approx(small.drop - small.tanks, rel=0.01)
    assert large.tanks == pytest.approx(4.0 * small.tanks)


def test_cores_that_cannot_be() -> None:
    """Said with what is wrong."""
    with pytest.raises(ValueError, match="cannot be brazed"):
        rate(dataclasses.replace(CORE, fins=4000.0), charge=0.2, cooling=1.0)
    with pytest.raises(ValueError, match="wider than a core"):
        rate(dataclasses.replace(CORE, thickness=0.02), charge=0.2, cooling=1.0)


LOUVRE = Louvre(pitch=1.4e-3, angle=math.radians(28.0), spacing=2.0e-3, height=8.0e-3, depth=40e-3, tubes=10.5e-3, thickness=0.1e-3)


def test_louvres_by_hand() -> None:
    """Chang & Wang 1997 at 500 on the louvre pitch, factor by factor: 500^-0.49 0.04759, (28/90)^0.27 0.7296,
    (2/1.4)^-0.14 0.9513, (8/1.4)^-0.29 0.6033, (40/1.4)^-0.23 0.4625, (6.8/1.4)^0.68 2.929, (10.5/1.4)^-0.28
    0.5688, (0.1/1.4)^-0.05 1.1411: j 0.01752. Davenport 1983 in mm: 5.47 * 500^-0.72 * (1.4 sin 28)^0.37 *
    0.85^0.89 * 1.4^0.2 * 8^0.23."""
    j, f = louvre_factors(LOUVRE, 500.0)
    assert j == pytest.approx(0.04759 * 0.7296 * 0.9513 * 0.6033 * 0.4625 * 2.929 * 0.5688 * 1.1411, rel=2e-3)
    lift = 1.4 * math.sin(math.radians(28.0))
    assert f == pytest.approx(5.47 * 0.011393 * lift**0.37 * 0.8653 * 1.0696 * 1.6132, rel=2e-3)
    # The friction runs on without a step at 1,000, and falls all the way.
    assert louvre_factors(LOUVRE, 999.9)[1] == pytest.approx(louvre_factors(LOUVRE, 1000.1)[1], rel=1e-3)
    numbers = [louvre_factors(LOUVRE, re) for re in (80.0, 150.0, 400.0, 900.0, 1500.0, 3000.0)]
    assert all(b[0] < a[0] and b[1] < a[1] for a, b in pairwise(numbers))
    # j over f of louvres lies between 0.1 and 0.35 (Kays & London 1984, their louvred surfaces, from memory)
    assert all(0.1 < j / f < 0.35 for j, f in numbers[1:5])


def test_what_drives_air_through_a_core() -> None:
    """More with speed, with a fan, with a larger opening; a fan moves air at a standstill, and never more than its
    free flow; a wide opening is as none."""
    flows = [cooling_flow(CORE, road_speed=v, wind=Wind(0.6)) for v in (2.0, 6.0, 15.0, 30.0, 60.0)]
    assert all(b > a for a, b in pairwise(flows))
    still = cooling_flow(CORE, road_speed=0.0, wind=Wind(0.6, fan=0.5))
    assert 0.2 < still < 0.5 * 1.12
    fans = [cooling_flow(CORE, road_speed=10.0, wind=Wind(0.6, fan=q)) for q in (0.0, 0.2, 0.5, 1.0)]
    assert all(b >= a for a, b in pairwise(fans)) and fans[-1] > 1.3 * fans[0]
    face = CORE.width * CORE.height
    ways = [cooling_flow(CORE, road_speed=25.0, wind=Wind(0.6, opening=s * face)) for s in (0.2, 0.4, 0.7, 1.0)]
    assert all(b > a for a, b in pairwise(ways))
    assert ways[-1] == pytest.approx(cooling_flow(CORE, road_speed=25.0, wind=Wind(0.6)), rel=1e-9)
    # By hand: the head of the wind is what core and widening take.
    flow = ways[1]
    core = rate(CORE, charge=0.2, cooling=flow).air_drop
    widening = (1.0 / 0.4 - 1.0) ** 2 * 0.5 * 1.12 * (flow / 1.12 / face) ** 2
    assert core + widening == pytest.approx(0.6 * 0.5 * 1.12 * 25.0**2, rel=1e-4)


def test_the_charge_in_a_core() -> None:
    """550 x 230 x 65 mm: a third of 8.2 L in the passages, and two tanks of 230 x 65 x 32 mm: 3 to 4 L."""
    assert 3.0e-3 < charge_volume(CORE) < 4.0e-3


def test_water_cooled_cores() -> None:
    """A 250 x 250 x 115 mm core takes four fifths out of 0.25 kg/s with 0.3 kg/s of water (common practice 75 to
    90 %); more water, a longer core more; a core that is small for the flow less. A front exchanger of a
    compact radiator's size lies between 0.25 and 0.75 of its smaller capacity and follows its air."""
    core = Core(width=0.25, height=0.25, thickness=0.115, fins=630.0, entry=0.0635, build="bar_plate")
    found = rate_water(core, charge=0.25, water=0.3)
    assert 0.72 < found.effectiveness < 0.92 and 2e3 < found.drop < 9e3
    waters = [rate_water(core, charge=0.25, water=w).effectiveness for w in (0.05, 0.1, 0.2, 0.4, 0.8)]
    assert all(b > a for a, b in pairwise(waters))
    charges = [rate_water(core, charge=m, water=0.3).effectiveness for m in (0.1, 0.2, 0.3, 0.4)]
    assert all(b < a for a, b in pairwise(charges))
    front = Core(width=0.60, height=0.30, thickness=0.040, fins=550.0, entry=0.03, build="tube_louvre")
    values = [rate_front(front, water=0.3, air=a) for a in (0.3, 0.6, 1.1)]
    assert all(0.2 < v < 0.75 for v in values) and values[0] > values[-1]
    # UA by effectiveness and transfer units of `ht`, the same flows: both sides of 1 W/K for 1 W/K give 0.5
    ua = ht.NTU_from_effectiveness(values[1], 0.6 * 1010.0 / (0.3 * 3900.0), subtype="crossflow")
    assert 0.2 < ua < 1.5


@pytest.mark.parametrize(("reynolds", "j", "f"), [(500.0, 0.0100, 0.0345), (1000.0, 0.0060, 0.0180), (2000.0, 0.0036, 0.0095)])
def test_a_plain_surface_of_the_handbook(reynolds: float, j: float, f: float) -> None:
    """Kays & London 1984, fig. 10-26, surface 11.1 (6.35 mm between plates, 11.1 fins to the inch of 0.152 mm,
    hydraulic diameter 3.08 mm): geometry as printed, j and f from memory, so as bands of 20 %."""
    spacing, height = 25.4e-3 / 11.1 - 0.152e-3, 6.35e-3 - 0.152e-3
    assert 2.0 * spacing * height / (spacing + height) == pytest.approx(3.08e-3, rel=0.04)
    # A core of 2.5 in, as there
    mine = plain_factors(spacing / height, reynolds, 0.7, 63.5 / 3.08)
    assert mine[0] == pytest.approx(j, rel=0.20) and mine[1] == pytest.approx(f, rel=0.20)


def test_a_strip_surface_of_the_handbook() -> None:
    """Kays & London 1984, fig. 10-58, surface 1/8-15.2 (strips of 3.2 mm, 10.5 mm between plates, 0.152 mm,
    hydraulic diameter 2.65 mm): at 1,000 j about 0.016 and f about 0.066, from memory, so as bands of 25 %."""
    fin = Strip(25.4e-3 / 15.2 - 0.152e-3, 10.5e-3 - 0.152e-3, 3.175e-3, 0.152e-3)
    assert fin.hydraulic_diameter == pytest.approx(2.65e-3, rel=0.06)
    j, f = strip_factors(fin, 1000.0)
    assert j == pytest.approx(0.016, rel=0.25) and f == pytest.approx(0.066, rel=0.25)


def test_more_wind_never_warms_a_charge_cooled_by_water() -> None:
    """From 10 to 500 km/h the charge falls all the way, less and less; at the rated wind the front exchanger is what it
    was rated at; far from it its conductance is by hand 0.5 of air and 0.5 of water."""
    water = dataclasses.replace(COOLER, rated_cooling=0.4, water_flow=0.35, front=0.65, front_wind=1.0, face_area=0.18)
    out = [_out(water, speed / 3.6) for speed in (10, 20, 40, 65, 80, 100, 150, 250, 500)]
    steps = [a - b for a, b in pairwise(out)]
    assert all(step > 0.0 for step in steps)
    assert steps[-1] < steps[0]
    assert water.front_capacity(1.0) == pytest.approx(0.65 * min(0.35 * 3900.0, 1010.0))
    # Independent: the table of ht for both streams unmixed, from the rated NTU
    units = ht.NTU_from_effectiveness(0.65, Cr=1010.0 / (0.35 * 3900.0), subtype="crossflow")
    conductance = units * 1010.0 / (0.5 + 0.5 * 2.0**-0.55)
    least, most = 0.35 * 3900.0, 2020.0
    effect = ht.effectiveness_from_NTU(conductance / least, Cr=least / most, subtype="crossflow")
    assert water.front_capacity(2.0) == pytest.approx(effect * least, rel=0.03)


def _out(cooler: charge.Intercooler, speed: float) -> float:
    packed = charge.pack(cooler, road_speed=speed, air_density=1.15)
    return float(charge.cool(packed, AIR, 0.2, 210e3, 420.0, 303.0)[1])

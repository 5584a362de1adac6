"""Coolers against the reference library, a textbook case and their limits."""

from __future__ import annotations

import ht
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zarvik.core.cooling import cooler as charge
from zarvik.core.cooling.effectiveness import crossflow_effectiveness, transfer_units_for
from zarvik.core.gas.mixture import mix
from zarvik.core.gas.properties import enthalpy
from zarvik.core.gas.species import DRY_AIR

AIR = mix(DRY_AIR).packed
COOLER = charge.Cooler(0.76, 7000.0, 0.25, 1.3, 0.1344, 0.36)


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


def run(
    cooler: charge.Cooler, air: float, temperature: float, *, speed: float
) -> tuple[float, ...]:
    """Charge of 210 kPa through the cooler at 33 °C ambient and 1.07 kg/m3."""
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
    doubtful = charge.Cooler(0.76, 7000.0, 0.25, 1.3, 0.1344, 0.36, trust=0.8)
    assert doubtful.conductance() == pytest.approx(0.8 * COOLER.conductance())
    full = run(COOLER, 0.25, 400.0, speed=25.0)[2]
    part = run(doubtful, 0.25, 400.0, speed=25.0)[2]
    assert 0.85 * full < part < full


def test_contradicting_rating_is_refused() -> None:
    """More heat than the cooling air can take up."""
    with pytest.raises(ValueError, match="cooling air"):
        charge.Cooler(0.95, 7000.0, 0.25, 0.2, 0.1, 0.3).conductance()

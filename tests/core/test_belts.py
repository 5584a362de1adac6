"""The belt of a blower, louvred fins and water-cooled cores against printed relations worked by hand."""

from __future__ import annotations

import dataclasses
import math
from itertools import pairwise

import numpy as np
import pytest

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import answer
from zarvik.core.candidates.evaluation import for_boost, pulleys
from zarvik.core.checks.belt import stronger
from zarvik.core.common.constants import HORSEPOWER
from zarvik.core.engine import belt as belts
from zarvik.core.engine.belt import Belt, capacity, compliance, grip, slip
from zarvik.core.whole_build.build import Build
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble

RIBBED = Belt(kind="ribbed", crank=0.165, blower=0.075, step_up=1.0, wide=6.0, wrap=math.radians(170.0))


@pytest.fixture(scope="module")
def moth() -> Build:
    """The blower build."""
    return assemble(shipped.demo("moth"))


def test_grip_by_euler_and_eytelwein() -> None:
    """The textbook's flat belt: mu 0.3 round half a turn holds exp(0.3 pi) = 2.566 (K.-H. Decker; Shigley
    2011, eq. 17-7); wedged into 40 degrees of groove the friction counts 1 / sin 20 = 2.924 times: exp(2.756) = 15.7."""
    assert grip(0.3, math.pi, math.pi) == pytest.approx(2.566, abs=1e-3)
    assert grip(0.3, math.radians(40.0), math.pi) == pytest.approx(15.73, abs=0.02)


def test_capacity_by_hand() -> None:
    """165 mm at 5,000 rpm: 43.20 m/s; six ribs 1,620 N less 0.0185 * 6 * 43.2^2 = 207 N; grip exp(0.3 * 2.967 /
    0.342) = 13.5: 0.926 of 1,413 N at 43.2 m/s: 56.5 kW. Of that 10 kW stretch it by 231 N over 108 kN: 0.21 %."""
    assert RIBBED.ratio == pytest.approx(2.2)
    assert RIBBED.speed(5000.0) == pytest.approx(43.197, abs=1e-3)
    assert capacity(RIBBED, 5000.0) == pytest.approx(56_520.0, rel=2e-3)
    assert slip(RIBBED, 5000.0, 10_000.0) == pytest.approx(231.5 / 108_000.0, rel=1e-3)
    assert compliance(RIBBED) * 10_000.0 / 5000.0 == pytest.approx(231.5 / 108_000.0, rel=1e-3)


def test_teeth_by_hand() -> None:
    """60 over 28 teeth of 8 mm, 50 mm wide: 2.143 to 1; 152.8 mm at 4,000 rpm are 32.0 m/s; 4,250 N less
    0.275 * 32^2 = 282 N: 127 kW, 13.2 teeth in mesh carry all. With ten teeth in 90 degrees 2.5 are in mesh:
    0.30 of it. No slip."""
    pitch = 8e-3 / math.pi
    toothed = Belt(kind="toothed", crank=60 * pitch, blower=28 * pitch, step_up=1.0, wide=0.050, wrap=math.radians(170.0))
    assert toothed.ratio == pytest.approx(60 / 28)
    assert capacity(toothed, 4000.0) == pytest.approx((4250.0 - 281.6) * 32.0, rel=1e-3)
    few = dataclasses.replace(toothed, blower=10 * pitch, wrap=math.radians(90.0))
    assert capacity(few, 4000.0) == pytest.approx(0.30 * (4250.0 - 281.6) * 32.0, rel=1e-3)
    assert slip(toothed, 4000.0, 20_000.0) == 0.0


def test_a_belt_carries_more_the_wider_and_the_more_it_wraps() -> None:
    """Over the whole range of ribs, wrap and speed: no fall but by its own inertia at high speed."""
    for ribs in range(3, 16):
        one, two = (dataclasses.replace(RIBBED, wide=float(n)) for n in (ribs, ribs + 1))
        assert capacity(two, 4000.0) > capacity(one, 4000.0)
    for degrees in range(60, 290, 10):
        one, two = (dataclasses.replace(RIBBED, wrap=math.radians(d)) for d in (degrees, degrees + 10))
        assert capacity(two, 4000.0) > capacity(one, 4000.0)
    v = np.array([capacity(RIBBED, n) for n in np.arange(500.0, 12_000.0, 250.0)])
    assert v.argmax() not in (0, len(v) - 1) and np.all(v >= 0.0)


def test_the_blower_falls_behind_by_its_belt(moth: Build) -> None:
    """What is told of the rotors is ratio times crank less the stretch of the power that goes through."""
    assert moth.blower is not None and moth.blower.belt is not None
    solver = prepare(moth)
    point = solver.at(6000.0)
    power = point.turbo.power / moth.blower.drive
    pull = power / (math.pi * moth.blower.belt.crank * 100.0)
    behind = pull / (belts.RIB_STIFFNESS * moth.blower.belt.wide)
    assert point.turbo.real_speed == pytest.approx(moth.blower.ratio * 6000.0 * (1.0 - behind), rel=1e-9)
    bare = prepare(dataclasses.replace(moth, blower=dataclasses.replace(moth.blower, belt=None))).at(6000.0)
    assert bare.turbo.real_speed == pytest.approx(moth.blower.ratio * 6000.0, rel=1e-12)
    assert bare.boost >= point.boost - 1.0


def test_which_pulley_makes_the_boost(moth: Build) -> None:
    """Smaller pulleys make more boost, take more power and turn the rotors faster; the answer is the largest that
    reaches it, and solving the build with it gives that boost."""
    found = pulleys(moth)
    assert len(found) > 8
    assert all(b.boost < a.boost and b.belt_power < a.belt_power and b.carried > a.carried for a, b in pairwise(found))
    assert moth.blower is not None
    wanted = 0.6e5
    best = for_boost(found, wanted, moth.blower.maximum_speed)
    assert best is not None and best.boost >= wanted
    larger = [p for p in found if p.size > best.size]
    assert larger and larger[0].boost < wanted
    belt = dataclasses.replace(moth.blower.belt, blower=best.size)
    built = dataclasses.replace(
        moth, blower=dataclasses.replace(moth.blower, ratio=best.ratio, belt=belt), boost=dataclasses.replace(moth.boost, full=wanted)
    )
    point = prepare(built).at(moth.target.speed)
    assert point.boost == pytest.approx(wanted, rel=1e-3) and point.turbo.opening < 0.2
    assert for_boost(found, 9e5, 1e9) is None and for_boost(found, wanted, 1000.0) is None


def test_a_belt_that_slips_is_told(moth: Build) -> None:
    """Three ribs for what six carry: the check fails or is tight, names the power, and six ribs cure it."""
    assert moth.blower is not None and moth.blower.belt is not None
    narrow = dataclasses.replace(moth.blower.belt, wide=3.0, wrap=math.radians(90.0))
    boost = dataclasses.replace(moth.boost, full=1.2e5)
    blower = dataclasses.replace(moth.blower, belt=narrow, ratio=2.6)
    found = answer(dataclasses.replace(moth, blower=blower, boost=boost))
    check_result = next(v for v in found.check_results if v.id == "belt")
    assert check_result.state in ("fails", "marginal") and check_result.changes[0].place == "blower.belt_ribs"
    ribs = float(check_result.changes[0].value)
    cured = dataclasses.replace(blower, belt=dataclasses.replace(narrow, wide=ribs))
    again = answer(dataclasses.replace(moth, blower=cured, boost=boost))
    assert next(v for v in again.check_results if v.id == "belt").state == "ok"
    assert prepare(moth).packed[k.SITE][k.BELT_SLIP] == pytest.approx(compliance(moth.blower.belt) / moth.blower.drive, rel=1e-12)


@pytest.mark.parametrize(("ribs", "power"), [(6.0, 65.0), (8.0, 100.0), (10.0, 125.0)])
def test_ribbed_belts_carry_what_blowers_are_driven_with(ribs: float, power: float) -> None:
    """Common practice, no source: of blowers six ribs drive some 65 hp, eight 100, ten 125, at the usual 36 to 43 m/s."""
    belt = Belt(kind="ribbed", crank=0.150, blower=0.070, step_up=1.0, wide=ribs, wrap=math.radians(165.0))
    slow, fast = (capacity(belt, v * 60.0 / (math.pi * 0.150)) / HORSEPOWER for v in (36.0, 43.0))
    assert 0.85 * power < slow < 1.1 * power and 0.95 * power < fast < 1.2 * power


def test_a_toothed_belt_drives_a_large_blower() -> None:
    """Common practice, no source: three inches (76 mm) of 8 mm pitch drive some 300 hp of blower."""
    pitch = 8e-3 / math.pi
    belt = Belt(kind="toothed", crank=64 * pitch, blower=36 * pitch, step_up=1.0, wide=0.076, wrap=math.radians(170.0))
    assert 250.0 < capacity(belt, 36.0 * 60.0 / (math.pi * belt.crank)) / HORSEPOWER < 350.0


def test_teeth_where_no_ribs_carry() -> None:
    """Every belt that is offered carries more than the one before it of its kind, turns the blower as fast within 2.5 % and never much
    slower, and has pulleys that are sold."""
    for crank in (0.120, 0.145, 0.170):
        for blower in (0.060, 0.075, 0.090):
            belt = dataclasses.replace(RIBBED, crank=crank, blower=blower)
            found = list(stronger(belt))
            assert [other.kind for other, _, _ in found if other.kind == "ribbed"]
            toothed = [(other, changes) for other, _, changes in found if other.kind == "toothed"]
            for other, changes in toothed:
                assert -0.026 < other.ratio / belt.ratio - 1.0 < 0.026
                said = {c.place: c.value for c in changes}
                assert said["blower.belt"] == "toothed" and said["blower.belt_width"] == other.wide
                assert other.ratio == pytest.approx(float(said["blower.crank_teeth"]) / float(said["blower.teeth"]))
            for kind in ("ribbed", "toothed"):
                carried = [capacity(other, 4000.0) for other, _, _ in found if other.kind == kind]
                assert carried == sorted(carried)

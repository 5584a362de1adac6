"""What stands in an engine bay: distances against another library (trimesh), the rules at their edges."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
import trimesh
from scipy.spatial.transform import Rotation

from made_bays import without_bay
from zarvik.core.answer.answer import answer
from zarvik.core.bay.belts import Pulley, belt_run
from zarvik.core.bay.clearance import Near, Obstacle, growth_of, near
from zarvik.core.bay.kinds import KINDS, read
from zarvik.core.checks.check_result import CheckResult
from zarvik.core.heat.clearance import ENGINE_MOVEMENT, THINGS
from zarvik.core.layout.placement import Layout
from zarvik.core.limits.limits import FAILS, MARGINAL, OK
from zarvik.core.solids.bodies import Body, Shape, packed, rod
from zarvik.core.solids.distance import away_from, nearest
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.layout.layout import layout, space_of


def test_the_table_of_kinds() -> None:
    """An inch to what the engine rocks against where it moves itself or steers: common practice, no source."""
    assert {kind.minds for kind in KINDS.values()} <= {"", *(thing.key for thing in THINGS)}
    for key, kind in KINDS.items():
        assert 0.005 <= kind.gap <= 0.03
        assert box((0, 0, 0), (1, 1, 1), key).room == pytest.approx(kind.gap + (ENGINE_MOVEMENT if kind.fixed == "body" else 0.0))
    assert box((0, 0, 0), (1, 1, 1), "column").room == pytest.approx(0.0254, abs=0.001)
    assert KINDS["fan"].moves
    assert not KINDS["battery"].moves
    with pytest.raises(ValueError, match="without a source"):
        read("kind,title,gap,fixed,minds,moves,source\nbox,Box,3,body,,no,\n")
    with pytest.raises(ValueError, match="hanging on nothing"):
        read("kind,title,gap,fixed,minds,moves,source\nbox,Box,3,roof,,no,me\n")


def test_rods_against_another_library() -> None:
    dice = np.random.default_rng(2)
    way = np.empty(3)
    for _ in range(10):
        begin, end = dice.uniform(-0.3, 0.3, (2, 3))
        radius = float(dice.uniform(0.01, 0.06))
        rows = packed([rod("rod", begin, end, radius)])
        mesh = trimesh.creation.capsule(height=float(np.linalg.norm(end - begin)), radius=radius, count=[40, 40])
        mesh.apply_translation([0.0, 0.0, -0.5 * float(np.linalg.norm(end - begin))]) if abs(mesh.bounds.sum()) > 0.1 else None
        turn, _ = Rotation.align_vectors([end - begin], [[0.0, 0.0, 1.0]])
        place = np.eye(4)
        place[:3, :3], place[:3, 3] = turn.as_matrix(), 0.5 * (begin + end)
        mesh.apply_transform(place)
        points = dice.uniform(-0.5, 0.5, (40, 3))
        _, wanted, _ = trimesh.proximity.closest_point_naive(mesh, points)
        for point, distance in zip(points, wanted, strict=True):
            found = nearest(rows, *point, False, 9.0)
            assert abs(found) == pytest.approx(distance, abs=4e-4)
            if found > 0.01:
                away_from(rows, *point, False, way)
                assert nearest(rows, *(point + 1e-4 * way), False, 9.0) - found == pytest.approx(1e-4, rel=1e-3)


@pytest.fixture(scope="module")
def tarn() -> Layout:
    return layout(shipped.demo("tarn"))


def box(centre: tuple[float, float, float], size: tuple[float, float, float], kind: str = "metal", slack: float = 0.0) -> Obstacle:
    body = Body(name="box", shape=Shape.BOX, centre=np.array(centre), axes=np.eye(3), half=0.5 * np.array(size))
    return Obstacle(id="one", name="Box", kind=kind, bodies=(body,), slack=slack)


def test_gaps_against_another_library(tarn: Layout) -> None:
    """Every millimetre of every middle, its distance from a mesh, less the outer radius; scrolls and the core beside them are nearer than
    a ball round each says and farther than its middle."""
    dice = np.random.default_rng(7)
    seen = 0
    for number in range(7):
        size = dice.uniform(0.05, 0.25, 3)
        centre = dice.uniform([-0.5, -0.3, -0.6], [0.5, 0.3, 0.6])
        found = {one.line: one for one in near(tarn, [box(tuple(centre), tuple(size))], (0.5, 0.3, 0.06))}
        mesh = trimesh.creation.box(extents=size)
        mesh.apply_translation(centre)
        for line in tarn.lines:
            if not line.placed:
                continue
            places, radii = [], []
            for part in line.placed:
                s = part.segment
                share = np.linspace(0.0, 1.0, max(int(s.length / 0.003), 2))
                places += [part.at(float(t)).origin for t in share]
                radii += [0.5 * ((1.0 - t) * s.bore_in + t * s.bore_out) + s.wall for t in share]
            _, distance, _ = trimesh.proximity.closest_point_naive(mesh, np.array(places))
            inside = mesh.contains(np.array(places)) if number < 1 else np.all(np.abs(np.array(places) - centre) < 0.5 * size, axis=1)
            gap = float(np.min(np.where(inside, -distance, distance) - np.array(radii)))
            if gap < 0.25:
                assert found[line.key].gap == pytest.approx(gap, abs=0.0015), line.key
                seen += 1
                one = found[line.key]
                if one.gap > 0.005:
                    assert np.linalg.norm(one.point - one.other) == pytest.approx(one.gap, abs=1e-6)
                    assert trimesh.proximity.closest_point_naive(mesh, one.other[None])[1][0] < 1e-6
    assert seen > 15


def judged(obstacle: Obstacle) -> dict[str, CheckResult]:
    build = dataclasses.replace(assemble(without_bay(shipped.demo("tarn"))), obstacles=(obstacle,))
    return {one.id: one for one in answer(build, ()).check_results if one.id.startswith("bay")}


def beside(line: str, gap: float, kind: str, slack: float = 0.0) -> Obstacle:
    """A thin rod beside the middle of the longest straight of a run, its skin so many m from the run's."""
    found = layout(shipped.demo("tarn")).line(line)
    assert found is not None
    part = max((p for p in found.placed if not p.segment.bends), key=lambda p: p.segment.length)
    middle = part.at(0.5)
    # On the side that is away from the engine
    way = np.cross(middle.along, (0.0, 1.0, 0.0)) if abs(middle.along[1]) < 0.9 else np.array([0.0, 0.0, 1.0])
    way = way / np.linalg.norm(way) * (1.0 if way[2] * middle.origin[2] >= 0.0 else -1.0)
    at = middle.origin + (0.5 * part.segment.outside + gap + 0.002) * way
    end = at + 0.01 * way
    return Obstacle(id="one", name="Thing", kind=kind, bodies=(rod("rod", at, end, 0.002),), slack=slack)


@pytest.mark.parametrize(
    ("kind", "gap", "slack", "state"),
    [
        ("metal", 0.021, 0.0, OK),  # 8 mm and what the engine rocks, 12 mm
        ("metal", 0.019, 0.0, MARGINAL),
        ("metal", 0.021, 0.005, MARGINAL),  # a tape's 5 mm
        ("metal", 0.004, 0.005, FAILS),  # may touch
        ("engine", 0.007, 0.0, OK),  # rocks along
        ("fan", 0.030, 0.0, FAILS),  # turns: there is no marginal
        ("fan", 0.038, 0.0, OK),
    ],
)
def test_room_at_its_edges(kind: str, gap: float, slack: float, state: str) -> None:
    found = judged(beside("cold_pipe", gap, kind, slack))["bay_room"]
    assert found.state == state
    assert (found.margin is None or found.margin >= 0.0) == (state == OK) or state == OK


def test_heat_at_its_edges() -> None:
    """As the heat page says: a brake line stands 100 °C and wants 0.28 m from a bare exhaust at full load, and behind a shield a finger,
    18 mm; bare metal minds nothing."""
    assert judged(beside("exhaust", 0.29, "line"))["bay_heat"].state == OK
    assert judged(beside("exhaust", 0.05, "line"))["bay_heat"].state == MARGINAL
    assert judged(beside("exhaust", 0.01, "line"))["bay_heat"].state == FAILS
    assert judged(beside("exhaust", 0.025, "metal"))["bay_heat"].state == OK
    assert "bay_heat" not in judged(beside("cold_pipe", 0.02, "line"))


def test_a_bay_with_nothing_near_is_said_so() -> None:
    far = box((9.0, 9.0, 9.0), (0.1, 0.1, 0.1))
    assert judged(far)["bay_room"].state == OK
    unsure = dataclasses.replace(far, sure=False)
    assert judged(unsure)["bay_unsure"].state == "to_do"
    assert not judged_without()


def judged_without() -> list[CheckResult]:
    return [one for one in answer(assemble(without_bay(shipped.demo("tarn"))), ()).check_results if one.id.startswith("bay")]


def test_turbo_and_core_are_looked_at(tarn: Layout) -> None:
    """A box 40 mm below the turbine's middle is inside of its housing; one beside the core touches it at the distance of its half."""
    turbo = tarn.turbos[0]
    below = box(tuple(turbo.turbine - np.array([0.0, 0.04, 0.0])), (0.01, 0.01, 0.01))
    found = {one.line: one.gap for one in near(tarn, [below])}
    assert found["turbine"] < 0.0
    assert {one.line for one in near(tarn, [below], blown=True)}.isdisjoint({"turbine", "compressor"})
    space = space_of(without_bay(shipped.demo("tarn")))
    assert space.cooler is not None
    assert tarn.cooler is not None
    middle = 0.5 * (tarn.cooler[0].origin + tarn.cooler[1].origin)
    above = box(tuple(middle + np.array([0.0, 0.5 * space.cooler[1] + 0.03, 0.0])), (0.02, 0.02, 0.02))
    gaps = [one for one in near(tarn, [above], space.cooler) if one.line == "cooler"]
    assert gaps[0].gap == pytest.approx(0.02, abs=0.006)  # the skin is looked at every 30 mm
    assert isinstance(gaps[0], Near)
    assert math.isfinite(gaps[0].gap)


def test_a_belt_that_goes_round_too_little() -> None:
    """A quarter turn round what it drives; an idler on its back may have less."""
    far = box((9.0, 9.0, 9.0), (0.1, 0.1, 0.1))
    round_all = [Pulley(0, 0, 0.16), Pulley(0.2, 0.15, 0.06), Pulley(0.25, -0.15, 0.13)]
    idle = [*round_all[:2], Pulley(0.21, 0.0, 0.05, True), round_all[2]]
    flat = [Pulley(0, 0, 0.1), Pulley(0.03, 0.25, 0.06), Pulley(0, 0.5, 0.1)]
    assert judged(dataclasses.replace(far, belt=belt_run(round_all)))["bay_belt"].state == OK
    found = belt_run(idle)
    assert min(found.wraps) == found.wraps[2] < 0.5 * math.pi
    assert judged(dataclasses.replace(far, belt=found))["bay_belt"].state == OK
    assert judged(dataclasses.replace(far, belt=belt_run(flat)))["bay_belt"].state == MARGINAL


def test_what_is_wrong_with_a_place_is_to_be_done() -> None:
    far = dataclasses.replace(box((9.0, 9.0, 9.0), (0.1, 0.1, 0.1)), faults=("it has no points",), sure=False)
    found = judged(far)["bay_unsure"]
    assert found.state == "to_do"
    assert dict(found.text.figures)["fault"] == "it has no points"


def test_what_is_hot_comes_nearer() -> None:
    """A wall behind the end of the exhaust: nearer by what it grows, by hand from where it is bolted on. Stainless steel grows by about
    14 mm a metre to 800 °C, 10 to 600 °C; common practice, no source."""
    space = space_of(without_bay(shipped.demo("tarn")))
    manifold, exhaust = space.grows
    assert manifold == pytest.approx(0.014, abs=0.001)
    assert exhaust == pytest.approx(0.0104, abs=0.001)
    there = layout(without_bay(shipped.demo("tarn")))
    line = there.line("exhaust")
    assert line is not None
    end = line.end.origin + np.array([0.1, 0.0, 0.0])  # it ends along the crank
    wall = Body(name="Wall", shape=Shape.BOX, centre=end + np.array([0.01, 0.0, 0.0]), axes=np.eye(3), half=np.array([0.01, 0.3, 0.3]))
    thing = Obstacle(id="w", name="Wall", kind="metal", bodies=(wall,), slack=0.0)
    cold, hot = (next(n for n in near(there, [thing], grows=g) if n.line == "exhaust") for g in ((0.0, 0.0), space.grows))
    head = np.mean([port.origin for port in there.ports], axis=0)
    moved = manifold * (line.start.origin - head)[0] + exhaust * (line.end.origin - line.start.origin)[0]
    assert moved > 0.02
    assert cold.gap - hot.gap == pytest.approx(moved, abs=5e-4)
    assert hot.hot
    assert not cold.hot
    # The places are those of the pipe as it is drawn
    assert hot.point == pytest.approx(cold.point, abs=1e-3)


def test_a_primary_grows_from_its_port() -> None:
    """What is at the port stays, what is a metre away goes 14 mm farther; the turbo is carried away from the middle of the head."""
    there = layout(without_bay(shipped.demo("tarn")))
    found = growth_of(there, (0.014, 0.01))
    for line in there.primaries:
        points = line.start.origin + np.array([[0.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
        assert found[line.key].by(points) == pytest.approx(np.array([[0.0, 0.0, 0.0], [0.0, 0.0, 0.014]]))
    head = np.mean([port.origin for port in there.ports], axis=0)
    flange = there.turbos[0].gas_in.origin
    assert found["turbine"].by(flange) == pytest.approx(0.014 * (flange - head))
    assert found["compressor"].by(np.zeros(3)) == pytest.approx(0.014 * (flange - head))
    assert "cold_pipe" not in found

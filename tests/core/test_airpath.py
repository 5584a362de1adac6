"""The coupled cold side: closure, limits, edges, continuity, and the demo's figures."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from reference_tables import band
from zarvik.core.airpath import stations as names
from zarvik.core.airpath.air_path import BoostSchedule
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import prepare, sweep_speeds
from zarvik.core.answer.answer import Answer, answer
from zarvik.core.checks import worst
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.gas.ambient import Site, standard_pressure
from zarvik.core.gas.properties import isentropic_temperature
from zarvik.core.whole_build.build import Build
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.turbos import candidates
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.cures.cures import proved
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import get, with_value
from zarvik.project.edits.turbo_edits import add_turbo
from zarvik.project.units.units import Quantity, parse

HP = 745.6998715822702
POUND_PER_MINUTE = 0.45359237 / 60.0


@pytest.fixture(scope="session")
def build(tarn: Project) -> Build:
    """The demo's build."""
    return assemble(tarn)


def at_target(build: Build) -> Point:
    """The solved point at the target speed."""
    return prepare(build).at(build.target.speed)


def changed(tarn: Project, **values: str) -> Project:
    """The demo with other entries, `brief__altitude="0 m"` and so on."""
    for name, text in values.items():
        place = name.replace("__", ".")
        now = get(tarn, place)
        tarn = with_value(tarn, place, parse(text, now.kind) if isinstance(now, Quantity) else text)
    return tarn


def test_every_point_closes(tarn_answer: Answer) -> None:
    """Mass within 1e-6 and energy within 1e-4, as every solution has to."""
    assert len(tarn_answer.sweep) > 40
    for point in tarn_answer.sweep:
        assert point.closure.solved
        assert point.closure.mass < 1e-8
        assert point.closure.energy < 1e-6
        assert point.closure.shaft < 1e-6
        flows = {s.flow for s in point.stations.values()}
        assert flows == {point.air, point.air + point.fuel}


def test_the_gate_has_its_three_regimes(tarn_answer: Answer) -> None:
    """Shut below the threshold with less boost than asked for, holding above it to the pascal."""
    regimes = [p.turbo.regime for p in tarn_answer.sweep]
    assert regimes == sorted(regimes, key=["shut", "holding", "fully open"].index)
    assert {"shut", "holding"} <= set(regimes)
    for point in tarn_answer.sweep:
        if point.turbo.regime == "holding":
            assert point.boost == pytest.approx(point.wanted_boost, abs=0.05)
            assert 0.0 < point.turbo.opening < 1.0
        else:
            assert point.boost < point.wanted_boost
            assert point.turbo.gate_flow == 0.0


def test_pressures_add_up(tarn_answer: Answer) -> None:
    """Each stretch takes what lies between its stations; round the whole path they are nothing."""
    point = tarn_answer.target
    for stretch in point.stretches:
        one, two = point.stations[stretch.start], point.stations[stretch.end]
        assert one.pressure - two.pressure == pytest.approx(stretch.drop, abs=0.02)
        assert two.temperature - one.temperature == pytest.approx(stretch.warming, abs=1e-3)
    cold = [s for s in point.stretches if s.section not in ("engine", "manifold", "turbine", "exhaust")]
    assert -sum(s.drop for s in cold) == pytest.approx(point.boost, abs=0.1)
    assert sum(s.drop for s in point.stretches) == pytest.approx(0.0, abs=0.5)


def test_shaft_and_flows_by_hand(tarn_answer: Answer) -> None:
    """Closed form: turbine power is flow times enthalpy drop (cp near 1.33), what turbine and gate
    pass is the exhaust, the mixed gas behind them carries the energy."""
    point = tarn_answer.target
    t = point.turbo
    exhaust = point.air + point.fuel
    assert t.turbine_flow + t.gate_flow == pytest.approx(exhaust, rel=1e-7)
    assert t.turbine_power * 0.96 == pytest.approx(t.power, rel=1e-6)
    drop = point.stations["turbine_inlet"].temperature - point.stations["turbine_outlet"].temperature
    assert exhaust * 1330.0 * drop == pytest.approx(t.turbine_power, rel=0.03)


def test_compressor_work_by_hand(build: Build, tarn_answer: Answer) -> None:
    """Closed form: T2 = T1 + (T2s - T1) / efficiency with cp of air near 1010 J/(kg K)."""
    point = tarn_answer.target
    one, two = (point.stations[n].temperature for n in ("compressor_inlet", "compressor_outlet"))
    ideal = isentropic_temperature(build.site.air.packed, one, point.turbo.ratio)
    assert two - one == pytest.approx((ideal - one) / point.turbo.efficiency, rel=0.006)
    assert point.turbo.power == pytest.approx(point.air * 1015.0 * (two - one), rel=0.01)
    assert point.turbo.back_pressure == pytest.approx(1.15, abs=0.15)


def test_demo_is_believable(tarn_answer: Answer) -> None:
    """What a practitioner checks by eye (common practice, no source)."""
    point = tarn_answer.target
    low, high = band("trade_bands", "petrol_hp_per_lb_min")
    assert low <= (point.power / HP) / (point.air / POUND_PER_MINUTE) <= high
    assert 295 < point.power / HP < 345
    assert 800 < point.stations["turbine_inlet"].temperature - 273.15 < 980
    assert 2.2 < point.turbo.ratio < 2.5
    assert 120 < point.stations["compressor_outlet"].temperature - 273.15 < 175
    assert 45 < point.stations["plenum"].temperature - 273.15 < 85
    assert 0.5 < point.cooler_effectiveness < 0.8


def test_51_hot_and_63_cold_pipe_is_comfortable_at_280_hp(tarn: Project) -> None:
    """Common practice, no source: 2 in hot and 2.5 in cold pipe loses a few kPa at 280 hp."""
    project = changed(tarn, **{f"hot_pipe__{p.id}__bore": "51 mm" for p in tarn.hot_pipe}, goal__target_boost="0.85 bar")
    point = at_target(assemble(project))
    assert point.power / HP == pytest.approx(280.0, abs=20.0)
    low, high = band("trade_bands", "charge_pipe_51_63_loss_kpa_at_280_hp")
    assert low <= (point.drop(names.HOT_PIPE) + point.drop(names.COLD_PIPE)) / 1e3 <= high
    pipes = (names.HOT_PIPE, names.COLD_PIPE)
    assert max(s.mach for s in point.stretches if s.section in pipes) < 0.3


def test_wider_pipe_loses_less_and_costs_less(tarn: Project) -> None:
    """Loss goes with about the fifth power of bore for the friction of a straight pipe."""
    narrow = at_target(assemble(changed(tarn, **{"cold_pipe__c-run__bore": "50 mm"})))
    wide = at_target(assemble(changed(tarn, **{"cold_pipe__c-run__bore": "60 mm"})))
    drops = [next(s.drop for s in p.stretches if s.id == "c-run") for p in (narrow, wide)]
    assert drops[0] / drops[1] == pytest.approx((60 / 50) ** 5, rel=0.05)
    assert narrow.turbo.power > wide.turbo.power


def test_costs_are_found_by_solving_without(build: Build, tarn_answer: Answer) -> None:
    """Every loss costs crank power; all at once cost about the sum; the exhaust costs most."""
    costs = tarn_answer.costs
    assert set(costs) == {e.id for e in build.elements} | {"cooler"}
    assert all(cost > -1.0 for cost in costs.values())
    solver = prepare(build)
    rows = solver.rows.copy()
    rows[:, 5:7] = 0.0
    start = np.array([6300.0, 6400.0])
    free = solver.raw(start, rows=rows, losses=np.zeros_like(solver.losses))
    saved = float(free.power[-1]) - tarn_answer.target.power
    assert sum(v for k, v in costs.items() if k != "cooler") == pytest.approx(saved, rel=0.15)
    # The cooler goes on cooling: what its loss costs is less than what its cooling is worth.
    bare = prepare(dataclasses.replace(build, cooler=None)).at(6400.0)
    assert 0.0 < costs["cooler"] < tarn_answer.target.power - bare.power


def test_no_cooler_is_the_same_network(tarn: Project) -> None:
    """Without an intercooler the charge stays hot, the air gets less, and the sums still close."""
    project = with_value(tarn, "intercooler.fitted", False)
    point = at_target(assemble(project))
    assert point.closure.solved
    assert "cooler" not in [s.id for s in point.stretches]
    assert point.stations["plenum"].temperature == pytest.approx(point.stations["compressor_outlet"].temperature, abs=3.0)
    assert point.air < at_target(assemble(tarn)).air
    found = answer(assemble(project), ())
    check_result = next(v for v in found.check_results if v.id == "charge_temperature")
    assert check_result.state == "fails"
    assert with_changes(project, check_result.changes).intercooler.fitted


def test_empty_runs_solve(build: Build) -> None:
    """No pieces at all: no loss, and the compressor gives just the plenum pressure."""
    bare = dataclasses.replace(build, runs={k: () for k in build.runs}, cooler=None)
    point = at_target(bare)
    assert point.closure.solved
    assert point.turbo.ratio == pytest.approx((build.site.pressure + 1.1e5) / build.site.pressure)


@pytest.mark.parametrize("altitude", [0.0, 640.0, 2000.0, 4000.0])
@pytest.mark.parametrize("celsius", [-20.0, 15.0, 50.0])
def test_weather_and_height(build: Build, altitude: float, celsius: float) -> None:
    """It closes from -20 to 50 °C and from the sea to 4000 m; height asks more of the ratio."""
    site = Site(standard_pressure(altitude), celsius + 273.15, 0.3)
    point = at_target(dataclasses.replace(build, site=site))
    assert point.closure.solved
    assert point.turbo.ratio > 2.0
    assert all(math.isfinite(s.pressure) for s in point.stations.values())


@pytest.mark.parametrize("speed", [500.0, 1000.0, 9000.0, 12000.0])
def test_extreme_speeds(build: Build, speed: float) -> None:
    """From 500 to 12,000 rpm it is solved or says why not; nothing is NaN."""
    point = prepare(build).at(speed)
    assert point.closure.solved or point.closure.reason
    if point.closure.solved:
        assert math.isfinite(point.power)
        assert all(math.isfinite(s.temperature) for s in point.stations.values())


def test_off_the_map_is_said_with_how_much(tarn: Project) -> None:
    """A tiny compressor goes past its edge: the region and a negative margin say so."""
    from zarvik.formats import shipped

    def with_turbo(name: str) -> Build:
        project = add_turbo(tarn, shipped.turbo(name))
        return assemble(with_value(project, "turbo", name))

    point = at_target(with_turbo("c42-55"))
    assert point.turbo.region in ("choke", "overspeed")
    assert point.turbo.choke < 0
    build = with_turbo("c64-84")
    small = dataclasses.replace(build.turbo.turbine, housing=0.012)
    build = dataclasses.replace(build, turbo=dataclasses.replace(build.turbo, turbine=small))
    low = prepare(build).at(3000.0)
    assert low.turbo.region == "surge"
    assert low.turbo.surge < -0.1


def test_choking_run_passes_no_more(tarn: Project) -> None:
    """A 14 mm pipe chokes: within 2 % the engine gets what a choked pipe passes (closed form: NACA
    1135, critical flow through its own friction), the sums close, and the piece is named."""
    project = changed(tarn, **{"cold_pipe__c-run__bore": "14 mm"})
    found = answer(assemble(project), candidates(project))
    point = found.target
    assert point.closure.solved and point.closure.choked >= 0
    assert found.build.elements[point.closure.choked].id == "c-run"
    piece = next(s for s in point.stretches if s.id == "c-run")
    mach = 0.99
    while fanno(mach) < piece.loss:
        mach -= 1e-4
    warm = point.stations[piece.start].temperature
    phi = mach * (1 + 0.2 * mach * mach) ** -3
    passes = phi * math.pi / 4 * 0.014**2 * piece.pressure_in / math.sqrt(287.6 * warm / 1.4)
    assert point.air == pytest.approx(passes, rel=0.025)
    check_result = next(v for v in found.check_results if v.id == "target")
    assert check_result.state == "fails"
    fast = next(v for v in found.check_results if v.id == "charge_mach")
    assert fast.state == "fails" and "chokes" in fast.text.whole
    assert any(c.place == "piece:c-run:bore" for c in fast.changes)
    healed = with_changes(project, fast.changes)
    bore = healed.cold_pipe[3].bore.si  # type: ignore[attr-defined]
    assert bore > 1.5 * 0.014


def fanno(mach: float) -> float:
    """f L / D that is left before Mach 1 at gamma 1.4 (Shapiro 1953, ch. 6)."""
    square = mach * mach
    return (1 - square) / (1.4 * square) + 2.4 / 2.8 * math.log(2.4 * square / (2 + 0.4 * square))


@given(part=st.floats(0.0, 1.0))
@settings(max_examples=40, deadline=None)
def test_power_is_continuous_in_boost_and_bore(part: float, tarn: Project) -> None:
    """A dragged slider does not make the curve jump."""
    boost = 0.3e5 + part * 1.1e5
    project = changed(tarn, **{"hot_pipe__h-run__bore": f"{36 + 20 * part:.6f} mm"})
    build = assemble(project)
    points = [at_target(dataclasses.replace(build, boost=BoostSchedule(b, 3400.0))) for b in (boost, boost * 1.0005)]
    assert all(p.closure.solved for p in points)
    assert 0 < points[1].power - points[0].power < 0.001 * points[0].power


def test_sweep_ends_at_the_rev_limit(build: Build) -> None:
    """From above idle to the limit itself."""
    speeds = sweep_speeds(build)
    assert speeds[0] == 1000.0
    assert speeds[-1] == build.engine.rev_limit
    assert (np.diff(speeds) > 0).all()


def test_kernel_warm_start_does_not_change_the_answer(build: Build) -> None:
    """A point is the same alone and within a sweep."""
    solver = prepare(build)
    alone = solver.at(5000.0)
    within = next(p for p in solver.sweep(np.linspace(2000, 7000, 11)) if p.speed == 5000.0)
    assert within.power == pytest.approx(alone.power, rel=3e-9)


# ---- checks ---------------------------------------------------------------------------------


def states(project: Project) -> dict[str, str]:
    """State by check."""
    found = answer(assemble(project), candidates(project))
    return {v.id: v.state for v in found.check_results}


def test_checks_are_worst_first(tarn_answer: Answer) -> None:
    """Fails, tight, open, holds."""
    order = [v.state for v in tarn_answer.check_results]
    assert order == sorted(order, key=["fails", "marginal", "to_do", "ok"].index)
    again = worst(reversed(tarn_answer.check_results))
    assert [v.state for v in again] == order
    assert all(v.basis for v in tarn_answer.check_results)


def test_the_demo_misses_its_target_for_a_named_reason(tarn_answer: Answer) -> None:
    """Asked for more, the check names heat as what costs most, and a boost that would do."""
    more = dataclasses.replace(tarn_answer.build, target=dataclasses.replace(tarn_answer.build.target, power=345.0 * 745.7))
    check_result = next(v for v in answer(more, ()).check_results if v.id == "target")
    assert check_result.state == "fails"
    assert "Hot intake air" in check_result.text.whole
    assert check_result.cure is not None


def test_each_cure_cures(tarn: Project, tarn_answer: Answer) -> None:
    """Carrying out a cure that is offered makes its own check better than it was, and no other one
    worse; one that would is told, not offered."""
    rank = {"fails": 0, "marginal": 1, "to_do": 2, "ok": 2}
    before = {v.id: v.state for v in tarn_answer.check_results}
    offered = proved(tarn, tarn_answer)
    tried = 0
    for check_result, first in zip(offered.check_results, tarn_answer.check_results, strict=True):
        if first.changes and not check_result.changes:
            assert check_result.price is not None
            assert "By itself" in check_result.price.whole or "Not enough on its own" in check_result.price.whole
        if check_result.changes:
            tried += 1
            after = states(with_changes(tarn, check_result.changes))
            assert rank[after[check_result.id]] >= rank[check_result.state]
            assert all(rank[after[k]] >= rank[v] for k, v in before.items() if k in after)
    assert tried >= 2


@pytest.mark.parametrize(
    ("changes", "check", "state"),
    [
        ({"goal__target_power": "250 hp"}, "target", "ok"),
        ({"goal__target_power": "600 hp"}, "target", "fails"),
        ({"goal__hold_back_until": "5000 rpm"}, "surge", "ok"),
        ({"goal__full_boost_from": "3500 rpm"}, "spool", "ok"),
        ({"goal__full_boost_from": "2000 rpm"}, "spool", "fails"),
        ({"wastegate__diameter": "14 mm", "wastegate__lift": "4 mm"}, "gate", "fails"),
        ({"wastegate__diameter": "60 mm", "wastegate__lift": "16 mm"}, "gate", "ok"),
        ({"turbos__c54-71__turbine__housing": "8 mm"}, "back_pressure", "marginal"),
        ({"engine__full_load_lambda": "0.95", "engine__ignition": "typed", "engine__retard": "12"}, "exhaust_temperature", "fails"),
        ({"engine__full_load_lambda": "0.95"}, "exhaust_temperature", "marginal"),
        ({"engine__full_load_lambda": "0.72"}, "exhaust_temperature", "ok"),
        ({"goal__target_boost": "1.28 bar"}, "bottom_end", "marginal"),
        ({"goal__target_boost": "1.5 bar"}, "bottom_end", "fails"),
        ({"goal__big_run_boost": "1.1 bar"}, "big_run", "ok"),
        ({"goal__design_day": "5 °C"}, "charge_temperature", "ok"),
        ({"goal__road_speed": "5 km/h"}, "charge_temperature", "fails"),
        ({"cold_pipe__c-run__bore": "32 mm"}, "charge_mach", "fails"),
        ({"cold_pipe__c-run__bore": "36 mm"}, "charge_mach", "marginal"),
        ({"cold_pipe__c-run__bore": "41 mm"}, "ends", "marginal"),
        ({"intake__filter__drop": "9000 Pa"}, "intake_loss", "fails"),
        ({"intercooler__pressure_loss": "1 kPa"}, "charge_loss", "ok"),
        ({"intercooler__pressure_loss": "30 kPa"}, "charge_loss", "fails"),
    ],
)
def test_states_follow_the_design(tarn: Project, changes: dict[str, str], check: str, state: str) -> None:
    """Each check can hold, be tight and fail."""
    assert states(changed(tarn, **changes))[check] == state


def test_candidates_stand_side_by_side(tarn: Project, tarn_answer: Answer) -> None:
    """The chosen one first; a larger one is more efficient here and surges more."""
    found = {c.id: c for c in tarn_answer.candidates}
    assert tarn_answer.candidates[0].id == tarn.turbo
    assert len(found) == len(tarn.turbos)
    small, large = found["c51-67"], found["c58-76"]
    assert large.efficiency > small.efficiency
    assert large.choke > small.choke
    # At the same flow and pressure ratio the larger one stands nearer to its surge line.
    maps = {t.id: t.chart for t in tarn.turbos}
    assert maps["c58-76"].surge_flow(2.2) > 1.15 * maps["c51-67"].surge_flow(2.2)


def test_every_piece_kind_can_stand_in_a_run(build: Build) -> None:
    """All kinds at their defaults in the cold pipe: it solves, each has its stretch."""
    extra = tuple(kind.build(id=f"x-{key}", name=key, **{p.name: p.default for p in kind.felt}) for key, kind in KINDS.items())
    runs = {**build.runs, names.COLD_PIPE: extra + build.runs[names.COLD_PIPE]}
    point = at_target(dataclasses.replace(build, runs=runs))
    assert point.closure.solved
    assert {e.id for e in extra} <= {s.id for s in point.stretches}

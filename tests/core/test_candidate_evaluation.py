"""Candidates evaluated: each line is the solver's own, stages follow, housings trade as they do in the trade, what
a choice gives up is the plain difference; the diesel's pump is told and turned."""

from __future__ import annotations

import dataclasses
import math
from itertools import pairwise

import numpy as np
import pytest

from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import answer
from zarvik.core.candidates.evaluation import Evaluated, Stage, at_stage, evaluate, given_up_against, housings, with_spool_times
from zarvik.core.compressor.measured import TurboMounting, identify, inducer_of, scaled, trim
from zarvik.core.whole_build.build import Build
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.assembly.stages import asked_of, stages_of
from zarvik.project.assembly.turbos import candidates, core_turbo
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.cures.cures import proved
from zarvik.project.edits.edits import meta, with_value
from zarvik.project.estimates.estimates import estimate_of, filled
from zarvik.project.manifold.primaries import without_primaries
from zarvik.project.units.units import UNKNOWN, parse


@pytest.fixture(scope="module")
def tarn() -> Build:
    """The hill-climb petrol."""
    return assemble(shipped.demo("tarn"))


@pytest.fixture(scope="module")
def found(tarn: Build) -> tuple[Evaluated, ...]:
    """Its candidates with their seconds."""
    project = shipped.demo("tarn")
    asked = asked_of(project)
    turbos = (tarn.turbo, *candidates(project))
    return with_spool_times(tarn, tarn.car, evaluate(tarn, turbos, asked.stages), asked.held, asked.geared)


def test_lines_are_the_solvers_own(tarn: Build, found: tuple[Evaluated, ...]) -> None:
    """Each line against the build with that turbo and boost, solved here by itself."""
    for one in found:
        for line in one.lines:
            built = dataclasses.replace(tarn, turbo=one.turbo, boost=dataclasses.replace(tarn.boost, full=line.stage.boost))
            point = prepare(built).at(5000.0)
            assert np.interp(5000.0, line.speed, line.power) == pytest.approx(point.power, rel=1e-4)
            assert np.interp(5000.0, line.speed, line.boost) == pytest.approx(point.boost, rel=1e-4)


def test_stages_follow_the_brief(tarn: Build) -> None:
    """Mild, full, big run with their boosts; one without boost is none; power wanted where it was said."""
    project = shipped.demo("tarn")
    stages = stages_of(project)
    assert [s.key for s in stages] == ["mild", "full", "big_run"]
    assert [s.boost for s in stages] == pytest.approx([0.6e5, 1.1e5, 1.25e5])
    assert stages[0].power == pytest.approx(240 * 745.7, rel=1e-4)
    none = with_value(project, "goal.mild_boost", parse("0 bar", "pressure_gauge"))
    assert [s.key for s in stages_of(none)] == ["full", "big_run"]
    assert at_stage(tarn, Stage("x", "X", 0.8e5, 0.0)).target.power == tarn.target.power


def test_larger_wheels_wake_later_and_breathe_freer(found: tuple[Evaluated, ...]) -> None:
    """By size: threshold, seconds and power rise, back-pressure falls (common practice, no source)."""
    order = sorted(found, key=lambda w: w.turbo.turbine.wheel)
    for stage in (1, 2):
        figures = [w.lines[stage].figures for w in order]
        assert all(b.spool > a.spool for a, b in pairwise(figures))
        assert all(b.back_pressure < a.back_pressure for a, b in pairwise(figures))
        assert all(b.held[stage].seconds > a.held[stage].seconds for a, b in pairwise(order))
        assert all(b.geared[stage].seconds > a.geared[stage].seconds for a, b in pairwise(order))


def test_housings_trade_threshold_for_back_pressure(tarn: Build) -> None:
    """A larger housing: later, slower, freer, as the trade says; the turbo's own is among those that are sold."""
    sizes = housings(tarn, 3800.0)
    assert len(sizes) >= 7
    assert any(abs(h.housing - tarn.turbo.turbine.housing) < 1e-9 for h in sizes)
    assert all(b.figures.spool > a.figures.spool for a, b in pairwise(sizes))
    assert all(b.figures.back_pressure < a.figures.back_pressure for a, b in pairwise(sizes))
    assert all(b.seconds > a.seconds for a, b in pairwise(sizes))
    own = next(h for h in sizes if h.housing == tarn.turbo.turbine.housing)
    assert own.figures.power == pytest.approx(prepare(tarn).at(tarn.target.speed).power, rel=1e-5)


def test_what_is_given_up_is_the_difference(found: tuple[Evaluated, ...]) -> None:
    """Against each other turbo only where the other is better, by what the figures differ; nothing against a
    turbo that is not evaluated."""
    chosen = found[0]
    for item in given_up_against(found, chosen.turbo.id, 1):
        other = next(w for w in found if w.turbo.name == item.name)
        if item.key == "seconds":
            assert item.by == pytest.approx(chosen.held[1].seconds - other.held[1].seconds)
        else:
            mine, theirs = getattr(chosen.lines[1].figures, item.key), getattr(other.lines[1].figures, item.key)
            assert item.by == pytest.approx(theirs - mine if item.key == "power" else mine - theirs)
        assert item.by > 0.0
    assert given_up_against(found, "nobody", 1) == ()
    keys = {(i.name, i.key) for i in given_up_against(found, chosen.turbo.id, 1)}
    smaller = min(found, key=lambda w: w.turbo.turbine.wheel)
    assert (smaller.turbo.name, "spool") in keys and (smaller.turbo.name, "power") not in keys


def test_how_far_it_is_grows_to_the_end(tarn: Build) -> None:
    """Two candidates at two stages: four quarters, of the lines and of the seconds alike."""
    project = shipped.demo("tarn")
    asked = asked_of(project)
    told: list[float] = []
    lines = evaluate(tarn, (tarn.turbo, tarn.turbo), asked.stages[:2], told.append)
    assert told == [0.0, 0.25, 0.5, 0.75]
    told.clear()
    with_spool_times(tarn, tarn.car, lines, asked.held, asked.geared, told.append)
    assert told == [0.0, 0.25, 0.5, 0.75]


def test_two_turbos_carry_two_rotors() -> None:
    """Two side by side: each moves half of the air, both rotors have to be brought to speed, and a pair with half the
    wheels each wakes about as one."""
    fell = assemble(shipped.demo("fell"))
    assert fell.turbo.count == 2
    one = evaluate(fell, (fell.turbo,), (Stage("f", "F", fell.boost.full, 0.0),))
    point = prepare(fell).at(7000.0)
    line = one[0].lines[0]
    assert np.interp(7000.0, line.speed, line.flow) == pytest.approx(point.turbo.flow, rel=1e-3)
    held = with_spool_times(fell, fell.car, one, 5500.0, 4000.0)[0].held[0].seconds
    single = dataclasses.replace(fell, turbo=dataclasses.replace(fell.turbo, inertia=2.0 * fell.turbo.rotor))
    heavy = with_spool_times(
        single, single.car, evaluate(single, (single.turbo,), (Stage("f", "F", fell.boost.full, 0.0),)), 5500.0, 4000.0
    )
    assert heavy[0].held[0].seconds > 1.3 * held


def test_a_turbo_is_known_again_by_more_than_its_wheels() -> None:
    """Flange, bolts, gate and donor narrow the catalogue where the wheels say little; what does not fit is named."""
    sizes = {n: shipped.sizes(n) for n in shipped.turbo_names()}
    fits = {n: shipped.fits(n) for n in shipped.turbo_names()}
    said = TurboMounting("four_bolt", 0.078, "", "", "2.5 L saloon")
    near = identify({}, sizes, said, fits)
    assert near[0].key == "c51-67" and set(near[0].alike) == {"flange", "bolts", "donor"} and not near[0].unlike
    assert not near[0].fits  # nothing was measured on its wheels
    # Wheels between two sizes: the flange decides.
    between = {"inducer": 0.0445, "exducer": 0.058}
    assert identify(between, sizes, TurboMounting(flange="three_bolt"), fits)[0].key == "c42-55"
    assert identify(between, sizes, TurboMounting(flange="four_bolt"), fits)[0].key == "c46-60"
    wrong = identify({"inducer": 0.051}, sizes, TurboMounting(gate="inside"), fits)
    exact = next(n for n in wrong if n.key == "c51-67")
    assert exact.unlike == ("gate",) and not exact.fits
    assert identify({}, sizes, TurboMounting(), fits) == ()


def test_trim_is_another_way_to_say_the_inducer() -> None:
    """58 of 67 mm: 51.03 mm (67 * sqrt 0.58); there and back."""
    assert inducer_of(58.0, 0.067) == pytest.approx(0.05103, abs=1e-5)
    assert trim(inducer_of(46.0, 0.08), 0.08) == pytest.approx(46.0)


def test_a_scaled_map_is_marked_and_uncertain() -> None:
    """It moves the power by its own uncertainty, and says so before its name."""
    from zarvik.project.assembly.turbos import turbo_titles
    from zarvik.project.document.parts.turbo import Turbo
    from zarvik.project.edits.turbo_edits import add_turbo
    from zarvik.project.uncertainty.uncertainty import levers_of

    project = shipped.demo("tarn")
    chart = scaled(project.chosen.chart, 1.05, "Larger") if project.chosen else None
    assert chart is not None
    changed = add_turbo(project, Turbo.of(chart, "scaled", estimated="scaled"))
    changed = with_value(changed, "turbo", "scaled")
    assert turbo_titles(changed)["scaled"] == "Estimated: Larger"
    keys = [lever.key for lever in levers_of(changed)]
    assert "turbos.scaled.map.flow" in keys and "turbos.scaled.map.points" in keys
    lever = next(q for q in levers_of(changed) if q.key == "turbos.scaled.map.flow")
    build = assemble(changed)
    moved = lever.move(build, 1.0).turbo.chart.lines[2].flow[0]
    assert moved == pytest.approx(1.04 * build.turbo.chart.lines[2].flow[0])
    bare = changed.model_copy(
        update={"turbos": tuple(t.model_copy(update={"estimated": "efficiency"}) if t.id == "scaled" else t for t in changed.turbos)}
    )
    assert [k for k in (q.key for q in levers_of(bare)) if ".map." in k] == ["turbos.scaled.map.points"]


def test_a_pump_that_gives_too_little_is_told_and_turned() -> None:
    """A diesel on the pump that it came with: the check names the fuel, its cure turns the pump up with a limiter,
    and the design with it makes the power clean."""
    project = with_value(shipped.demo("skerry"), "engine.fuelling", "stroke")
    # In steady gas: with its pulses the whole boost comes so early that the compressor surges, and that is told instead.
    project = with_value(project, f"turbos.{project.turbo}.turbine.pulses", parse("0 %", "ratio"))
    assert project.engine.delivery.known == UNKNOWN
    found = proved(project, answer(assemble(project)))
    check_result = next(v for v in found.check_results if v.id == "target")
    text = str(check_result.text)
    assert check_result.state == "fails" and "Fuel is short" in text
    assert {c.place for c in check_result.changes} == {"engine.pump_by", "engine.limiter"}
    after = with_changes(project, check_result.changes)
    assert 150.0 < 100.0 * after.engine.pump.si < 300.0 and after.engine.limiter == "boost"
    again = answer(assemble(after))
    states = {v.id: v.state for v in again.check_results}
    assert states["target"] != "fails" and states["smoke"] == "ok"
    # Without the limiter it smokes black below.
    black = answer(assemble(with_value(after, "engine.limiter", "none")))
    smoke = next(v for v in black.check_results if v.id == "smoke")
    assert smoke.state == "fails" and "smoke" in str(smoke.text)


def test_stock_delivery_from_stock_power() -> None:
    """100 hp at 3,800 rpm of four cylinders: 74.57 kW * 245 g/kWh = 5.075 g/s over 832 kg/m3 and 126.7 injections a
    second: 48.2 mm3; said, it is good to 10 %."""
    project = with_value(shipped.demo("skerry"), "engine.stock_power", parse("100 hp", "power"))
    project = filled(with_value(project, "engine.stock_speed", parse("3800 rpm", "rotation")))
    estimate = estimate_of(project, "engine.delivery")
    assert estimate is not None and estimate.value == pytest.approx(48.2e-9, rel=3e-3)
    assert estimate.spread == pytest.approx(0.10 * estimate.value)
    assert project.engine.delivery.si == pytest.approx(48.2e-9, rel=5e-3)


def test_fuel_by_the_pump_is_for_diesels() -> None:
    """With spark ignition it is said at its place; an empty table too."""
    petrol = with_value(shipped.demo("tarn"), "engine.fuelling", "stroke")
    with pytest.raises(ValueError, match="for a diesel"):
        assemble(petrol)
    diesel = with_value(shipped.demo("skerry"), "engine.fuelling", "table")
    with pytest.raises(ValueError, match="two rows"):
        assemble(diesel)
    rows = ((1000.0, 40e-9), (4000.0, 60e-9))
    table = with_value(with_value(diesel, "engine.delivery_table", rows), "engine.pump", parse("120 %", "ratio"))
    engine = assemble(table).engine
    assert engine.delivery == tuple((n, pytest.approx(1.2 * v)) for n, v in rows)
    # 50 mm3 at 2,500 rpm, turned up by 1.2, by four cylinders: 832 * 60e-9 * 4 * 2500 / 120
    assert float(engine.fuel_rate(2500.0)) == pytest.approx(832.0 * 60e-9 * 4 * 2500.0 / 120.0)


def test_candidates_of_the_whole_catalogue_are_told_apart(tarn: Build) -> None:
    """Every turbo of the catalogue on the Tarn, some hopeless: each has figures or none, no exception."""
    turbos = [core_turbo(shipped.turbo(n)) for n in shipped.turbo_names()]
    stages = (Stage("f", "F", 1.1e5, 330 * 745.7),)
    evaluated = with_spool_times(tarn, tarn.car, evaluate(tarn, turbos, stages), 3800.0, 2800.0)
    assert len(evaluated) == len(turbos)
    for one in evaluated:
        assert one.lines[0].state in ("ok", "marginal", "fails", "to_do")
        assert not one.held[0].seconds <= 0.0
    giants = [w for w in evaluated if w.turbo.turbine.wheel > 0.08]
    assert giants and all(not math.isfinite(w.held[0].seconds) for w in giants)


def test_two_hot_sides_are_two_half_engines() -> None:
    """Two turbos with a manifold and an exhaust each, on a path without intake and charge pipes, make exactly what
    two engines of half the cylinders make with one each; the shared path of the same pipes does not."""
    project = without_primaries(shipped.demo("fell"))
    alone = project.model_copy(update={"intake": (), "hot_pipe": (), "cold_pipe": ()})
    side = alone
    for place, text, kind in (("manifold.primaries.count", "5", "count"), ("manifold.collector.bore_out", "68 mm", "length")):
        side = with_value(side, place, parse(text, kind))
    both = with_value(with_value(side, "exhaust_paths", "own"), "pieces_per_turbo", parse("50", "count"))
    half = with_value(with_value(side, "turbos_fitted", parse("1", "count")), "engine.cylinders", parse("5", "count"))
    half = with_value(half, "wastegate.count", parse("1", "count"))
    one, two = prepare(assemble(half)), prepare(assemble(both))
    for speed in (4500.0, 6000.0, 7600.0):
        a, b = one.at(speed), two.at(speed)
        assert a.closure.solved and b.closure.solved
        assert b.power == pytest.approx(2.0 * a.power, rel=1e-4)
        assert b.stations["turbine_inlet"].pressure == pytest.approx(a.stations["turbine_inlet"].pressure, rel=1e-4)
        assert b.stations["tailpipe"].temperature == pytest.approx(a.stations["tailpipe"].temperature, rel=1e-4)
    # Joined behind two pieces: the rest of one pipe carries both, and costs.
    joined = with_value(both, "pieces_per_turbo", parse("2", "count"))
    assert prepare(assemble(joined)).at(7600.0).power < 0.999 * two.at(7600.0).power
    assert assemble(joined).hot_volume == pytest.approx(2.0 * assemble(half).hot_volume)
    # One turbo has one hot side, whatever is said.
    single = with_value(with_value(side, "exhaust_paths", "own"), "turbos_fitted", parse("1", "count"))
    assert all(
        e.parallel == f.parallel
        for e, f in zip(assemble(single).elements, assemble(with_value(single, "exhaust_paths", "shared")).elements, strict=True)
    )


def test_a_pump_with_another_element_and_its_screw_turned() -> None:
    """A plunger displaces its area times its stroke: 9 to 10 mm at the same rack gives 23.5 % more (geometry); a turn of the screw about a
    tenth (common practice, no source). Together with what it is turned to, and told where one size alone is said or does not go there."""
    diesel = with_value(shipped.demo("skerry"), "engine.fuelling", "stroke")

    def fuel(**entries: str) -> float:
        project = diesel
        for name, text in entries.items():
            project = with_value(project, f"engine.{name}", meta(project, f"engine.{name}").read(text))
        return float(assemble(project).engine.fuel_rate(3000.0))

    own = fuel()
    assert fuel(element_was="9 mm", element="10 mm") / own == pytest.approx((10 / 9) ** 2, rel=1e-6)
    assert fuel(screw="2") / own == pytest.approx(1.2, rel=1e-6)
    assert fuel(pump="110 %", element_was="9 mm", element="10 mm", screw="-1") / own == pytest.approx(1.1 * (10 / 9) ** 2 * 0.9, rel=1e-6)
    assert fuel(element_was="9 mm") == own
    for entries, place in (({"element": "10 mm"}, "engine.element_was"), ({"element_was": "4 mm", "element": "12 mm"}, "engine.element")):
        with pytest.raises(ProjectProblems) as caught:
            fuel(**entries)
        assert place in {p.place for p in caught.value.problems}

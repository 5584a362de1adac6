"""Working sheets: every number that is reported has one, and it gives that number.

The sheets call the relations of the solver; these tests hold their results against what the solver
reported by other ways. What is written in them is worked out in `test_written_relations`.
"""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator

import numpy as np
import pytest

from zarvik.core import calculations
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.airpath.threshold import spool_band
from zarvik.core.answer.answer import Answer, answer
from zarvik.core.answer.summary import summary
from zarvik.core.calculations import Sheet
from zarvik.core.calculations.sensitivity import influences
from zarvik.core.candidates.compare import compare
from zarvik.core.common.sentences import Figure
from zarvik.core.compressor.surge import judged_margin
from zarvik.core.engine.knock import screen, screening_charge
from zarvik.core.layout.placement import lay_out
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.turbos import candidates
from zarvik.project.edits.edits import get, with_value

# Figures in checks that are neither calculated nor an entry: limits of practice, and what the
# chosen map says of its wheel.
LIMITS = {
    ("charge_temperature", "good"),
    ("overspeed", "maximum"),
    ("ends", "step"),
    ("material", "good"),
    ("material", "most"),
    ("openings", "own"),
    ("openings", "inlet"),
    ("openings", "outlet"),
    ("openings", "bore"),
    ("belt_speed", "most"),
    ("blow_off", "low"),
    ("blow_off", "high"),
    ("pedal", "speed"),
    # Distances in the engine bay are measured in the picture that the check leads to; what they must be stands in its tables
    *(("bay_heat", name) for name in ("gap", "bare", "behind")),
    *(("bay_room", name) for name in ("gap", "room")),
    ("bay_access", "spare"),
    *(("bay_belt", name) for name in ("length", "wrap")),
    ("bay_unsure", "slack"),
}


@pytest.fixture(scope="module", params=[*shipped.demo_names(), "tarn, gate into the open"])
def found(request: pytest.FixtureRequest) -> Answer:
    """The answer of each demo, candidates included, and of one whose gate blows into the open."""
    name, _, other = request.param.partition(",")
    project = with_value(shipped.demo(name), "wastegate.outlet", "air") if other else shipped.demo(name)
    return answer(assemble(project), candidates(project))


def at(found: Answer, speed: float | None) -> Point:
    """The solved point that a figure belongs to."""
    if speed is None:
        return found.target
    return min((*found.sweep, found.target), key=lambda p: abs(p.speed - speed))


def check(sheet: Sheet, value: float, solver: Solver, point: Point) -> None:
    """The sheet gives the number, names a source, and what it points to exists."""
    # A cost is the difference of two solved powers, each closed to 1e-8 of it.
    least = 1e-3 if sheet.key.startswith("cost:") else 1e-6
    assert sheet.result.value == pytest.approx(value, rel=2e-5, abs=least), sheet.key
    assert sheet.source
    assert sheet.relation.startswith((f"{sheet.symbol} = ", f"{sheet.symbol}: "))
    for line in sheet.lines:
        assert math.isfinite(line.figure.value), (sheet.key, line)
        if line.sheet:
            key, _, speed = line.sheet.partition("/")
            other = solver.at(float(speed)) if speed else point
            assert calculations.sheet(solver.path, solver, other, key).result.value == pytest.approx(
                line.figure.value, rel=1e-4, abs=1e-3
            ), (sheet.key, line)


def reported(found: Answer) -> Iterator[tuple[str, float]]:
    """Every number of the target point with the key of its sheet."""
    p = found.target
    t, stations, engine = p.turbo, p.stations, found.build.engine
    yield from {
        "power": p.power,
        "torque": p.torque,
        "corrected_power": p.corrected_power,
        "air": p.air,
        "fuel": p.fuel,
        "lambda": p.mixture,
        "indicated": p.indicated,
        "friction": p.friction,
        "pumping": p.pumping,
        "charge": p.charge,
        "boost": p.boost,
        "breathing": p.efficiency,
        "displacement": engine.displacement,
        "consumption": p.fuel / p.power,
        "exhaust_flow": p.air + p.fuel,
        "pressure_ratio": t.ratio,
        "efficiency": t.efficiency,
        "wheel_speed": t.real_speed,
        "overspeed": t.overspeed,
        "back_pressure": t.back_pressure,
        "opening": t.opening,
        "air_power": t.power,
        "charge_loss": stations["compressor_outlet"].pressure - stations["plenum"].pressure,
        "most_power": max(q.power for q in found.sweep),
        "most_torque": max(q.torque for q in found.sweep),
        "closure_energy": p.closure.energy,
        "closure_mass": p.closure.mass,
        "closure_pressure": p.closure.pressure,
    }.items()
    if found.build.blower is None:
        early, late = spool_band(found.solver, found.solver.full_load)[1:]
        yield from {
            "corrected_flow": t.flow,
            "corrected_speed": t.speed,
            "surge": t.surge,
            "choke": t.choke,
            "surge_flow": t.surge_flow,
            "flow_limit": t.flow_limit,
            "shaft": t.power,
            "expansion": t.expansion,
            "blade_ratio": t.blade_ratio,
            "turbine_efficiency": t.turbine_efficiency,
            "turbine_power": t.turbine_power,
            "turbine_flow": t.turbine_flow,
            "gate_flow": t.gate_flow,
            "closure_shaft": p.closure.shaft,
            "gate_share": t.gate_flow / (p.air + p.fuel),
            "threshold": found.case.threshold,
            "threshold_early": early,
            "threshold_late": late,
            "least_boost": found.case.least,
        }.items()
    if found.build.cooler is not None:
        yield from {
            "effectiveness": p.cooler_effectiveness,
            "cooler_heat": p.cooler_heat,
            "cooling_air": p.cooling_air_out,
            "cooler_loss": next(s.drop for s in p.stretches if s.kind == "cooler"),
            "cost:cooler": found.costs["cooler"],
        }.items()
    if engine.fuel.octane is not None:
        index = screen(
            engine,
            speed=np.array([p.speed]),
            plenum=np.array([stations["plenum"].pressure]),
            charge=np.array([screening_charge(engine, p.charge, p.evaporated)]),
            gas_constant=float(found.solver.gas[0]),
            retard=np.array([p.retard]),
        )
        yield "knock", float(index[0])
        yield "retard", math.radians(p.retard)
    for name, station in stations.items():
        if not name.startswith("after:") and name != "ambient":
            yield f"temperature:{name}", station.temperature
            if name != "tailpipe":
                yield f"pressure:{name}", station.pressure
    elements = {e.id: e for e in found.build.elements}
    for s in p.stretches:
        if s.id not in elements:
            continue
        yield from {
            f"piece:{s.id}": s.drop,
            f"coefficient:{s.id}": s.loss,
            f"mach:{s.id}": s.mach,
            f"velocity:{s.id}": s.velocity,
            f"reynolds:{s.id}": s.reynolds,
            f"cost:{s.id}": found.costs[s.id],
        }.items()
        if elements[s.id].surface > 0.0:
            yield f"behind:{s.id}", stations[s.end].temperature
            if s.section in ("manifold", "exhaust"):
                yield f"skin:{s.id}", s.skin
    for run, body in found.build.runs.items():
        yield f"run_loss:{run}", p.drop(run)
        for name in ("length", "volume", "turn"):
            yield f"run_{name}:{run}", sum(getattr(e, name) for e in body)


def test_every_reported_number_has_its_sheet(found: Answer) -> None:
    """Point, stations, pieces, runs: the sheet gives what was reported, and each value in it that
    has a sheet of its own is the one that sheet gives."""
    seen = set()
    for key, value in reported(found):
        check(calculations.sheet(found.build, found.solver, found.target, key), value, found.solver, found.target)
        seen.add(key)
    assert len(seen) >= 150
    # The rest are steps on the way: every one of them is a finite number with a source.
    for key, sheet in calculations.sheets(found.build, found.solver, found.target).items():
        check(sheet, sheet.result.value, found.solver, found.target)
        assert key == sheet.key


def test_figures_in_checks_lead_somewhere(found: Answer) -> None:
    """Each figure of each check is the result of the sheet that it names at its engine speed, an
    entry of the document, or a limit of practice."""
    project = next(p for n in shipped.demo_names() if (p := shipped.demo(n)).name == found.build.name)
    count = 0
    for check_result in found.check_results:
        for name, figure in check_result.text.figures:
            if not isinstance(figure, Figure):
                continue
            if figure.sheet.startswith("=piece:"):
                assert figure.sheet.removeprefix("=piece:") in {e.id for e in found.build.elements}
            elif figure.sheet.startswith("="):
                assert get(project, figure.sheet[1:]) is not None
            elif figure.sheet:
                sheet = calculations.sheet(found.build, found.solver, at(found, figure.at), figure.sheet)
                assert abs(sheet.result.value) == pytest.approx(abs(figure.value), rel=1e-5)
                count += 1
            elif figure.at is None:
                assert (check_result.id, name) in LIMITS
    assert count >= 20


def test_a_check_opens_its_own_number(found: Answer) -> None:
    """The address of a check's sheet carries the engine speed that the check speaks of."""
    addresses = {v.id: calculations.of_check(v) for v in found.check_results}
    assert addresses["target"] == f"power/{found.target.speed:.10g}"
    assert (addresses["back_pressure"] or "").startswith("back_pressure/")
    assert (addresses["closure"] or "").startswith("closure_")
    for address in addresses.values():
        if address:
            key, _, speed = address.partition("/")
            calculations.sheet(found.build, found.solver, at(found, float(speed) if speed else None), key)


def test_figures_of_a_comparison(found: Answer) -> None:
    """Summary and candidates name the sheet and the speed of each of their figures."""
    for entry in summary(found):
        figure = entry.figure
        if figure.sheet.startswith("=") or not math.isfinite(figure.value):
            continue
        sheet = calculations.sheet(found.build, found.solver, at(found, figure.at), figure.sheet)
        assert sheet.result.value == pytest.approx(figure.value, rel=1e-5), entry.key
    if found.build.blower is not None:
        return
    for candidate in compare(found.solver, found.case.candidates):
        turbo = next(t for t in found.case.candidates if t.id == candidate.id)
        solver = found.case.with_turbo(turbo)
        for name, key in (
            ("power", "power"),
            ("surge", "surge"),
            ("choke", "choke"),
            ("overspeed", "overspeed"),
            ("opening", "opening"),
            ("back_pressure", "back_pressure"),
            ("efficiency", "efficiency"),
        ):
            value = getattr(candidate, name)
            if math.isfinite(value):
                point = solver.at(candidate.where[name])
                got = calculations.sheet(solver.path, solver, point, key).result.value
                if name == "surge":
                    got = float(judged_margin(got, point.turbo.ratio))
                assert got == pytest.approx(value, rel=1e-3, abs=1e-3), (candidate.id, name)


@pytest.mark.parametrize("key", ["threshold", "cost:c-up", "opening", "least_boost", "skin:m-prim"])
def test_influences_of_the_new_kind(tarn_answer: Answer, key: str) -> None:
    """What moves a threshold, a cost, a gate, as every builder knows it: a larger housing wakes
    later and opens the gate less."""
    solver = tarn_answer.solver
    if key.startswith("skin"):
        piece = next(e.id for e in solver.path.runs["manifold"] if e.surface > 0.0)
        key = f"skin:{piece}"
    found = {i.lever.key: i for i in influences(solver.path, solver, 6400.0, key)}
    assert len(found) > 10
    if key == "threshold":
        assert found["housing"].up > 0.0 > found["turbine"].up
    if key == "opening":
        assert found["housing"].up < 0.0
    if key == "least_boost":
        assert found["housing"].up < 0.0
    if key.startswith("cost"):
        assert found["charge_loss"].up > 0.0
    if key.startswith("skin"):
        assert found["bay"].up < 0.0


@pytest.mark.parametrize("run", ["primary:c2", "exhaust", "hot_pipe"])
def test_a_shape_is_the_sum_of_its_pieces(tarn_answer: Answer, run: str) -> None:
    """A line for each piece of the pipe with its length, and where it ends: the last one where the pipe does."""
    solver = tarn_answer.solver
    sheet = calculations.sheet(solver.path, solver, tarn_answer.target, f"shape:{run}")
    laid = lay_out(solver.path.space).line(run)  # type: ignore[arg-type]
    assert laid is not None and len(sheet.lines) == len(laid.placed) >= 4
    assert sum(line.figure.value for line in sheet.lines) == pytest.approx(sheet.result.value)
    assert sheet.relation.count(" + ") == len(sheet.lines) - 1
    ends = dict(sheet.lines[-1].meaning.figures)
    assert [ends[way].value for way in "xyz"] == pytest.approx(list(laid.end.origin))


def test_sheets_where_nothing_flows_the_gate(tarn_answer: Answer) -> None:
    """A gate of no size has an opening of nothing; a build without boost has no threshold."""
    build = tarn_answer.build
    shut = prepare(dataclasses.replace(build, gate=dataclasses.replace(build.gate, diameter=0.0, lift=0.0)))
    point = shut.at(3000.0)
    assert point.closure.solved
    assert calculations.sheet(shut.path, shut, point, "opening").result.value == 0.0
    never = dataclasses.replace(
        build, turbo=dataclasses.replace(build.turbo, turbine=dataclasses.replace(build.turbo.turbine, housing=0.2, exducer=0.12))
    )
    lazy = prepare(never)
    point = lazy.at(3000.0)
    with pytest.raises(KeyError):
        calculations.sheet(lazy.path, lazy, point, "threshold")
    with pytest.raises(KeyError):
        calculations.sheet(lazy.path, lazy, point, "piece:nobody")
    with pytest.raises(KeyError):
        calculations.sheet(lazy.path, lazy, point, "nobody:c-up")


def test_closures_are_worked_out_not_handed_on(found: Answer) -> None:
    """A point that somebody has tampered with does not close: the sheets find by how much. Left
    alone they agree with the solver to 1e-9."""
    solver, point = found.solver, found.target
    for name in ("mass", "pressure", "energy", "shaft"):
        if f"closure_{name}" in calculations.keys(solver.path):
            value = calculations.sheet(solver.path, solver, point, f"closure_{name}").result.value
            assert value == pytest.approx(getattr(point.closure, name), abs=1e-9), name
    assert influences(solver.path, solver, point.speed, "closure_energy") == ()
    more = dataclasses.replace(point, air=1.01 * point.air)
    assert calculations.sheet(solver.path, solver, more, "closure_mass").result.value > 0.009
    strong = dataclasses.replace(point, power=1.05 * point.power)
    assert calculations.sheet(solver.path, solver, strong, "closure_energy").result.value > 0.01
    if point.turbo.regime == "holding":
        asked = dataclasses.replace(point, wanted_boost=point.wanted_boost + 5e3)
        assert calculations.sheet(solver.path, solver, asked, "closure_pressure").result.value > 0.01
    if found.build.blower is None:
        turbo = dataclasses.replace(point.turbo, turbine_power=1.1 * point.turbo.turbine_power)
        lossy = dataclasses.replace(point, turbo=turbo)
        assert calculations.sheet(solver.path, solver, lossy, "closure_shaft").result.value > 0.05

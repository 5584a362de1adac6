"""Whole builds: random ones are solved or say why, and wrong ones get the check that a builder
would give them."""

from __future__ import annotations

import math
import random

import pytest

from zarvik.core.answer.answer import Answer, answer
from zarvik.core.calculations import sheets
from zarvik.core.checks.check_result import CheckResult
from zarvik.core.common.sentences import Figure
from zarvik.formats import results, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.assembly.turbos import candidates
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.piece import PIECE_MODELS
from zarvik.project.edits.edits import RUNS, get, meta, with_value
from zarvik.project.edits.piece_edits import insert_piece
from zarvik.project.units.units import EntryError, Quantity, parse


def solved(project: Project) -> Answer:
    """The answer to a document."""
    return answer(assemble(project), candidates(project))


def check_result(found: Answer, id: str) -> CheckResult:
    """One check."""
    return next(v for v in found.check_results if v.id == id)


def changed(project: Project, *pairs: tuple[str, str]) -> Project:
    """A document with other entries."""
    for place, text in pairs:
        now = get(project, place)
        project = with_value(project, place, parse(text, now.kind) if isinstance(now, Quantity) else text)
    return project


def shaken(project: Project, chance: random.Random, share: float) -> Project:
    """Every quantity moved by up to `share` of itself, within its limits."""
    for room in ("goal", "engine", "wastegate", "intercooler", "bay", "blower"):
        for name in type(getattr(project, room)).model_fields:
            project = _shake(project, f"{room}.{name}", chance, share)
    for run in RUNS:
        for piece in getattr(project, run):
            for name in type(piece).model_fields:
                project = _shake(project, f"{run}.{piece.id}.{name}", chance, share)
    return project


def _shake(project: Project, place: str, chance: random.Random, share: float) -> Project:
    found = meta(project, place)
    if not isinstance(found, QuantitySpec) or found.kind == "count":
        return project
    old = get(project, place)
    try:
        value = Quantity(old.value * (1.0 + share * chance.uniform(-1, 1)), old.unit, old.kind)
        return with_value(project, place, value)
    except EntryError:
        return project


@pytest.mark.parametrize("seed", range(12))
def test_random_builds_are_solved_or_say_why(seed: int) -> None:
    """Property: whatever the entries, each point either closes with finite numbers everywhere, or
    says why it does not; checks have words; the results can be written without a NaN."""
    chance = random.Random(seed)
    project = shipped.demo(shipped.demo_names()[seed % 4])
    project = shaken(project, chance, 0.15 + 0.05 * seed)
    for _ in range(seed % 3):
        run = chance.choice(RUNS)
        kind = chance.choice(sorted(PIECE_MODELS))
        try:
            project = insert_piece(project, run, 0, kind)[0]
        except (EntryError, ValueError):
            continue
    try:
        found = solved(project)
    except (ProjectProblems, ValueError) as error:
        assert str(error)
        return
    for point in found.sweep:
        if not point.closure.solved:
            assert point.closure.reason
            continue
        assert point.closure.mass < 1e-6
        assert point.closure.energy < 1e-4
        assert point.closure.shaft < 1e-4
        numbers = [point.power, point.boost, point.air, point.charge, point.corrected_power]
        numbers += [n for s in point.stations.values() for n in (s.pressure, s.temperature, s.mach)]
        numbers += [n for s in point.stretches for n in (s.drop, s.warming, s.mach, s.velocity)]
        assert all(math.isfinite(n) for n in numbers)
        pressures = [s.pressure for s in point.stations.values()]
        assert min(pressures) > 0.0
    for v in found.check_results:
        assert v.text.whole and v.state in ("ok", "marginal", "fails", "to_do")
        for name, item in v.text.figures:
            if isinstance(item, Figure):
                assert not math.isnan(item.value) or "{" + name + "}" not in v.text.whole, v.id
    tree = results.tree(project.name, found.sweep, found.check_results, project.shown_units)
    assert "NaN" not in str(tree) and "nan" not in str(tree["points"])
    if found.target.closure.solved:
        for key, sheet in sheets(found.build, found.solver, found.target).items():
            assert math.isfinite(sheet.result.value), key


@pytest.mark.parametrize(
    ("entries", "id", "state", "words"),
    [
        ([("wastegate.diameter", "14 mm"), ("wastegate.lift", "3 mm")], "gate", "fails", "creeps"),
        ([("wastegate.diameter", "14 mm"), ("wastegate.lift", "3 mm")], "bottom_end", "fails", "creeps"),
        ([("exhaust.e-out.bore", "38 mm"), ("exhaust.e-tail.bore", "38 mm")], "exhaust_mach", "fails", "“"),
        ([("turbos.c54-71.turbine.housing", "38 mm")], "spool", "fails", "rom {middle}"),
        ([("turbos.c54-71.turbine.housing", "80 mm")], "spool", "fails", "never makes"),
        (
            [("turbos.c54-71.turbine.housing", "5 mm"), ("wastegate.diameter", "24 mm")],
            "back_pressure",
            "marginal",
            "times plenum pressure",
        ),
        (
            [("engine.full_load_lambda", "0.98"), ("engine.ignition", "typed"), ("engine.retard", "14")],
            "exhaust_temperature",
            "fails",
            "before the turbine",
        ),
        ([("engine.compression", "12.5"), ("engine.ignition", "typed"), ("engine.retard", "0")], "knock", "fails", "Index"),
        ([("engine.compression", "13.5")], "knock", "fails", "less timing"),
        ([("engine.trusted_boost", "1.0 bar")], "bottom_end", "fails", "of {trusted}"),
        ([("cold_pipe.c-run.bore", "28 mm")], "charge_mach", "fails", "Mach"),
        ([("intercooler.rating_confidence", "25 %")], "charge_temperature", "fails", "in the plenum"),
        ([("goal.target_power", "250 hp")], "target", "ok", "Reached"),
    ],
)
def test_wrong_builds_get_their_check(tarn: Project, entries: list[tuple[str, str]], id: str, state: str, words: str) -> None:
    """Common practice, no source: each mistake of the trade fails the check that is meant for it,
    in words that name it."""
    found = check_result(solved(changed(tarn, *entries)), id)
    assert (found.state, words in found.text.whole) == (state, True), found.text.whole


@pytest.mark.parametrize(
    ("entries", "id"),
    [
        ([("wastegate.diameter", "18 mm"), ("wastegate.lift", "4 mm")], "gate"),
        ([("exhaust.e-out.bore", "44 mm")], "exhaust_mach"),
        ([("cold_pipe.c-run.bore", "32 mm")], "charge_mach"),
        ([("engine.trusted_boost", "1.0 bar")], "bottom_end"),
    ],
)
def test_cures_of_wrong_builds_cure(tarn: Project, entries: list[tuple[str, str]], id: str) -> None:
    """Carrying out the cure of a failing check makes it better than it was."""
    project = changed(tarn, *entries)
    before = check_result(solved(project), id)
    assert before.changes
    after = check_result(solved(with_changes(project, before.changes)), id)
    rank = {"fails": 0, "marginal": 1, "ok": 2}
    assert rank[after.state] > rank[before.state]


def test_a_blower_that_turns_too_fast_gets_another_pulley() -> None:
    """The cure names the ratio; with it the rotors stay under their limit."""
    project = changed(shipped.demo("moth"), ("blower.drive_ratio", "2.9"))
    before = check_result(solved(project), "overspeed")
    assert before.state == "fails"
    assert check_result(solved(with_changes(project, before.changes)), "overspeed").state == "ok"


def test_alcohol_is_judged_after_it_has_cooled_the_charge() -> None:
    """Fell has no intercooler: what counts is the charge behind the fuel; asked to evaporate all of it,
    it stops at saturation and is no colder than the wet bulb of methanol."""
    found = solved(shipped.demo("fell"))
    hot = check_result(found, "charge_temperature")
    assert hot.state != "fails" and "after fuel" in hot.text.whole
    plenum = found.target.stations["plenum"].temperature
    assert 80.0 < plenum - found.target.charge < 150.0
    whole = solved(changed(shipped.demo("fell"), ("engine.evaporated", "80 %")))
    little = solved(changed(shipped.demo("fell"), ("engine.evaporated", "10 %")))
    assert 280.0 < whole.target.charge <= found.target.charge + 1e-6 < little.target.charge
    assert whole.target.power >= found.target.power - 1.0 > little.target.power


def test_alcohol_without_a_cooler_needs_about_the_boost_of_petrol_with_one() -> None:
    """Common practice, no source: the same engine on methanol without an intercooler makes within a tenth of its intercooled power on
    petrol at the same boost, and is not hotter than a good cooler leaves it."""
    petrol = solved(shipped.demo("tarn")).target
    for fuel, share in (("methanol", "40 %"), ("e85", "25 %")):
        project = changed(with_value(shipped.demo("tarn"), "engine.fuel", fuel), ("engine.evaporated", share))
        bare = project.model_copy(update={"intercooler": project.intercooler.model_copy(update={"fitted": False})})
        found = solved(bare).target
        assert found.boost == pytest.approx(petrol.boost, rel=0.01)
        assert 0.90 < found.power / petrol.power < 1.12 and found.charge < petrol.charge + 2.0


@pytest.mark.parametrize("name", shipped.demo_names())
def test_gauge_and_reference_say_the_same(name: str) -> None:
    """Closed form: the same build 1,000 m higher on the same absolute plenum pressure draws about
    the same air; on the same gauge boost it draws less."""
    project = shipped.demo(name)
    low = solved(with_value(project, "goal.altitude", parse("0 m", "altitude")))
    high = solved(with_value(project, "goal.altitude", parse("1000 m", "altitude")))
    if low.target.closure.solved and high.target.closure.solved:
        assert high.target.air < low.target.air
        assert high.build.site.pressure < low.build.site.pressure

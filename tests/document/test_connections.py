"""The connection list in the document: it fills itself, follows the design, keeps what was decided, its rules, its lists, the leak test."""

from __future__ import annotations

import csv
import dataclasses
import io
import itertools
import json
import math
import random
import re
from pathlib import Path

import pytest

from zarvik.cli import main
from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import answer
from zarvik.core.calculations import sheet
from zarvik.core.checks import CheckResult
from zarvik.core.checks.fluid_lines import RESTRICTORS
from zarvik.core.connections import row as r
from zarvik.core.connections.row import Row
from zarvik.core.connections.rules import RULES, JointFinding, findings, hose_fits_tubes, may_torque, risk
from zarvik.core.fluid_lines.lines import fed
from zarvik.core.fluid_lines.oil import WANTS
from zarvik.core.joints.flanges import Pattern
from zarvik.core.joints.hose_joints import BAND_TORQUE, CLAMPS, screw_torque
from zarvik.core.joints.threads import THREADS
from zarvik.core.leak_test.boost_loss import hole_costs
from zarvik.core.leak_test.leaks import fall_time
from zarvik.core.recommendations.joints import STEP, of_joints
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.connections.connection_list import TEMPLATES, connections_of
from zarvik.project.connections.lists import ALL_LISTS, MAKERS, _shopping, as_csv, listing
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice
from zarvik.project.document.parts.connections import ConnectionNote
from zarvik.project.document.parts.fluid_lines import FluidLines
from zarvik.project.document.parts.part import field_meta
from zarvik.project.document.parts.runners import Runners
from zarvik.project.edits.connection_edits import add_line, from_template, take_out, tick, typed, with_connection_note
from zarvik.project.edits.edits import with_value
from zarvik.project.edits.piece_edits import insert_piece, move_piece, remove_piece
from zarvik.project.intake.runner_tuning import runner_report
from zarvik.project.materials.materials import materials
from zarvik.project.units.rendering import render
from zarvik.project.units.units import EntryError, parse


def bare(project: Project) -> Project:
    """A demo of which nobody has said anything in the connection list, of its oil, fuel and runners."""
    return project.model_copy(update={"joints": (), "fluid_lines": FluidLines(), "runners": Runners()})


@pytest.fixture(scope="module")
def tarn() -> Project:
    """Tarn before its connection list was begun."""
    return bare(shipped.demo("tarn"))


def rules(project: Project, key: str = "") -> dict[str, JointFinding]:
    return {f.rule: f for f in findings(connections_of(project)) if not key or f.key == key}


def check_results(project: Project) -> dict[str, CheckResult]:
    return {v.id: v for v in answer(assemble(project), ()).check_results if v.id.startswith(("joint_", "leak"))}


def test_it_fills_itself() -> None:
    """Every demo: each neighbour of a run is a joint, each turbo has its lines, keys are stable and once; nothing is judged before
    somebody has begun."""
    for name in shipped.demo_names():
        project = bare(shipped.demo(name))
        rows = connections_of(project)
        keys = [x.key for x in rows]
        assert len(keys) == len(set(keys)) and len(rows) > 15 and connections_of(project) is rows
        joints = [x for x in rows if x.kind == r.JOINT and x.key.startswith("cold_pipe__")]
        pieces = [p for p in project.cold_pipe if p.kind not in ("mouth", "entry", "step")]
        hoses = sum(p.kind == "joint" for p in pieces)
        assert len(joints) >= len(pieces) - 1 - hoses
        turbos = int(project.turbos_fitted.si) if not project.blower.fitted else 0
        assert sum(x.key.endswith("__oil_out") for x in rows) == turbos
        assert not check_results(project)
    outlet = next(x for x in connections_of(bare(shipped.demo("tarn"))) if x.key == "charger__outlet")
    assert outlet.pressure == pytest.approx(1.25e5) and outlet.made == r.HOSED and 0.045 < outlet.diameter < 0.06


def test_what_was_decided_stays_when_pipes_change(tarn: Project) -> None:
    """A piece between two others takes their joint away and brings two; what was said of the others stays, and what was said of the
    one that is gone is kept and told; moved back, it is as it was."""
    project = with_connection_note(
        with_connection_note(tarn, "cold_pipe__c-up__c-run", "state", r.TORQUED), "cold_pipe__c-leg__c-up", "note", "square cut"
    )
    changed, key = insert_piece(project, "cold_pipe", next(i for i, p in enumerate(project.cold_pipe) if p.id == "c-run"), "straight")
    rows = {x.key: x for x in connections_of(changed)}
    assert rows["cold_pipe__c-leg__c-up"].note == "square cut"
    gone = rows["cold_pipe__c-up__c-run"]
    assert gone.lost and gone.state == r.TORQUED and rules(changed)["lost"].key == gone.key
    assert f"cold_pipe__c-up__{key}" in rows and rows[f"cold_pipe__{key}__c-run"].state == r.OPEN
    back = remove_piece(changed, key)
    again = {x.key: x for x in connections_of(back)}
    assert again["cold_pipe__c-up__c-run"].state == r.TORQUED and not again["cold_pipe__c-up__c-run"].lost
    wider = with_value(project, "cold_pipe.c-up.bore", parse("70 mm", "length"))
    assert {x.key for x in connections_of(wider)} == {x.key for x in connections_of(project)}
    moved = move_piece(project, "c-run", 1)
    assert any(x.lost for x in connections_of(moved))


def test_ports_are_decided(tarn: Project) -> None:
    """Twelve ports of a common manifold; each decision is judged: vacuum kept without a check valve fails, brakes shut fail, a breather
    shut is tight, what the control may miss is a question until the tuner's answer is noted."""
    project = from_template(tarn, "four")
    ports = [x for x in connections_of(project) if x.kind == r.PORT]
    assert len(ports) == 12 and sum(f.rule == "undecided" for f in findings(connections_of(project))) == 12
    brake, breather, idle = ports[0].key, ports[1].key, ports[5].key
    assert rules(with_connection_note(project, brake, "decision", r.KEEP), brake)["check_valve"].state == "fails"
    assert not rules(with_connection_note(project, brake, "decision", r.CHECK), brake)
    assert rules(with_connection_note(project, brake, "decision", r.PLUG), brake)["brake"].state == "fails"
    assert rules(with_connection_note(project, breather, "decision", r.CAP), breather)["breather"].state == "marginal"
    shut = with_connection_note(project, idle, "decision", r.BLEND)
    assert rules(shut, idle)["tuner"].state == "to_do"
    assert not rules(with_connection_note(shut, idle, "note", "Tuner: idle by the throttle"), idle)
    for x in ports:
        project = with_connection_note(
            project,
            x.key,
            "decision",
            r.CHECK if x.served in ("brake", "breather") else r.KEEP if x.served in ("gauge", "regulator", "blow") else r.WELD,
        )
    left = {f.rule for f in findings(connections_of(project))}
    assert "undecided" not in left and "check_valve" not in left and "tuner" in left
    assert check_results(project)["joint_tuner"].state == "to_do" and "joint_undecided" not in check_results(project)
    assert check_results(project)["joint_loose"].state == "to_do"


def test_threads_clamps_and_hoses(tarn: Project) -> None:
    """M18 in a tube of 1.65 mm wants a boss; a screw clamp on an oily 100 mm end at 2.5 bar blows off, T-bolts behind a bead hold; plain
    silicone before the compressor swells; an unknown thread is told."""
    project, key = add_line(tarn, r.BUNG, name="Lambda", piece="e-down", thread="M18×1.5", side=r.EXHAUST)
    wall = rules(project, key)["wall"]
    assert wall.state == "fails" and "boss" in render(wall.cure, {})  # type: ignore[arg-type]
    assert not rules(typed(project, key, "wall", "9 mm"), key)
    worm = with_connection_note(tarn, "charger__outlet", "clamp", "worm")
    worm = with_connection_note(
        with_value(worm, "goal.big_run_boost", parse("2.6 bar", "pressure_gauge")), "charger__outlet", "oily", "yes"
    )
    worm = with_connection_note(
        with_value(worm, f"hot_pipe.{tarn.hot_pipe[0].id}.bore", parse("96 mm", "length")), "charger__outlet", "bead", "no"
    )
    outlet = "charger__outlet"
    found = rules(worm, outlet)
    assert found["end_force"].state == "fails" and found["bead"].state == "marginal"
    healed = with_connection_note(with_connection_note(worm, outlet, "clamp", "tbolt"), outlet, "bead", "yes")
    assert "end_force" not in rules(healed, "charger__outlet")
    oily = with_connection_note(tarn, "charger__inlet", "oily", "yes")
    assert rules(oily, "charger__inlet")["hose_oil"].state == "marginal"
    assert not rules(with_connection_note(oily, "charger__inlet", "material", "fluor"), "charger__inlet")
    hot = {f.rule for f in findings([r.Row("x", r.HOSE, "x", "x", r.BOOST, material="rubber", temperature=420.0)])}
    assert hot == {"hose_heat"}
    strange = {f.rule for f in findings([r.Row("x", r.BUNG, "x", "x", r.BOOST, thread="W 1/4")])}
    assert strange == {"thread"}
    assert {key for key, _ in TEMPLATES.items()} and all(not t or t in THREADS for _, ports in TEMPLATES.values() for *_, t in ports)


def test_sensors_behind_bends(tarn: Project) -> None:
    """40 mm behind a bend of 47.7 mm a sensor is told, with how far it should go; 200 mm on a straight it is not; before any bend
    neither."""
    project, key = add_line(tarn, r.SENSOR, name="Boost", piece="h-run", thread="1/8 NPT", bore="47.7 mm", at="40 mm", wall="9 mm")
    told = rules(project, key)["swirl"]
    assert told.state == "marginal" and "103.1" in render(told.cure, {}).replace("\u00a0", " ")  # type: ignore[arg-type]
    assert not rules(typed(project, key, "at", "200 mm"), key)
    first, other = add_line(tarn, r.SENSOR, name="First", piece="h-leg", thread="1/8 NPT", bore="47.7 mm", at="5 mm", wall="9 mm")
    assert not rules(first, other)


def test_materials_of_a_run(tarn: Project) -> None:
    """Common practice, no source: aluminium is lighter than steel, silicone keeps the heat in, plastic does not stand behind a compressor;
    the mass by hand: 2 pi r t L rho; an exhaust is of steel."""
    found = {m.material: m for m in materials(tarn, "hot_pipe")}
    assert found["aluminium"].mass < 0.5 * found["stainless"].mass and found["aluminium"].now
    assert found["printed"].margin < 0.0 < found["stainless"].margin
    assert found["silicone"].heat > found["aluminium"].heat and abs(found["aluminium"].power) < 10.0
    long = sum(e.length * 3.141592653589793 * (e.diameter + 0.002) for e in assemble(tarn).runs["hot_pipe"] if e.length > 0.0)
    assert found["aluminium"].mass == pytest.approx(long * 0.002 * 2700.0, rel=1e-9)
    assert {m.material for m in materials(tarn, "exhaust")} == {"stainless", "mild_steel"}
    empty = tarn.model_copy(update={"hot_pipe": ()})
    with pytest.raises(ValueError, match="no pipe"):
        materials(empty, "hot_pipe")


def test_loose_first_tight_last(tarn: Project) -> None:
    """While others of its side are not even in place a joint should not be torqued; when all are by hand nothing stands against it."""
    rows = connections_of(tarn)
    sentence = may_torque(rows, "charger__outlet")
    assert sentence is not None and "Hand tight first" in render(sentence, {})
    project = tarn
    for x in rows:
        if x.kind == r.JOINT and x.side == r.BOOST and x.made != r.WELDED:
            project = with_connection_note(project, x.key, "state", r.HAND)
    assert may_torque(connections_of(project), "charger__outlet") is None
    assert may_torque(rows, "cold_pipe__c-up__c-run") is None and may_torque(rows, "nobody") is None
    states = []
    for _ in range(7):
        states.append(next(x.state for x in connections_of(project) if x.key == "charger__outlet"))
        project = tick(project, "charger__outlet")
    assert states == [r.HAND, r.TORQUED, r.TESTED, r.REOPENED, r.HAND, r.TORQUED, r.TESTED]


def test_a_simulated_leak_is_found(tarn: Project) -> None:
    """A hole of 2.2 mm in the design's room: the time its pressure takes is typed as a gauge says it, the hole comes back, its share of the
    air is told, and the connection list says where to look: where it is still open. A tight build holds."""
    project = tarn
    for x in connections_of(tarn):
        if x.kind == r.JOINT and x.side == r.BOOST:
            project = with_connection_note(project, x.key, "state", r.TESTED)
    project = with_connection_note(project, "charger__outlet", "state", r.REOPENED)
    build = assemble(project)
    ambient, volume = build.site.pressure, build.charge_volume
    seconds = fall_time(2.2e-3, volume, ambient + 0.7e5, ambient + 0.4e5, 293.15, ambient)
    for place, text, kind in (
        ("start_pressure", "0.7 bar", "pressure_gauge"),
        ("end_pressure", "0.4 bar", "pressure_gauge"),
        ("duration", f"{seconds:.4f} s", "time"),
    ):
        project = with_value(project, f"leak_test.{place}", parse(text, kind))
    check_result = check_results(project)["leak"]
    words = render(check_result.text, {})
    assert check_result.state == "ok" or "2.2 mm" in words
    solver = prepare(assemble(project))
    point = solver.at(6400.0)
    assert sheet(solver.path, solver, point, "leak_hole").result.value == pytest.approx(2.2e-3, rel=1e-4)
    assert sheet(solver.path, solver, point, "leak_volume").result.value == pytest.approx(volume)
    worse = with_value(project, "leak_test.duration", parse(f"{seconds / 16.0:.4f} s", "time"))
    told = check_results(worse)["leak"]
    assert told.state in ("marginal", "fails") and "Compressor outlet" in render(told.text, {})
    backwards = with_value(project, "leak_test.end_pressure", parse("0.9 bar", "pressure_gauge"))
    # type: ignore[arg-type]
    assert "a test falls" in render(check_results(backwards)["leak"].cure, {}) or check_results(backwards)["leak"].state == "marginal"
    risks = {x.key: risk(x) for x in connections_of(project)}
    assert risks["charger__outlet"] > 3.0 * risks["cooler__in"] > 0.0 and risks["turbo__hot_out"] == 0.0


def test_what_a_hole_costs() -> None:
    """Small holes cost in proportion to their area; at full boost the gate makes up for them and what is lost is heat and later boost; one
    too large leaves the target short. The energy of what leaks is whole: nothing is left unsolved."""
    solver = prepare(assemble(shipped.demo("tarn")))
    one, two, four = (hole_costs(solver, d) for d in (1e-3, 2e-3, 4e-3))
    assert two.share == pytest.approx(4.0 * one.share, rel=0.01) and 0.0005 < one.share < 0.0012
    assert 0.0 < one.power < two.power < four.power < 2e3 and 0.0 <= one.later <= two.later <= four.later < 80.0
    assert four.short < 100.0
    plenum = solver.at(6400.0).stations["plenum"]
    area = 0.25 * 3.141592653589793 * 1e-6
    flow = 0.62 * area * plenum.pressure * (1.4 / (287.05287 * plenum.temperature)) ** 0.5 * (2.0 / 2.4) ** 3
    assert one.share == pytest.approx(flow / solver.at(6400.0).air, rel=0.02)


def test_lists_and_formulas(tarn: Project) -> None:
    """Every list of every demo; a name that a spreadsheet would take for a formula, markup and line feeds come out as plain text."""
    for name in shipped.demo_names():
        for key in ALL_LISTS:
            found = listing(from_template(shipped.demo(name), "vee"), key)
            assert len(found.rows) == len(found.keys) == len(found.ticked) and all(len(row) == len(found.columns) for row in found.rows)
            assert key in ("bungs", "tools", "plates", "rail") or found.rows
    evil, key = add_line(tarn, r.PORT, name="=2+5+cmd|' /C calc'!A0")
    evil = with_connection_note(evil, key, "note", "<b>bold</b> & @sum")
    table = list(csv.reader(io.StringIO(as_csv(listing(evil, "ports")))))
    assert table[1][0].startswith("'=") and not any(cell.startswith(("=", "+", "@")) for row in table for cell in row)
    assert "<b>bold</b>" in table[1][-1]
    buy = dict((row[1], int(row[0])) for row in listing(tarn, "shopping").rows if row[1] == "T-bolt clamp")
    assert buy
    order = [row[3] for row in listing(tarn, "order").rows]
    assert order.index("Flange and gasket") < order.index("V-band") < order.index("Hose and clamp")


def test_five_thousand_lines(tarn: Project) -> None:
    """As many as there may be: read, judged, listed and written in a breath; one more is refused with a sentence."""
    lines = tuple(ConnectionNote(id=f"hand-{n}", name=f"Port {n}", served="vacuum") for n in range(5000))
    project = tarn.model_copy(update={"joints": lines})
    assert len(connections_of(project)) > 5000 and len(findings(connections_of(project))) == 5000
    assert len(listing(project, "ports").rows) == 5000
    again = project_file.loads(project_file.dumps(project), "x")
    assert again.joints == lines
    with pytest.raises(EntryError, match="5000 joint lines"):
        add_line(project, r.PORT)


def test_random_decisions_never_raise(tarn: Project) -> None:
    """A random hand on choices, quantities and words of random lines: refused with a sentence or taken, and the file reads itself."""
    chance = random.Random(11)
    project = from_template(tarn, "four")
    names = [n for n in ConnectionNote.model_fields if n not in ("id", "kind")]
    for _ in range(120):
        key = chance.choice([x.key for x in connections_of(project)])
        name = chance.choice(names)
        found = field_meta(ConnectionNote(id="x"), name)
        value = (
            chance.choice([k for k, _ in found.options()])
            if isinstance(found, Choice)
            else chance.choice(["12 mm", "3/8 in", "7 N·m", "-9 °", "x" * 30, "1:9", ""])
        )
        try:
            project = typed(project, key, name, value)
        except EntryError:
            continue
    assert project_file.loads(project_file.dumps(project), "x") == project
    for rule in RULES:
        for x in connections_of(project):
            list(rule(x))
    assert answer(assemble(project), ()).check_results
    with pytest.raises(KeyError):
        with_connection_note(project, "nobody", "state", r.OPEN)
    with pytest.raises(KeyError):
        take_out(project, "charger__inlet-not")


def test_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Ports by template, a decision, a list as CSV; what is wrong leaves with 2 and changes nothing."""
    path = tmp_path / "t.zarvik.json"
    project_file.write(bare(shipped.demo("tarn")), path)
    assert (
        main(["joints", str(path), "--template", "four", "--say", "hand-1", "decision", "check", "--say", "hand-1", "bore", "3/8 in"]) == 0
    )
    assert "Brake booster" in capsys.readouterr().out
    kept = project_file.read(path)
    assert kept.joints[0].decision == "check" and kept.joints[0].bore.si == pytest.approx(0.009525)
    before = path.read_bytes()
    assert main(["joints", str(path), "--say", "hand-1", "decision", "glue"]) == 2
    assert main(["joints", str(path), "--say", "hand-1", "bore", "wide"]) == 2
    assert main(["joints", str(path), "--say", "hand-99", "bore", "9 mm"]) == 2
    assert path.read_bytes() == before and "hand-99" in capsys.readouterr().err
    goal = tmp_path / "ports.csv"
    assert main(["joints", str(path), "--list", "ports", "--out", str(goal)]) == 0 and "Brake booster" in goal.read_text("utf-8")
    assert main(["joints", str(path), "--list", "order"]) == 0
    assert json.loads(path.read_text("utf-8"))["joints"][0]["name"] == "Brake booster"


SUPPLIED = ("oil_feed", "oil_drain", "injectors", "fuel_pump", "fuel_line")


def supplied(project: Project, **values: str) -> dict[str, CheckResult]:
    """Checks of oil and fuel with these entries."""
    for name, text in values.items():
        field = field_meta(project.fluid_lines, name)
        project = with_value(project, f"fluid_lines.{name}", text if isinstance(field, Choice) else parse(text, field.kind))  # type: ignore[union-attr]
    return {v.id: v for v in answer(assemble(project), ()).check_results if v.id in SUPPLIED}


def test_oil_and_fuel_are_judged(tarn: Project) -> None:
    """By hand for Tarn's 22 g/s: 4 x 550 cc/min at 3 bar that follow, 745 kg/m3: 27.3 g/s, about 80 %; a regulator in the open air loses
    the boost; small injectors, a small pump, a restrictor of 1 mm, a flat drain are told with sizes that are sold, and those cure."""
    assert not supplied(tarn)
    good = supplied(tarn, injector_flow="550 cc/min", pump_flow="255 L/h", restrictor_bore="1.6 mm", drain_bore="19 mm", drain_slope="65 °")
    assert {k: v.state for k, v in good.items()} == dict.fromkeys(("injectors", "fuel_pump", "fuel_line", "oil_feed", "oil_drain"), "ok")
    solver = prepare(assemble(with_value(tarn, "fluid_lines.injector_flow", parse("550 cc/min", "injector_flow"))))
    point = max(solver.sweep(solver.full_load.speed), key=lambda p: p.fuel)
    duty = point.fuel / (4 * 550e-6 / 60.0 * 745.0)
    assert sheet(solver.path, solver, point, "injector_duty").result.value == pytest.approx(duty, rel=1e-6)
    fixed = supplied(tarn, injector_flow="550 cc/min", regulator_reference="open")["injectors"]
    assert fixed.state == "fails" and fixed.changes
    small = with_value(tarn, "fluid_lines.injector_flow", parse("380 cc/min", "injector_flow"))
    bad = {v.id: v for v in answer(assemble(small), ()).check_results}["injectors"]
    assert bad.state == "fails"
    assert supplied(with_changes(small, bad.changes))["injectors"].state == "ok"
    none = supplied(tarn, injector_flow="550 cc/min", fuel_pressure="0.9 bar", regulator_reference="open")["injectors"]
    assert none.state == "fails" and "nothing is injected" in render(none.text, {})
    assert (
        supplied(tarn, pump_flow="100 L/h")["fuel_pump"].state == "fails"
        and supplied(tarn, pump_flow="255 L/h", fuel_line_bore="3 mm")["fuel_line"].state != "ok"
    )
    thin = with_value(tarn, "fluid_lines.restrictor_bore", parse("0.9 mm", "length"))
    starved = {v.id: v for v in answer(assemble(thin), ()).check_results}["oil_feed"]
    assert starved.state == "fails" and supplied(with_changes(thin, starved.changes))["oil_feed"].state == "ok"
    # The size that is sold and comes nearest to the middle of what the bearings want
    (change,) = starved.changes
    least, most = WANTS[assemble(thin).lines.bearings]  # type: ignore[union-attr]
    fed_by = {d: fed(dataclasses.replace(assemble(thin).lines, restrictor_bore=d)) for d in RESTRICTORS}  # type: ignore[type-var]
    assert fed_by[float(change.value)] == min(fed_by.values(), key=lambda flow: abs(math.sqrt(flow) - math.sqrt(0.5 * (least + most))))
    assert supplied(tarn, restrictor_bore="3.5 mm")["oil_feed"].state == "fails"
    assert supplied(tarn, drain_bore="9 mm", drain_slope="10 °")["oil_drain"].state == "fails"
    narrow = with_value(
        with_value(with_value(tarn, "fluid_lines.drain_bore", parse("16 mm", "length")), "fluid_lines.drain_slope", parse("65 °", "angle")),
        "fluid_lines.restrictor_bore",
        parse("2 mm", "length"),
    )
    full = {v.id: v for v in answer(assemble(narrow), ()).check_results}["oil_drain"]
    assert full.state in ("marginal", "fails") and supplied(with_changes(narrow, full.changes))["oil_drain"].state == "ok"
    assert supplied(tarn, drain_bore="19 mm", drain_slope="65 °", drain_outlet="below")["oil_drain"].state == "marginal"
    fell = shipped.demo("fell")
    half = supplied(
        with_value(with_value(fell, "engine.fuel", "petrol98"), "engine.full_load_lambda", parse("0.85", "number")),
        injector_flow="2200 cc/min",
    )["injectors"]
    twice = supplied(fell, injector_flow="2200 cc/min")["injectors"]
    assert 1.8 < (1.0 - (twice.margin or 0.0)) / (1.0 - (half.margin or 0.0)) < 2.6  # alcohol asks for twice as much


def test_runners_are_told(tarn: Project) -> None:
    """Shorter runners ring higher; warm charge a little higher still; nothing is said while nobody says them."""
    assert runner_report(tarn, None) == ()
    said_ = with_value(with_value(tarn, "runners.length", parse("380 mm", "length")), "runners.short_length", parse("200 mm", "length"))
    words = [render(s, {}) for s in runner_report(said_, prepare(assemble(tarn)).at(6400.0))]
    numbers = [int("".join(c for c in w.split(" to ")[-1 if n else 1].split("rpm")[0] if c.isdigit())) for n, w in enumerate(words[:2])]
    assert 2000 < numbers[0] < numbers[1] < 9000 and "tuned" in words[0] and any("displacement" in w for w in words)


def test_a_straight_hose_over_two_tubes_of_one_size(tarn: Project) -> None:
    """60 mm of hose goes over 60.2 mm of tube as it is: a reducing coupler is bought where a rule asks for one, and only there."""
    row = next(x for x in connections_of(tarn) if x.kind == r.JOINT and x.made == r.HOSED and not x.key.endswith("__out"))

    def bought(meets: float) -> bool:
        made = dataclasses.replace(row, diameter=0.060, meets=meets)
        told = any(f.rule == "coupler" for f in hose_fits_tubes(made))
        listed = any(line[1] == "Reducing coupler" for line in _shopping([made], {}).rows)
        assert told == listed
        return listed

    assert [bought(m) for m in (0.0, 0.0580, 0.0602, 0.0625, 0.0640, 0.0700)] == [False, False, False, False, True, True]


def test_materials_are_called_by_their_names(tarn: Project) -> None:
    """A list that is taken to a shop, and a finding, say what a counter understands: no key of the program."""
    hose = next(x.key for x in connections_of(tarn) if x.kind == r.HOSE)
    for material, name in (("fluor", "Fluorosilicone hose"), ("rubber", "Rubber hose"), ("braided", "Braided hose, PTFE inside")):
        said = with_connection_note(tarn, hose, "material", material)
        for key in ("hoses", "shopping"):
            words = [word for line in listing(said, key).rows for word in line]
            assert any(name in word for word in words) and not {"fluor", "braided", "rubber", "silicone", "mild_steel"} & set(words), key
    hot = dataclasses.replace(next(x for x in connections_of(tarn) if x.key == hose), material="fluor", temperature=520.0)
    text = next(f for f in findings((hot,)) if f.rule == "hose_heat").text
    assert "fluorosilicone hose stands" in render(text, {})


def test_the_torque_that_is_usual_for_a_joint() -> None:
    """What was said of a joint; else that of its clamp, of a V-band with the tapping, of its screws in a cross pattern; a dash for a weld,
    a clamp without a torque and screws that nobody measured (the figures: hose_joints, which has its sources)."""

    def torque(**known: object) -> str:
        row = Row(key="x", kind=r.JOINT, name="x", where="x", side=known.pop("side", r.BOOST), **known)  # type: ignore[arg-type]
        (line,) = MAKERS["joints"]([row], {}).rows
        return line[6].replace("\u00a0", " ")

    screws = Pattern(count=4, across=0.07, up=0.05, thread=0.008, bore=0.05)
    assert torque(made=r.HOSED, clamp="tbolt", torque=9.0) == "9 N·m"
    clamp = CLAMPS["tbolt"].torque
    assert clamp and torque(made=r.HOSED, clamp="tbolt") == f"{clamp:.0f} N·m"
    assert torque(made=r.BANDED) == f"{BAND_TORQUE:.0f} N·m, tap around it, again"
    assert torque(made=r.WELDED) == "–" == torque(made=r.SLIPPED) == torque(made=r.FLANGED)
    words = torque(made=r.FLANGED, one=screws, side=r.EXHAUST)
    assert words == f"{screw_torque(0.008, soft=False):.0f} N·m, in a cross pattern"
    assert torque(made=r.FLANGED, one=screws) == f"{screw_torque(0.008, soft=True):.0f} N·m, in a cross pattern"
    assert screw_torque(0.008, soft=True) < screw_torque(0.008, soft=False)


def test_hoses_of_nearly_one_size_are_one_line(tarn: Project) -> None:
    """Ends that differ by less than a step are bought as one size of hose: as many as there are joints, whatever order they come in."""
    case = answer(assemble(tarn), ()).case
    hosed = [x for x in case.build.connections if x.made == r.HOSED and x.diameter > 0.0 and not x.lost]
    found = next(one for one in of_joints(case) if one.title == "Hoses")
    words = render(found.text, {}).partition(":")[0].replace("\u00a0", " ")
    assert sum(int(n) for n in re.findall(r"(\d+) for", words)) == len(hosed)
    sizes = [float(x) for x in re.findall(r"for (\d+(?:\.\d+)?) mm", words)]
    assert sizes == sorted(sizes) and all(two - one > 1e3 * STEP for one, two in itertools.pairwise(sizes))

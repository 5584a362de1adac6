"""Meter, throttle, ports, radiator, breather, water, flanges and rail of a document: judged, cured, listed, drawn; typed as a builder
knows them."""

from __future__ import annotations

import itertools
import math
import random
from pathlib import Path

import ezdxf
import fluids
import pytest

from zarvik.cli import main
from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import first_answer
from zarvik.core.checks import CheckResult
from zarvik.core.connections import row as r
from zarvik.core.connections.flange_joints import barrier, plates
from zarvik.core.intake.intake_flow import ports_at
from zarvik.core.radiator.radiator import radiator_state
from zarvik.core.radiator.water_heat import coolant_heat, friction_power, full_load_seconds, radiator_at, sustained_share, water_heat_load
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.connections.connection_list import connections_of
from zarvik.project.connections.lists import listing
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice
from zarvik.project.document.parts.services import FuelRail
from zarvik.project.edits import edits
from zarvik.project.edits.connection_edits import tick, typed
from zarvik.project.fabrication.drawings import adapters, flanges
from zarvik.project.units.rendering import render
from zarvik.project.units.units import EntryError, parse
from zarvik.workspace.solving import Solving, complete, solve


def with_(project: Project, **said: str) -> Project:
    """The document with entries as they are typed; places with a double underscore for the stop."""
    for place, text in said.items():
        place = place.replace("__", ".")
        meta = edits.meta(project, place)
        project = edits.with_value(project, place, text if isinstance(meta, Choice) else meta.read(text))
    return project


def check_results(project: Project) -> dict[str, CheckResult]:
    return {v.id: v for v in first_answer(assemble(project)).check_results}


@pytest.fixture(scope="module")
def tarn() -> Project:
    """Tarn without what is tried here."""
    return with_(
        shipped.demo("tarn"),
        radiator__width="0",
        ports__runner_width="0",
        ports__gasket_width="0",
        ports__port_width="0",
        ports__valve_diameter="0",
        breather__bore="0",
        turbo_coolant__bore="0",
    ).model_copy(update={"joints": ()})


def test_nothing_is_judged_that_nobody_said(tarn: Project) -> None:
    """From the empty start none of it is told, but the throttle that is there."""
    told = check_results(tarn).keys() & {
        "meter",
        "meter_straight",
        "ports",
        "valves",
        "radiator",
        "radiator_town",
        "radiator_hill",
        "turbo_water",
        "crankcase",
        "adapter",
        "barrier",
        "throttle",
        "pedal",
    }
    assert told == {"throttle", "pedal"}


def test_a_meter_that_ends_and_its_cure(tarn: Project) -> None:
    """A meter of 600 kg/h before a build of 900: fails; in the housing that is told it reaches, and says less than what passes. Straight
    pipe too short: the length that is told holds. With a meter a valve that blows into the open is told."""
    short = with_(
        tarn,
        air_meter__kind="film",
        air_meter__bore="70 mm",
        air_meter__max_reading="600 kg/h",
        air_meter__straight_before="60 mm",
        wastegate__blow_off_outlet="air",
    )
    found = check_results(short)
    assert found["meter"].state == "fails" and found["meter_straight"].state == "fails" and found["blow_off"].state == "fails"
    better = check_results(with_changes(with_changes(short, found["meter"].changes), found["meter_straight"].changes))
    assert better["meter"].state == "ok"
    wide = with_changes(short, found["meter"].changes)
    assert "until its table is scaled" in render(check_results(wide)["meter"].text, wide.shown_units)
    straight = with_changes(short, found["meter_straight"].changes)
    assert check_results(straight)["meter_straight"].state == "ok"


def test_throttles(tarn: Project) -> None:
    """Too small it takes boost, too large it is a switch; the size that is told holds both. A diesel is not asked."""
    place = f"cold_pipe.{next(p.id for p in tarn.cold_pipe if p.kind == 'throttle')}.bore"
    small, large = (edits.with_value(tarn, place, edits.meta(tarn, place).read(d)) for d in ("38 mm", "110 mm"))
    one, two = check_results(small), check_results(large)
    assert (
        one["throttle"].state in ("marginal", "fails")
        and one["throttle"].changes
        and two["pedal"].state == "marginal"
        and two["pedal"].changes
    )
    for project, key, found in ((small, "throttle", one), (large, "pedal", two)):
        after = check_results(with_changes(project, found[key].changes))
        assert after["throttle"].state == after["pedal"].state == "ok"
    # The next one that does, not the smallest
    assert edits.get(with_changes(large, two["pedal"].changes), place).si >= 0.07
    assert not {"throttle", "pedal"} & check_results(shipped.demo("skerry")).keys()


def test_ports_and_valves(tarn: Project) -> None:
    """Openings as callipers give them; a manifold that sits aside; one opening alone says nothing. Small valves are past their Mach
    index."""
    round_ = {"ports__runner_shape": "round", "ports__port_shape": "round", "ports__gasket_shape": "round"}
    even = with_(
        tarn,
        **round_,
        ports__runner_width="45 mm",
        ports__gasket_width="45 mm",
        ports__port_width="45 mm",
        ports__runner_height="0",
        ports__gasket_height="0",
        ports__port_height="0",
        ports__offset_sideways="0",
    )
    assert check_results(even)["ports"].state == "ok"
    build = assemble(even)
    point = prepare(build).at(6400.0)
    density = point.stations["plenum"].pressure / (287.05287 * point.charge)
    # Of four cylinders each takes its quarter of the air in a quarter of the time
    assert ports_at(build, build.ports, point).places[0].speed == pytest.approx(point.air / (density * 0.25 * math.pi * 0.045**2))
    aside = check_results(with_(even, ports__offset_sideways="-2.5 mm"))["ports"]
    assert aside.state == "marginal" and "2.5\xa0mm" in render(aside.text, tarn.shown_units)
    assert check_results(with_(even, ports__offset_up="4 mm"))["ports"].state == "fails"
    assert "ports" not in check_results(with_(even, ports__runner_width="0", ports__gasket_width="0"))
    # The edge that loses the most is not the one that stands out
    mixed = check_results(with_(even, ports__runner_width="30 mm", ports__gasket_width="60 mm", ports__port_width="56 mm"))["ports"]
    assert mixed.state == "marginal" and "2\xa0mm" in render(mixed.text, tarn.shown_units)
    states = [
        check_results(with_(tarn, ports__valve_diameter=f"{d} mm", ports__throat=f"{0.88 * d:.1f} mm", ports__valve_lift="10 mm"))[
            "valves"
        ].state
        for d in (38, 33, 27)
    ]
    assert states == ["ok", "marginal", "fails"]


def test_radiators(tarn: Project) -> None:
    """Heat to the water is 15 to 33 % of the fuel's at full load (Heywood 1988, table 12.1 and sec. 12.4: 16 to 33 %). More radiator lasts
    longer; who stands at full load for minutes is judged by what it holds; a fan is asked for in town."""
    some = with_(
        tarn,
        radiator__width="640 mm",
        radiator__height="400 mm",
        radiator__mounting="open",
        radiator__intercooler_position="before",
        radiator__thickness="32 mm",
        radiator__fins="14",
    )
    solver = prepare(assemble(some))
    point = solver.at(6400.0)
    heat = water_heat_load(solver, point)
    assert heat == pytest.approx(coolant_heat(solver, point) + 0.6 * friction_power(solver, point))
    assert 0.13 < heat / (point.fuel * 43e6) < 0.33
    large = prepare(assemble(with_(some, radiator__width="900 mm", radiator__thickness="50 mm")))
    apart = prepare(assemble(with_(some, radiator__intercooler_position="apart")))
    assert full_load_seconds(solver, solver.path.radiator, point) < min(
        full_load_seconds(large, large.path.radiator, point), full_load_seconds(apart, apart.path.radiator, point)
    )
    # With the share that it carries for good the water comes to exactly the most that it may have
    part = sustained_share(solver, solver.path.radiator, point)
    build = solver.path
    there = radiator_state(
        build.radiator,
        heat=part * heat,
        full_heat=heat,
        before=part * point.cooler_heat,
        road_speed=build.road_speed,
        ambient=build.site.temperature,
    )
    assert 0.1 < part < 1.0 and there.water == pytest.approx(388.15)
    assert radiator_at(apart, apart.path.radiator, point).taken == pytest.approx(some.goal.design_day.si)
    found = check_results(some)
    assert found["radiator"].state in ("marginal", "fails") and found["radiator_town"].state == "ok"
    assert assemble(with_(some, radiator__coolant_flow="120 L/min")).radiator.water == pytest.approx(2.0)  # a litre of water is a kilogram
    assert check_results(with_(some, radiator__fan_flow="0"))["radiator_town"].state == "marginal"
    held = check_results(with_(some, fittings__full_load_share="100 %"))["radiator"]
    assert held.state == "fails" and "is required" in render(held.text, tarn.shown_units)
    # The longer it stands at full load the less room there is, without a step anywhere
    margins = [check_results(with_(some, fittings__full_load_share=f"{share} %"))["radiator"].margin for share in (5, 35, 60, 79, 81, 100)]
    assert all(a >= b for a, b in itertools.pairwise(margins)) and abs(margins[3] - margins[4]) < 0.03
    huge = with_(some, radiator__width="2 m", radiator__height="1.5 m", radiator__intercooler_position="apart", goal__road_speed="250 km/h")
    assert (
        "sustains full load" in render(check_results(huge)["radiator"].text, tarn.shown_units)
        and check_results(huge)["radiator"].state == "ok"
    )


def test_hills_are_asked_of_the_radiator() -> None:
    """Skerry with its train: a thinner radiator boils where a thicker one holds."""
    skerry = shipped.demo("skerry")
    states = [check_results(with_(skerry, radiator__width=w))["radiator_hill"].state for w in ("350 mm", "1000 mm")]
    assert states == ["fails", "ok"]


def test_crankcase_and_its_cure(tarn: Project) -> None:
    """A hose of 10 mm blows seals; the bore that is told holds. Led before the compressor it is drawn; worn rings ask for more."""
    narrow = with_(tarn, breather__bore="10 mm", breather__outlet="can")
    found = check_results(narrow)["crankcase"]
    assert found.state == "fails" and check_results(with_changes(narrow, found.changes))["crankcase"].state == "ok"
    # Nobody believes 13 bar under the pistons: seals go first
    pinched = check_results(with_(tarn, breather__bore="2 mm"))["crankcase"]
    assert pinched.state == "fails" and "kPa" not in render(pinched.text, {}) and "pushed out" in render(pinched.text, {})
    sound = with_(tarn, breather__bore="19 mm", breather__outlet="open")
    assert (
        check_results(sound)["crankcase"].state == "ok"
        and check_results(with_(sound, breather__ring_condition="worn"))["crankcase"].state == "marginal"
    )
    assert "draws" in render(
        check_results(with_(sound, breather__bore="38 mm", breather__outlet="inlet"))["crankcase"].text, tarn.shown_units
    )
    measured = with_(sound, breather__blow_by="266 L/min")
    assert check_results(measured)["crankcase"].margin == pytest.approx(check_results(sound)["crankcase"].margin or 0.0, abs=0.1)


def test_water_of_the_turbo(tarn: Project) -> None:
    """It goes round by itself where the return rises, and does not where it falls; plugged it is told, of ball bearings more."""
    good = with_(tarn, turbo_coolant__bore="10 mm", turbo_coolant__return_height="300 mm")
    assert check_results(good)["turbo_water"].state == "ok"
    assert check_results(with_(good, turbo_coolant__return_height="10 mm"))["turbo_water"].state == "marginal"
    assert check_results(with_(good, turbo_coolant__return_height="-50 mm"))["turbo_water"].state == "marginal"
    assert check_results(with_(good, turbo_coolant__bore="3 mm"))["turbo_water"].state == "fails"
    assert check_results(with_(tarn, turbo_coolant__connection="none", fluid_lines__bearings="ball"))["turbo_water"].state == "marginal"
    assert check_results(with_(tarn, turbo_coolant__connection="none", fluid_lines__bearings="journal"))["turbo_water"].state == "ok"


def flanged(project: Project) -> Project:
    """The throttle's flange and the pad of the plenum as a builder measures them."""
    for name, text in {
        "bolts": "4",
        "across": "66 mm",
        "up": "66",
        "other_bolts": "4",
        "other_across": "88",
        "other_up": "74 mm",
        "other_screw": "M6",
        "other_bore": "2.75 in",
    }.items():
        project = typed(project, "engine__throttle", name, text)
    return project


def test_plates_are_told_listed_and_drawn(tarn: Project, tmp_path: Path) -> None:
    """Two patterns that do not meet: the connection list tells it, the list has the plate, its drawing has both patterns, as DXF too."""
    project = flanged(tarn)
    found = check_results(project)
    assert found["joint_pattern"].state == "marginal" and found["adapter"].state == "ok"
    row = [cell.replace("\xa0", " ") for cell in listing(project, "plates").rows[0]]
    assert row[1].startswith("4 × M8, 66") and "bore 69.8 mm" in row[2] and row[3].startswith("plate of 12.8")
    (drawing,) = adapters(project)
    sizes = sorted(round(2e3 * c.radius, 1) for c in drawing.circles)
    assert sizes == [5.0] * 4 + [9.0] * 4 + [13.0] * 4 + [65.0, 69.8]
    # Turned by 45 degrees the tapped holes stand above and beside the middle
    turned = project
    for name, text in {"other_across": "80 mm", "other_up": "80 mm", "turns": "yes"}.items():
        turned = typed(turned, "engine__throttle", name, text)
    tapped = {(round(1e3 * c.x, 1), round(1e3 * c.y, 1)) for c in adapters(turned)[0].circles if abs(c.radius - 0.0025) < 1e-9}
    assert {(abs(x), abs(y)) for x, y in tapped} == {(0.0, 56.6), (56.6, 0.0)}
    assert drawing.key in {d.key for d in flanges(project)[0]}
    assert main(["export", str(write(project, tmp_path)), "--what", "flange", "--out", str(tmp_path / "all.dxf")]) == 0
    holes = [e for e in ezdxf.readfile(tmp_path / "all-plate-1.dxf").modelspace() if e.dxftype() == "CIRCLE"]
    assert len(holes) == len(drawing.circles)


def write(project: Project, folder: Path) -> Path:
    path = folder / "build.zarvik.json"
    project_file.write(project, path)
    return path


def test_layers_under_the_intake(tarn: Project) -> None:
    """A spacer keeps heat of the head from the charge, most of it at idle; paper on the exhaust burns."""
    layered = typed(typed(tarn, "engine__intake", "layer_1", "phenolic"), "engine__intake", "thick_1", "8 mm")
    found = check_results(layered)["barrier"]
    words = dict(found.text.figures)
    assert 0.0 < words["full"].value < words["idle"].value < words["bare"].value < 20.0  # type: ignore[union-attr]
    burnt = typed(tarn, "engine__exhaust", "layer_1", "paper")
    assert check_results(burnt)["joint_gasket_heat"].state == "fails"
    thicker = typed(layered, "engine__intake", "thick_1", "20 mm")
    assert dict(check_results(thicker)["barrier"].text.figures)["idle"].value < words["idle"].value  # type: ignore[union-attr]


def test_the_card_of_a_rail(tarn: Project) -> None:
    """From bore spacing and seats: positions, drills, depth; rail ends too thin are told; without seats there is no card."""
    assert not listing(tarn, "rail").rows
    project = tarn.model_copy(update={"fuel_rail": FuelRail()})
    project = with_(project, fuel_rail__seat_bore="14 mm", fuel_rail__thread="M16×1.5", fuel_rail__outside_size="25 mm")
    rows = [" | ".join(row).replace("\xa0", " ") for row in listing(project, "rail").rows]
    assert (
        any("13.8 mm" in x for x in rows)
        and any("14 mm H8" in x for x in rows)
        and any("Both ends tapped M16×1.5 | 14.5 mm" in x for x in rows)
    )
    spacing = (project.layout.head.spacing.si or 1.1 * project.engine.bore.si) * 1e3
    assert f"{30.0 + spacing:g} mm" in rows[0] and f"{60.0 + 3.0 * spacing:g} mm" in rows[0]
    assert "too thin" in " ".join(" | ".join(row) for row in listing(with_(project, fuel_rail__outside_size="20 mm"), "rail").rows)


def test_hoses_tell_what_their_signal_wants(tarn: Project) -> None:
    """A gate's hose of 2.5 mm is told, and heard later than one of 4."""
    gate = next(x.key for x in connections_of(tarn) if x.served == "gate")
    narrow = typed(tarn, gate, "bore", "2.5 mm")
    assert "joint_signal" in check_results(narrow)
    column = {row[0]: row for row in listing(narrow, "hoses").rows}
    wide = {row[0]: row for row in listing(typed(tarn, gate, "bore", "4 mm"), "hoses").rows}
    name = next(x.name for x in connections_of(tarn) if x.key == gate)
    assert float(column[name][5].split()[0]) > float(wide[name][5].split()[0]) > 0.0 and column[name][4] == "4\xa0mm"


def test_a_tick_solves_nothing(tarn: Project) -> None:
    """Another state of a line: the same checks as solving all of it anew, without solving; another length is solved."""
    solving = Solving()
    begun = flanged(tarn)
    whole = complete(solve(begun))
    solving._last = whole
    key = next(x.key for x in connections_of(tarn) if x.kind == r.JOINT and x.side == r.BOOST)
    changed = typed(tick(begun, key), "engine__throttle", "other_across", "66 mm")
    found = solving._ticked(changed)
    assert found is not None and found.answer is not None and found.complete and found.project is changed
    anew = complete(solve(changed)).answer
    assert anew is not None and whole.answer is not None
    assert [(v.id, v.state, v.text) for v in found.answer.check_results] == [(v.id, v.state, v.text) for v in anew.check_results]
    assert found.answer.sweep is whole.answer.sweep and found.answer.solver.full_load is whole.answer.solver.full_load
    assert solving._ticked(with_(changed, breather__bore="16 mm")) is None


def test_written_short_and_read_whole(tarn: Project) -> None:
    """A line of the connection list writes only what was said; what stands at its beginning comes back by itself."""
    text = project_file.dumps(flanged(tarn.model_copy(update={"variants": ()})))
    assert '"other_up": "74 mm"' in text and "layer_1" not in text and '"face"' not in text
    assert project_file.loads(text, "x").joints == flanged(tarn).joints
    whole = project_file.dumps(flanged(tarn))
    assert project_file.loads(whole, "x") == flanged(tarn)


ROOMS = ("air_meter", "ports", "radiator", "breather", "turbo_coolant", "fuel_rail")


def test_random_entries_never_raise(tarn: Project) -> None:
    """Anything within the limits in all rooms: assembled, judged, listed, drawn; what cannot be is a sentence."""
    chance = random.Random(7)
    for _ in range(12):
        project = tarn
        for room in ROOMS:
            for name in type(getattr(project, room)).model_fields:
                place = f"{room}.{name}"
                meta = edits.meta(project, place)
                if isinstance(meta, Choice):
                    project = edits.with_value(project, place, chance.choice(meta.options())[0])
                    continue
                low, high = meta.limits
                si = low + (high - low) * chance.random() ** 3
                old = edits.get(project, place)
                project = edits.with_value(project, place, old.with_si(float(round(si)) if meta.kind == "count" else si))
        if 0.0 < project.ports.valve_diameter.si < project.ports.throat.si:
            project = edits.with_value(project, "ports.throat", project.ports.valve_diameter)  # a wider one is refused
        bore, low, high = project.air_meter.bore.si, *edits.meta(project, "air_meter.max_reading").limits
        most = min(max(1.2 * 50.0 * 0.25 * math.pi * bore**2, low), high)  # another speed at its end is refused
        project = edits.with_value(project, "air_meter.max_reading", project.air_meter.max_reading.with_si(most if bore > 0.01 else 0.0))
        for name in ("bolts", "across", "up", "other_bolts", "other_across", "other_up", "other_bore", "bore"):
            try:
                project = typed(
                    project, "engine__throttle", name, f"{chance.randrange(13)}" if "bolts" in name else f"{chance.randrange(120)} mm"
                )
            except EntryError:
                continue
        for check_result in check_results(project).values():
            assert check_result.margin is None or not math.isnan(check_result.margin), check_result.id
            assert render(check_result.text, project.shown_units)
        for key in ("plates", "rail", "hoses", "bungs"):
            listing(project, key)
        flanges(project)


def test_what_a_plate_takes_by_hand(tarn: Project) -> None:
    """45 mm behind a throttle of 65 mm: half of the narrowing (Idelchik 4-9) where the bolts meet and nothing is bored, the cone of the
    library over the plate's thickness where they do not; on the head of the plenum's air in 45 mm, by hand."""
    same_bolts = flanged(tarn)
    for name, text in {"other_across": "66 mm", "other_up": "66 mm", "other_screw": "M8", "other_bore": "45 mm"}.items():
        same_bolts = typed(same_bolts, "engine__throttle", name, text)
    plate = typed(flanged(tarn), "engine__throttle", "other_bore", "45 mm")
    cone = fluids.contraction_conical(Di1=0.065, Di2=0.045, l=0.0128, Re=1.26e5, roughness=1.5e-6, method="Rennels")
    for project, coefficient in ((same_bolts, 0.5 * (1.0 - (45.0 / 65.0) ** 2)), (plate, cone)):
        build = assemble(project)
        solver = prepare(build)
        point = solver.at(6400.0)
        taken = plates(build, build.connections, point)[0]
        plenum = point.stations["plenum"]
        density = plenum.pressure / (287.05287 * plenum.temperature)
        speed = plenum.flow / (density * 0.25 * math.pi * 0.045**2)
        assert taken.loss == pytest.approx(coefficient * 0.5 * density * speed**2, rel=0.02)
        assert taken.share == pytest.approx(taken.loss / plenum.pressure)
    # On the head one of four ports has its stroke in a quarter of the time: as fast as all four on average, pulses by 1.645
    head = tarn
    for name, text in {
        "bolts": "4",
        "across": "60 mm",
        "other_bolts": "4",
        "other_across": "60 mm",
        "bore": "38 mm",
        "other_bore": "42 mm",
    }.items():
        head = typed(head, "engine__exhaust", name, text)
    build = assemble(head)
    point = prepare(build).at(6400.0)
    gas = point.stations["exhaust_port"]
    density = gas.pressure / (287.05287 * gas.temperature)
    speed = gas.flow / (density * 0.25 * math.pi * 0.038**2)
    assert plates(build, build.connections, point)[0].loss == pytest.approx(
        (1.0 - (38.0 / 42.0) ** 2) ** 2 * 1.645 * 0.5 * density * speed**2, rel=1e-3
    )
    assert check_results(same_bolts)["adapter"].state in ("marginal", "fails")


def test_a_face_that_was_measured_counts(tarn: Project) -> None:
    """Twice the metal on the head brings more heat; without a word of it the engine's own size stands in."""
    layered = typed(tarn, "engine__intake", "layer_1", "steel")
    small, large = (typed(layered, "engine__intake", "face", f"{a} cm²") for a in (60, 240))
    builds = [assemble(p) for p in (small, layered, large)]
    found = [barrier(b, b.connections, b.ports, prepare(b).at(6400.0)) for b in builds]
    conductances = [b.full.conductance for b in found if b is not None]
    assert len(conductances) == 3 and conductances == sorted(conductances) and conductances[2] > 2.0 * conductances[0]


@pytest.mark.parametrize(
    ("budget", "whole", "count", "state", "said"),
    [
        ("900 €", "2200 €", "1", "ok", "870"),
        ("850 €", "2200 €", "1", "fails", "870"),
        ("1700 €", "9000 €", "2", "fails", "1740"),
        ("2500 €", "2200 €", "1", "marginal", "for the whole build"),
        ("2500 €", "0 €", "1", "ok", "870"),
    ],
)
def test_money_for_the_turbo_is_part_of_what_there_is(tarn: Project, budget: str, whole: str, count: str, state: str, said: str) -> None:
    """All of its turbos against what is meant for them, by hand from the price of 870 €; more for the turbo than for the build is told."""
    project = edits.with_value(tarn, "goal.budget", parse(budget, "money"))
    project = edits.with_value(edits.with_value(project, "search.budget", parse(whole, "money")), "turbos_fitted", parse(count, "count"))
    found = next(v for v in first_answer(assemble(project)).check_results if v.id == "turbo_money")
    assert found.state == state and said in render(found.text, {}).replace("\u00a0", "")


@pytest.mark.parametrize(
    ("kind", "own", "state"),
    [
        ("outside", "inside", "to_do"),
        ("inside", "outside", "fails"),
        ("inside", "inside", ""),
        ("outside", "outside", ""),
        ("inside", "", ""),
        ("outside", "", ""),
    ],
)
def test_the_flap_that_a_turbo_came_with(tarn: Project, kind: str, own: str, state: str) -> None:
    """A flap beside a gate on the manifold has to be shut for good; where a flap is said and there is none, nothing holds the boost.
    Advice:
    the entries stay as they were typed (common practice, no source)."""
    project = edits.with_value(edits.with_value(tarn, "wastegate.kind", kind), f"turbos.{tarn.turbo}.fit.gate", own)
    found = first_answer(assemble(project)).check_results
    assert [v.state for v in found if v.id == "flap"] == ([state] if state else [])

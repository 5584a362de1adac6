"""The engine bay of a document: entries, common bays, pipes routed through it, from a window and from the command line."""

from __future__ import annotations

import itertools
import math
import random
from pathlib import Path

import numpy as np
import pytest
import trimesh

from made_bays import tarn_in_its_bay, without_bay
from zarvik import cli
from zarvik.core.answer.answer import answer
from zarvik.core.bay.clearance import near, near_of
from zarvik.core.bay.envelope import reach_of
from zarvik.core.checks.check_result import CheckResult
from zarvik.core.checks.layout import GRIP, clearance, end_miss
from zarvik.core.common.sentences import Fault
from zarvik.core.solids.bodies import extent
from zarvik.formats import bench_lists, project_file, shipped
from zarvik.formats.atomic_writer import FileError
from zarvik.formats.scan_file import read_scan, with_scan
from zarvik.project.assembly.assemble import assemble
from zarvik.project.bay.objects import new_object, obstacles_of, placed_objects, without_object
from zarvik.project.bay.placing import Placed
from zarvik.project.bay.ready import READY, usual_bay, with_ready
from zarvik.project.bay.work import bay_work
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bay_object import BayObject
from zarvik.project.document.parts.layout import Stock
from zarvik.project.edits.edits import with_value
from zarvik.project.fabrication.cut_list import ordered_cut_list
from zarvik.project.fabrication.mockup import mockups
from zarvik.project.layout.layout import all_runs, layout, space_of
from zarvik.project.manifold.making import Kit, block_lines, blocks_used
from zarvik.project.routing.heat import heat_gaps
from zarvik.project.routing.primaries import laid_primaries
from zarvik.project.routing.routes import no_way, radii_of, routes, stretch_of, with_route
from zarvik.project.units.rendering import render
from zarvik.project.units.units import EntryError, parse


def test_points_are_read_as_they_are_written() -> None:
    one = BayObject(id="a", shape="tube", points="120, -40, 300; 180/-40/420\n200 0 500")
    assert one.points == "120 -40 300; 180 -40 420; 200 0 500"
    assert BayObject(id="a").points == ""
    for wrong in ("120 -40", "1 2 3", "a b c; 1 2 3", "1 2 3; 4 5 9000", "1 2 nan; 1 2 3", "1 2 3;" * 41):
        with pytest.raises(ValueError, match="point"):
            BayObject(id="a", points=wrong)


def test_shapes_stand_where_they_are_said() -> None:
    project, _ = new_object(
        shipped.demo("moth"), "battery", length="240 mm", width="175 mm", height="190 mm", along="1 m", up="-2 in", heading="90 °"
    )
    project, _ = new_object(project, "servo", shape="cylinder", length="0.2 m", diameter="250 mm", pitch="90 °", measured="tape")
    project, key = new_object(project, "line", shape="tube", diameter="6 mm", points="0 0 0; 100 0 0; 100 50 0", measured="no", name="Line")
    battery, servo, line = obstacles_of(project)
    assert battery.bodies[0].centre == pytest.approx([1.0, -0.0508, 0.0])
    # A heading of 90° lays its length along the crank, its width across
    extent = np.abs(battery.bodies[0].axes.T) @ battery.bodies[0].half
    assert extent == pytest.approx([0.12, 0.095, 0.0875])
    assert np.abs(servo.bodies[0].axes[0]) == pytest.approx([0.0, 1.0, 0.0], abs=1e-9)
    assert servo.bodies[0].half[:2] == pytest.approx([0.125, 0.1])
    assert [len(one.bodies) for one in (battery, servo, line)] == [1, 1, 2]
    assert (battery.slack, servo.slack, line.slack) == (0.03, 0.005, 0.06)
    assert (battery.name, line.name, line.sure) == ("Battery", "Line", False)
    assert len(without_object(project, key).bay_objects) == 2
    assert project_file.loads(project_file.dumps(project)).bay_objects == project.bay_objects


@pytest.mark.parametrize("bay", READY)
@pytest.mark.parametrize("demo", ["tarn", "fell"])
def test_common_bays_leave_the_engine_alone(bay: str, demo: str) -> None:
    """Nothing of a bay stands in a port, and each has what every car has."""
    project = with_ready(shipped.demo(demo), bay)
    assert {"panel", "hood", "radiator", "fan", "column", "servo", "line", "battery"} <= {one.kind for one in project.bay_objects} or (
        bay == "across"
    )
    assert len(project.bay_objects) >= 13
    if bay == usual_bay(project):
        for port in layout(project).ports:
            for one in obstacles_of(project):
                for body in one.bodies:
                    local = np.abs((port.moved(0.02).origin - body.centre) @ body.axes.T)
                    assert (local > body.half).any(), one.name


@pytest.mark.parametrize("run", ["exhaust", "cold_pipe"])
def test_a_pipe_is_routed(run: str) -> None:
    """As entered Tarn's exhaust runs into firewall and steering shaft; routed it meets its end, keeps its room, and is made of bends that
    can be had with room for a clamp; the build is solved with it."""
    project = tarn_in_its_bay()
    space = space_of(project)
    heat = heat_gaps(project, run)
    assert bool(heat) == (run == "exhaust")
    found = list(routes(project, run, heat))
    assert [one.length for one in found] == sorted((one.length for one in found), reverse=True)
    changed = with_route(project, run, found[-1])
    line = layout(changed).line(run)
    assert line is not None
    assert end_miss(line) < 1.0
    for one in near(layout(changed), obstacles_of(changed), space.cooler):
        if one.line == run:
            assert one.gap > one.obstacle.room - 5e-4, one.obstacle.name
    stretch = stretch_of(project, run)
    bends = [part.segment for part in line.placed if part.segment.bends]
    assert len(bends) == found[-1].bends
    allowed = radii_of(project, stretch.diameter)
    assert all(min(abs(s.radius - radius) for radius in allowed) < 1e-6 for s in bends)
    least = GRIP if run == "cold_pipe" else 0.015
    assert (
        min(part.segment.length for part in line.placed if part.segment.id.startswith(f"{run}-r") and not part.segment.bends) > least - 1e-4
    )
    before, after = getattr(project, run), getattr(changed, run)
    assert [p for p in after if p.kind not in ("straight", "bend")] == [p for p in before if p.kind not in ("straight", "bend")]
    first = next(p for p in before if p.kind in ("straight", "bend"))
    assert {p.bore for p in after if p.kind in ("straight", "bend")} == {first.bore}
    assert answer(assemble(changed), ()).target.closure.solved


def test_what_cannot_be_routed_is_said() -> None:
    project = tarn_in_its_bay()
    with pytest.raises(Fault, match="no end point"):
        stretch_of(project, "intake")
    low = tuple(one.model_copy(update={"up": parse("240 mm", "length")}) if one.kind == "hood" else one for one in project.bay_objects)
    low_hood = project.model_copy(update={"bay_objects": low})
    assert not list(routes(low_hood, "cold_pipe"))
    words = no_way(low_hood, "cold_pipe")
    assert "too narrow by" in words
    assert "“Hood”" in words
    assert "No way with these radii" in no_way(project, "cold_pipe")


def test_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path, out = tmp_path / "tarn.zarvik.json", tmp_path / "routed.zarvik.json"
    project_file.write(tarn_in_its_bay(), path)
    assert cli.main(["route", str(path), "--run", "cold_pipe"]) == 0
    assert "bends" in capsys.readouterr().out
    assert cli.main(["route", str(path), str(out), "--run", "cold_pipe"]) == 0
    assert project_file.read(out).cold_pipe != project_file.read(path).cold_pipe
    assert cli.main(["route", str(path), str(out), "--run", "cold_pipe"]) == 2
    assert cli.main(["route", str(path), "--run", "intake"]) == 2
    assert cli.main(["route", str(path), "--run", "nothing"]) == 2
    assert cli.main(["route", str(path)]) == 2
    assert cli.main(["route", str(path), str(tmp_path / "p.json"), "--run", "primaries"]) == 0
    assert len(project_file.read(tmp_path / "p.json").primaries) == 4
    said = capsys.readouterr().err
    assert "enter one under Positions" in said
    assert "say where the tubes go" in said


@pytest.mark.parametrize(("demo", "bay"), [("tarn", "lengthways"), ("fell", "")])
def test_primaries_are_routed(demo: str, bay: str) -> None:
    """Equal, two to four bends of at most 120 degrees, room for a torch between them, each on an inlet of its own; on both banks of the V
    engine, and as long on the second as on the first."""
    project = shipped.demo(demo)
    project = with_ready(project, bay) if bay else project
    made = laid_primaries(project)
    changed, words = made.project, made.words
    assert f"{int(project.engine.cylinders.si)} primaries" in words
    found, space = layout(changed), space_of(changed)
    banks = [[one for one in found.primaries if one.bank == bank] for bank in range(len(found.inlets))]
    for bank_lines in banks:
        lengths = [one.length for one in bank_lines]
        assert max(lengths) / min(lengths) - 1.0 < space.spread
        for one, two in itertools.combinations(bank_lines, 2):
            assert clearance(space, found, one, two) > 0.003
    if len(banks) > 1:
        assert banks[1][0].length == pytest.approx(banks[0][0].length, rel=2.0 * space.spread)
    for one in found.primaries:
        assert end_miss(one) < 1.0
        turns = [math.degrees(part.segment.angle) for part in one.placed if part.segment.bends]
        assert 2 <= len(turns) <= 4
        assert max(turns) < 120.5
        for near_one in near(found, obstacles_of(changed), space.cooler):
            if near_one.line == one.key:
                assert near_one.gap > near_one.obstacle.room - 5e-4, near_one.obstacle.name
    inlets = {(found.primaries[i].bank, int(p.inlet.si)) for i, p in enumerate(changed.primaries)}
    assert len(inlets) == len(changed.primaries)


def test_primaries_as_long_as_wanted_or_why_not() -> None:
    project = with_value(without_bay(shipped.demo("tarn")), "layout.fabrication.primary_length", parse("520 mm", "length"))
    assert [one.length for one in layout(laid_primaries(project).project).primaries] == pytest.approx([0.52] * 4, rel=0.02)
    short = laid_primaries(with_value(project, "layout.fabrication.primary_length", parse("300 mm", "length")))
    assert "300\N{NO-BREAK SPACE}mm wanted, shortest possible" in short.words
    assert min(short.lengths) > 0.4
    lid = new_object(
        without_bay(shipped.demo("tarn")), "panel", name="Lid", up="90 mm", out="200 mm", length="2 m", width="2 m", height="10 mm"
    )[0]
    with pytest.raises(Fault, match="“Lid”"):
        laid_primaries(lid)
    with pytest.raises(Fault, match="There is no collector"):
        laid_primaries(shipped.demo("moth").model_copy(update={"manifold": ()}))


def results(project: Project) -> dict[str, CheckResult]:
    return {one.id: one for one in answer(assemble(project), ()).check_results}


def test_a_notched_rail_is_for_a_certified_trade() -> None:
    """Recorded, kept in the file, and told as work to do with the caution; nothing where all is as it was. Its room stays the same."""
    project, key = new_object(shipped.demo("tarn"), "panel", name="Rail", up="-400 mm", out="900 mm")
    assert "bay_structure" not in results(project)
    for text, words in (("notched", "notched or cut"), ("moved", "moved or remade")):
        changed = with_value(project, f"bay_objects.{key}.altered", text)
        found = results(project_file.loads(project_file.dumps(changed), "x"))["bay_structure"]
        assert found.state == "to_do"
        assert words in found.text.whole
        assert found.cure is not None
        assert "licensed or certified trade" in found.cure.whole
        assert obstacles_of(changed)[-1].room == obstacles_of(project)[-1].room


def test_an_envelope_and_few_bends_bind() -> None:
    """Inside the envelope nothing reaches beyond it, and the check says so; where none goes, it is said how far they would reach. Fewer
    bends cost length; two are too few here."""
    tarn, making = without_bay(shipped.demo("tarn")), "layout.fabrication."
    long = with_value(tarn, making + "primary_length", parse("600 mm", "length"))
    free = laid_primaries(long)
    names = ("within_out", "within_down", "within_up")
    reached, cured = dict(zip(names, reach_of(space_of(free.project), layout(free.project)), strict=True)), 0
    assert min(reached.values()) > 0.0
    for place, reach in list(reached.items())[1:]:
        limited = with_value(free.project, making + place, parse(f"{1e3 * reach - 12:.0f} mm", "length"))
        before = results(limited)["envelope"]
        assert before.state == "fails"
        try:
            after = with_changes(limited, before.changes)
        except Fault as fault:
            assert "without that limit they reach" in str(fault)
            continue
        cured += 1
        assert dict(zip(names, reach_of(space_of(after), layout(after)), strict=True))[place] < reach - 1e-2
        assert results(after)["envelope"].state == "ok"
    assert cured >= 1
    with pytest.raises(Fault, match=r"outwards” 150.mm: without that limit they reach 2\d\d"):
        laid_primaries(with_value(tarn, making + "within_out", parse("150 mm", "length")))
    three = laid_primaries(with_value(tarn, making + "most_bends", parse("3", "count")))
    assert three.bends <= 12
    assert max(three.lengths) > max(laid_primaries(tarn).lengths)
    with pytest.raises(Fault, match="with up to 4 they are"):
        laid_primaries(with_value(tarn, making + "most_bends", parse("2", "count")))


def test_primaries_of_a_kit_of_blocks(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Curved blocks of 30° on 60 mm and straight ones of 25 mm, of which there are too few: what each cylinder takes is counted as a hand
    would, on the command line and in the cut list."""
    project = with_value(without_bay(shipped.demo("tarn")), "layout.fabrication.blocks", "inch")
    straight = Stock.model_validate({"id": "k1", "kind": "block", "tube": "48.3 mm", "length": "25 mm", "count": "12"})
    curved = Stock.model_validate({"id": "k2", "kind": "arc", "tube": "48.3 mm", "radius": "60 mm", "angle": "30 °", "count": "0"})
    project = project.model_copy(update={"stock": (straight, curved)})
    path = tmp_path / "kit.zarvik.json"
    project_file.write(project, path)
    assert cli.main(["manifold", str(path)]) == 0
    said, made = capsys.readouterr().out.replace("\N{NO-BREAK SPACE}", " "), project_file.read(path)
    assert "The kit has 12 straight blocks" in said
    for primary, used in zip(made.primaries, blocks_used(made), strict=True):
        lengths = [1e3 * piece.length.si for piece in primary.pieces if piece.kind == "straight"]
        turns = [math.degrees(piece.angle.si) for piece in primary.pieces if piece.kind == "bend"]
        assert all(length / 25.0 == pytest.approx(round(length / 25.0), abs=1e-3) for length in lengths[:-1])
        assert all(turn / 30.0 == pytest.approx(round(turn / 30.0), abs=1e-3) for turn in turns[:-1])
        assert used.straights == (sum(math.ceil(length / 25.0 - 0.01) for length in lengths),)
        assert used.curved == (sum(math.ceil(turn / 30.0 - 0.01) for turn in turns),)
        assert f"Cylinder {used.cylinder}: {used.straights[0]} straight, {used.curved[0]} of R 60 mm" in said
    assert "Modelling blocks" in bench_lists.cuts(ordered_cut_list(made, all_runs(made)), made)
    assert not ordered_cut_list(made, all_runs(made)).faults
    assert not blocks_used(with_value(made, "layout.fabrication.blocks", "free"))
    # Longer blocks in the same kit replace shorter ones, as far as they go
    long = Stock.model_validate({"id": "k3", "kind": "block", "tube": "48.3 mm", "length": "75 mm", "count": "2"})
    more = made.model_copy(update={"stock": (*made.stock, long)})
    for before, after in zip(blocks_used(made), blocks_used(more), strict=True):
        assert after.straights[0] + 3 * after.straights[1] == before.straights[0]
        threes = [
            math.ceil(1e3 * p.length.si / 25.0 - 0.01) // 3 for p in more.primaries[before.cylinder - 1].pieces if p.kind == "straight"
        ]
        assert after.straights[1] == min(sum(threes), 2)
    assert any("straight of 75\N{NO-BREAK SPACE}mm" in line for line in block_lines(more)) == any(u.straights[1] for u in blocks_used(more))


def test_a_straight_of_blocks_by_hand() -> None:
    """The fewest blocks, by hand: 9 steps of 25 mm are 75 + 75 + 75; with one of those left 75 + 6 × 25; 20 and 30 mm make 60 of two."""
    kit = Kit((0.025, 0.05, 0.075), (), (0, 0, 0), ())
    assert kit.made_of(0.225, (99, 99, 99)) == (0, 0, 3)
    assert kit.made_of(0.225, (99, 0, 1)) == (6, 0, 1)
    assert kit.made_of(0.175, (99, 99, 99)) == (0, 2, 1) or sum(kit.made_of(0.175, (99, 99, 99))) == 3
    assert kit.made_of(0.030, (99, 0, 0)) == (2, 0, 0)  # the second one is cut
    assert kit.made_of(0.225, (2, 0, 0)) == (0, 0, 3)  # none left: as many as are wanted
    assert kit.made_of(0.0, (9, 9, 9)) == (0, 0, 0)
    assert Kit((0.02, 0.03), (), (0, 0), ()).made_of(0.06, (9, 9)) == (0, 2)


def placed(project: Project, name: str) -> Placed:
    return next(one for one in placed_objects(project) if one.obstacle.name == name)


def test_sizes_from_faces_of_other_objects() -> None:
    """As a tape is held: from face to face, along each axis from what it is said to be measured from; what the others are good to adds."""
    wall = {"length": "20 mm", "width": "1 m", "height": "600 mm", "heading": "90 °", "along": "500 mm", "measured": "tape"}
    project, _ = new_object(shipped.demo("moth"), "panel", name="Firewall", **wall)
    sizes = {"length": "200 mm", "width": "100 mm", "height": "150 mm", "measured": "tape"}
    place = {"along": "-80 mm", "along_from": "firewall", "up": "40 mm", "up_from": "Rail", "out": "-30 mm"}
    project, _ = new_object(project, "battery", name="Box", **sizes, **place)
    rail = {"length": "1 m", "width": "60 mm", "height": "100 mm", "up": "-300 mm", "measured": "eye"}
    project, key = new_object(project, "metal", name="Rail", **rail)
    box = placed(project, "Box")
    low, high = extent(box.obstacle.bodies)
    assert high[0] == pytest.approx(0.49 - 0.08)  # its far face 80 mm before the near face of the firewall, which is 20 mm thick
    assert low[1] == pytest.approx(-0.25 + 0.04)
    assert box.middle[2] == pytest.approx(-0.03)
    assert box.obstacle.slack == pytest.approx(math.sqrt(0.005**2 + 0.005**2 + 0.03**2))
    assert box.obstacle.sure
    # The other way round nothing has a place: said, and taken as not measured
    project = with_value(project, f"bay_objects.{key}.up_from", "box")
    around = [placed(project, name).obstacle for name in ("Box", "Rail")]
    assert any("measured from what is measured from it" in one.faults[0] for one in around if one.faults)
    missing = with_value(project, f"bay_objects.{key}.up_from", "Subframe")
    assert placed(missing, "Rail").obstacle.faults == ("there is no “Subframe” in the engine bay",)
    assert placed(missing, "Rail").obstacle.slack == 0.06
    assert not placed(missing, "Rail").obstacle.sure
    said = [one for one in answer(assemble(missing), ()).check_results if one.id == "bay_unsure"]
    assert any("fault" in dict(one.text.figures) for one in said)


def test_a_place_by_tapes() -> None:
    """A hose 700 mm from one mark, and so on: the lengths were worked out from where it is; two tapes do with its height."""
    project = shipped.demo("moth")
    marks = {"Tower": (0.5, 0.1, 0.5), "Latch": (-0.6, 0.2, 0.1), "Bolt": (0.1, -0.4, 0.6)}
    for name, place in marks.items():
        values = {axis: f"{1e3 * value:g} mm" for axis, value in zip(("along", "up", "out"), place, strict=True)}
        project, _ = new_object(project, "metal", name=name, shape="mark", measured="tape", **values)
    there = np.array([0.12, -0.05, 0.31])
    lengths = {name: 1e3 * np.linalg.norm(there - place) for name, place in marks.items()}
    tapes = "; ".join(f"{name} {length:.1f}" for name, length in lengths.items())
    near_it = {"along": "100 mm", "up": "-50 mm", "out": "300 mm"}
    sizes = {"shape": "cylinder", "length": "80 mm", "diameter": "40 mm", "measured": "no"}
    project, key = new_object(project, "hose", name="Hose", tapes=tapes, **sizes, **near_it)
    hose = placed(project, "Hose")
    assert hose.middle == pytest.approx(there, abs=2e-4)
    assert hose.obstacle.sure
    assert 0.005 <= hose.obstacle.slack < 0.03
    assert not placed(project, "Tower").obstacle.bodies
    two = with_value(project, f"bay_objects.{key}.tapes", f"tower {lengths['Tower']:.1f}mm; latch {lengths['Latch'] / 25.4:.3f} in")
    assert placed(two, "Hose").middle == pytest.approx(there, abs=1e-3)
    port = float(np.linalg.norm(there - layout(project).ports[1].origin))
    by_port = with_value(project, f"bay_objects.{key}.tapes", tapes + f"; port 2 {1e3 * port:.1f}")
    assert placed(by_port, "Hose").middle == pytest.approx(there, abs=5e-4)
    wrong = with_value(project, f"bay_objects.{key}.tapes", tapes.replace(f"{lengths['Tower']:.1f}", "40"))
    assert "cannot both be right" in placed(wrong, "Hose").obstacle.faults[0]
    for text in ("Tower", "Tower many", "Tower 20 m", "820"):
        with pytest.raises((EntryError, ValueError), match="tape"):
            BayObject(id="a", tapes=text)


def test_plates_hulls_and_belts() -> None:
    corners = "0 0 500; 200 0 500; 200 300 500; 0 300 500"
    project, _ = new_object(shipped.demo("moth"), "panel", shape="plate", points=corners, thickness="4 mm", name="P")
    project, _ = new_object(project, "engine", shape="hull", points="0 0 0; 100 0 0; 0 100 0; 0 0 100; 100 100 100", name="H")
    pulleys = "-300 0 160; -100 0 60; -200 -90 70 back"
    project, _ = new_object(project, "belt", shape="belt", along="-90 mm", width="20 mm", pulleys=pulleys, name="B")
    low, high = extent(placed(project, "P").obstacle.bodies)
    assert (low[2], high[2]) == pytest.approx((0.498, 0.502))
    assert extent(placed(project, "H").obstacle.bodies)[1] == pytest.approx([0.1, 0.1, 0.1])
    belt = placed(project, "B").obstacle
    assert len(belt.bodies) == 6
    assert belt.belt is not None
    results = {one.id for one in answer(assemble(project), ()).check_results}
    assert "bay_belt" in results
    assert project_file.loads(project_file.dumps(project)).bay_objects == project.bay_objects
    for values, words in (
        ({"shape": "plate", "points": ""}, "no points"),
        ({"shape": "plate", "points": "0 0 0; 1 0 0; 2 0 0"}, "one line"),
        ({"shape": "hull", "points": "0 0 0; 100 0 0; 0 100 0"}, "one plane"),
        ({"shape": "belt"}, "no pulleys"),
        ({"shape": "belt", "pulleys": "0 0 100; 0 20 100"}, "overlap"),
        ({"shape": "scan"}, "no scan"),
        ({"shape": "scan", "skin": "x", "aligned": ""}, None),
    ):
        if words is None:
            with pytest.raises((EntryError, ValueError), match="damaged"):
                BayObject.model_validate({"id": "a", **values})
            continue
        one, _ = new_object(shipped.demo("moth"), "metal", **values)
        assert words in placed_objects(one)[0].obstacle.faults[0]


def test_what_moves_comes_nearer() -> None:
    """A lid that swings past the cold pipe, and an engine that rolls: nearer than at rest by what a hand calculation says."""
    project = without_bay(shipped.demo("tarn"))
    pipe = layout(project).line("cold_pipe")
    assert pipe is not None
    high = max(part.at(0.5).origin[1] + 0.5 * part.segment.outside for part in pipe.placed)
    sizes = {"length": "4 m", "width": "4 m", "height": "4 mm", "up": f"{1e3 * high + 102:.1f} mm"}
    project, key = new_object(project, "hood", name="Lid", measured="tape", **sizes, slide="0 -60 0")
    space = space_of(project)
    found = next(one for one in near(layout(project), obstacles_of(project), space.cooler) if one.line == "cold_pipe")
    assert found.moving
    assert found.gap == pytest.approx(0.04, abs=0.002)
    still = with_value(project, f"bay_objects.{key}.slide", "")
    rests = next(one for one in near(layout(still), obstacles_of(still), space.cooler) if one.line == "cold_pipe")
    assert rests.gap == pytest.approx(0.1, abs=0.002)
    assert not rests.moving
    # An engine that rolls by 2 degrees moves what is 0.4 m from its crank by 14 mm
    lower = with_value(still, f"bay_objects.{key}.up", parse(f"{1e3 * high + 62} mm", "length"))
    rolling = with_value(lower, "layout.head.roll", parse("2 °", "angle"))
    space = space_of(rolling)
    rolled = next(one for one in near_of(space, layout(rolling), obstacles_of(rolling)) if one.line == "cold_pipe")
    assert rolled.moving
    assert 0.03 < rolled.gap < 0.057
    assert rolled.obstacle.room == pytest.approx(0.015 + 0.005 + 0.004)
    assert rests.obstacle.room == pytest.approx(0.015 + 0.005 + 0.012)
    turning, _ = new_object(project, "metal", turns="up", turn_to="90 °", pivot="100 0 0", length="200 mm", width="20 mm", height="20 mm")
    motion = placed_objects(turning)[-1].obstacle.motion
    assert motion is not None
    assert motion.pivot == pytest.approx([0.1, 0.0, 0.0])


def test_a_pipe_keeps_clear_of_what_moves() -> None:
    project = tarn_in_its_bay()
    sizes = {"length": "250 mm", "width": "30 mm", "height": "30 mm", "measured": "tape"}
    place = {"along": "620 mm", "up": "-300 mm", "out": "200 mm", "turns": "up", "turn_from": "-40 °", "turn_to": "40 °"}
    project, _ = new_object(project, "metal", name="Lever", **sizes, **place)
    project = with_value(project, "layout.head.roll", parse("3 °", "angle"))
    changed = with_route(project, "exhaust", list(routes(project, "exhaust"))[-1])
    for one in near_of(space_of(changed), layout(changed), obstacles_of(changed)):
        if one.line == "exhaust":
            assert one.gap > one.obstacle.room - 1e-3, one.obstacle.name


def test_a_scan_in_inches_is_put_in_its_place(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """An invented firewall with a shelf, scanned somewhere else, in inches: three points bring it where it was made, and the exhaust keeps
    clear of it. STL, OBJ and PLY say the same."""
    shelf = trimesh.creation.box([200, 40, 1200]).apply_translation([-100, -200, 0])
    wall = trimesh.util.concatenate([trimesh.creation.box([20, 700, 1200]), shelf])
    for _ in range(3):
        wall = wall.subdivide()
    wall.apply_translation([760, -60, -100])
    away = trimesh.transformations.rotation_matrix(0.9, [0.2, 0.9, 0.1])
    away[:3, 3] = [900, -300, 200]
    marks = np.array([[750, 290, 500], [750, -410, -700], [550, -240, 500.0]])
    seen = trimesh.transform_points(marks, away)
    scanned = wall.copy()
    scanned.apply_transform(away)
    scanned.apply_scale(1.0 / 25.4)
    aligned = "; ".join(" ".join(f"{n:.1f}" for n in (*a, *b)) for a, b in zip(seen, marks, strict=True))
    extents = []
    for kind in ("stl", "obj", "ply"):
        path = tmp_path / f"wall.{kind}"
        scanned.export(path)
        project, found = with_scan(tarn_in_its_bay(), path, kind="panel")
        assert found.unit == "in"
        key = project.bay_objects[-1].id
        project = with_value(project, f"bay_objects.{key}.aligned", aligned)
        extents.append(np.array(extent(placed_objects(project)[-1].obstacle.bodies)))
        assert extents[-1] == pytest.approx(1e-3 * np.array(wall.bounds), abs=2e-3)
    obstacle = obstacles_of(project)[-1]
    assert not obstacle.faults
    path, out = tmp_path / "t.zarvik.json", tmp_path / "s.zarvik.json"
    project_file.write(tarn_in_its_bay(), path)
    assert cli.main(["scan", str(path), str(tmp_path / "wall.stl"), str(out), "--kind", "panel"]) == 0
    assert "taken as in" in capsys.readouterr().out
    assert project_file.read(out).bay_objects[-1].shape == "scan"
    assert cli.main(["scan", str(path), str(tmp_path / "no.stl")]) == 2
    (tmp_path / "torn.stl").write_bytes((tmp_path / "wall.stl").read_bytes()[:900])
    axes = "".join(f"property float {axis}\n" for axis in "xyz")
    (tmp_path / "cloud.ply").write_text(f"ply\nformat ascii 1.0\nelement vertex 1\n{axes}end_header\n1 2 3\n")
    (tmp_path / "words.obj").write_text("v one two\nf 1 2 3\n")
    for name in ("torn.stl", "cloud.ply", "words.obj"):
        assert cli.main(["scan", str(path), str(tmp_path / name)]) == 2
    assert cli.main(["scan", str(path), str(tmp_path / "wall.stl"), "--kind", "lid"]) == 2
    # A project with the wall in the place of its own firewall
    for key in [one.id for one in project.bay_objects if one.name == "Firewall"]:
        project = without_object(project, key)
    changed = with_route(project, "exhaust", list(routes(project, "exhaust"))[-1])
    gaps = [one for one in near_of(space_of(changed), layout(changed), obstacles_of(changed)) if one.line == "exhaust"]
    assert any(one.obstacle.name == "wall" for one in gaps)
    assert all(one.gap > one.obstacle.room - 1e-3 for one in gaps)


def test_a_hostile_bay_raises_nothing() -> None:
    dice = np.random.default_rng(11)
    for number in range(12):
        project = shipped.demo("tarn")
        names = [f"N{k}" for k in range(6)]
        for name in names:
            shape = dice.choice(["box", "cylinder", "tube", "plate", "hull", "belt", "mark", "scan"])
            points = "; ".join(" ".join(str(int(n)) for n in dice.integers(-400, 400, 3)) for _ in range(int(dice.integers(2, 9))))
            pulleys = "; ".join(f"{dice.integers(-300, 0)} {dice.integers(-200, 200)} {dice.integers(1, 200)}" for _ in range(3))
            tapes = "; ".join(f"{dice.choice(names)} {dice.integers(10, 900)}" for _ in range(3))
            values = {"shape": str(shape), "points": points, "pulleys": pulleys, "tapes": tapes}
            values |= {"along_from": str(dice.choice(["", *names])), "up_from": str(dice.choice(["", "", *names]))}
            values |= {
                "turns": str(dice.choice(["", "up"])),
                "turn_to": f"{dice.integers(-180, 180)} °",
                "slide": str(dice.choice(["", "0 900 0"])),
            }
            project, _ = new_object(project, str(dice.choice(["unknown", "hose", "hood"])), name=name, **values)
        if number % 2:
            project = with_value(project, "layout.head.roll", parse(f"{dice.integers(0, 15)} °", "angle"))
        found = near_of(space_of(project), layout(project), obstacles_of(project))
        assert all(math.isfinite(one.gap) and np.all(np.isfinite(one.other)) for one in found)


def test_tarn_is_built_in_its_own_bay(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """The demo's bay of more than thirty objects and an engine that rolls: nothing is too near, cold, hot or moved; every joint is got at,
    everything goes in, and the primaries have no half turns."""
    project = shipped.demo("tarn")
    assert len(project.bay_objects) >= 30
    assert project.layout.head.roll.si > 0.0
    near_by = near_of(space_of(project), layout(project), obstacles_of(project))
    assert near_by
    assert all(one.gap >= one.obstacle.room for one in near_by)
    work = bay_work(project)
    assert all(reach.spare > 0.0 for reach in work.reaches)
    assert not work.order.stuck
    assert {step.part.key.partition("|")[0] for step in work.order.steps} >= {
        "exhaust",
        "cold_pipe",
        "hot_pipe",
        "intake",
        "turbo:0",
        "manifold:0",
    }
    angles = [piece.angle.si for primary in project.primaries for piece in primary.pieces if piece.kind == "bend"]
    assert max(angles) < math.radians(121.0)
    assert len(angles) / 4 <= 4.0
    path = tmp_path / "tarn.zarvik.json"
    project_file.write(project, path)
    assert cli.main(["bay", str(path)]) == 0
    assert "▲" not in capsys.readouterr().out


def test_the_work_in_a_bay_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path, out = tmp_path / "tarn.zarvik.json", tmp_path / "bay.csv"
    project_file.write(tarn_in_its_bay(), path)
    assert cli.main(["bay", str(path)]) == 1  # the exhaust runs into things, as entered
    said = capsys.readouterr().out
    assert "▲ Steering shaft  Exhaust  −39.3\xa0mm of 55" in said
    assert "screw at" in said
    assert "over its studs" in said
    assert "Turbine flange, Turbine outlet" in said
    assert cli.main(["bay", str(path), "--out", str(out)]) == 0
    assert out.read_text().startswith("Clearances,,\n")
    assert cli.main(["bay", str(path), "--out", str(out)]) == 2
    assert cli.main(["bay", str(tmp_path / "none.json")]) == 2
    moth = tmp_path / "moth.zarvik.json"
    project_file.write(shipped.demo("moth"), moth)
    assert cli.main(["bay", str(moth)]) == 0


def test_primaries_of_a_made_up_v8_in_a_scanned_bay(tmp_path: Path) -> None:
    """A V engine with eight cylinders in a tub of firewall and rails that was scanned: two to four bends each, none above 120 degrees,
    equal on both banks, clear of the scan."""
    project = shipped.demo("fell").model_copy(update={"primaries": ()})
    project = with_value(with_value(project, "engine.cylinders", parse("8", "count")), "layout.head.order", "")
    boxes = (((760, -60, -300), (20, 760, 1500)), ((200, -260, 330), (1500, 110, 70)), ((200, -260, -930), (1500, 110, 70)))
    tub = trimesh.util.concatenate([trimesh.creation.box(size).apply_translation(place) for place, size in boxes])
    tub.subdivide().subdivide().export(tmp_path / "tub.ply")
    project, _ = with_scan(project, tmp_path / "tub.ply", kind="panel")
    marks = "; ".join(f"{place} = {place}" for place in ("760 320 450", "-550 -260 330", "200 -260 -930"))
    project = with_value(project, f"bay_objects.{project.bay_objects[-1].id}.aligned", marks)
    made = laid_primaries(project)
    changed = made.project
    assert "8 primaries" in made.words
    found, space = layout(changed), space_of(changed)
    lengths = [line.length for line in found.primaries]
    assert len(lengths) == 8
    assert (max(lengths) - min(lengths)) / np.mean(lengths) < space.spread + 1e-6
    for line in found.primaries:
        bends = [part.segment.angle for part in line.placed if part.segment.bends]
        assert 2 <= len(bends) <= 4
        assert max(bends) < math.radians(120.5)
        assert end_miss(line) < 1.0
    assert {line.bank for line in found.primaries} == {0, 1}
    for one in near_of(space, found, obstacles_of(changed)):
        if one.line.startswith("primary"):
            assert one.gap > one.obstacle.room - 1e-3


def test_all_that_moves_in_a_bay() -> None:
    """Thirty-five objects, five of which move, and an engine that rolls: exhaust and cold pipe laid clear of all of it."""
    project = tarn_in_its_bay(moving=True)
    found = obstacles_of(project)
    assert len(found) >= 30
    assert not [one.faults for one in found if one.faults]
    assert sum(one.motion is not None for one in found) >= 5
    assert sum(one.belt is not None for one in found) == 1
    assert project.layout.head.roll.si > 0.0
    for run in ("exhaust", "cold_pipe"):
        project = with_route(project, run, next(iter(routes(project, run, heat_gaps(project, run)))))
    near_ones = near_of(space_of(project), layout(project), obstacles_of(project))
    for one in near_ones:
        if one.line in ("exhaust", "cold_pipe"):
            assert one.gap > one.obstacle.room - 1e-3, one.obstacle.name
    assert any(one.moving for one in near_ones)


def test_damaged_scans_are_said_in_one_sentence(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Bytes changed, cut out and put in at random: a scan, or one sentence; nothing else, and no traceback beside it."""
    dice = random.Random(6)
    ring = trimesh.creation.torus(0.5, 0.1, 12, 6)
    for kind in ("stl", "ply", "obj"):
        path = tmp_path / f"ring.{kind}"
        ring.export(path)
        whole = path.read_bytes()
        for _ in range(40):
            torn = bytearray(whole)
            for _ in range(dice.choice((1, 5, 60))):
                place = dice.randrange(min(300, len(torn)) if dice.random() < 0.5 else len(torn))
                if dice.random() < 0.7:
                    torn[place] = dice.randrange(256)
                else:
                    del torn[place : place + dice.randrange(1, 30)]
            path.write_bytes(torn)
            try:
                assert len(read_scan(path).mesh.triangles)
            except FileError as error:
                assert f"ring.{kind}" in str(error)
    assert "Traceback" not in capsys.readouterr().err


def test_a_bracket_holds_and_is_drilled(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """A strap as it is typed: it may touch the pipe that it holds and no other, goes into no assembly, and is drawn with its holes beside
    the wooden turbo and the cardboard intercooler; a hole at the edge and a bracket without holes are said."""
    project = without_bay(shipped.demo("tarn"))
    line = layout(project).line("cold_pipe")
    assert line is not None
    straight = max((part for part in line.placed if not part.segment.bends), key=lambda part: part.segment.length)
    middle, (forward, rise, _) = straight.at(0.5).origin, straight.first.along
    under = middle + np.array([rise, -forward, 0.0]) * (0.5 * straight.segment.outside + 0.0025)
    at = {key: f"{1e3 * value:.1f} mm" for key, value in zip(("along", "up", "out"), under, strict=True)}
    turn = {"heading": "90 °", "pitch": f"{math.degrees(math.asin(rise)):.2f} °"}
    size = {"length": "120 mm", "width": "30 mm", "height": "5 mm", **turn}
    for kind, touches in (("metal", 1), ("bracket", 0), ("hanger", 0)):
        held, key = new_object(project, kind, name="Strap", **at, **size)
        found = near_of(space_of(held), layout(held), obstacles_of(held))
        assert sum(one.gap < 0.005 for one in found) == touches
    held = with_value(held, f"bay_objects.{key}.holes", "-50 0 8.5; 50 0 8.5")
    path, goal = tmp_path / "t.zarvik.json", tmp_path / "m.svg"
    project_file.write(held, path)
    assert cli.main(["export", str(path), "--what", "mockup", "--out", str(goal)]) == 0
    said = capsys.readouterr().out
    names = [p.stem for p in tmp_path.glob("*.svg")]
    for wanted in ("dummy-turbine", "dummy-compressor", "dummy-intercooler", "bracket-1"):
        assert any(wanted in name for name in names), (wanted, names, said)
    made, faults = mockups(with_value(held, f"bay_objects.{key}.holes", "-55 0 8.5; 50 0 8.5"))
    assert not faults
    assert any("5\N{NO-BREAK SPACE}mm from an edge" in render(words, {}) for words in made[-1].about)
    _, faults = mockups(with_value(held, f"bay_objects.{key}.holes", ""))
    assert "no holes yet" in faults[0]
    with pytest.raises(EntryError):
        with_value(held, f"bay_objects.{key}.holes", "1 2")


def test_stand_ins_are_as_large_as_what_they_stand_for() -> None:
    """Both scrolls and their necks as they are drawn in space, a plate for each turbo; the openings of the cardboard intercooler where its
    pipes meet it, by the distance between both."""
    for name, count in (("tarn", 1), ("fell", 2), ("moth", 0)):
        project = shipped.demo(name)
        drawn = {one.key: one for one in mockups(project)[0]}
        assert sum(key.startswith("dummy-turbine") for key in drawn) == count
        assert ("dummy-turbine" in drawn) == (count == 1)
        space, found = space_of(project), layout(project)
        for number, body in enumerate(found.turbos[:count], 1):
            tail = f"-{number}" if count > 1 else ""
            for half, wheel, scroll in (("turbine", body.sizes.turbine, 0.92), ("compressor", body.sizes.compressor, 0.92)):
                outline = drawn[f"dummy-{half}{tail}"].paths[0].points
                left = -outline[:, 0].min() if abs(outline[:, 0].min()) < outline[:, 0].max() else outline[:, 0].max()
                assert left == pytest.approx(scroll * wheel, rel=1e-3)
                face = outline[np.isclose(outline[:, 1], outline[:, 1].max())]
                assert np.ptp(face[:, 0]) == pytest.approx(2.0 * (0.42 if half == "turbine" else 0.36) * wheel)
        if found.cooler is not None and space.cooler is not None:
            one, two = (circle for circle in drawn["dummy-intercooler"].circles)
            apart = np.abs(found.cooler[0].origin - found.cooler[1].origin)
            assert abs(one.y - two.y) == pytest.approx(apart[1] if space.cooler_in.measured else 0.0, abs=1e-6)

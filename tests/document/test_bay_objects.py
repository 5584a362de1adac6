"""The engine bay of a document: entries, common bays, pipes routed through it, from a window and from the command line."""

from __future__ import annotations

import itertools
import math
from pathlib import Path

import numpy as np
import pytest

from made_bays import tarn_in_its_bay
from zarvik import cli
from zarvik.core.answer.answer import answer
from zarvik.core.bay.clearance import near
from zarvik.core.checks.layout import GRIP, clearance, end_miss
from zarvik.core.common.sentences import Fault
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.bay.objects import new_object, obstacles_of, without_object
from zarvik.project.bay.ready import READY, usual_bay, with_ready
from zarvik.project.document.parts.bay_object import BayObject
from zarvik.project.edits.edits import with_value
from zarvik.project.layout.layout import layout, space_of
from zarvik.project.routing.heat import heat_gaps
from zarvik.project.routing.primaries import routed_primaries
from zarvik.project.routing.routes import no_way, radii_of, routes, stretch_of, with_route
from zarvik.project.units.units import parse


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
    changed, words = routed_primaries(project)
    assert changed is not None
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
    project = with_value(shipped.demo("tarn"), "layout.fabrication.primary_length", parse("520 mm", "length"))
    changed, _ = routed_primaries(project)
    assert changed is not None
    assert [one.length for one in layout(changed).primaries] == pytest.approx([0.52] * 4, rel=0.02)
    lid = new_object(shipped.demo("tarn"), "panel", name="Lid", up="90 mm", out="200 mm", length="2 m", width="2 m", height="10 mm")[0]
    none, words = routed_primaries(lid)
    assert none is None
    assert "“Lid”" in words
    with pytest.raises(Fault, match="there is none"):
        routed_primaries(shipped.demo("moth").model_copy(update={"manifold": ()}))

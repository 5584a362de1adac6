"""Several ways of a pipe, a turbo that is turned, and the bay on paper and as bodies."""

from __future__ import annotations

import math
from pathlib import Path

import ezdxf
import numpy as np
import pdfplumber
import pytest
import trimesh
from shapely import Polygon

from made_bays import tarn_in_its_bay, without_bay
from zarvik import cli
from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import answer
from zarvik.core.bay.build_bodies import cooler_bodies, engine_bodies, turbo_bodies
from zarvik.core.bay.clearance import near_of
from zarvik.core.bay.triangles import triangles_of
from zarvik.core.common.sentences import Fault
from zarvik.core.fabrication.drawing import MARK
from zarvik.core.layout.bodies import drain_tilt
from zarvik.core.solids.bodies import Body, Shape, rod
from zarvik.formats import project_file, shipped
from zarvik.formats.bench_files import bay_bodies
from zarvik.formats.scan_file import with_scan
from zarvik.project.assembly.assemble import assemble
from zarvik.project.bay.objects import new_object, obstacles_of
from zarvik.project.bay.ready import with_ready
from zarvik.project.edits.edits import with_value
from zarvik.project.fabrication.bay_sheets import bay_sheets, corners_of
from zarvik.project.layout.layout import layout, space_of
from zarvik.project.routing.alternatives import WISHES, alternatives, chosen, primary_alternatives, tried, words_of
from zarvik.project.routing.clocking import clocked, drained
from zarvik.project.units.rendering import render
from zarvik.project.units.units import parse


def test_ways_of_a_pipe_are_really_the_best_at_something() -> None:
    """Each of them clear of the bay; the shortest is the shortest, and so on; losses as a solution of its own has them."""
    project = tarn_in_its_bay()
    found = alternatives(project, "cold_pipe")
    assert len(found) >= 2
    assert {wish for one in found for wish in one.wishes} == set(WISHES)
    assert chosen(found, "length").length == min(one.length for one in found)
    assert chosen(found, "bends").bends == min(one.bends for one in found)
    assert chosen(found, "loss").loss == min(one.loss for one in found)
    assert chosen(found, "fit").pulls == min(one.pulls for one in found)
    assert [one.length for one in found] == sorted(one.length for one in found)
    for one in found:
        near = near_of(space_of(one.project), layout(one.project), obstacles_of(one.project))
        assert all(n.gap > n.obstacle.room - 1e-3 for n in near if n.line == "cold_pipe")
    best = chosen(found, "loss")
    build = assemble(best.project)
    point = prepare(build).at(build.target.speed)
    assert best.loss == pytest.approx(point.drop("cold_pipe"), rel=1e-6)
    assert "least loss" in words_of(project, best)
    kinds = {(one.bends, round(one.length, 2)) for one in found}
    assert len(kinds) == len(found)


def test_a_wish_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path, out = tmp_path / "t.zarvik.json", tmp_path / "o.zarvik.json"
    project_file.write(tarn_in_its_bay(), path)
    assert cli.main(["route", str(path), str(out), "--run", "cold_pipe", "--wish", "loss"]) == 0
    said = capsys.readouterr().out
    assert "least loss" in said
    assert "shortest" in said
    assert project_file.read(out).cold_pipe != project_file.read(path).cold_pipe


def test_sets_of_primaries_beside_each_other() -> None:
    """The first is shown at once and others while it goes on; they differ, each is best at something that it is said to be best at, and no
    entry of the document but the primaries is another."""
    project = tarn_in_its_bay()
    shown: list[int] = []
    found = primary_alternatives(project, {}, show=lambda some: shown.append(len(some)))
    assert shown[0] == 1
    assert shown == sorted(shown)
    assert len(found) > 1
    assert chosen(found, "bends").bends == min(one.bends for one in found)
    assert chosen(found, "length").length == min(one.length for one in found)
    assert len({(one.bends, round(one.length, 2)) for one in found}) == len(found)
    for one in found:
        assert one.shortest <= one.length < 1.021 * one.shortest
        assert one.project.layout == project.layout
        assert len(one.project.primaries) == 4
    assert "bends" in words_of(project, found[0])


@pytest.mark.parametrize("pitch", ["-90 °", "0 °", "-40 °"])
def test_a_drain_is_turned_down(pitch: str) -> None:
    """Against every degree: none has the drain nearer to straight down, but for the five degrees that it is rounded to."""
    project = with_value(shipped.demo("tarn"), "layout.turbo.pitch", parse(pitch, "angle"))
    tilt, _ = drain_tilt(layout(drained(project)).turbos[0])
    every = [
        drain_tilt(layout(with_value(project, "layout.turbo.drain", parse(f"{angle} °", "angle"))).turbos[0])[0]
        for angle in range(-180, 181, 3)
    ]
    assert tilt <= min(every) + math.radians(4.0)
    with pytest.raises(Fault, match="no turbo"):
        drained(shipped.demo("moth"))


def test_a_cover_is_turned_to_where_the_pipe_is_short() -> None:
    project = tarn_in_its_bay()
    found = clocked(project)
    assert "from straight down" in found.words
    assert "hot charge pipe" in found.words
    line = layout(found.project).line("hot_pipe")
    assert line is not None
    near = near_of(space_of(found.project), layout(found.project), obstacles_of(found.project))
    assert all(n.gap > n.obstacle.room - 1e-3 for n in near if n.line == "hot_pipe")
    before = layout(project).line("hot_pipe")
    assert before is not None
    assert line.length < before.length + 0.1


def test_triangles_of_simple_bodies() -> None:
    """Closed, turned outwards, and as large as a closed form says: the sides of a circle of 28 take 0.84 % of a cylinder."""
    dice = np.random.default_rng(3)
    axes, _ = np.linalg.qr(dice.normal(size=(3, 3)))
    for turned in (axes, axes * np.array([[1.0], [1.0], [-1.0]])):
        cases = (
            (Shape.BOX, np.array([0.1, 0.05, 0.02]), 8 * 0.1 * 0.05 * 0.02, 1e-9),
            (Shape.CYLINDER, np.array([0.05, 0.1, 0.0]), math.pi * 0.05**2 * 0.2, 0.01),
            (Shape.ROD, np.array([0.05, 0.1, 0.0]), math.pi * 0.05**2 * 0.2 + 4.0 / 3.0 * math.pi * 0.05**3, 0.03),
        )
        for shape, half, volume, slack in cases:
            corners, triangles = triangles_of(Body(name="", shape=shape, centre=np.array([1.0, 2.0, 3.0]), axes=turned, half=half))
            mesh = trimesh.Trimesh(corners, triangles, process=False)
            assert mesh.is_watertight
            assert mesh.volume == pytest.approx(volume, rel=slack)
            assert mesh.bounds.mean(axis=0) == pytest.approx([1, 2, 3], abs=1e-3)
    corners, _ = triangles_of(rod("", np.zeros(3), np.array([0, 0, 0.4]), 0.02))
    assert corners[:, 2].max() == pytest.approx(0.42)


def test_the_whole_bay_as_bodies(tmp_path: Path) -> None:
    """Read back by another library: as large as what stands in it, in millimetres."""
    project, path = tarn_in_its_bay(), tmp_path / "bay.stl"
    project_file.write(project, tmp_path / "t.zarvik.json")
    assert cli.main(["export", str(tmp_path / "t.zarvik.json"), "--what", "bay", "--out", str(path)]) == 0
    read = trimesh.load(str(path))
    every = np.vstack([corners for corners, _ in bay_bodies(project)])
    assert read.bounds == pytest.approx(1e3 * np.array([every.min(axis=0), every.max(axis=0)]), abs=0.01)
    space, found = space_of(project), layout(project)
    own = [*engine_bodies(space, found), *cooler_bodies(space, found), *turbo_bodies(found.turbos[0])]
    assert len(bay_bodies(project)) == sum(len(one.bodies) for one in obstacles_of(project)) + len(own) + sum(
        bool(line.placed) for line in found.lines
    )


def test_three_views_with_what_a_tape_needs(tmp_path: Path) -> None:
    """The corners of the pipes stand in the drawing where they stand in the car, at the scale that is said; DXF at its true size."""
    project = tarn_in_its_bay()
    path = tmp_path / "t.zarvik.json"
    project_file.write(project, path)
    top, side, front = bay_sheets(project, scaled=True)
    assert dict(top.title.figures)["scale"] == "10"
    exhaust = layout(project).line("exhaust")
    assert exhaust is not None
    corners = corners_of(exhaust)
    for part, before, after in zip(exhaust.placed, corners, corners[1:], strict=False):
        assert np.linalg.norm(after - before) > 0.0
        assert part.segment.length > 0.0
    second = corners[1]
    for sheet, (x, y) in ((top, (second[0], -second[2])), (side, (second[0], second[1])), (front, (second[2], second[1]))):
        assert any(math.hypot(one.x - 0.1 * x, one.y - 0.1 * y) < 1e-6 for one in sheet.circles), sheet.key
        names = [dict(note.words.figures)["words"] for note in sheet.notes]
        assert "E2" in names
        assert {"T", "IC", "1", "15"} <= set(names)
        assert max(sheet.size) < 0.24
    assert cli.main(["export", str(path), "--what", "bay", "--out", str(tmp_path / "b.pdf")]) == 0
    with pdfplumber.open(tmp_path / "b.pdf") as pdf:
        words = " ".join(page.extract_text() for page in pdf.pages)
    assert "From above, 1:10" in words
    assert f"E2 {1e3 * second[0]:.0f} mm".replace("-", "−") in words.replace("\xa0", " ")
    assert "11 Steering shaft" in words
    assert cli.main(["export", str(path), "--what", "bay", "--out", str(tmp_path / "b.dxf")]) == 0
    read = ezdxf.readfile(tmp_path / "b-bay-side.dxf")
    circles = [(c.dxf.center.x, c.dxf.center.y) for c in read.modelspace().query("CIRCLE")]
    assert any(math.hypot(x - 1e3 * second[0], y - 1e3 * second[1]) < 0.1 for x, y in circles)
    with pytest.raises(Fault, match="nothing is laid out"):
        empty = {run: () for run in ("intake", "hot_pipe", "cold_pipe", "exhaust", "manifold", "primaries")}
        bay_sheets(project.model_copy(update=empty), scaled=True)


def test_a_scan_on_paper_keeps_its_dents_and_holes(tmp_path: Path) -> None:
    """A ring of 600 mm, 120 mm thick: along its axis a disc with a hole, from beside it a bar with round ends; areas in closed form."""
    wide, thick = 0.3, 0.06
    trimesh.creation.torus(1e3 * wide, 1e3 * thick, major_sections=96, minor_sections=48).export(tmp_path / "ring.stl")
    project, _ = with_scan(without_bay(shipped.demo("tarn")), tmp_path / "ring.stl", kind="panel")
    outer, hole, beside = math.pi * (wide + thick) ** 2, math.pi * (wide - thick) ** 2, 4.0 * wide * thick + math.pi * thick**2
    seen = []
    for sheet in bay_sheets(project, scaled=False):
        areas = [Polygon(path.points).area for path in sheet.paths if path.closed and path.layer == MARK]
        seen.append([any(found == pytest.approx(wanted, rel=0.01) for found in areas) for wanted in (outer, hole, beside)])
        assert "1" in [dict(note.words.figures)["words"] for note in sheet.notes]
    assert sorted(seen) == [[False, False, True], [False, False, True], [True, True, False]]


def test_a_way_says_what_its_heat_harms() -> None:
    """A brake line beside the exhaust: far off nothing is said, within a hand that it needs a shield, at the pipe that it is too hot even
    behind one; bare metal minds nothing. Common practice, no source."""
    project = without_bay(shipped.demo("tarn"))
    line = layout(project).line("exhaust")
    assert line is not None
    straight = max((part for part in line.placed if not part.segment.bends), key=lambda part: part.segment.length)
    middle, across = straight.at(0.5).origin, straight.first.axes[:, 0]

    def said(kind: str, gap: float) -> str:
        place = middle + across * (0.5 * straight.segment.outside + gap + 0.005)
        at = {key: f"{1e3 * value:.1f} mm" for key, value in zip(("along", "up", "out"), place, strict=True)}
        size = dict.fromkeys(("length", "width", "height"), "10 mm")
        beside, _ = new_object(project, kind, name="Brake line", measured="tape", **at, **size)
        return words_of(beside, tried(beside, "exhaust", (2.0,), 2))

    assert "Brake" not in said("line", 0.5)
    assert "a heat shield for “Brake line”" in said("line", 0.08)
    assert "too hot for “Brake line”" in said("line", 0.006)
    assert "Brake" not in said("metal", 0.006)


def test_a_way_says_which_joints_no_tool_gets_at() -> None:
    """In Tarn's own bay a tool gets at every joint; in one across the car one lacks a centimetre, as its check says."""
    own = shipped.demo("tarn")
    assert tried(own, "exhaust", (2.0,), 2).unreached == ()
    across = with_ready(without_bay(own), "across")
    found = tried(across, "exhaust", (2.0,), 2)
    (check,) = [one for one in answer(assemble(across), ()).check_results if one.id == "bay_access"]
    assert found.unreached[0] in render(check.text, {})
    assert f"no tool at “{found.unreached[0]}”" in words_of(across, found)

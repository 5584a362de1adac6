"""Where intercooler and air filter can go: places that are free, and the pipes that follow them."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest

from made_bays import tarn_in_its_bay
from zarvik import cli
from zarvik.core.airpath.solution import prepare
from zarvik.core.bay.build_bodies import cooler_bodies, filter_bodies
from zarvik.core.bay.clearance import FILTER, near_of
from zarvik.core.checks.layout import end_miss
from zarvik.core.common.progress import unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.layout.bodies import HEAD_DEEP
from zarvik.core.solids.bodies import extent
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.bay.objects import new_object, obstacles_of
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.layout.layout import layout, space_of
from zarvik.project.routing import packaging
from zarvik.project.routing.alternatives import COOLER, words_of
from zarvik.project.routing.alternatives import FILTER as AIR_FILTER
from zarvik.project.routing.cold_places import cooler_places, filter_places
from zarvik.project.routing.packaging import packagings
from zarvik.project.units.units import parse


def with_filter(project: Project, **values: str) -> Project:
    """A document whose air filter stands somewhere."""
    project = with_value(project, "layout.filter.placed", "measured")
    for name, text in ({"heading": "0 °", "pitch": "0 °"} | values).items():
        kind = "angle" if name in ("heading", "pitch") else "length"
        project = with_value(project, f"layout.filter.{name}", parse(text, kind))
    return project


def cylinder(length: float, radius: float, frame_origin: np.ndarray, along: np.ndarray) -> np.ndarray:
    """Points all through a cylinder behind a place, m: by chance."""
    dice = np.random.default_rng(4)
    x = np.cross(along, [0.0, 1.0, 0.0] if abs(along[1]) < 0.9 else [1.0, 0.0, 0.0])
    x /= np.linalg.norm(x)
    y = np.cross(along, x)
    back, turn, out = dice.uniform(-length, 0.0, 4000), dice.uniform(0.0, 2.0 * math.pi, 4000), radius * np.sqrt(dice.random(4000))
    return frame_origin + back[:, None] * along + (out * np.cos(turn))[:, None] * x + (out * np.sin(turn))[:, None] * y


def inside(points: np.ndarray, body) -> np.ndarray:  # type: ignore[no-untyped-def]
    """Which points lie in a box or cylinder, m."""
    local = (points - body.centre) @ body.axes.T
    if body.shape.name == "BOX":
        return np.all(np.abs(local) <= body.half, axis=1)
    # The first of its axes is that of the cylinder
    return (np.abs(local[:, 0]) <= body.half[0]) & (np.hypot(local[:, 1], local[:, 2]) <= body.half[1])


def test_the_intake_begins_at_the_filter() -> None:
    """Filter 300 mm before the compressor, in line with it: a straight intake of that length meets it, one of 80 mm more misses by 80."""
    project = shipped.demo("tarn")
    inlet = layout(project).turbos[0].air_in
    pieces = [piece for piece in project.intake if piece.kind in ("resistance", "straight")][:2]
    project = project.model_copy(update={"intake": (pieces[0], pieces[1].model_copy(update={"length": parse("300 mm", "length")}))})
    place = inlet.origin - 0.3 * inlet.along
    heading = math.degrees(math.atan2(inlet.along[0], inlet.along[2]))
    where = dict(zip(("along", "up", "out"), (f"{1e3 * v:.3f} mm" for v in place), strict=True))
    project = with_filter(project, **where, heading=f"{heading:.4f} °", pitch=f"{math.degrees(math.asin(inlet.along[1])):.4f} °")
    line = layout(project).line("intake")
    assert line is not None
    assert line.meets == "compressor"
    assert line.judged
    assert np.allclose(line.start.origin, place, atol=1e-6)
    assert end_miss(line) < 0.05
    longer = project.model_copy(update={"intake": (pieces[0], pieces[1].model_copy(update={"length": parse("380 mm", "length")}))})
    line = layout(longer).line("intake")
    assert line is not None
    assert line.missed is not None
    assert abs(line.missed.gap) == pytest.approx(0.08, abs=1e-5)


def test_how_large_a_filter_is() -> None:
    """Measured, else by its connection: 90 mm give 153 by 180 mm; common practice, no source."""
    project = with_filter(shipped.demo("tarn"))
    (body,) = filter_bodies(space_of(project))
    assert 2e3 * body.half[1] == pytest.approx(153.0)
    assert 2e3 * body.half[0] == pytest.approx(180.0)
    (body,) = filter_bodies(space_of(with_filter(project, diameter="120 mm", length="240 mm")))
    assert (2e3 * body.half[1], 2e3 * body.half[0]) == pytest.approx((120.0, 240.0))
    assert not list(filter_bodies(space_of(with_value(project, "layout.filter.placed", "free"))))


@pytest.mark.parametrize(
    ("place", "gap"),
    [
        ({"along": "0 mm", "up": "0 mm", "out": "1000 mm", "heading": "0 °"}, 100.0),  # its side: 1000 - 900, from a plate above it
        ({"along": "0 mm", "up": "0 mm", "out": "1000 mm", "heading": "0 °", "pitch": "90 °"}, 160.0),
        ({"along": "0 mm", "up": "0 mm", "out": "1000 mm", "heading": "0 °", "pitch": "-90 °"}, -40.0),
    ],
)
def test_how_near_a_filter_comes(place: dict[str, str], gap: float) -> None:
    """A filter of 120 by 200 mm under a plate whose lower face is 160 mm above its connection, by hand: lying, 160 less half of its
    diameter; hanging, 160; standing up, 160 less its length."""
    project, _ = new_object(
        with_filter(tarn_in_its_bay(), **place, diameter="120 mm", length="200 mm"),
        "panel", name="Plate", shape="box", along="0 mm", up="165 mm", out="1000 mm", length="600 mm", width="600 mm", height="10 mm",
    )  # fmt: skip
    found = near_of(space_of(project), layout(project), obstacles_of(project))
    one = next(n for n in found if n.line == FILTER and n.obstacle.name == "Plate")
    assert 1e3 * one.gap == pytest.approx(gap, abs=2.0)


def test_openings_to_one_side_stand_before_the_core() -> None:
    """Both openings of an intercooler look to the rear: its middle is half of its thickness before them; of openings at its ends it is
    between them."""
    project = shipped.demo("tarn")
    for name, (out, heading) in {"cooler_in": ("300 mm", "-90 °"), "cooler_out": ("-300 mm", "90 °")}.items():
        for key, value in {"along": "-400 mm", "up": "0 mm", "out": out}.items():
            project = with_value(project, f"layout.{name}.{key}", parse(value, "length"))
        project = with_value(project, f"layout.{name}.heading", parse(heading, "angle"))
    (core,) = cooler_bodies(space_of(project), layout(project))
    thick = project.intercooler.thickness.si
    assert core.centre == pytest.approx([-0.4 - 0.5 * thick, 0.0, 0.0], abs=1e-6)
    for name in ("cooler_in", "cooler_out"):
        project = with_value(project, f"layout.{name}.heading", parse("180 °", "angle"))
    (core,) = cooler_bodies(space_of(project), layout(project))
    assert core.centre == pytest.approx([-0.4, 0.0, 0.0], abs=1e-6)


def test_places_of_a_filter_are_free() -> None:
    """Four at least, on different sides; points all through a filter there lie in nothing that stands in the bay; within the panels; the
    name says where."""
    project = tarn_in_its_bay()
    found = filter_places(project, unwatched)
    assert len({name for name, _ in found}) >= 4
    obstacles = obstacles_of(project)
    row = 3 * 0.097
    for name, changed in found:
        space = space_of(changed)
        frame, (wide, long) = space.filter.frame, space.filter_size
        points = cylinder(long, 0.5 * wide, frame.origin, frame.along)
        for one in obstacles:
            for body in one.bodies:
                if body.shape.name in ("BOX", "CYLINDER"):
                    assert not inside(points, body).any(), (name, one.name)
        middle = frame.moved(-0.5 * long).origin
        assert -0.77 < middle[2] < 0.69
        assert middle[0] < 0.63
        # Half of a port spacing beyond the first port and the last one
        end = "Front" if middle[0] < -0.0485 else "Rear" if middle[0] > row + 0.0485 else "Beside"
        assert name.startswith(end)
        assert ("exhaust side" in name) == (middle[2] > -0.5 * HEAD_DEEP)


def test_a_filter_with_its_intake(tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    """Two places, each with an intake from filter to compressor; the loss is that of the intake; the best one from the command line."""
    monkeypatch.setattr(packaging, "CHOSEN", 2)
    project = tarn_in_its_bay()
    found = packagings(project, AIR_FILTER)
    assert len(found) == 2
    for one in found:
        line = layout(one.project).line("intake")
        assert line is not None
        assert end_miss(line) < 1.0
        build = assemble(one.project)
        assert one.loss == pytest.approx(prepare(build).at(build.target.speed).drop("intake"), rel=1e-9)
        assert one.title in words_of(project, one)
    path, out = tmp_path / "t.zarvik.json", tmp_path / "o.zarvik.json"
    project_file.write(project, path)
    assert cli.main(["route", str(path), str(out), "--run", "filter"]) == 0
    assert "Front" in capsys.readouterr().out
    assert project_file.read(out).layout.filter.placed == "measured"


def test_an_intercooler_with_its_pipes(monkeypatch: pytest.MonkeyPatch) -> None:
    """Cores in front of the radiator, of the sizes that the names say, each with both charge pipes where they must end."""
    monkeypatch.setattr(packaging, "CHOSEN", 2)
    project = tarn_in_its_bay()
    radiator = next(one for one in obstacles_of(project) if one.kind == "radiator")
    front = extent(radiator.bodies)[0][0]
    found = packagings(project, COOLER)
    assert len(found) == 2
    for one in found:
        cooler = one.project.intercooler
        size = " × ".join(f"{1e3 * value.si:.0f}" for value in (cooler.width, cooler.height, cooler.thickness))
        assert size in one.title
        (core,) = cooler_bodies(space_of(one.project), layout(one.project))
        assert core.centre[0] + core.half[0] < front
        for key in ("hot_pipe", "cold_pipe"):
            line = layout(one.project).line(key)
            assert line is not None
            assert end_miss(line) < 1.0


def test_what_cannot_be_placed_is_said() -> None:
    project = tarn_in_its_bay()
    with pytest.raises(Fault, match="no intercooler"):
        cooler_places(with_value(project, "intercooler.fitted", False), unwatched)
    with pytest.raises(Fault, match="where the throttle is"):
        cooler_places(with_value(project, "layout.throttle.placed", "free"), unwatched)
    with pytest.raises(Fault, match="no tube"):
        filter_places(project.model_copy(update={"intake": project.intake[:1]}), unwatched)
    huge = with_filter(project, diameter="600 mm", length="800 mm")
    with pytest.raises(Fault, match="No place is free"):
        filter_places(huge, unwatched)

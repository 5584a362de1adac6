"""Where the turbo can go: places that are free, and whole layouts with all pipes laid."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from made_bays import tarn_in_its_bay
from zarvik import cli
from zarvik.commands import routing
from zarvik.core.bay.build_bodies import engine_bodies
from zarvik.core.bay.clearance import COMPRESSOR, TURBINE, near
from zarvik.core.checks.layout import end_miss
from zarvik.core.common.progress import unwatched
from zarvik.core.common.sentences import Fault
from zarvik.core.layout.bodies import drain_tilt
from zarvik.formats import project_file, shipped
from zarvik.project.bay.objects import new_object, obstacles_of
from zarvik.project.layout.layout import layout, space_of
from zarvik.project.routing import packaging
from zarvik.project.routing.alternatives import TURBO, words_of
from zarvik.project.routing.packaging import packagings
from zarvik.project.routing.turbo_places import LEAST_GAP, turbo_places


def test_places_are_free_and_differ() -> None:
    """Of each kind a few; housings keep off the engine (by hand: the middle of the turbine farther out than the head face by its radius)
    and off all that stands there; the drain points down as well as it can; the flange is where the name says."""
    project = tarn_in_its_bay()
    found = turbo_places(project, unwatched)
    assert len({name for name, _ in found}) >= 4
    for name, changed in found:
        space, there = space_of(changed), layout(changed)
        turbo = there.turbos[0]
        assert turbo.gas_in.origin[1] == pytest.approx({"high": 0.16, "level": 0.0, "low": -0.16}[name.partition(",")[0].lower()], abs=1e-6)
        head = next(iter(engine_bodies(space, there)))
        outside = np.abs((turbo.turbine - head.centre) @ head.axes.T) - head.half
        assert float(np.linalg.norm(np.maximum(outside, 0.0))) > 0.5 * turbo.sizes.turbine
        housings = [one for one in near(there, obstacles_of(changed), space.cooler) if one.line in (TURBINE, COMPRESSOR)]
        assert all(one.gap >= LEAST_GAP - 1e-9 for one in housings)
        assert drain_tilt(turbo)[0] < np.radians(60.0)


def test_whole_layouts_to_choose_from(tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    """Two of different kinds, each with its primaries, exhaust and charge pipe where they must end, and a power; the one with the
    least loss is taken from the command line."""
    monkeypatch.setattr(packaging, "CHOSEN", 2)  # two are enough here
    project = tarn_in_its_bay()
    shown: list[int] = []
    found = packagings(project, TURBO, show=lambda some: shown.append(len(some)))
    assert shown == list(range(1, len(found) + 1))
    assert len(found) >= 2
    assert len({one.title for one in found}) == len(found)
    for one in found:
        assert one.title in words_of(project, one)
        assert 0.9 < one.power / found[0].power < 1.1
        assert len(one.project.primaries) == 4
        lines = layout(one.project)
        for key in ("exhaust", "hot_pipe"):
            line = lines.line(key)
            assert line is not None
            assert end_miss(line) < 1.0
        assert all(end_miss(line) < 1.0 for line in lines.primaries)
    path, out = tmp_path / "t.zarvik.json", tmp_path / "o.zarvik.json"
    project_file.write(project, path)
    monkeypatch.setattr(routing, "packagings", lambda of, run, heat: found if (of, run) == (project, TURBO) else ())  # searched once
    assert cli.main(["route", str(path), str(out), "--run", "turbo"]) == 0
    assert "least loss" in capsys.readouterr().out
    assert project_file.read(out).layout.turbo != project.layout.turbo


def test_no_place_is_said() -> None:
    with pytest.raises(Fault, match="no turbo"):
        turbo_places(shipped.demo("moth"), unwatched)
    project = tarn_in_its_bay()
    for number, out in enumerate(range(-200, 601, 100)):
        wall = {"up": "0 mm", "out": f"{out} mm", "along": "145 mm", "length": "90 mm", "width": "2 m", "height": "1.4 m"}
        project, _ = new_object(project, "panel", name=f"Wall {number}", **wall)
    with pytest.raises(Fault, match="No place is free"):
        packagings(project, TURBO)

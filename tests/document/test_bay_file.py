"""Bays and tubes as files, and the command that goes from one to the other."""

from __future__ import annotations

import copy
import json
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from zarvik import cli
from zarvik.core.solids.bodies import Shape
from zarvik.formats import bay_file
from zarvik.formats.atomic_writer import FileError

BAY: dict[str, Any] = {
    "tube_od": 42.4,
    "radii": [63.6],
    "min_straight": 12,
    "clearance": 6,
    "ports": [{"pos": [0, 0, 0], "dir": [0, 2, 0]}],
    "inlets": [{"pos": [100, 300, -300], "dir": [0, 0, -1]}],
    "end_exempt": 40,
    "obstacles": [
        {"type": "box", "name": "head", "mount": True, "center": [0, -100, 0], "size": [400, 200, 120]},
        {"type": "cylinder", "name": "filter", "center": [50, 200, -100], "axis": [0, 0, 3], "radius": 40, "length": 90},
    ],
}


def written(folder: Path, **changes: Any) -> Path:
    path = folder / "bay.json"
    path.write_text(json.dumps({**copy.deepcopy(BAY), **changes}), "utf-8")
    return path


def test_a_bay_is_read_in_si(tmp_path: Path) -> None:
    bay = bay_file.read(written(tmp_path, assignment=[0], target_length=700, gap_exempt_end=60))
    assert bay.diameter == pytest.approx(0.0424)
    assert bay.radii == pytest.approx((0.0636,))
    assert (bay.straight, bay.clearance, bay.gap, bay.bare) == pytest.approx((0.012, 0.006, 0.004, 0.04))
    assert (bay.length, bay.near_inlets, bay.gap_at_inlets, bay.tolerance) == pytest.approx((0.7, 0.06, 0.0005, 0.03))
    assert bay.angles == pytest.approx((np.radians(10), np.pi))
    assert bay.inlet_of == (0,)
    assert bay.ports[0].way == pytest.approx([0, 1, 0])
    assert bay.inlets[0].place == pytest.approx([0.1, 0.3, -0.3])
    head, filter_ = bay.bodies
    assert (head.name, head.shape, head.mounted) == ("head", Shape.BOX, True)
    assert head.half == pytest.approx([0.2, 0.1, 0.06])
    assert (filter_.shape, filter_.mounted) == (Shape.CYLINDER, False)
    assert filter_.half[:2] == pytest.approx([0.04, 0.045])
    assert filter_.axes @ filter_.axes.T == pytest.approx(np.eye(3))
    assert filter_.axes[0] == pytest.approx([0, 0, 1])


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"ports": []}, "ports"),
        ({"radii": [20]}, "no inner wall"),
        ({"bend_angle_deg": [120, 20]}, "the smallest angle of a bend is not below the largest"),
        ({"radii": []}, "radii"),
        ({"tube_od": float("nan")}, "tube_od"),
        ({"clearance": -1}, "clearance"),
        ({"ports": BAY["ports"] * 2}, "2 ports and only 1 inlets"),
        ({"assignment": [1]}, "a different inlet for every port"),
        ({"assignment": [0, 0]}, "a different inlet for every port"),
        ({"ports": [{"pos": [0, 0, 0], "dir": [0, 0, 0]}]}, "the direction of port 0 has no length"),
        ({"obstacles": [{"type": "ball", "center": [0, 0, 0]}]}, "obstacles.0"),
        ({"obstacles": [{"type": "box", "name": "skewed", "center": [0, 0, 0], "size": [1, 1, 1], "axes": [[1, 0, 0]] * 3}]}, "“skewed”"),
        ({"obstacles": [{"type": "box", "name": "battery", "center": [0, 40, 0], "size": [100, 30, 100]}]}, "“battery” is in the way"),
        ({"obstacles": [{"type": "box", "name": "fan", "center": [100, 300, -250], "size": [90, 90, 90]}]}, "at inlet 0"),
    ],
)
def test_what_is_wrong_with_a_bay_is_said(tmp_path: Path, changes: dict[str, Any], said: str) -> None:
    with pytest.raises(FileError, match=r"bay\.json") as caught:
        bay_file.read(written(tmp_path, **changes))
    assert said in str(caught.value)


@pytest.mark.parametrize("text", ["", "{", "[1, 2", "null", "[]", '{"ports": 1e999}', "[" * 5000])
def test_what_is_no_bay_is_refused(tmp_path: Path, text: str) -> None:
    path = tmp_path / "bay.json"
    path.write_text(text, "utf-8")
    with pytest.raises(FileError):
        bay_file.read(path)


def test_the_command_routes(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    bay, out = written(tmp_path), tmp_path / "tubes.json"
    assert cli.main(["route", str(bay), str(out), "--rounds", "1"]) == 0
    printed = capsys.readouterr().out.splitlines()
    assert printed[-1] == f"wrote {out}"
    route = json.loads(out.read_text("utf-8"))["routes"][0]
    assert (route["port"], route["inlet"]) == (0, 0)
    kinds = [part["type"] for part in route["segments"]]
    assert kinds == ["straight", "bend"] * (len(kinds) // 2) + ["straight"]
    length = sum(
        part["length"] if part["type"] == "straight" else part["radius"] * np.radians(part["angle_deg"]) for part in route["segments"]
    )
    assert printed[-2].split(": ")[1] == f"{length:.0f} to {length:.0f} mm, {kinds.count('bend')} bends"
    lengths = [int(line.split()[2]) for line in printed[:-1]]
    assert lengths == sorted(lengths, reverse=True)


def test_a_bay_is_routed_without_reading_a_project(tmp_path: Path) -> None:
    """The program as it is started: the same tubes and the same words as from the whole command line, bad input with the same code, and
    nothing of documents, answers or the window in memory."""
    bay, whole, quick = written(tmp_path), tmp_path / "whole.json", tmp_path / "quick.json"
    assert cli.main(["route", str(bay), str(whole), "--rounds", "1"]) == 0
    script = "import sys; from zarvik.launch import main; code = main(); print([n for n in sys.modules if 'zarvik' in n]); sys.exit(code)"

    def run(*words: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run([sys.executable, "-c", script, "route", *words], capture_output=True, text=True, check=False)

    done = run(str(bay), str(quick), "--rounds", "1")
    assert done.returncode == 0
    assert quick.read_bytes() == whole.read_bytes()
    read = done.stdout.splitlines()[-1]
    for room in ("zarvik.project.document", "zarvik.core.answer", "zarvik.window", "zarvik.cli"):
        assert room not in read
    assert f"wrote {quick}" in done.stdout
    for words, said in (
        ((str(bay), str(quick)), "exists"),
        ((str(bay),), "say where"),
        ((str(bay), "x", "--rounds", "0"), "--rounds"),
        ((), "required"),
    ):
        wrong = run(*words)
        assert wrong.returncode == 2
        assert said in wrong.stderr
        assert "Traceback" not in wrong.stderr
    assert "there is no file" in run("tarn.json", "--ru", "exhaust").stderr


def test_the_command_says_what_it_cannot(tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    bay, out = written(tmp_path), tmp_path / "tubes.json"
    out.write_text("mine", "utf-8")
    assert cli.main(["route", str(bay), str(out)]) == 2
    assert out.read_text("utf-8") == "mine"
    assert cli.main(["route", str(bay), str(tmp_path / "b"), "--rounds", "0"]) == 2
    assert cli.main(["route", str(tmp_path / "none.json"), str(tmp_path / "b")]) == 2
    assert "--rounds must be between 1 and 200" in capsys.readouterr().err
    assert cli.main(["route", str(bay), str(tmp_path / "b"), "--seconds", "nan"]) == 2


@pytest.mark.parametrize(
    ("obstacles", "said"),
    [
        ([{"type": "box", "name": "wall", "center": [0, 150, 0], "size": [9000, 20, 9000]}], "port 0 is shut in, by “wall”"),
        (
            # 40 mm between two walls, 54.4 are asked for
            [
                {"type": "box", "name": "rail", "center": [-2020, 200, 0], "size": [4000, 20, 9000]},
                {"type": "box", "name": "tower", "center": [2020, 200, 0], "size": [4000, 20, 9000]},
            ],
            "is about 14 mm too wide on the widest way, between “tower” and “rail”",
        ),
        ([], "though every port has a way that is wide enough"),
    ],
)
def test_where_there_is_no_way_the_narrowest_place_is_said(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch, obstacles: list[dict[str, Any]], said: str
) -> None:
    monkeypatch.setattr("zarvik.core.routing.search.MOST_ROUNDS", 1)
    changes = {} if obstacles else {"target_length": 20, "length_tol": 0.001}
    assert cli.main(["route", str(written(tmp_path, obstacles=obstacles, **changes)), str(tmp_path / "b")]) == 1
    printed = capsys.readouterr().out
    assert said in printed or said.replace("“tower” and “rail”", "“rail” and “tower”") in printed
    assert not (tmp_path / "b").exists()


def test_it_looks_for_as_long_as_asked(tmp_path: Path) -> None:
    """The time is looked at between tubes: four ports would go on for minutes."""
    row = [{"pos": [100 * i, 0, 0], "dir": [0, 1, 0]} for i in range(4)]
    inlets = [{"pos": [150 + 60 * (i % 2), 300, -300 + 60 * (i // 2)], "dir": [1, 0, 0]} for i in range(4)]
    bay = written(tmp_path, ports=row, inlets=inlets, obstacles=[])
    begun = time.monotonic()
    assert cli.main(["route", str(bay), str(tmp_path / "b"), "--seconds", "1"]) in (0, 1)
    assert time.monotonic() - begun < 60.0


def test_tubes_are_read_and_follow_a_change(tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    """What was written is read as it was laid; the filter 8 mm nearer moves the tube; where moving does not do, a new one is laid."""
    path, out = written(tmp_path), tmp_path / "tubes.json"
    assert cli.main(["route", str(path), str(out), "--rounds", "1"]) == 0
    bay = bay_file.read(path)
    tubes = bay_file.read_tubes(out, bay)
    again, was = bay_file.routes_tree(bay, tubes)["routes"][0]["segments"], json.loads(out.read_text("utf-8"))["routes"][0]["segments"]
    assert len(again) == len(was)
    for one, other in zip(again, was, strict=True):
        assert {k: v for k, v in one.items() if k not in ("type", "normal")} == pytest.approx(
            {k: v for k, v in other.items() if k not in ("type", "normal")}
        )
        assert one.get("normal", 0.0) == pytest.approx(other.get("normal", 0.0))
    capsys.readouterr()
    moved = copy.deepcopy(BAY["obstacles"])
    moved[1]["center"] = [50, 192, -100]
    assert cli.main(["route", str(written(tmp_path, obstacles=moved)), str(out), "--from", str(out), "--force"]) == 0
    assert len(capsys.readouterr().out.splitlines()) == 2
    monkeypatch.setattr("zarvik.commands.bay_routing.followed", lambda bay, tubes: None)
    assert cli.main(["route", str(written(tmp_path, obstacles=moved)), str(out), "--from", str(out), "--force"]) == 0
    assert "new ones" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("tree", "said"),
    [
        ({}, "has no tubes: routes"),
        ({"routes": [{"port": 1, "inlet": 0, "segments": [{"type": "straight", "length": 3}]}]}, "not one tube for each port"),
        ({"routes": [{"port": 0, "inlet": 4, "segments": [{"type": "straight", "length": 3}]}]}, "an inlet of its own"),
        (
            {"routes": [{"port": 0, "inlet": 0, "segments": [{"type": "bend", "radius": 60, "angle_deg": 90, "normal": [0, 1, 0]}]}]},
            "no length",
        ),
        (
            {"routes": [{"port": 0, "inlet": 0, "segments": [{"type": "bend", "radius": 60, "angle_deg": 9, "normal": [1, 2, 3]}] * 9}]},
            "9 bends: 8 are too many",
        ),
    ],
)
def test_tubes_that_are_none_are_refused(tmp_path: Path, tree: dict[str, Any], said: str) -> None:
    out = tmp_path / "tubes.json"
    out.write_text(json.dumps(tree), "utf-8")
    with pytest.raises(FileError, match=said):
        bay_file.read_tubes(out, bay_file.read(written(tmp_path)))

"""The cut list of the demo and of a run by hand, from the document to the command line."""

from __future__ import annotations

import csv
import io
import math
from pathlib import Path

import numpy as np
import pytest

from zarvik.cli import main
from zarvik.core.airpath.solution import prepare
from zarvik.core.ducts.pieces import KINDS
from zarvik.formats import bench_lists, project_file, shelf
from zarvik.project.assemble import assemble
from zarvik.project.cut_list import cut_list, segments_of
from zarvik.project.document import Project
from zarvik.project.edits import RUNS, put
from zarvik.project.units import parse


def test_rolls_are_shape_alone(tarn: Project) -> None:
    """A rolled bend flows as before (what the flow feels between two bends is their straight), and ends elsewhere; the
    roll is in the file and comes back."""
    rolled = put(tarn, "cold_pipe.c-back.roll", parse("-90 deg", "angle"))
    one, two = (prepare(assemble(p)).at(6400.0).power for p in (tarn, rolled))
    assert one == two
    ends = [cut_list(p, ("cold_pipe",)).runs[0].end.origin for p in (tarn, rolled)]
    assert np.linalg.norm(ends[0] - ends[1]) > 0.05
    assert project_file.loads(project_file.dumps(rolled), "x") == rolled
    assert {k for k, kind in KINDS.items() if any(p.shape for p in kind.parameters)} == {"bend", "mitre", "crush"}


def test_the_cold_pipe_by_hand(tarn: Project) -> None:
    """Two quarters of 95.25 mm with 610 mm between them, the second rolled by 90°: up the first, then to the side. What it
    holds is what the flow's own pieces hold."""
    project = put(tarn, "cold_pipe.c-back.roll", parse("90 deg", "angle"))
    run = cut_list(project, ("cold_pipe",)).runs[0]
    bend_, straight, back, *_ = run.cuts
    assert (bend_.roll, straight.roll) == (None, None) and back.roll == pytest.approx(math.pi / 2)
    assert bend_.length == pytest.approx(0.09525 * math.pi / 2) and straight.length == pytest.approx(0.61)
    radius = 0.09525
    places = {p.segment.id: p.last.origin for p in run.placed}
    # Straight pieces before the first bend shift it along; the side is that of the first bend, up where the second goes.
    before = places["c-up"] - np.array([radius, 0.0, radius])
    assert before[0] == pytest.approx(0.0, abs=1e-12) and before[1] == pytest.approx(0.0, abs=1e-12)
    assert places["c-back"] - places["c-run"] == pytest.approx([radius, radius, 0.0], abs=1e-12)
    flow = [e for e in assemble(project).runs["cold_pipe"] if e.kind in ("bend", "straight")]
    shaped = {s.id: math.pi / 4 * s.bore_in**2 * s.length for s in segments_of(project.cold_pipe)}
    for element in flow:
        assert shaped[element.id] == pytest.approx(element.volume, rel=1e-9)
    tube = 0.0602 + 2 * 0.00165
    # The hose to the throttle is clamped: two welds of three joints, and the steel is that of the three pieces.
    assert run.welds == 2 and run.weld_length == pytest.approx(2 * math.pi * tube, rel=1e-4)
    steel = math.pi * (tube - 0.00165) * 0.00165 * (0.61 + 2 * 0.09525 * math.pi / 2) * 7900.0
    assert run.mass == pytest.approx(steel, rel=1e-3) and run.cuts[-1].kind == "hose"


def test_stock_and_bends_cover_the_list(tarn: Project) -> None:
    """Every straight is cut once, no bar is cut longer than it is; every bend has one that is sold with at least its turn."""
    found = cut_list(tarn, RUNS)
    straights = [c for r in found.runs for c in r.cuts if c.kind == "straight"]
    assert sum(len(bar.pieces) for n in found.nested.values() for bar in n.bars) == len(straights)
    assert all(bar.left >= 0.0 for n in found.nested.values() for bar in n.bars)
    assert sum(found.bends.values()) == sum(c.kind == "bend" for r in found.runs for c in r.cuts)
    assert all(turn <= math.pi + 1e-9 for _, _, turn in found.bends)
    long = put(tarn, "exhaust.e-tail.length", parse("4.5 m", "length")) if any(p.id == "e-tail" for p in tarn.exhaust) else None
    if long is not None:
        assert sum(len(b.pieces) for n in cut_list(long, RUNS).nested.values() for b in n.bars) == len(straights) + 2


def test_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Text with marks, bend tables that end where the run does, files that are not overwritten; every demo has a list."""
    for name in shelf.demo_names():
        path = tmp_path / f"{name}.zarvik.json"
        path.write_text(shelf.demo_text(name), "utf-8")
        assert main(["export", str(path)]) == 0
        assert "Cut list" in capsys.readouterr().out
    path = tmp_path / "tarn.zarvik.json"
    project = put(shelf.demo("tarn"), "cold_pipe.c-back.roll", parse("-37 deg", "angle"))
    project_file.write(project, path)
    assert main(["export", str(path), "--run", "cold_pipe"]) == 0
    text = capsys.readouterr().out
    assert "scribe line 37° anticlockwise of the bend before" in text and "Before" not in text
    goal = tmp_path / "bends.csv"
    assert main(["export", str(path), "--what", "bends", "--out", str(goal)]) == 0
    assert main(["export", str(path), "--what", "bends", "--out", str(goal)]) == 2
    rows = list(csv.DictReader(io.StringIO(goal.read_text("utf-8"))))
    cold = [r for r in rows if r["run"] == "cold_pipe"]
    assert float(cold[1]["rotation_deg"]) == pytest.approx(-37.0) and float(cold[1]["feed_mm"]) == pytest.approx(610.0)
    assert bench_lists.bends(cut_list(project, RUNS)) == goal.read_text("utf-8")

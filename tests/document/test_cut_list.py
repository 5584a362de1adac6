"""The cut list of the demo and of a run by hand, from the document to the command line."""

from __future__ import annotations

import csv
import io
import math
import random
from collections import Counter
from pathlib import Path

import numpy as np
import pytest

from zarvik.cli import main
from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import answer
from zarvik.core.ducts.pieces import KINDS
from zarvik.formats import bench_lists, project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project
from zarvik.project.document.parts.layout import Stock
from zarvik.project.edits.edits import get, with_value
from zarvik.project.edits.piece_edits import insert_piece
from zarvik.project.fabrication.cut_list import cut_list
from zarvik.project.fabrication.drawings import flanges
from zarvik.project.layout.layout import all_runs, layout, segments_of
from zarvik.project.manifold.primaries import fitted_run
from zarvik.project.units.units import parse


def test_rolls_are_shape_alone(tarn: Project) -> None:
    """A rolled bend flows as before (what the flow feels between two bends is their straight), and ends elsewhere; the
    roll is in the file and comes back."""
    rolled = with_value(tarn, "cold_pipe.c-back.roll", parse("-90 deg", "angle"))
    one, two = (prepare(assemble(p)).at(6400.0).power for p in (tarn, rolled))
    assert one == two
    ends = [cut_list(p, ("cold_pipe",)).runs[0].end.origin for p in (tarn, rolled)]
    assert np.linalg.norm(ends[0] - ends[1]) > 0.05
    assert project_file.loads(project_file.dumps(rolled), "x") == rolled
    assert {k for k, kind in KINDS.items() if any(p.shape for p in kind.parameters)} == {"straight", "bend", "mitre", "crush", "reducer"}


def test_the_cold_pipe_by_hand(tarn: Project) -> None:
    """Two quarters of 95.25 mm with 580 mm between them, the second rolled by 90°: to the side of the first, then up. What
    it holds is what the flow's own pieces hold."""
    project = with_value(tarn, "cold_pipe.c-back.roll", parse("90 deg", "angle"))
    run = cut_list(project, ("cold_pipe",)).runs[0]
    cuts = {c.key: c for c in run.cuts}
    assert (cuts["c-up"].roll, cuts["c-run"].roll) == (None, None) and cuts["c-back"].roll == pytest.approx(math.pi / 2)
    assert cuts["c-up"].first == pytest.approx(math.radians(62.0)) and cuts["c-back"].first is None
    assert cuts["c-up"].length == pytest.approx(0.09525 * math.pi / 2) and cuts["c-run"].length == pytest.approx(0.58)
    radius = 0.09525
    places = {p.segment.id: p.last.origin for p in run.placed}
    side = np.array([math.cos(math.radians(62.0)), math.sin(math.radians(62.0)), 0.0])
    # Gap of the joint and leg before the first bend shift it along.
    assert places["c-up"] == pytest.approx(radius * side + [0.0, 0.0, 0.010 + 0.030 + radius], abs=1e-12)
    across = np.cross([0.0, 0.0, 1.0], side)
    assert places["c-back"] - places["c-run"] == pytest.approx(radius * side + radius * across, abs=1e-12)
    flow = [e for e in assemble(project).runs["cold_pipe"] if e.kind in ("bend", "straight")]
    shaped = {s.id: math.pi / 4 * s.bore_in**2 * s.length for s in segments_of(project.cold_pipe)}
    for element in flow:
        assert shaped[element.id] == pytest.approx(element.volume, rel=1e-9)
    tube = 0.060198 + 2 * 0.00165
    # The hose to the throttle is clamped: three welds of four pieces, and the metal is theirs.
    assert run.welds == 3 and run.weld_length == pytest.approx(3 * math.pi * tube, rel=1e-3)
    metal = math.pi * (tube - 0.00165) * 0.00165 * (0.61 + 2 * 0.09525 * math.pi / 2) * 2700.0
    assert run.mass == pytest.approx(metal, rel=1e-3) and run.cuts[-1].kind == "hose"


def test_stock_and_bends_cover_the_list(tarn: Project) -> None:
    """Every straight and every bend is cut once, no bar is cut longer than it is; a leg of a bend is not cut from tube, and
    saves its weld; what is in the shop is used before anything is bought."""
    found = cut_list(tarn, all_runs(tarn))
    assert not found.faults
    cuts = [c for r in found.runs for c in r.cuts]
    legs = [c for c in cuts if c.in_leg]
    assert [c.key for c in legs] == ["h-leg"] and sum(c.legs != (0.0, 0.0) for c in cuts) == 1
    straights = [c for c in cuts if c.kind == "straight" and not c.in_leg]
    for kind, nested in (("straight", found.nested), ("bend", found.bends)):
        bars = [bar for n in nested.values() for bar in n.bars]
        assert all(bar.left >= -1e-9 for bar in bars)
        wanted = sorted(c.length for c in (straights if kind == "straight" else [c for c in cuts if c.kind == "bend"]))
        got = sorted(size for bar in bars for size in bar.lengths)
        assert len(got) == len(wanted) and all(0.0 <= a - b <= 1.6e-3 for a, b in zip(got, wanted, strict=True))
    hot = next(r for r in found.runs if r.run == "hot_pipe")
    without = cut_list(tarn.model_copy(update={"stock": ()}), ("hot_pipe",)).runs[0]
    assert without.welds == hot.welds + 1
    shop = {bar.stock.name for n in (*found.nested.values(), *found.bends.values()) for bar in n.bars if bar.stock.count >= 0}
    assert "Return bends, second-hand" in shop and "Schedule 40, offcut" in shop
    long = with_value(tarn, "exhaust.e-tail.length", parse("4.5 m", "length"))
    parts = [s for n in cut_list(long, ("exhaust",)).nested.values() for b in n.bars for s in b.lengths]
    assert len(parts) == 3 + 2 and sum(parts) == pytest.approx(4.5 + 0.8 + 5e-3)


def test_welds_and_allowance_by_hand(tarn: Project) -> None:
    """A primary of n pieces has n + 1 seams: between them, at the flange, at the collector. What is cut from a longer bend
    is cut with the saw's allowance, a bend that is bought whole is not."""
    run = cut_list(tarn, ("primaries.c1.pieces",)).runs[0]
    assert run.welds == len(run.cuts) + 1 and not any(c.in_leg for c in run.cuts)
    assert run.weld_length == pytest.approx((len(run.cuts) + 1) * math.pi * run.cuts[0].tube, rel=1e-6)
    more = with_value(tarn, "workshop.allowance", parse("4 mm", "length"))
    less = with_value(tarn, "workshop.allowance", parse("0 mm", "length"))
    wide, tight = (sorted(s for n in cut_list(p, all_runs(p)).bends.values() for b in n.bars for s in b.lengths) for p in (more, less))
    assert len(wide) == len(tight)
    left = Counter(round(1e3 * length, 3) for length in tight)
    for length in wide:
        there = next(known for known in (round(1e3 * length - 4.0, 3), round(1e3 * length, 3)) if left[known])
        left[there] -= 1
    assert sum(wide) > sum(tight)


def test_stock_that_does_not_do_is_said(tarn: Project) -> None:
    """Nothing bought and too little there, stock shorter than any piece, pie cuts without an inner side: each is a sentence
    or is bought; nothing raises."""
    short = tarn.model_copy(update={"stock": tuple(s.model_copy(update={"length": parse("5 mm", "length")}) for s in tarn.stock)})
    found = cut_list(short, all_runs(short))
    assert not found.faults and any(b.stock.count < 0 for n in found.nested.values() for b in n.bars)
    little = with_value(tarn, "stock.s3.length", parse("60 mm", "length"))
    little = with_value(with_value(little, "stock.s3.count", parse("0", "count")), "stock.s3.price", parse("1", "money", default_unit="€"))
    nested = cut_list(little, all_runs(little)).nested
    assert next(n for tube, n in nested.items() if tube.outside == 0.0483).bars[0].stock.length == pytest.approx(0.06)
    tight, _ = insert_piece(tarn, "exhaust", 0, "mitre", radius="20 mm", cuts="4")
    faults = cut_list(tight, ("exhaust",)).faults
    assert len(faults) == 1 and "inner side" in faults[0]
    pie, key = insert_piece(tarn, "exhaust", 0, "mitre", radius="110 mm", cuts="4")
    cut = next(c for c in cut_list(pie, ("exhaust",)).runs[0].cuts if c.key == key)
    assert cut.pie is not None and cut.pie.count == 4 and cut_list(pie, ("exhaust",)).runs[0].welds >= 5


def test_a_nest_never_mixes_metals_or_walls(tarn: Project) -> None:
    """Random stock and pieces of one size in three metals and two walls: each bar is of the metal and wall of all that is cut from
    it; stock whose metal nobody knows is used only where it can be but one, and told else."""
    hand = random.Random(11)
    for _ in range(12):
        stock = tuple(
            Stock.model_validate(
                {
                    "id": f"s{n}",
                    "tube": "76.2 mm",
                    "length": f"{hand.randint(300, 1500)} mm",
                    "count": str(hand.randint(1, 3)),
                    "material": hand.choice(["", "aluminium", "stainless", "mild_steel"]),
                    "wall": hand.choice(["0 mm", "1.65 mm", "3 mm"]),
                    "note": f"n{n}",
                }
            )
            for n in range(6)
        )
        said = {s.note: s for s in stock}
        project = tarn.model_copy(update={"stock": stock})
        for piece in ("e-down", "e-mid", "e-tail"):
            project = with_value(project, f"exhaust.{piece}.material", hand.choice(["stainless", "mild_steel"]))
            project = with_value(project, f"exhaust.{piece}.wall", parse(hand.choice(["0 mm", "3 mm"]), "length"))
            project = with_value(
                project,
                f"exhaust.{piece}.bore",
                parse("70.2 mm" if get(project, f"exhaust.{piece}.wall").si > 0.0 else "72.9 mm", "length"),
            )
        found = cut_list(project, all_runs(project))
        metals = {c.material for r in found.runs for c in r.cuts if abs(c.tube - 0.0762) < 0.002 and c.kind != "hose"}
        for tube, nested in found.nested.items():
            for bar in nested.bars:
                line = said.get(bar.stock.name)
                if line is not None:
                    assert line.material == tube.material or (not line.material and metals == {tube.material})
                    assert line.wall.si == 0.0 or abs(line.wall.si - tube.wall) < 3e-4
        assert any("no material" in f for f in found.faults) is (len(metals) > 1 and any(not s.material for s in stock))


def test_a_wall_of_its_own(tarn: Project) -> None:
    """By hand: 72.9 mm of bore with 3 mm of wall is a tube of 78.9 mm; 600 mm of it weigh 7.9 pi 75.9 x 3 x 600 g."""
    thick = with_value(tarn, "exhaust.e-mid.wall", parse("3 mm", "length"))
    one, two = (next(r for r in cut_list(p, ("exhaust",)).runs) for p in (tarn, thick))
    cut = next(c for c in two.cuts if c.key == "e-mid")
    assert cut.tube == pytest.approx(0.0789) and cut.wall == pytest.approx(0.003)
    length = cut.length
    more = math.pi * 7900.0 * length * (0.0759 * 0.003 - (0.0729 + 0.00165) * 0.00165)
    assert two.mass - one.mass == pytest.approx(more, rel=1e-3)


def test_pipes_are_closed_of_what_is_there(tarn: Project) -> None:
    """Common practice, no source: a bend that is there can only be cut shorter, a moulded hose has its angle, a casting is as it is. On
    random places of the intercooler no bend grows, whatever the gap."""
    hand = random.Random(3)
    base = with_value(tarn, "layout.cooler_in.placed", "measured")
    base = with_value(base, "hot_pipe.h-in.material", "silicone")
    for _ in range(6):
        project = base
        for axis, near in (("along", -500.0), ("up", -250.0), ("out", 250.0)):
            project = with_value(project, f"layout.cooler_in.{axis}", parse(f"{near + hand.uniform(-80.0, 80.0):.0f} mm", "length"))
        made, _ = fitted_run(project, "hot_pipe")
        was, now = ({p.id: p for p in q.hot_pipe} for q in (project, made))
        assert now["h-down"].angle.si <= was["h-down"].angle.si + 1e-6
        assert now["h-in"].angle.si == was["h-in"].angle.si
        cast, _ = fitted_run(with_value(project, "hot_pipe.h-down.material", "cast"), "hot_pipe")
        fixed = {p.id: p for p in cast.hot_pipe}["h-down"]
        assert (fixed.angle.si, fixed.roll.si) == (was["h-down"].angle.si, was["h-down"].roll.si)


@pytest.mark.parametrize(
    ("one", "two", "state"),
    [
        ("stainless", "mild_steel", "ok"),
        ("aluminium", "stainless", "fails"),
        ("aluminium", "mild_steel", "fails"),
        ("cast", "stainless", "marginal"),
        ("aluminium", "cast", "fails"),
    ],
)
def test_metals_that_meet(tarn: Project, one: str, two: str, state: str) -> None:
    """Common practice, no source: aluminium welds to no iron, cast iron to steel hardly, stainless to mild steel with a 309 rod; a joint
    between them is all that it takes."""
    project = with_value(with_value(tarn, "hot_pipe.h-run.material", one), "hot_pipe.h-in.material", two)
    project = with_value(
        with_value(with_value(project, "hot_pipe.h-leg.material", one), "hot_pipe.h-down.material", one), "hot_pipe.h-stub.material", two
    )
    found = next(v for v in answer(assemble(project), ()).check_results if v.id == "weldable")
    assert found.state == state and found.about == "piece:h-in"
    joined, _ = insert_piece(project, "hot_pipe", 4, "joint", bore="47.7 mm")
    assert not [v for v in answer(assemble(joined), ()).check_results if v.id == "weldable"]


def test_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Text with marks, bend tables that end where the run does, files that are not overwritten; every demo has a list."""
    for name in shipped.demo_names():
        path = tmp_path / f"{name}.zarvik.json"
        path.write_text(shipped.demo_text(name), "utf-8")
        assert main(["export", str(path)]) == 0
        assert "Cut list" in capsys.readouterr().out
    path = tmp_path / "tarn.zarvik.json"
    project = with_value(shipped.demo("tarn"), "cold_pipe.c-back.roll", parse("-37 deg", "angle"))
    project_file.write(project, path)
    assert main(["export", str(path), "--run", "cold_pipe"]) == 0
    text = capsys.readouterr().out
    assert "scribe line 37° anticlockwise of the bend before" in text and "Before" not in text
    goal = tmp_path / "bends.csv"
    assert main(["export", str(path), "--what", "bends", "--out", str(goal)]) == 0
    assert main(["export", str(path), "--what", "bends", "--out", str(goal)]) == 2
    rows = list(csv.DictReader(io.StringIO(goal.read_text("utf-8"))))
    cold = [r for r in rows if r["run"] == "cold_pipe"]
    assert float(cold[1]["rotation_deg"]) == pytest.approx(-37.0) and float(cold[1]["feed_mm"]) == pytest.approx(580.0)
    assert bench_lists.bends(cut_list(project, all_runs(project))) == goal.read_text("utf-8")


def test_pieces_of_one_name_are_told_apart() -> None:
    """Two runs have a “Leg at the intercooler”: on the bars and in the plan each is named with its run; no two pieces are named alike."""
    for name in shipped.demo_names():
        project = shipped.demo(name)
        found = cut_list(project, all_runs(project))
        labels = [cut.label for run in found.runs for cut in run.cuts]
        assert len(set(labels)) == len(labels), name
        cut_from = [label for nested in found.names.values() for label in nested]
        assert set(cut_from) <= set(labels)  # what is longer than a bar is cut from two


def test_a_flange_that_faces_down_gets_a_stand() -> None:
    """A turbine flange square to the head: plate and side plates are drawn, their lines are on the fixture's plate in the place of posts;
    level with it, or looking away, posts hold it."""
    project = shipped.demo("skerry")
    with_stand = {drawing.key: drawing for drawing in flanges(project)[0]}
    assert {"stand-plate", "stand-side"} <= set(with_stand)
    welded = [path for path in with_stand["fixture"].paths if path.layer == "weld"]
    assert len(welded) == 2
    frame = layout(project).turbos[0].gas_in
    for path in welded:  # on the side that the gas goes to, level with the way of the gas
        assert float((path.points[1] - path.points[0]) @ frame.along[:2]) > 0.05
    assert len(with_stand["fixture"].notes) == 0
    for pitch in ("0 °", "-8 °"):
        level = {drawing.key for drawing in flanges(with_value(project, "layout.turbo.pitch", parse(pitch, "angle")))[0]}
        assert "stand-plate" not in level
        assert "fixture" in level

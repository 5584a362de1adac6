"""A pipe that is there, sawn and turned until it goes where a run goes."""

from __future__ import annotations

import math
import re
from pathlib import Path

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from zarvik import cli
from zarvik.commands import routing
from zarvik.core.checks.layout import end_miss
from zarvik.core.fabrication.reuse import Reused, reused
from zarvik.core.layout.frame import Frame, frame_looking
from zarvik.core.layout.run import Row, Segment, bend, of_table, straight
from zarvik.formats import project_file, shipped
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bent_pipe import BentPipe, rows_of
from zarvik.project.document.parts.layout import Stock
from zarvik.project.edits.edits import completed
from zarvik.project.layout.layout import layout
from zarvik.project.routing.alternatives import alternatives, words_of
from zarvik.project.routing.reuse import pipes_for
from zarvik.project.units.units import EntryError

BORE = 0.06
PIPE = of_table(rows_of("300 90; 250 45 80; 400", 0.075), BORE)


def walked(rows: list[tuple[str, float, float]], start: Frame) -> Frame:
    """Where a pipe of straights ("straight", m, 0), bends ("bend", rad, radius m) and turns ("turn", rad, 0) ends: a walk of its own, with
    SciPy's rotations; a turn is clockwise for who looks along."""
    place, turn = start.origin.copy(), Rotation.from_matrix(start.axes)
    for kind, size, radius in rows:
        if kind == "straight":
            place = place + turn.apply([0.0, 0.0, size])
        elif kind == "turn":
            turn = turn * Rotation.from_rotvec([0.0, 0.0, size])
        else:
            place = place + turn.apply([radius * (1.0 - math.cos(size)), 0.0, radius * math.sin(size)])
            turn = turn * Rotation.from_rotvec([0.0, size, 0.0])
    return Frame(place, turn.as_matrix())


def as_sawn(one: Reused, segments: tuple[Segment, ...], start: Frame, first_turn: float) -> Frame:
    """The end of a pipe that is sawn by its marks alone: as somebody at the bench does it."""
    rows: list[tuple[str, float, float]] = [("turn", first_turn, 0.0)]
    along = 0.0
    spans = [(0.0, one.before, 0.0), *((cut.at, cut.at + cut.out, cut.turn) for cut in one.cuts)]
    total = sum(s.length for s in segments)
    spans.append((total - one.behind, total, 0.0))
    for s in segments:
        if s.roll:
            rows.append(("turn", s.roll, 0.0))
        here = along
        for low, high, turn in spans:
            if not along - 1e-9 <= low < along + s.length - (1e-9 if turn == 0.0 and low == high else -1e-9):
                continue
            low, high = max(low, here), min(max(high, here), along + s.length)
            rows.append(_part(s, low - here))
            if turn:
                rows.append(("turn", turn, 0.0))
            here = high
        rows.append(_part(s, along + s.length - here))
        along += s.length
    return walked(rows, start)


def _part(s: Segment, length: float) -> tuple[str, float, float]:
    return ("bend", length / s.radius, s.radius) if s.bends else ("straight", length, 0.0)


START = frame_looking(np.array([0.2, 0.1, 0.3]), 0.4, 0.2)


@pytest.mark.parametrize(
    ("rows", "cuts"),
    [
        # As it is, 20 mm off its beginning and 90 off its end
        ("straight 0.28 bend 90 straight 0.25 turn 80 bend 45 straight 0.31", 0),
        # 50 mm out of the middle, and turned by 40° there
        ("turn 23 straight 0.28 bend 90 straight 0.2 turn 120 bend 45 straight 0.31", 1),
        # The first bend sawn to 55°, the middle turned
        ("turn 31 straight 0.2 bend 55 turn -70 straight 0.25 turn 80 bend 45 straight 0.3", 1),
    ],
)
def test_a_pipe_is_made_to_fit(rows: str, cuts: int) -> None:
    """A goal that a sawn pipe comes to is found again, with as few cuts; the pieces end there, and so does the pipe sawn by its marks."""
    words = rows.split()
    sizes = [float(size) if kind == "straight" else math.radians(float(size)) for kind, size in zip(words[::2], words[1::2], strict=True)]
    goal = walked([(kind, size, 0.075) for kind, size in zip(words[::2], sizes, strict=True)], START)
    found = reused(PIPE, START, goal)
    assert found
    assert all(len(one.cuts) == cuts for one in found)
    for one in found:
        end = walked([row for s in one.segments for row in (("turn", s.roll, 0.0), _part(s, s.length))], START)
        assert end.origin == pytest.approx(goal.origin, abs=3e-4)
        assert end.along == pytest.approx(goal.along, abs=3e-3)
        assert one.gap < 3e-4
        lengths = [s.length for s in one.segments if not s.bends]
        assert min(lengths) > 0.0149
        # No bend has become larger, and nothing longer than it was
        assert sum(s.angle for s in one.segments) <= math.radians(135.0) + 1e-9
        assert one.before + one.behind + sum(cut.out for cut in one.cuts) == pytest.approx(
            sum(s.length for s in PIPE) - sum(s.length for s in one.segments), abs=1e-6
        )


def test_cuts_are_marked_where_they_are() -> None:
    """By hand: two right angles in one plane become a Z when the middle is turned by half a turn; nothing need be taken out there."""
    pipe = (
        straight("a", 0.2, BORE),
        bend("b", 0.1, math.pi / 2, BORE),
        straight("c", 0.3, BORE),
        bend("d", 0.1, math.pi / 2, BORE),
        straight("e", 0.2, BORE),
    )
    start = Frame(np.zeros(3), np.eye(3))
    # Along 0.2 + 0.1, then aside 0.1 + 0.3 + 0.1, then along 0.1 + 0.2
    goal = Frame(np.array([0.5, 0.0, 0.6]), np.eye(3))
    best = reused(pipe, start, goal)[0]
    assert len(best.cuts) == 1
    (cut,) = best.cuts
    assert cut.at == pytest.approx(0.2 + 0.05 * math.pi + 0.15, abs=0.02)
    assert abs(cut.turn) == pytest.approx(math.pi, abs=0.01)
    assert cut.out == pytest.approx(0.0, abs=0.005)
    end = as_sawn(best, pipe, start, best.segments[1].roll)
    assert end.origin == pytest.approx(goal.origin, abs=1e-3)


def test_what_cannot_be_made_is_not() -> None:
    """Too far away; and a pipe that may not be turned at its flange, for a goal that it only comes to when it is."""
    far = Frame(START.origin + np.array([3.0, 0.0, 0.0]), START.axes)
    assert reused(PIPE, START, far) == ()
    turned = walked([("turn", 1.0, 0), *(row for s in PIPE for row in (("turn", s.roll, 0.0), _part(s, s.length)))], START)
    assert [len(one.cuts) for one in reused(PIPE, START, turned)][:1] == [0]
    fixed = reused(PIPE, START, turned, loose=False)
    assert not fixed or len(fixed[0].cuts) > 0
    with pytest.raises(ValueError, match="at least one piece"):
        reused((), START, far)


@pytest.mark.parametrize(
    ("text", "rows"),
    [
        ("300 90; 250 45 180; 400", (Row(0.3, 0.0, math.pi / 2, 0.1), Row(0.25, math.pi, math.pi / 4, 0.1), Row(0.4, 0.0))),
        ("300mm 90°;400", (Row(0.3, 0.0, math.pi / 2, 0.1), Row(0.4, 0.0))),
        ("0 90; 0 90", (Row(0.0, 0.0, math.pi / 2, 0.1), Row(0.0, 0.0, math.pi / 2, 0.1))),
        ("", ()),
    ],
)
def test_a_pipe_as_it_is_typed(text: str, rows: tuple[Row, ...]) -> None:
    assert rows_of(BentPipe("Pipe").check(text), 0.1) == pytest.approx(rows)


@pytest.mark.parametrize(
    "text", ["300", "abc", "300 200; 100", "300; 200 90", "-20 90; 100", "1 2 3 4; 5", "; ".join(["10 90"] * 13), "300 90 500; 10"]
)
def test_a_pipe_that_is_none(text: str) -> None:
    if text == "300":
        assert BentPipe("Pipe").check(text) == "300"
    else:
        with pytest.raises(EntryError, match="Pipe"):
            BentPipe("Pipe").check(text)


def with_pipe(bends: str, radius: str = "114 mm", tube: str = "76.1 mm") -> Project:
    """Tarn with a pipe from a breaker's yard."""
    line = Stock.model_validate(
        {"id": "y1", "kind": "pipe", "tube": tube, "material": "stainless", "wall": "1.6 mm", "radius": radius, "bends": bends}
    )
    project = shipped.demo("tarn").model_copy(update={"bay_objects": ()})
    return completed(project.model_copy(update={"stock": (*project.stock, line)}))


def test_a_pipe_of_the_stock_becomes_the_exhaust(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """It ends where the exhaust must end, is of its own bends, clear of the bay; the marks say where to saw; offered beside the routes."""
    project = with_pipe("150 90; 350 70 200; 1900")
    (one,) = pipes_for(project, "exhaust")
    line = layout(one.project).line("exhaust")
    assert line is not None
    assert end_miss(line) < 1.0
    bends = [piece for piece in one.project.exhaust if piece.kind == "bend"]
    assert len(bends) == 2
    assert all(piece.radius.si == pytest.approx(0.114) for piece in bends)
    assert bends[0].angle.si <= math.radians(90.1)
    assert bends[1].angle.si <= math.radians(70.1)
    assert len(one.made.cuts) <= 2
    assert sum("saw at" in mark for mark in one.marks) == len(one.made.cuts)
    assert any("after the cut" in piece.name for piece in one.project.exhaust)
    # What stands behind the tube stays
    assert [piece.kind for piece in one.project.exhaust[-2:]] == ["resistance", "mouth"]
    every = alternatives(project, "exhaust")
    found = [way for way in every if way.marks]
    assert len(found) == 1
    assert re.search(r"Pipe in stock, (one cut|two cuts): .*saw at", words_of(project, found[0]))
    path = tmp_path / "p.zarvik.json"
    project_file.write(project, path)
    assert project_file.read(path).stock[-1].bends == "150 90; 350 70 200; 1900"
    monkeypatch.setattr(routing, "alternatives", lambda of, run, heat: every if (of, run) == (project, "exhaust") else ())  # searched once
    assert cli.main(["route", str(path), "--run", "exhaust", "--wish", "bends"]) == 0
    assert "saw at" in capsys.readouterr().out


def test_other_tube_is_not_tried() -> None:
    assert pipes_for(with_pipe("150 90; 350 70 200; 1900", tube="63.5 mm"), "exhaust") == []
    assert pipes_for(with_pipe("100 90; 100"), "exhaust") == []

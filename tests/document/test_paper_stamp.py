"""The stamp of a sheet of paper: the same for the same design, another one as soon as anything of it changes."""

from __future__ import annotations

import datetime
from pathlib import Path

import pytest

from zarvik.formats import project_file, shipped
from zarvik.formats.paper_stamp import revision, stamp, today
from zarvik.project.edits.connection_edits import tick
from zarvik.project.edits.edits import with_value
from zarvik.project.variants.variants import keep


def test_a_revision_is_of_the_design_alone(tmp_path: Path) -> None:
    """Saved and read again, ticked off, kept as a variant, shown in inches: the same. A bore, a price of tube, a boost: another."""
    project = shipped.demo("tarn")
    mark = revision(project)
    assert len(mark) == 6 and set(mark) <= set("0123456789abcdef")
    project_file.write(project, tmp_path / "t.zarvik.json")
    boost, bore = project.goal.target_boost, project.cold_pipe[0].bore
    same = (
        project_file.read(tmp_path / "t.zarvik.json"),
        tick(project, "intake__filter__neck"),
        keep(project, "as it was"),
        with_value(project, "units", "inch"),
        with_value(project, "note", "anything"),
    )
    assert {revision(other) for other in same} == {mark}
    others = (
        with_value(project, "goal.target_boost", boost.with_si(1.001 * boost.si)),
        with_value(project, f"cold_pipe.{project.cold_pipe[0].id}.bore", bore.with_si(bore.si + 1e-4)),
        with_value(project, "name", "Another"),
    )
    assert len({mark, *(revision(other) for other in others)}) == 1 + len(others)


def test_the_day(monkeypatch: pytest.MonkeyPatch) -> None:
    """The day of the clock on the wall, or the one that is fixed; nonsense fixes nothing."""
    monkeypatch.delenv("SOURCE_DATE_EPOCH", raising=False)
    assert abs((datetime.date.fromisoformat(today()) - datetime.date.today()).days) <= 1
    monkeypatch.setenv("SOURCE_DATE_EPOCH", "1700000000")  # 14 November 2023, 22:13:20 UTC
    assert today() == "2023-11-14"
    assert stamp(shipped.demo("moth")).words(2, 5).endswith(f"revision {revision(shipped.demo('moth'))} · page 2 of 5")
    monkeypatch.setenv("SOURCE_DATE_EPOCH", "soon")
    assert abs((datetime.date.fromisoformat(today()) - datetime.date.today()).days) <= 1

"""The one writer of files: several files appear together or not at all."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from zarvik.formats import atomic_writer, trace_file
from zarvik.formats.bench_files import names
from zarvik.project.units.rendering import margin_text


def test_a_full_disk_leaves_every_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The second of three cannot be brought to the disk: the first has not taken its name either, and nothing is left beside them."""
    goals = [tmp_path / f"{n}.svg" for n in range(3)]
    for goal in goals:
        goal.write_text("old")
    real, calls = os.fsync, []

    def full(handle: int) -> None:
        calls.append(handle)
        if len(calls) == 2:
            raise OSError(28, "No space left on device")
        real(handle)

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(atomic_writer.FileError, match="No space left"):
        atomic_writer.write_files([(goal, b"new") for goal in goals])
    assert [goal.read_text() for goal in goals] == ["old"] * 3
    assert sorted(p.name for p in tmp_path.iterdir()) == ["0.svg", "1.svg", "2.svg"]
    monkeypatch.setattr(os, "fsync", real)
    atomic_writer.write_files([(goal, b"new") for goal in goals])
    assert [goal.read_text() for goal in goals] == ["new"] * 3


def test_nothing_is_no_file_and_a_folder_is_none(tmp_path: Path) -> None:
    """No files: nothing happens; a folder, a name with a zero in it: a sentence."""
    atomic_writer.write_files([])
    with pytest.raises(atomic_writer.FileError, match="not a file"):
        atomic_writer.write_bytes(b"x", tmp_path)
    with pytest.raises(atomic_writer.FileError):
        atomic_writer.write_bytes(b"x", tmp_path / "a\0b")


def test_how_far_past_a_limit() -> None:
    """Room with its sign, past it in words, never a nought with a sign, nothing for what has no measure."""
    assert [margin_text(m) for m in (0.123, 0.004, 0.0)] == ["+12 %", "+0.4 %", "+0.0 %"]
    assert [margin_text(m) for m in (-0.123, -0.004, -0.0001)] == ["missed by 12 %", "missed by 0.4 %", "missed by < 0.1 %"]
    assert margin_text(-0.0001, holds=True) == "+0.0 %" and margin_text(0.123, holds=True) == "+12 %"
    assert margin_text(-3.88) == margin_text(-2592.0) == "missed by far"
    assert margin_text(None) == margin_text(562.0) == margin_text(float("nan")) == ""


def test_names_of_files_that_are_asked_about(tmp_path: Path) -> None:
    """One PDF of all drawings; a file each for DXF."""
    drawings = [type("Drawn", (), {"key": key})() for key in ("head-flange", "gasket")]
    assert names(drawings, tmp_path / "d.pdf") == [tmp_path / "d.pdf"]
    assert [p.name for p in names(drawings, tmp_path / "d.dxf")] == ["d-head-flange.dxf", "d-gasket.dxf"]
    assert names(drawings[:1], tmp_path / "d.svg") == [tmp_path / "d.svg"]


def test_a_tracing_comes_back_as_it_was() -> None:
    """Empty and full; what is none is a sentence."""
    work = trace_file.loads(trace_file.dumps(trace_file.TraceWork({"name": "a"})))
    assert work.words == {"name": "a"} and not work.traces and work.ticks == {"across": None, "up": None}
    for text in ("", "[]", "null", '{"document": "zarvik-trace", "version": 1}', '{"document": "zarvik-project"}', "[" * 4000):
        with pytest.raises(atomic_writer.FileError, match="not a map tracing"):
            trace_file.loads(text)

"""The worked examples of docs/examples: the core alone, as in a notebook, and figures that were found another way."""

from __future__ import annotations

import runpy
import subprocess
import sys
from pathlib import Path

import fluids
import pytest

EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"


def test_pressure_loss() -> None:
    """Independent: friction by Colebrook as the library iterates it, the bend by the library's Rennels; within 3 %."""
    found = runpy.run_path(str(EXAMPLES / "pressure_loss.py"))
    factor = fluids.friction_factor(Re=found["reynolds"], eD=1.5e-6 / 0.0602, Method="Colebrook")
    straight = factor * 0.85 / 0.0602
    bend = fluids.bend_rounded(Di=0.0602, angle=90.0, fd=factor, bend_diameters=1.5, method="Rennels")
    assert found["drop"] == pytest.approx((straight + bend) * found["head"], rel=0.03)


def test_compressor_duty() -> None:
    """By hand: 0.95 · 203.9 kPa / (287.05 · 323 K) · 2.0 L · 6400 / 120; isentropic heating by 2.32 ^ 0.2857 over the efficiency."""
    found = runpy.run_path(str(EXAMPLES / "compressor_duty.py"))
    assert found["air"] == pytest.approx(0.95 * 203.9e3 / (287.05 * 323.0) * 2e-3 * 6400.0 / 120.0, rel=2e-3)
    assert 0.72 < found["efficiency"] < 0.80 and 0.7 < found["speed"] < 0.95
    assert found["outlet"] - 306.0 == pytest.approx(306.0 * (2.32**0.2857 - 1.0) / found["efficiency"], rel=0.01)


def test_whole_path() -> None:
    """Common practice, no source: petrol makes 9 to 10.5 hp of a pound of air a minute; the target boost stands from 3,600 rpm
    on; the charge leaves an intercooler of 72 % some 5 to 25 K over the day, the fuel that evaporates cools it below that."""
    found = runpy.run_path(str(EXAMPLES / "whole_path.py"))
    for point in found["points"]:
        assert point.closure.solved
        if point.speed >= 4000.0:
            assert point.boost == pytest.approx(1.0e5, rel=1e-6)
            assert 9.0 < point.power / 745.7 / (point.air / 0.45359237 * 60.0) < 10.5
            assert 5.0 < point.stations["cooler_outlet"].temperature - 298.15 < 40.0


def test_examples_need_the_core_alone() -> None:
    """No document, no window, no file of the user."""
    script = (
        "import runpy, sys\n"
        f"for name in ('pressure_loss', 'compressor_duty', 'whole_path'): runpy.run_path(r'{EXAMPLES}/' + name + '.py')\n"
        "print([m for m in sys.modules if m.startswith(('zarvik.', 'PySide6')) and not m.startswith(('zarvik.core', 'zarvik.data'))])\n"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"

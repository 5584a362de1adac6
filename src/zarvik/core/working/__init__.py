"""Working sheets: for a reported number the relation, the values in it, the source, and what moves
it most.

A sheet calls the same compiled relation as the solver with the values of the solved point, so its
result is the reported number or the sheet is wrong (tested). A new sheet is a function and a line in
the registry of its file.
"""

from __future__ import annotations

from zarvik.core.airpath.solution import Point, Solver
from zarvik.core.checks.verdict import Verdict
from zarvik.core.working import engine_sheets, path_sheets, turbo_sheets
from zarvik.core.working.path_sheets import piece_sheet
from zarvik.core.working.sheet import Line, Maker, Sheet

SHEETS: dict[str, Maker] = {**engine_sheets.SHEETS, **turbo_sheets.SHEETS, **path_sheets.SHEETS}


def keys(solver: Solver) -> tuple[str, ...]:
    """Keys of the sheets that this system has: those of what is not fitted are left out."""
    left_out = set()
    if solver.system.blower is not None:
        left_out = set(turbo_sheets.SHEETS) - turbo_sheets.WITHOUT_TURBO
    if solver.system.engine.fuel.octane is None:
        left_out.add("knock")
    if solver.system.cooler is None:
        left_out.add("cooler_outlet")
    return tuple(key for key in SHEETS if key not in left_out)


# The number that a verdict stands on.
_OF_VERDICT = {
    "target": "power",
    "surge": "surge",
    "choke": "choke",
    "overspeed": "wheel_speed",
    "spool": "turbine_power",
    "gate": "gate_flow",
    "back_pressure": "back_pressure",
    "exhaust_temperature": "port_temperature",
    "bottom_end": "boost",
    "big_run": "boost",
    "charge_temperature": "charge",
    "knock": "knock",
}


def of_verdict(verdict: Verdict) -> str | None:
    """Key of the sheet that shows the number a verdict stands on, None for one without a number."""
    if verdict.id in _OF_VERDICT:
        return _OF_VERDICT[verdict.id]
    bench, _, piece = verdict.about.partition(":")
    return f"piece:{piece}" if bench == "charge_pipes" and piece not in ("", "cooler") else None


def sheet(solver: Solver, point: Point, key: str) -> Sheet:
    """The sheet `key`, "piece:ID" for the loss of a piece; raises KeyError for one that this system
    does not have."""
    if key.startswith("piece:"):
        return piece_sheet(solver, point, key.removeprefix("piece:"))
    if key not in keys(solver):
        raise KeyError(key)
    return SHEETS[key](solver, point)


def sheets(solver: Solver, point: Point) -> dict[str, Sheet]:
    """All sheets of a solved point."""
    return {key: SHEETS[key](solver, point) for key in keys(solver)}


__all__ = ["SHEETS", "Line", "Sheet", "keys", "of_verdict", "piece_sheet", "sheet", "sheets"]

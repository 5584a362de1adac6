"""Working sheets: for a reported number the relation, the values in it, the source, and what moves
it most.

A sheet calls the same compiled relation as the solver with the values of the solved point, so its
result is the reported number or the sheet is wrong (tested). A new sheet is a function and a line in
the registry of its file. A key is the name of a sheet, or the name of a family and behind a colon
what it is of: `piece:c-up`, `pressure:plenum`, `run_loss:hot_pipe`.
"""

from __future__ import annotations

from zarvik.core.airpath import stations
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations import (
    air_sheets,
    bank_sheets,
    belt_sheets,
    boost_control_sheets,
    budget_sheets,
    closure_sheets,
    combustion_sheets,
    compressor_sheets,
    cooling_sheets,
    fluid_line_sheets,
    intake_sheets,
    intercooler_sheets,
    layout_sheets,
    leak_test_sheets,
    manifold_sheets,
    path_sheets,
    piece_sheets,
    power_sheets,
    range_sheets,
    towing_sheets,
    turbine_sheets,
)
from zarvik.core.calculations.sheet import BuildMaker, Family, Line, Maker, Sheet
from zarvik.core.checks.check_result import CheckResult
from zarvik.core.common.sentences import Figure
from zarvik.core.whole_build.build import Build

OF_PATH: dict[str, Maker] = {
    **power_sheets.SHEETS,
    **air_sheets.SHEETS,
    **bank_sheets.SHEETS,
    **belt_sheets.SHEETS,
    **combustion_sheets.SHEETS,
    **compressor_sheets.SHEETS,
    **turbine_sheets.SHEETS,
    **path_sheets.SHEETS,
    **intercooler_sheets.SHEETS,
    **range_sheets.SHEETS,
    **closure_sheets.SHEETS,
    **layout_sheets.SHEETS,
}
OF_BUILD: dict[str, BuildMaker] = {
    **budget_sheets.SHEETS,
    **boost_control_sheets.SHEETS,
    **manifold_sheets.SHEETS,
    **towing_sheets.SHEETS,
    **leak_test_sheets.SHEETS,
    **fluid_line_sheets.SHEETS,
    **intake_sheets.SHEETS,
    **cooling_sheets.SHEETS,
}
FAMILIES: dict[str, Family] = {**path_sheets.FAMILIES, **piece_sheets.FAMILIES, **layout_sheets.FAMILIES}


# Sheets that solve more than their own point: with the mixture of every speed
WHOLE = set(range_sheets.SHEETS) | set(boost_control_sheets.SHEETS)


def keys(build: Build) -> tuple[str, ...]:
    """Keys of the sheets that this build has, without the families: those of what is not fitted
    are left out."""
    left_out: set[str] = set()
    if build.blower is None or build.blower.belt is None:
        left_out |= set(belt_sheets.SHEETS)
    if build.blower is not None:
        left_out |= set(turbine_sheets.SHEETS) - turbine_sheets.WITH_BLOWER
        left_out |= {"turbine_drop"} | compressor_sheets.OF_MAP | range_sheets.OF_TURBO | closure_sheets.OF_TURBO
    if not any(e.kind == "crossover" for e in build.elements):
        left_out |= set(bank_sheets.SHEETS)
    if build.blower is not None or not any(e.kind == "primaries" for e in build.elements):
        left_out |= set(manifold_sheets.SHEETS)
    if not 0.0 < build.leak_test.end_pressure < build.leak_test.start_pressure:
        left_out |= set(leak_test_sheets.SHEETS)
    left_out |= fluid_line_sheets.missing(build) | intake_sheets.missing(build) | cooling_sheets.missing(build)
    train = build.train
    if train.mass <= 0.0 or build.blower is not None:
        left_out |= towing_sheets.OF_TRAIN
    if not train.brake or build.engine.fuel.spark or build.blower is not None:
        left_out |= towing_sheets.OF_BRAKE
    if not build.alone:
        left_out.add("joined")
    if build.actuator is None:
        left_out |= set(boost_control_sheets.SHEETS)
    elif not build.actuator.plumbed:
        left_out.add("plumbed_off")
    if build.engine.fuel.octane is None:
        left_out |= {"knock", "retard_power", "retard_heat"}
    if build.resources is None:
        left_out |= set(budget_sheets.SHEETS)
    space = build.space
    if space is None or len(space.primaries) < 2:
        left_out |= set(layout_sheets.SHEETS)
    if build.cooler is None:
        left_out |= set(intercooler_sheets.SHEETS)
    return tuple(key for key in (*OF_PATH, *OF_BUILD) if key not in left_out)


# Temperatures of stations that have a sheet of their own name.
_SAME = {
    f"temperature:{stations.COMPRESSOR_OUTLET}": "compressor_outlet",
    f"temperature:{stations.COOLER_OUTLET}": "cooler_outlet",
    f"temperature:{stations.EXHAUST_PORT}": "port_temperature",
}

# The number that a check stands on.
_OF_CHECK = {
    "target": "power",
    "surge": "surge",
    "choke": "choke",
    "overspeed": "overspeed",
    "spool": "threshold",
    "gate": "opening",
    "spring": "spring_off",
    "hoses": "off_signal",
    "plumbing": "plumbed_off",
    "blow_off": "blow_off_needed",
    "back_pressure": "back_pressure",
    "exhaust_temperature": "temperature:turbine_inlet",
    "bottom_end": "boost",
    "big_run": "boost",
    "charge_temperature": "charge",
    "charge_loss": "charge_share",
    "knock": "knock",
    "belt": "belt_carries",
    "belt_speed": "belt_speed",
    "money": "bill",
    "weeks": "bill_weeks",
    "drive": "torque",
    "low_gears": "torque",
    "spread": "spread",
}


def of_check(check_result: CheckResult) -> str | None:
    """Address of the sheet that shows the number a check stands on, None for one without a
    number."""
    linked = [f for _, f in check_result.text.figures if isinstance(f, Figure) and f.sheet and not f.sheet.startswith("=")]
    main = _OF_CHECK.get(check_result.id)
    found = next((f for f in linked if f.sheet == main), linked[0] if linked else None)
    return found.address if found is not None else None


def sheet(build: Build, solver: Solver, point: Point, key: str) -> Sheet:
    """The sheet `key` of a `build` at a solved `point` of its `solver`; raises KeyError for one that this build does not have."""
    key = _SAME.get(key, key)
    if key == "cooler_outlet" and build.cooler is None:
        key = f"temperature:{stations.COOLER_INLET}"
    family, _, what = key.partition(":")
    if what:
        return FAMILIES[family](solver.local(point), point, what)
    if key not in keys(build):
        raise KeyError(key)
    return _made(build, solver if key in WHOLE else solver.local(point), point, key)


def _made(build: Build, solver: Solver, point: Point, key: str) -> Sheet:
    return OF_BUILD[key](build, solver, point) if key in OF_BUILD else OF_PATH[key](solver, point)


def sheets(build: Build, solver: Solver, point: Point) -> dict[str, Sheet]:
    """All sheets of a `build` at a solved `point` of its `solver` but those of the families; what has no value is left out."""
    found = {}
    local = solver.local(point)
    for key in keys(build):
        try:
            found[key] = _made(build, solver if key in WHOLE else local, point, key)
        except KeyError:
            continue
    return found


__all__ = ["FAMILIES", "OF_BUILD", "OF_PATH", "Line", "Sheet", "keys", "of_check", "sheet", "sheets"]

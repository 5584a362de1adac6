"""Tables of the engine as text: one row a line, engine speed and value, in any unit."""

from __future__ import annotations

import re
from collections.abc import Mapping

from zarvik.core.engine.engine import torque_of_breathing
from zarvik.project.assembly.engines import core_engine
from zarvik.project.document.document import Project
from zarvik.project.document.parts.engine import TABLES, check_table
from zarvik.project.edits.edits import with_value
from zarvik.project.language.language import tr_format
from zarvik.project.units.units import KINDS, EntryError, parse, unit_of

Rows = tuple[tuple[float, float], ...]

# Speed with or without its unit, then a gap, a comma with a gap, a semicolon or a tab; the rest is
# the value. A comma inside of a number stays what it is.
_ROW = re.compile(r"\s*([\d.,]+)\s*(rpm|krpm|1/min|rev/min|r/min)?\s*(?:[;:\t]|,\s|\s)\s*(\S.*)")
MOST = 60  # rows


def _unit(kind: str, units: Mapping[str, str]) -> str:
    return units.get(kind) or KINDS[kind][0].symbol


def read(text: str, name: str, units: Mapping[str, str]) -> Rows:
    """Rows of (rev/min, SI value) of the table `name`; empty lines are passed over.

    Raises EntryError with the number of the line that cannot be read, or what is wrong with the
    whole.
    """
    kind = TABLES[name][0]
    rows: list[tuple[float, float]] = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        if len(rows) == MOST:
            raise EntryError(tr_format("line {0}: a table can have at most {1} rows", number, MOST))
        match = _ROW.fullmatch(" ".join(line.split())) if len(line) <= 200 else None
        if match is None:
            raise EntryError(tr_format("line {0}: enter an engine speed and a value, as 3000 250", number))
        try:
            speed = parse(f"{match[1].rstrip(',')} {match[2] or 'rpm'}", "rotation").si
            value = parse(match[3], kind, default_unit=_unit(kind, units)).si
            check_table(name, ((speed, value),))
        except EntryError as error:
            raise EntryError(tr_format("line {0}: {1}", number, error)) from None
        except ValueError:
            raise EntryError(tr_format("line {0}: {1}", number, _range(name, units))) from None
        if rows and speed <= rows[-1][0]:
            raise EntryError(tr_format("line {0}: engine speeds must increase from line to line", number))
        rows.append((speed, value))
    return tuple(rows)


def _range(name: str, units: Mapping[str, str]) -> str:
    kind, low, high = TABLES[name]
    unit = unit_of(kind, _unit(kind, units))
    return (
        f"the speed must lie between 100 and 20000 rpm, the value between {unit.from_si(low):.4g} "
        f"and {unit.from_si(high):.4g} {unit.symbol}"
    )


def write(rows: Rows, name: str, units: Mapping[str, str]) -> str:
    """Rows as text in the owner's unit."""
    kind = TABLES[name][0]
    unit = unit_of(kind, _unit(kind, units))
    return "\n".join(f"{s:g} rpm  {unit.from_si(v):.4g} {unit.symbol}" for s, v in rows)


def put_table(project: Project, name: str, rows: Rows) -> Project:
    """The document with another table; raises EntryError."""
    try:
        check_table(name, rows)
    except ValueError as error:
        raise EntryError(str(error)) from None
    return with_value(project, f"engine.{name}", rows)


def choose_breathing(project: Project, key: str) -> Project:
    """The document with another source of VE. A table that has no rows yet begins as what the
    engine has now, so that there is something to overwrite; raises EntryError."""
    changed = with_value(project, "engine.breathing", key)
    name = {"table": "breathing_table", "stock_torque": "stock_torque"}.get(key)
    if name is None or len(getattr(project.engine, name)) >= 2:
        return changed
    engine = core_engine(project)
    speeds = tuple(_steps(engine.idle, engine.rev_limit))
    if name == "breathing_table":
        values = tuple(round(float(engine.breathing.at(s)), 3) for s in speeds)
    else:
        values = tuple(round(t, 0) for t in torque_of_breathing(engine, speeds, project.engine.stock_boost.si))
    _, low, high = TABLES[name]
    rows = tuple((s, min(max(v, low), high)) for s, v in zip(speeds, values, strict=True))
    return put_table(changed, name, rows)


def choose_mixture(project: Project, key: str) -> Project:
    """The document with one lambda or a table of it; an empty table begins as the one lambda. Raises
    EntryError."""
    changed = with_value(project, "engine.mixture", key)
    if key != "table" or project.engine.lambda_table:
        return changed
    engine = project.engine
    value = engine.full_load_lambda.si
    return put_table(changed, "lambda_table", ((engine.idle.si, value), (engine.rev_limit.si, value)))


def choose_fuelling(project: Project, key: str) -> Project:
    """The document with fuel by lambda or by the pump; an empty table begins as the one delivery. Raises
    EntryError."""
    changed = with_value(project, "engine.fuelling", key)
    if key != "table" or len(project.engine.delivery_table) >= 2:
        return changed
    engine = project.engine
    value = engine.delivery.si
    return put_table(changed, "delivery_table", ((engine.idle.si, value), (engine.rev_limit.si, value)))


def _steps(low: float, high: float) -> list[float]:
    """Round engine speeds over the rev range, fourteen at the most."""
    first = -(-low // 500.0) * 500.0
    count = int((high - first) // 500.0) + 1
    every = max(1, -(-count // 14))
    return [first + i * 500.0 for i in range(0, count, every)]

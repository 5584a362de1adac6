"""Compressor maps as CSV, with their reference state in the header.

    # zarvik compressor map 1
    # name: 51/67
    # reference_pressure: 100 kPa
    # reference_temperature: 298 K
    # maximum_speed: 153900 rpm
    # flow_unit: kg/s            (or lb/min, m³/s, cfm, …)
    speed,flow,pressure_ratio,efficiency
    55400,0.0541,1.248,0.75

Rows may stand in any order. Efficiency is 0–1 or percent; where it stands at no point, it is taken from
islands (rows without a speed: points on lines of one efficiency), else estimated and told so.
"""

from __future__ import annotations

import csv
import io
import math
import re
import statistics
from dataclasses import dataclass
from pathlib import Path

from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.compressor.chart import CompressorMap, SpeedLine, faults
from zarvik.core.compressor.printed import PrintedMap, chart_of_printed
from zarvik.formats.atomic_writer import FileError, write_text
from zarvik.project.language.language import reason, tr_format
from zarvik.project.units.units import EntryError, parse, unit_of

COLUMNS = ("speed", "flow", "pressure_ratio", "efficiency")
ALSO = {
    "speed": ("rpm", "n", "corrected speed", "speed line", "wheel speed"),
    "flow": ("mass flow", "corrected flow", "air flow", "airflow", "m", "volume flow", "flow rate"),
    "pressure_ratio": ("pr", "pressure ratio", "ratio", "pi", "p p", "pressure"),
    "efficiency": ("eta", "eff", "isentropic efficiency", "island"),
}
LARGEST = 4 * 1024 * 1024
MOST_ROWS = 3000
MOST_LINES = 80


@dataclass(frozen=True)
class ReadMap:
    """A map as it was read; `estimated`: its efficiencies were not in the file; `notes`: what was done to the
    rows, a sentence each."""

    chart: CompressorMap
    estimated: bool = False
    notes: tuple[str, ...] = ()


def read(path: Path | str) -> CompressorMap:
    """The map in a CSV file; raises FileError with the row that is wrong."""
    return read_noted(path).chart


def read_noted(path: Path | str) -> ReadMap:
    """The map in a CSV file with what was done to it; raises FileError with the row that is wrong."""
    path = Path(path)
    try:
        if not path.is_file() and path.exists():
            raise FileError(tr_format("“{0}” is not a file", path.name))
        if path.stat().st_size > LARGEST:
            raise FileError(tr_format("“{0}” is too large for a compressor map", path.name))
        text = path.read_bytes().decode("utf-8-sig")
    except UnicodeDecodeError:
        raise FileError(tr_format("“{0}” is not a text file in UTF-8", path.name)) from None
    except OSError as error:
        raise FileError(tr_format("“{0}” cannot be read: {1}", path.name, error.strerror)) from error
    return loads_noted(text, path.name)


def loads(text: str, name: str = "the map") -> CompressorMap:
    """The map in CSV text; raises FileError with the row that is wrong."""
    return loads_noted(text, name).chart


Row = tuple[int, float, float, float, float]  # number, speed, flow, ratio, efficiency; nan: not there


def loads_noted(text: str, name: str = "the map") -> ReadMap:
    """The map in CSV text with what was done to it; raises FileError with the row that is wrong."""
    header: dict[str, str] = {}
    body: list[tuple[int, str]] = []
    for number, line in enumerate(text.splitlines(), 1):
        if line.lstrip().startswith("#"):
            key, colon, value = line.lstrip()[1:].partition(":")
            if colon:
                header[key.strip().lower()] = value.strip()
        elif line.strip():
            body.append((number, line))
    if not body:
        raise FileError(tr_format("“{0}” has no rows", name))
    if len(body) > MOST_ROWS:
        raise FileError(tr_format("“{0}” has {1} rows; the limit is {2}", name, len(body), MOST_ROWS))
    points = _rows(name, body)
    pressure = _head(name, header, "reference_pressure", "pressure_absolute", "kPa")
    temperature = _head(name, header, "reference_temperature", "temperature", "K")
    factor = _flow_factor(name, header.get("flow_unit", "kg/s"), pressure, temperature)
    points = [(n, s, m * factor, r, e) for n, s, m, r, e in points]
    return _build(name, header, points, pressure, temperature)


def _flow_factor(name: str, unit: str, pressure: float, temperature: float) -> float:
    """kg/s for one of the file's unit of flow; a volume is one of air at the map's own reference state."""
    if not 0.0 < pressure < 1e7 or not 0.0 < temperature < 1e4:
        return 1.0  # told with the other faults of the map
    try:
        return unit_of("volume_flow", unit).factor * pressure / (DRY_AIR_GAS_CONSTANT * temperature)
    except EntryError:
        pass
    try:
        return unit_of("mass_flow", unit).factor
    except EntryError as error:
        raise FileError(tr_format("“{0}”, flow_unit: {1}", name, error)) from None


def _rows(name: str, body: list[tuple[int, str]]) -> list[Row]:
    """The rows as numbers; a cell that may be empty and is, as nan."""
    delimiter = max(";\t,", key=body[0][1].count)
    try:
        text_rows = io.StringIO("\n".join(line for _, line in body))
        rows = list(csv.reader(text_rows, delimiter=delimiter))
    except csv.Error as error:
        raise FileError(tr_format("“{0}” cannot be read as a table: {1}", name, error)) from None
    if len(rows) != len(body):
        raise FileError(tr_format("“{0}” has an unclosed quotation mark", name))
    titles = [_column(title) for title in rows[0]]
    missing = [column for column in COLUMNS[:3] if column not in titles]
    if missing:
        raise FileError(
            tr_format("“{0}”, row {1}: the column {2} is missing; a map has {3}", name, body[0][0], ", ".join(missing), ", ".join(COLUMNS))
        )
    where = [titles.index(column) if column in titles else -1 for column in COLUMNS]
    found: list[Row] = []
    for (number, _), cells in zip(body[1:], rows[1:], strict=True):
        values: list[float] = []
        for column, index in zip(COLUMNS, where, strict=True):
            cell = cells[index].strip() if 0 <= index < len(cells) else ""
            if delimiter != ",":
                cell = cell.replace(",", ".")
            if not cell and column in ("speed", "efficiency"):
                values.append(math.nan)
                continue
            cell = cell.removesuffix("%").strip() if column == "efficiency" else cell
            try:
                number_read = float(cell)
            except ValueError:
                raise FileError(tr_format("“{0}”, row {1}: {2} “{3}” is not a number", name, number, column, cell)) from None
            if not math.isfinite(number_read):
                raise FileError(tr_format("“{0}”, row {1}: {2} is not a finite number", name, number, column))
            values.append(number_read)
        if math.isnan(values[0]) and math.isnan(values[3]):
            raise FileError(
                tr_format(
                    "“{0}”, row {1}: a row has a speed (a point of a line), an efficiency (a point of an island) or both", name, number
                )
            )
        found.append((number, values[0], values[1], values[2], values[3]))
    if not found:
        raise FileError(tr_format("“{0}” has no rows", name))
    return found


def _column(title: str) -> str:
    """The program's own name of a column, by what people write there."""
    plain = re.sub(r"[^a-z]+", " ", title.lower().split("[")[0].split("(")[0]).strip()
    return next((own for own, also in ALSO.items() if plain.replace(" ", "_") == own or plain in also), plain)


def _build(name: str, header: dict[str, str], points: list[Row], pressure: float, temperature: float) -> ReadMap:
    notes: list[str] = []
    efficiencies = [e for *_, e in points if e == e]
    if efficiencies and statistics.median(efficiencies) > 1.5:
        points = [(n, s, m, r, e / 100.0) for n, s, m, r, e in points]
        notes.append(tr_format("efficiency was in percent"))
    islands = [p for p in points if math.isnan(p[1])]
    groups: dict[float, list[Row]] = {}
    for row in points:
        if not math.isnan(row[1]):
            groups.setdefault(row[1], []).append(row)
    in_order = [row for speed in sorted(groups) for row in sorted(groups[speed], key=lambda q: q[2])]
    if in_order != [row for row in points if not math.isnan(row[1])]:
        notes.append(tr_format("the rows were not in order: sorted by speed, and by flow from surge to choke"))
    if len(groups) > MOST_LINES:
        raise FileError(tr_format("“{0}” has {1} speed lines; the limit is {2}", name, len(groups), MOST_LINES))
    title = header.get("name", Path(name).stem)[:80]
    maximum = _head(name, header, "maximum_speed", "rotation", "rpm", max(groups, default=0.0))
    bare = any(math.isnan(e) for _, _, _, _, e in in_order)
    if bare or islands:
        return _of_print(name, title, (pressure, temperature, maximum), groups, islands, notes, header)
    lines, numbers = [], []
    for speed in sorted(groups):
        rows = sorted(groups[speed], key=lambda q: q[2])
        numbers.append([row[0] for row in rows])
        lines.append(SpeedLine(speed, *(tuple(row[i] for row in rows) for i in (2, 3, 4))))
    chart = CompressorMap(title, pressure, temperature, maximum, tuple(lines))
    found = faults(chart)
    if found:
        first = found[0]
        row_text = ""
        if first.line:
            row_text = f", row {numbers[first.line - 1][max(first.point - 1, 0)]}"
        more = f" ({len(found) - 1} more faults)" if len(found) > 1 else ""
        raise FileError(tr_format("“{0}”{1}: {2}{3}", name, row_text, first.text, more))
    return ReadMap(chart, False, tuple(notes))


def _of_print(
    name: str,
    title: str,
    head: tuple[float, float, float],
    groups: dict[float, list[Row]],
    islands: list[Row],
    notes: list[str],
    header: dict[str, str],
) -> ReadMap:
    """A map whose efficiencies stand on islands, or nowhere."""
    by_level: dict[float, list[tuple[float, float]]] = {}
    for _, _, m, r, e in islands:
        by_level.setdefault(e, []).append((m, r))
    # What stands at points of the lines helps too.
    for rows in groups.values():
        for _, _, m, r, e in rows:
            if e == e:
                by_level.setdefault(e, []).append((m, r))
    levels = tuple((e, tuple(spots)) for e, spots in sorted(by_level.items()) if len(spots) > 1)
    try:
        peak = parse(header["peak_efficiency"], "ratio").si if "peak_efficiency" in header else 0.0
        chart, quality = chart_of_printed(
            PrintedMap(
                name=title,
                reference_pressure=head[0],
                reference_temperature=head[1],
                lines={s: [(m, r) for _, _, m, r, _ in rows] for s, rows in groups.items()},
                islands=levels,
                peak=peak,
                maximum=head[2],
            )
        )
    except (EntryError, ValueError) as error:
        raise FileError(tr_format("“{0}”: {1}", name, reason(error))) from None
    if quality.wrong:
        raise FileError(tr_format("“{0}”: {1}", name, quality.wrong[0]))
    if levels:
        notes.append(tr_format("efficiency between the islands by a smooth surface through them"))
    else:
        notes.append(tr_format("the file has no efficiencies: those of a wheel of this flow are used, good to 4 points"))
    return ReadMap(chart, not levels, tuple(notes))


def _head(name: str, header: dict[str, str], key: str, kind: str, unit: str, default: float | None = None) -> float:
    if key not in header:
        if default is not None:
            return default
        raise FileError(
            tr_format(
                "“{0}” does not give its {1}: the line “# {2}: …” is missing, and flows have no meaning without it",
                name,
                key.replace("_", " "),
                key,
            )
        )
    try:
        return parse(header[key], kind, default_unit=unit).si
    except EntryError as error:
        raise FileError(tr_format("“{0}”, {1}: {2}", name, key, error)) from None


def dumps(chart: CompressorMap, *notes: str) -> str:
    """The map as CSV text; `notes` become comment lines."""
    out = ["# zarvik compressor map 1", *(f"# note: {_one_line(note)}" for note in notes)]
    out += [
        f"# name: {_one_line(chart.name)}",
        f"# reference_pressure: {chart.reference_pressure / 1e3:g} kPa",
        f"# reference_temperature: {chart.reference_temperature:g} K",
        f"# maximum_speed: {chart.maximum_speed:.0f} rpm",
        "# flow_unit: kg/s",
        ",".join(COLUMNS),
    ]
    for line in chart.lines:
        for flow, ratio, efficiency in zip(line.flow, line.ratio, line.efficiency, strict=True):
            out.append(f"{line.speed:g},{flow:.6g},{ratio:.6g},{efficiency:.6g}")
    return "\n".join(out) + "\n"


def key_of(path: Path | str) -> str:
    """A key for the turbo of a map, from the name of its file."""
    return "".join(c if c.isalnum() else "-" for c in Path(path).stem.lower())[:50] or "map"


def _one_line(text: str) -> str:
    """Free text as one comment line: a new line in it would become a row of the table."""
    return " ".join(part for part in re.sub(r"[\x00-\x1f\x7f\x85\u2028\u2029]", " ", text).split())


def write(chart: CompressorMap, path: Path | str, *notes: str) -> None:
    """Write the map as CSV; raises FileError."""
    write_text(dumps(chart, *notes), Path(path))

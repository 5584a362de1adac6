"""Compressor maps as CSV, with their reference state in the header.

    # zarvik compressor map 1
    # name: 51/67
    # reference_pressure: 100 kPa
    # reference_temperature: 298 K
    # maximum_speed: 153900 rpm
    # flow_unit: kg/s            (or lb/min, g/s, kg/h)
    speed,flow,pressure_ratio,efficiency
    55400,0.0541,1.248,0.75

Rows of one speed stand together, from surge to choke; speeds rise. Efficiency is 0–1.
"""

from __future__ import annotations

import csv
import io
import math
import re
from pathlib import Path

from zarvik.core.compressor.chart import CompressorMap, SpeedLine, faults
from zarvik.formats.project_file import FileError, write_text
from zarvik.project.language import told
from zarvik.project.units import EntryError, parse, unit_of

COLUMNS = ("speed", "flow", "pressure_ratio", "efficiency")
LARGEST = 4 * 1024 * 1024
MOST_ROWS = 3000
MOST_LINES = 80


def read(path: Path | str) -> CompressorMap:
    """The map in a CSV file; raises FileError with the row that is wrong."""
    path = Path(path)
    try:
        if not path.is_file() and path.exists():
            raise FileError(told("“{0}” is no file", path.name))
        if path.stat().st_size > LARGEST:
            raise FileError(told("“{0}” is too large to be a compressor map", path.name))
        text = path.read_bytes().decode("utf-8-sig")
    except UnicodeDecodeError:
        raise FileError(told("“{0}” is not a text file in UTF-8", path.name)) from None
    except OSError as error:
        raise FileError(told("“{0}” cannot be read: {1}", path.name, error.strerror)) from error
    return loads(text, path.name)


def loads(text: str, name: str = "the map") -> CompressorMap:
    """The map in CSV text; raises FileError with the row that is wrong."""
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
        raise FileError(told("“{0}” holds no rows", name))
    delimiter = ";" if body[0][1].count(";") > body[0][1].count(",") else ","
    if len(body) > MOST_ROWS:
        raise FileError(told("“{0}” has {1} rows; a map has {2} at the most", name, len(body), MOST_ROWS))
    try:
        text_rows = io.StringIO("\n".join(line for _, line in body))
        rows = list(csv.reader(text_rows, delimiter=delimiter))
    except csv.Error as error:
        raise FileError(told("“{0}” cannot be read as a table: {1}", name, error)) from None
    if len(rows) != len(body):
        raise FileError(told("“{0}” has a quotation mark that is not closed", name))
    titles = [title.strip().lower() for title in rows[0]]
    missing = [column for column in COLUMNS if column not in titles]
    if missing:
        raise FileError(
            told("“{0}”, row {1}: the column {2} is missing; a map has {3}", name, body[0][0], ', '.join(missing), ', '.join(COLUMNS))
        )
    where = [titles.index(column) for column in COLUMNS]
    try:
        factor = unit_of("mass_flow", header.get("flow_unit", "kg/s")).factor
    except EntryError as error:
        raise FileError(told("“{0}”, flow_unit: {1}", name, error)) from None
    points: list[tuple[int, tuple[float, float, float, float]]] = []
    for (number, _), cells in zip(body[1:], rows[1:], strict=True):
        values: list[float] = []
        for column, index in zip(COLUMNS, where, strict=True):
            cell = cells[index].strip() if index < len(cells) else ""
            if delimiter == ";":
                cell = cell.replace(",", ".")
            try:
                number_read = float(cell)
            except ValueError:
                raise FileError(
                    told("“{0}”, row {1}: {2} “{3}” is not a number", name, number, column, cell)
                ) from None
            if not math.isfinite(number_read):
                raise FileError(told("“{0}”, row {1}: {2} is not a finite number", name, number, column))
            values.append(number_read)
        points.append((number, (values[0], values[1] * factor, values[2], values[3])))
    return _build(name, header, points)


def _build(
    name: str, header: dict[str, str], points: list[tuple[int, tuple[float, float, float, float]]]
) -> CompressorMap:
    lines: list[SpeedLine] = []
    numbers: list[list[int]] = []
    groups: list[list[tuple[int, tuple[float, float, float, float]]]] = []
    for item in points:
        if groups and groups[-1][-1][1][0] == item[1][0]:
            groups[-1].append(item)
        else:
            if any(group[0][1][0] == item[1][0] for group in groups):
                raise FileError(
                    told("“{0}”, row {1}: the speed {2:g} comes again; rows of one speed stand together", name, item[0], item[1][0])
                )
            groups.append([item])
    if len(groups) > MOST_LINES:
        raise FileError(told("“{0}” has {1} speed lines; {2} are the most", name, len(groups), MOST_LINES))
    for group in groups:
        numbers.append([number for number, _ in group])
        lines.append(SpeedLine(group[0][1][0], *(tuple(v[i] for _, v in group) for i in (1, 2, 3))))
    chart = CompressorMap(
        header.get("name", Path(name).stem)[:80],
        _head(name, header, "reference_pressure", "pressure_absolute", "kPa"),
        _head(name, header, "reference_temperature", "temperature", "K"),
        _head(name, header, "maximum_speed", "rotation", "rpm", max((x.speed for x in lines), default=0.0)),
        tuple(lines),
    )  # fmt: skip
    found = faults(chart)
    if found:
        first = found[0]
        row = ""
        if first.line:
            row = f", row {numbers[first.line - 1][max(first.point - 1, 0)]}"
        more = f" ({len(found) - 1} more faults)" if len(found) > 1 else ""
        raise FileError(told("“{0}”{1}: {2}{3}", name, row, first.text, more))
    return chart


def _head(
    name: str, header: dict[str, str], key: str, kind: str, unit: str, default: float | None = None
) -> float:
    if key not in header:
        if default is not None:
            return default
        raise FileError(
            told("“{0}” does not say its {1}: a line “# {2}: …” is missing, and without it the flows mean nothing", name, key.replace('_', ' '), key)
        )
    try:
        return parse(header[key], kind, default_unit=unit).si
    except EntryError as error:
        raise FileError(told("“{0}”, {1}: {2}", name, key, error)) from None


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

"""Each relation of a calculation sheet, worked out as it is written from the values that stand beside it.

What a reader with a pencil would do, for every sheet of every demo: the relation is read as text, so that no code is shared with what made
the number. A symbol without a value beside it, or a value in another unit than its words say, fails.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import pytest

from written_relation import Unwritten, worked_out
from zarvik.core import calculations
from zarvik.core.answer.answer import Answer, answer
from zarvik.core.calculations import Line, Sheet
from zarvik.core.common.sentences import Figure
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse

# What the words of a plain number say of its unit, in SI
SCALES = {
    "J/(g K)": 1e3,
    "MJ/kg": 1e6,
    "MJ": 1e6,
    "kJ/kg": 1e3,
    "mm²/s": 1e-6,
    "cm³": 1e-6,
    "cm²": 1e-4,
    "MPa": 1e6,
    "µPa s": 1e-6,
    "m² K/kW": 1e-3,
    "nW/(m² K⁴)": 1e-9,
    "MJ/(m³ K)": 1e6,
    "millionths a kelvin": 1e-6,
    "turns a minute for each watt": 1.0 / 60.0,
}

# Relations that are no sum of values, and where they are worked out instead
IN_WORDS = {
    "efficiency": "read from the map: test_compressor",
    "corrected_speed": "read from the map: test_compressor",
    "surge_flow": "read from the map: test_compressor",
    "flow_limit": "read from the map: test_compressor",
    "breathing": "a curve through what was entered: test_engine",
    "knock": "an integral over a cycle: test_knock",
    "retard": "found by trial: test_knock",
    "tow_gas": "a whole solved point: test_towing",
    "double_low": "the first of all speeds: test_control",
    "double_high": "the last of all speeds: test_control",
}
# Demos, and what is changed in them so that other sheets are there
BUILDS: list[tuple[str, dict[str, object]]] = [
    *((name, {}) for name in shipped.demo_names()),
    ("tarn", {"wastegate.outlet": "air"}),
    ("tarn", {"intercooler.fitted": False, "engine.ignition": "typed", "engine.retard": parse("6", "number")}),
    ("moth", {"engine.full_load_lambda": parse("0.86", "number"), "intercooler.fitted": False}),
]


def in_si(figure: Figure, words: str) -> float:
    """Value of a figure as its relation reckons with it: turns a second, SI by what its words say."""
    if figure.kind == "rotation":
        return float(figure.value) / 60.0
    return float(figure.value) * (SCALES.get(words.rpartition(", ")[2], 1.0) if figure.kind == "number" else 1.0)


def words_of(line: Line) -> str:
    """What a line says, without what was put into its sentence."""
    return line.meaning if isinstance(line.meaning, str) else line.meaning.whole


def equations(sheet: Sheet) -> Iterator[tuple[str, str, str]]:
    """Left side, sign (=, < or >) and right side of each statement of a sheet's relation."""
    relation = sheet.relation
    if relation.startswith(f"{sheet.symbol}: "):
        relation = relation.partition(": ")[2]
    for statement in relation.split("; "):
        sign = next(s for s in "=<>" if f" {s} " in statement)
        left, _, right = statement.partition(f" {sign} ")
        yield left.strip(), sign, right.strip()


def check(sheet: Sheet) -> str | None:
    """None where both sides are the same, with the result's symbol for the result where no other value has it; else what they are."""
    values = {line.symbol: in_si(line.figure, words_of(line)) for line in sheet.lines}
    result = in_si(sheet.result, "")
    for left, sign, right in equations(sheet):
        got = worked_out(right, {sheet.symbol: result} | values)
        wanted = result if left == sheet.symbol else worked_out(left, {sheet.symbol: result} | values)
        holds = {"=": wanted == pytest.approx(got, rel=1e-4, abs=1e-6), "<": wanted <= got, ">": wanted >= got}
        if not holds[sign]:
            return f"{sheet.relation}: {got} and not {wanted} with {values}"
    return None


@pytest.fixture(scope="module", params=range(len(BUILDS)), ids=lambda n: " ".join([BUILDS[n][0], *BUILDS[n][1]]))
def found(request: pytest.FixtureRequest) -> Answer:
    """The answer of a build."""
    name, changes = BUILDS[request.param]
    project = shipped.demo(name)
    for place, value in changes.items():
        project = with_value(project, place, value)
    return answer(assemble(project), ())


def sheets(found: Answer) -> Iterator[Sheet]:
    """Every sheet at the target and at the lowest solved speed."""
    for point in (found.target, found.sweep[0], found.sweep[-1]):
        yield from calculations.sheets(found.build, found.solver, point).values()
        for element in found.build.elements:
            for family in calculations.FAMILIES:
                try:
                    yield calculations.sheet(found.build, found.solver, point, f"{family}:{element.id}")
                except KeyError:
                    continue


def test_every_relation_gives_what_is_reported(found: Answer) -> None:
    """All that are written as a sum of values; the others are named above."""
    done, wrong = 0, {}
    for sheet in sheets(found):
        name = sheet.key.partition(":")[0]
        if name in IN_WORDS:
            continue
        try:
            done += 1
            if (said := check(sheet)) is not None:
                wrong[sheet.key] = said
        except Unwritten as missing:
            wrong[sheet.key] = f"{sheet.relation}: no value for {missing}"
    assert not wrong
    assert done > 150


@pytest.mark.parametrize(
    ("written", "values", "wanted"),
    [
        ("a + b · c", {"a": 1.0, "b": 2.0, "c": 3.0}, 7.0),
        ("a − b − c", {"a": 1.0, "b": 2.0, "c": 3.0}, -4.0),
        ("a / b / c", {"a": 12.0, "b": 2.0, "c": 3.0}, 2.0),
        ("P / (2 π · n)", {"P": 4.0 * math.pi, "n": 2.0}, 1.0),
        ("√(a² + b²) · 1 bar", {"a": 3.0, "b": 4.0}, 5e5),
        ("25 °C + ΔT", {"ΔT": 1.0}, 299.15),
        ("|a| · 2^-b", {"a": -8.0, "b": 2.0}, 2.0),
        ("max(a, exp(b), 0)", {"a": -8.0, "b": 0.0}, 1.0),
        ("φ(M1) · 2", {"φ(M1)": 3.0}, 6.0),
        ("sin(α) · √4", {"α": math.pi / 2.0}, 2.0),
    ],
)
def test_reading(written: str, values: dict[str, float], wanted: float) -> None:
    """What the reader makes of signs, powers, units and names."""
    assert worked_out(written, values) == pytest.approx(wanted)


@pytest.mark.parametrize("written", ["a · b", "map(n)", "a +", "(a", "curve(n; m)"])
def test_what_cannot_be_read(written: str) -> None:
    """A symbol without a value, words, and what is not closed are no relation."""
    with pytest.raises(Unwritten):
        worked_out(written, {"a": 1.0, "n": 1.0, "m": 1.0})

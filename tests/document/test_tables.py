"""Tables of the engine as text: what is understood, what is refused, and the torque that a VE gives."""

from __future__ import annotations

import pytest

from zarvik.core.engine.engine import breathing_of_torque, torque_of_breathing
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.engines import core_engine
from zarvik.project.document.document import Project
from zarvik.project.document.parts.engine import check_table
from zarvik.project.edits import tables
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import EntryError

UNITS: dict[str, str] = {}


@pytest.mark.parametrize(
    "text",
    [
        "2000 200\n4000 250",
        "2000 rpm  200 N·m\n4000 rpm 250 Nm",
        "2000\t200\n\n4000\t250\n",
        "2000; 200 ; \n4000;250".replace(" ; ", ""),
        "2000, 200\n4000, 250",
        "2 krpm 200\n4 krpm 250",
    ],
)
def test_rows_in_every_hand(text: str) -> None:
    """Spaces, tabs from a spreadsheet, semicolons, commas, units."""
    assert tables.read(text, "stock_torque", UNITS) == ((2000.0, 200.0), (4000.0, 250.0))


def test_units_of_the_owner() -> None:
    """A number without a unit is in the owner's; 1 lb·ft is 1.3558 N m (NIST SP 811, B.8)."""
    rows = tables.read("2000 100\n3000 150 Nm", "stock_torque", {"torque": "lb·ft"})
    assert rows[0][1] == pytest.approx(135.58, abs=0.01) and rows[1][1] == 150.0
    text = tables.write(rows, "stock_torque", {"torque": "lb·ft"})
    assert "100 lb·ft" in text
    again = tables.read(text, "stock_torque", {"torque": "lb·ft"})
    assert again[1][1] == pytest.approx(150.0, rel=1e-3)
    assert tables.read("2000 92,5\n3000 95 %", "breathing_table", UNITS)[0][1] == 0.925


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("2000 200\nmuch", "line 2"),
        ("2000 200\n1000 210", "increase"),
        ("2000 fast", "line 1"),
        ("50 200", "100"),
        ("2000 90000", "5000"),
        ("2000", "line 1"),
        ("2000 200 psi", "line 1"),
        ("\n".join(f"{1000 + n} 200" for n in range(70)), "60 rows"),
    ],
)
def test_what_is_refused_names_its_line(text: str, words: str) -> None:
    """A sentence with the number of the line."""
    with pytest.raises(EntryError, match=words):
        tables.read(text, "stock_torque", UNITS)


def test_a_table_begins_as_what_the_engine_has(tarn: Project) -> None:
    """Choosing a table fills it from the shape that was there, so the answer stays about the same;
    one that has rows keeps them."""
    before = core_engine(tarn)
    for key, name in (("table", "breathing_table"), ("stock_torque", "stock_torque")):
        changed = tables.choose_breathing(tarn, key)
        rows = getattr(changed.engine, name)
        assert 8 <= len(rows) <= 14
        after = assemble(changed).engine
        for speed in (2000.0, 4000.0, 6400.0):
            assert float(after.breathing.at(speed)) == pytest.approx(float(before.breathing.at(speed)), rel=0.01)
        own = tables.put_table(changed, name, rows[:3])
        assert getattr(tables.choose_breathing(own, key).engine, name) == rows[:3]
    assert not tables.choose_breathing(tarn, "two_valve").engine.stock_torque
    with pytest.raises(EntryError):
        tables.put_table(tarn, "stock_torque", ((3000.0, 200.0), (2000.0, 210.0)))
    with pytest.raises(EntryError):
        tables.choose_breathing(tarn, "nobody")


@pytest.mark.parametrize("name", shipped.demo_names())
def test_torque_and_breathing_turn_round(name: str) -> None:
    """VE to torque and back gives the VE; a naturally aspirated petrol engine makes 85 to 115 N m
    for each litre at its best (common practice, no source)."""
    engine = core_engine(with_value(shipped.demo(name), "engine.breathing", "long_runner"))
    speeds = tuple(float(s) for s in range(1500, int(engine.rev_limit), 500))
    torque = torque_of_breathing(engine, speeds)
    back = breathing_of_torque(engine, speeds, torque)
    for speed, value in zip(back.speed, back.efficiency, strict=True):
        assert value == pytest.approx(float(engine.breathing.at(speed)), rel=1e-9)
    if engine.fuel.spark:
        assert 75.0 < max(torque) / (engine.displacement * 1000.0) < 125.0


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        (((1000.0, 0.8), (1000.0, 0.9)), "must increase"),
        (((2000.0, 0.8), (1000.0, 0.9)), "must increase"),
        (((1000.0, 0.19),), "is outside"),
        (((1000.0, 1.51),), "is outside"),
        (((99.0, 0.8),), "is outside"),
        (((20001.0, 0.8),), "is outside"),
    ],
)
def test_what_is_no_table(rows: tuple[tuple[float, float], ...], words: str) -> None:
    """Speeds rise from line to line and lie between 100 and 20,000 rpm; VE between 0.2 and 1.5."""
    with pytest.raises(ValueError, match=words):
        check_table("breathing_table", rows)
    check_table("breathing_table", ((100.0, 0.2), (20000.0, 1.5)))

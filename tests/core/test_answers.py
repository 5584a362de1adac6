"""What is told of a solution: working sheets, corrected power, knock screening, two states."""

from __future__ import annotations

import numpy as np
import pytest

from zarvik.core.airpath import kernel as k
from zarvik.core.airpath.solution import prepare
from zarvik.core.answer import Answer, answer, sweep_speeds
from zarvik.core.checks.case import Case
from zarvik.core.checks.hot_side import double_band
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.ducts.pieces.step import step_loss
from zarvik.core.engine.correction import standard_day_factor
from zarvik.core.engine.knock import ignition_delay, knock_integral
from zarvik.core.sheets import piece_sheet, sheets
from zarvik.formats import shelf
from zarvik.project.assemble import assemble
from zarvik.project.document import Project
from zarvik.project.edits import get, put
from zarvik.project.units import parse


@pytest.mark.parametrize("name", shelf.demo_names())
def test_sheets_give_the_reported_numbers(name: str) -> None:
    """A sheet that does not reproduce the reported number is wrong; each names its source."""
    found = answer(assemble(shelf.demo(name)), ())
    point = found.target
    reported = {
        "power": point.power,
        "air": point.air,
        "indicated": point.indicated,
        "friction": point.friction,
        "compressor_outlet": point.stations["compressor_outlet"].temperature,
        "corrected_flow": point.turbo.flow,
        "shaft": point.turbo.power,
        "corrected_power": point.corrected_power,
    }
    made = sheets(found.solver, point)
    assert set(made) <= set(reported)
    assert len(made) >= 6
    for key, sheet in made.items():
        near = 2e-4 if key == "compressor_outlet" else 1e-6
        assert sheet.result.value == pytest.approx(reported[key], rel=near), key
        assert sheet.source
        for line in sheet.lines:
            assert line.symbol in sheet.relation or line.symbol == "factor"


def test_piece_sheet(tarn_answer: Answer) -> None:
    """The loss of a bend with its relation; close to p K gamma M^2 / 2 by hand."""
    sheet = piece_sheet(tarn_answer.solver, tarn_answer.target, "c-up")
    values = {line.symbol: line.figure.value for line in sheet.lines}
    by_hand = values["p"] * values["K"] * 0.7 * values["M"] ** 2
    assert sheet.result.value == pytest.approx(by_hand, rel=0.03)
    with pytest.raises(KeyError):
        piece_sheet(tarn_answer.solver, tarn_answer.target, "nobody")


@pytest.mark.parametrize(
    ("dry", "celsius", "factor"),
    [(99.0e3, 25.0, 1.0), (95.0e3, 25.0, 1.0497), (99.0e3, 35.0, 1.0196)],
)
def test_standard_day(dry: float, celsius: float, factor: float) -> None:
    """Published: SAE J1349's formula, worked by hand: 1.18 (99/p) sqrt(T/298.15) - 0.18."""
    found = standard_day_factor(dry_pressure=dry, temperature=celsius + 273.15)
    assert found == pytest.approx(factor, abs=2e-4)


def test_dyno_flatters_on_a_hot_hill(tarn_answer: Answer) -> None:
    """At 640 m and 33 °C a dyno prints about 10 % more."""
    point = tarn_answer.target
    assert 1.06 < point.corrected_power / point.power < 1.14
    diesel = prepare(assemble(shelf.demo("skerry"))).at(3600.0)
    assert diesel.corrected_power == diesel.power


def test_ignition_delay_by_hand() -> None:
    """Published: Douaud & Eyzat 1978: 100 octane, 40 atm, 900 K: 17.68 * 40^-1.7 * e^(3800/900)."""
    expected = 17.68e-3 * 40.0**-1.7 * np.exp(3800.0 / 900.0)
    assert ignition_delay(100.0, 40 * 101325.0, 900.0) == pytest.approx(expected, rel=1e-9)


def knock(**changes: float) -> float:
    """Knock integral of an unboosted engine on 98 octane with something changed."""
    values = {
        "octane": 98.0, "speed": 3000.0, "plenum": 98e3, "charge": 303.0, "compression": 9.6,
        "heat": 2.55e6, "gas_r": 288.0, "retard": 0.0, **changes,
    }  # fmt: skip
    return knock_integral(*values.values())


def test_knock_ranks_as_every_tuner_knows() -> None:
    """Common practice, no source: boost, heat, compression and low speed bring knock; octane and
    retard take it away; an unboosted engine of 9.6 on 98 octane is safe."""
    base = knock()
    assert base < 0.8
    for worse in ({"plenum": 150e3}, {"charge": 340.0}, {"compression": 11.0}, {"speed": 2000.0}):
        assert knock(**worse) > 1.1 * base
    for better in ({"octane": 106.0}, {"retard": 8.0}):
        assert knock(**better) < 0.92 * base


def test_two_states_where_the_turbine_is_small(tarn: Project) -> None:
    """A small turbine behind long bare primaries at high boost: between two engine speeds both a
    low and a boosted state close; coming up the low one is found. The demo itself has one."""
    assert _band(tarn) is None
    wild = tarn
    for place, text in (
        ("turbos.c54-71.turbine.housing", "8.6 mm"),
        ("turbos.c54-71.turbine.efficiency", "76 %"),
        ("manifold.primaries.length", "1716 mm"),
        ("bay.breeze", "33 m/s"),
        ("brief.target_boost", "2.41 bar"),
        ("engine.best_breathing_speed", "3948 rpm"),
        ("engine.retard", "8"),
    ):
        wild = put(wild, place, parse(text, get(wild, place).kind))
    band = _band(wild)
    assert band is not None
    solver = prepare(assemble(wild))
    middle = sum(band) / 2.0
    up = solver.raw(np.linspace(band[0] - 300.0, middle, 12))
    down = solver.raw(np.linspace(band[1] + 300.0, middle, 12))
    assert up.solved[-1]
    assert down.solved[-1]
    assert down.states[-1, k.P_PLENUM] > 1.01 * up.states[-1, k.P_PLENUM]


def _band(project: Project) -> tuple[float, float] | None:
    system = assemble(project)
    solver = prepare(system)
    raw = solver.raw(sweep_speeds(system))
    return double_band(Case(solver, raw, (), solver.point(raw, len(raw.speed) - 1)))


def test_new_pieces_against_their_handbooks() -> None:
    """Crane TP-410: a standard tee is 20 fT through and 60 fT round the corner; a step narrows with
    0.5 (1 - A2/A1) and widens with (1 - A1/A2)^2; a crushed bend costs more than a drawn one."""
    through = KINDS["tee"].build(id="t", name="t", bore=0.0525, way="through").loss[0]
    turn = KINDS["tee"].build(id="t", name="t", bore=0.0525, way="turn").loss[0]
    assert turn == pytest.approx(3.0 * through)
    assert through == pytest.approx(20 * 0.019, rel=0.06)  # fT of 2 in pipe: 0.019
    assert step_loss(0.05, 0.06) == pytest.approx((1 - 25 / 36) ** 2)
    assert step_loss(0.06, 0.05) == pytest.approx(0.5 * (1 - 25 / 36))
    shape = {"bore": 0.06, "radius": 0.09, "angle": 1.5708, "material": "mild_steel"}
    crushed = KINDS["crush"].build(id="c", name="c", kept=0.8, **shape)
    drawn = KINDS["bend"].build(id="b", name="b", **shape)
    on_full_bore = crushed.loss[10] * (crushed.diameter / 0.06) ** -4
    assert on_full_bore > 1.3 * drawn.loss[10]

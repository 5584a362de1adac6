"""Each rule of the connection list at both sides of where it begins; likelihoods of leaks in the order that the trade looks in."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from zarvik.core.common.sentences import Figure
from zarvik.core.connections import row as r
from zarvik.core.connections.row import Row
from zarvik.core.connections.rules import before_turbine, exhaust_risk, findings, may_torque, risk
from zarvik.core.joints import hose_joints
from zarvik.core.joints.flanges import Pattern
from zarvik.core.joints.gaskets import GasketLayer


def row(kind: str = r.PORT, side: str = r.BOOST, **said: object) -> Row:
    return dataclasses.replace(Row("k", kind, "One", "a pipe", side), **said)  # type: ignore[arg-type]


def rules(*rows: Row) -> list[tuple[str, str]]:
    return [(f.rule, f.state) for f in findings(rows)]


@pytest.mark.parametrize(
    ("given", "wanted"),
    [
        # Ports under boost: common practice, no source
        (row(), [("undecided", "to_do")]),
        (row(side=r.SUCTION), []),
        (row(decision=r.KEEP, served="brake"), [("check_valve", "fails")]),
        (row(decision=r.CHECK, served="brake"), []),
        (row(decision=r.KEEP, served="gauge"), []),
        (row(decision=r.PLUG, served="brake"), [("brake", "fails")]),
        (row(decision=r.PLUG, served="breather"), [("breather", "marginal")]),
        (row(decision=r.WELD, served="idle"), [("tuner", "to_do")]),
        (row(decision=r.WELD, served="idle", note="Tuner: closed in the map"), []),
        (row(decision=r.WELD, served="regulator"), []),
        # Three bores behind a bend
        (row(r.SENSOR, bore=0.05, behind=0.149), [("swirl", "marginal")]),
        (row(r.SENSOR, bore=0.05, behind=0.151), []),
        (row(r.JOINT, bore=0.05, behind=0.01, made=r.FLANGED), []),
        # Hoses by what they are of; oil only eats where there is some
        (row(r.HOSE, temperature=451.0, material="silicone"), [("hose_heat", "fails")]),
        (row(r.HOSE, temperature=449.0, material="silicone"), []),
        (row(r.HOSE, temperature=451.0, material="braided"), []),
        (row(r.HOSE, side=r.OIL, oily=True, material="silicone"), [("hose_oil", "marginal")]),
        (row(r.HOSE, side=r.OIL, oily=True, material="rubber"), []),
        (row(r.HOSE, side=r.BOOST, oily=True, material="silicone"), []),
        (row(r.JOINT, made=r.FLANGED, lost=True), [("lost", "marginal")]),
    ],
)
def test_where_each_rule_begins(given: Row, wanted: list[tuple[str, str]]) -> None:
    """What is said of one line, and nothing else."""
    assert rules(given) == wanted


def test_metal_under_a_thread() -> None:
    """An M6 screw into aluminium wants its own 6 mm (one diameter: common practice, no source), is told of less, fails under half; one that
    nobody measured is not judged; the boss that is told makes up what is missing."""

    def walled(wall: float) -> Row:
        return row(r.BUNG, thread="M6", wall=wall, material="aluminium")

    states = [rules(walled(w)) for w in (0.020, 0.0061, 0.0055, 0.0031, 0.0029, 0.0)]
    tight, fails = [("wall", "marginal")], [("wall", "fails")]
    assert states == [[], [], tight, tight, fails, []]
    found = findings([walled(0.0055)])[0]
    assert found.cure is not None
    more = dict(found.cure.figures)["high"]
    assert isinstance(more, Figure) and rules(walled(0.0055 + more.value)) == []
    assert rules(row(r.BUNG, thread="M99 x 9")) == [("thread", "marginal")]


def test_clamps_against_the_end_force() -> None:
    """A T-bolt behind a bead holds a 63 mm coupler at 1.5 bar, a worm drive on a bare oily tube does not; a tube without a bead is told
    from
    0.7 bar on: common practice, no source."""
    joint = row(r.JOINT, made=r.HOSED, diameter=0.063, pressure=1.5e5)
    assert rules(joint) == []
    assert ("end_force", "fails") in rules(dataclasses.replace(joint, clamp="none", bead=False, oily=True))
    low = dataclasses.replace(joint, bead=False, diameter=0.02)
    assert [r_ for r_, _ in rules(dataclasses.replace(low, pressure=0.71e5))] == ["bead"]
    assert rules(dataclasses.replace(low, pressure=0.69e5)) == []
    assert rules(dataclasses.replace(joint, made=r.WELDED, clamp="none")) == []


def test_clamps_hold_what_the_trade_sees() -> None:
    """Common practice, no source: a T-bolt clamp on an oily tube of 63.5 mm without a bead lets go at 1.2 to 2.5 bar; wiped and dry at
    some bar more; with a bead and dry far above any boost here, but not at 46 bar. Worm drives hold less, springs least."""
    area = math.pi / 4.0 * 0.0635**2

    def lets_go(key: str, oily: bool, bead: bool) -> float:
        return hose_joints.holding_force(hose_joints.CLAMPS[key], oily=oily, bead=bead) / area / 1e5

    assert (
        1.2 < lets_go("tbolt", True, False) < 2.5
        and 400.0 < hose_joints.holding_force(hose_joints.CLAMPS["tbolt"], oily=True, bead=False) < 800.0
    )
    assert 3.0 < lets_go("tbolt", False, False) < 8.0 and 5.0 < lets_go("tbolt", True, True) < lets_go("tbolt", False, True) < 20.0
    for oily in (True, False):
        for bead in (True, False):
            assert (
                lets_go("tbolt", oily, bead)
                > lets_go("worm", oily, bead)
                > lets_go("spring", oily, bead)
                > lets_go("none", oily, bead)
                == 0.0
            )
    # With a pencil: 5 N m on M6 is 4,167 N; 0.648 of it round the hose, 0.85 past the hose, 0.45 after creep
    assert hose_joints.seating_force(hose_joints.CLAMPS["tbolt"]) == pytest.approx(2.0 * math.pi * 4166.7 * 0.6476 * 0.85 * 0.45, rel=2e-3)
    # Independent: the band's pull summed in 20,000 steps round the half turn on both sides
    steps = (np.arange(20_000) + 0.5) * math.pi / 20_000
    summed = 2.0 * float(np.sum(4166.667 * np.exp(-0.3 * steps))) * math.pi / 20_000
    assert hose_joints.seating_force(hose_joints.CLAMPS["tbolt"]) == pytest.approx(summed * 0.85 * 0.45, rel=1e-6)


def test_worst_first() -> None:
    """What fails stands before what is tight, and that before what is open."""
    lines = [row(), row(decision=r.PLUG, served="breather"), row(decision=r.PLUG, served="brake")]
    assert [s for _, s in rules(*lines)] == ["fails", "marginal", "to_do"]


def test_where_to_look_first() -> None:
    """An open port leaks before an open joint, that before a bung; each step of the ladder lowers it; opened again is nearly open; a
    weld that is not tested before a torqued clamp; what does not see boost is not looked at."""
    joint = row(r.JOINT, made=r.HOSED)
    ladder = [risk(dataclasses.replace(joint, state=s)) for s in (r.OPEN, r.REOPENED, r.DRY, r.HAND, r.TORQUED, r.TESTED)]
    assert ladder == sorted(ladder, reverse=True) and len(set(ladder)) == 6
    assert risk(row()) > risk(joint) > risk(row(r.BUNG)) > risk(row(r.LINE)) > 0.0
    assert risk(row(state=r.TESTED)) == risk(row())  # a tested port that nobody decided has not been
    assert risk(row(decision=r.PLUG, state=r.TESTED)) < 0.1 * risk(row())
    assert risk(row(decision=r.WELD)) < 0.2 * risk(row(decision=r.PLUG))
    assert 0.0 < risk(row(r.JOINT, made=r.WELDED)) < risk(joint)
    assert risk(row(side=r.EXHAUST)) == 0.0


def test_where_the_exhaust_leaks() -> None:
    """Common practice, no source: before the turbine first (port gasket, flange, welds, probe, gate), there it costs boost; behind
    it later; the boost side has a list of its own. A flange that was tightened still opens with the heat."""

    def joint(key: str, made: str, state: str = r.OPEN) -> Row:
        return dataclasses.replace(row(r.JOINT, side=r.EXHAUST, made=made, state=state), key=key)

    before = [joint(k, r.FLANGED) for k in ("engine__exhaust", "turbo__hot_in", "turbo2__hot_in")] + [
        joint("gate__in", r.BANDED),
        joint("manifold__welds", r.WELDED),
    ]
    behind = [joint("turbo__hot_out", r.BANDED), joint("exhaust__a__b", r.FLANGED), joint("gate__out", r.BANDED)]
    assert all(before_turbine(x) for x in before) and not any(before_turbine(x) for x in behind)
    assert min(map(exhaust_risk, before)) > max(map(exhaust_risk, behind)) > 0.0
    assert exhaust_risk(joint("engine__exhaust", r.FLANGED, r.TESTED)) > 0.3 > exhaust_risk(joint("gate__in", r.BANDED, r.TESTED))
    assert exhaust_risk(row()) == 0.0 and exhaust_risk(dataclasses.replace(row(r.LINE), side=r.EXHAUST)) == 0.0


def test_loose_first() -> None:
    """A joint may be torqued when all of its side are in place; welds, gone ones and the other side do not hold it up."""

    def joint(key: str, **said: object) -> Row:
        return dataclasses.replace(row(r.JOINT, made=r.HOSED, **said), key=key)

    me = joint("me", state=r.HAND)
    assert may_torque([me, joint("b", state=r.HAND), joint("c", state=r.DRY)], "me") is None
    assert may_torque([me, joint("b")], "me") is not None
    assert may_torque([me, joint("b", state=r.REOPENED)], "me") is not None
    for other in (joint("b", lost=True), joint("b", side=r.EXHAUST)):
        assert may_torque([me, other], "me") is None
    assert may_torque([me, dataclasses.replace(joint("b"), made=r.WELDED)], "me") is None
    assert may_torque([me], "gone") is None


SQUARE = Pattern(4, 0.066, 0.066, 0.008, 0.065)


@pytest.mark.parametrize(
    ("given", "wanted"),
    [
        # Bolts that meet, bores that do not; a plate; a plate that has to be turned; none
        (row(r.JOINT, made=r.FLANGED, one=SQUARE), []),
        (row(r.JOINT, made=r.FLANGED, one=SQUARE, other=SQUARE), []),
        (row(r.JOINT, made=r.FLANGED, one=SQUARE, other=dataclasses.replace(SQUARE, bore=0.0659)), []),
        (row(r.JOINT, made=r.FLANGED, one=SQUARE, other=dataclasses.replace(SQUARE, bore=0.0661 + 1e-3)), [("bores", "marginal")]),
        (row(r.JOINT, made=r.FLANGED, one=SQUARE, other=Pattern(4, 0.088, 0.074, 0.006, 0.07)), [("pattern", "marginal")]),
        (row(r.JOINT, made=r.FLANGED, one=SQUARE, other=Pattern(4, 0.080, 0.080, 0.006, 0.07)), [("pattern", "marginal")]),
        (row(r.JOINT, made=r.FLANGED, one=SQUARE, other=Pattern(12, 0.094, 0.0, 0.012, 0.07)), [("pattern", "fails")]),
        # Fibre stands 250 °C, what settles is torqued once more (common practice, no source)
        (row(r.JOINT, made=r.FLANGED, layers=(GasketLayer("fibre", 1e-3),), temperature=522.0), []),
        (row(r.JOINT, made=r.FLANGED, layers=(GasketLayer("fibre", 1e-3),), temperature=524.0), [("gasket_heat", "fails")]),
        (
            row(r.JOINT, made=r.FLANGED, layers=(GasketLayer("steel", 1e-3), GasketLayer("paper", 1e-3)), temperature=394.0),
            [("gasket_heat", "fails")],
        ),
        (
            row(r.JOINT, made=r.FLANGED, layers=(GasketLayer("steel", 1e-3), GasketLayer("phenolic", 6e-3)), state=r.TORQUED),
            [("settles", "to_do")],
        ),
        (row(r.JOINT, made=r.FLANGED, layers=(GasketLayer("steel", 1e-3), GasketLayer("phenolic", 6e-3)), state=r.TESTED), []),
        (row(r.JOINT, made=r.FLANGED, layers=(GasketLayer("steel", 1e-3),), state=r.TORQUED), []),
        # A gate's signal wants 4 mm (common practice, no source)
        (row(r.HOSE, served="gate", bore=0.0035), [("signal", "marginal")]),
        (row(r.HOSE, served="gate", bore=0.004), []),
        (row(r.HOSE, served="gate"), []),
        (row(r.PORT, served="gauge", bore=0.001, decision=r.GAUGE), []),
        # An inch of hose on the tube; one hose for one size (common practice, no source)
        (row(r.JOINT, side=r.SUCTION, made=r.HOSED, engaged=0.0255), []),
        (row(r.JOINT, side=r.SUCTION, made=r.HOSED, engaged=0.0245), [("engaged", "marginal")]),
        (row(r.JOINT, side=r.SUCTION, made=r.HOSED, engaged=0.012), [("engaged", "fails")]),
        (row(r.JOINT, side=r.SUCTION, made=r.FLANGED, engaged=0.012), []),
        (row(r.JOINT, side=r.SUCTION, made=r.HOSED, diameter=0.063, meets=0.0655), []),
        (row(r.JOINT, side=r.SUCTION, made=r.HOSED, diameter=0.063, meets=0.059), [("coupler", "marginal")]),
        # Tape in oil is a fault, on a parallel thread useless, on the exhaust burnt; a washer under a taper thread is in its way
        (row(r.LINE, side=r.OIL, sealed="tape"), [("shreds", "fails")]),
        (row(r.LINE, side=r.FUEL, sealed="cone"), []),
        (row(r.SENSOR, thread="M12×1.5", sealed="tape"), [("seal", "marginal")]),
        (row(r.SENSOR, thread="M12×1.5", sealed="washer"), []),
        (row(r.SENSOR, thread="1/8 NPT", sealed="tape"), []),
        (row(r.SENSOR, thread="1/8 NPT", sealed="washer"), [("seal", "marginal")]),
        (row(r.SENSOR, side=r.EXHAUST, thread="1/8 NPT", sealed="tape", temperature=534.0), [("seal_heat", "fails")]),
        (row(r.SENSOR, side=r.EXHAUST, thread="1/8 NPT", sealed="tape", temperature=532.0), []),
        (row(r.SENSOR, side=r.EXHAUST, thread="M18×1.5", sealed="dry", temperature=900.0), []),
        # A drain within 35 degrees of straight down, 50 at the most
        (dataclasses.replace(row(r.LINE, side=r.OIL, clock=0.60), key="turbo__oil_out"), []),
        (dataclasses.replace(row(r.LINE, side=r.OIL, clock=-0.62), key="turbo__oil_out"), [("drain_turn", "marginal")]),
        (dataclasses.replace(row(r.LINE, side=r.OIL, clock=0.88), key="turbo__oil_out"), [("drain_turn", "fails")]),
        (dataclasses.replace(row(r.LINE, side=r.OIL, clock=2.0), key="turbo__oil_in"), []),
    ],
)
def test_where_the_rules_of_flanges_and_lines_begin(given: Row, wanted: list[tuple[str, str]]) -> None:
    """What is said of one line, and nothing else."""
    assert rules(given) == wanted


def test_a_plate_that_is_told_cures() -> None:
    """The turn that a finding tells makes the plate that it tells: with the part turned, one plate does."""
    stuck = row(r.JOINT, made=r.FLANGED, one=SQUARE, other=Pattern(4, 0.080, 0.080, 0.006, 0.07))
    found = findings([stuck])[0]
    assert found.cure is not None and "rotated" in found.cure.template
    turned = findings([dataclasses.replace(stuck, turns=True)])[0]
    assert turned.cure is not None and "turned" not in turned.cure.template
    gap = dict(turned.cure.figures)["gap"]
    assert isinstance(gap, Figure) and gap.value > 0.002

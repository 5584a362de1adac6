"""Manifolds of every school on the demos, the gate's report, and both from the command line."""

from __future__ import annotations

import json
import math
from pathlib import Path

import pytest

from zarvik.cli import main
from zarvik.core.boost_control.held_boost import RUN_AWAY
from zarvik.core.common.sentences import Fault
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.boost_control.control import RUNS, control, cycles_text, held_boost, steps, unsaid
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.manifold.manifold_types import (
    CAST,
    EQUAL,
    LOG,
    OWN,
    TWIN,
    UNEQUAL,
    ManifoldType,
    boost_is_delayed,
    manifold_candidates,
    school,
)
from zarvik.project.units.rendering import render
from zarvik.project.units.units import parse


@pytest.fixture(scope="module")
def found() -> dict[str, ManifoldType]:
    """Every school on the Tarn."""
    return {s.key: s for s in manifold_candidates(shipped.demo("tarn"))}


def test_directions_that_the_trade_knows(found: dict[str, ManifoldType]) -> None:
    """Common practice, no source: what is short and compact wakes earlier and costs at the top; long equal tubes the other way
    round; two scrolls wake earliest; cast and log are cheap in hours; cast cracks last, then a log, tubes first. Sizes as
    bands: some 5 to 25 % of engine speed, a few hp in a hundred."""
    cast, log, unequal, equal, twin = (found[k] for k in (CAST, LOG, UNEQUAL, EQUAL, TWIN))
    assert cast.threshold < log.threshold < unequal.threshold < equal.threshold and twin.threshold < equal.threshold
    assert 0.75 < cast.threshold / equal.threshold < 0.95 and 0.7 < twin.threshold / equal.threshold < 0.9
    assert cast.seconds < unequal.seconds < equal.seconds and twin.seconds < equal.seconds
    assert log.power < cast.power < equal.power and 0.97 < log.power / equal.power < 1.0
    assert cast.gas > equal.gas and 15.0 < cast.gas - equal.gas < 60.0
    assert cast.volume < log.volume < unequal.volume < equal.volume
    assert cast.hours < log.hours < unequal.hours < equal.hours and cast.welds == 0 < log.welds < unequal.welds < equal.welds
    assert cast.cycles > log.cycles > unequal.cycles > equal.cycles
    assert 5e3 < cast.cycles <= 5e4 and 1e3 < log.cycles < 2e4 and 50.0 < equal.cycles < 5e3


def test_the_present_one_is_what_is_solved(found: dict[str, ManifoldType], tarn: Project) -> None:
    """The row of the design itself is its own answer; a school that is taken becomes it; nothing else changes."""
    own = found[OWN]
    made = school(tarn, LOG)
    again = manifold_candidates(made)[0]
    assert again.key == OWN and again.threshold == pytest.approx(found[LOG].threshold) and again.power == pytest.approx(found[LOG].power)
    assert own.volume == pytest.approx(assemble(tarn).hot_volume)
    assert made.engine == tarn.engine and made.wastegate == tarn.wastegate and made.primaries == () and school(tarn, OWN) is tarn
    assert project_file.loads(project_file.dumps(made)) == made
    twin = school(tarn, TWIN)
    assert twin.chosen is not None and twin.chosen.turbine.scrolls.si == 2.0


def test_a_slip_joint_takes_the_bending(tarn: Project) -> None:
    """Slipped on, the runners are not bent: more hot cycles. Braced, purged, relieved: each what it was said to give; nothing of it
    helps a casting. Common practice, no source."""
    butt = manifold_candidates(school(tarn, UNEQUAL))[0]
    said = dict(butt.longer)
    for key, place, value in (
        ("slip", "layout.fabrication.joint", "slip"),
        ("purge", "layout.fabrication.weld_roots", "yes"),
        ("relief", "layout.fabrication.stress_relief", "yes"),
        ("brace", "fittings.turbo_support", "brace"),
        ("wall", "layout.fabrication.wall", parse("5.55 mm", "length")),
    ):
        done = manifold_candidates(with_value(school(tarn, UNEQUAL), place, value))[0]
        assert done.cycles == pytest.approx(said.get(key, 1.0) * butt.cycles, rel=0.2 if key not in said else 0.05)
    assert {"slip", "purge", "relief", "wall"} <= set(said)
    assert not manifold_candidates(school(tarn, CAST))[0].longer


def test_every_manifold_in_the_order_of_the_trade() -> None:
    """Common practice, no source: on every engine cast lasts longest, then a log, then tubes; a casting for four weighs 5 to 7 kg, for
    a V10 14 to 20 kg."""
    for name in shipped.demo_names():
        found = {s.key: s for s in manifold_candidates(shipped.demo(name))}
        assert found[CAST].cycles > found[LOG].cycles > found[UNEQUAL].cycles > 10.0
        assert found[LOG].cycles > found[EQUAL].cycles
        assert {"tarn": (5.0, 7.5), "skerry": (5.0, 7.5), "fell": (14.0, 20.0), "moth": (3.0, 5.0)}[name][0] < found[CAST].mass
        assert found[CAST].mass < {"tarn": 7.5, "skerry": 7.5, "fell": 20.0, "moth": 5.0}[name]


def test_every_demo_has_its_rows() -> None:
    """Two banks, a diesel, a blower: rows without a number that is none; what cannot be is told."""
    told: list[float] = []
    fell = manifold_candidates(shipped.demo("fell"), told.append)
    assert told == pytest.approx([n / 6 for n in range(6)]), "how far it is grows to the end"
    assert boost_is_delayed(shipped.demo("fell"), fell), "it is let in from 4,000 rev/min"
    assert len(fell) == 6 and all(s.power > 0.0 for s in fell)
    moth = manifold_candidates(shipped.demo("moth"))
    assert not boost_is_delayed(shipped.demo("moth"), moth) and not boost_is_delayed(shipped.demo("fell"), ())
    assert [s.key for s in moth] == [OWN, CAST, LOG, UNEQUAL, EQUAL] and all(math.isnan(s.seconds) for s in moth)
    with pytest.raises(Fault, match="collector"):
        manifold_candidates(shipped.demo("tarn").model_copy(update={"manifold": (), "primaries": ()}))
    with pytest.raises(Fault, match="controlled by its bypass"):
        control(shipped.demo("moth"))


def test_the_report_of_the_gate(tarn: Project) -> None:
    """Four ports: four hoses by letter with numbered ports, two of which run away; without a solenoid one; what cannot be held
    is not told in numbers; the steps begin with the source and end with the cut of fuel."""
    project = with_value(with_value(tarn, "wastegate.spring", parse("0.5 bar", "pressure_gauge")), "wastegate.control", "four")
    project = with_value(project, "wastegate.ports_four", "12.34-14.23")
    one = control(project)
    assert [(line.letter, line.key) for line in one.lines] == [("A", "signal"), ("B", "lower"), ("C", "upper"), ("D", "vent")]
    assert [line.what for line in one.lines] == [RUNS, RUNS, "falls", "falls"] and 0.3 < one.duty < 0.6 and one.most
    assert one.now == one.alone and one.overshoot is not None and 0.0 < one.overshoot.over < 0.3e5
    units = project.shown_units
    assert held_boost(RUN_AWAY + 1.0, units).startswith("over") and held_boost(math.nan, units) == "no limit"
    words = [render(s, units) for s in steps(one)]
    assert "compressor outlet" in words[0] and "boost cut" in words[-1] and any("powered 1 to 4" in w for w in words)
    set_ = control(with_value(project, "wastegate.duty", parse("40 %", "ratio")))
    assert set_.now != set_.alone and max(h.boost for h in set_.now) > max(h.boost for h in set_.alone)
    assert any("four ports" in w for w in words)
    # A valve that is numbered otherwise has another plan, one that nobody has blown through has none
    other = control(with_value(with_value(project, "wastegate.control", "three"), "wastegate.ports", "13-23"))
    assert (
        other.lines[0].end == "solenoid, port 1"
        and other.lines[1].begin == "solenoid, port 3"
        and other.lines[2].begin == "solenoid, port 2"
    )
    blind = control(with_value(with_value(project, "wastegate.control", "three"), "wastegate.ports", ""))
    assert blind.lines[0].end == "solenoid, port ?" and any("Blow through" in render(s, units) for s in steps(blind))
    three = [render(s, units) for s in steps(control(with_value(project, "wastegate.control", "three")))]
    assert not any("four ports" in w for w in three) and any("powered 2 and 3" in w for w in three)
    assert not unsaid(one, units)
    nobody = control(with_value(project, "wastegate.spring", parse("0 bar", "pressure_gauge")))
    assert "opens at 0.50 bar on the bench is assumed" in unsaid(nobody, units).replace("\u00a0", " ")
    plain = control(with_value(project, "wastegate.control", "none"))
    assert [line.letter for line in plain.lines] == ["A"] and not plain.most and math.isnan(plain.duty)
    wide = control(with_value(project, "wastegate.hose_bore", parse("8 mm", "length")))
    long = control(with_value(project, "wastegate.hose_length", parse("3 m", "length")))
    assert (
        wide.overshoot is not None
        and long.overshoot is not None
        and one.overshoot.late > wide.overshoot.late
        and long.overshoot.late > 2.0 * one.overshoot.late
    )
    assert [cycles_text(c) for c in (355.0, 48030.0, math.nan)] == ["400", "50\u202f000", "–"]


def test_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Text with every school and hose, JSON without a number that is none, and a blower that has no gate."""
    path = tmp_path / "a.zarvik.json"
    for name in ("tarn", "moth"):
        path.write_text(shipped.demo_text(name), "utf-8")
        assert main(["exhaust", str(path)]) == 0
        text = capsys.readouterr().out
        assert "Tubes, equal length" in text and ("controlled by its bypass" in text) is (name == "moth")
    path.write_text(shipped.demo_text("tarn"), "utf-8")
    assert main(["exhaust", str(path), "--json", "-"]) == 0
    tree = json.loads(capsys.readouterr().out)
    assert tree["schema"] == "zarvik-result-hotside" and len(tree["manifolds"]) == 6
    assert tree["wastegate"]["hoses"][0]["what"] in ("runs", "more", "stays") and tree["wastegate"]["alone"][-1]["boost_Pa"] > 1e4
    assert main(["exhaust", str(tmp_path / "none.json")]) == 2


def test_a_blower_build_has_no_words_of_a_turbo(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Everything that is printed of a build with a blower: no turbo, turbine, housing or wastegate in it."""
    path = tmp_path / "moth.zarvik.json"
    path.write_text(shipped.demo_text("moth"), "utf-8")
    for words in (
        ["solve"],
        ["check"],
        ["exhaust"],
        ["candidates"],
        *(["joints", "--list", name] for name in ("order", "ports", "joints", "shopping")),
    ):
        main([words[0], str(path), *words[1:]])
        said = capsys.readouterr().out.lower()
        assert said and not [w for w in ("turbo", "turbine", "housing", "wastegate", "gate's") if w in said], words

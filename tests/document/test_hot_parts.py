"""What is told of the hot side as it hangs in the car: duties, the lambda probe's place, costs, the file and the command line."""

from __future__ import annotations

import json
import math
from pathlib import Path

import pytest

from zarvik.cli import main
from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import answer
from zarvik.core.checks.turbo_weight import load_at
from zarvik.core.heat.clearance import THINGS
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.edits.piece_edits import insert_piece, remove_piece
from zarvik.project.heat.hot_parts import hot_side_report, told_boss, told_hung
from zarvik.project.language.plain import opening
from zarvik.project.manifold.primaries import without_primaries
from zarvik.project.units.rendering import render, rough_figure
from zarvik.project.units.units import parse


def words(project: Project) -> str:
    found = hot_side_report(project)
    return "\n".join(render(s, project.shown_units) for s in (told_boss(found), *told_hung(found), *found.notes))


def test_every_demo_is_told() -> None:
    """Each piece of the hot side has its row in the order of the flow, the turbine between; the whole exhaust costs about what
    its pieces cost together; a probe before the turbine shows a little less than there is."""
    for name in shipped.demo_names():
        project = shipped.demo(name)
        found = hot_side_report(project).parts
        keys = [p.id for p in found.pieces if p.run != "turbine"]
        assert keys == [p.id for p in (*project.manifold, *project.exhaust)]
        own = sum(p.cost for p in found.pieces if p.run == "exhaust")
        assert found.whole == pytest.approx(own, rel=0.25) and found.whole > 0.0
        probe = next(p for p in found.probes if p.place == "collector")
        assert -60.0 < probe.shown - probe.gas < 0.0 and probe.add == pytest.approx(probe.gas - probe.shown, abs=1.0)
        assert found.boss.id and found.hung is not None and len(found.hangers) == found.hung.hangers
        for p in found.pieces:
            assert len(p.gaps) in (0, len(THINGS)) and all(g >= 0.0 for pair in p.gaps for g in pair)


def test_duties_follow_from_what_is_there(tarn: Project) -> None:
    """A catalyst, a silencer, a gate into the open, wrap: each changes what is said."""
    before = words(tarn)
    assert "No catalyst" in before and "fibre wrap" in before and "No silencer" not in before and "vents to atmosphere" not in before
    made, _ = insert_piece(tarn, "exhaust", 2, "catalyst", face=parse("120 mm", "length"))
    assert "No catalyst" not in words(made)
    assert "No silencer" in words(remove_piece(tarn, "e-silencer"))
    assert "vents to atmosphere" in words(with_value(tarn, "wastegate.outlet", "air"))
    assert "fibre wrap" not in words(with_value(tarn, "exhaust.e-down.cover", "bare"))


def test_a_lambda_probe_needs_its_straight(tarn: Project) -> None:
    """Straight, five bores after the turbine, before the catalyst, where the wastegate flow rejoins, 40 cm from the end."""
    found = hot_side_report(tarn).parts
    assert found.boss.id == "e-down" and found.boss.at > 0.1
    made, _ = insert_piece(tarn, "exhaust", 1, "catalyst")
    assert hot_side_report(made).parts.boss.id == "" and "No place in the exhaust" in words(made)
    later = hot_side_report(with_value(tarn, "wastegate.pieces_bypassed", parse("3", "count"))).parts
    assert later.boss.id in ("e-mid", "e-tail")


def test_a_brick_melts_and_moves(tarn: Project) -> None:
    """A brick before the turbine's heat is gone is told; what a builder does is to move it back or cool the gas."""
    made, key = insert_piece(tarn, "exhaust", 1, "catalyst", face=parse("120 mm", "length"))
    check_result = next(v for v in answer(assemble(made), ()).check_results if v.id == "brick")
    assert check_result.state == "ok" and (check_result.margin or 0.0) > 0.1
    lean = with_value(made, "engine.full_load_lambda", parse("0.98", "number"))
    hot = next(v for v in answer(assemble(lean), ()).check_results if v.id == "brick")
    assert (hot.margin or 0.0) < (check_result.margin or 0.0) - 0.03 and hot.about == f"piece:{key}"


def test_thin_pipes_want_a_brace(tarn: Project) -> None:
    """Sixteen-gauge tube and a heavy turbo fail, the cure is a brace, and it cures; a casting carries; a mass that is evaluated counts."""
    thin = with_value(without_primaries(tarn), "layout.fabrication.wall", parse("1.65 mm", "length"))
    thin = with_value(thin, "fittings.turbo_mass", parse("24 kg", "mass"))
    thin = with_value(thin, "manifold.primaries.bore", parse("35 mm", "length"))

    def carried(project: Project) -> object:
        return next(v for v in answer(assemble(project), ()).check_results if v.id == "carried")

    check_result = carried(thin)
    assert check_result.state in ("marginal", "fails") and check_result.changes  # type: ignore[attr-defined]
    healed = carried(with_changes(thin, check_result.changes))  # type: ignore[attr-defined]
    assert healed.state == "ok" and "slot" in render(healed.text, {})  # type: ignore[attr-defined]
    cast = with_value(
        with_value(with_value(thin, "manifold.collector.form", "cast"), "manifold.collector.material", "cast"),
        "manifold.primaries.material",
        "cast",
    )
    assert carried(cast).margin > check_result.margin  # type: ignore[attr-defined]
    load = load_at(assemble(thin), prepare(assemble(thin)).at(6400.0))
    assert load is not None and load.pipes == 4 and load.lever == pytest.approx(0.235) and load.mass == 24.0
    light = carried(with_value(thin, "fittings.turbo_mass", parse("6 kg", "mass")))
    assert 1.0 - light.margin == pytest.approx((1.0 - check_result.margin) / 4.0, rel=1e-6)  # type: ignore[attr-defined]


def test_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """The table in words and as JSON."""
    path = tmp_path / "fell.zarvik.json"
    project_file.write(shipped.demo("fell"), path)
    assert main(["exhaust", str(path), "--json", "-"]) == 0
    heat = json.loads(capsys.readouterr().out)["heat"]
    assert heat["exhaust_costs_W"] > 0.0 and {p["place"] for p in heat["probes"]} == {"port", "collector", "behind"}
    assert set(heat["pieces"][0]["gaps_m"]) == {t.key for t in THINGS} and heat["lambda"]["piece"] == "e-down"
    assert not math.isnan(heat["hung"]["grows_m"]) and len(heat["hung"]["at"]) == heat["hung"]["hangers"]


def test_what_is_not_known_better_is_said_roughly() -> None:
    """Two digits that count, in the owner's unit; a fault opens with a capital and an empty one stays empty."""
    shown = [
        rough_figure(v, "length", {"length": u})
        for v, u in ((0.1744, "mm"), (0.0406, "mm"), (0.0018, "mm"), (0.1744, "in"), (0.0, "mm"), (math.inf, "mm"))
    ]
    assert [s.replace("\u00a0", " ") for s in shown] == ["170 mm", "41 mm", "1.8 mm", "6.9 in", "0 mm", "–"]
    assert opening("say it") == "Say it" and opening("") == ""

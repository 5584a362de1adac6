"""The pump of a diesel at its settings: what each makes, which is the last that holds, and what is in the way."""

from __future__ import annotations

import dataclasses
import json
from pathlib import Path

import pytest

from zarvik.cli import main
from zarvik.core.answer.answer import answer
from zarvik.core.checks import judge
from zarvik.core.checks.case import Case, plain_case
from zarvik.core.common.sentences import Fault
from zarvik.core.limits.limits import FAILS, MARGINAL
from zarvik.core.whole_build.build import Build
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import meta, with_value
from zarvik.project.engine import diesel_pump
from zarvik.project.engine.diesel_pump import sentences, settings, with_setting
from zarvik.project.units.rendering import render


def diesel(**entries: str) -> Project:
    """Skerry with a pump that says what it gives, and entries of its engine."""
    project = with_value(shipped.demo("skerry"), "engine.fuelling", "stroke")
    for name, text in entries.items():
        field = meta(project, f"engine.{name}")
        project = with_value(project, f"engine.{name}", field.read(text) if hasattr(field, "read") else text)  # type: ignore[union-attr]
    return project


def fuel(project: Project) -> float:
    """kg/s of fuel at 3,000 rev/min."""
    return float(assemble(project).engine.fuel_rate(3000.0))


def test_a_rack_gives_more_with_its_travel() -> None:
    """An in-line pump gives nothing up to two fifths of its travel and then in proportion (the helix of the plunger is straight, so the
    effective stroke grows as the rack does; where it begins: common practice, no source): from 11 to 12.5 mm that is 8.1 over 6.6. Told
    where one travel alone is said or does not go there."""
    own = fuel(diesel())
    assert fuel(diesel(rack_was="11 mm", rack="12.5 mm")) / own == pytest.approx(8.1 / 6.6, rel=1e-6)
    assert fuel(diesel(rack_was="11 mm", rack="11 mm")) == fuel(diesel(rack_was="11 mm")) == own
    travels = [fuel(diesel(rack_was="11 mm", rack=f"{mm} mm")) for mm in (5.5, 8, 10, 14, 18, 22)]
    assert travels == sorted(travels) and len(set(travels)) == len(travels) and min(travels) > 0.0
    # A tenth of a millimetre of rack is one to two percent: what pumps are set by on a bench, common practice, no source
    assert 0.01 < fuel(diesel(rack_was="11 mm", rack="11.1 mm")) / own - 1.0 < 0.02
    for entries, place in (({"rack": "12 mm"}, "engine.rack_was"), ({"rack_was": "11 mm", "rack": "30 mm"}, "engine.rack")):
        with pytest.raises(ProjectProblems) as caught:
            fuel(diesel(**entries))
        assert place in {p.place for p in caught.value.problems}


@pytest.mark.parametrize("entries", [{}, {"limiter": "boost"}, {"element_was": "9 mm", "element": "9.5 mm"}, {"rack_was": "11.3 mm"}])
def test_what_each_setting_makes(entries: dict[str, str]) -> None:
    """More fuel is more power, torque and heat and less air to spare. Each setting, carried out, is judged so by the whole answer too;
    lambda is that of the air and fuel of the answer (14.5 kg of dry air to a kg of diesel, Heywood appendix D from memory; the day's air
    holds 1.7 % of water: within 3 %)."""
    project = diesel(**entries)
    found = settings(project)
    assert 3 <= len(found) <= 12 and [s.now for s in found].count(True) == 1
    for figure in ("gives", "power", "torque", "gas"):
        row = [getattr(s, figure) for s in found]
        assert row == sorted(row) and row[-1] > row[0], figure
    assert render(found[0].title, {}) == "Original" and found[0].gives == min(s.gives for s in found)
    lean = [s.least for s in found]
    assert lean == sorted(lean, reverse=True)
    assert sum(s.state == FAILS for s in found) <= 3
    for setting in found:
        there = with_setting(project, setting)
        assert project_file.loads(project_file.dumps(there)) == there
    for setting in (found[0], found[-1]):
        whole = answer(assemble(with_setting(project, setting)))
        smoke = next(v for v in whole.check_results if v.id == "smoke")
        assert (smoke.state == FAILS) == any(v.id == "smoke" and setting.state == FAILS for v in setting.reasons)
        assert whole.target.power == pytest.approx(setting.power, rel=1e-6)
        lambdas = [p.air / (14.5 * p.fuel) for p in whole.sweep if p.closure.solved and p.speed >= 1.5 * whole.build.engine.idle]
        assert min(lambdas) == pytest.approx(setting.least, rel=0.03)


def test_which_settings_there_are() -> None:
    """Half turns up to four with a limiter; half millimetres of rack up to two fifths more than it came with, each a little more."""
    screw = settings(diesel(limiter="boost"))
    assert [render(s.title, {}) for s in screw] == ["Original", *(f"Screw in by {n / 2:g}" for n in range(1, 9))]
    assert [s.gives / screw[0].gives for s in screw] == pytest.approx([1.0 + 0.05 * n for n in range(9)], rel=1e-6)
    rack = settings(diesel(limiter="boost", rack_was="11 mm"))
    assert [dict(s.entries)["rack"].si for s in rack[1:]] == pytest.approx([0.0115 + 0.0005 * n for n in range(8)])
    assert [s.gives / rack[0].gives for s in rack] == pytest.approx([1.0 + n * 0.5 / 6.6 for n in range(9)], rel=1e-6)


def test_all_that_fails_is_told() -> None:
    """Far too much fuel fails more than one thing: the worst state of all counts, the first is told in full and the others by name."""
    found = settings(diesel(delivery="100 mm³"))
    worst = found[-1]
    whole = answer(assemble(with_setting(diesel(delivery="100 mm³"), worst)))
    failing = {v.id for v in whole.check_results if v.state == FAILS and v.margin is not None}
    assert worst.state == FAILS and {v.id for v in worst.reasons} <= failing and len(worst.reasons) >= 2
    words = render(sentences(found, 1.0)[0], {})
    first, *rest = found[0].reasons if found[0].state == FAILS else next(s for s in found if s.state == FAILS).reasons
    assert f"{first.title} fails" in words and all(v.title.lower() in words for v in rest)
    hot = [s for s in found if any(v.id == "smoke" for v in s.reasons)]
    assert hot and all(s.state == FAILS for s in hot if s.least < 1.1)


def test_the_last_setting_that_holds_is_named() -> None:
    """Without a limiter it smokes below, which is told with what helps; with one it goes on. What the target still lacks is told."""
    plain = diesel()
    found = settings(plain)
    words = "\n".join(render(s, {}) for s in sentences(found, 150e3))
    last = max((s for s in found if s.state != FAILS), key=lambda s: s.gives)
    assert f"Up to “{render(last.title, {})}”" in words and "Smoke fails" in words and "limiter" in words and "larger elements" in words
    limited = settings(diesel(limiter="boost"))
    told = "\n".join(render(s, {}) for s in sentences(limited, 50e3))
    assert "None of these settings" in told and "limiter" not in told and "larger elements" not in told
    assert max(s.power for s in limited) > max(s.power for s in found)
    # What was set by hand stands among them where it belongs
    own = settings(diesel(pump="112 %", limiter="boost"))
    assert [render(s.title, {}) for s in own if s.now] == ["Current setting"]
    smoky = settings(diesel(delivery="120 mm³"))
    assert "Even" in "\n".join(render(s, {}) for s in sentences(smoky, 150e3))
    for other in (shipped.demo("tarn"), shipped.demo("skerry")):
        with pytest.raises(Fault, match="need a diesel"):
            settings(other)


def test_settings_in_the_shell(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """`evaluate` prints them and writes them; a petrol engine has none."""
    path = tmp_path / "d.json"
    project_file.write(diesel(screw="0.5"), path)
    assert main(["candidates", str(path)]) == 0
    told = capsys.readouterr().out
    assert "* Screw in by 0.5" in told and "Original" in told and "Up to" in told
    assert main(["candidates", str(path), "--json", "-"]) == 0
    tree = json.loads(capsys.readouterr().out)
    assert [row["now"] for row in tree["pump"]].count(True) == 1 and tree["pump"][-1]["fails"] == ["smoke"]
    path = tmp_path / "m.json"
    project_file.write(shipped.demo("moth"), path)
    assert main(["candidates", str(path), "--json", "-"]) == 0
    assert json.loads(capsys.readouterr().out)["pump"] == []


@pytest.mark.parametrize("travel", ["0.1 mm", "2 mm", "30 mm"])
def test_a_rack_that_no_pump_has_is_a_slip(travel: str) -> None:
    """It is told at its entry; in-line pumps travel 9 to 13 mm at full load, 4 and 25 at the ends (common practice, no source)."""
    with pytest.raises(ProjectProblems, match="looks like a slip"):
        assemble(diesel(rack_was=travel))
    for good in ("4 mm", "10.5 mm", "25 mm"):
        assert len(settings(diesel(rack_was=good))) > 2


def test_smoke_is_called_what_it_is() -> None:
    """What fails is seen behind the car: a haze is what is tight."""
    for given in range(40, 140, 8):
        found = next(v for v in judge(plain_case(assemble(diesel(delivery=f"{given} mm³")))) if v.id == "smoke")
        text = render(found.text, {})
        assert ("smoke. " in text) == (found.state == FAILS), text
        assert ("haze" in text) == (found.state == MARGINAL), text


def test_a_setting_without_a_state_is_none_to_drive_with(monkeypatch: pytest.MonkeyPatch) -> None:
    """Where the target is not solved nothing says that it holds: it fails, and says why."""
    real = diesel_pump.plain_case

    def unsolved(build: Build) -> Case:
        case = real(build)
        if build.engine.delivery[0][1] > 1.2 * first:
            closure = dataclasses.replace(case.target.closure, solved=False)
            return dataclasses.replace(case, target=dataclasses.replace(case.target, closure=closure))
        return case

    project = diesel(limiter="boost")
    first = assemble(project).engine.delivery[0][1]
    monkeypatch.setattr(diesel_pump, "plain_case", unsolved)
    found = settings(project)
    assert [s.state == FAILS for s in found] == sorted(s.state == FAILS for s in found) and found[-1].state == FAILS
    words = "\n".join(render(s, {}) for s in sentences(found, 150e3))
    assert "not solved" in words and "None of these" not in words

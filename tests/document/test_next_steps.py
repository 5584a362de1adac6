"""What a build needs next: each kind of step where it belongs, and where it leads."""

from __future__ import annotations

import dataclasses

from zarvik.core.answer.answer import Answer, answer
from zarvik.core.uncertainty.bands import Bands
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.next_steps.next_steps import CUT, DECIDE, FIX, MEASURE, PRIMARIES, STOCK, TURBO, NextStep, next_steps
from zarvik.project.uncertainty.uncertainty import bands_of
from zarvik.project.units.units import parse


def steps(project: Project, found: Answer) -> dict[str, NextStep]:
    """The steps by their kinds, each of which is there once."""
    listed = next_steps(project, found)
    assert len({step.kind for step in listed}) == len(listed)
    return {step.kind: step for step in listed}


def solved(project: Project, bands: Bands | None = None) -> Answer:
    """Its answer, with bands where there are some."""
    found = answer(assemble(project))
    return found if bands is None else dataclasses.replace(found, bands=bands)


def test_a_design_that_holds(tarn: Project, tarn_answer: Answer) -> None:
    """Choose a turbo, decide what is undecided, cut; its tube is there and its primaries are laid."""
    found = steps(tarn, tarn_answer)
    assert [kind for kind in found if kind != FIX] == [TURBO, DECIDE, CUT]
    assert (FIX in found) == any(v.state == "fails" for v in tarn_answer.check_results)
    assert found[TURBO].count == len(tarn.turbos) == 4 and found[TURBO].leads[0][1] == "=bench:candidates"
    assert found[DECIDE].count == sum(v.state == "to_do" for v in tarn_answer.check_results)


def test_what_fails_comes_first(tarn: Project) -> None:
    """The worst of it is named, and leads to where it is worked on; what is decided and what is no longer there changes the steps."""
    narrow = with_value(tarn, "cold_pipe.c-run.bore", parse("30 mm", "length"))
    narrow = narrow.model_copy(
        update={"stock": (), "primaries": (), "decision": narrow.decision.model_copy(update={"turbo": narrow.turbo})}
    )
    judged = solved(narrow)
    fails = [v for v in judged.check_results if v.state == "fails"]
    found = steps(narrow, judged)
    assert next(iter(found)) == FIX and found[FIX].count == len(fails) > 0
    worst = min(fails, key=lambda v: 0.0 if v.margin is None else v.margin)
    assert found[FIX].leads == ((worst.title, f"=subject:{worst.about}"),)
    assert TURBO not in found and {PRIMARIES, STOCK} <= set(found)
    assert list(found)[-1] == CUT


def test_a_blower_has_no_turbo_to_choose_and_no_primaries_to_lay() -> None:
    """Whatever is listed beside it."""
    moth = shipped.demo("moth")
    found = steps(moth, solved(moth))
    assert TURBO not in found and PRIMARIES not in found


def test_what_is_worth_measuring(tarn: Project) -> None:
    """Once it is known how far figures may lie: entries that nobody knows, at most three of them, each with its field and what it is
    good for."""
    vague = tarn
    for place, text, kind in (("intercooler.rating_confidence", "? 80 %", "ratio"), ("engine.best_breathing", "about 92 %", "ratio")):
        vague = with_value(vague, place, parse(text, kind))
    bare = solved(vague)
    assert MEASURE not in steps(vague, bare)
    step = steps(vague, solved(vague, bands_of(vague, bare)))[MEASURE]
    assert 1 <= len(step.leads) <= 3 and step.count >= len(step.leads)
    assert {"=engine.best_breathing", "=intercooler.rating_confidence"} & {to for _, to in step.leads}
    assert step.decides or step.power >= 0.01 * vague.goal.target_power.si

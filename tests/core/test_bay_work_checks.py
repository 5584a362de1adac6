"""Checks of access and assembly in the bay: what is said is measured again on another design, and each cure is carried out."""

from __future__ import annotations

import dataclasses
import re

import numpy as np
import pytest

from made_bays import without_bay
from zarvik.core.bay.access import FIST, reaches
from zarvik.core.bay.assembly import order_of
from zarvik.core.bay.clearance import Obstacle
from zarvik.core.checks import CheckResult
from zarvik.core.checks.bay_work import check
from zarvik.core.checks.case import Case, plain_case
from zarvik.core.common.sentences import Figure
from zarvik.core.layout.placement import lay_out
from zarvik.core.limits.limits import FAILS, MARGINAL, OK
from zarvik.core.solids.bodies import Body, Shape
from zarvik.core.whole_build.build import Build
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.bay.ready import with_ready
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.edits.connection_edits import tick
from zarvik.project.units.rendering import render


def case_of(build: Build, **values: object) -> Case:
    return dataclasses.replace(plain_case(build), **({"plain": False} | values))


def judged(build: Build) -> dict[str, CheckResult]:
    return {one.id: one for one in check(case_of(build))}


def said(result: CheckResult) -> str:
    return render(result.text, {}).replace("\u00a0", " ")


def cured(result: CheckResult) -> str:
    assert result.cure is not None
    return render(result.cure, {}).replace("\u00a0", " ")


def spare(result: CheckResult) -> float:
    found = dict(result.text.figures)["spare"]
    assert isinstance(found, Figure)
    return found.value


@pytest.fixture(scope="module")
def tarn_build() -> Build:
    return assemble(shipped.demo("tarn"))


def in_ready(key: str) -> Project:
    return with_ready(without_bay(shipped.demo("tarn")), key)


def shelf(build: Build, joint: str, beyond: float) -> Obstacle:
    """A cage of four thick plates round a joint (its key), so far from its middle in m; open at both ends of the pipe."""
    assert build.space is not None
    layout = lay_out(build.space)
    place = next(one.place for one in reaches(build.space, layout, build.obstacles, build.connections) if one.place.key == joint)
    axes, origin = place.frame.axes.T, place.frame.origin
    bodies = tuple(
        Body(name="Cage", shape=Shape.BOX, centre=origin + sign * (beyond + 0.02) * axes[k], axes=axes, half=np.array(half))
        for k, half in ((0, (0.02, beyond, 0.15)), (1, (beyond, 0.02, 0.15)))
        for sign in (1.0, -1.0)
    )
    return Obstacle(id="cage", name="Cage", kind="metal", bodies=bodies, slack=0.0)


def test_a_bay_in_which_all_is_well(tarn_build: Build) -> None:
    found = judged(tarn_build)
    assert [found[key].state for key in ("bay_access", "bay_order")] == [OK, OK]
    assert found["bay_access"].margin == pytest.approx(spare(found["bay_access"]) / (2.0 * FIST), abs=0.006)
    assert said(found["bay_order"]) == "All 15 parts go in"
    assert not check(case_of(dataclasses.replace(tarn_build, obstacles=())))
    assert not check(case_of(tarn_build, plain=True))


def test_a_caged_joint_is_not_got_at_until_the_cage_is_off(tarn_build: Build) -> None:
    """No hand of 90 mm with its driver goes into a cage of 90 mm; without the cage it is as it was."""
    joint = "cold_pipe__c-back__c-cone"
    caged = dataclasses.replace(tarn_build, obstacles=(*tarn_build.obstacles, shelf(tarn_build, joint, 0.075)))
    result = judged(caged)["bay_access"]
    assert result.state == MARGINAL
    found = re.match(r"At “(.+)” a hand with a .+ lacks \d+ mm, at “Cage”", said(result))
    assert found
    assert "before “Cage” is in" in cured(result)
    assert tarn_build.space is not None
    layout = lay_out(tarn_build.space)
    free = reaches(tarn_build.space, layout, tarn_build.obstacles, tarn_build.connections)
    assert result.cure is not None
    figure = dict(result.cure.figures)["spare"]
    assert isinstance(figure, Figure)
    assert figure.value == pytest.approx(next(one.spare for one in free if one.place.name == found[1]), abs=5.1e-4)
    assert judged(tarn_build)["bay_access"].state == OK
    # Taking off one of two cages does not do
    two = dataclasses.replace(caged, obstacles=(*caged.obstacles, dataclasses.replace(shelf(tarn_build, joint, 0.07), name="Second")))
    assert judged(two)["bay_access"].state == FAILS


def test_a_v_band_is_got_at_where_a_spanner_is_not() -> None:
    """The cure is carried out: the joint is then got at, and the list of connections says so."""
    project = in_ready("across")
    result = judged(assemble(project))["bay_access"]
    assert result.state == MARGINAL
    assert 0.0 < spare(result) < 0.01
    assert result.margin == pytest.approx(-spare(result) / (2.0 * FIST), abs=0.006)
    assert cured(result).startswith("A V-band there")
    after = judged(assemble(with_changes(project, result.changes)))["bay_access"]
    assert after.state == OK
    assert "Turbine flange" not in said(after)


def test_a_pipe_that_does_not_go_in_does_in_two() -> None:
    project = in_ready("vee")
    result = judged(assemble(project))["bay_order"]
    assert result.state == FAILS
    assert said(result) == "“Exhaust” does not go in past “Frame rail at bank 1”, “Strut tower at bank 1”"
    assert cured(result) == "A V-band behind “Downpipe”: both halves go in"
    assert result.about == "layout:exhaust"
    after = judged(assemble(with_changes(project, result.changes)))["bay_order"]
    assert after.state == OK, said(after)


def test_what_does_not_go_in_at_all_is_said() -> None:
    result = judged(assemble(in_ready("flat")))["bay_order"]
    assert said(result) == "“Manifold” does not go in past “Brake lines”, “Frame rail at bank 1”"
    assert cured(result) == "Move “Brake lines”, or have “Manifold” come apart"
    assert not result.changes


def test_work_in_the_bay_waits_for_the_whole_answer(tarn_build: Build) -> None:
    """A design that is dragged shows what the one before it showed, and nothing where there was none."""
    assert not check(case_of(tarn_build, hasty=True))
    whole = case_of(tarn_build)
    before = check(whole)
    bare = dataclasses.replace(tarn_build, obstacles=tarn_build.obstacles[:-1])
    assert check(case_of(bare, hasty=True, memo=whole.remember(before))) == before


def test_ticking_off_a_joint_searches_no_order_again(tarn_build: Build) -> None:
    assert tarn_build.space is not None
    ticked = assemble(tick(shipped.demo("tarn"), "charger__inlet"))
    assert ticked.connections != tarn_build.connections
    layout = lay_out(tarn_build.space)
    one, two = (order_of(tarn_build.space, layout, tarn_build.obstacles, rows) for rows in (tarn_build.connections, ticked.connections))
    assert one is two

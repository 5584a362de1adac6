"""Searching whole designs: the optimiser on functions whose best points are known, the search against a full
enumeration, a target taken from a solved design found again, looser limits that never make it worse."""

from __future__ import annotations

import itertools
import json
import math
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zarvik.cli import main
from zarvik.core.airpath.solution import prepare
from zarvik.core.design.front import (
    Place,
    Score,
    beats,
    crowding,
    diverse,
    ranked,
    search,
    unbeaten,
)
from zarvik.core.design.money import Rate, cooler_cost, gate_cost, pipes_cost, turbo_cost
from zarvik.formats import shelf
from zarvik.project.assemble import assemble
from zarvik.project.designs import (
    BOOST,
    COLD,
    COOLER,
    EXHAUST_BORE,
    GATE_SIZE,
    HOT,
    HOUSING,
    TURBO,
    Search,
    catalogue,
)
from zarvik.project.document import Project
from zarvik.project.edits import put
from zarvik.project.units import EntryError, parse


@pytest.fixture(scope="module")
def turbos() -> dict[str, object]:
    """Five turbos of the shelf about the Tarn's."""
    return {n: shelf.turbo(n) for n in ("c46-60", "c51-67", "c54-71", "c58-76", "c61-80")}


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 6), st.integers(0, 6), st.integers(0, 6)), min_size=1, max_size=25))
def test_unbeaten_is_what_nothing_beats(aims: list[tuple[int, int, int]]) -> None:
    """Against the definition, pair by pair; ranks begin with them; nothing unbeaten beats another."""
    scores = [Score(tuple(float(v) for v in a)) for a in aims]
    keep = set(unbeaten(scores))
    for i, mine in enumerate(aims):
        beaten = any(all(a <= b for a, b in zip(other, mine, strict=True)) and other != mine for other in aims)
        assert (i not in keep) == beaten
    rank = ranked(scores)
    assert {i for i, r in enumerate(rank) if r == 0} == keep
    assert not any(beats(scores[i], scores[j]) for i in keep for j in keep)
    assert beats(Score((9.0,), 0.0), Score((1.0,), 0.1)) and not beats(Score((1.0,), 0.1), Score((9.0,), 0.0))


def test_crowding_by_hand() -> None:
    """Three points on a line: the ends have all the room, the middle the whole span of both aims."""
    room = crowding([Score((0.0, 4.0)), Score((1.0, 1.0)), Score((4.0, 0.0))])
    assert math.isinf(room[0]) and math.isinf(room[2]) and room[1] == pytest.approx(2.0)


def test_a_front_that_is_known() -> None:
    """E. Zitzler, K. Deb, L. Thiele, Evol. Comp. 8 (2000) 173, function T1 on a grid of ten axes with 21 sizes: on the
    front all but the first are 0 and f2 = 1 - sqrt(f1). 1,500 of 1.7e13 places are enough to come within 2 % of
    it, and the same seed finds the same."""

    def evaluate(place: Place) -> Score:
        x = [p / 20.0 for p in place]
        g = 1.0 + 9.0 * sum(x[1:]) / (len(x) - 1)
        return Score((x[0], g * (1.0 - math.sqrt(x[0] / g))))

    sizes = [21] * 10
    found = search(sizes, evaluate, budget=1500, seed=3)
    front = [found.scores[p] for p in found.front()]
    assert len(front) >= 15
    off = [s.aims[1] - (1.0 - math.sqrt(s.aims[0])) for s in front if s is not None]
    assert max(off) < 0.02
    again = search(sizes, evaluate, budget=1500, seed=3)
    assert again.front() == found.front() and found.count <= 1500


def test_a_single_best_point() -> None:
    """One aim, a bowl with its bottom at (7, 3, 11, 5) and half of the places forbidden: found."""

    def evaluate(place: Place) -> Score | None:
        if sum(place) % 7 == 1:
            return None
        return Score((float(sum((p - q) ** 2 for p, q in zip(place, (7, 3, 11, 5), strict=True))),))

    for seed in (1, 2, 3):
        found = search([15] * 4, evaluate, budget=900, seed=seed)
        assert found.front() == [(7, 3, 11, 5)]


def test_what_is_shown_differs() -> None:
    """The best of each aim is among them, twins are not."""
    places = [(0, 0), (0, 1), (9, 9), (5, 5), (0, 0)]
    scores = [Score((0.0, 9.0)), Score((0.1, 8.9)), Score((9.0, 0.0)), Score((5.0, 5.0)), Score((0.0, 9.0))]
    chosen = diverse(places, scores, (10, 10), 3)
    assert {0, 2} <= set(chosen) and 3 in chosen
    assert diverse([], [], (10,), 3) == []


@pytest.mark.parametrize("demo", ["tarn", "skerry"])
def test_against_every_design_there_is(demo: str) -> None:
    """Turbo, housing and boost alone: every place solved, and the search with a third of them over two seeds. Nothing
    of the whole beats what was found by more than a step of rounding."""
    project = shelf.demo(demo)
    free = (TURBO, HOUSING, BOOST) if demo == "tarn" else (TURBO, HOUSING, GATE_SIZE)
    searching = Search(project, {}, free)
    every = {p: s for p in itertools.product(*(range(n) for n in searching.sizes)) if (s := searching.score(p))}
    assert len(every) > 100
    for seed in (1, 2):
        found = search(searching.sizes, searching.score, budget=len(every) // 3, seed=seed,
                       starts=[tuple(a.own for a in searching.axes)])  # fmt: skip
        mine = [s for p in found.front() if (s := found.scores[p]) is not None]
        fulfil = [s for s in every.values() if s.short == 0.0]
        if not fulfil:
            least = min(s.short for s in every.values())
            assert mine[0].short <= 1.05 * least + 0.05
            continue
        assert mine and mine[0].short == 0.0
        for aim in range(4):
            best, got = min(s.aims[aim] for s in fulfil), min(s.aims[aim] for s in mine)
            spread = max(s.aims[aim] for s in fulfil) - best
            assert got <= best + 0.06 * max(spread, 1e-9), (aim, got, best)


def test_what_is_found_fulfils_what_was_asked(turbos: dict[str, object]) -> None:
    """Each design is solved again here: its figures are its own, nothing fails, power and threshold are there; no two
    are the same, and none beats another."""
    project = shelf.demo("tarn")
    found = Search(project, turbos).run(budget=260, seed=1, most=5)  # type: ignore[arg-type]
    assert len(found.designs) >= 3
    for one in found.designs:
        point = prepare(assemble(one.project)).at(6400.0)
        assert one.figures.power == pytest.approx(point.power, rel=1e-4)
        assert point.power >= 0.995 * 330 * 745.7 and one.figures.spool <= 3400.0
        assert one.verdicts and all(v.state != "fails" for v in one.verdicts)
    assert len({d.place for d in found.designs}) == len(found.designs)
    aims = [Score((d.figures.spool, -min(d.figures.power / (330 * 745.7) - 1.0, 0.1), d.cost.money, d.cost.hours))
            for d in found.designs]  # fmt: skip
    assert len(unbeaten(aims)) == len(aims)


def test_a_target_that_was_reached_is_found_again(turbos: dict[str, object]) -> None:
    """The Tarn with a smaller wheel and its own boost makes what it makes: asked for that, there is a design."""
    made = put(shelf.demo("tarn"), "turbo", "c51-67")
    point = prepare(assemble(made)).at(6400.0)
    asked = put(shelf.demo("tarn"), "brief.target_power", parse(f"{point.power / 745.7:.0f} hp", "power"))
    found = Search(asked, turbos, (TURBO, HOUSING, GATE_SIZE, BOOST)).run(budget=200)  # type: ignore[arg-type]
    assert any(d.figures.power >= 0.995 * point.power for d in found.designs)


def test_a_looser_limit_is_never_worse() -> None:
    """A bottom end that stands more: the best of each aim over the same sizes, each place solved, is no worse."""
    best = []
    for trusted in ("1.2 bar", "1.4 bar"):
        project = put(shelf.demo("tarn"), "engine.trusted_boost", parse(trusted, "pressure_gauge"))
        searching = Search(project, {}, (TURBO, BOOST))
        scores = [s for p in itertools.product(*(range(n) for n in searching.sizes)) if (s := searching.score(p))]
        fulfil = [s for s in scores if s.short == 0.0]
        best.append([min((s.aims[i] for s in fulfil), default=math.inf) for i in range(4)])
    for one, two in itertools.pairwise(best):
        assert all(b <= a for a, b in zip(one, two, strict=True))


def test_sizes_go_into_the_document(turbos: dict[str, object]) -> None:
    """Each axis at its own size leaves the document as it is; another pipe bore is that of all its pieces that are as
    wide, bends keep their shape, cones meet it; another turbo's opening is met by the cone before it."""
    project = shelf.demo("tarn")
    searching = Search(project, turbos, (HOT, COLD, EXHAUST_BORE, COOLER, TURBO))  # type: ignore[arg-type]
    own = tuple(a.own for a in searching.axes)
    design = searching.design(own)
    assert design is not None
    assert design.figures.power == pytest.approx(prepare(assemble(project)).at(6400.0).power, rel=1e-5)
    keys = [a.key for a in searching.axes]
    wider = list(own)
    wider[keys.index(COLD)] += 1
    other = searching.design(tuple(wider))
    assert other is not None
    bores = {p.id: p for p in other.project.cold_pipe}
    assert bores["c-run"].bore.si == bores["c-up"].bore.si == bores["c-cone"].bore_in.si > 0.0602
    assert bores["c-cone"].bore_out.si == pytest.approx(0.065)
    before = {p.id: p for p in project.cold_pipe}["c-up"]
    assert bores["c-up"].radius.si / bores["c-up"].bore.si == pytest.approx(before.radius.si / before.bore.si, rel=1e-3)
    larger = list(own)
    larger[keys.index(TURBO)] += 1
    third = searching.design(tuple(larger))
    assert third is not None and third.project.intake[-1].bore_out.si == pytest.approx(0.058, abs=3e-4)
    with pytest.raises(EntryError, match="left free"):
        Search(project, {}, ("colour",))
    with pytest.raises(EntryError, match="nothing"):
        Search(shelf.demo("fell"), {}, (COOLER,))


def test_costs_by_hand() -> None:
    """A catalogue of round numbers: a turbo of 870, a gate of 40 mm (100 + 2 * 5), a core of 10 dm3 (200 + 2 * 20),
    four primaries at 30; the lines that ship are there and positive."""
    system = assemble(shelf.demo("tarn"))
    rates = {key: Rate(0.0, 0.0) for key in catalogue()}
    rates |= {"gate": Rate(100.0, 2.0), "gate_mm": Rate(5.0, 0.0), "cooler": Rate(200.0, 4.0), "cooler_dm3": Rate(20.0, 0.0),
              "primary": Rate(30.0, 3.0), "turbo": Rate(500.0, 5.0), "turbo_growth": Rate(2.0, 0.0)}  # fmt: skip
    assert turbo_cost(system, rates, 870.0).money == 870.0
    gate = system.gate
    assert gate_cost(system, rates).money == pytest.approx(100.0 + 5.0 * (1e3 * gate.diameter - 38.0))
    assert cooler_cost(10e-3, rates).money == pytest.approx(240.0) and cooler_cost(0.0, rates).money == 0.0
    pipes = pipes_cost(system, rates)
    # What has no price is at the least that of the smallest pipe; primaries by themselves
    assert pipes.money >= 4 * 30.0 and pipes.hours >= 4 * 3.0
    assert all(r.price >= 0.0 and r.hours >= 0.0 for r in catalogue().values())


def test_the_command_line_searches(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """A list one can read, JSON as documented, a design taken over as a project; odd words are told."""
    path = tmp_path / "a.zarvik.json"
    path.write_text(shelf.demo_text("tarn"), "utf-8")
    words = ["design", str(path), "--free", "turbo,housing,boost", "--tries", "60"]
    assert main(words) == 0
    assert "different ones" in capsys.readouterr().out
    assert main([*words, "--json", "-"]) == 0
    tree = json.loads(capsys.readouterr().out)
    assert tree["schema"] == "zarvik-result-designs" and tree["free"] == ["turbo", "housing", "boost"]
    assert {"sizes", "power_W", "threshold_rpm", "money", "hours", "states"} <= set(tree["designs"][0])
    goal = tmp_path / "b.zarvik.json"
    assert main([*words, "--take", "1", "--into", str(goal)]) == 0
    from zarvik.formats import project_file

    taken: Project = project_file.read(goal)
    power = prepare(assemble(taken)).at(6400.0).power
    assert power == pytest.approx(tree["designs"][0]["power_W"], rel=1e-4)
    assert main([*words, "--take", "99", "--into", str(goal), "--force"]) == 2
    assert main(["design", str(path), "--free", "colour"]) == 2
    assert main(["design", str(path), "--tries", "3"]) == 2
    # What nothing can give leaves with 1 and says what stood in the way.
    hopeless = put(shelf.demo("tarn"), "brief.target_power", parse("900 hp", "power"))
    project_file.write(hopeless, path)
    assert main(["design", str(path), "--free", "turbo,boost", "--tries", "60"]) == 1
    assert "nothing fulfils" in capsys.readouterr().out


def test_weighing_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Candidates with their seconds, pulleys of a blower, JSON without a number that is none."""
    for name, words in (("tarn", "54 × 71"), ("moth", "* 69.0")):
        path = tmp_path / f"{name}.zarvik.json"
        path.write_text(shelf.demo_text(name), "utf-8")
        assert main(["weigh", str(path)]) == 0
        assert words in capsys.readouterr().out
        assert main(["weigh", str(path), "--json", "-"]) == 0
        tree = json.loads(capsys.readouterr().out)
        assert tree["schema"] == "zarvik-result-weighed"
        assert bool(tree["candidates"]) == (name == "tarn") and bool(tree["pulleys"]) == (name == "moth")

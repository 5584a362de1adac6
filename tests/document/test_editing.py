"""Edits, history, assembly: every change, undone and done again; contradictions named."""

from __future__ import annotations

import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zarvik.core.ducts.pieces import KINDS
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.assembly.runs import piece_element, runs_of
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.piece import PIECE_MODELS
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.edits import edits
from zarvik.project.edits.connection_edits import add_line
from zarvik.project.edits.history import History
from zarvik.project.edits.piece_edits import insert_piece, move_piece, remove_piece
from zarvik.project.edits.turbo_edits import add_turbo, remove_turbo
from zarvik.project.edits.unit_edits import in_units
from zarvik.project.units.units import EntryError, Quantity, parse
from zarvik.project.variants import variants


def test_put_and_get(tarn: Project) -> None:
    """A value at a place, and nothing else, is changed."""
    value = parse("2.75 in", "length")
    changed = edits.with_value(tarn, "cold_pipe.c-run.bore", value)
    assert edits.get(changed, "cold_pipe.c-run.bore") == value
    assert edits.get(tarn, "cold_pipe.c-run.bore") != value
    assert changed.hot_pipe is tarn.hot_pipe
    assert changed.cold_pipe[0] is tarn.cold_pipe[0]


@pytest.mark.parametrize(
    ("place", "value", "words"),
    [
        ("cold_pipe.c-run.bore", parse("1 mm", "length"), "must lie between"),
        ("cold_pipe.c-run.bore", parse("-60 mm", "length"), "must lie between"),
        ("cold_pipe.c-run.bore", parse("1 bar", "pressure_gauge"), "enter a quantity"),
        ("goal.target_speed", parse("0 rpm", "rotation"), "must lie between"),
        ("engine.bore", parse("1e9 m", "length"), "must lie between"),
        ("engine.fuel", "hay", "cannot be chosen"),
        ("turbo", 3, None),
    ],
)
def test_put_refuses(tarn: Project, place: str, value: object, words: str | None) -> None:
    """Out of limits, of another kind, not among the choices: a sentence, and nothing changes."""
    if words is None:
        assert edits.with_value(tarn, place, "c46-60").turbo == "c46-60"
        return
    with pytest.raises(EntryError, match=words):
        edits.with_value(tarn, place, value)


@pytest.mark.parametrize("place", ["nowhere", "goal.nothing", "cold_pipe.zzz.bore", "name.x"])
def test_unknown_places(tarn: Project, place: str) -> None:
    """A place that is not there is an error of the program, not of the user."""
    with pytest.raises(KeyError):
        edits.get(tarn, place)


@pytest.mark.parametrize("kind", list(KINDS))
def test_pieces_are_added_with_their_neighbours_bore(tarn: Project, kind: str) -> None:
    """A new piece fits where it is put, gets a key of its own and can be solved."""
    changed, key = insert_piece(tarn, "cold_pipe", 2, kind)
    piece = edits.get(changed, f"cold_pipe.{key}")
    assert changed.cold_pipe[2] is piece
    assert len(changed.cold_pipe) == len(tarn.cold_pipe) + 1
    element = piece_element(piece)
    assert element.diameter_in == pytest.approx(2.37 * 0.0254)
    assemble(changed)


def test_pieces_are_moved_and_removed(tarn: Project) -> None:
    """Order and membership of a run."""
    moved = move_piece(tarn, "c-run", 0)
    assert [p.id for p in moved.cold_pipe][:3] == ["c-run", "c-joint", "c-leg"]
    assert [p.id for p in move_piece(tarn, "c-run", 99).cold_pipe][-1] == "c-run"
    gone = remove_piece(tarn, "c-run")
    assert "c-run" not in [p.id for p in gone.cold_pipe]
    with pytest.raises(KeyError):
        remove_piece(gone, "c-run")


def test_candidates_come_and_go(tarn: Project) -> None:
    """The first becomes the chosen one, a second of the same key gets another, the chosen stays."""
    turbo = Turbo.of(shipped.turbo_map("c42-55"), "c42-55")
    fresh = add_turbo(Project(), turbo)
    assert fresh.turbo == "c42-55"
    twice = add_turbo(fresh, turbo)
    assert [t.id for t in twice.turbos] == ["c42-55", "c42-55-2"]
    assert len(remove_turbo(twice, "c42-55-2").turbos) == 1
    with pytest.raises(EntryError, match="chosen"):
        remove_turbo(twice, "c42-55")


def test_step_between_pieces_is_cured_by_a_reducer(tarn: Project) -> None:
    """The cure puts a cone of the right bores in between."""
    from zarvik.core.checks import Change

    stepped = edits.with_value(tarn, "cold_pipe.c-run.bore", parse("70 mm", "length"))
    healed = with_changes(stepped, [Change("insert-reducer:c-run", 0.0)])
    cone = healed.cold_pipe[3]
    assert cone.kind == "reducer"
    assert str(cone.bore_in) == "2.37 in"
    assert str(cone.bore_out) == "70 mm"


def test_a_drag_is_one_step(tarn: Project) -> None:
    """Edits with one merge key are one step until they are sealed."""
    history = History(tarn)
    for bore in (61.0, 62.0, 63.0):
        value = Quantity(bore, "mm", "length")
        history.apply("Bore", edits.with_value(history.project, "cold_pipe.c-run.bore", value), "drag")
    assert history.position == 1
    history.seal()
    history.apply("Bore", edits.with_value(history.project, "cold_pipe.c-run.bore", Quantity(64.0, "mm", "length")), "drag")
    assert history.position == 2
    assert history.undo_label == "Bore"
    history.undo()
    history.undo()
    assert history.project == tarn
    assert history.undo_label is None
    assert not history.undo()
    assert history.redo_label == "Bore"


def test_a_drag_that_came_back_is_not_taken_for_the_one_before(tarn: Project) -> None:
    """Pulled, let go, pulled to and fro in the same place and on: the first pull stays a step of its own."""

    def wide(mm: int) -> Project:
        return edits.with_value(tarn, "wastegate.diameter", parse(f"{mm} mm", "length"))

    history = History(tarn)
    history.apply("pull", wide(40), "pull")
    history.seal()
    history.apply("pull", wide(44), "pull")
    history.apply("pull", wide(40), "pull")  # back where it began: no step is left of it
    assert len(history.steps) == 2
    history.apply("pull", wide(46), "pull")
    assert [edits.get(s.project, "wastegate.diameter").value for s in history.steps] == [38.0, 40.0, 46.0]


def test_nothing_changed_is_no_step(tarn: Project) -> None:
    """The same document again leaves the history as it is."""
    history = History(tarn)
    assert not history.apply("Nothing", edits.with_value(tarn, "turbo", tarn.turbo))
    assert history.position == 0


def random_edit(project: Project, chance: random.Random) -> Project:
    """One edit of any sort."""
    sort = chance.randrange(6)
    run = chance.choice(edits.RUNS)
    pieces = getattr(project, run)
    if sort == 0:
        return insert_piece(project, run, chance.randrange(len(pieces) + 1), chance.choice(list(KINDS)))[0]
    if sort == 1 and pieces:
        return remove_piece(project, chance.choice(pieces).id)
    if sort == 2 and pieces:
        return move_piece(project, chance.choice(pieces).id, chance.randrange(9))
    if sort == 3:
        return edits.with_value(project, "turbo", chance.choice(project.turbos).id)
    if sort == 4:
        return edits.with_value(project, "intercooler.fitted", chance.random() < 0.5)
    place = chance.choice(["goal.target_boost", "goal.big_run_boost"])
    return edits.with_value(project, place, Quantity(round(chance.uniform(0, 2), 3), "bar", "pressure_gauge"))


@given(seed=st.integers(0, 10_000))
@settings(max_examples=20, deadline=None)
def test_undo_and_redo_return_to_the_same_documents(tarn: Project, seed: int) -> None:
    """A hundred random edits, all undone, all done again, every state the same."""
    chance = random.Random(seed)
    history = History(tarn)
    seen = [tarn]
    for _ in range(100):
        project = random_edit(history.project, chance)
        if history.apply("Edit", project):
            seen.append(project)
    assert project_file.loads(project_file.dumps(history.project)) == history.project
    for expected in reversed(seen[:-1]):
        history.undo()
        assert history.project == expected
    for expected in seen[1:]:
        history.redo()
        assert history.project == expected


def test_a_throat_wider_than_its_valve_is_refused(tarn: Project) -> None:
    """The throat stands inside of the seat."""
    wide = edits.with_value(tarn, "ports.valve_diameter", parse("36 mm", "length"))
    assemble(edits.with_value(wide, "ports.throat", parse("31 mm", "length")))
    with pytest.raises(ProjectProblems, match="too big for a valve"):
        assemble(edits.with_value(wide, "ports.throat", parse("50 mm", "length")))


@pytest.mark.parametrize(
    ("place", "text", "words"),
    [
        ("cold_pipe.c-up.radius", "20 mm", "Bend up.*0.7 D"),
        ("goal.target_speed", "7600 rpm", "rev limit"),
        ("engine.idle", "2900 rpm", None),
        ("intercooler.cooling_flow", "0.1 kg/s", "cooling air"),
        ("engine.rev_limit", "1500 rpm", "target speed"),
        ("goal.pedal_at", "9000 rpm", "above the rev limit"),
        ("car.pull_from", "9000 rpm", "above the rev limit"),
        ("turbos.c54-71.turbine.exducer", "90 mm", "does not fit a turbine wheel"),
        ("turbos.c54-71.turbine.inertia", "1 g·cm²", "looks like a slip"),
        ("turbos.c54-71.turbine.inertia", "20000 g·cm²", "looks like a slip"),
    ],
)
def test_contradictions_are_named(tarn: Project, place: str, text: str, words: str | None) -> None:
    """Each field alone is fine; together they are not: place and sentence."""
    meta = edits.meta(tarn, place)
    assert isinstance(meta, QuantitySpec)
    changed = edits.with_value(tarn, place, meta.read(text))
    if words is None:
        assemble(changed)
        return
    with pytest.raises(ProjectProblems, match=words) as caught:
        assemble(changed)
    parts = {place.split(".")[0], "goal", "car"}
    assert {p.place.split(".")[0] for p in caught.value.problems} <= parts


def test_all_problems_at_once() -> None:
    """No turbo and a rich diesel: both are said."""
    project = edits.with_value(Project(), "engine.full_load_lambda", parse("0.82", "number"))
    project = edits.with_value(project, "engine.fuel", "diesel")
    with pytest.raises(ProjectProblems) as caught:
        assemble(project)
    assert len(caught.value.problems) == 2


def every_field(project: Project) -> list[str]:
    """Places of all fields that a form could show."""
    places = []
    for part in ("goal", "engine", "intercooler"):
        for name in type(getattr(project, part)).model_fields:
            place = f"{part}.{name}"
            if edits.meta(project, place) is not None:
                places.append(place)
    return places


def test_every_field_knows_its_kind_limits_and_words(tarn: Project) -> None:
    """Metadata is whole: title, limits that hold the present value, a unit that is known."""
    places = every_field(tarn)
    assert len(places) > 25
    for place in places:
        meta = edits.meta(tarn, place)
        assert meta is not None
        assert meta.title
        if isinstance(meta, QuantitySpec):
            low, high = meta.limits
            assert low < high
            assert low <= edits.get(tarn, place).si <= high
            assert meta.read(str(edits.get(tarn, place))) == edits.get(tarn, place)
        if isinstance(meta, Choice):
            assert edits.get(tarn, place) in [key for key, _ in meta.options()]


@pytest.mark.parametrize("kind", list(PIECE_MODELS))
def test_piece_models_carry_the_core_parameters(kind: str) -> None:
    """One record in the core makes the field of the file, with the same limits."""
    model = PIECE_MODELS[kind]
    for parameter in KINDS[kind].parameters:
        assert parameter.name in model.model_fields
        meta = next(m for m in model.model_fields[parameter.name].metadata if isinstance(m, QuantitySpec | Choice))
        if isinstance(meta, QuantitySpec):
            assert meta.limits == pytest.approx((parameter.low, parameter.high))


def test_what_is_said_is_assumed_no_longer(tarn: Project) -> None:
    """An assumed entry that is typed anew loses its mark; the same value again keeps it, and so do the
    others."""
    marked = tarn.model_copy(update={"assumed": ("goal.humidity", "wastegate.lift")})
    typed = edits.with_value(marked, "goal.humidity", parse("51 %", "ratio"))
    assert typed.assumed == ("wastegate.lift",)
    same = edits.with_value(marked, "goal.humidity", marked.goal.humidity)
    assert same.assumed == marked.assumed


@pytest.mark.parametrize("seed", range(4))
def test_what_an_edit_leaves_is_what_is_read_back(seed: int) -> None:
    """Numbers, pieces put in, taken out and moved, turbos, units, lines, variants kept and entered: after each of 36 edits the document
    is the one that is read from its file, estimates and all, and it is whole already."""
    chance = random.Random(seed)
    project = shipped.demo(shipped.demo_names()[seed % 4])
    done = 0
    while done < 36:
        try:
            changed = _edited(project, chance)
        except (EntryError, ValueError, KeyError):
            continue
        done += 1
        project = changed
        assert edits.completed(project) == project
        assert project_file.loads(project_file.dumps(project)) == project


@pytest.mark.parametrize("name", ["fell", "moth", "skerry", "tarn"])
def test_a_piece_that_goes_takes_its_estimates_along(name: str) -> None:
    """What is estimated from a piece (the gate's discharge from the pipe that it leaves) is estimated anew when the piece goes or moves."""
    field = edits.meta(shipped.demo(name), "wastegate.discharge")
    assert isinstance(field, QuantitySpec)
    project, key = insert_piece(
        edits.with_value(shipped.demo(name), "wastegate.discharge", field.read("?")),
        "manifold",
        len(shipped.demo(name).manifold),
        "straight",
    )
    project = edits.with_value(project, f"manifold.{key}.bore", parse("45 mm", "length"))
    project = edits.with_value(project, f"manifold.{key}.bore", parse("120 mm", "length"))
    for run in edits.RUNS:
        for piece in getattr(project, run):
            for changed in (remove_piece(project, piece.id), move_piece(project, piece.id, 0)):
                assert edits.completed(changed) == changed
                assert project_file.loads(project_file.dumps(changed)) == changed, (run, piece.id)


def _edited(project: Project, chance: random.Random) -> Project:
    """One edit at random. Raises EntryError or ValueError for one that is refused."""
    run = chance.choice(edits.RUNS)
    pieces = getattr(project, run)
    match chance.randrange(9):
        case 0 | 1:
            place = chance.choice(
                [f"engine.{n}" for n in type(project.engine).model_fields]
                + [f"wastegate.{n}" for n in type(project.wastegate).model_fields]
            )
            field, old = edits.meta(project, place), edits.get(project, place)
            if not isinstance(field, QuantitySpec) or not isinstance(old, Quantity):
                raise ValueError(place)
            low, high = field.limits
            return edits.with_value(project, place, old.with_si(chance.choice((low, high, chance.uniform(low, high)))).rounded(7))
        case 2:
            return insert_piece(project, run, chance.randrange(len(pieces) + 1), chance.choice(list(KINDS)))[0]
        case 3:
            return remove_piece(project, chance.choice(pieces).id) if pieces else project
        case 4:
            return move_piece(project, chance.choice(pieces).id, chance.randrange(len(pieces))) if pieces else project
        case 5:
            return (
                add_turbo(project, shipped.turbo(chance.choice(shipped.turbo_names())))
                if chance.random() < 0.5
                else remove_turbo(project, chance.choice(project.turbos).id)
            )
        case 6:
            return in_units(project, chance.choice(("metric", "inch", "mixed")))
        case 7:
            return add_line(project, chance.choice(("port", "joint", "hose", "line")))[0]
        case _:
            if project.variants and chance.random() < 0.5:
                return variants.enter(project, chance.choice(project.variants).name)
            return variants.keep(project, variants.free_name(project))


def test_a_piece_in_a_downpipe_joins_no_exhausts() -> None:
    """Of two turbos each has the pieces of its own exhaust, however many are put in or taken out of it: the gas of one flows on through
    its own tail pipe. Behind the joint they are for both."""
    fell = shipped.demo("fell")
    last = len(fell.exhaust)
    assert fell.exhaust_paths == "own" and int(fell.pieces_per_turbo.si) == last

    def shared(project: Project) -> list[str]:
        flows = {e.id: e.parallel for e in runs_of(project, [])["exhaust"]}
        return [piece.id for piece in project.exhaust if flows[piece.id] == 1]

    assert not shared(fell)
    for index in (0, 2, last):
        changed, key = insert_piece(fell, "exhaust", index, "straight")
        assert not shared(changed) and int(changed.pieces_per_turbo.si) == last + 1
        assert remove_piece(changed, key).pieces_per_turbo == fell.pieces_per_turbo
    every = edits.with_value(fell, "pieces_per_turbo", parse("200", "count"))
    longer = insert_piece(every, "exhaust", 0, "straight")[0]
    assert not shared(longer) and project_file.loads(project_file.dumps(longer)).pieces_per_turbo.si == 200
    joined = edits.with_value(fell, "pieces_per_turbo", parse("2", "count"))
    behind = shared(joined)
    assert behind == [piece.id for piece in fell.exhaust[2:]]
    before, key = insert_piece(joined, "exhaust", 1, "bend")
    assert shared(before) == behind and shared(remove_piece(before, "e-elbow")) == behind
    after, key = insert_piece(joined, "exhaust", 3, "bend")
    assert shared(after) == [behind[0], key, *behind[1:]]
    assert insert_piece(shipped.demo("tarn"), "exhaust", 0, "bend")[0].pieces_per_turbo == shipped.demo("tarn").pieces_per_turbo


def test_an_inch_shop_reads_heights_in_feet_and_roads_in_miles_an_hour() -> None:
    """The altitude of a hill, the speed of a car, a fan and blow-by as they are said there; entries that nobody made stay open."""
    tarn = in_units(shipped.demo("tarn"), "inch")
    assert (tarn.goal.altitude.unit, tarn.goal.road_speed.unit, tarn.radiator.fan_flow.unit) == ("ft", "mph", "cfm")
    assert tarn.goal.altitude.value == pytest.approx(640.0 / 0.3048) and tarn.goal.road_speed.value == pytest.approx(85.0 / 1.609344)
    assert tarn.radiator.coolant_flow.unit == "L/min", "of water, not of air"
    back = in_units(tarn, "metric")
    assert back.goal.altitude.si == pytest.approx(640.0) and back.goal.altitude.unit == "m"
    low = edits.with_value(shipped.demo("tarn"), "goal.altitude", parse("3 m", "altitude"))
    assert str(in_units(low, "inch").goal.altitude) == "9.84252 ft"


def test_what_is_left_open_is_named_so_in_the_steps_of_history() -> None:
    """No wall of 0 mm: “auto”, as in the field."""
    tarn = shipped.demo("tarn")
    one = edits.with_value(tarn, "wastegate.branch_bore", parse("40 mm", "length"))
    (difference,) = variants.differences(one, tarn)
    assert (difference.one, difference.two) == ("40 mm", "auto: as the valve")

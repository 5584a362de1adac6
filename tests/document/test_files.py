"""Files: round trips, refusals, atomic saving, maps with their faults."""

from __future__ import annotations

import json
import random
import subprocess
import sys
import tarfile
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import BaseModel

from zarvik.formats import atomic_writer, map_csv, project_file, shipped, text_file
from zarvik.formats.migrations import _field_names, _room_names
from zarvik.formats.project_file import FileError
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import SCHEMA_VERSION, Project
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.edits import edits
from zarvik.project.edits.edits import with_value
from zarvik.project.edits.piece_edits import insert_piece
from zarvik.project.routing.primaries import laid_primaries
from zarvik.project.units.rendering import entry_text
from zarvik.project.units.units import EntryError, Quantity, parse, unit_of
from zarvik.project.variants import variants

REFERENCE = Path(__file__).parents[1] / "reference"


def test_project_round_trip(tarn: Project, tmp_path: Path) -> None:
    """Written and read it is the same document, byte for byte the second time."""
    path = tmp_path / "a.zarvik.json"
    project_file.write(tarn, path)
    again = project_file.read(path)
    assert again == tarn
    assert project_file.dumps(again) == path.read_text("utf-8")
    assert '"2.37 in"' in path.read_text("utf-8")


def test_numbers_of_a_map_stand_on_one_line(tarn: Project) -> None:
    """The file is for people: a point of a map is one line."""
    text = project_file.dumps(tarn)
    assert "[0.04" in text
    assert max(len(line) for line in text.splitlines()) < 400
    points = sum(len(ln.points) for t in tarn.turbos for ln in t.lines)
    assert text.count("\n") < (points + 1500) * (1 + len(tarn.variants))


def test_unknown_keys_are_kept(tarn: Project) -> None:
    """What this version does not know is written back."""
    tree = json.loads(project_file.dumps(tarn))
    tree["colour_of_car"] = "rust"
    tree["goal"]["weather"] = {"wind": "3 m/s"}
    tree["cold_pipe"][0]["polish"] = True
    again = json.loads(project_file.dumps(project_file.loads(json.dumps(tree))))
    assert again["colour_of_car"] == "rust"
    assert again["goal"]["weather"] == {"wind": "3 m/s"}
    assert again["cold_pipe"][0]["polish"] is True


def test_first_version_still_opens() -> None:
    """A frozen file of version 1."""
    path = Path(__file__).parent / "samples" / "version-1.zarvik.json"
    project = project_file.read(path)
    assert project.schema_version == SCHEMA_VERSION
    assert project.goal.target_power.si == pytest.approx(300 * 745.69987, rel=1e-6)
    assert [p.kind for p in project.cold_pipe] == ["straight", "bend"]


def tree_of(tarn: Project) -> dict[str, object]:
    """The demo as a JSON tree."""
    return json.loads(project_file.dumps(tarn))  # type: ignore[no-any-return]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "is empty"),
        ("   \n", "is empty"),
        ("{", "not valid JSON.*line 1"),
        ("[1, 2]", "not a Zarvik project"),
        ('{"a": 1}', "not a Zarvik project"),
        ('{"schema": "zarvik-project"}', "which version"),
        ('{"schema": "zarvik-project", "schema_version": 99}', "newer Zarvik.*update"),
        ('{"schema": "zarvik-project", "schema_version": true}', "which version"),
        ('{"schema": "zarvik-project", "schema_version": 1, "brief": 3}', "goal"),
        ('{"schema": "zarvik-project", "schema_version": 1, "x": NaN}', "NaN"),
        ("[" * 100_000, "not a project file|not valid JSON"),
        ("\x00\x01\x02", "is not valid JSON"),
    ],
)
def test_broken_files_are_refused_with_a_sentence(text: str, words: str) -> None:
    """Broken, foreign, newer: one sentence each."""
    with pytest.raises(FileError, match=words) as caught:
        project_file.loads(text, "x.json")
    assert "Traceback" not in str(caught.value)
    assert "\n" not in str(caught.value)


def test_all_faults_are_named_at_once(tarn: Project) -> None:
    """Each fault with its place."""
    tree = tree_of(tarn)
    tree["goal"]["target_power"] = "3 bar"  # type: ignore[index]
    tree["engine"]["bore"] = "-4 mm"  # type: ignore[index]
    tree["hot_pipe"][1]["kind"] = "tunnel"  # type: ignore[index]
    with pytest.raises(FileError) as caught:
        project_file.loads(json.dumps(tree), "x")
    text = str(caught.value)
    assert "3 faults" in text
    assert "goal.target_power" in text
    assert "engine.bore" in text
    assert "tunnel" in text


@pytest.mark.parametrize(
    ("place", "value", "words"),
    [("turbo", "nobody", "not among the candidates"), ("units", "cubits", "not one of"), ("name", "x" * 500, "120")],
)
def test_contradictions_are_refused(tarn: Project, place: str, value: str, words: str) -> None:
    """A document that contradicts itself does not open."""
    tree = tree_of(tarn)
    tree[place] = value
    with pytest.raises(FileError, match=words):
        project_file.loads(json.dumps(tree), "x")


def test_two_pieces_with_one_key_are_refused(tarn: Project) -> None:
    """Keys name pieces; they must be single."""
    tree = tree_of(tarn)
    tree["cold_pipe"][1]["id"] = tree["hot_pipe"][0]["id"]  # type: ignore[index]
    with pytest.raises(FileError, match="two pieces"):
        project_file.loads(json.dumps(tree), "x")


def test_a_bad_map_in_a_project_names_line_and_point(tarn: Project) -> None:
    """The map is checked when the file is read."""
    tree = tree_of(tarn)
    tree["turbos"][1]["lines"][2]["points"][3][0] = 0.0001  # type: ignore[index]
    with pytest.raises(FileError, match="speed line 3, point 4"):
        project_file.loads(json.dumps(tree), "x")


def test_unreadable_places(tmp_path: Path) -> None:
    """Missing file, folder, binary, huge."""
    with pytest.raises(FileError, match="there is no file"):
        project_file.read(tmp_path / "none")
    with pytest.raises(FileError, match="folder"):
        project_file.read(tmp_path)
    binary = tmp_path / "b"
    binary.write_bytes(b"\xff\xfe\x00\x9f" * 100)
    with pytest.raises(FileError, match="UTF-8"):
        project_file.read(binary)
    huge = tmp_path / "h"
    with huge.open("wb") as file:
        file.truncate(text_file.LARGEST + 1)
    with pytest.raises(FileError, match="MB"):
        project_file.read(huge)


@given(cut=st.integers(0, 19_000))
@settings(max_examples=60, deadline=None)
def test_a_truncated_file_never_surprises(cut: int) -> None:
    """Any prefix is refused with FileError and nothing else."""
    text = shipped.demo_text("tarn")
    with pytest.raises(FileError):
        project_file.loads(text[: min(cut, len(text) - 3)], "x")


def test_not_a_number_is_never_written(tarn: Project, tmp_path: Path) -> None:
    """A value that is not finite stops the save and leaves the old file."""
    path = tmp_path / "a.json"
    project_file.write(tarn, path)
    before = path.read_text("utf-8")
    broken = tarn.model_copy(update={"turbos": (tarn.turbos[0].model_copy(update={"maximum_speed_rpm": float("nan")}),)})
    with pytest.raises(FileError, match="maximum_speed_rpm"):
        project_file.write(broken, path)
    assert path.read_text("utf-8") == before


def test_saving_keeps_the_previous_version(tarn: Project, tmp_path: Path) -> None:
    """One older version stands beside the file, and nothing else is left."""
    path = tmp_path / "a.zarvik.json"
    project_file.write(tarn, path)
    other = with_value(tarn, "goal.target_boost", parse("0.9 bar", "pressure_gauge"))
    project_file.write(other, path)
    previous = path.with_name("a.zarvik.json.previous")
    assert project_file.read(previous) == tarn
    assert project_file.read(path) == other
    assert sorted(p.name for p in tmp_path.iterdir()) == [path.name, previous.name]


KILLED = """
import os, sys
from zarvik.formats import project_file, shipped
moment = sys.argv[2]
project = shipped.demo("tarn").model_copy(update={"name": "Second"})
real_replace, real_fsync = os.replace, os.fsync
def die(*a): os.kill(os.getpid(), 9)
if moment == "fsync": os.fsync = die
if moment == "replace": os.replace = die
if moment == "second replace":
    calls = []
    def replace(*a):
        calls.append(a)
        die() if len(calls) == 2 else real_replace(*a)
    os.replace = replace
project_file.write(project, sys.argv[1])
"""


@pytest.mark.parametrize("moment", ["fsync", "replace", "second replace"])
def test_killed_during_a_save_loses_nothing(tarn: Project, tmp_path: Path, moment: str) -> None:
    """kill -9 in the middle of the save: the old file is whole."""
    path = tmp_path / "a.zarvik.json"
    project_file.write(tarn, path)
    done = subprocess.run([sys.executable, "-c", KILLED, str(path), moment], check=False)
    assert done.returncode == -9
    assert project_file.read(path) == tarn
    project_file.write(tarn, path)  # and saving works again


def test_saving_onto_a_folder_is_refused(tarn: Project, tmp_path: Path) -> None:
    """Refused with a sentence, nothing left behind."""
    goal = tmp_path / "folder"
    goal.mkdir()
    (goal / "x").touch()
    with pytest.raises(FileError, match="cannot be written"):
        atomic_writer.write_text("x", goal)
    assert [p.name for p in tmp_path.iterdir()] == ["folder"]


def test_schema_accepts_the_demo(tarn: Project) -> None:
    """The published schema names every part and kind."""
    schema = project_file.schema()
    assert schema["$schema"].startswith("https://json-schema.org/")
    text = json.dumps(schema)
    for word in ("target_power", "StraightPiece", "BendPiece", "full_load_lambda", "quantity"):
        assert word in text
    # A file keeps of another design what differs
    kept = json.loads(project_file.dumps(tarn))["variants"][0]
    for name in ("Variant", "AdoptedDesign"):
        part = schema["$defs"][name]
        assert "differs" in part["required"] and "design" not in {*part["required"], *part["properties"]}
        assert part["properties"]["differs"]["type"] == "object"
    assert set(kept) == set(schema["$defs"]["Variant"]["properties"])


# ---- compressor maps --------------------------------------------------------------------------


HEAD = (
    "# zarvik compressor map 1\n# name: test\n# reference_pressure: 100 kPa\n# reference_temperature: 298 K\n# maximum_speed: 120000 rpm\n"
)
COLUMNS = "speed,flow,pressure_ratio,efficiency\n"
SLOW = "60000,0.05,1.5,0.70\n60000,0.08,1.4,0.72\n60000,0.10,1.2,0.6\n"
FAST = "90000,0.09,2.2,0.71\n90000,0.13,2.1,0.74\n90000,0.16,1.7,0.6\n"


@pytest.mark.parametrize("name", shipped.turbo_names())
def test_map_round_trip(name: str, tmp_path: Path) -> None:
    """Written and read it is the same map."""
    chart = shipped.turbo_map(name)
    map_csv.write(chart, tmp_path / "m.csv", "invented")
    assert map_csv.read(tmp_path / "m.csv") == chart


def test_map_units_and_decimal_commas() -> None:
    """lb/min in the header, semicolons with decimal commas, columns in any order."""
    text = HEAD + "# flow_unit: lb/min\n" + COLUMNS + SLOW + FAST
    assert map_csv.loads(text).lines[0].flow[0] == pytest.approx(0.05 * 0.45359237 / 60)
    text = HEAD + "flow;efficiency;speed;pressure_ratio\n"
    for row in (SLOW + FAST).splitlines():
        speed, flow, ratio, efficiency = row.replace(".", ",").split(",", 1)[0], *row.split(",")[1:]
        text += f"{flow};{efficiency};{speed};{ratio}\n".replace(".", ",")
    assert map_csv.loads(text).lines[1].ratio[0] == pytest.approx(2.2)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (HEAD + "speed,flow,efficiency\n" + SLOW, "row 6.*pressure_ratio is missing"),
        (HEAD + COLUMNS + SLOW, "at least two speed lines"),
        (HEAD + COLUMNS + SLOW + FAST.replace("2.1", "nan"), "row 11: pressure_ratio.*finite"),
        (HEAD + COLUMNS + SLOW + FAST.replace("0.74", "x"), "row 11: efficiency “x”"),
        (HEAD + COLUMNS + SLOW + FAST + SLOW, "row 13.*flow must increase"),
        (HEAD + COLUMNS + SLOW + FAST.replace("0.13,2.1,0.74\n90000,0.16,1.7", "0.095,1.1,0.7\n90000,0.16,1.0"), "cross"),
        (HEAD + COLUMNS + "90000,0.09,2.2\n" + SLOW, "at least two speed lines"),
        (HEAD + COLUMNS + SLOW + FAST.replace("0.71", "71"), "row 10: efficiency 71"),
        (COLUMNS + SLOW + FAST, "does not give its reference pressure"),
        (HEAD.replace("100 kPa", "100 mm") + COLUMNS + SLOW + FAST, "reference_pressure"),
        (HEAD + "# flow_unit: bar\n" + COLUMNS + SLOW + FAST, "flow_unit"),
        (HEAD, "no rows"),
        ("", "no rows"),
    ],
)
def test_map_faults_name_the_row(text: str, words: str) -> None:
    """A bad map says which row is wrong, and never raises anything else."""
    with pytest.raises(FileError, match=words):
        map_csv.loads(text, "m.csv")


def test_map_files_that_are_none(tmp_path: Path) -> None:
    """Missing, binary, huge."""
    with pytest.raises(FileError, match="cannot be read"):
        map_csv.read(tmp_path / "none.csv")
    (tmp_path / "b.csv").write_bytes(b"\xff\xfe\xfa")
    with pytest.raises(FileError, match="UTF-8"):
        map_csv.read(tmp_path / "b.csv")
    with (tmp_path / "h.csv").open("wb") as file:
        file.truncate(map_csv.LARGEST + 1)
    with pytest.raises(FileError, match="too large"):
        map_csv.read(tmp_path / "h.csv")


def test_catalogue_refuses_what_it_does_not_have() -> None:
    """With the names that it has."""
    with pytest.raises(FileError, match="tarn"):
        shipped.demo("moon")
    with pytest.raises(FileError, match="moon"):
        shipped.turbo_map("moon")


def test_everything_that_ships_is_marked_invented() -> None:
    """Demo and maps say in the data that they are invented."""
    for name in shipped.demo_names():
        assert shipped.demo(name).invented
        assert "nvented" in shipped.demo(name).note
    folder = Path(shipped.__file__).parents[1] / "data" / "maps"
    for path in folder.glob("*.csv"):
        assert "Invented" in path.read_text("utf-8")


def _places(project: Project) -> list[str]:
    """Every place of the document that takes a value of its own."""

    def below(part: object, at: str) -> list[str]:
        found: list[str] = []
        if isinstance(part, tuple):
            for item in part:
                if hasattr(item, "id"):
                    found += below(item, f"{at}.{item.id}")
            return found
        for name in type(part).model_fields if isinstance(part, BaseModel) else ():
            if name in ("variants", "adopted", "assumed", "marks"):
                continue
            there = f"{at}.{name}".lstrip(".")
            node = getattr(part, name)
            if isinstance(node, tuple | BaseModel):
                found += below(node, there)
                continue
            try:
                if edits.meta(project, there) is not None:
                    found.append(there)
            except KeyError:
                continue
        return found

    return below(project, "")


def _allowed(project: Project, place: str, chance: random.Random) -> Project | None:
    """The project with a value at the place that its field allows: a limit, one between, a choice."""
    field = edits.meta(project, place)
    if isinstance(field, Choice):
        value: object = chance.choice([key for key, _ in field.options()])
    elif isinstance(field, QuantitySpec):
        low, high = field.limits
        old = edits.get(project, place)
        unit = unit_of(old.kind, old.unit)
        wanted = chance.choice((low, high, chance.uniform(low, high)))
        if field.kind == "count":
            wanted = round(wanted)
        value = Quantity(float(f"{unit.from_si(wanted):.6g}"), old.unit, old.kind)
    else:
        return None
    try:
        return edits.with_value(project, place, value)
    except EntryError:
        return None


@pytest.mark.parametrize("name", ["tarn", "fell", "moth", "skerry"])
def test_what_an_edit_lets_in_is_written_and_read(name: str) -> None:
    """Every entry at a limit or between, many on top of each other: what is accepted stands in the file
    and in the journal, and comes back equal."""
    chance = random.Random(name)
    project = shipped.demo(name)
    accepted = 0
    places = _places(project)
    assert len(places) > 150
    for turn, place in enumerate(chance.sample(places, min(len(places), 100))):
        try:
            changed = _allowed(project, place, chance)
        except KeyError:  # a choice before took the place away
            continue
        if changed is None:
            continue
        accepted += 1
        if turn % 3 == 0:  # the sum of the edits so far
            assert project_file.loads(project_file.dumps(changed)) == changed, place
        project = changed
    assert project_file.loads(project_file.dumps(project)) == project
    assert accepted > 70


def test_a_sum_over_its_limit_is_refused_where_it_is_made() -> None:
    """Seven straights of 10 m are each allowed, a primary of 70 m is not: it is said at the edit, for a file
    with it would never be opened again."""
    project = shipped.demo("fell")
    if not project.primaries:
        project = laid_primaries(project).project
    key = project.primaries[0].id
    refused = ""
    for _ in range(40):
        before = project
        try:
            project, piece = insert_piece(project, f"primaries.{key}.pieces", 1, "straight")
            project = edits.with_value(project, f"primaries.{key}.pieces.{piece}.length", parse("10 m", "length"))
        except EntryError as error:
            project, refused = before, str(error)
            break
        assert project_file.loads(project_file.dumps(project)) == project
    assert "all primaries together" in refused and "Length" in refused
    assert project_file.loads(project_file.dumps(project)) == project


def test_every_older_project_is_opened() -> None:
    """Demos as they shipped with every version of the document, opened, saved, opened and assembled: who makes a limit narrower or
    renames an entry writes a migration."""
    versions = set()
    with tarfile.open(REFERENCE / "older_projects.tar.xz") as older:
        for name in older.getnames():
            file = older.extractfile(name)
            assert file is not None
            data = file.read()
            versions.add(json.loads(data)["schema_version"])
            project = project_file.loads(data, name)
            assert project.schema_version == SCHEMA_VERSION
            assert project_file.loads(project_file.dumps(project), name) == project
            assert assemble(project).name == project.name
    assert versions == set(range(1, SCHEMA_VERSION))


def test_entries_of_version_7_have_their_names_of_today() -> None:
    """What a kept design, a line of stock and a list of assumed entries say in the words of before: a file of version 7 in which a variant
    was kept after eight entries had been typed."""
    with tarfile.open(REFERENCE / "older_projects.tar.xz") as older:
        file = older.extractfile("tarn-7-2.zarvik.json")
        assert file is not None
        project = project_file.loads(file.read(), "tarn")
    kept = variants.enter(project, "Other one")
    found = {
        place: entry_text(edits.get(kept, place)) if isinstance(edits.get(kept, place), Quantity) else edits.get(kept, place)
        for place in (
            "wastegate.hose_length",
            "wastegate.outlet",
            "fluid_lines.drain_slope",
            "intercooler.pressure_loss",
            "search.budget",
            "stock.s3.length",
        )
    }
    assert found == {
        "wastegate.hose_length": "410 mm",
        "wastegate.outlet": "air",
        "fluid_lines.drain_slope": "44 °",
        "intercooler.pressure_loss": "5 kPa",
        "search.budget": "3000 €",
        "stock.s3.length": "1.5 m",
    }
    assert project.wastegate.hose_length.si != kept.wastegate.hose_length.si and {d.place for d in variants.differences(project, kept)} >= {
        *found
    } - {"stock.s3.length"}
    # No entry of before is left anywhere as one that nobody knows
    tree = json.loads(project_file.dumps(project))
    text = json.dumps(tree)
    for room, former, names in (
        ("wastegate", "gate", ("hose_long", "dump", "sold")),
        ("fluid_lines", "lines", ("fall", "rated")),
        ("intercooler", "cooler", ("drop", "trust")),
    ):
        assert former not in tree and f'"{former}.' not in text
        assert not {*names} & tree[room].keys() and all(f"{room}.{name}" not in text for name in names)
    made = _field_names({"schema_version": 7, "assumed": ["gate.hose_long", "stock.fall.long", "turbos.x.turbine.wheel", "brief.altitude"]})
    assert made["assumed"] == ["gate.hose_length", "stock.fall.length", "turbos.x.turbine.wheel", "brief.altitude"]
    made = _room_names(made)
    assert made["assumed"] == ["wastegate.hose_length", "stock.fall.length", "turbos.x.turbine.wheel", "goal.altitude"]

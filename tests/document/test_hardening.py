"""Nothing lost, nothing let in: every way into the document goes through one check, and what the
program wrote it can read."""

from __future__ import annotations

import contextlib
import dataclasses
import json
import os
import random
import subprocess
import sys
import time
from pathlib import Path

import pytest

from zarvik.cli import main
from zarvik.core.checks import Change
from zarvik.core.common import compiled
from zarvik.formats import atomic_writer, map_csv, project_file, shipped
from zarvik.formats.project_file import FileError
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.turbos import candidates, turbo_titles
from zarvik.project.cures.cure_edits import with_changes
from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice, QuantitySpec, TextSpec
from zarvik.project.document.parts.presets import UNIT_PRESETS
from zarvik.project.edits import edits, tables
from zarvik.project.edits.turbo_edits import add_turbo
from zarvik.project.edits.unit_edits import in_units
from zarvik.project.language.plain import file_name, visible
from zarvik.project.units.units import KINDS, EntryError, Quantity, parse
from zarvik.workspace import settings
from zarvik.workspace.solving import solve


def places(project: Project) -> list[str]:
    """Every entry of a document."""
    found = ["name", "note"]
    for room in ("goal", "engine", "wastegate", "blower", "bay", "intercooler"):
        found += [f"{room}.{n}" for n in type(getattr(project, room)).model_fields]
    for run in edits.RUNS:
        for piece in getattr(project, run):
            found += [f"{run}.{piece.id}.{n}" for n in type(piece).model_fields]
    for turbo in project.turbos:
        found += [f"turbos.{turbo.id}.turbine.{n}" for n in type(turbo.turbine).model_fields]
    return [p for p in found if edits.meta(project, p) is not None]


def shaken(project: Project, chance: random.Random) -> Project:
    """One edit as some hand might make it: typed, stepped, chosen, cured, turned into other units."""
    place = chance.choice(places(project))
    found = edits.meta(project, place)
    try:
        if isinstance(found, QuantitySpec):
            old = edits.get(project, place)
            low, high = found.limits
            unit = chance.choice(KINDS[found.kind])
            si = chance.choice([low, high, old.si * 1.1, low + chance.random() * (high - low)])
            value = chance.choice([unit.from_si(si), round(unit.from_si(si), 2), old.value + 0.1])
            value = float(f"{value:.10g}")
            return edits.with_value(project, place, Quantity(value, unit.symbol, found.kind))
        if isinstance(found, Choice):
            return edits.with_value(project, place, chance.choice(found.options())[0])
        if isinstance(found, TextSpec) and not found.key:
            text = chance.choice(["<b>x</b>", "a\x1b[31m", "é" * 60, "", "\ud800", "x" * 500])
            return edits.with_value(project, place, text)
    except EntryError:
        return project
    if chance.random() < 0.2:
        return in_units(project, chance.choice(list(UNIT_PRESETS)))
    return project


@pytest.mark.parametrize("seed", range(3))
def test_what_is_written_can_be_read(seed: int, tmp_path: Path) -> None:
    """Random edits: after each the file that would be written is accepted by its own reader."""
    chance = random.Random(seed)
    project = shipped.demo(chance.choice(shipped.demo_names()))
    for _ in range(45):
        project = shaken(project, chance)
        again = project_file.loads(project_file.dumps(project))
        assert again == project
    project_file.write(project, tmp_path / "x.zarvik.json")


@pytest.mark.parametrize("place", ["engine.cylinders", "wastegate.count", "turbos_fitted"])
def test_whole_numbers_stay_whole(tarn: Project, place: str) -> None:
    """By whatever way it comes: 4.1 cylinders are refused where they are put in."""
    old = edits.get(tarn, place)
    with pytest.raises(EntryError, match="whole number"):
        edits.with_value(tarn, place, Quantity(old.value + 0.1, old.unit, old.kind))


def test_limits_survive_the_turn_into_other_units(tarn: Project) -> None:
    """Every field at both of its limits, turned into each preset, is still accepted."""
    chosen = tuple(t for t in tarn.turbos if t.id == tarn.turbo)
    # One primary, one line of the stock and of the connection list: the others have the same fields
    tarn = tarn.model_copy(
        update={"variants": (), "turbos": chosen, "primaries": tarn.primaries[:1], "stock": tarn.stock[:1], "joints": tarn.joints[:1]}
    )
    every = [(place, found) for place in places(tarn) if isinstance(found := edits.meta(tarn, place), QuantitySpec)]
    # Twelve fields of a document at a time, from all over it: fields beside each other say what does not go together.
    for first in range(len(every) // 12 + 1):
        for end in ("low", "high"):
            turned = tarn
            for place, found in every[first :: len(every) // 12 + 1]:
                with contextlib.suppress(EntryError):
                    turned = edits.with_value(turned, place, parse(getattr(found, end), found.kind, default_unit=found.unit))
            # One after the other, so that what was turned is turned again
            for preset in UNIT_PRESETS:
                turned = in_units(turned, preset)
            assert project_file.loads(project_file.dumps(turned)) == turned, (end, every[first :: len(every) // 12 + 1])


@pytest.mark.parametrize(
    ("place", "value"),
    [
        ("turbo", "nobody"),
        ("name", "x" * 500),
        ("name", 7),
        ("note", "\ud800"),
        ("engine.stock_torque", ((3000.0, 200.0), (2000.0, 210.0))),
        ("intercooler.fitted", "yes"),
    ],
)
def test_the_gate_refuses_what_the_file_would(tarn: Project, place: str, value: object) -> None:
    """One check for every edit: what a reader would refuse is refused at once."""
    with pytest.raises(EntryError):
        edits.with_value(tarn, place, value)


@pytest.mark.parametrize("poison", [{"x": 1e999}, {"x": "\ud800"}, {"\udfff": 1}, {"x": 10**400}])
def test_what_cannot_be_written_again_is_refused_at_opening(poison: dict[str, object]) -> None:
    """Infinities, half characters, endless numbers in keys that the program does not know."""
    tree = json.loads(project_file.dumps(shipped.demo("tarn")))
    text = json.dumps({**tree, **poison}).replace("Infinity", "1e999")
    with pytest.raises(FileError):
        project_file.loads(text)


def test_endless_nesting_is_refused() -> None:
    """A sentence, no crash; and 10,000 pieces likewise within a second."""
    tree = json.loads(project_file.dumps(shipped.demo("tarn")))
    deep: object = 1
    for _ in range(200):
        deep = [deep]
    with pytest.raises(FileError, match="deep"):
        project_file.loads(json.dumps({**tree, "x": deep}))
    with pytest.raises(FileError):
        project_file.loads('{"x":' * 100_000)
    piece = tree["intake"][0]
    many = [{**piece, "id": f"p{n}", "length": "as long as a string"} for n in range(10_000)]
    with pytest.raises(FileError, match="at most"):  # counted before one of them is read
        project_file.loads(json.dumps({**tree, "intake": many}))


def test_keys_of_old_files_become_addresses() -> None:
    """A key with a dot or a colon cannot be addressed: an old file's is made plain, a new one's is
    refused."""
    tree = json.loads(project_file.dumps(shipped.demo("tarn")))
    tree["intake"][0]["id"] = "a.b:c"
    with pytest.raises(FileError, match="letters, digits"):
        project_file.loads(json.dumps(tree))
    old = project_file.loads(json.dumps({**tree, "schema_version": 2}))
    assert old.intake[0].id == "a-b-c"


def test_devices_are_no_projects() -> None:
    """They have no end: refused before they are read."""
    with pytest.raises(FileError, match="device"):
        project_file.read("/dev/zero")
    with pytest.raises(FileError):
        project_file.read("a\x00b")
    with pytest.raises(FileError):
        atomic_writer.write_text("x", Path("/dev/null"))


def test_bad_tables_take_no_time() -> None:
    """Many blanks, many speeds, a field without end, an open quotation mark: what grows with the square
    of them would not end here."""
    with pytest.raises(EntryError):
        tables.read("3000" + " " * 1600 + ".", "stock_torque", {})
    head = "# reference_pressure: 100 kPa\n# reference_temperature: 298 K\nspeed,flow,pressure_ratio,efficiency\n"
    for body in (
        "\n".join(f"{1000 + n},0.1,1.2,0.7" for n in range(16_000)),
        "1000," + "9" * 200_000 + ",1.2,0.7",
        '1000,"0.1,1.2,0.7\n2000,0.2,1.3,0.7',
    ):
        with pytest.raises(FileError):
            map_csv.loads(head + body)


def test_a_map_with_any_name_reads_back() -> None:
    """New lines and formulas in names and notes stay on their comment line."""
    chart = shipped.turbo_map("c54-71")
    odd = dataclasses.replace(chart, name="=cmd()\n9000,9,9,9\u2028x")
    back = map_csv.loads(map_csv.dumps(odd, "note\r\n1,2,3,4"))
    assert back.lines == chart.lines


def test_settings_never_stop_the_start() -> None:
    """A scale of 400 digits, of the wrong kind, or a file that is no JSON."""
    path = settings.settings_file()
    path.parent.mkdir(parents=True, exist_ok=True)
    for text in ('{"scale": ' + "9" * 400 + "}", '{"scale": true}', "[" * 5000, '{"recent": 7}'):
        path.write_text(text, "utf-8")
        assert settings.load().scale == 1.0


def test_text_is_text() -> None:
    """Terminal escapes and turned writing are shown, not obeyed; names make plain file names."""
    assert "\x1b" not in visible("a\x1b[2J\u202eb")
    assert file_name("../../etc/pass wd\x00", ".json") == "etc-pass-wd.json"
    assert file_name("...", ".pdf") == "project.pdf"


def test_command_line_leaves_with_two(tmp_path: Path) -> None:
    """Broken pipe, a name with NUL, something in the way: 2, never 1, and nothing is written over."""
    run = [sys.executable, "-m", "zarvik"]
    kept = tmp_path / "mine.txt"
    kept.write_text("mine")
    project = tmp_path / "t.json"
    project.write_text(shipped.demo_text("tarn"), "utf-8")
    assert main(["demo", "tarn", "--copy", str(kept)]) == 2
    assert main(["solve", str(project), "--rpm", "6000", "--json", str(kept)]) == 2
    assert kept.read_text() == "mine"
    reader, writer = os.pipe()
    os.close(reader)
    with open("/dev/full", "w") as full, os.fdopen(writer, "w") as broken:
        both = [subprocess.Popen([*run, "schema"], stdout=out, stderr=subprocess.DEVNULL) for out in (full, broken)]
        assert [one.wait(120) for one in both] == [2, 2]


def test_a_damaged_compile_cache_is_rebuilt(tmp_path: Path) -> None:
    """One flipped byte in the compiled code of a relation: it is compiled again, the number is right."""
    work = "from zarvik.core.ducts import flow; print(round(float(flow.mouth_square(0.5, 1.31)), 9))"
    env = {**os.environ, "XDG_CACHE_HOME": str(tmp_path)}
    env.pop("NUMBA_CACHE_DIR", None)

    def once() -> str:
        return subprocess.run([sys.executable, "-c", work], env=env, capture_output=True, text=True, check=True).stdout

    first = once()
    files = [*tmp_path.rglob("*.nbc"), *tmp_path.rglob("*.nbi")]
    assert files
    folder = next(tmp_path.rglob("kernels-*"))
    assert folder.stat().st_mode & 0o077 == 0
    for file in files:
        data = bytearray(file.read_bytes())
        data[len(data) // 2] ^= 0xFF
        file.write_bytes(bytes(data))
    assert once() == first
    for file in files:
        file.write_bytes(b"")
    assert once() == first


def test_compiled_code_of_others_is_not_loaded(tmp_path: Path) -> None:
    """A named folder that others can write, or one whose folder above they can exchange, is not used; a private one is."""
    good, open_one, above = tmp_path / "good", tmp_path / "open", tmp_path / "above"
    for folder in (good, open_one, above, above / "inside"):
        folder.mkdir(mode=0o700)
    open_one.chmod(0o777)
    above.chmod(0o777)
    assert compiled.trusted(good) and compiled.trusted(tmp_path / "new")
    assert not compiled.trusted(open_one) and not compiled.trusted(above / "inside")
    above.chmod(0o1777)
    assert compiled.trusted(above / "inside")
    (tmp_path / "file").touch()
    assert not compiled.trusted(tmp_path / "file" / "x")
    work = "import os, zarvik.core.common.compiled; print(os.environ['NUMBA_CACHE_DIR'])"
    env = {**os.environ, "XDG_CACHE_HOME": str(tmp_path / "cache")}
    for named, used in ((good, True), (open_one, False)):
        run = subprocess.run(
            [sys.executable, "-c", work], env={**env, "NUMBA_CACHE_DIR": str(named)}, capture_output=True, text=True, check=True
        )
        assert (run.stdout.strip() == str(named)) is used
    assert list(open_one.iterdir()) == []


def test_the_first_compilation_is_told(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, tarn: Project) -> None:
    """What is there is not to be made; an empty cache is; code that nobody used for a month goes, and
    nothing else."""
    assert solve(tarn).answer is not None
    assert not compiled.to_be_compiled() and compiled.share_compiled() > 0.8
    old, lately, mine = (tmp_path / f"kernels-{name}" for name in ("old", "lately", "mine"))
    for folder in (old, lately, mine):
        folder.mkdir()
        (folder / "x.nbi").touch()
    long_ago = time.time() - 31 * 86400
    os.utime(old, (long_ago, long_ago))
    os.utime(mine, (long_ago, long_ago))
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(mine))
    assert compiled.to_be_compiled() and compiled.share_compiled() < 0.1
    compiled.forget_old()
    assert not old.exists() and lately.exists() and mine.exists()


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("11:1", "number", 11.0),
        ("7k", "rotation", 7000.0),
        ("6 deg", "number", 6.0),
        (".7", "ratio", 0.7),
        ("0,65", "ratio", 0.65),
        ("70 %", "ratio", 0.7),
        ("500 cfm", "mass_flow", 500 * 1.2041 * 0.3048**3 / 60),
        ("900 m3/h", "mass_flow", 900 * 1.2041 / 3600),
        ("330 whp 15 %", "power", 330 / 0.85 * 745.69987),
    ],
)
def test_entries_as_the_trade_writes_them(text: str, kind: str, si: float) -> None:
    """By hand: what a builder types means what he means."""
    assert parse(text, kind).si == pytest.approx(si, rel=2e-4)


def test_power_at_the_wheels_asks_for_the_loss() -> None:
    """Without it the number would be another one."""
    with pytest.raises(EntryError, match="drivetrain"):
        parse("330 whp", "power")


@pytest.mark.parametrize(("text", "mm"), [(".82", 20.828), ("A/R .63", 16.002), ("17", 17.0), ("0.9 in", 22.86)])
def test_a_housing_is_said_in_inches(tarn: Project, text: str, mm: float) -> None:
    """Common practice: .82 is an A/R in inches; a number of millimetres stays one."""
    meta = edits.meta(tarn, "turbos.c54-71.turbine.housing")
    assert isinstance(meta, QuantitySpec)
    assert meta.read(text).si * 1000.0 == pytest.approx(mm, rel=1e-4)


def test_two_housings_of_one_wheel_look_different(tarn: Project) -> None:
    """In every list they carry their A/R."""
    twice = add_turbo(tarn, shipped.turbo("c54-71"))
    twice = edits.with_value(twice, "turbos.c54-71-2.turbine.housing", parse("21 mm", "length"))
    titles = turbo_titles(twice)
    assert len(set(titles.values())) == len(titles)
    assert "21 mm" in titles["c54-71-2"]
    assert {t.name for t in candidates(twice)} <= set(titles.values())


def test_a_reducer_before_a_collector(tarn: Project) -> None:
    """The cure for ends that do not meet works where the next piece has only an outlet."""
    changed = with_changes(tarn, [Change("insert-reducer:collector", 0.0)])
    assert changed.manifold[1].kind == "reducer"
    assert assemble(changed) is not None

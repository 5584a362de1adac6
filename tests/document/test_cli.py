"""The command line: exit codes, the contract of `solve --json`, bad input."""

from __future__ import annotations

import io
import json
import math
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from zarvik import cli
from zarvik.cli import main
from zarvik.commands import output
from zarvik.commands.output import far
from zarvik.core import calculations
from zarvik.core.answer.answer import answer
from zarvik.formats import project_file, shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.language.language import lengthened, use
from zarvik.project.units.units import parse


@pytest.fixture
def file(tarn: Project, tmp_path: Path) -> Path:
    """The demo in a file."""
    path = tmp_path / "t.zarvik.json"
    project_file.write(tarn, path)
    return path


def test_demo_lists_and_copies(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """The demo as a file is a project like any other."""
    assert main(["demo", "--list"]) == 0
    assert "tarn" in capsys.readouterr().out
    goal = tmp_path / "copy.zarvik.json"
    assert main(["demo", "tarn", "--copy", str(goal)]) == 0
    assert project_file.read(goal).name == "Tarn"


def test_the_command_line_speaks_the_language(file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], own_language: None) -> None:
    """In the made-up language every word has its vowels accented: one with a plain vowel that is no name,
    unit, symbol or option went past the translation."""
    use(lengthened)
    copy, chart = str(tmp_path / "m.zarvik.json"), str(tmp_path / "a.csv")
    for words in (
        ["demo", "moth", "--copy", copy],
        ["demo", "moth", "--copy", copy],
        ["demo", "--list"],
        ["check", str(file)],
        ["check", copy],
        ["solve", str(file), "--calculations"],
        ["solve", copy, "--rpm", "4000", "--calculation", "power"],
        ["solve", copy, "--rpm", "x"],
        ["solve", copy, "--sweep", "a"],
        ["solve", copy, "--calculation", "no"],
        ["check", "/no"],
        ["--help"],
        ["solve", "--help"],
        ["map", chart, "--out-of", str(file)],
        ["map", chart, "--into", copy],
        ["new", chart, "--litres", "2", "--power", "300"],
        ["new", copy, "--power", "300"],
        ["new", str(tmp_path / "n.json"), "--litres", "2", "--power", "200hp"],
        ["solve", copy, "--json", chart],
    ):
        main(words)
    keys = ", ".join(calculations.keys(answer(assemble(shipped.demo("moth"))).build))
    said = "".join(capsys.readouterr()).replace(keys, "")
    own = {
        w.lower()
        for w in re.findall(
            r"[^\W\d_]+",
            " ".join(
                (
                    file.read_text("utf-8"),
                    Path(copy).read_text("utf-8"),
                    *(shipped.turbo(n).name for n in shipped.turbo_names()),
                    *shipped.demo_names(),
                    *calculations.FAMILIES,
                    str(tmp_path),
                    "zarvik imep pmep fmep factor curve kPa json csv file",
                )
            ),
        )
    }
    # Options, commands, keys of numbers, and what the parser of the standard library says of its own.
    left = re.sub(
        r"\S*[-_=:]\S+|\{[^}]*\}|^(usage|positional|options).*|^ {2,4}[a-z]+(?: |$)|"
        r"(show this|show program|the following arg).*",
        " ",
        said,
        flags=re.M,
    )
    raw = {word for word in re.findall(r"[^\W\d_]{4,}", left) if re.search("[aeiou]", word) and word.lower() not in own}
    assert raw == set()


def test_solve_prints_every_station(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """All stations, the sums, the checks."""
    assert main(["solve", str(file)]) == 0
    out = capsys.readouterr().out
    for word in (
        "Ambient",
        "Compressor inlet",
        "Compressor outlet",
        "Intercooler inlet",
        "Intercooler outlet",
        "Plenum",
        "Exhaust port",
        "Turbine inlet",
        "Turbine outlet",
        "Tailpipe",
        "gate",
        "closes",
        "Target power",
        "fix:",
    ):
        assert word in out


def test_solve_json_is_the_documented_contract(file: Path, tmp_path: Path) -> None:
    """Keys, SI, station names, closure; the same numbers as the text has."""
    out = tmp_path / "o.json"
    assert main(["solve", str(file), "--sweep", "2000:6000:1000", "--json", str(out)]) == 0
    tree = json.loads(out.read_text("utf-8"))
    assert set(tree) == {"schema", "schema_version", "project", "points", "checks", "bands"}
    power = tree["bands"]["power_W"]
    assert 2e3 < power["below"] < 2e4 and 0.0 < power["model_share"] < 1.0 and power["most"]
    assert tree["schema"] == "zarvik-result"
    assert tree["project"] == "Tarn"
    assert [p["rpm"] for p in tree["points"]] == [2000, 3000, 4000, 5000, 6000]
    for point in tree["points"]:
        assert {"rpm", "power_W", "torque_Nm", "boost_Pa", "air_kg_s", "stations", "elements", "turbos", "closure"} <= set(point)
        assert point["closure"]["solved"]
        stations = point["stations"]
        assert {
            "ambient",
            "compressor_inlet",
            "compressor_outlet",
            "cooler_inlet",
            "cooler_outlet",
            "plenum",
            "exhaust_port",
            "turbine_inlet",
            "turbine_outlet",
            "tailpipe",
        } <= set(stations)
        for station in stations.values():
            assert set(station) == {"p_total_Pa", "T_total_K", "mdot_kg_s", "mach"}
        for element in point["elements"]:
            assert {"id", "kind", "from", "to", "dp_total_Pa", "dT_total_K"} <= set(element)
            one, two = stations[element["from"]], stations[element["to"]]
            assert one["p_total_Pa"] - two["p_total_Pa"] == pytest.approx(element["dp_total_Pa"], abs=0.05)
        assert stations["plenum"]["p_total_Pa"] - stations["ambient"]["p_total_Pa"] == pytest.approx(point["boost_Pa"], abs=1e-3)
        assert point["closure"]["energy"] < 1e-4
        assert point["closure"]["shaft"] < 1e-4
        power = point["torque_Nm"] * point["rpm"] * math.pi / 30
        assert power == pytest.approx(point["power_W"], rel=1e-6)
    for check_result in tree["checks"]:
        assert set(check_result) == {"id", "state", "margin", "band", "uncertainty", "text", "cure"}
        assert check_result["state"] in ("ok", "marginal", "fails", "to_do")


def test_solve_json_to_standard_output(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Nothing but JSON, so that it can be piped."""
    assert main(["solve", str(file), "--rpm", "5000", "--json", "-"]) == 0
    assert json.loads(capsys.readouterr().out)["points"][0]["rpm"] == 5000


def test_unsolved_points_carry_null(tarn: Project, tmp_path: Path) -> None:
    """What has no result has no number."""
    path = tmp_path / "n.zarvik.json"
    project_file.write(with_value(tarn, "cold_pipe.c-run.bore", parse("5 mm", "length")), path)
    out = tmp_path / "o.json"
    assert main(["solve", str(path), "--rpm", "6400", "--json", str(out)]) == 0
    point = json.loads(out.read_text("utf-8"))["points"][0]
    assert point["power_W"] is None
    assert not point["closure"]["solved"]
    assert "chokes" in point["closure"]["reason"]


def test_check_tells_by_its_exit_code(file: Path, tarn: Project, tmp_path: Path) -> None:
    """1 when something fails, 0 when nothing does, 2 on bad input."""
    far = tmp_path / "far.zarvik.json"
    project_file.write(with_value(tarn, "goal.target_power", parse("370 hp", "power")), far)
    assert main(["check", str(far)]) == 1
    calm = with_value(tarn, "goal.hold_back_until", parse("4600 rpm", "rotation"))
    calm = with_value(calm, "goal.full_boost_from", parse("5000 rpm", "rotation"))
    calm = with_value(calm, "goal.target_power", parse("300 hp", "power"))
    path = tmp_path / "calm.zarvik.json"
    project_file.write(calm, path)
    assert main(["check", str(path)]) == 0
    assert main(["check", str(tmp_path / "nothing")]) == 2


@pytest.mark.parametrize(
    "words",
    [
        ["fly"],
        ["solve"],
        ["solve", "FILE", "--rpm", "x"],
        ["solve", "FILE", "--rpm", "0"],
        ["solve", "FILE", "--rpm", "nan"],
        ["solve", "FILE", "--rpm", "1e99"],
        ["solve", "FILE", "--sweep", "1:2"],
        ["solve", "FILE", "--sweep", "6000:2000:100"],
        ["solve", "FILE", "--sweep", "2000:6000:0"],
        ["solve", "FILE", "--sweep", "2000:6000:0.01"],
        ["solve", "FILE", "--rpm", "3000", "--sweep", "2000:6000:100"],
        ["solve", "FILE", "--json", "/nowhere/at/all/x.json"],
        ["demo", "moon"],
        ["check", "/"],
        ["open", "/nowhere.json"],
    ],
)
def test_bad_input_is_one_sentence_and_code_2(words: list[str], file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Never a traceback, the file on disk untouched."""
    before = file.read_bytes()
    if words[-1:] == ["/nowhere/at/all/x.json"]:
        words = [*words[:-1], str(file / "x.json")]  # a file where a folder would have to be
    assert main([str(file) if w == "FILE" else w for w in words]) == 2
    captured = capsys.readouterr()
    assert captured.err.startswith("zarvik: ")
    assert captured.err.count("\n") == 1
    assert "Traceback" not in captured.err
    assert file.read_bytes() == before


def test_a_project_with_problems_names_them(tarn: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """A sound file whose numbers contradict each other."""
    path = tmp_path / "p.zarvik.json"
    project_file.write(with_value(tarn, "cold_pipe.c-up.radius", parse("20 mm", "length")), path)
    assert main(["solve", str(path)]) == 2
    assert "cold_pipe.c-up" in capsys.readouterr().err


def test_schema_and_version(capsys: pytest.CaptureFixture[str]) -> None:
    """The schema is JSON; the version is said."""
    assert main(["schema"]) == 0
    assert json.loads(capsys.readouterr().out)["title"] == "Zarvik project"
    assert main(["--version"]) == 0
    assert "zarvik" in capsys.readouterr().out


def test_every_sheet_on_the_command_line(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    """`solve --sheets` prints the calculation of every number of the build, each with its source."""
    path = tmp_path / "t.zarvik.json"
    assert main(["demo", "tarn", "--copy", str(path)]) == 0
    capsys.readouterr()
    assert main(["solve", str(path), "--rpm", "6400", "--calculations"]) == 0
    out = capsys.readouterr().out
    for words in (
        "Power at the crank",
        "Surge margin",
        "Wastegate flow",
        "Back-pressure ratio",
        "P = (imep − pmep − fmep) · V · n / 2",
        "SAE J1826",
        "Intercooler outlet temperature",
    ):
        assert words in out


def test_variants_go_along_on_the_command_line(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    """A project with variants is solved as its present design, and its file keeps them."""
    path = tmp_path / "t.zarvik.json"
    assert main(["demo", "tarn", "--copy", str(path)]) == 0
    capsys.readouterr()
    assert main(["check", str(path)]) == 0
    assert "Surge margin" in capsys.readouterr().out
    tree = json.loads(path.read_text("utf-8"))
    assert [v["name"] for v in tree["variants"]] == ["58 mm wheel", "Larger housing"]
    tree["variants"][0]["differs"]["goal"]["target_boost"] = "-3 bar"
    path.write_text(json.dumps(tree), "utf-8")
    assert main(["check", str(path)]) == 2
    assert "Target boost" in capsys.readouterr().err


def test_maps_on_the_command_line(file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Out of a project, checked, into it again: the same map as a candidate; a bad one is refused with
    its row, and nothing changes."""
    out = tmp_path / "my map.csv"
    assert main(["map", str(out), "--out-of", str(file)]) == 0
    assert main(["map", str(out), "--out-of", str(file)]) == 2
    before = project_file.read(file)
    assert main(["map", str(out), "--into", str(file)]) == 0
    said = capsys.readouterr().out
    after = project_file.read(file)
    fastest = before.chosen.chart.lines[-1]  # type: ignore[union-attr]
    assert f"{fastest.flow[-1]:.3f} kg/s at most, ratio {fastest.ratio[0]:.2f}, " in said and "at ratio 2.2 from" in said
    assert len(after.turbos) == len(before.turbos) + 1
    assert after.turbos[-1].id == "my-map" and after.turbo == before.turbo
    bad = tmp_path / "bad.csv"
    bad.write_text(out.read_text("utf-8").replace("0.7", "77", 3), "utf-8")
    assert main(["map", str(bad), "--into", str(file)]) == 2
    assert project_file.read(file) == after


@pytest.mark.parametrize(
    "words",
    [
        ("bends", "FILE", "DEVICE", "--run", "exhaust"),
        ("bends", "FILE", "PIPE", "--run", "exhaust"),
        ("bends", "FILE", "WIDE", "--run", "exhaust"),
        ("bends", "FILE", "FOLDER", "--run", "exhaust"),
        ("bends", "FILE", "BYTES", "--run", "exhaust"),
        ("bends", "FILE", "NOTHING", "--run", "exhaust"),
        ("map", "DEVICE"),
        ("map", "PIPE"),
        ("map", "FOLDER"),
        ("open", "PIPE"),
        ("solve", "DEVICE"),
        ("check", "FOLDER"),
        ("joints", "BYTES"),
        ("new", "NEW", "--litres", "2", "--power", "300hp", "--cylinders", "0"),
        ("new", "NEW", "--litres", "2", "--power", "300hp", "--cylinders", "-3"),
        ("new", "NEW", "--litres", "2", "--power", "300hp", "--altitude", "60000m"),
        ("new", "NEW", "--litres", "2", "--power", "300hp", "--day", "-300C"),
        ("new", "NEW", "--litres", "2", "--power", "300hp", "--compression", "0"),
        ("new", "NEW", "--litres", "nan", "--power", "300hp"),
    ],
)
def test_hostile_commands(tmp_path: Path, words: tuple[str, ...], capsys: pytest.CaptureFixture[str]) -> None:
    """Devices, pipes that nobody writes to, cells of 131,072 characters, engines of no cylinder: one sentence, code 2, and the file as it
    was."""
    project = tmp_path / "a.zarvik.json"
    project.write_text(shipped.demo_text("moth"), "utf-8")
    os.mkfifo(tmp_path / "pipe")
    (tmp_path / "wide.csv").write_text("a" * 131_072 + ",1,2,3\n", "utf-8")
    (tmp_path / "bytes.csv").write_bytes(b"\xff\xfe\x00\x80" * 50)
    (tmp_path / "folder").mkdir()
    places = {
        "FILE": project,
        "DEVICE": "/dev/zero",
        "PIPE": tmp_path / "pipe",
        "WIDE": tmp_path / "wide.csv",
        "FOLDER": tmp_path / "folder",
        "BYTES": tmp_path / "bytes.csv",
        "NOTHING": tmp_path / "nothing",
        "NEW": tmp_path / "new.zarvik.json",
    }
    assert main([str(places.get(word, word)) for word in words]) == 2
    said = capsys.readouterr().err
    assert said.startswith("zarvik: ") and said.count("\n") == 1
    assert "Traceback" not in said and "http" not in said and "pydantic" not in said
    assert project.read_text("utf-8") == shipped.demo_text("moth") and not (tmp_path / "new.zarvik.json").exists()


def test_a_terminal_of_few_letters_gets_its_result(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """ASCII alone, and an output that is closed: the result in plain letters, and the code that says how it went."""
    project = tmp_path / "a.zarvik.json"
    project.write_text(shipped.demo_text("moth"), "utf-8")
    words = ["solve", str(project), "--rpm", "4000"]
    code, usual = main(words), capsys.readouterr().out
    run = [sys.executable, "-m", "zarvik.cli", *words]
    plain = {**os.environ, "PYTHONIOENCODING": "ascii", "PYTHONUTF8": "0", "LC_ALL": "C"}
    few = subprocess.run(run, capture_output=True, check=False, env=plain)
    closed = subprocess.run(["sh", "-c", '"$@" >&-', "sh", *run], capture_output=True, check=False)
    assert code == few.returncode == closed.returncode
    assert few.stderr == closed.stderr == b""
    assert b"kW" in few.stdout and few.stdout.isascii() and few.stdout.count(b"?") <= usual.count("?") + 2


def test_long_work_says_how_far_it_is(monkeypatch: pytest.MonkeyPatch) -> None:
    """On a terminal a line that grows and goes; nothing in a file, and nothing while the work is quick."""

    class Terminal(io.StringIO):
        def isatty(self) -> bool:
            return True

    clock = iter(float(n) for n in range(100))
    monkeypatch.setattr(output.time, "monotonic", lambda: next(clock))
    monkeypatch.setattr("sys.stderr", seen := Terminal())
    with far("Generating primaries") as progress:
        for share in (0.0, math.nan, 0.1, 0.105, 0.5, 0.2, 1.4):
            progress(share)
    assert seen.getvalue().split("\r")[1:4] == [
        "Generating primaries  10 %",
        "Generating primaries  50 %",
        "Generating primaries 100 %",
    ] and seen.getvalue().endswith("            \r")
    monkeypatch.setattr("sys.stderr", quick := Terminal())
    monkeypatch.setattr(output.time, "monotonic", lambda: 5.0)
    with far("Generating primaries") as progress:
        progress(0.5)
    assert quick.getvalue() == ""
    monkeypatch.setattr("sys.stderr", file := io.StringIO())
    with far("Generating primaries") as progress:
        progress(0.5)
    assert file.getvalue() == ""


@pytest.mark.parametrize(
    ("former", "now"),
    [
        (["weigh", "FILE"], ["candidates", "FILE"]),
        (["hotside", "FILE"], ["exhaust", "FILE"]),
        (["register", "FILE", "--list", "ports"], ["joints", "FILE", "--list", "ports"]),
        (["solve", "FILE", "--rpm", "6400", "--sheet", "power"], ["solve", "FILE", "--rpm", "6400", "--calculation", "power"]),
        (["solve", "FILE", "--rpm", "6400", "--sheet=power"], ["solve", "FILE", "--rpm", "6400", "--calculation=power"]),
    ],
)
def test_former_words_are_understood(
    former: list[str], now: list[str], capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """Scripts that say it as it was called before get the same; the help names the present words alone."""
    asked: list[dict[str, object]] = []
    monkeypatch.setattr(cli, "_run", lambda given: asked.append(vars(given)) or 0)
    for words in (former, now):
        assert main(words) == 0
    assert asked[0] == asked[1] and asked[0]["word"] == now[0]
    assert main(["--help"]) == 0
    told = capsys.readouterr().out
    assert now[0] in told and (former[0] == now[0] or former[0] not in told)

"""How many small changes of the program do its tests notice? A random sample of changes by the operators of `cosmic-ray`.

Run by hand, in an environment that has the program's own packages and, beside them, `cosmic-ray` and `coverage` (neither is in the locks):

    python tests/mutants.py cover FOLDER [--jobs 2]  which test runs which function, and how long it takes (half an hour); to be committed
    python tests/mutants.py run FOLDER --count 400 --seed 1 [--jobs 2] [--only PART]
    python tests/mutants.py score FOLDER          what was noticed, by room
    python tests/mutants.py slow                  write tests/slow.txt, what `./zarvik test quick` leaves out

A change is noticed when one of the tests fails that run its function; the quickest first, then those of its own file, then what was kept of
earlier runs, then the others and those of their files, for `BUDGET` seconds at the most. What is compiled is compiled anew for a change
that it reads. Every result is a line of `FOLDER/results.jsonl`; a run that was broken off goes on where it was. Not counted: annotations,
decorators, `strict` of a `zip`, `is` in the place of `==`, and variables put in the place of others.
"""

from __future__ import annotations

import argparse
import ast
import collections
import json
import lzma
import os
import random
import re
import shutil
import sqlite3
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict, dataclass
from pathlib import Path
from queue import Queue

import cosmic_ray.plugins
from cosmic_ray.ast import ast_nodes, get_ast
from cosmic_ray.mutating import mutate_code
from coverage.numbits import numbits_to_nums

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "zarvik"
BUDGET = 40.0  # s of tests that a change is asked of
SOON = 6.0  # s of them, the quickest, that come before all others
OWN = 30.0  # s of tests of the file's own, however many others run its lines
EACH, ALIKE = 60, 4  # tests that are remembered of a function, and of them of one kind
MAP = ROOT / "tests" / "reference" / "which_tests.json.xz"
QUICK = 0.2  # s, measured with its lines: what takes longer is no test of the inner loop
SLOW = 2.0  # times as long as it was measured may a test take before the change counts as one that hangs
# what was kept of earlier runs is asked as well
KEPT = ("tests/test_own_results.py", "tests/window/test_own_pages.py", "tests/window/test_own_acts.py")
LEFT_OUT = re.compile(r"RemoveDecorator|_Is$|_IsNot$|VariableInserter|VariableReplacer|BitOr|BitAnd|BitXor|Shift")
SHARES = {"core": 0.42, "project": 0.2, "window": 0.2, "formats": 0.07, "workspace": 0.06, "commands": 0.05}  # of the sample, by room


@dataclass(frozen=True)
class Change:
    """The `occurrence` of an operator in a file (below `src/zarvik`), at a `line`."""

    file: str
    operator: str
    occurrence: int
    line: int


def room_of(file: str) -> str:
    """The room that a file stands in."""
    first = file.partition("/")[0]
    return first if first in SHARES else "commands"


def _silent(text: str) -> set[tuple[int, int]]:
    """Lines and columns of what does nothing while the program runs as it should: annotations, decorators, `strict` of a `zip`."""
    found = set()
    for node in ast.walk(ast.parse(text)):
        parts = [getattr(node, "annotation", None), getattr(node, "returns", None), *getattr(node, "decorator_list", ())]
        if isinstance(node, ast.keyword) and node.arg == "strict":
            parts.append(node.value)
        for part in parts:
            if isinstance(part, ast.AST):
                found |= {(n.lineno, n.col_offset) for n in ast.walk(part) if hasattr(n, "lineno")}
    return found


def changes_of(file: str) -> Iterator[Change]:
    """Every change that the operators can make in a file."""
    text = (SOURCE / file).read_text("utf-8")
    silent = _silent(text)
    nodes = list(ast_nodes(get_ast(text)))
    for name in cosmic_ray.plugins.operator_names():
        if LEFT_OUT.search(name):
            continue
        operator = cosmic_ray.plugins.get_operator(name)()
        number = -1
        for node in nodes:
            for (line, column), _ in operator.mutation_positions(node):
                number += 1
                if (line, column) not in silent:
                    yield Change(file, name, number, line)


def sample(count: int, seed: int, only: str) -> list[Change]:
    """So many changes, by `SHARES` of the rooms; within a room every line that can be changed has the same chance."""
    dice = random.Random(seed)
    rooms: dict[str, list[list[Change]]] = collections.defaultdict(list)
    for path in sorted(SOURCE.rglob("*.py")):
        file = str(path.relative_to(SOURCE))
        lines: dict[int, list[Change]] = collections.defaultdict(list)
        for change in changes_of(file):
            lines[change.line].append(change)
        rooms[room_of(file)] += lines.values()
    found = []
    for room, share in SHARES.items():
        found += [dice.choice(line) for line in dice.sample(rooms[room], min(round(share * count), len(rooms[room])))]
    dice.shuffle(found)
    return [change for change in found if only in change.file]


def shared_out(jobs: int) -> list[list[str]]:
    """Files of tests for so many processes, by the seconds of their slow tests."""
    weights: dict[str, float] = {str(p.relative_to(ROOT)): 1.0 for p in (ROOT / "tests").rglob("test_*.py")}
    for line in (ROOT / "tests" / "slow.txt").read_text("utf-8").splitlines():
        name, _, seconds = line.rpartition(" ")
        file = name.partition("::")[0]
        if file in weights:
            weights[file] += float(seconds)
    parts: list[list[str]] = [[] for _ in range(jobs)]
    sums = [0.0] * jobs
    for file in sorted(weights, key=lambda file: -weights[file]):
        least = sums.index(min(sums))
        parts[least].append(file)
        sums[least] += weights[file]
    return parts


def cover(folder: Path, jobs: int) -> None:
    """Run the tests once, each line with the tests that run it."""
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "times.txt").unlink(missing_ok=True)
    started = []
    for number, files in enumerate(shared_out(jobs)):
        lines = folder / f"lines.{number}"
        environment = dict(os.environ, MUTANTS_TIMES=str(folder / "times.txt"), COVERAGE_FILE=str(lines), QT_QPA_PLATFORM="offscreen")
        command = [sys.executable, "-m", "coverage", "run", f"--source={SOURCE}", "-m", "pytest", "-p", "mutants_plugin", "-p", "no:xdist"]
        started.append(subprocess.Popen([*command, *files], cwd=ROOT, env=environment))
    for process in started:
        process.wait()
    environment = dict(os.environ, COVERAGE_FILE=str(folder / "lines"))
    subprocess.run([sys.executable, "-m", "coverage", "combine", *folder.glob("lines.*")], cwd=ROOT, env=environment, check=False)
    keep(folder)


def functions_of(text: str) -> dict[str, tuple[int, int]]:
    """First and last line of the body of every function, by its whole name; what stands within another comes after it."""
    found: dict[str, tuple[int, int]] = {}

    def walk(node: ast.AST, name: str) -> None:
        for child in ast.iter_child_nodes(node):
            inner = name
            if isinstance(child, (ast.FunctionDef, ast.ClassDef)):
                inner = f"{name}.{child.name}" if name else child.name
            if isinstance(child, ast.FunctionDef):
                found[inner] = child.body[0].lineno, child.end_lineno or child.lineno
            walk(child, inner)

    walk(ast.parse(text), "")
    return found


def keep(folder: Path) -> None:
    """Write down what `cover` found: of each function the quickest tests that run it, few of one kind, and how long every test takes."""
    times: dict[str, float] = collections.Counter()
    for line in (folder / "times.txt").read_text("utf-8").splitlines():
        seconds, _, name = line.partition(" ")
        times[name] += float(seconds)
    failed = folder / "failed.txt"  # what fails without a change would notice every one
    for name in failed.read_text("utf-8").splitlines() if failed.exists() else ():
        times.pop(name, None)
    numbers = {name: number for number, name in enumerate(times)}
    query = (
        "select c.context, b.numbits from line_bits b join file f on f.id = b.file_id join context c on c.id = b.context_id "
        "where f.path = ?"
    )
    lines = sqlite3.connect(folder / "lines")
    of: dict[str, dict[str, list[int]]] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        run = [(name, set(numbits_to_nums(bits))) for name, bits in lines.execute(query, (str(path),)) if name in times]
        run.sort(key=lambda pair: times[pair[0]])
        rows = {}
        for function, (first, last) in functions_of(path.read_text("utf-8")).items():
            body, kinds, tests = range(first, last + 1), collections.Counter(), []
            for name, ran in run:
                if kinds[name.partition("[")[0]] < ALIKE and len(tests) < EACH and not ran.isdisjoint(body):
                    kinds[name.partition("[")[0]] += 1
                    tests.append(numbers[name])
            if tests:
                rows[function] = tests
        if rows:
            of[str(path.relative_to(SOURCE))] = rows
    with lzma.open(MAP, "wt", encoding="utf-8", preset=9) as file:
        json.dump({"tests": {name: round(took, 2) for name, took in times.items()}, "of": of}, file, separators=(",", ":"))


class Asked:
    """Which tests are asked about a change, and for how long they are expected to take."""

    def __init__(self) -> None:
        with lzma.open(MAP, "rt", encoding="utf-8") as file:
            known = json.load(file)
        self.times: dict[str, float] = known["tests"]
        names = list(self.times)
        self.functions = {file: {name: [names[i] for i in tests] for name, tests in rows.items()} for file, rows in known["of"].items()}
        self.files: dict[str, list[str]] = collections.defaultdict(list)
        for name in self.times:
            self.files[name.partition("::")[0]].append(name)

    def _of_file(self, change: Change) -> tuple[list[str], list[str]]:
        """Tests that run the function, and those that run the file."""
        known = self.functions.get(change.file, {})
        spans = functions_of((SOURCE / change.file).read_text("utf-8"))
        around = [name for name, (first, last) in spans.items() if first <= change.line <= last]
        near = list(dict.fromkeys(test for tests in known.values() for test in tests))
        return known.get(around[-1], []) if around else [], near

    @staticmethod
    def _naming(change: Change) -> tuple[re.Pattern[str], list[str]]:
        """How a file is brought by others, and the files of tests that bring it, or are called by its name."""
        module = f"zarvik.{change.file.removesuffix('.py').replace('/', '.')}"
        package, _, name = module.rpartition(".")
        words = re.compile(rf"{re.escape(module)}\b|from {re.escape(package)} import [^\n]*\b{name}\b")
        tests = (ROOT / "tests").rglob("test_*.py")
        return words, [str(p.relative_to(ROOT)) for p in tests if name in p.stem or words.search(p.read_text("utf-8"))]

    def _of_readers(self, change: Change) -> list[str]:
        """For a file that only says what is so (a table, records): tests that name it, the house's own, and those of what reads it."""
        words, naming = self._naming(change)
        readers = [str(p.relative_to(SOURCE)) for p in SOURCE.rglob("*.py") if words.search(p.read_text("utf-8"))]
        below = [name for file in readers for name in self._of_file(Change(file, "", 0, 0))[1]]
        house = [file for file in self.files if file.startswith("tests/house/")]
        return [*(n for file in naming for n in self.files[file]), *below, *(n for file in house for n in self.files[file])]

    def of(self, change: Change) -> list[str]:
        """Tests that run the line, the quick ones first, and then the others of their files, which share what is worked out once;
        where none runs it (it is read when the file is, or compiled), those that run the file, or what reads it: as many as there is
        time for."""
        here, near = self._of_file(change)
        first = sorted(here, key=lambda name: self.times[name])
        if not here:
            # Read with its file, or compiled, where nothing sees which line is run: what was kept of earlier runs goes through all of it
            kept = [name for name in self.times if name.startswith(KEPT[0])]
            first = [*sorted(kept, key=lambda n: self.times[n]), *(sorted(near, key=lambda n: self.times[n]) or self._of_readers(change))]
        shared = [other for file in dict.fromkeys(name.partition("::")[0] for name in first) for other in self.files[file]]
        found, left = [], BUDGET
        for name in dict.fromkeys([*first, *sorted(shared, key=lambda name: self.times[name])]):
            if self.times[name] <= left:
                found.append(name)
                left -= self.times[name]
        # A few seconds of the quickest find most changes; then what was kept of earlier runs, which looks at everything
        quick, left = [], SOON
        for name in (name for name in found if self.times[name] <= QUICK and not name.startswith("tests/house/")):
            left -= self.times[name]
            if left >= 0.0:
                quick.append(name)
        own, left = [], OWN
        for name in sorted((n for file in self._naming(change)[1] for n in self.files[file]), key=lambda n: self.times[n]):
            left -= self.times[name]
            if left >= 0.0:
                own.append(name)
        # Threads of the program tell nobody which line they run: what was kept is asked of all of the window, or of all beside it
        kept = sorted(
            (n for n in self.times if n.startswith(KEPT[1:] if change.file.startswith("window/") else KEPT[0])), key=self.times.get
        )
        return list(dict.fromkeys([*quick, *own, *kept, *found]))


def compiled_readers() -> set[str]:
    """Files that compiled code is made from: those with a compiled loop and all that they import."""
    texts = {str(p.relative_to(SOURCE)): p.read_text("utf-8") for p in (SOURCE / "core").rglob("*.py")}
    wanted = {file for file, text in texts.items() if "\n@compiled\n" in text}
    todo = list(wanted)
    while todo:
        for node in ast.walk(ast.parse(texts[todo.pop()])):
            if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("zarvik.core"):
                base = (node.module or "").removeprefix("zarvik.").replace(".", "/")
                for file in (f"{base}.py", *(f"{base}/{a.name}.py" for a in node.names)):
                    if file in texts and file not in wanted:
                        wanted.add(file)
                        todo.append(file)
    return wanted


def tried(change: Change, asked: Asked, slots: Queue[Path], compiled: set[str]) -> str:
    """`noticed`, `LIVED`, `hangs` (noticed), or `no test`."""
    tests = asked.of(change)
    if not tests:
        return "no test"
    slot = slots.get()
    try:
        for part in ("src", "tests", "docs", "tools"):
            shutil.rmtree(slot / part, ignore_errors=True)
            shutil.copytree(ROOT / part, slot / part, ignore=shutil.ignore_patterns("__pycache__", "*.png"))
        for file in ("pyproject.toml", "README.md", "LICENSE", "zarvik", *(p.name for p in ROOT.glob("requirements*"))):
            shutil.copy(ROOT / file, slot / file)
        path = slot / "src" / "zarvik" / change.file
        text = mutate_code(path.read_text("utf-8"), cosmic_ray.plugins.get_operator(change.operator)(), change.occurrence)
        path.write_text(text, "utf-8")
        environment = dict(
            os.environ, PYTHONPATH=str(slot / "src"), QT_QPA_PLATFORM="offscreen", PYTHONPYCACHEPREFIX=str(slot / "bytecode")
        )
        environment.pop("PYTHONDONTWRITEBYTECODE", None)
        environment.pop("NUMBA_CACHE_DIR", None)
        if change.file not in compiled:
            # Nothing that is compiled changes: what was compiled for the slot once is good
            environment["NUMBA_CACHE_DIR"] = str(slot / "kernels")
            (slot / "kernels").mkdir(mode=0o700, exist_ok=True)
        else:
            environment["XDG_CACHE_HOME"] = str(slot / "cache")
        most = SLOW * sum(asked.times[t] for t in tests) + 120.0
        command = [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:xdist", *tests]
        done = subprocess.run(command, cwd=slot, env=environment, capture_output=True, text=True, timeout=most, check=False)
        return "LIVED" if done.returncode == 0 else "noticed"
    except subprocess.TimeoutExpired:
        return "hangs"
    finally:
        slots.put(slot)


def run(folder: Path, count: int, seed: int, jobs: int, only: str) -> None:
    """Try a sample, and write down what came of each."""
    results = folder / "results.jsonl"
    done = {line for line in results.read_text("utf-8").splitlines()} if results.exists() else set()
    known = {(r["file"], r["operator"], r["occurrence"]) for r in map(json.loads, done)}
    asked, compiled = Asked(), compiled_readers()
    slots: Queue[Path] = Queue()
    for number in range(jobs):
        slot = folder / f"slot-{number}"
        slot.mkdir(exist_ok=True)
        slots.put(slot)

    def one(change: Change) -> None:
        if (change.file, change.operator, change.occurrence) in known:
            return
        began = time.monotonic()
        found = tried(change, asked, slots, compiled)
        row = {**asdict(change), "found": found, "seconds": round(time.monotonic() - began)}
        with results.open("a", encoding="utf-8") as file:
            file.write(json.dumps(row) + "\n")
        print(f"{found:8} {row['seconds']:4} s  {change.file}:{change.line}  {change.operator}", flush=True)

    with ThreadPoolExecutor(jobs) as pool:
        list(pool.map(one, sample(count, seed, only)))


def score(folder: Path) -> None:
    """What was noticed, by room, and what lived."""
    rows = [json.loads(line) for line in (folder / "results.jsonl").read_text("utf-8").splitlines()]
    rooms: dict[str, list[bool]] = collections.defaultdict(list)
    for row in rows:
        rooms[room_of(row["file"])].append(row["found"] in ("noticed", "hangs"))
        if row["found"] not in ("noticed", "hangs"):
            print(f"{row['found']:8} {row['file']}:{row['line']}  {row['operator']} ({row['occurrence']})")
    for room, noticed in {**rooms, "all": [good for found in rooms.values() for good in found]}.items():
        print(f"{room:10} {sum(noticed):4} of {len(noticed):4}  {100.0 * sum(noticed) / len(noticed):5.1f} %")


def slow() -> None:
    """Write down the tests that take longer than `QUICK`, of those with parameters the whole, and the longest of each."""
    whole: dict[str, list[float]] = collections.defaultdict(list)
    for name, took in Asked().times.items():
        whole[name.partition("[")[0]].append(took)
    lines = [f"{name} {max(took):.1f}" for name, took in sorted(whole.items()) if sum(took) > QUICK]
    (ROOT / "tests" / "slow.txt").write_text("\n".join(lines) + "\n", "utf-8")


def main() -> None:
    """By hand."""
    words = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    words.add_argument("what", choices=("cover", "run", "score", "slow"))
    words.add_argument("folder", type=Path, nargs="?", default=Path())
    words.add_argument("--count", type=int, default=400)
    words.add_argument("--seed", type=int, default=1)
    words.add_argument("--jobs", type=int, default=1)
    words.add_argument("--only", default="")
    given = words.parse_args()
    folder = given.folder.resolve()
    if given.what == "cover":
        cover(folder, given.jobs)
    elif given.what == "run":
        run(folder, given.count, given.seed, given.jobs, given.only)
    elif given.what == "score":
        score(folder)
    else:
        slow()


if __name__ == "__main__":
    main()

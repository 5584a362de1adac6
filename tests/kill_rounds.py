"""Run by hand: a program that edits, saves, duplicates and recovers is killed at any moment, many times.

    python tests/kill_rounds.py [ROUNDS]

After each kill: the project file opens, and no edit older than half a second is lost (it stands in the
file or in a journal that is offered). Leaves with 1 when a round lost anything.
"""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from zarvik.formats import project_file, shipped

WORKER = """
import random, sys, time
from pathlib import Path
from zarvik.formats import project_file, shipped
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import Quantity
from zarvik.workspace import journal
from zarvik.workspace.session import Session

seed, path = int(sys.argv[1]), Path(sys.argv[2])
chance = random.Random(seed)
left = journal.left_behind()
session = Session(project_file.read(path), path)
session.jobs.close()
session.jobs.ask = lambda *given, **words: None
if left:
    session.replace(left[0].project, left[0].path, saved=False, label="Recovered", precious=True)
    if session.journalled():
        journal.discard(left[0])
print("ready", session.project.goal.big_run_boost.value, flush=True)
count = session.project.goal.big_run_boost.value
while True:
    count = round(count + 0.0001, 4)
    session.apply("Edit", with_value(session.project, "goal.big_run_boost", Quantity(count, "bar", "pressure_gauge")))
    print(count, time.time(), flush=True)
    if chance.random() < 0.06:
        session.save()
    time.sleep(chance.random() * 0.02)
"""


def one_round(seed: int, folder: Path, path: Path) -> str:
    """Start, kill, look; returns what was lost, empty for nothing."""
    env = {**os.environ, "ZARVIK_STATE": str(folder)}
    worker = subprocess.Popen([sys.executable, "-c", WORKER, str(seed), str(path)], env=env, stdout=subprocess.PIPE, text=True)
    assert worker.stdout is not None
    head = worker.stdout.readline()
    time.sleep(random.Random(seed).random() * 0.8)
    killed = time.time()
    worker.send_signal(signal.SIGKILL)
    lines = worker.stdout.read().splitlines()
    worker.wait()
    if not head.startswith("ready"):
        return "did not start"
    kept = [float(head.split()[1])]
    for line in lines:
        parts = line.split()
        if len(parts) == 2 and float(parts[1]) < killed - 0.5:
            kept.append(float(parts[0]))
    check = (
        "from zarvik.formats import project_file; from zarvik.workspace import journal; import sys;"
        "p=[project_file.read(sys.argv[1]), *(u.project for u in journal.left_behind())];"
        "print(max(x.goal.big_run_boost.value for x in p))"
    )
    found = subprocess.run([sys.executable, "-c", check, str(path)], env=env, capture_output=True, text=True)
    if found.returncode:
        return f"cannot be opened: {found.stderr[-300:]}"
    got = float(found.stdout)
    return "" if got >= max(kept) - 1e-9 else f"{max(kept)} was kept, {got} came back"


def main() -> int:
    """All rounds."""
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    lost = 0
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        path = folder / "p.zarvik.json"
        project_file.write(shipped.demo("tarn"), path)
        for seed in range(rounds):
            fault = one_round(seed, folder / "state", path)
            if fault:
                lost += 1
                print(f"round {seed}: {fault}")
        parts = list(folder.rglob("*.part"))
        print(f"{rounds} rounds, {lost} lost something, {len(parts)} partial files stand")
    return 1 if lost else 0


if __name__ == "__main__":
    raise SystemExit(main())

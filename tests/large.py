"""A document as large as a shop's gets after years: many pieces, stock lines, candidates, variants, joint lines."""

from __future__ import annotations

import json

from zarvik.formats import project_file, shipped
from zarvik.project.document.document import Project, Variant
from zarvik.project.document.parts.connections import ConnectionNote
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse

PIECES, STOCK, CANDIDATES, VARIANTS, LINES = 400, 60, 8, 40, 5000


def large(*, pieces: int = PIECES, stock: int = STOCK, candidates: int = CANDIDATES, kept: int = VARIANTS, lines: int = LINES) -> Project:
    """Tarn with `pieces` lengths of pipe between the ones that it has, and as many of everything else as asked for."""
    tree = json.loads(project_file.dumps(shipped.demo("tarn")))
    runs = ("intake", "hot_pipe", "cold_pipe", "exhaust")
    for n in range(max(pieces - sum(len(tree[run]) for run in runs), 0)):
        run = tree[runs[n % len(runs)]]
        straight = next(piece for piece in run if piece["kind"] == "straight")
        run.insert(run.index(straight) + 1, {**straight, "id": f"more-{n}", "length": "5 mm"})
    tree["stock"] = [{**tree["stock"][n % len(tree["stock"])], "id": f"stock-{n}"} for n in range(stock)]
    first = tree["turbos"][0]
    tree["variants"] = []
    tree["turbos"] += [{**first, "id": f"turbo-{n}", "name": f"Candidate {n}"} for n in range(candidates - len(tree["turbos"]))]
    project = project_file.from_tree(tree, "the large one")
    held = tuple(ConnectionNote(id=f"hand-{n}", name=f"Port {n}", served="vacuum") for n in range(lines))
    project = project.model_copy(update={"joints": held})
    bare = project.model_copy(update={"variants": (), "adopted": ()})
    for n in range(kept):
        design = with_value(bare, "goal.target_power", parse(f"{250 + n} hp", "power"))
        project = project.model_copy(update={"variants": (*project.variants, Variant(name=f"Kept {n}", design=design))})
    return project

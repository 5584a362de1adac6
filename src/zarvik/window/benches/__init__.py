"""The benches in the order of the work. A new one is a folder here and a line in `BENCHES`."""

from __future__ import annotations

from zarvik.window.benches.bench import Entry
from zarvik.window.benches.brief.view import BriefBench
from zarvik.window.benches.charge_pipes.view import PipesBench
from zarvik.window.benches.compare.view import CompareBench
from zarvik.window.benches.turbo.view import TurboBench

BENCHES: tuple[Entry, ...] = (
    Entry("brief", "Brief & engine", "What is wanted, where, and from which engine", BriefBench),
    Entry("turbo", "Turbo", "The compressor map and the full-load line on it", TurboBench),
    Entry(
        "charge_pipes",
        "Pipes",
        "Intake, charge pipes, cooler, manifold and exhaust, piece by piece",
        PipesBench,
    ),
    Entry(
        "compare",
        "Compare",
        "Named variants of the design, side by side",
        CompareBench,
        judged=False,
    ),
)

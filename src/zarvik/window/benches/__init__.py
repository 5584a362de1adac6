"""The benches in the order of the work. A new one is a folder here and a line in `BENCHES`."""

from __future__ import annotations

import importlib
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from PySide6.QtWidgets import QStackedWidget

from zarvik.project.document.document import Project
from zarvik.project.language.language import tr
from zarvik.window.benches.bench import Bench, Entry
from zarvik.window.desk import Desk
from zarvik.window.theme.style import put_on, undressed


def _kept(project: Project) -> str:
    return tr("{0} saved").format(len(project.variants)) if project.variants else ""


def _decided(project: Project) -> str:
    return tr("decided: {0}").format(project.decision.name) if project.decision.turbo else ""


def _stocked(project: Project) -> str:
    return tr("{0} in stock").format(len(project.stock)) if project.stock else ""


def _laid(project: Project) -> str:
    return tr("{0} primaries").format(len(project.primaries)) if project.primaries else ""


def _connections_ticked(project: Project) -> str:
    return tr("{0} entered").format(len(project.joints)) if project.joints else ""


def _later(module: str, name: str, **options: object) -> Callable[[Desk], Any]:
    """What makes a bench or its chart; its module is read when it is first wanted, or in `read_all`: a window need not wait for all of
    them."""

    def make(desk: Desk) -> Any:
        return getattr(importlib.import_module(f"{__name__}.{module}"), name)(desk, **options)

    _modules.append(f"{__name__}.{module}")
    return make


_modules: list[str] = []  # of all benches


def read_all() -> None:
    """Read the modules of all benches, in any thread: then none is waited for when it is first turned to."""
    for module in _modules:
        importlib.import_module(module)


BENCHES: tuple[Entry, ...] = (
    Entry(
        "goal",
        "Goal & engine",
        "What you want, where, and from which engine",
        _later("goal.view", "GoalBench"),
        subjects=("target", "engine"),
        rooms=("goal", "engine", "name", "note", "bay"),
        page=_later("goal.view", "LoadChart"),
    ),
    Entry(
        "turbo",
        "Map & turbine",
        "The compressor map and the full-load line on it",
        _later("turbo.view", "TurboBench"),
        subjects=("compressor", "turbine", "blower"),
        rooms=("turbos", "turbos_fitted", "exhaust_paths", "pieces_per_turbo", "wastegate", "blower"),
        page=_later("turbo.map_chart", "MapChart", at_once=True),
        with_blower=("Blower", "Size, pulleys, belt and bypass of the blower"),
    ),
    Entry(
        "candidates",
        "Candidates",
        "Each turbo on this engine at each boost level",
        _later("candidates.view", "CandidatesBench"),
        rooms=("goal", "car", "decision"),
        keys=(("Left, Right, Enter", "go through housings or pulleys, choose one"),),
        note=_decided,
        with_blower=("Candidates", "Each pulley that can be had: power, belt, charge temperature"),
    ),
    Entry(
        "pipes",
        "Pipes & intercooler",
        "Intake, charge pipes, intercooler, manifold and exhaust, piece by piece",
        _later("pipes.view", "PipesBench"),
        subjects=("pipes", "piece", "charge"),
        rooms=("intake", "hot_pipe", "cold_pipe", "manifold", "exhaust", "intercooler"),
        keys=(("Insert, Delete", "add, remove"), ("Alt+Up, Alt+Down", "move"), ("W", "calculation of its loss")),
    ),
    Entry(
        "intake",
        "Intake parts",
        "Air meter, throttle, ports and runners",
        _later("intake.view", "IntakeBench"),
        subjects=("intake",),
        rooms=("ports", "air_meter", "runners"),
    ),
    Entry(
        "exhaust",
        "Wastegate & exhaust",
        "Boost control and its hoses, manifold types side by side, exhaust heat, towing",
        _later("wastegate_exhaust.view", "ExhaustBench"),
        subjects=("gate",),
        rooms=("wastegate", "fittings", "towing"),
        keys=(("Up, Down", "from manifold to manifold"),),
        with_blower=("Exhaust", "Manifold types side by side, exhaust heat, towing"),
    ),
    Entry(
        "layout",
        "Layout",
        "Primaries, pipes and downpipe in space: what they must meet and how they are made",
        _later("layout.view", "LayoutBench"),
        subjects=("layout",),
        rooms=("layout", "primaries", "bay_objects"),
        note=_laid,
        keys=(
            ("Arrows, 1 2 3 4", "orbit, standard views"),
            ("Page Up, Page Down", "from piece to piece"),
            ("L, B, R", "more length, bend, rotation; with Shift less"),
            ("N, X", "zoom to the chosen pipe, section"),
            (", .", "section nearer, farther"),
            ("T", "next part that stands by its measures"),
            ("A, U, O", "move it along, up, outwards; with Shift back"),
        ),
    ),
    Entry(
        "joints",
        "Joints & services",
        "Every port, bung, joint, hose and line with its state; tick lists; the leak test",
        _later("joints_services.view", "JointsBench"),
        subjects=("joints",),
        rooms=("joints", "fluid_lines", "radiator", "breather", "fuel_rail", "leak_test", "turbo_coolant", "fittings", "workshop"),
        note=_connections_ticked,
        keys=(("Up, Down, Space", "from line to line, next state"), ("/", "find a line")),
    ),
    Entry(
        "cut_weld",
        "Cut & weld",
        "Cut list, stock, 1:1 templates and flanges",
        _later("cut_weld.view", "CutWeldBench"),
        rooms=("stock", "workshop"),
        note=_stocked,
    ),
    Entry(
        "designs",
        "Whole designs",
        "Requirements, whole designs searched for them, cost and build time",
        _later("designs.view", "DesignsBench"),
        subjects=("means",),
        rooms=("search", "car", "workshop"),
        keys=(("Left, Right, Enter", "go through the designs, view one"),),
    ),
    Entry("compare", "Compare", "Named variants of the design, side by side", _later("compare.view", "CompareBench"), note=_kept),
)


@dataclass(frozen=True)
class Phase:
    """A step of the trade in the rail: `key`, `title`, the keys of its `benches` in the order of their tabs; what it is called in a build
    with a blower (`with_blower`), where that is something else."""

    key: str
    title: str
    benches: tuple[str, ...]
    with_blower: str = ""

    def name(self, project: Project) -> str:
        """What a project calls it."""
        return tr(self.with_blower if self.with_blower and project.blower.fitted else self.title)

    @property
    def entries(self) -> tuple[Entry, ...]:
        """Its benches."""
        return tuple(entry for key in self.benches for entry in BENCHES if entry.key == key)

    @property
    def subjects(self) -> frozenset[str]:
        """What checks are about that are worked on in it."""
        return frozenset(subject for entry in self.entries for subject in entry.subjects)

    def note(self, project: Project) -> str:
        """A few words about the document, where no check speaks of it."""
        return " · ".join(words for entry in self.entries if entry.note is not None and (words := entry.note(project)))


# What benches were called before; understood for one more version
FORMER = {
    "brief": "goal",
    "charge_pipes": "pipes",
    "intake_parts": "intake",
    "hot_side": "exhaust",
    "space": "layout",
    "register": "joints",
    "workshop": "cut_weld",
}
PHASES = (
    Phase("goal", "Goal & engine", ("goal",)),
    Phase("turbo", "Turbo", ("turbo", "candidates", "designs", "compare"), with_blower="Blower"),
    Phase("pipes", "Pipes & intercooler", ("pipes", "intake")),
    Phase("wastegate_exhaust", "Wastegate & exhaust", ("exhaust",), with_blower="Exhaust"),
    Phase("layout", "Layout", ("layout",)),
    Phase("joints_services", "Joints & services", ("joints",)),
    Phase("cut_weld", "Cut & weld", ("cut_weld",)),
)


def phase_of(bench: str) -> Phase:
    """The phase that a bench belongs to; raises KeyError for a strange one."""
    found = next((phase for phase in PHASES if bench in phase.benches), None)
    if found is None:
        raise KeyError(bench)
    return found


def bench_of(subject: str) -> str:
    """Key of the bench on which a subject is worked on (`piece:ID` for a piece), the first one for a
    subject that none knows."""
    kind = subject.partition(":")[0]
    return next((entry.key for entry in BENCHES if kind in entry.subjects), BENCHES[0].key)


class Benches(Mapping[str, Bench]):
    """The benches by key, each made when it is first asked for: a window stands at once."""

    def __init__(self, desk: Desk, stack: QStackedWidget) -> None:
        self._desk, self._stack = desk, stack
        desk.home = stack
        self._entries = {entry.key: entry for entry in BENCHES}
        self._made: dict[str, Bench] = {}

    def __getitem__(self, key: str) -> Bench:
        if key not in self._made:
            self._made[key] = self._entries[key].make(self._desk)
            self._stack.addWidget(self._made[key])
        return self._made[key]

    def __contains__(self, key: object) -> bool:
        return key in self._entries

    def __iter__(self) -> Iterator[str]:
        return iter(self._entries)

    def __len__(self) -> int:
        return len(self._entries)

    def for_place(self, place: str) -> str | None:
        """Key of the first bench that can show the entry at `place`; those that have its room are asked first, so that no other is made
        for it."""
        room = place.partition(".")[0]
        for key in sorted(self, key=lambda key: room not in self._entries[key].rooms):
            if self[key].opens(place):
                return key
        return None

    def made(self, key: str) -> bool:
        """Has somebody asked for this one?"""
        return key in self._made

    def make_next(self) -> bool:
        """Make or dress a bench, or a page of one, that nobody has asked for yet; False when there is none."""
        for bench in self._made.values():
            naked = next(undressed(bench), None)
            if naked is not None:
                put_on(naked)
                return True
            if bench.make_next():
                return True
        key = next((key for key in self._entries if key not in self._made), None)
        return key is not None and self[key] is not None

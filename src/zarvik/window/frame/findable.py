"""What the finder finds: commands, projects, entries, pieces, variants, numbers, checks."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial

from PySide6.QtGui import QAction

from zarvik.core.checks import CheckResult
from zarvik.core.limits.limits import STATE_WORDS
from zarvik.formats import shipped
from zarvik.project.document.belonging import belongs
from zarvik.project.document.naming import piece_title
from zarvik.project.document.places import run_title, runs_of
from zarvik.project.edits import edits
from zarvik.project.language.language import tr
from zarvik.project.variants import variants
from zarvik.window.benches import Benches
from zarvik.window.desk import Desk
from zarvik.window.frame.finder import Thing
from zarvik.workspace.job_store import DONE
from zarvik.workspace.jobs import sheets_named


@dataclass(kw_only=True)
class Findable:
    """Everything of a window that can be found by its name."""

    desk: Desk
    benches: Benches
    commands: Sequence[QAction]
    open_demo: Callable[[str], object]
    show_bench: Callable[[str], object]
    show_check: Callable[[CheckResult], object]

    def names(self) -> dict[str, str]:
        """What the numbers of the shown point are called, by key; none as long as that is found out."""
        answer, point = self.desk.answer, self.desk.point
        if answer is None or point is None or not point.closure.solved:
            return {}
        reply = self.desk.ask(sheets_named(answer.solved, point, self.desk.project.shown_units))
        return reply.value if reply.state == DONE else {}

    def _on_bench(self, key: str, act: Callable[[], object]) -> None:
        self.show_bench(key)
        act()

    def things(self) -> Iterator[Thing]:
        """Commands, projects, entries, pieces, variants, numbers, checks and their fixes, as they are now."""
        for command in self.commands:
            keys = command.shortcut().toString()
            yield Thing(command.text(), "command", command.trigger, keys)
        for name in shipped.demo_names():
            yield Thing(tr("Demo {0}").format(name.capitalize()), "project", partial(self.open_demo, name))
        project = self.desk.project
        # Asked for by its key, a bench that nobody has opened would be made.
        for key in filter(self.benches.made, self.benches):
            bench = self.benches[key]
            for words, act in bench.commands():
                yield Thing(words, "command", partial(self._on_bench, key, act))
            for place in [place for place in bench.places() if belongs(project, place)]:
                title = self.desk.title_of(place, edits.get(project, place))
                yield Thing(title, "entry", partial(self.desk.go_to_place, place))
        for run in runs_of(project):
            for piece in edits.get(project, run):
                words = piece_title(project, piece)
                if piece.name:
                    words = f"{words}: {run_title(project, run).lower()}"
                yield Thing(words, "piece", partial(self.desk.go, f"piece:{piece.id}"))
        for variant in variants.names(project):
            go = partial(self.desk.change, tr("Restore {0}").format(variant), variants.enter(project, variant))
            yield Thing(tr("Restore variant {0}").format(variant), "variant", go)
        answer = self.desk.answer
        if answer is None:
            return
        for key, words in self.names().items():
            yield Thing(words, "calculation", partial(self.desk.show_calculation, key))
        for check_result in answer.check_results:
            yield Thing(
                tr("Check: {0}").format(tr(check_result.title)), tr(STATE_WORDS[check_result.state]), partial(self.show_check, check_result)
            )
            if check_result.changes:
                words = tr("Fix {0}: {1}").format(tr(check_result.title), self.desk.say(check_result.cure))
                cure = partial(self.desk.cure, check_result.title, check_result.changes)
                yield Thing(words, "cure", cure)

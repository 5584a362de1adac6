"""The Candidates bench: what each turbo does at each stage, in pictures and figures, and the choice."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QToolButton, QVBoxLayout

from zarvik.core.budget.bill import bill, cost
from zarvik.core.candidates.evaluation import Housing, Pulley
from zarvik.core.common.constants import INCH
from zarvik.project.assembly.stages import stages_of
from zarvik.project.edits import edits
from zarvik.project.edits.turbo_edits import with_decision
from zarvik.project.language.language import tr
from zarvik.project.units.units import EntryError, Quantity
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.candidates import presenter as show
from zarvik.window.benches.candidates.pictures import CandidateChart
from zarvik.window.desk import Desk
from zarvik.window.parts.figure_rows import CandidateRow, Heads, show_rows
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.side import side_column
from zarvik.workspace.job_store import DONE, FAILED, JobResult
from zarvik.workspace.jobs import EVALUATED, HOUSINGS, PULLEYS, SECONDS, Candidates, evaluated, housings_of, pulleys_of, seconds_of

OF_TURBOS = (show.MAPS, show.BOOST, show.POWER, show.SECONDS, show.PULL, show.HOUSINGS)


class CandidatesBench(Bench):
    """Pictures, rows and the decision."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.stage = "full"
        self.mode = show.MAPS
        self.found: Candidates | None = None
        self.housings: tuple[Housing, ...] = ()
        self.pulleys: tuple[Pulley, ...] = ()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 10, 12, 10)
        layout.setSpacing(5)
        layout.addLayout(self._head())
        layout.addLayout(self._tabs())
        middle = QHBoxLayout()
        middle.setSpacing(14)
        self.chart = CandidateChart()
        self.chart.taken.connect(self._take)
        middle.addWidget(self.chart, 1)
        side, column = side_column(236, 10, 5)
        column.addWidget(heading(tr("Compare at")))
        self.form = Form(desk, show.CAR, label_width=112, room=106)
        column.addWidget(self.form)
        column.addStretch(1)
        self.side = side
        middle.addWidget(side)
        layout.addLayout(middle, 1)
        self.answer = Paragraph()
        layout.addWidget(self.answer)
        self.heads = Heads(tr("Turbo"), show.HEADS)
        layout.addWidget(self.heads)
        self.rows: list[CandidateRow] = []
        self.list, self._rows = side_column(0, 0, 0)
        layout.addWidget(self.list)
        self.given = Paragraph(soft=True)
        layout.addWidget(self.given)
        deed = QHBoxLayout()
        self.reason = Form(desk, ("decision.reason",), label_width=112, room=300)
        deed.addWidget(self.reason, 1)
        self.keep = QPushButton(tr("Choose this turbo"))
        self.keep.setToolTip(tr("Saves the choice with its reason and trade-offs, in the file and on paper"))
        self.keep.clicked.connect(self.decide)
        deed.addWidget(self.keep, 0, Qt.AlignmentFlag.AlignTop)
        layout.addLayout(deed)
        self.kept = Paragraph(soft=True)
        layout.addWidget(self.kept)
        desk.job_changed.connect(self._hear)

    def _head(self) -> QHBoxLayout:
        """The title, and the stages to choose from."""
        head = QHBoxLayout()
        head.setSpacing(4)
        self.title = heading(tr("Candidates on this engine"))
        head.addWidget(self.title, 1)
        self._stages = QHBoxLayout()
        self._stages.setSpacing(0)
        self._stage_group = QButtonGroup(self)
        self._stage_keys: tuple[str, ...] = ()
        head.addLayout(self._stages)
        return head

    def _tabs(self) -> QHBoxLayout:
        """The pictures to choose from."""
        tabs = QHBoxLayout()
        tabs.setSpacing(0)
        self._mode_group = QButtonGroup(self)
        self.modes: dict[str, QToolButton] = {}
        for mode, title in show.TITLES.items():
            button = self._tab(tr(title), self._mode_group)
            button.clicked.connect(partial(self.show_mode, mode))
            tabs.addWidget(button)
            self.modes[mode] = button
        tabs.addStretch(1)
        return tabs

    @staticmethod
    def _tab(title: str, group: QButtonGroup) -> QToolButton:
        button = QToolButton()
        button.setText(title)
        button.setCheckable(True)
        group.addButton(button)
        return button

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """Each picture and each stage by its name, and the decision."""
        for mode in self.modes:
            if not self.modes[mode].isHidden():
                yield tr("Candidates: {0}").format(tr(show.TITLES[mode])), partial(self.show_mode, mode)
        for stage in stages_of(self.desk.project):
            yield tr("Stage: {0}").format(stage.title), partial(self.show_stage, stage.key)
        if not self.desk.project.blower.fitted:
            yield tr("Choose this turbo"), self.decide

    @property
    def place(self) -> int:
        """Number of the stage that is shown, the full one where it has gone."""
        keys = [s.key for s in (self.found.asked.stages if self.found else stages_of(self.desk.project))]
        return keys.index(self.stage) if self.stage in keys else keys.index("full")

    def show_mode(self, mode: str) -> None:
        """Show another picture."""
        self.mode = mode
        self.modes[mode].setChecked(True)
        self._ask()
        self._draw()

    def show_stage(self, key: str) -> None:
        """Show another stage of the build."""
        self.stage = key
        self._lay_stages()
        self._draw()

    def refresh_document(self) -> None:
        """Fields, stages and what may be shown follow the document."""
        project = self.desk.project
        fitted = project.blower.fitted
        self.form.refresh()
        self.reason.refresh()
        for mode, button in self.modes.items():
            button.setVisible((mode == show.PULLEYS) if fitted else mode in OF_TURBOS)
        if self.modes[self.mode].isHidden():
            self.mode = show.PULLEYS if fitted else show.MAPS
        self.modes[self.mode].setChecked(True)
        for widget in (self.heads, self.given, self.reason, self.keep, self.side):
            widget.setVisible(not fitted)
        self._lay_stages()
        decision = project.decision
        self.kept.setText(
            tr("Chosen: {0}. {1}").format(decision.name, decision.reason or tr("No reason entered."))
            + ("\n" + "; ".join(decision.given_up) if decision.given_up else "")
            if decision.turbo
            else ""
        )
        self.kept.setVisible(bool(decision.turbo) and not fitted)

    def refresh_result(self) -> None:
        """What is shown is of another design by now."""

    def refresh_rest(self) -> None:
        """The answer is complete: weigh, which takes longer."""
        self._ask()
        self._draw()

    def _lay_stages(self) -> None:
        stages = stages_of(self.desk.project)
        keys = tuple(s.key for s in stages)
        if keys != self._stage_keys:
            while (item := self._stages.takeAt(0)) is not None:
                widget = item.widget()
                if widget is not None:
                    widget.hide()
                    widget.deleteLater()
            for stage in stages:
                button = self._tab(stage.title, self._stage_group)
                button.clicked.connect(partial(self.show_stage, stage.key))
                button.setProperty("stage", stage.key)
                self._stages.addWidget(button)
            self._stage_keys = keys
        shown = keys[self.place] if self.place < len(keys) else "full"
        for i in range(self._stages.count()):
            item = self._stages.itemAt(i)
            tab = item.widget() if item is not None else None
            if isinstance(tab, QToolButton):
                tab.setChecked(tab.property("stage") == shown)
                tab.setVisible(not self.desk.project.blower.fitted)

    def _ask(self) -> None:
        """Have found out what is shown; the seconds follow the lines."""
        project = self.desk.project
        if not self.desk.current or self.desk.answer is None:
            return
        if project.blower.fitted:
            self.desk.ask(pulleys_of(project))
            return
        first = self.desk.ask(evaluated(project))
        if first.state == DONE:
            self._seconds(first.value)
        if self.mode == show.HOUSINGS:
            self.desk.ask(housings_of(project))

    def _seconds(self, first: Candidates) -> None:
        reply = self.desk.ask(seconds_of(first))
        self.found = reply.value if reply.state == DONE else first

    def _hear(self, reply: JobResult) -> None:
        if reply.key not in (EVALUATED, SECONDS, HOUSINGS, PULLEYS) or reply.state not in (DONE, FAILED):
            return
        if not self.isVisible() or reply.state == FAILED:
            return
        self._ask()
        self._draw()

    def _known(self) -> Candidates | None:
        first = self.desk.known(evaluated(self.desk.project))
        if first is None:
            return None
        timed = self.desk.known(seconds_of(first))
        return timed if timed is not None else first

    def _draw(self) -> None:
        """Pictures, rows and sentences of what is known of the design of the moment."""
        project, units = self.desk.project, self.desk.project.shown_units
        if project.blower.fitted:
            self._draw_pulleys()
            return
        found = self._known()
        if found is not None:
            self.found = found
        elif self.found is None or {w.turbo.id for w in self.found.found} - {t.id for t in project.turbos}:
            self.found = None
        place = self.place
        evaluated_now = self.found.found if self.found is not None else ()
        wait = tr("comparing candidates…") if self.desk.answer is not None else tr("no result to compare yet")
        self.answer.hide()
        if self.mode == show.HOUSINGS:
            sizes = self.desk.known(housings_of(project))
            if sizes is not None:
                self.housings = sizes
            choices = show.housing_choices(project, self.housings, units)
            self.chart.show_choices(choices, tr("full-boost speed, rpm"), tr("back-pressure ratio"), None, wait)
            self.answer.setText(
                tr(
                    "Housing A/R of the chosen turbo in inches, at target boost. Left = earlier boost, lower = less "
                    "back-pressure. Click one to choose it."
                )
            )
            self.answer.show()
        else:
            self.chart.show_picture(show.picture(self.mode, project, evaluated_now, place, units), wait)
        bands = self.desk.answer.bands if self.desk.answer is not None else None
        band = bands.of("power") if bands is not None else None
        uncertainty = band.half / max(self.desk.answer.target.power, 1.0) if band and self.desk.answer else 0.0
        build = self.desk.answer.build if self.desk.answer is not None else None
        items = bill(build, build.resources) if build is not None else ()
        rest = cost(i for i in items if i.key != "turbo").money
        made = show.rows(project, evaluated_now, place, units, uncertainty, rest)
        show_rows(self._rows, self.rows, made, self._choose, self._calculation)
        # Five rows at the most, so that the picture keeps its room; the rest is scrolled to.
        self.list.setFixedHeight(25 * min(len(made), 5))
        lines = self._gives_up()
        chosen = project.chosen
        more = tr("; and {0} more").format(len(lines) - 3) if len(lines) > 3 else ""
        self.given.setToolTip(plain_tip("\n".join(lines)))
        self.given.setText(
            tr("Trade-offs of {0}: {1}").format(chosen.name, "; ".join(lines[:3])) + more if chosen is not None and lines else ""
        )

    def _draw_pulleys(self) -> None:
        project, units = self.desk.project, self.desk.project.shown_units
        sizes = self.desk.known(pulleys_of(project))
        if sizes is not None:
            self.pulleys = sizes
        unit = self.desk.unit("pressure_gauge") or "bar"
        teeth = project.blower.belt == "toothed"
        self.chart.show_choices(
            show.pulley_choices(project, self.pulleys, units),
            tr("blower pulley teeth") if teeth else tr("blower pulley, {0}").format(self.desk.unit("length") or "mm"),
            tr("boost at the target speed, {0}").format(unit),
            project.goal.target_boost.into(unit).value,
            tr("trying pulleys…"),
        )
        self.answer.setText(show.pulley_answer(project, self.pulleys, units) if self.pulleys else "")
        self.answer.setVisible(bool(self.pulleys))
        for row in self.rows:
            row.hide()
        self.list.setFixedHeight(0)

    def _gives_up(self) -> tuple[str, ...]:
        found = self._known()
        if found is None:
            return ()
        return show.gives_up(found.found, self.desk.project.turbo, self.place, self.desk.project.shown_units)

    def _take(self, number: int) -> None:
        """Take a housing or a pulley over."""
        project = self.desk.project
        try:
            if self.mode == show.PULLEYS:
                one = self.pulleys[number]
                toothed = project.blower.belt == "toothed"
                place = "blower.teeth" if toothed else "blower.pulley"
                value = Quantity(float(one.teeth), "", "count") if toothed else edits.get(project, place).with_si(one.size)
                changed = edits.with_value(project, place, value)
                unknown = edits.meta(project, "blower.drive_ratio").read("?")  # type: ignore[union-attr]
                changed = edits.with_value(changed, "blower.drive_ratio", unknown)
            elif project.chosen is not None:
                sizes = show.housing_choices(project, self.housings, project.shown_units)
                place = f"turbos.{project.turbo}.turbine.housing"
                value = Quantity(float(f"{sizes[number].value / INCH:.3g}"), "in", "length")
                changed = edits.with_value(project, place, value)
            else:
                return
            self.desk.change(self.desk.title_of(place, value), changed)
        except (EntryError, IndexError) as error:
            self.desk.notice.emit(str(error))

    def _choose(self, key: str) -> None:
        name = next((t.name for t in self.desk.project.turbos if t.id == key), None)
        if name is not None and key != self.desk.project.turbo:
            self.desk.change(tr("Turbo {0}").format(name), edits.with_value(self.desk.project, "turbo", key))

    def _calculation(self, key: str, address: str) -> None:
        found = self.found
        number = next((n for n, w in enumerate(found.found) if w.turbo.id == key), None) if found else None
        if found is not None and number is not None:
            self.desk.follow(address, show.beside(found, number, self.place))

    def decide(self) -> None:
        """Keep the choice with its reason and what it gives up."""
        project = self.desk.project
        chosen = project.chosen
        if chosen is None:
            return
        self.desk.change(tr("Decided: {0}").format(chosen.name), with_decision(project, self._gives_up()))

"""The Wastegate & exhaust bench: what the gate holds with its hoses, and manifolds of every school side by side."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from zarvik.core.recommendations import GATE as NEEDS_GATE
from zarvik.project.boost_control.control import Control, steps
from zarvik.project.document.document import Project
from zarvik.project.heat.hot_parts import HotSideReport
from zarvik.project.language.language import reason, tr, tr_format
from zarvik.project.language.plain import opening
from zarvik.project.manifold.manifold_types import OWN, TITLES, ManifoldType, boost_is_delayed, school
from zarvik.project.units.rendering import render
from zarvik.project.units.units import EntryError
from zarvik.project.vehicle.towing import TowingReport
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.wastegate_exhaust import presenter as show
from zarvik.window.benches.wastegate_exhaust.heat import presenter as heat
from zarvik.window.benches.wastegate_exhaust.heat.rows import HeatRows
from zarvik.window.benches.wastegate_exhaust.pictures import BoostChart, HosePlan, Lines, ManifoldRows
from zarvik.window.benches.wastegate_exhaust.sheet import write
from zarvik.window.benches.wastegate_exhaust.towing import presenter as tow
from zarvik.window.benches.wastegate_exhaust.towing.charts import HeatChart
from zarvik.window.desk import Desk
from zarvik.window.parts.form import Form, heading, titled
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.recommendations import RecommendationList
from zarvik.window.parts.side import halves, side_column
from zarvik.window.parts.tabs import paged
from zarvik.workspace.job_store import DONE, FAILED, Job, JobResult
from zarvik.workspace.jobs import AROUND, CONTROL, SCHOOLS, TOWED, around_of, control_of, schools_of, towed_of

GATE, MANIFOLDS, HEAT, TOW = "gate", "manifolds", "heat", "tow"
PAGES = {GATE: "Boost control", MANIFOLDS: "Manifold", HEAT: "Exhaust & heat", TOW: "Towing"}
ANSWERS = {GATE: CONTROL, MANIFOLDS: SCHOOLS, HEAT: AROUND, TOW: TOWED}
QUESTIONS: dict[str, Callable[[Project], Job]] = {GATE: control_of, MANIFOLDS: schools_of, HEAT: around_of, TOW: towed_of}


class ExhaustBench(Bench):
    """Four pages."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        head, self.pages, self.stack = paged(self, PAGES, self.show_page)
        self.saving = QPushButton(tr("Save as PDF"))
        self.saving.setToolTip(tr("Boost control with its hoses, manifolds, heat and towing, to pin up beside the car"))
        self.saving.clicked.connect(lambda: self.save())
        head.addWidget(self.saving)
        self.stack.offer({GATE: self._gate, MANIFOLDS: self._manifolds, HEAT: self._heat, TOW: self._tow})
        self.control: Control | None = None
        self.schools: tuple[ManifoldType, ...] = ()
        self.around: HotSideReport | None = None
        self.towed: TowingReport | None = None
        self.goal: str | None = None  # file that is written as soon as every page is answered
        desk.job_changed.connect(self._hear)
        self.show_page(GATE)

    def _gate(self) -> QWidget:
        page = QWidget(self.stack)
        column, right = halves(page)
        self.form = titled(column, tr("Wastegate and its control"), self.desk, show.GATE, label_width=126, room=126)
        self.hose_form = titled(column, tr("Hoses as fitted"), self.desk, show.HOSES, label_width=126, room=126)
        self.needed = RecommendationList(self.desk, NEEDS_GATE)
        right.addWidget(self.needed)
        self.chart = BoostChart(self.desk)
        self.chart.setMinimumHeight(190)
        right.addWidget(self.chart, 1)
        self.headline = Paragraph()
        right.addWidget(self.headline)
        self.plan = HosePlan(self.desk)
        right.addWidget(self.plan)
        self.lines = Lines(self.desk)
        right.addWidget(self.lines)
        self.plumbed = Paragraph()
        right.addWidget(self.plumbed)
        self.steps = Paragraph()
        right.addWidget(self.steps)
        self.relief = Paragraph()
        right.addWidget(self.relief)
        return page

    def _manifolds(self) -> QWidget:
        page = QWidget(self.stack)
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.gains = Paragraph()
        column.addWidget(self.gains)
        area, inside = side_column(0, 4, 0)
        self.rows = ManifoldRows(self.desk)
        self.rows.chosen.connect(lambda key: self._say_taken())
        inside.addWidget(self.rows)
        inside.addStretch(1)
        column.addWidget(area, 1)
        self.uncertainty = Paragraph()
        self.uncertainty.setText(
            tr(
                "The same build with common runner proportions. Volume damps pulses, walls take heat: both are "
                "calculated. Heat cycles to crack: rough guide, within a factor of three."
            )
        )
        column.addWidget(self.uncertainty)
        bar = QHBoxLayout()
        self.taken = Paragraph()
        bar.addWidget(self.taken, 1)
        self.take = QPushButton(tr("Use this manifold"))
        self.take.setToolTip(tr("Runners and collector in these proportions; pieces in space are removed. One step to undo"))
        self.take.clicked.connect(self._take)
        bar.addWidget(self.take)
        column.addLayout(bar)
        return page

    def _heat(self) -> QWidget:
        page = QWidget(self.stack)
        column, right = halves(page)
        column.addWidget(heading(tr("Parts nearby")))
        self.near = QComboBox()
        self.near.setAccessibleName(tr("Parts nearby"))
        self.near.addItems(list(heat.things()))
        self.near.setCurrentIndex(4)
        self.near.activated.connect(lambda _: self._show_heat())
        column.addWidget(self.near)
        column.addWidget(heading(tr("Probes, mass, walls")))
        self.heat_form = Form(self.desk, heat.ENTRIES, label_width=126, room=126)
        column.addWidget(self.heat_form)
        self.cost = Paragraph()
        right.addWidget(self.cost)
        self.heat_rows = HeatRows(self.desk)
        right.addWidget(self.heat_rows)
        self.readings = Paragraph()
        right.addWidget(heading(tr("Thermocouple reading")))
        right.addWidget(self.readings)
        right.addWidget(heading(tr("Hangers and notes")))
        self.known = Paragraph()
        right.addWidget(self.known)
        right.addStretch(1)
        return page

    def _tow(self) -> QWidget:
        page = QWidget(self.stack)
        column, right = halves(page)
        column.addWidget(heading(tr("Load and gradient")))
        self.tow_form = Form(self.desk, tow.ENTRIES, label_width=126, room=126)
        column.addWidget(self.tow_form)
        self.tow_charts = {
            "speed": HeatChart(tr("Gas temperature over engine speed at the same power")),
            "minutes": HeatChart(tr("Temperature during the climb")),
            "brake": HeatChart(tr("Exhaust brake power")),
        }
        for chart in self.tow_charts.values():
            right.addWidget(chart)
        self.tow_words = Paragraph()
        right.addWidget(self.tow_words)
        right.addStretch(1)
        return page

    def _show_tow(self, fault: str) -> None:
        project, found = self.desk.project, self.towed
        units = project.shown_units
        charts = self.tow_charts
        if found is None:
            for chart in charts.values():
                chart.hide()
            self.tow_words.setText(fault)
            return
        curves, unit, spot = tow.over_speed(found, units)
        charts["speed"].take(curves, tr("engine speed, rpm: other gears at the same road speed"), unit, spot)
        charts["speed"].setVisible(bool(curves))
        curves, unit = tow.over_minutes(found, units)
        charts["minutes"].take(curves, tr("minutes uphill"), unit)
        charts["minutes"].setVisible(bool(curves))
        curves, unit = tow.over_brake(found, units)
        charts["brake"].take(curves, tr("engine speed, rpm"), unit)
        charts["brake"].setVisible(bool(curves))
        self.tow_words.setText("\n".join(f"· {line}" for line in tow.lines(found, project)))

    def _show_heat(self) -> None:
        units, found = self.desk.project.shown_units, self.around
        self.heat_rows.take(found, self.near.currentIndex())
        self.heat_rows.setVisible(found is not None)
        if found is not None:
            self.cost.setText(heat.headline(found, units))
            self.readings.setText("\n".join(heat.probe_lines(found, units)))
            self.known.setText("\n".join(f"· {line}" for line in heat.sentences(found, units)))

    def show_page(self, key: str) -> None:
        """Turn to a page."""
        self.page = key
        self.pages[key].setChecked(True)
        self.stack.turn(key)
        if self.isVisible():
            self.refresh_document()

    def refresh_document(self) -> None:
        """The entries follow; what has to be solved is asked."""
        project = self.desk.project
        # What a blower's bypass holds stands with the blower.
        self.pages[GATE].setHidden(project.blower.fitted)
        if self.page == GATE and project.blower.fitted:
            self.show_page(MANIFOLDS)
            return
        if self.page == GATE:
            self.form.refresh()
            self.needed.refresh()
            for place in show.GATE:
                self.form.show_row(place, show.asked(project, place))
            self.hose_form.refresh()
            for place in show.HOSES:
                self.hose_form.show_row(place, show.asked(project, place))
        elif self.page == HEAT:
            self.heat_form.refresh()
        elif self.page == TOW:
            self.tow_form.refresh()
            for place in tow.ENTRIES:
                self.tow_form.show_row(place, tow.asked(project, place))
        self._answered(self.desk.ask(QUESTIONS[self.page](project)))

    def _hear(self, reply: JobResult) -> None:
        if self.goal is not None and reply.key in ANSWERS.values() and reply.state in (DONE, FAILED):
            self._write_when_known()
        if reply.key in ANSWERS.values() and self.isVisible() and reply.job.of is self.desk.project:
            self._answered(reply)

    def _wait(self, key: str) -> None:
        """A page that has nothing to show yet says that it is worked on."""
        if ANSWERS[self.page] != key:
            return
        # Words of a page are made with it.
        if self.page == GATE:
            found, words = self.control is not None, self.headline
        elif self.page == MANIFOLDS:
            found, words = bool(self.schools), self.gains
        elif self.page == HEAT:
            found, words = self.around is not None, self.cost
        else:
            found, words = self.towed is not None, self.tow_words
        if not found:
            words.setText(tr("Calculating…"))

    def _answered(self, reply: JobResult) -> None:
        if reply.state not in (DONE, FAILED):
            self._wait(reply.key)
            return
        self.stack.page(next(page for page, key in ANSWERS.items() if key == reply.key))
        units = self.desk.project.shown_units
        if reply.key == CONTROL:
            self.control = reply.value if reply.state == DONE else None
            self.chart.take(show.curves(self.control, units) if self.control is not None else None)
            self.plan.take(self.control)
            self.lines.take(self.control)
            self.headline.setText(show.headline(self.control, units) if self.control is not None else opening(reply.fault))
            found = steps(self.control) if self.control is not None else ()
            self.steps.setText("\n".join(f"{n}. {render(s, units)}" for n, s in enumerate(found, 1)))
            plumbed = self.control.plumbed if self.control is not None else ()
            self.plumbed.setText("\n".join(tr_format("As fitted: {0}", render(s, units)) for s in plumbed))
            self.plumbed.setVisible(bool(plumbed))
            relief = self.control.relief if self.control is not None else ()
            self.relief.setText(". ".join(render(s, units) for s in relief))
            self.plan.setVisible(self.control is not None)
        elif reply.key == TOWED:
            self.towed = reply.value if reply.state == DONE else None
            self._show_tow(opening(reply.fault) if self.towed is None else "")
        elif reply.key == AROUND:
            self.around = reply.value if reply.state == DONE else None
            if self.around is None:
                self.cost.setText(opening(reply.fault))
                self.readings.setText("")
                self.known.setText("")
            self._show_heat()
        else:
            self.schools = reply.value if reply.state == DONE else ()
            self.rows.take(self.schools)
            project = self.desk.project
            told = show.gains(self.schools, units, driven=project.blower.fitted, late=boost_is_delayed(project, self.schools))
            self.gains.setText(told if self.schools else opening(reply.fault))
            self._say_taken()

    def _say_taken(self) -> None:
        key = self.rows.key
        self.take.setEnabled(bool(self.schools) and key != OWN)
        self.taken.setText("" if key == OWN else tr_format("Chosen: {0}", tr(TITLES[key])))

    def _take(self) -> None:
        try:
            changed = school(self.desk.project, self.rows.key)
        except (EntryError, ValueError) as error:
            self.desk.notice.emit(reason(error) if isinstance(error, ValueError) else str(error))
            return
        title = tr_format("Manifold: {0}", tr(TITLES[self.rows.key]))
        self.rows.key = OWN
        self.desk.change(title, changed)

    def save(self, path: str | None = None) -> None:
        """Write plan, curves and manifolds as PDF; asks where."""
        if path is None:
            name = "".join(c if c.isalnum() else "-" for c in self.desk.project.name.lower()).strip("-") or "build"
            path, _ = QFileDialog.getSaveFileName(self, tr("Save"), f"{name}-hot-side.pdf", tr("PDF (*.pdf)"))
        if path:
            self.goal = path
            self._write_when_known()

    def _write_when_known(self) -> None:
        """Every page goes on paper, looked at or not, and as the document is now: written once all of them are answered."""
        if self.goal is None:
            return
        project = self.desk.project
        replies = {page: self.desk.ask(ask(project)) for page, ask in QUESTIONS.items()}
        if any(reply.state not in (DONE, FAILED) for reply in replies.values()):
            self.desk.notice.emit(tr_format("{0} is written when every page is ready", Path(self.goal).name))
            return
        goal, self.goal = self.goal, None
        found = {page: reply.value if reply.state == DONE else None for page, reply in replies.items()}
        fault = write(self.desk, goal, found[GATE], found[MANIFOLDS] or (), found[HEAT], found[TOW])
        self.desk.notice.emit(fault or tr_format("wrote {0}", Path(goal).name))

    def places(self) -> Iterator[str]:
        """Entries of the gate, of probes and weight."""
        yield from show.GATE
        yield from show.HOSES
        yield from heat.ENTRIES
        yield from tow.ENTRIES

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry; its page is turned to first."""
        for key in (GATE, HEAT, TOW):
            for form in self.stack.page(key).findChildren(Form):
                if place in form.fields:
                    self.show_page(key)
                    return form.fields[place]
        return None

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """The pages."""
        for key, title in PAGES.items():
            yield tr(title), partial(self.show_page, key)
        yield tr("Save exhaust pages as PDF"), partial(self.save)

    def refresh_result(self) -> None:
        """What is shown here has its own jobs."""

"""The Turbo bench: the compressor map with the full-load line on it, and the candidates."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cached_property, partial

from PySide6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QMenu, QPushButton, QToolButton, QVBoxLayout, QWidget

from zarvik.core.candidates.catalogue_search import CatalogueMatch
from zarvik.formats import map_csv, shipped
from zarvik.formats.project_file import FileError
from zarvik.project.assembly.turbos import turbo_titles
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.edits import edits
from zarvik.project.edits.turbo_edits import add_turbo, remove_turbo
from zarvik.project.language.language import tr
from zarvik.project.units.units import EntryError
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.turbo import presenter
from zarvik.window.benches.turbo.catalogue_matches import CatalogueMatchList
from zarvik.window.benches.turbo.map_chart import MapChart
from zarvik.window.benches.turbo.measured import MeasuredWheels
from zarvik.window.benches.turbo.scaled import ScaledMap
from zarvik.window.benches.turbo.tracing import TraceSheet
from zarvik.window.desk import Desk
from zarvik.window.parts.figure_rows import CandidateRow, Heads, show_rows
from zarvik.window.parts.figure_text import FigureText
from zarvik.window.parts.form import Form, heading, titled
from zarvik.window.parts.side import side_column
from zarvik.workspace.job_store import DONE, JobResult
from zarvik.workspace.jobs import CATALOGUE, catalogue_in


class TurboBench(Bench):
    """Map and candidates."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 10, 12, 10)
        layout.setSpacing(4)
        layout.addLayout(self._head())
        middle = QHBoxLayout()
        middle.setSpacing(14)
        self.chart = MapChart(desk)
        middle.addWidget(self.chart, 1)
        middle.addWidget(self._entries())
        layout.addLayout(middle, 1)
        self.text = FigureText(desk)
        layout.addWidget(self.text)
        self.heads = Heads(tr("Candidates"), presenter.HEADS)
        layout.addWidget(self.heads)
        self.rows: list[CandidateRow] = []
        self._rows = QVBoxLayout()
        self._rows.setSpacing(0)
        layout.addLayout(self._rows)
        self.finds = CatalogueMatchList(self, desk)
        self.finds.taken.connect(self._take)
        desk.job_changed.connect(self._found)
        desk.document_changed.connect(self._outdate)
        desk.overlay_changed.connect(self.chart.update)

    @cached_property
    def measured(self) -> MeasuredWheels:
        """A turbo from its wheels, made when it is first wanted."""
        sheet = MeasuredWheels(self, self.desk)
        sheet.made.connect(self._add)
        sheet.taken.connect(self._from_catalogue)
        return sheet

    @cached_property
    def tracer(self) -> TraceSheet:
        """A printed map traced, made when it is first wanted."""
        sheet = TraceSheet(self, self.desk)
        sheet.made.connect(self._add)
        return sheet

    @cached_property
    def scaler(self) -> ScaledMap:
        """A map of another size, made when it is first wanted."""
        sheet = ScaledMap(self, self.desk)
        sheet.made.connect(self._add)
        return sheet

    def _head(self) -> QHBoxLayout:
        """The turbo's name; where others come from."""
        head = QHBoxLayout()
        self.title = heading("")
        head.addWidget(self.title, 1)
        self.catalogue = QToolButton()
        self.catalogue.setText(tr("Add from catalogue"))
        self.catalogue.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.catalogue)
        menu.addAction(tr("From wheel sizes…"), self.measure)
        menu.addSeparator()
        for name in shipped.turbo_names():
            title = shipped.turbo_title(name)
            menu.addAction(tr("{0} (invented)").format(title), partial(self._from_catalogue, name))
        self.catalogue.setMenu(menu)
        head.addWidget(self.catalogue)
        self.search = QPushButton(tr("Rank the catalogue"))
        self.search.setToolTip(tr("Tries every catalogue turbo with several housings in this build"))
        self.search.clicked.connect(self.search_catalogue)
        head.addWidget(self.search)
        self.more = more = QToolButton()
        more.setText(tr("Maps"))
        more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        maps = QMenu(more)
        maps.setToolTipsVisible(True)
        maps.addAction(tr("Import a map…"), lambda: self.read_map())
        maps.addAction(tr("Trace a printed map…"), lambda: self.trace())
        maps.addAction(tr("Scale this map…"), self.scale)
        maps.addAction(tr("Export this map…"), lambda: self.write_map())
        self.drop = maps.addAction(tr("Remove others"), self._drop)
        self.drop.setToolTip(tr("Remove the candidates that are not chosen; undo brings them back"))
        more.setMenu(maps)
        head.addWidget(more)
        return head

    def _entries(self) -> QWidget:
        """Turbine, wastegate, blower."""
        side, self._column = side_column(246, 10, 5)
        self._turbine_title = heading(tr("Turbine"))
        self._column.addWidget(self._turbine_title)
        self.turbine: Form | None = None
        self._turbine_of = ""
        self.gate = titled(self._column, tr("Wastegate"), self.desk, presenter.GATE, label_width=118, room=96)
        self.belt = QCheckBox(tr("Belt-driven blower"))
        self.belt.clicked.connect(self._belt)
        self._column.addWidget(self.belt)
        self.blower = Form(self.desk, presenter.BLOWER, label_width=118, room=96)
        self._column.addWidget(self.blower)
        self._column.addStretch(1)
        return side

    def places(self) -> Iterator[str]:
        """The chosen turbo's turbine, the gate, the blower."""
        chosen = self.desk.project.chosen
        if self.desk.project.blower.fitted:
            yield from presenter.BLOWER
            return
        if chosen is not None:
            if chosen.wheels is not None:
                yield from (f"turbos.{chosen.id}.wheels.{name}" for name in presenter.WHEELS)
            yield from (f"turbos.{chosen.id}.turbine.{name}" for name in presenter.TURBINE)
        yield from presenter.GATE

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """The catalogue, maps, candidates, the blower."""
        if self.desk.project.blower.fitted:
            yield tr("Turbocharger instead"), partial(self._belt, False)
            return
        yield tr("Rank the catalogue"), self.search_catalogue
        yield tr("From wheel sizes…"), self.measure
        yield tr("Trace a printed map…"), self.trace
        yield tr("Scale this map…"), self.scale
        yield tr("Import a map…"), self.read_map
        yield tr("Export this map…"), self.write_map
        yield tr("Remove others"), self._drop
        for turbo in self.desk.project.turbos:
            yield tr("Choose the {0}").format(turbo.name), partial(self._choose, turbo.id)
        yield tr("Belt-driven blower instead"), partial(self._belt, True)

    def opens(self, place: str) -> bool:
        """Its own places, though their fields may not be made yet."""
        return place in self.places()

    def refresh_document(self) -> None:
        """The chosen turbo's name, its turbine, the gate."""
        project = self.desk.project
        chosen = project.chosen
        fitted = project.blower.fitted
        self.title.setText(project.blower.name if fitted else turbo_titles(project)[chosen.id] if chosen else tr("No turbo chosen"))
        key = chosen.id if chosen else ""
        if key != self._turbine_of:
            self._make_turbine(chosen)
        elif self.turbine is not None:
            self.turbine.refresh()
        self.gate.refresh()
        several = project.turbos_fitted.si > 1.0
        self.gate.show_row("exhaust_paths", several)
        self.gate.show_row("pieces_per_turbo", several and project.exhaust_paths == "own")
        self.blower.refresh()
        self.belt.setChecked(fitted)
        for kind, of_kind in presenter.OF_BELTS.items():
            for place in of_kind:
                self.blower.show_row(place, kind == project.blower.belt)
        for widget in (self._turbine_title, self.heads, self.catalogue, self.search, self.more):
            widget.setVisible(not fitted)

    def _make_turbine(self, chosen: Turbo | None) -> None:
        """The entries of the chosen turbo, in the place of another's."""
        if self.turbine is not None:
            self._column.removeWidget(self.turbine)
            self.turbine.hide()
            self.turbine.deleteLater()
            self.turbine = None
        self._turbine_of = chosen.id if chosen else ""
        if chosen is None:
            return
        key = chosen.id
        places = [
            f"turbos.{key}.name",
            *(f"turbos.{key}.wheels.{n}" for n in presenter.WHEELS if chosen.wheels is not None),
            *(f"turbos.{key}.turbine.{n}" for n in presenter.TURBINE),
            *(f"turbos.{key}.fit.{n}" for n in presenter.FIT),
        ]
        self.turbine = Form(self.desk, places, label_width=118, room=96)
        self._column.insertWidget(1, self.turbine)
        self.turbine.show()

    def make_next(self) -> bool:
        """The entries of the chosen turbo too."""
        chosen = self.desk.project.chosen
        if chosen is not None and self._turbine_of != chosen.id:
            self._make_turbine(chosen)
            return True
        return super().make_next()

    def _belt(self, fitted: bool) -> None:
        self.desk.change(
            tr("Belt-driven blower") if fitted else tr("Turbocharger"), edits.with_value(self.desk.project, "blower.fitted", bool(fitted))
        )

    def refresh_result(self) -> None:
        """Map and line; the rows of the answer before stay until the new ones are solved."""
        self.chart.refresh()
        self.refresh_speed()
        if self.desk.answer is None:
            self.refresh_rest()

    def refresh_rest(self) -> None:
        """The candidates side by side."""
        answer, result = self.desk.answer, self.desk.result
        if answer is not None and result is not None and not result.complete:
            return
        found = presenter.rows(answer, self.desk.project.shown_units) if answer else []
        show_rows(self._rows, self.rows, found, self._choose, self._calculation)

    def _calculation(self, key: str, address: str) -> None:
        chosen = self.desk.answer is not None and key == self.desk.answer.build.turbo.id
        self.desk.follow(address, None if chosen else self.desk.turbo_beside(key))

    def refresh_speed(self) -> None:
        """The shown point in words."""
        self.chart.update()
        point, say = self.desk.point, self.desk.text
        if point is None or not point.closure.solved:
            self.text.say("")
            return
        t = point.turbo
        where = {
            "inside": "on the map",
            "below": "below the slowest line (extrapolated by similarity)",
            "surge": "left of the surge line",
            "choke": "right of the map, in choke",
            "overspeed": "above the maximum wheel speed",
        }[t.region]
        where = tr(where)
        at = tr("At {0}").format(say(point.speed, "rotation"))
        wheel = f"[wheel_speed|{say(t.real_speed, 'rotation')}]"
        if self.desk.project.blower.fitted:
            self.text.say(
                tr(
                    "{0}: rotors {1}, ratio [pressure_ratio|{2:.2f}], efficiency [efficiency|{3:.0f} %], [air_power|{4}] "
                    "into the air; bypass [opening|{5:.0f} %] open"
                ).format(at, wheel, t.ratio, 100 * t.efficiency, say(t.power, "power"), 100 * t.opening)
            )
            return
        self.text.say(
            tr(
                "{0} {1}: wheel {2}, efficiency [efficiency|{3:.0f} %]. Turbine: expansion [expansion|{4:.2f}], u/c0 "
                "[blade_ratio|{5:.2f}], [turbine_efficiency|{6:.0f} %], [turbine_power|{7}]. Wastegate {8}, "
                "[opening|{9:.0f} %] open, [gate_flow|{10}] through it; back-pressure ratio [back_pressure|{11:.2f}]"
            ).format(
                at,
                where,
                wheel,
                100 * t.efficiency,
                t.expansion,
                t.blade_ratio,
                100 * t.turbine_efficiency,
                say(t.turbine_power, "power"),
                tr(t.regime),
                100 * t.opening,
                say(t.gate_flow, "mass_flow"),
                t.back_pressure,
            )
        )

    def search_catalogue(self) -> None:
        """Try the whole catalogue in the background; what is found is shown when it is done."""
        reply = self.desk.ask(catalogue_in(self.desk.project))
        if reply.state == DONE:
            self._found(reply)

    def _found(self, reply: JobResult) -> None:
        if reply.key != CATALOGUE or reply.state != DONE:
            return
        # What was found for another design than the present one is not shown as if it were of this.
        found = self.desk.known(catalogue_in(self.desk.project))
        if found is None:
            self.desk.notice.emit(tr("The design changed during the search: search again"))
        else:
            self.finds.show_finds(found)

    def _outdate(self) -> None:
        """Another design: the list of finds goes, it was of the one before."""
        if not self.finds.isHidden() and self.desk.known(catalogue_in(self.desk.project)) is None:
            self.finds.hide()
            self.desk.notice.emit(tr("These results belong to the design before: search again"))

    def _take(self, find: CatalogueMatch) -> None:
        turbo = shipped.turbo(find.turbo.id)
        housing = turbo.turbine.housing.with_si(find.housing)
        turbine = turbo.turbine.model_copy(update={"housing": housing})
        changed = add_turbo(self.desk.project, turbo.model_copy(update={"turbine": turbine}))
        changed = edits.with_value(changed, "turbo", changed.turbos[-1].id)
        self.desk.change(tr("Turbo {0}, housing {1}").format(turbo.name, housing), changed)

    def _choose(self, key: str) -> None:
        # A row may still be that of the answer before, when its turbo has gone.
        name = next((t.name for t in self.desk.project.turbos if t.id == key), None)
        if name is not None and key != self.desk.project.turbo:
            self.desk.change(tr("Turbo {0}").format(name), edits.with_value(self.desk.project, "turbo", key))

    def _from_catalogue(self, name: str) -> None:
        turbo = shipped.turbo(name)
        self.desk.change(tr("Candidate {0}").format(turbo.name), add_turbo(self.desk.project, turbo))

    def measure(self) -> None:
        """Ask for the sizes of a turbo in the hand."""
        self.measured.open()

    def trace(self, path: str | None = None) -> None:
        """Trace a printed map, from a picture in a file where one is named."""
        self.tracer.open()
        if path is not None:
            self.tracer.load(path)

    def scale(self) -> None:
        """Scale the chosen map to another size of wheel."""
        self.scaler.open()

    def _add(self, turbo: Turbo) -> None:
        self.desk.change(tr("Candidate {0}").format(turbo.name), add_turbo(self.desk.project, turbo))

    def _drop(self) -> None:
        project = self.desk.project
        for turbo in project.turbos:
            if turbo.id != project.turbo:
                project = remove_turbo(project, turbo.id)
        self.desk.change(tr("Remove other candidates"), project)

    def read_map(self, path: str | None = None) -> None:
        """Read a candidate's map from CSV; a fault is said and changes nothing."""
        if path is None:
            path, _ = QFileDialog.getOpenFileName(self, tr("Import a compressor map"), "", tr("Maps (*.csv)"))
        if not path:
            return
        try:
            read = map_csv.read_noted(path)
            chart, key = read.chart, map_csv.key_of(path)
            turbo = Turbo.of(chart, key, estimated="efficiency" if read.estimated else "")
            self.desk.change(tr("Candidate {0}").format(chart.name), add_turbo(self.desk.project, turbo))
            if read.notes:
                self.desk.notice.emit("; ".join(read.notes))
        except (FileError, EntryError, ValueError) as error:
            self.desk.notice.emit(str(error))

    def write_map(self, path: str | None = None) -> None:
        """Write the chosen map as CSV."""
        chosen = self.desk.project.chosen
        if chosen is None:
            return
        if path is None:
            path, _ = QFileDialog.getSaveFileName(self, tr("Export the map"), f"{chosen.id}.csv", tr("Maps (*.csv)"))
        if path:
            try:
                map_csv.write(chosen.chart, path, *([chosen.note] if chosen.note else []))
                self.desk.notice.emit(tr("Written: {0}").format(path))
            except FileError as error:
                self.desk.notice.emit(str(error))

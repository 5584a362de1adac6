"""The Pipes bench: the list of pieces and the chosen piece's entries."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QMenu, QPushButton, QScrollArea, QToolButton, QVBoxLayout, QWidget

from zarvik.core.ducts.pieces import KINDS
from zarvik.project.edits import edits
from zarvik.project.edits.piece_edits import insert_piece, move_piece, remove_piece, run_of
from zarvik.project.language.language import tr
from zarvik.project.units.units import EntryError
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.pipes import presenter
from zarvik.window.benches.pipes.pipe_list import PipeList
from zarvik.window.desk import Desk
from zarvik.window.parts.figure_text import FigureText
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.plain_label import Paragraph
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.side import Turn
from zarvik.window.theme.palette import tint

COOLER_FIELDS = (
    "intercooler.medium",
    "intercooler.width",
    "intercooler.height",
    "intercooler.thickness",
    "intercooler.construction",
    "intercooler.fins",
    "intercooler.port_diameter",
    "intercooler.mounting",
    "intercooler.grille_opening",
    "intercooler.fan_flow",
    "intercooler.air_share",
    "intercooler.effectiveness",
    "intercooler.pressure_loss",
    "intercooler.charge_flow",
    "intercooler.cooling_flow",
    "intercooler.rating_confidence",
    "intercooler.water_flow",
    "intercooler.front_effectiveness",
    "intercooler.front_width",
    "intercooler.front_height",
    "intercooler.front_thickness",
    "intercooler.front_fins",
)


class PipesBench(Bench):
    """List on the left, the chosen piece on the right."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 10)
        layout.setSpacing(12)
        layout.addLayout(self._run(), 1)
        layout.addWidget(self._editor())
        Turn(self, layout, {self.list: 170, self.editor: 220})
        self._shown: str | None = None
        self._kind = ("", "")  # run and kind of what is shown
        self._shape: tuple[list[tuple[str, str, str, str]], bool] = ([], False)
        desk.piece_chosen.connect(self._show)

    def _run(self) -> QVBoxLayout:
        """The pieces, and what is done with the chosen one."""
        left = QVBoxLayout()
        left.setSpacing(6)
        self.list = PipeList(self.desk)
        left.addWidget(self.list, 1)
        bar = QHBoxLayout()
        self.add = QToolButton()
        self.add.setText(tr("Add piece"))
        self.add.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.add)
        for kind in KINDS.values():
            action = menu.addAction(tr(kind.title), partial(self._add, kind.key))
            action.setToolTip(plain_tip(tr(kind.help)))
        self.add.setMenu(menu)
        self.up = QPushButton(tr("Up"))
        self.up.setToolTip(tr("Against the flow (Alt+Up)"))
        self.down = QPushButton(tr("Down"))
        self.down.setToolTip(tr("With the flow (Alt+Down)"))
        self.remove = QPushButton(tr("Remove"))
        self.remove.setToolTip(tr("Take the piece out (Delete)"))
        self.fitted = QCheckBox(tr("Intercooler fitted"))
        self.fitted.clicked.connect(self._fit)
        for button in (self.add, self.up, self.down, self.remove, self.fitted):
            bar.addWidget(button)
        bar.addStretch(1)
        left.addLayout(bar)
        self.list.row_chosen.connect(self._chosen)
        self.list.removal_wanted.connect(self._remove)
        self.list.move_wanted.connect(self._move)
        self.list.new_wanted.connect(self.add.showMenu)
        self.up.clicked.connect(lambda: self._move(self._key(), -1))
        self.down.clicked.connect(lambda: self._move(self._key(), 1))
        self.remove.clicked.connect(lambda: self._remove(self._key()))
        return left

    def _editor(self) -> QScrollArea:
        """The chosen piece: its name, its entries, its figures."""
        self.editor = QScrollArea()
        self.editor.setWidgetResizable(True)
        self.editor.setFixedWidth(256)
        self.editor.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.editor.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        self._column = QVBoxLayout(inside)
        self._column.setContentsMargins(0, 0, 8, 0)
        self._column.setSpacing(7)
        self.title = heading("")
        self._column.addWidget(self.title)
        self.name = QLineEdit()
        self.name.setAccessibleName(tr("Name of the piece"))
        self.name.setMaxLength(80)
        self.name.textEdited.connect(self._rename)
        self.name.editingFinished.connect(self.desk.session.history.seal)
        self._column.addWidget(self.name)
        self.help = Paragraph(soft=True)
        self._column.addWidget(self.help)
        self.form: Form | None = None
        self.figures = FigureText(self.desk, "")
        self._column.addWidget(self.figures)
        self._column.addStretch(1)
        self.editor.setWidget(inside)
        return self.editor

    def _key(self) -> str:
        row = self.list.chosen
        return row.id if row is not None else ""

    def refresh_document(self) -> None:
        """The list and the chosen piece follow the document; figures wait for the answer."""
        project = self.desk.project
        shape = [(p.id, p.name, run, p.kind) for run in edits.RUNS for p in getattr(project, run)]
        if (shape, project.intercooler.fitted) != self._shape:
            self._shape = (shape, project.intercooler.fitted)
            self._fill()
        rows = {r.id: (r.run, r.kind) for r in self.list.rows.items}
        # Another project may have a piece of this id in another run, or of another kind.
        if self._shown is not None and rows.get(self._shown) != self._kind:
            self._shown = None
        if self._shown is None:
            known = [r.id for r in self.list.rows.items if r.kind != "head"]
            piece = self.desk.piece
            self._show(piece if piece and piece in known else known[0] if known else "")
        elif self.form is not None:
            self.form.refresh()
            self._ask()
        if not self.name.hasFocus():
            self._show_name()
        self.fitted.setChecked(self.desk.project.intercooler.fitted)

    def make_next(self) -> bool:
        """The list and the entries of the chosen piece too."""
        if self._shown is None and self.behind:
            self.refresh_document()
            return self._shown is not None
        return super().make_next()

    def refresh_result(self) -> None:
        """Losses follow the answer."""
        self._fill()
        self._figures()

    def places(self) -> Iterator[str]:
        """Every entry of every piece, and the intercooler's."""
        project = self.desk.project
        for run in edits.RUNS:
            for piece in getattr(project, run):
                for parameter in KINDS[piece.kind].parameters:
                    yield f"{run}.{piece.id}.{parameter.name}"
        if project.intercooler.fitted:
            yield from COOLER_FIELDS

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """New pieces behind the chosen one, the intercooler in or out."""
        for kind in KINDS.values():
            yield (tr("Add a piece: {0}").format(tr(kind.title).lower()), partial(self._add, kind.key))
        fitted = not self.desk.project.intercooler.fitted
        yield (tr("Fit the intercooler") if fitted else tr("Remove the intercooler"), partial(self._fit, fitted))

    def opens(self, place: str) -> bool:
        """Every piece of a run and the intercooler."""
        return place.partition(".")[0] in (*edits.RUNS, "intercooler")

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry; its piece is chosen first."""
        run, _, rest = place.partition(".")
        self.desk.choose_piece(presenter.COOLER if run == "intercooler" else rest.partition(".")[0])
        return super().field_of(place)

    def refresh_rest(self) -> None:
        """What the chosen piece costs."""
        self._figures()

    def refresh_speed(self) -> None:
        """Losses follow the rev slider."""
        self.refresh_result()

    def _fill(self) -> None:
        answer = self.desk.answer
        self.list.take(presenter.rows(self.desk.project, self.desk.point, answer.build if answer else None))
        row = self.list.chosen
        if self._shown and (row is None or row.id != self._shown):
            self.list.choose(self._shown)

    def _chosen(self, key: str) -> None:
        self.desk.choose_piece(key)

    def _show(self, key: str) -> None:
        if not key:
            self._clear()
        if key.startswith("head:") or not key:
            return
        known = {r.id for r in self.list.rows.items}
        if key not in known:
            self._fill()
            if key not in {r.id for r in self.list.rows.items}:
                return  # what is no piece of a run has no entries here
        if key == self._shown:
            self.list.choose(key)
            return
        self._shown = key
        self._kind = next((r.run, r.kind) for r in self.list.rows.items if r.id == key)
        self.list.choose(key)
        self._clear()
        if key == presenter.COOLER:
            self.title.setText(tr("Intercooler"))
            self.help.setText(tr("By its dimensions, or by one rated or measured point"))
            self.form = Form(self.desk, COOLER_FIELDS, label_width=112)
            self._ask()
        else:
            try:
                run, _ = presenter.index_in_run(self.desk.project, key)
            except KeyError:
                return
            kind = KINDS[edits.get(self.desk.project, f"{run}.{key}").kind]
            self.title.setText(tr(kind.title))
            self.help.setText(tr(kind.help))
            places = [f"{run}.{key}.{p.name}" for p in kind.parameters]
            self.form = Form(self.desk, places, label_width=122)
        self.name.setVisible(key != presenter.COOLER)
        self._show_name()
        self._column.insertWidget(3, self.form)
        self.form.show()
        self._figures()

    def _ask(self) -> None:
        """Show what counts of the intercooler's entries."""
        if self.form is not None and self._shown == presenter.COOLER:
            for place in COOLER_FIELDS:
                self.form.show_row(place, presenter.asked(self.desk.project, place))

    def _clear(self) -> None:
        """Take away the entries of the piece before."""
        if self.form is not None:
            self._column.removeWidget(self.form)
            self.form.hide()
            self.form.deleteLater()
            self.form = None

    def _show_name(self) -> None:
        if self._shown and self._shown != presenter.COOLER:
            try:
                run = run_of(self.desk.project, self._shown)
            except KeyError:
                return
            name = edits.get(self.desk.project, f"{run}.{self._shown}").name
            if self.name.text() != name:
                self.name.setText(name)

    def _figures(self) -> None:
        answer, point = self.desk.answer, self.desk.point
        if answer is None or point is None or not point.closure.solved or not self._shown:
            self.figures.say("")
            return
        stretch = next((s for s in point.stretches if s.id == self._shown), None)
        if stretch is None:
            self.figures.say("")
            return
        self.figures.say("\n".join(presenter.lines_about(answer, point, stretch, self.desk.text, tint)))

    def _rename(self, text: str) -> None:
        if self._shown and self._shown != presenter.COOLER:
            run = run_of(self.desk.project, self._shown)
            self.desk.edit(f"{run}.{self._shown}.name", text, label=tr("Name"), merge_key=f"name:{self._shown}")

    def _add(self, kind: str) -> None:
        project = self.desk.project
        row = self.list.chosen
        run, index = "cold_pipe", len(project.cold_pipe)
        if row is not None and row.run in edits.RUNS:
            run = row.run
            index = 0
            if row.kind != "head":
                index = presenter.index_in_run(project, row.id)[1] + 1
        elif row is not None:
            index = 0
        try:
            changed, key = insert_piece(project, run, index, kind)
        except (EntryError, ValueError) as error:
            self.desk.notice.emit(str(error))
            return
        self._shown = key
        self._shown = None
        self.desk.piece = key
        self.desk.change(tr("Add {0}").format(tr(KINDS[kind].title).lower()), changed)
        self.desk.choose_piece(key)

    def _remove(self, key: str) -> None:
        if key == presenter.COOLER:
            self._fit(False)
            return
        try:
            run, index = presenter.index_in_run(self.desk.project, key)
        except KeyError:
            return
        left = [p.id for p in getattr(self.desk.project, run) if p.id != key]
        try:
            changed = remove_piece(self.desk.project, key)
        except EntryError as error:
            self.desk.notice.emit(str(error))
            return
        self._shown = None
        self.desk.piece = left[min(index, len(left) - 1)] if left else None
        self.desk.change(tr("Remove a piece"), changed)

    def _move(self, key: str, by: int) -> None:
        try:
            _, index = presenter.index_in_run(self.desk.project, key)
            changed = move_piece(self.desk.project, key, max(index + by, 0))
        except KeyError:
            return
        except EntryError as error:
            self.desk.notice.emit(str(error))
            return
        self.desk.change(tr("Move a piece"), changed)

    def _fit(self, fitted: bool) -> None:
        self.desk.change(
            tr("Intercooler fitted") if fitted else tr("No intercooler"),
            edits.with_value(self.desk.project, "intercooler.fitted", bool(fitted)),
        )

"""The Designs bench: what is asked, the designs that were found and why, the owner's prices."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QButtonGroup, QComboBox, QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from zarvik.project.designs import WISHES, Design, Designs
from zarvik.project.designs.wording import WISHED
from zarvik.project.language.language import tr
from zarvik.project.variants.variants import free_name, keep
from zarvik.window.benches.bench import Bench
from zarvik.window.benches.candidates.pictures import CandidateChart
from zarvik.window.benches.designs import presenter as show
from zarvik.window.benches.designs.cards import CardRow
from zarvik.window.benches.designs.prices import PricesPage
from zarvik.window.desk import Desk
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.plain_label import Paragraph, PlainLabel
from zarvik.window.parts.side import Turn, side_column
from zarvik.window.theme.style import Pages
from zarvik.workspace.job_store import CANCELLED, DONE, PART, JobResult
from zarvik.workspace.jobs import DESIGNS, designs_of

TRIES = (200, 600, 2000)
ASKED, FOUND, PRICES = "asked", "found", "prices"
MOST_GROUPS = 6  # of reasons
PAGES = {ASKED: "Requirements", FOUND: "Results", PRICES: "Prices and hours"}


class DesignsBench(Bench):
    """Three pages: the question, the answers, the prices."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.found: Designs | None = None
        self.part = False
        self.chosen = 0
        self._looked = False  # did somebody choose the design that is looked at?
        self.mode = show.COMPARE
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 10, 12, 8)
        layout.setSpacing(6)
        head = QHBoxLayout()
        head.setSpacing(0)
        self.pages: dict[str, QToolButton] = {}
        group = QButtonGroup(self)
        for key, title in PAGES.items():
            self.pages[key] = self._tab(head, group, tr(title), partial(self.show_page, key))
        head.addStretch(1)
        self.tries = QComboBox()
        for count in TRIES:
            self.tries.addItem(tr("{0} designs").format(count), count)
        self.tries.setAccessibleName(tr("Designs to solve"))
        head.addWidget(self.tries)
        head.addSpacing(6)
        self.go = QPushButton(tr("Search"))
        self.go.clicked.connect(lambda: self.search())
        head.addWidget(self.go)
        layout.addLayout(head)
        self.stack = Pages(self)
        layout.addWidget(self.stack, 1)
        self.stack.offer({ASKED: self._asked, FOUND: self._found, PRICES: partial(PricesPage, self.stack, desk)})
        desk.job_changed.connect(self._hear)
        self.page = ASKED
        self.show_page(ASKED)

    @property
    def prices(self) -> PricesPage:
        """The page of prices."""
        page = self.stack.page(PRICES)
        assert isinstance(page, PricesPage)
        return page

    @staticmethod
    def _tab(row: QHBoxLayout, group: QButtonGroup, title: str, act: Callable[[], object]) -> QToolButton:
        button = QToolButton()
        button.setText(title)
        button.setCheckable(True)
        button.clicked.connect(act)
        group.addButton(button)
        row.addWidget(button)
        return button

    def _asked(self) -> QWidget:
        page = QWidget(self.stack)
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(20)
        self.forms: list[Form] = []
        for groups in ((("Target", show.WANTED), ("Limits", show.LIMITS)), (("What may change", show.FREE), ("Priority", show.MATTERS))):
            area, column = side_column(0, 10, 6)
            row.addWidget(area, 1)
            for title, places in groups:
                column.addWidget(heading(tr(title)))
                form = Form(self.desk, places, label_width=120, room=112)
                self.forms.append(form)
                column.addWidget(form)
                column.addSpacing(6)
            column.addStretch(1)
        return page

    def _found(self) -> QWidget:
        page = QWidget(self.stack)
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addLayout(self._pictures(page))
        self.chart = CandidateChart()
        self.chart.taken.connect(self._look_at_spot)
        column.addWidget(self.chart, 1)
        self.text_area, inside = side_column(0, 10, 4)
        self.why: list[tuple[PlainLabel, PlainLabel]] = []
        for _ in range(MOST_GROUPS):
            over, under = PlainLabel(), PlainLabel()
            over.setObjectName("group")
            under.setWordWrap(True)
            under.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            self.why.append((over, under))
            inside.addWidget(over)
            inside.addWidget(under)
        inside.addStretch(1)
        column.addWidget(self.text_area, 1)
        self.cards = CardRow()
        self.cards.looked.connect(self._look)
        column.addWidget(self.cards)
        column.addLayout(self._foot())
        self.moved = Paragraph(soft=True)
        column.addWidget(self.moved)
        return page

    def _pictures(self, page: QWidget) -> QHBoxLayout:
        """The pictures to choose from, and what a chart is over."""
        rows, head, axes = QHBoxLayout(), QHBoxLayout(), QHBoxLayout()
        rows.addLayout(head)
        rows.addLayout(axes)
        head.setSpacing(0)
        axes.setSpacing(0)
        group = QButtonGroup(self)
        self.modes: dict[str, QToolButton] = {}
        for key, title in show.MODES.items():
            self.modes[key] = self._tab(head, group, tr(title), partial(self.show_mode, key))
        self.modes[show.COMPARE].setChecked(True)
        head.addStretch(1)
        self.axes: dict[str, QComboBox] = {}
        for name, title, first in (("across", "X axis", "threshold"), ("up", "Y axis", "power")):
            axes.addWidget(PlainLabel(tr(title)))
            axes.addSpacing(5)
            box = QComboBox()
            box.setAccessibleName(tr(title))
            for key, measure in show.MEASURES.items():
                box.addItem(tr(measure.title), key)
            box.setCurrentIndex(box.findData(first))
            box.activated.connect(lambda _: self._draw())
            self.axes[name] = box
            axes.addWidget(box)
            axes.addSpacing(8)
        Turn(page, rows, {})
        return rows

    def _foot(self) -> QHBoxLayout:
        """What is done with the chosen design."""
        foot = QHBoxLayout()
        foot.setSpacing(6)
        self.summary = Paragraph(soft=True)
        foot.addWidget(self.summary, 1)
        self.wishes = QComboBox()
        self.wishes.setAccessibleName(tr("One more step"))
        self.wishes.setToolTip(tr("Searches from the present design for one more step of this, with as few changes as possible"))
        for wish in WISHES:
            self.wishes.addItem(tr(WISHED[wish]), wish)
        foot.addWidget(self.wishes)
        self.what_if = QPushButton(tr("What if"))
        self.what_if.clicked.connect(self.wish)
        foot.addWidget(self.what_if)
        self.keep = QPushButton(tr("Save variant"))
        self.keep.clicked.connect(self.keep_it)
        foot.addWidget(self.keep)
        self.take = QPushButton(tr("Use this design"))
        self.take.setToolTip(tr("Makes it the present design; one undo brings the old one back"))
        self.take.clicked.connect(self.take_over)
        foot.addWidget(self.take)
        return foot

    def commands(self) -> Iterator[tuple[str, Callable[[], object]]]:
        """The search, taking over, the pages."""
        yield tr("Search designs"), self.search
        yield tr("Use the selected design"), self.take_over
        yield tr("Save the selected design as a variant"), self.keep_it
        for wish in WISHES:
            yield tr("What if: {0}").format(tr(WISHED[wish])), partial(self.search, wish)
        for key, title in PAGES.items():
            yield tr("Designs: {0}").format(tr(title)), partial(self.show_page, key)

    def show_page(self, key: str) -> None:
        """Turn to a page."""
        self.page = key
        self.pages[key].setChecked(True)
        self.stack.turn(key)
        self.refresh_document()
        if key == FOUND:
            self._draw()

    def show_mode(self, mode: str) -> None:
        """Another picture of what was found."""
        self.mode = mode
        self.modes[mode].setChecked(True)
        self._draw()

    def field_of(self, place: str) -> QWidget | None:
        """The field of an entry, on its page."""
        for form in self.forms:
            if place in form.fields:
                self.show_page(ASKED)
                return form.fields[place]
        if place in self.prices.form.fields:
            self.show_page(PRICES)
        return super().field_of(place)

    def search(self, wish: str = "") -> None:
        """Search in the background; the best so far are drawn while it goes on."""
        reply = self.desk.ask(designs_of(self.desk.project, int(self.tries.currentData()), wish))
        self._looked = False
        self.show_page(FOUND)
        if reply.state == DONE:
            self._show(reply)

    def wish(self) -> None:
        """Search from the present design for one wish more."""
        self.search(str(self.wishes.currentData()))

    def refresh_document(self) -> None:
        """The page that is shown follows the document."""
        if self.page == PRICES:
            self.prices.refresh()
        elif self.page == ASKED:
            for form in self.forms:
                form.refresh()
        else:
            self._tell_moved()

    def refresh_result(self) -> None:
        """How far the present design has moved."""
        if self.page == FOUND:
            self._tell_moved()

    def _tell_moved(self) -> None:
        answer = self.desk.answer
        nan = float("nan")
        power = answer.target.power if answer is not None and self.desk.current else nan
        onset = answer.case.threshold if answer is not None and self.desk.current else nan
        text = show.moved(self.desk.project, power, onset)
        self.moved.setText(text)
        self.moved.setVisible(bool(text))

    def _hear(self, reply: JobResult) -> None:
        if reply.key != DESIGNS:
            return
        if reply.state in (PART, DONE):
            self._show(reply)
        elif reply.state == CANCELLED and self.part:
            self.part = False
            self._draw()

    def _show(self, reply: JobResult) -> None:
        if isinstance(reply.value, Designs):
            looked = self._one if self._looked else None
            self.found, self.part = reply.value, reply.state == PART
            places = [d.place for d in show.shown(self.found)]
            # The design that is looked at stays looked at, wherever it stands now.
            self.chosen = places.index(looked.place) if looked is not None and looked.place in places else 0
            if self.isVisible():
                self._draw()

    def refresh(self) -> None:
        """What was found while another bench was shown."""
        super().refresh()
        self._draw()

    @property
    def _one(self) -> Design | None:
        designs = show.shown(self.found) if self.found is not None else ()
        return designs[self.chosen] if self.chosen < len(designs) else None

    def _draw(self) -> None:
        if self.page != FOUND:
            return
        project, found = self.desk.project, self.found
        units = project.shown_units
        empty = tr(
            "Enter what you want and what may change, then search: pulleys, tubes, intercoolers and throttles on sale. "
            "Each design is solved and checked as a whole."
            if project.blower.fitted
            else "Enter what you want and what may change, then search: turbos from the catalogue, housings, tubes, "
            "intercoolers and wastegates on sale. Each design is solved and checked as a whole."
        )
        reasons_shown = self.mode == show.WHY and found is not None
        self.chart.setVisible(not reasons_shown)
        self.text_area.setVisible(reasons_shown)
        for box in self.axes.values():
            box.setEnabled(self.mode == show.COMPARE)
        if found is None:
            self.chart.show_picture(None, empty)
        elif reasons_shown:
            groups = show.why(found, self.chosen, project)
            for number, (over, under) in enumerate(self.why):
                for label in (over, under):
                    label.setVisible(number < len(groups))
                if number < len(groups):
                    over.setText(groups[number][0])
                    under.setText("\n".join(groups[number][1]))
        elif self.mode == show.COMPARE:
            across, up = (str(self.axes[name].currentData()) for name in ("across", "up"))
            points = show.choices(found, across, up, self.chosen, units)
            self.chart.show_choices(
                points,
                show.axis_title(across, units),
                show.axis_title(up, units),
                show.level(up, found, units) if points else None,
                tr("no design yet"),
                joined=False,
            )
        else:
            make = show.load if self.mode == show.LOAD else show.maps
            self.chart.show_picture(make(found, self.chosen, units), tr("drawn when the designs are checked"))
        self.summary.setText(show.summary(found, project, self.part) if found is not None else "")
        self.cards.show_cards(show.cards(found, self.chosen, units) if found is not None else [])
        for button in (self.take, self.keep):
            button.setEnabled(self._one is not None)
        self._tell_moved()

    def _look(self, number: int) -> None:
        """Look at one design."""
        if self.found is not None and 0 <= number < len(show.shown(self.found)):
            self.chosen, self._looked = number, True
            self._draw()

    def _look_at_spot(self, spot: int) -> None:
        """Look at the design of a plate in the picture."""
        if spot < len(self.chart.choices):
            self._look(int(self.chart.choices[spot].value))

    def take_over(self) -> None:
        """Make the design that is looked at the present one, in one step."""
        one = self._one
        if one is not None:
            taken = show.taken_over(one, self.desk.project, str(self.chosen + 1))
            self.desk.change(taken.adopted[0].title[:120], taken)

    def keep_it(self) -> None:
        """Keep the design that is looked at as a variant, in one step."""
        one = self._one
        if one is None:
            return
        now = self.desk.project
        name = free_name(now)
        design = show.taken_over(one, now, str(self.chosen + 1))
        kept = keep(design, name)
        self.desk.change(tr("Save variant {0}").format(name), now.model_copy(update={"variants": kept.variants}))
        self.desk.notice.emit(tr("Saved as variant {0}: see Compare").format(name))

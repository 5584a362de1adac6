"""The owner's prices and work rates: the catalogue, each line of which may be said otherwise."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QWidget

from zarvik.core.budget.bill import bill, by_key, cost
from zarvik.core.budget.resources import FIT
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.problems import ProjectProblems
from zarvik.project.assembly.resources import catalogue
from zarvik.project.document.document import Project
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.part import field_meta
from zarvik.project.document.parts.workshop import Price
from zarvik.project.language.language import tr, tr_format
from zarvik.project.units.rendering import figure
from zarvik.project.units.units import Quantity
from zarvik.window.benches.designs import presenter as show
from zarvik.window.desk import Desk
from zarvik.window.parts.form import Form, heading
from zarvik.window.parts.plain_label import Paragraph, PlainLabel
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.quantity_field import QuantityField
from zarvik.window.parts.side import Fold, side_column

COLUMNS = (("price", "Price", "€", "money"), ("hours", "Hours of work", "h", "work"), ("days", "Days outsourced", "days", "days"))
# Lines that a build with the other charger has not
OF_A_TURBO = ("turbo", "gate", "gate_mm", "housing")
OF_A_BLOWER = ("blower", "blower_litre")
WORKS = {FIT: "fitting", "weld": "welding", "bend": "cutting, bending", "machine": "machining"}


def said(project: Project, key: str) -> Price:
    """A line as it counts: the owner's, or the catalogue's."""
    found = next((p for p in project.workshop.prices if p.id == key), None)
    if found is not None:
        return found
    rate = catalogue()[key].rate
    return Price(
        id=key, price=Quantity(rate.price, "€", "money"), hours=Quantity(rate.hours, "h", "work"), days=Quantity(rate.days, "days", "days")
    )


def with_price(project: Project, key: str, name: str, value: Quantity) -> Project:
    """The document with one figure of a line said by its owner; a line that says what the catalogue says is
    forgotten."""
    line = said(project, key).model_copy(update={name: value})
    rate = catalogue()[key].rate
    same = (line.price.si, line.hours.si, line.days.si) == (rate.price, rate.hours, rate.days)
    rest = tuple(p for p in project.workshop.prices if p.id != key)
    prices = rest if same else (*rest, line)
    return project.model_copy(update={"workshop": project.workshop.model_copy(update={"prices": prices})})


class PricesPage(QWidget):
    """The catalogue on the left, the workshop and the bill of the present design on the right."""

    def __init__(self, home: QWidget, desk: Desk) -> None:
        super().__init__(home)
        self.desk = desk
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(18)
        area, column = side_column(0, 10, 4)
        layout.addWidget(area, 1)
        self.note = PlainLabel(tr("All prices and hours are invented. Enter your own: they count here, in the bill and in every search."))
        self.note.setObjectName("soft")
        self.note.setWordWrap(True)
        column.addWidget(self.note)
        grid = QGridLayout()
        column.addLayout(grid)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(3)
        for n, (_, title, _, _) in enumerate(COLUMNS):
            head = PlainLabel(tr(title))
            head.setObjectName("soft")
            grid.addWidget(head, 0, n + 1)
        self.fields: dict[tuple[str, str], QuantityField] = {}
        self.titles: dict[str, PlainLabel] = {}
        # How prices grow with a wheel is a power and no price: it stays the catalogue's.
        lines = {key: line for key, line in catalogue().items() if line.per != "power"}
        for row, (key, line) in enumerate(lines.items(), 1):
            label = Paragraph(tr(line.title))
            per = tr("each") if line.per == "each" else tr("per {0}").format(tr(line.per))
            label.setToolTip(plain_tip(f"{per}; {tr(WORKS[line.rate.work])}"))
            self.titles[key] = label
            grid.addWidget(label, row, 0)
            # What a larger size costs more has no work of its own.
            own = COLUMNS if line.rate.hours or line.rate.days else COLUMNS[:1]
            for n, (name, title, _, _) in enumerate(own):
                meta = field_meta(Price, name)
                assert isinstance(meta, QuantitySpec)
                field = QuantityField(meta, lambda: self.desk.ambient)
                field.setFixedWidth(82)
                field.setAccessibleName(f"{tr(line.title)}: {tr(title)}")
                field.edited.connect(partial(self._edited, key, name))
                field.sealed.connect(desk.session.history.seal)
                self.fields[key, name] = field
                grid.addWidget(field, row, n + 1)
        grid.setColumnStretch(0, 1)
        column.addStretch(1)
        side, right = side_column(306, 8, 5)
        layout.addWidget(side)
        Fold(self, side, right, area)
        right.addWidget(heading(tr("Fabrication")))
        self.form = Form(desk, show.SHOP, label_width=150, room=120)
        right.addWidget(self.form)
        self.back = QPushButton(tr("Reset to catalogue prices"))
        self.back.clicked.connect(self.forget)
        right.addWidget(self.back, 0, Qt.AlignmentFlag.AlignLeft)
        right.addSpacing(6)
        right.addWidget(heading(tr("Bill of the present design")))
        self.bill = Paragraph()
        right.addWidget(self.bill)
        right.addStretch(1)

    def _edited(self, key: str, name: str, value: Quantity) -> None:
        title = tr(catalogue()[key].title)
        self.desk.session.apply(f"{title}: {value}", with_price(self.desk.project, key, name, value), f"price:{key}:{name}")

    def forget(self) -> None:
        """Every line as the catalogue has it, in one step."""
        project = self.desk.project
        shop = project.workshop.model_copy(update={"prices": ()})
        self.desk.change(tr("Reset to catalogue prices"), project.model_copy(update={"workshop": shop}))

    def refresh(self) -> None:
        """Show what counts; a line of the owner's own is marked."""
        project = self.desk.project
        own = {p.id for p in project.workshop.prices}
        for key, label in self.titles.items():
            line = said(project, key)
            label.setText(("● " if key in own else "") + tr(catalogue()[key].title))
            for name, _, _, _ in COLUMNS:
                if (key, name) in self.fields:
                    self.fields[key, name].set_quantity(getattr(line, name))
        strange = OF_A_TURBO if project.blower.fitted else OF_A_BLOWER
        for widget, key in (*((w, k) for k, w in self.titles.items()), *((w, k) for (k, _), w in self.fields.items())):
            if (key in strange) != widget.isHidden():
                widget.setHidden(key in strange)
        self.back.setEnabled(bool(own))
        self.form.refresh()
        self.bill.setText(bill_of(project))


def bill_of(project: Project) -> str:
    """The bill of a document in lines, the dearest first."""
    try:
        build = assemble(project)
        items = bill(build, build.resources)
    except (ProjectProblems, ValueError):
        return tr("unknown while the pipes have gaps")
    units, total = project.shown_units, cost(items)
    lines = [f"{tr(title)}: {figure(c.money, 'money', units)}, {figure(c.hours, 'work', units)}" for title, c in by_key(items).values()]
    weeks = total.weeks(project.workshop.hours.si)
    lines.append(
        tr_format(
            "Total {0} and {1} of work, {2}",
            figure(total.money, "money", units),
            figure(total.hours, "work", units),
            figure(weeks, "weeks", units),
        )
    )
    return "\n".join(lines)

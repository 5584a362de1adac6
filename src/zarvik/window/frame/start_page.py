"""The first page: a new build from what a builder knows, recent projects, demos."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from zarvik.core.common.constants import STANDARD_ATMOSPHERE
from zarvik.core.gas.combustion import FUELS
from zarvik.formats import shipped
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.language.language import tr
from zarvik.project.language.plain import opening, visible
from zarvik.project.uncertainty.known import CHARGERS, COOLING, COUNTS, KINDS, LAYOUTS, MATTERS, BuilderInput
from zarvik.project.units.units import Quantity, parse
from zarvik.window.desk import Desk
from zarvik.window.parts.form import heading
from zarvik.window.parts.plain_label import Paragraph, PlainLabel
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.quantity_field import QuantityField
from zarvik.workspace.job_store import CANCELLED, DONE, FAILED, JobResult
from zarvik.workspace.jobs import FIRST, first_design_of

# What is asked: key, its field, what stands there at first (empty: not known), grey text in an empty field.
ASKED: tuple[tuple[str, QuantitySpec, str, str], ...] = (
    ("cylinders", QuantitySpec("count", "1", "16", "", "Cylinders"), "4", ""),
    ("litres", QuantitySpec("volume", "0.2 L", "12 L", "L", "Displacement"), "2.0 L", ""),
    ("redline", QuantitySpec("rotation", "2500 rpm", "12000 rpm", "rpm", "Rev limit"), "7000 rpm", ""),
    ("compression", QuantitySpec("number", "5", "24", "", "Compression ratio"), "", "optional"),
    ("stock_power", QuantitySpec("power", "5 hp", "1500 hp", "hp", "Stock power"), "", "optional"),
    ("stock_speed", QuantitySpec("rotation", "1000 rpm", "12000 rpm", "rpm", "Stock power engine speed"), "", "optional"),
    (
        "stock_boost",
        QuantitySpec(
            kind="pressure_gauge", low="0 bar", high="3 bar", unit="bar", title="Stock boost", help="If the engine was boosted when stock"
        ),
        "",
        "none",
    ),
    (
        "power",
        QuantitySpec(
            kind="power", low="10 hp", high="3000 hp", unit="hp", title="Target power", help="At the crank; “260 whp 15 %” for the wheels"
        ),
        "300 hp",
        "from the boost",
    ),
    (
        "boost",
        QuantitySpec(
            kind="pressure_gauge",
            low="0.05 bar",
            high="3 bar",
            unit="bar",
            title="Planned boost",
            help="With no target power: what does this boost make?",
        ),
        "",
        "from the power",
    ),
    ("big_power", QuantitySpec("power", "10 hp", "3000 hp", "hp", "One-off power"), "", "none"),
    ("altitude", QuantitySpec("altitude", "-400 m", "5000 m", "m", "Altitude"), "0 m", ""),
    ("day", QuantitySpec("temperature", "-30 °C", "55 °C", "°C", "Hottest day"), "30 °C", ""),
)
EMPTIED = ("power",)  # may be emptied though it is filled at first
# The two columns of the page, by the keys of fields and choices
LEFT = ("name", "kind", "layout", "cylinders", "litres", "redline", "compression", "stock_power", "stock_speed", "stock_boost")
RIGHT = ("fuel", "power", "boost", "big_power", "charger", "count", "turbo", "cooling", "matters", "altitude", "day")


class StartPage(QScrollArea):
    """`made` carries a first design; `wanted` a path to open, `demo` a name."""

    made = Signal(object)
    wanted = Signal(str)
    demo = Signal(str)
    browse = Signal()
    left = Signal()

    def __init__(self, desk: Desk, recent: Callable[[], tuple[str, ...]]) -> None:
        super().__init__()
        self.desk = desk
        desk.job_changed.connect(self._heard)
        self._recent = recent
        self._asked: BuilderInput | None = None
        self.setObjectName("frame")
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        inside.setObjectName("body")
        row = QHBoxLayout(inside)
        row.setContentsMargins(32, 24, 32, 24)
        row.setSpacing(44)
        row.addStretch(1)
        row.addLayout(self._new_build(), 0)
        self._list = QVBoxLayout()
        self._beside = QVBoxLayout()
        row.addLayout(self._beside, 0)
        row.addStretch(1)
        self.setWidget(inside)

    # ---- a new build ------------------------------------------------------------------------------
    def _new_build(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(8)
        column.addWidget(heading(tr("New build")))
        text = PlainLabel(tr("Enter what you know; the rest is sized for you. Guesses are marked ≈."))
        text.setWordWrap(True)
        text.setFixedWidth(660)
        text.setObjectName("soft")
        column.addWidget(text)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(7)
        column.addLayout(grid)
        rows = self._rows()
        for side, keys in ((0, LEFT), (1, RIGHT)):
            for number, key in enumerate(keys):
                title, widget = rows[key]
                widget.setFixedWidth(168)
                label = PlainLabel(title)
                label.setBuddy(widget)
                grid.addWidget(label, number, 3 * side)
                grid.addWidget(widget, number, 3 * side + 1)
        grid.setColumnMinimumWidth(2, 18)
        self.fault = PlainLabel()
        self.fault.setObjectName("fault")
        self.fault.setWordWrap(True)
        self.fault.setFixedWidth(660)
        self.fault.hide()
        column.addWidget(self.fault)
        self.go = QPushButton(tr("Make first design"))
        self.go.setObjectName("take")
        self.go.setDefault(True)
        self.setMinimumWidth(0)
        self.go.clicked.connect(self._make)
        self.back = QPushButton(tr("Back to the design"))
        self.back.clicked.connect(self.left)
        self.back.hide()
        buttons = QHBoxLayout()
        buttons.addWidget(self.go)
        buttons.addWidget(self.back)
        buttons.addStretch(1)
        column.addLayout(buttons)
        column.addStretch(1)
        return column

    def _rows(self) -> dict[str, tuple[str, QWidget]]:
        """What is asked, by key: its title and its entry."""
        self.name = QLineEdit("New build")
        self.name.setMaxLength(120)
        self.name.setAccessibleName(tr("Name of the build"))
        self.kind = self._choice(tr("Engine"), KINDS)
        self.layout_ = self._choice(tr("Layout"), LAYOUTS)
        self.fuel = self._choice(tr("Fuel"), tuple((f.key, f.title) for f in FUELS.values()))
        self.fuel.setCurrentIndex(self.fuel.findData("petrol98"))
        self.charger = self._choice(tr("Charger"), CHARGERS)
        self.count = self._choice(tr("Number of turbos"), tuple((str(n), words) for n, words in COUNTS))
        self.turbo = self._choice(
            tr("Turbo you have"), (("", tr("None yet")), *((key, shipped.turbo_title(key)) for key in shipped.turbo_names()))
        )
        self.cooling = self._choice(tr("Intercooler"), COOLING)
        self.matters = self._choice(tr("Priority"), MATTERS)
        self.matters.setCurrentIndex(1)
        self.kind.activated.connect(self._kind_chosen)
        self.charger.activated.connect(self._charger_chosen)
        rows: dict[str, tuple[str, QWidget]] = {
            "name": (tr("Name"), self.name),
            "kind": (tr("Engine"), self.kind),
            "layout": (tr("Layout"), self.layout_),
            "fuel": (tr("Fuel"), self.fuel),
            "charger": (tr("Charger"), self.charger),
            "count": (tr("Number of turbos"), self.count),
            "turbo": (tr("Turbo you have"), self.turbo),
            "cooling": (tr("Intercooler"), self.cooling),
            "matters": (tr("Priority"), self.matters),
        }
        self.fields: dict[str, QuantityField] = {}
        for key, meta, first, grey in ASKED:
            field = QuantityField(meta, lambda: STANDARD_ATMOSPHERE)
            if first:
                field.set_quantity(parse(first, meta.kind))
            if grey:
                field.setPlaceholderText(tr(grey))
            field.edited.connect(partial(self._typed, key))
            field.textEdited.connect(partial(self._emptied, key))
            self.fields[key] = field
            rows[key] = tr(meta.title), field
        return rows

    @staticmethod
    def _choice(title: str, options: tuple[tuple[str, str], ...]) -> QComboBox:
        box = QComboBox()
        box.setAccessibleName(title)
        for key, words in options:
            box.addItem(tr(words), key)
        return box

    def _kind_chosen(self) -> None:
        """A diesel burns diesel, and turns more slowly."""
        diesel = self.kind.currentData() == "diesel"
        if diesel != (self.fuel.currentData() == "diesel"):
            self.fuel.setCurrentIndex(self.fuel.findData("diesel" if diesel else "petrol98"))
            redline = "4500 rpm" if diesel else "7000 rpm"
            self.fields["redline"].set_quantity(parse(redline, "rotation"))

    def _charger_chosen(self) -> None:
        """A blower has no turbos to count or to choose."""
        turbo = self.charger.currentData() == "turbo"
        self.count.setEnabled(turbo)
        self.turbo.setEnabled(turbo)

    def _typed(self, key: str, value: Quantity) -> None:
        self.fields[key].set_quantity(value)
        self.fault.hide()

    def _emptied(self, key: str, text: str) -> None:
        """An empty field says: not known."""
        if not text.strip():
            self.fields[key].forget()

    def known(self) -> BuilderInput | str:
        """What was said, or a sentence about what is missing or contradicts itself."""
        found = {key: field.quantity for key, field in self.fields.items()}
        for key, field in self.fields.items():
            if field.fault and field.text().strip():
                return f"{field.meta.title}: {field.fault}"
            first = next(a[2] for a in ASKED if a[0] == key)
            if found[key] is None and first and key not in EMPTIED:
                return tr("{0}: a value is needed here").format(tr(field.meta.title))

        def si(key: str) -> float:
            quantity = found[key]
            assert quantity is not None
            return quantity.si

        def maybe(key: str) -> float | None:
            quantity = found[key]
            return quantity.si if quantity is not None else None

        fuel = self.fuel.currentData()
        if (fuel == "diesel") != (self.kind.currentData() == "diesel"):
            return tr("Select diesel fuel for a diesel engine.")
        if found["power"] is None and found["boost"] is None:
            return tr("Enter a target power, or a boost.")
        speed = maybe("stock_speed")
        if speed is not None and speed > si("redline"):
            return tr("Stock power cannot be made above the rev limit.")
        return BuilderInput(
            kind=self.kind.currentData(),
            cylinders=round(si("cylinders")),
            litres=si("litres"),
            redline=si("redline"),
            power=maybe("power"),
            fuel=fuel,
            stock_power=maybe("stock_power"),
            stock_speed=speed,
            compression=maybe("compression"),
            altitude=si("altitude"),
            day=si("day"),
            matters=self.matters.currentData(),
            name=self.name.text().strip() or "New build",
            layout=self.layout_.currentData(),
            stock_boost=maybe("stock_boost") or 0.0,
            charger=self.charger.currentData(),
            count=int(self.count.currentData()),
            cooling=self.cooling.currentData(),
            boost=maybe("boost"),
            big_power=maybe("big_power"),
            turbo=self.turbo.currentData() or None,
        )

    def _make(self) -> None:
        known = self.known()
        if isinstance(known, str):
            self._say(known)
            return
        self._asked = known
        self.go.setEnabled(False)
        self._say(tr("Calculating…"))
        self._answered(self.desk.ask(first_design_of(known)))

    def _heard(self, reply: JobResult) -> None:
        if reply.key == FIRST and reply.job.of is self._asked:
            self._answered(reply)

    def _answered(self, reply: JobResult) -> None:
        if reply.state not in (DONE, FAILED, CANCELLED) or self._asked is None:
            return
        self._asked = None
        self.go.setEnabled(True)
        self.fault.hide()
        if reply.state == DONE:
            self.made.emit(reply.value)
        elif reply.state == FAILED:
            self._say(reply.fault)

    def _say(self, text: str) -> None:
        self.fault.setText(opening(text))
        self.fault.show()

    # ---- what is there already -------------------------------------------------------------------
    def make_others(self) -> bool:
        """The column on the right: it is no part of a new build. False where it is there already."""
        column = self._beside
        if column.count():
            return False
        column.setSpacing(8)
        column.addWidget(heading(tr("Recent projects")))
        self._list.setSpacing(4)
        column.addLayout(self._list)
        other = QPushButton(tr("Open file…"))
        other.clicked.connect(self.browse)
        column.addWidget(other, 0, Qt.AlignmentFlag.AlignLeft)
        column.addSpacing(22)
        column.addWidget(heading(tr("Demos (invented)")))
        for name in shipped.demo_names():
            title, note = shipped.demo_words(name)
            button = QPushButton(title)
            button.setFixedWidth(110)
            button.clicked.connect(partial(self.demo.emit, name))
            said = note.removeprefix("Invented demo: ")
            words = Paragraph(said[:1].upper() + said[1:], soft=True)
            words.setFixedWidth(330)
            row = QHBoxLayout()
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(words)
            row.addStretch(1)
            column.addLayout(row)
        column.addStretch(1)
        return True

    def refresh(self) -> None:
        """The recent projects as they are now."""
        self.make_others()
        while self._list.count():
            item = self._list.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        names = [n for n in self._recent() if Path(n).is_file()]
        for name in names[:6]:
            button = QPushButton(visible(Path(name).name))
            button.setToolTip(plain_tip(visible(name)))
            button.clicked.connect(partial(self.wanted.emit, name))
            self._list.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
        if not names:
            empty = PlainLabel(tr("No recent projects."))
            empty.setObjectName("soft")
            self._list.addWidget(empty)

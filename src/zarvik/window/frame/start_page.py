"""The first page: a new build from what a builder knows, recent projects, demos."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from zarvik.core.gas.combustion import FUELS
from zarvik.formats import shelf
from zarvik.project.fields import Of
from zarvik.project.first_design import make
from zarvik.project.known import KINDS, MATTERS, Known, NoDesign
from zarvik.project.language import tr
from zarvik.project.plain import opening, visible
from zarvik.project.units import Quantity, parse
from zarvik.window.parts.form import heading
from zarvik.window.parts.plain_label import Paragraph, PlainLabel
from zarvik.window.parts.quantity_field import QuantityField

# What is asked: key, its field, what stands there at first (empty: not known), a word behind it.
ASKED: tuple[tuple[str, Of, str, str], ...] = (
    ("cylinders", Of("count", "1", "16", "", "Cylinders"), "4", ""),
    ("litres", Of("volume", "0.2 L", "12 L", "L", "Displacement"), "2.0 L", ""),
    ("redline", Of("rotation", "2500 rpm", "12000 rpm", "rpm", "Redline"), "7000 rpm", ""),
    ("stock_power", Of("power", "5 hp", "1500 hp", "hp", "Power before the swap"), "",
     "leave empty when you do not know"),
    ("stock_speed", Of("rotation", "1000 rpm", "12000 rpm", "rpm", "at engine speed"), "", ""),
    ("compression", Of("number", "5", "24", "", "Compression ratio"), "",
     "leave empty for the usual one"),
    ("power", Of("power", "10 hp", "3000 hp", "hp", "Power that is wanted", "At the crank"), "300 hp",
     "at the crank; “260 whp 15 %” for the wheels"),
    ("altitude", Of("length", "-400 m", "4000 m", "m", "Altitude"), "0 m", ""),
    ("day", Of("temperature", "-30 °C", "55 °C", "°C", "Hottest day"), "30 °C", ""),
)  # fmt: skip


class StartPage(QScrollArea):
    """`made` carries the document of a first design; `wanted` a path to open, `demo` a name."""

    made = Signal(object)
    wanted = Signal(str)
    demo = Signal(str)
    browse = Signal()
    left = Signal()

    def __init__(self, recent: Callable[[], tuple[str, ...]]) -> None:
        super().__init__()
        self._recent = recent
        self.setObjectName("frame")
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        inside.setObjectName("body")
        row = QHBoxLayout(inside)
        row.setContentsMargins(48, 32, 48, 32)
        row.setSpacing(56)
        row.addStretch(1)
        row.addLayout(self._new_build(), 0)
        row.addLayout(self._others(), 0)
        row.addStretch(1)
        self.setWidget(inside)
        self.refresh()

    # ---- a new build ------------------------------------------------------------------------------
    def _new_build(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(8)
        column.addWidget(heading(tr("New build")))
        text = PlainLabel(
            tr("Say what you know. Turbo, housing, gate, pipes and cooler are sized to it and solved "
               "together; what you did not say is marked ≈ and waits to be put right.")
        )  # fmt: skip
        text.setWordWrap(True)
        text.setFixedWidth(560)
        text.setObjectName("soft")
        column.addWidget(text)
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(7)
        grid.setColumnMinimumWidth(0, 170)
        column.addLayout(grid)
        self.name = QLineEdit("New build")
        self.name.setMaxLength(120)
        self.name.setAccessibleName(tr("Name of the build"))
        self.kind = self._choice(tr("Engine"), KINDS)
        self.fuel = self._choice(tr("Fuel"), tuple((f.key, f.title) for f in FUELS.values()))
        self.fuel.setCurrentIndex(self.fuel.findData("petrol98"))
        self.matters = self._choice(tr("What matters"), MATTERS)
        self.matters.setCurrentIndex(1)
        self.kind.activated.connect(self._kind_chosen)
        self.fields: dict[str, QuantityField] = {}
        rows: list[tuple[str, QWidget, str]] = [
            (tr("Name of the build"), self.name, ""),
            (tr("Engine"), self.kind, ""),
        ]
        for key, meta, first, word in ASKED:
            field = QuantityField(meta, lambda: 101_325.0)
            if first:
                field.set_quantity(parse(first, meta.kind))
            field.edited.connect(partial(self._typed, key))
            field.textEdited.connect(partial(self._emptied, key))
            field.setFixedWidth(150)
            self.fields[key] = field
            if key == "power":
                rows.append((tr("Fuel"), self.fuel, ""))
            rows.append((tr(meta.title), field, tr(word) if word else ""))
        rows.insert(len(rows) - 2, (tr("What matters"), self.matters, ""))
        for number, (title, widget, word) in enumerate(rows):
            label = PlainLabel(title)
            label.setBuddy(widget)
            grid.addWidget(label, number, 0)
            grid.addWidget(widget, number, 1)
            if word:
                hint = PlainLabel(word)
                hint.setObjectName("soft")
                grid.addWidget(hint, number, 2)
        self.fault = PlainLabel()
        self.fault.setObjectName("fault")
        self.fault.setWordWrap(True)
        self.fault.setFixedWidth(560)
        self.fault.hide()
        column.addWidget(self.fault)
        self.go = QPushButton(tr("Make a first design"))
        self.go.setObjectName("take")
        self.go.setDefault(True)
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

    def _typed(self, key: str, value: Quantity) -> None:
        self.fields[key].set_quantity(value)
        self.fault.hide()

    def _emptied(self, key: str, text: str) -> None:
        """An empty field says: not known."""
        if not text.strip():
            self.fields[key].forget()

    def known(self) -> Known | str:
        """What was said, or a sentence about what is missing or contradicts itself."""
        found = {key: field.quantity for key, field in self.fields.items()}
        for key, field in self.fields.items():
            if field.fault and field.text().strip():
                return f"{field.meta.title}: {field.fault}"
            first = next(a[2] for a in ASKED if a[0] == key)
            if found[key] is None and first:
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
            return tr("A diesel engine burns diesel, and nothing else does.")
        speed = maybe("stock_speed")
        if speed is not None and speed > si("redline"):
            return tr("The stock power cannot be made above the redline.")
        return Known(
            kind=self.kind.currentData(), cylinders=round(si("cylinders")), litres=si("litres"),
            redline=si("redline"), power=si("power"), fuel=fuel, stock_power=maybe("stock_power"),
            stock_speed=speed, compression=maybe("compression"), altitude=si("altitude"),
            day=si("day"), matters=self.matters.currentData(),
            name=self.name.text().strip() or "New build",
        )  # fmt: skip

    def _make(self) -> None:
        known = self.known()
        if isinstance(known, str):
            self._say(known)
            return
        try:
            turbos = {name: shelf.turbo(name) for name in shelf.turbo_names()}
            project = make(known, turbos)
        except (NoDesign, ValueError) as error:
            self._say(str(error))
            return
        self.made.emit(project)

    def _say(self, text: str) -> None:
        self.fault.setText(opening(text))
        self.fault.show()

    # ---- what is there already -------------------------------------------------------------------
    def _others(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(8)
        column.addWidget(heading(tr("Go on with")))
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        column.addLayout(self._list)
        other = QPushButton(tr("Another file…"))
        other.clicked.connect(self.browse)
        column.addWidget(other, 0, Qt.AlignmentFlag.AlignLeft)
        column.addSpacing(22)
        column.addWidget(heading(tr("Look at a demo (invented)")))
        for name in shelf.demo_names():
            project = shelf.demo(name)
            button = QPushButton(project.name)
            button.setFixedWidth(110)
            button.clicked.connect(partial(self.demo.emit, name))
            words = Paragraph(project.note.removeprefix("Invented demo: "), soft=True)
            words.setFixedWidth(330)
            row = QHBoxLayout()
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(words)
            row.addStretch(1)
            column.addLayout(row)
        column.addStretch(1)
        return column

    def refresh(self) -> None:
        """The recent projects as they are now."""
        while self._list.count():
            item = self._list.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        names = [n for n in self._recent() if Path(n).is_file()]
        for name in names[:6]:
            button = QPushButton(visible(Path(name).name))
            button.setToolTip(visible(name))
            button.clicked.connect(partial(self.wanted.emit, name))
            self._list.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
        if not names:
            empty = PlainLabel(tr("Nothing was saved yet."))
            empty.setObjectName("soft")
            self._list.addWidget(empty)

"""A turbo from what one can hold in the hand: sizes typed, the nearest of the shelf beside them."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QWidget,
)

from zarvik.core.compressor.measured import WORN, Nearest, check_wheel, identify, trim
from zarvik.formats import shelf
from zarvik.project.fields import Of
from zarvik.project.language import reason, told, tr
from zarvik.project.parts.part import field_meta
from zarvik.project.parts.turbo import Turbine, Turbo, Wheels
from zarvik.project.units import SAID, UNKNOWN, Quantity
from zarvik.window.desk import Desk
from zarvik.window.parts.over import Over
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.window.parts.quantity_field import QuantityField

SHOWN = 3  # turbos of the shelf that are named
# What is typed, the name that identifies it, and where it stands in the document.
FIELDS: tuple[tuple[str, str, type[Wheels] | type[Turbine]], ...] = (
    ("inducer", "inducer", Wheels), ("exducer", "exducer", Wheels),
    ("wheel", "turbine_wheel", Turbine), ("exducer", "turbine_exducer", Turbine),
    ("housing", "", Turbine),
)  # fmt: skip
_WORDS = {
    "inducer": "inducer", "exducer": "exducer", "turbine_wheel": "turbine wheel",
    "turbine_exducer": "turbine exducer",
}  # fmt: skip


class Measured(Over):
    """Over the bench; `made` carries a turbo with an estimated map, `taken` the key of one of the shelf."""

    made = Signal(object)
    taken = Signal(str)

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, tr("A turbo from its wheels"), 7)
        column = self.column
        self.text.setText(tr(
            "Measure across two opposite blades. The compressor's two diameters are enough: the map is then "
            "estimated, and marked so everywhere; what you leave open of the turbine is estimated too."
        ))  # fmt: skip
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(5)
        grid.setColumnStretch(2, 1)
        self.name = QLineEdit(tr("Turbo in the hand"))
        self.name.setMaxLength(80)
        self.name.setAccessibleName(tr("Name"))
        grid.addWidget(PlainLabel(tr("Name")), 0, 0)
        grid.addWidget(self.name, 0, 1)
        self.fields: list[QuantityField] = []
        for row, (name, _, model) in enumerate(FIELDS, 1):
            meta = field_meta(model, name)
            assert isinstance(meta, Of)
            field = QuantityField(meta, lambda: 101325.0)
            field.setFixedWidth(150)
            field.edited.connect(lambda value, f=field: self._typed(f, value))
            if meta.unknown is not None:
                field.set_quantity(meta.unknown)
            else:
                field.setPlaceholderText(tr("as 51 mm or 2.01 in"))
            label = PlainLabel(tr(meta.title))
            label.setBuddy(field)
            grid.addWidget(label, row, 0)
            grid.addWidget(field, row, 1)
            self.fields.append(field)
        column.addLayout(grid)
        self.told = PlainLabel()
        self.told.setWordWrap(True)
        column.addWidget(self.told)
        row_of_buttons = QHBoxLayout()
        self.make = QPushButton(tr("Make it from these sizes"))
        self.make.clicked.connect(self._make)
        self.take = QPushButton(tr("Take the nearest of the shelf"))
        self.take.clicked.connect(self._take)
        row_of_buttons.addWidget(self.make)
        row_of_buttons.addWidget(self.take)
        row_of_buttons.addStretch(1)
        column.addLayout(row_of_buttons)
        column.addStretch(1)
        self._shelf: dict[str, dict[str, float]] = {}
        self.found: tuple[Nearest, ...] = ()

    def open(self) -> None:
        """Show it over the bench, the cursor in the first size."""
        if not self._shelf:
            self._shelf = {key: shelf.sizes(key) for key in shelf.turbo_names()}
        self._look()
        self.lay(20, 44, 20, 20, self.fields[0])

    def _typed(self, field: QuantityField, value: Quantity) -> None:
        field.set_quantity(value)
        self._look()

    def _measured(self) -> dict[str, float]:
        """Diameters in m that were typed, by the name that identifies them."""
        return {
            key: field.quantity.si
            for field, (_, key, _) in zip(self.fields, FIELDS, strict=True)
            if key and field.quantity is not None and field.quantity.known != UNKNOWN
        }

    def _wheels(self) -> Wheels | None:
        one, two = (field.quantity for field in self.fields[:2])
        if one is None or two is None:
            return None
        return Wheels(inducer=one, exducer=two)

    def _look(self) -> None:
        """Tell what the sizes say: trim, faults, what on the shelf is nearest."""
        wheels = self._wheels()
        lines, fault = [], ""
        if wheels is not None:
            try:
                check_wheel(wheels.inducer.si, wheels.exducer.si)
                lines.append(told("Trim {0:.0f}.", trim(wheels.inducer.si, wheels.exducer.si)))
            except ValueError as error:
                fault = reason(error)
                lines.append(fault[0].upper() + fault[1:] + ".")
        turbine = self._turbine()
        if turbine.exducer.si >= turbine.wheel.si and turbine.exducer.known == turbine.wheel.known == SAID:
            fault = tr("The turbine's exducer is smaller than its wheel.")
            lines.append(fault)
        measured = self._measured()
        self.found = identify(measured, self._shelf) if measured else ()
        lines += [self._near(near, measured) for near in self.found[:SHOWN]]
        self.told.setText("\n".join(lines))
        self.make.setEnabled(wheels is not None and not fault)
        self.take.setEnabled(bool(self.found))

    def _near(self, near: Nearest, measured: Mapping[str, float]) -> str:
        """One turbo of the shelf beside what was measured: what fits, and by how much the rest does
        not."""
        name = shelf.turbo_map(near.key).name
        off = []
        for key in measured:
            if key not in near.off:
                continue
            if abs(near.off[key]) <= WORN * measured[key]:
                off.append(told("{0} fits", tr(_WORDS[key])))
            else:
                sign = "+" if near.off[key] > 0.0 else "−"
                off.append(told("{0} {1}{2:.1f} mm", tr(_WORDS[key]), sign, 1e3 * abs(near.off[key])))
        head = tr("{0} (invented) is the same: {1}.") if near.fits else tr("{0} (invented): {1}.")
        return head.format(name, ", ".join(off))

    def _turbine(self) -> Turbine:
        values = {
            name: field.quantity
            for field, (name, _, model) in zip(self.fields, FIELDS, strict=True)
            if model is Turbine and field.quantity is not None
        }
        return Turbine.model_validate({**values, "efficiency": "?"})

    def _make(self) -> None:
        wheels = self._wheels()
        if wheels is None:
            return
        try:
            name = self.name.text().strip() or tr("Turbo in the hand")
            turbo = Turbo.of_wheels(wheels, "in-hand", name, self._turbine())
        except ValueError as error:
            self.told.setText(reason(error))
            return
        self.hide()
        self.made.emit(turbo)

    def _take(self) -> None:
        if self.found:
            self.hide()
            self.taken.emit(self.found[0].key)

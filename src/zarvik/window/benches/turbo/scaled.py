"""A map scaled to a wheel of another size: similarity, and marked as such."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QWidget

from zarvik.core.common.constants import STANDARD_ATMOSPHERE
from zarvik.core.compressor.measured import scaled
from zarvik.core.stock.sizes import openings
from zarvik.formats import shipped
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.parts.part import field_meta
from zarvik.project.document.parts.turbo import Turbo, Wheels
from zarvik.project.language.language import reason, tr, tr_format
from zarvik.project.units.units import Quantity
from zarvik.window.desk import Desk
from zarvik.window.parts.overlay import Overlay
from zarvik.window.parts.plain_label import Paragraph, PlainLabel
from zarvik.window.parts.quantity_field import QuantityField


class ScaledMap(Overlay):
    """Over the bench; `made` carries a turbo whose map is scaled from the chosen one."""

    made = Signal(object)

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, tr("Scale this map to another wheel"), 7)
        self.text.setText(
            tr(
                "For a wheel of the same shape: efficiency stays at equal tip speed ratio, flow follows the square "
                "of the size, speed its inverse. Good to 4 % of flow and 2 points; marked everywhere."
            )
        )
        grid = QGridLayout()
        grid.setColumnStretch(2, 1)
        meta = field_meta(Wheels, "inducer")
        assert isinstance(meta, QuantitySpec)
        self.fields: list[QuantityField] = []
        for row, title in enumerate((tr("Inducer of this map's wheel"), tr("Inducer of the other wheel"))):
            field = QuantityField(meta, lambda: STANDARD_ATMOSPHERE)
            field.setFixedWidth(150)
            field.edited.connect(lambda value, f=field: self._typed(f, value))
            field.setAccessibleName(title)
            label = PlainLabel(title)
            label.setBuddy(field)
            grid.addWidget(label, row, 0)
            grid.addWidget(field, row, 1)
            self.fields.append(field)
        self.column.addLayout(grid)
        self.message = Paragraph()
        self.column.addWidget(self.message)
        buttons = QHBoxLayout()
        self.make = QPushButton(tr("Add the scaled candidate"))
        self.make.clicked.connect(self._make)
        buttons.addWidget(self.make)
        buttons.addStretch(1)
        self.column.addLayout(buttons)
        self.column.addStretch(1)

    def open(self) -> None:
        """Show it over the bench, with the inducer of the chosen turbo as far as it is known."""
        chosen = self.desk.project.chosen
        if chosen is None:
            return
        self.fields[0].set_quantity(Quantity(round(1e3 * self._own(chosen), 1), "mm", "length"))
        self._look()
        self.lay(20, 44, 20, 20, self.fields[1])

    @staticmethod
    def _own(turbo: Turbo) -> float:
        """Inducer in m: measured, of the catalogue, else from the flow of the map."""
        if turbo.wheels is not None:
            return turbo.wheels.inducer.si
        if turbo.id in shipped.turbo_names() and turbo.name == shipped.turbo_title(turbo.id):
            return shipped.sizes(turbo.id)["inducer"]
        return openings(float(turbo.chart.lines[-1].flow[-1]))[0]

    def _typed(self, field: QuantityField, value: Quantity) -> None:
        field.set_quantity(value)
        self._look()

    def _scaled(self) -> Turbo | None:
        """The scaled turbo; None while a size is missing. Raises ValueError where a map says nothing."""
        chosen = self.desk.project.chosen
        own, other = (f.quantity for f in self.fields)
        if chosen is None or own is None or other is None:
            return None
        factor = other.si / own.si
        name = tr_format("{0} × {1:.2f}", chosen.name, factor)[:80]
        chart = scaled(chosen.chart, factor, name)
        return Turbo.of(chart, "scaled", tr_format("Scaled from {0}", chosen.name), estimated="scaled")

    def _look(self) -> None:
        words = ""
        try:
            turbo = self._scaled()
        except ValueError as error:
            turbo, words = None, reason(error)
        if turbo is not None:
            chart = turbo.chart
            words = tr_format(
                "{0}: up to {1} and {2}",
                turbo.name,
                self.desk.text(chart.lines[-1].flow[-1], "mass_flow"),
                self.desk.text(chart.maximum_speed, "rotation"),
            )
        self.message.setText(words)
        self.make.setEnabled(turbo is not None)

    def _make(self) -> None:
        try:
            turbo = self._scaled()
        except ValueError as error:
            self.message.setText(reason(error))
            return
        if turbo is not None:
            self.hide()
            self.made.emit(turbo)

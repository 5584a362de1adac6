"""A turbo from what one can hold in the hand: sizes typed, the nearest of the catalogue beside them."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QWidget

from zarvik.core.common.constants import STANDARD_ATMOSPHERE
from zarvik.core.compressor.measured import TRIMS, WORN, NearestTurbo, TurboMounting, check_wheel, identify, inducer_of, trim
from zarvik.formats import shipped
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import field_meta
from zarvik.project.document.parts.turbo import Fit, Turbine, Turbo, Wheels
from zarvik.project.language.language import reason, tr, tr_format
from zarvik.project.language.plain import opening
from zarvik.project.units.rendering import ruled
from zarvik.project.units.units import SAID, UNKNOWN, EntryError, Quantity, parse
from zarvik.window.desk import Desk
from zarvik.window.parts.overlay import Overlay
from zarvik.window.parts.plain_label import Paragraph, PlainLabel
from zarvik.window.parts.quantity_field import QuantityField

SHOWN = 3  # turbos of the catalogue that are named
# What is typed, the name that identifies it, and where it stands in the document.
FIELDS: tuple[tuple[str, str, type[Wheels] | type[Turbine]], ...] = (
    ("inducer", "inducer", Wheels),
    ("exducer", "exducer", Wheels),
    ("wheel", "turbine_wheel", Turbine),
    ("exducer", "turbine_exducer", Turbine),
    ("housing", "", Turbine),
)
_WORDS = {
    "inducer": "inducer",
    "exducer": "exducer",
    "turbine_wheel": "turbine wheel",
    "turbine_exducer": "turbine exducer",
    "flange": "flange",
    "bolts": "bolts",
    "gate": "gate",
    "cooling": "bearings",
    "donor": "donor",
}


class MeasuredWheels(Overlay):
    """Over the bench; `made` carries a turbo with an estimated map, `taken` the key of one of the catalogue."""

    made = Signal(object)
    taken = Signal(str)

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, tr("A turbo from its wheels"), 7)
        column = self.column
        self.text.setText(
            tr(
                "Measure across two opposite blades. The compressor's two diameters are enough: the map is then "
                "estimated, and marked so everywhere; what you leave open of the turbine is estimated too."
            )
        )
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
            assert isinstance(meta, QuantitySpec)
            field = QuantityField(meta, lambda: STANDARD_ATMOSPHERE)
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
        self._more(grid)
        column.addLayout(grid)
        self.message = Paragraph()
        column.addWidget(self.message)
        row_of_buttons = QHBoxLayout()
        self.make = QPushButton(tr("Make it from these sizes"))
        self.make.clicked.connect(self._make)
        self.take = QPushButton(tr("Use the nearest catalogue turbo"))
        self.take.clicked.connect(self._take)
        row_of_buttons.addWidget(self.make)
        row_of_buttons.addWidget(self.take)
        row_of_buttons.addStretch(1)
        column.addLayout(row_of_buttons)
        column.addStretch(1)
        self._catalogue: dict[str, dict[str, float]] = {}
        self._fits: dict[str, TurboMounting] = {}
        self.found: tuple[NearestTurbo, ...] = ()

    def _more(self, grid: QGridLayout) -> None:
        """In columns of their own: the trim in the place of the inducer, and what it is bolted to."""
        self.trim = QLineEdit()
        self.trim.setMaxLength(20)
        self.trim.setFixedWidth(150)
        self.trim.setPlaceholderText(tr("as 55, instead of the inducer"))
        self.trim.textEdited.connect(lambda _: self._trimmed())
        self.bolts = QuantityField(self._meta("bolts"), lambda: STANDARD_ATMOSPHERE)
        self.bolts.setFixedWidth(150)
        self.bolts.setPlaceholderText(tr("as 71 mm"))
        self.bolts.edited.connect(lambda value: self._typed(self.bolts, value))
        self.choices: dict[str, QComboBox] = {}
        self.donor = QLineEdit()
        self.donor.setMaxLength(120)
        self.donor.setFixedWidth(150)
        self.donor.setPlaceholderText(tr("as 2.0 L petrol saloon"))
        self.donor.textEdited.connect(lambda _: self._look())
        rows: list[tuple[str, QWidget]] = [(tr("Trim"), self.trim)]
        for name in ("flange", "gate", "cooling"):
            meta = field_meta(Fit, name)
            assert isinstance(meta, Choice)
            box = QComboBox()
            box.setFixedWidth(150)
            for key, title in meta.options():
                box.addItem(tr(title), key)
            box.activated.connect(lambda _: self._look())
            self.choices[name] = box
            rows.append((tr(meta.title), box))
        rows[2:2] = [(tr("Inlet flange bolt spacing"), self.bolts)]
        rows.append((tr("Donor vehicle"), self.donor))
        for row, (title, widget) in enumerate(rows):
            label = PlainLabel(title)
            label.setBuddy(widget)
            widget.setAccessibleName(title)
            grid.addWidget(label, row, 3)
            grid.addWidget(widget, row, 4)

    @staticmethod
    def _meta(name: str) -> QuantitySpec:
        found = field_meta(Fit, name)
        assert isinstance(found, QuantitySpec)
        return found

    def _trimmed(self) -> None:
        """The trim and the exducer make the inducer."""
        exducer = self.fields[1].quantity
        try:
            value = parse(self.trim.text(), "number").si
        except EntryError:
            return
        if exducer is None or not TRIMS[0] <= value <= TRIMS[1]:
            return
        meta = field_meta(Wheels, "inducer")
        assert isinstance(meta, QuantitySpec)
        inducer = Quantity(round(1e3 * inducer_of(value, exducer.si), 1), "mm", "length")
        try:
            self.fields[0].set_quantity(meta.check(inducer))
        except EntryError as error:
            self.message.setText(str(error))
            return
        self._look()

    def _fit(self) -> TurboMounting:
        """What was said of flange, gate, bearings and donor."""
        bolts = self.bolts.quantity
        return TurboMounting(
            self.choices["flange"].currentData() or "",
            bolts.si if bolts is not None else 0.0,
            self.choices["gate"].currentData() or "",
            self.choices["cooling"].currentData() or "",
            self.donor.text(),
        )

    def open(self) -> None:
        """Show it over the bench, the cursor in the first size."""
        if not self._catalogue:
            self._catalogue = {key: shipped.sizes(key) for key in shipped.turbo_names()}
            self._fits = {key: shipped.fits(key) for key in shipped.turbo_names()}
        self._look()
        self.lay(20, 44, 20, 20, self.fields[0])

    def _typed(self, field: QuantityField, value: Quantity) -> None:
        field.set_quantity(value)
        if field is self.fields[1] and self.trim.text().strip():
            self._trimmed()
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
        """Tell what the sizes say: trim, faults, what in the catalogue is nearest."""
        wheels = self._wheels()
        lines, fault = [], ""
        if wheels is not None:
            try:
                check_wheel(wheels.inducer.si, wheels.exducer.si)
                lines.append(tr_format("Trim {0:.0f}.", trim(wheels.inducer.si, wheels.exducer.si)))
            except ValueError as error:
                fault = reason(error)
                lines.append(opening(fault) + ".")
        turbine = self._turbine()
        if turbine.exducer.si >= turbine.wheel.si and turbine.exducer.known == turbine.wheel.known == SAID:
            fault = tr("The turbine exducer is smaller than its wheel.")
            lines.append(fault)
        measured = self._measured()
        said = self._fit()
        self.found = identify(measured, self._catalogue, said, self._fits) if measured or said != TurboMounting() else ()
        lines += [self._near(near, measured) for near in self.found[:SHOWN]]
        self.message.setText("\n".join(lines))
        self.make.setEnabled(wheels is not None and not fault)
        self.take.setEnabled(bool(self.found))

    def _near(self, near: NearestTurbo, measured: Mapping[str, float]) -> str:
        """One turbo of the catalogue beside what was measured: what fits, and by how much the rest does
        not."""
        name = shipped.turbo_title(near.key)
        off = []
        for key in measured:
            if key not in near.off:
                continue
            if abs(near.off[key]) <= WORN * measured[key]:
                off.append(tr_format("{0} fits", tr(_WORDS[key])))
            else:
                sign = "+" if near.off[key] > 0.0 else "−"
                off.append(f"{tr(_WORDS[key])} {sign}{ruled(abs(near.off[key]), self.desk.project.shown_units)}")
        off += [tr_format("{0} fits", tr(_WORDS[name])) for name in near.alike]
        off += [tr_format("other {0}", tr(_WORDS[name])) for name in near.unlike]
        head = tr("{0} (invented) is the same: {1}.") if near.fits else tr("{0} (invented): {1}.")
        return head.format(name, ", ".join(off))

    def _turbine(self) -> Turbine:
        values = {
            name: field.quantity
            for field, (name, _, model) in zip(self.fields, FIELDS, strict=True)
            if model is Turbine and field.quantity is not None
        }
        return Turbine.model_validate({**values, "efficiency": "?", "inertia": "?"})

    def _make(self) -> None:
        wheels = self._wheels()
        if wheels is None:
            return
        try:
            name = self.name.text().strip() or tr("Turbo in the hand")
            said = self._fit()
            bolts = self.bolts.quantity or self._meta("bolts").read("0 mm")
            fit = Fit(flange=said.flange, bolts=bolts, gate=said.gate, cooling=said.cooling, donor=said.donor)
            made = Turbo.of_wheels(wheels, "in-hand", name, self._turbine())
            turbo = made.model_copy(update={"fit": fit})
        except ValueError as error:
            self.message.setText(reason(error))
            return
        self.hide()
        self.made.emit(turbo)

    def _take(self) -> None:
        if self.found:
            self.hide()
            self.taken.emit(self.found[0].key)

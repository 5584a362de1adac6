"""Forms from the document's own field metadata."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QBoxLayout, QComboBox, QGridLayout, QLabel, QToolButton, QWidget

from zarvik.project.document.belonging import belongs
from zarvik.project.document.fields import Choice, FieldMeta, QuantitySpec, TextSpec
from zarvik.project.edits import edits
from zarvik.project.language.language import tr
from zarvik.project.units.units import EntryError, Quantity
from zarvik.window.desk import Desk
from zarvik.window.parts.plain_label import PlainLabel
from zarvik.window.parts.plain_tips import plain_tip
from zarvik.window.parts.quantity_field import QuantityField, ScrubLabel
from zarvik.window.parts.words_field import WordsField
from zarvik.window.parts.wrapping import width

ASSUMED = "≈ "
ESTIMATED = "≈ estimated for you: what you type replaces it"
ARROW = 36  # px of a choice that are not its text


class Form(QWidget):
    """Rows of label and entry for `places` of the document, under a `heading`; `label_width` and the room for an
    entry, `room`, in px. A choice whose longest words have no room beside its label stands under
    it."""

    def __init__(
        self, desk: Desk, places: Iterable[str], *, label_width: int = 150, room: int = 116, heading: QLabel | None = None
    ) -> None:
        super().__init__()
        self.desk = desk
        self.fields: dict[str, QuantityField | QComboBox | WordsField] = {}
        self._labels: dict[str, QLabel] = {}
        self._assumed: set[str] = set()
        self._empty = False
        self._blown: bool | None = None  # what the rows that are shown belong to
        self._hidden: set[str] = set()  # rows that do not count in this document
        self.heading = heading  # hidden with the last row
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(5)
        found = {place: edits.meta(desk.project, place) for place in places}
        self._model = {place for place, meta in found.items() if isinstance(meta, QuantitySpec) and meta.model}
        # Behind the others, under their button.
        for row, place in enumerate(sorted(found, key=lambda place: place in self._model)):
            row += place in self._model
            label, field, longest = self._entry(place, found[place])
            beside = longest + ARROW <= room
            self._labels[place], self.fields[place] = label, field
            label.setWordWrap(True)
            label.setFixedWidth(label_width if beside else label_width + room)
            label.setAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
            grid.addWidget(label, 2 * row, 0, 1, 1 if beside else 2)
            grid.addWidget(field, *((2 * row, 1) if beside else (2 * row + 1, 0, 1, 2)))
        self.details = QToolButton()
        self.details.setObjectName("quiet")
        self.details.setToolTip(plain_tip(tr("Figures of the calculation that no garage measures; the program estimates them")))
        self.details.clicked.connect(lambda _=False: self.unfold(not self.unfolded))
        grid.addWidget(self.details, 2 * (len(found) - len(self._model)), 0, 1, 2, Qt.AlignmentFlag.AlignLeft)
        self.unfold(False)
        self.refresh()

    def _entry(self, place: str, meta: FieldMeta | None) -> tuple[QLabel, QuantityField | QComboBox | WordsField, float]:
        """Label and field of an entry, and the px of the longest words that the field has to show."""
        if isinstance(meta, QuantitySpec):
            field = QuantityField(meta, lambda: self.desk.ambient, origin=partial(self.desk.origin, place), shown=self.desk.unit)
            field.edited.connect(lambda value: self._edited(place, value))
            field.sealed.connect(self.desk.session.history.seal)
            return ScrubLabel(self._title(meta), field), field, 0.0
        if isinstance(meta, Choice):
            box = QComboBox()
            box.setAccessibleName(tr(meta.title))
            box.setToolTip(plain_tip(tr(meta.help) if meta.help else ""))
            for key, title in meta.options():
                box.addItem(tr(title), key)
            box.setMinimumContentsLength(8)
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.activated.connect(lambda _: self._chosen(place, box.currentData()))
            label = PlainLabel(tr(meta.title))
            label.setBuddy(box)
            return label, box, max(width(tr(title)) for _, title in meta.options())
        if isinstance(meta, TextSpec):
            line = WordsField(meta)
            line.edited.connect(lambda value: self._edited(place, value))
            line.sealed.connect(self.desk.session.history.seal)
            label = PlainLabel(tr(meta.title))
            label.setBuddy(line)
            return label, line, 0.0
        raise TypeError(f"{place} is no field of a form")

    @staticmethod
    def _title(meta: QuantitySpec) -> str:
        gauge = {"pressure_gauge": " (gauge)", "pressure_absolute": " (abs)"}
        return tr(meta.title) + (tr(gauge[meta.kind]) if meta.kind in gauge else "")

    def _edited(self, place: str, value: Quantity | str) -> None:
        try:
            self.desk.edit(place, value, merge_key=f"field:{place}")
        except EntryError as error:
            field = self.fields[place]
            if not isinstance(field, QComboBox):
                field.refuse(str(error))

    def _chosen(self, place: str, key: str) -> None:
        self.desk.session.history.seal()
        self.desk.edit(place, key)
        self.desk.session.history.seal()

    def show_row(self, place: str, shown: bool) -> None:
        """Show or hide the row of one entry: what does not count is not asked for."""
        (self._hidden.discard if shown else self._hidden.add)(place)
        self._show(place)
        self._name_details()

    @property
    def asked(self) -> list[str]:
        """Places whose rows count in this document, folded away or not."""
        return [place for place in self.fields if place not in self._hidden and belongs(self.desk.project, place)]

    def _show(self, place: str) -> None:
        shown = place not in self._hidden and (self.unfolded or place not in self._model) and belongs(self.desk.project, place)
        for widget in (self._labels[place], self.fields[place]):
            if widget.isHidden() == shown:
                widget.setVisible(shown)

    def _name_details(self) -> None:
        count = len(self._model.intersection(self.asked))
        self.details.setVisible(count > 0)
        self.details.setText(("▾ " if self.unfolded else "▸ ") + tr("Model details ({0})").format(count))

    def _show_what_belongs(self) -> None:
        """The build has another charger: other rows belong to it, or none."""
        for place in self.fields:
            self._show(place)
        self._name_details()
        empty = not self.asked
        # Only what went is shown again: a form that stands in no column yet would be a window of its own
        if empty or self._empty:
            for widget in (self, self.heading):
                if widget is not None:
                    widget.setHidden(empty)
        self._empty = empty

    def unfold(self, unfolded: bool) -> None:
        """Show or fold away the figures of the model."""
        self.unfolded = unfolded
        for place in self._model:
            self._show(place)
        self._name_details()

    def reveal(self, place: str) -> None:
        """Unfold the figures of the model where the entry is one of them."""
        if place in self._model and not self.unfolded:
            self.unfold(True)

    def _stands(self, place: str) -> bool:
        """Is there a value at a place? An empty field is no estimate."""
        value, meta = edits.get(self.desk.project, place), edits.meta(self.desk.project, place)
        return bool(meta.written(value)) if isinstance(meta, QuantitySpec) else value != ""

    def refresh(self) -> None:
        """Show what stands in the document."""
        assumed = {place for place in set(self.desk.project.assumed) & self._labels.keys() if self._stands(place)}
        for place in assumed ^ self._assumed:
            # A sign and words, not a colour: nobody has said this, the program made it up.
            label, field = self._labels[place], self.fields[place]
            plain = label.text().removeprefix(ASSUMED)
            label.setText(ASSUMED + plain if place in assumed else plain)
            if not isinstance(label, ScrubLabel):
                label.setToolTip(plain_tip(tr(ESTIMATED)) if place in assumed else "")
            if isinstance(field, QuantityField):
                field.assumed(place in assumed)
        self._assumed = assumed
        if self._blown != self.desk.project.blower.fitted:
            self._blown = self.desk.project.blower.fitted
            self._show_what_belongs()
        for place, field in self.fields.items():
            value = edits.get(self.desk.project, place)
            if isinstance(field, QuantityField):
                field.set_quantity(value)
            elif isinstance(field, WordsField):
                field.set_words(value)
            else:
                field.setCurrentIndex(max(field.findData(value), 0))


def titled(column: QBoxLayout, title: str, desk: Desk, places: Sequence[str], **sizes: int) -> Form:
    """A form under its title in a column; both go where none of its `places` belongs to the build. `sizes` px as of a `Form`."""
    head = heading(title)
    form = Form(desk, places, heading=head, **sizes)
    column.addWidget(head)
    column.addWidget(form)
    return form


def heading(text: str) -> QLabel:
    """The title of a group."""
    label = PlainLabel(text)
    label.setObjectName("group")
    return label

"""Runs and their pieces as a list: what each is, its length or bend, whether its end meets."""

from __future__ import annotations

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPainter
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from zarvik.project.language.language import tr
from zarvik.window.benches.layout.presenter import Row
from zarvik.window.parts.error_guard import guarded
from zarvik.window.parts.marks import draw_state
from zarvik.window.theme.palette import current
from zarvik.window.theme.style import font

AnyIndex = QModelIndex | QPersistentModelIndex


class RunModel(QAbstractListModel):
    """Rows of the presenter."""

    def __init__(self) -> None:
        super().__init__()
        self.items: list[Row] = []

    def rowCount(self, parent: AnyIndex = QModelIndex()) -> int:
        """Number of rows."""
        return 0 if parent.isValid() else len(self.items)

    def data(self, index: AnyIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """The words of a row, for readers of the screen."""
        if index.isValid() and role == Qt.ItemDataRole.DisplayRole:
            return self.items[index.row()].title
        if index.isValid() and role == Qt.ItemDataRole.AccessibleDescriptionRole:
            row = self.items[index.row()]
            return ", ".join(w for w in (row.figures, tr(row.state) if row.state else "") if w)
        return None

    def fill(self, items: list[Row]) -> None:
        """Take new rows; a change of figures alone keeps selection and scroll."""
        if [r.id for r in items] == [r.id for r in self.items]:
            self.items = items
            if items:
                self.dataChanged.emit(self.index(0), self.index(len(items) - 1))
        else:
            self.beginResetModel()
            self.items = items
            self.endResetModel()


class _Delegate(QStyledItemDelegate):
    """Paints a row."""

    def sizeHint(self, option: QStyleOptionViewItem, index: AnyIndex) -> QSize:
        """Rows of one height."""
        return QSize(200, 22)

    @guarded
    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: AnyIndex) -> None:
        """A head or a piece."""
        model = index.model()
        if not isinstance(model, RunModel):
            return
        row, p, r = model.items[index.row()], current(), QRectF(option.rect)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        head = row.kind == "head"
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(r, QColor(p.accent_soft))
            painter.fillRect(QRectF(r.left(), r.top(), 3, r.height()), QColor(p.accent))
        elif head:
            painter.fillRect(r, QColor(p.ground))
        right = r.right() - 6
        if row.state:
            draw_state(painter, QRectF(right - 11, r.top() + 5, 11, 11), row.state)
            right -= 16
        painter.setFont(font(12 if not head else 13))
        painter.setPen(QColor(p.soft if head else p.ink))
        wide = painter.fontMetrics().horizontalAdvance(row.figures) + 2
        painter.drawText(
            QRectF(right - wide, r.top(), wide, r.height()), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, row.figures
        )
        painter.setFont(font(13, strong=head))
        painter.setPen(QColor(p.ink))
        left = r.left() + (7 if head else 14)
        room = right - wide - 6 - left
        text = painter.fontMetrics().elidedText(row.title, Qt.TextElideMode.ElideRight, int(room))
        painter.drawText(QRectF(left, r.top(), room, r.height()), Qt.AlignmentFlag.AlignVCenter, text)
        painter.restore()


class RunList(QListView):
    """The list; Delete takes a piece out, Alt+Up and Alt+Down move it, Insert adds one behind it."""

    row_chosen = Signal(str)
    removal_wanted = Signal(str)
    move_wanted = Signal(str, int)
    new_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.rows = RunModel()
        self.setModel(self.rows)
        self.setItemDelegate(_Delegate())
        self.setUniformItemSizes(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(tr("Runs and their pieces"))
        self.selectionModel().currentChanged.connect(self._changed)
        self._silent = False

    def _changed(self, now: QModelIndex, before: QModelIndex) -> None:
        if now.isValid() and not self._silent:
            self.row_chosen.emit(self.rows.items[now.row()].id)

    @property
    def chosen(self) -> Row | None:
        """The chosen row."""
        index = self.currentIndex()
        return self.rows.items[index.row()] if index.isValid() and index.row() < len(self.rows.items) else None

    def choose(self, key: str) -> None:
        """Choose the row of a piece without telling anybody."""
        for i, row in enumerate(self.rows.items):
            if row.id == key:
                self._silent = True
                self.setCurrentIndex(self.rows.index(i))
                self.scrollTo(self.rows.index(i))
                self._silent = False
                return

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The list's keys."""
        row = self.chosen
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        if row is not None and row.kind != "head" and event.key() == Qt.Key.Key_Delete:
            self.removal_wanted.emit(row.id)
        elif row is not None and alt and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.move_wanted.emit(row.id, -1 if event.key() == Qt.Key.Key_Up else 1)
        elif event.key() == Qt.Key.Key_Insert:
            self.new_wanted.emit()
        else:
            super().keyPressEvent(event)

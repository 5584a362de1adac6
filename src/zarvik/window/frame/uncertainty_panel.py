"""How well the answers are known: their bands, what these are made of, and what to find out first."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from zarvik.core.uncertainty.bands import POWER, THRESHOLD, Bands
from zarvik.project.document.places import get
from zarvik.project.language.language import tr, tr_format
from zarvik.project.uncertainty.uncertainty import WorthMeasuring, worth_measuring
from zarvik.project.units.rendering import entry_text, words
from zarvik.window.desk import Desk
from zarvik.window.parts.figure_text import FigureText
from zarvik.window.parts.form import heading

MOST = 12  # entries that are listed
SHARES = 7  # inputs that a band is taken apart into


class UncertaintyPanel(QScrollArea):
    """A leaf of sentences; an entry that is named leads to its field, a figure to its calculation."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setObjectName("panel")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName(tr("Uncertainty"))
        inside = QWidget()
        inside.setObjectName("panel")
        inside.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.column = QVBoxLayout(inside)
        self.column.setContentsMargins(12, 8, 10, 8)
        self.column.setSpacing(7)
        self.bands = FigureText(desk, "plain")
        self.first = heading(tr("Measure first"))
        self.made = heading(tr("What makes the power uncertain"))
        self.shares = FigureText(desk, "plain")
        for head in (self.first, self.made):
            head.setWordWrap(True)
        self.rows: list[FigureText] = []
        for widget in (self.bands, self.first):
            self.column.addWidget(widget)
        self._before = self.column.count()
        self.column.addWidget(self.made)
        self.column.addWidget(self.shares)
        self.column.addStretch(1)
        self.setWidget(inside)
        desk.checks_changed.connect(self._news)

    def _news(self) -> None:
        if self.isVisible():
            self.refresh()

    def showEvent(self, event: QShowEvent) -> None:
        """What went by while it was hidden is taken up."""
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Tell of the newest bands; an answer to another document has entries that this one may not have."""
        answer = self.desk.answer
        if answer is not None and not self.desk.current:
            return
        bands = answer.bands if answer is not None else None
        for widget in (self.first, self.made, self.shares):
            widget.setVisible(bands is not None)
        if answer is None or bands is None or not answer.target.closure.solved:
            self.bands.say(tr("Uncertainty appears when the design is solved."))
            self._list(())
            return
        lines = [tr("95 % range")]
        for name, value, kind, key in (
            (POWER, answer.target.power, "power", "power"),
            (THRESHOLD, answer.case.threshold, "rotation", "threshold"),
            ("charge", answer.target.charge, "temperature", "temperature:plenum"),
            ("gas", answer.target.stations["turbine_inlet"].temperature, "temperature", "temperature:turbine_inlet"),
        ):
            line = self._line(bands, name, value, kind, key)
            if line:
                lines.append(line)
        self.bands.say("\n".join(lines))
        found = worth_measuring(self.desk.project, answer, bands)
        titles = {v.id: tr(v.title) for v in answer.check_results}
        self._list([self._row(u, titles) for u in found[:MOST]])
        self.shares.say(self._shares(bands))

    def _line(self, bands: Bands, name: str, value: float, kind: str, key: str) -> str:
        band = bands.of(name)
        if band is None or value != value:
            return ""
        gas = tr("Exhaust gas temperature") if self.desk.project.blower.fitted else tr("Turbine inlet temperature")
        titles = {POWER: tr("Power"), THRESHOLD: tr("Full boost from"), "charge": tr("Charge"), "gas": gas}
        shown, low, high = (self.desk.text(v, kind) for v in (value, value - band.below, value + band.above))
        if low == high:
            # Where the controller lets full boost in, no entry moves it
            return tr_format("{0} [{1}|{2}]: set by the controller", titles[name], key, shown)
        return tr_format("{0} [{1}|{2}]: {3} to {4}", titles[name], key, shown, low, high)

    def _row(self, unknown: WorthMeasuring, titles: dict[str, str]) -> str:
        say = self.desk.text
        now = get(self.desk.project, unknown.place)
        text = tr_format("[={0}|{1}] ({2}): ", unknown.place, tr(unknown.title), entry_text(now))
        gains = []
        if unknown.power >= 500.0:
            gains.append(tr_format("narrows power by {0}", say(unknown.power, "power")))
        if unknown.threshold >= 5.0:
            gains.append(tr_format("full boost by {0}", say(unknown.threshold, "rotation")))
        if unknown.decides:
            gains.append(tr_format("decides {0}", ", ".join(titles.get(v, v) for v in unknown.decides)))
        text += "; ".join(gains) if gains else tr("negligible")
        return f"{text}.\n{tr(unknown.measure)}."

    def _shares(self, bands: Bands) -> str:
        band = bands.of(POWER)
        if band is None or band.half <= 0.0:
            return ""
        parts = []
        for shift in bands.shifts:
            size = 0.5 * (abs(shift.down.get(POWER, 0.0)) + abs(shift.up.get(POWER, 0.0)))
            parts.append((size, shift.lever))
        parts.sort(key=lambda p: -p[0])
        units = self.desk.project.shown_units
        lines = []
        for size, lever in parts[:SHARES]:
            if size < 50.0:
                break
            title = tr(lever.title)
            if lever.about and "_table" not in lever.about and lever.about != "engine.stock_torque":
                title = f"[={lever.about}|{title}]"
            step = words(lever.step, units)
            lines.append(f"{title} {step}: ±{self.desk.text(size, 'power', places=1)}")
        lines.append(tr_format("{0:.0f} % comes from the model itself; entries cannot narrow that.", 100.0 * band.own))
        return "\n".join(lines)

    def _list(self, texts: list[str] | tuple[str, ...]) -> None:
        if not texts and not self.first.isHidden():
            texts = [tr("Every entry that matters is measured as well as a garage can.")]
        while len(self.rows) < len(texts):
            row = FigureText(self.desk, "plain")
            self.column.insertWidget(self._before + len(self.rows), row)
            self.rows.append(row)
        for row, text in zip(self.rows, texts, strict=False):
            row.say(text)
            row.show()
        for row in self.rows[len(texts) :]:
            row.hide()

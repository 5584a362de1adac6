"""The page of radiator, fan, and water through the turbo."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from zarvik.core.recommendations import COOLING
from zarvik.project.language.language import tr
from zarvik.project.units.units import unit_of
from zarvik.window.benches.wastegate_exhaust.towing.charts import Curve, HeatChart
from zarvik.window.desk import Desk
from zarvik.window.parts.entries_page import EntriesPage
from zarvik.workspace.job_store import DONE, JobResult
from zarvik.workspace.jobs import ROAD_SPEEDS, SHARES, RadiatorShares, radiator_shares_of

RADIATOR = (
    "radiator.width",
    "radiator.height",
    "radiator.thickness",
    "radiator.fins",
    "radiator.mounting",
    "radiator.grille_opening",
    "radiator.fan_flow",
    "radiator.intercooler_position",
    "fittings.full_load_share",
    "radiator.condenser",
    "radiator.coolant_flow",
)
COOLANT = ("turbo_coolant.connection", "turbo_coolant.bore", "turbo_coolant.length", "turbo_coolant.return_height")
JUDGED = ("radiator", "radiator_town", "radiator_hill", "turbo_water", "barrier")


class CoolingPage(EntriesPage):
    """The engine's water."""

    def __init__(self, home: QWidget, desk: Desk) -> None:
        super().__init__(
            home,
            desk,
            COOLING,
            tr("Results for radiator and coolant"),
            ((tr("Radiator"), RADIATOR), (tr("Turbo coolant"), COOLANT)),
            JUDGED,
            tr("Enter the radiator core (width, height, thickness) or the turbo's coolant hoses: results appear here"),
            tr("Never open a hot radiator cap. Fans start by themselves."),
        )

    def above(self, right: QVBoxLayout) -> None:
        """What it carries over road speed."""
        self.chart = HeatChart(tr("Sustainable share of full load"))
        right.addWidget(self.chart)
        self.desk.job_changed.connect(self._hear)

    def refresh(self) -> None:
        """The chart follows too."""
        super().refresh()
        answer = self.desk.answer
        shown = answer is not None and answer.build.radiator.core is not None and bool(answer.case.solved)
        self.chart.setVisible(shown)
        if answer is not None and shown:
            self._take(self.desk.ask(radiator_shares_of(answer)))

    def missing(self) -> str:
        """A blower has no water hoses."""
        core = tr("Enter the radiator core (width, height, thickness): results appear here")
        return core if self.desk.project.blower.fitted else super().missing()

    def _hear(self, reply: JobResult) -> None:
        answer = self.desk.answer
        if reply.key == SHARES and self.isVisible() and answer is not None and reply.job.of is answer.solver:
            self._take(reply)

    def _take(self, reply: JobResult) -> None:
        if reply.state != DONE:
            return
        found: RadiatorShares = reply.value
        unit = self.desk.project.shown_units["road_speed"]
        each = unit_of("road_speed", unit).factor
        xs = tuple(v / each for v in ROAD_SPEEDS)
        curves = [Curve(tr("sustainable"), xs, tuple(map(_percent, found.shares)))]
        # The same radiator before the power rose: heat goes about with the power, and no intercooler stood there
        before = self.desk.project.engine.stock_power
        if before.si > 0.0:
            stock = tuple(_percent(share * found.power / before.si) for share in found.alone)
            curves.append(Curve(tr("with {0}, as before").format(self.desk.text(before.si, "power")), xs, stock, "soft"))
        curves.append(Curve(tr("100 % load"), (xs[0], xs[-1]), (100.0, 100.0), "limit"))
        self.chart.take(
            curves, tr("road speed, {0}").format(unit), tr("share of full load, %"), (found.road_speed / each, _percent(found.here))
        )


def _percent(share: float) -> float:
    """A share in %, up to the end of the chart."""
    return 100.0 * min(share, 1.5)

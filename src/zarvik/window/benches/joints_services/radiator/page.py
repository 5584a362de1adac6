"""The page of radiator, fan, and water through the turbo."""

from __future__ import annotations

import dataclasses

from PySide6.QtWidgets import QVBoxLayout, QWidget

from zarvik.core.checks.fluid_lines import highest_fuel_point
from zarvik.core.radiator.water_heat import sustained_share
from zarvik.core.recommendations import COOLING
from zarvik.project.language.language import tr
from zarvik.project.units.units import unit_of
from zarvik.window.benches.wastegate_exhaust.towing.charts import Curve, HeatChart
from zarvik.window.desk import Desk
from zarvik.window.parts.entries_page import EntriesPage

RADIATOR = (
    "radiator.wide",
    "radiator.high",
    "radiator.thick",
    "radiator.fins",
    "radiator.stands",
    "radiator.opening",
    "radiator.fan",
    "radiator.cooler",
    "fittings.hard",
    "radiator.condenser",
    "radiator.water",
)
COOLANT = ("coolant.water", "coolant.bore", "coolant.long", "coolant.rise")
JUDGED = ("radiator", "radiator_town", "radiator_hill", "turbo_water", "barrier")
SPEEDS = tuple(v / 3.6 for v in (10, 25, 40, 60, 80, 100, 120, 140, 170, 200, 240))


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
            tr("Enter the radiator core (width, height, thickness) or the turbo's water hoses: results appear here"),
            tr("Never open a hot radiator cap. Fans start by themselves."),
        )

    def above(self, right: QVBoxLayout) -> None:
        """What it carries over road speed."""
        self.chart = HeatChart(tr("Sustainable share of full load"))
        right.addWidget(self.chart)

    def refresh(self) -> None:
        """The chart follows too."""
        super().refresh()
        answer = self.desk.answer
        shown = answer is not None and answer.build.radiator.core is not None and bool(answer.case.solved)
        self.chart.setVisible(shown)
        if answer is None or not shown:
            return
        unit = self.desk.project.shown_units["road_speed"]
        point = highest_fuel_point(answer.case)
        each = unit_of("road_speed", unit).factor
        xs = tuple(v / each for v in SPEEDS)
        ys = tuple(100.0 * min(sustained_share(answer.solver, answer.build.radiator, point, v), 1.5) for v in SPEEDS)
        now = answer.build.road_speed
        spot = (now / each, 100.0 * min(sustained_share(answer.solver, answer.build.radiator, point, now), 1.5))
        # The same radiator before the power rose: heat goes about with the power, and no charge cooler stood there
        before = self.desk.project.engine.stock_power
        stood = dataclasses.replace(answer.build.radiator, resists=0.0)
        was = (
            tuple(100.0 * min(sustained_share(answer.solver, stood, point, v) * point.power / before.si, 1.5) for v in SPEEDS)
            if before.si > 0.0
            else ()
        )
        whole = Curve(tr("100 % load"), (xs[0], xs[-1]), (100.0, 100.0), "limit")
        self.chart.take(
            (
                Curve(tr("sustainable"), xs, ys),
                *([Curve(tr("with {0}, as before").format(self.desk.text(before.si, "power")), xs, was, "soft")] if was else []),
                whole,
            ),
            tr("road speed, {0}").format(unit),
            tr("share of full load, %"),
            spot,
        )

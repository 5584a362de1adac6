"""The page of oil, fuel and what the crankcase breathes."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from zarvik.core.recommendations import SUPPLY
from zarvik.project.language.language import tr
from zarvik.window.benches.joints_services.fluid_lines.plumbing import PlumbingPicture
from zarvik.window.desk import Desk
from zarvik.window.parts.entries_page import EntriesPage

OIL = (
    "fluid_lines.oil_grade",
    "fluid_lines.bearings",
    "fluid_lines.oil_pressure",
    "fluid_lines.oil_temperature",
    "fluid_lines.restrictor_bore",
    "fluid_lines.restrictor_length",
    "fluid_lines.drain_bore",
    "fluid_lines.drain_slope",
    "fluid_lines.drain_outlet",
)
FUEL = (
    "fluid_lines.injectors",
    "fluid_lines.injector_flow",
    "fluid_lines.injector_pressure",
    "fluid_lines.fuel_pressure",
    "fluid_lines.regulator_reference",
    "fluid_lines.pump_flow",
    "fluid_lines.pump_pressure",
    "fluid_lines.fuel_line_bore",
)
BREATHER = ("breather.ring_condition", "breather.blow_by", "breather.hoses", "breather.bore", "breather.length", "breather.outlet")
RAIL = ("fuel_rail.seat_bore", "fuel_rail.seat_depth", "fuel_rail.bore", "fuel_rail.outside_size", "fuel_rail.thread")
JUDGED = ("oil_feed", "oil_drain", "injectors", "fuel_pump", "fuel_line", "crankcase")


class SupplyPage(EntriesPage):
    """Entries on the left, what comes of them on the right."""

    def __init__(self, home: QWidget, desk: Desk) -> None:
        super().__init__(
            home,
            desk,
            SUPPLY,
            tr("Results for oil and fuel"),
            (
                (tr("Turbo oil feed"), OIL),
                (tr("Fuel"), FUEL),
                (tr("Blow-by from the crankcase"), BREATHER),
                (tr("Home-made rail and bosses"), RAIL),
            ),
            JUDGED,
            tr("Enter what you have to check it"),
            tr(
                "Fuel near a hot exhaust burns cars down. Use rated lines, away from heat, shielded, with no joint over "
                "hot metal. Alcohol burns with an invisible flame. Work on fuel lines needs a licence in many places."
            ),
        )

    def above(self, right: QVBoxLayout) -> None:
        """The lines with what flows in them."""
        self.picture = PlumbingPicture(self.desk)
        right.addWidget(self.picture)

    def refresh(self) -> None:
        """The picture too."""
        super().refresh()
        self.picture.refresh()

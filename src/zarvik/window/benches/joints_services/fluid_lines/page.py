"""The page of oil, fuel and what the crankcase breathes."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from zarvik.core.recommendations import SUPPLY
from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.entries_page import EntriesPage

OIL = (
    "lines.oil_grade",
    "lines.bearings",
    "lines.oil_pressure",
    "lines.oil_temperature",
    "lines.restrictor_bore",
    "lines.restrictor_length",
    "lines.drain_bore",
    "lines.drain_slope",
    "lines.drain_outlet",
)
FUEL = (
    "lines.injectors",
    "lines.injector_flow",
    "lines.injector_pressure",
    "lines.fuel_pressure",
    "lines.regulator_reference",
    "lines.pump_flow",
    "lines.pump_pressure",
    "lines.fuel_line_bore",
)
BREATHER = ("breather.ring_condition", "breather.blow_by", "breather.hoses", "breather.bore", "breather.length", "breather.outlet")
RAIL = ("rail.seat_bore", "rail.seat_depth", "rail.bore", "rail.outside_size", "rail.thread")
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

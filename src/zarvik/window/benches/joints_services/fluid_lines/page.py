"""The page of oil, fuel and what the crankcase breathes."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from zarvik.core.recommendations import SUPPLY
from zarvik.project.language.language import tr
from zarvik.window.desk import Desk
from zarvik.window.parts.entries_page import EntriesPage

OIL = (
    "lines.grade",
    "lines.bearings",
    "lines.oil",
    "lines.heat",
    "lines.restrictor",
    "lines.restrictor_long",
    "lines.drain",
    "lines.fall",
    "lines.ends",
)
FUEL = ("lines.injectors", "lines.rated", "lines.rated_at", "lines.base", "lines.follows", "lines.pump", "lines.pump_at", "lines.line")
BREATHER = ("breather.rings", "breather.measured", "breather.hoses", "breather.bore", "breather.long", "breather.end")
RAIL = ("rail.seat", "rail.deep", "rail.bore", "rail.outside", "rail.thread")
JUDGED = ("oil_feed", "oil_drain", "injectors", "fuel_pump", "fuel_line", "crankcase")


class SupplyPage(EntriesPage):
    """Entries on the left, what comes of them on the right."""

    def __init__(self, home: QWidget, desk: Desk) -> None:
        super().__init__(
            home,
            desk,
            SUPPLY,
            tr("What comes of oil and fuel"),
            (
                (tr("Oil to the turbo"), OIL),
                (tr("Fuel"), FUEL),
                (tr("Gas out of the crankcase"), BREATHER),
                (tr("Rail and bosses that you make"), RAIL),
            ),
            JUDGED,
            tr("Enter what you have, and it is judged here"),
            tr(
                "Fuel near a turbine burns cars down: lines that stand it, away from heat, behind a shield, without a joint over hot "
                "metal. "
                "Alcohol burns with a flame that nobody sees. What carries fuel is a matter of licence in many places."
            ),
        )

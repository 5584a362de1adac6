"""Whole designs for what a document asks for: what may be another one, the search, why a design is as it is."""

from zarvik.project.designs.choices import ALL_FREE, Axis, axes_of, free_of, with_free
from zarvik.project.designs.design import Design, Designs, LimitGain, Trade
from zarvik.project.designs.explanations import binding, obstacles_of
from zarvik.project.designs.limits import UNITS, Limits
from zarvik.project.designs.search import WISHES, Search

__all__ = [
    "ALL_FREE",
    "UNITS",
    "WISHES",
    "Axis",
    "Design",
    "Designs",
    "LimitGain",
    "Limits",
    "Search",
    "Trade",
    "axes_of",
    "binding",
    "free_of",
    "obstacles_of",
    "with_free",
]

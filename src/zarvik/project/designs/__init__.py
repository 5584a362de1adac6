"""Whole designs for what a document asks for: what may be another one, the search, why a design is as it is."""

from zarvik.project.designs.choices import ALL_FREE, Axis, asking, axes_of, free_of
from zarvik.project.designs.design import Design, Designs, Relief, Trade
from zarvik.project.designs.explanations import binding, in_the_way
from zarvik.project.designs.limits import UNITS, Limits
from zarvik.project.designs.search import WISHES, Search

__all__ = [
    "ALL_FREE",
    "UNITS",
    "WISHES",
    "Axis",
    "Design",
    "Designs",
    "Limits",
    "Relief",
    "Search",
    "Trade",
    "asking",
    "axes_of",
    "binding",
    "free_of",
    "in_the_way",
]

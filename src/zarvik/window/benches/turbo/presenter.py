"""What the Turbo bench shows, without a window."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import contourpy
import numpy as np

from zarvik.core.airpath.point import Point
from zarvik.core.answer.answer import Answer
from zarvik.core.candidates.catalogue_search import CatalogueMatch
from zarvik.core.candidates.compare import Candidate
from zarvik.core.compressor import lookup
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.engine.blower import Blower, delivered_flow
from zarvik.core.uncertainty.bands import POWER
from zarvik.project.units.units import KINDS, show, unit_of
from zarvik.window.parts.figure_rows import Row
from zarvik.workspace.job_store import Job, JobProgress

MAPPED = "mapped"
LEVELS = (0.55, 0.60, 0.64, 0.68, 0.71, 0.74, 0.76, 0.78, 0.80)


@dataclass(frozen=True)
class MapPicture:
    """Everything of a map that does not move, in kg/s and pressure ratio.

    `islands`: (efficiency, polygons with holes as point and offset arrays) from low to high.
    `lines`: (speed rev/min, points). `surge`, `edge`: points.
    """

    islands: tuple[tuple[float, tuple[tuple[np.ndarray, np.ndarray], ...]], ...]
    lines: tuple[tuple[float, np.ndarray], ...]
    surge: np.ndarray
    edge: np.ndarray
    flow_most: float
    ratio_most: float
    peak: tuple[float, float, float]


@lru_cache(32)
def picture(chart: CompressorMap) -> MapPicture:
    """The map as curves, drawn through the same look-up that the solver uses."""
    lines, points = lookup.pack(chart)
    speeds = np.linspace(chart.lines[0].speed / chart.maximum_speed, 1.0, 45)
    places = np.linspace(0.0, 1.0, 40)
    flow = np.empty((len(speeds), len(places)))
    ratio, efficiency = np.empty_like(flow), np.empty_like(flow)
    for i, speed in enumerate(speeds):
        surge, choke = lookup.ends(lines, speed)
        for j, place in enumerate(places):
            flow[i, j] = surge + place * (choke - surge)
            ratio[i, j], efficiency[i, j], _ = lookup.forward(lines, points, speed, flow[i, j])
    maker = contourpy.contour_generator(flow, ratio, efficiency, fill_type="OuterOffset")
    islands = []
    for level in LEVELS:
        if level < efficiency.max():
            polygons, offsets = maker.filled(level, 2.0)
            islands.append((level, tuple(zip(polygons, offsets, strict=True))))
    drawn = []
    for line in chart.lines:
        speed = line.speed / chart.maximum_speed
        flows = np.linspace(line.flow[0], line.flow[-1], 40)
        drawn.append((line.speed, np.array([(m, lookup.forward(lines, points, speed, m)[0]) for m in flows])))
    at = np.unravel_index(int(efficiency.argmax()), efficiency.shape)
    return MapPicture(
        islands=tuple(islands),
        lines=tuple(drawn),
        surge=np.column_stack([flow[:, 0], ratio[:, 0]]),
        edge=np.column_stack([flow[:, -1], ratio[:, -1]]),
        flow_most=float(flow.max()),
        ratio_most=float(ratio.max()),
        peak=(float(flow[at]), float(ratio[at]), float(efficiency[at])),
    )


def mapped(chart: CompressorMap) -> Job:
    """The map as curves: a fifth of a second for one that was not seen yet."""

    def work(watch: JobProgress) -> MapPicture:
        watch(0.0)
        return picture(chart)

    return Job(MAPPED, chart, work)


SHARES = (0.25, 0.4, 0.55, 0.7, 0.85, 1.0)  # of a blower's maximum speed that have a line


@lru_cache(32)
def blower_picture(blower: Blower, density: float, ratio_most: float) -> MapPicture:
    """A blower as curves: what it moves over the pressure ratio at several speeds of its rotors;
    inlet `density` in kg/m3. It has no surge line; the last line is its edge."""
    ratios = np.linspace(1.0, ratio_most, 30)
    drawn = []
    for share in SHARES:
        speed = share * blower.maximum_speed
        flows = [delivered_flow(blower.displacement, blower.volumetric, blower.leak, speed, float(r), density) for r in ratios]
        drawn.append((speed, np.column_stack([flows, ratios])))
    nothing = np.empty((0, 2))
    edge = drawn[-1][1]
    return MapPicture(
        islands=(),
        lines=tuple(drawn),
        surge=nothing,
        edge=edge,
        flow_most=float(edge[:, 0].max()),
        ratio_most=ratio_most,
        peak=(0.0, 0.0, 0.0),
    )


def moved(point: Point) -> float:
    """Air in kg/s that a blower's rotors move at a point: what the engine draws and what goes back
    through the bypass."""
    return point.air * (1.0 + point.turbo.opening)


HEADS = ("power", "full boost", "back-pr.", "effic.", "surge", "choke", "wheel")
WHEELS = ("inducer", "exducer")
TURBINE = ("wheel", "exducer", "housing", "efficiency", "vanes", "scrolls", "pulses", "inertia")
FIT = ("flange", "bolts", "gate", "cooling", "donor", "price", "here_by")
GATE = (
    "wastegate.diameter",
    "wastegate.lift",
    "wastegate.count",
    "wastegate.discharge",
    "turbos_fitted",
    "exhaust_paths",
    "pieces_per_turbo",
)
BLOWER = (
    "blower.name",
    "blower.displacement",
    "blower.drive_ratio",
    "blower.belt",
    "blower.crank_pulley",
    "blower.pulley",
    "blower.crank_teeth",
    "blower.teeth",
    "blower.step_up",
    "blower.belt_ribs",
    "blower.belt_width",
    "blower.belt_wrap",
    "blower.volumetric_efficiency",
    "blower.adiabatic_efficiency",
    "blower.bypass_outlet",
    "blower.rotor_limit",
)
OF_BELTS = {
    "ribbed": ("blower.crank_pulley", "blower.pulley", "blower.belt_ribs"),
    "toothed": ("blower.crank_teeth", "blower.teeth", "blower.belt_width"),
}
"Applies to one kind of belt only."


def rows(answer: Answer, units: Mapping[str, str]) -> list[Row]:
    """All candidates by size, the chosen one marked."""
    if not answer.candidates:
        return []
    chosen = answer.candidates[0].id
    band = answer.bands.of(POWER) if answer.bands is not None else None
    uncertainty = band.half / max(answer.target.power, 1.0) if band is not None else 0.0
    ordered = sorted(answer.candidates, key=lambda c: c.name)
    return [
        Row(c.id, c.name, c.id == chosen, c.state(answer.build.target.power, uncertainty), _cells(c, units), leads(c, FIGURES), HEADS)
        for c in ordered
    ]


FIGURES = ("power", "threshold", "back_pressure", "efficiency", "surge", "choke", "overspeed")
FIND_FIGURES = ("power", "threshold", "back_pressure", "opening", "surge", "choke", "overspeed")


def leads(c: Candidate, sheets: tuple[str, ...]) -> tuple[str, ...]:
    """Addresses of the sheets of a candidate's figures, each at the speed that it belongs to."""
    return tuple(f"{key}/{c.where[key]:.10g}" if key in c.where else key for key in sheets)


def _cells(c: Candidate, units: Mapping[str, str]) -> tuple[str, ...]:
    def percent(value: float) -> str:
        return show(value, "ratio", "%", places=0)

    return (
        show(c.power, "power", units.get("power")),
        show(c.spool, "rotation"),
        f"{c.back_pressure:.2f}" if c.back_pressure == c.back_pressure else "–",
        percent(c.efficiency),
        percent(c.surge),
        percent(c.choke),
        percent(c.overspeed),
    )


FIND_HEADS = ("power", "full boost", "back-pr.", "WG open", "surge", "choke", "wheel")


def find_row(key: str, find: CatalogueMatch, wanted: float, units: Mapping[str, str]) -> Row:
    """What a search found as a row; the gate's opening in the place of the efficiency."""
    cells = list(_cells(find.figures, units))
    cells[FIND_HEADS.index("WG open")] = show(find.figures.opening, "ratio", "%", places=0)
    name = f"{find.turbo.name.replace(' wheel', '')}, {show(find.housing, 'length', 'mm')}"
    state = find.figures.state(wanted)
    return Row(key, name, False, state, tuple(cells), leads(find.figures, FIND_FIGURES), FIND_HEADS)


def flow_unit(units: Mapping[str, str]) -> tuple[float, str]:
    """SI per shown unit of flow, and its symbol."""
    unit = unit_of("mass_flow", units.get("mass_flow", KINDS["mass_flow"][0].symbol))
    return unit.factor, unit.symbol

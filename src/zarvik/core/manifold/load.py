"""What hangs on the hot side and looks into it, as plain numbers in SI."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.stations import MANIFOLD
from zarvik.core.ducts.element import Element
from zarvik.core.manifold.turbo_weight import bending, creep, turbo_mass
from zarvik.core.materials.metals import METALS, growth

CAST_WALL = 0.005  # m; common practice, no source
STRETCHED = 0.6  # of its length that a bent runner is from end to end; common practice, no source


@dataclass(frozen=True)
class Fittings:
    """Thermocouple with its `probe_diameter` and `probe_depth` in the stream in m; `turbo_mass` in kg of one turbo, 0 where it was not
    evaluated; `braced`: a brace supports it; `exhaust_wall` and `primary_wall` thickness in m; `full_load_share` of the time, 0–1."""

    probe_diameter: float = 0.003
    probe_depth: float = 0.015
    turbo_mass: float = 0.0
    braced: bool = False
    exhaust_wall: float = 0.0016
    primary_wall: float = 0.0037
    full_load_share: float = 0.35


@dataclass(frozen=True)
class Load:
    """What the manifold carries: `mass` kg at a `lever` of m, on `pipes` of outside `diameter` and `wall` m (`element`) at
    `hot` K; bending `stress` and what breaks the metal in 1,000 h (`creep`), Pa; how far the turbo `grows` away, m."""

    element: Element
    mass: float
    lever: float
    pipes: int
    diameter: float
    wall: float
    hot: float
    stress: float
    creep: float
    grows: float


def load_of(
    runs: dict[str, tuple[Element, ...]], fittings: Fittings, *, wheel: float, out: float, turbos: int, point: Point
) -> Load | None:
    """What the pipes of a manifold (`runs`) carry with the turbo of a compressor `wheel` m across that stands `out` m from the
    head (0 where nobody has measured it), as hot as they are at a solved `point`; `turbos` that have a manifold each. None
    without primaries of a metal whose strength is known."""
    run = runs[MANIFOLD]
    runner = next((e for e in run if e.kind == "primaries"), None)
    if runner is None or runner.material not in METALS:
        return None
    wall = CAST_WALL if any(e.form == "cast" for e in run) else fittings.primary_wall
    diameter = runner.diameter + 2.0 * wall
    reach = runner.length * (STRETCHED if runner.turn > 0.8 else 1.0)
    lever = out or reach + sum(e.length for e in run if e.kind == "collector" and e.form != "log")
    pipes = max(runner.parallel // max(turbos, 1), 1)
    hot = next((s.metal for s in point.stretches if s.id == runner.id), 0.0)
    if hot <= 0.0 or lever <= 0.0:
        return None
    mass = fittings.turbo_mass or turbo_mass(wheel)
    stress = bending(mass, lever, diameter=diameter, wall=wall, pipes=pipes)
    return Load(
        runner, mass, lever, pipes, diameter, wall, hot, stress, creep(runner.material, hot), growth(METALS[runner.material], lever, hot)
    )

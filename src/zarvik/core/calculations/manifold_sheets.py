"""Working sheets of what the manifold carries."""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import BuildMaker, Line, Sheet
from zarvik.core.checks.turbo_weight import load_at
from zarvik.core.common.constants import STANDARD_GRAVITY
from zarvik.core.common.sentences import Figure, message
from zarvik.core.manifold.load import Load
from zarvik.core.manifold.turbo_weight import MASS_AT, MASS_POWER, SHAKES, WHEEL_AT, modulus
from zarvik.core.materials.metals import COLD, HEAD_EXPANSION, HEAD_WARM, METALS
from zarvik.core.stock.sizes import INDUCER_SHARE, openings
from zarvik.core.whole_build.build import Build

_CREEP = "ASM Metals Handbook vol. 1, SAE J2582 (from memory, within 40 %)"


def _load(build: Build, solver: Solver, point: Point) -> Load:
    found = load_at(build, point)
    if found is None:
        raise KeyError("nothing is carried")
    return found


def _mass(build: Build, solver: Solver, point: Point) -> Sheet:
    said = build.fittings.turbo_mass
    mass = _load(build, solver, point).mass
    if said > 0.0:
        return Sheet(
            key="turbo_mass",
            title="Turbo mass, each",
            result=Figure(mass, "mass"),
            relation="m = m_w",
            lines=(Line("m_w", "weighed", Figure(said, "mass")),),
            source="Entry",
        )
    wheel = openings(float(solver.path.turbo.chart.lines[-1].flow[-1]))[0] / INDUCER_SHARE
    return Sheet(
        key="turbo_mass",
        title="Turbo mass, each",
        result=Figure(mass, "mass"),
        relation=f"m = {MASS_AT:g} · (D / d)^{MASS_POWER:g}",
        lines=(
            Line("D", "compressor wheel across, from its flow", Figure(wheel, "length")),
            Line("d", message("for a mass of {mass} kg", mass=f"{MASS_AT:g}"), Figure(WHEEL_AT, "length")),
        ),
        source="Common practice, no source: within a third; weigh it",
    )


def _share(build: Build, solver: Solver, point: Point) -> Sheet:
    load = _load(build, solver, point)
    return Sheet(
        key="carried_share",
        title="Bending stress over hot strength",
        result=Figure(load.stress / load.creep, "ratio"),
        relation="s = n · g · m · L / (z · W · σ)",
        lines=(
            Line("n", "times its weight, as the road shakes it", Figure(SHAKES, "number")),
            Line("g", "gravity, m/s²", Figure(STANDARD_GRAVITY, "number")),
            Line("m", "mass of one turbo", Figure(load.mass, "mass"), "turbo_mass"),
            Line("L", "from the head to the turbo", Figure(load.lever, "length")),
            Line("z", "pipes carrying it", Figure(float(load.pipes), "count")),
            Line("W", "section modulus of one, cm³", Figure(1e6 * modulus(load.diameter, load.wall), "number")),
            Line("σ", "breaks this metal at this heat within 1,000 h, MPa", Figure(load.creep / 1e6, "number")),
            Line("T", "of the metal", Figure(load.hot, "temperature"), f"metal:{load.element.id}"),
        ),
        source=f"Each pipe bends for itself. {_CREEP}",
    )


def _grows(build: Build, solver: Solver, point: Point) -> Sheet:
    load = _load(build, solver, point)
    stuff = METALS[load.element.material]
    return Sheet(
        key="turbo_grows",
        title="Thermal growth at the turbo",
        result=Figure(load.grows, "length"),
        relation="x = L · (a · (T − T_c) − a_h · ΔT)",
        lines=(
            Line("L", "from the head to the turbo", Figure(load.lever, "length")),
            Line("a", "expansion of the pipes, millionths a kelvin", Figure(1e6 * stuff.expansion, "number")),
            Line("T", "of the metal", Figure(load.hot, "temperature"), f"metal:{load.element.id}"),
            Line("T_c", "when it was welded", Figure(COLD, "temperature")),
            Line("a_h", "expansion of the head, millionths a kelvin", Figure(1e6 * HEAD_EXPANSION, "number")),
            Line("ΔT", "head temperature", Figure(HEAD_WARM, "temperature_difference")),
        ),
        source="ASM Metals Handbook vol. 1 and 2 (from memory, within 5 %)",
    )


SHEETS: dict[str, BuildMaker] = {"turbo_mass": _mass, "carried_share": _share, "turbo_grows": _grows}

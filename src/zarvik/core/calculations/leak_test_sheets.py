"""Working sheets of a pressure test."""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import BuildMaker, Line, Sheet
from zarvik.core.common.sentences import Figure
from zarvik.core.leak_test import leaks
from zarvik.core.whole_build.build import Build


def _found(build: Build, solver: Solver) -> tuple[float, float]:
    """The hole in m and the volume in m3 of the test."""
    test = build.leak_test
    ambient = build.site.pressure
    if not 0.0 < test.end_pressure < test.start_pressure:
        raise KeyError("no test")
    volume = test.volume or build.charge_volume
    return leaks.equivalent_hole(
        volume, ambient + test.start_pressure, ambient + test.end_pressure, test.duration, test.shop_temperature, ambient
    ), volume


def _hole(build: Build, solver: Solver, point: Point) -> Sheet:
    hole, volume = _found(build, solver)
    test = build.leak_test
    return Sheet(
        key="leak_hole",
        title="Equivalent leak hole",
        result=Figure(hole, "length"),
        relation="π / 4 · d² · C = V / (R · T · t) · ∫ dp / (p / √(R · T) · Φ(p / p_a))",
        lines=(
            Line("V", "sealed volume", Figure(volume, "volume"), "" if test.volume else "leak_volume"),
            Line("p_1", "at the beginning, gauge", Figure(test.start_pressure, "pressure_gauge")),
            Line("p_2", "at the end, gauge", Figure(test.end_pressure, "pressure_gauge")),
            Line("t", "between", Figure(test.duration, "time")),
            Line("T", "shop temperature", Figure(test.shop_temperature, "temperature")),
            Line("C", "discharge of a ragged hole", Figure(leaks.DISCHARGE, "number")),
        ),
        source="Isentropic orifice (NACA 1135), isothermal air; discharge from memory",
    )


def _volume(build: Build, solver: Solver, point: Point) -> Sheet:
    pipes = sum(e.volume for run in ("hot_pipe", "cold_pipe") for e in build.runs[run])
    cooler = build.cooler.volume if build.cooler is not None else 0.0
    return Sheet(
        key="leak_volume",
        title="Charge-side volume",
        result=Figure(build.charge_volume, "volume"),
        relation="V = V_p + V_k + V_i",
        lines=(
            Line("V_p", "charge pipes", Figure(pipes, "volume")),
            Line("V_k", "cooler", Figure(cooler, "volume")),
            Line("V_i", "plenum and runners", Figure(build.intake_volume, "volume")),
        ),
        source="Geometry of the pieces",
    )


def _share(build: Build, solver: Solver, point: Point) -> Sheet:
    hole, _ = _found(build, solver)
    plenum, ambient = point.stations["plenum"], solver.path.site.pressure
    flow = leaks.hole_flow(hole, plenum.pressure, plenum.temperature, ambient)
    return Sheet(
        key="leak_share",
        title="Leaking share of the airflow",
        result=Figure(flow / point.air, "ratio"),
        relation="s = m_l / m",
        lines=(
            Line("m_l", "through the hole at this plenum", Figure(flow, "mass_flow")),
            Line("m", "airflow of the engine", Figure(point.air, "mass_flow"), "air"),
            Line("d", "the hole", Figure(hole, "length"), "leak_hole"),
        ),
        source="Isentropic orifice, NACA 1135",
    )


SHEETS: dict[str, BuildMaker] = {"leak_hole": _hole, "leak_volume": _volume, "leak_share": _share}

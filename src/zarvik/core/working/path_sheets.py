"""Working sheets of the path: boost, cooler, back-pressure, pumping, and the loss of a piece."""

from __future__ import annotations

from zarvik.core.airpath.solution import Point, Solver
from zarvik.core.checks.verdict import Figure
from zarvik.core.working.sheet import Line, Maker, Sheet


def _boost(solver: Solver, point: Point) -> Sheet:
    outlet = point.stations["compressor_outlet"].pressure
    cooler = sum(s.drop for s in point.stretches if s.kind == "cooler")
    hot, cold = point.drop("hot_pipe"), point.drop("cold_pipe")
    ambient = solver.system.site.pressure
    return Sheet(
        "boost", "Boost in the plenum, gauge",
        Figure(outlet - hot - cooler - cold - ambient, "pressure_gauge"),
        "p_b = p2 − Δp_h − Δp_k − Δp_c − p_a",
        (
            Line("p2", "behind the compressor, absolute", Figure(outlet, "pressure_absolute"), "pressure_ratio"),
            Line("Δp_h", "lost in the hot pipe", Figure(hot, "pressure_difference")),
            Line("Δp_k", "lost in the cooler", Figure(cooler, "pressure_difference")),
            Line("Δp_c", "lost in the cold pipe", Figure(cold, "pressure_difference")),
            Line("p_a", "ambient of the site, absolute", Figure(ambient, "pressure_absolute")),
        ),
        "Sum along the path; total pressures",
    )  # fmt: skip


def _cooler(solver: Solver, point: Point) -> Sheet:
    before = point.stations["cooler_inlet"].temperature
    ambient = solver.system.site.temperature
    share = point.cooler_effectiveness
    return Sheet(
        "cooler_outlet", "Charge behind the cooler",
        Figure(before - share * (before - ambient), "temperature"),
        "T = T_v − ε · (T_v − T_a)",
        (
            Line("T_v", "before the cooler", Figure(before, "temperature"), "compressor_outlet"),
            Line("ε", "effectiveness at this flow and this wind", Figure(share, "ratio")),
            Line("T_a", "ambient", Figure(ambient, "temperature")),
        ),
        "Effectiveness-NTU, cross-flow, both unmixed (Incropera eq. 11.32), from the rated point",
    )  # fmt: skip


def _back(solver: Solver, point: Point) -> Sheet:
    before = point.stations["turbine_inlet"].pressure
    plenum = point.stations["plenum"].pressure
    return Sheet(
        "back_pressure", "Back-pressure ratio", Figure(before / plenum, "number"),
        "κ = p4 / p_p",
        (
            Line("p4", "before the turbine, absolute", Figure(before, "pressure_absolute")),
            Line("p_p", "plenum, absolute", Figure(plenum, "pressure_absolute"), "boost"),
        ),
        "1.35 good, 2.2 the most: common practice, no source",
    )  # fmt: skip


def _pumping(solver: Solver, point: Point) -> Sheet:
    port = point.stations["exhaust_port"].pressure
    plenum = point.stations["plenum"].pressure
    return Sheet(
        "pumping", "Pumping mean pressure", Figure(port - plenum, "mean_pressure"),
        "pmep = p3 − p_p",
        (
            Line("p3", "exhaust port, absolute", Figure(port, "pressure_absolute")),
            Line("p_p", "plenum, absolute", Figure(plenum, "pressure_absolute"), "boost"),
        ),
        "Heywood 1988, sec. 5.4; the valves' own losses are in the indicated share",
    )  # fmt: skip


SHEETS: dict[str, Maker] = {
    "boost": _boost,
    "cooler_outlet": _cooler,
    "back_pressure": _back,
    "pumping": _pumping,
}


def piece_sheet(solver: Solver, point: Point, piece: str) -> Sheet:
    """The working of the loss of a duct piece; raises KeyError for another id."""
    found = {s.id: s for s in point.stretches}
    element = next((e for e in solver.system.elements if e.id == piece), None)
    if element is None:
        raise KeyError(piece)
    s = found[piece]
    return Sheet(
        f"piece:{piece}", f"Loss of “{s.name or s.id}”", Figure(s.drop, "pressure_difference"),
        "Δp = p · K · γ · M² / 2",
        (
            Line("p", "total pressure before it", Figure(s.pressure_in, "pressure_absolute")),
            Line("K", f"loss coefficient ({element.method})", Figure(s.loss, "number")),
            Line("M", "highest Mach number in it", Figure(s.mach, "number")),
            Line("Re", "Reynolds number", Figure(s.reynolds, "count")),
        ),
        element.source,
    )  # fmt: skip

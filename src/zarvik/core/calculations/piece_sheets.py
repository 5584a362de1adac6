"""Working sheets of a duct piece: its loss, the numbers in it, heat through its wall, its cost."""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath.piece_costs import COOLER, power_without
from zarvik.core.airpath.point import Point, Stretch
from zarvik.core.airpath.solution import Solver, approach
from zarvik.core.airpath.stations import COLD_SECTIONS
from zarvik.core.calculations.sheet import Family, Line, Sheet
from zarvik.core.common.constants import STEFAN_BOLTZMANN
from zarvik.core.common.sentences import Figure, message
from zarvik.core.ducts import march
from zarvik.core.ducts.element import REYNOLDS_NODES, Element
from zarvik.core.ducts.flow import (
    fanno_length,
    friction_rise,
    mach_after_widening,
    mach_of_flow,
    mass_flow_parameter,
    speed_of_sound,
    static_pressure,
)
from zarvik.core.ducts.wall_heat import PULSED_FACTOR, PULSED_POWER, metal_temperature, outlet_temperature, skin_temperature
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.gas.properties import heat_capacity, heat_capacity_ratio, viscosity


class _Piece:
    """A piece at a point with the gas in it; raises KeyError for an id that is no duct piece's."""

    def __init__(self, solver: Solver, point: Point, piece: str) -> None:
        self.index = solver.index(piece)
        self.element: Element = solver.path.elements[self.index]
        self.stretch: Stretch = next(s for s in point.stretches if s.id == piece)
        self.hot = self.stretch.section not in COLD_SECTIONS
        self.gas = solver.burnt if self.hot else solver.gas
        self.flow = point.air + (point.fuel if self.hot else 0.0)
        self.flow_sheet = "exhaust_flow" if self.hot else "air"
        if self.stretch.section == "exhaust" and point.turbo.dumped > 0.0:
            self.flow, self.flow_sheet = self.flow - point.turbo.dumped, "tail_flow"
        run = solver.path.runs[self.stretch.section]
        if self.stretch.section == "exhaust" and run.index(self.element) < solver.path.alone:
            self.flow, self.flow_sheet = self.flow - point.turbo.gate_flow, "turbine_flow"
        self.after = point.stations[self.stretch.end].temperature
        self.before = self.after - self.stretch.warming
        self.mean = 0.5 * (self.before + self.after)
        self.gamma = float(heat_capacity_ratio(self.gas, self.mean))
        row = solver.rows[self.index]
        self.area = float(row[march.AREA])
        self.smallest = float(min(row[march.AREA], row[march.AREA_IN], row[march.AREA_OUT]))
        site = solver.site_numbers
        self.bay = float(site[k.BAY_TEMPERATURE])
        self.outside = float(site[k.BAY_HOT_CONVECTION if self.hot else k.BAY_CONVECTION])
        self.flux = self.flow * math.sqrt(self.gas[GAS_CONSTANT] * self.mean / self.gamma)

    @property
    def title(self) -> str:
        """Its name."""
        return self.stretch.name or self.stretch.id

    @property
    def behind(self) -> float:
        """Total pressure behind it, Pa."""
        return self.stretch.pressure_in - self.stretch.drop

    @property
    def fastest(self) -> float:
        """Total pressure where it is fastest, Pa: before it where it widens or opens into a space."""
        element = self.element
        opens = element.law == "mouth" or element.diameter_in < element.diameter_out
        return self.stretch.pressure_in if opens else self.behind

    def mach_in(self, area: float, total: float) -> float:
        """Mach number in a section of `area` m2 at a `total` pressure in Pa."""
        return float(mach_of_flow(self.flux / (area * total), self.gamma))

    def inside(self) -> float:
        """Heat transfer coefficient inside, W/(m2 K)."""
        return march.inside_coefficient(self.gas, self.before, self.stretch.reynolds, self.element.diameter, self.hot)


def _loss(solver: Solver, point: Point, piece: str) -> Sheet:
    p = _Piece(solver, point, piece)
    row = solver.rows[p.index]
    one = p.mach_in(float(row[march.AREA_IN] if p.element.law == "widening" else row[march.AREA]), p.stretch.pressure_in)
    if p.element.law == "mouth":
        lost, relation, lines = _mouth(p, one)
    elif p.element.law == "widening":
        lost, relation, lines = _widening(p, one, float(row[march.AREA_OUT] / row[march.AREA_IN]))
    else:
        lost, relation, lines = _resistance(p, one, row)
    return Sheet(
        key=f"piece:{piece}",
        title=message("Loss of “{name}”", name=p.title),
        result=Figure(lost, "pressure_difference"),
        relation=relation,
        lines=(
            Line("p1", "total pressure before it", Figure(p.stretch.pressure_in, "pressure_absolute")),
            Line("γ", "of the gas", Figure(p.gamma, "number")),
            Line("M1", "Mach number before it, at the reference bore", Figure(one, "number")),
            *lines,
        ),
        source=p.element.source,
    )


def _mouth(p: _Piece, one: float) -> tuple[float, str, list[Line]]:
    s = p.stretch
    still = static_pressure(s.pressure_in, one, p.gamma)
    return (
        float(min(s.loss, 1.0) * (s.pressure_in - still)),
        "Δp = K · p1 · (1 − (1 + (γ − 1)/2 · M1²)^(−γ/(γ − 1)))",
        [Line("K", "share of the head lost", Figure(s.loss, "number"), f"coefficient:{s.id}")],
    )


def _widening(p: _Piece, one: float, wide: float) -> tuple[float, str, list[Line]]:
    two = math.sqrt(mach_after_widening(one * one, wide, p.gamma, False))
    narrow = mass_flow_parameter(one, p.gamma)
    behind = p.stretch.pressure_in * narrow / (wide * mass_flow_parameter(two, p.gamma))
    return (
        float(p.stretch.pressure_in - behind),
        "Δp = p1 · (1 − φ(M1) / (a · φ(M2)))",
        [
            Line("a", "area after over area before", Figure(wide, "number")),
            Line("M2", "after it, by the momentum balance", Figure(two, "number")),
            *_parameters(p, one, two),
        ],
    )


def _parameters(p: _Piece, one: float, two: float) -> tuple[Line, Line]:
    """The flow parameter before it and behind."""
    return (
        Line(
            "φ(M1)",
            "flow parameter M (1 + (γ − 1)/2 M²)^(−(γ + 1)/(2 (γ − 1)))",
            Figure(float(mass_flow_parameter(one, p.gamma)), "number"),
        ),
        Line("φ(M2)", "the same after it", Figure(float(mass_flow_parameter(two, p.gamma)), "number")),
    )


def _resistance(p: _Piece, one: float, row: np.ndarray) -> tuple[float, str, list[Line]]:
    s, element = p.stretch, p.element
    k_all = float(march.loss_of(row, s.loss, p.flow))
    two = p.mach_in(float(row[march.AREA]), p.behind)
    rise = friction_rise(two**2, k_all, p.gamma)
    lines = [
        Line("M2", "after it", Figure(two, "number")),
        *_parameters(p, one, two),
        Line(
            "K",
            message("loss coefficient ({method}): F(M1) − F(M2)", method=element.method),
            Figure(k_all, "number"),
            f"coefficient:{s.id}" if k_all == s.loss else "",
        ),
        Line(
            "F(M1)",
            "Fanno: (1 − M²)/(γ M²) + (γ + 1)/(2 γ) · ln((γ + 1) M² / (2 + (γ − 1) M²))",
            Figure(float(fanno_length(one, p.gamma)), "number"),
        ),
        Line("F(M2)", "the same after it", Figure(float(fanno_length(two, p.gamma)), "number")),
    ]
    if element.linear or element.quadratic:
        lines += [
            Line("a", "straight share of the rating, Pa s/m", Figure(element.linear, "number")),
            Line("b", "square share of the rating", Figure(element.quadratic, "number")),
            Line("A", "reference section, cm²", Figure(p.area * 1e4, "number")),
            Line("m", "flow; K = b + 2 a A / m", Figure(p.flow, "mass_flow"), p.flow_sheet),
        ]
    return float(s.pressure_in * (1.0 - math.exp(-rise))), "Δp = p1 · (1 − φ(M1) / φ(M2))", lines


def _coefficient(solver: Solver, point: Point, piece: str) -> Sheet:
    p = _Piece(solver, point, piece)
    table = p.element.loss
    logs = [math.log(float(v)) for v in REYNOLDS_NODES]
    here = min(max(math.log(p.stretch.reynolds), logs[0]), logs[-1])
    i = min(sum(v <= here for v in logs) - 1, len(logs) - 2)
    share = (here - logs[i]) / (logs[i + 1] - logs[i])
    low, high = float(table[i]), float(table[i + 1])
    lines = [
        Line("K1", "at the Reynolds number below", Figure(low, "number")),
        Line("K2", "at the one above", Figure(high, "number")),
        Line("s", "share of the way between them, in logarithms", Figure(share, "number")),
        Line("Re", "Reynolds number", Figure(p.stretch.reynolds, "count"), f"reynolds:{piece}"),
    ]
    if p.element.spread is not None:
        least, most = p.element.spread()
        lines += [
            Line("K_lo", "lowest of the published methods, at Re 200 000", Figure(least, "number")),
            Line("K_hi", "highest of them", Figure(most, "number")),
        ]
    return Sheet(
        key=f"coefficient:{piece}",
        title=message("Loss coefficient of “{name}”", name=p.title),
        result=Figure(low + share * (high - low), "number"),
        relation="K = K1 + s · (K2 − K1)",
        lines=tuple(lines),
        source=f"{p.element.method}: {p.element.source}",
    )


def _mach(solver: Solver, point: Point, piece: str) -> Sheet:
    p = _Piece(solver, point, piece)
    found = float(mach_of_flow(p.flux / (p.smallest * p.fastest), p.gamma))
    return Sheet(
        key=f"mach:{piece}",
        title=message("Highest Mach number in “{name}”", name=p.title),
        result=Figure(found, "number"),
        relation="M = m · √(R · T / γ) / (A · p) · (1 + (γ − 1) / 2 · M²)^((γ + 1) / (2 · (γ − 1)))",
        lines=(
            Line("m", "flow", Figure(p.flow, "mass_flow"), p.flow_sheet),
            Line("T", "mean in the piece", Figure(p.mean, "temperature")),
            Line("R", "gas constant, J/(kg K)", Figure(float(p.gas[GAS_CONSTANT]), "number")),
            Line("γ", "of the gas", Figure(p.gamma, "number")),
            Line("A", "smallest section", Figure(p.smallest, "area")),
            Line("p", "total pressure at its fastest section", Figure(p.fastest, "pressure_absolute")),
        ),
        source="NACA 1135, eq. 44 ff., by Newton's method: M is on both sides",
    )


def _velocity(solver: Solver, point: Point, piece: str) -> Sheet:
    p = _Piece(solver, point, piece)
    mach = p.stretch.mach
    sound = float(speed_of_sound(p.mean, mach, p.gamma, p.gas[GAS_CONSTANT]))
    return Sheet(
        key=f"velocity:{piece}",
        title=message("Highest velocity in “{name}”", name=p.title),
        result=Figure(mach * sound, "velocity"),
        relation="v = M · a",
        lines=(
            Line("M", "highest Mach number in it", Figure(mach, "number"), f"mach:{piece}"),
            Line("a", "speed of sound at the static temperature", Figure(sound, "velocity")),
        ),
        source="Definition of the Mach number",
    )


def _reynolds(solver: Solver, point: Point, piece: str) -> Sheet:
    p = _Piece(solver, point, piece)
    # On the cold side the viscosity is that at the beginning of the run.
    start = p.before
    if not p.hot:
        run = [s for s in point.stretches if s.section == p.stretch.section]
        start = point.stations[run[0].start].temperature
    mu = float(viscosity(p.gas, start))
    return Sheet(
        key=f"reynolds:{piece}",
        title=message("Reynolds number in “{name}”", name=p.title),
        result=Figure(p.flow * p.element.diameter / (p.area * mu), "count"),
        relation="Re = m · d / (A · μ)",
        lines=(
            Line("m", "flow", Figure(p.flow, "mass_flow"), p.flow_sheet),
            Line("d", "hydraulic diameter", Figure(p.element.diameter, "length")),
            Line("A", "section", Figure(p.area, "area")),
            Line("μ", "viscosity, µPa s", Figure(mu * 1e6, "number")),
        ),
        source="Definition; viscosity: Sutherland's formula",
    )


def _walled(solver: Solver, point: Point, piece: str) -> _Piece:
    found = _Piece(solver, point, piece)
    if found.element.surface <= 0.0:
        raise KeyError(piece)
    return found


def _behind(solver: Solver, point: Point, piece: str) -> Sheet:
    p = _walled(solver, point, piece)
    e, skin, inside = p.element, p.stretch.skin, p.inside()
    capacity = p.flow * heat_capacity(p.gas, p.before)
    after = outlet_temperature(p.before, p.bay, skin, inside, e.resistance, e.surface, capacity)
    overall = (p.before - skin) / (p.before - p.bay) / (1.0 / inside + e.resistance)
    return Sheet(
        key=f"behind:{piece}",
        title=message("Gas temperature after “{name}”", name=p.title),
        result=Figure(float(after), "temperature"),
        relation="T_e = T_b + (T − T_b) · exp(−U · A / C)",
        lines=(
            Line("T", "gas before it", Figure(p.before, "temperature")),
            Line("T_b", "bay air", Figure(p.bay, "temperature")),
            Line("U", "from gas to bay, W/(m² K), by way of the skin", Figure(overall, "number")),
            Line("A", "wall", Figure(e.surface, "area")),
            Line("C", "flow times its heat capacity, W/K", Figure(float(capacity), "number")),
            Line("T_s", "outer skin", Figure(skin, "temperature"), f"skin:{piece}" if p.hot else ""),
        ),
        source="Exchanger with one stream (Incropera, ch. 8); " + ("inside: SAE 2002-01-0372" if p.hot else "inside: Dittus & Boelter"),
    )


def _warming(solver: Solver, point: Point, piece: str) -> Sheet:
    p = _walled(solver, point, piece)
    return Sheet(
        key=f"warming:{piece}",
        title=message("Gas temperature change in “{name}”", name=p.title),
        result=Figure(p.after - p.before, "temperature_difference"),
        relation="ΔT = T_e − T",
        lines=(
            Line("T_e", "gas after it", Figure(p.after, "temperature"), f"behind:{piece}"),
            Line("T", "gas before it", Figure(p.before, "temperature")),
        ),
        source="Wall heat loss",
    )


def _skin(solver: Solver, point: Point, piece: str) -> Sheet:
    p = _walled(solver, point, piece)
    if not p.hot:
        raise KeyError(piece)
    e, inside = p.element, p.inside()
    found = skin_temperature(p.before, p.bay, inside, e.resistance, p.outside, e.emissivity)
    return Sheet(
        key=f"skin:{piece}",
        title=message("Skin temperature of “{name}”", name=p.title),
        result=Figure(float(found), "temperature"),
        relation="T_s = T − (1 / h + R) · (h_b · (T_s − T_b) + e · σ · (T_s^4 − T_b^4))",
        lines=(
            Line("T", "gas at its beginning", Figure(p.before, "temperature")),
            Line(
                "h",
                message("inside, W/(m² K): Nu = {factor} · Re^{power}", factor=f"{PULSED_FACTOR:g}", power=f"{PULSED_POWER:g}"),
                Figure(inside, "number"),
            ),
            Line("R", "wall, wrap, coating, m² K/kW", Figure(1000.0 * e.resistance, "number")),
            Line("h_b", "outside, to the bay air, W/(m² K)", Figure(p.outside, "number")),
            Line("T_b", "bay air", Figure(p.bay, "temperature")),
            Line("e", "emissivity of the skin", Figure(e.emissivity, "number")),
            Line("σ", "Stefan-Boltzmann, nW/(m² K⁴)", Figure(STEFAN_BOLTZMANN * 1e9, "number")),
        ),
        source="What comes through goes off by convection and radiation, the skin on both sides; inside: C. Depcik, "
        "D. Assanis, SAE 2002-01-0372 (from memory)",
    )


def _metal(solver: Solver, point: Point, piece: str) -> Sheet:
    p = _walled(solver, point, piece)
    e, inside = p.element, p.inside()
    found = metal_temperature(p.before, p.stretch.skin, inside, e.resistance)
    return Sheet(
        key=f"metal:{piece}",
        title=message("Metal temperature of “{name}”", name=p.title),
        result=Figure(float(found), "temperature"),
        relation="T_m = T − (T − T_s) / (1 + h · R)",
        lines=(
            Line("T", "gas at its beginning", Figure(p.before, "temperature")),
            Line("T_s", "outer skin", Figure(p.stretch.skin, "temperature"), f"skin:{piece}" if p.hot else ""),
            Line("h", "inside, W/(m² K)", Figure(inside, "number")),
            Line("R", "wrap, coating, shield, m² K/kW", Figure(1000.0 * e.resistance, "number")),
        ),
        source="The same heat through both layers: insulation keeps the metal hot",
    )


def _cost(solver: Solver, point: Point, piece: str) -> Sheet:
    stretch = next((s for s in point.stretches if s.id == piece), None)
    if stretch is None:
        raise KeyError(piece)
    raw = solver.raw(approach(solver.path, point.speed))
    without = power_without(solver, point.speed, piece, raw.solutions[-1])
    power = float(raw.power[-1])
    sheet = "cooler_loss" if piece == COOLER else f"piece:{piece}"
    return Sheet(
        key=f"cost:{piece}",
        title=message("Power cost of “{name}”", name=stretch.name or piece),
        result=Figure(without - power, "power"),
        relation="ΔP = P_f − P",
        lines=(
            Line("P_f", "power with its loss taken out, everything solved again", Figure(without, "power")),
            Line("P", "present power", Figure(power, "power"), "power"),
            Line("Δp", "its loss", Figure(stretch.drop, "pressure_difference"), sheet),
        ),
        source="The whole path solved twice",
    )


FAMILIES: dict[str, Family] = {
    "piece": _loss,
    "coefficient": _coefficient,
    "mach": _mach,
    "velocity": _velocity,
    "reynolds": _reynolds,
    "behind": _behind,
    "warming": _warming,
    "metal": _metal,
    "skin": _skin,
    "cost": _cost,
}

"""Working sheets of radiator, water of the turbo, breather, plates and gaskets."""

from __future__ import annotations

from collections.abc import Callable

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import BuildMaker, Line, Sheet
from zarvik.core.common.constants import AIR_CP, DRY_AIR_GAS_CONSTANT
from zarvik.core.common.sentences import Figure
from zarvik.core.connections.flange_joints import HEAD, Barrier, PlatedJoint, barrier, plates
from zarvik.core.fluid_lines import crankcase_breather, turbo_coolant
from zarvik.core.intercooler.intercooler import RATED_CP, WATER_CP
from zarvik.core.joints.gaskets import ChargeWarming
from zarvik.core.limits.limits import COOLANT
from zarvik.core.radiator.radiator import BEGINS, CONDENSED, HOLDS_HEAT, RUBBED, RadiatorState, water_flow
from zarvik.core.radiator.water_heat import (
    HOUSING,
    IDLE_PUMP,
    IDLE_WATER,
    coolant_heat,
    friction_power,
    full_load_seconds,
    idle_heat,
    radiator_at,
    radiator_in_town,
    radiator_on_hill,
    sustained_share,
    turbo_heat,
    water_heat_load,
)
from zarvik.core.whole_build.build import Build


def _heat(build: Build, solver: Solver, point: Point) -> Sheet:
    return Sheet(
        key="water_heat",
        title="Heat to the coolant",
        result=Figure(water_heat_load(solver, point), "heat_flow"),
        relation="Q = Q_w + x · P_f",
        lines=(
            Line("Q_w", "from the gas to the walls", Figure(coolant_heat(solver, point), "heat_flow"), "coolant_heat"),
            Line("x", "share of friction heat to the coolant", Figure(RUBBED, "ratio")),
            Line("P_f", "friction", Figure(friction_power(solver, point), "heat_flow")),
        ),
        source="Taylor & Toong in Heywood 1988, sec. 12.4.3; share of the friction: common practice, no source",
    )


def _radiator(
    key: str, title: str, at: Callable[[Build, Solver, Point], RadiatorState], pump: Callable[[Build, Solver, Point], float]
) -> BuildMaker:
    def maker(build: Build, solver: Solver, point: Point) -> Sheet:
        if build.radiator.core is None:
            raise KeyError(key)
        found = at(build, solver, point)
        water, air = pump(build, solver, point), found.air * RATED_CP
        least = min(air, water * WATER_CP)
        return Sheet(
            key=key,
            title=title,
            result=Figure(found.water, "temperature"),
            relation="T = T_a + Q / (ε · C)",
            lines=(
                Line("T_a", "air temperature at the radiator", Figure(found.taken, "temperature")),
                Line("Q", "heat to the coolant", Figure((found.water - found.taken) * found.effectiveness * least, "heat_flow")),
                Line("ε", "effectiveness", Figure(found.effectiveness, "ratio")),
                Line("C", "smaller capacity flow, W/K", Figure(least, "number")),
                Line("m_a", "air through it", Figure(found.air, "mass_flow")),
                Line("m_w", "coolant through it", Figure(water, "mass_flow")),
            ),
            source="Effectiveness-NTU (Kays & London 1984), louvred fins (Chang & Wang 1997, Davenport 1983); wind, pump, share of the "
            "heat: "
            "common practice, no source",
        )

    return maker


def _full_pump(build: Build, solver: Solver, point: Point) -> float:
    return water_flow(build.radiator, water_heat_load(solver, point))


def _town_pump(build: Build, solver: Solver, point: Point) -> float:
    return IDLE_PUMP * build.radiator.water or water_flow(build.radiator, IDLE_WATER * idle_heat(solver))


def _air(build: Build, solver: Solver, point: Point) -> Sheet:
    found = radiator_at(solver, build.radiator, point)
    before = point.cooler_heat if build.radiator.resists > 0.0 else 0.0
    return Sheet(
        key="radiator_air",
        title="Air temperature at the radiator",
        result=Figure(found.taken, "temperature"),
        relation="T = T_0 + (Q_c + Q_k) / (m · c)",
        lines=(
            Line("T_0", "ambient", Figure(build.site.temperature, "temperature")),
            Line("Q_c", "of the intercooler in front of it", Figure(before, "heat_flow")),
            Line("Q_k", "of the condenser before it", Figure(CONDENSED if build.radiator.condenser else 0.0, "heat_flow")),
            Line("m", "air through both", Figure(found.air, "mass_flow")),
            Line("c", "heat capacity of air, J/(kg K)", Figure(RATED_CP, "number")),
        ),
        source="Energy balance",
    )


def _lasts(build: Build, solver: Solver, point: Point) -> Sheet:
    found = radiator_at(solver, build.radiator, point)
    seconds = full_load_seconds(solver, build.radiator, point)
    if not 0.0 < seconds < 1e6:
        raise KeyError("sustained")
    return Sheet(
        key="radiator_lasts",
        title="Time at full load to the coolant limit",
        result=Figure(seconds, "seconds"),
        relation="t = H · V / K · ln((T − T_1) / (T − T_2))",
        lines=(
            Line("H", "heat capacity of coolant and metal per displacement, MJ/(m³ K)", Figure(1e-6 * HOLDS_HEAT, "number")),
            Line("V", "displacement", Figure(solver.path.engine.displacement, "volume"), "displacement"),
            Line("K", "radiator capacity, W/K", Figure(found.carries, "number")),
            Line("T", "where the coolant would go", Figure(found.water, "temperature"), "radiator_full"),
            Line("T_1", "where it begins", Figure(BEGINS, "temperature")),
            Line("T_2", "where it has to end", Figure(COOLANT.most, "temperature")),
        ),
        source="One lump heating up; its heat capacity: common practice, no source",
    )


def _share(build: Build, solver: Solver, point: Point) -> Sheet:
    ambient = solver.path.site.temperature
    found = radiator_at(solver, build.radiator, point)
    return Sheet(
        key="radiator_share",
        title="Sustainable share of full load",
        result=Figure(sustained_share(solver, build.radiator, point), "ratio"),
        relation="s = (T_2 − T_0) / (T − T_0)",
        lines=(
            Line("T_2", "coolant temperature limit", Figure(COOLANT.most, "temperature")),
            Line("T_0", "ambient", Figure(ambient, "temperature")),
            Line("T", "held at full load", Figure(found.water, "temperature"), "radiator_full"),
        ),
        source="Coolant and the air before the radiator rise in proportion to the heat",
    )


def _turbo_heat(build: Build, solver: Solver, point: Point) -> Sheet:
    gas = point.stations["turbine_inlet"].temperature
    return Sheet(
        key="turbo_heat",
        title="Heat into the centre section",
        result=Figure(turbo_heat(build, point), "heat_flow"),
        relation="Q = G · (d / 50 mm)² · (x · T − T_w)",
        lines=(
            Line("G", "of a wheel of 50 mm, W/K", Figure(turbo_coolant.THROUGH, "number")),
            Line("d", "turbine wheel", Figure(build.turbo.turbine.wheel, "length")),
            Line("x", "housing over gas, in kelvin", Figure(HOUSING, "ratio")),
            Line("T", "gas before the turbine", Figure(gas, "temperature"), "temperature:turbine_inlet"),
            Line("T_w", "coolant temperature", Figure(turbo_coolant.HOT, "temperature")),
        ),
        source="Common practice, no source",
    )


def _turbo_water(build: Build, solver: Solver, point: Point) -> Sheet:
    heat, flow = turbo_heat(solver.path, point), turbo_coolant.pump_flow(build.coolant)
    return Sheet(
        key="turbo_water",
        title="Coolant warming in the turbo",
        result=Figure(turbo_coolant.temperature_rise(heat, flow), "warming"),
        relation="ΔT = Q / (m · c)",
        lines=(
            Line("Q", "heat", Figure(heat, "heat_flow"), "turbo_heat"),
            Line("m", "coolant flow from the engine's pump at 15 kPa", Figure(flow, "mass_flow")),
            Line("c", "heat capacity, J/(kg K)", Figure(WATER_CP, "number")),
        ),
        source="Energy balance; hose: 64 / Re or Blasius, and six velocity heads; pump: common practice, no source",
    )


def _turbo_after(build: Build, solver: Solver, point: Point) -> Sheet:
    circuit = build.coolant
    heat = turbo_coolant.SOAKS * turbo_heat(solver.path, point)
    flow = turbo_coolant.thermosiphon_flow(circuit, heat)
    if flow <= 0.0:
        raise KeyError("no siphon")
    return Sheet(
        key="turbo_after",
        title="Coolant warming after shut-off",
        result=Figure(turbo_coolant.temperature_rise(heat, flow), "warming"),
        relation="ΔT = Q / (m · c)",
        lines=(
            Line("Q", "remaining heat, a quarter", Figure(heat, "heat_flow")),
            Line("m", "natural circulation", Figure(flow, "mass_flow")),
            Line("c", "heat capacity, J/(kg K)", Figure(WATER_CP, "number")),
            Line("h", "rise of the return", Figure(circuit.rise, "length")),
        ),
        source="Density of warm and cold coolant against hose friction; the quarter: common practice, no source",
    )


def _past(build: Build, solver: Solver, point: Point) -> Sheet:
    breather, site = build.breather, solver.path.site
    flow = crankcase_breather.blow_by(breather, point.air)
    return Sheet(
        key="past_rings",
        title="Blow-by",
        result=Figure(flow * DRY_AIR_GAS_CONSTANT * crankcase_breather.WARM / site.pressure, "gas_flow"),
        relation="V = x · m · R · T / p",
        lines=(
            Line("x", "share of the air", Figure(flow / point.air, "ratio")),
            Line("m", "airflow of the engine", Figure(point.air, "mass_flow"), "air"),
            Line("R", "gas constant, J/(kg K)", Figure(DRY_AIR_GAS_CONSTANT, "number")),
            Line("T", "of the gas under the pistons", Figure(crankcase_breather.WARM, "temperature")),
            Line("p", "ambient", Figure(site.pressure, "pressure_absolute")),
        ),
        source="Share by the rings: common practice, no source",
    )


def _under(build: Build, solver: Solver, point: Point) -> Sheet:
    breather = build.breather
    inlet = point.stations["compressor_inlet"].pressure
    found = crankcase_breather.crankcase(breather, air=point.air, ambient=build.site.pressure, inlet=inlet)
    led = inlet - build.site.pressure if breather.outlet in ("inlet", "both") else 0.0
    return Sheet(
        key="crankcase",
        title="Crankcase pressure against ambient",
        result=Figure(found, "pressure_difference"),
        relation="p = Δp + p_i",
        lines=(
            Line("Δp", "loss of hoses and can", Figure(found - led, "pressure_difference")),
            Line("p_i", "pressure at the breather outlet, against ambient", Figure(led, "pressure_difference")),
            Line("d", "bore of each hose", Figure(breather.bore, "length")),
        ),
        source="64 / Re or Blasius, entry, exit, two bends, a can of four heads",
    )


def _worst(build: Build, solver: Solver, point: Point) -> PlatedJoint:
    every = plates(build, build.connections, point)
    if not every:
        raise KeyError("no plate")
    return max(every, key=lambda x: x.share)


def _plate(build: Build, solver: Solver, point: Point) -> Sheet:
    worst = _worst(build, solver, point)
    return Sheet(
        key="adapter_loss",
        title="Largest plate loss",
        result=Figure(worst.loss, "pressure_difference"),
        relation="Δp = K · ρ / 2 · v²",
        lines=(
            Line("K", "cone as long as the plate is thick, or the step", Figure(worst.coefficient, "number")),
            Line("ρ", "there, kg/m³", Figure(worst.density, "number")),
            Line("v", "in the smaller bore", Figure(worst.speed, "velocity")),
        ),
        source="Rennels & Hudson 2012, ch. 10 and 11; Borda-Carnot; Idelchik, diagram 4-9",
    )


def _plate_share(build: Build, solver: Solver, point: Point) -> Sheet:
    worst = _worst(build, solver, point)
    return Sheet(
        key="adapter_share",
        title="Plate loss over the local pressure",
        result=Figure(worst.share, "ratio"),
        relation="s = Δp / p",
        lines=(
            Line("Δp", "loss", Figure(worst.loss, "pressure_difference"), "adapter_loss"),
            Line("p", "pressure there", Figure(worst.loss / worst.share, "pressure_absolute")),
        ),
        source="Definition",
    )


def _bore(key: str, title: str, side: str) -> BuildMaker:
    def maker(build: Build, solver: Solver, point: Point) -> Sheet:
        pattern = getattr(_worst(build, solver, point).row, side)
        return Sheet(
            key=key,
            title=title,
            result=Figure(pattern.bore, "length"),
            relation="d = d_m",
            lines=(Line("d_m", "as measured", Figure(pattern.bore, "length")),),
            source="Measured",
        )

    return maker


def _barrier(build: Build, point: Point, key: str) -> Barrier:
    found = barrier(build, build.connections, build.ports, point)
    if found is None:
        raise KeyError(key)
    return found


_FOOT = (
    "Layers in series, bolts in parallel; contacts: Incropera, table 3.1 (memory); runners: "
    "Dittus-Boelter; idle air: common practice, no source"
)


def _foot_heat(build: Build, solver: Solver, point: Point) -> Sheet:
    found = _barrier(build, point, "barrier_heat")
    return Sheet(
        key="barrier_heat",
        title="Heat into the intake manifold",
        result=Figure(found.full.heat, "small_heat"),
        relation="Q = (T_h − T_c) / (1 / G + 1 / U)",
        lines=(
            Line("G", "through layers and bolts, W/K", Figure(found.full.conductance, "number")),
            Line("U", "conductance to the charge, W/K", Figure(found.full.takes, "number")),
            Line("T_h", "head", Figure(HEAD, "temperature")),
            Line("T_c", "charge", Figure(point.charge, "temperature"), "charge"),
        ),
        source=_FOOT,
    )


def _foot_warming(key: str, title: str, of: Callable[[Barrier, Point], tuple[ChargeWarming, float, float]]) -> BuildMaker:
    def maker(build: Build, solver: Solver, point: Point) -> Sheet:
        warming, flow, charge = of(_barrier(build, point, key), point)
        return Sheet(
            key=key,
            title=title,
            result=Figure(warming.warmed, "warming"),
            relation="ΔT = (T_h − T_c) / (1 / G + 1 / U) / (m · c)",
            lines=(
                Line("G", "through layers and bolts, W/K", Figure(warming.conductance, "number")),
                Line("U", "conductance to the charge, W/K", Figure(warming.takes, "number")),
                Line("T_h", "head", Figure(HEAD, "temperature")),
                Line("T_c", "charge", Figure(charge, "temperature")),
                Line("m", "charge", Figure(flow, "mass_flow")),
                Line("c", "heat capacity of air, J/(kg K)", Figure(AIR_CP, "number")),
            ),
            source=_FOOT,
        )

    return maker


_RADIATOR: dict[str, BuildMaker] = {
    "radiator_full": _radiator(
        "radiator_full", "Coolant temperature at full load", lambda b, s, p: radiator_at(s, b.radiator, p), _full_pump
    ),
    "radiator_town": _radiator(
        "radiator_town", "Coolant temperature in traffic", lambda b, s, p: radiator_in_town(s, b.radiator), _town_pump
    ),
    "radiator_hill": _radiator(
        "radiator_hill", "Coolant temperature on the hill", lambda b, s, p: radiator_on_hill(s, b.radiator, b.car, b.train, p), _full_pump
    ),
    "radiator_air": _air,
    "radiator_lasts": _lasts,
    "radiator_share": _share,
}
_TURBO: dict[str, BuildMaker] = {"turbo_water": _turbo_water, "turbo_after": _turbo_after}
_PLATES: dict[str, BuildMaker] = {
    "adapter_loss": _plate,
    "adapter_share": _plate_share,
    "adapter_one": _bore("adapter_one", "Bore before the plate", "one"),
    "adapter_other": _bore("adapter_other", "Bore after the plate", "other"),
}
_BARRIER: dict[str, BuildMaker] = {
    "barrier_heat": _foot_heat,
    "barrier_full": _foot_warming("barrier_full", "Charge warming at the flange", lambda b, p: (b.full, p.air, p.charge)),
    "barrier_idle": _foot_warming("barrier_idle", "Charge warming at the flange, idle", lambda b, p: (b.idle, b.idle_air, b.idle_charge)),
    "barrier_bare": _foot_warming("barrier_bare", "Charge warming at idle, steel alone", lambda b, p: (b.bare, b.idle_air, b.idle_charge)),
}
SHEETS: dict[str, BuildMaker] = {
    "water_heat": _heat,
    **_RADIATOR,
    "turbo_heat": _turbo_heat,
    **_TURBO,
    "past_rings": _past,
    "crankcase": _under,
    **_PLATES,
    **_BARRIER,
}


def missing(build: Build) -> set[str]:
    """Keys of the sheets that a `build` does not have."""
    left: set[str] = set()
    if build.radiator.core is None:
        left |= set(_RADIATOR)
    if build.radiator.core is None or build.train.mass <= 0.0:
        left.add("radiator_hill")
    if build.radiator.core is not None and build.radiator.wind.fan <= 0.0:
        left.add("radiator_town")
    if build.blower is not None:
        left.add("turbo_heat")
    if build.blower is not None or build.coolant.water == "none" or build.coolant.bore <= 0.0:
        left |= set(_TURBO)
    if build.breather.bore <= 0.0:
        left |= {"past_rings", "crankcase"}
    return left

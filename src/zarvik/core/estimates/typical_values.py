"""What stands in for what nobody knows: estimates from what is known, each with its spread and where it
comes from."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zarvik.core.common.constants import STANDARD_ATMOSPHERE
from zarvik.core.common.method import Method
from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.engine.belt import Belt
from zarvik.core.engine.breathing import from_archetype
from zarvik.core.engine.engine import FUEL_DENSITY, MOST_BREATHING, Engine, breathing_of_torque, torque_of_breathing
from zarvik.core.intercooler.core_size import AIR_DENSITY, RATING, Core, Wind, cooling_flow, rate, rate_front, rate_water
from zarvik.core.turbine.rotor import inertia
from zarvik.core.wastegate.branch import FLAP, branched_discharge, throat


@dataclass(frozen=True)
class Estimate:
    """`value` in SI, its `spread` up and down (19 times out of 20, SI), and what it was made from."""

    value: float
    spread: float
    words: Sentence


# Best VE of an unboosted engine by its head, and lambda and share of evaporated fuel by fuel.
_HEADS = {"long_runner": 0.95, "short_runner": 0.98, "two_valve": 0.86}
_LAMBDAS = {"petrol": (0.82, 0.04), "e85": (0.82, 0.05), "methanol": (0.80, 0.06), "diesel": (1.30, 0.12)}
_WET = {"petrol": (0.05, 0.05), "e85": (0.25, 0.12), "methanol": (0.40, 0.12), "diesel": (0.0, 0.0)}
_RATIOS = {"long_runner": 10.0, "short_runner": 10.5, "two_valve": 9.0}
POWER_OVER_PEAK = 0.72  # best torque over best power of an unboosted engine, 0.65 to 0.8
POWER_OVER_LIMIT = 0.88  # best power over the rev limit of an unboosted engine


def family(fuel: str) -> str:
    """Kind of fuel by the key of a `fuel`: petrol, e85, methanol or diesel."""
    return fuel if fuel in _LAMBDAS else "petrol"


def best_breathing(shape: str, diesel: bool) -> Estimate:
    """Best VE (ratio) from the kind of head, the key of an archetype's `shape`."""
    value = 0.88 if diesel else _HEADS.get(shape, 0.92)
    return Estimate(value, 0.08 * value, message("from the type of head"))


WARMED, PAST_ROTORS = 1.12, 0.77  # of a charge behind a blower and its intercooler; of a rotor's volume that comes out


def breathing_of_power(engine: Engine, shape: str, peak_speed: float, power: float, speed: float, boost: float = 0.0) -> Estimate:
    """Best VE (ratio) with which the stock engine made `power` in W at `speed` in rev/min, with the
    `shape` of an archetype that peaks at `peak_speed` rev/min, boosted by `boost` Pa gauge as it came. `engine`: its sizes."""
    torque = power / (speed * math.pi / 30.0)
    found = breathing_of_torque(engine, (speed,), (torque,), boost).efficiency[0]
    share = float(from_archetype(shape, peak_speed=peak_speed, peak=1.0).at(speed))
    # What is past these is a slip that is told where it was typed: it must not be carried on
    value = min(max(found / share, 0.4), MOST_BREATHING)
    figures = {"power": Figure(power, "power"), "speed": Figure(speed, "rotation")}
    asked = found / share
    if abs(asked - value) < 0.005:
        return Estimate(value, 0.05 * value, message("from the stock power of {power} at {speed}", **figures))
    words = message(
        (
            "the stock power of {power} at {speed} needs {asked}: limited to the {most} that engines reach. "
            "Check compression, speed, or the stock boost"
        )
        if asked > value
        else (
            "the stock power of {power} at {speed} needs {asked}: limited to {most}. Is it the power of the whole engine, at this speed?"
        ),
        asked=Figure(asked, "ratio"),
        most=Figure(value, "ratio"),
        **figures,
    )
    return Estimate(value, 0.05 * value + min(abs(asked - value), 0.2), words)


def power_of_breathing(engine: Engine, speed: float, boost: float = 0.0) -> Estimate:
    """Power in W that the stock `engine` made at `speed` in rev/min, from its VE, with its stock `boost` in Pa gauge."""
    power = torque_of_breathing(engine, (speed,), boost)[0] * speed * math.pi / 30.0
    return Estimate(
        power, 0.10 * power, message("from its breathing, unboosted") if boost <= 0.0 else message("from its breathing and its stock boost")
    )


def peak_speed(stock_speed: float, said: bool) -> Estimate:
    """Engine speed in rev/min of the best VE from `stock_speed` of the best power, which was `said` or
    is itself an estimate."""
    value = POWER_OVER_PEAK * stock_speed
    words = message("0.72 of the stock power speed") if said else message("from the rev limit")
    return Estimate(value, (0.08 if said else 0.14) * value, words)


def stock_speed(rev_limit: float) -> Estimate:
    """Engine speed in rev/min of the best stock power, from the `rev_limit` in rev/min."""
    value = POWER_OVER_LIMIT * rev_limit
    return Estimate(value, 0.10 * value, message("0.88 of the rev limit"))


def full_load_lambda(fuel: str) -> Estimate:
    """Lambda at full load under boost, from the key of the `fuel`."""
    value, spread = _LAMBDAS[family(fuel)]
    return Estimate(value, spread, message("typical for the fuel under boost"))


def evaporated(fuel: str) -> Estimate:
    """Share (0–1) of the fuel that cools the charge before the valve, from the key of the `fuel`."""
    value, spread = _WET[family(fuel)]
    return Estimate(value, spread, message("typical for the fuel, injected before the valves"))


def compression(shape: str, diesel: bool) -> Estimate:
    """Compression ratio from the kind of head, the key of an archetype's `shape`."""
    value = 17.5 if diesel else _RATIOS.get(shape, 9.8)
    return Estimate(value, 1.5 if diesel else 0.8, message("from the type of head"))


def turbine_wheel(choke: float) -> Estimate:
    """Tip diameter in m of the turbine wheel that comes with a compressor of so much `choke` flow in
    kg/s."""
    value = 0.062 * math.sqrt(choke / 0.362)
    return Estimate(value, 0.06 * value, message("from the compressor"))


def turbine_exducer(wheel: float) -> Estimate:
    """Tip diameter in m at the outlet of a turbine `wheel` in m."""
    return Estimate(0.855 * wheel, 0.05 * 0.855 * wheel, message("from the turbine wheel"))


def turbine_housing(wheel: float) -> Estimate:
    """A/R in m that a housing of a turbine `wheel` in m commonly has."""
    return Estimate(0.275 * wheel, 0.20 * 0.275 * wheel, message("the middle housing sold for the wheel"))


def turbine_efficiency(wheel: float) -> Estimate:
    """Best total-to-static efficiency (0–1) of a radial turbine with a `wheel` of so many m."""
    value = min(max(0.695 + 0.05 * math.log(wheel / 0.060), 0.58), 0.76)
    return Estimate(value, 0.04, message("from the wheel size"))


def capture_share(core: Core, wind: Wind, road_speed: float, radiator: bool = False) -> Estimate:
    """Share (0–1, more with a fan) of the free stream that goes through a core (a `radiator`: water in it) at
    `road_speed` m/s, by its own resistance and what drives the air (`wind`). Raises Fault for a core that cannot be."""
    speed = max(road_speed, 3.0)
    flow = cooling_flow(core, road_speed=speed, wind=wind, radiator=radiator)
    value = flow / (AIR_DENSITY * core.width * core.height * speed)
    return Estimate(value, max(0.25 * value, 0.05), message("from the core's resistance and its mounting"))


def cooler_effectiveness(core: Core, charge: float, cooling: float) -> Estimate:
    """Effectiveness (0–1) of a core at `charge` and `cooling` kg/s from its dimensions. Raises Fault for a
    core that cannot be."""
    value = rate(core, charge=charge, cooling=cooling).effectiveness
    return Estimate(value, 0.08, message("from the core dimensions"))


def cooler_drop(core: Core, charge: float, cooling: float) -> Estimate:
    """Loss of the charge in Pa in a core with its tanks at `charge` and `cooling` kg/s, from its
    dimensions. Raises Fault for a core that cannot be."""
    value = rate(core, charge=charge, cooling=cooling).drop
    return Estimate(value, 0.30 * value, message("from the core dimensions"))


def water_effectiveness(core: Core, charge: float, water: float) -> Estimate:
    """Effectiveness (0–1) of a water-cooled core at `charge` and `water` kg/s. Raises Fault for a core that
    cannot be."""
    value = rate_water(core, charge=charge, water=water).effectiveness
    return Estimate(value, 0.08, message("from the core dimensions"))


def water_drop(core: Core, charge: float, water: float) -> Estimate:
    """Loss of the charge in Pa in a water-cooled core at `charge` and `water` kg/s. Raises Fault for a core that
    cannot be."""
    value = rate_water(core, charge=charge, water=water).drop
    return Estimate(value, 0.30 * value, message("from the core dimensions"))


def front_effectiveness(core: Core, water: float, air: float) -> Estimate:
    """Effectiveness (0–1) of the front exchanger with `water` and `air` in kg/s. Raises Fault for a core that
    cannot be."""
    value = rate_front(core, water=water, air=max(air, 1e-3))
    return Estimate(value, 0.08, message("from the exchanger dimensions and its air"))


def rotor_inertia(turbine: float, compressor: float) -> Estimate:
    """Inertia of a rotor in kg m2 from the tip diameters of its `turbine` and `compressor` wheel in m."""
    value = inertia(turbine, compressor)
    return Estimate(value, 0.25 * value, message("from the wheels"))


def intake_volume(displacement: float) -> Estimate:
    """Plenum and runners in m3 of an engine of so much `displacement` in m3: 1.4 of it."""
    value = 1.4 * displacement
    return Estimate(value, 0.40 * value, message("1.4 × displacement"))


STOCK_CONSUMPTION = 245e-3 / 3.6e6  # kg/J of diesels at full load before they are tuned, 220 to 280 g/kWh


def delivery(power: float, speed: float, cylinders: int, said: bool) -> Estimate:
    """Fuel an injection in m3 with which a diesel of so many `cylinders` made its stock `power` in W at `speed`
    in rev/min, which was `said` or is itself an estimate: 245 g/kWh."""
    value = power * STOCK_CONSUMPTION / FUEL_DENSITY / (cylinders * speed / 120.0)
    return Estimate(value, (0.10 if said else 0.18) * value, message("from the stock power, at 245 g/kWh"))


def blower_size(engine: Engine, ratio: float, boost: float) -> Estimate:
    """Displacement in m3 of one turn of a blower that turns `ratio` times for one of the crank and brings `boost` Pa gauge to an
    `engine`: what the engine swallows, so much denser, warmed to 1.12 times and with a quarter gone past the rotors (common practice,
    no source)."""
    best = max(engine.breathing.efficiency)
    value = 0.5 * engine.displacement * best * (1.0 + max(boost, 0.0) / STANDARD_ATMOSPHERE) / WARMED / (PAST_ROTORS * max(ratio, 0.1))
    return Estimate(value, 0.15 * value, message("what this engine takes at {boost}", boost=Figure(max(boost, 0.0), "pressure_gauge")))


def belt_ratio(belt: Belt) -> Estimate:
    """Blower turns for one of the crank from the pulleys of its `belt`."""
    return Estimate(belt.ratio, 0.005 * belt.ratio, message("from the pulleys"))


def rated_flow(bore: float, drop: float, exhaust: bool) -> Estimate:
    """Flow in m3/s of air of 1.2 kg/m3 at a `drop` in Pa through a filter or meter of the intake, or a
    silencer of the `exhaust`, with a neck of `bore` m: a loss coefficient of 0.6, of a silencer 1.6."""
    loss = 1.6 if exhaust else 0.6
    value = 0.25 * math.pi * bore**2 * math.sqrt(2.0 * drop / (1.2 * loss))
    words = (
        message("from its neck bore, as a straight-through silencer")
        if exhaust
        else message("from its neck bore, as a clean filter or meter")
    )
    return Estimate(value, 0.30 * value, words)


def gate_discharge(valve: float, branch: float, main: float, angle: float, inside: bool, lift: float = math.inf) -> Estimate:
    """Discharge coefficient of a gate with a `valve` that lifts `lift` on a `branch` off a pipe `main` (diameters in m) at an `angle`
    in rad, or of a flap `inside` a housing."""
    if inside:
        return Estimate(FLAP, 0.12, message("for a flap over a hole in the housing"))
    # A larger valve on the same pipe never passes less: what its branch turns off is the most there is
    sizes = [valve * share / 20.0 for share in range(6, 21)]
    passed = max(throat(size, lift) * branched_discharge(size, max(branch * size / valve, size), main, angle, lift) for size in sizes)
    value = passed / throat(valve, lift)
    return Estimate(
        value, 0.10, message("from its branch, at {angle} off {main}", angle=Figure(angle, "angle"), main=Figure(main, "length"))
    )


_PRACTICE = "common practice, no source"
METHODS: tuple[Method, ...] = (
    Method(
        key="estimate_breathing",
        title="Best VE from the kind of head",
        function=best_breathing,
        limits={},
        source="Heywood 1988, sec. 6.2 gives 80 to 90 % and the trend; four valves from memory",
        accuracy="8 %",
    ),
    Method(
        key="estimate_breathing_of_power",
        title="Best VE from the stock power",
        function=breathing_of_power,
        limits={},
        source="The program's own stock relations, turned round",
        accuracy="5 %",
    ),
    Method(
        key="estimate_stock_power",
        title="Stock power from VE",
        function=power_of_breathing,
        limits={},
        source="The program's own stock relations",
        accuracy="10 %",
    ),
    Method(key="estimate_peak_speed", title="Speed of the best VE", function=peak_speed, limits={}, source=_PRACTICE, accuracy="8 to 14 %"),
    Method(
        key="estimate_stock_speed",
        title="Speed of the best stock power",
        function=stock_speed,
        limits={},
        source=_PRACTICE,
        accuracy="10 %",
    ),
    Method(
        key="estimate_lambda", title="Lambda at full load", function=full_load_lambda, limits={}, source=_PRACTICE, accuracy="0.04 to 0.12"
    ),
    Method(
        key="estimate_evaporated",
        title="Fuel that cools the charge",
        function=evaporated,
        limits={},
        source=_PRACTICE,
        accuracy="5 to 12 points",
    ),
    Method(
        key="estimate_compression", title="Compression ratio", function=compression, limits={}, source=_PRACTICE, accuracy="0.8, diesel 1.5"
    ),
    Method(
        key="estimate_turbine_wheel",
        title="Turbine wheel from its compressor",
        function=turbine_wheel,
        limits={},
        source=_PRACTICE,
        accuracy="6 %",
    ),
    Method(
        key="estimate_exducer",
        title="Turbine exducer from its inducer",
        function=turbine_exducer,
        limits={},
        source=_PRACTICE,
        accuracy="5 %",
    ),
    Method(
        key="estimate_housing",
        title="Housing from the turbine wheel",
        function=turbine_housing,
        limits={},
        source=_PRACTICE,
        accuracy="20 %",
    ),
    Method(
        key="estimate_turbine_efficiency",
        title="Best turbine efficiency from the wheel",
        function=turbine_efficiency,
        limits={"wheel": (0.03, 0.12)},
        source=_PRACTICE,
        accuracy="4 points",
    ),
    Method(
        key="estimate_captured",
        title="Cooling air share of a core",
        function=capture_share,
        limits={},
        source="Drop of the core against the head of the road speed; shares of it from memory",
        accuracy="25 %",
    ),
    Method(
        key="estimate_effectiveness",
        title="Effectiveness from the dimensions",
        function=cooler_effectiveness,
        limits={},
        source=RATING.source,
        accuracy="8 points",
    ),
    Method(
        key="estimate_cooler_drop",
        title="Intercooler loss from its dimensions",
        function=cooler_drop,
        limits={},
        source=RATING.source,
        accuracy="30 %",
    ),
    Method(
        key="estimate_water_cooler",
        title="Water-cooled core from its dimensions",
        function=water_effectiveness,
        limits={},
        source="Manglik & Bergles 1995 on the charge, Gnielinski 1976 in flat water passages",
        accuracy="8 points",
    ),
    Method(
        key="estimate_front",
        title="Front exchanger from its dimensions",
        function=front_effectiveness,
        limits={},
        source="Chang & Wang 1997, Davenport 1983, Gnielinski 1976",
        accuracy="8 points",
    ),
    Method(
        key="estimate_inertia",
        title="Inertia of a rotor from its wheels",
        function=rotor_inertia,
        limits={},
        source="Geometry of common wheels",
        accuracy="25 %",
    ),
    Method(
        key="estimate_intake_volume",
        title="Plenum and runners from the displacement",
        function=intake_volume,
        limits={},
        source=_PRACTICE,
        accuracy="40 %",
    ),
    Method(
        key="estimate_delivery",
        title="Pump fuel from the stock power",
        function=delivery,
        limits={},
        source="Heywood 1988, sec. 15.4: 220 to 280 g/kWh",
        accuracy="10 %",
    ),
    Method(
        key="estimate_belt_ratio",
        title="Blower ratio from its pulleys",
        function=belt_ratio,
        limits={},
        source="Geometry",
        accuracy="0.5 %",
    ),
    Method(
        key="estimate_gate",
        title="Discharge of a wastegate with its branch",
        function=gate_discharge,
        limits={"angle": (0.0, 2.62)},
        source="Momentum of a stream that parts, Idelchik eq. 7-3, in series with a valve of 0.72 (Heywood 1988, sec. 6.3, memory)",
        accuracy="0.1",
    ),
    Method(
        key="estimate_rated_flow",
        title="Flow of a filter or silencer from its neck",
        function=rated_flow,
        limits={},
        source="Loss coefficients from memory: clean cone filters 0.4 to 0.9, straight-through silencers 1 to 2.5",
        accuracy="30 %",
    ),
)

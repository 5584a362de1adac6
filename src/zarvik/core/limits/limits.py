"""Where good ends and where it fails: each limit once, for checks, searches and first designs.

Common practice without a published source unless the basis names one.
"""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.core.materials.table import FACTS, NAMES, value, values

OK = "ok"
MARGINAL = "marginal"
FAILS = "fails"
TO_DO = "to_do"
STATE_WORDS = {OK: "OK", MARGINAL: "Marginal", FAILS: "Fails", TO_DO: "To do"}
ORDER = {FAILS: 0, MARGINAL: 1, TO_DO: 2, OK: 3}


@dataclass(frozen=True)
class Limit:
    """One limit. Up to `good` a value holds, beyond it it is tight, beyond `most` it fails; values
    exactly on an edge count to the better side. `most` below `good`: less is worse. `zero`: the
    value at which the whole margin would be left; None where the value is a margin itself. `kind`
    of quantity, in SI."""

    key: str
    title: str
    kind: str
    good: float
    most: float
    zero: float | None
    basis: str

    def state(self, value: float) -> str:
        """How `value` (SI, or a ratio) stands: holds, tight or fails. Not a number fails."""
        sign = self._sign
        if not sign * value <= sign * self.most:
            return FAILS
        return MARGINAL if sign * value > sign * self.good else OK

    def margin(self, value: float) -> float:
        """Share of the room up to `most` that `value` (SI, or a ratio) leaves, negative beyond it;
        the value itself where it is a margin."""
        if self.zero is None:
            return value
        return self._sign * (self.most - value) / abs(self.most - self.zero)

    @property
    def _sign(self) -> float:
        """1 where more is worse, -1 where less is; of a margin less is always worse."""
        return 1.0 if self.zero is not None and self.most > self.good else -1.0

    def moved(self, by: float) -> Limit:
        """The limit with both its edges moved (SI).

        Moved `by` so much.
        """
        return Limit(
            key=self.key, title=self.title, kind=self.kind, good=self.good + by, most=self.most + by, zero=self.zero, basis=self.basis
        )


def _room(key: str, title: str, good: float, most: float, basis: str) -> Limit:
    return Limit(key=key, title=title, kind="ratio", good=good, most=most, zero=None, basis=basis)


SURGE = _room("surge", "Surge margin", 0.10, 0.0, "Flow margin at constant pressure ratio; 10 % common practice")
CHOKE = _room("choke", "Choke margin", 0.10, 0.0, "Flow limit at constant pressure ratio; 10 % common practice")
WHEEL_SPEED = _room("overspeed", "Wheel speed margin", 0.05, 0.0, "Corrected speed against the maximum of the map; 5 % common practice")
ROTOR_SPEED = _room("rotors", "Rotor speed margin", 0.05, 0.0, "Rotor speed against its maximum; 5 % common practice")
BELT_POWER = _room("belt", "Belt capacity above the load", 0.25, 0.0, "Euler–Eytelwein; 25 % reserve: common practice, no source")
BELT_SPEED = _room("belt_speed", "Belt speed margin", 0.05, -0.10, "45 m/s: common practice, no source")
BLOWER_BOOST = _room("blower_boost", "Blower boost above target", -0.01, -0.06, "Rotor delivery against engine demand")
BUDGET = _room("money", "Budget left", 0.05, 0.0, "Bill from the invented catalogue; 5 % reserve: common practice")
WEEKS = _room("weeks", "Weeks left", 0.10, 0.0, "Longest delivery, then hours of work from the catalogue; 10 % reserve: common practice")
DRIVE = _room(
    "drive", "Torque below clutch and gearbox limit", 0.05, 0.0, "Highest full-load torque against the limit; 5 %: common practice"
)
LOW_GEARS = _room(
    "low_gears",
    "Torque below low-gear limit",
    0.0,
    -0.5,
    ("Boost by gear reduces torque by a third; half of that is lost when it reacts late: common practice, no source"),
)
JOINT_STRAIGHT = _room(
    "grip",
    "Straight tube at a joint above the minimum",
    0.0,
    -0.5,
    ("30 mm under a clamp with bead, an inch in a slip joint; below half it does not seat: common practice, no source"),
)
TIGHT_BEND = _room(
    "bend_radius",
    "Bend radius above the tightest available",
    0.0,
    -0.35,
    "Below the tube's radius there is no inner wall; weld elbows have 1.5 and 1.0 × nominal size: ASME B16.9",
)
MOUTH_SPEED = _room(
    "mouth",
    "Tailpipe gas speed below the limit",
    0.0,
    -0.02,
    "Flow noise grows with about the sixth power of speed: N. Curle, Proc. Roy. Soc. A 231 (1955) 505",
)
THRESHOLD = _room(
    "spool",
    "Full-boost speed below the wish",
    0.0,
    -0.05,
    "Band: turbine efficiency and area ±2 %, heat of the manifold ±50 %, of the cylinders ±15 %",
)
GATE = _room("gate", "Wastegate lift reserve", 0.15, 0.0, "15 % lift reserve: common practice, no source")
CREEP = _room("creep", "Boost creep above target", 0.0, -0.02, "Orifice in parallel with the turbine")
RUNAWAY = _room(
    "runaway", "Boost without a wastegate above target", -0.05, -0.05, "Overboost can break an engine. Nothing bypasses the turbine"
)
SPRING = Limit(
    key="spring",
    title="Spring boost against target",
    kind="ratio",
    good=0.05,
    most=0.15,
    zero=0.0,
    basis="Balance of forces at diaphragm and valve; 5 and 15 %: common practice, no source",
)
BLOW_OFF = _room(
    "blow_off",
    "Blow-off valve area above the need",
    0.0,
    -0.35,
    "Surge flow through an orifice, NACA 1135; a third less flutters: common practice, no source",
)
# 12 psi is said for 0.8 bar: what a gauge rounds is no failure.
BOTTOM_END = _room(
    "bottom_end",
    "Boost below the engine's limit",
    0.07,
    -0.035,
    "7–15 % under the limit: common practice, no source. Overboost can break an engine",
)
# Nobody measures half a percent of power; a dyno repeats to about three.
POWER = _room("target", "Power above target", 0.03, -0.005, "Solved for the whole air path; power at the crank, uncorrected")

BACK_PRESSURE = Limit(
    key="back_pressure",
    title="Back-pressure ratio",
    kind="factor",
    good=1.35,
    most=2.2,
    zero=1.0,
    basis="1.35 good, 2.2 the most: common practice, no source",
)
SPARK_EXHAUST = Limit(
    key="exhaust_spark",
    title="Turbine inlet temperature, spark ignition",
    kind="temperature",
    good=1223.15,
    most=1273.15,
    zero=800.0,
    basis="950 °C good, 1000 °C maximum: common practice, no source",
)
DIESEL_EXHAUST = Limit(
    key="exhaust_diesel",
    title="Turbine inlet temperature, diesel",
    kind="temperature",
    good=1003.15,
    most=1053.15,
    zero=800.0,
    basis="730 °C good, 780 °C maximum: common practice, no source",
)
CHARGE_TEMPERATURE = Limit(
    key="charge_temperature",
    title="Plenum temperature at full load",
    kind="temperature",
    good=333.15,
    most=358.15,
    zero=288.15,
    basis="60 °C good, 85 °C maximum, alcohol 25 °C more: common practice, no source",
)
ALCOHOL_STANDS = 25.0  # K that alcohol stands more of; common practice, no source
SMOKE = Limit(
    key="smoke",
    title="Diesel lambda at full load",
    kind="number",
    good=1.25,
    most=1.15,
    zero=0.0,
    basis="Smoke limit 1.15 to 1.3: common practice, no source",
)

_MACH = "Mach {0:g} to {1:g}: common practice, no source"


def _mach(key: str, title: str, good: float, most: float) -> Limit:
    return Limit(key=key, title=title, kind="factor", good=good, most=most, zero=0.0, basis=_MACH.format(good, most))


# At the eye of a wheel; a pipe before it is wider.
INTAKE_MACH = _mach("intake_mach", "Mach number in the intake", 0.38, 0.50)
CHARGE_MACH = _mach("charge_mach", "Mach number in the charge pipes", 0.30, 0.40)
# Of the mean flow: the pulses are three times as fast.
MANIFOLD_MACH = _mach("manifold_mach", "Mach number in the manifold", 0.35, 0.50)
EXHAUST_MACH = _mach("exhaust_mach", "Mach number in the exhaust", 0.40, 0.60)
CHARGE_LOSS = Limit(
    key="charge_loss",
    title="Charge-side pressure loss",
    kind="ratio",
    good=0.06,
    most=0.12,
    zero=0.0,
    basis="6 % good, 12 % the most: common practice, no source",
)
INTAKE_LOSS = Limit(
    key="intake_loss",
    title="Pressure loss before the compressor",
    kind="pressure_difference",
    good=3.0e3,
    most=7.0e3,
    zero=0.0,
    basis="3 kPa good, 7 kPa maximum: common practice, no source",
)
OPENING = Limit(
    key="openings",
    title="Bore against the compressor's opening",
    kind="factor",
    good=0.95,
    most=0.85,
    zero=0.0,
    basis="Openings from the choke flow of the map, within 6 %: common practice, no source",
)
STEP = Limit(
    key="ends", title="Bore step at a joint", kind="length", good=2.0e-3, most=1.0, zero=0.0, basis="2 mm: common practice, no source"
)

BANKS = Limit(
    key="banks",
    title="Air difference between banks",
    kind="ratio",
    good=0.01,
    most=0.03,
    zero=0.0,
    basis="Cylinders of one engine within 1 % of air, 3 % is a lambda of 0.82 against 0.845: common practice, no source",
)
BRAKE = Limit(
    key="brake",
    title="Exhaust brake pressure against valve spring limit",
    kind="ratio",
    good=1.0,
    most=1.15,
    zero=0.0,
    basis="Spring force over valve area with 15 % reserve; 3 bar if unknown: common practice, no source",
)
LEAK = Limit(
    key="leak",
    title="Leaking share of the airflow",
    kind="ratio",
    good=0.005,
    most=0.02,
    zero=0.0,
    basis="0.5 % is lost in log noise, 2 % is a mixture error: common practice, no source",
)
OIL_SHORT = _room(
    "oil_short",
    "Turbo oil flow above the minimum",
    0.0,
    -0.3,
    "Journal bearings 2 to 5 L/min, ball bearings 0.7 to 2: common practice, no source",
)
OIL_FLOOD = Limit(
    key="oil_flood",
    title="Turbo oil flow against seal limit",
    kind="ratio",
    good=1.0,
    most=1.6,
    zero=0.0,
    basis="Journal bearings 2 to 5 L/min, ball bearings 0.7 to 2: common practice, no source",
)
DRAINS = _room(
    "drains",
    "Drain capacity, half full, above the oil flow",
    0.25,
    -0.35,
    ("Slow flow of foam, oil share known within a third; 16 mm or more, within 30° of straight down: common practice, no source"),
)
DUTY = Limit(
    key="duty",
    title="Injector duty",
    kind="ratio",
    good=0.85,
    most=0.95,
    zero=0.0,
    basis="80 to 85 % at the worst point: common practice, no source",
)
PUMPS = _room("pumps", "Fuel pump flow above demand", 0.10, 0.0, "90 % of its rating, 10 % less per bar: common practice, no source")
FUEL_SPEED = Limit(
    key="fuel_speed",
    title="Fuel speed in its line",
    kind="velocity",
    good=3.0,
    most=6.0,
    zero=0.0,
    basis="3 m/s: common practice, no source",
)
METER_RANGE = _room(
    "meter_range", "Meter range above airflow", 0.05, 0.0, "Max reading of its table; 5 % for a cold day: common practice, no source"
)
METER_STRAIGHT = Limit(
    key="meter_straight",
    title="Straight pipe before a meter, in diameters",
    kind="number",
    good=3.0,
    most=1.0,
    zero=10.0,
    basis="3 diameters before, 1 after: common practice, no source",
)
PEDAL = Limit(
    key="pedal",
    title="Pedal travel used in town",
    kind="ratio",
    good=0.15,
    most=0.07,
    zero=1.0,
    basis="From closed to full airflow at 2,000 rev/min without boost; 15 and 7 %: common practice, no source",
)
THROTTLE_LOSS = Limit(
    key="throttle_loss",
    title="Throttle loss against the pressure before it",
    kind="ratio",
    good=0.02,
    most=0.06,
    zero=0.0,
    basis="2 % good, 6 % maximum: common practice, no source",
)
PORT_LIP = Limit(
    key="port_lip",
    title="Edge facing the charge flow",
    kind="length",
    good=0.0005,
    most=0.003,
    zero=0.0,
    basis="What a fingernail feels, and 3 mm: common practice, no source",
)
VALVE_MACH = Limit(
    key="valve_mach",
    title="Inlet valve Mach index",
    kind="number",
    good=0.5,
    most=0.7,
    zero=0.0,
    basis="Breathing falls from 0.5 on: C. F. Taylor, vol. 1, 1985, fig. 6-13 (memory)",
)
COOLANT = Limit(
    key="coolant",
    title="Engine outlet coolant temperature",
    kind="temperature",
    good=378.15,
    most=388.15,
    zero=300.0,
    basis="105 °C good, 115 °C maximum under pressure: common practice, no source",
)
RADIATOR = _room(
    "radiator", "Sustainable load of the radiator above the required share", 0.10, -0.10, "10 % reserve: common practice, no source"
)
PULL = Limit(
    key="pull",
    title="Time at full load to the coolant limit",
    kind="seconds",
    good=25.0,
    most=12.0,
    zero=75.0,
    basis="25 s good: three gears in sequence; 12 s minimum for a pull: common practice, no source",
)
CRANKCASE = Limit(
    key="crankcase",
    title="Crankcase pressure",
    kind="pressure_difference",
    good=1.0e3,
    most=3.5e3,
    zero=0.0,
    basis="1 kPa good, seals weep at 3.5 kPa: common practice, no source",
)
SUCKED = Limit(
    key="sucked",
    title="Crankcase vacuum",
    kind="pressure_difference",
    good=3.0e3,
    most=6.0e3,
    zero=0.0,
    basis="More draws oil out with the gas, and dirt in through seals: common practice, no source",
)
TURBO_WATER = Limit(
    key="turbo_water",
    title="Turbo coolant temperature rise",
    kind="warming",
    good=15.0,
    most=35.0,
    zero=0.0,
    basis="15 K good, near boiling at 35 K: common practice, no source",
)
ADAPTER = Limit(
    key="adapter",
    title="Adapter plate loss against the pressure there",
    kind="ratio",
    good=0.005,
    most=0.02,
    zero=0.0,
    basis="Cone: Rennels & Hudson 2012; half a per cent and 2 %: common practice, no source",
)
CARRIED = Limit(
    key="carried",
    title="Bending load by the turbo's mass against 1,000 h strength",
    kind="ratio",
    good=0.5,
    most=1.0,
    zero=0.0,
    basis="Rupture strength: ASM Metals Handbook vol. 1 (memory, within 40 %); four times its weight: common practice, no source",
)
BRICK = Limit(
    key="brick",
    title="Catalyst inlet gas temperature",
    kind="temperature",
    good=1173.0,
    most=1273.0,
    zero=573.0,
    basis="900 °C for long, above 1,000 °C the coating melts: common practice, no source",
)
FIT = Limit(
    key="fit",
    title="End gap beyond what the joint allows",
    kind="number",
    good=1.0,
    most=4.0,
    zero=0.0,
    basis="Weld: 0.5 mm and 0.5°; hose: 5 mm along, 3 mm sideways, 3°: common practice, no source",
)
APART = Limit(
    key="apart",
    title="Gap between two tubes",
    kind="length",
    good=0.003,
    most=-0.0005,
    zero=0.01,
    basis="3 mm for heat; overlaps over 0.5 mm cannot be filed away: common practice, no source",
)
TORCH_SHARE = Limit(
    key="torch",
    title="Unreachable share of a weld",
    kind="ratio",
    good=0.25,
    most=1.0,
    zero=0.0,
    basis="A cup of 12 mm radius, 25 mm off the seam: common practice, no source",
)
DRAIN = Limit(
    key="drain",
    title="Oil drain direction",
    kind="angle",
    good=0.611,
    most=0.873,
    zero=0.0,
    basis="35° good, 50° maximum; shaft within 15° of level: common practice, no source",
)

# Of the Livengood-Wu integral with a typed ignition. The relation scatters by a third between engines;
# an unboosted engine of compression 9.6 on 98 octane stands at 0.5, one of 12 at 1.0.
_KNOCK = "Douaud & Eyzat 1978 with the Livengood-Wu integral"
KNOCK_TYPED = Limit(key="knock_typed", title="Knock integral, entered timing", kind="number", good=1.0, most=1.5, zero=0.0, basis=_KNOCK)
# With the ignition as late as the fuel asks for: what is left above 1 when no more retard is taken, and
# the retard from which on the fuel is the limit of this build.
KNOCK_LEFT = Limit(
    key="knock_left", title="Knock integral, timing by the fuel", kind="number", good=1.04, most=1.10, zero=0.0, basis=_KNOCK
)
# Past the octane that it was fitted to it is a hint, until it is far beyond
KNOCK_HINT = Limit(key="knock_hint", title="Knock integral beyond octane 100", kind="number", good=1.0, most=2.0, zero=0.0, basis=_KNOCK)
LEAN = Limit(
    key="lean",
    title="Spark-ignition lambda at full load",
    kind="number",
    good=0.95,
    most=1.05,
    zero=0.5,
    basis="0.75 to 0.88 is usual, above 1.05 is a fault, from 1.4 it misfires: common practice, no source",
)
KNOCK_RETARD = Limit(
    key="knock_retard", title="Retard needed by the fuel", kind="angle_degrees", good=14.0, most=90.0, zero=0.0, basis=_KNOCK
)


# What a wall stands for long, and at the most. Silicone hose by the gas in it, the others by their
# skin; the strength of metals falls long before they melt.
MATERIALS: dict[str, Limit] = {
    key: Limit(
        key=key,
        title=NAMES[key].in_a_sentence,
        kind="temperature",
        good=value(key, "stands"),
        most=value(key, "stands_briefly"),
        zero=300.0,
        basis=FACTS[key]["stands"].source,
    )
    for key in values("stands_briefly")
}

ALL: tuple[Limit, ...] = (
    SURGE,
    CHOKE,
    WHEEL_SPEED,
    ROTOR_SPEED,
    BELT_POWER,
    BELT_SPEED,
    BLOWER_BOOST,
    BUDGET,
    WEEKS,
    DRIVE,
    LOW_GEARS,
    JOINT_STRAIGHT,
    TIGHT_BEND,
    MOUTH_SPEED,
    THRESHOLD,
    GATE,
    CREEP,
    RUNAWAY,
    SPRING,
    BLOW_OFF,
    BOTTOM_END,
    POWER,
    BACK_PRESSURE,
    SPARK_EXHAUST,
    DIESEL_EXHAUST,
    CHARGE_TEMPERATURE,
    SMOKE,
    INTAKE_MACH,
    CHARGE_MACH,
    MANIFOLD_MACH,
    EXHAUST_MACH,
    CHARGE_LOSS,
    INTAKE_LOSS,
    OPENING,
    STEP,
    BANKS,
    BRAKE,
    LEAK,
    OIL_SHORT,
    OIL_FLOOD,
    DRAINS,
    DUTY,
    PUMPS,
    FUEL_SPEED,
    METER_RANGE,
    METER_STRAIGHT,
    PEDAL,
    THROTTLE_LOSS,
    PORT_LIP,
    VALVE_MACH,
    COOLANT,
    RADIATOR,
    PULL,
    CRANKCASE,
    SUCKED,
    TURBO_WATER,
    ADAPTER,
    CARRIED,
    BRICK,
    FIT,
    APART,
    TORCH_SHARE,
    DRAIN,
    KNOCK_TYPED,
    KNOCK_LEFT,
    KNOCK_HINT,
    LEAN,
    KNOCK_RETARD,
    *MATERIALS.values(),
)

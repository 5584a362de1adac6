"""Reading what the kernel wrote: a row of numbers becomes a point with its names."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, partial

import numpy as np

from zarvik.core.airpath import slots as k
from zarvik.core.airpath import stations as st
from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.point import Closure, Point, Station, Stretch, TurboPoint
from zarvik.core.common.sentences import Figure, Sentence, message
from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.ducts import march
from zarvik.core.ducts.element import Element
from zarvik.core.ducts.wall_heat import metal_temperature
from zarvik.core.gas.mixture import GAS_CONSTANT
from zarvik.core.turbine import turbine as turbines

# Why a state whose sums close is none that could be (`slots.BOUND`)
BOUNDS = {
    1: "exhaust blocked: port gas would be hotter than any flame (a pipe, turbine or wastegate is far too narrow)",
    2: "the wheel would turn almost twice its limit: the turbo is far too small, or nothing limits boost",
    3: "the plenum would exceed 12 bar: boost runs away",
    4: "outside the range of the gas data",
    5: "boost would be below 5 % of ambient: a pipe or compressor is far too small for this engine",
}


CHOKED = 0.68  # flow parameter at Mach 1


@dataclass(frozen=True, eq=False)
class RawSolution:
    """What the kernel wrote, one row a point, with what is needed to read it."""

    speed: np.ndarray
    wanted: np.ndarray
    breathing: np.ndarray
    states: np.ndarray
    pieces: np.ndarray
    solutions: np.ndarray

    def near(self, speed: float) -> int | None:
        """Place of the solved point nearest to an engine `speed` in rev/min; None where none is solved."""
        good = np.nonzero(self.solved)[0]
        return int(good[np.abs(self.speed[good] - speed).argmin()]) if len(good) else None

    @property
    def solved(self) -> np.ndarray:
        """Which points closed."""
        return np.asarray(self.states[:, k.CLOSED] > 0.0)

    @property
    def power(self) -> np.ndarray:
        """Power at the crank in W."""
        return np.asarray(self.states[:, k.POWER])


@dataclass(frozen=True, eq=False)
class Reading:
    """Names for the rows of one air path: its `day_factor` (what a dyno would multiply the power by) and
    packed `turbine`, `air` and `burnt` gas."""

    path: AirPath
    day_factor: float
    turbine: np.ndarray
    air: np.ndarray
    burnt: np.ndarray

    def point(self, raw: RawSolution, i: int) -> Point:
        """Point `i` of a raw solution with its names."""
        s = raw.states[i].tolist()
        ambient = self.path.site
        speed = float(raw.speed[i])
        return Point(
            speed=speed,
            wanted_boost=float(raw.wanted[i] - ambient.pressure),
            boost=s[k.P_PLENUM] - ambient.pressure,
            air=s[k.AIR],
            fuel=s[k.FUEL],
            power=s[k.POWER],
            corrected_power=s[k.POWER] * self.day_factor,
            torque=s[k.POWER] / (speed * math.pi / 30.0),
            efficiency=float(raw.breathing[i]),
            indicated=s[k.INDICATED],
            friction=s[k.FRICTION],
            pumping=s[k.PUMPING],
            charge=s[k.T_CHARGE],
            retard=s[k.RETARD],
            mixture=self._mixture(s),
            evaporated=s[k.EVAPORATED_FUEL],
            taken=s[k.T_TAKEN],
            turbo=self._turbo(s),
            cooler_effectiveness=s[k.EFFECTIVENESS],
            cooler_heat=s[k.COOLER_HEAT],
            cooling_air_out=s[k.COOLING_AIR_OUT],
            closure=self._closure(raw, i, s),
            walk=partial(self._walk, raw, i),
        )

    @cached_property
    def _dry(self) -> float:
        return 1.0 - self.path.site.air.mass_fraction("H2O")

    def _mixture(self, s: list[float]) -> float:
        """Lambda: dry air over what the fuel needs; nan without fuel."""
        fuel = s[k.FUEL] * self.path.engine.fuel.stoichiometric_ratio
        return s[k.AIR] * self._dry / fuel if fuel > 0.0 else math.nan

    @cached_property
    def _mechanical(self) -> float:
        return float(self.turbine[turbines.MECHANICAL])

    def _closure(self, raw: RawSolution, i: int, s: list[float]) -> Closure:
        solved = bool(s[k.CLOSED] > 0.0)
        # Below a watt nothing turns: there is no share of it to speak of.
        power = max(abs(s[k.TURBINE_POWER]), 1.0)
        shaft = 0.0
        first = k.RESIDUAL
        # With a blower its own flow stands third, and the pipe in the turbine's place second.
        flow, pipe = first + 2, first + 1
        if self.path.blower is None:
            shaft = abs(s[k.TURBINE_POWER] * self._mechanical - s[k.SHAFT]) / power
            flow, pipe = first + 1, first + 4
        return Closure(
            mass=max(abs(s[first]), abs(s[flow])),
            pressure=max(abs(s[pipe]), abs(s[first + 3]), abs(s[first + 4])),
            energy=abs(s[k.ENERGY]) / max(s[k.RELEASED_HEAT], 1e-9),
            shaft=shaft,
            iterations=int(s[k.ITERATIONS]),
            solved=solved,
            reason=None if solved else self._reason(raw, i, s),
            choked=int(s[k.CHOKED]),
        )

    def _reason(self, raw: RawSolution, i: int, s: list[float]) -> Sentence:
        choked = int(s[k.CHOKED])
        if choked >= 0:
            element = self.path.elements[choked]
            return message(
                "flow chokes in “{name}” ({bore} bore): this pipe cannot pass the gas",
                name=element.name or element.id,
                bore=Figure(element.diameter, "length"),
            )
        return self._hard(raw, i, s)

    def _hard(self, raw: RawSolution, i: int, s: list[float]) -> Sentence:
        """Why a point without a choking pipe has no answer, with the entry that stands in the way."""
        path = self.path
        if path.blower is None and path.gate.area <= 0.0:
            return message("without a wastegate boost runs away: fit a wastegate")
        bound = int(s[k.BOUND])
        if bound:
            return message(BOUNDS[bound])
        return self._tightest(raw, i)

    def _tightest(self, raw: RawSolution, i: int) -> Sentence:
        """What stands most in the way where no state was found: the piece, or the turbine, that would
        have to pass the largest share of what it can, at pressures and temperatures as they are usual
        there."""
        path, site = self.path, self.path.site
        plenum = float(raw.wanted[i])
        gas = float(site.air.packed[GAS_CONSTANT])
        swept = path.engine.swept_flow(float(raw.speed[i])) * float(raw.breathing[i])
        air = swept * plenum / (gas * 330.0)
        there = {
            st.INTAKE: (site.pressure, 300.0),
            st.HOT_PIPE: (plenum, 400.0),
            st.COLD_PIPE: (plenum, 330.0),
            st.MANIFOLD: (2.0 * plenum, 1100.0),
            st.EXHAUST: (1.5 * site.pressure, 1000.0),
        }
        worst, name, size = 0.0, "", 0.0
        for section, run in path.runs.items():
            pressure, temperature = there[section]
            for element in run:
                area = element.parallel * 0.25 * math.pi * element.diameter**2
                used = air / (area * pressure * CHOKED / math.sqrt(gas * temperature))
                if used > worst:
                    worst, name, size = used, element.name or element.id, element.diameter
        if path.blower is None:
            area = float(self.turbine[turbines.AREA] * self.turbine[turbines.COUNT]) + path.gate.area
            used = air / (area * 2.0 * plenum * CHOKED / math.sqrt(gas * 1100.0))
            if used > max(worst, 0.6):
                return message(
                    "no solution where flow, pressures and shaft power agree: turbine and wastegate are far too small for this engine"
                )
        if worst > 0.6:
            return message(
                ("no solution where flow, pressures and shaft power agree: “{name}” ({bore} bore) is far too narrow for this engine"),
                name=name,
                bore=Figure(size, "length"),
            )
        asked = Figure(max(plenum - site.pressure, 0.0), "pressure_gauge", "=goal.target_boost")
        if path.blower is None:
            chart = path.turbo.chart
            most = float(chart.lines[-1].flow[-1]) * site.pressure / chart.reference_pressure * path.turbo.count
            if air > most:
                return message(
                    (
                        "no solution where flow, pressures and shaft power agree: {boost} needs {air} of air, but the "
                        "compressor map ends at {most}"
                    ),
                    boost=asked,
                    air=Figure(air, "mass_flow"),
                    most=Figure(most, "mass_flow", "=turbo"),
                )
        return message(
            ("no solution where flow, pressures and shaft power agree: turbo, wastegate and {boost} do not suit this engine"), boost=asked
        )

    def _stretch(self, element: Element, row: list[float], section: str, start: str, end: str) -> Stretch:
        return Stretch(
            id=element.id,
            kind=element.kind,
            name=element.name,
            section=section,
            start=start,
            end=end,
            pressure_in=row[march.P_IN],
            drop=row[march.P_IN] - row[march.P_OUT],
            warming=row[march.T_OUT] - row[march.T_IN],
            mach=row[march.MACH],
            velocity=row[march.VELOCITY],
            reynolds=row[march.REYNOLDS],
            loss=row[march.LOSS],
            skin=row[march.SKIN],
            metal=self._metal(element, row, section),
        )

    def _walk(self, raw: RawSolution, i: int) -> tuple[dict[str, Station], tuple[Stretch, ...]]:
        s, pieces = raw.states[i].tolist(), raw.pieces[i].tolist()
        site = self.path.site
        cold = s[k.AIR]
        hot = cold + s[k.FUEL]
        blower = self.path.blower
        # What a bypass vents came through the intake
        drawn = cold * (1.0 + s[k.OPENING]) if blower is not None and blower.vents else cold
        stations = {st.AMBIENT: Station(site.pressure, site.temperature, drawn, 0.0)}
        stretches: list[Stretch] = []
        index = 0
        alone = self.path.alone
        begins = {
            st.AMBIENT: (site.pressure, site.temperature),
            st.COMPRESSOR_OUTLET: (s[k.P2], s[k.T2]),
            st.COOLER_OUTLET: (s[k.P_COOLER_OUT], s[k.T_COOLER_OUT]),
            st.EXHAUST_PORT: (s[k.P_PORT], s[k.T_PORT]),
            st.TURBINE_OUTLET: (s[k.P5], s[k.T5]),
        }
        for section, (start, end) in st.SECTIONS.items():
            run = self.path.runs[section]
            flow = drawn if section == st.INTAKE else cold if section in st.COLD_SECTIONS else hot
            if section == st.EXHAUST:
                flow = hot - s[k.DUMPED]
                if alone:
                    flow = hot - s[k.GATE_FLOW]
            if section == st.HOT_PIPE:
                stretches.append(self._rise(s))
            elif section == st.COLD_PIPE and self.path.cooler is not None:
                stretches.append(self._cooler(s))
            elif section == st.MANIFOLD:
                stretches.append(self._cylinders(s))
            elif section == st.EXHAUST:
                stretches += self._turbine(s)
            pressure, temperature = begins[start]
            if start != st.AMBIENT:
                mach = pieces[index][march.MACH] if run else 0.0
                stations[start] = Station(pressure, temperature, flow, mach)
            here = start
            for number, (element, row) in enumerate(zip(run, pieces[index : index + len(run)], strict=True)):
                if section == st.EXHAUST and alone and number == alone:
                    flow = hot
                there = end if element is run[-1] else f"after:{element.id}"
                stretches.append(self._stretch(element, row, section, here, there))
                stations[there] = Station(row[march.P_OUT], row[march.T_OUT], flow, row[march.MACH])
                here = there
            if not run:
                stations[end] = Station(pressure, temperature, flow, 0.0)
            index += len(run)
        # Plenum and surroundings are spaces in which the stream has come to rest.
        for name in (st.PLENUM, st.TAILPIPE):
            rest = stations[name]
            stations[name] = Station(rest.pressure, rest.temperature, rest.flow, 0.0)
        return stations, tuple(stretches)

    def _metal(self, element: Element, row: list[float], section: str) -> float:
        """K of the metal of a piece: under a cover it is hotter than the skin."""
        gas, skin = row[march.T_IN], row[march.SKIN]
        if element.surface <= 0.0 or element.resistance <= 0.0 or row[march.REYNOLDS] <= 0.0:
            return skin
        hot = section not in st.COLD_SECTIONS
        kind = self.burnt if hot else self.air
        inside = march.inside_coefficient(kind, gas, row[march.REYNOLDS], element.diameter, hot)
        return float(metal_temperature(gas, skin, inside, element.resistance))

    def _rise(self, s: list[float]) -> Stretch:
        turbo, blower = self.path.turbo, self.path.blower
        return Stretch(
            id="blower" if blower else turbo.id,
            kind="compressor",
            name=blower.name if blower else turbo.name,
            section="compressor",
            start=st.COMPRESSOR_INLET,
            end=st.COMPRESSOR_OUTLET,
            pressure_in=s[k.P1],
            drop=s[k.P1] - s[k.P2],
            warming=s[k.T2] - s[k.T1],
        )

    def _cooler(self, s: list[float]) -> Stretch:
        return Stretch(
            id="cooler",
            kind="cooler",
            name="Intercooler",
            section="cooler",
            start=st.COOLER_INLET,
            end=st.COOLER_OUTLET,
            pressure_in=s[k.P_COOLER_IN],
            drop=s[k.P_COOLER_IN] - s[k.P_COOLER_OUT],
            warming=s[k.T_COOLER_OUT] - s[k.T_COOLER_IN],
        )

    def _cylinders(self, s: list[float]) -> Stretch:
        return Stretch(
            id="engine",
            kind="engine",
            name="Cylinders",
            section="engine",
            start=st.PLENUM,
            end=st.EXHAUST_PORT,
            pressure_in=s[k.P_PLENUM],
            drop=s[k.P_PLENUM] - s[k.P_PORT],
            warming=s[k.T_PORT] - s[k.T_PLENUM],
        )

    def _turbine(self, s: list[float]) -> list[Stretch]:
        if self.path.blower is not None:
            return [
                Stretch(
                    id="pipe",
                    kind="open",
                    name="No turbine",
                    section="turbine",
                    start=st.TURBINE_INLET,
                    end=st.TURBINE_OUTLET,
                    pressure_in=s[k.P4],
                    drop=s[k.P4] - s[k.P5],
                    warming=s[k.T5] - s[k.T4],
                )
            ]
        return [
            Stretch(
                id="turbine",
                kind="turbine",
                name=self.path.turbo.turbine.name,
                section="turbine",
                start=st.TURBINE_INLET,
                end=st.TURBINE_OUTLET,
                pressure_in=s[k.P4],
                drop=s[k.P4] - s[k.P5],
                warming=s[k.T5] - s[k.T4],
            )
        ]

    def _turbo(self, s: list[float]) -> TurboPoint:
        chart = self.path.turbo.chart
        blower = self.path.blower
        ratio, flow = s[k.MAP_RATIO], s[k.MAP_FLOW]
        if blower is not None:
            speed = real = s[k.MAP_SPEED]
            limit = surge_flow = math.nan
            surge = choke = math.inf
            overspeed = 1.0 - speed / blower.maximum_speed
            region = "overspeed" if overspeed < 0 else "inside"
        else:
            speed = s[k.MAP_SPEED] * chart.maximum_speed
            real = speed * math.sqrt(max(s[k.T1], 1.0) / chart.reference_temperature)
            surge_flow, limit = chart.surge_flow(ratio), chart.flow_limit(ratio)
            surge = flow / surge_flow - 1.0 if surge_flow > 0 else math.inf
            choke = 1.0 - flow / limit
            overspeed = 1.0 - speed / chart.maximum_speed
            region = _region(chart, speed, s[k.MAP_PLACE])
        regime = s[k.REGIME]
        gated = self.path.gate.area > 0.0 or blower is not None
        word = "shut" if regime <= 1e-9 else "holding" if regime < 1.0 else "fully open"
        if not gated:
            word = "no wastegate"
        return TurboPoint(
            id=self.path.turbo.id if blower is None else "blower",
            flow=flow,
            ratio=ratio,
            speed=speed,
            real_speed=real,
            efficiency=s[k.MAP_EFFICIENCY],
            power=s[k.SHAFT],
            region=region,
            surge=surge,
            choke=choke,
            overspeed=overspeed,
            surge_flow=surge_flow,
            flow_limit=limit,
            expansion=s[k.P4] / s[k.P5] if s[k.P5] else math.nan,
            turbine_efficiency=s[k.TURBINE_EFFICIENCY],
            blade_ratio=s[k.BLADE_RATIO],
            turbine_flow=s[k.TURBINE_FLOW],
            turbine_power=s[k.TURBINE_POWER],
            regime=word,
            opening=s[k.OPENING],
            gate_flow=s[k.GATE_FLOW],
            dumped=s[k.DUMPED],
            behind_gate=s[k.BEHIND_GATE],
            joined=s[k.JOINED],
            overlap=s[k.AGAINST],
            back_pressure=s[k.P4] / s[k.P_PLENUM] if s[k.P_PLENUM] else math.nan,
        )


def _region(chart: CompressorMap, speed: float, place: float) -> str:
    """Where a point of a map is: at a corrected `speed` rev/min, its `place` between surge (0) and choke (1) of that speed."""
    if speed > chart.maximum_speed * (1 + 1e-9):
        return "overspeed"
    if speed < chart.lines[0].speed:
        return "below"
    return "surge" if place < 0.0 else "choke" if place > 1.0 else "inside"

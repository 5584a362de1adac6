"""The same coupled point as one writes it in an evening: library calls piece by piece, `brentq` for
every implicit number, `fsolve` round the whole. The baseline of the benchmark, and a second way to the
same numbers: it calls no function of the core. Gas properties and burnt composition come from Cantera,
losses from `fluids`, the cooler from `ht`, the map from SciPy; the relations of engine, turbine, gate
and walls are written out again from their sources. It takes from the build what the builder said and
the lumped loss coefficients of the pieces.

note: K loss coefficient, h heat transfer coefficient, nu blade-speed ratio.
"""

from __future__ import annotations

import math

import cantera
import fluids
import ht
import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq, fsolve

from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.ducts.element import Element
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.whole_build.build import Build
from zarvik.project.document.document import Project
from zarvik.project.document.parts.piece import Piece
from zarvik.project.units.units import Quantity

SIGMA = 5.670374419e-8


class Gas:
    """Properties of a mixture from Cantera, tabled over temperature."""

    def __init__(self, composition: dict[str, float], water: float) -> None:
        phase = cantera.Solution("gri30.yaml", transport_model=None)
        phase.TPX = 300.0, 1e5, composition
        self.constant = cantera.gas_constant / phase.mean_molecular_weight
        self.t = np.linspace(200.0, 3000.0, 1401)
        rows = []
        for t in self.t:
            phase.TP = t, 1e5
            rows.append((phase.enthalpy_mass, phase.entropy_mass, phase.cp_mass))
        self.h, self.s, self.c = np.array(rows).T
        # Air's viscosity: Sutherland with the constants of White up to 600 K is 3 % low at 800 K; a
        # power of the temperature through 18.5 and 43 uPa s (300, 1000 K) suits the whole range.
        self.mu = 18.5e-6 * (self.t / 300.0) ** 0.70

    def enthalpy(self, t: float) -> float:
        """J/kg."""
        return float(np.interp(t, self.t, self.h))

    def capacity(self, t: float) -> float:
        """J/(kg K)."""
        return float(np.interp(t, self.t, self.c))

    def heated(self, enthalpy: float) -> float:
        """Temperature of an enthalpy, K."""
        return float(np.interp(enthalpy, self.h, self.t))

    def isentropic(self, t: float, ratio: float) -> float:
        """Temperature after an isentropic change, K."""
        target = np.interp(t, self.t, self.s) + self.constant * math.log(ratio)
        return float(np.interp(target, self.s, self.t))

    def viscosity(self, t: float) -> float:
        """Pa s."""
        return float(np.interp(t, self.t, self.mu))


def burnt_gas(build: Build) -> dict[str, float]:
    """Composition of the exhaust: Cantera's equilibrium of the main species at 1740 K."""
    fuel, lam = build.engine.fuel, build.engine.lambda_
    moist = dict(build.site.air.fractions)
    need = 1.0 + fuel.hydrogen / 4.0 - fuel.oxygen / 2.0
    air = lam * need / moist["O2"]
    names = {"Ar": "AR"}
    species = [q for q in cantera.Species.list_from_file("gri30.yaml") if q.name in ("N2", "O2", "AR", "CO2", "H2O", "CO", "H2")]
    phase = cantera.Solution(thermo="ideal-gas", species=species)
    mix = {names.get(k, k): v * air for k, v in moist.items()}
    # The fuel's atoms as CO, H2 and what oxygen that takes or leaves
    mix["CO"] = mix.get("CO", 0.0) + 1.0
    mix["H2"] = fuel.hydrogen / 2.0
    mix["O2"] += (fuel.oxygen - 1.0) / 2.0
    phase.TPX = 1740.0, 1e5, mix
    phase.equilibrate("TP")
    return dict(phase.mole_fraction_dict())


class PlainScript:
    """One turbocharged build with an intercooler and a gate that controls."""

    def __init__(self, project: Project, build: Build) -> None:
        self.build = build
        moist = {("AR" if k == "Ar" else k): v for k, v in build.site.air.fractions}
        self.gas, self.burnt = Gas(moist, 0.0), Gas(burnt_gas(build), 0.0)
        self.chart = build.turbo.chart
        self.pieces = {p.id: p for run in self._runs(project) for p in run}
        lines = self.chart.lines
        over = [line.speed / self.chart.maximum_speed for line in lines]
        places = np.linspace(0.0, 1.0, 41)
        ratio, eta = [], []
        for line in lines:
            s = (np.array(line.flow) - line.flow[0]) / (line.flow[-1] - line.flow[0])
            head = (np.array(line.ratio) ** (1 / 3.5) - 1) / (line.speed / self.chart.maximum_speed) ** 2
            ratio.append(PchipInterpolator(s, head)(places))
            eta.append(PchipInterpolator(s, line.efficiency)(places))
        # Flow and head made dimensionless by the speed, so that they hardly change from line to line
        self.surge = PchipInterpolator(over, [q.flow[0] / n for q, n in zip(lines, over, strict=True)])
        self.choke = PchipInterpolator(over, [q.flow[-1] / n for q, n in zip(lines, over, strict=True)])
        self.places = places
        self.head = PchipInterpolator(over, np.array(ratio))
        self.eta = PchipInterpolator(over, np.array(eta))

    def compressor(self, speed: float, flow: float) -> tuple[float, float]:
        """Pressure ratio and efficiency on the map."""
        n = min(max(speed, self.chart.lines[0].speed / self.chart.maximum_speed), 1.0)
        low, high = float(self.surge(n)) * n, float(self.choke(n)) * n
        place = (flow - low) / (high - low)
        inside = min(max(place, 0.0), 1.0)
        head = float(np.interp(inside, self.places, self.head(n))) - 0.1 * (place - inside)
        eta = float(np.interp(inside, self.places, self.eta(n)))
        return max(1.0 + head * n * n, 0.5) ** 3.5, eta

    @staticmethod
    def _runs(project: Project) -> list[tuple[Piece, ...]]:
        return [getattr(project, s) for s in (INTAKE, HOT_PIPE, COLD_PIPE, MANIFOLD, EXHAUST)]

    def loss(self, element: Element, reynolds: float) -> float:
        """Loss coefficient of a piece by library calls; lumped ones as the build has them."""
        piece = self.pieces[element.id]
        values = {n: getattr(piece, n) for n in type(piece).model_fields}
        si = {n: v.si if isinstance(v, Quantity) else v for n, v in values.items()}
        rough = ROUGHNESS[str(si.get("material", "aluminium"))][1]
        bore = element.diameter
        if element.kind == "straight":
            return float(fluids.friction_factor(reynolds, eD=rough / bore) * si["length"] / bore)
        if element.kind == "bend":
            return float(
                fluids.bend_rounded(
                    Di=bore, angle=math.degrees(si["angle"]), rc=si["radius"], Re=reynolds, roughness=rough, method="Rennels"
                )
            )
        if element.kind == "reducer":
            narrows = si["bore_out"] < si["bore_in"]
            cone = fluids.contraction_conical if narrows else fluids.diffuser_conical
            return float(
                cone(Di1=si["bore_in"], Di2=si["bore_out"], l=si["length"], Re=reynolds)
                if narrows
                else cone(Di1=si["bore_in"], Di2=si["bore_out"], l=si["length"], Re=reynolds, method="Idelchik")
            )
        return float(element.loss[3])

    def through(self, element: Element, gas: Gas, flow: float, p: float, t: float, hot: bool) -> tuple[float, float, float]:
        """Loss coefficient of a piece, temperature behind it and its mean."""
        bay = self.build.bay
        cp, mu = gas.capacity(t), gas.viscosity(t)
        reynolds = flow * element.diameter / (element.area * mu)
        after = t
        if element.surface > 0.0:
            nusselt = 0.07 * reynolds**0.75 if hot else 0.023 * reynolds**0.8 * 0.71**0.4
            inside = nusselt * mu * cp / 0.71 / element.diameter
            wall = 1.0 / (1.0 / inside + element.resistance)
            outside = bay.hot_convection if hot else bay.convection

            def balance(skin: float) -> float:
                radiated = element.emissivity * SIGMA * (skin**4 - bay.temperature**4)
                return wall * (t - skin) - outside * (skin - bay.temperature) - radiated

            low, high = sorted((t, bay.temperature))
            skin = brentq(balance, low - 1.0, high + 1.0)
            overall = wall * (t - skin) / (t - bay.temperature)
            decay = math.exp(-overall * element.surface / (flow * cp))
            after = bay.temperature + (t - bay.temperature) * decay
        rated = element.quadratic + 2.0 * element.linear * element.area / flow
        return self.loss(element, reynolds) + rated, after, 0.5 * (t + after)

    def mach(self, gas: Gas, flow: float, area: float, p: float, t: float) -> tuple[float, float]:
        """Mach number at a total pressure and temperature, and the ratio of heat capacities."""
        g = gas.capacity(t) / (gas.capacity(t) - gas.constant)
        parameter = flow * math.sqrt(gas.constant * t / g) / (area * p)
        power = (g + 1) / (2 * (g - 1))

        def left(m: float) -> float:
            return float(m * (1 + 0.5 * (g - 1) * m * m) ** -power - parameter)

        return float(brentq(left, 0.0, 1.0)) if left(1.0) > 0.0 else 1.0, g

    def drop(self, gas: Gas, element: Element, flow: float, p: float, t: float, loss: float, upward: bool) -> float:
        """Total pressure on the other side: Heun's steps of dp/dK = -p g M^2 / 2; a mouth at the static
        pressure of the space that it opens into."""
        if element.kind == "mouth":
            m, g = self.mach(gas, flow, element.area, p, t)
            if not upward:
                return p - loss * (p - p * (1 + 0.5 * (g - 1) * m * m) ** (-g / (g - 1)))

            def opens(total: float) -> float:
                m, g = self.mach(gas, flow, element.area, total, t)
                return float(total * (1 + 0.5 * (g - 1) * m * m) ** (-g / (g - 1)) - p)

            return float(brentq(opens, p, 2.0 * p))
        sign = 1.0 if upward else -1.0
        for _ in range(4):
            m, g = self.mach(gas, flow, element.area, p, t)
            one = sign * p * g * m * m / 2 * loss / 4
            m, g = self.mach(gas, flow, element.area, p + one, t)
            p += 0.5 * (one + sign * (p + one) * g * m * m / 2 * loss / 4)
        return p

    def down(self, section: str, flow: float, p: float, t: float) -> tuple[float, float]:
        """Pressure and temperature behind a cold run."""
        for element in self.build.runs[section]:
            loss, after, mean = self.through(element, self.gas, flow, p, t, False)
            p, t = self.drop(self.gas, element, flow, p, mean, loss, False), after
        return p, t

    def up(self, section: str, flow: float, p: float, t: float) -> tuple[float, float]:
        """Pressure before a hot run that ends at `p`, and the temperature behind it."""
        found = []
        for element in self.build.runs[section]:
            loss, t, mean = self.through(element, self.burnt, flow, 2.0 * p, t, True)
            found.append((element, loss, mean))
        for element, loss, mean in reversed(found):
            p = self.drop(self.burnt, element, flow, p, mean, loss, True)
        return p, t

    def cool(self, flow: float, p: float, t: float) -> tuple[float, float]:
        """Behind the intercooler."""
        cooler, site = self.build.cooler, self.build.site
        assert cooler is not None
        wind = cooler.cooling_flow(self.build.road_speed, site.pressure / (self.gas.constant * site.temperature))
        charge, cooling = flow / cooler.rated_charge, wind / cooler.rated_cooling
        conductance = cooler.conductance() / (0.5 * charge**-0.8 + 0.5 * cooling**-0.55)
        c_charge = flow * self.gas.capacity(0.5 * (t + site.temperature))
        c_wind = wind * self.gas.capacity(site.temperature)
        least = min(c_charge, c_wind)
        share = ht.effectiveness_from_NTU(conductance / least, least / max(c_charge, c_wind), subtype="crossflow approximate")
        heat = share * least * (t - site.temperature)
        out = self.gas.heated(self.gas.enthalpy(t) - heat / flow)
        density = p / (self.gas.constant * 0.5 * (t + out))
        return p - cooler.drop * 1.9 / density * (0.6 * charge**1.75 + 0.4 * charge**2), out

    def equations(self, x: np.ndarray, speed: float) -> list[float]:
        """Residuals; unknowns: wheel speed over the map's, air kg/s, turbine inlet in bar, gate
        opening, port in bar, turbine outlet in 1000 K."""
        s, gas, burnt = self.build, self.gas, self.burnt
        wheel, air, p4, opening, port, t5 = (float(v) for v in x)
        p4, port, t5, air = p4 * 1e5, port * 1e5, t5 * 1000.0, abs(air)
        swept = s.engine.displacement * speed / 120.0
        p, t = self.down(INTAKE, air, s.site.pressure, s.site.temperature)
        root = math.sqrt(t / self.chart.reference_temperature)
        flow = air * root / (p / self.chart.reference_pressure)
        ratio, eta = self.compressor(wheel / root, flow)
        rise = (gas.enthalpy(gas.isentropic(t, ratio)) - gas.enthalpy(t)) / eta
        p, t = p * ratio, gas.heated(gas.enthalpy(t) + rise)
        p, t = self.down(HOT_PIPE, air, p, t)
        p, t = self.cool(air, p, t)
        p, t = self.down(COLD_PIPE, air, p, t)
        engine, fuel_is = s.engine, s.engine.fuel
        # Air: VE on the plenum's density, the root of temperature, Heywood eq. 6.2 for the residual gas
        r, g = engine.compression, 1.35

        def filling(pressures: float) -> float:
            return float(r / (r - 1) - (pressures + g - 1) / (g * (r - 1)))

        demand = (
            float(engine.breathing.at(speed)) * p / (gas.constant * t) * math.sqrt(t / 298.15) * swept * filling(port / p) / filling(1.1)
        )
        # Fuel and heat: oxygen limits it; 2 % stay unburnt; CO and H2 keep theirs (water-gas at 3.5)
        dry = air * (1.0 - s.site.air.mass_fraction("H2O"))
        need = 1.0 + fuel_is.hydrogen / 4.0 - fuel_is.oxygen / 2.0
        mass = 12.011 + 1.00794 * fuel_is.hydrogen + 15.9994 * fuel_is.oxygen
        fuel = dry / (engine.lambda_ * need * 28.9655 / 0.20946 / mass)
        carbon = fuel / mass * 1000.0  # mol/s
        missing = 2.0 * need * (1.0 - engine.lambda_)  # oxygen atoms that are missing

        def water_gas(monoxide: float) -> float:
            hydrogen = missing - monoxide
            return float(monoxide * (fuel_is.hydrogen / 2 - hydrogen) - 3.5 * (1 - monoxide) * hydrogen)

        monoxide = brentq(water_gas, 0.0, min(missing, 1.0))
        heat = 0.98 * fuel * fuel_is.heating_value
        heat -= carbon * (monoxide * 282.98e3 + (missing - monoxide) * 241.83e3)
        # Work: a constant-volume cycle whose gamma of 1.27 stands for the fuel-air cycle (Heywood 1988,
        # sec. 5.5.2) at lambda 1; 0.999 of that at lambda 0.82; 0.82 of it in a real engine
        ideal = 1.0 - engine.compression ** (1.0 - 1.27)
        exact = dry / (need * 28.9655 / 0.20946 / mass) * fuel_is.heating_value
        late = 1.0 / (1.0 + 0.00045 * (engine.retard or 0.0) ** 2)
        indicated = 0.82 * late * 0.998 * ideal * exact / swept
        exhaust = air + fuel
        # Walls: Nu = 6.4 Re^0.75 on the pistons
        bore, pistons = engine.bore, engine.cylinders * math.pi / 4 * engine.bore**2
        warm = 300.0 + 590.0 * heat / exhaust / 2.72e6 + 0.35 * (t - 300.0)
        mu = burnt.viscosity(warm)
        nusselt = 6.4 * (exhaust / pistons * bore / mu) ** 0.75
        coolant = nusselt * mu * burnt.capacity(warm) / 0.71 / bore * pistons * (warm - 360.0)
        rest = heat - coolant - (indicated - port + p) * swept
        rest += air * (gas.enthalpy(t) - gas.enthalpy(298.15))
        t_port = burnt.heated(burnt.enthalpy(298.15) + rest / exhaust)
        before, t4 = self.up(MANIFOLD, exhaust, p4, t_port)
        p5, _ = self.up(EXHAUST, exhaust, s.site.pressure, t5)
        turbine = s.turbo.turbine
        gamma = burnt.capacity(t4) / (burnt.capacity(t4) - burnt.constant)

        def nozzle(expansion: float) -> float:
            r = min(max(expansion, 1.0001), (0.5 * (gamma + 1)) ** (gamma / (gamma - 1)))
            return math.sqrt(2 * gamma / (gamma - 1) * (r ** (-2 / gamma) - r ** (-1 - 1 / gamma)))

        tip = math.pi * turbine.wheel * wheel * self.chart.maximum_speed / 60.0
        flux = p4 / math.sqrt(burnt.constant * t4)
        turning = 1.0 - 0.10 * tip**2 / (gamma * burnt.constant * t4)
        swallowed = turbine.area * flux * turning * nozzle(math.sqrt(max(p4 / p5, 1.0)))
        past = max(opening, 0.0) * s.gate.area * flux * nozzle(p4 / p5)
        cold = burnt.isentropic(t4, min(p5 / p4, 0.999))
        head = burnt.enthalpy(t4) - burnt.enthalpy(cold)
        y = tip / math.sqrt(2.0 * head) / turbine.best_ratio
        power = turbine.best * y * (2.0 - y) * head * swallowed
        mixed = burnt.heated(burnt.enthalpy(t4) - power / exhaust)
        return [
            p / (s.site.pressure + float(s.boost.at(speed))) - 1.0,
            demand / air - 1.0,
            (swallowed + past) / exhaust - 1.0,
            (power * turbine.mechanical / (air * rise) - 1.0),
            before / port - 1.0,
            mixed / t5 - 1.0,
        ]

    def point(self, speed: float) -> np.ndarray:
        """The six unknowns at `speed` in rev/min. Raises RuntimeError when `fsolve` gives up."""
        x, _, code, message = fsolve(self.equations, [0.8, 0.2, 2.0, 0.3, 2.1, 1.1], args=(speed,), full_output=True)
        if code != 1:
            raise RuntimeError(f"the plain script did not converge: {message}")
        return np.asarray(x)

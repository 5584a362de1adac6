"""The same coupled point as one writes it in an evening: library calls piece by piece, `brentq` for
every implicit temperature, `fsolve` round the whole. The baseline of the benchmark, and a second
way to the same numbers: it shares the property polynomials and the system with the solver, and
neither its march nor its equations nor its iteration.

note: K loss coefficient, h heat transfer coefficient, nu blade-speed ratio.
"""

from __future__ import annotations

import math

import fluids
import numpy as np
from scipy.interpolate import RegularGridInterpolator
from scipy.optimize import brentq, fsolve

from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.airpath.system import System
from zarvik.core.compressor import lookup
from zarvik.core.cooling.effectiveness import crossflow_effectiveness
from zarvik.core.ducts.element import Element
from zarvik.core.ducts.friction import ROUGHNESS
from zarvik.core.engine import engine as eng
from zarvik.core.gas import properties
from zarvik.project.document import Piece, Project
from zarvik.project.units import Quantity

ENTHALPY = properties.enthalpy.py_func  # type: ignore[attr-defined]
CAPACITY = properties.heat_capacity.py_func  # type: ignore[attr-defined]
ENTROPY = properties.entropy_function.py_func  # type: ignore[attr-defined]
VISCOSITY = properties.viscosity.py_func  # type: ignore[attr-defined]
SIGMA = 5.670374419e-8


class PlainScript:
    """One turbocharged build with a cooler and a gate that controls."""

    def __init__(
        self, project: Project, system: System, gas: np.ndarray, burnt: np.ndarray
    ) -> None:
        self.system = system
        self.gas, self.burnt = gas.tolist(), burnt.tolist()
        self.chart = system.turbo.chart
        self.pieces = {p.id: p for run in self._runs(project) for p in run}
        lines, points = lookup.pack(self.chart)
        speeds = np.linspace(0.2, 1.2, 120)
        flows = np.linspace(0.02, 0.42, 160)
        table = np.array([[lookup.forward(lines, points, s, m) for m in flows] for s in speeds])
        self.ratio = RegularGridInterpolator((speeds, flows), table[:, :, 0])
        self.efficiency = RegularGridInterpolator((speeds, flows), table[:, :, 1])

    @staticmethod
    def _runs(project: Project) -> list[tuple[Piece, ...]]:
        return [getattr(project, s) for s in (INTAKE, HOT_PIPE, COLD_PIPE, MANIFOLD, EXHAUST)]

    def loss(self, element: Element, reynolds: float) -> float:
        """Loss coefficient of a piece by library calls; lumped ones as the system has them."""
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
                    Di=bore, angle=math.degrees(si["angle"]), rc=si["radius"], Re=reynolds,
                    roughness=rough, method="Rennels",
                )
            )  # fmt: skip
        if element.kind == "reducer":
            narrows = si["bore_out"] < si["bore_in"]
            cone = fluids.contraction_conical if narrows else fluids.diffuser_conical
            return float(
                cone(Di1=si["bore_in"], Di2=si["bore_out"], l=si["length"], Re=reynolds)
                if narrows
                else cone(Di1=si["bore_in"], Di2=si["bore_out"], l=si["length"], Re=reynolds,
                          method="Idelchik")
            )  # fmt: skip
        return float(element.loss[3])

    def through(
        self, element: Element, gas: list[float], flow: float, p: float, t: float, hot: bool
    ) -> tuple[float, float]:
        """Loss in Pa and temperature behind a piece."""
        bay = self.system.bay
        cp, mu = CAPACITY(gas, t), VISCOSITY(gas, t)
        velocity = flow * gas[0] * t / p / element.area
        reynolds = fluids.Reynolds(
            V=velocity, D=element.diameter, rho=p / (gas[0] * t), mu=mu
        )  # fmt: skip
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
        mean = 0.5 * (t + after)
        gamma = CAPACITY(gas, mean) / (CAPACITY(gas, mean) - gas[0])
        parameter = flow * math.sqrt(gas[0] * mean / gamma) / (element.area * p)
        power = (gamma + 1) / (2 * (gamma - 1))
        mach = brentq(
            lambda m: m * (1 + 0.5 * (gamma - 1) * m * m) ** -power - parameter, 0.0, 0.999
        )
        drop = self.loss(element, reynolds) * 0.5 * gamma * p * mach * mach
        rated = (
            element.linear * velocity + element.quadratic * p / (gas[0] * mean) * velocity**2 / 2
        )
        return drop + rated, after

    def down(self, section: str, flow: float, p: float, t: float) -> tuple[float, float]:
        """Pressure and temperature behind a cold run."""
        for element in self.system.runs[section]:
            drop, t = self.through(element, self.gas, flow, p, t, False)
            p -= drop
        return p, t

    def up(self, section: str, flow: float, p: float, t: float) -> tuple[float, float]:
        """Pressure before a hot run that ends at `p`, and the temperature behind it."""
        run = self.system.runs[section]
        inlet = []
        for element in run:
            inlet.append(t)
            _, t = self.through(element, self.burnt, flow, 2.0 * p, t, True)
        for element, before in zip(reversed(run), reversed(inlet), strict=True):
            drop, _ = self.through(element, self.burnt, flow, p, before, True)
            p += drop
        return p, t

    def isentropic(self, gas: list[float], t: float, ratio: float) -> float:
        """Temperature after an isentropic change."""
        target = ENTROPY(gas, t) + gas[0] * math.log(ratio)
        return float(brentq(lambda x: ENTROPY(gas, x) - target, 0.3 * t, 3.0 * t))

    def heated(self, gas: list[float], enthalpy: float) -> float:
        """Temperature of an enthalpy."""
        return float(brentq(lambda x: ENTHALPY(gas, x) - enthalpy, 200.0, 3500.0))

    def cool(self, flow: float, p: float, t: float) -> tuple[float, float]:
        """Behind the cooler."""
        cooler, site = self.system.cooler, self.system.site
        assert cooler is not None
        wind = cooler.cooling_flow(
            self.system.road_speed, site.pressure / (self.gas[0] * site.temperature)
        )
        charge, cooling = flow / cooler.rated_charge, wind / cooler.rated_cooling
        conductance = cooler.conductance() / (0.5 * charge**-0.8 + 0.5 * cooling**-0.55)
        c_charge = flow * CAPACITY(self.gas, 0.5 * (t + site.temperature))
        c_wind = wind * CAPACITY(self.gas, site.temperature)
        least = min(c_charge, c_wind)
        share = crossflow_effectiveness(conductance / least, least / max(c_charge, c_wind))
        heat = share * least * (t - site.temperature)
        out = self.heated(self.gas, ENTHALPY(self.gas, t) - heat / flow)
        density = p / (self.gas[0] * 0.5 * (t + out))
        return p - cooler.drop * 1.9 / density * (0.6 * charge**1.75 + 0.4 * charge**2), out

    def equations(self, x: np.ndarray, speed: float) -> list[float]:
        """Residuals; unknowns: wheel speed over the map's, air kg/s, turbine inlet in bar, gate
        opening, port in bar, turbine outlet in 1000 K."""
        s, gas, burnt = self.system, self.gas, self.burnt
        wheel, air, p4, opening, port, t5 = (float(v) for v in x)
        p4, port, t5, air = p4 * 1e5, port * 1e5, t5 * 1000.0, abs(air)
        swept = s.engine.displacement * speed / 120.0
        p, t = self.down(INTAKE, air, s.site.pressure, s.site.temperature)
        root = math.sqrt(t / self.chart.reference_temperature)
        flow = air * root / (p / self.chart.reference_pressure)
        at = (min(max(wheel / root, 0.2), 1.2), min(max(flow, 0.02), 0.42))
        ratio, eta = float(self.ratio(at)), float(self.efficiency(at))
        ideal = self.isentropic(gas, t, ratio)
        rise = (ENTHALPY(gas, ideal) - ENTHALPY(gas, t)) / eta
        p, t = p * ratio, self.heated(gas, ENTHALPY(gas, t) + rise)
        p, t = self.down(HOT_PIPE, air, p, t)
        p, t = self.cool(air, p, t)
        p, t = self.down(COLD_PIPE, air, p, t)
        engine = s.engine
        dry = air * (1.0 - s.site.air.mass_fraction("H2O"))
        fuel = dry * engine.burnt.fuel_per_air
        heat = dry * engine.burnt.heat_per_air
        latent = engine.evaporated * fuel / air * engine.fuel.vaporisation
        charge = self.heated(gas, ENTHALPY(gas, t) - latent)
        demand = eng.air_demand(
            self.system.site.air.packed, engine.displacement, float(engine.breathing.at(speed)),
            speed, p, charge,
        ) * eng.back_pressure_factor(port / p, engine.compression)  # fmt: skip
        indicated = eng.indicated_efficiency(engine) * heat / swept
        coolant = eng.coolant_share(eng.SPARK_COOLANT, speed) * heat
        rest = heat - coolant - (indicated - port + p) * swept
        rest += air * (ENTHALPY(gas, t) - ENTHALPY(gas, 298.15))
        exhaust = air + fuel
        t_port = self.heated(burnt, ENTHALPY(burnt, 298.15) + rest / exhaust)
        before, t4 = self.up(MANIFOLD, exhaust, p4, t_port)
        p5, _ = self.up(EXHAUST, exhaust, s.site.pressure, t5)
        turbine = s.turbo.turbine
        gamma = CAPACITY(burnt, t4) / (CAPACITY(burnt, t4) - burnt[0])

        def nozzle(expansion: float) -> float:
            r = min(max(expansion, 1.0001), (0.5 * (gamma + 1)) ** (gamma / (gamma - 1)))
            return math.sqrt(2 * gamma / (gamma - 1) * (r ** (-2 / gamma) - r ** (-1 - 1 / gamma)))

        tip = math.pi * turbine.wheel * wheel * self.chart.maximum_speed / 60.0
        flux = p4 / math.sqrt(burnt[0] * t4)
        turning = 1.0 - 0.10 * tip**2 / (gamma * burnt[0] * t4)
        swallowed = turbine.area * flux * turning * nozzle(math.sqrt(max(p4 / p5, 1.0)))
        past = max(opening, 0.0) * s.gate.area * flux * nozzle(p4 / p5)
        cold = self.isentropic(burnt, t4, min(p5 / p4, 0.999))
        head = ENTHALPY(burnt, t4) - ENTHALPY(burnt, cold)
        y = tip / math.sqrt(2.0 * head) / turbine.best_ratio
        power = turbine.best * y * (2.0 - y) * head * swallowed
        mixed = self.heated(burnt, ENTHALPY(burnt, t4) - power / exhaust)
        return [
            p / (s.site.pressure + float(s.boost.at(speed))) - 1.0, demand / air - 1.0,
            (swallowed + past) / exhaust - 1.0, (power * turbine.mechanical / (air * rise) - 1.0),
            before / port - 1.0, mixed / t5 - 1.0,
        ]  # fmt: skip

    def point(self, speed: float) -> np.ndarray:
        """The six unknowns at `speed` in rev/min. Raises RuntimeError when `fsolve` gives up."""
        x, _, code, message = fsolve(
            self.equations, [0.8, 0.2, 2.0, 0.3, 2.1, 1.1], args=(speed,), full_output=True
        )
        if code != 1:
            raise RuntimeError(f"the plain script did not converge: {message}")
        return np.asarray(x)

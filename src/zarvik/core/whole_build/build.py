"""The whole build as plain numbers in SI: what the document is assembled into, and what is judged."""

from __future__ import annotations

from dataclasses import dataclass, field

from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.solution import Solver, prepare
from zarvik.core.bay.clearance import Obstacle
from zarvik.core.blow_off.valve import BlowOff
from zarvik.core.budget.resources import Resources
from zarvik.core.connections.row import Row
from zarvik.core.fluid_lines.crankcase_breather import Breather
from zarvik.core.fluid_lines.lines import Lines
from zarvik.core.fluid_lines.turbo_coolant import CoolantCircuit
from zarvik.core.intake.meter import Meter
from zarvik.core.intake.ports import Ports
from zarvik.core.leak_test.leaks import LeakTest
from zarvik.core.manifold.load import Fittings
from zarvik.core.radiator.radiator import Radiator
from zarvik.core.vehicle.car import Car
from zarvik.core.vehicle.trailer import TowingCase
from zarvik.core.wastegate.actuator import Actuator


@dataclass(frozen=True, kw_only=True)
class Build(AirPath):
    """An air path and what hangs on it, which no solution reads: checks, bills and calculations do. `car`: what a pull moves. `resources`:
    money and time, None where nobody counts them. `mouth_speed`: highest gas speed at the tail pipe in m/s, 0 for any. `actuator`: what
    moves the gate, `blow_off`: the valve that opens when the throttle shuts; None where nobody says them. `fittings`: what hangs on
    the hot side; `train`: what is towed; `connections`: every port, bung, joint, hose, line and sensor; `leak_test`: the last one;
    `lines`: oil and fuel; `meter` of the air, `ports` on the way to the valves, `radiator` of the engine, `breather` of its crankcase,
    `coolant` of the turbo; `obstacles`: what stands in the engine bay."""

    car: Car = field(default_factory=Car)
    resources: Resources | None = None
    mouth_speed: float = 0.0
    actuator: Actuator | None = None
    blow_off: BlowOff | None = None
    fittings: Fittings = field(default_factory=Fittings)
    train: TowingCase = field(default_factory=TowingCase)
    connections: tuple[Row, ...] = ()
    leak_test: LeakTest = field(default_factory=LeakTest)
    lines: Lines = field(default_factory=Lines)
    meter: Meter = field(default_factory=Meter)
    ports: Ports = field(default_factory=Ports)
    radiator: Radiator = field(default_factory=Radiator)
    breather: Breather = field(default_factory=Breather)
    coolant: CoolantCircuit = field(default_factory=CoolantCircuit)
    obstacles: tuple[Obstacle, ...] = ()


@dataclass(frozen=True, eq=False)
class Solved:
    """A `build` and the `solver` of its air path."""

    build: Build
    solver: Solver


def solved(build: Build) -> Solved:
    """A `build` packed for solving. Raises ValueError when its intercooler contradicts itself."""
    return Solved(build, prepare(build))

"""Sheets of the belt of a blower."""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.calculations.sheet import Line, Maker, Sheet
from zarvik.core.common.sentences import Figure
from zarvik.core.engine.belt import METHODS, capacity, compliance, pull_and_share, slip


def belt_slip(solver: Solver, point: Point) -> float:
    """Share of its speed that a blower falls behind the belt at a `point`; 0 without a belt."""
    blower = solver.path.blower
    if blower is None or blower.belt is None:
        return 0.0
    return slip(blower.belt, point.speed, max(point.turbo.power, 0.0) / blower.drive)


def _belt_slip(solver: Solver, point: Point) -> Sheet:
    blower = solver.path.blower
    if blower is None or blower.belt is None:
        raise KeyError("belt_slip")
    power = point.turbo.power / blower.drive
    return Sheet(
        key="belt_slip",
        title="Blower slip",
        result=Figure(belt_slip(solver, point), "ratio"),
        relation="s = C · P_belt / n",
        lines=(
            Line(
                "C",
                "of the belt, 1 / (its stiffness · its speed at one turn a minute), turns a minute for each watt",
                Figure(compliance(blower.belt), "number"),
            ),
            Line("P_belt", "taken by the blower's belt", Figure(power, "power"), "belt_power"),
            Line("n", "engine speed", Figure(point.speed, "rotation")),
        ),
        source=METHODS[2].source,
    )


def _belt_power(solver: Solver, point: Point) -> Sheet:
    blower = solver.path.blower
    if blower is None:
        raise KeyError("belt_power")
    return Sheet(
        key="belt_power",
        title="Belt power",
        result=Figure(point.turbo.power / blower.drive, "power"),
        relation="P_belt = P_air / η_d",
        lines=(
            Line("P_air", "into the air", Figure(point.turbo.power, "power"), "air_power"),
            Line("η_d", "of belt and gears", Figure(blower.drive, "ratio")),
        ),
        source="Definition",
    )


def _belt_carries(solver: Solver, point: Point) -> Sheet:
    blower = solver.path.blower
    if blower is None or blower.belt is None:
        raise KeyError("belt_carries")
    belt = blower.belt
    v = belt.speed(point.speed)
    pull, share = pull_and_share(belt, point.speed)
    return Sheet(
        key="belt_carries",
        title="Belt capacity",
        result=Figure(capacity(belt, point.speed), "power"),
        relation="P_max = F · g · v",
        lines=(
            Line("F", "pull of the tight side, less the belt's own inertia", Figure(pull, "number")),
            Line("g", "share transferred by grip, or by the teeth in mesh", Figure(share, "ratio")),
            Line("v", "speed of the belt", Figure(v, "velocity"), "belt_speed"),
        ),
        source=METHODS[1].source,
    )


def _belt_speed(solver: Solver, point: Point) -> Sheet:
    blower = solver.path.blower
    if blower is None or blower.belt is None:
        raise KeyError("belt_speed")
    belt = blower.belt
    return Sheet(
        key="belt_speed",
        title="Belt speed",
        result=Figure(belt.speed(point.speed), "velocity"),
        relation="v = π · d · n",
        lines=(Line("d", "pulley on the crank", Figure(belt.crank, "length")), Line("n", "engine speed", Figure(point.speed, "rotation"))),
        source="Definition",
    )


SHEETS: dict[str, Maker] = {"belt_slip": _belt_slip, "belt_power": _belt_power, "belt_carries": _belt_carries, "belt_speed": _belt_speed}

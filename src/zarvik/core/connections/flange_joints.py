"""Flanges among the connections of a build at a solved point: plates and their losses, heat through the foot of the intake manifold."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from zarvik.core.airpath.air_path import AirPath
from zarvik.core.airpath.point import Point
from zarvik.core.airpath.stations import COMPRESSOR_INLET, EXHAUST_PORT, PLENUM, TURBINE_INLET, TURBINE_OUTLET
from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT
from zarvik.core.connections import row as r
from zarvik.core.connections.row import Row
from zarvik.core.ducts.element import circle
from zarvik.core.intake.ports import OPEN_SHARE, PULSED, Ports
from zarvik.core.joints import gaskets as stack
from zarvik.core.joints.flanges import AdapterPlate, bores_meet, holes_match, plate

STATION = {r.BOOST: PLENUM, r.SUCTION: COMPRESSOR_INLET, r.EXHAUST: TURBINE_OUTLET}
FOOT, PORTS = "engine__intake", "engine__exhaust"
HEAD = 368.15  # K of a head where a manifold is bolted to it
CHARGE_IDLE = 25.0  # K that the charge of idle is over the day; common practice, no source
RUNNER = 0.3  # m of metal of each runner that warms the charge; common practice, no source
BORE = 0.042  # m of a runner that nobody measured
FOOT_SHARE = 0.055  # m2 of a foot for each m of engine: ports, bosses, less the openings; common practice, no source
IDLE_AIR = 2.2e-3  # kg/s of air at idle for each litre, without load; common practice, no source
MU, CONDUCTIVITY, PRANDTL = 2.0e-5, 0.028, 0.70  # of air at 50 °C; common tables


@dataclass(frozen=True)
class PlatedJoint:
    """A joint of two flanges (`row`) with what lies between them (`plate`; the bare step where the holes meet), Pa that it takes (`loss`)
    and over the pressure there (`share`), kg/m3 (`density`) and m/s (`speed`) in the smaller bore."""

    row: Row
    plate: AdapterPlate
    coefficient: float
    loss: float
    share: float
    density: float
    speed: float


def _there(path: AirPath, row: Row) -> tuple[str, float] | None:
    """Station of a joint, and the share of its flow that makes the loss: on the head one port has a cylinder's stroke in a quarter of the
    time, a turbine its own part; a gate's flow is no station's."""
    if row.key.startswith(("gate", "blow")):
        return None
    if row.key in (FOOT, PORTS):
        return PLENUM if row.key == FOOT else EXHAUST_PORT, math.sqrt(PULSED) / (OPEN_SHARE * path.engine.cylinders)
    if row.key.startswith("turbo"):
        way = {"inlet": COMPRESSOR_INLET, "outlet": PLENUM, "hot_in": TURBINE_INLET, "hot_out": TURBINE_OUTLET}.get(
            row.key.partition("__")[2]
        )
        return (way, 1.0 / path.turbo.count) if way is not None else None
    if row.key.startswith("manifold"):
        return TURBINE_INLET, 1.0
    return (STATION[row.side], 1.0) if row.side in STATION else None


def plates(path: AirPath, rows: Sequence[Row], point: Point) -> tuple[PlatedJoint, ...]:
    """Every joint among the `rows` of a connection list whose bores were measured and differ, at a solved `point` of a `path`."""
    found = []
    for row in rows:
        one, other = row.one, row.other
        if row.kind != r.JOINT or row.lost or one is None or other is None or bores_meet(one, other):
            continue
        where = _there(path, row)
        if where is None or where[0] not in point.stations:
            continue
        there = plate(one, other, "steel" if row.side == r.EXHAUST else "aluminium", turned=row.turns)
        coefficient = there.sharp if holes_match(one, other) else there.loss
        station = point.stations[where[0]]
        density = station.pressure / (DRY_AIR_GAS_CONSTANT * station.temperature)
        speed = where[1] * station.flow / (density * circle(min(one.bore, other.bore)))
        loss = coefficient * 0.5 * density * speed**2
        found.append(
            PlatedJoint(
                row=row, plate=there, coefficient=coefficient, loss=loss, share=loss / station.pressure, density=density, speed=speed
            )
        )
    return tuple(found)


@dataclass(frozen=True)
class Barrier:
    """Heat through a foot: what it does to the charge at the point (`full`), at `idle`, and at idle with a gasket of
    steel alone (`bare`); `idle_air` kg/s and `idle_charge` K."""

    full: stack.ChargeWarming
    idle: stack.ChargeWarming
    bare: stack.ChargeWarming
    idle_air: float
    idle_charge: float


def inside(path: AirPath, flow: float, bore: float) -> float:
    """W/K from all runners of a `bore` m of a `path` to `flow` kg/s of charge: Dittus and Boelter, 3.66 where it is laminar."""
    count = path.engine.cylinders
    reynolds = 4.0 * flow / count / (math.pi * bore * MU)
    nusselt = max(3.66, 0.023 * reynolds**0.8 * PRANDTL**0.4)
    return nusselt * CONDUCTIVITY / bore * count * math.pi * bore * RUNNER


def barrier(path: AirPath, rows: Sequence[Row], ports: Ports, point: Point) -> Barrier | None:
    """Heat through the foot of the intake manifold of a `path` with its `ports` at a solved `point`; None where none of the `rows` of its
    connection list says its layers."""
    row = next((x for x in rows if x.key == FOOT), None)
    if row is None or not row.layers:
        return None
    count = path.engine.cylinders
    bolts = row.one.count if row.one is not None else 2 * count
    thread = row.one.thread if row.one is not None else 0.008
    area = row.face or FOOT_SHARE * 1.15 * path.engine.bore * count
    through = stack.joint_conductance(row.layers, area=area, bolts=bolts, thread=thread)
    plain = stack.joint_conductance((stack.GasketLayer("steel", 0.001),), area=area, bolts=bolts, thread=thread)
    bore = ports.runner.wide or BORE
    cold = path.site.temperature + CHARGE_IDLE
    idle = IDLE_AIR * 1e3 * path.engine.displacement
    full = stack.charge_warming(through, hot=HEAD, charge=point.charge, inside=inside(path, point.air, bore), flow=point.air)
    at_idle = stack.charge_warming(through, hot=HEAD, charge=cold, inside=inside(path, idle, bore), flow=idle)
    bare = stack.charge_warming(plain, hot=HEAD, charge=cold, inside=inside(path, idle, bore), flow=idle)
    return Barrier(full, at_idle, bare, idle, cold)

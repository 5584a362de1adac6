"""The smaller parts of a document as the core takes them: tests, lines, what hangs on, meter, ports, radiator, breather, water."""

from __future__ import annotations

from zarvik.core.common.constants import DRY_AIR_GAS_CONSTANT, INCH
from zarvik.core.fluid_lines.crankcase_breather import WARM, Breather
from zarvik.core.fluid_lines.lines import Lines
from zarvik.core.fluid_lines.turbo_coolant import DENSITY, CoolantCircuit
from zarvik.core.gas.ambient import standard_pressure
from zarvik.core.intake.meter import Meter
from zarvik.core.intake.ports import Opening, Ports
from zarvik.core.intercooler.core_size import Core, Wind, front_drop, rate
from zarvik.core.leak_test.leaks import LeakTest
from zarvik.core.manifold.load import Fittings
from zarvik.core.radiator.radiator import STANDS, Radiator
from zarvik.core.vehicle.trailer import TowingCase
from zarvik.project.assembly.cores import front_core
from zarvik.project.document import document as doc


def leak_test_of(project: doc.Project) -> LeakTest:
    """The last pressure test of a document."""
    t = project.leak_test
    return LeakTest(t.start_pressure.si, t.end_pressure.si, t.duration.si, t.volume.si, t.shop_temperature.si)


def lines_of(project: doc.Project) -> Lines:
    """Oil and fuel lines of a document."""
    n = project.lines
    return Lines(
        grade=n.oil_grade,
        bearings=n.bearings,
        oil=n.oil_pressure.si,
        heat=n.oil_temperature.si,
        restrictor=n.restrictor_bore.si,
        restrictor_long=n.restrictor_length.si,
        drain=n.drain_bore.si,
        fall=n.drain_slope.si,
        above=n.drain_outlet == "above",
        injectors=int(n.injectors.si),
        rated=n.injector_flow.si,
        rated_at=n.injector_pressure.si,
        base=n.fuel_pressure.si,
        follows=n.regulator_reference == "plenum",
        pump=n.pump_flow.si,
        pump_at=n.pump_pressure.si,
        line=n.fuel_line_bore.si,
    )


def fittings_of(project: doc.Project) -> Fittings:
    """Probes, weight and walls of a document."""
    f = project.fittings
    return Fittings(
        probe=f.probe_diameter.si,
        depth=f.probe_depth.si,
        turbo_mass=f.turbo_mass.si,
        braced=f.turbo_support == "brace",
        wall=f.exhaust_wall.si,
        primary_wall=project.space.making.wall.si,
        hard=f.full_load_share.si,
    )


def train_of(project: doc.Project) -> TowingCase:
    """The train of a document and its exhaust brake."""
    t = project.tow
    return TowingCase(
        mass=t.mass.si,
        grade=t.gradient.si,
        speed=t.speed.si,
        minutes=t.duration.si,
        brake=t.brake == "fitted",
        hole=t.brake_orifice.si,
        valve=t.valve_diameter.si,
        spring=t.valve_spring_force.si,
        gear=t.gear_ratio.si,
    )


def meter_of(project: doc.Project) -> Meter:
    """How a document meters its air."""
    m = project.meter
    return Meter(
        kind=m.kind, bore=m.bore.si, most=m.max_reading.si, before=m.straight_before.si, behind=m.straight_after.si, housing=m.new_bore.si
    )


def ports_of(project: doc.Project) -> Ports:
    """Openings on the way to the valves of a document."""
    p = project.ports
    valves = int(p.valves.si)
    return Ports(
        runner=Opening(p.runner_width.si, p.runner_height.si, p.runner_shape),
        gasket=Opening(p.gasket_width.si, p.gasket_height.si, p.gasket_shape),
        port=Opening(p.port_width.si, p.port_height.si, p.port_shape),
        throat=Opening(p.throat.si, count=valves),
        aside=p.offset_sideways.si,
        up=p.offset_up.si,
        valves=valves,
        valve=p.valve_diameter.si,
        lift=p.valve_lift.si,
    )


RADIATOR_FLOW = 1.5  # kg/s of air at which what stands before a radiator is taken; its loss goes nearly with the square


def radiator_of(project: doc.Project) -> Radiator:
    """The radiator of a document with what stands before it."""
    r = project.radiator
    if r.width.si <= 0.0:
        return Radiator()
    core = Core(width=r.width.si, height=r.height.si, thickness=r.thickness.si, fins=r.fins.si / INCH, entry=0.03, build="tube_louvre")
    face = core.width * core.height
    wind = Wind(STANDS[r.mounting][0], r.grille_opening.si * face, r.fan_flow.si)
    return Radiator(core, wind, _resists(project, face), r.condenser == "before", DENSITY * r.coolant_flow.si)


def _resists(project: doc.Project, face: float) -> float:
    """Pa for each kg/s squared that the charge cooler takes before a radiator of a `face` m2: on the share that it covers."""
    if project.radiator.intercooler_position != "before" or not project.cooler.fitted:
        return 0.0
    before = front_core(project)
    area = before.width * before.height
    own = RADIATOR_FLOW * area / face
    try:
        drop = front_drop(before, own) if project.cooler.medium == "water" else rate(before, charge=0.2, cooling=own).air_drop
    except ValueError:
        return 0.0  # a core that cannot be is told by itself
    return drop / RADIATOR_FLOW**2 * min(area / face, 1.0)


def breather_of(project: doc.Project) -> Breather:
    """How the crankcase of a document breathes; what was measured is of warm gas at the pressure of the day."""
    b = project.breather
    measured = b.blow_by.si * standard_pressure(0.0) / (DRY_AIR_GAS_CONSTANT * WARM)
    return Breather(rings=b.ring_condition, measured=measured, hoses=int(b.hoses.si), bore=b.bore.si, length=b.length.si, end=b.outlet)


def coolant_of(project: doc.Project) -> CoolantCircuit:
    """Water through the turbo of a document."""
    c, turbo = project.coolant, project.chosen
    if turbo is not None and turbo.fit.cooling == "oil":
        return CoolantCircuit("none", c.bore.si, c.length.si, c.return_height.si)
    return CoolantCircuit(c.connection, c.bore.si, c.length.si, c.return_height.si)

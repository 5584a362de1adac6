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
    n = project.fluid_lines
    return Lines(
        oil_grade=n.oil_grade,
        bearings=n.bearings,
        oil_pressure=n.oil_pressure.si,
        oil_temperature=n.oil_temperature.si,
        restrictor_bore=n.restrictor_bore.si,
        restrictor_length=n.restrictor_length.si,
        drain_bore=n.drain_bore.si,
        drain_slope=n.drain_slope.si,
        drain_above=n.drain_outlet == "above",
        injectors=int(n.injectors.si),
        injector_flow=n.injector_flow.si,
        injector_pressure=n.injector_pressure.si,
        fuel_pressure=n.fuel_pressure.si,
        follows_boost=n.regulator_reference == "plenum",
        pump_flow=n.pump_flow.si,
        pump_pressure=n.pump_pressure.si,
        fuel_line_bore=n.fuel_line_bore.si,
    )


def fittings_of(project: doc.Project) -> Fittings:
    """Probes, weight and walls of a document."""
    f = project.fittings
    return Fittings(
        probe_diameter=f.probe_diameter.si,
        probe_depth=f.probe_depth.si,
        turbo_mass=f.turbo_mass.si,
        braced=f.turbo_support == "brace",
        exhaust_wall=f.exhaust_wall.si,
        primary_wall=project.layout.fabrication.wall.si,
        full_load_share=f.full_load_share.si,
    )


def train_of(project: doc.Project) -> TowingCase:
    """The train of a document and its exhaust brake."""
    t = project.towing
    return TowingCase(
        mass=t.mass.si,
        gradient=t.gradient.si,
        speed=t.speed.si,
        duration=t.duration.si,
        brake=t.brake == "fitted",
        brake_orifice=t.brake_orifice.si,
        valve_diameter=t.valve_diameter.si,
        valve_spring_force=t.valve_spring_force.si,
        gear_ratio=t.gear_ratio.si,
    )


def meter_of(project: doc.Project) -> Meter:
    """How a document meters its air."""
    m = project.air_meter
    return Meter(
        kind=m.kind,
        bore=m.bore.si,
        max_reading=m.max_reading.si,
        straight_before=m.straight_before.si,
        straight_after=m.straight_after.si,
        new_bore=m.new_bore.si,
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
        offset_sideways=p.offset_sideways.si,
        offset_up=p.offset_up.si,
        valves=valves,
        valve_diameter=p.valve_diameter.si,
        valve_lift=p.valve_lift.si,
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
    """Pa for each kg/s squared that the intercooler takes before a radiator of a `face` m2: on the share that it covers."""
    if project.radiator.intercooler_position != "before" or not project.intercooler.fitted:
        return 0.0
    before = front_core(project)
    area = before.width * before.height
    own = RADIATOR_FLOW * area / face
    try:
        drop = front_drop(before, own) if project.intercooler.medium == "water" else rate(before, charge=0.2, cooling=own).air_drop
    except ValueError:
        return 0.0  # a core that cannot be is told by itself
    return drop / RADIATOR_FLOW**2 * min(area / face, 1.0)


def breather_of(project: doc.Project) -> Breather:
    """How the crankcase of a document breathes; what was measured is of warm gas at the pressure of the day."""
    b = project.breather
    measured = b.blow_by.si * standard_pressure(0.0) / (DRY_AIR_GAS_CONSTANT * WARM)
    return Breather(
        ring_condition=b.ring_condition, blow_by=measured, hoses=int(b.hoses.si), bore=b.bore.si, length=b.length.si, outlet=b.outlet
    )


def coolant_of(project: doc.Project) -> CoolantCircuit:
    """Water through the turbo of a document."""
    c, turbo = project.turbo_coolant, project.chosen
    if turbo is not None and turbo.fit.cooling == "oil":
        return CoolantCircuit("none", c.bore.si, c.length.si, c.return_height.si)
    return CoolantCircuit(c.connection, c.bore.si, c.length.si, c.return_height.si)

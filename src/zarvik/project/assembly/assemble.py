"""From a document to a build: everything that is wrong with it is told at once."""

from __future__ import annotations

from zarvik.core.airpath.air_path import BoostSchedule, Target
from zarvik.core.compressor.measured import check_wheel
from zarvik.core.gas.ambient import Site
from zarvik.core.vehicle.car import Car
from zarvik.core.wastegate.wastegate_flow import Wastegate
from zarvik.core.whole_build.build import Build
from zarvik.project.assembly.boost_control import actuator_of, blow_off_of
from zarvik.project.assembly.engines import engine_of
from zarvik.project.assembly.intercoolers import cooler_of
from zarvik.project.assembly.problems import Problem, ProjectProblems
from zarvik.project.assembly.resources import resources_of
from zarvik.project.assembly.runs import runs_of
from zarvik.project.assembly.site import ambient_pressure, bay_of
from zarvik.project.assembly.small_parts import (
    breather_of,
    coolant_of,
    fittings_of,
    leak_test_of,
    lines_of,
    meter_of,
    ports_of,
    radiator_of,
    train_of,
)
from zarvik.project.assembly.turbos import belt_of, blower_of, core_turbo, turbo_of, turbo_titles
from zarvik.project.bay.objects import obstacles_of
from zarvik.project.connections.connection_list import connections_of
from zarvik.project.document import document as doc
from zarvik.project.document.contradictions import geometry
from zarvik.project.language.language import reason, tr_format
from zarvik.project.layout.layout import space_of


def assemble(project: doc.Project, *, id: str = "", connections: bool = True) -> Build:
    """The build of a document, with the lines of its connection list where they are wanted (`connections`: thousands of them take longer
    than all else, and change no number); raises ProjectProblems with all that is wrong."""
    found: list[Problem] = []
    brief = project.goal
    runs = runs_of(project, found)
    engine = engine_of(project, found)
    cooler = cooler_of(project, found)
    chosen = turbo_of(project)
    if chosen is None:
        found.append(Problem("turbo", tr_format("No turbo is chosen. Add one from the catalogue or import a map")))
    if chosen is not None and chosen.wheels is not None:
        try:
            check_wheel(chosen.wheels.inducer.si, chosen.wheels.exducer.si)
        except ValueError as error:
            found.append(Problem(f"turbos.{chosen.id}.wheels.exducer", reason(error)))
    found += [Problem(place, text) for place, text in geometry(project, belt_of(project))]
    if found or chosen is None:
        raise ProjectProblems(found)
    return Build(
        id=id,
        name=project.name,
        site=Site(ambient_pressure(project), brief.design_day.si, brief.humidity.si),
        engine=engine,
        target=Target(brief.target_power.si, brief.target_speed.si, brief.big_run_boost.si),
        boost=BoostSchedule(brief.target_boost.si, brief.hold_back_until.si, wish=brief.full_boost_from.si),
        turbo=core_turbo(chosen, int(project.turbos_fitted.si), turbo_titles(project).get(chosen.id, "")),
        cooler=cooler,
        runs=runs,
        road_speed=brief.road_speed.si,
        gate=_wastegate(project.wastegate),
        bay=bay_of(project),
        blower=blower_of(project),
        car=_car(project.car),
        intake_volume=project.engine.intake_volume.si,
        resources=resources_of(project),
        mouth_speed=project.search.tailpipe_speed.si,
        space=space_of(project),
        actuator=actuator_of(project),
        blow_off=blow_off_of(project),
        fittings=fittings_of(project),
        train=train_of(project),
        connections=connections_of(project) if connections else (),
        leak_test=leak_test_of(project),
        lines=lines_of(project),
        meter=meter_of(project),
        ports=ports_of(project),
        radiator=radiator_of(project),
        breather=breather_of(project),
        coolant=coolant_of(project),
        obstacles=obstacles_of(project),
    )


def _wastegate(gate: doc.Wastegate) -> Wastegate:
    outside = gate.kind == "outside"
    return Wastegate(
        diameter=gate.diameter.si,
        lift=gate.lift.si,
        count=int(gate.count.si),
        discharge=gate.discharge.si,
        to_air=gate.outlet == "air",
        pieces_bypassed=int(gate.pieces_bypassed.si),
        return_bore=(gate.return_bore.si if outside else 0.0) or gate.diameter.si,
        return_angle=gate.return_angle.si,
        branch_bore=gate.branch_bore.si if outside else 0.0,
    )


def _car(car: doc.Car) -> Car:
    return Car(
        mass=car.mass.si,
        gear_ratio=car.gear_ratio.si,
        final_drive=car.final_drive.si,
        tyre_diameter=car.tyre_diameter.si,
        drag_area=car.drag_area.si,
        clutch=car.clutch.si,
        gearbox=car.gearbox.si,
        low_gears=car.low_gears.si,
    )

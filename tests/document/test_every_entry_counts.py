"""Every entry of the document reaches the build: none is only shown."""

from __future__ import annotations

import pytest

from zarvik.core.airpath.solution import prepare
from zarvik.core.answer.answer import answer
from zarvik.core.intercooler.core_size import rate
from zarvik.core.intercooler.intercooler import COOLING_FLOW
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.assembly.cores import core_of, flows_in_use, front_of
from zarvik.project.assembly.stages import asked_of
from zarvik.project.connections.connection_list import connections_of
from zarvik.project.document.belonging import belongs
from zarvik.project.document.document import Project
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.edits import edits
from zarvik.project.fabrication.cut_list import segments_of
from zarvik.project.units.units import UNKNOWN, EntryError, Quantity

# What counts only beside another entry: place, and what has to stand elsewhere for it.
BESIDE = {
    "wastegate.ports_four": ("wastegate.control", "four"),
    "engine.retard": ("engine.ignition", "typed"),
    "intercooler.water_flow": ("intercooler.medium", "water"),
    "intercooler.front_effectiveness": ("intercooler.medium", "water"),
    # These only stand in for what nobody knows.
    "engine.stock_power": ("engine.best_breathing", UNKNOWN),
    "engine.stock_boost": ("engine.best_breathing", UNKNOWN),
    "engine.stock_speed": ("engine.best_breathing_speed", UNKNOWN),
    "intercooler.mounting": ("intercooler.air_share", UNKNOWN),
    "intercooler.thickness": ("intercooler.effectiveness", UNKNOWN),
    "intercooler.construction": ("intercooler.effectiveness", UNKNOWN),
    "intercooler.fins": ("intercooler.effectiveness", UNKNOWN),
    "intercooler.port_diameter": ("intercooler.pressure_loss", UNKNOWN),
    "intercooler.grille_opening": ("intercooler.air_share", UNKNOWN),
    "intercooler.front_width": ("intercooler.front_effectiveness", UNKNOWN),
    "intercooler.front_height": ("intercooler.front_effectiveness", UNKNOWN),
    "intercooler.front_thickness": ("intercooler.front_effectiveness", UNKNOWN),
    "intercooler.front_fins": ("intercooler.front_effectiveness", UNKNOWN),
    "wastegate.branch_angle": ("wastegate.discharge", UNKNOWN),
    "engine.delivery": ("engine.fuelling", "stroke"),
    "engine.pump": ("engine.fuelling", "stroke"),
    "engine.element_was": ("engine.fuelling", "stroke"),
    "engine.element": ("engine.fuelling", "stroke"),
    "engine.rack_was": ("engine.fuelling", "stroke"),
    "engine.rack": ("engine.fuelling", "stroke"),
    "engine.screw": ("engine.fuelling", "stroke"),
    "engine.limiter": ("engine.fuelling", "stroke"),
    "engine.leanest": ("engine.fuelling", "stroke"),
    "blower.crank_teeth": ("blower.belt", "toothed"),
    "blower.teeth": ("blower.belt", "toothed"),
    "blower.belt_width": ("blower.belt", "toothed"),
}
OF_WATER = {
    "intercooler.water_flow",
    "intercooler.front_effectiveness",
    "intercooler.front_width",
    "intercooler.front_height",
    "intercooler.front_thickness",
    "intercooler.front_fins",
}
OF_DIESELS = {
    "engine.element_was",
    "engine.element",
    "engine.rack_was",
    "engine.rack",
    "engine.screw",
    "engine.fuelling",
    "engine.delivery",
    "engine.pump",
    "engine.limiter",
    "engine.leanest",
}


# What only an air-to-air core is estimated from.
OF_AIR_CORES = {"intercooler.thickness", "intercooler.construction", "intercooler.fins", "intercooler.port_diameter"}


def signature(project: Project) -> tuple[object, ...]:
    """Everything that the solver and the judgements read, as something that can be compared."""
    build = assemble(project)
    solver = prepare(build)
    engine = build.engine
    speeds = [float(s) for s in range(800, 7000, 500)]
    return (
        *(a.tobytes() for a in solver.packed),
        build.target,
        build.boost,
        build.road_speed,
        engine.idle,
        engine.rev_limit,
        engine.trusted_boost,
        engine.mixture,
        engine.lambda_,
        engine.cylinders,
        engine.retard,
        tuple(float(engine.breathing.at(s)) for s in speeds),
        *(segments_of(getattr(project, run)) for run in edits.RUNS),
        build.gate,
        build.bay,
        build.cooler,
        build.blower,
        asked_of(project),
        build.car,
        build.actuator,
        build.blow_off,
        build.fittings,
        build.train,
        build.lines,
        build.leak_test,
        build.turbo.rotor,
        build.charge_volume,
        engine.delivery,
        engine.leanest,
        tuple((e.kind, e.length, e.volume, e.turn, e.material, e.parallel) for e in build.elements),
    )


def entries(project: Project, rooms: tuple[str, ...]) -> list[str]:
    """Places of the quantities and choices in some rooms, the runs and the turbine."""
    found = [f"{room}.{n}" for room in rooms for n in type(getattr(project, room)).model_fields]
    for run in edits.RUNS:
        for piece in getattr(project, run):
            found += [f"{run}.{piece.id}.{n}" for n in type(piece).model_fields]
    if not project.blower.fitted:
        found += [f"turbos.{project.turbo}.turbine.{n}" for n in type(project.turbos[0].turbine).model_fields]
        found.append("turbos_fitted")
    if project.engine.fuel == "diesel":
        found += sorted(OF_DIESELS)
    return [p for p in found if isinstance(edits.meta(project, p), QuantitySpec | Choice)]


@pytest.mark.parametrize(
    ("demo", "rooms"),
    [
        ("tarn", ("goal", "engine", "wastegate", "bay", "fittings", "fluid_lines", "leak_test", "car", "intercooler")),
        ("moth", ("blower", "intercooler")),
        ("skerry", ("towing",)),
    ],
)
def test_every_entry_moves_the_system(demo: str, rooms: tuple[str, ...]) -> None:
    """One entry at a time, to a value unlike its default: something that is solved or judged differs."""
    project = shipped.demo(demo)
    silent = []
    for place in entries(project, rooms):
        here = project
        if project.intercooler.medium == "water" and place in OF_AIR_CORES:
            continue
        if project.intercooler.medium == "air" and place in OF_WATER:
            continue
        if place in OF_DIESELS and project.engine.fuel != "diesel":
            continue
        if place in BESIDE:
            other, value = BESIDE[place]
            if value == UNKNOWN:
                value = edits.meta(here, other).read("?")
            here = edits.with_value(project, other, value)
            for pair in (("engine.element_was", "engine.element"), ("engine.rack_was", "engine.rack")):
                for both in pair if place in pair else ():  # one of them alone says nothing
                    here = edits.with_value(here, both, edits.meta(here, both).read("9 mm"))
            if place == "engine.leanest":
                here = edits.with_value(here, "engine.limiter", "boost")
            if place == "engine.stock_boost":  # it tells how the stock power was made
                here = edits.with_value(here, "engine.stock_power", edits.meta(here, "engine.stock_power").read("140 hp"))
        found, old = edits.meta(here, place), edits.get(here, place)
        before = signature(here)
        changed = None
        if isinstance(found, QuantitySpec):
            low, high = found.limits
            for si in (old.si + 0.37 * (high - old.si), low + 0.41 * (old.si - low)):
                value = old.with_si(si) if found.kind != "count" else Quantity(round(si) + 1.0, old.unit, old.kind)
                try:
                    changed = edits.with_value(here, place, value)
                    if changed != here:
                        signature(changed)
                        break
                except (EntryError, ValueError):
                    changed = None
        else:
            key = next(k for k, _ in found.options() if k != old)
            try:
                changed = edits.with_value(here, place, key)
                signature(changed)
            except ValueError:
                continue  # a choice that asks for a table of its own says so
        if changed is not None and signature(changed) == before:
            silent.append(place)
    # The style of cones and the like may stand in the way of nothing: none is known.
    assert silent == []


def sized(project: Project, **entries: str) -> Project:
    """A document whose cooler is known by its dimensions alone, with entries of its own."""
    for name, text in {"effectiveness": "?", "pressure_loss": "?", **entries}.items():
        field = edits.meta(project, f"intercooler.{name}")
        project = edits.with_value(project, f"intercooler.{name}", field.read(text) if isinstance(field, QuantitySpec) else text)
    return project


@pytest.mark.parametrize(("demo", "wet"), [("tarn", False), ("skerry", False), ("moth", True)])
def test_a_core_by_its_dimensions_asks_for_no_rating(demo: str, wet: bool) -> None:
    """What a core of such dimensions does hangs on no flow that a rating would have: at whatever flows were typed the answer is the same.
    And what is solved is what the core does at the flows that were solved (the correlations at those flows, not scaled from others), within
    2.5 K."""
    project = shipped.demo(demo)
    answers = []
    for charge, cooling in (("0.01 kg/s", "0.05 kg/s"), ("0.25 kg/s", "1.2 kg/s"), ("4 kg/s", "40 kg/s")):
        answers.append(answer(assemble(sized(project, charge_flow=charge, cooling_flow=cooling))))
    assert len({(a.target.power, a.target.stations["cooler_outlet"].temperature) for a in answers}) == 1
    if wet:
        return
    found = answers[0]
    air, wind = found.target.air, float(found.case.solver.cooler_numbers[COOLING_FLOW])
    at_once = rate(core_of(project), charge=air, cooling=wind).effectiveness
    before, after = (found.target.stations[s].temperature for s in ("cooler_inlet", "cooler_outlet"))
    ambient = found.build.site.temperature
    assert after == pytest.approx(before - at_once * (before - ambient), abs=2.5)


def test_a_typed_loss_beside_an_unknown_effectiveness_keeps_its_own_flow() -> None:
    """Half the drop at half the flow is more than at the whole: a rating of the loss counts at the flow that stands with it (m^1.75 to
    m²)."""
    tarn = shipped.demo("tarn")
    lost = []
    for flow in ("0.15 kg/s", "0.30 kg/s"):
        found = answer(assemble(sized(tarn, pressure_loss="7 kPa", charge_flow=flow))).target
        lost.append(next(s.drop for s in found.stretches if s.id == "cooler"))
    assert 2.0**1.75 * 0.9 < lost[0] / lost[1] < 4.0


def test_an_unknown_loss_beside_a_typed_effectiveness_is_that_of_its_use() -> None:
    """What is lost at the solved flow is what the core's dimensions say at that flow, at the density there: within 4 %, whatever
    stands with the effectiveness."""
    tarn = shipped.demo("tarn")
    for flow in ("0.6 kg/s", "2.5 kg/s"):
        found = answer(assemble(sized(tarn, effectiveness="70 %", charge_flow="0.25 kg/s", cooling_flow=flow)))
        point, core = found.target, core_of(tarn)
        before, after = (point.stations[s] for s in ("cooler_inlet", "cooler_outlet"))
        density = before.pressure / (287.05287 * 0.5 * (before.temperature + after.temperature))
        known = rate(core, charge=point.air, cooling=1.0).drop * 1.9 / density
        assert next(s.drop for s in point.stretches if s.id == "cooler") == pytest.approx(known, rel=0.04)


def test_what_stands_in_the_wind_of_a_water_cooled_build() -> None:
    """Sizes of the front exchanger in m, fins a metre from fins an inch; a loop that hardly flows does not make its core worthless."""
    moth = shipped.demo("moth")
    front = front_of(moth)
    assert (front.width, front.height, front.thickness) == (
        moth.intercooler.front_width.si,
        moth.intercooler.front_height.si,
        moth.intercooler.front_thickness.si,
    )
    assert front.fins == pytest.approx(moth.intercooler.front_fins.si / 0.0254)
    charge, water = flows_in_use(sized(moth, water_flow="0.02 kg/s"))
    assert water == pytest.approx(charge * 1010.0 / 3900.0) and flows_in_use(moth)[1] == moth.intercooler.water_flow.si
    assert flows_in_use(shipped.demo("skerry"))[0] == pytest.approx(answer(assemble(shipped.demo("skerry"))).target.air, rel=0.25)


def test_more_of_a_core_is_never_warmer_however_large_it_is() -> None:
    """Past 95 % of effectiveness a larger core, of air or of water, still cools a little, and never less."""
    for demo, name in (("tarn", "height"), ("tarn", "thickness"), ("skerry", "fins"), ("moth", "height"), ("moth", "thickness")):
        texts = {
            "height": ("150 mm", "300 mm", "600 mm", "1000 mm"),
            "thickness": ("40 mm", "80 mm", "140 mm", "200 mm"),
            "fins": ("6", "12", "18", "25"),
        }[name]
        heat = [answer(assemble(sized(shipped.demo(demo), **{name: t}))).target.stations["cooler_outlet"].temperature for t in texts]
        assert heat == sorted(heat, reverse=True) and len(set(heat)) == len(heat), (demo, name, heat)


OTHERS = (
    "wastegate",
    "turbo_coolant",
    "fluid_lines",
    "fittings",
    "towing",
    "search",
    "goal",
    "blower",
)  # rooms with entries that one charger alone has


@pytest.mark.parametrize("demo", ["moth", "tarn"])
def test_what_a_charger_has_not_changes_nothing(demo: str) -> None:
    """Entries that are not asked for beside this charger, all of them set to something else: every figure, check, line and bill stays."""
    project = shipped.demo(demo)
    before = answer(assemble(project))
    changed, count = project, 0
    for place in entries(project, OTHERS):
        if place == "blower.fitted" or belongs(project, place):
            continue
        found, old = edits.meta(project, place), edits.get(project, place)
        if isinstance(found, QuantitySpec):
            low, high = found.limits
            value = old.with_si(low + 0.61 * (high - low)) if found.kind != "count" else Quantity(old.si + 1.0, old.unit, old.kind)
        else:
            value = next(k for k, _ in found.options() if k != old)
        try:
            changed, count = edits.with_value(changed, place, value), count + 1
        except ValueError:
            continue  # a choice that asks for a table of its own says so
    after = answer(assemble(changed))
    assert count >= (40 if demo == "moth" else 10), count
    assert [(v.id, v.state, v.margin, v.text) for v in after.check_results] == [
        (v.id, v.state, v.margin, v.text) for v in before.check_results
    ]
    assert [p.power for p in after.sweep] == [p.power for p in before.sweep]
    assert [row.key for row in connections_of(changed)] == [row.key for row in connections_of(project)]

"""The intercooler of a document."""

from __future__ import annotations

import dataclasses

from zarvik.core.intercooler.core_size import charge_volume, rate_front
from zarvik.core.intercooler.intercooler import RATED_CP, WATER_CP, Intercooler, most_front
from zarvik.project.assembly.cores import core_of, fan_wind, front_air, front_core, front_of, rated_by_size, rated_flows
from zarvik.project.assembly.problems import Problem
from zarvik.project.document import document as doc
from zarvik.project.document.fields import QuantitySpec
from zarvik.project.document.places import meta
from zarvik.project.language.language import reason, tr_format
from zarvik.project.units.units import ESTIMATED


def cooler_of(project: doc.Project, found: list[Problem]) -> Intercooler | None:
    """The intercooler, None where none is fitted; what contradicts itself is added to `found`."""
    c = project.intercooler
    if not c.fitted:
        return None
    charge, cooling, drop_charge = rated_flows(project)
    cooler = Intercooler(
        effectiveness=c.effectiveness.si,
        drop=c.pressure_loss.si,
        rated_charge=charge,
        rated_cooling=cooling,
        drop_charge=drop_charge,
        face_area=front_core(project).width * front_core(project).height,
        capture=c.air_share.si,
        # What is worked out from its dimensions is no seller's figure.
        trust=1.0 if c.effectiveness.known in ESTIMATED else c.rating_confidence.si,
        water_flow=c.water_flow.si if c.medium == "water" else 0.0,
        front=c.front_effectiveness.si,
        volume=charge_volume(core_of(project)),
        least_wind=fan_wind(project),
        front_wind=front_air(project) if c.medium == "water" else 0.0,
    )
    if c.effectiveness.known in ESTIMATED or c.pressure_loss.known in ESTIMATED:
        try:
            rated = rated_by_size(project)
            if c.effectiveness.known in ESTIMATED:
                # Its conductance goes with the uncertainty that stands in its effectiveness.
                field = meta(project, "intercooler.effectiveness")
                low, high = field.limits if isinstance(field, QuantitySpec) else (0.0, 1.0)
                said = dataclasses.replace(cooler, effectiveness=min(max(rated.effectiveness, low), high))
                cooler = dataclasses.replace(cooler, transfer=rated.conductance * cooler.conductance() / said.conductance())
        except ValueError as error:
            found.append(Problem("intercooler.thickness", tr_format("cooler: {0}", reason(error))))
    if c.medium == "water" and c.front_effectiveness.known in ESTIMATED:
        try:
            rate_front(front_of(project), water=c.water_flow.si, air=1.0)
        except ValueError as error:
            found.append(Problem("intercooler.front_fins", tr_format("cooler: {0}", reason(error))))
    if c.medium == "water" and c.front_effectiveness.known not in ESTIMATED:
        water, air = cooler.water_flow * WATER_CP, cooler.front_wind * RATED_CP
        most = most_front(min(water, air) / max(water, air)) if min(water, air) > 0.0 else 1.0
        if c.front_effectiveness.si > most:
            found.append(
                Problem(
                    "intercooler.front_effectiveness",
                    tr_format(
                        "An exchanger cannot reach {0} with {1} of water: {2:.0f} % is the most at any size",
                        c.front_effectiveness,
                        c.water_flow,
                        100.0 * most,
                    ),
                )
            )
    try:
        cooler.conductance()
    except ValueError as error:
        found.append(Problem("intercooler.effectiveness", tr_format("cooler: {0}", reason(error))))
    return cooler

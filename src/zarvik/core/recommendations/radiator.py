"""The radiator that a solved design needs."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator

from zarvik.core.checks.case import Case
from zarvik.core.checks.cooling import sustained_share_wanted
from zarvik.core.checks.fluid_lines import highest_fuel_point
from zarvik.core.common.constants import INCH
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.intercooler.core_size import Core, Wind
from zarvik.core.limits.limits import COOLANT, OK, PULL, RADIATOR
from zarvik.core.radiator.radiator import STANDS
from zarvik.core.radiator.water_heat import full_load_seconds, radiator_in_town, sustained_share
from zarvik.core.recommendations.recommendation import Recommendation

COOLING = "cooling"
# Width and height of the cores, m, and how thick they are, as cars have them and as they are sold; common practice, no source
FACES = ((0.45, 0.32), (0.52, 0.36), (0.60, 0.38), (0.65, 0.42), (0.70, 0.45), (0.78, 0.50))
THICK = (0.022, 0.026, 0.036, 0.045, 0.056)
FINS = 14.0 / INCH  # a metre


def of_water(case: Case) -> Iterator[Recommendation]:
    """The least radiator that is sold with which a pull lasts as long as it should, and town does not boil."""
    radiator, point = case.build.radiator, highest_fuel_point(case)
    wind = radiator.wind if radiator.core is not None else Wind(STANDS["open"][0], 0.0, radiator.wind.fan or 2000.0 / 3600.0)
    best: tuple[float, float, float, float] | None = None
    for width, height, thick in sorted(((w, h, t) for w, h in FACES for t in THICK), key=lambda c: c[0] * c[1] * c[2] ** 0.5):
        core = Core(width=width, height=height, thickness=thick, fins=FINS, entry=0.03, build="tube_louvre")
        other = dataclasses.replace(radiator, core=core, wind=dataclasses.replace(wind, opening=min(wind.opening, width * height)))
        seconds = full_load_seconds(case.solver, other, point)
        if best is None or seconds > 1.05 * best[3]:
            best = (width, height, thick, seconds)
        pulls = (
            PULL.state(min(seconds, 1e6)) == OK
            and RADIATOR.state(sustained_share(case.solver, other, point) / sustained_share_wanted(case) - 1.0) == OK
        )
        if pulls and COOLANT.state(radiator_in_town(case.solver, other).water) == OK:
            yield Recommendation(
                COOLING,
                "Radiator",
                width * height,
                message(
                    "About {wide} × {high}, {thick} thick: sustains {share} of full load, full load at {speed} for {seconds}"
                    if seconds < 1e6
                    else "About {wide} × {high}, {thick} thick: sustains full load at {speed}",
                    wide=Figure(width, "length"),
                    high=Figure(height, "length"),
                    thick=Figure(thick, "length"),
                    share=Figure(sustained_share(case.solver, other, point), "ratio"),
                    speed=revs(point.speed),
                    seconds=Figure(min(seconds, 1e6), "seconds"),
                ),
            )
            return
    assert best is not None
    width, height, thick, seconds = best
    yield Recommendation(
        COOLING,
        "Radiator",
        width * height,
        message(
            (
                "About {wide} × {high}, {thick} thick, and not enough alone: full load at {speed} lasts {seconds} at "
                "{wind}. Seal sides and top to the grille, move the intercooler from in front of it, a stronger fan, "
                "or shorter pulls"
            ),
            wide=Figure(width, "length"),
            high=Figure(height, "length"),
            thick=Figure(thick, "length"),
            speed=revs(point.speed),
            seconds=Figure(min(seconds, 1e6), "seconds"),
            wind=Figure(case.build.road_speed, "road_speed"),
        ),
    )

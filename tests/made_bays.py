"""Bays with ports, inlets and what is in the way between them: made up by chance, the same for the same seed."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
from scipy.spatial.transform import Rotation

from zarvik.core.routing.bay import Bay, End
from zarvik.core.solids.bodies import Body, Shape
from zarvik.core.solids.distance import nearest
from zarvik.formats import shipped
from zarvik.project.bay.objects import with_objects
from zarvik.project.bay.ready import with_ready
from zarvik.project.document.document import Project
from zarvik.project.edits.edits import with_value
from zarvik.project.units.units import parse


def random_body(dice: np.random.Generator, name: str, low: float = 0.02, high: float = 0.09) -> Body:
    axes = Rotation.random(rng=dice).as_matrix()
    half = dice.uniform(low, high, 3)
    shape = Shape.BOX if dice.random() < 0.5 else Shape.CYLINDER
    return Body(name=name, shape=shape, centre=dice.uniform(-0.4, 0.4, 3), axes=axes, half=half if shape is Shape.BOX else half * [1, 1, 0])


def bay_of(seed: int, ports: int = 3, bodies: int = 9) -> Bay:
    """A head with ports in a row, inlets in a ring below them, and bodies that leave the ends free. Invented."""
    dice = np.random.default_rng(seed)
    begin = [End(np.array([0.1 * i, 0.0, 0.0]), np.array([0.0, 1.0, 0.0])) for i in range(ports)]
    middle = np.array([0.1 * (ports - 1) / 2 + 0.05, 0.22, -0.33])
    end = []
    for i in range(ports):
        angle = 2.0 * math.pi * i / ports
        aside = np.array([math.cos(angle), math.sin(angle), 0.0]) * (0.0 if ports == 1 else 0.028 / math.sin(math.pi / ports))
        end.append(End(middle + aside, np.array([0.0, 0.0, -1.0])))
    head = Body(
        name="head", shape=Shape.BOX, centre=np.array([0.1, -0.15, 0.0]), axes=np.eye(3), half=np.array([0.4, 0.15, 0.07]), mounted=True
    )
    found: list[Body] = [head]
    while len(found) <= bodies:
        body = random_body(dice, f"body {len(found)}", 0.015, 0.05)
        body = dataclasses.replace(body, centre=body.centre * [0.6, 0.4, 0.4] + [0.1, 0.15, -0.15])
        row = dataclasses.replace(BASE, ports=tuple(begin), inlets=tuple(end), bodies=(body,)).packed()
        leads = [e.place + s * sign * e.way for ends, sign in ((begin, 1.0), (end, -1.0)) for e in ends for s in (0.0, 0.04, 0.08)]
        if min(nearest(row, *point, False, 1.0) for point in leads) > 0.035:
            found.append(body)
    return dataclasses.replace(BASE, ports=tuple(begin), inlets=tuple(end), bodies=tuple(found))


BASE = Bay(
    ports=(),
    inlets=(),
    bodies=(),
    diameter=0.0424,
    radii=(0.0424, 0.0636),
    straight=0.012,
    clearance=0.006,
    gap=0.004,
    tolerance=0.03,
    bare=0.04,
    angles=(math.radians(10.0), math.radians(175.0)),
)


def without_bay(project: Project) -> Project:
    """A document in whose bay nothing stands yet, with an engine that does not rock; the ends of intake and exhaust are free."""
    for end in ("filter", "tail"):
        project = with_value(project, f"layout.{end}.placed", "free")
    return with_objects(with_value(project, "layout.head.roll", parse("0 °", "angle")), ())


def tarn_in_its_bay(*, moving: bool = False) -> Project:
    """Tarn in a common bay, with an exhaust that is to end under the floor; `moving`: with all that moves there."""
    project = with_ready(without_bay(shipped.demo("tarn")), "moving" if moving else "lengthways")
    for name, value in {"along": "1500 mm", "up": "-480 mm", "out": "-20 mm"}.items():
        project = with_value(project, f"layout.tail.{name}", parse(value, "length"))
    project = with_value(project, "layout.tail.heading", parse("90 °", "angle"))
    return with_value(project, "layout.tail.placed", "measured")

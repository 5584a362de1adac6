"""The collector: primaries merge into one bore; a log that they blow into from the side; a casting that has it all."""

from __future__ import annotations

import math

from zarvik.core.ducts.cover import COVER, skin
from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore, length
from zarvik.core.ducts.pieces.straight import MATERIAL

FORMS = (("merge", "Merge collector"), ("sheet", "Flat sheet end"), ("log", "Log, side entry"), ("cast", "Cast, one piece"))


def collector_loss(form: str, angle: float) -> float:
    """Loss coefficient on the head in the outlet of a collector.

    A merge at `angle` (rad, of a branch to the axis) loses the part of its momentum that it does not bring along, 1 - cos(angle), and a
    little for the mixing; a flat end adds a sudden narrowing; a log turns every stream by a right angle; in a casting short runners meet
    at steep angles. Idelchik, ch. 7, in form; values as bands from memory.
    """
    merge = 0.10 + 1.0 * (1.0 - math.cos(angle))
    return {"merge": merge, "sheet": merge + 0.35, "log": 1.30, "cast": 0.80}[form]


def build(*, id: str, name: str, form: str, bore_out: float, angle: float, length: float, material: str, cover: str = "bare") -> Element:
    """Element of a collector into `bore_out` over `length`, in m; `angle` rad."""
    return Element(
        id=id,
        kind="collector",
        form=form,
        name=name,
        diameter_in=bore_out,
        diameter_out=bore_out,
        diameter=bore_out,
        loss=sampled(collector_loss(form, angle)),
        length=length,
        volume=circle(bore_out) * length,
        **skin(material, cover, bore_out, length),
        method="Merging streams",
        source="Idelchik, ch. 7, in form; values from memory, as bands",
    )


COLLECTOR = PieceKind(
    "collector",
    "Collector or log",
    "Where the primaries join before the turbine",
    (
        Parameter("form", "Collector type", "choice", default="merge", choices=FORMS, help="A merge keeps momentum, a log loses it"),
        bore("Outlet bore", "bore_out", "out", 0.0525),
        Parameter(
            name="angle",
            title="Merge angle",
            quantity="angle",
            low=0.0,
            high=math.radians(60),
            default=math.radians(15),
            help="Between a primary and the axis",
        ),
        length(default=0.12),
        MATERIAL,
        COVER,
    ),
    build,
)

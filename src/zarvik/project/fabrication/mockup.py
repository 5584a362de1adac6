"""What stands in for the turbo and the intercooler of a build until they are there, what holds its turbine flange on the fixture, and its
brackets."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zarvik.core.bay.clearance import cooler_frame
from zarvik.core.bay.kinds import KINDS
from zarvik.core.common.sentences import Fault, Figure, message
from zarvik.core.fabrication import mockup as core
from zarvik.core.fabrication.drawing import Drawing
from zarvik.core.layout.bodies import COMPRESSOR_SCROLL, TURBINE_SCROLL
from zarvik.core.layout.frame import Frame
from zarvik.core.layout.placement import TANK
from zarvik.project.bay.placing import MM, numbers_of, title
from zarvik.project.document.document import Project
from zarvik.project.document.parts.bay_object import BOX, BayObject
from zarvik.project.language.language import reason
from zarvik.project.layout.layout import layout, segments_of, space_of

NECKS = 0.42, 0.36  # halves of the necks of turbine inlet and compressor outlet, of the wheel's diameter: as they are drawn in space


def mockups(project: Project) -> tuple[tuple[Drawing, ...], tuple[str, ...]]:
    """Plates of a wooden turbo for each there is, panels of a cardboard intercooler, brackets with their holes; and what cannot be drawn,
    in words."""
    faults: list[str] = []
    return (*_turbos(project), *_cooler(project, faults), *_brackets(project, faults)), tuple(faults)


def _turbos(project: Project) -> Iterator[Drawing]:
    if project.blower.fitted or project.chosen is None:
        return
    bodies = layout(project).turbos
    for number, body in enumerate(bodies, 1):
        s, tail = body.sizes, f"-{number}" if len(bodies) > 1 else ""
        which = message(" of turbo {number}", number=str(number)) if tail else ""
        hot = core.seen_along(body.shaft, body.turbine, body.gas_in, body.drain, inwards=True)
        cold = core.seen_along(body.shaft, body.compressor, body.air_out, body.drain, inwards=False)
        rod = message("Both plates on one M10 rod, {apart} from middle to middle, the drain marks in line", apart=Figure(s.apart, "length"))
        rough = message("What nobody measured follows from the wheels and is good to a fifth: measure the turbo before the last welds")
        turbine = core.Housing(radius=sum(TURBINE_SCROLL) * s.turbine, half=NECKS[0] * s.turbine, face=hot[0], aside=hot[1], drain=hot[2])
        yield core.housing_plate(
            f"dummy-turbine{tail}",
            turbine,
            message("Wooden turbo: turbine plate{which}", which=which),
            (
                message(
                    "Seen from the exhaust outlet, whose face is {far} before the plate's middle", far=Figure(s.outlet_beyond, "length")
                ),
                rod,
                rough,
            ),
        )
        size = s.compressor
        blower = core.Housing(radius=sum(COMPRESSOR_SCROLL) * size, half=NECKS[1] * size, face=cold[0], aside=cold[1], drain=cold[2])
        yield core.housing_plate(
            f"dummy-compressor{tail}",
            blower,
            message("Wooden turbo: compressor plate{which}", which=which),
            (
                message("Seen from the air inlet, whose face is {far} before the plate's middle", far=Figure(s.inlet_beyond, "length")),
                rod,
                rough,
            ),
        )


def _cooler(project: Project, faults: list[str]) -> Iterator[Drawing]:
    space, found = space_of(project), layout(project)
    if space.cooler is None or found.cooler is None:
        return
    width, high, deep = space.cooler
    size = width + 2.0 * TANK, high, deep
    frame = cooler_frame(found.cooler, space.cooler)
    middle = frame.origin + 0.5 * width * frame.axes[:, 2]
    pipes = _tube_of(project, "hot_pipe", last=True), _tube_of(project, "cold_pipe", last=False)
    if space.cooler_in.measured and space.cooler_out.measured:
        ways = -found.cooler[0].along, found.cooler[1].along
        openings = [_opening(frame, middle, face, way, across) for face, way, across in zip(found.cooler, ways, pipes, strict=True)]
    else:  # nobody has said where its pipes are: in the middle of both ends
        openings = [core.Opening("end", far, 0.0, 0.0, across) for far, across in zip((True, False), pipes, strict=True)]
    try:
        yield core.box_panels("dummy-intercooler", size, openings, message("Cardboard intercooler"))
    except Fault as fault:
        faults.append(reason(fault))


def _tube_of(project: Project, run: str, *, last: bool) -> float:
    """Outside diameter m of the pipe at the intercooler."""
    segments = segments_of(getattr(project, run), project.layout.fabrication.wall.si)
    return (segments[-1 if last else 0].bore_out if last else segments[0].bore_in) if segments else 0.06


def _opening(frame: Frame, middle: np.ndarray, face: Frame, way: np.ndarray, across: float) -> core.Opening:
    """Where a pipe goes into the box in a `frame` (x through the core, y up, z from tank to tank) round its `middle`; `way` out of it."""
    x, y, z = frame.axes.T
    at = face.origin - middle
    panel, out, right, up = max((("front", x, z, y), ("top", y, z, x), ("end", z, x, y)), key=lambda one: abs(float(way @ one[1])))
    far = float(way @ out) < 0.0
    # A panel is seen from outside: what is on the right of one side is on the left of the other
    sign = 1.0 if np.cross(right, up) @ (-out if far else out) > 0.0 else -1.0
    return core.Opening(panel, far, sign * float(at @ right), float(at @ up), across)


def brackets_of(project: Project) -> Iterator[tuple[BayObject, tuple[tuple[float, float, float], ...]]]:
    """Every bracket of the bay that is a plate, with its holes: along it, across, diameter, m."""
    for one in project.bay_objects:
        if KINDS[one.kind].holds and one.shape == BOX:
            yield one, tuple((float(x), float(y), float(d)) for x, y, d in numbers_of(one.holes) * MM) if one.holes else ()


def _brackets(project: Project, faults: list[str]) -> Iterator[Drawing]:
    for number, (one, holes) in enumerate(brackets_of(project), 1):
        size = one.length.si, one.width.si, one.height.si
        if not holes:
            faults.append(reason(Fault("“{0}” has no holes yet: enter them", title(one))))
            continue
        yield core.bracket(f"bracket-{number}", size, holes, message("Bracket: {name}", name=title(one)))

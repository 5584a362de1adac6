"""Bays and the tubes through them as JSON, in mm and degrees (docs/bay-json.md): what is laid out here can be looked at and checked with
other programs."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Annotated, Any, Literal, TypeVar

import numpy as np
from pydantic import BaseModel, Field, ValidationError

from zarvik.core.routing.bay import MOST_BENDS, Bay, End, Tube
from zarvik.core.solids.bodies import Body, Shape, axes_along, rows_of
from zarvik.core.solids.distance import SKIP, nearest
from zarvik.formats.atomic_writer import FileError
from zarvik.formats.text_file import read_text
from zarvik.project.language.language import tr_format

Model = TypeVar("Model", bound=BaseModel)
LARGEST = 8 * 1024 * 1024
MM = 1e-3
Coordinate = Annotated[float, Field(ge=-20_000.0, le=20_000.0, allow_inf_nan=False)]
Size = Annotated[float, Field(gt=0.0, le=20_000.0, allow_inf_nan=False)]
Small = Annotated[float, Field(ge=0.0, le=500.0, allow_inf_nan=False)]
Vector = tuple[Coordinate, Coordinate, Coordinate]


class _End(BaseModel, extra="ignore", frozen=True):
    pos: Vector
    dir: Vector


class _Box(BaseModel, extra="ignore", frozen=True):
    type: Literal["box"]
    name: str = Field("", max_length=200)
    mount: bool = False
    center: Vector
    size: tuple[Size, Size, Size]
    axes: tuple[Vector, Vector, Vector] = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


class _Cylinder(BaseModel, extra="ignore", frozen=True):
    type: Literal["cylinder"]
    name: str = Field("", max_length=200)
    mount: bool = False
    center: Vector
    axis: Vector
    radius: Size
    length: Size


class _Straight(BaseModel, extra="ignore", frozen=True):
    type: Literal["straight"]
    length: Annotated[float, Field(ge=0.0, le=20_000.0, allow_inf_nan=False)]


class _Bend(BaseModel, extra="ignore", frozen=True):
    type: Literal["bend"]
    radius: Size
    angle_deg: Annotated[float, Field(gt=0.0, lt=179.0)]
    normal: Vector


class _Route(BaseModel, extra="ignore", frozen=True):
    port: Annotated[int, Field(ge=0)]
    inlet: Annotated[int, Field(ge=0)]
    segments: Annotated[list[Annotated[_Straight | _Bend, Field(discriminator="type")]], Field(min_length=1, max_length=60)]


class _Routes(BaseModel, extra="ignore", frozen=True):
    routes: Annotated[list[_Route], Field(min_length=1, max_length=12)]


class _Bay(BaseModel, extra="ignore", frozen=True):
    tube_od: Annotated[float, Field(ge=3.0, le=300.0)]
    radii: Annotated[list[Size], Field(min_length=1, max_length=12)]
    min_straight: Small
    clearance: Small
    tube_gap: Small = 4.0
    length_tol: Annotated[float, Field(ge=0.001, le=10.0)] = 0.03
    end_exempt: Small = 0.0
    bend_angle_deg: tuple[Annotated[float, Field(ge=1.0, le=179.0)], Annotated[float, Field(ge=2.0, le=180.0)]] = (10.0, 180.0)
    gap_exempt_end: Small | None = None
    gap_exempt_value: Small | None = None
    ports: Annotated[list[_End], Field(min_length=1, max_length=12)]
    inlets: Annotated[list[_End], Field(min_length=1, max_length=12)]
    assignment: list[int] | None = None
    target_length: Size | None = None
    obstacles: Annotated[list[Annotated[_Box | _Cylinder, Field(discriminator="type")]], Field(max_length=2000)] = []


def read(path: Path | str) -> Bay:
    """The bay in a file; raises FileError with what is wrong."""
    found, name = _model(Path(path), _Bay, "“{0}” is not a bay: {1}")
    return _bay(found, name)


def read_tubes(path: Path | str, bay: Bay) -> tuple[Tube, ...]:
    """The tubes in a file, as they were laid through this bay or one much like it; raises FileError with what is wrong."""
    found, name = _model(Path(path), _Routes, "“{0}” has no tubes: {1}")
    if sorted(route.port for route in found.routes) != list(range(len(bay.ports))):
        raise FileError(tr_format("“{0}” has not one tube for each port of the bay", name))
    if len({route.inlet for route in found.routes}) < len(found.routes) or max(route.inlet for route in found.routes) >= len(bay.inlets):
        raise FileError(tr_format("“{0}”: each tube must end in an inlet of its own", name))
    return tuple(_tube(route, bay, name) for route in found.routes)


def _tube(route: _Route, bay: Bay, name: str) -> Tube:
    here, way = bay.ports[route.port].place, bay.ports[route.port].way
    corners, radii = [], []
    for part in route.segments:
        if isinstance(part, _Straight):
            here = here + part.length * MM * way
            continue
        angle, radius = math.radians(part.angle_deg), part.radius * MM
        inward = np.array(part.normal) - (np.array(part.normal) @ way) * way
        inward = _unit(tuple(inward), "a bend", name)
        corner = here + radius * math.tan(0.5 * angle) * way
        way = math.cos(angle) * way + math.sin(angle) * inward
        here = corner + radius * math.tan(0.5 * angle) * way
        corners.append(corner)
        radii.append(radius)
    if len(radii) > MOST_BENDS:
        raise FileError(tr_format("“{0}”: a tube has {1} bends: {2} are too many", name, len(radii), MOST_BENDS + 1))
    return Tube(route.port, route.inlet, np.array(corners).reshape(-1, 3), np.array(radii))


def _model(path: Path, model: type[Model], wrong: str) -> tuple[Model, str]:
    """What is in a file as a `model`, and its name; raises FileError, `wrong` with name and reason."""
    text = read_text(path, LARGEST)
    try:
        return model.model_validate(json.loads(text)), path.name
    except json.JSONDecodeError as error:
        raise FileError(tr_format("“{0}” is not valid JSON: {1} in line {2}", path.name, error.msg, error.lineno)) from None
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"]) or "{}"
        raise FileError(tr_format(wrong, path.name, f"{place}: {first['msg']}")) from None
    except (RecursionError, ValueError) as error:
        raise FileError(tr_format(wrong, path.name, error)) from None


def _unit(vector: Vector, what: str, name: str) -> np.ndarray:
    found = np.array(vector)
    length = float(np.linalg.norm(found))
    if length < 1e-6:
        raise FileError(tr_format("“{0}”: the direction of {1} has no length", name, what))
    return found / length


def _body(found: _Box | _Cylinder, name: str) -> Body:
    centre = np.array(found.center) * MM
    if isinstance(found, _Box):
        axes = np.array(found.axes)
        if not np.allclose(axes @ axes.T, np.eye(3), atol=1e-3):
            raise FileError(tr_format("“{0}”: the axes of “{1}” are not square to each other", name, found.name))
        half = np.array(found.size) * (0.5 * MM)
        return Body(name=found.name, shape=Shape.BOX, centre=centre, axes=axes, half=half, mounted=found.mount)
    axes = axes_along(_unit(found.axis, f"“{found.name}”", name))
    half = np.array([found.radius, 0.5 * found.length, 0.0]) * MM
    return Body(name=found.name, shape=Shape.CYLINDER, centre=centre, axes=axes, half=half, mounted=found.mount)


def _ends(found: list[_End], what: str, name: str) -> tuple[End, ...]:
    return tuple(End(np.array(end.pos) * MM, _unit(end.dir, f"{what} {number}", name)) for number, end in enumerate(found))


def _bay(found: _Bay, name: str) -> Bay:
    """The bay of a file called `name`, in SI."""
    if len(found.ports) > len(found.inlets):
        raise FileError(tr_format("“{0}” has {1} ports and only {2} inlets", name, len(found.ports), len(found.inlets)))
    decided = found.assignment
    if decided is not None and (len(decided) != len(found.ports) or len(set(decided)) != len(decided) or not _numbers(decided, found)):
        raise FileError(tr_format("“{0}”: the assignment must name a different inlet for every port", name))
    bay = Bay(
        ports=_ends(found.ports, "port", name),
        inlets=_ends(found.inlets, "inlet", name),
        bodies=tuple(_body(body, name) for body in found.obstacles),
        diameter=found.tube_od * MM,
        radii=tuple(radius * MM for radius in found.radii),
        straight=found.min_straight * MM,
        clearance=found.clearance * MM,
        gap=found.tube_gap * MM,
        tolerance=found.length_tol,
        bare=found.end_exempt * MM,
        angles=(math.radians(found.bend_angle_deg[0]), math.radians(found.bend_angle_deg[1])),
        length=(found.target_length or 0.0) * MM,
        near_inlets=(found.gap_exempt_end or 0.0) * MM,
        gap_at_inlets=(0.5 if found.gap_exempt_value is None else found.gap_exempt_value) * MM,
        inlet_of=None if decided is None else tuple(decided),
    )
    if bay.angles[0] >= bay.angles[1]:
        raise FileError(tr_format("“{0}”: the smallest angle of a bend is not below the largest", name))
    if min(bay.radii) < 0.5 * bay.diameter:
        raise FileError(tr_format("“{0}”: a bend radius is smaller than half of the tube: there is no inner wall", name))
    _open(bay, name)
    return bay


def _numbers(decided: list[int], found: _Bay) -> bool:
    return all(0 <= inlet < len(found.inlets) for inlet in decided)


def _open(bay: Bay, name: str) -> None:
    """Refuse a bay in which a tube cannot even leave an end."""
    rows = bay.packed()
    for what, ends, sign in (("port", bay.ports, 1.0), ("inlet", bay.inlets, -1.0)):
        for number, end in enumerate(ends):
            point = end.place + sign * bay.straight * end.way
            for begin, body in zip(rows_of(rows), bay.bodies, strict=True):
                if body.mounted:
                    continue
                alone = rows[begin : begin + 1 + int(rows[begin, SKIP])]
                left = nearest(alone, point[0], point[1], point[2], False, 1.0) - 0.5 * bay.diameter
                if left < 0.0:
                    raise FileError(
                        tr_format(
                            "“{0}”: “{1}” is in the way of the tube at {2} {3}, by {4:.0f} mm", name, body.name, what, number, -left / MM
                        )
                    )


def routes_tree(bay: Bay, tubes: tuple[Tube, ...]) -> dict[str, Any]:
    """Tubes as the documented tree: straights and bends in their order, mm and degrees."""
    routes = []
    for tube in tubes:
        corners = np.vstack([bay.ports[tube.port].place, tube.corners.reshape(-1, 3), bay.inlets[tube.inlet].place])
        legs = np.diff(corners, axis=0)
        long = np.linalg.norm(legs, axis=1)
        ways = legs / long[:, None]
        crosses = np.linalg.norm(np.cross(ways[:-1], ways[1:]), axis=1)
        angles = np.arctan2(crosses, np.sum(ways[:-1] * ways[1:], axis=1))
        cut = np.concatenate([[0.0], tube.radii * np.tan(0.5 * angles), [0.0]])
        segments: list[dict[str, Any]] = []
        for number, way in enumerate(ways):
            segments.append({"type": "straight", "length": float(long[number] - cut[number] - cut[number + 1]) / MM})
            if number < len(angles):
                inward = ways[number + 1] - math.cos(angles[number]) * way
                segments.append(
                    {
                        "type": "bend",
                        "radius": float(tube.radii[number]) / MM,
                        "angle_deg": math.degrees(angles[number]),
                        "normal": (inward / np.linalg.norm(inward)).tolist(),
                    }
                )
        routes.append({"port": tube.port, "inlet": tube.inlet, "segments": segments})
    return {"routes": routes}

"""Bodies drawn off-screen into a picture: the same with a screen and without one."""

from __future__ import annotations

import ctypes
import importlib.util
import os
from collections.abc import Iterator, Mapping
from functools import lru_cache
from typing import Any

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF

from zarvik.window.benches.layout.bodies import CORNERS, FIRED, GHOST, GROUND, SEEN_THROUGH, SWEPT, THING, UNKNOWN, WALL, Body, colours
from zarvik.window.benches.layout.camera import Camera
from zarvik.window.theme.palette import Palette, between

SHEER = 0.2  # of what is only hinted at
SHEERER = 0.1  # of what one looks through from every side
DOUBTFUL = 0.35  # of what nobody measured: it is never taken for free
_SHEER = {GHOST: SHEER, WALL: SHEERER, SWEPT: SHEERER, UNKNOWN: DOUBTFUL}
DISTANCE = 20.0  # m from which a parallel view looks


STANDS = np.eye(4)


def name_of(body: Body) -> str:
    """A body among all that are drawn."""
    return f"{body.run}|{body.key}"


def tint_of(tint: str, fired: list[str], palette: Palette) -> str:
    """The colour of a body."""
    if tint.startswith(FIRED):
        number = int(tint.removeprefix(FIRED))
        return fired[number % len(fired)] if fired else palette.hot_high
    tints = _tints(palette)
    return tints.get(tint, tints["metal"])


@lru_cache(4)
def _tints(palette: Palette) -> dict[str, str]:
    """Colours of what is drawn, mixed once for each theme: they are asked for by every body of every picture."""
    return {
        "air": palette.cold_low,
        "charge": palette.cold_high,
        "cold": between(palette.cold_low, palette.cold_high, 0.45).name(),
        "gas": between(palette.hot_low, palette.hot_high, 0.55).name(),
        "hose": between(palette.ink, palette.panel, 0.25).name(),
        "metal": between(palette.soft, palette.panel, 0.45).name(),
        "engine": between(palette.line, palette.ground, 0.4).name(),
        "hot_part": between(palette.hot_low, palette.ink, 0.15).name(),
        "cold_part": between(palette.line, palette.soft, 0.25).name(),
        "cooler": between(palette.cold_high, palette.line, 0.5).name(),
        GHOST: palette.soft,
        THING: between(palette.soft, palette.panel, 0.3).name(),
        WALL: palette.soft,
        UNKNOWN: palette.marginal,
        SWEPT: palette.accent,
        GROUND: palette.line,
    }


def can_render() -> bool:
    """Is there what draws off-screen, with a driver behind it? Without it a crash inside a library would end the
    program."""
    if os.environ.get("ZARVIK_PLAIN_VIEW") or importlib.util.find_spec("vtkmodules") is None:
        return False
    try:
        egl = ctypes.CDLL("libEGL.so.1")
    except OSError:
        return False
    return any(_begins(egl, display) for display in _displays(egl))


PLATFORM_DEVICE = 0x313F  # EGL_PLATFORM_DEVICE_EXT, Khronos EGL registry


def _displays(egl: Any) -> Iterator[Any]:
    """Displays of the devices that there are, then the default one."""
    pointer = ctypes.c_void_p
    egl.eglGetProcAddress.restype = pointer
    query, platform = egl.eglGetProcAddress(b"eglQueryDevicesEXT"), egl.eglGetProcAddress(b"eglGetPlatformDisplayEXT")
    if query and platform:
        devices, count = (pointer * 8)(), ctypes.c_int(0)
        asked = ctypes.CFUNCTYPE(ctypes.c_uint, ctypes.c_int, pointer, ctypes.POINTER(ctypes.c_int))(query)
        if asked(8, ctypes.cast(devices, pointer), ctypes.byref(count)):
            opened = ctypes.CFUNCTYPE(pointer, ctypes.c_uint, pointer, pointer)(platform)
            yield from (opened(PLATFORM_DEVICE, devices[n], None) for n in range(count.value))
    egl.eglGetDisplay.restype, egl.eglGetDisplay.argtypes = pointer, [pointer]
    yield egl.eglGetDisplay(None)


def _begins(egl: Any, display: Any) -> bool:
    """Does a display answer? It is left as it is: what draws later asks again."""
    if not display:
        return False
    egl.eglInitialize.argtypes = [ctypes.c_void_p, ctypes.c_void_p, ctypes.c_void_p]
    return bool(egl.eglInitialize(display, None, None))


def _mesh(corners: np.ndarray, triangles: np.ndarray) -> Any:
    """What the drawing library draws: corners (m), triangles or lines, and which way each corner of a triangle faces."""
    from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
    from vtkmodules.vtkCommonCore import vtkPoints
    from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
    from vtkmodules.vtkFiltersCore import vtkPolyDataNormals

    points: Any = vtkPoints()
    points.SetData(numpy_to_vtk(np.ascontiguousarray(corners, np.float32), deep=1))
    cells: Any = vtkCellArray()
    cells.SetData(triangles.shape[1], numpy_to_vtkIdTypeArray(np.ascontiguousarray(triangles, np.int64).ravel(), deep=1))
    mesh: Any = vtkPolyData()
    mesh.SetPoints(points)
    if triangles.shape[1] == 2:
        mesh.SetLines(cells)
        return mesh
    mesh.SetPolys(cells)
    normals: Any = vtkPolyDataNormals()
    normals.SetInputData(mesh)
    normals.SetFeatureAngle(50.0)
    normals.ConsistencyOff()
    normals.Update()
    return normals.GetOutput()


class Scene:
    """Keeps an actor for each body; only what changed is made anew."""

    def __init__(self) -> None:
        from vtkmodules.vtkCommonCore import vtkUnsignedCharArray
        from vtkmodules.vtkCommonDataModel import vtkPlane
        from vtkmodules.vtkRenderingCore import vtkLight, vtkRenderer
        from vtkmodules.vtkRenderingOpenGL2 import vtkEGLRenderWindow

        self.window: Any = vtkEGLRenderWindow()
        self.window.SetOffScreenRendering(1)
        self.window.SetMultiSamples(0)
        self.renderer: Any = vtkRenderer()
        self.window.AddRenderer(self.renderer)
        self.renderer.AutomaticLightCreationOff()
        for place, strength in (((0.4, 0.9, 1.0), 0.75), ((-0.8, 0.2, 0.6), 0.35), ((0.2, -0.8, 0.4), 0.18)):
            light: Any = vtkLight()
            light.SetLightTypeToCameraLight()
            light.SetPosition(*place)
            light.SetIntensity(strength)
            self.renderer.AddLight(light)
        self.pixels: Any = vtkUnsignedCharArray()
        self.plane: Any = vtkPlane()
        self.actors: dict[bool, dict[str, tuple[Body, Any, Any]]] = {True: {}, False: {}}  # fine, and coarse while everything turns
        self.shown = True

    def take(self, bodies: list[Body], *, fine: bool) -> None:
        """Draw these from now on in `fine` pictures, or in the others."""
        from vtkmodules.vtkRenderingCore import vtkActor, vtkPolyDataMapper

        wanted = {name_of(b): b for b in bodies}
        actors = self.actors[fine]
        for key in [k for k in actors if k not in wanted]:
            self.renderer.RemoveActor(actors.pop(key)[1])
        for key, body in wanted.items():
            kept = actors.get(key)
            same = kept is not None and kept[0].corners.shape == body.corners.shape and kept[0].whole is body.whole
            if kept is not None and same and np.array_equal(kept[0].corners, body.corners):
                actors[key] = (body, kept[1], kept[2])
                continue
            if kept is not None:
                actor, mapper = kept[1], kept[2]
            else:
                mapper = vtkPolyDataMapper()
                actor = vtkActor()
                actor.SetMapper(mapper)
                actor.SetVisibility(fine is self.shown)
                self.renderer.AddActor(actor)
            mapper.SetInputData(_mesh(*(body.fine() if fine else body.coarse())))
            actors[key] = (body, actor, mapper)

    @staticmethod
    def _move(actor: Any, moves: Mapping[str, np.ndarray | None], name: str) -> None:
        """An actor where it is moved to, or where it stands."""
        from vtkmodules.vtkCommonMath import vtkMatrix4x4

        there = moves.get(name, STANDS)
        actor.SetVisibility(there is not None)
        if there is None or there is STANDS:
            actor.SetUserMatrix(None)
            return
        matrix: Any = vtkMatrix4x4()
        matrix.DeepCopy(there.ravel().tolist())
        actor.SetUserMatrix(matrix)

    def _aim(self, eye: Camera, tall: int, cut: float | None) -> None:
        """The camera where `eye` is, over `tall` px, and the plane `cut` m before it."""
        axes = eye.axes
        if cut is not None:
            # What lies behind the plane, for who looks, stays.
            self.plane.SetNormal(*(-axes[2]))
            self.plane.SetOrigin(*(eye.centre + cut * axes[2]))
        camera = self.renderer.GetActiveCamera()
        camera.ParallelProjectionOn()
        camera.SetFocalPoint(*eye.centre)
        camera.SetPosition(*(eye.centre + DISTANCE * axes[2]))
        camera.SetViewUp(*axes[1])
        camera.SetParallelScale(0.5 * tall * eye.scale)
        camera.SetClippingRange(0.1, 2.0 * DISTANCE)

    def _show(self, fine: bool) -> None:
        """The fine bodies, or the coarse ones."""
        if fine is not self.shown:
            self.shown = fine
            for which, actors in self.actors.items():
                for _, actor, _ in actors.values():
                    actor.SetVisibility(which is fine)

    def picture(
        self,
        eye: Camera,
        wide: int,
        tall: int,
        palette: Palette,
        *,
        chosen: str,
        run: str,
        cut: float | None,
        fine: bool,
        fired: int,
        moves: Mapping[str, np.ndarray | None],
    ) -> QImage:
        """The bodies as seen by `eye`, `wide` by `tall` px; the `chosen` piece in the colour of what is chosen, all else
        but its `run` paler; `cut`: m towards who looks from where everything is cut away; `fine`: smooth edges and the bodies
        that were taken as fine, else the coarse ones; `moves`: of what is moved (`name_of`) where to (4, 4; m), None: not there."""
        ground = QColor(palette.raised if palette.name == "light" else palette.ground)
        self.renderer.SetBackground(ground.redF(), ground.greenF(), ground.blueF())
        shades = colours(max(fired, 1))
        self._show(fine)
        for name, (body, actor, mapper) in self.actors[fine].items():
            self._move(actor, moves, name)
            code = palette.accent if body.piece and body.key == chosen else tint_of(body.tint, shades, palette)
            shade = QColor(code)
            look = actor.GetProperty()
            sheer = body.tint in SEEN_THROUGH
            look.SetColor(shade.redF(), shade.greenF(), shade.blueF())
            look.SetOpacity(_SHEER.get(body.tint, 1.0) if fine else 1.0)
            look.SetLighting(body.tint != GROUND and (fine or not sheer or len(body.corners) != CORNERS))
            look.SetBackfaceCulling(sheer)
            look.SetAmbient(0.22)
            look.SetDiffuse(0.85)
            look.SetSpecular(0.12)
            look.SetSpecularPower(18.0)
            planes = mapper.GetClippingPlanes()
            if (cut is not None) != bool(planes and planes.GetNumberOfItems()):
                if cut is not None:
                    mapper.AddClippingPlane(self.plane)
                else:
                    mapper.RemoveAllClippingPlanes()
        self._aim(eye, tall, cut)
        if fine:
            self.renderer.UseFXAAOn()
        else:
            self.renderer.UseFXAAOff()
        self.window.SetSize(wide, tall)
        self.window.Render()
        self.window.GetRGBACharPixelData(0, 0, wide - 1, tall - 1, 1, self.pixels)
        from vtkmodules.util.numpy_support import vtk_to_numpy

        data = np.ascontiguousarray(vtk_to_numpy(self.pixels).reshape(tall, wide, 4)[::-1])
        return QImage(data.data, wide, tall, 4 * wide, QImage.Format.Format_RGBX8888).copy()

    def close(self) -> None:
        """Give back what the renderer holds."""
        self.window.Finalize()


def plain(
    bodies: list[Body],
    eye: Camera,
    wide: int,
    tall: int,
    painter: QPainter,
    palette: Palette,
    *,
    chosen: str,
    fired: int,
    moves: Mapping[str, np.ndarray | None],
) -> None:
    """The bodies as flat triangles where nothing else can draw: far ones first, shaded by how they face; `moves` as in `picture`."""
    painter.fillRect(0, 0, wide, tall, QColor(palette.raised if palette.name == "light" else palette.ground))
    shades = colours(max(fired, 1))
    every: list[tuple[float, QColor, np.ndarray]] = []
    for body in bodies:
        if body.tint in SEEN_THROUGH:
            continue
        there = moves.get(name_of(body), STANDS)
        if there is None:
            continue
        seen = eye.seen(body.corners @ there[:3, :3].T + there[:3, 3], wide, tall)
        if body.tint == GROUND:
            painter.setPen(QPen(QColor(tint_of(body.tint, shades, palette)), 1))
            for one, two in body.triangles:
                painter.drawLine(QPointF(*map(float, seen[one, :2])), QPointF(*map(float, seen[two, :2])))
            continue
        base = palette.accent if body.piece and body.key == chosen else tint_of(body.tint, shades, palette)
        for triangle in body.triangles[:: max(len(body.triangles) // 400, 1)]:
            p = seen[triangle]
            one, two = p[1] - p[0], p[2] - p[0]
            if one[0] * two[1] - one[1] * two[0] <= 0.0:
                every.append((float(p[:, 2].mean()), QColor(base), p[:, :2]))
    every.sort(key=lambda e: e[0])
    painter.setPen(QPen(Qt.PenStyle.NoPen))
    for _, shade, p in every:
        painter.setBrush(shade)
        painter.drawPolygon(QPolygonF([QPointF(float(x), float(y)) for x, y in p]))

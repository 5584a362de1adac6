"""The thread that draws the bodies: bringing up what draws takes a second, a picture a twentieth."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage, QPainter

from zarvik.project.document.document import Project
from zarvik.project.layout.layout import layout, space_of
from zarvik.window.benches.layout.bodies import GROUND, Body, bodies_of, is_far
from zarvik.window.benches.layout.camera import Camera
from zarvik.window.benches.layout.scene import Scene, can_render, plain
from zarvik.window.mailbox import Mailbox
from zarvik.window.theme.palette import Palette

SMALL = (104, 74)  # px of a small picture
BLEED = 70  # px of the border of a fitted picture that a small one does without


@dataclass(frozen=True, eq=False, kw_only=True)
class View:
    """What is to be drawn: the `bodies` as seen by `eye`, `wide` by `tall` px; the `chosen` piece and the key of its
    `run`; `cut`: m towards who looks from where all is cut away; `fine`: smooth edges; `fired`: how many cylinders
    there are; `ratio`: px of the screen for one of the window; `flat`: by triangles, as where nothing else can draw; `moves`: what is
    moved, and where to (as in `Scene.picture`)."""

    bodies: list[Body]
    eye: Camera
    wide: int
    tall: int
    palette: Palette
    chosen: str = ""
    run: str = ""
    cut: float | None = None
    fine: bool = False
    fired: int = 1
    ratio: float = 1.0
    flat: bool = False
    moves: Mapping[str, np.ndarray | None] = field(default_factory=dict)


@dataclass(frozen=True, eq=False, kw_only=True)
class Small:
    """A small picture of a `project` without what stands in its bay, `wide` by `tall` px; `palette` and `ratio` as of a `View`."""

    project: Project
    wide: int
    tall: int
    palette: Palette
    ratio: float = 1.0
    flat: bool = False

    def view(self) -> View:
        """What is to be drawn for it: everything near the engine, from the corner."""
        space, found = space_of(self.project), layout(self.project)
        bodies = [body for body in bodies_of(space, found) if body.tint != GROUND]
        wide, tall = int(self.wide * self.ratio), int(self.tall * self.ratio)
        eye = Camera()
        eye.fit(np.vstack([body.corners for body in bodies if not is_far(found, body.run, body.corners)]), wide + BLEED, tall + BLEED)
        cylinders = space.head.cylinders
        return View(
            bodies=bodies, eye=eye, wide=wide, tall=tall, palette=self.palette, fine=True, fired=cylinders, ratio=self.ratio, flat=self.flat
        )


class Renderer(QObject):
    """Draws the newest view that was asked for; older ones that wait are forgotten, and small pictures come when nothing else is wanted.
    Whatever belongs to the drawing library is made, used and given back in its own thread."""

    drawn = Signal(object, QImage)  # the View, its picture
    small_drawn = Signal(object, QImage)  # the project of a Small, its picture

    def __init__(self) -> None:
        super().__init__()
        self._condition = threading.Condition()
        self._wanted: View | None = None
        self._small: list[Small] = []
        self._busy = False
        self._closed = False
        self._done: tuple[View, QImage] | None = None
        self.fault = ""
        self._thread: threading.Thread | None = None
        self._mail = Mailbox(self)
        self._mail.arrived.connect(self._tell)

    def _tell(self, found: tuple[View | Small, QImage]) -> None:
        view, image = found
        if self._closed:
            return
        if isinstance(view, Small):
            self.small_drawn.emit(view.project, image)
        else:
            self.drawn.emit(view, image)

    def ask(self, view: View) -> None:
        """Have a view drawn; `drawn` tells."""
        with self._condition:
            self._wanted = view
            self._begin()

    def ask_small(self, small: list[Small]) -> None:
        """Have small pictures drawn, in their order, in the place of those that wait; `small_drawn` tells of each."""
        with self._condition:
            self._small = list(small)
            if small:
                self._begin()

    def _begin(self) -> None:
        if self._thread is None and not self._closed:
            self._thread = threading.Thread(target=self._loop, name="zarvik-space", daemon=True)
            self._thread.start()
        self._condition.notify_all()

    def wait(self, seconds: float = 30.0) -> QImage | None:
        """The picture of what was asked last, when nothing waits any more; None where there is none by then."""
        with self._condition:
            idle = self._condition.wait_for(lambda: self._wanted is None and not self._busy, seconds)
            return self._done[1] if idle and self._done is not None else None

    def close(self) -> None:
        """End the thread."""
        with self._condition:
            self._closed = True
            self._condition.notify_all()
        if self._thread is not None:
            self._thread.join(timeout=30.0)

    def _loop(self) -> None:
        pen = _Pen()
        while True:
            with self._condition:
                self._condition.wait_for(lambda: self._closed or self._wanted is not None or self._small)
                if self._closed:
                    break
                small = self._small.pop(0) if self._wanted is None else None
                view = self._wanted
                if small is None:
                    self._wanted, self._busy = None, True
            if small is not None:
                self._draw_small(pen, small)
                continue
            assert view is not None
            image: QImage | None = None
            try:
                image = pen.picture(view)
            except Exception as error:  # a picture that is missing loses no work
                self.fault = str(error) or type(error).__name__
                pen.able = False
            with self._condition:
                self._busy = False
                if image is not None:
                    self._done = (view, image)
                elif self._wanted is None:
                    self._wanted = view if not self._closed and not view.flat else None
                self._condition.notify_all()
            if image is not None:
                self._mail.post((view, image))
        pen.close()

    def _draw_small(self, pen: _Pen, small: Small) -> None:
        """A small picture; where it cannot be drawn there is none."""
        try:
            image = pen.picture(small.view())
        except Exception as error:  # as above: the words beside it say all
            self.fault = str(error) or type(error).__name__
            return
        self._mail.post((small, image))


class _Pen:
    """What draws, in the thread of a renderer: `able`, is there a drawing library?"""

    def __init__(self) -> None:
        self.able = can_render()
        self.scene: Scene | None = None
        self.taken: dict[bool, list[Body]] = {}

    def picture(self, view: View) -> QImage:
        """The picture of a view."""
        if not self.able or view.flat:
            image = _flat(view)
        else:
            self.scene = self.scene or Scene()
            if self.taken.get(view.fine) is not view.bodies:
                self.scene.take(view.bodies, fine=view.fine)
                self.taken[view.fine] = view.bodies
            image = self.scene.picture(
                view.eye,
                view.wide,
                view.tall,
                view.palette,
                chosen=view.chosen,
                run=view.run,
                cut=view.cut,
                fine=view.fine,
                fired=view.fired,
                moves=view.moves,
            )
        image.setDevicePixelRatio(view.ratio)
        return image

    def close(self) -> None:
        """Give back what the drawing library holds."""
        if self.scene is not None:
            self.scene.close()


def _flat(view: View) -> QImage:
    image = QImage(view.wide, view.tall, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    plain(view.bodies, view.eye, view.wide, view.tall, painter, view.palette, chosen=view.chosen, fired=view.fired, moves=view.moves)
    painter.end()
    return image

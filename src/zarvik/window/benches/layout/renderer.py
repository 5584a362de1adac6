"""The thread that draws the bodies: bringing up what draws takes a second, a picture a twentieth."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage, QPainter

from zarvik.window.benches.layout.bodies import Body
from zarvik.window.benches.layout.camera import Camera
from zarvik.window.benches.layout.scene import Scene, can_render, plain
from zarvik.window.theme.palette import Palette


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


class Renderer(QObject):
    """Draws the newest view that was asked for; older ones that wait are forgotten. Whatever belongs to the drawing
    library is made, used and given back in its own thread."""

    drawn = Signal(object, QImage)  # the View, its picture

    def __init__(self) -> None:
        super().__init__()
        self._condition = threading.Condition()
        self._wanted: View | None = None
        self._busy = False
        self._closed = False
        self._done: tuple[View, QImage] | None = None
        self.fault = ""
        self._thread: threading.Thread | None = None

    def ask(self, view: View) -> None:
        """Have a view drawn; `drawn` tells."""
        with self._condition:
            self._wanted = view
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
        scene: Scene | None = None
        able = can_render()
        taken: dict[bool, list[Body]] = {}
        while True:
            with self._condition:
                self._condition.wait_for(lambda: self._closed or self._wanted is not None)
                if self._closed:
                    break
                view, self._wanted, self._busy = self._wanted, None, True
            assert view is not None
            image: QImage | None = None
            try:
                if able and not view.flat:
                    scene = scene or Scene()
                    if taken.get(view.fine) is not view.bodies:
                        scene.take(view.bodies, fine=view.fine)
                        taken[view.fine] = view.bodies
                    image = scene.picture(
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
                else:
                    image = _flat(view)
                image.setDevicePixelRatio(view.ratio)
            except Exception as error:  # a picture that is missing loses no work
                self.fault = str(error) or type(error).__name__
                able = False
            with self._condition:
                self._busy = False
                if image is not None:
                    self._done = (view, image)
                elif self._wanted is None:
                    self._wanted = view if not self._closed and not view.flat else None
                self._condition.notify_all()
            if image is not None and not self._closed:
                self.drawn.emit(view, image)
        if scene is not None:
            scene.close()


def _flat(view: View) -> QImage:
    image = QImage(view.wide, view.tall, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    plain(view.bodies, view.eye, view.wide, view.tall, painter, view.palette, chosen=view.chosen, fired=view.fired, moves=view.moves)
    painter.end()
    return image

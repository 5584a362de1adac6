"""Pictures of printed maps, read from files."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PySide6.QtGui import QColor, QImage, QImageReader, QPainter

from zarvik.project.language.language import tr_format

MOST_PIXELS = 120_000_000


class UnreadablePicture(ValueError):
    """The picture cannot be read: the sentence that says why."""


def read_picture(path: str) -> QImage:
    """The picture in a file, three bytes a px. Raises Unreadable for none, a broken one, one far too large."""
    reader = QImageReader(path)
    reader.setAutoTransform(True)
    reader.setDecideFormatFromContent(True)
    size = reader.size()
    name = Path(path).name
    if size.isValid() and size.width() * size.height() > MOST_PIXELS:
        raise UnreadablePicture(
            tr_format(
                "“{0}” has {1} million pixels; {2} is the limit", name, size.width() * size.height() // 1_000_000, MOST_PIXELS // 1_000_000
            )
        )
    reader.setAllocationLimit(512)
    found = reader.read()
    if found.isNull():
        raise UnreadablePicture(tr_format("“{0}” is not a readable picture: {1}", name, reader.errorString()))
    if found.width() < 20 or found.height() < 20:
        raise UnreadablePicture(tr_format("“{0}” is too small to trace", name))
    if found.hasAlphaChannel():
        # Drawn lines on nothing are lines on paper.
        paper = QImage(found.size(), QImage.Format.Format_RGB32)
        paper.fill(QColor("white"))
        painter = QPainter(paper)
        painter.drawImage(0, 0, found)
        painter.end()
        found = paper
    return found.convertToFormat(QImage.Format.Format_RGB888)


def bytes_of(image: QImage) -> np.ndarray:
    """A picture as bytes: rows, columns, 3."""
    flat = np.frombuffer(image.constBits(), np.uint8)
    rows = flat.reshape(image.height(), image.bytesPerLine())
    return rows[:, : 3 * image.width()].reshape(image.height(), image.width(), 3).copy()

"""The piece that loses most, as words and subject."""

from __future__ import annotations

from zarvik.core.airpath.point import Stretch
from zarvik.core.common.sentences import Figure, Filling, message


def largest(pieces: list[Stretch]) -> Stretch:
    """The piece that loses most."""
    return max(pieces, key=lambda s: s.drop)


def named(piece: Stretch) -> Filling:
    """What a piece is called in a sentence."""
    return message("Intercooler") if piece.id == "cooler" else piece.name or piece.id


def subject_of(piece: Stretch) -> str:
    """What a check about a piece is about."""
    return "charge" if piece.id == "cooler" else f"piece:{piece.id}"


def loss_of(piece: Stretch | None, speed: float) -> Figure:
    """Its loss in Pa at a speed in rev/min, with the sheet that works it out."""
    if piece is None:
        return Figure(0.0, "pressure_difference")
    sheet = "cooler_loss" if piece.id == "cooler" else f"piece:{piece.id}"
    return Figure(piece.drop, "pressure_difference", sheet, speed)

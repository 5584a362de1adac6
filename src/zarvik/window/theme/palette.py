"""The two themes and the scales of colour. Contrast of text to its ground is AA (tested)."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass

from PySide6.QtGui import QColor

from zarvik.core.common.constants import ZERO_CELSIUS


@dataclass(frozen=True, kw_only=True)
class Palette:
    """Colours by what they are for, as #rrggbb."""

    name: str
    ground: str  # behind everything
    panel: str  # rails, cards
    raised: str  # fields
    line: str  # hairlines
    ink: str  # text
    soft: str  # secondary text
    accent: str  # what can be acted on, what is chosen
    accent_ink: str  # text on accent
    accent_soft: str  # ground of what is chosen
    ok: str
    marginal: str
    fails: str
    to_do: str
    cold_low: str  # charge air, cold end of its scale
    cold_high: str  # charge air, warm end
    grid: str
    hot_low: str  # exhaust gas, dull
    hot_high: str  # exhaust gas, bright


LIGHT = Palette(
    name="light",
    ground="#ece8df",
    panel="#f7f4ee",
    raised="#ffffff",
    line="#c9c2b4",
    ink="#23262b",
    soft="#5a5c60",
    accent="#7a2e5d",
    accent_ink="#ffffff",
    accent_soft="#ecd9e3",
    ok="#23663a",
    marginal="#8a5200",
    fails="#a3211b",
    to_do="#4e5a6b",
    cold_low="#2b7f95",
    cold_high="#c9b6dd",
    grid="#ddd7ca",
    hot_low="#b98f7c",
    hot_high="#e07a34",
)
DARK = Palette(
    name="dark",
    ground="#17181c",
    panel="#1f2126",
    raised="#292c33",
    line="#43474f",
    ink="#ecebe6",
    soft="#aeb0b3",
    accent="#e39cc4",
    accent_ink="#2a0f1f",
    accent_soft="#46293a",
    ok="#7fcf95",
    marginal="#f0b554",
    fails="#ff8a80",
    to_do="#a9b7cc",
    cold_low="#3fa3bb",
    cold_high="#7d6aa0",
    grid="#30333a",
    hot_low="#5d3a30",
    hot_high="#b8581f",
)
THEMES = {"light": LIGHT, "dark": DARK}
# What is printed: the light one on white.
PAPER = dataclasses.replace(LIGHT, ground="#ffffff", panel="#ffffff", raised="#ffffff")

_current = LIGHT


def current() -> Palette:
    """The palette in force."""
    return _current


def use(name: str) -> Palette:
    """Put a palette in force and return it: a theme, or "paper" while something is printed."""
    global _current
    _current = PAPER if name == "paper" else THEMES[name]
    return _current


def colour(code: str, alpha: float = 1.0) -> QColor:
    """A colour with an opacity 0–1."""
    found = QColor(code)
    found.setAlphaF(alpha)
    return found


def between(one: str, two: str, share: float) -> QColor:
    """The colour at `share` (0–1) of the way from `one` to `two`."""
    a, b = QColor(one), QColor(two)
    t = min(max(share, 0.0), 1.0)
    return QColor.fromRgbF(
        a.redF() + t * (b.redF() - a.redF()), a.greenF() + t * (b.greenF() - a.greenF()), a.blueF() + t * (b.blueF() - a.blueF())
    )


def charge_colour(temperature: float) -> QColor:
    """Colour of charge air at `temperature` in K, on the scale from 0 °C to 200 °C."""
    palette = current()
    return between(palette.cold_low, palette.cold_high, (temperature - ZERO_CELSIUS) / 200.0)


def gas_colour(temperature: float) -> QColor:
    """Colour of hot gas at `temperature` in K, from dull to bright glow, 400 °C to 1000 °C."""
    palette = current()
    return between(palette.hot_low, palette.hot_high, (temperature - 673.15) / 600.0)


# The tints that bright steel takes with heat, as every welder knows them: lower end in °C, word,
# colour. Above the grey it glows.
TEMPER = (
    (-273.0, "bright", "#b9bcc0"),
    (200.0, "straw", "#d9b96a"),
    (245.0, "bronze", "#a8703a"),
    (270.0, "purple", "#7a4a86"),
    (290.0, "blue", "#3f63ad"),
    (340.0, "grey", "#7b858c"),
    (550.0, "dull red", "#7d2a1f"),
    (750.0, "cherry", "#c0392b"),
    (880.0, "orange", "#e0803a"),
)


GLOW = 823.15  # K from which steel glows in the dark


def temper(temperature: float) -> tuple[str, QColor]:
    """Word and colour of steel whose skin has `temperature` in K."""
    celsius = temperature - ZERO_CELSIUS
    _, word, code = next(t for t in reversed(TEMPER) if celsius >= t[0])
    return word, QColor(code)


def tint(temperature: float) -> str:
    """What steel does at a skin `temperature` in K, in words: it turns straw, or glows cherry."""
    word, _ = temper(temperature)
    return f"glows {word}" if temperature >= GLOW else f"turns {word}"


def luminance(code: str) -> float:
    """Relative luminance of a colour (WCAG 2.1)."""
    found = QColor(code)
    parts = []
    for value in (found.redF(), found.greenF(), found.blueF()):
        parts.append(value / 12.92 if value <= 0.03928 else ((value + 0.055) / 1.055) ** 2.4)
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(one: str, two: str) -> float:
    """Contrast ratio of two colours (WCAG 2.1), 1–21."""
    a, b = sorted((luminance(one), luminance(two)), reverse=True)
    return (a + 0.05) / (b + 0.05)

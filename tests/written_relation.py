"""A relation worked out as it is written: the symbols and signs of a calculation sheet, the values that stand beside them."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping

# What a number may carry in a relation, in the units in which it is reckoned
UNITS = {"kPa": 1e3, "bar": 1e5, "K": 1.0, "mm": 1e-3, "ms": 1e-3, "kg/m³": 1.0, "°": math.pi / 180.0}
CONSTANTS = {"π": math.pi, "g": 9.80665}
FUNCTIONS: dict[str, Callable[..., float]] = {"max": max, "min": min, "exp": math.exp, "ln": math.log, "sin": math.sin, "√": math.sqrt}
TOKEN = re.compile(
    r"\s*(?:(?P<number>\d+(?:\.\d+)?)(?:\s?(?P<unit>kg/m³|kPa|bar|mm|ms|°C|°|K)(?![\w]))?"
    r"|(?P<name>[^\W\d²³][^\W²³]*)|(?P<power>[²³])|(?P<sign>[·/+−\-^(),|√]))"
)


class Unwritten(Exception):
    """What is written is no relation of values: words, a curve, a condition, or a symbol without a value."""


class _Reader:
    """Reads a right side from the left; `values` by symbol."""

    def __init__(self, text: str, values: Mapping[str, float]) -> None:
        # A value may be called "φ(M1)", which is no bracket to be worked out.
        whole = {symbol: f"value{n}" for n, symbol in enumerate(v for v in values if "(" in v)}
        for symbol, name in whole.items():
            text = text.replace(symbol, name)
        values = {whole.get(symbol, symbol): value for symbol, value in values.items()}
        self.tokens: list[tuple[str, str]] = []
        place = 0
        while place < len(text.rstrip()):
            found = TOKEN.match(text, place)
            if found is None:
                raise Unwritten(text[place:])
            place = found.end()
            kind = str(found.lastgroup) if found["number"] is None else "number"
            word = found[kind]
            if kind == "number":
                if found["unit"] == "°C":
                    word = repr(float(word) + 273.15)
                elif found["unit"]:
                    word = repr(float(word) * UNITS[found["unit"]])
            self.tokens.append((kind, word))
        self.at, self.values = 0, values

    def look(self) -> str:
        """The next word, empty at the end."""
        return self.tokens[self.at][1] if self.at < len(self.tokens) else ""

    def take(self, *wanted: str) -> str:
        """The next word, if it is one of those `wanted`, else nothing."""
        word = self.look()
        if word in wanted and word:
            self.at += 1
            return word
        return ""

    def total(self) -> float:
        """Terms with plus and minus."""
        value = self.term()
        while sign := self.take("+", "−", "-"):
            value = value + self.term() if sign == "+" else value - self.term()
        return value

    def term(self) -> float:
        """Factors; what stands side by side is multiplied."""
        value = self.factor()
        while True:
            if self.take("·"):
                value *= self.factor()
            elif self.take("/"):
                # "p / (R T)", "V / 2 π": only a bracket binds closer than a division
                value /= self.factor()
            elif self.at < len(self.tokens) and (self.tokens[self.at][0] in ("number", "name") or self.look() in ("(", "√")):
                value *= self.factor()
            else:
                return value

    def factor(self) -> float:
        """A number, symbol, function or bracket, raised to a power."""
        if self.take("−", "-"):
            return -self.factor()
        value = self.atom()
        while True:
            if self.take("²"):
                value = value**2
            elif self.take("³"):
                value = value**3
            elif self.take("^"):
                value = value ** self.factor()
            else:
                return value

    def atom(self) -> float:
        """What has no parts on the outside."""
        if self.at >= len(self.tokens):
            raise Unwritten("it ends too soon")
        kind, word = self.tokens[self.at]
        self.at += 1
        if kind == "number":
            return float(word)
        if word == "|":
            value = self.total()
            if not self.take("|"):
                raise Unwritten("| is not closed")
            return abs(value)
        if word == "(":
            value = self.total()
            if not self.take(")"):
                raise Unwritten("( is not closed")
            return value
        if word == "√":
            return math.sqrt(self.atom())
        if kind == "name" and word in FUNCTIONS and self.take("("):
            parts = [self.total()]
            while self.take(","):
                parts.append(self.total())
            if not self.take(")"):
                raise Unwritten("( is not closed")
            return FUNCTIONS[word](*parts) if len(parts) > 1 or word not in ("max", "min") else parts[0]
        if kind == "name" and word in self.values:
            return self.values[word]
        if kind == "name" and word in CONSTANTS:
            return CONSTANTS[word]
        raise Unwritten(word)


def worked_out(right: str, values: Mapping[str, float]) -> float:
    """Value of what is written, with `values` by symbol; raises `Unwritten`."""
    reader = _Reader(right, values)
    value = reader.total()
    if reader.at < len(reader.tokens):
        raise Unwritten(reader.look())
    return value

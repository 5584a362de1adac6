"""What a kind of piece is: its parameters with their limits, and how it becomes an element."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from zarvik.core.common.input_uncertainty import InputUncertainty
from zarvik.core.ducts.element import Element


@dataclass(frozen=True)
class Parameter:
    """A number or a choice that describes a piece.

    `quantity`: kind of quantity ("length", "angle", "ratio", "volume_flow", "pressure_difference", "count") or
    "choice". `low`, `high`, `default` in SI; `choices`: key and title. `bore`: which end of the piece this is the
    bore of: "in", "out", "both" or "". `uncertainty`: what it is good to, None for a size that one chooses. `shape`:
    says where a piece stands in space, which the flow does not feel; it is not handed to `build`. `blank`: the grey words of an
    empty field, which stands for zero.
    """

    name: str
    title: str
    quantity: str
    low: float = 0.0
    high: float = 0.0
    default: float | str = 0.0
    help: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    bore: str = ""
    uncertainty: InputUncertainty | None = None
    shape: bool = False
    blank: str = ""


@dataclass(frozen=True)
class PieceKind:
    """A kind of piece that a run can hold.

    `build` takes `id`, `name` and the parameters by name (SI) and returns the element; it raises
    ValueError with a sentence when the numbers contradict each other.
    """

    key: str
    title: str
    help: str
    parameters: tuple[Parameter, ...]
    build: Callable[..., Element]
    summary: Callable[[Mapping[str, float | str]], str] | None = None

    @property
    def felt(self) -> tuple[Parameter, ...]:
        """What the flow feels: the parameters that `build` takes."""
        return tuple(p for p in self.parameters if not p.shape)

    def parameter(self, name: str) -> Parameter:
        """The parameter called `name`; raises KeyError."""
        for parameter in self.parameters:
            if parameter.name == name:
                return parameter
        raise KeyError(name)


HELD = Parameter(
    "held",
    "When lengths are equalised",
    "choice",
    default="may",
    choices=(("may", "May change"), ("held", "Fixed")),
    help="A fixed piece keeps its length, bend and rotation",
    shape=True,
)


WALL = Parameter(
    name="wall", title="Wall", quantity="length", low=0.0, high=0.012, default=0.0, help="Of the tube", blank="auto", shape=True
)


def bore(title: str = "Bore", name: str = "bore", end: str = "both", default: float = 0.0602) -> Parameter:
    """An inside diameter in m, 0.005 to 0.4; `default` in m."""
    return Parameter(
        name=name,
        title=title,
        quantity="length",
        low=0.005,
        high=0.4,
        default=default,
        help="Inside diameter, not tube size",
        choices=(),
        bore=end,
    )


def length(
    title: str = "Length",
    name: str = "length",
    default: float = 0.3,
    low: float = 0.001,
    high: float = 10.0,
    help: str = "Along the centreline",
) -> Parameter:
    """A length in m with its limits.

    `default`, `low` and `high` in m.
    """
    return Parameter(name=name, title=title, quantity="length", low=low, high=high, default=default, help=help)

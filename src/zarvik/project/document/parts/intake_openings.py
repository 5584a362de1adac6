"""Air meter before the compressor and openings on the way to the valve."""

from __future__ import annotations

from typing import Annotated

from zarvik.core.intake import meter
from zarvik.project.document.fields import Choice, QuantitySpec
from zarvik.project.document.parts.part import Part
from zarvik.project.units.units import Quantity

_KIND = Choice("Air metering", lambda: tuple(meter.KINDS.items()), "How the engine computer measures air")
_BORE = QuantitySpec(kind="length", low="20 mm", high="200 mm", unit="mm", title="Meter bore", help="Inside, where the element sits")
_MOST = QuantitySpec(
    kind="meter_flow", low="0 kg/h", high="5000 kg/h", unit="kg/h", title="Max reading", help="Highest flow in its table", blank="not known"
)
_BEFORE = QuantitySpec(
    kind="length",
    low="0 mm",
    high="2 m",
    unit="mm",
    title="Straight length before the meter",
    help="Of its own bore, from the last bend, filter or step",
)
_BEHIND = QuantitySpec("length", "0 mm", "2 m", "mm", "Straight length after the meter")
_HOUSING = QuantitySpec(
    kind="length",
    low="0 mm",
    high="200 mm",
    unit="mm",
    title="Bore of the new housing",
    help="Another housing for the same insert",
    blank="its own",
)

SHAPES = (("round", "Round"), ("oval", "Oval"), ("rectangle", "Rectangle"))
_SHAPE_HELP = "A rectangle with small corners, or a slot with half circles"


def _wide(title: str) -> QuantitySpec:
    return QuantitySpec(
        kind="length",
        low="0 mm",
        high="150 mm",
        unit="mm",
        title=title,
        help="With callipers, or from a gasket print",
        blank="not measured",
    )


def _high(title: str) -> QuantitySpec:
    return QuantitySpec(kind="length", low="0 mm", high="150 mm", unit="mm", title=title, help="Of the opening", blank="as the width")


_RUNNER, _RUNNER_HIGH = _wide("Runner end width"), _high("Runner end height")
_GASKET, _GASKET_HIGH = _wide("Gasket opening width"), _high("Gasket opening height")
_PORT, _PORT_HIGH = _wide("Port width"), _high("Port height")
_THROAT = _wide("Throat bore above the seat")
_ASIDE = QuantitySpec(
    kind="length",
    low="-20 mm",
    high="20 mm",
    unit="mm",
    title="Manifold offset, sideways",
    help="Relative to the gasket, measured with ink or plasticine",
)
_UP = QuantitySpec("length", "-20 mm", "20 mm", "mm", "Manifold offset, up")
_VALVES = QuantitySpec("count", "1", "4", "", "Inlet valves per cylinder")
_VALVE = QuantitySpec(
    kind="length", low="0 mm", high="90 mm", unit="mm", title="Inlet valve diameter", help="Of its head", blank="not measured"
)
_LIFT = QuantitySpec(
    kind="length",
    low="0 mm",
    high="25 mm",
    unit="mm",
    title="Inlet valve lift",
    help="At the valve, with the rocker ratio",
    blank="not known",
)


class AirMeter(Part):
    """How the air is metered."""

    kind: Annotated[str, _KIND] = "none"
    bore: Annotated[Quantity, _BORE] = _BORE("70 mm")
    max_reading: Annotated[Quantity, _MOST] = _MOST("0 kg/h")
    straight_before: Annotated[Quantity, _BEFORE] = _BEFORE("200 mm")
    straight_after: Annotated[Quantity, _BEHIND] = _BEHIND("70 mm")
    new_bore: Annotated[Quantity, _HOUSING] = _HOUSING("0 mm")


class Ports(Part):
    """Openings along the way from the runner to the valve, of one cylinder."""

    runner_width: Annotated[Quantity, _RUNNER] = _RUNNER("0 mm")
    runner_height: Annotated[Quantity, _RUNNER_HIGH] = _RUNNER_HIGH("0 mm")
    runner_shape: Annotated[str, Choice("Runner end shape", lambda: SHAPES, _SHAPE_HELP)] = "oval"
    gasket_width: Annotated[Quantity, _GASKET] = _GASKET("0 mm")
    gasket_height: Annotated[Quantity, _GASKET_HIGH] = _GASKET_HIGH("0 mm")
    gasket_shape: Annotated[str, Choice("Gasket opening shape", lambda: SHAPES, _SHAPE_HELP)] = "oval"
    port_width: Annotated[Quantity, _PORT] = _PORT("0 mm")
    port_height: Annotated[Quantity, _PORT_HIGH] = _PORT_HIGH("0 mm")
    port_shape: Annotated[str, Choice("Port shape", lambda: SHAPES, _SHAPE_HELP)] = "oval"
    throat: Annotated[Quantity, _THROAT] = _THROAT("0 mm")
    offset_sideways: Annotated[Quantity, _ASIDE] = _ASIDE("0 mm")
    offset_up: Annotated[Quantity, _UP] = _UP("0 mm")
    valves: Annotated[Quantity, _VALVES] = _VALVES("2")
    valve_diameter: Annotated[Quantity, _VALVE] = _VALVE("0 mm")
    valve_lift: Annotated[Quantity, _LIFT] = _LIFT("0 mm")

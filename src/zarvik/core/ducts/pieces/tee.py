"""A tee that the stream goes through or turns in; its third branch is closed or a bung."""

from __future__ import annotations

from zarvik.core.ducts.element import Element, circle, sampled
from zarvik.core.ducts.friction import friction_factor
from zarvik.core.ducts.kinds import Parameter, PieceKind, bore

WAYS = (("through", "Straight through"), ("turn", "Through the branch"))


def build(*, id: str, name: str, bore: float, way: str) -> Element:
    """Element of a tee of `bore` in m; `way` the stream takes. Crane TP-410, A-29: 20 f through the
    run, 60 f through the branch, with the friction factor of full turbulence."""
    rough = friction_factor(4e6, 45e-6 / bore)
    return Element(
        id=id,
        kind="tee",
        name=name,
        diameter_in=bore,
        diameter_out=bore,
        diameter=bore,
        loss=sampled((20.0 if way == "through" else 60.0) * rough),
        length=1.5 * bore,
        volume=circle(bore) * 1.5 * bore,
        method="Standard tee",
        source="Crane TP-410, A-29",
    )


TEE = PieceKind(
    "tee",
    "Tee",
    "Blow-off branch, Y of two pipes, capped branch",
    (bore(), Parameter("way", "Flow path", "choice", default="through", choices=WAYS)),
    build,
)

"""Every kind of piece. A new one is a file here and a line in `KINDS`."""

from __future__ import annotations

from zarvik.core.ducts.kinds import PieceKind
from zarvik.core.ducts.pieces.bend import BEND
from zarvik.core.ducts.pieces.catalyst import CATALYST
from zarvik.core.ducts.pieces.collector import COLLECTOR
from zarvik.core.ducts.pieces.crossover import CROSSOVER
from zarvik.core.ducts.pieces.crush import CRUSH
from zarvik.core.ducts.pieces.entry import ENTRY
from zarvik.core.ducts.pieces.joint import JOINT
from zarvik.core.ducts.pieces.mitre import MITRE
from zarvik.core.ducts.pieces.plenum_entry import MOUTH
from zarvik.core.ducts.pieces.primaries import PRIMARIES
from zarvik.core.ducts.pieces.reducer import REDUCER
from zarvik.core.ducts.pieces.resistance import RESISTANCE
from zarvik.core.ducts.pieces.silencer import SILENCER
from zarvik.core.ducts.pieces.step import STEP
from zarvik.core.ducts.pieces.straight import STRAIGHT
from zarvik.core.ducts.pieces.tee import TEE
from zarvik.core.ducts.pieces.throttle import THROTTLE

KINDS: dict[str, PieceKind] = {
    kind.key: kind
    for kind in (
        STRAIGHT,
        BEND,
        REDUCER,
        JOINT,
        ENTRY,
        RESISTANCE,
        CATALYST,
        SILENCER,
        THROTTLE,
        MOUTH,
        MITRE,
        PRIMARIES,
        COLLECTOR,
        CROSSOVER,
        CRUSH,
        STEP,
        TEE,
    )
}

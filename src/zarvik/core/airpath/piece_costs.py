"""What the loss of each piece costs at the crank."""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath.solution import Solver
from zarvik.core.ducts import march
from zarvik.core.intercooler import intercooler as cooling

COOLER = "cooler"  # its key among the costs of the pieces


def piece_costs(solver: Solver, speed: float, start: np.ndarray) -> dict[str, float]:
    """What the loss of each duct piece and of the intercooler costs at `speed` (rev/min): W at the crank that would be
    there without it, found by solving again without that loss. `start`: unknowns of a solved point
    nearby. Keys are element ids and COOLER; empty when the point itself is not solved."""
    base = solver.raw(np.array([speed]), start=start)
    if not base.solved[0]:
        return {}
    power, start = float(base.power[0]), base.solutions[0]
    found = dict(zip((element.id for element in solver.path.elements), solver.without_each(base), strict=True))
    # What does not close from the point with all of them is searched for.
    for key in [key for key, there in found.items() if there != there]:
        found[key] = power_without(solver, speed, key, start)
    if solver.path.cooler is not None:
        found[COOLER] = power_without(solver, speed, COOLER, start)
    return {key: float(there) - power for key, there in found.items()}


def power_without(solver: Solver, speed: float, piece: str, start: np.ndarray) -> float:
    """Power in W at `speed` in rev/min without the loss of a duct piece or, for COOLER, without the
    loss of the cooler, which goes on cooling; nan where that is not solved. `start`: unknowns of
    the point with it. Raises KeyError for a strange id."""
    rows, losses = solver.rows, solver.losses
    if piece == COOLER and solver.path.cooler is not None:
        cooler = solver.cooler_numbers.copy()
        cooler[cooling.RATED_DROP] = 0.0
        solver = solver.with_cooler(cooler)
    else:
        i = solver.index(piece)
        rows, losses = rows.copy(), losses.copy()
        rows[i, march.LINEAR] = rows[i, march.QUADRATIC] = losses[i] = 0.0
    raw = solver.raw(np.array([speed]), rows=rows, losses=losses, start=start)
    return float(raw.power[0]) if raw.solved[0] else float("nan")

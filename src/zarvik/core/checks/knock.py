"""Does the end gas keep still? A screening, never a promise."""

from __future__ import annotations

import numpy as np

from zarvik.core.airpath import kernel as k
from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import FAILS, HOLDS, TIGHT, Figure, Verdict, revs, say
from zarvik.core.engine.knock import heat_of_charge, screen
from zarvik.core.gas.mixture import GAS_CONSTANT

# Of the Livengood-Wu integral. The relation scatters by a third between engines; an unboosted
# engine of compression 9.6 on 98 octane stands at 0.5, one of 12 at 1.0 (common practice, no source).
GOOD, WORST = 1.0, 1.5
# Below twice the idle speed nobody holds an engine at full load; common practice, no source.
LUGGING = 2.0


def check(case: Case) -> list[Verdict]:
    """The knock integral over the full-load line; nothing for a diesel."""
    engine = case.system.engine
    if engine.fuel.octane is None:
        return []
    good = np.nonzero(case.raw.solved & (case.raw.speed >= LUGGING * engine.idle))[0][::3]
    if len(good) == 0:
        return []
    states = case.raw.states[good]
    found = screen(
        octane=engine.fuel.octane,
        speed=case.raw.speed[good],
        plenum=states[:, k.P_PLENUM],
        charge=states[:, k.T_CHARGE],
        compression=engine.compression,
        heat_per_charge=heat_of_charge(engine.burnt),
        gas_constant=float(case.solver.gas[GAS_CONSTANT]),
        retard=engine.retard,
    )
    i = int(found.argmax())
    worst = float(found[i])
    state = FAILS if worst > WORST else TIGHT if worst > GOOD else HOLDS
    at = float(case.raw.speed[good][i])
    return [
        Verdict(
            "knock", "Knock (screening)", state, (WORST - worst) / WORST,
            say("Index {index} at {speed} with {charge} of charge and {retard}° of retard; above 1 "
                "the end gas would light by itself. To rank and warn, not to promise",
                index=Figure(worst, "factor", "knock", at), speed=revs(at),
                charge=Figure(float(states[i, k.T_CHARGE]), "temperature", "charge", at),
                retard=Figure(engine.retard, "count", "=engine.retard")),
            None if state == HOLDS else say(
                "Cooler charge, more octane, less boost where it is worst, or more retard (10° cost "
                "about 4.5 % and heat the exhaust)"),
            (), "brief", "Douaud & Eyzat 1978 with the Livengood-Wu integral",
        )
    ]  # fmt: skip

"""Does a diesel smoke?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Verdict
from zarvik.core.limits import HOLDS, SMOKE
from zarvik.core.words import say


def check(case: Case) -> list[Verdict]:
    """The leanest limit of a diesel: lambda at full load; nothing for spark ignition."""
    engine = case.system.engine
    if engine.fuel.spark:
        return []
    lambdas = [value for _, value in engine.mixture] or [engine.lambda_]
    least = min(lambdas)
    state = SMOKE.state(least)
    return [
        Verdict(
            "smoke", "Smoke", state, SMOKE.margin(least),
            say("Lambda {least} at full load; below {limit} a diesel smokes", least=f"{least:.2f}",
                limit=f"{SMOKE.most:.2f}"),
            None if state == HOLDS else say("Less fuel, or more air"), (), "engine",
            SMOKE.basis,
        )
    ]  # fmt: skip

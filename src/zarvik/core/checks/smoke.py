"""Does a diesel smoke?"""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.airpath.solution import Solver
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Sentence, message, revs
from zarvik.core.engine.engine import FUEL_DENSITY
from zarvik.core.limits.limits import SMOKE

CHECK = Check("smoke", "Smoke", about="engine", limit=SMOKE)


def check(case: Case) -> list[CheckResult]:
    """The leanest limit of a diesel: lambda at full load; nothing for spark ignition."""
    engine = case.build.engine
    if engine.fuel.spark:
        return []
    if engine.delivery:
        return _by_quantity(case)
    lambdas = [value for _, value in engine.mixture] or [engine.lambda_]
    least = min(lambdas)
    return [
        CHECK.check_result(
            message("Lambda {least} at full load; below {limit} a diesel smokes", least=f"{least:.2f}", limit=f"{SMOKE.most:.2f}"),
            value=least,
            cure=message("Less fuel, or more air"),
        )
    ]


BLACK = 1.0  # lambda below which the smoke is black; common practice, no source


def injection(solver: Solver, point: Point) -> float:
    """Fuel in m3 that one cylinder gets at a time at a `point`."""
    return point.fuel * 120.0 / (solver.path.engine.cylinders * point.speed) / FUEL_DENSITY


def _seen(lambda_: float) -> str:
    """What is seen behind the car at this lambda, in the words of the trade."""
    if lambda_ < BLACK:
        return "black smoke"
    if lambda_ < SMOKE.most:
        return "grey smoke"
    return "haze" if lambda_ < SMOKE.good else "clean"


def _by_quantity(case: Case) -> list[CheckResult]:
    """Lambda where the pump gives the fuel: the least along the full-load curve, and how much would be clean
    there."""
    solver, engine = case.solver, case.build.engine
    # Below it nobody asks for full load.
    low = 1.5 * engine.idle
    points = [p for p in case.solved if p.speed >= low] or [case.target]
    values = [(solver.lambda_of(p), p) for p in points]
    least, worst = min(values, key=lambda pair: pair[0])
    least = round(least, 5)  # a limiter holds it on the edge itself
    state = SMOKE.state(least)
    given = injection(solver, worst)
    clean = given * least / SMOKE.good

    def less() -> tuple[Sentence | None, tuple[Change, ...]]:
        good = solver.lambda_of(case.target) >= SMOKE.good
        if good and engine.leanest < SMOKE.good:
            return message("A boost-compensated limiter: the pump holds fuel back until there is enough air"), (
                Change("engine.limiter", "boost"),
            )
        return message("Reduce fuel, or more air: a smaller housing at low speed, a larger turbo at high speed"), ()

    cure, changes = case.cure("smoke", state, less)
    return [
        CHECK.check_result(
            message(
                "Lambda {least} at {speed}: {seen}. The pump gives {given}; {clean} would be clean there",
                least=Figure(least, "factor", "lambda", worst.speed),
                speed=revs(worst.speed),
                seen=message(_seen(least)),
                given=Figure(given, "injection"),
                clean=Figure(clean, "injection"),
            ),
            value=least,
            cure=cure,
            changes=changes,
        )
    ]

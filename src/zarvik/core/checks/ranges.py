"""Is each relation used where it was fitted?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.method import Method
from zarvik.core.common.sentences import message, revs
from zarvik.core.limits.limits import MARGINAL
from zarvik.core.relations.engine import AIR, BACK_PRESSURE, BLOWER, CYCLE, FRICTION, KNOCK
from zarvik.core.relations.turbo import TURBINE_EFFICIENCY

CHECK = Check("ranges", "Validity of relations", about="engine")


def check(case: Case) -> list[CheckResult]:
    """What stands outside of its range where the most air goes through; nothing when all is within."""
    point, build = case.hardest, case.build
    engine = build.engine.at(point.speed)
    used: list[tuple[Method, dict[str, float]]] = [
        (FRICTION, {"piston_speed": 2.0 * engine.stroke * point.speed / 60.0}),
        (CYCLE, {"compression": engine.compression, "lambda_": engine.lambda_}),
        (AIR, {"efficiency": point.efficiency}),
        (BACK_PRESSURE, {"ratio": point.turbo.back_pressure}),
    ]
    if build.blower is not None:
        used.append((BLOWER, {"ratio": point.turbo.ratio}))
    else:
        used.append((TURBINE_EFFICIENCY, {"blade_speed_ratio": point.turbo.blade_ratio}))
    if engine.fuel.octane is not None:
        used.append((KNOCK, {"charge": point.charge}))
    found = [(method, name, value) for method, values in used for name, value in values.items() if method.outside(**{name: value})]
    if not found:
        return []
    method, name, value = found[0]
    low, high = method.limits[name]
    return [
        CHECK.check_result(
            message(
                ("{title} at {speed}: {name} is {value}, the relation is known from {low} to {high}. Figures based on it are less certain"),
                " (and {more} more)" if len(found) > 1 else "",
                title=message(method.title),
                speed=revs(point.speed),
                name=message(WORDS[name]),
                value=f"{value:.3g}",
                low=f"{low:.3g}",
                high=f"{high:.3g}",
                more=str(len(found) - 1),
            ),
            state=MARGINAL,
            basis=method.source,
        )
    ]


WORDS = {
    "piston_speed": "mean piston speed in m/s",
    "compression": "compression ratio",
    "lambda_": "lambda",
    "efficiency": "volumetric efficiency",
    "ratio": "pressure ratio",
    "blade_speed_ratio": "blade-speed ratio",
    "charge": "charge temperature in K",
}

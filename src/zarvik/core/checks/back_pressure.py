"""How far is the pressure before the turbine above that of the plenum?"""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import BACK_PRESSURE

CHECK = Check("back_pressure", "Back-pressure", about="turbine", limit=BACK_PRESSURE)

_TURBO = "{before} before the turbine is {ratio} times plenum pressure; {behind} after it. Pumping takes {pumping} at {speed}"
_DRIVEN = "{before} in the manifold is {ratio} times plenum pressure; {behind} in the exhaust. Pumping takes {pumping} at {speed}"


def check(case: Case) -> list[CheckResult]:
    """At the target speed."""
    point = case.target
    ratio = point.turbo.back_pressure
    stations = point.stations
    behind = stations["turbine_outlet"].pressure - case.build.site.pressure
    return [
        CHECK.check_result(
            message(
                _DRIVEN if case.build.blower is not None else _TURBO,
                before=Figure(stations["turbine_inlet"].pressure, "pressure_absolute", "pressure:turbine_inlet", point.speed),
                ratio=Figure(ratio, "factor", "back_pressure", point.speed),
                behind=Figure(behind, "pressure_gauge", "exhaust_pressure", point.speed),
                pumping=Figure(point.pumping * case.build.engine.swept_flow(point.speed), "power", "pumping_power", point.speed),
                speed=revs(point.speed),
            ),
            value=ratio,
            cure=message(
                "A less restrictive exhaust"
                if case.build.blower is not None
                else "A larger housing or turbine, or a less restrictive exhaust"
            ),
        )
    ]

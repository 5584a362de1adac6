"""What a pressure test says: the one hole that all leaks together come to, what it costs here, where to look first."""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import Figure, message
from zarvik.core.connections.rules import risk
from zarvik.core.leak_test.leaks import equivalent_hole, hole_flow
from zarvik.core.limits.limits import LEAK, MARGINAL, OK

CHECK = Check("leak", "Leak test", about="joints:leak", limit=LEAK)


def check(case: Case) -> list[CheckResult]:
    """Nothing while no test was done."""
    build, test = case.build, case.build.leak_test
    if test.start_pressure <= 0.0:
        return []
    ambient = build.site.pressure
    if not 0.0 < test.end_pressure < test.start_pressure:
        return [
            CHECK.check_result(
                message(
                    "From {start} to {end}: pressure must fall, and end above zero",
                    start=Figure(test.start_pressure, "pressure_gauge", "=leak_test.start_pressure"),
                    end=Figure(test.end_pressure, "pressure_gauge", "=leak_test.end_pressure"),
                ),
                state=MARGINAL,
                cure=message("Enter the gauge readings at start and end, before it is empty"),
                basis="Geometry",
            )
        ]
    volume = test.volume or build.charge_volume
    hole = equivalent_hole(
        volume, ambient + test.start_pressure, ambient + test.end_pressure, test.duration, test.shop_temperature, ambient
    )
    boost = case.target.stations["plenum"]
    share = hole_flow(hole, boost.pressure, boost.temperature, ambient) / case.target.air
    state = LEAK.state(share)
    where = sorted((x for x in build.connections if risk(x) > 0.0), key=lambda x: -risk(x))[:3]
    look = message(", look first at {names}", names=", ".join(f"“{x.name}”" for x in where)) if where and state != OK else message("")
    return [
        CHECK.check_result(
            message(
                "Total leak: one hole of {hole}, {share} of the air at full boost{look}",
                hole=Figure(hole, "length", "leak_hole"),
                share=Figure(share, "ratio", "leak_share", case.target.speed),
                look=look,
            ),
            value=share,
            cure=message("Soap and low, regulated pressure; ends secured, stand aside, never oxygen"),
        )
    ]

"""What carries the turbo, and does a catalyst stand its gas?"""

from __future__ import annotations

from zarvik.core.airpath.point import Point
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.checks.materials import gas_before
from zarvik.core.common.sentences import Figure, message, revs
from zarvik.core.limits.limits import BRICK, CARRIED, OK
from zarvik.core.manifold.load import Load, load_of
from zarvik.core.stock.sizes import INDUCER_SHARE, openings
from zarvik.core.whole_build.build import Build

CARRIED_CHECK = Check("carried", "Turbo support", about="turbine", limit=CARRIED, breaks=True)
BRICK_CHECK = Check("brick", "Catalyst temperature", limit=BRICK, breaks=True)


def load_at(build: Build, point: Point) -> Load | None:
    """What the manifold of a `build` carries, as hot as it is at a solved `point`; None with a blower."""
    if build.blower is not None:
        return None
    space = build.space
    out = space.turbo.origin[2] if space is not None and space.turbo.measured else 0.0
    wheel = openings(float(build.turbo.chart.lines[-1].flow[-1]))[0] / INDUCER_SHARE
    turbos = space.turbos if space is not None else 1
    return load_of(build.runs, build.fittings, wheel=wheel, out=max(out, 0.0), turbos=turbos, point=point)


def check(case: Case) -> list[CheckResult]:
    """The weight of the turbo on hot pipes, and the gas into each brick, at the hardest point."""
    return [*_carried(case), *_brick(case)]


def _carried(case: Case) -> list[CheckResult]:
    point = case.hardest
    load = load_at(case.build, point)
    if load is None:
        return []
    share = load.stress / load.creep
    if case.build.fittings.braced:
        return [
            CARRIED_CHECK.check_result(
                message(
                    ("A brace carries it. The turbo moves {grows} away from the head: the brace must allow that, with a slot or a link"),
                    grows=Figure(load.grows, "length", "turbo_grows", point.speed),
                ),
                state=OK,
            )
        ]
    return [
        CARRIED_CHECK.check_result(
            message(
                ("The manifold alone carries about {mass}: with vibration, {share} of the load that breaks pipes at {hot} within 1,000 h"),
                mass=Figure(load.mass, "mass", "turbo_mass"),
                share=Figure(share, "ratio", "carried_share", point.speed),
                hot=Figure(load.hot, "temperature", f"metal:{load.element.id}", point.speed),
            ),
            value=share,
            cure=message("A brace from turbo to block or gearbox, slotted along the manifold's expansion, or thicker pipes"),
            changes=(Change("fittings.turbo_support", "brace"),),
        )
    ]


def _brick(case: Case) -> list[CheckResult]:
    point = max((case.hardest, case.target), key=lambda p: p.stations["turbine_inlet"].temperature)
    found = []
    for s in point.stretches:
        if s.kind != "catalyst":
            continue
        gas = point.stations[s.end].temperature - s.warming
        found.append(
            BRICK_CHECK.check_result(
                message(
                    "“{name}” gets gas of {gas} at {speed}",
                    name=s.name or s.id,
                    gas=Figure(gas, "temperature", gas_before(case, s), point.speed),
                    speed=revs(point.speed),
                ),
                value=gas,
                cure=message("Further down the exhaust, or a richer mixture at full load"),
                about=f"piece:{s.id}",
            )
        )
    return found[:1]

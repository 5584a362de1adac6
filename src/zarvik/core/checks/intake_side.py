"""Meter, throttle, ports and valves: what the engine breathes through beside the pipes."""

from __future__ import annotations

import math

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Change, Check, CheckResult
from zarvik.core.common.sentences import Figure, Filling, message, revs
from zarvik.core.intake import butterfly, meter
from zarvik.core.intake.intake_flow import Throttle, full_flow_travel, ports_at, throttle_at, throttle_of, valve_index
from zarvik.core.intake.ports import TITLES
from zarvik.core.limits.limits import METER_RANGE, METER_STRAIGHT, OK, PEDAL, PORT_LIP, THROTTLE_LOSS, VALVE_MACH

THROTTLE_CHECK = Check("throttle", "Throttle loss, fully open", limit=THROTTLE_LOSS)
PEDAL_CHECK = Check("pedal", "Pedal feel in town", limit=PEDAL)
METER_CHECK = Check("meter", "Air meter range", about="intake", limit=METER_RANGE, breaks=True)
METER_STRAIGHT_CHECK = Check("meter_straight", "Straight pipe at the air meter", about="intake", limit=METER_STRAIGHT)
PORTS_CHECK = Check("ports", "Port match", about="intake", limit=PORT_LIP)
VALVES_CHECK = Check("valves", "Inlet valves", about="intake", limit=VALVE_MACH)


def check(case: Case) -> list[CheckResult]:
    """What is said of them; nothing of what nobody has said."""
    return [*_meter(case), *_throttle(case), *_ports(case)]


def _meter(case: Case) -> list[CheckResult]:
    m = case.build.meter
    if m.kind == "none":
        return []
    found: list[CheckResult] = []
    point = case.hardest
    if m.max_reading > 0.0:
        left = meter.meter_range(m) / point.air - 1.0
        state = METER_RANGE.state(left)
        figures: dict[str, Filling] = {
            "ends": Figure(meter.meter_range(m), "meter_flow", "meter_reach"),
            "air": Figure(point.air, "meter_flow", "air", point.speed),
            "speed": revs(point.speed),
        }
        asked = meter.housing_for(m, point.air)
        scaled = ". In its housing it reads {share} of the flow until its table is scaled" if m.new_bore > 0.0 else ""
        figures["share"] = Figure(meter.says(m), "ratio", "meter_says") if m.new_bore > 0.0 else ""
        found.append(
            METER_CHECK.check_result(
                message("Max reading {ends}; {air} flows at {speed}", scaled, **figures),
                state=state,
                value=left,
                cure=message(
                    "Its insert in a {bore} housing with its table scaled, a larger meter, or speed-density",
                    bore=Figure(_up(asked), "length"),
                ),
                changes=(Change("air_meter.new_bore", _up(asked)),),
            )
        )
    own = m.new_bore or m.bore
    before, behind = meter.STRAIGHT.get(m.kind, (3.0, 1.0))
    if own > 0.0:
        straight = min(m.straight_before / (before * own), m.straight_after / (behind * own)) * METER_STRAIGHT.good + 1e-9
        state = METER_STRAIGHT.state(straight)
        found.append(
            METER_STRAIGHT_CHECK.check_result(
                message(
                    "{before} straight before it and {behind} after, bore {bore}",
                    before=Figure(m.straight_before, "length", "=air_meter.straight_before"),
                    behind=Figure(m.straight_after, "length", "=air_meter.straight_after"),
                    bore=Figure(own, "length", "=air_meter.new_bore" if m.new_bore > 0.0 else "=air_meter.bore"),
                ),
                state=state,
                value=straight,
                cure=message(
                    "{before} before it and {behind} after, or a screen before it",
                    before=Figure(before * own, "length"),
                    behind=Figure(behind * own, "length"),
                ),
                changes=(
                    Change("air_meter.straight_before", max(m.straight_before, _up(before * own))),
                    Change("air_meter.straight_after", max(m.straight_after, _up(behind * own))),
                ),
            )
        )
    return found


def _up(length: float) -> float:
    """The next whole millimetre, in m."""
    return math.ceil(1e3 * length - 1e-6) * 1e-3 + 1e-9


def _throttle(case: Case) -> list[CheckResult]:
    build, point = case.build, case.hardest
    throttle = throttle_of(build)
    if throttle is None or not build.engine.fuel.spark:
        return []
    place = f"=piece:{throttle.id}"
    drop, share = throttle_at(throttle, point)
    town = full_flow_travel(build, throttle)
    first, second = THROTTLE_LOSS.state(share), PEDAL.state(town)
    # The next one that does for both: nobody buys the smallest that just will.
    sold = throttles_sold(case, throttle) if (first, second) != (OK, OK) else []
    good = [c for c in sold if THROTTLE_LOSS.state(c[1]) == OK and PEDAL.state(c[2]) == OK]
    fits = min(good, key=lambda c: abs(c[0] - throttle.bore), default=None)
    wider = fits is not None and fits[0] > throttle.bore
    found = [
        THROTTLE_CHECK.check_result(
            message(
                "{bore} loses {drop}, {share} of the pressure before it, at {speed}",
                bore=Figure(throttle.bore, "length", place),
                drop=Figure(drop, "pressure_difference", "throttle_drop", point.speed),
                share=Figure(share, "ratio", "throttle_share", point.speed),
                speed=revs(point.speed),
            ),
            state=first,
            value=share,
            cure=message("One of {bore}", bore=Figure(fits[0], "length"))
            if wider and fits is not None
            else message("Two throttles, or a wider one with a cam"),
            changes=() if first == OK or not wider or fits is None else (Change(f"piece:{throttle.id}:bore", fits[0]),),
            about=f"piece:{throttle.id}",
        )
    ]
    smaller = fits is not None and fits[0] < throttle.bore
    found.append(
        PEDAL_CHECK.check_result(
            message(
                "At {speed} full airflow is reached at {travel} pedal travel",
                speed=Figure(butterfly.TOWN, "rotation"),
                travel=Figure(town, "ratio", "pedal"),
            ),
            state=second,
            value=town,
            cure=message("One of {bore}, or a cam or table that opens it slowly", bore=Figure(fits[0], "length"))
            if smaller and fits is not None
            else message("A cam on the cable wheel, or an electronic pedal table, that opens it slowly"),
            changes=() if second == OK or not smaller or fits is None else (Change(f"piece:{throttle.id}:bore", fits[0]),),
            about=f"piece:{throttle.id}",
        )
    )
    return found


def throttles_sold(case: Case, throttle: Throttle) -> list[tuple[float, float, float]]:
    """Bore m, share of the pressure that is lost, travel of the pedal: of every throttle that is sold."""
    build, point = case.build, case.hardest
    found = []
    for bore in butterfly.BORES:
        if throttle.shaft < 0.5 * bore:
            other = Throttle(throttle.id, bore, throttle.shaft, throttle.section)
            found.append((bore, throttle_at(other, point, like=throttle)[1], full_flow_travel(build, other)))
    return found


def _ports(case: Case) -> list[CheckResult]:
    build, point = case.build, case.hardest
    found: list[CheckResult] = []
    ports = build.ports
    if sum(opening.said for opening in (ports.runner, ports.gasket, ports.port)) >= 2:
        seen = ports_at(build, build.ports, point)
        worst = max(seen.edges, key=lambda e: (e.loss, e.lip))
        state = PORT_LIP.state(max(e.lip for e in seen.edges))
        proud = max(seen.edges, key=lambda e: e.lip)
        gain = point.power * seen.loss / point.stations["plenum"].pressure
        figures: dict[str, Filling] = {
            "loss": Figure(seen.loss, "pressure_difference", "port_loss", point.speed),
            "speed": revs(point.speed),
            "behind": message(TITLES[proud.behind]),
            "before": message(TITLES[proud.before]),
            "lip": Figure(proud.lip, "length", "port_lip", point.speed),
            "gain": Figure(gain, "power", "port_gain", point.speed),
        }
        narrow = seen.narrowest
        before_seat = narrow.key != "throat" and ports.throat.said
        figures["place"] = message(narrow.title)
        rest = (
            "; all edges lose {loss} while a valve is open at {speed}, about {gain}",
            ". The narrowest is “{place}”, not the throat: metal before the seat blocks it" if before_seat else "",
        )
        words = (
            message("“{behind}” stands {lip} into the stream behind “{before}”", *rest, **figures)
            if proud.lip > 1e-6
            else message("No edge faces the stream", *rest, **figures)
        )
        cure = message(
            (
                "Blend “{behind}” back to the edge before it, or shift the manifold on its studs. Edges facing away "
                "may stay. Ink shows the match; wall thickness is unknown"
            ),
            behind=message(TITLES[(proud if proud.lip > 1e-6 else worst).behind]),
        )
        found.append(PORTS_CHECK.check_result(words, state=state, value=proud.lip, cure=cure))
    index = valve_index(build, build.ports, case.target)
    if index == index:
        state = VALVE_MACH.state(index)
        found.append(
            VALVES_CHECK.check_result(
                message(
                    "Mean inlet Mach index {index} at {speed}",
                    index=Figure(index, "number", "valve_index", case.target.speed),
                    speed=revs(case.target.speed),
                ),
                state=state,
                value=index,
                cure=message("Boost does not help here: more lift, larger valves, or peak power at a lower speed"),
            )
        )
    return found

"""Rules of the connection list: what a line of it must fulfil, each with the reason and a way out. A new rule is a function and a line in
`RULES`."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass

from zarvik.core.common.identity_cache import IdentityCache, IdentityCacheEach
from zarvik.core.common.sentences import Figure, Filling, Sentence, message
from zarvik.core.connections import row as r
from zarvik.core.connections.row import Row
from zarvik.core.fluid_lines.pressure_hoses import SERVES
from zarvik.core.joints.flanges import Pattern, bores_meet, easy_length, holes_match, plate
from zarvik.core.joints.gaskets import STUFFS, weakest_layer
from zarvik.core.joints.hose_joints import CLAMPS, ENGAGED, STRETCHED, end_force, margin
from zarvik.core.joints.threads import SEALS, THREADS, wall_needed
from zarvik.core.limits.limits import DRAIN, FAILS, MARGINAL, OK, TO_DO
from zarvik.core.materials.table import NAMES, value, values

_PRACTICE = "Common practice, no source"
# What a hose stands for long, K, by what it is of; and whether it stands oil in the air
STANDS = {key: (value(key, "stands"), oil > 0.0) for key, oil in values("oil_proof").items()}
REACHED = 0.5  # margin of a clamp over the end force that is wanted; common practice, no source
NEAR_BEND = 3.0  # bores behind a bend in which a sensor is told of swirl; common practice, no source


@dataclass(frozen=True)
class JointFinding:
    """What a rule says of a line (`key`): `rule`, `state`, the `text`, what to do (`cure`), how it is known (`basis`)."""

    key: str
    rule: str
    state: str
    text: Sentence
    cure: Sentence | None
    basis: str = _PRACTICE


Rule = Callable[[Row], Iterator[JointFinding]]


def _entry(row: Row, name: str, value: float) -> Figure:
    """A length that leads to its entry of the line."""
    return Figure(value, "length", f"=joints.{row.key}.{name}")


def _name(row: Row) -> dict[str, Filling]:
    return {"name": row.name, "where": row.where}


def unsafe_ports(row: Row) -> Iterator[JointFinding]:
    """A port that sees boost is decided; one that is kept for vacuum has a check valve."""
    if row.kind != r.PORT or row.side != r.BOOST:
        return
    if row.decision == r.UNDECIDED:
        yield JointFinding(
            row.key,
            "undecided",
            TO_DO,
            message("“{name}” on {where} will see boost and is undecided", **_name(row)),
            message("Plug, cap or weld it, or keep it with a check valve"),
        )
    elif row.decision == r.KEEP and row.served in VACUUM_USERS:
        yield JointFinding(
            row.key,
            "check_valve",
            FAILS,
            message(
                "“{name}” on {where} serves {served} and would send boost into it", served=message(VACUUM_USERS[row.served]), **_name(row)
            ),
            message("A check valve that opens towards the manifold; a brake booster keeps its own"),
        )


# What lives on vacuum and must not see boost
VACUUM_USERS = {
    "brake": "the brake booster",
    "breather": "the crankcase",
    "purge": "tank purge",
    "vacuum": "a vacuum reservoir",
    "heater": "heater flaps",
    "idle": "the idle valve",
}
SERVED = {
    "": "Unknown",
    "brake": "Brake booster",
    "breather": "Crankcase breather",
    "purge": "Tank purge",
    "regulator": "Fuel pressure regulator",
    "gauge": "Boost gauge or sensor",
    "idle": "Idle valve",
    "egr": "Exhaust gas recirculation",
    "vacuum": "Vacuum reservoir, cruise control",
    "heater": "Heater flaps",
    "runner": "Runner-switching valve",
    "injector": "Injector",
    "blow": "Blow-off signal",
    "gate": "Wastegate signal",
}


def brake_booster_supply(row: Row) -> Iterator[JointFinding]:
    """The brake booster keeps its supply: it is a safety air path."""
    if row.kind in (r.PORT, r.HOSE) and row.served == "brake" and row.shut:
        yield JointFinding(
            row.key,
            "brake",
            FAILS,
            message("“{name}” feeds the brake booster and is to be closed: the pedal would go hard", **_name(row)),
            message("Keep it with its check valve and a hose rated for hot vacuum; an inspector decides on brakes"),
        )


def breathing(row: Row) -> Iterator[JointFinding]:
    """A crankcase that cannot breathe pushes its oil out."""
    if row.kind in (r.PORT, r.HOSE) and row.served == "breather" and row.shut:
        yield JointFinding(
            row.key,
            "breather",
            MARGINAL,
            message("“{name}” is closed: the crankcase must breathe elsewhere", **_name(row)),
            message("A hose to the pipe before the compressor with a separator, or a vented catch can; venting is illegal on most roads"),
        )


def control_signals(row: Row) -> Iterator[JointFinding]:
    """What the engine's control may miss when it is gone."""
    if row.kind == r.PORT and row.served in ("idle", "runner", "egr", "purge") and row.shut and "tuner" not in row.note.lower():
        yield JointFinding(
            row.key,
            "tuner",
            TO_DO,
            message("“{name}” is closed: what controls its function now?", **_name(row)),
            message("Ask the tuner and note the answer with the word tuner; emission parts are regulated"),
        )


def threads(row: Row) -> Iterator[JointFinding]:
    """A thread finds enough wall, and a known one is said."""
    thread = THREADS.get(row.thread)
    if row.thread and thread is None:
        yield JointFinding(
            row.key,
            "thread",
            MARGINAL,
            message("“{name}”: unknown thread {thread}", thread=row.thread, **_name(row)),
            message("A thread from the list, or none"),
        )
    if thread is None or row.wall <= 0.0 or row.kind not in (r.PORT, r.BUNG, r.SENSOR):
        return
    needed = wall_needed(thread, row.material)
    if row.wall < needed - 1e-6:
        state = FAILS if row.wall < 0.5 * needed else MARGINAL
        yield JointFinding(
            key=row.key,
            rule="wall",
            state=state,
            text=message(
                "“{name}”: {thread} needs {needed} of metal; {where} has {wall}",
                thread=thread.title,
                needed=Figure(needed, "length"),
                wall=Figure(row.wall, "length"),
                **_name(row),
            ),
            cure=message("Weld on a boss {high} higher, or use a smaller thread", high=Figure(needed - row.wall, "length")),
            basis="Full threads: common practice; hand-tight length: ASME B1.20.1, ISO 7-1",
        )


def sealed(row: Row) -> Iterator[JointFinding]:
    """What seals a thread suits it, its heat, and what flows there."""
    if row.sealed not in SEALS or not row.sealed or row.kind == r.JOINT:
        return
    title, stands, flanks = SEALS[row.sealed]
    thread = THREADS.get(row.thread)
    if row.sealed in ("tape", "paste") and row.side in (r.OIL, r.FUEL):
        yield JointFinding(
            row.key,
            "shreds",
            FAILS,
            message(
                "“{name}” carries oil or fuel and is sealed with {what}: shreds can block a bearing or an injector",
                what=message(title),
                **_name(row),
            ),
            message("A cone, an O-ring or a washer; on a taper thread a little anaerobic sealant, not on the first turns"),
        )
    elif thread is not None and flanks and not thread.taper:
        yield JointFinding(
            row.key,
            "seal",
            MARGINAL,
            message(
                "“{name}”: {thread} is parallel and seals under its head, not with {what}",
                thread=thread.title,
                what=message(title),
                **_name(row),
            ),
            message("A washer or an O-ring on a flat face"),
        )
    elif thread is not None and thread.taper and row.sealed in ("oring", "washer"):
        yield JointFinding(
            row.key,
            "seal",
            MARGINAL,
            message(
                "“{name}”: {thread} is tapered and seals on its threads: a washer keeps it from seating", thread=thread.title, **_name(row)
            ),
            message("Tape or paste; no washer"),
        )
    if row.temperature > stands:
        yield JointFinding(
            row.key,
            "seal_heat",
            FAILS,
            message(
                "“{name}” reaches {heat}; {what} stands {stands}",
                heat=Figure(row.temperature, "temperature"),
                what=message(title),
                stands=Figure(stands, "temperature"),
                **_name(row),
            ),
            message("Dry with anti-seize on the exhaust; a copper washer up to 250 °C"),
        )


def swirl(row: Row) -> Iterator[JointFinding]:
    """A sensor of flow, or of what is mixed, stands away from a bend."""
    if row.kind not in (r.BUNG, r.SENSOR) or row.bore <= 0.0 or not row.behind < NEAR_BEND * row.bore:
        return
    yield JointFinding(
        row.key,
        "swirl",
        MARGINAL,
        message(
            "“{name}” sits {gap} behind a bend or throttle: pressure and temperature are uneven there",
            gap=Figure(row.behind, "length"),
            **_name(row),
        ),
        message("{far} further along a straight", far=Figure(NEAR_BEND * row.bore - row.behind, "length")),
    )


def clamp_holds(row: Row) -> Iterator[JointFinding]:
    """A hose joint holds against its end force."""
    if row.kind != r.JOINT or row.made != r.HOSED or row.pressure <= 0.0:
        return
    clamp = CLAMPS.get(row.clamp, CLAMPS["none"])
    left = margin(clamp, pressure=row.pressure, diameter=row.diameter, oily=row.oily or row.side == r.SUCTION, bead=row.bead)
    if left < REACHED:
        yield JointFinding(
            key=row.key,
            rule="end_force",
            state=FAILS if left < 0.0 else MARGINAL,
            text=message(
                "“{name}”: {force} separating force at {pressure}; {clamp} holds {share} of that",
                force=Figure(end_force(row.pressure, row.diameter), "force"),
                pressure=Figure(row.pressure, "pressure_gauge"),
                clamp=message(clamp.title),
                share=Figure(max(left + 1.0, 0.0), "ratio"),
                **_name(row),
            ),
            cure=message("A T-bolt clamp behind a bead, on a clean tube"),
            basis="Pressure times area against friction under the band (a rope round a drum)",
        )
    if not row.bead and row.pressure > 0.7e5:
        yield JointFinding(
            row.key,
            "bead",
            MARGINAL,
            message("“{name}” has no bead at {pressure}", pressure=Figure(row.pressure, "pressure_gauge"), **_name(row)),
            message("Roll a bead, or weld three short beads of wire around the end"),
        )


def hose_fits_tubes(row: Row) -> Iterator[JointFinding]:
    """A hose goes far enough over its tube, and is made for the two sizes that it joins."""
    if row.kind != r.JOINT or row.made != r.HOSED:
        return
    if 0.0 < row.engaged < ENGAGED - 1e-6:
        yield JointFinding(
            row.key,
            "engaged",
            FAILS if row.engaged < 0.5 * ENGAGED else MARGINAL,
            message("“{name}”: {on} of hose on the tube", on=_entry(row, "engaged", row.engaged), **_name(row)),
            message("At least {least}: clamp behind the bead, and the same again for the clamp", least=Figure(ENGAGED, "length")),
        )
    if row.meets > 0.0 and abs(row.meets - row.diameter) > STRETCHED:
        yield JointFinding(
            row.key,
            "coupler",
            MARGINAL,
            message(
                "“{name}”: outside diameters {one} and {other} in one hose",
                one=Figure(row.diameter, "length"),
                other=Figure(row.meets, "length"),
                **_name(row),
            ),
            message("A reducing coupler of these sizes, or a cone: a straight hose over the larger end slips and folds"),
        )


def hoses_in_heat(row: Row) -> Iterator[JointFinding]:
    """A hose stands its heat, and its oil."""
    if row.kind != r.HOSE and not (row.kind == r.JOINT and row.made == r.HOSED):
        return
    # A hose of no hose's material: the tube's was meant, and its coupler is silicone
    of = row.material if row.material in STANDS else "silicone"
    stands, oil = STANDS[of]
    if row.temperature > stands:
        yield JointFinding(
            row.key,
            "hose_heat",
            FAILS,
            message(
                "“{name}” reaches {gas}; {material} stands {stands}",
                gas=Figure(row.temperature, "temperature"),
                material=message(NAMES[of].in_a_sentence),
                stands=Figure(stands, "temperature"),
                **_name(row),
            ),
            message("Fluorinated or braided hose, or further from the heat"),
        )
    if row.oily and not oil and row.side in (r.OIL, r.SUCTION):
        yield JointFinding(
            row.key,
            "hose_oil",
            MARGINAL,
            message("“{name}” is plain silicone in oil: it swells and slips", **_name(row)),
            message("Fluorosilicone lining, or oil-resistant rubber"),
        )


def flanges_meet(row: Row) -> Iterator[JointFinding]:
    """Two flanges whose holes and bores were measured meet, or a plate goes between them."""
    one, other = row.one, row.other
    if row.kind != r.JOINT or one is None or other is None:
        return
    if not holes_match(one, other):
        yield _plate_between(row, one, other)
    elif not bores_meet(one, other):
        long = Figure(easy_length(one, other), "length")
        yield JointFinding(
            row.key,
            "bores",
            MARGINAL,
            message(
                "“{name}”: bolts match, bores do not: {one} into {other}",
                one=_entry(row, "bore", one.bore),
                other=_entry(row, "other_bore", other.bore),
                **_name(row),
            ),
            message("Blend the narrow bore over {long}", long=long)
            if other.bore < one.bore
            else message("A cone of {long}, or leave it: the loss of a widening step is listed", long=long),
        )


def _plate_between(row: Row, one: Pattern, other: Pattern) -> JointFinding:
    """What goes between two flanges whose holes do not meet."""
    found = plate(one, other, "steel" if row.side == r.EXHAUST else "aluminium", turned=row.turns)
    free = plate(one, other, "steel" if row.side == r.EXHAUST else "aluminium", turned=True)
    words = message(
        "“{name}”: {a} bolts {across} apart and {b} bolts {beside} apart do not match",
        a=str(one.count),
        b=str(other.count),
        across=_entry(row, "across", one.across),
        beside=_entry(row, "other_across", other.across),
        **_name(row),
    )
    if found.made:
        return JointFinding(
            key=row.key,
            rule="pattern",
            state=MARGINAL,
            text=words,
            cure=message(
                ("A {thick} plate: countersunk screws to the first part, threads for the second, {gap} of metal between; one more gasket"),
                thick=Figure(found.thick, "length"),
                gap=Figure(found.gap, "length"),
            ),
            basis="Thread lengths, countersunk heads: common practice; clearance holes: ISO 273; heads: ISO 4762",
        )
    if free.made:
        return JointFinding(
            row.key,
            "pattern",
            MARGINAL,
            words,
            message(
                "In one plate the holes overlap, unless the second part can be rotated by {turn}: then a {thick} plate",
                turn=Figure(free.turn, "angle"),
                thick=Figure(free.thick, "length"),
            ),
        )
    return JointFinding(
        row.key,
        "pattern",
        FAILS,
        words,
        message("No single plate fits both: two plates with a short pipe between, or weld up the holes and drill again"),
    )


def layered(row: Row) -> Iterator[JointFinding]:
    """What lies between two flanges stands their heat."""
    thin = weakest_layer(row.layers)
    if row.kind != r.JOINT or thin is None:
        return
    stuff = STUFFS[thin.stuff]
    if row.temperature > stuff.stands:
        yield JointFinding(
            row.key,
            "gasket_heat",
            FAILS,
            message(
                "“{name}”: {stuff} stands {stands}; the flange reaches {heat}",
                stuff=message(stuff.title),
                stands=Figure(stuff.stands, "temperature"),
                heat=Figure(row.temperature, "temperature"),
                **_name(row),
            ),
            message("Multi-layer steel on the hot side; on the cold side a phenolic spacer with a gasket on each face"),
        )
    settling = next((x for x in row.layers if STUFFS[x.stuff].settles), None)
    if settling is not None and row.state == r.TORQUED:
        yield JointFinding(
            row.key,
            "settles",
            TO_DO,
            message("“{name}”: {stuff} settles under its bolts", stuff=message(STUFFS[settling.stuff].title), **_name(row)),
            message("Retorque after the first heat, cold, then mark it tested"),
        )


def signal_hose_bore(row: Row) -> Iterator[JointFinding]:
    """A hose is as wide as what it serves wants."""
    least = SERVES.get(row.served, (0.0, 0.0))[1]
    if row.kind == r.HOSE and 0.0 < row.bore < least - 1e-6:
        yield JointFinding(
            row.key,
            "signal",
            MARGINAL,
            message(
                "“{name}” has {bore}; {served} needs {least}",
                bore=_entry(row, "bore", row.bore),
                least=Figure(least, "length"),
                served=message(SERVED[row.served]),
                **_name(row),
            ),
            message("A {least} hose, as short as possible", least=Figure(least, "length")),
        )


def draining(row: Row) -> Iterator[JointFinding]:
    """An oil drain leaves the turbo nearly straight down."""
    if row.kind != r.LINE or not row.key.endswith("oil_out"):
        return
    off = abs(math.remainder(row.clock, 2.0 * math.pi))
    if DRAIN.state(off) != OK:
        yield JointFinding(
            row.key,
            "drain_turn",
            DRAIN.state(off),
            message(
                "“{name}” leaves {off} from straight down: oil backs up in the centre section and passes the seals",
                off=Figure(off, "angle"),
                **_name(row),
            ),
            message("Rotate the centre section until the drain is within {good} of straight down", good=Figure(DRAIN.good, "angle")),
        )


def piece_is_gone(row: Row) -> Iterator[JointFinding]:
    """A line whose piece is gone is kept and told."""
    if row.lost:
        yield JointFinding(
            row.key,
            "lost",
            MARGINAL,
            message("“{name}” was on a piece that was removed: the line is kept", **_name(row)),
            message("Put it on another piece, or remove the line"),
        )


RULES: tuple[Rule, ...] = (
    unsafe_ports,
    brake_booster_supply,
    breathing,
    control_signals,
    threads,
    sealed,
    swirl,
    clamp_holds,
    hose_fits_tubes,
    hoses_in_heat,
    flanges_meet,
    layered,
    signal_hose_bore,
    draining,
    piece_is_gone,
)


_FOUND: IdentityCache[tuple[JointFinding, ...]] = IdentityCache()
_FOUND_OF: IdentityCacheEach[Row, tuple[JointFinding, ...]] = IdentityCacheEach()


def _of_row(row: Row) -> tuple[JointFinding, ...]:
    return tuple(f for rule in RULES for f in rule(row))


def findings(rows: Iterable[Row]) -> tuple[JointFinding, ...]:
    """Everything that the rules say of these lines, worst first, in their order; kept for as long as they are the same lines: bands and
    tried cures ask dozens of times."""
    lines = tuple(rows)
    return _FOUND.of(lines, lambda: _findings(lines))


def _findings(rows: tuple[Row, ...]) -> tuple[JointFinding, ...]:
    order = {FAILS: 0, MARGINAL: 1, TO_DO: 2, OK: 3}
    # Lines of the design are made anew with every design that is tried; those that a hand wrote stay the same
    found = [f for row in rows for f in (_FOUND_OF.of(row, _of_row) if row.by_hand else _of_row(row))]
    return tuple(sorted(found, key=lambda f: order[f.state]))


def may_torque(rows: Sequence[Row], key: str) -> Sentence | None:
    """Why a joint should not be torqued yet, None where nothing stands against it: loose first, tight last — all joints of the same
    run are in place, by hand, before the first is tight."""
    row = next((x for x in rows if x.key == key), None)
    if row is None or row.kind != r.JOINT or row.made == r.WELDED:
        return None
    others = [x for x in rows if x.kind == r.JOINT and x.made != r.WELDED and x.side == row.side and x.key != key and not x.lost]
    waiting = [x for x in others if x.state in (r.OPEN, r.REOPENED)]
    if not waiting:
        return None
    return message(
        "Not fitted yet on the same side: {count}, “{name}” among them. Hand tight first, then torque",
        count=str(len(waiting)),
        name=waiting[0].name,
    )


BEFORE_TURBINE = ("engine__exhaust", "manifold__", "primaries__", "sensor__egt")
BEHIND_TURBINE = 0.35  # of what a leak before the turbine matters: noise, and a lambda probe that reads lean; common practice, no source


def before_turbine(row: Row) -> bool:
    """Does a line of the exhaust stand before the turbine, where a leak costs boost?"""
    part, _, end = row.key.partition("__")
    return row.side == r.EXHAUST and (
        row.key.startswith(BEFORE_TURBINE) or (part.startswith("turbo") and end == "hot_in") or (part.startswith("gate") and end == "in")
    )


def exhaust_risk(row: Row) -> float:
    """How much a line of the exhaust is worth a look for leaks, 0 to 1: by its state, by what it is, and by where it stands. Welds and
    gaskets of a manifold open with the heat whoever tightened them. Common practice, no source."""
    if row.side != r.EXHAUST or row.kind not in (r.JOINT, r.SENSOR, r.BUNG):
        return 0.0
    base = _BY_STATE[row.state]
    if row.kind == r.JOINT and row.made in (r.WELDED, r.FLANGED):
        base = max(base, 0.4)
    weight = 0.5 if row.kind != r.JOINT else {r.WELDED: 0.6, r.FLANGED: 0.9}.get(row.made, 0.8)
    return base * weight * (1.0 if before_turbine(row) else BEHIND_TURBINE)


_BY_STATE = {r.OPEN: 1.0, r.REOPENED: 0.9, r.DRY: 0.8, r.HAND: 0.7, r.TORQUED: 0.25, r.TESTED: 0.05}


def risk(row: Row) -> float:
    """How likely a line of the boost side leaks, 0 to 1, by its state and by what it is: where to look first. Common practice, no
    source."""
    if row.shut and row.decision in (r.WELD, r.BLEND):
        base = 0.1
    else:
        base = _BY_STATE[row.state]
    if row.kind == r.PORT and row.decision == r.UNDECIDED:
        base = 1.0
    weight = {r.PORT: 1.0, r.JOINT: 0.8, r.BUNG: 0.6, r.SENSOR: 0.5, r.HOSE: 0.7, r.LINE: 0.4}[row.kind]
    if row.kind == r.JOINT and row.made == r.WELDED:
        weight = 0.35
    return base * weight if row.side == r.BOOST else 0.0

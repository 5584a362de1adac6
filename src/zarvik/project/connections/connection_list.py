"""The connection list of a document: every port, bung, joint, hose, line and sensor, made from the design, with what its builder said of
it."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator

from zarvik.core.common.identity_cache import IdentityCache, IdentityCacheEach
from zarvik.core.connections import row as r
from zarvik.core.connections.row import Row
from zarvik.core.joints.flanges import AdapterPlate, Pattern, holes_match, plate
from zarvik.core.joints.gaskets import GasketLayer
from zarvik.core.layout.bodies import drain_tilt
from zarvik.core.stock.sizes import WALL
from zarvik.project.document.document import Project
from zarvik.project.document.naming import numbered
from zarvik.project.document.parts.connections import SCREWS, ConnectionNote
from zarvik.project.document.parts.piece import Piece
from zarvik.project.document.places import RUNS, run_title
from zarvik.project.language.language import tr, tr_format
from zarvik.project.layout.layout import has_cast_manifold, layout, si, space_of

SIDE_OF = {"intake": r.SUCTION, "hot_pipe": r.BOOST, "cold_pipe": r.BOOST, "manifold": r.EXHAUST, "exhaust": r.EXHAUST}
HOT_GAS = {"intake": 320.0, "hot_pipe": 430.0, "cold_pipe": 350.0, "manifold": 1150.0, "exhaust": 1000.0}
OWN = "__"  # in the key of a line that the design makes
SOFT = ("silicone", "printed")
# Ports that common intake manifolds have, no maker's: key, title, what it served, bore in mm, thread; common practice, no source
TEMPLATES: dict[str, tuple[str, tuple[tuple[str, str, float, str], ...]]] = {
    "four": (
        "Inline four, port injection",
        (
            ("Brake booster", "brake", 10.0, ""),
            ("Crankcase breather", "breather", 9.0, ""),
            ("Tank purge", "purge", 6.0, ""),
            ("Fuel pressure regulator", "regulator", 4.0, ""),
            ("Pressure sensor", "gauge", 4.0, ""),
            ("Idle valve inlet", "idle", 19.0, ""),
            ("Idle valve outlet", "idle", 19.0, ""),
            ("Exhaust gas recirculation", "egr", 16.0, ""),
            ("Vacuum reservoir", "vacuum", 4.0, ""),
            ("Heater flaps", "heater", 4.0, ""),
            ("Blow-off signal", "blow", 5.0, ""),
            ("Air temperature sensor", "gauge", 12.0, "M12×1.5"),
        ),
    ),
    "vee": (
        "V engine, two plenums",
        (
            ("Brake booster", "brake", 11.0, ""),
            ("Breather, left", "breather", 12.0, ""),
            ("Breather, right", "breather", 12.0, ""),
            ("Tank purge", "purge", 6.0, ""),
            ("Fuel pressure regulator", "regulator", 4.0, ""),
            ("Pressure sensor", "gauge", 4.0, ""),
            ("Runner-switching valve", "runner", 8.0, ""),
            ("Exhaust gas recirculation", "egr", 19.0, ""),
            ("Cruise control", "vacuum", 4.0, ""),
            ("Heater flaps", "heater", 4.0, ""),
            ("Air temperature sensor", "gauge", 12.0, "3/8 NPT"),
            ("Spare plug", "", 9.0, "1/8 NPT"),
        ),
    ),
    "diesel": (
        "Diesel, no throttle",
        (
            ("Boost sensor", "gauge", 5.0, ""),
            ("Air temperature sensor", "gauge", 12.0, "M12×1.5"),
            ("Exhaust gas recirculation", "egr", 28.0, ""),
            ("Pump boost line", "gauge", 5.0, ""),
            ("Swirl flap shaft", "runner", 8.0, ""),
            ("Spare plug", "", 9.0, "1/8 NPT"),
        ),
    ),
}


_ROWS: IdentityCache[tuple[Row, ...]] = IdentityCache()
_NOTED: IdentityCacheEach[ConnectionNote, dict[float, Row]] = IdentityCacheEach()


def connections_of(project: Project) -> tuple[Row, ...]:
    """Every line: those of the design in the order of the flow, then those that were written by hand; those whose piece is gone are
    marked."""
    parts = (
        project.joints,
        project.turbos_fitted,
        project.intercooler,
        project.wastegate,
        project.blower,
        project.engine,
        project.goal.big_run_boost,
        project.goal.target_boost,
        project.layout.fabrication,
        project.fittings,
        project.primaries,
        *(getattr(project, run) for run in RUNS),
    )
    return _ROWS.of(parts, lambda: tuple(_lines(project)))


def _lines(project: Project) -> Iterator[Row]:
    said = {n.id: n for n in project.joints}
    seen = set()
    made = list(_made(project))
    for row in made:
        seen.add(row.key)
        yield _with(row, said.get(row.key))
    pieces = {p.id: (run, p) for run in RUNS for p in getattr(project, run)}
    for noted in project.joints:
        if noted.id in seen:
            continue
        if noted.piece:
            yield _by_hand(project, noted, pieces)
        else:
            yield _on_no_piece(project, noted)


def _on_no_piece(project: Project, noted: ConnectionNote) -> Row:
    """Such a line depends on itself and the boost alone, whatever else bands and tried cures change dozens of times."""
    made = _NOTED.of(noted, lambda _: {})
    boost = most_boost(project)
    if boost not in made:
        if len(made) > 3:
            made.clear()
        made[boost] = _by_hand(project, noted, {})
    return made[boost]


def _with(row: Row, noted: ConnectionNote | None) -> Row:
    """A line of the design with what was said of it."""
    if noted is None:
        return row
    changed: dict[str, object] = {
        "state": noted.state,
        "decision": noted.decision,
        "torque": noted.torque.si,
        "measured": noted.measured,
        "note": noted.note,
        "said": True,
    }
    for name in ("made", "clamp", "material", "name", "served", "thread", "sealed"):
        if value := getattr(noted, name):
            changed[name] = value
    for name in ("bead", "oily"):
        if value := getattr(noted, name):
            changed[name] = value == "yes"
    for name in ("bore", "wall", "at", "clock", "engaged"):
        if value := getattr(noted, name).si:
            changed[name] = value
    if noted.kind == r.JOINT:
        changed |= _face(noted, float(changed.get("bore", row.bore)))  # type: ignore[arg-type]
    return dataclasses.replace(row, **changed)  # type: ignore[arg-type]


def _face(noted: ConnectionNote, bore: float) -> dict[str, object]:
    """What was measured of two flanges (the one before of a `bore` m): their bolts, and what lies between them."""
    one = Pattern(int(noted.bolts.si), noted.across.si, noted.up.si, SCREWS[noted.screw], bore)
    other = Pattern(int(noted.other_bolts.si), noted.other_across.si, noted.other_up.si, SCREWS[noted.other_screw], noted.other_bore.si)
    layers = tuple(
        GasketLayer(stuff, thick.si)
        for stuff, thick in ((noted.layer_1, noted.thick_1), (noted.layer_2, noted.thick_2), (noted.layer_3, noted.thick_3))
        if stuff and thick.si > 0.0
    )
    return {
        "one": one if one.said else None,
        "other": other if other.said else None,
        "layers": layers,
        "face": noted.face.si,
        "turns": noted.turns == "yes",
    }


def _by_hand(project: Project, noted: ConnectionNote, pieces: dict[str, tuple[str, Piece]]) -> Row:
    run, piece = pieces.get(noted.piece, ("", None))
    automatic = OWN in noted.id
    where = noted.where
    side, wall, material = noted.side, noted.wall.si, noted.material
    if piece is not None:
        where = where or numbered(getattr(project, run), piece)
        side = SIDE_OF[run]
        material = material or getattr(piece, "material", "")
        wall = wall or (project.fittings.exhaust_wall.si if side == r.EXHAUST else WALL)
    behind = _behind(project, run, piece, noted.at.si) if piece is not None else math.inf
    bore = noted.bore.si or (si(piece, "bore") if piece is not None and noted.kind == r.SENSOR else 0.0)
    lost = (bool(noted.piece) and piece is None) or automatic
    face = _face(noted, bore) if noted.kind == r.JOINT else {}
    return Row(
        noted.id,
        noted.kind,
        noted.name or tr(r.KINDS[noted.kind]),
        where or tr("Engine"),
        side,
        noted.piece,
        noted.made,
        bore,
        bore,
        wall,
        material,
        noted.thread,
        noted.served,
        noted.at.si,
        noted.clock.si,
        noted.decision,
        noted.state,
        noted.clamp or "tbolt",
        noted.bead != "no",
        noted.oily == "yes",
        noted.torque.si,
        pressure=most_boost(project) if side == r.BOOST else 0.0,
        temperature=HOT_GAS.get(run, 360.0),
        measured=noted.measured,
        note=noted.note,
        behind=behind,
        by_hand=True,
        lost=lost,
        said=True,
        sealed=noted.sealed,
        **face,  # type: ignore[arg-type]
    )


def plate_of(row: Row) -> AdapterPlate | None:
    """The plate that has to go between the two flanges of a line; None where their bolts meet, or nobody measured both."""
    if row.kind != r.JOINT or row.lost or row.one is None or row.other is None or holes_match(row.one, row.other):
        return None
    return plate(row.one, row.other, "steel" if row.side == r.EXHAUST else "aluminium", turned=row.turns)


def _behind(project: Project, run: str, piece: Piece, at: float) -> float:
    """How far behind the last bend or throttle a place on a piece is, m; inf where there is none before it."""
    so_far = 0.0
    found = math.inf
    for other in getattr(project, run):
        if other.id == piece.id:
            return at + so_far if found == 0.0 else math.inf
        if other.kind in ("bend", "mitre", "crush", "throttle", "tee"):
            found, so_far = 0.0, 0.0
        else:
            so_far += si(other, "length") + si(other, "gap")
    return math.inf


def most_boost(project: Project) -> float:
    """Pa gauge that joints must stand: of the big run."""
    return max(project.goal.big_run_boost.si, project.goal.target_boost.si)


def _made(project: Project) -> Iterator[Row]:
    """The lines that the design makes: ends, flanges, lines, sensors, hoses."""
    boost = most_boost(project)
    yield from _run_joints(project, "intake")
    if project.blower.fitted or project.chosen is not None:
        charger = "Blower" if project.blower.fitted else "Turbo"
        yield _flange(
            "charger__inlet",
            tr("Blower inlet") if project.blower.fitted else tr("Compressor inlet"),
            r.HOSED,
            r.SUCTION,
            _end(project, "intake", -1),
            0.0,
            320.0,
            charger,
        )
        yield _flange(
            "charger__outlet",
            tr("Blower outlet") if project.blower.fitted else tr("Compressor outlet"),
            r.HOSED,
            r.BOOST,
            _end(project, "hot_pipe", 0),
            boost,
            440.0,
            charger,
        )
    yield from _run_joints(project, "hot_pipe")
    if project.intercooler.fitted:
        yield _flange("cooler__in", tr("Intercooler inlet"), r.HOSED, r.BOOST, _end(project, "hot_pipe", -1), boost, 430.0)
        yield _flange("cooler__out", tr("Intercooler outlet"), r.HOSED, r.BOOST, _end(project, "cold_pipe", 0), boost, 350.0)
    yield from _run_joints(project, "cold_pipe")
    butterfly = next((p for p in reversed(project.cold_pipe) if p.kind == "throttle"), None)
    if butterfly is not None:
        yield _flange("engine__throttle", tr("Throttle on the plenum"), r.FLANGED, r.BOOST, si(butterfly, "bore"), boost, 350.0)
    yield _flange("engine__intake", tr("Intake manifold on the head"), r.FLANGED, r.BOOST, 0.0, boost, 350.0)
    if not has_cast_manifold(project):
        yield Row("manifold__welds", r.JOINT, tr("Manifold welds"), tr("Manifold"), r.EXHAUST, made=r.WELDED, temperature=1150.0)
    yield _flange("engine__exhaust", tr("Exhaust manifold on the head"), r.FLANGED, r.EXHAUST, 0.0, 0.0, 1150.0)
    if not has_cast_manifold(project):
        yield from _run_joints(project, "manifold")
    if not project.blower.fitted:
        for number in range(1, int(project.turbos_fitted.si) + 1):
            yield from _turbo(project, number)
        yield from _gate(project, boost)
    yield from _run_joints(project, "exhaust")
    yield from _engine(boost)


def _turbo(project: Project, number: int) -> Iterator[Row]:
    """Flanges and lines of one turbo, by its number."""
    many = int(project.turbos_fitted.si) > 1
    tail, key = (f" {number}", f"turbo{number}") if many else ("", "turbo")
    yield _flange(f"{key}__hot_in", tr("Turbine flange") + tail, r.FLANGED, r.EXHAUST, _end(project, "manifold", -1), 0.0, 1150.0)
    yield _flange(f"{key}__hot_out", tr("Turbine outlet") + tail, r.BANDED, r.EXHAUST, _end(project, "exhaust", 0), 0.0, 1000.0)
    lines: tuple[tuple[str, str, str, float, str, bool, float, float], ...] = (
        ("oil_in", tr("Oil feed"), r.OIL, 0.004, "braided", True, 393.0, 0.0),
        ("oil_out", tr("Oil drain"), r.OIL, 0.016, "rubber", True, 393.0, _drain_turn(project, number)),
        ("water", tr("Turbo coolant"), r.WATER, 0.008, "rubber", False, 378.0, 0.0),
    )
    for end, title, side, bore, material, oily, temperature, clock in lines:
        yield Row(
            f"{key}__{end}",
            r.LINE,
            title + tail,
            tr("Turbo"),
            side,
            bore=bore,
            material=material,
            oily=oily,
            temperature=temperature,
            clock=clock,
        )


def _engine(boost: float) -> Iterator[Row]:
    """Fuel, breather and sensors of an engine, with the most `boost` in Pa gauge."""
    yield Row("engine__fuel", r.LINE, tr("Fuel feed"), tr("Engine"), r.FUEL, bore=0.008, material="braided", temperature=333.0)
    yield Row(
        "engine__breather",
        r.HOSE,
        tr("Crankcase breather"),
        tr("Engine"),
        r.SUCTION,
        served="breather",
        bore=0.016,
        material="rubber",
        oily=True,
        temperature=373.0,
    )
    for key, title, thread, where, side in (
        ("sensor__lambda", tr("Lambda probe"), "M18×1.5", tr("Exhaust"), r.EXHAUST),
        ("sensor__egt", tr("Exhaust gas temperature"), "1/8 NPT", tr("Manifold"), r.EXHAUST),
        ("sensor__iat", tr("Charge temperature"), "M12×1.5", tr("Cold charge pipe"), r.BOOST),
        ("sensor__map", tr("Boost sensor"), "1/8 NPT", tr("Plenum"), r.BOOST),
    ):
        yield Row(
            key,
            r.SENSOR,
            title,
            where,
            side,
            thread=thread,
            pressure=boost if side == r.BOOST else 0.0,
            temperature=700.0 if side == r.EXHAUST else 360.0,
        )


def _drain_turn(project: Project, number: int) -> float:
    """How far the drain of a turbo (from 1) is from straight down where things stand, rad; 0 while nobody has measured where it stands."""
    if not space_of(project).turbo.measured:
        return 0.0
    bodies = layout(project).turbos
    return drain_tilt(bodies[number - 1])[0] if number <= len(bodies) else 0.0


def _gate(project: Project, boost: float) -> Iterator[Row]:
    gate = project.wastegate
    if gate.diameter.si <= 0.0 or project.blower.fitted:
        return
    if gate.kind == "outside":
        for number in range(1, int(gate.count.si) + 1):
            tail = f" {number}" if gate.count.si > 1.0 else ""
            yield _flange(
                f"gate{tail.strip()}__in",
                tr("Wastegate on its branch") + tail,
                r.BANDED,
                r.EXHAUST,
                gate.branch_bore.si or gate.diameter.si,
                0.0,
                1150.0,
            )
            yield _flange(
                f"gate{tail.strip()}__out",
                tr("Wastegate pipe") + tail,
                r.BANDED,
                r.EXHAUST,
                gate.return_bore.si or gate.diameter.si,
                0.0,
                1100.0,
            )
    names = {"none": ("A",), "three": ("A", "B", "C"), "four": ("A", "B", "C", "D")}[gate.control]
    for letter in names:
        yield Row(
            f"hose__{letter}",
            r.HOSE,
            tr_format("Wastegate hose {0}", letter),
            tr("Wastegate"),
            r.BOOST,
            served="gate",
            bore=gate.hose_bore.si,
            material="silicone",
            pressure=boost,
            temperature=420.0,
        )
    if gate.blow_off.si > 0.0:
        yield _flange("blow__flange", tr("Blow-off valve on the pipe"), r.BANDED, r.BOOST, gate.blow_off.si, boost, 360.0)
        yield Row(
            "blow__signal",
            r.HOSE,
            tr("Blow-off signal"),
            tr("Plenum"),
            r.BOOST,
            served="blow",
            bore=0.005,
            material="silicone",
            pressure=boost,
            temperature=360.0,
        )


_PLACES = {
    "turbo": "Turbo",
    "cooler": "Intercooler",
    "engine": "Engine",
    "gate": "Wastegate",
    "blow": "Cold charge pipe",
}  # by the key of a line


def _flange(key: str, name: str, made: str, side: str, diameter: float, pressure: float, temperature: float, place: str = "") -> Row:
    return Row(
        key,
        r.JOINT,
        name,
        tr(place or _PLACES[key.partition("__")[0].rstrip("0123456789 ")]),
        side,
        made=made,
        diameter=diameter,
        bore=diameter,
        material="silicone" if made == r.HOSED else "",
        pressure=pressure,
        temperature=temperature,
    )


def _end(project: Project, run: str, index: int) -> float:
    """Outside of the tube at an end of a run, m; 0 where it is empty."""
    pieces = [p for p in getattr(project, run) if p.kind not in ("entry", "mouth")]
    if not pieces:
        return 0.0
    piece = pieces[index]
    bore = (si(piece, "bore_out") if index else si(piece, "bore_in")) or si(piece, "bore") or si(piece, "bore_out")
    return bore + 2.0 * WALL


def _run_joints(project: Project, run: str) -> Iterator[Row]:
    """The joints between neighbours of a run; a hose has two ends."""
    pieces = [p for p in getattr(project, run) if p.kind not in ("entry", "mouth", "step", "primaries")]
    side, title = SIDE_OF[run], run_title(project, run)
    pressure = most_boost(project) if side == r.BOOST else 0.0
    every = getattr(project, run)
    for number, piece in enumerate(pieces):
        after = pieces[number + 1] if number + 1 < len(pieces) else None
        kind = {"where": title, "side": side, "piece": piece.id, "pressure": pressure, "temperature": HOT_GAS[run]}
        before = si(piece, "bore_out") or si(piece, "bore")
        size = {"diameter": before + 2.0 * WALL, "bore": before}
        if piece.kind == "joint":
            # The outer ends of a run are those of what it meets, which has a line of its own.
            first = pieces[number - 1] if number else None
            ends = [
                (si(p, name) or si(p, "bore") or before) if p is not None else before
                for p, name in ((first, "bore_out"), (after, "bore_in"))
            ]
            for end, there, own, far in (("in", first is not None, ends[0], ends[1]), ("out", after is not None, ends[1], ends[0])):
                if there:
                    way = tr("in") if end == "in" else tr("out")
                    yield Row(
                        f"{run}__{piece.id}__{end}",
                        r.JOINT,
                        f"{numbered(every, piece)}, {way}",
                        made=r.HOSED,
                        material="silicone",
                        diameter=own + 2.0 * WALL,
                        bore=own,
                        meets=_other(own, far),
                        **kind,
                    )
            continue
        if after is None or after.kind == "joint":
            continue
        soft = any(getattr(p, "material", "") in SOFT for p in (piece, after))
        plain = all(p.kind in ("straight", "bend", "mitre", "reducer", "crush", "collector", "tee") for p in (piece, after))
        made = r.HOSED if soft else r.WELDED if plain else r.FLANGED if side == r.EXHAUST else r.HOSED
        yield Row(
            f"{run}__{piece.id}__{after.id}",
            r.JOINT,
            f"{numbered(every, piece)} – {numbered(every, after)}",
            made=made,
            material="silicone" if made == r.HOSED else getattr(piece, "material", ""),
            meets=_other(before, si(after, "bore_in") or si(after, "bore")) if made == r.HOSED else 0.0,
            **kind,
            **size,  # type: ignore[arg-type]
        )


def _other(own: float, far: float) -> float:
    """Outside m of the other end of a hose, 0 where it is the same size."""
    return far + 2.0 * WALL if far > 0.0 and abs(far - own) > 1e-6 else 0.0

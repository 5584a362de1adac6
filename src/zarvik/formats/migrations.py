"""Older project files: one pure function a version, from the document of that version to the next one."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from zarvik.formats import kept_designs

Step = Callable[[dict[str, Any]], dict[str, Any]]


def in_variants(tree: dict[str, Any], step: Step) -> dict[str, Any]:
    """A `tree` whose variants have gone through a `step` too: each is a document of its own."""
    variants = tree.get("variants")
    if not isinstance(variants, list):
        return tree
    moved = [{**v, "design": step(v["design"])} if isinstance(v, dict) and isinstance(v.get("design"), dict) else v for v in variants]
    return {**tree, "variants": moved}


def _hot_side(tree: dict[str, Any]) -> dict[str, Any]:
    """Version 2 has the hot side: what a version 1 file cannot say takes the defaults, with a
    plain manifold and exhaust, and the boost is held back as the old file asked for it."""
    tree = dict(tree, schema_version=2)
    brief = tree.get("brief")
    if isinstance(brief, dict) and "full_boost_from" in brief:
        tree["brief"] = {"hold_back_until": brief["full_boost_from"], **brief}
    steel = {"material": "stainless"}
    tree.setdefault(
        "manifold",
        [
            {"id": "primaries", "kind": "primaries", "name": "Primaries", **steel},
            {"id": "collector", "kind": "collector", "name": "Collector", **steel},
        ],
    )
    tree.setdefault(
        "exhaust",
        [
            {"id": "downpipe", "kind": "straight", "name": "Downpipe", "bore": "70 mm", "length": "1000 mm", **steel},
            {"id": "tail", "kind": "straight", "name": "Tail pipe", "bore": "70 mm", "length": "2000 mm", **steel},
            {"id": "outlet", "kind": "mouth", "name": "Into the open", "bore": "70 mm"},
        ],
    )
    return tree


def _typed_ignition(tree: dict[str, Any]) -> dict[str, Any]:
    """Version 3 lets the fuel say how late the ignition is; a file that has a figure keeps it."""
    tree = _plain_keys(dict(tree, schema_version=3))
    engine = tree.get("engine")
    if isinstance(engine, dict) and "retard" in engine and "ignition" not in engine:
        tree["engine"] = {**engine, "ignition": "typed"}
    return in_variants(tree, _typed_ignition)


def _plain_keys(tree: dict[str, Any]) -> dict[str, Any]:
    """Keys of pieces and turbos are addresses: what cannot stand in one becomes a hyphen."""

    def plain(node: Any) -> Any:
        if isinstance(node, dict) and isinstance(node.get("id"), str):
            return {**node, "id": re.sub(r"[^\w-]", "-", node["id"]) or "x"}
        return node

    found = dict(tree)
    for room in ("intake", "hot_pipe", "cold_pipe", "manifold", "exhaust", "turbos"):
        if isinstance(tree.get(room), list):
            found[room] = [plain(item) for item in tree[room]]
    if isinstance(tree.get("turbo"), str):
        found["turbo"] = re.sub(r"[^\w-]", "-", tree["turbo"])
    return found


# What an entry that a version 3 file does not have stood for: it was taken for said.
_STOOD = {
    "brief": {"altitude": "0 m", "humidity": "50 %", "road_speed": "80 km/h"},
    "engine": {
        "compression": "9.6",
        "best_breathing": "95 %",
        "best_breathing_speed": "4600 rpm",
        "full_load_lambda": "0.82",
        "evaporated": "0 %",
    },
    "cooler": {"effectiveness": "75 %", "drop": "7 kPa", "capture": "35 %", "trust": "80 %", "water_flow": "0.35 kg/s", "front": "70 %"},
    "gate": {"discharge": "70 %"},
    "bay": {"temperature": "60 °C", "breeze": "5 m/s"},
    "blower": {"volumetric": "93 %", "adiabatic": "66 %"},
}
_STOOD_TURBINE = {"wheel": "62 mm", "exducer": "53 mm", "housing": "17 mm", "efficiency": "68 %", "pulse": "1.04"}


def _usual_said(tree: dict[str, Any]) -> dict[str, Any]:
    """Version 4 knows what nobody knows: what a version 3 file leaves out keeps the number that it
    stood for."""
    tree = dict(tree, schema_version=4)
    for room, stood in _STOOD.items():
        part = tree.get(room, {})
        if isinstance(part, dict):
            tree[room] = {**stood, **part}
    if isinstance(tree.get("turbos"), list):
        tree["turbos"] = [
            {**t, "turbine": {**_STOOD_TURBINE, **t.get("turbine", {})}}
            if isinstance(t, dict) and isinstance(t.get("turbine", {}), dict)
            else t
            for t in tree["turbos"]
        ]
    return in_variants(tree, _usual_said)


def _pulses(tree: dict[str, Any]) -> dict[str, Any]:
    """Version 5 works the pulses out of engine and manifold; a version 4 file has one factor for them. One that said
    steady gas (1 or less, and not guessed) still does."""
    tree = dict(tree, schema_version=5)

    def turbine(old: Any) -> Any:
        if not isinstance(old, dict) or "pulse" not in old:
            return old
        new = {k: v for k, v in old.items() if k != "pulse"}
        try:
            steady = float(str(old["pulse"])) <= 1.0
        except ValueError:
            steady = False
        return {**new, "pulses": "0 %"} if steady else new

    if isinstance(tree.get("turbos"), list):
        tree["turbos"] = [{**t, "turbine": turbine(t["turbine"])} if isinstance(t, dict) and "turbine" in t else t for t in tree["turbos"]]
    return in_variants(tree, _pulses)


def _sold_springs(tree: dict[str, Any]) -> dict[str, Any]:
    """Version 6 reads a spring as the boost that it is sold for; a file that said its opening pressure on the bench keeps it. A bend
    in stock had no length in some files before; now what has none says none."""
    tree = dict(tree, schema_version=6)
    if isinstance(tree.get("stock"), list):
        tree["stock"] = [
            {k: v for k, v in line.items() if not (k == "long" and str(v).startswith("0 "))} if isinstance(line, dict) else line
            for line in tree["stock"]
        ]
    gate = tree.get("gate")
    if isinstance(gate, dict) and "sold" not in gate:
        tree["gate"] = {**gate, "sold": "bench"}
    return in_variants(tree, _sold_springs)


def _said_blower(tree: dict[str, Any]) -> dict[str, Any]:
    """A blower whose size a file leaves out was one of 450 cm³; since version 7 it is one for the engine."""
    blower = tree.get("blower")
    return {**tree, "blower": {"displacement": "450 cm³", **blower}} if isinstance(blower, dict) else tree


def _what_differs(tree: dict[str, Any]) -> dict[str, Any]:
    """Version 7 says of a kept design what differs from the document, where a version 6 file repeats the whole design."""
    tree = in_variants(_said_blower(dict(tree, schema_version=7)), _said_blower)
    never = {*kept_designs.NEVER, "taken"}
    base = {key: item for key, item in tree.items() if key not in never}
    for room in ("variants", "taken"):
        if isinstance(tree.get(room), list):
            tree[room] = [
                {
                    **{k: v for k, v in part.items() if k != "design"},
                    "differs": kept_designs.differs(base, {k: v for k, v in part["design"].items() if k not in never}),
                }
                if isinstance(part, dict) and isinstance(part.get("design"), dict)
                else part
                for part in tree[room]
            ]
    return tree


# Keys before version 8, by the rooms of the document, and what each is called since
FORMER_KEYS: dict[str, Any] = {
    "lines": {
        "grade": "oil_grade",
        "oil": "oil_pressure",
        "heat": "oil_temperature",
        "restrictor": "restrictor_bore",
        "restrictor_long": "restrictor_length",
        "drain": "drain_bore",
        "fall": "drain_slope",
        "ends": "drain_outlet",
        "rated": "injector_flow",
        "rated_at": "injector_pressure",
        "base": "fuel_pressure",
        "follows": "regulator_reference",
        "pump": "pump_flow",
        "pump_at": "pump_pressure",
        "line": "fuel_line_bore",
    },
    "radiator": {
        "wide": "width",
        "high": "height",
        "thick": "thickness",
        "stands": "mounting",
        "opening": "grille_opening",
        "fan": "fan_flow",
        "cooler": "intercooler_position",
        "water": "coolant_flow",
    },
    "breather": {"rings": "ring_condition", "measured": "blow_by", "long": "length", "end": "outlet"},
    "coolant": {"water": "connection", "long": "length", "rise": "return_height"},
    "rail": {"seat": "seat_bore", "deep": "seat_depth", "outside": "outside_size"},
    "runners": {"long": "length", "short": "short_length"},
    "meter": {"most": "max_reading", "before": "straight_before", "behind": "straight_after", "housing": "new_bore"},
    "ports": {
        "runner_wide": "runner_width",
        "runner_high": "runner_height",
        "gasket_wide": "gasket_width",
        "gasket_high": "gasket_height",
        "port_wide": "port_width",
        "port_high": "port_height",
        "aside": "offset_sideways",
        "up": "offset_up",
        "valve": "valve_diameter",
        "lift": "valve_lift",
    },
    "fittings": {
        "probe": "probe_diameter",
        "depth": "probe_depth",
        "carried": "turbo_support",
        "wall": "exhaust_wall",
        "hard": "full_load_share",
    },
    "tow": {
        "grade": "gradient",
        "gear": "gear_ratio",
        "minutes": "duration",
        "hole": "brake_orifice",
        "valve": "valve_diameter",
        "spring": "valve_spring_force",
    },
    "leak_test": {"start": "start_pressure", "end": "end_pressure", "seconds": "duration", "warm": "shop_temperature"},
    "bay": {"breeze": "air_speed"},
    "car": {"gear": "gear_ratio", "final": "final_drive", "tyre": "tyre_diameter", "drag": "drag_area"},
    "gate": {
        "full": "fully_open",
        "sold": "spring_rating",
        "hose": "hose_bore",
        "hose_long": "hose_length",
        "tube": "return_bore",
        "joins": "return_angle",
        "dump": "outlet",
        "rejoin": "pieces_bypassed",
        "metered": "air_metering",
        "blow_to": "blow_off_outlet",
        "blow_spring": "blow_off_pressure",
        "branch": "branch_bore",
        "angle": "branch_angle",
    },
    "blower": {
        "ratio": "drive_ratio",
        "wide": "belt_width",
        "wrap": "belt_wrap",
        "ribs": "belt_ribs",
        "volumetric": "volumetric_efficiency",
        "adiabatic": "adiabatic_efficiency",
        "bypass": "bypass_outlet",
    },
    "cooler": {
        "drop": "pressure_loss",
        "stands": "mounting",
        "trust": "rating_confidence",
        "front": "front_effectiveness",
        "entry": "port_diameter",
        "build": "construction",
        "fan": "fan_flow",
        "opening": "grille_opening",
        "capture": "air_share",
    },
    "ask": {
        "money": "budget",
        "weeks": "build_time",
        "begins": "start_date",
        "mouth_speed": "tailpipe_speed",
        "spool": "quick_spool",
        "top": "power_reserve",
        "room": "margins",
        "spend": "low_cost",
        "haste": "short_build_time",
    },
    "shop": {"rate": "hourly_rate", "away": "outsourced_days", "lives": "used_in"},
    "space": (
        "layout",
        {
            "head": {"wide": "port_width", "high": "port_height", "fall": "port_down_angle", "bolt": "bolt_hole", "apart": "bank_distance"},
            "making": (
                "fabrication",
                {"wanted": "primary_length", "tightest": "tightest_bend", "purged": "weld_roots", "relieved": "stress_relief"},
            ),
        },
    ),
    "registered": "joints",
    "stock": {"long": "length", "leg": "leg_length"},
}


def _of_today(names: dict[str, Any], key: str) -> tuple[str, dict[str, Any]]:
    """What a key is called since, and the keys below it."""
    new = names.get(key, key)
    if isinstance(new, tuple):
        return new
    return (key, new) if isinstance(new, dict) else (new, {})


def _place_of_today(place: str, keys: dict[str, Any]) -> str:
    """A place in the document by what its `keys` are called since."""
    names, found = keys, []
    for part in place.split("."):
        new, below = _of_today(names, part)
        found.append(new)
        # Between a room and its entry may stand the key of a part
        names = below or (names if names is not keys else {})
    return ".".join(found)


def _renamed(node: Any, names: dict[str, Any]) -> Any:
    """A room with the keys of today; lists of parts one by one, and what a kept design says of them."""
    if isinstance(node, list):
        return [_renamed(part, names) for part in node]
    if not isinstance(node, dict):
        return node
    if isinstance(node.get("changed"), dict):
        return {**node, "changed": {key: _renamed(part, names) for key, part in node["changed"].items()}}
    found = {}
    for key, item in node.items():
        new, below = _of_today(names, key)
        found[new] = _renamed(item, below) if below else item
    return found


def _with_keys(tree: dict[str, Any], keys: dict[str, Any], version: int) -> dict[str, Any]:
    """A document with what its `keys` are called since: the kept designs and the entries that are assumed too."""
    tree = _renamed(dict(tree, schema_version=version), keys)
    for room in ("variants", "taken", "adopted"):
        if isinstance(tree.get(room), list):
            tree[room] = [
                {**part, "differs": _renamed(part["differs"], keys)} if isinstance(part, dict) and "differs" in part else part
                for part in tree[room]
            ]
    if isinstance(tree.get("assumed"), list):
        tree["assumed"] = [_place_of_today(place, keys) if isinstance(place, str) else place for place in tree["assumed"]]
    return tree


def _field_names(tree: dict[str, Any]) -> dict[str, Any]:
    """Version 8 calls the entries by the words of the field."""
    return _with_keys(tree, FORMER_KEYS, 8)


# Rooms before version 9, and what each is called since
FORMER_ROOMS: dict[str, Any] = {
    "brief": "goal",
    "gate": "wastegate",
    "cooler": "intercooler",
    "ask": "search",
    "shop": "workshop",
    "rail": "fuel_rail",
    "tow": "towing",
    "lines": "fluid_lines",
    "coolant": "turbo_coolant",
    "meter": "air_meter",
    "hot_sides": "exhaust_paths",
    "own_pieces": "pieces_per_turbo",
    "taken": "adopted",
}


def _room_names(tree: dict[str, Any]) -> dict[str, Any]:
    """Version 9 calls the rooms by the words of the field."""
    return _with_keys(tree, FORMER_ROOMS, 9)


MIGRATIONS: dict[int, Step] = {
    1: _hot_side,
    2: _typed_ignition,
    3: _usual_said,
    4: _pulses,
    5: _sold_springs,
    6: _what_differs,
    7: _field_names,
    8: _room_names,
}

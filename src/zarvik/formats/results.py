"""Results as the documented JSON tree: a contract for scripts (docs/solve-json.md). SI throughout."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from zarvik.core.airpath.point import Point, TurboPoint
from zarvik.core.boost_control.held_boost import GatePoint
from zarvik.core.candidates.catalogue_search import CatalogueMatch
from zarvik.core.candidates.evaluation import Evaluated, Pulley
from zarvik.core.checks import CheckResult
from zarvik.core.heat.clearance import THINGS
from zarvik.core.limits.limits import FAILS
from zarvik.core.spool.pull import Pull
from zarvik.core.uncertainty.bands import AIR, CHARGE, GAS, POWER, THRESHOLD, Bands
from zarvik.project.assembly.stages import ComparisonBasis
from zarvik.project.boost_control.control import Control
from zarvik.project.designs import UNITS, Design, Designs, obstacles_of
from zarvik.project.document.document import Project
from zarvik.project.document.parts.turbo import Turbo
from zarvik.project.engine.diesel_pump import PumpSetting
from zarvik.project.heat.hot_parts import HotSideReport
from zarvik.project.manifold.manifold_types import ManifoldType
from zarvik.project.units.rendering import advice, render
from zarvik.project.vehicle.towing import TowingReport

RESULT_VERSION = 2


def _number(value: float) -> float | None:
    return float(f"{value:.10g}") if math.isfinite(value) else None


def _nothing(value: float) -> None:
    """In the place of `_number` where nothing was solved."""


def point_tree(point: Point) -> dict[str, Any]:
    """One operating point. A point that is not solved carries null for what it would have."""
    good = point.closure.solved
    number = _number if good else _nothing
    return {
        "rpm": point.speed,
        "power_W": number(point.power),
        "power_corrected_W": number(point.corrected_power),
        "torque_Nm": number(point.torque),
        "boost_Pa": number(point.boost),
        "wanted_boost_Pa": _number(point.wanted_boost),
        "air_kg_s": number(point.air),
        "fuel_kg_s": number(point.fuel),
        "lambda": number(point.mixture),
        "stations": {
            name: {
                "p_total_Pa": number(s.pressure),
                "T_total_K": number(s.temperature),
                "mdot_kg_s": number(s.flow),
                "mach": number(s.mach),
            }
            for name, s in point.stations.items()
        },
        "elements": [
            {
                "id": s.id,
                "kind": s.kind,
                "from": s.start,
                "to": s.end,
                "dp_total_Pa": number(s.drop),
                "dT_total_K": number(s.warming),
                "mach": number(s.mach),
                "velocity_m_s": number(s.velocity),
                "reynolds": number(s.reynolds),
                "loss_coefficient": number(s.loss),
                "skin_K": number(s.skin) if s.skin else None,
            }
            for s in point.stretches
        ],
        "turbos": [_turbo_tree(point.turbo, good)],
        "closure": {
            "solved": good,
            "reason": render(point.closure.reason, {}) or None,
            "mass": _number(point.closure.mass),
            "pressure": _number(point.closure.pressure),
            "energy": number(point.closure.energy),
            "shaft": number(point.closure.shaft),
            "iterations": point.closure.iterations,
        },
    }


def _turbo_tree(turbo: TurboPoint, good: bool) -> dict[str, Any]:
    number = _number if good else _nothing
    return {
        "id": turbo.id,
        "corrected_flow_kg_s": number(turbo.flow),
        "pressure_ratio": number(turbo.ratio),
        "corrected_speed_rpm": number(turbo.speed),
        "speed_rpm": number(turbo.real_speed),
        "efficiency": number(turbo.efficiency),
        "shaft_power_W": number(turbo.power),
        "region": turbo.region if good else None,
        "surge_margin": number(turbo.surge),
        "choke_margin": number(turbo.choke),
        "speed_margin": number(turbo.overspeed),
        "expansion_ratio": number(turbo.expansion),
        "turbine_efficiency": number(turbo.turbine_efficiency),
        "blade_speed_ratio": number(turbo.blade_ratio),
        "turbine_flow_kg_s": number(turbo.turbine_flow),
        "turbine_power_W": number(turbo.turbine_power),
        "gate": turbo.regime if good else None,
        "gate_opening": number(turbo.opening),
        "gate_flow_kg_s": number(turbo.gate_flow),
        "back_pressure_ratio": number(turbo.back_pressure),
    }


def tree(
    project: str, points: Iterable[Point], check_results: Iterable[CheckResult], units: Mapping[str, str], bands: Bands | None = None
) -> dict[str, Any]:
    """The whole result. Sentences of the checks are in the owner's `units`."""
    return {
        "schema": "zarvik-result",
        "schema_version": RESULT_VERSION,
        "project": project,
        "points": [point_tree(p) for p in points],
        "checks": [
            {
                "id": v.id,
                "state": v.state,
                "margin": _number(v.margin) if v.margin is not None else None,
                "band": [_number(end) for end in v.band] if v.band is not None else None,
                "uncertainty": render(v.uncertainty, units) or None,
                "text": render(v.text, units),
                "cure": advice(v, units) or None,
            }
            for v in check_results
        ],
        "bands": _bands(bands),
    }


def _pull(pull: Pull) -> dict[str, Any]:
    return {"from_rpm": _number(pull.start), "seconds": _number(pull.seconds), "reached_rpm": _number(pull.reached)}


def _gate_tree(control: Control) -> dict[str, Any]:
    """What the gate holds, and its hoses."""

    def points(held: Sequence[GatePoint]) -> list[dict[str, Any]]:
        return [
            {
                "speed_rpm": _number(h.speed),
                "boost_Pa": _number(h.boost),
                "lift": _number(h.lift),
                "before_Pa": _number(h.before),
                "state": h.state,
            }
            for h in held
        ]

    return {
        "alone": points(control.alone),
        "now": points(control.now),
        "most": points(control.most),
        "duty": _number(control.duty),
        "spike_Pa": _number(control.overshoot.over) if control.overshoot is not None else None,
        "hoses": [
            {
                "letter": line.letter,
                "key": line.key,
                "begin": line.begin,
                "end": line.end,
                "off_boost_Pa": _number(line.boost),
                "what": line.what,
            }
            for line in control.lines
        ],
        "as_they_are": [render(s, {}) for s in control.plumbed],
    }


def hot_side_tree(
    project: Project,
    schools: Sequence[ManifoldType] | None,
    control: Control | None,
    hot: HotSideReport | None = None,
    train: TowingReport | None = None,
) -> dict[str, Any]:
    """Manifolds of every school, what the gate holds, its hoses, heat and probes; SI, null for what there is none of."""

    return {
        "schema": "zarvik-result-hotside",
        "schema_version": RESULT_VERSION,
        "project": project.name,
        "manifolds": None
        if schools is None
        else [
            {
                "key": s.key,
                "power_W": _number(s.power),
                "threshold_rpm": _number(s.threshold),
                "seconds": _number(s.seconds),
                "back_pressure_ratio": _number(s.ratio),
                "gas_K": _number(s.gas),
                "volume_m3": _number(s.volume),
                "mass_kg": _number(s.mass),
                "welds": s.welds,
                "hours": _number(s.hours),
                "money": _number(s.money),
                "skin_K": _number(s.skin),
                "grows_m": _number(s.grows),
                "heats": _number(s.cycles),
                "longer": dict(s.longer),
            }
            for s in schools
        ],
        "wastegate": None if control is None else _gate_tree(control),
        "heat": None if hot is None else _heat_tree(hot),
        "towing": None if train is None else _tow_tree(train),
    }


def _tow_tree(train: TowingReport) -> dict[str, Any]:
    h = train.hill
    return {
        "hill": None
        if h is None
        else {
            "power_W": _number(h.power),
            "speed_rpm": _number(h.gear),
            "holds_to_m_s": _number(h.holds),
            "gas_limit_K": _number(h.limit.good),
            "over_speed": [{"speed_rpm": _number(float(n)), "gas_K": _number(float(t))} for n, t in zip(h.speeds, h.gas, strict=True)],
            "over_time": None
            if h.warms is None
            else [
                {"time_s": _number(float(t)), "gas_K": _number(float(g)), "housing_K": _number(float(i))}
                for t, g, i in zip(h.warms.time, h.warms.gas, h.warms.housing, strict=True)
            ],
        },
        "brake": [
            {
                "speed_rpm": _number(b.speed),
                "pressure_Pa": _number(b.pressure),
                "power_W": _number(b.power),
                "friction_W": _number(b.friction),
            }
            for b in train.brakes
        ],
        "hole_m": _number(train.hole) if train.brakes else None,
        "springs_hold_Pa": _number(train.most) if train.brakes else None,
    }


def _heat_tree(hot: HotSideReport) -> dict[str, Any]:
    parts = hot.parts
    return {
        "speed_rpm": _number(parts.speed),
        "exhaust_costs_W": _number(parts.whole),
        "pieces": [
            {
                "id": p.id,
                "run": p.run,
                "drop_Pa": _number(p.drop),
                "costs_W": _number(p.cost),
                "gas_K": _number(p.gas),
                "skin_K": _number(p.skin),
                "metal_K": _number(p.metal),
                "gaps_m": {t.key: [_number(bare), _number(shield)] for t, (bare, shield) in zip(THINGS, p.gaps, strict=False)},
            }
            for p in parts.pieces
        ],
        "probes": [
            {"place": p.place, "gas_K": _number(p.gas), "shown_K": _number(p.shown), "late_s": _number(p.late), "add_K": _number(p.add)}
            for p in parts.probes
        ],
        "lambda": {"piece": parts.boss.id or None, "at_m": _number(parts.boss.at), "gas_K": _number(parts.boss.gas)},
        "hung": None
        if parts.hung is None
        else {
            "mass_kg": _number(parts.hung.mass),
            "hangers": parts.hung.hangers,
            "between_m": _number(parts.hung.between),
            "grows_m": _number(parts.hung.grows),
            "at": [{"piece": key, "at_m": _number(at)} for key, at in parts.hangers],
        },
    }


def _candidate_tree(one: Evaluated, turbo: Turbo) -> dict[str, Any]:
    """A candidate, `turbo` in the document, at every stage."""
    return {
        "id": one.turbo.id,
        "name": one.turbo.name,
        "estimated": turbo.wheels is not None or bool(turbo.estimated),
        "price": str(turbo.fit.price) if turbo.fit.price.si > 0.0 else None,
        "here_by": turbo.fit.here_by or None,
        "rotor_kg_m2": _number(one.turbo.rotor),
        "stages": [
            {
                "key": line.stage.key,
                "state": line.state,
                "power_W": _number(line.figures.power),
                "threshold_rpm": _number(line.figures.spool),
                "back_pressure_ratio": _number(line.figures.back_pressure),
                "gate_opening": _number(line.figures.opening),
                "surge_margin": _number(line.figures.surge),
                "choke_margin": _number(line.figures.choke),
                "speed_margin": _number(line.figures.overspeed),
                "held": _pull(one.held[n]),
                "in_gear": _pull(one.geared[n]),
            }
            for n, line in enumerate(one.lines)
        ],
    }


def evaluated_tree(
    project: Project, asked: ComparisonBasis, found: Sequence[Evaluated], tried: Sequence[Pulley], pump: Sequence[PumpSetting] = ()
) -> dict[str, Any]:
    """Candidates at every stage, pulleys of a blower, the pump of a diesel; SI, null for what is not reached."""
    by_id = {t.id: t for t in project.turbos}
    return {
        "schema": "zarvik-result-weighed",
        "schema_version": RESULT_VERSION,
        "project": project.name,
        "chosen": project.turbo or None,
        "stages": [{"key": s.key, "boost_Pa": _number(s.boost), "power_W": _number(s.power) or None} for s in asked.stages],
        "candidates": [_candidate_tree(one, by_id[one.turbo.id]) for one in found],
        "pulleys": [
            {
                "size_m": _number(p.size),
                "teeth": p.teeth or None,
                "ratio": _number(p.ratio),
                "boost_Pa": _number(p.boost),
                "power_W": _number(p.power),
                "belt_power_W": _number(p.belt_power),
                "rotor_rpm": _number(p.speed),
                "belt_carries_ratio": _number(p.carried),
                "slip": _number(p.slip),
            }
            for p in tried
        ],
        "pump": [
            {
                "setting": render(setting.title, {}),
                "now": setting.now,
                "state": setting.state,
                "injection_m3": _number(setting.gives),
                "power_W": _number(setting.power),
                "torque_N_m": _number(setting.torque),
                "torque_rpm": _number(setting.torque_speed),
                "least_lambda": _number(setting.least),
                "gas_K": _number(setting.gas),
                "fails": [v.id for v in setting.reasons if setting.state == FAILS],
            }
            for setting in pump
        ],
    }


def designs_tree(project: Project, found: Designs) -> dict[str, Any]:
    """Designs that a search found: SI, sizes as they are written; `missed`: the nearest that was left out."""

    def one(design: Design) -> dict[str, Any]:
        f = design.figures
        return {
            "sizes": design.sizes,
            "power_W": _number(f.power),
            "threshold_rpm": _number(f.spool),
            "back_pressure_ratio": _number(f.back_pressure),
            "surge_margin": _number(f.surge),
            "choke_margin": _number(f.choke),
            "speed_margin": _number(f.overspeed),
            "gate_opening": _number(f.opening),
            "boost_Pa": _number(f.boost),
            "torque_Nm": _number(f.torque),
            "money": _number(design.cost.money),
            "hours": _number(design.cost.hours),
            "weeks": _number(design.weeks),
            "seconds": _number(design.seconds),
            "bands": _bands(design.answer.bands if design.answer is not None else None),
            "misses": {key: _number(v) for key, v in design.short.items()},
            "states": {v.id: v.state for v in design.check_results},
        }

    return {
        "schema": "zarvik-result-designs",
        "schema_version": RESULT_VERSION,
        "project": project.name,
        "tried": found.tried,
        "free": [axis.key for axis in found.axes],
        "asked": {
            "power_W": _number(found.limits.power),
            "threshold_rpm": _number(found.limits.spool),
            "money": _number(found.limits.money) or None,
            "weeks": _number(found.limits.weeks) or None,
        },
        "wish": found.wish or None,
        "designs": [one(d) for d in found.designs],
        "trades": [
            [{"wish": t.wish, "granted": t.other is not None, "costs": {k: _number(v) for k, v in t.costs.items()}} for t in trades]
            for trades in found.trades
        ],
        "reliefs": [{"limit": r.key, "unit": UNITS[r.key].step, "aim": r.aim, "gain": _number(r.gain)} for r in found.reliefs],
        "nearest": one(found.nearest) if found.nearest is not None else None,
        "in_the_way": {} if found.designs else {k: _number(v) for k, v in obstacles_of(found).items()},
        "missed": one(found.missed) if found.missed is not None else None,
        "why": found.why.id if found.why is not None else None,
    }


def ranked_tree(project: Project, found: Sequence[CatalogueMatch], looked_at: int) -> dict[str, Any]:
    """Turbos ranked in this build, the best first; SI."""
    return {
        "schema": "zarvik-result-ranked",
        "schema_version": RESULT_VERSION,
        "project": project.name,
        "looked_at": looked_at,
        "ranked": [
            {
                "id": f.turbo.id,
                "name": f.turbo.name,
                "housing_m": _number(f.housing),
                "mark": _number(f.mark),
                "power_W": _number(f.figures.power),
                "threshold_rpm": _number(f.figures.spool),
                "back_pressure_ratio": _number(f.figures.back_pressure),
                "surge_margin": _number(f.figures.surge),
                "choke_margin": _number(f.figures.choke),
                "speed_margin": _number(f.figures.overspeed),
                "gate_opening": _number(f.figures.opening),
            }
            for f in found
        ],
    }


# Answers with a band, by the names that the core gives them: unit behind the name.
_UNITS = {POWER: "power_W", THRESHOLD: "threshold_rpm", CHARGE: "charge_K", GAS: "turbine_inlet_K", AIR: "air_kg_s"}


def _bands(bands: Bands | None) -> dict[str, Any]:
    """How far the answers may lie from their values, and what moves each most."""
    found: dict[str, Any] = {}
    for name, key in _UNITS.items():
        band = bands.of(name) if bands is not None else None
        if band is not None:
            most = band.lever.about or band.lever.key if band.lever is not None else None
            found[key] = {"below": _number(band.below), "above": _number(band.above), "model_share": _number(band.own), "most": most}
    return found

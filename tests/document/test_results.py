"""The result as JSON, key by key: every key carries the number that it is named after, told apart by a
number that nothing else has. The contract is docs/solve-json.md."""

from __future__ import annotations

import dataclasses
import re
from pathlib import Path

from zarvik.core.airpath.point import Closure, Point, Station, Stretch, TurboPoint
from zarvik.core.checks import CheckResult
from zarvik.core.common.sentences import Figure, message
from zarvik.core.uncertainty.bands import Band, Bands
from zarvik.formats.results import point_tree, tree

TURBO = TurboPoint(
    id="t",
    flow=0.301,
    ratio=2.302,
    speed=103000.0,
    real_speed=104000.0,
    efficiency=0.705,
    power=30600.0,
    region="surge",
    surge=-0.07,
    choke=0.08,
    overspeed=0.09,
    surge_flow=0.310,
    flow_limit=0.311,
    expansion=1.912,
    turbine_efficiency=0.613,
    blade_ratio=0.614,
    turbine_flow=0.315,
    turbine_power=31600.0,
    regime="holding",
    opening=0.17,
    gate_flow=0.018,
    dumped=0.0,
    behind_gate=1.1e5,
    joined=1000.0,
    overlap=1.1,
    back_pressure=1.19,
)
CLOSURE = Closure(mass=1e-8, pressure=2e-8, energy=3e-8, shaft=4e-8, iterations=5, solved=True)
STATION = Station(pressure=201e3, temperature=402.0, flow=0.203, mach=0.204)
STRETCH = Stretch(
    id="c",
    kind="bend",
    name="Bend",
    section="cold_pipe",
    start="a",
    end="b",
    pressure_in=9e9,
    drop=501.0,
    warming=-5.02,
    mach=0.503,
    velocity=50.4,
    reynolds=505000.0,
    loss=0.506,
    skin=350.7,
)
POINT = Point(
    speed=6001.0,
    wanted_boost=80002.0,
    boost=80003.0,
    air=0.204,
    fuel=0.0205,
    power=206000.0,
    corrected_power=207000.0,
    torque=308.0,
    efficiency=0.909,
    indicated=2e6,
    friction=2.1e5,
    pumping=2.2e4,
    charge=333.0,
    retard=4.0,
    mixture=0.83,
    evaporated=0.05,
    taken=299.0,
    turbo=TURBO,
    cooler_effectiveness=0.7,
    cooler_heat=16000.0,
    cooling_air_out=318.0,
    closure=CLOSURE,
    walk=lambda: ({"plenum": STATION}, (STRETCH,)),
)

EXPECTED = {
    "rpm": 6001.0,
    "power_W": 206000.0,
    "power_corrected_W": 207000.0,
    "torque_Nm": 308.0,
    "boost_Pa": 80003.0,
    "wanted_boost_Pa": 80002.0,
    "air_kg_s": 0.204,
    "fuel_kg_s": 0.0205,
    "lambda": 0.83,
    "stations": {"plenum": {"p_total_Pa": 201e3, "T_total_K": 402.0, "mdot_kg_s": 0.203, "mach": 0.204}},
    "elements": [
        {
            "id": "c",
            "kind": "bend",
            "from": "a",
            "to": "b",
            "dp_total_Pa": 501.0,
            "dT_total_K": -5.02,
            "mach": 0.503,
            "velocity_m_s": 50.4,
            "reynolds": 505000.0,
            "loss_coefficient": 0.506,
            "skin_K": 350.7,
        }
    ],
    "turbos": [
        {
            "id": "t",
            "corrected_flow_kg_s": 0.301,
            "pressure_ratio": 2.302,
            "corrected_speed_rpm": 103000.0,
            "speed_rpm": 104000.0,
            "efficiency": 0.705,
            "shaft_power_W": 30600.0,
            "region": "surge",
            "surge_margin": -0.07,
            "choke_margin": 0.08,
            "speed_margin": 0.09,
            "expansion_ratio": 1.912,
            "turbine_efficiency": 0.613,
            "blade_speed_ratio": 0.614,
            "turbine_flow_kg_s": 0.315,
            "turbine_power_W": 31600.0,
            "gate": "holding",
            "gate_opening": 0.17,
            "gate_flow_kg_s": 0.018,
            "back_pressure_ratio": 1.19,
        }
    ],
    "closure": {"solved": True, "reason": None, "mass": 1e-8, "pressure": 2e-8, "energy": 3e-8, "shaft": 4e-8, "iterations": 5},
}


def test_every_key_carries_its_own_number() -> None:
    """No two numbers are alike, so that two that change places are noticed."""
    assert point_tree(POINT) == EXPECTED


def test_a_point_without_an_answer_says_only_why() -> None:
    """Null in place of what it would have; what was asked and its residuals stay."""
    closure = dataclasses.replace(CLOSURE, solved=False, reason=message("no solution found"))
    found = point_tree(dataclasses.replace(POINT, closure=closure))
    assert found["closure"]["reason"] == "no solution found" and not found["closure"]["solved"]
    assert (found["rpm"], found["wanted_boost_Pa"]) == (6001.0, 80002.0)
    for key in ("power_W", "power_corrected_W", "torque_Nm", "boost_Pa", "air_kg_s", "fuel_kg_s"):
        assert found[key] is None
    assert set(found["stations"]["plenum"].values()) == {None}
    gone = {k: v for k, v in found["turbos"][0].items() if k != "id"}
    assert set(gone.values()) == {None}
    assert (found["closure"]["energy"], found["closure"]["shaft"]) == (None, None)
    assert (found["closure"]["mass"], found["closure"]["pressure"]) == (1e-8, 2e-8)


def test_checks_and_what_is_not_a_number() -> None:
    """State and margin as they are, sentences in the owner's units, the price behind the cure; what is
    not finite becomes null."""
    check_result = CheckResult(
        id="surge",
        title="Surge margin",
        state="marginal",
        margin=-0.0123,
        text=message("{a} of air", a=Figure(0.2, "mass_flow")),
        cure=message("Less boost"),
        price=message("With it {p}", p=Figure(74569.9872, "power")),
        band=(-0.05, 0.02),
    )
    found = tree(
        "P", [POINT], [check_result, dataclasses.replace(check_result, margin=None, cure=None)], {"mass_flow": "lb/min", "power": "hp"}
    )
    assert found["schema"] == "zarvik-result" and found["schema_version"] == 2
    assert found["project"] == "P" and found["points"] == [EXPECTED]
    first, second = found["checks"]
    assert first == {
        "id": "surge",
        "state": "marginal",
        "margin": -0.0123,
        "band": [-0.05, 0.02],
        "uncertainty": None,
        "text": "26.5\u00a0lb/min of air",
        "cure": "Less boost. With it 100\u00a0hp",
    }
    assert (second["margin"], second["cure"]) == (None, None)
    odd = dataclasses.replace(POINT, power=float("nan"), torque=float("inf"))
    assert point_tree(odd)["power_W"] is None and point_tree(odd)["torque_Nm"] is None


def test_the_contract_names_every_key() -> None:
    """docs/solve-json.md lists what is written."""
    text = (Path(__file__).parents[2] / "docs" / "solve-json.md").read_text("utf-8")
    named = set(re.findall(r'"(\w+)"', text.partition("```\n{")[2].partition("```")[0]))

    def keys(part: object) -> set[str]:
        if isinstance(part, list):
            return set().union(*map(keys, part))
        if isinstance(part, dict):
            return set(part).union(*map(keys, part.values()))
        return set()

    bands = Bands({"power": Band(1.0, 2.0, 0.3)}, (), {})
    written = keys(tree("P", [POINT], [CheckResult(id="a", title="b", state="open", margin=None, text=message("c"))], {}, bands))
    assert written - {"plenum", "power_W"} <= named and named - written <= {"zarvik", "result", "NAME"}

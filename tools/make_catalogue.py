"""Writes the invented turbo maps of the catalogue and the demo project from one list of sizes."""

from __future__ import annotations

import math
import sys
from pathlib import Path

from zarvik.core.compressor.meanline import Wheel, generate
from zarvik.core.layout.frame import Frame
from zarvik.formats import map_csv, project_file
from zarvik.formats import shipped as catalogue_files
from zarvik.project.document.document import SCHEMA_VERSION, Project
from zarvik.project.document.places import get
from zarvik.project.edits import edits
from zarvik.project.layout.layout import layout
from zarvik.project.manifold.primaries import built
from zarvik.project.units.units import parse
from zarvik.project.variants import variants

DATA = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(__file__).parents[1] / "src/zarvik/data"
SIZES = (  # inducer, exducer of the compressor in mm
    (27.0, 36.0),
    (30.0, 40.0),
    (34.0, 45.0),
    (38.0, 50.0),
    (40.0, 52.5),
    (42.0, 55.0),
    (46.0, 60.5),
    (48.0, 63.5),
    (51.0, 67.0),
    (54.0, 71.0),
    (58.0, 76.5),
    (61.0, 80.0),
    (64.0, 84.0),
    (68.0, 89.0),
    (72.0, 94.5),
    (76.0, 100.0),
    (82.0, 108.0),
)
GENERATOR = "Invented: made by the mean-line generator of this program from wheel sizes"


def key(inducer: float, exducer: float) -> str:
    """File name and key of a size."""
    return f"c{inducer:.0f}-{int(exducer)}"


DONORS = {
    27: "0.9 L petrol city car",
    30: "1.2 L petrol hatchback",
    34: "1.4 L diesel hatchback",
    38: "1.5 L petrol saloon",
    40: "1.6 L diesel estate",
    42: "1.8 L petrol estate",
    46: "2.0 L petrol saloon",
    48: "2.2 L diesel van",
    51: "2.5 L petrol saloon",
    54: "3.0 L diesel van",
    58: "4.0 L diesel lorry",
    61: "5.0 L diesel lorry",
    64: "6.0 L diesel tractor",
}


def fit(inducer: float, exducer: float) -> str:
    """Invented flange, bolts, gate, bearings, donor and price of a size, as they stand in the list."""
    flange = "three_bolt" if inducer < 44 else "four_bolt" if inducer < 60 else "four_divided"
    bolts = round(0.95 * exducer + (8.0 if inducer < 44 else 14.0))
    gate = "inside" if inducer < 47 else "outside"
    cooling = "oil" if inducer < 37 or inducer > 56 else "water"
    price = round((140.0 + 0.145 * exducer**2) / 10.0) * 10
    return f"{flange},{bolts},{gate},{cooling},{DONORS.get(int(inducer), '')},{price}"


def catalogue() -> None:
    """Every turbo of the catalogue: its map, and a turbine in common proportion."""
    rows = [
        f"# {GENERATOR}; turbine in common proportion to the compressor",
        "# unit: mm",
        "turbo,wheel,exducer,housing,compressor_inducer,compressor_exducer,flange,bolts,gate,cooling,donor,price",
    ]
    for inducer, exducer in SIZES:
        chart = generate(Wheel(inducer / 1000.0, exducer / 1000.0), f"{inducer:.0f} × {exducer:.0f} mm wheel")
        map_csv.write(chart, DATA / "maps" / f"{key(inducer, exducer)}.csv", GENERATOR)
        wheel = round(0.873 * exducer, 1)
        rows.append(
            f"{key(inducer, exducer)},{wheel:g},{0.855 * wheel:.1f},{0.275 * wheel:.1f},{inducer:g},{exducer:g},{fit(inducer, exducer)}"
        )
    project_file.write_text("\n".join(rows) + "\n", DATA / "turbines.csv")


def turbos(*keys: str) -> list[dict[str, object]]:
    """Turbos of the catalogue as they stand in a project file."""
    return [catalogue_files.turbo(name).model_dump() for name in keys]


AL, HOSE, STEEL = {"material": "aluminium"}, {"material": "silicone"}, {"material": "stainless"}


def piece(kind: str, id: str, name: str, **values: str) -> dict[str, str]:
    """A piece as it stands in a project file."""
    return {"id": id, "kind": kind, "name": name, **values}


def hot_side(
    *, count: int, primary: str, length: str, collector: str, pipe: str, span: str, flow: str, elbow: str = "Elbow off the turbine"
) -> dict[str, list[dict[str, str]]]:
    """A manifold and an exhaust of common shape; `flow` of the silencer at 3 kPa."""
    return {
        "manifold": [
            piece("primaries", "primaries", "Primaries", count=str(count), bore=primary, length=length, turns="150 °", **STEEL),
            piece("collector", "collector", "Merge collector", bore_out=collector, **STEEL),
        ],
        "exhaust": [
            piece("bend", "e-elbow", elbow, bore=pipe, radius=f"{1.5 * float(pipe.split()[0]):.0f} mm", angle="90 °", **STEEL),
            piece("straight", "e-down", "Downpipe", bore=pipe, length="800 mm", **STEEL, cover="wrap"),
            piece("resistance", "e-silencer", "Silencer", bore=pipe, flow=flow, drop="3000 Pa", linear_share="10 %"),
            piece("straight", "e-tail", "Tail pipe", bore=pipe, length=span, **STEEL),
            piece("mouth", "e-out", "Into the open", bore=pipe),
        ],
    }


def tarn() -> Project:
    """The Tarn: a hill-climb special with the engine of a delivery van."""
    tree = {
        "schema": "zarvik-project",
        "schema_version": SCHEMA_VERSION,
        "name": "Tarn",
        "note": "Invented demo: a 780 kg hill-climb special with the 2.4 L inline four of a "
        "delivery van. Hill at 640 m, design day 33 °C, event in nine weeks.",
        "invented": True,
        "units": "mixed",
        "goal": {
            "target_power": "330 hp",
            "target_speed": "6400 rpm",
            "target_boost": "1.1 bar",
            "full_boost_from": "3400 rpm",
            "hold_back_until": "1000 rpm",
            "big_run_boost": "1.25 bar",
            "altitude": "640 m",
            "design_day": "33 °C",
            "humidity": "40 %",
            "road_speed": "85 km/h",
            "mild_boost": "0.6 bar",
            "mild_power": "240 hp",
            "big_run_power": "345 hp",
            "pedal_at": "3800 rpm",
            "ready_by": "2027-05-15",
            "budget": "900 €",
        },
        "car": {
            "mass": "860 kg",
            "gear": "1.65",
            "final": "4.3",
            "tyre": "575 mm",
            "drag": "about 0.6 m²",
            "pull_from": "2800 rpm",
            "clutch": "460 N·m",
            "gearbox": "480 N·m",
        },
        "search": {"money": "2200 €", "begins": "2027-03-13"},
        "engine": {
            "name": "2.4 L inline four, delivery van, stock bottom end",
            "cylinders": "4",
            "bore": "88 mm",
            "stroke": "98.5 mm",
            "compression": "9.6",
            "idle": "900 rpm",
            "rev_limit": "7000 rpm",
            "breathing": "long_runner",
            "best_breathing": "97 %",
            "best_breathing_speed": "4700 rpm",
            "fuel": "petrol98",
            "full_load_lambda": "0.82",
            "trusted_boost": "1.3 bar",
        },
        "wastegate": {
            "diameter": "38 mm",
            "lift": "10 mm",
            "count": "1",
            "discharge": "70 %",
            "spring": "0.6 bar",
            "control": "three",
            "blow_off": "28 mm",
        },
        "bay": {"temperature": "70 °C", "breeze": "6 m/s"},
        "turbos": [
            {**turbo, "fit": {**turbo["fit"], "here_by": day}}
            for turbo, day in zip(
                turbos("c46-60", "c51-67", "c54-71", "c58-76"), ("2027-03-06", "2027-03-20", "2027-04-10", "2027-06-02"), strict=True
            )
        ],
        "turbo": "c54-71",
        "intake": [
            piece("resistance", "filter", "Cone filter", bore="90 mm", flow="900 m³/h", drop="600 Pa", linear_share="40 %"),
            piece("reducer", "neck", "Filter neck", bore_in="90 mm", bore_out="76 mm", length="60 mm", **HOSE),
            piece("straight", "tract", "Intake pipe", bore="76 mm", length="350 mm", **AL),
            piece("bend", "elbow", "Elbow past the strut", bore="76 mm", radius="114 mm", angle="90 °", roll="-70 °", **AL),
            piece("straight", "stub", "Leg of the elbow", bore="76 mm", length="30 mm", **AL),
            piece("joint", "hump", "Joint at the turbo", bore="76 mm", gap="12 mm", step="1.6 mm"),
            piece("reducer", "inducer", "Turbo inlet", bore_in="76 mm", bore_out="60.5 mm", length="50 mm", **HOSE),
        ],
        "hot_pipe": [
            piece("joint", "h-joint", "Joint at the compressor", bore="47.7 mm", gap="10 mm", step="1.65 mm"),
            piece("straight", "h-leg", "Leg below the compressor", bore="47.7 mm", length="30 mm", **AL),
            piece("bend", "h-down", "Bend down", bore="47.7 mm", radius="3 in", angle="90 °", roll="90 °", **AL),
            piece("straight", "h-run", "Run along the rail", bore="47.7 mm", length="360 mm", **AL),
            piece("bend", "h-in", "Bend into the cooler", bore="47.7 mm", radius="3 in", angle="45 °", roll="90 °", **AL),
            piece("straight", "h-stub", "Leg at the cooler", bore="47.7 mm", length="30 mm", **AL),
            piece("joint", "h-end", "Joint at the cooler", bore="47.7 mm", gap="10 mm", step="1.65 mm"),
        ],
        "intercooler": {
            "fitted": True,
            "effectiveness": "76 %",
            "drop": "7 kPa",
            "charge_flow": "0.25 kg/s",
            "cooling_flow": "1.3 kg/s",
            "width": "540 mm",
            "height": "230 mm",
            "capture": "30 %",
            "trust": "80 %",
        },
        "cold_pipe": [
            piece("joint", "c-joint", "Joint at the cooler", bore="2.37 in", gap="10 mm", step="1.65 mm"),
            piece("straight", "c-leg", "Leg at the cooler", bore="2.37 in", length="30 mm", **AL),
            piece("bend", "c-up", "Bend up", bore="2.37 in", radius="3.75 in", angle="90 °", roll="62 °", **AL),
            piece("straight", "c-run", "Run over the radiator", bore="2.37 in", length="580 mm", **AL),
            piece("bend", "c-back", "Bend back", bore="2.37 in", radius="3.75 in", angle="90 °", **AL),
            piece("reducer", "c-cone", "Hose to the throttle", bore_in="2.37 in", bore_out="65 mm", length="60 mm", **HOSE),
            piece("throttle", "throttle", "Throttle", bore="65 mm", shaft="9 mm"),
            piece("mouth", "mouth", "Mouth into the plenum", bore="65 mm", recovered="0 %"),
        ],
        **hot_side(count=4, primary="40.9 mm", length="340 mm", collector="52.5 mm", pipe="72.9 mm", span="1400 mm", flow="1000 m³/h"),
        "space": {
            "head": {
                "wide": "41 mm",
                "spacing": "97 mm",
                "fall": "12 °",
                "flange": "12 mm",
                "bolt": "10.5 mm",
                "bolt_up": "38 mm",
                "bolt_aside": "22 mm",
                "bolts": "diagonal",
                "order": "1-3-4-2",
            },
            "turbo": {
                "placed": "measured",
                "along": "130 mm",
                "up": "60 mm",
                "out": "235 mm",
                "pitch": "-60 °",
                "shaft": "90 °",
                "cover": "-150 °",
                "drain": "-150 °",
            },
        },
        "stock": [
            {
                "id": "s1",
                "kind": "bend",
                "tube": "48.3 mm",
                "radius": "57 mm",
                "angle": "90 °",
                "count": "4",
                "note": "Weld elbows, box under the bench",
            },
            {
                "id": "s2",
                "kind": "bend",
                "tube": "48.3 mm",
                "radius": "57 mm",
                "angle": "180 °",
                "count": "5",
                "note": "Return bends, second-hand",
            },
            {"id": "s3", "kind": "tube", "tube": "48.3 mm", "long": "640 mm", "count": "2", "note": "Schedule 40, offcut"},
            {
                "id": "s4",
                "kind": "bend",
                "tube": "51 mm",
                "radius": "76.2 mm",
                "angle": "90 °",
                "leg": "100 mm",
                "count": "1",
                "note": "Aluminium bend with legs",
            },
            {"id": "s5", "kind": "tube", "tube": "63.5 mm", "long": "1000 mm", "count": "1", "note": "Aluminium, new"},
        ],
    }
    return in_space(with_downpipe(Project.model_validate(tree)))


def with_downpipe(project: Project) -> Project:
    """A downpipe of two bends and a straight: down past the gearbox, then level under the floor."""
    pipe = {"bore": "72.9 mm", **STEEL}
    made = Project.model_validate(
        {
            "exhaust": [
                piece("bend", "e-elbow", "Elbow off the turbine", radius="109 mm", angle="45 °", roll="180 °", **pipe),
                piece("straight", "e-down", "Downpipe", length="500 mm", **{**pipe, "cover": "wrap"}),
                piece("bend", "e-level", "Bend under the floor", radius="109 mm", angle="45 °", roll="180 °", **pipe),
                piece("straight", "e-mid", "To the silencer", length="300 mm", **pipe),
            ]
        }
    ).exhaust
    return project.model_copy(update={"exhaust": (*made, *project.exhaust[2:])})


def in_space(project: Project) -> Project:
    """Primaries of pieces laid, and intercooler and throttle measured where a pipe made by eye would end."""
    project, _ = built(project)
    lines = layout(project)
    hot, cold = lines.line("hot_pipe"), None
    project = measured(project, "cooler_in", hot.end)
    # Across the car from its one tank to the other, the outlet to the side
    face = get(project, "layout.cooler_in")
    project = stand(project, "cooler_out", face.along.si - 0.04, face.up.si + 0.03, face.out.si - 0.68, 180.0, 0.0)
    cold = layout(project).line("cold_pipe")
    return measured(project, "throttle", cold.end)


def measured(project: Project, what: str, frame: Frame) -> Project:
    """Something stands where a frame is, to the millimetre and the degree."""
    x, y, z = frame.along
    heading, pitch = math.degrees(math.atan2(x, z)), math.degrees(math.asin(max(-1.0, min(1.0, y))))
    return stand(project, what, *frame.origin, heading, pitch)


def stand(project: Project, what: str, along: float, up: float, out: float, heading: float, pitch: float) -> Project:
    """Something measured in the car: m and degrees."""
    values = {
        "along": f"{1e3 * along:.0f} mm",
        "up": f"{1e3 * up:.0f} mm",
        "out": f"{1e3 * out:.0f} mm",
        "heading": f"{heading:.0f} °",
        "pitch": f"{pitch:.0f} °",
    }
    for name, text in values.items():
        place = f"layout.{what}.{name}"
        project = edits.with_value(project, place, edits.meta(project, place).read(text))
    return edits.with_value(project, f"layout.{what}.placed", "measured")


def skerry() -> Project:
    """The Skerry: a tow van with a smoke-limited diesel and little room for an intercooler."""
    return Project.model_validate(
        {
            "name": "Skerry",
            "note": "Invented demo: a harbour tug's tow van, 2.8 L four-cylinder diesel, smoke limited, radiator space tight.",
            "invented": True,
            "units": "metric",
            "search": {"money": "1800 €", "weeks": "8 weeks"},
            "goal": {
                "target_power": "150 kW",
                "target_speed": "3600 rpm",
                "target_boost": "1.6 bar",
                "full_boost_from": "2200 rpm",
                "hold_back_until": "900 rpm",
                "big_run_boost": "1.6 bar",
                "altitude": "10 m",
                "design_day": "28 °C",
                "humidity": "70 %",
                "road_speed": "50 km/h",
            },
            "engine": {
                "name": "2.8 L diesel, tow van",
                "cylinders": "4",
                "bore": "94 mm",
                "stroke": "100 mm",
                "compression": "17.5",
                "idle": "750 rpm",
                "rev_limit": "4300 rpm",
                "breathing": "stock_torque",
                "fuel": "diesel",
                "full_load_lambda": "1.3",
                "trusted_boost": "1.9 bar",
                "stock_torque": [[1000, 150], [1600, 172], [2200, 178], [3000, 168], [3600, 152], [4300, 128]],
            },
            "turbos": [
                turbo if turbo["id"] != "c46-60" else {**turbo, "turbine": {**turbo["turbine"], "housing": "11 mm"}}
                for turbo in turbos("c42-55", "c46-60", "c48-63", "c51-67")
            ],
            "turbo": "c46-60",
            "wastegate": {"diameter": "32 mm", "lift": "9 mm", "spring": "1.6 bar", "control": "three"},
            "bay": {"temperature": "75 °C", "breeze": "3 m/s"},
            "intake": [
                piece("resistance", "filter", "Stock air box", bore="80 mm", flow="600 m³/h", drop="1200 Pa", linear_share="50 %"),
                piece("reducer", "neck", "Neck of the box", bore_in="80 mm", bore_out="70 mm", length="60 mm", **HOSE),
                piece("straight", "tract", "Intake hose", bore="70 mm", length="500 mm", **HOSE),
                piece("bend", "elbow", "Elbow", bore="70 mm", radius="90 mm", angle="90 °", **HOSE),
            ],
            "hot_pipe": [
                piece("bend", "h-up", "Bend up", bore="50.8 mm", radius="76 mm", angle="90 °", **STEEL),
                piece("straight", "h-run", "Across the front", bore="50.8 mm", length="700 mm", **STEEL),
            ],
            "intercooler": {
                "effectiveness": "68 %",
                "drop": "9 kPa",
                "charge_flow": "0.2 kg/s",
                "cooling_flow": "0.6 kg/s",
                "width": "420 mm",
                "height": "160 mm",
                "capture": "30 %",
                "trust": "100 %",
            },
            "cold_pipe": [
                piece("straight", "c-run", "Back to the engine", bore="54 mm", length="800 mm", **STEEL),
                piece("bend", "c-in", "Bend into the manifold", bore="54 mm", radius="80 mm", angle="90 °", **STEEL),
                piece("mouth", "mouth", "Mouth into the plenum", bore="54 mm"),
            ],
            **hot_side(count=4, primary="36 mm", length="90 mm", collector="44 mm", pipe="63.5 mm", span="2600 mm", flow="700 m³/h"),
        }
    )


def fell() -> Project:
    """The Fell: a streamliner with two turbos on alcohol and no intercooler."""
    project = Project.model_validate(
        {
            "name": "Fell",
            "note": "Invented demo: a salt-flat streamliner, 5.2 L V10, two turbos, alcohol, no cooler.",
            "invented": True,
            "units": "inch",
            "search": {"money": "5000 €", "weeks": "16 weeks", "boost": "kept"},
            "goal": {
                "target_power": "900 hp",
                "target_speed": "7600 rpm",
                "target_boost": "15.5 psi",
                "full_boost_from": "5000 rpm",
                "hold_back_until": "4000 rpm",
                "big_run_boost": "17 psi",
                "altitude": "4200 ft",
                "design_day": "95 °F",
                "humidity": "20 %",
                "road_speed": "200 mph",
            },
            "engine": {
                "name": "5.2 L V10",
                "cylinders": "10",
                "bore": "84.5 mm",
                "stroke": "92.8 mm",
                "compression": "10.5",
                "idle": "1100 rpm",
                "rev_limit": "8200 rpm",
                "breathing": "short_runner",
                "best_breathing": "104 %",
                "best_breathing_speed": "6600 rpm",
                "fuel": "methanol",
                "full_load_lambda": "0.82",
                "trusted_boost": "20 psi",
                "evaporated": "35 %",
            },
            "turbos": turbos("c58-76", "c61-80", "c64-84"),
            "turbo": "c61-80",
            "turbos_fitted": "2",
            "wastegate": {"diameter": "46 mm", "lift": "13 mm", "count": "2", "spring": "0.7 bar", "control": "three", "blow_off": "38 mm"},
            "bay": {"temperature": "60 °C", "breeze": "10 m/s"},
            "intake": [
                piece("entry", "scoop", "Scoop", bore="6 in", lip="1 in"),
                piece("reducer", "fork", "Fork to the turbos", bore_in="6 in", bore_out="5 in", length="8 in", **AL),
            ],
            "intercooler": {"fitted": False},
            "cold_pipe": [
                piece("bend", "turn", "Bend to the back", bore="5 in", radius="7.5 in", angle="90 °", roll="-90 °", **AL),
                piece("straight", "run", "Charge pipes together", bore="5 in", length="40 in", **AL),
                piece("reducer", "cone", "Cone to the throttle", bore_in="5 in", bore_out="4.5 in", length="4 in", **AL),
                piece("throttle", "throttle", "Throttle", bore="4.5 in", shaft="10 mm"),
                piece("mouth", "mouth", "Into the plenum", bore="4.5 in"),
            ],
            **hot_side(count=5, primary="42 mm", length="420 mm", collector="64 mm", pipe="89 mm", span="600 mm", flow="3000 m³/h"),
            "exhaust_paths": "own",
            "pieces_per_turbo": "5",
            "space": {
                "head": {
                    "port": "oval",
                    "wide": "46 mm",
                    "high": "34 mm",
                    "spacing": "93 mm",
                    "fall": "8 °",
                    "flange": "12 mm",
                    "bolts": "pair",
                    "bolt": "8.5 mm",
                    "bolt_up": "33 mm",
                    "banks": "vee",
                    "apart": "640 mm",
                    "stagger": "18 mm",
                    "order": "1-6-5-10-2-7-3-8-4-9",
                },
                "turbo": {
                    "placed": "measured",
                    "along": "186 mm",
                    "up": "110 mm",
                    "out": "270 mm",
                    "pitch": "-60 °",
                    "shaft": "90 °",
                    "cover": "30 °",
                    "drain": "-150 °",
                },
                "making": {"wall": "1.65 mm", "turn": "0 °"},
            },
        }
    )
    project, _ = built(project)
    return edits.with_value(project, "exhaust.e-elbow.roll", parse("90 °", "angle"))


def moth() -> Project:
    """The Moth: a city car with a belt-driven blower and an air-to-water cooler."""
    return Project.model_validate(
        {
            "name": "Moth",
            "note": "Invented demo: a 1.0 L three-cylinder city car with a belt-driven blower and an air-to-water cooler.",
            "invented": True,
            "units": "metric",
            "search": {"money": "1600 €", "weeks": "8 weeks"},
            "goal": {
                "target_power": "72 kW",
                "target_speed": "6000 rpm",
                "target_boost": "0.6 bar",
                "full_boost_from": "2500 rpm",
                "hold_back_until": "1000 rpm",
                "big_run_boost": "0.6 bar",
                "altitude": "150 m",
                "design_day": "30 °C",
                "humidity": "50 %",
                "road_speed": "60 km/h",
            },
            "engine": {
                "name": "1.0 L inline three",
                "cylinders": "3",
                "bore": "71 mm",
                "stroke": "84 mm",
                "compression": "9.5",
                "idle": "850 rpm",
                "rev_limit": "6500 rpm",
                "breathing": "table",
                "fuel": "petrol95",
                "full_load_lambda": "0.85",
                "trusted_boost": "0.8 bar",
                "breathing_table": [[1000, 0.78], [2500, 0.88], [4000, 0.94], [5000, 0.95], [6000, 0.91], [6500, 0.87]],
            },
            "turbos": turbos("c38-50"),
            "turbo": "c38-50",
            "blower": {
                "fitted": True,
                "name": "Three-lobe blower, 460 cm³",
                "displacement": "460 cm³",
                "ratio": "?",
                "crank_pulley": "132 mm",
                "pulley": "63 mm",
                "ribs": "6",
                "wrap": "165 °",
                "rotor_limit": "15000 rpm",
            },
            "bay": {"temperature": "65 °C", "breeze": "4 m/s"},
            "intake": [
                piece("resistance", "filter", "Air box", bore="60 mm", flow="350 m³/h", drop="1000 Pa", linear_share="50 %"),
                piece("reducer", "neck", "Neck of the box", bore_in="60 mm", bore_out="50 mm", length="50 mm", **HOSE),
                piece("throttle", "throttle", "Throttle before the blower", bore="50 mm", shaft="8 mm"),
            ],
            "hot_pipe": [piece("straight", "h-run", "Blower outlet", bore="45 mm", length="150 mm", **AL)],
            "intercooler": {
                "medium": "water",
                "effectiveness": "80 %",
                "drop": "3 kPa",
                "charge_flow": "0.09 kg/s",
                "cooling_flow": "0.3 kg/s",
                "water_flow": "0.3 kg/s",
                "front": "65 %",
                "width": "400 mm",
                "height": "150 mm",
                "capture": "30 %",
                "trust": "90 %",
            },
            "cold_pipe": [
                piece("straight", "c-run", "To the plenum", bore="50 mm", length="300 mm", **AL),
                piece("mouth", "mouth", "Into the plenum", bore="50 mm"),
            ],
            **hot_side(
                count=3,
                primary="36 mm",
                length="300 mm",
                collector="45 mm",
                pipe="50.8 mm",
                span="2400 mm",
                flow="420 m³/h",
                elbow="Elbow off the collector",
            ),
        }
    )


def with_variants(project: Project) -> Project:
    """The Tarn with two variants of its turbo beside it, as a builder would keep them."""
    housing = edits.with_value(project, "turbos.c54-71.turbine.housing", parse("21.4 mm", "length"))
    larger = edits.with_value(project, "turbo", "c58-76")
    larger = edits.with_value(larger, "goal.hold_back_until", parse("3600 rpm", "rotation"))
    kept = project
    for name, design in (("Larger housing", housing), ("58 mm wheel", larger)):
        kept = kept.model_copy(update={"variants": variants.keep(design, name).variants[-1:] + kept.variants})
    return kept


def main() -> None:
    """Write everything."""
    (DATA / "maps").mkdir(parents=True, exist_ok=True)
    (DATA / "demo").mkdir(parents=True, exist_ok=True)
    catalogue()
    for make in (tarn, skerry, fell, moth):
        project = with_variants(make()) if make is tarn else make()
        project_file.write_text(project_file.dumps(project), DATA / "demo" / f"{make.__name__}{project_file.SUFFIX}")


if __name__ == "__main__":
    main()

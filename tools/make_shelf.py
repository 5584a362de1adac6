"""Writes the invented turbo maps of the shelf and the demo project from one list of sizes."""

from __future__ import annotations

import sys
from pathlib import Path

from zarvik.core.compressor.meanline import Wheel, generate
from zarvik.formats import map_csv, project_file
from zarvik.project.document import Project, Turbo
from zarvik.project.edits import put
from zarvik.project.units import parse

DATA = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(__file__).parents[1] / "src/zarvik/data"
SIZES = (  # inducer, exducer in mm
    (42.0, 55.0),
    (46.0, 60.5),
    (51.0, 67.0),
    (54.0, 71.0),
    (58.0, 76.5),
    (64.0, 84.0),
)
NOTE = (
    "Invented: made by the mean-line generator of this program from wheel sizes, nothing measured"
)


def key(inducer: float, exducer: float) -> str:
    """File name and key of a size."""
    return f"c{inducer:.0f}-{exducer:.0f}"


def shelf() -> dict[str, Turbo]:
    """Every turbo of the shelf, written as CSV on the way."""
    turbos = {}
    for inducer, exducer in SIZES:
        chart = generate(
            Wheel(inducer / 1000.0, exducer / 1000.0), f"{inducer:.0f} × {exducer:.0f} mm wheel"
        )
        map_csv.write(chart, DATA / "maps" / f"{key(inducer, exducer)}.csv", NOTE)
        turbos[key(inducer, exducer)] = Turbo.of(chart, key(inducer, exducer), NOTE)
    return turbos


def tarn(turbos: dict[str, Turbo]) -> Project:
    """The Tarn: a hill-climb special with the engine of a delivery van."""
    al, hose = {"material": "aluminium"}, {"material": "silicone"}

    def piece(kind: str, id: str, name: str, **values: str) -> dict[str, str]:
        return {"id": id, "kind": kind, "name": name, **values}

    tree = {
        "schema": "zarvik-project",
        "schema_version": 1,
        "name": "Tarn",
        "note": "Invented demo: a 780 kg hill-climb special with the 2.4 L inline four of a "
        "delivery van. Hill at 640 m, design day 33 °C, event in nine weeks.",
        "invented": True,
        "units": "mixed",
        "brief": {
            "target_power": "330 hp", "target_speed": "6400 rpm", "target_boost": "1.1 bar",
            "full_boost_from": "3400 rpm", "big_run_boost": "1.25 bar", "altitude": "640 m",
            "design_day": "33 °C", "humidity": "40 %", "road_speed": "85 km/h",
        },
        "engine": {
            "name": "2.4 L inline four, delivery van, stock bottom end", "cylinders": "4",
            "bore": "88 mm", "stroke": "98.5 mm", "compression": "9.6", "idle": "900 rpm",
            "rev_limit": "7000 rpm", "breathing": "long_runner", "best_breathing": "97 %",
            "best_breathing_speed": "4700 rpm", "fuel": "petrol98", "full_load_lambda": "0.82",
            "trusted_boost": "1.3 bar",
        },
        "turbos": [turbos[k].model_dump() for k in ("c46-60", "c51-67", "c54-71", "c58-76")],
        "turbo": "c54-71",
        "intake": [
            piece("resistance", "filter", "Cone filter", bore="90 mm", flow="900 m³/h",
                  drop="600 Pa", linear_share="40 %"),
            piece("reducer", "neck", "Filter neck", bore_in="90 mm", bore_out="76 mm",
                  length="60 mm", **hose),
            piece("straight", "tract", "Intake pipe", bore="76 mm", length="380 mm", **al),
            piece("bend", "elbow", "Elbow past the strut", bore="76 mm", radius="114 mm",
                  angle="90 °", **al),
            piece("joint", "hump", "Joint at the turbo", bore="76 mm", gap="12 mm", step="1.6 mm"),
            piece("reducer", "inducer", "Turbo inlet", bore_in="76 mm", bore_out="60.5 mm",
                  length="50 mm", **hose),
        ],
        "hot_pipe": [
            piece("joint", "h-joint", "Joint at the compressor", bore="47.7 mm", gap="10 mm",
                  step="1.65 mm"),
            piece("bend", "h-down", "Bend down", bore="47.7 mm", radius="3 in", angle="90 °", **al),
            piece("straight", "h-run", "Run along the rail", bore="47.7 mm", length="420 mm", **al),
            piece("bend", "h-in", "Bend into the cooler", bore="47.7 mm", radius="3 in",
                  angle="45 °", **al),
            piece("joint", "h-end", "Joint at the cooler", bore="47.7 mm", gap="10 mm",
                  step="1.65 mm"),
        ],
        "cooler": {
            "fitted": True, "effectiveness": "76 %", "drop": "7 kPa", "charge_flow": "0.25 kg/s",
            "cooling_flow": "1.3 kg/s", "width": "560 mm", "height": "240 mm", "capture": "36 %",
            "trust": "80 %",
        },
        "cold_pipe": [
            piece("joint", "c-joint", "Joint at the cooler", bore="2.37 in", gap="10 mm",
                  step="1.65 mm"),
            piece("bend", "c-up", "Bend up", bore="2.37 in", radius="3.75 in", angle="90 °", **al),
            piece("straight", "c-run", "Run over the radiator", bore="2.37 in", length="610 mm",
                  **al),
            piece("bend", "c-back", "Bend back", bore="2.37 in", radius="3.75 in", angle="90 °",
                  **al),
            piece("reducer", "c-cone", "Hose to the throttle", bore_in="2.37 in", bore_out="65 mm",
                  length="60 mm", **hose),
            piece("throttle", "throttle", "Throttle", bore="65 mm", shaft="9 mm"),
            piece("mouth", "mouth", "Mouth into the plenum", bore="65 mm", recovered="0 %"),
        ],
    }  # fmt: skip
    return Project.model_validate(tree)


def main() -> None:
    """Write everything."""
    (DATA / "maps").mkdir(parents=True, exist_ok=True)
    (DATA / "demo").mkdir(parents=True, exist_ok=True)
    project = tarn(shelf())
    project = put(project, "brief.altitude", parse("640 m", "length"))
    project_file.write(project, DATA / "demo" / f"tarn{project_file.SUFFIX}")


if __name__ == "__main__":
    main()

"""What ships with the program: invented turbos in the catalogue and demo projects."""

from __future__ import annotations

import csv
import json
from functools import lru_cache
from importlib import resources

from zarvik.core.compressor.chart import CompressorMap
from zarvik.core.compressor.measured import TurboMounting
from zarvik.formats import map_csv, project_file
from zarvik.formats.atomic_writer import SUFFIX
from zarvik.project.document.document import Project
from zarvik.project.document.parts.turbo import Fit, Turbine, Turbo
from zarvik.project.edits.turbo_edits import add_turbo
from zarvik.project.language.language import tr_format

DEFAULT_DEMO = "tarn"


def turbo_names() -> list[str]:
    """Names of the invented turbo maps."""
    folder = resources.files("zarvik.data") / "maps"
    return sorted(p.name.removesuffix(".csv") for p in folder.iterdir() if p.name.endswith(".csv"))


@lru_cache
def turbo_title(name: str) -> str:
    """What a turbo of the catalogue is called, from the head of its map alone; its key where that does not say."""
    with (resources.files("zarvik.data") / "maps" / f"{name}.csv").open("r", encoding="utf-8") as file:
        for line in file:
            if not line.startswith("#"):
                break
            if line.startswith("# name:"):
                return line.removeprefix("# name:").strip()
    return name


def turbo_map(name: str) -> CompressorMap:
    """An invented turbo map by its name; raises FileError."""
    if name not in turbo_names():
        raise project_file.FileError(f"there is no turbo “{name}” in the catalogue")
    text = (resources.files("zarvik.data") / "maps" / f"{name}.csv").read_text("utf-8")
    return map_csv.loads(text, f"{name}.csv")


def _row(name: str) -> dict[str, str]:
    """What stands in the catalogue beside the map of a turbo; raises FileError."""
    text = (resources.files("zarvik.data") / "turbines.csv").read_text("utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    for row in rows:
        if row["turbo"] == name:
            return row
    raise project_file.FileError(tr_format("there is no turbine for “{0}” in the catalogue", name))


def turbo(name: str) -> Turbo:
    """An invented turbo with its turbine and what it is bolted to; raises FileError."""
    chart, row = turbo_map(name), _row(name)
    turbine = Turbine.model_validate({key: f"{row[key]} mm" for key in ("wheel", "exducer", "housing")} | {"efficiency": "68 %"})
    fit = Fit.model_validate(
        {key: row[key] for key in ("flange", "gate", "cooling", "donor")} | {"bolts": f"{row['bolts']} mm", "price": f"{row['price']} €"}
    )
    return Turbo.of(chart, name, "Invented", turbine).model_copy(update={"fit": fit})


def sizes(name: str) -> dict[str, float]:
    """Diameters in m by which a turbo of the catalogue is known again, by their names in
    `core.compressor.measured`; raises FileError."""
    names = {"inducer": "compressor_inducer", "exducer": "compressor_exducer", "turbine_wheel": "wheel", "turbine_exducer": "exducer"}
    row = _row(name)
    return {key: float(row[column]) / 1000.0 for key, column in names.items()}


def fits(name: str) -> TurboMounting:
    """Flange, gate, bearings and donor by which a turbo of the catalogue is known again; raises FileError."""
    row = _row(name)
    return TurboMounting(row["flange"], float(row["bolts"]) / 1000.0, row["gate"], row["cooling"], row["donor"])


def demo_names() -> list[str]:
    """Names of the demo projects."""
    folder = resources.files("zarvik.data") / "demo"
    suffix = SUFFIX
    return sorted(p.name.removesuffix(suffix) for p in folder.iterdir() if p.name.endswith(suffix))


@lru_cache(16)
def demo(name: str) -> Project:
    """A demo project by its name; raises FileError."""
    if name not in demo_names():
        raise project_file.FileError(f"there is no demo “{name}”; there are {', '.join(demo_names())}")
    return project_file.loads(demo_text(name), name)


def demo_text(name: str) -> str:
    """The file of a demo project as it ships."""
    path = resources.files("zarvik.data") / "demo" / f"{name}{SUFFIX}"
    return path.read_text("utf-8")


def demo_words(name: str) -> tuple[str, str]:
    """What a demo project is called and its note, without reading the rest of it."""
    tree = json.loads(demo_text(name))
    return tree["name"], tree["note"]


def fresh() -> Project:
    """A new project: defaults, a turbo of middle size, plain pipes, manifold and exhaust."""
    tree = {"schema": "zarvik-project", "schema_version": 1, "brief": {"full_boost_from": "3500 rpm", "hold_back_until": "1000 rpm"}}
    project = project_file.from_tree(tree, "the new project")
    return add_turbo(project, turbo("c51-67"))

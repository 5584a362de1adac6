"""A constant, a fact of a material, a size: each stands in one place, and what uses it follows."""

from __future__ import annotations

import ast
import collections
import os
import subprocess
import sys
from functools import lru_cache
from pathlib import Path

import pytest

import sources
import zarvik
from zarvik.core.common import constants
from zarvik.core.materials import table

SOURCE = Path(zarvik.__file__).parent
FILES = [p for room in ("core", "project", "formats", "workspace", "window", "commands") for p in sorted((SOURCE / room).rglob("*.py"))]
# Round enough to be other things as well
COMMON = {constants.AIR_GAMMA, constants.AIR_CP, constants.EXHAUST_GAS_CONSTANT}
# Numbers of five digits and more that stand twice and are not one fact
TWICE = {1.0001, 1.00001}


@lru_cache(1000)
def numbers(path: Path) -> tuple[float, ...]:
    """Every number with a point that is written in a file."""
    nodes = sources.nodes(path)
    return tuple(node.value for node in nodes if isinstance(node, ast.Constant) and isinstance(node.value, float))


def digits(value: float) -> int:
    """How many digits a number is written with."""
    return len(f"{abs(value):.12e}".partition("e")[0].rstrip("0").replace(".", ""))


def test_no_constant_is_written_a_second_time() -> None:
    """Constants of physics and of units are taken from where they stand."""
    known = {v for v in vars(constants).values() if isinstance(v, float)} - COMMON
    found = {(str(p.relative_to(SOURCE)), v) for p in FILES if p.name not in ("constants.py", "cycle_table.py") for v in numbers(p)}
    assert not {f"{file}: {value}" for file, value in found if value in known}


def test_no_number_of_many_digits_stands_twice() -> None:
    """Whoever writes five digits copies a fact: temperatures in round degrees Celsius apart, which are many things."""
    where = collections.defaultdict(set)
    for path in FILES:
        for value in numbers(path):
            celsius = value - constants.ZERO_CELSIUS
            if digits(value) >= 5 and value not in TWICE and abs(celsius / 5.0 - round(celsius / 5.0)) > 1e-6:
                where[value].add(str(path.relative_to(SOURCE)))
    assert not {value: files for value, files in where.items() if len(files) > 1}


def test_a_material_has_its_facts_from_the_table_alone() -> None:
    """Each number of the table is moved, one at a time, in a fresh interpreter: what the program calls by its name follows. Densities and
    walls by EN 10088-1, EN 1993-1-1 and EN 1999-1-1 (steel 7,900 and 7,850, aluminium 2,700 kg/m3)."""
    script = (
        "import json, sys\n"
        "from zarvik.core.materials import table\n"
        "for facts in table.FACTS.values():\n"
        "    for name, fact in list(facts.items()):\n"
        "        facts[name] = table.Fact(2.0 * fact.value, fact.unit, fact.source)\n"
        "from zarvik.core.connections.rules import STANDS\n"
        "from zarvik.core.ducts import friction\n"
        "from zarvik.core.limits.limits import MATERIALS\n"
        "from zarvik.core.manifold import life, turbo_weight\n"
        "from zarvik.core.materials import corrosion, metals\n"
        "from zarvik.core.vehicle.towing import HEAT\n"
        "from zarvik.project.fabrication.cut_list import DENSITY\n"
        "from zarvik.project.materials.materials import STUFF\n"
        "steel = metals.METALS['stainless']\n"
        "json.dump([friction.ROUGHNESS['stainless'][1], friction.EMISSIVITY['stainless'], friction.HEAT_TINTED['stainless'],\n"
        "  friction.WALL['silicone'], MATERIALS['stainless'].good, MATERIALS['stainless'].most, steel.density, steel.expansion,\n"
        "  *steel.modulus, *steel.strength, steel.ductility, *turbo_weight.CREEP['stainless'], HEAT['stainless'],\n"
        "  life.WELD_DUCTILITY['stainless'], *corrosion.RATES['mild_steel'].values(), STANDS['rubber'][0], DENSITY['aluminium'],\n"
        "  *STUFF['aluminium']], sys.stdout)\n"
    )
    doubled = ast.literal_eval(subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True).stdout)
    now = [
        *(("stainless", n) for n in ("roughness", "emissivity", "emissivity_red_hot")),
        ("silicone", "wall_resistance"),
        *(("stainless", n) for n in ("stands", "stands_briefly", "density", "expansion", "modulus_20", "modulus_800")),
        *(("stainless", f"strength_{at}") for at in (20, 500, 700, 900)),
        ("stainless", "ductility"),
        *(("stainless", f"creep_{at}") for at in (500, 600, 700, 800, 900)),
        *(("stainless", n) for n in ("heat_capacity", "weld_ductility")),
        *(("mild_steel", f"rust_{air}") for air in ("dry", "town", "coast", "salt")),
        ("rubber", "stands"),
        *(("aluminium", n) for n in ("density", "density", "usual_wall", "price")),
    ]
    assert doubled == pytest.approx([2.0 * table.value(*place) for place in now])
    assert [table.value(m, "density") for m in ("stainless", "mild_steel", "aluminium")] == [7900.0, 7850.0, 2700.0]


def test_a_fact_without_a_source_is_refused() -> None:
    """Nor one without a unit, nor one that stands twice."""
    head = "material,property,value,unit,source\n"
    assert table.read(head + "x,density,1,kg/m3,by hand\n")["x"]["density"].value == 1.0
    for line in ("x,density,1,kg/m3,\n", "x,density,1,,by hand\n", "x,density,1,kg/m3,by hand\nx,density,2,kg/m3,by hand\n"):
        with pytest.raises(ValueError, match="x, density"):
            table.read(head + line)


def test_a_formula_that_is_shown_has_the_solvers_numbers() -> None:
    """Each constant of each relation is made a fifth larger where the solver has it, uncompiled: what is worked out, the formula of the
    sheet and of the documentation all change; then it is put back."""
    script = (
        "from zarvik.core.airpath.solution import prepare\n"
        "from zarvik.core.engine import correction, engine, knock\n"
        "from zarvik.core.relations import table\n"
        "from zarvik.core.turbine import turbine\n"
        "from zarvik.formats import shipped\n"
        "from zarvik.project.assembly.assemble import assemble\n"
        "solver = prepare(assemble(shipped.demo('tarn')))\n"
        "wheel = solver.path.turbo.turbine\n"
        "worked = {\n"
        "    'air': lambda: engine.air_demand(solver.gas, 2e-3, 0.9, 5000.0, 2e5, 330.0),\n"
        "    'late': lambda: engine.late_factor(11.0),\n"
        "    'friction': lambda: engine.friction_mean_pressure(17.0, 19e5),\n"
        "    'knock': lambda: knock.ignition_delay(95.0, 41e5, 790.0),\n"
        "    'day': lambda: correction.standard_day_factor(dry_pressure=95e3, temperature=309.0),\n"
        "    'turbine_flow': lambda: turbine.swallowed(turbine.pack(wheel), solver.burnt, 2.6e5, 1100.0, 1.3e5, 390.0),\n"
        "}\n"
        "with_formula = [m for m in table.RELATIONS if m.constants]\n"
        "assert {m.key for m in with_formula} == set(worked), [m.key for m in with_formula]\n"
        "for method in with_formula:\n"
        "    for name, constant in method.constants.items():\n"
        "        was = getattr(constant.module, constant.name)\n"
        "        before = worked[method.key](), method.written, table.table()\n"
        "        new = 1.2 * was if constant.index < 0 else tuple(v * (1.2 if i == constant.index else 1.0) for i, v in enumerate(was))\n"
        "        setattr(constant.module, constant.name, new)\n"
        "        after = worked[method.key](), method.written, table.table()\n"
        "        setattr(constant.module, constant.name, was)\n"
        "        assert all(a != b for a, b in zip(before, after)), (method.key, name, before[:2], after[:2])\n"
        "        assert worked[method.key]() == before[0]\n"
    )
    environment = {**os.environ, "NUMBA_DISABLE_JIT": "1"}
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=False, env=environment)
    assert done.returncode == 0, done.stderr

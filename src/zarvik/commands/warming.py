"""Everything that is compiled, called once: nobody waits for it later, in the window least of all."""

from __future__ import annotations

import argparse
import multiprocessing

import numpy as np

from zarvik.commands.output import whole_answer
from zarvik.commands.terminal import GOOD
from zarvik.core.airpath.solution import prepare
from zarvik.core.blow_off.throttle_closing import simulate_lift_off
from zarvik.core.blow_off.valve import VALVES, BlowOff
from zarvik.core.calculations import sheet
from zarvik.core.compressor import lookup
from zarvik.core.heat.clearance import clearances
from zarvik.core.layout.closing import close
from zarvik.core.layout.frame import start
from zarvik.core.routing.bay import Bay, End
from zarvik.core.routing.grid import tightest
from zarvik.core.routing.search import Router
from zarvik.core.solids.bodies import of_mesh, packed
from zarvik.core.solids.distance import nearest
from zarvik.core.solids.meshes import Mesh, plate
from zarvik.core.spool.pull import pull
from zarvik.core.tracing.follow import cheapest
from zarvik.formats import shipped
from zarvik.project.assembly.assemble import assemble
from zarvik.project.language.language import tr
from zarvik.project.layout.layout import layout
from zarvik.project.manifold.primaries import fitted_run


def warm() -> None:
    """Call every kernel with what it is called with in the program, one after the other."""
    in_space()
    solving()


def solving() -> None:
    """What an answer needs: every speed, a pull, a throttle that shuts, a map read by speed and by pressure ratio, a traced line."""
    project = shipped.demo(shipped.DEFAULT_DEMO)
    found = whole_answer(project)
    build = assemble(project)
    pull(prepare(build), 4000.0, car=build.car)
    cheapest(np.ones((4, 4)), (0, 0), (3, 3))
    sheet(found.build, found.solver, found.target, "corrected_speed")
    simulate_lift_off(found.solver, found.solver.full_load.states[-1], BlowOff(VALVES[0]))
    lookup.forward(*lookup.pack(found.build.turbo.chart), 0.8, 0.1)


def in_space() -> None:
    """What pipes in space need: distances from a scan, a part beside a hot pipe, a gap that is closed, a primary that is fitted, tubes
    through a bay."""
    solid = plate(np.array([[0.0, 0.0, 0.0], [0.05, 0.0, 0.0], [0.0, 0.05, 0.0]]), 0.02)
    scanned = of_mesh("", Mesh(solid.corners, solid.triangles))
    for in_cells in (False, True):
        nearest(packed([scanned], in_cells=in_cells), 0.1, 0.1, 0.1, False, 1.0)
    clearances(900.0, radius=0.03, emissivity=0.8, heat=6000.0, air=330.0, convection=12.0)
    close(start(), start().moved(0.3).bent(0.08, 0.7).moved(0.3), bore=0.05, radii=(0.075,))
    project = shipped.demo(shipped.DEFAULT_DEMO)
    fitted_run(project, layout(project).primaries[0].key)
    _route()


def _route() -> None:
    """Two tubes through an empty bay, and one along a grid."""
    ways = np.array([[0.0, 1.0, 0.0], [0.0, 0.0, -1.0]])
    ports = tuple(End(np.array([x, 0.0, 0.0]), ways[0]) for x in (0.0, 0.2))
    inlets = tuple(End(np.array([x, 0.3, -0.3]), ways[1]) for x in (0.05, 0.15))
    bay = Bay(
        ports=ports, inlets=inlets, bodies=(), diameter=0.04, radii=(0.06,), straight=0.01, clearance=0.005, gap=0.004, tolerance=0.03,
        bare=0.03, angles=(0.2, 3.0),
    )  # fmt: skip
    for _ in Router(bay).answers(1):
        break
    router = Router(bay)
    router.propose(0, 0, 3, 20)
    router.repaired([0, 0], np.array([router.library.x[0]] * 2), 1.0, 9.0)
    router.along_grid(0, 0.04)
    tightest(bay)


def warmed(given: argparse.Namespace) -> int:
    """Compile everything now, on two cores where there are two."""
    beside = multiprocessing.get_context("spawn").Process(target=in_space)
    beside.start()
    solving()
    beside.join()
    warm()  # what one of them needed of the other's is read, and what went wrong beside is said here
    print(tr("the solver is compiled"))
    return GOOD

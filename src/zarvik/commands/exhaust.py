"""Manifolds, gate, hoses, heat, tow."""

from __future__ import annotations

import argparse

from zarvik import printing
from zarvik.commands.output import write_tree
from zarvik.commands.terminal import GOOD
from zarvik.core.common.sentences import Fault
from zarvik.formats import project_file, results
from zarvik.project.boost_control.control import control
from zarvik.project.heat.hot_parts import hot_side_report
from zarvik.project.language.language import reason, tr_format
from zarvik.project.language.plain import visible
from zarvik.project.manifold.manifold_types import manifold_candidates
from zarvik.project.vehicle.towing import towing_report


def hot_side(given: argparse.Namespace) -> int:
    """Schools of manifold, the gate, its hoses."""
    project = project_file.read(given.file)
    faults = []
    manifolds, gate = None, None
    try:
        manifolds = manifold_candidates(project)
    except Fault as error:
        faults.append(reason(error))
    try:
        gate = control(project)
    except Fault as error:
        faults.append(reason(error))
    hot = None
    try:
        hot = hot_side_report(project)
    except Fault as error:
        faults.append(reason(error))
    train = None
    if project.towing.mass.si > 0.0 or project.towing.brake == "fitted":
        try:
            train = towing_report(project)
        except Fault as error:
            faults.append(reason(error))
    if given.json:
        write_tree(given, results.hot_side_tree(project, manifolds, gate, hot, train), tr_format("wrote {0}", given.json))
        return GOOD
    if manifolds is not None:
        printing.schools(project, manifolds)
    if gate is not None:
        printing.control(project, gate)
    if hot is not None:
        printing.around(project, hot)
    if train is not None:
        printing.towed(project, train)
    for fault in faults:
        print(visible(fault))
    return GOOD

"""Neighbours in a run that cannot be welded to each other."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import Sentence, message
from zarvik.core.ducts.element import Element
from zarvik.core.limits.limits import FAILS, MARGINAL, OK
from zarvik.core.materials.table import NAMES, of_family
from zarvik.core.whole_build.build import Build

CHECK = Check("weldable", "Weldable metals", breaks=True)

STEELS = of_family("steel")
METALS = of_family("steel", "aluminium", "cast")
ORDER = {OK: 0, MARGINAL: 1, FAILS: 2}


def weldable(one: str, two: str) -> str:
    """How two metals weld to each other: holds, tight or fails. Steels do (mild to stainless with a 309 rod); cast iron to steel with
    preheat and nickel, and it cracks beside the weld; aluminium to none of them. Common practice, no source; AWS D1.6 for 309."""
    if one == two or (one in STEELS and two in STEELS):
        return OK
    return FAILS if "aluminium" in (one, two) else MARGINAL


def pairs(build: Build) -> Iterator[tuple[Element, Element]]:
    """Metal pieces of a run that follow on each other with no coupler, hose, flange or throttle between; a casting is bolted."""
    for run in build.runs.values():
        for one, two in itertools.pairwise(run):
            if one.material in METALS and two.material in METALS and one.surface > 0.0 and two.surface > 0.0:
                yield one, two


def check(case: Case) -> list[CheckResult]:
    """The worst pair; nothing where all that meet are of one metal."""
    found = [(weldable(a.material, b.material), a, b) for a, b in pairs(case.build) if a.material != b.material]
    if not found:
        return []
    state, one, two = max(found, key=lambda f: ORDER[f[0]])
    words = {
        FAILS: "“{one}” is {a}, “{two}” is {b}: these cannot be welded together",
        MARGINAL: "“{one}” is {a}, “{two}” is {b}: the weld cracks unless preheated and made with nickel",
        OK: "“{one}” is {a}, “{two}” is {b}: weld with a 309 rod",
    }[state]
    cure: Sentence | None = None
    if state != OK:
        cure = message("A coupler, a bolted flange or a V-band between them, or both of one metal")
    text = message(
        words,
        one=one.name or one.id,
        two=two.name or two.id,
        a=message(NAMES[one.material].in_a_sentence),
        b=message(NAMES[two.material].in_a_sentence),
    )
    return [CHECK.check_result(text, state=state, cure=cure, about=f"piece:{two.id}")]

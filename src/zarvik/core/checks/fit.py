"""Does each part suit its place: materials in the heat, the turbo's own openings, ends in the open,
primaries and cylinders, a diesel's smoke?"""

from __future__ import annotations

import math

from zarvik.core.airpath.solution import Stretch
from zarvik.core.airpath.stations import EXHAUST, HOT_PIPE, INTAKE, MANIFOLD, SECTIONS
from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import FAILS, HOLDS, TIGHT, Figure, Verdict, revs, say
from zarvik.core.ducts.element import Element

# Temperatures in K that a wall stands for long, and at the most. Silicone hose by the gas in it, the
# others by their skin. Common practice, no source; strength of metals falls long before they melt.
STANDS: dict[str, tuple[float, float]] = {
    "silicone": (450.0, 495.0),
    "printed": (370.0, 400.0),
    "aluminium": (450.0, 520.0),
    "mild_steel": (820.0, 920.0),
    "stainless": (1120.0, 1200.0),
    "cast": (1070.0, 1170.0),
}
# Lambda at full load below which a diesel smokes, and from which it is clean (common practice).
SMOKES, CLEAN = 1.15, 1.25
# Corrected choke flow at the highest speed over the square of the inducer: turbocharger compressors
# of tip speeds near 540 m/s, within 6 % (common practice, no source); the outlet is 0.88 of the inducer.
FLOW_OF_INDUCER = 124.5  # kg/(s m2)
OUTLET_SHARE = 0.88
NARROW, FAR_TOO_NARROW = 0.95, 0.85


def check(case: Case) -> list[Verdict]:
    """Everything that a builder would see by holding the parts side by side."""
    return [*_materials(case), *_openings(case), *ends_in_the_open(case), *_primaries(case), *_smoke(case)]


def _materials(case: Case) -> list[Verdict]:
    elements = {e.id: e for e in case.system.elements}
    worst: tuple[float, Stretch, Element, float, float, str] | None = None
    points = [case.hardest, case.target]
    for point in points:
        for s in point.stretches:
            element = elements.get(s.id)
            if element is None or element.material not in STANDS:
                continue
            good, most = STANDS[element.material]
            inside = point.stations[s.start].temperature
            soft = element.material in ("silicone", "printed") or element.surface <= 0.0
            wall = inside if soft else max(s.skin, 250.0)
            margin = (most - wall) / (most - 300.0)
            if worst is None or margin < worst[0]:
                sheet = _gas_before(case, s) if soft else f"skin:{s.id}"
                worst = (margin, s, element, wall, point.speed, sheet)
    if worst is None:
        return []
    margin, s, element, wall, at, sheet = worst
    good, most = STANDS[element.material]
    state = FAILS if wall > most else TIGHT if wall > good else HOLDS
    return [
        Verdict(
            "material", "Materials in the heat", state, margin,
            say("“{name}” sees {wall} at {speed}; {material} stands {good} for long, {most} at the most",
                name=element.name or element.id, wall=Figure(wall, "temperature", sheet, at), speed=revs(at),
                material=NAMES[element.material], good=Figure(good, "temperature"),
                most=Figure(most, "temperature")),
            None if state == HOLDS else say("Another material for “{name}”", name=element.name or element.id),
            (), f"charge_pipes:{element.id}", "Common practice, no source",
        )
    ]  # fmt: skip


def _gas_before(case: Case, stretch: Stretch) -> str:
    """Key of the sheet that shows the gas that enters a piece: of the last wall before it, or of the
    station that its run begins at."""
    run = case.system.runs[stretch.section]
    place = next(i for i, e in enumerate(run) if e.id == stretch.id)
    for element in reversed(run[:place]):
        if element.surface > 0.0:
            return f"behind:{element.id}"
    return f"temperature:{SECTIONS[stretch.section][0]}"


NAMES = {
    "silicone": "silicone hose", "printed": "plastic", "aluminium": "aluminium",
    "mild_steel": "mild steel", "stainless": "stainless steel", "cast": "cast iron",
}  # fmt: skip


def _openings(case: Case) -> list[Verdict]:
    """The last bore before the wheel and the first behind it against the turbo's own."""
    if case.system.blower is not None:
        return []
    chart, count = case.system.turbo.chart, case.system.turbo.count
    inducer = math.sqrt(chart.lines[-1].flow[-1] / FLOW_OF_INDUCER)
    found = []
    for section, last, own, where in (
        (INTAKE, True, inducer, "before"), (HOT_PIPE, False, OUTLET_SHARE * inducer, "behind"),
    ):  # fmt: skip
        run = case.system.runs[section]
        if not run:
            continue
        element = run[-1] if last else run[0]
        bore = (element.diameter_out if last else element.diameter_in) * math.sqrt(
            element.parallel / count
        )
        found.append((bore / own, element, bore, own, where))
    if not found:
        return []
    share, element, bore, own, where = min(found, key=lambda f: f[0])
    state = FAILS if share < FAR_TOO_NARROW else TIGHT if share < NARROW else HOLDS
    name = element.name or element.id
    return [
        Verdict(
            "openings", "Openings of the compressor", state, share - NARROW,
            say(("“{name}” is {bore} wide just " + where + " a compressor whose own opening is about {own}"
                 + (" for each of them" if count > 1 else ""))
                if state != HOLDS else
                "The pipes are as wide as the compressor's own openings, about {inlet} in and {outlet} out",
                name=name, bore=Figure(bore, "length", f"=piece:{element.id}" if count == 1 else ""),
                own=Figure(own, "length"), inlet=Figure(inducer, "length"),
                outlet=Figure(OUTLET_SHARE * inducer, "length")),
            None if state == HOLDS else say("Widen “{name}” to the opening it meets", name=name),
            (), f"charge_pipes:{element.id}",
            "Openings from the choke flow of the map, within 6 %: common practice, no source",
        )
    ]  # fmt: skip


def ends_in_the_open(case: Case) -> list[Verdict]:
    """An exhaust that just stops counts as if its stream kept its head."""
    run = case.system.runs[EXHAUST]
    if run and run[-1].kind == "mouth":
        return []
    name = run[-1].name or run[-1].id if run else "–"
    return [
        Verdict(
            "open_end", "End of the exhaust", TIGHT, None,
            say("“{name}” is the last piece, and it has no mouth: the head of the stream that leaves is not "
                "counted" if run else "There is no exhaust behind the turbine: nothing it would cost is counted",
                name=name),
            say("Add a mouth as the last piece of the exhaust"), (),
            f"charge_pipes:{run[-1].id}" if run else "charge_pipes",
            "The stream leaves at the pressure of the open air: NACA Report 1135",
        )
    ]  # fmt: skip


def _primaries(case: Case) -> list[Verdict]:
    cylinders = case.system.engine.cylinders
    for element in case.system.runs[MANIFOLD]:
        pipes = element.parallel
        if element.kind == "primaries" and pipes not in (cylinders, cylinders // 2):
            return [
                Verdict(
                    "primaries", "Primaries and cylinders", TIGHT, None,
                    say("“{name}” has {pipes} pipes for {cylinders} cylinders",
                        name=element.name or element.id, pipes=str(pipes), cylinders=str(cylinders)),
                    say("One pipe a cylinder, or one for two that share a port"), (),
                    f"charge_pipes:{element.id}", "Common practice, no source",
                )
            ]  # fmt: skip
    return []


def _smoke(case: Case) -> list[Verdict]:
    engine = case.system.engine
    if engine.fuel.spark:
        return []
    lambdas = [value for _, value in engine.mixture] or [engine.lambda_]
    least = min(lambdas)
    state = FAILS if least < SMOKES else TIGHT if least < CLEAN else HOLDS
    return [
        Verdict(
            "smoke", "Smoke", state, least / SMOKES - 1.0,
            say("Lambda {least} at full load; below {limit} a diesel smokes", least=f"{least:.2f}",
                limit=f"{SMOKES:.2f}"),
            None if state == HOLDS else say("Less fuel, or more air"), (), "brief",
            "Smoke limit 1.15 to 1.3: common practice, no source",
        )
    ]  # fmt: skip

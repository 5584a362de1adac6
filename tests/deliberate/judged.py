"""Answers, verdicts, limits, working sheets, doubts: deliberate changes that their tests have to notice."""

from __future__ import annotations

from deliberate.change import Change, of

CHANGES: tuple[Change, ...] = (
    *of(
        "core/test_answers.py core/test_airpath.py core/test_builds.py core/test_hand_worked.py",
        ("core/airpath/kernel.py", "- pumping - friction) * swept - belt_power", "- pumping - friction) * swept"),
        ("core/airpath/kernel.py", "state[SHAFT] = air * (1.0 + around) * rise", "state[SHAFT] = air * rise"),
        ("core/airpath/kernel.py", "power * turbine[MECHANICAL] - state[SHAFT]", "power - state[SHAFT]"),
        ("core/airpath/newton.py", "HOTTEST = 1600.0", "HOTTEST = 2600.0"),
        ("core/airpath/reading.py", "flow / surge_flow - 1.0", "1.0 - surge_flow / flow"),
        ("core/airpath/reading.py", "choke = 1.0 - flow / limit", "choke = limit / flow - 1.0"),
        ("core/airpath/reading.py", "row[march.P_IN] - row[march.P_OUT]", "row[march.P_OUT] - row[march.P_IN]"),
        ("core/airpath/packing.py", "1.0 - air.mass_fraction", "1.0 - 0.0 * air.mass_fraction"),
        ("core/airpath/piece_costs.py", "base.solutions[0]) - power for", "base.solutions[0]) for"),
        ("core/candidates/compare.py", "surges, chokes = flows / surge - 1.0", "surges, chokes = flows / surge"),
        ("core/checks/target.py", "(point.charge / ambient) ** 0.5", "(point.charge / ambient) ** 1.0"),
        ("core/checks/surge.py", "start = -(-high // 50.0) * 50.0", "start = high // 50.0 * 50.0 - 100.0"),
        ("core/checks/gate.py", "all():", "any():"),
        ("project/cures/cures.py", "if better and worse is None and new is None:", "if better:"),
    ),
    *of(
        "core/test_limits.py",
        ("core/limits/limits.py", 'above the surge line", 0.10,', 'above the surge line", 0.08,'),
        ("core/limits/limits.py", "1.35, 2.2, 1.0,", "1.45, 2.2, 1.0,"),
        ("core/limits/limits.py", "ALCOHOL_STANDS = 25.0", "ALCOHOL_STANDS = 35.0"),
        ("core/limits/limits.py", 'in the manifold", 0.35, 0.50', 'in the manifold", 0.35, 0.55'),
        ("core/airpath/system.py", "max(0.2 * self.full, 2e3)", "max(0.3 * self.full, 2e3)"),
        ("core/checks/velocity.py", "CHOKES = 0.98", "CHOKES = 0.90"),
        ("core/stock/sizes.py", "FLOW_OF_INDUCER = 124.5", "FLOW_OF_INDUCER = 130.0"),
        ("core/checks/gate.py", "UNSEEN = 1.5e3", "UNSEEN = 5e3"),
        ("core/checks/smoke.py", "least = min(lambdas)", "least = max(lambdas)"),
        ("core/checks/primaries.py", "(cylinders, cylinders // 2)", "(cylinders, cylinders - 1)"),
        ("core/checks/blower_boost.py", "if p.speed >= case.system.boost.wish]", "if p.speed >= 0.5 * case.system.boost.wish]"),
        ("core/checks/spool.py", "not late <= wish", "not early <= wish"),
        ("core/checks/intake_loss.py", "case.system.site.pressure - point", "1.01 * case.system.site.pressure - point"),
        ("core/checks/velocity.py", "(good * 0.95)", "(good * 1.05)"),
    ),
    *of(
        "core/test_working.py",
        ("core/calculations/power_sheets.py", "(point.indicated - point.pumping)", "(point.indicated + point.pumping)"),
        ("core/turbine/turbine.py", "BLADES = 0.62", "BLADES = 0.66"),
    ),
    *of(
        "document/test_doubts.py",
        ("core/uncertainty/bands.py", "above += max(one, two, 0.0) ** 2", "above += max(two, 0.0) ** 2"),
        ("core/uncertainty/bands.py", "if not shift.lever.about:", "if shift.lever.about:"),
        ("core/uncertainty/bands.py", "1.0 - shares[s.lever.key] ** 2", "1.0 - shares[s.lever.key]"),
        ("core/uncertainty/levers.py", "TURBINE, LOSSES, BAY = 0.015, 0.15, 0.02, 0.02, 0.20, 0.50", "TURBINE, LOSSES, BAY = 0.015, 0.30, 0.02, 0.02, 0.20, 0.50"),
        ("core/estimates/typical_values.py", "POWER_OVER_LIMIT = 0.88", "POWER_OVER_LIMIT = 0.80"),
        ("core/estimates/typical_values.py", "value = min(max(found / share, 0.4), 1.35)", "value = min(max(found, 0.4), 1.35)"),
        ("core/estimates/typical_values.py", "math.sqrt(2.0 * drop / (1.2 * loss))", "math.sqrt(drop / (1.2 * loss))"),
        ("project/uncertainty/uncertainty.py", "verdict.state == FAILS and margin + 0.5 * band.above < edge", "verdict.state == FAILS and margin + band.above < edge"),
        ("project/uncertainty/uncertainty.py", "verdict.state != FAILS and low >= edge", "verdict.state != FAILS and high >= edge"),
        ("project/uncertainty/uncertainty.py", "known=SAID, spread=0.0)", "spread=0.0)"),
        ("project/estimates/estimates.py", "project = summed(_mapped(project))", "pass"),
        ("project/units/units.py", "return abs(self.si) * self.spread / 100.0", "return abs(self.si) * self.spread"),
    ),
)  # fmt: skip

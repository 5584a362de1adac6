"""Candidates and whole designs: deliberate changes that their tests have to notice."""

from __future__ import annotations

from deliberate.change import Change, of

CHANGES: tuple[Change, ...] = (
    *of(
        "core/test_weighing.py",
        ("core/candidates/evaluation.py", "full=stage.boost)", "full=0.97 * stage.boost)"),
        ("core/candidates/evaluation.py", '("spool", -1.0)', '("spool", 1.0)'),
        ("core/compressor/measured.py", "math.sqrt(trim / 100.0)", "trim / 100.0"),
        ("core/compressor/measured.py", "(alike if 2 * len(both) >= len(words) else unlike)", "unlike"),
        ("core/checks/target.py", "STARVED = SMOKE.good + 0.15", "STARVED = SMOKE.good + 1.5"),
        ("core/estimates/typical_values.py", "(cylinders * speed / 120.0)", "(cylinders * speed / 60.0)"),
        ("project/assembly/assemble.py", "tuple((n, v * e.pump.si) for n, v in e.delivery_table)", "e.delivery_table"),
        ("project/uncertainty/uncertainty.py", "_map_flow(SCALED_FLOW)", "_map_flow(FLOW)"),
        ("core/checks/smoke.py", "low = 1.5 * engine.idle", "low = 4.0 * engine.idle"),
    ),
    *of(
        "window/test_candidates.py",
        ("window/benches/candidates/presenter.py", "turbo.fit.here_by > brief.ready_by", "turbo.fit.here_by < brief.ready_by"),
        ("window/benches/turbo/picture_file.py", "MOST_PIXELS = 120_000_000", "MOST_PIXELS = 10**12"),
        ("window/parts/words_field.py", "self._whole = isinstance(meta, Day)", "self._whole = False"),
        ("workspace/inquiry.py", '"assumed": (), "decision": Decision(),', '"assumed": (),'),
    ),
    *of(
        "core/test_designs.py",
        ("core/budget/resources.py", "self.days / WEEK + work", "work"),
        ("core/budget/resources.py", "money + hours * self.shop_rate, 0.0", "money, 0.0"),
        ("core/budget/bill.py", '** means.rates["turbo_growth"].price', "** 1.0"),
        ("core/budget/bill.py", "if item.key not in means.there", ""),
        ("core/budget/bill.py", "max((i.days for i in items)", "min((i.days for i in items)"),
        ("core/checks/drivetrain.py", "1.0 - peak.torque / limit", "limit / peak.torque - 1.0"),
        ("core/checks/drivetrain.py", "(1.0 - DRIVE.good) * limit", "limit"),
        ("core/checks/resources.py", "1.0 - total.money / means.budget", "means.budget / total.money - 1.0"),
        ("project/assembly/assemble.py", "return max(between.days, 1) / WEEK", "return float(between.days)"),
        ("core/stock/sizes.py", "others[abs(step) - 1]", "others[0]"),
        ("project/designs/axes.py", "size(radius.si * new / old", "size(radius.si"),
        ("project/designs/axes.py", 'place_put(project, "ask.housing", OTHER)', "project"),
        ("project/designs/axes.py", "(s, n * turbos) for s in GATES for n in (1, 2)", "(s, turbos) for s in GATES"),
        ("project/designs/limits.py", "f.torque - clutch", "0.0"),
        ("project/designs/limits.py", "cost.money - limits.money if", "0.0 if"),
        ("project/designs/limits.py", "min(self.spool, figures.spool - step)", "self.spool"),
        ("project/designs/limits.py", '"room": -least', '"room": least'),
        ("project/designs/search.py", "if self.wish else (0, self.merit(d))", "if self.wish else (0, -self.merit(d))"),
        ("project/designs/search.py", "if fail is None and judged.answer is not None:", "if judged.answer is not None:"),
        ("project/designs/search.py", 'wished = {"power", "spool"}', 'wished = {"power", "spool", "surge", "choke"}'),
        ("project/designs/why.py", "if passes(d)), None)", "if True), None)"),
        ("project/designs/why.py", "-design.figures.power", "design.figures.power"),
        ("core/candidates/catalogue_search.py", "surge = np.array([chart.surge_flow(r)", "surge = np.array([chart.flow_limit(r)"),
        ("core/candidates/compare.py", "DRIVEN * system.boost.full", "0.5 * system.boost.full"),
    ),
    *of(
        "window/test_designs_bench.py",
        ("window/benches/designs/presenter.py", '"variants": project.variants, "taken": (note,)', '"taken": (note,)'),
        ("window/benches/designs/prices.py", "prices = rest if same else (*rest, line)", "prices = (*rest, line)"),
        ("window/benches/designs/view.py", "self.chosen, self._looked = number, True", "self._looked = True"),
        ("window/benches/designs/view.py", "name), now.model_copy", "name), design.model_copy"),
    ),
)  # fmt: skip

"""Document, files, units, the open project, the window: deliberate changes that their tests have to notice."""

from __future__ import annotations

from deliberate.change import Change, of

CHANGES: tuple[Change, ...] = (
    *of(
        "document/test_units.py document/test_first_design.py",
        ("project/units/units.py", "6894.757", "6984.757"),
        ("project/units/units.py", "_POUND / 60.0, 1", "_POUND / 61.0, 1"),
        ("core/estimates/typical_values.py", "POWER_OVER_PEAK = 0.72", "POWER_OVER_PEAK = 0.95"),
        ("project/first_design/first_document.py", '"exhaust": 0.27', '"exhaust": 0.55'),
    ),
    *of(
        "document/test_every_entry_counts.py core/test_airpath.py document/test_hardening.py",
        ("project/assembly/assemble.py", "project.gate.discharge.si,", "0.7,"),
    ),
    *of(
        "document/test_editing.py document/test_files.py document/test_hardening.py "
        "document/test_questions.py document/test_tables.py",
        ("project/edits/history.py", "if not self._sealed and merge_key", "if merge_key"),
        ("project/edits/edits.py", "left = tuple(p for p in changed.assumed if p != place)", "left = changed.assumed"),
        ("project/edits/piece_edits.py", "(*pieces[:index], piece, *pieces[index:])", "(*pieces[: index + 1], piece, *pieces[index + 1 :])"),
        ("project/document/parts/engine.py", "speeds != sorted(set(speeds))", "speeds != sorted(speeds)"),
        ("workspace/questions.py", "self._drop(before)", "pass"),
        ("workspace/questions.py", "found if found is not None and same(found.question.of, of) else None", "found"),
        ("workspace/inquiry.py", '"turbos": (), "variants"', '"variants"'),
        ("project/document/document.py", "MOST_PIECES = 200", "MOST_PIECES = 100_000"),
    ),
    *of(
        "document/test_results.py document/test_cli.py",
        ("formats/results.py", '"surge_margin": number(turbo.surge)', '"surge_margin": number(turbo.choke)'),
        ("formats/results.py", '"gate_flow_kg_s": number(turbo.gate_flow)', '"gate_flow_kg_s": number(turbo.turbine_flow)'),
        ("formats/results.py", '"dT_total_K": number(s.warming)', '"dT_total_K": number(-s.warming)'),
        ("formats/results.py", "advice(v, units) or None", "render(v.cure, units) or None"),
        ("commands/solving.py", "return FAILING if any", "return GOOD if any"),
    ),
    *of(
        "window/test_pictures.py",
        ("window/parts/chart.py", "(value - self.low) / span", "(value - 0.9 * self.low) / span"),
        ("window/parts/chart.py", "r.bottom() - up * r.height()", "r.bottom() - 0.97 * up * r.height()"),
        ("window/benches/turbo/presenter.py", "percent(c.surge),\n        percent(c.choke),", "percent(c.choke),\n        percent(c.surge),"),
        ("window/benches/pipes/presenter.py", "s.velocity if s else float(\"nan\"), mach", "mach, mach"),
        ("window/run/profile.py", "y + stretch.drop *", "y - stretch.drop *"),
        ("window/benches/goal/view.py", "painter.drawPolyline(self.line(c.speed, c.torque, self.second))", "painter.drawPolyline(self.line(c.speed, c.torque))"),
        ("window/benches/turbo/map_chart.py", 'f"{100 * margin:.0f}"', 'f"{100 * abs(margin):.0f}"'),
        ("window/benches/turbo/map_chart.py", "flow = presenter.moved(point) if belt else point.turbo.flow", "flow = point.air"),
    ),
    *of(
        "window/test_parts.py window/test_workbench.py",
        ("window/desk.py", "if self.current and result.project is not self.project:", "if False:"),
        ("window/parts/quantity_field.py", "10.0 if", "5.0 if"),
        ("window/benches/turbo/view.py", "if found is None:", "if False:"),
        ("window/frame/rail.py", "in step.subjects}", "not in step.subjects}"),
        ("window/benches/bench.py", "str(number % 10)", "str(number % 9)"),
    ),
    *of(
        "document/test_workspace.py",
        ("workspace/solving.py", "now - self._owed < OVERDUE", "True"),
        ("workspace/solving.py", "        self._owed = None\n", ""),
    ),
)  # fmt: skip

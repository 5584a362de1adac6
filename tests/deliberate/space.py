"""Pieces in space, drawings, equal lengths: deliberate changes that their tests have to notice."""

from __future__ import annotations

from deliberate.change import Change, of

CHANGES: tuple[Change, ...] = (
    *of(
        "core/test_bodies.py",
        ("core/layout/bodies.py", "0.0, -self.fall)", "0.0, self.fall)"),
        ("core/layout/bodies.py", "hand * sizes.beside", "-hand * sizes.beside"),
        ("core/layout/bodies.py", "blow = about(-s, compressor)", "blow = about(s, compressor)"),
        ("core/layout/bodies.py", "drain=about(-s, drain)", "drain=about(s, drain)"),
        ("core/layout/bodies.py", "0.5 * self.tube / math.sin(math.pi / self.count)", "0.5 * self.tube / math.tan(math.pi / self.count)"),
        ("core/layout/bodies.py", "way = math.cos(lean) * z - math.sin(lean) * x", "way = math.cos(lean) * z + math.sin(lean) * x"),
        ("core/layout/frame.py", "z = cosine * level + sine * up", "z = cosine * level - sine * up"),
        ("core/layout/frame.py", "np.array([0.0, 0.0, 2.0 * middle])", "np.array([0.0, 0.0, middle])"),
        ("core/layout/clash.py", "gaps -= one.radius[a][:, None] + two.radius[b][None]", "gaps -= one.radius[a][:, None]"),
        ("core/layout/clash.py", "BACK * apart", "0.3 * apart"),
        ("core/layout/clash.py", "(radius + REACH) * (np.cos(phi)", "radius * (np.cos(phi)"),
        ("core/layout/space.py", "return min(way, 720.0 - way)", "return way"),
        ("core/layout/space.py", "roll=-s.roll) if s.roll", "roll=s.roll) if s.roll"),
    ),
    *of(
        "core/test_drawings.py",
        ("core/fabrication/strips.py", "- outward) / math.sin(angle))\n    return", "+ outward) / math.sin(angle))\n    return"),
        ("core/fabrication/strips.py", "math.cos(angle)\n        side", "1.0\n        side"),
        ("core/fabrication/strips.py", "/ math.tan(math.pi / count)", "/ math.tan(2.0 * math.pi / count)"),
        ("core/fabrication/strips.py", "float(np.linalg.norm(top[i + 1] - low[i]))", "float(np.linalg.norm(top[i] - low[i]))"),
        ("core/fabrication/strips.py", "at = 0.5 * diameter *", "at = diameter *"),
        ("core/fabrication/flange.py", "buffer(sizes.edge, quad_segs=24)", "buffer(0.3 * sizes.edge, quad_segs=24)"),
        ("core/fabrication/flange.py", "GASKET_MORE = 0.001", "GASKET_MORE = 0.003"),
        ("core/fabrication/flange.py", "[(x, b.up), (x, -b.up)] if b.up", "[(x, b.up)] if b.up"),
        ("core/layout/mesh.py", "inner[skip:] + s.wall)", "inner[skip:] + 2.0 * s.wall)"),
        ("formats/drawings.py", "(room[0] - OVERLAP)", "room[0]"),
        ("formats/drawings.py", "SQUARE = 0.100", "SQUARE = 0.101"),
        ("formats/stl.py", "* 1000.0", "* 100.0"),
    ),
    *of(
        "core/test_equalise.py",
        ("core/layout/kinematics.py", "longer[k] = y, o + radius * x, 2, radius", "longer[k] = y, o - radius * x, 2, radius"),
        ("core/layout/kinematics.py", "jacobian[1, k] = a2 * p0 - a0 * p2", "jacobian[1, k] = a0 * p2 - a2 * p0"),
        ("core/layout/equalise.py", "EQUAL = 0.006", "EQUAL = 0.06"),
        ("core/layout/equalise.py", "SLIP = 0.03", "SLIP = 0.01"),
        ("core/layout/equalise.py", "r[k - 1 : k + 1, k - 1 :] = turn @", "r[k - 1 : k + 1, k - 1 :] = turn.T @"),
        ("core/layout/equalise.py", "if s.held or s.kind", "if s.kind"),
    ),
    *of(
        "document/test_space.py document/test_cut_list.py",
        ("core/checks/in_space.py", "state = HOLDS if value <= space.spread else TIGHT", "state = HOLDS"),
        ("core/checks/in_space.py", "state = FAILS if ratio < 0.5", "state = FAILS if ratio < 0.1"),
        ("core/checks/in_space.py", "GRIP = 0.03", "GRIP = 0.003"),
        ("project/layout/layout.py", 'kind="gap"', 'kind="tube"'),
        ("project/layout/layout.py", 'head.spacing.si or round(PORT_SPACING', 'round(PORT_SPACING'),
        ("project/fabrication/cut_list.py", "arcs.append(size + more if", "arcs.append(size if"),
        ("project/fabrication/cut_list.py", "welds += 2", "welds += 1"),
        ("project/fabrication/cut_list.py", "and not cut.in_leg:", "and cut.tube:"),
        ("project/assembly/assemble.py", "made.surface * part_of", "made.surface"),
        ("core/ducts/pieces/primaries.py", "loss=PULSE_FACTOR * loss / len(pipes)", "loss=loss / len(pipes)"),
        ("core/ducts/pieces/primaries.py", "(area / circle(e.diameter)) ** 2", "(area / circle(e.diameter))"),
        ("core/layout/space.py", "free[-1].last.rolled(turn)", "free[-1].last"),
    ),
)  # fmt: skip

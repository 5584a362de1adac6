"""The drawings of a build: templates to wrap round tubes, flanges, gaskets, the fixture's plate."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from zarvik.core.common.sentences import Fault, Figure, message
from zarvik.core.fabrication import flange as core
from zarvik.core.fabrication.drawing import CUT, MARK, Drawing, Path
from zarvik.core.fabrication.mockup import stand_drawings, stand_for
from zarvik.core.fabrication.strips import merge_leg, pie_strip, roll_strip, strip, transition
from zarvik.core.fabrication.templates import mitre, saddle
from zarvik.project.connections.connection_list import connections_of, plate_of
from zarvik.project.document.document import Project
from zarvik.project.document.naming import numbered, piece_title
from zarvik.project.document.places import get, run_title
from zarvik.project.fabrication.cut_list import wall_of
from zarvik.project.fabrication.mockup import mockups
from zarvik.project.language.language import reason
from zarvik.project.layout.layout import all_runs, has_pieced_primaries, head_of, layout, primary_bore, segments_of, si, space_of


def sheets(project: Project) -> tuple[list[Drawing], list[str]]:
    """Every drawing of the build, flanges first, and what cannot be drawn."""
    one, faults = flanges(project)
    two, more = templates(project)
    three, others = mockups(project)
    return [*one, *two, *three], [*faults, *more, *others]


def templates(project: Project, runs: tuple[str, ...] = ()) -> tuple[tuple[Drawing, ...], tuple[str, ...]]:
    """Every template of the `runs` (their places; all where none is named): roll marks at each bend, mitres, pie cuts,
    tees, the legs of a collector or the mouths of a log, transitions of ports that are not round; and what cannot be
    drawn, in words."""
    faults: list[str] = []
    found: list[Drawing] = []
    for run in runs or all_runs(project):
        found += _of_run(project, run, faults)
    if not runs or "manifold" in runs:
        found += _of_collector(project, faults)
        found += _of_ports(project, faults)
    return tuple(found), tuple(faults)


def _of_run(project: Project, run: str, faults: list[str]) -> Iterator[Drawing]:
    pieces = get(project, run)
    shaped = {s.id: s for s in segments_of(pieces, wall_of(project, run))}
    bent, rolled = False, 0.0
    for piece in pieces:
        s = shaped.get(piece.id)
        tube = s.outside if s is not None else 0.0
        name = message("{run}: {piece}", run=run_title(project, run), piece=numbered(pieces, piece))
        try:
            if s is not None and s.bends:
                rolled += s.roll
                turn = math.remainder(rolled, 2.0 * math.pi)
                if bent and abs(turn) > 1e-6:
                    side = message("clockwise") if turn > 0.0 else message("anticlockwise")
                    yield roll_strip(
                        f"roll-{piece.id}",
                        tube,
                        turn,
                        name,
                        message("Zero on the scribe line (outside of the bend) of the piece before, arrow along the flow"),
                        message(
                            "{angle} {side} seen along the flow, {way} around the {tube} tube",
                            angle=Figure(abs(turn), "angle"),
                            side=side,
                            way=Figure(0.5 * tube * abs(turn), "length"),
                            tube=Figure(tube, "length"),
                        ),
                    )
                bent, rolled = True, 0.0
            if piece.kind == "mitre" and s is not None:
                count = max(round(si(piece, "cuts")), 1)
                yield strip(
                    f"mitre-{piece.id}",
                    mitre(tube, s.angle / count),
                    name,
                    message("One side of each of the {count} cuts; the long side is outside of the bend", count=str(count)),
                )
                if s.radius > 1e-5 and count > 1:
                    turn = s.angle / count
                    yield pie_strip(
                        f"pie-{piece.id}",
                        tube,
                        turn,
                        2.0 * s.radius * math.tan(0.5 * turn),
                        name,
                        message("Full segment, {count} of them between the two halves", count=str(count - 1)),
                    )
            if piece.kind == "tee":
                bore = si(piece, "bore")
                outside = bore + 2.0 * wall_of(project, run)
                yield strip(
                    f"tee-{piece.id}",
                    saddle(outside, outside, 0.5 * math.pi, wall=wall_of(project, run)),
                    name,
                    message("Mouth of the branch on tube of the same size"),
                )
        except ValueError as error:
            faults.append(f"{piece_title(project, piece)}: {reason(error)}")


def _of_collector(project: Project, faults: list[str]) -> Iterator[Drawing]:
    space = space_of(project)
    collector = space.collector
    piece = next((p for p in project.manifold if p.kind == "collector"), None)
    if collector is None or piece is None:
        return
    wall = project.layout.fabrication.wall.si
    name = message("{piece}: one leg", piece=piece_title(project, piece))
    try:
        if collector.form == "log":
            main = si(piece, "bore_out") + 2.0 * wall
            yield strip(
                "log-mouth",
                saddle(min(collector.tube, main), main, 0.5 * math.pi, wall=wall),
                message("{piece}: stub end", piece=piece_title(project, piece)),
                message(
                    "End of each stub on the log, {tube} on {main}", tube=Figure(collector.tube, "length"), main=Figure(main, "length")
                ),
            )
        elif collector.form == "merge" and collector.count > 1:
            yield strip(
                "collector-leg",
                merge_leg(collector.tube, collector.angle, collector.count, wall=wall),
                name,
                message(
                    "{count} of them, each at {angle}; zero outermost, both cuts meet the neighbours",
                    count=str(collector.count),
                    angle=Figure(collector.angle, "angle"),
                ),
                message("From the inlets to the centreline crossing {length}", length=Figure(collector.merge, "length")),
            )
    except ValueError as error:
        faults.append(f"{piece_title(project, piece)}: {reason(error)}")


TRANSITION = 0.05  # m over which a port becomes round


def _of_ports(project: Project, faults: list[str]) -> Iterator[Drawing]:
    head = head_of(project)
    if head.shape in ("round",) or not has_pieced_primaries(project):
        return
    sizes = flange_sizes(project, 0)
    try:
        low, top = transition(
            head.port_width,
            head.port_height,
            sizes.corner if head.shape != "d" else 0.15 * head.port_height,
            primary_bore(project),
            TRANSITION,
        )
    except Fault as error:
        faults.append(reason(error))
        return
    paths = [Path(low, CUT), Path(top, CUT), Path(np.array([low[0], top[0]]), CUT), Path(np.array([low[-1], top[-1]]), CUT)]
    for i in range(0, len(low), 6):
        paths.append(Path(np.array([low[i], top[i]]), MARK))
    yield Drawing(
        key="transition",
        title=message("From port to tube, one of {count}", count=str(head.cylinders)),
        paths=tuple(paths),
        circles=(),
        notes=(),
        about=(
            message(
                "Wrap along the thin lines, seam at the side of the port; mid-sheet {length} from port to tube",
                length=Figure(TRANSITION, "length"),
            ),
        ),
    )


def flange_sizes(project: Project, bank: int) -> core.FlangeSizes:
    """The head flange of a bank (0 or 1)."""
    head = head_of(project)
    h = project.layout.head
    own = [c for c in range(1, head.cylinders + 1) if head.bank_of(c) == bank]
    return core.FlangeSizes(
        ports=tuple(head.spacing * n for n in range(len(own))),
        shape=head.shape,
        wide=head.port_width,
        high=head.port_height,
        bolts=core.Bolts(h.bolts, h.bolt_hole.si, h.bolt_up.si, h.bolt_aside.si),
        edge=h.edge.si,
        tube=primary_bore(project) + 2.0 * project.layout.fabrication.wall.si,
    )


def flanges(project: Project) -> tuple[tuple[Drawing, ...], tuple[str, ...]]:
    """Head flange and gasket of each bank, the flange of the turbine, the plate of the fixture; and what cannot be drawn,
    in words."""
    head = head_of(project)
    found: list[Drawing] = []
    faults: list[str] = []
    for bank in range(head.banks):
        sizes = flange_sizes(project, bank)
        tail = f"-{bank + 1}" if head.banks > 1 else ""
        where = message(", bank {number}", number=str(bank + 1)) if head.banks > 1 else ""
        try:
            found.append(
                core.flange(
                    f"head-flange{tail}",
                    sizes,
                    message("Head flange, {thick} thick{where}", thick=Figure(head.flange, "length"), where=where),
                )
            )
            found.append(core.gasket(f"gasket{tail}", sizes, message("Gasket of the head flange{where}", where=where)))
        except ValueError as error:
            faults.append(reason(error))
    turbo = _turbine_flange(project)
    if turbo is not None:
        found.append(turbo)
    found += adapters(project)
    posts = _posts(project)
    if posts:
        held = message("collector outlet") if project.blower.fitted else message("turbine flange")
        lines, stand = _stand(project, faults)
        found += [core.fixture("fixture", flange_sizes(project, 0), () if stand else posts, held, message("Fixture plate"), lines), *stand]
    return tuple(found), tuple(faults)


def adapters(project: Project) -> tuple[Drawing, ...]:
    """The plate of each joint of the connection list whose bolts do not meet and which one plate can carry."""
    found: list[Drawing] = []
    for row in connections_of(project):
        made = plate_of(row)
        if made is not None and made.made and row.one is not None and row.other is not None:
            found.append(core.adapter(f"plate-{len(found) + 1}", row.one, row.other, made, message("Plate: {name}", name=row.name)))
    return tuple(found)


def _turbine_flange(project: Project) -> Drawing | None:
    chosen = project.chosen
    if chosen is None or project.blower.fitted or not project.manifold:
        return None
    bore = _turbine_bore(project)
    kind, spacing = _inlet(project, bore)
    return core.inlet_flange(
        "turbine-flange",
        kind,
        spacing,
        bore,
        bore + 2.0 * project.layout.fabrication.wall.si,
        message("Flange of the turbine: {name}", name=chosen.name),
    )


def _turbine_bore(project: Project) -> float:
    """Bore m at the end of the manifold, where the turbine begins; a usual one without a manifold."""
    return next((si(p, "bore_out") or si(p, "bore") for p in reversed(project.manifold)), 0.05)


def _inlet(project: Project, bore: float) -> tuple[str, float]:
    """Kind of the turbine's flange and its bolts' long side in m; four bolts about the opening where nobody says it."""
    chosen = project.chosen
    kind = (
        chosen.fit.flange
        if chosen is not None and chosen.fit.flange in ("four_bolt", "four_divided", "three_bolt", "round_clamp")
        else "four_bolt"
    )
    said = chosen.fit.bolts.si if chosen is not None else 0.0
    return kind, said or bore + 0.022


def _stand(project: Project, faults: list[str]) -> tuple[np.ndarray, tuple[Drawing, ...]]:
    """Lines (any number, 2, 2) m on the fixture's plate of the stand that holds a turbine flange which is not level with it, and its
    plates."""
    none = core.NO_LINES, ()
    if project.blower.fitted or not project.manifold:
        return none
    bore = _turbine_bore(project)
    kind, spacing = _inlet(project, bore)
    frame, holes = layout(project).turbos[0].gas_in, core.inlet_holes(kind, spacing)
    try:
        stand = stand_for(frame, holes, bore, head_of(project).flange)
    except Fault as fault:
        faults.append(reason(fault))
        return none
    if stand is None:
        return none
    return stand.lines, stand_drawings(stand, frame, holes, bore, core.bolt_hole(spacing))


def _posts(project: Project) -> tuple[tuple[float, float, float], ...]:
    """Where posts hold the turbine's flange: along, up and out of each of its bolts from the face of the head, m; a collector that no
    turbine follows is held by one."""
    found = layout(project)
    body = found.turbos[0]
    bore = _turbine_bore(project)
    points = (() if project.blower.fitted else core.inlet_holes(*_inlet(project, bore))) or ((0.0, 0.0),)
    frame = body.gas_in
    out = []
    for x, y in points:
        place = frame.origin + x * frame.axes[:, 0] + y * frame.axes[:, 1]
        out.append((float(place[0]), float(place[1]), float(place[2])))
    return tuple(out)

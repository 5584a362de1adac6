"""The runs of a document as elements: pieces, primaries that are made of pieces, a crossover, what each of several turbos has by itself."""

from __future__ import annotations

import dataclasses

from zarvik.core.airpath.stations import COLD_PIPE, EXHAUST, HOT_PIPE, INTAKE, MANIFOLD
from zarvik.core.common.identity_cache import IdentityCache, IdentityCacheEach
from zarvik.core.ducts.cover import heat_tinted
from zarvik.core.ducts.element import Element
from zarvik.core.ducts.pieces import KINDS
from zarvik.core.ducts.pieces.primaries import of_pieces
from zarvik.project.assembly.problems import Problem
from zarvik.project.document import document as doc
from zarvik.project.document.naming import piece_title
from zarvik.project.language.language import reason, tr, tr_format
from zarvik.project.layout.layout import CROSSOVER, has_crossover, has_pieced_primaries, head_of, shares
from zarvik.project.units.units import Quantity

_ELEMENTS: IdentityCacheEach[doc.Piece, dict[str, Element]] = IdentityCacheEach(4000)


def piece_element(piece: doc.Piece, name: str = "") -> Element:
    """The element of one piece, called `name` where it has none; raises ValueError when its numbers contradict each other."""
    made, title = _ELEMENTS.of(piece, lambda _: {}), piece.name or name or tr(KINDS[piece.kind].title)
    if title not in made:
        made[title] = _element(piece, title)
    return made[title]


def _element(piece: doc.Piece, title: str) -> Element:
    kind = KINDS[piece.kind]
    values = {p.name: v.si if isinstance(v := getattr(piece, p.name), Quantity) else v for p in kind.felt}
    return kind.build(id=piece.id, name=title, **values)


def runs_of(project: doc.Project, found: list[Problem]) -> dict[str, tuple[Element, ...]]:
    """The elements of each run, by its key; problems that keep a piece from being built are added to `found`."""
    runs = {}
    for key in (INTAKE, HOT_PIPE, COLD_PIPE, MANIFOLD, EXHAUST):
        elements = []
        for piece in getattr(project, key):
            try:
                if piece.kind == "primaries" and has_pieced_primaries(project):
                    elements.append(_primaries(project, piece, found))
                else:
                    elements.append(piece_element(piece, piece_title(project, piece)))
            except ValueError as error:
                name = piece_title(project, piece)
                found.append(Problem(f"{key}.{piece.id}", tr_format("“{0}”: {1}", name, reason(error))))
        runs[key] = tuple(map(heat_tinted, elements)) if key in (MANIFOLD, EXHAUST) else tuple(elements)
    count = int(project.turbos_fitted.si)
    if has_crossover(project):
        # Entered once, for one bank
        at = next((i for i, e in enumerate(runs[MANIFOLD]) if e.kind == CROSSOVER), 0)
        _check_crossover(project, found)
        runs[MANIFOLD] = (*(side_by_side(e, 2) for e in runs[MANIFOLD][:at]), *runs[MANIFOLD][at:])
    elif project.exhaust_paths == "own" and count > 1 and not project.blower.fitted:
        own = int(project.pieces_per_turbo.si)
        runs[MANIFOLD] = tuple(side_by_side(e, count) for e in runs[MANIFOLD])
        exhaust = runs[EXHAUST]
        runs[EXHAUST] = (*(side_by_side(e, count) for e in exhaust[:own]), *exhaust[own:])
    return runs


def _check_crossover(project: doc.Project, found: list[Problem]) -> None:
    """A crossover brings one bank to one turbo: it needs two banks, one crossover, and an exhaust that is shared."""
    pieces = [p for p in project.manifold if p.kind == CROSSOVER]
    place = f"manifold.{pieces[-1].id}"
    if len(pieces) > 1:
        found.append(Problem(place, tr_format("One crossover joins the two banks: remove the second one")))
    if head_of(project).banks < 2:
        found.append(Problem(place, tr_format("A crossover joins two banks: this engine is inline")))
    elif project.exhaust_paths == "own" and int(project.turbos_fitted.si) > 1:
        found.append(Problem(place, tr_format("A crossover feeds one turbo from both banks: here each turbo has its own exhaust")))


_PRIMARIES: IdentityCache[tuple[Element | Exception, tuple[Problem, ...]]] = IdentityCache()


def _primaries(project: doc.Project, piece: doc.Piece, found: list[Problem]) -> Element:
    """The element of primaries that are made of pieces; raises ValueError where none has a length. Of several turbos with
    hot sides of their own the pipes of all are counted, and shared out."""
    parts = (project.primaries, piece, project.turbos_fitted, project.exhaust_paths, project.blower, has_crossover(project))

    def make() -> tuple[Element | Exception, tuple[Problem, ...]]:
        own: list[Problem] = []
        try:
            return _of_pieces(project, piece, own), tuple(own)
        except ValueError as error:
            return error, tuple(own)

    made, problems = _PRIMARIES.of(parts, make)
    found += problems
    if isinstance(made, Exception):
        raise made
    return made


def _of_pieces(project: doc.Project, piece: doc.Piece, found: list[Problem]) -> Element:
    pipes = []
    for primary in project.primaries:
        pipe = []
        for part in primary.pieces:
            try:
                pipe.append(piece_element(part, piece_title(project, part)))
            except ValueError as error:
                place = f"primaries.{primary.id}.pieces.{part.id}"
                found.append(Problem(place, tr_format("“{0}”: {1}", piece_title(project, part), reason(error))))
        pipes.append(pipe)
    made = of_pieces(piece.id, piece_title(project, piece), pipes)
    count = shares(project)
    if count > 1:
        share = max(made.parallel // count, 1)
        part_of = share / made.parallel
        made = dataclasses.replace(made, parallel=share, volume=made.volume * part_of, surface=made.surface * part_of)
    return made


def side_by_side(element: Element, count: int) -> Element:
    """So many of an element beside each other, that share the flow evenly."""
    return dataclasses.replace(element, parallel=element.parallel * count, volume=element.volume * count, surface=element.surface * count)

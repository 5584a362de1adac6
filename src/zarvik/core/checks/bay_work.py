"""Can every joint in the engine bay be got at, and does every part go in?"""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping, Sequence

from zarvik.core.bay.access import FIST, TOOLS, Reach, reaches
from zarvik.core.bay.assembly import Order, Part
from zarvik.core.checks.bay import PARTS, part_name
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import JOINT_MADE, Change, Check, CheckResult
from zarvik.core.checks.layout import run_title
from zarvik.core.common.sentences import Figure, Filling, Sentence, message
from zarvik.core.connections.row import BANDED, FLANGED
from zarvik.core.layout.placement import Layout, Space, lay_out
from zarvik.core.limits.limits import FAILS, MARGINAL, OK

ACCESS_CHECK = Check("bay_access", "Tool access in the engine bay", about="layout")
ORDER_CHECK = Check("bay_order", "Assembly order in the engine bay", about="layout")
HANDS_DIFFER = 0.01  # m that a small hand needs less than the one of `FIST`: common practice, no source, a rough guide
BASIS = "A fist of 90 mm with its forearm and a tool, past all that stands there; sizes: common practice, no source, a rough guide"
ORDER_BASIS = "Straight pulls, pulls round a corner, then turns searched by chance; “no way” means that none was found"
WORDS = {"turbo": "Turbo", "manifold": "Manifold", "cooler": "Intercooler", "filter": "Air filter"}


def check(case: Case) -> list[CheckResult]:
    """Access and order; nothing where nobody says what stands in the bay, or while that is not worked out."""
    build, found = case.build, case.bay_work
    if found is None or build.space is None:
        return []
    got, order = found
    layout = lay_out(build.space)
    results = [_access(case, build.space, layout, got)] if got else []
    if order.steps or order.stuck:
        results.append(_order(case, build.space, layout, order))
    return results


def _body(space: Space, layout: Layout, name: str) -> Filling:
    """What a body is called: an object of the bay has a name already, a pipe is said as it is everywhere."""
    if name in PARTS or name.startswith("primary") or layout.line(name) is not None:
        return part_name(space, layout, name)
    return name


def _access(case: Case, space: Space, layout: Layout, got: Sequence[Reach]) -> CheckResult:
    """The joint that is hardest to get at."""
    worst = got[0]
    short = sum(one.spare < 0.0 for one in got)
    words: dict[str, Filling] = {
        "joint": worst.place.name,
        "tool": message(TOOLS[worst.tool]),
        "spare": _room(abs(worst.spare)),
        "thing": _body(space, layout, worst.behind),
    }
    if not short:
        return ACCESS_CHECK.check_result(
            message(
                "All {count} joints are got at; at “{joint}”, the worst, a hand with a {tool} has {spare} to spare",
                count=str(len(got)),
                **words,
            ),
            state=OK,
            margin=worst.spare / (2.0 * FIST),
            basis=BASIS,
        )
    off = _with_less(case, space, layout, worst)
    eased = off is not None or worst.spare >= -HANDS_DIFFER
    banded = _banded(case, space, layout, worst)
    return ACCESS_CHECK.check_result(
        message(
            "At “{joint}” a hand with a {tool} lacks {spare}, at “{thing}”{others}",
            others=_more(short, ", and one more joint is not got at", ", and {count} more joints are not got at"),
            **words,
        ),
        state=MARGINAL if eased else FAILS,
        margin=worst.spare / (2.0 * FIST),
        cure=banded or off or message("Turn the joint, or move it or “{thing}”", thing=words["thing"]),
        changes=(Change(f"{JOINT_MADE}{worst.place.key}", BANDED),) if banded is not None else (),
        about=f"layout:{worst.place.line}" if worst.place.line else "layout",
        basis=BASIS,
    )


def _room(size: float) -> Figure:
    """Room of `size` m to the millimetre: hands differ by more."""
    return Figure(round(size, 3), "length")


def _more(count: int, one: str, several: str) -> Filling:
    """How many there are beside the one that is said, by a template for `one` more and for `several`."""
    return "" if count < 2 else message(one) if count == 2 else message(several, count=str(count - 1))


def _again(reach: Reach, found: Sequence[Reach]) -> Reach | None:
    """The same joint, where it is got at in another design."""
    return next((one for one in found if one.place.key == reach.place.key and one.spare >= 0.0), None)


def _banded(case: Case, space: Space, layout: Layout, worst: Reach) -> Sentence | None:
    """A V-band instead of a flange, where a screw that can be turned to any place is got at."""
    if worst.place.made != FLANGED:
        return None
    rows = tuple(dataclasses.replace(row, made=BANDED) if row.key == worst.place.key else row for row in case.build.connections)
    found = _again(worst, reaches(space, layout, case.build.obstacles, rows))
    if found is None:
        return None
    return message("A V-band there: a hand with a {tool} has {spare} to spare", tool=message(TOOLS[found.tool]), spare=_room(found.spare))


def _with_less(case: Case, space: Space, layout: Layout, worst: Reach) -> Sentence | None:
    """What is in the way taken off first, where that does."""
    build = case.build
    left = tuple(one for one in build.obstacles if one.name != worst.behind)
    bare = dataclasses.replace(layout, lines=tuple(line for line in layout.lines if line.key != worst.behind))
    if len(left) == len(build.obstacles) and len(bare.lines) == len(layout.lines):
        return None
    found = _again(worst, reaches(space, bare if len(left) == len(build.obstacles) else layout, left, build.connections))
    if found is None:
        return None
    return message(
        "Make this joint before “{thing}” is in, and take that off to get at it: then there is {spare} to spare",
        thing=_body(space, layout, worst.behind),
        spare=_room(found.spare),
    )


def _part(layout: Layout, part: Part, names: Mapping[str, str]) -> Filling:
    """A part in words."""
    line = layout.line(part.key.partition("|")[0])
    if line is None or not part.pieces:
        return message(WORDS[part.key.partition(":")[0]]) if part.own else part.name
    first, last = (names.get(piece.segment.id, piece.segment.id) for piece in (part.pieces[0], part.pieces[-1]))
    if len(part.pieces) == len(line.placed):
        return run_title(line)
    if first == last:
        return message("{run}, “{one}”", run=run_title(line), one=first)
    return message("{run}, “{one}” to “{two}”", run=run_title(line), one=first, two=last)


def _listed(found: Sequence[Filling]) -> Sentence:
    """Two or three things behind each other."""
    places = "abc"[: len(found)]
    return Sentence(", ".join(f"“{{{place}}}”" for place in places), tuple(zip(places, found, strict=True)))


def _order(case: Case, space: Space, layout: Layout, order: Order) -> CheckResult:
    """What does not go in, or that everything does."""
    if not order.stuck:
        return ORDER_CHECK.check_result(message("All {count} parts go in{turned}{out}", **_well(order)), state=OK, basis=ORDER_BASIS)
    names = {element.id: element.name or element.id for element in case.build.elements}
    one = order.stuck[0]
    parts = {step.part.name: step.part for step in order.steps} | {stuck.part.name: stuck.part for stuck in order.stuck}
    behind = [_part(layout, parts[name], names) if name in parts else _body(space, layout, name) for name in one.behind]
    cure = message("Move “{thing}”, or have “{part}” come apart", thing=behind[0], part=_part(layout, one.part, names)) if behind else None
    opened = [row.key for row in case.build.connections if one.cut and f"__{one.cut}__" in row.key]
    if one.cut:
        cure = message("A V-band behind “{piece}”: both halves go in", piece=names.get(one.cut, one.cut))
    line = one.part.key.partition("|")[0]
    return ORDER_CHECK.check_result(
        message(
            "“{part}” does not go in past {things}{others}",
            part=_part(layout, one.part, names),
            things=_listed(behind[:3]),
            others=_more(len(order.stuck), ", and one more part does not", ", and {count} more parts do not"),
        ),
        state=FAILS,
        cure=cure,
        changes=(Change(f"{JOINT_MADE}{opened[0]}", BANDED),) if opened else (),
        about=f"layout:{line}" if layout.line(line) is not None else "layout",
        basis=ORDER_BASIS,
    )


def _well(order: Order) -> dict[str, Filling]:
    turned = sum(step.turned for step in order.steps)
    out = [step.part.name for step in order.steps if not step.part.own]
    return {
        "count": str(sum(step.part.own for step in order.steps)),
        "turned": message(", {count} of them turned on the way", count=str(turned)) if turned else "",
        "out": message(
            " while {things} are out of the car", things=_listed([*out[:2], *([f"{len(out) - 2} more"] if len(out) > 2 else [])])
        )
        if out
        else "",
    }

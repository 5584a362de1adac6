"""What the register's rules say, the worst of each rule told, and how far the joints are."""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.verdict import Check, Verdict
from zarvik.core.common.sentences import Sentence, message
from zarvik.core.connections import row as r
from zarvik.core.connections.rules import JointFinding, findings
from zarvik.core.limits.limits import OK, TO_DO

CHECK = Check("register_loose", "Joints that are not tight yet", about="register", breaks=True)

TITLES = {
    "undecided": "Ports that are not decided",
    "check_valve": "Vacuum ports under boost",
    "brake": "Brake booster",
    "breather": "Breathing of the crankcase",
    "tuner": "Questions for the tuner",
    "thread": "Threads",
    "shreds": "Tape in oil and fuel",
    "seal": "How threads are sealed",
    "seal_heat": "Seals in the heat",
    "wall": "Metal under a thread",
    "swirl": "Sensors behind bends",
    "end_force": "Clamps against the end force",
    "bead": "Beads",
    "engaged": "Hose on its tube",
    "coupler": "Couplers of two sizes",
    "hose_heat": "Hoses in the heat",
    "hose_oil": "Hoses in oil",
    "lost": "Lines of pieces that are gone",
    "pattern": "Flanges whose bolts do not meet",
    "bores": "Flanges whose bores do not meet",
    "gasket_heat": "Gaskets in the heat",
    "settles": "Gaskets that settle",
    "signal": "Hoses too narrow for their signal",
    "drain_turn": "Oil drain from straight down",
}


def check(case: Case) -> list[Verdict]:
    """A verdict for each rule that finds something; while nobody has begun the register, that it is there to be begun."""
    rows = case.build.register
    if not rows:
        return []
    begun = any(x.by_hand or x.said for x in rows)
    if not begun:
        return []
    groups: dict[str, list[JointFinding]] = {}
    space = case.build.space
    # A turbo that stands in space has a verdict of its own on its drain.
    told = {"drain_turn"} if space is not None and space.said and space.turbo.measured else set()
    for finding in (f for f in findings(rows) if f.rule not in told):
        groups.setdefault(finding.rule, []).append(finding)
    found = []
    for rule, all_of in groups.items():
        worst = all_of[0]
        text = worst.text
        if len(all_of) > 1:
            # Not a sentence in a sentence: its figures lead somewhere.
            text = Sentence(text.template, (*text.figures, ("count_more", str(len(all_of) - 1))), (*text.more, ", and {count_more} more"))
        found.append(
            Check(f"register_{rule}", TITLES[rule], about="register").verdict(text, state=worst.state, cure=worst.cure, basis=worst.basis)
        )
    joints = [x for x in rows if x.kind == r.JOINT and x.side in (r.BOOST, r.SUCTION)]
    loose = [x for x in joints if x.state not in r.DONE]
    if loose:
        found.append(
            CHECK.verdict(
                message(
                    "{count} of {all} joints of the charge side are not torqued: “{name}” is the first",
                    count=str(len(loose)),
                    all=str(len(joints)),
                    name=loose[0].name,
                ),
                state=TO_DO,
                cure=message("All hand tight first, then torque, then test"),
            )
        )
    elif joints:
        found.append(CHECK.verdict(message("All {all} joints of the charge side are torqued", all=str(len(joints))), state=OK))
    return found

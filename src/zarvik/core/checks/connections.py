"""What the connection list's rules say, the worst of each rule told, and how far the joints are."""

from __future__ import annotations

from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import Sentence, message
from zarvik.core.connections import row as r
from zarvik.core.connections.rules import JointFinding, findings
from zarvik.core.limits.limits import OK, TO_DO

CHECK = Check("joint_loose", "Joints not torqued yet", about="joints", breaks=True)

TITLES = {
    "undecided": "Undecided ports",
    "check_valve": "Vacuum ports under boost",
    "brake": "Brake booster",
    "breather": "Crankcase breathing",
    "tuner": "Questions for the tuner",
    "thread": "Threads",
    "shreds": "Tape in oil and fuel threads",
    "seal": "Thread sealing",
    "seal_heat": "Seal temperature",
    "wall": "Metal under threads",
    "swirl": "Sensor position",
    "end_force": "Clamp holding force",
    "bead": "Tube beads",
    "engaged": "Hose overlap",
    "coupler": "Reducing couplers",
    "hose_heat": "Hose temperature",
    "hose_oil": "Hoses in oil",
    "lost": "Lines of removed pieces",
    "pattern": "Flange bolt match",
    "bores": "Flange bore match",
    "gasket_heat": "Gasket temperature",
    "settles": "Gasket settling",
    "signal": "Signal hose bore",
    "drain_turn": "Oil drain direction",
}


def check(case: Case) -> list[CheckResult]:
    """A check for each rule that finds something; while nobody has begun the connection list, that it is there to be begun."""
    rows = case.build.connections
    if not rows:
        return []
    begun = any(x.by_hand or x.said for x in rows)
    if not begun:
        return []
    groups: dict[str, list[JointFinding]] = {}
    space = case.build.space
    # A turbo that stands in space has a check of its own on its drain.
    covered = {"drain_turn"} if space is not None and space.said and space.turbo.measured else set()
    for finding in (f for f in findings(rows) if f.rule not in covered):
        groups.setdefault(finding.rule, []).append(finding)
    found = []
    for rule, all_of in groups.items():
        worst = all_of[0]
        text = worst.text
        if len(all_of) > 1:
            # Not a sentence in a sentence: its figures lead somewhere.
            text = Sentence(text.template, (*text.figures, ("count_more", str(len(all_of) - 1))), (*text.more, ", and {count_more} more"))
        found.append(
            Check(f"joint_{rule}", TITLES[rule], about="joints").check_result(text, state=worst.state, cure=worst.cure, basis=worst.basis)
        )
    joints = [x for x in rows if x.kind == r.JOINT and x.side in (r.BOOST, r.SUCTION)]
    loose = [x for x in joints if x.state not in r.DONE]
    if loose:
        found.append(
            CHECK.check_result(
                message(
                    "{count} of {all} charge-side joints are not torqued: “{name}” first",
                    count=str(len(loose)),
                    all=str(len(joints)),
                    name=loose[0].name,
                ),
                state=TO_DO,
                cure=message("Hand tight first, then torque, then test"),
            )
        )
    elif joints:
        found.append(CHECK.check_result(message("All {all} charge-side joints are torqued", all=str(len(joints))), state=OK))
    return found

"""Are money and weeks enough, and is it quiet enough?"""

from __future__ import annotations

from zarvik.core.airpath.stations import EXHAUST
from zarvik.core.budget.bill import bill, by_key, cost
from zarvik.core.budget.resources import Resources
from zarvik.core.checks.case import Case
from zarvik.core.checks.check_result import Check, CheckResult
from zarvik.core.common.sentences import Figure, Filling, message
from zarvik.core.limits.limits import BUDGET, MARGINAL, MOUTH_SPEED, OK, WEEKS

TURBO_MONEY_CHECK = Check("turbo_money", "Turbo budget", about="means", limit=BUDGET)
MOUTH_CHECK = Check("mouth", "Exhaust flow noise", about="pipes", limit=MOUTH_SPEED)
MONEY_CHECK = Check("money", "Cost", about="means", limit=BUDGET)
WEEKS_CHECK = Check("weeks", "Build time", about="means", limit=WEEKS)


def check(case: Case) -> list[CheckResult]:
    """The bill against the budget, the weeks against those that there are, the gas at the mouth; each only where it
    is asked for."""
    return [*_means(case), *_mouth(case)]


def _means(case: Case) -> list[CheckResult]:
    resources = case.build.resources
    if resources is None or not (resources.budget > 0.0 or resources.weeks > 0.0 or resources.turbo_budget > 0.0):
        return []
    items = bill(case.build, case.build.resources)
    total = cost(items)
    found = []
    turbos = [item for item in items if item.key == "turbo"]
    if resources.turbo_budget > 0.0 and turbos:
        found.append(_turbo_money(resources, cost(turbos).money))
    if resources.budget > 0.0:
        margin = 1.0 - total.money / resources.budget
        dearest = list(by_key(items).items())[:2]
        more: dict[str, Filling] = {f"part{n}": message(title) for n, (_, (title, _)) in enumerate(dearest)}
        more |= {f"sum{n}": Figure(c.money, "money", f"=search.{key}") for n, (key, (_, c)) in enumerate(dearest)}
        one = "; most expensive: {part0} {sum0}" if dearest else ""
        two = ", {part1} {sum1}" if len(dearest) > 1 else ""
        found.append(
            MONEY_CHECK.check_result(
                message(
                    "{money} of {budget}",
                    one,
                    two,
                    money=Figure(total.money, "money", "bill"),
                    budget=Figure(resources.budget, "money", "=search.budget"),
                    **more,
                ),
                value=margin,
            )
        )
    if resources.weeks > 0.0:
        weeks = total.weeks(resources.hours_a_week)
        margin = 1.0 - weeks / resources.weeks
        longest = max(items, key=lambda i: i.days, default=None)
        found.append(
            WEEKS_CHECK.check_result(
                message(
                    "{weeks} of {most}: {days} for the last delivery",
                    (", {what}" if longest is not None else ""),
                    ", then {hours} of work",
                    weeks=Figure(weeks, "weeks", "bill_weeks"),
                    most=Figure(resources.weeks, "weeks", "=search.build_time"),
                    days=Figure(total.days, "days", "bill_days"),
                    hours=Figure(total.hours, "work", "bill_hours"),
                    **({"what": message(longest.title)} if longest is not None else {}),
                ),
                value=margin,
            )
        )
    return found


def _turbo_money(resources: Resources, money: float) -> CheckResult:
    """The turbos against what is meant for them; what is meant for them against what there is at all."""
    margin = 1.0 - money / resources.turbo_budget
    # A price that was said needs nothing in hand; one by size is an estimate.
    state = OK if margin >= 0.0 and resources.turbo_price > 0.0 else BUDGET.state(margin)
    over = resources.turbo_budget > resources.budget > 0.0
    return TURBO_MONEY_CHECK.check_result(
        message(
            "{money} of {budget}",
            ", of {whole} for the whole build" if over else "",
            money=Figure(money, "money", "=search.turbo"),
            budget=Figure(resources.turbo_budget, "money", "=goal.budget"),
            **({"whole": Figure(resources.budget, "money", "=search.budget")} if over else {}),
        ),
        state=MARGINAL if over and state == OK else state,
        margin=margin,
    )


def _mouth(case: Case) -> list[CheckResult]:
    most = case.build.mouth_speed
    if most <= 0.0:
        return []
    last = [s for s in case.target.stretches if s.section == EXHAUST and s.velocity > 0.0]
    if not last:
        return []
    speed = last[-1].velocity
    margin = 1.0 - speed / most
    return [
        MOUTH_CHECK.check_result(
            message(
                "{speed} at the tailpipe at full power, limit {most}",
                speed=Figure(speed, "velocity", f"velocity:{last[-1].id}"),
                most=Figure(most, "velocity", "=search.tailpipe_speed"),
            ),
            value=margin,
            cure=message("A larger bore behind the last silencer") if MOUTH_SPEED.state(margin) != OK else None,
        )
    ]

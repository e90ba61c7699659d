"""Shares of one student's minutes among several plans."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.plan.days import practice_days
from crumb.core.plan.minute_shares import share_seconds
from crumb.core.plan.model import PlanAsk
from crumb.core.plan.rates import seconds_left


def dealt(mine: PlanAsk, others: Sequence[PlanAsk]) -> PlanAsk:
    """An ask with its part of the minutes that it shares with others: the most of any of them.

    A plan's share follows its remaining work for each practice day, with more where the student
    slips: a date next week comes before a date in spring. Plans without work left share equally.
    """
    if not others:
        return mine
    total = max(one.minutes_a_day for one in (mine, *others))
    needs = [seconds_left(one) / max(len(practice_days(one)), 1) for one in (mine, *others)]
    if not any(needs):
        needs = [Fraction(1)] * len(needs)
    # What all of them take may be less than there is: then each has what it takes, and more.
    most = max(Fraction(total * 60) / sum(needs), Fraction(1))
    shares = share_seconds(total * 60, [need * most for need in needs])
    return replace(mine, minutes_a_day=round(shares[0] / 60))
